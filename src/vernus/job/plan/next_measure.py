"""What to measure next: the measure of the machine that moves the plan most while nobody has taken it.

Each measure that is still the template's is moved by its likely error to either side, the whole plan is solved again
exactly, and the answer that changes most is what the measure decides.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import partial

from vernus.core.errors import BadInputError
from vernus.core.finding import Mm, Sentence, conclusion
from vernus.core.machine.measures import Influence, influence
from vernus.job.document import Job
from vernus.job.entities import Axis, Measure
from vernus.job.fields import LengthEntry
from vernus.job.known import body_length, chosen_face, length_of
from vernus.job.machine.directions import end_words
from vernus.job.machine.geometry import faces_of
from vernus.job.machine.planned import all_planned_parts, bulk_of, planned_parts
from vernus.job.machine.stroke import metal_of, stroke_of
from vernus.job.plan.travel_left import kept_with, lost_against, pillar_of, travel_left
from vernus.job.scope import axes_in_scope, gets_scale, has_feed, motion_name

IDLE_MM = 0.5
"""Below this no measure is worth taking for the plan."""
_WHOLE_MM = 1000.0
"""What a yes that turns into a no counts for in the ranking."""


@dataclass(frozen=True)
class NextMeasure:
    """The measure to take next, None when none matters, and the influence of every one nobody took, largest first."""

    measure: Measure | None
    ranked: tuple[Influence, ...]
    words: Sentence


def unmeasured(job: Job) -> list[Measure]:
    """The measures that nobody took, in the order of the template."""
    return [m for m in job.all(Measure) if not m.value.text]


def next_measure(job: Job, cancelled: Callable[[], bool] = lambda: False) -> NextMeasure:
    """What to measure next; stops early, without an answer, when cancelled."""
    ranked: list[Influence] = []
    here = plan_answers(job)
    for measure in unmeasured(job):
        if cancelled():
            return NextMeasure(None, (), Sentence(""))
        answers = partial(_with, job, measure)
        ranked.append(influence(measure.key, measure.value.mm, measure.likely_mm, here, answers))
    ranked.sort(key=lambda i: -i.most_mm)
    by_key = {m.key: m for m in job.all(Measure)}
    if not ranked:
        return NextMeasure(None, (), conclusion("Every measure is taken. Go on to Travel."))
    first = ranked[0]
    if first.most_mm < IDLE_MM:
        words = conclusion("What is not measured yet no longer matters for this plan. Go on.")
        return NextMeasure(None, tuple(ranked), words)
    measure = by_key[first.key]
    second = ranked[1].most_mm if len(ranked) > 1 else 0.0
    rest = " The rest no longer matters." if second < IDLE_MM else ""
    decides = "{of}" if first.of.startswith("whether") else "{most} of {of}"
    words = Sentence(
        f"Measure next: {{label}}. {{how}} It decides {decides}.{rest}",
        {"label": measure.label, "how": measure.how, "most": Mm(first.most_mm), "of": first.of},
    )
    return NextMeasure(measure, tuple(ranked), words)


def _with(job: Job, measure: Measure, mm: float) -> Mapping[str, float]:
    """The plan's answers (mm) with one measure at another value."""
    changed = measure.model_copy(update={"value": LengthEntry(mm=mm)})
    return plan_answers(Job([changed if e.id == measure.id else e for e in job.entities()]))


def plan_answers(job: Job) -> dict[str, float]:
    """What the plan comes to, by name (mm): stops, fit, and what each face still to be chosen from takes of travel."""
    found: dict[str, float] = {}
    for axis in job.axes() if any(chosen_face(job, a) is not None or has_feed(a) for a in axes_in_scope(job)) else ():
        found |= _stops(job, axis)
    for axis in axes_in_scope(job):
        if not gets_scale(axis):
            continue
        face = chosen_face(job, axis)
        if face is None:
            found |= _by_face(job, axis)
            continue
        body = body_length(job, axis)
        if body is not None:
            short = body.value > length_of(job, axis, face)
            found[f"whether the {axis.name} scale fits {face.name}"] = _WHOLE_MM if short else 0.0
    return found


def _stops(job: Job, axis: Axis) -> dict[str, float]:
    """How far the stops that metal needs stand before their marks (mm), and how long their pillars are.

    What is fitted to one axis may well cost the travel of another that gets nothing.
    """
    line = stroke_of(job, axis).stroke
    try:
        envelope, left = metal_of(job).envelope, travel_left(job)
    except BadInputError:
        return {}
    found: dict[str, float] = {}
    for need in line.needs if line is not None else ():
        if need.why == "metal":
            end = end_words(job, axis)[need.end == "high"]
            found[f"the {end} stop of {motion_name(axis)}"] = need.before_mark_mm
        pillar = pillar_of(job, axis, need.end, envelope, left) if need.why == "metal" else None
        if pillar is not None:
            end = end_words(job, axis)[need.end == "high"]
            found[f"the bumper at the {end} end of {motion_name(axis)}"] = pillar[0].length_mm
    return found


def _by_face(job: Job, axis: Axis) -> dict[str, float]:
    """What each face of an axis would take of travel, and whether a scale on it works at all."""
    found: dict[str, float] = {}
    others = all_planned_parts(job, without=axis.id)
    try:
        bare = kept_with(job, others).kept
        for face in faces_of(job, axis):
            bulk = bulk_of(job, axis, face)
            kept = kept_with(job, [*others, *planned_parts(job, axis, face)]).kept
            lost = lost_against(bare or {}, kept)
            fits = bulk is None or bulk.overall_mm <= length_of(job, axis, face)
            where = f"{axis.name} {face.name}"
            found[f"whether a scale for {where} works"] = 0.0 if lost is not None and fits else _WHOLE_MM
            if lost is not None:
                found[f"the travel kept with {where}"] = sum(lost.values())
    except BadInputError:
        return {}
    return found
