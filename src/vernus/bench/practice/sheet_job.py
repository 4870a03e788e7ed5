"""The job in whose real sheets a lesson is worked: what anybody knows of the machine is typed in, nothing else."""

from __future__ import annotations

from vernus.bench.practice.attempt import Attempt
from vernus.core.align.sweep import propose_stations
from vernus.core.units import UnitSystem, to_unit
from vernus.job.catalog.new_job import Scope, new_job_entities
from vernus.job.document import new_id
from vernus.job.entities import Axis, Entity, ScalePlan, Sweep, TravelSurvey
from vernus.job.fields import LengthEntry

_SCOPE: Scope = {"X": ("new", "new"), "Y": ("none", "none"), "Z": ("none", "none")}
_END_MM = 8.0


def practice_title(attempt: Attempt) -> str:
    """The title of the job of a try; the same for the same lesson on the same machine."""
    return f"Practice: {attempt.lesson.title}, machine {attempt.seed}"


def practice_entities(attempt: Attempt, units: UnitSystem) -> list[Entity]:
    """A fresh job for a try: travel, screws, stations and the indicator as they can be seen."""
    made = new_job_entities(practice_title(attempt), "bench-mill", units, "a machine that can't be hurt", _SCOPE)
    axis = next(e for e in made if isinstance(e, Axis) and e.name == "X")
    h = attempt.world.hidden
    if attempt.lesson.id != "travel":
        reading = _typed(h.travel, units)
        division = _typed(h.rule_division, units)
        survey = TravelSurvey(id=new_id(), axis_id=axis.id, tool="rule", division=division, readings=(reading, reading))
        made.append(survey)
    if attempt.lesson.scene == "gap":
        made.append(
            ScalePlan(id=new_id(), axis_id=axis.id, family="thin-housing", measuring=_typed(h.travel + 20, units))
        )
    if "read" in attempt.lesson.grips:
        low, high = h.screws[0] + _END_MM, h.screws[1] - _END_MM
        stations = tuple(_typed(s, units) for s in propose_stations(low, high, 7, 2.54 if units == "in" else 1.0))
        left, right = (_typed(s, units) for s in h.screws)
        inch = units == "in"
        made.append(
            Sweep(
                id=new_id(), axis_id=axis.id, plane="face", target="body", stations=stations, screw_left=left,
                screw_right=right, lever_deg=h.lever_deg,
                division=_fine(h.division, inch=inch), tolerance=_fine(0.05, inch=inch),
            )
        )  # fmt: skip
    return made


def _typed(mm: float, units: UnitSystem) -> LengthEntry:
    text = f"{to_unit(mm, units):.{2 if units == 'mm' else 4}f}"
    return LengthEntry.read(text, units)


def _fine(mm: float, *, inch: bool) -> LengthEntry:
    return LengthEntry.read(f"{mm / 0.0254:.1f}", "thou") if inch else LengthEntry.read(f"{mm:.3f}")
