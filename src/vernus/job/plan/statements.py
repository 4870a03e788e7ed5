"""What is said of an axis's travel, scale and reader, and of its stops."""

from __future__ import annotations

from vernus.core.errors import BadInputError
from vernus.core.finding import AxisEnd, Mm, Sentence, Sold
from vernus.core.machine.stroke import ENDS
from vernus.core.plan.scales import Placement
from vernus.job.document import Job
from vernus.job.entities import Axis, MountPart, carried_by
from vernus.job.fields import mm_of
from vernus.job.known.axis_figures import chosen_face, surveys_of
from vernus.job.known.lengths import family_of, measuring_length
from vernus.job.machine.directions import directions_of
from vernus.job.machine.fitted_stops import is_fitted
from vernus.job.machine.planned import held_off
from vernus.job.machine.stroke import blocked_at_home, metal_of, metal_unknown, stroke_of
from vernus.job.plan.cut import Cut, cut_of
from vernus.job.plan.places import least_stand_off, place_on_face
from vernus.job.plan.scale import ScaleResult, place_words, scale_result, scale_source, scale_words, spare_words
from vernus.job.plan.travel_left import AxisStop, made_by, stops_of
from vernus.job.scope import has_scale, in_scope
from vernus.job.statement import Statement


def plan_statements(job: Job, axis: Axis, rests: tuple[str, ...]) -> list[Statement]:
    """Travel, what is kept, zones, stops and bumpers of an axis, and where its scale and reader go."""
    found = [*_travel(job, axis), *(_zones(axis) if in_scope(axis) else ())]
    found += [*stop_statements(job, axis), *_shorter(job, axis)]
    return [*found, *scale_statements(job, axis, rests)]


def stop_statements(job: Job, axis: Axis) -> list[Statement]:
    """The stops of an axis, and the bumpers that make them."""
    words = directions_of(job, axis)
    return [s.told_in(words) for stop in _stops(job, axis) for s in _stop(job, stop)]


def _shorter(job: Job, axis: Axis) -> list[Statement]:
    """What comes off a reader's bracket that was made and meets something with every axis at home."""
    made = next((p for p in job.of_axis(MountPart, axis.id) if carried_by(p) == "reader"), None)
    face = chosen_face(job, axis)
    if made is None or face is None:
        return []
    try:
        result = metal_of(job).result
    except BadInputError:
        return []
    across = next(c for c in "xyz" if c not in (face.along[1], face.out[1]))
    found: list[Statement] = []
    for (part, other), (along, off) in zip(result.blocked, result.ways_out, strict=False):
        if part != f"{axis.name} scale bracket" or along != across:
            continue
        said = {"part": made.name or "the reader's bracket", "off": Mm(off), "b": other, "has": Mm(made.width.mm)}
        words = Sentence("Take {off} off the {has} of {part}: it meets the {b} with every axis at home.", said)
        figures: dict[str, object] = {
            "part": said["part"], "at_hand_mm": made.width.mm, "to_mm": made.width.mm - off, "off_mm": off,
        }  # fmt: skip
        found.append(Statement("take_off", axis.name, f"{made.id}-clear", "envelope", words, figures))
    return found[:1]


def scale_statements(job: Job, axis: Axis, rests: tuple[str, ...] = ()) -> list[Statement]:
    """The scale of an axis, its cut, face and place there, and where its reader goes."""
    return _scale(job, axis, rests) if in_scope(axis) and has_scale(axis) else []


def _travel(job: Job, axis: Axis) -> list[Statement]:
    surveys, line = surveys_of(job, axis), stroke_of(job, axis).stroke
    found: list[Statement] = []
    if surveys:
        best = surveys[0][1]
        words = Sentence("The travel is {mm} ± {u}.", {"mm": Mm(best.travel_mm), "u": Mm(best.expanded_mm)})
        figures = {"travel_mm": best.travel_mm, "u_mm": best.expanded_mm}
        found.append(Statement("travel", axis.name, "", "travel", words, figures))
    if line is not None and line.kept_mm is not None and surveys and not metal_unknown(job):
        low, high = line.kept_mm
        words = Sentence("Kept from {low} to {high}, from the {@low} mark.", {"low": Mm(low), "high": Mm(high)})
        found.append(Statement("kept", axis.name, "", "travel", words, {"from_mm": low, "to_mm": high}))
    return found


def _zones(axis: Axis) -> list[Statement]:
    """What is given up at an end, whether the axis still goes there, and why."""
    told = {"stop": "is not driven to", "driven": "is driven through, only not read"}
    given = (
        (mm_of(axis.give_up_low) or 0.0, axis.give_up_low_how, axis.give_up_low_why),
        (mm_of(axis.give_up_high) or 0.0, axis.give_up_high_how, axis.give_up_high_why),
    )
    found: list[Statement] = []
    for end, (mm, how, why) in zip(ENDS, given, strict=True):
        if mm > 0:
            said = "{mm} at the {end} end " + told[how] + (": {why}." if why else ".")
            values = {"mm": Mm(mm), "end": AxisEnd(end), "why": why}
            figures = {"end": end, "mm": mm, "how": how, "why": why or "given up"}
            found.append(Statement("zone", axis.name, end, "travel", Sentence(said, values), figures))
    return found


def _stops(job: Job, axis: Axis) -> list[AxisStop]:
    try:
        return [s for s in stops_of(job) if s.axis.id == axis.id]
    except BadInputError:
        return []


def _stop(job: Job, stop: AxisStop) -> list[Statement]:
    """The stop of an end, and the bumper that makes it where it is one of metal."""
    end, name = stop.need.end, stop.axis.name
    values = {"end": AxisEnd(end), "mm": stop.before, "why": stop.reason}
    words = Sentence("Stop at the {end} end, {mm} before its mark: {why}.", values)
    why = stop.need.with_ if stop.need.why == "metal" else stop.need.why
    figures: dict[str, object] = {
        "end": end, "before_mark_mm": stop.need.before_mark_mm, "why": why, "measured": not stop.unmeasured,
        "made": is_fitted(job, stop.axis, stop.need),
    }  # fmt: skip
    found = [Statement("stop", name, end, "envelope", words, figures, stop.unmeasured)]
    return [*found, *_bumper(job, stop)]


def _bumper(job: Job, stop: AxisStop) -> list[Statement]:
    """The pillar that makes a stop."""
    pillar, name, end = made_by(job, stop), stop.axis.name, stop.need.end
    if pillar is None:
        return []
    mine, other = pillar.mine.member, pillar.other.member
    words = Sentence("A bumper {mm} long between the {mine} and the {other}.",
                     {"mm": pillar.length, "mine": mine, "other": other})  # fmt: skip
    measured = not pillar.unmeasured
    figures = {"length_mm": pillar.bumper.length_mm, "between": [mine, other], "measured": measured}
    return [Statement("bumper", name, end, "envelope", words, figures, pillar.unmeasured)]


def _scale(job: Job, axis: Axis, rests: tuple[str, ...]) -> list[Statement]:
    """The scale an axis has or gets, its cut and face, the reader's place and what is spare.

    No place is said where it can't be held, nor where its own parts meet something as the machine is drawn.
    """
    result, measuring = scale_result(job, axis), measuring_length(job, axis)
    place = result.placement
    if result.family is None or measuring is None:
        return _proposed(axis, result)
    if place is None or result.body_mm is None:
        return []
    name, cut = axis.name, cut_of(job, axis)
    figures: dict[str, object] = {
        "family": result.family.id, "measuring_mm": measuring.value, "starts_mm": _starts_mm(result, place),
        "overall_mm": result.body_mm, "cut_to_mm": None if cut is None else cut.to_mm,
        "source": scale_source(job, axis),
    }  # fmt: skip
    found = [Statement("scale", name, "", "scale", scale_words(job, axis), figures, rests)]
    found += [*_cut(axis, result, cut), *_face(job, axis, rests)]
    if blocked_at_home(job, axis):
        return found
    found += _body(job, axis, rests)
    if any(f.severity == "stop" for f in result.findings):
        return found
    at = place.reader_at_mm if place.follows else result.body_mm - place.reader_at_mm
    set_at = {"axis_at_mm": place.axis_at_mm, "reader_at_mm": at, "within_mm": max(place.slack_mm, 0.0)}
    found.append(Statement("place", name, "", "scale", place_words(job, axis, place), set_at, rests))
    low, high = place.spare_mm
    spare = {"low_mm": low, "high_mm": high}
    return [*found, Statement("spare", name, "", "scale", spare_words(place), spare, rests)]


def _proposed(axis: Axis, result: ScaleResult) -> list[Statement]:
    """The first size that serves, of the family said where one was, while nobody chose a scale for a known travel."""
    said = result.family.id if result.family is not None else ""
    serving = [c for c in result.choices if said in ("", c.family.id)]
    if not serving or axis.readout == "there":
        return []
    first = serving[0]
    figures: dict[str, object] = {
        "family": first.family.id, "measuring_mm": first.measuring_mm, "starts_mm": first.family.beyond_mm,
        "overall_mm": first.overall_mm, "cut_to_mm": first.cut_to_mm, "source": "proposed",
    }  # fmt: skip
    words = Sentence(
        "Not chosen yet; the first that serves: {family}, {mm}.",
        {"family": first.family.label, "mm": Sold(first.measuring_mm)},
    )
    return [Statement("scale", axis.name, "", "scale", words, figures)]


def _cut(axis: Axis, result: ScaleResult, cut: Cut | None) -> list[Statement]:
    """What the whole scale is sawn to, and from which end it comes off."""
    if cut is None or result.body_mm is None or result.family is None:
        return []
    end = "either end" if result.family.open_ended else "the end without the connector"
    tape = result.family.body_type == "tape"
    what = "tape" if tape else "scale"
    words = Sentence(
        ("Cut" if tape else "Saw") + " the {what} to {mm} overall, at {end}: that leaves a {name} of {to}.",
        {
            "what": what, "mm": Mm(result.body_mm), "end": end, "to": Mm(cut.to_mm),
            "name": "usable stroke" if result.family.sizing == "stroke" else "measuring length",
        },
    )  # fmt: skip
    return [Statement("cut", axis.name, "", "order", words, {"what": what, "saw_mm": result.body_mm, "end": end})]


def _face(job: Job, axis: Axis, rests: tuple[str, ...]) -> list[Statement]:
    """The face the body goes on, how far it is held off, and how far it has to be."""
    face = chosen_face(job, axis)
    if face is None:
        return []
    off, least = held_off(job, axis, face).value, least_stand_off(job, axis)
    values: dict[str, object] = {"name": face.name, "off": Mm(off), "least": Mm(least or 0.0)}
    there = axis.readout == "there"
    words = ("The body hangs" if there else "The body goes") + " on the face {name}, "
    words += "{off} off it" if off > 0 else "right on it"
    if least is not None and least > 0 and not there:
        words += "; at least {least} clears what stands out there"
    figures = {"name": face.name, "stand_off_mm": off, "least_stand_off_mm": least}
    return [Statement("face", axis.name, "", "faces", Sentence(words + ".", values), figures, rests)]


def _body(job: Job, axis: Axis, rests: tuple[str, ...]) -> list[Statement]:
    """Where the body lies on its face, from the face's end that is left or below."""
    face, place = chosen_face(job, axis), place_on_face(job, axis)
    if face is None or place is None:
        return []
    values = {
        "face": face.name, "a": Mm(place.start_mm), "b": Mm(place.end_mm), "hole": Mm(place.first_hole_mm),
        "over": Mm(place.overhang_mm),
    }  # fmt: skip
    family = family_of(job, axis)
    stuck = family is not None and family.held == "adhesive"  # what is stuck on has no end holes
    said = "On “{face}” the body lies from {a} to {b}, from the face's {@left} end{@seen}"
    said += "." if stuck else "; its first hole is at {hole}."
    if place.overhang_mm > 0:
        carry = ": carry it on a plate" if stuck else ": carry its end holes on standoffs or a plate"
        said += " It stands over the end by {over}" + ("" if axis.readout == "there" else carry) + "."
    figures: dict[str, object] = {
        "on": face.name, "from_mm": place.start_mm, "to_mm": place.end_mm, "across_mm": None, "across_from": "",
        "across_on": "",
    }  # fmt: skip
    if place.across is not None:
        across = place.across
        beyond = across.mm < 0
        way = ("above" if beyond else "below") if across.side == "top" else "before" if beyond else "from"
        said += " Its middle line is {across} " + way + f" the {across.side} of the {{casting}}."
        values |= {"across": Mm(abs(across.mm)), "casting": across.casting}
        figures |= {"across_mm": across.mm, "across_from": across.side, "across_on": across.casting}
    words = Sentence(said, values)
    return [Statement("body", axis.name, "", "faces", words, figures, rests)]


def _starts_mm(result: ScaleResult, place: Placement) -> float:
    """Where the measuring length begins, from the end of the body that the reader is nearer to at the low mark."""
    return place.measuring_from_mm if place.follows else (result.body_mm or 0.0) - place.measuring_to_mm
