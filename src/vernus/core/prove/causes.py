"""The causes that the pattern of errors can have, in words: the evidence, the next test, and what tells two apart.

Which cause makes which pattern, and where to look: common practice, no source.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vernus.core.finding import Sentence

Cause = Literal[
    "lost-motion",
    "lost-motion-growing",
    "step",
    "cyclic",
    "trend",
    "bow",
    "scatter",
    "drift",
    "reads-wrong",
    "ratio",
    "unexplained",
]


@dataclass(frozen=True)
class CauseSaid:
    """A cause in words: its name, the evidence, the next test, and what tells it from one that would do as well.

    ``shows`` whether a pattern of the errors is this cause's own.
    """

    name: str
    evidence: str = ""
    test: str = ""
    to_tell: Sentence | None = None
    shows: bool = True


CAUSES: dict[Cause, CauseSaid] = {
    "lost-motion": CauseSaid(
        "lost motion in the reader mount",
        evidence=(
            "Up and down differ by {signed} everywhere: lost motion, most likely in the reader's mount or its drive."
        ),
        test=(
            "Push the reader along the axis by hand: what the figure gives is the play. Tighten the bracket and "
            "repeat. If the reader is solid, put the indicator on the moved member itself: then the play is in "
            "the reference.{sways}"
        ),
        to_tell=Sentence("Read both ends in both directions, five times each."),
    ),
    "lost-motion-growing": CauseSaid(
        "lost motion growing along the travel",
        evidence=(
            "Up and down differ more and more toward the {end} end, by {size} there: something gives as the axis "
            "goes over."
        ),
        test=(
            "Lock the cross axes and read that end again. Then check gibs there, {loose}, and the arm that "
            "carries the reader."
        ),
        to_tell=Sentence("Read both ends in both directions, five times each."),
    ),
    "step": CauseSaid(
        "a step at one place",
        evidence="The error jumps by {signed} near {where}.",
        test="Look at {where}: {spots}. Run over it slowly; counts lost for good don't come back at zero.",
        to_tell=Sentence("Read more targets, close together, where the readings change most."),
    ),
    "cyclic": CauseSaid(
        "a wave",
        evidence="The error swings by {size} and repeats every {where}.",
        test="Compare {where} with {turn} (then the reference is what swings), and with {beats}.",
        to_tell=Sentence("Read twice as many targets at uneven distances."),
    ),
    "trend": CauseSaid(
        "a straight trend",
        evidence="The error grows evenly, by {signed} over {span} ({ppm}): a factor, or temperature.",
        test=(
            "Work out whether the temperatures can make it; if not, take it out by the linear factor of Calibrate"
            " and read again."
        ),
        to_tell=Sentence(
            "Read the same targets again in the opposite order: a trend follows the place, drift the clock."
        ),
    ),
    "bow": CauseSaid(
        "a bow",
        evidence=(
            "The error bows by {signed} in the middle: the axis tilts on its way, and the scale lies off the "
            "tool's line."
        ),
        test=(
            "Put a level or an indicator on the {member} and run the axis through: if it tilts, tighten the gibs;"
            " what is left can go into a segmented table, or the scale nearer to the tool."
        ),
        to_tell=Sentence("Read more targets in the middle and near both ends."),
    ),
    "scatter": CauseSaid(
        "scatter",
        evidence=(
            "Repeats at one target scatter by {noise} (one standard deviation), {counts} counts: more than reading can."
        ),
        test=(
            "Clean scale and reader, check the gap at both ends, tighten the mount, earth the display, then read "
            "one target ten times. If that is still, the reference is what scatters."
        ),
    ),
    "drift": CauseSaid(
        "drift in time",
        evidence="Over the readings the figure drifted by {signed}, wherever the axis stood.",
        test=(
            "Let the axis stand for ten minutes and watch. If it drifts, push the mounts; if it doesn't, let "
            "machine and reference reach one temperature and read again."
        ),
        to_tell=Sentence(
            "Run another cycle: what belongs to the place comes again there, drift goes on with the clock."
        ),
    ),
    "reads-wrong": CauseSaid(
        "repeats well but reads wrong",
        evidence="It repeats well but is off by {ppm}, more than the {limit} ppm a good scale may need.",
        test=(
            "Check the reference first, then the count size set, then whether the scale or the move is tilted: "
            "600 ppm of tilt is two degrees, and can be seen."
        ),
        to_tell=Sentence("Check the reference and the count size first; if both are right it is a plain factor."),
    ),
    "ratio": CauseSaid(
        "a clean ratio",
    ),
    "unexplained": CauseSaid(
        "a pattern that is none of those known here",
        evidence="The targets repeat well, but their errors, {size} apart, follow no pattern known here.",
        test=(
            "Read more targets where they tell most, at {places}, in the same way; then look at what is there: a "
            "joint, a pinched screw, a chip, a wave shorter than the targets are apart."
        ),
        shows=False,
    ),
}
"""Every cause once; a new one is an entry here, a pattern in ``diagnosis`` and a fault in ``bench/readout``."""
PATTERNS: tuple[Cause, ...] = tuple(code for code, said in CAUSES.items() if said.shows)
"""The causes that a pattern names; “unexplained” is what repeats and is none of them."""

SPOTS: dict[str, dict[str, str]] = {
    "body": {
        "spots": "a scratch, a chip, a screw that pinches the body",
        "loose": "the free end of the body",
        "beats": "the spacing of the body's screws",
    },
    "tape": {
        "spots": "a scratch, a chip, a joint of the tape, a place where it lifts",
        "loose": "the end of the tape, where it lifts first",
        "beats": "the pitch of the tape's poles",
    },
    "rod": {
        "spots": "a dent or a chip on the rod, a place where it binds in its reader",
        "loose": "the rod's block at that end",
        "beats": "the spacing of the rod's supports",
    },
    "beam": {
        "spots": "a scratch, a chip, a place where its fixing bends the beam",
        "loose": "the beam's fixing at that end",
        "beats": "the spacing of what holds the beam",
    },
}
"""Where to look on each type of scale, in the words of the next tests."""


def own_words(body_type: str, member: str) -> dict[str, str]:
    """What the next tests name on a scale of this type whose axis moves ``member``; a quill is driven by a pinion."""
    quill = "quill" in member.lower()
    return {
        **SPOTS.get(body_type, SPOTS["body"]),
        "turn": "the travel for one turn of the pinion" if quill else "the lead of the screw",
        "sways": " A quill also turns a little in its bore: push its arm round as well." if quill else "",
    }
