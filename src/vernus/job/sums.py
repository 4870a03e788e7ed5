"""The sums of measures by which a machine is told: which figures there are, what each follows from, what is given.

A box or face of a template carries, per side, the sum of measures it follows; one that was typed stands as typed.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

from vernus.core.errors import BadInputError
from vernus.core.machine.measures import tell
from vernus.job.document import Job
from vernus.job.entities import Axis, Entity, Face, Machine, Measure, SolidBox
from vernus.job.fields import LengthEntry, mm_of, quantities

Travel = Callable[[Axis], float | None]
SIDES = ("left", "right", "front", "back", "bottom", "top")


def figure_name(entity: Entity, field: str) -> str:
    """The name of an entity's figure in the sums."""
    key = getattr(entity, "key", "") or entity.id
    return f"tool.{field[-1]}" if isinstance(entity, Machine) else f"{key}.{field}"


def sums_of(entities: Iterable[Entity]) -> dict[str, str]:
    """Figure name → sum, of everything that follows from measures and wasn't typed."""
    given = list(entities)
    keys = {e.id: e.key for e in given if isinstance(e, SolidBox) and e.key}
    return {
        figure_name(e, field): text
        for e in given
        if isinstance(e, SolidBox | Face | Machine)
        for field, text in (*e.built, *beside(e, keys))
        if is_length(e, field) and not is_typed(e, field)
    }


_BESIDE = {
    "right": ("left", "right", 1, "wide"), "left": ("right", "left", -1, "wide"),
    "back": ("front", "back", 1, "deep"), "front": ("back", "front", -1, "deep"),
    "above": ("bottom", "top", 1, "high"), "below": ("top", "bottom", -1, "high"),
}  # fmt: skip
_ACROSS = {"wide": ("left", "right"), "deep": ("front", "back"), "high": ("bottom", "top")}


def beside(box: Entity, keys: Mapping[str, str]) -> tuple[tuple[str, str], ...]:
    """The sums of a box that is given by a gap to a neighbour and its size: level with the neighbour's middle.

    ``keys`` are the names of boxes by id. Empty for one that is given otherwise, or whose neighbour is gone.
    """
    if not isinstance(box, SolidBox) or not box.side or box.near not in keys or box.near == box.id:
        return ()
    near, mine, other, way = keys[box.near], *_BESIDE[box.side][:3]
    sizes = {name: mm_of(getattr(box, name)) or 50.0 for name in _ACROSS}
    sign, own = "+" if way > 0 else "-", figure_name(box, mine)
    along = _BESIDE[box.side][3]
    sums = [(mine, f"{near}.{other} {sign} {max(0.0, box.gap.mm):.6f}"), (other, f"{own} {sign} {sizes[along]:.6f}")]
    for name, (low, high) in _ACROSS.items():
        if name != along:
            middle = f"0.5*{near}.{low} + 0.5*{near}.{high}"
            sums += [(low, f"{middle} - {sizes[name] / 2:.6f}"), (high, f"{middle} + {sizes[name] / 2:.6f}")]
    return tuple(sums)


def given_by(job: Job, travel: Travel) -> dict[str, float]:
    """What the sums rest on: measures by key, travels, and sides of boxes that don't follow from anything."""
    given = {m.key: m.value.mm for m in job.all(Measure)}
    given |= {f"{a.name}.travel": travel(a) or 0.0 for a in job.axes()}
    keys = {b.id: b.key for b in job.all(SolidBox) if b.key}
    for box in job.all(SolidBox):
        following = {field for field, _ in (*box.built, *beside(box, keys))}
        for side in SIDES:
            entry: LengthEntry = getattr(box, side)
            if side not in following or entry.text:
                given[figure_name(box, side)] = entry.mm
    return given


def check_sums(job: Job) -> None:
    """Raise BadInputError unless every sum is one of figures there are, for a figure that there is."""
    for entity in job.all(SolidBox) + job.all(Face) + job.all(Machine):
        wrong = next((field for field, _ in entity.built if not is_length(entity, field)), None)
        if wrong is not None:
            raise BadInputError(f"“{wrong[:40]}” follows from measures, but is no length of an entry “{entity.kind}”.")
    tell(sums_of(job.entities()), dict.fromkeys(given_by(job, lambda _: 1.0), 1.0))


def is_length(entity: Entity, field: str) -> bool:
    """Whether a field of an entity holds a length."""
    quantity = quantities(type(entity)).get(field)
    return quantity is not None and quantity.kind == "length"


def is_typed(entity: SolidBox | Face | Machine, field: str) -> bool:
    """Whether somebody typed a figure, so that it follows from nothing."""
    entry = getattr(entity, field)
    return isinstance(entry, LengthEntry) and bool(entry.text)
