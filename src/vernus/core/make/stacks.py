"""Mounts from measured heights: stacks with tolerances, slots, draft, jack screws, and planes on three or four points.

Worst case adds the tolerances; RSS takes the root of their squares (each a bound of equal confidence). Common practice,
no source.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Literal

import numpy as np

from vernus.core.errors import BadInputError

Way = Literal["drive in", "back off"]
_EASY_DEG = 5  # what one can still set by eye; common practice, no source


@dataclass(frozen=True)
class StackItem:
    """One height of a stack (mm), negative where it goes back, with its tolerance ±."""

    name: str
    height_mm: float
    tolerance_mm: float = 0.0


@dataclass(frozen=True)
class Stack:
    """A stack's total (mm) and how far it may be off."""

    total_mm: float
    worst_mm: float
    rss_mm: float


def add_up(items: Sequence[StackItem]) -> Stack:
    """The sum of a stack with its worst case and RSS tolerance; raises BadInputError for a negative tolerance."""
    if any(i.tolerance_mm < 0 for i in items):
        raise BadInputError("A tolerance can't be negative; write the ± figure without its sign.")
    return Stack(
        math.fsum(i.height_mm for i in items),
        math.fsum(i.tolerance_mm for i in items),
        math.sqrt(math.fsum(i.tolerance_mm**2 for i in items)),
    )


def solve_spacer(items: Sequence[StackItem], wanted_mm: float) -> Stack:
    """The spacer that brings a stack to ``wanted_mm``; raises BadInputError when the stack is too high already."""
    stack = add_up(items)
    spacer = wanted_mm - stack.total_mm
    if spacer < 0:
        raise BadInputError(
            f"The stack is {-spacer:.2f} mm too high without any spacer; thin a part or move the face back."
        )
    return Stack(spacer, stack.worst_mm, stack.rss_mm)


def slot_length(clearance_mm: float, adjust_mm: float) -> float:
    """Overall length (mm) of a slot in which a screw of that clearance hole can go ``adjust_mm`` either way."""
    if adjust_mm < 0 or not clearance_mm > 0:
        raise BadInputError("A slot needs a clearance hole larger than zero and an adjustment of zero or more.")
    return clearance_mm + 2 * adjust_mm


@dataclass(frozen=True)
class Draft:
    """Draft of a casting taken out: by a wedge, by shims at one row of bolts, or by jack screws."""

    angle_deg: float
    wedge_mm: float
    shim_mm: float


def take_out_draft(rise_mm: float, over_mm: float, width_mm: float, bolts_mm: float) -> Draft:
    """Draft measured as ``rise_mm`` over ``over_mm``: the wedge over a width, the shim at a bolt spacing (mm)."""
    if not (over_mm > 0 and width_mm > 0 and bolts_mm > 0):
        raise BadInputError("Draft is measured over a length larger than zero, and bolts stand apart.")
    slope = rise_mm / over_mm
    return Draft(math.degrees(math.atan(slope)), slope * width_mm, slope * bolts_mm)


@dataclass(frozen=True)
class Turns:
    """A jack or set screw's move: whole turns and eighths, or degrees where an eighth is too coarse.

    Driven in, its tip pushes the part away; backed off, it lets it come nearer.
    """

    whole: int
    eighths: int
    way: Way
    degrees: int | None = None

    def amount(self) -> str:
        """“1 3/8 turns”, “1 turn and 35°”, “less than 5°”."""
        if self.degrees is not None:
            rest = f"{self.degrees}°" if self.degrees else ""
            turns = f"{self.whole} {'turn' if self.whole == 1 else 'turns'}" if self.whole else ""
            return " and ".join(x for x in (turns, rest) if x) or f"less than {_EASY_DEG}°"
        part = {1: "1/8", 2: "1/4", 3: "3/8", 4: "1/2", 5: "5/8", 6: "3/4", 7: "7/8"}.get(self.eighths, "")
        number = " ".join(p for p in (str(self.whole) if self.whole else "", part) if p)
        if not number:
            return "less than 1/16 turn"
        return f"{number} {'turn' if (self.whole, self.eighths) == (1, 0) or self.whole == 0 else 'turns'}"

    def words(self) -> str:
        """“drive in 1 3/8 turns”; “leave it” for what is too little to turn."""
        if (self.whole, self.eighths, self.degrees or 0) == (0, 0, 0):
            return "leave it"
        return f"{self.way} {self.amount()}"


def jack_turns(move_mm: float, pitch_mm: float, tolerance_mm: float | None = None) -> Turns:
    """Turns of a jack screw for a move of the part (positive: pushed away from what the screw stands in).

    In degrees where an eighth of a turn is coarser than half of ``tolerance_mm``. Raises BadInputError for no pitch.
    """
    if not pitch_mm > 0:
        raise BadInputError("The pitch of the jack screw must be larger than zero, such as 0.8 mm or 1/32 in.")
    way: Way = "drive in" if move_mm >= 0 else "back off"
    if tolerance_mm is not None and pitch_mm / 8 > tolerance_mm / 2:
        degrees = round(abs(move_mm) / pitch_mm * 360 / _EASY_DEG) * _EASY_DEG
        return Turns(degrees // 360, 0, way, degrees % 360)
    eighths = round(abs(move_mm) / pitch_mm * 8)
    return Turns(eighths // 8, eighths % 8, way)


def shims_for_roll(top_mm: float, bottom_mm: float, lines_apart_mm: float, bolts_mm: float) -> tuple[float, float]:
    """Roll (mm per mm) from heights along two lines, and the shim under the bottom row that takes it out.

    Positive: the top is nearer the indicator, so the bottom row is shimmed; negative: the top row by as much.
    """
    if not lines_apart_mm > 0:
        raise BadInputError("The two lines must be apart to see a roll; measure their distance.")
    roll = (top_mm - bottom_mm) / lines_apart_mm
    return roll, roll * bolts_mm


@dataclass(frozen=True)
class PlaneMoves:
    """The plane through points and a move per screw (mm, positive: toward the indicator) that makes it level."""

    slope_x: float
    slope_y: float
    residual_mm: float
    moves_mm: tuple[float, ...]


def level_plane(
    points: Sequence[tuple[float, float, float]], screws: Sequence[tuple[float, float]], *, only_out: bool = False
) -> PlaneMoves:
    """Moves of three bolts or four corner jacks from heights at (x, y), all in mm.

    Least-squares plane; the moves level it with the smallest total movement, or with ``only_out`` (shims can't be
    taken away) with none of them negative. Raises BadInputError for fewer than three points that span a plane.
    """
    rows = np.asarray(points, dtype=float)
    if len(rows) < 3 or len(screws) < 3:
        raise BadInputError("A plane needs three points and three screws at least.")
    design = np.column_stack([np.ones(len(rows)), rows[:, 0], rows[:, 1]])
    if np.linalg.matrix_rank(design - np.array([0, *rows[:, :2].mean(axis=0)]), tol=1e-9) < 3:
        raise BadInputError("The points lie on one line; read one that lies beside it.")
    (_, slope_x, slope_y), *_ = np.linalg.lstsq(design, rows[:, 2], rcond=None)
    left = rows[:, 2] - design @ np.linalg.lstsq(design, rows[:, 2], rcond=None)[0]
    lean = np.array([-(slope_x * x + slope_y * y) for x, y in screws])
    # Adding one height to all keeps it level: the median makes the sum of moves least, the lowest makes none negative.
    base = float(lean.min()) if only_out else median(lean)
    return PlaneMoves(
        float(slope_x), float(slope_y), float(np.abs(left).max()), tuple(float(v) + 0.0 for v in lean - base)
    )
