"""The part as proof on paper: the table to drive to, drawn, and what the drilled part says."""

from __future__ import annotations

import math
from collections.abc import Iterable
from functools import partial
from typing import Any

from vernus.core.finding import Fine, Ppm, in_units
from vernus.core.units import UnitSystem, format_in, format_plain
from vernus.job.document import Job
from vernus.job.entities import TrialPart
from vernus.job.fields import mm_of
from vernus.job.prove.part import DECIMALS, PartResult, found_places, off_places, part_result, plane_axes, trial_part
from vernus.paper.drawing.prove.holes import REMAINS, paint_holes
from vernus.paper.ink import PRINT
from vernus.paper.page import Block, Picture, Words, heading, table


def trial_part_blocks(job: Job, units: UnitSystem) -> Iterable[Block]:
    """Nothing while no part was begun."""
    if not job.all(TrialPart) or plane_axes(job) is None:
        return
    part = trial_part(job, "none")
    result = part_result(job, part)
    yield heading("A part as proof")
    for axis, middle in zip("XY", result.middle, strict=True):
        if middle is not None:
            where, wide = format_plain(middle.middle_mm, units), format_plain(middle.width_mm, units)
            yield Words(f"{axis}: the middle is at {where}; {wide} between the edges.", after=3)
    if result.holes:
        both = None not in result.middle
        say = partial(format_in, unit=units, decimals=DECIMALS[units])
        rows = [
            (str(n), say(x), say(y), *((say(mm) for mm in result.shown(n)) if both else ("", "")))
            for n, (x, y) in enumerate(result.holes, 1)
        ]
        heads = ("Hole", "X from the middle", "Y from the middle", "X shown" if both else "", "Y shown" if both else "")
        yield from table(heads, rows, (0.1, 0.24, 0.24, 0.21, 0.21), (1, 2, 3, 4))
        radius = None if part.pattern == "row" else mm_of(part.radius)
        draw: Any = partial(paint_holes, holes=result.holes, inks=PRINT, units=units, radius_mm=radius)
        yield Picture(partial(draw, off_mm=found_places(part, result)), 215)
        left = off_places(part, result)
        if left is not None:
            yield Picture(partial(draw, off_mm=left, told=REMAINS), 215)
    yield from _measured(part, result, units)
    check = result.check
    if check is not None:
        for name, scale, sure in (("X", check.scale_x, check.expanded_x), ("Y", check.scale_y, check.expanded_y)):
            known = "" if sure is None else f" ± {sure * 1e6:.0f}"
            foot = f" ({_per_foot(scale - 1)})" if units == "in" else ""
            yield Words(f"Along {name} it came out {Ppm((scale - 1) * 1e6).show(units)}{known}{foot}.", after=3)
        sure = check.expanded_square
        known = "" if sure is None else f" ± {sure * 1e6:.0f}"
        square = f"{check.squareness * 1e6:+.0f}{known}".replace("-", "−")
        words = "Out of square {square} µm per metre. What remains: {rms} (rms)."
        yield Words(in_units(units, words, square=square, rms=Fine(check.rms_mm)))
    for found in result.findings:
        yield Words(f"{found.what.text(units)} {found.remedy.text(units)}", indent=8, after=3)
    yield Words(result.instruction.text(units))


def _per_foot(ratio: float) -> str:
    """A relative error as a machinist in inches says it."""
    return f"{ratio * 12000:+.2f} thou a foot".replace("-", "−")


def _measured(part: TrialPart, result: PartResult, units: UnitSystem) -> Iterable[Block]:
    """What was measured of every hole beside where it was wanted, or of every distance."""
    say = partial(format_in, unit=units, decimals=DECIMALS[units])
    off = off_places(part, result)
    if part.places:
        rows = []
        for p in part.places:
            x, y = result.holes[p.hole - 1] if p.hole <= len(result.holes) else (0.0, 0.0)
            rest = off.get(p.hole) if off else None
            left = ("–", "–") if rest is None else (say(rest[0]), say(rest[1]))
            rows.append((str(p.hole), say(x), say(y), say(p.x.mm), say(p.y.mm), *left))
        heads = ("Hole", "X wanted", "Y wanted", "X found", "Y found", "X left", "Y left")
        yield from table(heads, rows, (0.1, *[0.15] * 6), (1, 2, 3, 4, 5, 6))
    if part.spans:
        apart = [
            (f"{s.first} to {s.second}", say(_apart(result, s.first, s.second)), say(s.apart.mm)) for s in part.spans
        ]
        yield from table(("Holes", "Wanted apart", "Found apart"), apart, (0.3, 0.35, 0.35), (1, 2))


def _apart(result: PartResult, first: int, second: int) -> float:
    """How far two holes are wanted apart (mm)."""
    if max(first, second) > len(result.holes):
        return 0.0
    return math.dist(result.holes[first - 1], result.holes[second - 1])
