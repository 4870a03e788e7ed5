"""The first power-up of one axis, before anything hidden is closed up: what was seen, judged; common practice, no
source.

A scale at rest may flicker by one count and must not drift. What is asked next is the first thing not yet known.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vernus.core.finding import Finding, Fine, Mm, Sentence, finding

Answer = Literal["", "yes", "no"]
JITTER_COUNTS = 1.0
DRIFT_COUNTS = 1.0


@dataclass(frozen=True)
class PowerUp:
    """What one axis did when first switched on; lengths in mm, None while not tried.

    ``low_mm`` and ``high_mm`` are the least and greatest figure at a standstill, ``before_mm`` and ``after_mm`` the
    figures at the same stop before and after a run over the full stroke.
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


@dataclass(frozen=True)
class PowerUpResult:
    """Verdict (None while something is open), jitter and drift in counts, findings, and what to do next."""

    verdict: Literal["pass", "fail"] | None
    jitter_counts: float | None
    drift_counts: float | None
    lost_counts: float | None
    findings: tuple[Finding, ...]
    instruction: Sentence


def judge_powerup(seen: PowerUp, count_mm: float) -> PowerUpResult:
    """What was seen, judged; ``count_mm`` is one count of the scale."""
    jitter = None if seen.low_mm is None or seen.high_mm is None else abs(seen.high_mm - seen.low_mm) / count_mm
    drift = None if seen.drift_mm is None else abs(seen.drift_mm) / count_mm
    lost = None if seen.before_mm is None or seen.after_mm is None else abs(seen.after_mm - seen.before_mm) / count_mm
    found = [*_answers(seen), *_standstill(jitter, drift, count_mm)]
    if lost is not None and lost > JITTER_COUNTS + 1e-9 and seen.stroke != "no":
        found.append(_jump(lost, count_mm))
    wrong = next((f for f in found if f.severity != "info"), None)
    ask = _next_question(seen, jitter, drift, lost)
    if wrong is not None:
        return PowerUpResult("fail", jitter, drift, lost, tuple(found), wrong.remedy)
    if ask is not None:
        return PowerUpResult(None, jitter, drift, lost, tuple(found), ask)
    done = Sentence("This axis is good: close up what hides it, and go on to the next.")
    return PowerUpResult("pass", jitter, drift, lost, tuple(found), done)


def _next_question(seen: PowerUp, jitter: float | None, drift: float | None, lost: float | None) -> Sentence | None:
    asks = (
        (not seen.counts, "Isolate the drive, switch the display on, move this axis by hand: does its figure move?"),
        (not seen.right_axis, "Is it this axis's own figure that moves, and no other?"),
        (not seen.direction, "Does it count up the way you expect: table right, table away from you, head up?"),
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


def _standstill(jitter: float | None, drift: float | None, count_mm: float) -> list[Finding]:
    found = []
    if jitter is not None and jitter > JITTER_COUNTS + 1e-9:
        found.append(
            finding(
                "jitter",
                "caution",
                "At a standstill the figure moves by {jitter:.3g} counts ({mm}); one is usual.",
                "Earth the display to the machine, keep the cable away from motor leads, switch the lamp and the drive "
                "off in turn, and check the reader's gap.",
                jitter=jitter,
                mm=Fine(jitter * count_mm),
            )
        )
    if drift is not None and drift > DRIFT_COUNTS + 1e-9:
        found.append(
            finding(
                "drifts",
                "caution",
                "At a standstill the figure drifts by {drift:.3g} counts ({mm}).",
                "Push the reader and the body: what gives is loose. If nothing does, swap plugs: if the drift stays "
                "with the display's socket, it is the display.",
                drift=drift,
                mm=Fine(drift * count_mm),
            )
        )
    return found


def _jump(lost: float, count_mm: float) -> Finding:
    return finding(
        "loses-counts",
        "stop",
        "After the full stroke the same stop reads {lost:.3g} counts ({mm}) off.",
        "Run it again slowly: if it still loses, look for the gap at both ends, a dirty scale, or a loose mount; if "
        "only when fast, the display can't follow that speed.",
        lost=lost,
        mm=Fine(lost * count_mm),
    )
