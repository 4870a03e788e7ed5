"""Line or table: every way to correct a run compared by leaving stations out, and what follows from it."""

from __future__ import annotations

from collections.abc import Sequence

from vernus.core.finding import Sentence, Tiny, conclusion
from vernus.core.prove.calibrate.table_choice import Trial
from vernus.core.prove.calibrate.table_search import Spacing
from vernus.job.document import Job
from vernus.job.entities import CalibrationRun
from vernus.job.prove.calibrate.setting import setting_of, stations_before_table

LEAST_TABLE_POINTS = 3
_WAYS = {0: "no correction", 1: "linear factor"}


def ways_to_compare(job: Job, run: CalibrationRun) -> tuple[list[float], list[float], int, Spacing, float]:
    """What ``compare_tables`` needs for a run: shown, true, most points, spacing and step (mm)."""
    setting = setting_of(job, run)
    raw, true = stations_before_table(job, run, setting)
    profile = setting.profile
    points = max(LEAST_TABLE_POINTS, profile.table_points)
    return raw, true, points, profile.spacing, profile.table_step_mm


def name_way(trial: Trial) -> str:
    """A way to correct in words."""
    return _WAYS.get(trial.points, f"table of {trial.points}")


def ways_in_words(trials: Sequence[Trial], chosen: Trial, settled: bool) -> Sentence:
    """What to key in after the comparison; ``settled`` when what is set now can stay."""
    if chosen.points == 0:
        return conclusion("No way does better than none: what the stations show is noise. Leave it, and read more.")
    values = {
        "way": f"{'the' if chosen.points == 1 else 'a'} {name_way(chosen)}",
        "unseen": Tiny(chosen.unseen_rms_mm),
        "line": Tiny(trials[1].unseen_rms_mm),
    }
    if settled:
        return conclusion(
            "What is set now is good enough: leave it. Were it to be corrected, {way} would do best at stations it "
            "has not seen: {unseen}, typically.",
            values,
        )
    words = "Key in {way}: {unseen}, typically, at stations it has not seen"
    words += ". A table would key in noise." if chosen.points == 1 else ", where the linear factor leaves {line}."
    return conclusion(words, values)
