"""The reader of an axis as it was set: its gap over the stroke, spare, push and the checklist of its family."""

from __future__ import annotations

from dataclasses import dataclass

from vernus.core.align.reader import GapAt, GapResult, judge_gap, review_as_built, review_push, review_spare
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Sentence, finding, in_order, plain
from vernus.job.document import Job
from vernus.job.entities import Axis, GapCheck, ReaderSetting
from vernus.job.fields import mm_of
from vernus.job.known import as_built, count, family_of, planned_spare, spare
from vernus.job.machine.stroke import margins_of, stroke_of
from vernus.job.machine.travel import travel_result
from vernus.job.refusals import limit_findings, refusal

CHECKS = ("centred", "marks", "clips", "wipers", "cover")
_FOR_FAMILY = {
    "body": CHECKS,
    "tape": ("centred", "marks", "wipers", "cover"),
    "rod": ("centred", "marks", "cover"),
    "beam": ("centred", "cover"),
}


@dataclass(frozen=True)
class ReaderResult:
    """The gap (None while none is noted), what is still to check, findings, and what to do."""

    gap: GapResult | None
    wanted_mm: tuple[float, float]
    open_checks: tuple[str, ...]
    findings: tuple[Finding, ...]
    instruction: Sentence
    done: bool


def setting_of(job: Job, axis: Axis, new_id: str) -> ReaderSetting:
    """How the reader was set, a fresh record if there is none yet."""
    found = job.of_axis(ReaderSetting, axis.id)
    return found[-1] if found else ReaderSetting(id=new_id, axis_id=axis.id)


def checks_for(job: Job, axis: Axis) -> tuple[str, ...]:
    """The checklist of the axis's scale family."""
    family = family_of(job, axis)
    return _FOR_FAMILY.get(family.body_type if family is not None else "body", CHECKS)


def reader_result(job: Job, axis: Axis) -> ReaderResult:
    """What was noted on the Reader sheet of an axis, judged."""
    family = family_of(job, axis)
    wanted = family.gap_mm if family is not None else (0.5, 0.5)
    setting = setting_of(job, axis, "none")
    findings = limit_findings(setting)
    travel, line = travel_result(job, axis).useful_mm, stroke_of(job, axis).stroke
    planned, known, built = planned_spare(job, axis), spare(job, axis), as_built(job, axis)
    kept = None if line is None or line.kept_mm is None else line.kept_mm[1] - line.kept_mm[0]
    least = None if known is None else min(known.value)
    both = None if planned is None else planned.value
    findings += review_spare(mm_of(setting.spare_low), mm_of(setting.spare_high), margins_of(job, axis), both)
    findings += review_as_built(None if built is None else built.value, kept, least)
    findings += review_push(mm_of(setting.push), count(job, axis).value * 1000)
    wanted_checks = checks_for(job, axis)
    for name in wanted_checks:
        if getattr(setting, name) == "no":
            findings.append(_not_right(name))
    still = tuple(name for name in wanted_checks if getattr(setting, name) != "yes")
    gap, ask = _gap(job, axis, wanted, travel)
    needs_gap = family is None or family.gap_mm[1] > 0
    if gap is not None:
        findings += gap.findings
    gap_good = not needs_gap or (gap is not None and gap.verdict == "pass")
    grave = any(f.severity == "stop" for f in findings)
    if not gap_good:
        words = gap.instruction if gap is not None else ask
    elif still:
        words = Sentence(
            "The gap is right. Go through the checklist under Setup (F4); {n} are open.", {"n": len(still)}
        )
    else:
        words = Sentence("The reader is set. Look for rub marks after a month.")
    words = in_order(words, findings)
    return ReaderResult(gap, wanted, still, tuple(findings), words, gap_good and not still and not grave)


def _gap(
    job: Job, axis: Axis, wanted: tuple[float, float], travel_mm: float | None
) -> tuple[GapResult | None, Sentence]:
    checks = job.of_axis(GapCheck, axis.id)
    ask = Sentence(
        "Run to one end of the stroke and try feelers: note the thickest that goes in and the next that doesn't."
    )
    if not checks:
        return None, ask
    try:
        gaps = [GapAt(c.station.mm, c.go.mm, mm_of(c.no_go)) for c in checks]
        return judge_gap(gaps, wanted, travel_mm), ask
    except BadInputError as error:
        return None, plain(str(refusal(error).what.text()))


def _not_right(name: str) -> Finding:
    texts = {
        "centred": ("The head is not centred or not square.", "Set it in height and square before the gap."),
        "marks": (
            "The orientation marks are not on the same side.",
            "Turn the head round; it reads backwards or not at all.",
        ),
        "clips": (
            "The shipping clips are still on.",
            "Take them off before the axis is moved, and keep them as a gauge.",
        ),
        "wipers": ("The wipers are off.", "Put them back; without them chips get under the reader."),
        "cover": ("The cover rubs or is off.", "Bend it clear, or shim it; it must not touch over the whole stroke."),
    }
    what, remedy = texts[name]
    return finding(f"reader-{name}", "stop" if name == "clips" else "caution", what, remedy)
