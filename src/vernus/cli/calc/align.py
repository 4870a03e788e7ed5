"""The calls of the alignment."""

from __future__ import annotations

import argparse
from pathlib import Path

from vernus.cli.calc.calls import Answer, Calls
from vernus.cli.parsing import number
from vernus.core.align.sweep import DEFAULT_DIVISION_MM, DEFAULT_TOLERANCE_MM, Indicator, analyse_sweep, correct
from vernus.core.align.sweep_review import review_sweep
from vernus.core.finding import finding
from vernus.job.formats.measurements import read_measurements


def add_align(calls: Calls) -> None:
    """Declare ``calc align``."""
    align = calls.add("align", help="tilt of a sweep and the correction")
    align.add_argument("csv", type=Path, help="columns station and reading, such as station_mm,reading_um")
    align.add_argument("--sense", choices=("toward", "away"), default="toward")
    align.add_argument("--lever-angle", type=number, default=0.0, metavar="DEG")
    align.add_argument("--screws", type=calls.pair, metavar="L;L", help="stations of the two end screws")
    align.add_argument("--hold", choices=("left", "right"), default="left", help="the screw kept tight")
    align.add_argument(
        "--tolerance",
        type=calls.length,
        default=DEFAULT_TOLERANCE_MM,
        help="over the screws, or the sweep if it is longer (default 0.05 mm)",
    )
    align.add_argument(
        "--division", type=calls.length, default=DEFAULT_DIVISION_MM, help="of the dial (default 0.01 mm)"
    )
    align.set_defaults(run=calc_align)


def calc_align(args: argparse.Namespace) -> Answer:
    """Tilt, bow, verdict and correction of a sweep."""
    columns = read_measurements(args.csv, ("station", "reading"))
    indicator = Indicator(args.sense, args.lever_angle, args.division)
    apart = abs(args.screws[1] - args.screws[0]) if args.screws else None
    sweep = analyse_sweep(columns["station"], columns["reading"], indicator, args.tolerance, apart)
    findings = review_sweep(sweep, columns["reading"], indicator, args.screws)
    fix = correct(sweep, columns["reading"], indicator, args.screws, args.hold) if args.screws else None
    if fix is None:
        findings.append(
            finding(
                "no-screws",
                "info",
                "The places of the two end screws are not given, so there is no advice on which to move.",
                "Give them with --screws, such as --screws 20;480.",
            )
        )
    advice = fix and {
        "hold_mm": fix.hold_mm,
        "move_mm": fix.move_mm,
        "shift_mm": fix.shift_mm,
        "u_shift_mm": fix.u_shift_mm,
        "park_mm": fix.park_mm,
        "dial_target_mm": fix.dial_target_mm,
    }
    return {
        "slope_mm_per_m": sweep.line.slope * 1000,
        "u_slope_mm_per_m": sweep.line.u_slope * 1000,
        "end_to_end_mm": sweep.end_to_end_mm,
        "u_end_to_end_mm": sweep.line.u_slope * sweep.swept_mm,
        "judged_over_mm": sweep.judged_mm,
        "rise_mm": sweep.rise_mm,
        "expanded_mm": sweep.expanded_mm,
        "bow_mm": sweep.bow_mm,
        "bow_expanded_mm": sweep.bow_expanded_mm,
        "verdict": sweep.verdict,
        "u_shift_mm": fix.u_shift_mm if fix else None,
        "advice": advice,
        "findings": findings,
    }
