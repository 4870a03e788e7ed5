"""What a check of the display is judged by: setting, budget lines, and what the display held when it was read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from vernus.core.budget import BudgetLine
from vernus.core.prove.calibrate.calibration import DEFAULT_ERROR_MM, MM_PER_INCH
from vernus.core.prove.calibrate.compensation import keyed_before
from vernus.core.prove.calibrate.profile import DisplayProfile
from vernus.core.prove.references import Reference, reference_lines
from vernus.job.document import Job
from vernus.job.entities import Axis, CalibrationRun, Compensation
from vernus.job.known.axis_figures import accuracy
from vernus.job.known.display import step
from vernus.job.known.lengths import family_of
from vernus.job.machine.travel import travel_result
from vernus.job.moments import instant
from vernus.job.prove.owned_references import core_profile, core_reference, profile_of, reference_of
from vernus.job.prove.temperature import warmth_lines, warmth_mm


@dataclass(frozen=True)
class CalibrationSetting:
    """What a run is judged by: travel, accuracy wanted, the reference, the display, and the checks put right."""

    travel_mm: float | None
    wanted_mm: float
    reference: Reference | None
    profile: DisplayProfile
    true: tuple[float, ...]
    shown: tuple[float, ...]
    thermal_mm: float | None
    step_mm: float


def setting_of(job: Job, run: CalibrationRun) -> CalibrationSetting:
    """What a run is judged by, its figures put right for diameter and temperature.

    The display's step is the one set now, where it is said; what the run was begun with otherwise.
    """
    axis = job.get(run.axis_id)
    travel = travel_result(job, axis).useful_mm if isinstance(axis, Axis) else None
    wanted = accuracy(axis).value if isinstance(axis, Axis) else DEFAULT_ERROR_MM
    entity, kit = profile_of(job), reference_of(job, run)
    profile = replace(core_profile(entity, run.shows or "radius"), per=run.per)
    half = 0.5 if kit is not None and kit.reference_kind == "dial" and kit.dial_shows == "diameter" else 1.0
    shown_half = 0.5 if profile.shows == "diameter" else 1.0
    true = tuple(c.true.mm * half for c in run.checks)
    reference = core_reference(kit)
    warm = [warmth_mm(run, reference, t) for t in true]
    shown = tuple(
        c.shown.mm * shown_half - _as_shown(w, c.shown.mm * shown_half, t)
        for c, w, t in zip(run.checks, warm, true, strict=True)
    )
    longest = max(range(len(true)), key=lambda n: abs(true[n]), default=None)
    thermal = None if longest is None else warm[longest]
    digit = step(job, axis) if isinstance(axis, Axis) else None
    last = run.step.mm if digit is None else digit.value.mm
    return CalibrationSetting(travel, wanted, reference, profile, true, shown, thermal, last)


def _as_shown(warmth_mm: float | None, shown_mm: float, true_mm: float) -> float:
    """What temperature made of a move (mm of true length) as the display showed it, whatever it is set to."""
    return 0.0 if not warmth_mm or not true_mm else warmth_mm * abs(shown_mm / true_mm)


def set_per_mm(run: CalibrationRun) -> float:
    """The counts per mm a run was read with."""
    return run.counts_set / (MM_PER_INCH if run.per == "in" else 1.0)


def moved_lines(run: CalibrationRun, setting: CalibrationSetting, length_mm: float) -> list[BudgetLine]:
    """The budget of a true move of ``length_mm``: the reference and the temperatures."""
    if setting.reference is None:
        own = "Name a reference of your kit, or use a better one."
        lines = [BudgetLine("the reference, as said", run.u_reference.mm, "normal", remedy=own)]
    else:
        lines = reference_lines(setting.reference, length_mm)
    return lines + warmth_lines(run, setting.reference, length_mm)


def suspect_ppm(job: Job, axis_id: str) -> dict[str, float]:
    """The plausibility limit of the axis's family, as a keyword for the core; empty where no family is chosen."""
    axis = job.get(axis_id)
    family = family_of(job, axis) if isinstance(axis, Axis) else None
    return {} if family is None else {"suspect_ppm": family.suspect_ppm}


def rounding_line(run: CalibrationRun, setting: CalibrationSetting) -> BudgetLine:
    """The budget line of reading the display twice."""
    least = max(1 / set_per_mm(run), setting.step_mm)
    return BudgetLine(
        "the display's rounding, twice",
        least / 2**0.5,
        remedy="Set a finer resolution, or move farther.",
        step=least,
    )


def scaled(lines: Sequence[BudgetLine], by: float) -> list[BudgetLine]:
    """Budget lines with their sensitivities multiplied."""
    return [replace(line, sensitivity=line.sensitivity * by) for line in lines]


def keyed_into(job: Job, run: CalibrationRun) -> list[Compensation]:
    """What had been keyed in when the run was begun, by earlier runs."""
    begun = instant(run.created) or "~"
    return [c for c in job.of_axis(Compensation, run.axis_id) if c.run_id != run.id and instant(c.created) <= begun]


def keyed_table(job: Job, run: CalibrationRun) -> Compensation | None:
    """The table the display held when the run was read."""
    keyed = keyed_into(job, run)
    return keyed[-1] if keyed and keyed[-1].method == "table" else None


def stations_before_table(
    job: Job, run: CalibrationRun, setting: CalibrationSetting
) -> tuple[list[float], list[float]]:
    """What the display would show without its table, and the true positions (mm)."""
    table = keyed_table(job, run)
    knots = [] if table is None else [(k.at_mm, k.correction_mm) for k in table.knots]
    return [keyed_before(s, knots) for s in setting.shown], list(setting.true)
