"""What of a power feed kit fits, and what has to be made, from caliper figures before anything is taken apart.

What sits on the screw's end is in ``screw_end``. All lengths in mm.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.feed.keys import KeyFit, SteppedKey, fit_key, name_width, standard_key, stepped_key
from vernus.core.finding import Fine, Mm, Sentence, Size
from vernus.core.make.threads import identify_thread

FitVerdict = Literal["fits", "task", "part", "open"]
CLAW_MM = 6.0
CLAMP_MM = 32.0
_CLAMPS_MM = (25.0, 40.0)
"""What a clamp takes of the table, 25 to 40; common practice, no source."""


@dataclass(frozen=True)
class TurnedPart:
    """A round part: steps of (diameter, length) from its left end, a bore through it or so deep, and a keyway.

    ``notes`` stand under its drawing: keyways, and what fastens it.
    """

    name: str
    steps_mm: tuple[tuple[float, float], ...]
    bore_mm: float = 0.0
    bore_depth_mm: float | None = None
    keyway_mm: float | None = None
    claws_mm: float | None = None
    notes: tuple[Sentence, ...] = ()

    def __post_init__(self) -> None:
        if not self.steps_mm or min(v for step in self.steps_mm for v in step) <= 0:
            raise BadInputError(f"{self.name}: every step needs a diameter and a length larger than zero.")

    @property
    def length_mm(self) -> float:
        """Overall length, claws apart."""
        return sum(length for _, length in self.steps_mm)

    @property
    def largest_mm(self) -> float:
        """Its largest diameter."""
        return max(diameter for diameter, _ in self.steps_mm)


@dataclass(frozen=True)
class HoleMatch:
    """Two hole patterns (across, up; mm) laid on each other by their middles: the machine's screws, the kit's holes."""

    machine_mm: tuple[float, float]
    kit_mm: tuple[float, float]
    hole_mm: float
    screw_mm: float

    def corners(self, pattern_mm: tuple[float, float]) -> list[tuple[float, float]]:
        """The holes of a pattern from its middle: four, or two where it has no height."""
        x, y = pattern_mm[0] / 2, pattern_mm[1] / 2
        return [(-x, -y), (x, -y), (-x, y), (x, y)] if y else [(-x, 0.0), (x, 0.0)]


@dataclass(frozen=True)
class FitItem:
    """One thing looked at: what it is, whether it fits, what to do, the part to make, the holes laid on each other."""

    what: str
    verdict: FitVerdict
    words: Sentence
    part: TurnedPart | SteppedKey | None = None
    holes: HoleMatch | None = None


def fit_keyway(key_mm: float, slot_mm: float, rim_mm: float | None, shaft_mm: float, face_mm: float) -> FitItem:
    """The screw's key in the gear's keyway; one that doesn't fit becomes a stepped key as long as the gear's face."""
    found: KeyFit = fit_key(key_mm, slot_mm, rim_mm, shaft_mm)
    key, slot = name_width(key_mm), name_width(slot_mm)
    usual = [standard_key(shaft_mm, "metric"), standard_key(shaft_mm, "inch")]
    words, values = "{fit}", {"fit": found.words, "key": key, "slot": slot}
    if found.verdict != "fits" and key is not None and slot is not None and key != slot:
        words += " Key {key}, slot {slot}."
    if any(usual) and not any(u is not None and abs(u[1] - key_mm) <= 0.04 for u in usual):
        words += " Usual on this shaft: {usual}; measure again."
        values["usual"] = " or ".join(u[0] for u in usual if u is not None)
    if found.verdict == "fits":
        return FitItem("key", "fits", Sentence(words, values))
    return FitItem("key", "part", Sentence(words, values), stepped_key(key_mm, slot_mm, face_mm))


def fit_thread(diameter_mm: float, pitch_mm: float, nut: str) -> FitItem:
    """The thread at the screw's end against the nut of the kit, such as ``M10x1`` or ``3/8-24``."""
    names = [t.name for t in identify_thread(diameter_mm, pitch_mm, "screw")]
    if not names:
        words = Sentence("No standard thread is near {d}: measure diameter and pitch again.", {"d": Size(diameter_mm)})
        return FitItem("end thread", "open", words)
    values = {"name": names[0], "nut": nut.strip()}
    if not nut.strip():
        return FitItem("end thread", "open", Sentence("The end has {name}. Which nut does the kit bring?", values))
    if nut.strip().lower() in (n.lower() for n in names):
        others = [n for n in names if n.lower() != nut.strip().lower()]
        doubt = f" {others[0]} can't be told from it: try it by hand first." if others else ""
        return FitItem("end thread", "fits", Sentence("The kit's nut {nut} goes on." + doubt, values))
    words = Sentence("The end has {name}, the kit's nut is {nut}: use the old nut, or make one.", values)
    return FitItem("end thread", "task", words)


def fit_holes(
    what: str, machine_mm: tuple[float, float], kit_mm: tuple[float, float], hole_mm: float, screw_mm: float
) -> FitItem:
    """Two hole patterns (across, up) against each other; ``hole_mm`` is the hole in the kit's part, ``screw_mm`` its
    screw.

    A screw may stand off its hole's middle by half the clearance.
    """
    off = [abs(m - k) / 2 for m, k in zip(machine_mm, kit_mm, strict=True)]
    reach = (off[0] ** 2 + off[1] ** 2) ** 0.5
    room = max(0.0, hole_mm - screw_mm) / 2
    values = {
        "reach": Fine(reach),
        "room": Fine(room),
        "slot": Size(hole_mm + 2 * (reach - room)),
    }
    match = HoleMatch(machine_mm, kit_mm, hole_mm, screw_mm)
    if reach <= room:
        words = Sentence("Off by {reach} a hole, inside their clearance of {room}.", values)
        return FitItem(what, "fits", words, holes=match)
    words = Sentence(
        "Off by {reach} a hole where {room} of clearance is there: file each into a slot {slot} long, or open them "
        "to that.",
        values,
    )
    return FitItem(what, "task", words, holes=match)


@dataclass(frozen=True)
class BracketChoice:
    """One way to carry the feed, in the figures that decide: table lost, T-slots, parts to make, going back."""

    school: Literal["clamp", "replace"]
    label: str
    table_lost_mm: float
    blocks_slots: bool
    parts: int
    reversible: bool
    words: Sentence


def compare_brackets(
    clamp_mm: float | None, bracket_mm: float | None, old_bracket_mm: float | None, sticks_out_mm: float | None = None
) -> tuple[BracketChoice, BracketChoice]:
    """Clamped on the table's end against a bracket in place of the bearing bracket; thicknesses along the table.

    ``sticks_out_mm`` is the screw's end beyond the old bracket. What isn't measured is None and said so: a clamp then
    takes the usual 32 mm. Raises BadInputError.
    """
    if min(clamp_mm or 0.0, bracket_mm or 0.0, old_bracket_mm or 0.0) < 0:
        raise BadInputError("Thicknesses can't be negative.")
    lost = CLAMP_MM if clamp_mm is None else clamp_mm
    taken = "usually {least} to {most} of table (this one isn't measured)" if clamp_mm is None else "{lost} of table"
    clamp = BracketChoice(
        "clamp", "clamped on the table's end", lost, True, 0, True,
        Sentence(
            "Nothing to make, off again in minutes; takes " + taken + " and blocks the T-slots there.",
            {"lost": Mm(lost), "least": Mm(_CLAMPS_MM[0]), "most": Mm(_CLAMPS_MM[1])},
        ),
    )  # fmt: skip
    grows = None if bracket_mm is None or old_bracket_mm is None else bracket_mm - old_bracket_mm
    if grows is None:
        out = "how far the screw then sticks out, old bracket and bearing say when they are measured"
    elif sticks_out_mm is None:
        out = "the screw sticks out {grows} less"
    else:
        out = "the screw then sticks out {out}"
    values = {
        "grows": Mm(grows or 0.0),
        "thick": Mm(bracket_mm or 0.0),
        "out": Mm((sticks_out_mm or 0.0) - (grows or 0.0)),
    }
    thick = " of {thick}" if bracket_mm is not None else ""
    replace = BracketChoice(
        "replace", "a bracket in place of the bearing bracket", 0.0, False, 1, True,
        Sentence("Keeps table and T-slots; a bracket" + thick + f" to make, {out}. The old bracket is kept.", values),
    )  # fmt: skip
    return clamp, replace
