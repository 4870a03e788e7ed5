"""Doubts: what each figure of the job is compared with before it is taken, and what of the stored ones is doubtful.

A field declares what it is compared with (``Quantity.judged``); the yardstick itself comes from what the job knows:
the travel, the dial, the machine. Spans that don't follow from the job are common practice, no source: wide enough
that nobody with a usual machine is asked, narrow enough that another unit falls out of them.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace
from functools import cache, lru_cache
from statistics import median

from vernus.core.doubt import Doubt, Yardstick, doubt_value
from vernus.core.finding import Finding, Fine, Least, Mm, Sentence, finding, plain
from vernus.job.document import Job
from vernus.job.entities import (
    Axis,
    CalibrationRun,
    Delivery,
    Entity,
    Measure,
    PowerFeed,
    ReaderSetting,
    SolidBox,
    Sweep,
    TravelSurvey,
)
from vernus.job.fields import LengthEntry, Quantity, mm_of, quantities
from vernus.job.known.axis_figures import travel
from vernus.job.known.lengths import family_of

_SHOP_C = (5.0, 40.0)
_FLIP = 3e-4
"""A ratio of shown to true nearer to 1 than this (in its logarithm) can't tell which way round it stands."""
_PAIRS: dict[type[Entity], dict[str, str]] = {
    SolidBox: {"left": "right", "front": "back", "bottom": "top"},
    Sweep: {"screw_left": "screw_right", "blocked_from": "blocked_to"},
    PowerFeed: {"set_low": "set_high", "unit_near": "unit_far", "drive_near": "drive_far"},
    ReaderSetting: {"gap_least": "gap_most"},
}
"""Places of an entity, each with the one that lies beyond it."""
_SEQUENCE = 3
"""Readings there must be before the next one is compared with them."""


def _fixed(low: float, high: float, words: str, *, zero: bool = True, signed: bool = False) -> Yardstick:
    said = Sentence(words, {"low": Mm(low), "high": Mm(high), "fine_low": Least(low), "fine_high": Fine(high)})
    return Yardstick(low, high, said, zero, signed)


_SPANS: dict[str, Yardstick] = {
    "part": _fixed(0.05, 1500, "parts of such a job measure up to {high}", signed=True),
    "thick": _fixed(0.1, 70, "what is so thick is at most {high} in such a job", signed=True),
    "off": _fixed(0.0, 110, "a body stands at most {high} off"),
    "section": _fixed(0.5, 160, "sections of scales and readers measure up to {high}"),
    "slack": _fixed(0.0, 60, "it is at most {high} in such a job", signed=True),
    "run on": _fixed(0.0, 110, "a feed runs on by at most {high}"),
    "deep": _fixed(0.3, 160, "such a hole is at most {high} deep"),
    "slot": _fixed(2, 80, "T-slots measure {low} to {high}", zero=False),
    "shaft": _fixed(3, 80, "shafts and screws of such machines measure {low} to {high}", zero=False),
    "key": _fixed(1, 16, "keys of such machines are {low} to {high} wide", zero=False),
    "thread": _fixed(3, 80, "shafts and screws of such machines measure {low} to {high}, or have none (0)"),
    "keyway": _fixed(1, 16, "keys of such machines are {low} to {high} wide, or there is none (0)"),
    "hole": _fixed(1, 60, "holes of such a job measure {low} to {high}", zero=False),
    "pitch": replace(_fixed(0.2, 13, "a pitch is {low} to {high}", zero=False), pitch=True),
    "cable": _fixed(100, 20_000, "cables are {low} to {high} long", zero=False),
    "backlash": _fixed(0.001, 3, "backlash is at most {high}"),
    "accuracy": _fixed(0.0005, 0.6, "it is usually {fine_low} to {fine_high}", zero=False),
    "division": _fixed(0.0002, 0.11, "a dial's division is {fine_low} to {fine_high}", zero=False),
    "rule": _fixed(0.005, 7, "divisions of rules and tapes are {low} to {high}", zero=False),
    "range": _fixed(0.05, 120, "an indicator's range is {low} to {high}", zero=False),
    "count": _fixed(0.00005, 0.11, "a display's step is {fine_low} to {fine_high}", zero=False),
    "gap": _fixed(0.005, 6, "feelers and shims are {fine_low} to {fine_high}"),
    "feel": _fixed(0.0002, 3, "such a figure is at most {fine_high}", signed=True),
    "counts": Yardstick(10, 1e7, plain("counts are usually more than 10"), zero=False),
    "temperature": Yardstick(*_SHOP_C, plain("a shop is between 5 and 40 °C, 41 and 104 °F")),
}


def yardstick(job: Job, entity: Entity | None, quantity: Quantity) -> Yardstick | None:
    """What a figure typed into a field of ``entity`` is compared with; None where nothing is declared."""
    fixed = _fixed_span(quantity)
    return fixed if fixed is not None else _within_limits(_by_job(job, entity, quantity.judged), quantity)


@lru_cache(maxsize=1024)
def _fixed_span(quantity: Quantity) -> Yardstick | None:
    """The span of a quantity that is compared with the same whatever the job, None for the others."""
    return _within_limits(_SPANS.get(quantity.judged), quantity)


def _within_limits(found: Yardstick | None, quantity: Quantity) -> Yardstick | None:
    """A span that takes the declared limits in: no sign where none is possible, no zero where it is excluded."""
    if found is None or quantity.low is None or quantity.low < 0:
        return found
    return replace(
        found, signed=False, zero=found.zero and not quantity.low_open, floor=quantity.low, floor_open=quantity.low_open
    )


def _by_job(job: Job, entity: Entity | None, judged: str) -> Yardstick | None:
    """What follows from the job: its travel, its machine, the template's measure."""
    if isinstance(entity, Measure):
        said = Sentence("it was taken to be {usual}", {"usual": Mm(entity.value.mm)})
        usual = max(entity.value.mm, entity.likely_mm)
        return Yardstick(usual / 8 if entity.value.mm > entity.likely_mm else 0.0, 6 * usual, said)
    axis = _axis_of(job, entity)
    if judged in ("travel", "scale", "scale_part", "along", "given_up"):
        return _by_travel(job, axis, judged, entity)
    if judged in _HOLES:
        return _of_holes(entity, judged)
    if isinstance(entity, Delivery):
        return _of_delivery(job, axis, entity, judged)
    if judged == "machine":
        size = _machine_size(job, "" if entity is None else entity.id)
        return Yardstick(
            0.1, size, Sentence("the rest of the machine lies within {size}", {"size": Mm(size)}), signed=True
        )
    return None


def _axis_of(job: Job, entity: Entity | None) -> Axis | None:
    if isinstance(entity, Axis):
        return entity
    found = job.get(getattr(entity, "axis_id", "") or "")
    return found if isinstance(found, Axis) else None


def _of_delivery(job: Job, axis: Axis | None, arrived: Delivery, judged: str) -> Yardstick | None:
    """What arrived is compared with itself: a body is longer than it measures, its holes and reader lie on it."""
    long = arrived.measuring or arrived.overall
    far = None if axis is None else travel(job, axis)
    usual = long.mm if long is not None else far.value if far is not None else 0.0
    if judged == "body":
        least = 0.999 * usual if arrived.measuring is not None else usual / 4
        said = Sentence("it measures {usual}" if arrived.measuring else "the travel is {usual}", {"usual": Mm(usual)})
        return Yardstick(least, usual + 500, said, zero=False) if usual > 0 else _SPANS["part"]
    body = arrived.overall.mm if arrived.overall is not None else usual
    said = Sentence("the body is {body} long", {"body": Mm(body)})
    if judged == "end_hole":
        return Yardstick(1.0, min(120.0, body / 4) if body > 0 else 120.0, said if body > 0 else plain("hole to end"))
    if judged == "reader":
        most = min(400.0, body) if body > 0 else 400.0
        readers = Sentence("readers are {low} to {high} long", {"low": Mm(10.0), "high": Mm(400.0)})
        return Yardstick(10.0, most, said if body > 0 else readers, zero=False)
    return None


def _by_travel(job: Job, axis: Axis | None, judged: str, entity: Entity | None) -> Yardstick:
    """Of the travel: about as long (travel, scale), a part of it (scale_part), or a place along it."""
    known = travel(job, axis) if axis is not None else None
    far = 0.0 if known is None else known.value
    said = Sentence("the travel is {travel}", {"travel": Mm(far)})
    if isinstance(entity, TravelSurvey) and entity.readings:
        far = median(r.mm for r in entity.readings)
        said = Sentence("the other readings are near {travel}", {"travel": Mm(far)})
        return Yardstick(far / 1.5, far * 1.5, said, zero=False)
    if known is None:
        said = plain("travels of such machines are some hundreds of mm, some tens of inches")
        along = judged == "along"
        return Yardstick(0 if along else 15, 6000, said, zero=along, signed=along)
    if judged == "given_up":
        return Yardstick(0, 0.9 * far, said)
    if judged == "travel":
        return Yardstick(far / 4, far * 4, said, zero=False)
    if judged == "scale":
        return Yardstick(far / 4, far * 4 + 400, said, zero=False)
    return Yardstick(0 if judged == "along" else 0.05, far * 2 + 400, said, signed=True)


_HOLES = {
    "holes_across": ("hole_across", "kit_across"),
    "holes_up": ("hole_up", "kit_up"),
    "holes_switch": ("switch_across", "switch_kit"),
}
"""Distances of holes there are in the machine, each with that of the kit's holes that go over them."""


def _of_holes(entity: Entity | None, judged: str) -> Yardstick:
    """Distances of holes that go over one another are alike; by themselves they are those of a bracket."""
    both = [getattr(entity, name, None) for name in _HOLES[judged]]
    known = sorted(e.mm for e in both if isinstance(e, LengthEntry) and e.mm > 0 and e.text)
    if not known:
        return _fixed(4, 600, "holes of such brackets are {low} to {high} apart")
    said = Sentence("those that go over them are {near} apart", {"near": Mm(known[0])})
    return Yardstick(known[0] / 2, known[-1] * 2, said)


def _machine_size(job: Job, without: str) -> float:
    """Twice as far as the machine's own boxes reach from the origin (mm), one of them left away."""
    boxes = [b for b in job.all(SolidBox) if b.id != without]
    sides = [abs(s.mm) for b in boxes for s in (b.left, b.right, b.front, b.back, b.bottom, b.top)]
    if not sides:
        return 4000.0
    usual = sorted(sides)[int(0.9 * (len(sides) - 1))]
    return 2 * usual + 400


def dial_yardstick(sweep: Sweep) -> Yardstick:
    """What a reading of a sweep is compared with: a fifth of the dial's division at least, its range at most."""
    division = sweep.division.mm if sweep.division.mm > 0 else 0.001
    known = sweep.range is not None and sweep.range.mm > 0
    most = sweep.range.mm if known and sweep.range is not None else max(3.0, 300 * division)
    words = "the dial's division is {division}" + (", its range {most}" if known else "")
    said = Sentence(words, {"division": Fine(division), "most": Fine(most)})
    return Yardstick(division / 5, most, said, signed=True)


def reading_yardstick(sweep: Sweep) -> Yardstick:
    """What the next reading of a pass is compared with: from the third one on, with those before it as well.

    A reading goes on as the others do, or turns back: it lies no farther from them than twice their spread, or ten
    divisions (common practice, no source: a point that slipped falls out of that, a bow or a step does not).
    """
    dial = dial_yardstick(sweep)
    here = [r.reading.mm for r in sweep.readings if sweep.plane != "roll"]
    if len(here) < _SEQUENCE:
        return dial
    room = max(2 * (max(here) - min(here)), 10 * sweep.division.mm)
    low, high = min(here) - room, max(here) + room
    said = Sentence("the others are {low} to {high}", {"low": Fine(min(here)), "high": Fine(max(here))})
    return Yardstick(low, high, said, sequence=True)


def gap_yardstick(job: Job, axis: Axis) -> Yardstick:
    """What a feeler is compared with: the gap that is wanted there, or what feelers there are."""
    setting = next(iter(job.of_axis(ReaderSetting, axis.id)[-1:]), None)
    family = family_of(job, axis)
    own = (None, None) if setting is None else (mm_of(setting.gap_least), mm_of(setting.gap_most))
    usual = (0.0, 0.0) if family is None else family.gap_mm
    least, most = (mine if mine is not None else theirs for mine, theirs in zip(own, usual, strict=True))
    if not most > 0:
        return _SPANS["gap"]
    least = least if least > 0 else most / 2
    said = Sentence("the gap wanted is {least} to {most}", {"least": Fine(least), "most": Fine(most)})
    return Yardstick(least / 10, most * 6, said, zero=False, floor=0.0, floor_open=True)


def target_yardstick(target_mm: float) -> Yardstick:
    """What a display shows at a target it was driven to: about that."""
    near = max(2.0, 0.03 * abs(target_mm))
    said = Sentence("it was driven to {target}", {"target": Mm(target_mm)})
    return Yardstick(target_mm - near, target_mm + near, said, sequence=True)


def along_yardstick(job: Job, axis: Axis) -> Yardstick:
    """What a place along an axis is compared with."""
    return _by_travel(job, axis, "along", None)


def shown_yardstick(run: CalibrationRun, true_mm: float) -> Yardstick | None:
    """What a display shows for a true move, by the other checks of the run; None while there are none."""
    ratio = _ratio(run)
    if ratio is None or true_mm == 0:
        return None
    near = ratio * true_mm
    said = Sentence("by the other checks it shows about {near}", {"near": Mm(near)})
    return Yardstick(abs(near) / 1.5, abs(near) * 1.5, said, zero=False, signed=True)


def looks_swapped(run: CalibrationRun, true_mm: float, shown_mm: float) -> bool:
    """Whether a check stands upside down against the others: it shows as much too little as they show too much."""
    ratio = _ratio(run)
    if ratio is None or min(ratio, true_mm, shown_mm) <= 0 or abs(math.log(ratio)) < _FLIP:
        return False
    return abs(math.log(shown_mm / true_mm) + math.log(ratio)) < 0.2 * abs(math.log(ratio))


def _ratio(run: CalibrationRun) -> float | None:
    """Shown over true in the checks of a run, their median."""
    found = [c.shown.mm / c.true.mm for c in run.checks if c.true.mm]
    return median(found) if found else None


def doubt_swapped(entity: Entity, field: str, entry: LengthEntry) -> tuple[Doubt, dict[str, LengthEntry]] | None:
    """Whether a place of an entity would lie beyond the one it lies before, and both the other way round."""
    for low, high in _PAIRS.get(type(entity), {}).items():
        if field not in (low, high):
            continue
        other = getattr(entity, high if field == low else low)
        if not isinstance(other, LengthEntry) or not other.text:  # while a box is being moved, only one of them is new
            return None
        sides = {low: entry, high: other} if field == low else {low: other, high: entry}
        if sides[low].mm <= sides[high].mm:
            return None
        names = {n: quantities(type(entity))[n].label.lstrip("… ").lower() for n in (low, high)}
        what = Sentence("“{low}” lies beyond “{high}”: are the two swapped?", {"low": names[low], "high": names[high]})
        return Doubt(what, "swap", "swap them"), {low: sides[high], high: sides[low]}
    return None


def doubtful(job: Job, entity: Entity) -> Iterator[tuple[Quantity, Doubt]]:
    """Every stored length of an entity that would be asked about today and wasn't kept, with the doubt."""
    for name, quantity in _compared(type(entity)):
        values = getattr(entity, name)
        for entry in values if isinstance(values, tuple) else (values,):
            if not isinstance(entry, LengthEntry) or entry.kept or not entry.text:
                continue
            measure = yardstick(job, _without(entity, entry), quantity)
            found = None if measure is None else _doubt(entry, measure)
            if found is not None:
                yield quantity, found


@cache
def _compared(model: type[Entity]) -> tuple[tuple[str, Quantity], ...]:
    """The fields of a kind of entity whose lengths are compared with something."""
    fields = quantities(model).items()
    return tuple((name, q) for name, q in fields if q.judged and q.kind in ("length", "fine"))


def _without(entity: Entity, entry: LengthEntry) -> Entity:
    """A survey without the reading that is looked at, which is compared with the others."""
    if not isinstance(entity, TravelSurvey):
        return entity
    others = tuple(r for r in entity.readings if r is not entry)
    return entity.model_copy(update={"readings": others})


def _doubt(entry: LengthEntry, measure: Yardstick) -> Doubt | None:
    """What would be asked about a stored entry: by its value, whatever its text is."""
    return None if measure.fits(entry.mm) else doubt_value(entry.mm, entry.unit, measure)


def doubtful_reading(sweep: Sweep) -> Doubt | None:
    """What would be asked about the first doubtful reading of a pass that nobody kept on purpose."""
    measure = dial_yardstick(sweep)
    low, high = measure.low, measure.high
    for reading in sweep.readings:
        entry = reading.reading
        mm = abs(entry.mm)
        if mm and not low <= mm <= high and entry.text and not entry.kept:
            return _doubt(entry, measure)
    return None


def doubt_finding(doubt: Doubt, label: str = "Reading") -> Finding:
    """A doubt about a stored figure, as a finding."""
    return finding(
        "doubtful",
        "caution",
        "{label}: {asked}",
        "Type it again on its sheet, "
        + (f"{doubt.meant} if that was meant, " if doubt.meant else "")
        + "or as it is and keep it; until then nothing rests on it.",
        label=label,
        asked=doubt.what,
    )
