"""Which thread an old hole or its screw has, from the diameter and the pitch measured.

Candidates are metric coarse and fine, UNC, UNF, BSW, BSF, BA and pipe. A screw's outside diameter lies up to 0.06·d
below its nominal one (worn or rolled), never 2 % above; a hole is known by its minor diameter, d − 1.0825·P metric and
unified, d − 1.2806·P Whitworth, d − 1.2·P BA, and was drilled up to a third of a pitch easier; a caliper is off by 0.05
mm more. The pitch lies within 5 % (a rule over ten threads). Common practice, no source. Two figures often fit two
systems: all that fit are told, best first; near the ends of the table it may be one that the table doesn't hold.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Sentence
from vernus.core.make.hardware import ALL_THREADS, Thread

MeasuredOn = Literal["screw", "bore"]
PITCH_ROOM = 0.05
_SCREW_BELOW, _SCREW_ABOVE = 0.06, 0.02  # of the nominal diameter
_BORE_BELOW, _BORE_ABOVE = 0.1, 0.35  # of the pitch
CALIPER_MM = 0.05
_ENDS = 0.05  # of the outermost diameters of the table
_ANGLES = {"BSW": "55°", "BSF": "55°", "G": "55°", "BA": "47½°"}


@dataclass(frozen=True)
class Candidate:
    """A thread that fits, and how far the figures lie off its own (mm, measured less nominal)."""

    thread: Thread
    diameter_off_mm: float
    pitch_off_mm: float
    badness: float
    """The two offsets over their limits, added up."""


def thread_candidates(diameter_mm: float, pitch_mm: float, on: MeasuredOn = "screw") -> list[Candidate]:
    """The threads that fit a measured diameter and pitch (mm), best first; empty when none does.

    Raises BadInputError for a diameter or pitch that isn't positive.
    """
    if not (diameter_mm > 0 and pitch_mm > 0):
        raise BadInputError("Diameter and pitch must be larger than zero, such as 5.9 mm and 1 mm, 1/4 in and 1/20 in.")
    found: list[Candidate] = []
    for thread in ALL_THREADS:
        if on == "screw":
            off = diameter_mm - thread.major_mm
            limit = (_SCREW_ABOVE if off > 0 else _SCREW_BELOW) * thread.major_mm + CALIPER_MM
        else:
            off = diameter_mm - thread.minor_mm
            limit = (_BORE_ABOVE if off > 0 else _BORE_BELOW) * thread.pitch_mm + CALIPER_MM
        pitch_off = pitch_mm - thread.pitch_mm
        parts = abs(off) / limit, abs(pitch_off) / (PITCH_ROOM * thread.pitch_mm)
        if max(parts) <= 1 + 1e-9:
            found.append(Candidate(thread, off, pitch_off, sum(parts)))
    return sorted(found, key=lambda c: round(c.badness, 9))  # as good: in the order of the table


def beyond_table(diameter_mm: float) -> bool:
    """Whether a diameter lies so near an end of the table, or past it, that the thread may be one beyond it."""
    sizes = [t.major_mm for t in ALL_THREADS]
    return not (1 + _ENDS) * min(sizes) <= diameter_mm <= (1 - _ENDS) * max(sizes)


def identify_thread(diameter_mm: float, pitch_mm: float, on: MeasuredOn = "screw") -> list[Thread]:
    """The threads that fit a measured diameter and pitch (mm), best first; empty when none does."""
    return [c.thread for c in thread_candidates(diameter_mm, pitch_mm, on)]


def short_names(found: Sequence[Thread]) -> str:
    """The likeliest thread, and the next one that can't be told from it."""
    return " or ".join(t.name for t in found[:2]) + (" …" if len(found) > 2 else "")


def name_thread(found: Sequence[Thread], diameter_mm: float | None = None) -> Sentence:
    """The thread in words, with what would tell it from the others that fit, near the ends of the table from more."""
    more = diameter_mm is not None and beyond_table(diameter_mm)
    if not found:
        return Sentence("No thread of the table fits: measure the screw with a caliper and the pitch with a gauge.")
    if len(found) == 1:
        return Sentence(f"{found[0].name}" + (", or a thread beyond the table." if more else "."))
    rest = " or ".join(t.name for t in found[1:4])
    return Sentence(
        f"{found[0].name}, though {rest} can't be told from it: {tell_apart(found[:4])}."
        + (" It may be a thread beyond the table too." if more else "")
    )


def tell_apart(found: Sequence[Thread]) -> str:
    """What tells some threads apart: their angle, their pitch over a longer count, or a known screw by hand."""
    angles = {_ANGLES.get(t.series, "60°") for t in found}
    pitches = {round(t.pitch_mm, 3) for t in found}
    ways = []
    if len(angles) > 1:
        ways.append(f"the angle gauge ({' or '.join(sorted(angles))})")
    if len(pitches) > 1:
        ways.append("the pitch over twenty threads")
    return " or ".join([*ways, "a known screw or nut turned on by hand"]) + " tells"
