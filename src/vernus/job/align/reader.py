"""The reader of an axis as it was set: its gap over the stroke, spare, push and the checklist of its family."""

from __future__ import annotations

import math
from dataclasses import dataclass

from vernus.core.align.means import RULE_OFF_MM
from vernus.core.align.reader import (
    GAP_WORDS,
    GapAt,
    GapResult,
    HeadPlace,
    judge_gap,
    judge_set,
    review_as_built,
    review_head,
    review_push,
    review_spare,
    review_spare_sum,
)
from vernus.core.budget import Verdict
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Sentence, conclusion, finding, in_order, plain
from vernus.job.document import Job
from vernus.job.entities import Axis, GapCheck, Plane, ReaderSetting
from vernus.job.fields import mm_of
from vernus.job.happened import opened_findings
from vernus.job.known.axis_figures import accuracy, as_built
from vernus.job.known.display import still_limit
from vernus.job.known.lengths import family_of, measuring_length, planned_spare, spare
from vernus.job.machine.stroke import margins_of, stroke_of
from vernus.job.machine.travel import travel_result
from vernus.job.refusals import limit_findings, refusal

CHECKS = ("centred", "marks", "clips", "wipers", "anchored", "free", "cover")
_FOR_FAMILY = {
    "body": ("centred", "marks", "clips", "wipers", "cover"),
    "tape": ("centred", "marks", "wipers", "cover"),
    "rod": ("marks", "anchored", "free", "cover"),
    "beam": ("centred", "cover"),
}


@dataclass(frozen=True)
class ReaderResult:
    """The gap by feelers (None while none is noted), what is still to check, findings, and what to do.

    ``by`` is how the gap is set, ``none`` where the family has none; ``verdict`` is of the gap as set and as tried.
    """

    gap: GapResult | None
    by: str
    verdict: Verdict
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
    return _FOR_FAMILY.get(family.body_type if family is not None else "body", _FOR_FAMILY["body"])


def gap_by(job: Job, axis: Axis) -> str:
    """How the gap of an axis's reader is set: as said, else as its family wants it."""
    said = setting_of(job, axis, "none").gap_by
    family = family_of(job, axis)
    return said or ("clips" if family is None else family.gap_by)


def gap_wanted(job: Job, axis: Axis) -> tuple[float, float]:
    """The least and greatest gap wanted (mm): as typed, else as its family has it."""
    setting, family = setting_of(job, axis, "none"), family_of(job, axis)
    low, high = family.gap_mm if family is not None else (0.5, 0.5)
    least, most = mm_of(setting.gap_least), mm_of(setting.gap_most)
    if least is not None or most is not None:
        low = least if least is not None else min(low, most or low)
        high = most if most is not None else max(high, low)
    return min(low, high), max(low, high)


def strip_tolerance(job: Job, axis: Axis, plane: Plane) -> float | None:
    """What a tape may lean over the travel (mm, to 0.05 below): what its head lets it; None for every other family.

    Half of what gap or side room allow in all, so that the head needn't be set in the very middle; never more than a
    rule shows, nor than makes a tenth of the accuracy wanted by being out of line, a²/2L.
    """
    family, travel = family_of(job, axis), travel_result(job, axis).useful_mm
    if family is None or family.body_type != "tape":
        return None
    low, high = gap_wanted(job, axis)
    room = (high - low) / 2 if plane == "face" else setting_of(job, axis, "none").side_room.mm
    room = min(room, RULE_OFF_MM)
    if travel is not None and travel > 0:
        room = min(room, math.sqrt(2 * travel * accuracy(axis).value / 10))
    return round(math.floor(room / 0.05 + 1e-9) * 0.05, 2)


def rod_set(job: Job, axis: Axis) -> bool:
    """Whether a rod was set by running its reader to both ends: anchored there in order, and nothing binds."""
    setting = setting_of(job, axis, "none")
    return (setting.anchored, setting.free) == ("yes", "yes")


def reader_result(job: Job, axis: Axis) -> ReaderResult:
    """What was noted on the Reader sheet of an axis, judged."""
    wanted, by = gap_wanted(job, axis), gap_by(job, axis)
    setting = setting_of(job, axis, "none")
    findings = [*limit_findings(setting), *_place_findings(job, axis, setting)]
    wanted_checks = checks_for(job, axis)
    wrong = [_not_right(name) for name in wanted_checks if getattr(setting, name) == "no"]
    findings += wrong
    still = tuple(name for name in wanted_checks if getattr(setting, name) != "yes")
    gap, words = _gap(job, axis, setting, by, wanted)
    verdict: Verdict = "pass" if by == "none" else "unsure"
    if gap is not None:
        findings += gap.findings
        verdict = gap.verdict
    elif by in GAP_WORDS and not job.of_axis(GapCheck, axis.id):
        verdict, words = judge_set(by, setting.gap_set, mm_of(setting.shim), wanted)
    opened = _opened(job, axis)
    findings += opened
    if opened:
        verdict, words = "unsure", opened[0].remedy
    serious = any(f.severity == "stop" for f in findings)
    if verdict == "pass" and wrong:
        words = wrong[0].remedy
    elif verdict == "pass" and still:
        lead = "" if by == "none" else "The gap is right. "
        words = Sentence(lead + "Go through the checklist; {n} are open.", {"n": len(still)})
    elif verdict == "pass":
        words = conclusion("The reader is set. Look for rub marks after a month.")
    done = verdict == "pass" and not still and not serious
    return ReaderResult(gap, by, verdict, wanted, still, tuple(findings), in_order(words, findings), done)


def _opened(job: Job, axis: Axis) -> list[Finding]:
    """What happened after the reader was set or its gap was tried."""
    set_: list[ReaderSetting | GapCheck] = [*job.of_axis(ReaderSetting, axis.id), *job.of_axis(GapCheck, axis.id)]
    if not set_:
        return []
    do = "Try the gap again at both ends and in the middle, and the screws of reader and bracket."
    return opened_findings(job, axis, max(e.changed for e in set_), "reader", "The reader as it is set", do)


def _place_findings(job: Job, axis: Axis, setting: ReaderSetting) -> list[Finding]:
    """The spare at both ends, the travel as built, where the head sits, and a push from the side."""
    line, family = stroke_of(job, axis).stroke, family_of(job, axis)
    planned, known, built = planned_spare(job, axis), spare(job, axis), as_built(job, axis)
    kept = None if line is None or line.kept_mm is None else line.kept_mm[1] - line.kept_mm[0]
    least = None if known is None else min(known.value)
    both = None if planned is None else planned.value
    noted = mm_of(setting.spare_low), mm_of(setting.spare_high)
    found = review_spare(*noted, margins_of(job, axis), both)
    measuring = measuring_length(job, axis)
    room = None if measuring is None or family is None else measuring.value - family.head_mm
    found += review_spare_sum(noted, built.value if built is not None else kept, room)
    found += review_as_built(None if built is None else built.value, kept, least)
    tape = family is not None and family.body_type == "tape"
    found += review_head(
        HeadPlace(
            mm_of(setting.high_by),
            mm_of(setting.side_by) if tape else None,
            setting.yaw_deg if tape else None,
            setting.side_room.mm,
            setting.yaw_room_deg,
        )
    )
    return found + review_push(mm_of(setting.push), still_limit(job, axis))


def _gap(
    job: Job, axis: Axis, setting: ReaderSetting, by: str, wanted: tuple[float, float]
) -> tuple[GapResult | None, Sentence]:
    """What feelers say, None where none was tried or none is asked for."""
    checks = job.of_axis(GapCheck, axis.id)
    ask = Sentence(
        "Run to one end of the stroke and try feelers: note the thickest that goes in and the next that doesn't."
    )
    if not checks or by == "none":
        return None, ask
    try:
        gaps = [GapAt(c.station.mm, c.go.mm, mm_of(c.no_go)) for c in checks]
        so = by if by in GAP_WORDS and setting.gap_set == "yes" else ""
        typed = setting.gap_least is not None or setting.gap_most is not None
        found = judge_gap(gaps, wanted, travel_result(job, axis).useful_mm, set_so=so, typed=typed)
        return found, found.instruction
    except BadInputError as error:
        return None, plain(str(refusal(error).what.text()))


def _not_right(name: str) -> Finding:
    texts = {
        "centred": ("The head is out of centre or out of square.", "Set it in height and square before the gap."),
        "marks": (
            "The orientation marks are not on the same side.",
            "Turn the head round; it reads backwards or not at all.",
        ),
        "clips": (
            "The shipping clips are still on.",
            "Take them off before the axis is moved, and keep them as a gauge.",
        ),
        "wipers": ("The wipers are off.", "Put them back; without them chips get under the reader."),
        "anchored": (
            "The rod isn't tightened at its anchors.",
            "Reader near one end: tighten support, link, rod, in that order, wiggling them home; then the other end.",
        ),
        "free": (
            "Somewhere on the stroke it binds.",
            "Slacken the anchors nearest to that place and tighten in order.",
        ),
        "cover": ("The cover rubs or is off.", "Bend it clear, or shim it; it must not touch over the whole stroke."),
    }
    what, remedy = texts[name]
    return finding(f"reader-{name}", "stop" if name == "clips" else "caution", what, remedy)
