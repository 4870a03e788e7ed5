"""``vernus calc …``: the core for scripts, a file per room. The JSON keys are a contract."""

from __future__ import annotations

import argparse

from vernus.cli.calc import align, feed, keep, machine, make, plan, prove
from vernus.cli.calc.calls import Calls
from vernus.cli.calc.show import show
from vernus.core.units import UnitSystem

__all__ = ["add_calc", "show"]

_DECLARED = (
    plan.add_size, align.add_align, prove.add_counts, prove.add_factor, prove.add_segments, make.add_hole,
    make.add_thread, make.add_plate, make.add_joint,
    machine.add_envelope, machine.add_stroke, prove.add_positioning, prove.add_thermal, prove.add_circle,
    prove.add_part_check, keep.add_schedule, feed.add_gears, feed.add_key,
    feed.add_stops, feed.add_screw_end, feed.add_bracket,
)  # fmt: skip


def add_calc(parser: argparse.ArgumentParser, units: UnitSystem) -> None:
    """Add the calc commands; bare lengths are in ``units``."""
    calls = Calls(parser.add_subparsers(dest="calc", required=True, metavar="WHAT"), units)
    for declare in _DECLARED:
        declare(calls)
