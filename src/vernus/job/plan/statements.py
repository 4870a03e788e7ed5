"""What is said of an axis's travel, scale and reader, and of its stops."""

from __future__ import annotations

from vernus.core.errors import BadInputError
from vernus.core.finding import AxisEnd, Mm, Sentence, directed
from vernus.core.machine.stroke import ENDS, End
from vernus.core.plan.scales import Placement
from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.known import measuring_length, stock_to_cut, surveys_of
from vernus.job.machine.directions import directions_of
from vernus.job.machine.stroke import metal_of, stroke_of
from vernus.job.plan.scale import ScaleResult, place_words, scale_result
from vernus.job.plan.travel_left import AxisStop, pillar_of, pillar_rests, stops_of, travel_left
from vernus.job.scope import has_scale, in_scope
from vernus.job.statement import Statement


def plan_statements(job: Job, axis: Axis, rests: tuple[str, ...], *, stops_made: bool) -> list[Statement]:
    """Travel, what is kept, zones, stops and bumpers of an axis, and where its scale and reader go."""
    found = [*_travel(job, axis), *(_zones(axis) if in_scope(axis) else ())]
    found += [s for stop in _stops(job, axis) for s in _stop(job, stop, made=stops_made)]
    if in_scope(axis) and has_scale(axis):
        found += _scale(job, axis, rests)
    words = directions_of(job, axis)
    return [Statement(**{**vars(s), "words": directed(s.words, words)}) for s in found]


def _travel(job: Job, axis: Axis) -> list[Statement]:
    surveys, line = surveys_of(job, axis), stroke_of(job, axis).stroke
    found: list[Statement] = []
    if surveys:
        best = surveys[0][1]
        words = Sentence("The travel is {mm} ± {u}.", {"mm": Mm(best.travel_mm), "u": Mm(best.expanded_mm)})
        figures = {"travel_mm": best.travel_mm, "u_mm": best.expanded_mm}
        found.append(Statement("travel", axis.name, "", "travel", words, figures))
    if line is not None and line.kept_mm is not None and surveys:
        low, high = line.kept_mm
        words = Sentence("Kept from {low} to {high}, from the {@low} mark.", {"low": Mm(low), "high": Mm(high)})
        found.append(Statement("kept", axis.name, "", "travel", words, {"from_mm": low, "to_mm": high}))
    return found


def _zones(axis: Axis) -> list[Statement]:
    """What is given up at an end, and whether the axis still goes there."""
    given: tuple[float, ...] = tuple(0.0 if e is None else e.mm for e in (axis.give_up_low, axis.give_up_high))
    how = {"stop": "is not driven to", "driven": "is driven through, only not read"}[axis.give_up_how]
    found: list[Statement] = []
    for end, mm in zip(ENDS, given, strict=True):
        if mm > 0:
            words = Sentence("{mm} at the {end} end " + how + ".", {"mm": Mm(mm), "end": AxisEnd(end)})
            figures = {"end": end, "mm": mm, "how": axis.give_up_how, "why": "given up"}
            found.append(Statement("zone", axis.name, end, "travel", words, figures))
    return found


def _stops(job: Job, axis: Axis) -> list[AxisStop]:
    try:
        return [s for s in stops_of(job) if s.axis.id == axis.id]
    except BadInputError:
        return []


def _stop(job: Job, stop: AxisStop, *, made: bool) -> list[Statement]:
    """The stop of an end, and the bumper that makes it where it is one of metal."""
    axis, end, name = stop.axis, stop.need.end, stop.axis.name
    values = {"end": AxisEnd(end), "mm": stop.before, "why": stop.need.in_words()}
    words = Sentence("Stop at the {end} end, {mm} before its mark: {why}.", values)
    why = stop.need.with_ if stop.need.why == "metal" else stop.need.why
    figures: dict[str, object] = {
        "end": end, "before_mark_mm": stop.need.before_mark_mm, "why": why, "measured": not stop.unmeasured,
        "made": made,
    }  # fmt: skip
    found = [Statement("stop", name, end, "envelope", words, figures, stop.unmeasured)]
    return [*found, *_bumper(job, axis, end)] if stop.need.why == "metal" else found


def _bumper(job: Job, axis: Axis, end: End) -> list[Statement]:
    pillar = pillar_of(job, axis, end, metal_of(job).envelope, travel_left(job))
    if pillar is None:
        return []
    bumper, mine, other = pillar
    rests = pillar_rests(job, axis, end)
    values = {"mm": Mm(bumper.length_mm), "mine": mine.member, "other": other.member}
    words = Sentence("A bumper {mm} long between the {mine} and the {other}.", values)
    figures = {"length_mm": bumper.length_mm, "between": [mine.member, other.member], "measured": not rests}
    return [Statement("bumper", axis.name, end, "envelope", words, figures, rests)]


_SOURCE = {"delivered": "delivered", "measured": "delivered", "typed": "chosen", "chosen": "chosen"}


def _scale(job: Job, axis: Axis, rests: tuple[str, ...]) -> list[Statement]:
    """The scale an axis has or gets, the place of its reader and what is spare; no place where it can't be held."""
    result, measuring = scale_result(job, axis), measuring_length(job, axis)
    place = result.placement
    if result.family is None or measuring is None or place is None or result.body_mm is None:
        return []
    name = axis.name
    source = "there" if axis.readout == "there" else _SOURCE.get(measuring.source, "chosen")
    cut = measuring.value if result.family.can_be_cut and (stock_to_cut(job, axis) or _is_cut(result)) else None
    figures: dict[str, object] = {
        "family": result.family.id, "measuring_mm": measuring.value, "starts_mm": _starts_mm(result, place),
        "overall_mm": result.body_mm, "cut_to_mm": cut, "source": source,
    }  # fmt: skip
    words = Sentence(
        "{family}: it measures {mm}, {body} overall.",
        {"family": result.family.label, "mm": Mm(measuring.value), "body": Mm(result.body_mm)},
    )
    found = [Statement("scale", name, "", "scale", words, figures, rests)]
    if any(f.severity == "stop" for f in result.findings):
        return found
    at = place.reader_at_mm if place.follows else result.body_mm - place.reader_at_mm
    set_at = {"axis_at_mm": place.axis_at_mm, "reader_at_mm": at, "within_mm": max(place.slack_mm, 0.0)}
    found.append(Statement("place", name, "", "scale", place_words(job, axis, place), set_at, rests))
    low, high = place.spare_mm
    words = Sentence(
        "{low} is spare at the {@low} stop and {high} at the {@high} one.", {"low": Mm(low), "high": Mm(high)}
    )
    return [*found, Statement("spare", name, "", "scale", words, {"low_mm": low, "high_mm": high}, rests)]


def _is_cut(result: ScaleResult) -> bool:
    """Whether the length measured is none that the family is sold in."""
    sizes = () if result.family is None else result.family.sizes_mm
    return result.measuring_mm is not None and all(abs(result.measuring_mm - size) > 1e-6 for size in sizes)


def _starts_mm(result: ScaleResult, place: Placement) -> float:
    """Where the measuring length begins, from the end of the body that the reader is nearer to at the low mark."""
    return place.measuring_from_mm if place.follows else (result.body_mm or 0.0) - place.measuring_to_mm
