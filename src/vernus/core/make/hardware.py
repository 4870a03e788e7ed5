"""Holes for screws: tap drill, thread engagement, clearance, counterbore, and how deep to drill.

Engagement in per cent is the drill charts' figure, 100·(D − d)/(1.299038·P): of twice 0.6495·P, the single depth of
the old external form. ISO 68-1's own basic height is 1.0825·P (5/8 H on each side); 83.4 % of the chart's figure is all
of it. Whitworth and BA threads: 100·(D − d) over their own depth, 1.2806·P and 1.2·P. No tap drill is larger than the
largest minor diameter its thread may have (ISO 965-1 6H, ASME B1.1 2B). Material factors and tap leads are common
practice, no source.
"""

from __future__ import annotations

import math
from collections.abc import Collection
from dataclasses import dataclass
from fractions import Fraction
from functools import cache, lru_cache
from typing import Literal, get_args

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, finding
from vernus.core.make.hardware_tables import (
    BA,
    COUNTERSINK_METRIC,
    INCH_CLEARANCE,
    INCH_COUNTERBORE,
    INCH_THREADS,
    LETTER_DRILLS,
    METRIC_CLEARANCE,
    METRIC_COUNTERBORE,
    METRIC_FINE,
    METRIC_THREADS,
    MINOR_TOLERANCE_UM,
    NUMBER_DRILLS,
    PIPE,
    RARE_INCH,
    RARE_METRIC,
    RARE_UNF,
    UNF,
    WHITWORTH,
)

Material = Literal["steel", "tough-steel", "stainless", "cast-iron", "aluminium", "brass", "plastic", "sheet"]
Tap = Literal["plug", "bottoming"]
DrillSet = Literal["metric", "number", "letter", "fraction"]
Series = Literal["metric", "metric-fine", "UNC", "UNF", "BSW", "BSF", "BA", "G"]
MATERIALS: tuple[Material, ...] = get_args(Material)
DRILL_SETS: tuple[DrillSet, ...] = get_args(DrillSet)
CHART_HEIGHT = 1.299038  # twice 0.6495·P
MOST_PERCENT = 83.4
WANTED_PERCENT: dict[Material, float] = {m: 65.0 if m in ("tough-steel", "stainless") else 75.0 for m in MATERIALS}
ENGAGED_DIAMETERS: dict[Material, float] = {
    "steel": 1.0, "tough-steel": 1.0, "stainless": 1.0, "cast-iron": 1.5, "aluminium": 2.0, "brass": 1.5,
    "plastic": 2.5, "sheet": 1.0,
}  # fmt: skip
LEAST_DIAMETERS: dict[Material, float] = {
    "steel": 0.8, "tough-steel": 0.8, "stainless": 0.8, "cast-iron": 1.0, "aluminium": 1.25, "brass": 1.0,
    "plastic": 2.0, "sheet": 0.8,
}  # fmt: skip
"""The least engagement, told as short: common practice, no source."""
LEAD_PITCHES: dict[Tap, float] = {"plug": 4.0, "bottoming": 1.5}
POINT_118 = 0.30
POINT_135 = 0.21
_MM = 25.4


@dataclass(frozen=True)
class Thread:
    """A nominal thread in mm; ``system`` says which drills and tables go with it, ``series`` which standard."""

    name: str
    major_mm: float
    pitch_mm: float
    system: Literal["metric", "inch"]
    series: Series = "metric"

    @property
    def depth_mm(self) -> float:
        """D − D₁: 1.0825·P (ISO 68-1 and unified), 1.2806·P (Whitworth form), 1.2·P (BA)."""
        return {"BSW": 1.280654, "BSF": 1.280654, "G": 1.280654, "BA": 1.2}.get(self.series, 1.082532) * self.pitch_mm

    @property
    def minor_mm(self) -> float:
        """The basic minor diameter."""
        return self.major_mm - self.depth_mm

    @property
    def chart_mm(self) -> float:
        """What 100 % of engagement is of the diameter: 1.299·P by the charts; Whitworth and BA their own depth."""
        return self.depth_mm if self.is_old else CHART_HEIGHT * self.pitch_mm

    @property
    def is_old(self) -> bool:
        """Whether it is of the Whitworth form or BA: the old systems, and pipe."""
        return self.series in ("BSW", "BSF", "BA", "G")

    @property
    def is_fine(self) -> bool:
        """Only what its series calls fine."""
        return self.series in ("metric-fine", "UNF", "BSF")

    @property
    def largest_minor_mm(self) -> float:
        """The largest minor diameter a nut thread may have; Whitworth and BA: 60 % of their depth, common practice."""
        if self.is_old:
            return self.major_mm - 0.6 * self.depth_mm
        if self.system == "metric":
            return self.minor_mm + MINOR_TOLERANCE_UM[self.pitch_mm] / 1000
        pitch, major = self.pitch_mm / _MM, self.major_mm / _MM
        least = 0.25 * pitch - 0.4 * pitch**2
        small = 0.05 * pitch ** (2 / 3) + 0.03 * pitch / major - 0.002
        class_2b = min(max(small, least), 0.394 * pitch) if major < 0.25 else least
        return self.minor_mm + class_2b * _MM


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
    clearance_names: tuple[str, str, str]
    counterbore_mm: float
    counterbore_depth_mm: float
    min_thread_depth_mm: float
    drill_depth_mm: float
    findings: tuple[Finding, ...] = ()


def _metric(d: float, p: float) -> Thread:
    return Thread(f"M{d:g}x{p:g}", float(d), p, "metric", "metric-fine" if (d, p) in METRIC_FINE else "metric")


THREADS: tuple[Thread, ...] = tuple(_metric(d, p) for d, p in METRIC_THREADS) + tuple(
    Thread(name, d * _MM, _MM / n, "inch", "UNF" if name in UNF else "UNC") for name, d, n in INCH_THREADS
)
OLD_THREADS: tuple[Thread, ...] = tuple(
    Thread(f"{name} {series}", d * _MM, _MM / n, "inch", "BSW" if series == "BSW" else "BSF")
    for series, rows in WHITWORTH.items()
    for name, d, n in rows
) + tuple(Thread(f"{n} BA", d, p, "metric", "BA") for n, d, p in BA)
RARE_THREADS: tuple[Thread, ...] = (
    tuple(_metric(d, p) for d, p in RARE_METRIC)
    + tuple(Thread(name, d * _MM, _MM / n, "inch", "UNF" if name in RARE_UNF else "UNC") for name, d, n in RARE_INCH)
    + tuple(Thread(name, d, _MM / n, "inch", "G") for name, d, n in PIPE)
)  # fmt: skip
"""Threads that are known where they are found, and never proposed."""
ALL_THREADS = THREADS + OLD_THREADS + RARE_THREADS


def drills(sets: Collection[DrillSet]) -> list[Drill]:
    """Every drill of some sets, smallest first; metric by 0.05 to 3, by 0.1 and 0.25 to 14, by 0.5 mm to 50."""
    return list(_drills(frozenset(sets)))


@cache
def _drills(sets: frozenset[DrillSet]) -> tuple[Drill, ...]:
    found: list[Drill] = []
    if "metric" in sets:
        sizes = {n / 20 for n in range(20, 61)} | {n / 10 for n in range(31, 141)} | {n / 2 for n in range(29, 101)}
        sizes |= {n / 4 for n in range(13, 56)}
        found += [Drill(f"{s:g} mm", s, "metric") for s in sorted(sizes)]
    if "number" in sets:
        found += [Drill(f"#{n}", d * _MM, "number") for n, d in enumerate(NUMBER_DRILLS, 1)]
    if "letter" in sets:
        found += [Drill(chr(65 + n), d * _MM, "letter") for n, d in enumerate(LETTER_DRILLS)]
    if "fraction" in sets:
        found += [Drill(_mixed(n), n / 64 * _MM, "fraction") for n in range(3, 113)]
    return tuple(sorted(found, key=lambda d: d.diameter_mm))


def _mixed(n: int) -> str:
    """64ths of an inch as a drill is called: 17/64, 1, 1 1/8."""
    whole, rest = divmod(n, 64)
    return " ".join([*([str(whole)] if whole else []), *([str(Fraction(rest, 64))] if rest else [])])


def drill_named(name: str) -> Drill:
    """The drill of that name in any set; raises BadInputError."""
    for drill in drills(DRILL_SETS):
        if drill.name == name:
            return drill
    raise BadInputError(f"There is no drill “{name}”; write 4.2 mm, #7, F or 17/64.")


@lru_cache(maxsize=512)
def thread_named(text: str) -> Thread:
    """The thread written as M5, M5x0.8, M5×0.8, 1/4-20, #10-32, 10-32, 1/4 BSW or 2 BA; a bare M5 is the coarse one.

    Raises BadInputError naming what is near.
    """
    wanted = text.strip().upper().replace("×", "X").replace(" ", "").removesuffix("UNC").removesuffix("UNF")
    wanted = wanted.rstrip("-")
    for thread in ALL_THREADS:
        name = thread.name.upper().replace(" ", "")
        if wanted in (name, name.removeprefix("#"), name.replace("X", "-")):
            return thread
        if thread.series == "metric" and wanted == f"M{thread.major_mm:g}":
            return thread
        if thread.series in ("BSW", "BSF") and wanted == name[:-3] + f"-{_MM / thread.pitch_mm:g}" + name[-3:]:
            return thread
    near = ", ".join(t.name for t in ALL_THREADS if t.name.upper()[:2] == wanted[:2]) or (
        "M1.6 to M30, #0-80 to 1 1/2-6, 1/8 to 1 1/2 BSW and BSF, 0 to 10 BA, G1/8 to G1"
    )
    raise BadInputError(f"“{text.strip()[:40]}” is not a thread in the table; there are {near}.")


def engagement_percent(thread: Thread, drill_mm: float) -> float:
    """Thread engagement of a drill by the drill charts' convention; Whitworth and BA of their own depth."""
    return 100 * (thread.major_mm - drill_mm) / thread.chart_mm


def most_percent(thread: Thread) -> float:
    """The engagement at which a drill is as small as the basic minor diameter."""
    return 100.0 if thread.is_old else MOST_PERCENT


def own_sets(thread: Thread) -> tuple[DrillSet, ...]:
    """The drills that go with a thread's system; every set for one of the old systems."""
    if thread.is_old:
        return DRILL_SETS
    return ("metric",) if thread.system == "metric" else ("number", "letter", "fraction")


def tap_drill(thread: Thread, wanted_percent: float, sets: Collection[DrillSet] | None = None) -> Drill:
    """The drill whose engagement is nearest the wanted one, never above 83.4 % nor larger than the thread allows.

    Without ``sets`` those of the thread's own system, and every set where that holds none; where ``sets`` hold none
    small enough, the nearest there is (a finding of ``plan_hole`` tells it). Raises BadInputError when no drill of the
    sets comes near.
    """
    most = most_percent(thread) + 1e-9
    fitting = [d for d in drills(sets or own_sets(thread)) if 0 < engagement_percent(thread, d.diameter_mm) <= most]
    if not fitting:
        raise BadInputError(f"None of these drills serves {thread.name}.")
    allowed = [d for d in fitting if d.diameter_mm <= thread.largest_minor_mm + 1e-9]
    if not allowed and sets is None:
        return tap_drill(thread, wanted_percent, DRILL_SETS)
    return min(
        allowed or fitting,
        key=lambda d: (abs(engagement_percent(thread, d.diameter_mm) - wanted_percent), d.diameter_mm),
    )


def clearance_holes(thread: Thread) -> tuple[float, float, float]:
    """Close, normal and loose clearance hole (mm); raises BadInputError for a size the tables don't hold."""
    close, normal, loose = clearance_drills(thread)
    return close.diameter_mm, normal.diameter_mm, loose.diameter_mm


def clearance_drills(thread: Thread) -> tuple[Drill, Drill, Drill]:
    """Close, normal and loose clearance drill by name.

    For the old systems and what the tables don't hold the next metric drill over 1.03, 1.07 and 1.12 diameters (common
    practice, no source).
    """
    size = thread.major_mm if thread.system == "metric" else round(thread.major_mm / _MM, 4)
    if thread.is_old or size not in (METRIC_CLEARANCE if thread.system == "metric" else INCH_CLEARANCE):
        metric = drills(["metric"])
        close, normal, loose = (
            next(d for d in metric if d.diameter_mm >= f * thread.major_mm) for f in (1.03, 1.07, 1.12)
        )
    elif thread.system == "metric":
        close, normal, loose = (Drill(f"{d:g} mm", d, "metric") for d in METRIC_CLEARANCE[thread.major_mm])
    else:
        close, normal, loose = (drill_named(n) for n in INCH_CLEARANCE[size])
    return close, normal, loose


def counterbore(thread: Thread) -> tuple[float, float]:
    """Diameter and depth (mm) of the counterbore for a socket head: the head's height and an allowance.

    The allowance is DIN 974-2's for metric (0.4 to M6, 0.6 to M20, 0.8 above), 1/64 in otherwise.
    """
    if thread.series == "BA":
        return 1.7 * thread.major_mm, thread.major_mm + 0.4
    if thread.system == "metric":
        allowance = 0.4 if thread.major_mm <= 6 else 0.6 if thread.major_mm <= 20 else 0.8
        return METRIC_COUNTERBORE.get(thread.major_mm, 1.7 * thread.major_mm), thread.major_mm + allowance
    bore = INCH_COUNTERBORE.get(round(thread.major_mm / _MM, 4))
    return bore * _MM if bore is not None else 1.7 * thread.major_mm, thread.major_mm + _MM / 64


def countersink_mm(thread: Thread) -> float:
    """Diameter of a countersink for a flat head (90° metric, 82° inch): ISO 10642 heads, twice the diameter else."""
    return COUNTERSINK_METRIC.get(thread.major_mm, 2 * thread.major_mm) if thread.system == "metric" else (
        2 * thread.major_mm
    )  # fmt: skip


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
    return _plan_hole(thread, material, tap, None if sets is None else frozenset(sets), wall_mm)


@lru_cache(maxsize=2048)
def _plan_hole(
    thread: Thread, material: Material, tap: Tap, sets: frozenset[DrillSet] | None, wall_mm: float | None
) -> HoleData:
    if material not in MATERIALS:
        raise BadInputError(f"“{material}” is not a material of the table; there are {', '.join(MATERIALS)}.")
    wanted = WANTED_PERCENT[material]
    drill = tap_drill(thread, wanted, sets)
    percent = engagement_percent(thread, drill.diameter_mm)
    engaged = ENGAGED_DIAMETERS[material] * thread.major_mm
    depth = engaged + LEAD_PITCHES[tap] * thread.pitch_mm + POINT_118 * drill.diameter_mm
    close, normal, loose = clearance_drills(thread)
    bore, bore_depth = counterbore(thread)
    return HoleData(
        thread=thread,
        tap_drill=drill,
        engagement_percent=percent,
        clearance_mm=(close.diameter_mm, normal.diameter_mm, loose.diameter_mm),
        clearance_names=(close.name, normal.name, loose.name),
        counterbore_mm=bore,
        counterbore_depth_mm=bore_depth,
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
    if drill.diameter_mm > thread.largest_minor_mm + 1e-9:
        found.append(
            finding(
                "drill-too-large",
                "stop",
                "The nearest drill you have, {drill}, is larger than the {most} that {thread} may have: it strips.",
                "Get a drill of {most} or a little less.",
                drill=drill.name, most=Fine(thread.largest_minor_mm), thread=thread.name,
            )
        )  # fmt: skip
    if material == "aluminium" and thread.is_fine:
        found.append(
            finding(
                "fragile-thread",
                "caution",
                "{thread} is a fine thread in soft material: it strips easily.",
                "Use the coarse thread of that diameter, an insert, or a screw right through with a nut.",
                thread=thread.name,
            )
        )
    if wall_mm is not None and depth_mm > wall_mm - 1.0:
        found.append(
            finding(
                "wall-too-thin",
                "stop",
                "The hole is {depth} deep to the drill's tip and the wall only {wall}: it comes through.",
                "Find out what is behind (oil, a gearbox, a bearing). Use a bottoming tap, or a screw right through "
                "with a nut behind it.",
                depth=Mm(depth_mm), wall=Mm(wall_mm),
            )
        )  # fmt: skip
    return found


def tape_flag(hole: HoleData, lip_mm: float = 0.0) -> float:
    """Where to flag the drill with tape (mm from its tip), ``lip_mm`` for a guide it passes through."""
    return math.ceil((hole.drill_depth_mm + lip_mm) * 2) / 2
