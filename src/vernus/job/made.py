"""Made to a figure: what was bought, drilled, made, set or tied keeps the statement it was done to.

Where that statement differs by more than matters now, what was done is open again, and both figures are told.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from vernus.core.finding import AxisEnd, Mm, Sentence
from vernus.job.entities import MadeTo
from vernus.job.statement import Statement


class Matter(NamedTuple):
    """A figure of a kind of statement that matters to what was done: its name, and by how much it may differ (mm).

    None: a word or a number, which has to be the same.
    """

    figure: str
    name: str
    by_mm: float | None


_SEEN_MM = 0.006
"""As a length is shown on a drawing: what reads the same is the same."""
MATTERS: dict[str, tuple[Matter, ...]] = {
    "buy": (
        Matter("what", "what to buy", None), Matter("size_mm", "{what}, its size", 5.0),
        Matter("size", "{what}, its size", None), Matter("count", "{what}, how many", None),
    ),
    "stop": (Matter("before_mark_mm", "the {end} stop of {axis}, before its mark", 0.1),),
    "bumper": (Matter("length_mm", "the bumper at the {end} end of {axis}, its length", 0.1),),
    "trip": (Matter("at_mm", "the {end} trip of {axis}, from its {@low} mark", 0.1),),
    "scale": (
        Matter("family", "the {axis} scale", None), Matter("overall_mm", "the body's length of {axis}", _SEEN_MM),
    ),
    "face": (
        Matter("name", "the face of {axis}", None), Matter("stand_off_mm", "its distance off that face", _SEEN_MM),
    ),
    "body": (
        Matter("from_mm", "the body's place on its face, {axis}", _SEEN_MM),
        Matter("across_mm", "the body's place across its face, {axis}", _SEEN_MM),
    ),
    "cable": (Matter("need_mm", "the cable of {axis}, its length", 10.0), Matter("anchors", "what holds it", None)),
    "part": (
        Matter("stock_mm 1", "its length", _SEEN_MM), Matter("stock_mm 2", "its width", _SEEN_MM),
        Matter("stock_mm 3", "its thickness", _SEEN_MM), Matter("material", "its material", None),
    ),
    "hole": (
        Matter("x_mm", "hole {n} of {on}, from the left", _SEEN_MM),
        Matter("y_mm", "hole {n} of {on}, from below", _SEEN_MM), Matter("call", "hole {n} of {on}", None),
    ),
}  # fmt: skip
"""What matters of each kind of statement, by how much; common practice, no source."""
_END_KINDS = ("stop", "bumper", "trip")


def noted(statements: Iterable[Statement]) -> tuple[MadeTo, ...]:
    """What is kept with something done: every figure that matters of the statements it was done to."""
    found: list[MadeTo] = []
    for statement in statements:
        for matter in MATTERS.get(statement.kind, ()):
            value = _figure(statement, matter.figure)
            if value is None:
                continue
            mm = float(value) if matter.by_mm is not None and isinstance(value, float | int) else None
            words = "" if mm is not None else str(value)
            name = _name(statement, matter).text()
            found.append(
                MadeTo(id=statement.id[:200], figure=matter.figure, name=name[:200], mm=mm, words=words[:1000])
            )
    return tuple(found)


def _figure(statement: Statement, name: str) -> object:
    key, _, place = name.partition(" ")
    value = statement.figures.get(key)
    if key == "size" and statement.figures.get("size_mm") is not None:
        return None  # a size that is a length is compared as one
    if isinstance(value, list | tuple):
        return value[int(place) - 1] if place else ", ".join(map(str, value))
    return value


def _name(statement: Statement, matter: Matter) -> Sentence:
    values: dict[str, object] = {
        "axis": statement.axis, "n": statement.about.rpartition("-")[2], "what": statement.figures.get("what", ""),
        "on": statement.figures.get("on", ""),
    }  # fmt: skip
    if statement.kind in _END_KINDS:
        values["end"] = AxisEnd("high" if statement.about == "high" else "low")
    return Sentence(matter.name, values, statement.words.directions)


def changed_since(then: Sequence[MadeTo], now: Sequence[MadeTo]) -> Sentence | None:
    """What has changed of what something was done to, with both figures; None while nothing has, or nothing was noted.

    What was bought and is on the list no longer is bought.
    """
    if not then:
        return None
    old, new = {(m.id, m.figure): m for m in then}, {(m.id, m.figure): m for m in now}
    keys = [k for k in (*old, *(k for k in new if k not in old)) if _differs(old.get(k), new.get(k))]
    if not keys:
        return None
    was, is_ = old.get(keys[0]), new.get(keys[0])
    more = len({i for i, _ in keys}) - 1
    rest = "" if more == 0 else " and 1 other thing" if more == 1 else f" and {more} other things"
    named = is_ or was
    values: dict[str, object] = {"name": "" if named is None else named.name, "was": _shown(was), "is": _shown(is_)}
    if was is None:
        return Sentence(f"Open again: {{name}} came in after it was ticked{rest}.", values)
    if is_ is None:
        return Sentence(f"Open again: {{name}} is gone since it was ticked{rest}.", values)
    return Sentence(f"Open again: {{name}} was {{was}}, it is {{is}}{rest}.", values)


def _differs(was: MadeTo | None, now: MadeTo | None) -> bool:
    if now is None:
        return was is not None and not was.id.startswith("buy")
    if was is None:
        return True
    if was.mm is None or now.mm is None:
        return (was.mm, was.words) != (now.mm, now.words)
    matter = next((m for m in MATTERS.get(was.id.split("/")[0], ()) if m.figure == was.figure), None)
    return abs(was.mm - now.mm) > (_SEEN_MM if matter is None or matter.by_mm is None else matter.by_mm)


def _shown(one: MadeTo | None) -> object:
    return "" if one is None else Mm(one.mm) if one.mm is not None else f"“{one.words}”"
