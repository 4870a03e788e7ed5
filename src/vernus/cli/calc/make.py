"""The calls of what is made: holes and threads."""

from __future__ import annotations

import argparse

from vernus.cli.calc.calls import Answer, Calls
from vernus.core.make.hardware import DRILL_SETS, MATERIALS, plan_hole, tape_flag, thread_named


def add_hole(calls: Calls) -> None:
    """Declare ``calc hole``."""
    hole = calls.add("hole", help="tap drill, clearance and depths for a thread")
    hole.add_argument("thread", help="such as M5, M6x0.75, 1/4-20, #10-32")
    hole.add_argument("--material", choices=MATERIALS, required=True)
    hole.add_argument("--tap", choices=("plug", "bottoming"), default="plug")
    hole.add_argument("--wall", type=calls.length, help="thickness of the wall")
    hole.add_argument("--drills", action="append", choices=DRILL_SETS, help="sets you own (default: the thread's own)")
    hole.set_defaults(run=calc_hole)


def calc_hole(args: argparse.Namespace) -> Answer:
    """Everything to drill and tap for a thread."""
    hole = plan_hole(thread_named(args.thread), args.material, tap=args.tap, sets=args.drills, wall_mm=args.wall)
    return {
        "thread": hole.thread.name,
        "tap_drill_mm": hole.tap_drill.diameter_mm,
        "tap_drill_name": hole.tap_drill.name,
        "engagement_percent": hole.engagement_percent,
        "clearance_mm": dict(zip(("close", "normal", "loose"), hole.clearance_mm, strict=True)),
        "counterbore_mm": hole.counterbore_mm,
        "counterbore_depth_mm": hole.counterbore_depth_mm,
        "min_thread_depth_mm": hole.min_thread_depth_mm,
        "drill_depth_mm": hole.drill_depth_mm,
        "tape_flag_mm": tape_flag(hole),
        "findings": hole.findings,
    }
