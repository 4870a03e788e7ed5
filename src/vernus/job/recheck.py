"""Over time: every calibration of an axis as one history, and when the next check falls due."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from vernus.core.calibration import MM_PER_INCH
from vernus.core.finding import Finding, Sentence
from vernus.core.recheck import Change, Due, Event, Proof, change_between, next_check, review_change
from vernus.job.calibrate import calibration_result
from vernus.job.document import Job
from vernus.job.entities import Axis, CalibrationRun, LogEntry
from vernus.job.powerup import count_mm

_DAY = 86400.0


@dataclass(frozen=True)
class Kept:
    """One calibration of the history: its run, the proof, and the change since the one before."""

    run: CalibrationRun
    proof: Proof
    change: Change | None


def day_of(moment: str) -> float:
    """An ISO 8601 time as days since 1970."""
    return datetime.fromisoformat(moment).astimezone(UTC).timestamp() / _DAY


def date_of(day: float) -> str:
    """The date (ISO 8601) of a day since 1970."""
    return datetime.fromtimestamp(day * _DAY, UTC).date().isoformat()


def history_of(job: Job, axis: Axis) -> list[Kept]:
    """Every calibration of an axis, oldest first.

    What is compared is the scale's own counts per true mm, against the nominal one: it does not depend on what was
    keyed into the display meanwhile.
    """
    kept: list[Kept] = []
    nominal = 1 / count_mm(job, axis)
    for run in job.of_axis(CalibrationRun, axis.id):
        proof = _proof(job, run, nominal)
        if proof is not None:
            kept.append(Kept(run, proof, change_between(kept[-1].proof, proof) if kept else None))
    return kept


def _proof(job: Job, run: CalibrationRun, nominal: float) -> Proof | None:
    if not run.checks or not run.created:
        return None
    result = calibration_result(job, run)
    set_per_mm = run.set_counts / (MM_PER_INCH if run.per == "in" else 1.0) / run.set_factor
    if result.counts is not None:
        own = result.counts.counts_per_mm / run.set_factor
    elif result.factor is not None:
        own = set_per_mm * result.factor.slope
    else:
        return None
    sure = result.budget is not None and result.over_mm
    known = result.counts is not None or (result.factor is not None and result.factor.u_slope is not None)
    u = result.budget.u / result.over_mm * 1e6 if sure and known and result.budget and result.over_mm else None
    return Proof(day_of(run.created), (own / nominal - 1) * 1e6, u, run.scale_c)


def events_of(job: Job, axis: Axis) -> list[tuple[float, Event]]:
    """What happened to an axis or the whole machine that calls for a new check, oldest first."""
    entries = [e for e in job.all(LogEntry) if e.event and e.axis_id in ("", axis.id)]
    return [(day_of(e.created), e.event) for e in entries]


def due_of(job: Job, axis: Axis, now: datetime) -> Due | None:
    """When the axis should be checked again; None while it never was."""
    proofs = [k.proof for k in history_of(job, axis)]
    return next_check(proofs, events_of(job, axis), now.astimezone(UTC).timestamp() / _DAY, job.info.room_c)


def change_findings(job: Job, axis: Axis) -> list[Finding]:
    """Whether the last two calibrations differ for certain."""
    kept = history_of(job, axis)
    return review_change(kept[-2].proof, kept[-1].proof) if len(kept) > 1 else []


def due_words(due: Due | None) -> Sentence:
    """When the next check falls due, as a sentence."""
    if due is None:
        return Sentence("Not checked yet.")
    if due.overdue:
        return Sentence("A check is due since {date}: {why}", {"date": date_of(due.day), "why": due.why})
    return Sentence("Next check on {date}, {why}.", {"date": date_of(due.day), "why": due.why})
