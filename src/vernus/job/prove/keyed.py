"""What was keyed into a display, in the way it takes it."""

from __future__ import annotations

from vernus.core.finding import Sentence
from vernus.core.prove.calibrate.profile import PAIR_MM, key_factor
from vernus.job.document import Job
from vernus.job.entities import CalibrationRun, Compensation
from vernus.job.prove.owned_references import core_profile, profile_of


def keyed_words(job: Job, entry: Compensation) -> Sentence:
    """What was keyed in, as a phrase."""
    if entry.method == "counts":
        return Sentence("{v:.7g} counts per {per}", {"v": entry.value, "per": entry.per})
    if entry.method == "table":
        return Sentence("table of {n} points", {"n": len(entry.knots)})
    run, profile = job.get(entry.run_id), core_profile(profile_of(job))
    longest = max((abs(c.true.mm) for c in run.checks), default=0.0) if isinstance(run, CalibrationRun) else 0.0
    keyed = key_factor(profile, entry.value, longest or PAIR_MM)
    return Sentence(("" if profile.factor == "pair" else "linear factor ") + "{keyed}", {"keyed": keyed.words})
