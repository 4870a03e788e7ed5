"""The calls of the power feed: gears, key, stops, the screw's end, the bracket."""

from __future__ import annotations

import argparse
from pathlib import Path

from vernus.cli.calc.calls import Answer, Calls
from vernus.cli.parsing import number, teeth_reader
from vernus.core.errors import BadInputError
from vernus.core.feed.gears import mesh_gears
from vernus.core.feed.keys import fit_key
from vernus.core.feed.trip import CLEARANCE_MM, estimated_run_on, place_stops, worst_run_on
from vernus.core.finding import Severity, finding
from vernus.core.prove.calibrate.calibration import MM_PER_INCH
from vernus.job.formats.bracket import read_bracket
from vernus.job.formats.screw_end import read_screw_end


def add_gears(calls: Calls) -> None:
    """Declare ``calc gears``."""
    gears = calls.add("gears", help="centres, backlash and contact of two gears")
    gears.add_argument("--teeth", type=teeth_reader, required=True, metavar="N,N", help="of both gears")
    size = gears.add_mutually_exclusive_group(required=True)
    size.add_argument("--module", type=calls.length, metavar="M", help="module, a length")
    size.add_argument("--dp", type=number, metavar="N", help="diametral pitch, per inch")
    gears.add_argument("--pressure-angle", type=number, default=20.0, metavar="DEG")
    play = gears.add_mutually_exclusive_group(required=True)
    play.add_argument("--backlash", type=calls.length, help="at the pitch circle")
    play.add_argument("--paper", type=calls.length, help="thickness of the strip")
    gears.add_argument("--flanks", type=int, choices=(1, 2), default=1, help="flanks the paper lies on")
    gears.set_defaults(run=calc_gears)


def calc_gears(args: argparse.Namespace) -> Answer:
    """Nominal centres, how far to open them, backlash and contact ratio."""
    module = args.module if args.module is not None else _module_of(args.dp)
    mesh = mesh_gears(
        module, args.teeth, args.pressure_angle, backlash_mm=args.backlash, paper_mm=args.paper, flanks=args.flanks
    )
    return {
        "centre_mm": mesh.centre_mm,
        "backlash_mm": mesh.backlash_mm,
        "open_mm": mesh.open_mm,
        "contact_ratio": mesh.contact_ratio,
        "findings": mesh.findings,
    }


def add_key(calls: Calls) -> None:
    """Declare ``calc key``."""
    key = calls.add("key", help="a key in a slot of another width")
    key.add_argument("--key", type=calls.length, required=True)
    key.add_argument("--slot", type=calls.length, required=True)
    key.add_argument("--rim", type=calls.length, help="diameter of the handwheel's rim")
    key.add_argument("--shaft", type=calls.length, help="diameter of the shaft")
    key.set_defaults(run=calc_key)


def calc_key(args: argparse.Namespace) -> Answer:
    """Slack of a key, and the play at the handwheel's rim."""
    found = fit_key(args.key, args.slot, args.rim, args.shaft)
    severity: Severity = "info" if found.verdict == "fits" else "caution"
    told = finding(
        f"key-{found.verdict}", severity, "{words}", "Measure key and slot again before filing.", words=found.words
    )
    return {"slack_mm": found.slack_mm, "play_mm": found.play_mm, "findings": [told]}


def add_stops(calls: Calls) -> None:
    """Declare ``calc stops``."""
    stops = calls.add("stops", help="trip positions of a power feed")
    stops.add_argument("--hard", type=calls.pair, required=True, metavar="L;L", help="the two hard stops")
    stops.add_argument("--scale", type=calls.pair, metavar="L;L", help="axis positions at the scale's two ends")
    stops.add_argument("--rapid", type=number, metavar="MM_PER_MIN", help="fastest feed")
    stops.add_argument("--run-on", type=calls.length, help="measured at the fastest feed")
    stops.add_argument("--switch-s", type=number, metavar="S", help="until measured: the switch lets go after")
    stops.add_argument("--brake-s", type=number, metavar="S", help="until measured: it brakes within")
    stops.add_argument("--clear", type=calls.length, default=CLEARANCE_MM, help="of the hard stops (default 3 mm)")
    stops.add_argument("--scale-margin", type=calls.length, default=0.0)
    stops.set_defaults(run=calc_stops)


def calc_stops(args: argparse.Namespace) -> Answer:
    """Run-on and trip positions."""
    run_on, findings = args.run_on, []
    if run_on is None:
        if None in (args.rapid, args.switch_s, args.brake_s):
            raise BadInputError("Give --run-on as measured, or --rapid, --switch-s and --brake-s to estimate it.")
        run_on = estimated_run_on(args.rapid, args.switch_s, args.brake_s)
        findings = worst_run_on([])[1]
    stops = place_stops(
        sorted_pair(args.hard), (run_on, run_on), clear_mm=args.clear,
        scale_mm=None if args.scale is None else sorted_pair(args.scale), scale_margin_mm=args.scale_margin,
    )  # fmt: skip
    return {"run_on_mm": run_on, "trip_mm": list(stops.trip_mm), "findings": [*findings, *stops.findings]}


def _module_of(pitch: float) -> float:
    if not pitch > 0:
        raise BadInputError("The diametral pitch must be larger than zero, such as 12.")
    return MM_PER_INCH / pitch


def sorted_pair(ends: tuple[float, float]) -> tuple[float, float]:
    """Two ends, the low one first."""
    return min(ends), max(ends)


def add_screw_end(calls: Calls) -> None:
    """Declare ``calc screw-end``."""
    end = calls.add("screw-end", help="what carries the drive gear to the plane of the unit's gear")
    end.add_argument("file", type=Path, help="JSON with the screw's end, the gear and its plane")
    end.set_defaults(run=calc_screw_end)


def calc_screw_end(args: argparse.Namespace) -> Answer:
    """The one scheme that fits, and its parts."""
    plan = read_screw_end(args.file)
    return {
        "scheme": plan.scheme,
        "parts": [
            {
                "part": p.part,
                "bore_mm": p.bore_mm,
                "seat_mm": p.seat_mm,
                "outside_mm": p.outside_mm,
                "length_mm": p.length_mm,
                "keyway_mm": p.keyway_mm,
                "from_mm": p.from_mm,
                "socket_mm": p.socket_mm,
            }
            for p in plan.parts
        ],
        "gear_plane_mm": list(plan.gear_plane_mm),
        "short_by_mm": plan.short_by_mm,
        "findings": plan.findings,
    }


def add_bracket(calls: Calls) -> None:
    """Declare ``calc bracket``."""
    bracket = calls.add("bracket", help="the plate that carries a feed unit in place of the bearing's bracket")
    bracket.add_argument("file", type=Path, help="JSON with bearing, screw and both patterns from the screw's axis")
    bracket.set_defaults(run=calc_bracket)


def calc_bracket(args: argparse.Namespace) -> Answer:
    """The plate with its holes from the screw's axis."""
    solved = read_bracket(args.file)
    return {
        "holes": [
            {
                "for": h.for_,
                "x_mm": h.x_mm,
                "y_mm": h.y_mm,
                "diameter_mm": h.diameter_mm,
                "slot_mm": h.slot_mm,
                "slot_angle_deg": h.slot_angle_deg,
            }
            for h in solved.holes
        ],
        "thickness_mm": solved.part.thickness_mm,
        "width_mm": solved.part.length_mm,
        "height_mm": solved.part.width_mm,
        "screw_at_mm": list(solved.screw_mm),
        "findings": solved.findings,
    }
