"""The calls of what is made: holes, threads and plates."""

from __future__ import annotations

import argparse
from pathlib import Path

from vernus.cli.calc.calls import Answer, Calls
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Size, finding
from vernus.core.make.hardware import DRILL_SETS, MATERIALS, plan_hole, tape_flag, thread_named
from vernus.core.make.joint import close_joint
from vernus.core.make.threads import Candidate, beyond_table, tell_apart, thread_candidates
from vernus.job.formats.joints_and_plates import read_joint, read_plate


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
        "clearance_name": dict(zip(("close", "normal", "loose"), hole.clearance_names, strict=True)),
        "counterbore_mm": hole.counterbore_mm,
        "counterbore_depth_mm": hole.counterbore_depth_mm,
        "min_thread_depth_mm": hole.min_thread_depth_mm,
        "drill_depth_mm": hole.drill_depth_mm,
        "tape_flag_mm": tape_flag(hole),
        "findings": hole.findings,
    }


def add_thread(calls: Calls) -> None:
    """Declare ``calc thread``."""
    thread = calls.add("thread", help="the threads that fit a diameter and a pitch measured")
    thread.add_argument("--diameter", type=calls.length, required=True, help="over the crests, or of the bore")
    pitch = thread.add_mutually_exclusive_group(required=True)
    pitch.add_argument("--pitch", type=calls.length, help="from crest to crest")
    pitch.add_argument("--tpi", type=float, help="threads per inch")
    thread.add_argument("--on", choices=("screw", "bore"), default="screw", help="what was measured")
    thread.set_defaults(run=calc_thread)


def calc_thread(args: argparse.Namespace) -> Answer:
    """Every thread that fits, best first."""
    if args.tpi is not None and not 0 < args.tpi <= 1000:
        raise BadInputError("--tpi is a number of threads per inch, such as 20.")
    pitch_mm = args.pitch if args.tpi is None else 25.4 / args.tpi
    found = thread_candidates(args.diameter, pitch_mm, args.on)
    return {
        "candidates": [
            {
                "name": c.thread.name,
                "system": c.thread.series,
                "diameter_off_mm": c.diameter_off_mm,
                "pitch_off_mm": c.pitch_off_mm,
            }
            for c in found
        ],
        "findings": _thread_findings(found, args.diameter),
    }


def _thread_findings(found: list[Candidate], diameter_mm: float) -> list[Finding]:
    more = [] if not found or not beyond_table(diameter_mm) else [
        finding(
            "beyond-the-table", "caution",
            "{d} is near the end of the table of threads: it may be one beyond the table.",
            "Compare it with a screw or a tap of which you know the thread.",
            d=Size(diameter_mm),
        )
    ]  # fmt: skip
    return [*_alike(found, diameter_mm), *more]


def _alike(found: list[Candidate], diameter_mm: float) -> list[Finding]:
    if not found:
        return [
            finding(
                "no-thread",
                "caution",
                "No thread of the table has about {d} and that pitch.",
                "Measure the screw over its crests and the pitch over ten threads, or with a gauge.",
                d=Size(diameter_mm),
            )
        ]
    if len(found) == 1:
        return []
    ways = tell_apart([c.thread for c in found])
    return [
        finding(
            "threads-alike",
            "info",
            "{names} can't be told apart by these two figures.",
            "Try before tapping: {ways} them apart.",
            names=" and ".join(c.thread.name for c in found),
            ways=ways[:1].lower() + ways[1:],
        )
    ]


def add_plate(calls: Calls) -> None:
    """Declare ``calc plate``."""
    plate = calls.add("plate", help="a plate over existing holes that carries a pattern of its own")
    plate.add_argument("file", type=Path, help="JSON with existing, wanted, keep_out, thickness_mm and material")
    plate.set_defaults(run=calc_plate)


def calc_plate(args: argparse.Namespace) -> Answer:
    """The plate with both patterns from its lower left corner."""
    plan = read_plate(args.file)
    return {
        "holes": [
            {
                "for": h.of,
                "x_mm": h.x_mm,
                "y_mm": h.y_mm,
                "thread": h.thread.name,
                "drill_name": h.drill_name,
                "diameter_mm": h.diameter_mm,
                "counterbore_mm": h.counterbore_mm,
                "counterbore_depth_mm": h.counterbore_depth_mm,
            }
            for h in plan.holes
        ],
        "width_mm": plan.width_mm,
        "height_mm": plan.height_mm,
        "datum_mm": list(plan.datum_mm),
        "feasible": plan.feasible,
        "findings": plan.findings,
    }


def add_joint(calls: Calls) -> None:
    """Declare ``calc joint``."""
    joint = calls.add("joint", help="the screw that closes a joint: what it passes, ends in, and what lies over it")
    joint.add_argument("file", type=Path, help="JSON with thread, layers, into and material")
    joint.set_defaults(run=calc_joint)


def calc_joint(args: argparse.Namespace) -> Answer:
    """The screw on sale, what it engages, how far it is off the bottom, and how far its head stands out."""
    closed = close_joint(read_joint(args.file))
    screw, joint = closed.screw, closed.joint
    return {
        "length_mm": None if screw is None else screw.length_mm,
        "engagement_mm": None if screw is None else screw.engaged_mm,
        "engagement_diameters": None if screw is None else screw.engaged_mm / joint.thread.major_mm,
        "clear_of_bottom_mm": closed.clear_of_bottom_mm,
        "head_proud_mm": joint.head_proud_mm,
        "findings": closed.findings,
    }
