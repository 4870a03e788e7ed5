"""The first power-up of one axis, before anything hidden is closed up: what was seen, judged; common practice, no
source.

Judged by the display's step and the accuracy wanted: at rest a figure may show one or two steps more, and a stop
touched by hand repeats within a few; that is the hand, not the scale. What is asked next is the first thing not yet
known.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vernus.core.budget import standing_limit
from vernus.core.finding import Finding, Fine, Mm, Sentence, conclusion, finding

Answer = Literal["", "yes", "no"]
HAND_STEPS = 5.0  # a stop touched by hand
LOST_FOR_SURE = 4.0  # times what the hand may be off: counts are lost


@dataclass(frozen=True)
class PowerUp:
    """What one axis did when first switched on; lengths in mm, None while not tried.

    ``low_mm`` and ``high_mm`` are the least and greatest figure at a standstill, ``before_mm`` and ``after_mm`` the
    figures at the same stop before and after a run over the full stroke, ``driven_mm`` by how much the figure flickers
    while the spindle runs.
    """

    counts: Answer = ""
    right_axis: Answer = ""
    direction: Answer = ""
    stroke: Answer = ""
    lost_at_mm: float | None = None
    low_mm: float | None = None
    high_mm: float | None = None
    drift_mm: float | None = None
    before_mm: float | None = None
    after_mm: float | None = None
    driven_mm: float | None = None


@dataclass(frozen=True)
class PowerUpResult:
    """Verdict (None while something is open), jitter, drift and loss in mm with their limits, findings, what to do."""

    verdict: Literal["pass", "fail"] | None
    jitter_mm: float | None
    drift_mm: float | None
    lost_mm: float | None
    still_mm: float
    hand_mm: float
    findings: tuple[Finding, ...]
    instruction: Sentence


def judge_powerup(seen: PowerUp, step_mm: float, accuracy_mm: float) -> PowerUpResult:
    """What was seen, judged; ``step_mm`` is the least the display can show, or one count where that is more."""
    jitter = None if seen.low_mm is None or seen.high_mm is None else abs(seen.high_mm - seen.low_mm)
    drift = None if seen.drift_mm is None else abs(seen.drift_mm)
    lost = None if seen.before_mm is None or seen.after_mm is None else abs(seen.after_mm - seen.before_mm)
    still, hand = standing_limit(step_mm, accuracy_mm), max(HAND_STEPS * step_mm, accuracy_mm) * (1 + 1e-9)
    found = [*_answers(seen), *_standstill(jitter, drift, still), *_driven(seen.driven_mm, jitter, still)]
    if lost is not None and lost > hand and seen.stroke != "no":
        found.append(_jump(lost, hand))
    wrong = next((f for f in found if f.severity != "info"), None)
    ask = _next_question(seen, jitter, drift, lost)
    done = conclusion("This axis is good: close up what hides it, and go on to the next.")
    verdict: Literal["pass", "fail"] | None = "fail" if wrong is not None else "pass" if ask is None else None
    words = wrong.remedy if wrong is not None else ask or done
    return PowerUpResult(verdict, jitter, drift, lost, still, hand, tuple(found), words)


def _next_question(seen: PowerUp, jitter: float | None, drift: float | None, lost: float | None) -> Sentence | None:
    asks = (
        (
            not seen.counts,
            "Isolate the drive, see that the display is earthed to the machine, then switch it on and move this axis "
            "by hand: does its figure move?",
        ),
        (not seen.right_axis, "Is it this axis's own figure that moves, and no other?"),
        (not seen.direction, "Does it count up the way you want it to, such as toward the {@high} end?"),
        (
            not seen.stroke or lost is None,
            "Note the figure at one stop, run the full stroke and back to that stop, and note it again. Watch for "
            "figures that freeze, jump or run away, and feel for binding.",
        ),
        (jitter is None, "Stand still for a minute with the drive off: note the least and the greatest figure."),
        (drift is None, "Leave it ten minutes: note how far the figure went."),
    )
    return next((Sentence(words) for missing, words in asks if missing), None)


def _answers(seen: PowerUp) -> list[Finding]:
    found = []
    if seen.counts == "no":
        found.append(
            finding(
                "does-not-count",
                "stop",
                "The figure does not move with the axis.",
                "Display off: see that the plug is home and its pins straight, that the axis is switched on in the "
                "display, and that the reader's gap is right; then swap plugs with an axis that counts. What moves "
                "with the plug is the scale, what stays is the display.",
            )
        )
    if seen.right_axis == "no":
        found.append(
            finding(
                "wrong-plug",
                "caution",
                "Another axis's figure moves.",
                "Display off: swap the plugs, and label them with the axis.",
            )
        )
    if seen.direction == "no":
        found.append(
            finding(
                "counts-backwards",
                "caution",
                "It counts the other way.",
                "Change the direction setting of this axis in the display; nothing needs to be turned round.",
            )
        )
    if seen.stroke == "no":
        at = seen.lost_at_mm
        where = "" if at is None else " near {at}"
        found.append(
            finding(
                "drops-out",
                "stop",
                "The figure freezes, jumps or binds on the way" + where + ".",
                "Look there before closing up: gap too wide or reader tilted"
                + where
                + ", a chip or fingerprint on the "
                "scale, the cable pulled tight or chafing, the reader running off its measuring length.",
                at=Mm(at or 0.0),
            )
        )
    return found


def _driven(driven_mm: float | None, jitter: float | None, limit_mm: float) -> list[Finding]:
    """A figure that is still at rest and flickers with the spindle hears the motor: common practice, no source."""
    if driven_mm is None or abs(driven_mm) <= limit_mm or (jitter is not None and jitter > limit_mm):
        return []
    still = "" if jitter is None else ", at rest it is still"
    return [
        finding(
            "hears-the-motor",
            "caution",
            "With the spindle running the figure flickers by {driven}" + still + "; {limit} is harmless here.",
            "It hears the motor: take the scale's cable away from motor leads and the drive's box, cross them square, "
            "earth display and drive at one point, and feed the display from another outlet. Motor leads and their "
            "screen are for who may work on them: local electrical codes go before this.",
            driven=Fine(abs(driven_mm)),
            limit=Fine(limit_mm),
        )
    ]


def _standstill(jitter: float | None, drift: float | None, limit_mm: float) -> list[Finding]:
    found = []
    if jitter is not None and jitter > limit_mm:
        found.append(
            finding(
                "jitter",
                "caution",
                "At a standstill the figure moves by {jitter}; {limit} is harmless here.",
                "Earth the display to the machine, keep the cable away from motor leads, switch the lamp and the drive "
                "off in turn, and check the reader's gap.",
                jitter=Fine(jitter),
                limit=Fine(limit_mm),
            )
        )
    if drift is not None and drift > limit_mm:
        found.append(
            finding(
                "drifts",
                "caution",
                "At a standstill the figure drifts by {drift}; {limit} is harmless here.",
                "Push the reader and the body: what gives is loose. If nothing does, swap plugs: if the drift stays "
                "with the display's socket, it is the display.",
                drift=Fine(drift),
                limit=Fine(limit_mm),
            )
        )
    return found


def _jump(lost: float, limit_mm: float) -> Finding:
    sure = lost > LOST_FOR_SURE * limit_mm
    return finding(
        "loses-counts",
        "stop" if sure else "caution",
        "After the full stroke the same stop reads {lost} off; a stop touched by hand repeats within {limit}.",
        "Run it again slowly: if it still loses, look for the gap at both ends, a dirty scale, or a loose mount; if "
        "only when fast, the display can't follow that speed."
        if sure
        else "Touch the stop again, gently, three times: if it repeats there, it was the hand; if not, run the stroke "
        "slowly and look for the gap at both ends and a loose mount.",
        lost=Fine(lost),
        limit=Fine(limit_mm),
    )
