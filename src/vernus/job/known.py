"""Known: the one place that answers a figure of the job, and from where.

A figure is asked once. Whoever wants it asks here and gets it by one precedence: measured, delivered, typed, chosen,
template, default. Choosing something never overwrites what was typed or measured; what is typed again lands where the
figure is kept that decides (``store_of``), so that no two copies of it can drift apart. Lengths in mm.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Generic, Literal, TypeVar

from vernus.core.budget import standing_limit
from vernus.core.errors import BadInputError
from vernus.core.feed.bracket import LEAST_THICKNESS_MM, WEB_MM
from vernus.core.feed.speeds import feed_rate
from vernus.core.feed.trip import RunOn, estimated_run_on, worst_run_on
from vernus.core.finding import Finding
from vernus.core.machine.travel import Travel, measure_travel
from vernus.core.plan.scales import ScaleFamily
from vernus.core.prove.calibrate.calibration import DEFAULT_ERROR_MM, MM_PER_INCH
from vernus.core.prove.thermal import SUBSTANCES, Substance
from vernus.job.catalog.families import families_of, family_edit
from vernus.job.catalog.told import Told, told, told_figures
from vernus.job.document import Job
from vernus.job.entities import (
    Axis,
    AxisSetting,
    CableRun,
    CalibrationRun,
    Compensation,
    Delivery,
    Entity,
    Face,
    FamilyEdit,
    Machine,
    Measure,
    MountPart,
    PowerFeed,
    ReaderSetting,
    Rework,
    RunOnTest,
    ScalePlan,
    SolidBox,
    StackHeight,
    TravelSurvey,
    carried_by,
)
from vernus.job.fields import LengthEntry, complaints, mm_of
from vernus.job.moments import instant
from vernus.job.scope import has_feed, has_scale, in_scope
from vernus.job.sums import given_by

T = TypeVar("T")
Source = Literal["measured", "delivered", "typed", "chosen", "template", "default"]
SOURCE_WORDS: dict[Source, str] = {
    "measured": "measured", "delivered": "as delivered", "typed": "as typed", "chosen": "as chosen",
    "template": "nobody measured it", "default": "nobody said it",
}  # fmt: skip
HOLLOW = "○"
"""The mark of a figure nobody measured."""

TOLD_BY = (Machine, Axis, Measure, SolidBox, Face, TravelSurvey)
"""The kinds of entities that boxes and faces follow from."""

DEFAULT_COUNT_UM = 5.0
DEFAULT_MARGIN_MM = 10.0
_LONGER_MM = 0.5


@dataclass(frozen=True)
class Known(Generic[T]):
    """A figure, where it is from, and what it is called."""

    value: T
    source: Source
    name: str

    @property
    def sure(self) -> bool:
        """Whether somebody measured, typed or chose it; the others wear a hollow mark."""
        return self.source not in ("template", "default")


def plan_of(job: Job, axis: Axis) -> ScalePlan | None:
    """The scale plan of an axis; None for an axis without a scale."""
    plans = job.of_axis(ScalePlan, axis.id) if has_scale(axis) else []
    return plans[-1] if plans else None


def delivery_of(job: Job, axis: Axis) -> Delivery | None:
    """What arrived for an axis, or was found on it."""
    found = job.of_axis(Delivery, axis.id) if has_scale(axis) else []
    return found[-1] if found else None


def feed_of(job: Job, axis: Axis) -> PowerFeed | None:
    """The power feed of an axis, if one is in scope."""
    found = job.of_axis(PowerFeed, axis.id) if has_feed(axis) else []
    return found[-1] if found else None


def chosen_face(job: Job, axis: Axis) -> Face | None:
    """The face an axis's scale goes on, if one is chosen."""
    return job.derived(("chosen face", axis.id), lambda: _chosen_face(job, axis), (*TOLD_BY, ScalePlan))


def _chosen_face(job: Job, axis: Axis) -> Face | None:
    plan = plan_of(job, axis)
    found = job.get(plan.face_id) if plan is not None and plan.face_id else None
    return told(found, figures(job)) if isinstance(found, Face) else None


def figures(job: Job) -> Told:
    """Every figure of the machine that follows from measures, as they are now."""
    return job.derived("told", lambda: told_figures(job, _travel_mm(job)), TOLD_BY)


def figures_given(job: Job) -> dict[str, float]:
    """What the machine's figures are told from, by name (mm): measures, travels, and sides that follow from nothing."""
    return job.derived("given", lambda: given_by(job, _travel_mm(job)), TOLD_BY)


def _travel_mm(job: Job) -> Callable[[Axis], float | None]:
    def far(axis: Axis) -> float | None:
        known = travel(job, axis)
        return None if known is None else known.value

    return far


def family_of(job: Job, axis: Axis) -> ScaleFamily | None:
    """The scale's family with what is known better of it, lengths as delivered; None while none is chosen."""
    plan = plan_of(job, axis)
    family = _table_family(job, plan)
    if plan is None or family is None:
        return None
    came, measuring = delivery_of(job, axis), _measuring(job, axis, plan)
    if came is None:
        return family
    if came.reader is not None and came.reader.mm > 0:
        family = family.with_reader(came.reader.mm)
    if came.overall is not None and measuring is not None and came.overall.mm >= measuring.value:
        came_long = measuring.value if came.measuring is None else came.measuring.mm
        ends = (came.overall.mm - came_long) / 2 - (family.beyond_mm - family.end_piece_mm)
        family = replace(family, end_piece_mm=max(0.0, ends))
    if came.hole_from_end is not None and came.hole_from_end.mm >= 0:
        family = replace(family, holes_from_end_mm=came.hole_from_end.mm)
    return family


def _table_family(job: Job, plan: ScalePlan | None) -> ScaleFamily | None:
    """The family as planned, before anything arrived."""
    return next((f for f in families_of(job) if plan is not None and f.id == plan.family), None)


def planned_family(job: Job, axis: Axis) -> ScaleFamily | None:
    """The family as planned, before anything arrived."""
    return _table_family(job, plan_of(job, axis))


def _edit_of(job: Job, plan: ScalePlan | None) -> FamilyEdit | None:
    return next((e for e in job.all(FamilyEdit) if plan is not None and e.family == plan.family), None)


def surveys_of(job: Job, axis: Axis) -> list[tuple[str, Travel]]:
    """(tool, travel) of every survey that can be computed with, most certain first."""

    def make() -> list[tuple[str, Travel]]:
        known = [
            (s.tool, measure_travel([r.mm for r in s.readings], s.division.mm))
            for s in job.of_axis(TravelSurvey, axis.id)
            if s.readings and not complaints(s)
        ]
        return sorted(known, key=lambda k: k[1].u_mm)

    return job.derived(("surveys", axis.id), make)


def travel(job: Job, axis: Axis) -> Known[float] | None:
    """The travel from mark to mark."""
    found = surveys_of(job, axis)
    if found:
        return Known(found[0][1].travel_mm, "measured", "travel")
    if axis.usual is None or not axis.usual.mm > 0:
        return None
    return Known(axis.usual.mm, "typed" if axis.usual.text else "template", "travel")


def give_up(axis: Axis) -> tuple[float, float]:
    """What is given up with a stop at the low and the high end; a figure that can't be counts as none."""
    return _given(axis, "stop")


def unread(axis: Axis) -> tuple[float, float]:
    """What is not read at the low and the high end, though the axis is driven through it: the scale bears it."""
    return _given(axis, "driven")


def _given(axis: Axis, how: str) -> tuple[float, float]:
    if not in_scope(axis):  # nothing is given up of an axis that nothing is fitted to
        return 0.0, 0.0
    ends = ((axis.give_up_low, axis.give_up_low_how), (axis.give_up_high, axis.give_up_high_how))
    low, high = (max(0.0, mm_of(mm) or 0.0) if way == how else 0.0 for mm, way in ends)
    return low, high


def as_built(job: Job, axis: Axis) -> Known[float] | None:
    """The travel measured after fitting: a figure of its own, compared with what is kept."""
    said = _set_up(job, axis)
    if said is None or said.as_built is None:
        return None
    return Known(said.as_built.mm, "measured", "travel as built")


def _set_up(job: Job, axis: Axis) -> ReaderSetting | None:
    found = job.of_axis(ReaderSetting, axis.id)
    return found[-1] if found else None


def accuracy(axis: Axis) -> Known[float]:
    """The accuracy wanted over the travel."""
    said = axis.accuracy
    if said is not None and said.mm > 0:
        return Known(said.mm, "typed", "accuracy wanted")
    return Known(DEFAULT_ERROR_MM, "default", "accuracy wanted")


def _measuring(job: Job, axis: Axis, plan: ScalePlan) -> Known[float] | None:
    came = delivery_of(job, axis)
    if came is not None and came.measuring is not None and came.measuring.mm > 0 and not stock_to_cut(job, axis):
        return Known(came.measuring.mm, "delivered", "measuring length")
    if plan.measuring is None or not plan.measuring.mm > 0:
        return None
    return Known(plan.measuring.mm, "typed" if plan.measuring.text else "chosen", "measuring length")


_SIZE_SHARE = 0.03
"""How far a delivered length may be off the size it was sold as."""


def stock_to_cut(job: Job, axis: Axis) -> float | None:
    """The delivered length (mm) that is still to be cut to the plan's; None where nothing is to be cut.

    Longer than planned, of a family that can be cut, and planned to a length that isn't just a size it is sold in.
    """
    plan, came = plan_of(job, axis), delivery_of(job, axis)
    family = _table_family(job, plan)
    if plan is None or plan.measuring is None or came is None or came.measuring is None or family is None:
        return None
    planned, delivered = plan.measuring.mm, came.measuring.mm
    sold_so = any(abs(planned - size) < 1e-6 for size in family.sizes_mm)
    if not family.can_be_cut or not 0 < planned < delivered - _LONGER_MM:
        return None
    return None if sold_so and delivered <= planned * (1 + _SIZE_SHARE) else delivered


def measuring_length(job: Job, axis: Axis) -> Known[float] | None:
    """The scale's measuring length."""
    plan = plan_of(job, axis)
    return _measuring(job, axis, plan) if plan is not None else None


def body_length(job: Job, axis: Axis) -> Known[float] | None:
    """The body from end to end."""
    family, measuring, came = family_of(job, axis), measuring_length(job, axis), delivery_of(job, axis)
    if family is None or measuring is None:
        return None
    length = family.overall_mm(measuring.value)
    if came is not None and came.overall is not None and came.overall.mm >= measuring.value:
        return Known(length, "delivered", "body length")
    edit = _edit_of(job, plan_of(job, axis))
    typed = family.end_piece_mm == 0 or (edit is not None and edit.end_piece is not None)
    return Known(length, "typed" if typed else "template", "body length")


def reader_length(job: Job, axis: Axis) -> Known[float] | None:
    """The reader along the scale."""
    family, came = family_of(job, axis), delivery_of(job, axis)
    if family is None:
        return None
    if came is not None and came.reader is not None and came.reader.mm > 0:
        return Known(family.reader_mm, "delivered", "reader length")
    edit = _edit_of(job, plan_of(job, axis))
    typed = edit is not None and edit.reader is not None
    return Known(family.reader_mm, "typed" if typed else "template", "reader length")


def first_hole(job: Job, axis: Axis) -> Known[float] | None:
    """The body's first hole from its end."""
    family, came = family_of(job, axis), delivery_of(job, axis)
    if family is None:
        return None
    delivered = came is not None and came.hole_from_end is not None and came.hole_from_end.mm >= 0
    return Known(family.holes_from_end_mm, "delivered" if delivered else "template", "first hole")


def bracket_came(job: Job, axis: Axis) -> float | None:
    """How thick (mm) the reader's bracket is that came with the scale; None while nobody measured it."""
    came = delivery_of(job, axis)
    thick = None if came is None else mm_of(came.bracket)
    return thick if thick is not None and thick > 0 else None


def screws(job: Job, axis: Axis, target: str = "body") -> Known[tuple[float, float]] | None:
    """The end screws of the body, or of the reader, from its left end, left first."""
    hole = first_hole(job, axis)
    long = reader_length(job, axis) if target == "reader" else body_length(job, axis)
    if hole is None or long is None or not long.value > 2 * hole.value:
        return None
    source: Source = "delivered" if hole.source == long.source == "delivered" else "template"
    return Known((hole.value, long.value - hole.value), source, "end screws")


def face_length(job: Job, axis: Axis) -> Known[float] | None:
    """The face the body is screwed to."""
    plan, face = plan_of(job, axis), chosen_face(job, axis)
    if face is not None and face.length.text and face.length.mm > 0:
        return Known(face.length.mm, "typed", "face length")
    if plan is not None and plan.face is not None and plan.face.mm > 0:
        return Known(plan.face.mm, "typed" if plan.face.text else "template", "face length")
    return None if face is None or not face.length.mm > 0 else Known(face.length.mm, "template", "face length")


def length_of(job: Job, axis: Axis, face: Face) -> float:
    """The length of one candidate face (mm): of the chosen one as it is known."""
    mine = chosen_face(job, axis)
    known = face_length(job, axis) if mine is not None and mine.id == face.id else None
    return face.length.mm if known is None else known.value


def bearing_length(job: Job, axis: Axis) -> Known[float] | None:
    """What the body lies on from end to end: the face, or a made part that carries it and is longer than the face.

    A body with a block at each end is borne over the whole of its length.
    """
    face, body = face_length(job, axis), body_length(job, axis)
    made = [p for p in job.of_axis(MountPart, axis.id) if carried_by(p) == "body"] if has_scale(axis) else []
    blocks = [p for p in made if p.part_kind == "standoff" and _thick(job, p).text]
    if body is not None and len(blocks) > 1:
        return Known(max(body.value, 0.0 if face is None else face.value), "typed", "the blocks that carry it")
    plates = [p.length.mm for p in made if p.part_kind != "standoff" and p.length.text]
    if face is None or max(plates, default=0.0) <= face.value:
        return face
    return Known(max(plates), "typed", "the part that carries it")


def carrier(job: Job, axis: Axis) -> Known[Literal["moving", "still"]]:
    """Whether the body is on the moving or on the still member."""
    plan, face = plan_of(job, axis), chosen_face(job, axis)
    if plan is not None and plan.scale_on:
        return Known(plan.scale_on, "typed", "the scale's carrier")
    if face is not None and face.member in (axis.moving, axis.still):
        return Known("moving" if face.member == axis.moving else "still", "chosen", "the scale's carrier")
    return Known(axis.usual_on, "template", "the scale's carrier")


def reader_follows(job: Job, axis: Axis) -> bool:
    """Whether the reader goes to the right along the body, as one faces it, while the axis goes to its high end."""
    face = chosen_face(job, axis)
    if face is None or not axis.direction:
        return carrier(job, axis).value == "still"
    return (axis.direction == face.along) == (face.reader_member == axis.moving)


def margin(job: Job, axis: Axis) -> Known[float]:
    """The margin wanted at each end."""
    plan = plan_of(job, axis)
    if plan is None:
        return Known(DEFAULT_MARGIN_MM, "default", "margin")
    return Known(max(0.0, plan.margin.mm), "typed" if plan.margin.text else "chosen", "margin")


def spare_wanted(job: Job, axis: Axis) -> tuple[Literal["low", "high"], float] | None:
    """The end at which a spare was asked for, and how much; None where it is even."""
    plan = plan_of(job, axis)
    if plan is None or plan.spare_at == "even" or plan.spare is None or plan.spare.mm < 0:
        return None
    return plan.spare_at, plan.spare.mm


def spare(job: Job, axis: Axis) -> Known[tuple[float, float]] | None:
    """What the scale has beyond the useful travel at the low and the high end; negative where it is short.

    Measured once the reader is set; until then as asked for, and even otherwise, less what the body was moved.
    """
    planned = planned_spare(job, axis)
    said = _set_up(job, axis) if has_scale(axis) else None
    low, high = (mm_of(said.spare_low), mm_of(said.spare_high)) if said is not None else (None, None)
    if low is None and high is None:
        return planned
    total = None if planned is None else sum(planned.value)
    if total is None and (low is None or high is None):
        return None
    rest = total or 0.0
    both = (low if low is not None else rest - (high or 0.0), high if high is not None else rest - (low or 0.0))
    return Known(both, "measured", "spare")


def planned_spare(job: Job, axis: Axis) -> Known[tuple[float, float]] | None:
    """The spare at the low and the high end as planned."""
    family, measuring, far = family_of(job, axis), measuring_length(job, axis), travel(job, axis)
    plan = plan_of(job, axis)
    if plan is None or family is None or measuring is None or far is None:
        return None
    rest = measuring.value - family.head_mm - (far.value - sum(give_up(axis)))
    wanted = spare_wanted(job, axis)
    low = rest / 2 if wanted is None else wanted[1] if wanted[0] == "low" else rest - wanted[1]
    # The reader stays where its member holds it: a body moved to the right leaves it nearer its left end.
    off = moved_by(plan) if reader_follows(job, axis) else -moved_by(plan)
    return Known((low - off, rest - low + off), "chosen" if wanted is None else "typed", "spare")


def moved_by(plan: ScalePlan) -> float:
    """How far (mm) the body was moved to the right on its face, its reader staying; 0 where its place was measured."""
    return 0.0 if plan.starts is not None else plan.shift.mm


def stand_off(job: Job, axis: Axis) -> Known[float]:
    """How far the body is held off its face: by the parts whose thickness was typed, as typed, or by parts proposed."""
    parts, planned = holding_parts(job, axis), stand_off_wanted(job, axis)
    if not parts and planned is not None:
        return Known(planned, "typed", "stand-off")
    typed = any(_thick(job, p).text for p in parts)
    return Known(_held_off(job, parts), "measured" if typed else "default", "stand-off")


def stand_off_wanted(job: Job, axis: Axis) -> float | None:
    """The stand-off typed into the plan (mm), 0 for a body that is to lie right on its face."""
    plan = plan_of(job, axis)
    return plan.stand_off.mm if plan is not None and plan.stand_off is not None and plan.stand_off.mm >= 0 else None


def holding_parts(job: Job, axis: Axis) -> list[MountPart]:
    """The blocks and plates that hold the body off: those whose thickness was typed before those only begun.

    A part of which nothing was typed decides nothing against a stand-off that was.
    """
    parts = [p for p in job.of_axis(MountPart, axis.id) if carried_by(p) == "body"] if has_scale(axis) else []
    parts = [p for p in parts if p.part_kind in ("standoff", "plate") and _thick(job, p).mm > 0]
    typed = [p for p in parts if _thick(job, p).text]
    return typed or ([] if stand_off_wanted(job, axis) is not None else parts)


def _held_off(job: Job, parts: Sequence[MountPart]) -> float:
    """The blocks and plates on each other (mm), each with the foam tape it is stuck on with."""
    kinds = ("standoff", "plate")
    return sum(max((_thick(job, p).mm + _foam(p) for p in parts if p.part_kind == kind), default=0.0) for kind in kinds)


def _foam(part: MountPart) -> float:
    return part.tape_thick.mm if part.fixed == "foam" else 0.0


def _thick(job: Job, part: MountPart) -> LengthEntry:
    """A part's thickness: of the gap it fills, or its own."""
    gap = gap_left(job, part) if part.fills == "thickness" else None
    return LengthEntry(mm=gap, text=part.gap.text) if gap is not None and part.gap is not None else part.thickness


def gap_left(job: Job, part: MountPart) -> float | None:
    """What a gap measured leaves for the part that fills it, beside the pieces noted under Stack (mm); None: no gap."""
    if part.gap is None or not part.gap.mm > 0:
        return None
    return part.gap.mm - math.fsum(h.height.mm for h in job.all(StackHeight) if h.part_id == part.id)


def cable_length(job: Job, axis: Axis) -> Known[float] | None:
    """The cable supplied, plug to reader."""
    came = delivery_of(job, axis)
    if came is not None and came.cable is not None:
        return Known(came.cable.mm, "delivered", "cable length")
    run = next(iter(reversed(job.of_axis(CableRun, axis.id))), None)
    return None if run is None or run.supplied is None else Known(run.supplied.mm, "typed", "cable length")


def substance(job: Job, axis: Axis) -> Known[Substance]:
    """What the scale expands like: a tape and a magnetic body like what carries them, cast iron until said."""
    family = family_of(job, axis)
    if family is None:
        return Known("glass", "default", "what the scale expands like")
    like: Substance = next((s for s in SUBSTANCES if s == family.expands_like), "glass")
    return Known(like, "template", "what the scale expands like")


def setting_of(job: Job, axis: Axis) -> AxisSetting | None:
    """What was said to be set in the display for an axis."""
    found = job.of_axis(AxisSetting, axis.id)
    return found[-1] if found else None


def count(job: Job, axis: Axis) -> Known[float]:
    """One count of the axis (mm): as set in the display, by the family's table until then."""
    said = setting_of(job, axis)
    keyed = next(
        (c for c in reversed(job.of_axis(Compensation, axis.id)) if c.method == "counts" and c.value > 0), None
    )
    runs = [r for r in job.of_axis(CalibrationRun, axis.id) if r.checks and r.set_counts]
    if keyed is not None and (said is None or said.counts is None or instant(keyed.created) > instant(said.changed)):
        return Known(_per(keyed.per) / keyed.value, "measured", "count")
    if said is not None and said.counts is not None and said.counts > 0:
        return Known(_per(said.per) / said.counts, "typed", "count")
    if runs:
        return Known(_per(runs[-1].per) / (runs[-1].set_counts or 1.0), "typed", "count")
    family = family_of(job, axis)
    if family is None:
        return Known(family_count_mm(job, axis), "default", "count")
    edit = _edit_of(job, plan_of(job, axis))
    typed = edit is not None and edit.count_um is not None
    return Known(family_count_mm(job, axis), "typed" if typed else "template", "count")


def family_count_mm(job: Job, axis: Axis) -> float:
    """One count (mm) as the axis's scale family usually has it."""
    family = family_of(job, axis)
    return (DEFAULT_COUNT_UM if family is None else family.count_um) / 1000


def count_said(job: Job, axis: Axis, run: CalibrationRun) -> bool:
    """Whether somebody said what the display was set to for a check, or it is only what such scales usually have."""
    said = setting_of(job, axis)
    if said is not None and said.counts is not None:
        return True
    if any(c.method == "counts" for c in job.of_axis(Compensation, axis.id)):
        return True
    usual = _per(run.per) / family_count_mm(job, axis)
    return run.set_counts is not None and abs(run.set_counts - usual) > 1e-6 * usual


def _per(unit: str) -> float:
    return MM_PER_INCH if unit == "in" else 1.0


def step(job: Job, axis: Axis) -> Known[LengthEntry] | None:
    """The last digit of the display on an axis, as set now; None while nobody said."""
    said = setting_of(job, axis)
    if said is not None and said.resolution is not None and said.resolution.mm > 0:
        return Known(said.resolution, "typed", "the display's last digit")
    return None


def shown_step(job: Job, axis: Axis) -> float:
    """The step (mm) in which the figure of an axis can move: the larger of its last digit and one count."""
    last = step(job, axis)
    return max(count(job, axis).value, 0.0 if last is None else last.value.mm)


def still_limit(job: Job, axis: Axis) -> float:
    """How far (mm) a figure of the axis that should stand still may move."""
    return standing_limit(shown_step(job, axis), accuracy(axis).value)


def shows(job: Job, axis: Axis) -> Known[Literal["radius", "diameter"]]:
    """Whether the display shows the true move of an axis or twice it."""
    said = setting_of(job, axis)
    if said is None or not said.shows:
        return Known("radius", "default", "radius or diameter")
    return Known(said.shows, "typed", "radius or diameter")


def rapid_mm_per_min(job: Job, axis: Axis) -> float | None:
    """The fastest feed of an axis; None while a figure for it is missing."""
    feed = feed_of(job, axis)
    if feed is None:
        return None
    if feed.timed is not None and feed.timed_s and feed.timed.mm > 0:
        return 60 * feed.timed.mm / feed.timed_s
    if (
        axis.lead is None
        or not axis.lead.mm > 0
        or feed.unit_teeth is None
        or feed.gear_teeth is None
        or feed.rapid_rpm is None
    ):
        return None
    try:
        return feed_rate(feed.rapid_rpm, (round(feed.unit_teeth), round(feed.gear_teeth)), axis.lead.mm)
    except BadInputError:
        return None


@dataclass(frozen=True)
class RunOnKnown:
    """The run-on toward either end, None while nothing is known of it, and what there is to say of it."""

    run_on: Known[tuple[float, float]] | None
    findings: tuple[Finding, ...]


def ran_on_mm(test: RunOnTest) -> float:
    """How far a test ran on: by rule where it was measured so, else from where it tripped to where it stood."""
    if test.ran is not None:
        return test.ran.mm
    return (test.stood.mm - test.tripped.mm) * (1 if test.way == "up" else -1)


def run_on(job: Job, axis: Axis) -> RunOnKnown:
    """How far the axis runs on after a trip: measured at rapid in both directions, or estimated until then.

    Raises BadInputError for a test that can't be.
    """
    feed = feed_of(job, axis)
    tests = [
        RunOn(t.way == "up", t.speed, ran_on_mm(t))
        for t in (job.of_axis(RunOnTest, axis.id) if feed is not None else [])
    ]
    measured, findings = worst_run_on(tests)
    if measured is not None:
        return RunOnKnown(Known(measured, "measured", "run-on"), tuple(findings))
    rapid = rapid_mm_per_min(job, axis)
    if feed is None or rapid is None:
        return RunOnKnown(None, tuple(findings))
    guess = max(estimated_run_on(rapid, feed.switch_s, feed.brake_s), *(t.run_on_mm for t in tests), 0.0)
    return RunOnKnown(Known((guess, guess), "default", "run-on"), tuple(findings))


Stored = Literal["face", "measuring", "reader", "cable", "end_piece"]


def store_of(job: Job, axis: Axis, figure: Stored, new_id: str) -> tuple[Entity, str] | None:
    """The entity and field that hold the deciding copy of a figure; a fresh entity where none is there yet.

    What is typed after a delivery counts as measured, and so lands in the delivery.
    """
    plan, came, face = plan_of(job, axis), delivery_of(job, axis), chosen_face(job, axis)
    if figure == "face" and face is not None:
        return face, "length"
    if came is not None and figure in ("measuring", "reader", "cable") and getattr(came, figure) is not None:
        return came, figure
    if figure in ("reader", "end_piece"):
        return None if plan is None or not plan.family else (family_edit(job, plan.family, new_id), figure)
    if figure == "cable":
        runs = job.of_axis(CableRun, axis.id)
        return (runs[-1] if runs else CableRun(id=new_id, axis_id=axis.id)), "supplied"
    return (plan or ScalePlan(id=new_id, axis_id=axis.id)), figure


def unmeasured(job: Job, axis: Axis) -> list[Known[float]]:
    """The figures of an axis that its plan uses and nobody measured, typed or chose."""
    asked: list[Known[float] | None] = [travel(job, axis)]
    if plan_of(job, axis) is not None:
        asked += [face_length(job, axis), body_length(job, axis), reader_length(job, axis)]
        family = family_of(job, axis)
        if family is None or family.held != "adhesive":  # what is stuck on has no end holes
            asked.append(first_hole(job, axis))
        off = stand_off(job, axis)
        asked.append(off if off.value > 0 else None)
    if has_scale(axis):
        asked.append(accuracy(axis))
    return [k for k in asked if k is not None and not k.sure]


def new_bracket_mm(feed: PowerFeed) -> float | None:
    """How thick the bracket in place of the bearing's is: as measured, or as its bearing wants; None of neither."""
    if feed.kit_bracket is not None:
        return feed.kit_bracket.mm
    return None if feed.bearing_width is None else max(LEAST_THICKNESS_MM, feed.bearing_width.mm + WEB_MM)


def reworks(job: Job, axis: Axis) -> list[Rework]:
    """What was worked over on the kit or the machine, in the order it was noted."""
    return job.of_axis(Rework, axis.id)


def worked_over(job: Job, axis: Axis, feed: PowerFeed) -> PowerFeed:
    """The feed with what was broached, filed or bored as it measures after; its own figures stay what they were."""
    worked = [r for r in reworks(job, axis) if r.figure in PowerFeed.model_fields]
    after = {r.figure: r.after for r in worked if r.after is not None and r.after.mm > 0}
    return feed.with_(**after) if after else feed
