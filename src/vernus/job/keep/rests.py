"""What a step of the card rests on when it is ticked, and what of that has changed since: then it is open again."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from vernus.core.errors import BadInputError
from vernus.core.finding import Mm, Sentence
from vernus.core.keep.schedule import JobStep
from vernus.core.make.hole_rows import HoleRow
from vernus.job.document import Job
from vernus.job.entities import Axis, MountPart, RestedOn
from vernus.job.known import body_length, chosen_face, plan_of
from vernus.job.machine.stroke import stroke_of
from vernus.job.make.mounts import mount_result
from vernus.job.make.parts import parts_of, patterns_of, solved_size
from vernus.job.plan.places import place_on_face
from vernus.job.scope import axes_in_scope, gets_scale

_SAME_MM = 0.006  # as a length is shown
_FITTED = ("hold", "run", "mark", "reach", "rodguard", "rod", "cover")
_MOST = 400


def rests_on(job: Job, step: JobStep) -> tuple[RestedOn, ...]:
    """What a step rests on as things stand: faces, lengths, places of holes, stops, what is ordered."""
    kind = step.key.split("-")[0]
    axis = next((a for a in axes_in_scope(job) if a.name == step.axis), None)
    found: Iterable[RestedOn] = ()
    if kind == "order":
        found = [r for a in axes_in_scope(job) if gets_scale(a) for r in _ordered(job, a)]
    elif kind == "stops":
        found = [r for a in axes_in_scope(job) for r in _stops(job, a)]
    elif kind == "make":
        part = job.get(step.key.removeprefix("make-"))
        found = _part(job, part) if isinstance(part, MountPart) else ()
    elif kind == "drill" and axis is not None:
        found = [*_fitted(job, axis), *_drilled(job, axis, step)]
    elif kind in _FITTED and axis is not None:
        found = _fitted(job, axis)
    return tuple(found)[:_MOST]


def changed_since(then: Sequence[RestedOn], now: Sequence[RestedOn]) -> Sentence | None:
    """What of it has changed, in a sentence; None while nothing has, and for a step ticked before that was kept."""
    if not then:
        return None
    old, new = {r.name: r for r in then}, {r.name: r for r in now}
    names = [n for n in (*old, *(n for n in new if n not in old)) if not _same(old.get(n), new.get(n))]
    if not names:
        return None
    name = names[0]
    was, is_ = old.get(name), new.get(name)
    more = {2: " and 1 other thing"}.get(len(names), f" and {len(names) - 1} other things") if len(names) > 1 else ""
    values: dict[str, object] = {"name": name, "was": _shown(was), "is": _shown(is_)}
    if was is None:
        return Sentence(f"Open again: {{name}} came in after it was ticked{more}.", values)
    if is_ is None:
        return Sentence(f"Open again: {{name}} is gone since it was ticked{more}.", values)
    return Sentence(f"Open again: {{name}} was {{was}}, it is {{is}}{more}.", values)


def _same(was: RestedOn | None, now: RestedOn | None) -> bool:
    if was is None or now is None:
        return was is now
    if was.mm is None or now.mm is None:
        return (was.mm, was.words) == (now.mm, now.words)
    return abs(was.mm - now.mm) <= _SAME_MM


def _shown(one: RestedOn | None) -> object:
    return "" if one is None else Mm(one.mm) if one.mm is not None else f"“{one.words}”"


def _words(name: str, words: str) -> RestedOn:
    return RestedOn(name=name[:200], words=words[:1000])


def _mm(name: str, mm: float) -> RestedOn:
    return RestedOn(name=name[:200], mm=mm)


def _ordered(job: Job, axis: Axis) -> list[RestedOn]:
    """The scale as it was planned: what is delivered doesn't change what was ordered."""
    plan = plan_of(job, axis)
    if plan is None:
        return []
    found = [_words(f"the {axis.name} scale", plan.family)]
    return found if plan.measuring is None else [*found, _mm(f"the {axis.name} scale's length", plan.measuring.mm)]


def _fitted(job: Job, axis: Axis) -> list[RestedOn]:
    """The face, the body's length, and where it lies."""
    face, body, place = chosen_face(job, axis), body_length(job, axis), place_on_face(job, axis)
    found = [] if face is None else [_words("the face", face.name)]
    if body is not None:
        found.append(_mm("the body's length", body.value))
    if place is not None:
        found.append(_mm("the body's place on its face", place.start_mm))
    return found


def _stops(job: Job, axis: Axis) -> list[RestedOn]:
    line = stroke_of(job, axis).stroke
    return [] if line is None else [_mm(f"the {s.end} stop of {axis.name}, before its mark", s.before_mark_mm)
                                    for s in line.stops]  # fmt: skip


def _part(job: Job, part: MountPart) -> list[RestedOn]:
    try:
        sizes = solved_size(part)
    except BadInputError:
        return []
    found = [_mm(name, mm) for name, mm in zip(("its length", "its width", "its thickness"), sizes, strict=True)]
    return [*found, _words("its material", part.material), *_holes(mount_result(job, part).rows)]


def _drilled(job: Job, axis: Axis, step: JobStep) -> list[RestedOn]:
    """The holes of the faces drilled for an axis: of one pattern where the step is that pattern's."""
    faces = [p for p in parts_of(job, axis) if p.part_kind == "face"]
    pattern = step.key.removeprefix(f"drill-{axis.name}").lstrip("-")
    mine = [f for f in faces if not pattern or pattern in (p.id for p in patterns_of(job, f))]
    return _holes([row for f in mine for row in mount_result(job, f).rows])


def _holes(rows: Sequence[HoleRow]) -> list[RestedOn]:
    found = []
    for n, row in enumerate(rows, 1):
        found += [_mm(f"hole {n}, along", row.hole.x_mm), _mm(f"hole {n}, across", row.hole.y_mm)]
        found.append(_words(f"hole {n}", f"{row.hole.kind} {row.hole.thread}".strip()))
    return found
