"""Which sizes serve an axis, and where the chosen one puts the reader."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from vernus.core.finding import Finding, Mm, Sentence, Sold, finding
from vernus.core.plan.scales import (
    Placement,
    ScaleChoice,
    ScaleFamily,
    choose_sizes,
    family_length,
    judge_plan,
    no_size,
    old_check,
    place_reader,
)
from vernus.job.catalog.families import families_of
from vernus.job.document import Job, new_id
from vernus.job.entities import Axis, ScalePlan
from vernus.job.fields import mm_of
from vernus.job.known.axis_figures import chosen_face, give_up, plan_of
from vernus.job.known.axis_figures import travel as known_travel
from vernus.job.known.lengths import (
    bearing_length,
    body_length,
    face_length,
    family_of,
    margin,
    measuring_length,
    reader_follows,
    spare,
    spare_wanted,
)
from vernus.job.machine.fitted_stops import stops_fitted
from vernus.job.machine.stroke import margins_of, stroke_of
from vernus.job.machine.travel import travel_result
from vernus.job.plan.cut import cut_of, is_here
from vernus.job.plan.places import in_casting
from vernus.job.refusals import limit_findings

Pair = tuple[float, float]


@dataclass(frozen=True)
class ScaleResult:
    """The sizes that serve, and the scale's own figures once a measuring length is known; lengths in mm."""

    travel_mm: float | None
    choices: tuple[ScaleChoice, ...]
    family: ScaleFamily | None
    measuring_mm: float | None
    body_mm: float | None
    placement: Placement | None
    findings: tuple[Finding, ...]
    instruction: Sentence


def scale_result(job: Job, axis: Axis) -> ScaleResult:
    """The sizes that serve the axis, and where the one it has or gets puts the reader."""
    plan, travel = plan_of(job, axis), travel_result(job, axis).useful_mm
    findings = limit_findings(plan) if plan is not None else []
    family, measuring, body = family_of(job, axis), measuring_length(job, axis), body_length(job, axis)
    measuring_mm, body_mm = (None if k is None else k.value for k in (measuring, body))

    def answer(choices: Sequence[ScaleChoice], ask: Sentence, place: Placement | None = None) -> ScaleResult:
        return ScaleResult(travel, tuple(choices), family, measuring_mm, body_mm, place, tuple(findings), ask)

    if travel is None:
        return answer((), Sentence("Measure the travel first: every length here follows from it."))
    if findings:
        return answer((), findings[0].remedy)
    face, wanted = face_length(job, axis), spare_wanted(job, axis)
    face_mm, asked = None if face is None else face.value, None if wanted is None else wanted[1]
    as_it_came = [family if family is not None and f.id == family.id else f for f in families_of(job)]
    choices, _ = choose_sizes(as_it_came, travel, margin(job, axis).value, face_mm, asked)
    if family is None or measuring_mm is None:
        ask = "Choose a family and a size from the list (arrow keys, Enter); see what it leaves at both ends."
        return answer(choices, Sentence(ask))
    ends = spare(job, axis)
    both = None if ends is None else ends.value
    margins = margins_of(job, axis)
    if axis.readout != "there" and all(c.family.id != family.id for c in choices):
        findings.append(no_size(family, family_length(family, travel, margin(job, axis).value, asked)))
    bears, there = bearing_length(job, axis), axis.readout == "there"
    lies_on = None if bears is None or there else bears.value
    judged = judge_plan(family, measuring_mm, travel, margins, both, lies_on, there=there)
    findings += [_accepted(job, axis, found) for found in judged]
    findings += _old_check(job, axis) if there else []
    findings += [f for f in stroke_of(job, axis).findings if "scale" in f.concerns]
    findings += [*_carrier_against_face(job, axis), *in_casting(job, axis)]
    place = _place(job, axis, family, measuring_mm, both)
    words = _order(job, axis, family, measuring_mm, place, findings)
    return answer(choices, words, place)


def _accepted(job: Job, axis: Axis, found: Finding) -> Finding:
    """A margin that is thin on a scale that is here, with the stops fitted that go before it: told, and allowed."""
    if found.code != "margin-thin" or not is_here(job, axis) or not stops_fitted(job, axis):
        return found
    rest = Sentence("It is here, and its stops come first: nothing more to do, as long as they stay.")
    return replace(found, severity="info", remedy=rest)


def _old_check(job: Job, axis: Axis) -> list[Finding]:
    """What the last check of a scale there already found, once a figure and the move are told."""
    plan = plan_of(job, axis)
    off, over = (None, None) if plan is None else (mm_of(plan.checked_off), mm_of(plan.checked_over))
    if plan is None or off is None or over is None or not over > 0:
        return []
    return [old_check(plan.checked_on, off, over)]


def _carrier_against_face(job: Job, axis: Axis) -> list[Finding]:
    """A body said to be on the one member, and a face chosen that is on the other."""
    plan, face = plan_of(job, axis), chosen_face(job, axis)
    members = {"moving": axis.moving, "still": axis.still}
    if plan is None or face is None or not plan.scale_on or face.member not in members.values():
        return []
    said = members[plan.scale_on]
    if face.member == said:
        return []
    return [
        finding(
            "carrier-against-face",
            "stop",
            "The {axis} body was said to be on the {said}; the face chosen, {face}, is on the {member}.",
            "Choose a face of the {said} for {axis}, or say on the Scale sheet that its body is on the {member}.",
            axis=axis.name, said=said, face=face.name, member=face.member,
        )
    ]  # fmt: skip


def _order(
    job: Job,
    axis: Axis,
    family: ScaleFamily,
    measuring_mm: float,
    place: Placement,
    findings: Sequence[Finding],
) -> Sentence:
    """What to order and where the reader goes."""
    stop = next((f for f in findings if f.severity == "stop"), None)
    if stop is not None:
        return stop.remedy
    cut = cut_of(job, axis) is not None
    verb = "It has" if axis.readout == "there" or (is_here(job, axis) and not cut) else "Cut to" if cut else "Order"
    what = "usable stroke" if family.sizing == "stroke" else "measuring length"
    size = Mm(measuring_mm) if cut else Sold(measuring_mm)
    return Sentence(
        verb + " {size} " + what + " ({family}). {place}",
        {"size": size, "family": family.label, "place": place_words(job, axis, place)},
    )


def scale_source(job: Job, axis: Axis) -> Literal["delivered", "there", "chosen"]:
    """Where the scale as it is comes from: one that has come, that is there already, or that is chosen."""
    if is_here(job, axis) and axis.readout != "there":
        return "delivered"
    return "there" if axis.readout == "there" else "chosen"


def scale_words(job: Job, axis: Axis) -> Sentence:
    """The scale as it is: its family, how long it measures and how long it is in all."""
    family, measuring, body = family_of(job, axis), measuring_length(job, axis), body_length(job, axis)
    if family is None or measuring is None or body is None:
        return Sentence("No scale is chosen yet.")
    name = "usable stroke" if family.sizing == "stroke" else "measuring length"
    values = {"family": family.label, "mm": Mm(measuring.value), "body": Mm(body.value)}
    return Sentence("{family}: " + name + " {mm}, {body} overall.", values)


def spare_words(place: Placement) -> Sentence:
    """What is spare at both ends, at the stops as they stand."""
    low, high = place.spare_mm
    at_low, at_high = place.at_stops_mm
    values = {"low": Mm(low), "high": Mm(high), "a": Mm(at_low), "b": Mm(at_high)}
    return Sentence(
        "{low} is spare at the {@low} stop and {high} at the {@high} one; there the reader's middle stands {a} and {b} "
        "from the body's {@left} end{@seen}.",
        values,
    )


def place_words(job: Job, axis: Axis, place: Placement) -> Sentence:
    """Where the reader is set, or stands where it is there already: the one sentence of it, from a named mark.

    As a figure without its slack where a spare was asked for at one end, or measured.
    """
    ends = spare(job, axis)
    figure = spare_wanted(job, axis) is not None or (ends is not None and ends.source == "measured")
    values: dict[str, object] = {
        "reader": Mm(place.reader_at_mm),
        "at": Mm(place.axis_at_mm),
        "slack": Mm(max(place.slack_mm, 0.0)),
    }
    values["moving"] = axis.moving or "axis"
    if axis.readout == "there":
        words = "Its reader's middle stands {reader} from the body's {@left} end{@seen}"
        words += " with the {moving} {at} from its {@low} mark."
    else:
        within = "" if figure else ", ± {slack}"
        words = "Set the reader's middle {reader} from the body's {@left} end{@seen}" + within
        words += ", with the {moving} {at} from its {@low} mark."
    return Sentence(words, values)


def _place(job: Job, axis: Axis, family: ScaleFamily, measuring_mm: float, spare_mm: Pair | None) -> Placement:
    """The reader's place on the line of the axis, with the stops as they stand."""
    far, (low, high) = known_travel(job, axis), give_up(axis)
    whole = 0.0 if far is None else far.value
    stroke = stroke_of(job, axis).stroke
    return place_reader(
        family, measuring_mm, (low, whole - high), margins_of(job, axis), spare_mm,
        reader_follows=reader_follows(job, axis), stops_mm=None if stroke is None else stroke.kept_mm,
    )  # fmt: skip


def scale_plan(job: Job, axis: Axis) -> ScalePlan:
    """The scale plan of an axis, a fresh one if there is none yet."""
    return plan_of(job, axis) or ScalePlan(id=new_id(), axis_id=axis.id)
