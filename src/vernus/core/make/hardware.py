"""Holes for screws: tap drill, thread engagement, clearance, counterbore, and how deep to drill.

Engagement in per cent is the drill charts' figure, 100·(D − d)/(1.299038·P): of twice 0.6495·P, the single depth of
the old external form. ISO 68-1's own basic height is 1.0825·P (5/8 H on each side); 83.4 % of the chart's figure is all
of it. Material factors and tap leads are common practice, no source.
"""

from __future__ import annotations

import math
from collections.abc import Collection
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal, get_args

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, finding
from vernus.core.make.hardware_tables import (
    INCH_CLEARANCE,
    INCH_HEAD,
    INCH_THREADS,
    LETTER_DRILLS,
    METRIC_CLEARANCE,
    METRIC_COUNTERBORE,
    METRIC_THREADS,
    NUMBER_DRILLS,
)

Material = Literal["steel", "tough-steel", "stainless", "cast-iron", "aluminium", "brass"]
Tap = Literal["plug", "bottoming"]
DrillSet = Literal["metric", "number", "letter", "fraction"]
MATERIALS: tuple[Material, ...] = get_args(Material)
DRILL_SETS: tuple[DrillSet, ...] = get_args(DrillSet)
CHART_HEIGHT = 1.299038  # twice 0.6495·P
MOST_PERCENT = 83.4
WANTED_PERCENT: dict[Material, float] = {m: 65.0 if m in ("tough-steel", "stainless") else 75.0 for m in MATERIALS}
ENGAGED_DIAMETERS: dict[Material, float] = {
    "steel": 1.0, "tough-steel": 1.0, "stainless": 1.0, "cast-iron": 1.5, "aluminium": 2.0, "brass": 1.5,
}  # fmt: skip
LEAD_PITCHES: dict[Tap, float] = {"plug": 4.0, "bottoming": 1.5}
POINT_118 = 0.30
POINT_135 = 0.21
_MM = 25.4


@dataclass(frozen=True)
class Thread:
    """A nominal thread in mm; ``system`` says which drills and tables go with it."""

    name: str
    major_mm: float
    pitch_mm: float
    system: Literal["metric", "inch"]

    @property
    def minor_mm(self) -> float:
        """The basic minor diameter, D − 1.0825·P (ISO 68-1)."""
        return self.major_mm - 1.082532 * self.pitch_mm


@dataclass(frozen=True)
class Drill:
    """A drill by its name in its set."""

    name: str
    diameter_mm: float
    set: DrillSet


@dataclass(frozen=True)
class HoleData:
    """Everything to drill and tap for a thread; lengths in mm, ``clearance_mm`` close, normal, loose."""

    thread: Thread
    tap_drill: Drill
    engagement_percent: float
    clearance_mm: tuple[float, float, float]
    counterbore_mm: float
    counterbore_depth_mm: float
    min_thread_depth_mm: float
    drill_depth_mm: float
    findings: tuple[Finding, ...] = ()


THREADS: tuple[Thread, ...] = tuple(Thread(f"M{d:g}x{p:g}", float(d), p, "metric") for d, p in METRIC_THREADS) + tuple(
    Thread(name, d * _MM, _MM / n, "inch") for name, d, n in INCH_THREADS
)


def drills(sets: Collection[DrillSet]) -> list[Drill]:
    """Every drill of some sets, smallest first; metric by 0.05 to 3, by 0.1 and 0.25 to 14, by 0.5 mm to 25."""
    found: list[Drill] = []
    if "metric" in sets:
        sizes = {n / 20 for n in range(20, 61)} | {n / 10 for n in range(31, 141)} | {n / 2 for n in range(29, 51)}
        sizes |= {n / 4 for n in range(13, 56)}
        found += [Drill(f"{s:g} mm", s, "metric") for s in sorted(sizes)]
    if "number" in sets:
        found += [Drill(f"#{n}", d * _MM, "number") for n, d in enumerate(NUMBER_DRILLS, 1)]
    if "letter" in sets:
        found += [Drill(chr(65 + n), d * _MM, "letter") for n, d in enumerate(LETTER_DRILLS)]
    if "fraction" in sets:
        found += [Drill(str(Fraction(n, 64)), n / 64 * _MM, "fraction") for n in range(3, 65)]
    return sorted(found, key=lambda d: d.diameter_mm)


def drill_named(name: str) -> Drill:
    """The drill of that name in any set; raises BadInputError."""
    for drill in drills(DRILL_SETS):
        if drill.name == name:
            return drill
    raise BadInputError(f"There is no drill “{name}”; write 4.2 mm, #7, F or 17/64.")


def thread_named(text: str) -> Thread:
    """The thread written as M5, M5x0.8, M5×0.8, 1/4-20, #10-32 or 10-32; a bare M5 is the coarse one.

    Raises BadInputError naming what is near.
    """
    wanted = text.strip().upper().replace("×", "X").replace(" ", "").removesuffix("UNC").removesuffix("UNF")
    wanted = wanted.rstrip("-")
    for thread in THREADS:
        name = thread.name.upper()
        if wanted in (name, name.removeprefix("#"), name.replace("X", "-")):
            return thread
        if thread.system == "metric" and wanted == f"M{thread.major_mm:g}":
            return thread  # the table lists the coarse pitch first
    near = ", ".join(t.name for t in THREADS if t.name.upper()[:2] == wanted[:2]) or "M3 to M24, #2-56 to 3/4-16"
    raise BadInputError(f"“{text.strip()[:40]}” is not a thread in the table; there are {near}.")


def engagement_percent(thread: Thread, drill_mm: float) -> float:
    """Thread engagement of a drill by the drill charts' convention."""
    return 100 * (thread.major_mm - drill_mm) / (CHART_HEIGHT * thread.pitch_mm)


def tap_drill(thread: Thread, wanted_percent: float, sets: Collection[DrillSet] | None = None) -> Drill:
    """The drill whose engagement is nearest the wanted one, never above 83.4 %.

    Without ``sets`` those of the thread's own system. Raises BadInputError when no drill of the sets comes near.
    """
    own: tuple[DrillSet, ...] = ("metric",) if thread.system == "metric" else ("number", "letter", "fraction")
    fitting = [d for d in drills(sets or own) if 0 < engagement_percent(thread, d.diameter_mm) <= MOST_PERCENT + 1e-9]
    if not fitting:
        raise BadInputError(f"None of these drills serves {thread.name}.")
    return min(fitting, key=lambda d: (abs(engagement_percent(thread, d.diameter_mm) - wanted_percent), d.diameter_mm))


def clearance_holes(thread: Thread) -> tuple[float, float, float]:
    """Close, normal and loose clearance hole (mm); raises BadInputError for a size the tables don't hold."""
    if thread.system == "metric":
        return METRIC_CLEARANCE[thread.major_mm]
    close, normal, loose = (drill_named(n).diameter_mm for n in INCH_CLEARANCE[round(thread.major_mm / _MM, 4)])
    return close, normal, loose


def plan_hole(
    thread: Thread,
    material: Material,
    *,
    tap: Tap = "plug",
    sets: Collection[DrillSet] | None = None,
    wall_mm: float | None = None,
) -> HoleData:
    """Tap drill, engagement, clearance, counterbore and depths of a blind hole; raises BadInputError.

    ``drill_depth_mm`` is to the drill's tip: engaged thread, the tap's lead, and a 118° point. With ``wall_mm`` a
    finding says when the hole would come through.
    """
    if material not in MATERIALS:
        raise BadInputError(f"“{material}” is not a material of the table; there are {', '.join(MATERIALS)}.")
    wanted = WANTED_PERCENT[material]
    drill = tap_drill(thread, wanted, sets)
    percent = engagement_percent(thread, drill.diameter_mm)
    engaged = ENGAGED_DIAMETERS[material] * thread.major_mm
    depth = engaged + LEAD_PITCHES[tap] * thread.pitch_mm + POINT_118 * drill.diameter_mm
    inch = round(thread.major_mm / _MM, 4)
    bore = METRIC_COUNTERBORE[thread.major_mm] if thread.system == "metric" else (INCH_HEAD[inch] + 0.0625) * _MM
    return HoleData(
        thread=thread,
        tap_drill=drill,
        engagement_percent=percent,
        clearance_mm=clearance_holes(thread),
        counterbore_mm=bore,
        counterbore_depth_mm=thread.major_mm,
        min_thread_depth_mm=engaged,
        drill_depth_mm=depth,
        findings=tuple(_review_hole(thread, material, drill, percent, wanted, depth, wall_mm)),
    )


def _review_hole(
    thread: Thread,
    material: Material,
    drill: Drill,
    percent: float,
    wanted: float,
    depth_mm: float,
    wall_mm: float | None,
) -> list[Finding]:
    found: list[Finding] = []
    if abs(percent - wanted) > 8:
        found.append(
            finding(
                "engagement-off",
                "caution",
                "The nearest drill you have, {drill}, makes {percent:.0f} % of thread where {wanted:.0f} % is wanted.",
                "Get a nearer drill, or take care: too tight breaks the tap, too easy strips.",
                drill=drill.name, percent=percent, wanted=wanted,
            )
        )  # fmt: skip
    if material == "aluminium" and thread.pitch_mm < 0.8:
        found.append(
            finding(
                "fragile-thread",
                "caution",
                "{thread} is a fine thread in soft material: it strips easily.",
                "Use a coarser thread, a longer engagement, or an insert; never an oversize drill.",
                thread=thread.name,
            )
        )
    if wall_mm is not None and depth_mm > wall_mm - 1.0:
        found.append(
            finding(
                "wall-too-thin",
                "stop",
                "The hole is {depth} deep to the drill's tip and the wall only {wall}: it comes through.",
                "Find out what is behind (oil, a gearbox, a bearing). Use a bottoming tap, a smaller thread, or a "
                "plate with a nut behind it.",
                depth=Mm(depth_mm), wall=Mm(wall_mm),
            )
        )  # fmt: skip
    return found


def tape_flag(hole: HoleData, lip_mm: float = 0.0) -> float:
    """Where to flag the drill with tape (mm from its tip), ``lip_mm`` for a guide it passes through."""
    return math.ceil((hole.drill_depth_mm + lip_mm) * 2) / 2
