"""Over time: every calibration of an axis as one history, and when the next check falls due."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime

from vernus.core.finding import DegreesApart, Finding, Fine, Mm, Sentence, Temperature, Tiny, directed
from vernus.core.prove.calibrate.calibration import MM_PER_INCH
from vernus.core.prove.recheck import Change, Due, Event, Proof, change_between, next_check, review_change
from vernus.core.prove.thermal import REFERENCE_C, Substance, Temperatures, check_drift
from vernus.job.document import Job
from vernus.job.entities import Axis, CalibrationRun, LogEntry
from vernus.job.known.display import count
from vernus.job.machine.directions import directions_of, finding_directed
from vernus.job.moments import day_words, own_time
from vernus.job.prove.as_read import check_as_read
from vernus.job.prove.calibrate.result import calibration_result, latest_run
from vernus.job.prove.owned_references import core_reference, reference_of
from vernus.job.prove.temperature import alphas_of, five_degrees_mm, substance_of, warmth_mm

_DAY = 86400.0


@dataclass(frozen=True)
class KeptCheck:
    """One calibration of the history: its run, the proof, and the change since the one before."""

    run: CalibrationRun
    proof: Proof
    change: Change | None


def day_of(moment: str) -> float:
    """A stored moment as days since 1970, by the clock where it was written."""
    return own_time(moment).replace(tzinfo=UTC).timestamp() / _DAY


def date_of(day: float) -> str:
    """The date (ISO 8601) of a day since 1970."""
    return datetime.fromtimestamp(day * _DAY, UTC).date().isoformat()


def history_of(job: Job, axis: Axis) -> list[KeptCheck]:
    """Every calibration of an axis, oldest first.

    What is compared is the scale's own counts per true mm, against the nominal one: it does not depend on what was
    keyed into the display meanwhile.
    """
    kept: list[KeptCheck] = []
    nominal = 1 / count(job, axis).value
    for logged in job.of_axis(CalibrationRun, axis.id):
        run = check_as_read(job, logged)
        proof = _proof(job, run, nominal)
        if proof is not None:
            proof = replace(proof, called=f"check {len(kept) + 1} of {date_of(proof.day)}")
            kept.append(KeptCheck(run, proof, change_between(kept[-1].proof, proof) if kept else None))
    return kept


def _proof(job: Job, run: CalibrationRun, nominal: float) -> Proof | None:
    if not run.checks or not run.created:
        return None
    result = calibration_result(job, run)
    set_per_mm = run.counts_set / (MM_PER_INCH if run.per == "in" else 1.0) / run.set_factor
    if result.counts is not None:
        own = result.counts.counts_per_mm / run.set_factor
    elif result.factor is not None:
        own = set_per_mm * result.factor.slope
    else:
        return None
    sure = result.budget is not None and result.over_mm
    known = result.counts is not None or (result.factor is not None and result.factor.u_slope is not None)
    u = result.budget.u / result.over_mm * 1e6 if sure and known and result.budget and result.over_mm else None
    freedom = result.budget.freedom if u is not None and result.budget is not None else math.inf
    return Proof(day_of(run.created), (own / nominal - 1) * 1e6, u, run.scale_c, freedom)


def events_of(job: Job, axis: Axis) -> list[tuple[float, Event]]:
    """What happened to an axis or the whole machine that calls for a new check, oldest first."""
    entries = [e for e in job.all(LogEntry) if e.event and e.axis_id in ("", axis.id)]
    return [(day_of(e.created), e.event) for e in entries]


def due_of(job: Job, axis: Axis, now: datetime) -> Due | None:
    """When the axis should be checked again; None while it never was."""
    proofs = [k.proof for k in history_of(job, axis)]
    due = next_check(
        proofs, events_of(job, axis), now.astimezone().replace(tzinfo=UTC).timestamp() / _DAY, job.info.room_c
    )
    return None if due is None else replace(due, why=directed(due.why, directions_of(job, axis)))


@dataclass(frozen=True)
class TemperatureSum:
    """The arithmetic of temperature over the longest move of a check, step by step, and what follows from it."""

    steps: tuple[Sentence, ...]
    findings: tuple[Finding, ...]


def temperature_sum(job: Job, axis: Axis) -> TemperatureSum:
    """What temperature makes in the newest check, and whether it explains the change since the one before."""
    told, words = _temperature_sum(job, axis), directions_of(job, axis)
    found = tuple(finding_directed(f, words) for f in told.findings)
    return TemperatureSum(tuple(directed(s, words) for s in told.steps), found)


def _temperature_sum(job: Job, axis: Axis) -> TemperatureSum:
    kept = history_of(job, axis)
    if not kept:
        return TemperatureSum((Sentence("Log a check first."),), ())
    run = kept[-1].run
    length = max((abs(c.true.mm) for c in run.checks), default=0.0)
    reference = core_reference(reference_of(job, run))
    alone = warmth_mm(run, reference, length)
    if run.scale_c is None or run.reference_c is None or alone is None or length <= 0:
        one = five_degrees_mm(run, reference, length)
        ask = Sentence(
            "Note the temperatures of scale and reference on Calibrate. {five} between them would make {mm} over "
            "{length}.",
            {"five": DegreesApart(5.0), "mm": Fine(one), "length": Mm(length)},
        )
        return TemperatureSum((ask,), ())
    ours, theirs = alphas_of(run, reference)
    substance = substance_of(reference)
    steps = [
        _product("Reference ({what})", substance, theirs, length, run.reference_c),
        _product("Scale (expands like {what})", run.scale_like, ours, length, run.scale_c),
    ]
    steps.append(Sentence("Shown less nominal by temperature alone: {mm}", {"mm": Tiny(alone, sign=True)}))
    before = next((k for k in reversed(kept[:-1]) if k.run.scale_c is not None and k.run.reference_c is not None), None)
    if before is None:
        return TemperatureSum(tuple(steps), ())
    return _since(steps, run, before, kept[-1], length, substance)


def _since(
    steps: list[Sentence], run: CalibrationRun, before: KeptCheck, now: KeptCheck, length: float, substance: Substance
) -> TemperatureSum:
    """The sum, and whether temperature explains the change from an earlier check."""
    then, here = _temperatures(before.run), _temperatures(run)
    plain = check_drift(length, run.scale_like, substance, then, here, u_c=run.u_c)
    seen = (now.proof.ppm - before.proof.ppm) * 1e-6 * length + plain.expected_mm
    u = math.hypot(now.proof.u_ppm or 0.0, before.proof.u_ppm or 0.0) * 1e-6 * length
    judged = check_drift(length, run.scale_like, substance, then, here, u_c=run.u_c, drift_mm=seen, u_drift_mm=u)
    steps.append(
        Sentence(
            "Since {date} the scale went from {then} to {now}: seen {seen} ± {u}, temperature makes {least} to {most}.",
            {
                "date": date_of(before.proof.day),
                "then": Temperature(then.scale_c),
                "now": Temperature(here.scale_c),
                "seen": Fine(seen, sign=True),
                "u": Fine(2 * u),
                "least": Fine(judged.least_mm, sign=True),
                "most": Fine(judged.greatest_mm, sign=True),
            },
        )
    )
    return TemperatureSum(tuple(steps), judged.findings if abs(seen) > 2 * u else ())


def _temperatures(run: CalibrationRun) -> Temperatures:
    return Temperatures(run.scale_c or 0.0, run.reference_c or 0.0)


def _product(words: str, substance: Substance, alpha: float, length: float, at_c: float) -> Sentence:
    return Sentence(
        words + ": {length} × {alpha:.1f} ppm/K × ({at:.1f} − 20) K = {mm}",
        {
            "what": substance.replace("-", " "),
            "length": Mm(length),
            "alpha": alpha * 1e6,
            "at": at_c,
            "mm": Tiny(length * alpha * (at_c - REFERENCE_C), sign=True),
        },
    )


def change_findings(job: Job, axis: Axis) -> list[Finding]:
    """Whether the last two calibrations differ for certain; told, no more, where the last one keeps what is wanted.

    One in twenty differs by chance as well: that alone keeps no job open.
    """
    kept, run = history_of(job, axis), latest_run(job, axis)
    found = review_change(kept[-2].proof, kept[-1].proof) if len(kept) > 1 else []
    if run is None or calibration_result(job, check_as_read(job, run)).verdict != "pass":
        return found
    rest = Sentence("The display keeps what is wanted all the same: look again at the next check.")
    return [replace(f, severity="info", remedy=rest) for f in found]


def due_words(due: Due | None) -> Sentence:
    """When the next check falls due, as a sentence."""
    if due is None:
        return Sentence("Not checked yet.")
    day = day_words(date.fromisoformat(date_of(due.day)))
    words = "A check is due since {date}: {why}." if due.overdue else "Next check on {date}, {why}."
    return Sentence(words, {"date": day, "why": due.why})
