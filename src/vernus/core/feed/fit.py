"""What of a power feed kit fits, and what has to be made, from caliper figures before anything is taken apart.

A sleeve wants a wall of 1.5 mm at least, a gear 3 mm of metal between keyway and tooth root, a nut 0.8 of its thread:
common practice, no source. All lengths in mm.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.feed.keys import KeyFit, SteppedKey, fit_key, name_width, standard_key, stepped_key
from vernus.core.finding import Fine, Mm, Sentence, Size
from vernus.core.make.threads import identify_thread

FitVerdict = Literal["fits", "task", "part", "open"]
SLEEVE_WALL_MM = 1.5
HUB_WALL_MM = 3.0
SLIDES_MM = 0.05
NUT_SHARE = 0.8
CLAW_MM = 6.0


@dataclass(frozen=True)
class TurnedPart:
    """A round part: steps of (diameter, length) from its left end, a bore through it or so deep, and a keyway."""

    name: str
    steps_mm: tuple[tuple[float, float], ...]
    bore_mm: float = 0.0
    bore_depth_mm: float | None = None
    keyway_mm: float | None = None
    claws_mm: float | None = None

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


def fit_bore(
    shaft_mm: float, bore_mm: float, face_mm: float, root_mm: float | None, keyway_mm: float | None
) -> FitItem:
    """The drive gear's bore on the screw's end; ``root_mm`` is the diameter at the tooth roots."""
    gap = bore_mm - shaft_mm
    values = {"shaft": Size(shaft_mm), "bore": Size(bore_mm), "gap": Fine(abs(gap)), "face": Mm(face_mm)}
    if 0 <= gap <= SLIDES_MM:
        return FitItem("gear bore", "fits", Sentence("The gear slides on: bore {bore}, shaft {shaft}.", values))
    if gap > 0:
        if gap / 2 >= SLEEVE_WALL_MM:
            sleeve = TurnedPart("sleeve", ((bore_mm, face_mm),), shaft_mm, None, keyway_mm)
            words = Sentence("Make a sleeve: outside {bore}, bore {shaft}, {face} long, slotted for the key.", values)
            return FitItem("gear bore", "part", words, sleeve)
        bored = shaft_mm + 2 * SLEEVE_WALL_MM
        sleeve = TurnedPart("sleeve", ((bored, face_mm),), shaft_mm, None, keyway_mm)
        words = Sentence(
            "The gap of {gap} is too thin for a sleeve: bore the gear to {bored} and sleeve it to {shaft}.",
            {**values, "bored": Size(bored)},
        )
        return FitItem("gear bore", "part", words, sleeve)
    if root_mm is not None and (root_mm - shaft_mm) / 2 >= HUB_WALL_MM:
        words = Sentence("Bore the gear out by {gap}, to {shaft}; then the keyway again.", values)
        return FitItem("gear bore", "task", words)
    words = Sentence(
        "The shaft is {gap} too thick for the gear, and there is too little metal to bore it: turn a stub or coupler "
        "with an end of {bore}.",
        values,
    )
    return FitItem("gear bore", "task", words)


def fit_length(
    have_mm: float, needs_mm: dict[str, float], shaft_mm: float, end_mm: float, *, claws: bool = False
) -> FitItem:
    """The screw's end against everything that sits on it (name → length); ``end_mm`` is the diameter wanted there.

    A screw too short gets a stepped coupler: a socket over the shaft, a new end as long as is missing and more.
    """
    need = sum(needs_mm.values())
    listed = ", ".join(f"{name} {{n{i}}}" for i, name in enumerate(needs_mm))
    values: dict[str, object] = {f"n{i}": Mm(mm) for i, mm in enumerate(needs_mm.values())}
    values |= {"have": Mm(have_mm), "need": Mm(need), "short": Mm(need - have_mm)}
    if have_mm >= need:
        return FitItem("screw length", "fits", Sentence(f"{{have}} stick out, {{need}} are wanted: {listed}.", values))
    socket = 2 * shaft_mm
    wall = shaft_mm + 2 * max(4.0, 0.25 * shaft_mm)
    coupler = TurnedPart(
        "stepped coupler", ((wall, socket), (end_mm, need - have_mm + CLAW_MM)), shaft_mm, socket - 5.0, None,
        CLAW_MM if claws else None,
    )  # fmt: skip
    tail = ", with claws that drive the handwheel" if claws else ""
    words = Sentence(
        f"Too short by {{short}}: {listed} want {{need}}, {{have}} stick out. Coupler or longer stub{tail}, pinned.",
        values,
    )
    return FitItem("screw length", "part", words, coupler)


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


def compare_brackets(clamp_mm: float, bracket_mm: float, old_bracket_mm: float) -> tuple[BracketChoice, BracketChoice]:
    """Clamped on the table's end against a bracket in place of the bearing bracket; thicknesses along the table."""
    if min(clamp_mm, bracket_mm, old_bracket_mm) < 0:
        raise BadInputError("Thicknesses can't be negative.")
    grows = max(0.0, bracket_mm - old_bracket_mm)
    clamp = BracketChoice(
        "clamp", "clamped on the table's end", clamp_mm, True, 0, True,
        Sentence(
            "Nothing to make, off again in minutes; takes {lost} of table and blocks the T-slots there.",
            {"lost": Mm(clamp_mm)},
        ),
    )  # fmt: skip
    replace = BracketChoice(
        "replace", "a bracket in place of the bearing bracket", 0.0, False, 2, True,
        Sentence(
            "Keeps table and T-slots; a bracket and a coupler to make, the end of the screw stands out {grows} less. "
            "The old bracket is kept.",
            {"grows": Mm(grows)},
        ),
    )  # fmt: skip
    return clamp, replace
