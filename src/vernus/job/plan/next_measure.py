"""What to measure next: the measure of the machine that moves the plan most while nobody has taken it.

Each measure that is still the template's is moved by its likely error to either side, the whole plan is solved again
exactly, and the answer that changes most is what the measure decides. That the rest doesn't matter is only said once
none of it would, were it as far off as machines of a kind differ.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import partial

from vernus.core.errors import BadInputError
from vernus.core.finding import Mm, Sentence, conclusion
from vernus.core.machine.measures import Influence, influence, rests_on
from vernus.job.document import Job
from vernus.job.entities import Axis, Measure
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import chosen_face
from vernus.job.known.lengths import body_length, length_of
from vernus.job.machine.directions import end_words
from vernus.job.machine.geometry import boxes_of, faces_of, solid, travels_under
from vernus.job.machine.measures import unmeasured_under
from vernus.job.machine.planned import all_planned_parts, bulk_of, planned_parts
from vernus.job.machine.rests import FAR_IDLE_MM, far_off
from vernus.job.machine.stroke import metal_of, metal_unknown, stroke_of
from vernus.job.plan.places import place_on_face
from vernus.job.plan.stop_rests import sizes_otherwise
from vernus.job.plan.travel_left import kept_with, lost_against, pillar_of, travel_left
from vernus.job.scope import axes_in_scope, gets_scale, has_feed, motion_name
from vernus.job.sums import SIDES, figure_name, sums_of

IDLE_MM = 0.5
"""Below this no measure is worth taking for the plan."""
_WHOLE_MM = 1000.0
"""What a yes that turns into a no counts for in the ranking."""


@dataclass(frozen=True)
class NextMeasure:
    """The measure to take next, None when none matters, and the influence of every one nobody took, largest first.

    ``size`` is what is to be measured of a scale or its bracket where that comes next, by name.
    """

    measure: Measure | None
    ranked: tuple[Influence, ...]
    words: Sentence
    size: str = ""


def unmeasured(job: Job) -> list[Measure]:
    """The measures that nobody took, in the order of the template."""
    return [m for m in job.all(Measure) if not m.value.text]


def next_measure(job: Job, cancelled: Callable[[], bool] = lambda: False) -> NextMeasure:
    """What to measure next; stops early, without an answer, when cancelled."""
    ranked: list[Influence] = []
    impossible = _impossible(job)
    if impossible is not None:
        return impossible
    here = plan_answers(job)
    for measure in unmeasured(job):
        if cancelled():
            return NextMeasure(None, (), Sentence(""))
        answers = partial(_with, job, measure)
        ranked.append(influence(measure.key, measure.value.mm, measure.likely_mm, here, answers))
    ranked.sort(key=lambda i: -i.most_mm)
    by_key = {m.key: m for m in job.all(Measure)}
    if not ranked:
        return _of_the_scales(job, here, (), cancelled)
    first = ranked[0]
    decides = "It decides"
    if first.most_mm < IDLE_MM:
        far = _far_off(job, cancelled)
        if cancelled():
            return NextMeasure(None, (), Sentence(""))
        if not far:
            return _of_the_scales(job, here, tuple(ranked), cancelled)
        ranked, first, decides = far, far[0], "Were it far off what is usual, it would decide"
    measure = by_key[first.key]
    what = "{of}" if first.of.startswith("whether") else "{most} of {of}"
    words = Sentence(
        f"Measure next: {{label}}. {{how}} {decides} {what}.",
        {"label": measure.label, "how": measure.how, "most": Mm(first.most_mm), "of": first.of},
    )
    return NextMeasure(measure, tuple(ranked), words)


def _far_off(job: Job, cancelled: Callable[[], bool]) -> list[Influence]:
    """The measures nobody took that would decide something were they far off what is usual, largest first.

    A gap at the end of a travel may be next to nothing: every one that nobody took is, while the others are tried.
    """
    gaps = [m for m in unmeasured(job) if m.pose]
    tight = job.supposing(*(m.model_copy(update={"value": LengthEntry(mm=0.0)}) for m in gaps))
    base, found = plan_answers(tight), []
    for measure in unmeasured(job):
        if cancelled():
            return []
        away = measure.value.mm if measure.pose else far_off(measure.value.mm)
        value = 0.0 if measure.pose else measure.value.mm
        found.append(influence(measure.key, value, away, base, partial(_with, tight, measure)))
    return sorted((i for i in found if i.most_mm >= FAR_IDLE_MM), key=lambda i: -i.most_mm)


def _of_the_scales(
    job: Job, here: Mapping[str, float], ranked: tuple[Influence, ...], cancelled: Callable[[], bool]
) -> NextMeasure:
    """What nobody measured of a scale or its reader's bracket that would decide something; else that nothing does."""
    for axis in job.axes():
        for (name, where, entities), than in sizes_otherwise(job, axis):
            if cancelled():
                return NextMeasure(None, (), Sentence(""))
            there = plan_answers(job.supposing(*entities))
            moved = {n: abs(there.get(n, 0.0) - here.get(n, 0.0)) for n in sorted({*here, *there})}
            of = max(moved, key=lambda n: moved[n], default="")
            if of and moved[of] >= FAR_IDLE_MM:
                return NextMeasure(None, ranked, _size_words(name, where, of, moved[of], than), name)
    if not unmeasured(job):
        return NextMeasure(None, (), conclusion("Every measure is taken. Go on to Travel."))
    words = conclusion("What is not measured yet no longer matters for this plan. Go on.")
    return NextMeasure(None, ranked, words)


def _size_words(name: str, where: str, of: str, mm: float, than: str) -> Sentence:
    """To measure a size of a scale or a bracket: where it is typed, and what it would decide."""
    what = "{of}" if of.startswith("whether") else "{mm} of {of}"
    words = "Measure next: {name}; " + where + f". A quarter {than} than is usual, it would decide " + what + "."
    return Sentence(words, {"name": name, "mm": Mm(mm), "of": of})


def _impossible(job: Job) -> NextMeasure | None:
    """A box that what was measured leaves no room: one of its sizes is only the template's, and can't be so."""
    taken_not = {m.label: m for m in unmeasured(job)}
    for box in boxes_of(job):
        try:
            solid(box)
        except BadInputError:
            asked = next((taken_not[n] for n in unmeasured_under(job, box) if n in taken_not), None)
            if asked is None:
                sums = sums_of(job.entities())
                names = [n for side in SIDES if (n := figure_name(box, side)) in sums]
                travels = travels_under(job, (key for n in names for key in rests_on(sums, n)))
                if travels:
                    ask = "Measure next: {label} (Machine, or Travel). "
                    ask += "By what was measured and what is usual the {box} has no room left."
                    said = Sentence(ask, {"label": travels[0], "box": box.name})
                    return NextMeasure(None, (), said, travels[0])
                continue
            values = {"label": asked.label, "how": asked.how, "box": box.name}
            why = "By what was measured and what is usual the {box} has no room left."
            words = Sentence("Measure next: {label}. {how} " + why, values)
            return NextMeasure(asked, (), words)
    return None


def _with(job: Job, measure: Measure, mm: float) -> Mapping[str, float]:
    """The plan's answers (mm) with one measure at another value."""
    changed = measure.model_copy(update={"value": LengthEntry(mm=mm)})
    return plan_answers(job.supposing(changed))


def plan_answers(job: Job) -> dict[str, float]:
    """What the plan comes to, by name (mm): stops, fit, and what each face still to be chosen from takes of travel."""
    found: dict[str, float] = {}
    if any(chosen_face(job, a) is not None or has_feed(a) for a in axes_in_scope(job)):
        found["whether what is planned can be where it is drawn"] = _WHOLE_MM if metal_unknown(job) else 0.0
        for axis in job.axes():
            found |= _stops(job, axis)
    for axis in axes_in_scope(job):
        if not gets_scale(axis):
            continue
        face = chosen_face(job, axis)
        if face is None:
            found |= _by_face(job, axis)
            continue
        place = place_on_face(job, axis)
        if place is not None:
            found[f"the place of the {axis.name} body on its face"] = place.start_mm
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
