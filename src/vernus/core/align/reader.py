"""Setting the reader: its gap over the stroke, its place across the scale, the spare beyond the stops, a push.

A feeler that goes in says the gap is at least that; one that doesn't says it is less. A gap set by clips, shim or strip
is right as set so; feelers check it where they go in. Common practice, no source.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.budget import Verdict
from vernus.core.errors import BadInputError
from vernus.core.finding import AxisEnd, AxisEndName, Finding, Fine, Mm, Sentence, conclusion, finding

Answer = Literal["", "yes", "no"]

FEELER_STEP_MM = 0.05
NEAR_END = 0.1  # of the stroke: what counts as tried at an end
SPARE_OFF_MM = 3.0  # what spares and stroke read by rule may be off together
HEIGHT_OFF_MM = 0.2  # how far a reader may sit off the middle of its scale
GapBy = Literal["clips", "shim", "strip", "feeler", "none"]
GAP_WORDS: dict[str, str] = {"clips": "its clips", "shim": "its shim", "strip": "a strip of the gap's thickness"}


@dataclass(frozen=True)
class GapAt:
    """The gap at a station (mm): the thickest feeler that went in, the thinnest that did not (None: none tried)."""

    station_mm: float
    go_mm: float
    no_go_mm: float | None = None

    def __post_init__(self) -> None:
        if self.go_mm < 0 or (self.no_go_mm is not None and self.no_go_mm <= self.go_mm):
            raise BadInputError("The feeler that does not go in must be thicker than the one that does.")


@dataclass(frozen=True)
class GapResult:
    """The gap over the stroke: what it surely is between, how much it surely changes, and the verdict."""

    least_mm: float
    most_mm: float | None
    change_mm: float
    verdict: Verdict
    instruction: Sentence
    findings: tuple[Finding, ...]


def judge_gap(
    gaps: Sequence[GapAt],
    wanted_mm: tuple[float, float],
    stroke_mm: float | None = None,
    *,
    set_so: str = "",
    typed: bool = False,
) -> GapResult:
    """The gap against the least and greatest wanted; raises BadInputError without a station.

    A family that wants one figure (its shim) is judged within one feeler step of it; limits that somebody ``typed`` are
    the limits. By feelers alone it passes only
    once both ends and the middle were tried; ``set_so`` says by what else it was set and tried over the stroke: then
    feelers may contradict, and needn't go in everywhere.
    """
    if not gaps:
        raise BadInputError("No gap noted yet; try feelers at both ends and the middle of the stroke.")
    low, high = wanted_mm
    if high - low < 1e-9 and not typed:
        low, high = low - FEELER_STEP_MM, high + FEELER_STEP_MM
    least = min(g.go_mm for g in gaps)
    tops = [g.no_go_mm for g in gaps if g.no_go_mm is not None]
    most = max(tops) if len(tops) == len(gaps) else None
    change = max(0.0, max(g.go_mm for g in gaps) - min(tops)) if tops else 0.0
    tight = [g for g in gaps if g.no_go_mm is not None and g.no_go_mm <= low]
    wide = [g for g in gaps if g.go_mm >= high and g.go_mm > low]
    everywhere = _untried(gaps, stroke_mm) is None
    if tight or wide:
        verdict: Verdict = "fail"
    elif set_so or (everywhere and least >= low and most is not None and most <= high):
        verdict = "pass"
    else:
        verdict = "unsure"
    findings = [*_off_band(tight, wide, low, high), *_changing(change, high - low)]
    if not set_so:
        findings += _coverage(gaps, stroke_mm)
    words = _instruct(tight, wide, verdict, low, high, gaps)
    if verdict == "unsure" and not everywhere and least >= low and most is not None and most <= high:
        words = Sentence("Right so far. Try it {place} too.", {"place": _untried(gaps, stroke_mm)})
    return GapResult(least, most, change, verdict, words, tuple(findings))


def _untried(gaps: Sequence[GapAt], stroke_mm: float | None) -> Sentence | None:
    """Where along the stroke the gap wasn't tried yet; None once both ends and the middle were."""
    if stroke_mm is None or not stroke_mm > 0:
        enough = len({g.station_mm for g in gaps}) >= 3
        return None if enough else Sentence("at both ends and in the middle")
    shares = [g.station_mm / stroke_mm for g in gaps]
    if not any(s <= NEAR_END for s in shares):
        return Sentence("at the {@low} end")
    if not any(s >= 1 - NEAR_END for s in shares):
        return Sentence("at the {@high} end")
    return None if any(0.25 <= s <= 0.75 for s in shares) else Sentence("in the middle")


_MEASURED = ("shim", "strip")
_HAIR_MM = 1e-9


def judge_set(
    by: str, answer: Answer, shim_mm: float | None = None, wanted_mm: tuple[float, float] | None = None
) -> tuple[Verdict, Sentence]:
    """The gap where no feeler was tried: as set by clips, shim or strip, if that was said.

    A shim or strip is measured: the gap is as thick as what lay in it.
    """
    tool = GAP_WORDS.get(by, "feelers")
    if answer == "yes" and by in _MEASURED:
        if shim_mm is None:
            return "unsure", Sentence(f"Measure {tool} with a micrometer: the gap is as thick as what lay in it.")
        low, high = wanted_mm or (shim_mm, shim_mm)
        room = FEELER_STEP_MM if low == high else 0.0  # limits that were given are the limits
        if not low - room - _HAIR_MM <= shim_mm <= high + room + _HAIR_MM:
            values = {"shim": Fine(shim_mm), "low": Fine(low), "high": Fine(high), "tool": tool}
            words = "Set by {tool} of {shim} the gap isn't what is wanted, {low} to {high}: take another thickness."
            return "fail", Sentence(words.replace("{low} to {high}", "{low}") if low == high else words, values)
    if answer == "yes":
        return "pass", conclusion(f"The gap is set by {tool}. Check it with a feeler where one goes in.")
    if answer == "no":
        return "fail", Sentence(
            f"Slacken the reader, bring it up against {tool}, snug its screws, and run the whole stroke again by hand."
        )
    return "unsure", Sentence(
        f"Set it by {tool} in the middle, snug, take that out, and try the same at both ends; then answer in the list."
    )


def _instruct(
    tight: Sequence[GapAt], wide: Sequence[GapAt], verdict: Verdict, low: float, high: float, gaps: Sequence[GapAt]
) -> Sentence:
    if tight:
        at = tight[0]
        text = "At {at} the gap is under {low}: move the reader away, or the body where only one end is tight."
        return Sentence(text, {"at": Mm(at.station_mm), "low": Fine(low)})
    if wide:
        at = wide[0]
        text = "At {at} the gap is over {high}: bring the reader nearer, or the body where only one end is wide."
        return Sentence(text, {"at": Mm(at.station_mm), "high": Fine(high)})
    if verdict == "pass":
        return Sentence(
            "The gap is right over the stroke. What set it comes off before anything moves, wipers and cover on, and "
            "run the whole stroke by hand: nothing may rub."
        )
    open_ = next((g for g in gaps if g.no_go_mm is None or g.no_go_mm > high), gaps[0])
    loose = next((g for g in gaps if g.go_mm < low), None)
    if loose is not None:
        text = "Can't tell yet: at {at} try a feeler of {feeler}; it must go in."
        return Sentence(text, {"at": Mm(loose.station_mm), "feeler": Fine(low)})
    text = "Can't tell yet: at {at} try a feeler of {feeler}; it must not go in."
    return Sentence(text, {"at": Mm(open_.station_mm), "feeler": Fine(high)})


def _off_band(tight: Sequence[GapAt], wide: Sequence[GapAt], low: float, high: float) -> list[Finding]:
    """The gap where it is out of its band."""
    return [
        finding(
            code,
            "caution",
            f"At {{at}} the gap is {word} {{limit}}.",
            "Move the reader, or the body where only one end is wrong; then try the feelers again.",
            at=Mm(gaps[0].station_mm),
            limit=Fine(limit),
        )
        for code, word, gaps, limit in (("gap-tight", "under", tight, low), ("gap-wide", "over", wide, high))
        if gaps
    ]


def _coverage(gaps: Sequence[GapAt], stroke_mm: float | None) -> list[Finding]:
    if _untried(gaps, stroke_mm) is None:
        return []
    span = max(g.station_mm for g in gaps) - min(g.station_mm for g in gaps)
    return [
        finding(
            "gap-not-everywhere",
            "info",
            "The gap was tried at {n} stations over {span}.",
            "Try it at both ends of the stroke and in the middle: it is the change that ends seals.",
            n=len({g.station_mm for g in gaps}),
            span=Mm(span),
        )
    ]


def _changing(change_mm: float, room_mm: float) -> list[Finding]:
    if change_mm <= room_mm / 2:
        return []
    return [
        finding(
            "gap-changes",
            "caution",
            "The gap changes by at least {change} over the stroke.",
            "The body is not parallel to the motion: align it again before setting the reader.",
            change=Fine(change_mm),
        )
    ]


def review_spare(
    low_mm: float | None,
    high_mm: float | None,
    margins_mm: tuple[float, float],
    planned_mm: tuple[float, float] | None,
) -> list[Finding]:
    """Findings on the spare measured beyond both hard stops against the margins wanted and the plan's spare."""
    found: list[Finding] = []
    both: tuple[AxisEndName, AxisEndName] = ("low", "high")
    for end, spare, margin_mm in zip(both, (low_mm, high_mm), margins_mm, strict=True):
        if spare is None:
            continue
        if spare <= 0:
            found.append(
                finding(
                    "no-spare",
                    "stop",
                    "At the {end} stop the reader has no spare left: it would be driven into its end.",
                    "Fit a stop before this axis is run again.",
                    end=AxisEnd(end),
                )
            )
        elif spare < margin_mm * (1 - 1e-9):
            found.append(
                finding(
                    "spare-thin",
                    "caution" if spare < margin_mm / 2 else "info",
                    "At the {end} stop only {spare} is spare; {margin} was wanted.",
                    "Move the reader on its bracket, or fit a stop.",
                    end=AxisEnd(end),
                    spare=Mm(spare),
                    margin=Mm(margin_mm),
                )
            )
    if low_mm is not None and high_mm is not None and planned_mm is not None:
        off = (high_mm - low_mm) / 2 - (planned_mm[1] - planned_mm[0]) / 2
        if abs(off) > max(2.0, sum(planned_mm) / 4) and min(low_mm, high_mm) > 0:
            found.append(
                finding(
                    "off-centre",
                    "info",
                    "The reader stands {off} off the place planned for it.",
                    "Shift it by that on its bracket, and the spare at both ends is the one planned.",
                    off=Mm(off, sign=True),
                )
            )
    return found


def review_spare_sum(
    spares_mm: tuple[float | None, float | None], stroke_mm: float | None, measuring_mm: float | None
) -> list[Finding]:
    """Spares and stroke against the scale that both lie on; what they don't make together is asked about."""
    low, high = spares_mm
    if low is None or high is None or stroke_mm is None or measuring_mm is None:
        return []
    missing = measuring_mm - (low + stroke_mm + high)
    if abs(missing) <= SPARE_OFF_MM:
        return []
    return [
        finding(
            "doubtful",
            "caution",
            "Spare {low}, stroke {stroke} and spare {high} make {sum}, but the scale measures {measuring}: {off} "
            + ("are missing." if missing > 0 else "are too many."),
            "Measure both spares again with the reader against its stops, and the scale's measuring length.",
            low=Mm(low),
            stroke=Mm(stroke_mm),
            high=Mm(high),
            sum=Mm(low + stroke_mm + high),
            measuring=Mm(measuring_mm),
            off=Mm(abs(missing)),
        )
    ]


@dataclass(frozen=True)
class HeadPlace:
    """Where the reader sits across its scale (mm, °; None: not measured), and what its maker allows."""

    high_mm: float | None = None
    side_mm: float | None = None
    yaw_deg: float | None = None
    side_room_mm: float = 1.0
    yaw_room_deg: float = 1.0


def review_head(head: HeadPlace) -> list[Finding]:
    """A head too high or low, beside the middle of its tape, or out of square, with what takes it out."""
    found: list[Finding] = []
    if head.high_mm is not None and abs(head.high_mm) > HEIGHT_OFF_MM:
        high = head.high_mm > 0
        found.append(
            finding(
                "head-height",
                "caution",
                "The reader sits {off} too " + ("high." if high else "low."),
                "File the slots of its bracket longer by {off} and let it down, or pack the body up by as much."
                if high
                else "Pack the reader up by {off} on its bracket, or let the body down by as much.",
                off=Mm(abs(head.high_mm)),
            )
        )
    if head.side_mm is not None and abs(head.side_mm) > head.side_room_mm:
        found.append(
            finding(
                "head-beside",
                "caution",
                "The head runs {off} beside the middle of the tape; {room} is allowed.",
                "Slacken the head, shift it over in its slots, and measure again at both ends of the stroke.",
                off=Mm(abs(head.side_mm)),
                room=Mm(head.side_room_mm),
            )
        )
    if head.yaw_deg is not None and abs(head.yaw_deg) > head.yaw_room_deg:
        found.append(
            finding(
                "head-yawed",
                "caution",
                "The head stands {yaw:.1f}° out of line with the tape; {room:.1f}° is allowed.",
                "Slacken one screw of the head, turn it in line with the tape's edge, and snug both.",
                yaw=abs(head.yaw_deg),
                room=head.yaw_room_deg,
            )
        )
    return found


def review_push(push_mm: float | None, limit_mm: float) -> list[Finding]:
    """A finding when a push from the side moves the figure by more than ``limit_mm`` (see ``standing_limit``)."""
    if push_mm is None or abs(push_mm) <= limit_mm:
        return []
    return [
        finding(
            "mount-gives",
            "caution",
            "A push from the side moves the figure by {push}; {limit} is harmless here: the mount gives.",
            "Stiffen the bracket, shorten it, or tighten its screws; then push again.",
            push=Fine(abs(push_mm)),
            limit=Fine(limit_mm),
        )
    ]


def review_as_built(as_built_mm: float | None, planned_mm: float | None, spare_mm: float | None) -> list[Finding]:
    """A finding when the travel after fitting is not what the stops were to leave; ``spare_mm`` is the smaller one."""
    if as_built_mm is None or planned_mm is None or abs(as_built_mm - planned_mm) <= 1.0:
        return []
    longer = as_built_mm > planned_mm
    short_of = spare_mm is not None and longer and (as_built_mm - planned_mm) / 2 >= spare_mm
    return [
        finding(
            "travel-as-built",
            "stop" if short_of else "caution" if longer else "info",
            "{built} of travel were measured after fitting, where the stops should leave {planned}.",
            "The scale is too short for it: fit a stop before the axis is run."
            if short_of
            else "See that the spare at both ends still is what you want."
            if longer
            else "Find what stops it; if that is meant, note it as given up on the Travel sheet.",
            built=Mm(as_built_mm),
            planned=Mm(planned_mm),
        )
    ]
