"""Which sizes serve an axis, and where the chosen one puts the reader."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.finding import Finding, Mm, Sentence, Sold
from vernus.core.plan.scales import (
    Placement,
    ScaleChoice,
    ScaleFamily,
    choose_sizes,
    judge_plan,
    order_length,
    place_reader,
)
from vernus.job.catalog.families import families_of
from vernus.job.document import Job, new_id
from vernus.job.entities import Axis, ScalePlan
from vernus.job.known import (
    body_length,
    face_length,
    family_of,
    margin,
    measuring_length,
    plan_of,
    reader_follows,
    spare,
    spare_wanted,
)
from vernus.job.machine.stroke import margins_of, stroke_of
from vernus.job.machine.travel import travel_result
from vernus.job.refusals import limit_findings

Pair = tuple[float, float]


@dataclass(frozen=True)
class ScaleResult:
    """The sizes that serve, and the scale's own figures once a measuring length is known; lengths in mm.

    ``spare_mm`` is at the axis's low and high end.
    """

    travel_mm: float | None
    choices: tuple[ScaleChoice, ...]
    family: ScaleFamily | None
    measuring_mm: float | None
    body_mm: float | None
    placement: Placement | None
    spare_mm: Pair | None
    findings: tuple[Finding, ...]
    instruction: Sentence


def scale_result(job: Job, axis: Axis) -> ScaleResult:
    """The sizes that serve the axis, and where the one it has or gets puts the reader."""
    plan, travel = plan_of(job, axis), travel_result(job, axis).useful_mm
    findings = limit_findings(plan) if plan is not None else []
    family, measuring, body = family_of(job, axis), measuring_length(job, axis), body_length(job, axis)
    measuring_mm, body_mm = (None if k is None else k.value for k in (measuring, body))

    def answer(
        choices: Sequence[ScaleChoice], ask: Sentence, place: Placement | None = None, ends: Pair | None = None
    ) -> ScaleResult:
        return ScaleResult(travel, tuple(choices), family, measuring_mm, body_mm, place, ends, tuple(findings), ask)

    if travel is None:
        return answer((), Sentence("Measure the travel first: every length here follows from it."))
    if findings:
        return answer((), findings[0].remedy)
    face, wanted = face_length(job, axis), spare_wanted(job, axis)
    face_mm, asked = None if face is None else face.value, None if wanted is None else wanted[1]
    choices, size_findings = choose_sizes(families_of(job), travel, margin(job, axis).value, face_mm, asked)
    if family is None or measuring_mm is None:
        ask = "Choose a family and a size from the list (arrow keys, Enter); see what it leaves at both ends."
        return answer(choices, Sentence(ask))
    ends = spare(job, axis)
    both = None if ends is None else ends.value
    margins = margins_of(job, axis)
    findings += [f for f in size_findings if f.code == "no-size" and f.what.values["family"] == family.label]
    findings += judge_plan(family, measuring_mm, travel, margins, both, face_mm)
    findings += [f for f in stroke_of(job, axis).findings if f.code in _OF_THE_LINE]
    place = place_reader(family, measuring_mm, travel, margins, both, reader_follows=reader_follows(job, axis))
    figure = wanted is not None or (ends is not None and ends.source == "measured")
    words = _order(axis, family, measuring_mm, place, findings, figure=figure)
    return answer(choices, words, place, both)


_OF_THE_LINE = ("spare-below-uncertainty",)


def _order(
    axis: Axis,
    family: ScaleFamily,
    measuring_mm: float,
    place: Placement,
    findings: Sequence[Finding],
    *,
    figure: bool,
) -> Sentence:
    """What to order and where the reader goes; its place is a figure where a spare was asked for, else it has slack."""
    stop = next((f for f in findings if f.severity == "stop"), None)
    if stop is not None:
        return stop.remedy
    stocked = order_length(family, measuring_mm)
    cut = family.can_be_cut and (stocked is None or not family.sizes_mm or stocked > measuring_mm)
    verb = "It has" if axis.readout == "there" else "Cut to" if cut else "Order"
    what = "usable stroke" if family.sizing == "stroke" else "measuring length"
    words = " {size} " + what + " ({family}). With the axis at mid travel set the reader's middle {mid} from the "
    words += "body's left end." if figure else "body's left end, ± {slack}."
    if axis.readout == "there":
        words = " {size} " + what + " ({family}). At mid travel its reader stands {mid} from the body's left end."
    return Sentence(
        verb + words,
        {
            "size": Mm(measuring_mm) if cut else Sold(measuring_mm),
            "family": family.label,
            "mid": Mm(place.mid_mm),
            "slack": Mm(max(place.slack_mm, 0.0)),
        },
    )


def scale_plan(job: Job, axis: Axis, scale_on: Literal["moving", "still"]) -> ScalePlan:
    """The scale plan of an axis, a fresh one if there is none yet."""
    return plan_of(job, axis) or ScalePlan(id=new_id(), axis_id=axis.id, scale_on=scale_on)
