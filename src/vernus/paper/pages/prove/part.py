"""The part as proof on paper: the table to drive to, drawn, and what the drilled part says."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial
from typing import Any

from vernus.core.finding import Fine, Ppm, in_units
from vernus.core.units import UnitSystem, format_in, format_plain
from vernus.job.document import Job
from vernus.job.entities import TrialPart
from vernus.job.fields import mm_of
from vernus.job.prove.part import DECIMALS, off_places, part_result, plane_axes, trial_part
from vernus.paper.drawing.prove.holes import paint_holes
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
        off = off_places(part, result)
        radius = None if part.pattern == "row" else mm_of(part.radius)
        draw: Any = partial(paint_holes, holes=result.holes, inks=PRINT, units=units, radius_mm=radius, off_mm=off)
        yield Picture(draw, 300)
    check = result.check
    if check is not None:
        for name, scale, sure in (("X", check.scale_x, check.expanded_x), ("Y", check.scale_y, check.expanded_y)):
            known = "" if sure is None else f" ± {sure * 1e6:.0f}"
            yield Words(f"Along {name} it came out {Ppm((scale - 1) * 1e6).show(units)}{known}.", after=3)
        sure = check.expanded_square
        known = "" if sure is None else f" ± {sure * 1e6:.0f}"
        square = f"{check.squareness * 1e6:+.0f}{known}".replace("-", "−")
        words = "Out of square {square} µm per metre. What remains: {rms} (rms)."
        yield Words(in_units(units, words, square=square, rms=Fine(check.rms_mm)))
    for found in result.findings:
        yield Words(f"{found.what.text(units)} {found.remedy.text(units)}", indent=8, after=3)
    yield Words(result.instruction.text(units))
