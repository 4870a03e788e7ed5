"""Screws as they are sold, T-nuts by their slot, and whether a drill gets at a place.

Lengths sold: ISO 4762 and ASME B18.3 series, from memory. Machine sizes: common practice, no source. Lengths in mm.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, Sentence, finding
from vernus.core.make.hardware import THREADS, Thread

METRIC_LENGTHS = (
    4,
    5,
    6,
    8,
    10,
    12,
    16,
    20,
    25,
    30,
    35,
    40,
    45,
    50,
    55,
    60,
    65,
    70,
    80,
    90,
    100,
    110,
    120,
    130,
    140,
    150,
)
INCH_LENGTHS = (
    0.25, 0.375, 0.5, 0.625, 0.75, 0.875, 1, 1.25, 1.5, 1.75, 2, 2.25, 2.5, 2.75, 3, 3.25, 3.5, 3.75, 4, 4.5, 5, 5.5, 6
)  # fmt: skip
Way = Literal["pistol drill", "angle drill", "from the other side"]
CHUCK_MM: dict[str, float] = {"pistol drill": 190.0, "angle drill": 60.0}
"""What a machine with its chuck takes of room behind the drill."""
DRILL_OUT_MM = 25.0
"""How far a drill stands out of the chuck beyond the depth it drills, at least."""


@dataclass(frozen=True)
class Screw:
    """A screw of a length sold (mm), how much of it is engaged, and how much its grip is."""

    thread: Thread
    length_mm: float
    engaged_mm: float
    grip_mm: float
    nut: bool = False
    washers: int = 0

    def in_words(self) -> Sentence:
        """“M4 × 16”, or “1/4-20 × 3/4 in”; with a nut where it goes right through, and the washers under its head."""
        with_ = [*(["a nut"] if self.nut else []), *(["a washer"] if self.washers == 1 else [])]
        with_ += [f"{self.washers} washers"] if self.washers > 1 else []
        nut = " with " + " and ".join(with_) if with_ else ""
        if self.thread.system == "metric":
            return Sentence(f"{self.thread.name.split('x')[0]} × {self.length_mm:g}{nut}")
        return Sentence(f"{self.thread.name} × {_fraction(self.length_mm / 25.4)} in{nut}")


def _fraction(inches: float) -> str:
    whole, eighths = divmod(round(inches * 8), 8)
    part = {0: "", 1: "1/8", 2: "1/4", 3: "3/8", 4: "1/2", 5: "5/8", 6: "3/4", 7: "7/8"}[eighths]
    return " ".join(p for p in (str(whole) if whole else "", part) if p)


def lengths_sold(thread: Thread) -> tuple[float, ...]:
    """The lengths (mm) its screws are sold in."""
    return METRIC_LENGTHS if thread.system == "metric" else tuple(i * 25.4 for i in INCH_LENGTHS)


@dataclass(frozen=True)
class TSlot:
    """A T-slot: its mouth, the width and height of its head, and how deep it is in all (mm)."""

    mouth_mm: float
    head_mm: float
    head_high_mm: float
    deep_mm: float

    def __post_init__(self) -> None:
        if not (0 < self.mouth_mm < self.head_mm and 0 < self.head_high_mm < self.deep_mm):
            raise BadInputError("A T-slot's head is wider than its mouth, and the slot deeper than its head is high.")

    @property
    def lip_mm(self) -> float:
        """How thick its lips are."""
        return self.deep_mm - self.head_high_mm


@dataclass(frozen=True)
class TNut:
    """A T-nut bar: neck, head and heights (mm), and the largest thread it bears."""

    neck_mm: float
    head_mm: float
    head_high_mm: float
    high_mm: float
    thread: Thread


def t_nut(slot: TSlot, system: Literal["metric", "inch"] = "metric") -> TNut:
    """The T-nut of a slot: 0.3 of play in the mouth, 0.8 in the head, its neck below the lips; a thread of 0.75 of it.

    Pulled up against the lips, a neck as high as they are would take the part above instead of clamping it.

    The thread is a coarse one of the system. Raises BadInputError where no thread of the table is small enough.
    """
    neck, head = slot.mouth_mm - 0.3, slot.head_mm - 0.8
    coarse = "metric" if system == "metric" else "UNC"
    fits = sorted((t for t in THREADS if t.series == coarse and t.major_mm <= 0.75 * neck), key=lambda t: t.major_mm)
    if not fits or head <= neck:
        raise BadInputError(f"A slot of {slot.mouth_mm:g} mm takes no T-nut of these threads.")
    high = slot.head_high_mm - 0.5
    return TNut(neck, head, high, high + most_neck(slot.lip_mm), fits[-1])


def most_neck(lip_mm: float) -> float:
    """The highest neck (mm) of a T-nut under lips so thick: half a millimetre lower, or a twentieth of them."""
    return max(0.0, lip_mm - max(0.5, lip_mm / 20))


@dataclass(frozen=True)
class DrillRoom:
    """How a hole can be drilled in the room measured in front of it, and what that takes (mm)."""

    way: Way
    needs_mm: float
    key_mm: float

    def finding(self, room_mm: float, depth_mm: float) -> Finding | None:
        """What to say of it; None where a pistol drill gets in."""
        if self.way == "pistol drill":
            return None
        values = {"room": Mm(room_mm), "needs": Mm(self.needs_mm), "depth": Mm(depth_mm)}
        if self.way == "angle drill":
            return finding(
                "drill-room", "caution",
                "There is {room} in front of the hole, and a pistol drill with its chuck wants more for {depth}.",
                "Take an angle drill with a short drill ({needs} in all), and a tap with a small wrench or a socket.",
                **values,
            )  # fmt: skip
        return finding(
            "drill-room", "stop",
            "There is only {room} in front of the hole; even an angle drill wants {needs}.",
            "Drill from the other side, take the part in the way off, or move the hole.",
            **values,
        )  # fmt: skip


def drill_room(room_mm: float, depth_mm: float, key_mm: float = 25.0) -> DrillRoom:
    """The machine that drills ``depth_mm`` deep in the room there is; raises BadInputError for no room.

    ``key_mm`` is what the key of the screw wants to be put on.
    """
    if not room_mm > 0 or not depth_mm > 0:
        raise BadInputError("Room and depth must be larger than zero.")
    reach = depth_mm + DRILL_OUT_MM
    for way in ("pistol drill", "angle drill"):
        needs = reach + CHUCK_MM[way] if way == "pistol drill" else depth_mm + CHUCK_MM[way]
        if room_mm >= needs:
            return DrillRoom("pistol drill" if way == "pistol drill" else "angle drill", needs, key_mm)
    return DrillRoom("from the other side", depth_mm + CHUCK_MM["angle drill"], key_mm)


def stock_finding(wanted_mm: tuple[float, float, float], stock_mm: tuple[float, float, float]) -> Finding:
    """Whether a piece at hand (length, width, thickness) serves for a part; the first two may be swapped."""
    long, wide, thick = wanted_mm
    has = sorted(stock_mm[:2], reverse=True)
    need = sorted((long, wide), reverse=True)
    values = {
        "thick": Mm(stock_mm[2]), "long": Mm(has[0]), "wide": Mm(has[1]), "nl": Mm(need[0]), "nw": Mm(need[1]),
        "nt": Mm(thick),
    }  # fmt: skip
    short = [w for w, ok in (("long", has[0] >= need[0] - 1e-9), ("wide", has[1] >= need[1] - 1e-9)) if not ok]
    thin = stock_mm[2] < thick - 1e-9
    if not short and not thin:
        mill = "" if stock_mm[2] < thick + 0.05 else " Mill it down to {nt}."
        return finding(
            "stock-serves", "info", "The {thick} plate at hand, {long} × {wide}, serves for {nl} × {nw}.",
            "Cut it to size." + mill, **values,
        )  # fmt: skip
    missing = " and ".join([f"not {w} enough" for w in short] + (["too thin"] if thin else []))
    return finding(
        "stock-too-small", "caution",
        "The piece at hand, {long} × {wide} × {thick}, is " + missing + " for {nl} × {nw} × {nt}.",
        "Get a larger piece, or make the part of two that are bolted together.", **values,
    )  # fmt: skip
