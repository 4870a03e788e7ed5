"""``vernus calc …``: the core for scripts. The JSON keys are a contract."""

from __future__ import annotations

import argparse
import json
from collections.abc import Iterable
from pathlib import Path
from typing import Any

from vernus.cli.calc_feed import add_feed
from vernus.cli.parsing import length_reader, number, screws_reader, whole_number
from vernus.core.align.sweep import DEFAULT_DIVISION_MM, DEFAULT_TOLERANCE_MM, Indicator, analyse_sweep, correct
from vernus.core.align.sweep_review import review_sweep
from vernus.core.finding import Finding, Tiny, finding
from vernus.core.machine.travel_kept import keep_travel
from vernus.core.make.hardware import DRILL_SETS, MATERIALS, plan_hole, tape_flag, thread_named
from vernus.core.plan.scales import choose_sizes, family_by_id, required_length
from vernus.core.prove.calibration import DEFAULT_ERROR_MM, MM_PER_INCH, MoveCheck, count_per_unit, fit_factor
from vernus.core.prove.compensation import DEFAULT_STEP_MM, fit_segments
from vernus.core.prove.positioning import OneWay, analyse_positioning
from vernus.core.prove.thermal import SUBSTANCES, check_temperature
from vernus.core.units import UnitSystem, format_fine, format_length
from vernus.job.catalog.shipped import scale_families
from vernus.job.formats.machine import read_envelope
from vernus.job.formats.measurements import read_measurements

Answer = dict[str, Any]


def add_calc(parser: argparse.ArgumentParser, units: UnitSystem) -> None:
    """Add the calc commands; bare lengths are in ``units``."""
    length = length_reader(units)
    commands = parser.add_subparsers(dest="calc", required=True, metavar="WHAT")

    size = commands.add_parser("size", help="scale sizes that serve a travel")
    size.add_argument("--travel", type=length, required=True)
    size.add_argument("--margin", type=length, default=10.0, help="at each end (default 10 mm)")
    size.add_argument("--face", type=length, help="length of the face it is screwed to")
    size.add_argument("--family", help="one family only")
    size.set_defaults(run=calc_size)

    align = commands.add_parser("align", help="tilt of a sweep and the correction")
    align.add_argument("csv", type=Path, help="columns station and reading, such as station_mm,reading_um")
    align.add_argument("--sense", choices=("toward", "away"), default="toward")
    align.add_argument("--lever-angle", type=number, default=0.0, metavar="DEG")
    align.add_argument("--screws", type=screws_reader(units), metavar="L;L", help="stations of the two end screws")
    align.add_argument("--hold", choices=("left", "right"), default="left", help="the screw kept tight")
    align.add_argument("--tolerance", type=length, default=DEFAULT_TOLERANCE_MM, help="end to end (default 0.05 mm)")
    align.add_argument("--division", type=length, default=DEFAULT_DIVISION_MM, help="of the dial (default 0.01 mm)")
    align.set_defaults(run=calc_align)

    counts = commands.add_parser("counts", help="counts per unit from one known move")
    was = counts.add_mutually_exclusive_group(required=True)
    was.add_argument("--set-cpi", type=number, metavar="N", help="counts per inch set now")
    was.add_argument("--set-cpmm", type=number, metavar="N", help="counts per mm set now")
    counts.add_argument("--shown", type=length, required=True, help="what the display showed")
    counts.add_argument("--moved", type=length, required=True, help="the true move")
    counts.add_argument("--u-shown", type=length, default=0.0, help="its standard uncertainty, rounding apart")
    counts.add_argument("--u-moved", type=length, default=0.0, help="standard uncertainty of the true move")
    counts.add_argument("--travel", type=length, help="travel the counts are used over")
    counts.add_argument("--error", type=length, default=DEFAULT_ERROR_MM, help="wanted over it (default 0.01 mm)")
    counts.add_argument("--step", type=length, default=0.0, help="last step of the display")
    counts.set_defaults(run=calc_counts)

    factor = commands.add_parser("factor", help="linear factor from stations")
    factor.add_argument("csv", type=Path, help="columns target and shown, such as target_mm,shown_mm")
    factor.add_argument("--current", type=number, default=1.0, metavar="F", help="factor set now (default 1)")
    factor.set_defaults(run=calc_factor)

    segments = commands.add_parser("segments", help="table of corrections to key in")
    segments.add_argument("csv", type=Path, help="columns target and shown, such as target_mm,shown_mm")
    segments.add_argument("--points", type=whole_number, required=True, metavar="N", help="first and last included")
    segments.add_argument("--spacing", choices=("equal", "free"), default="free")
    segments.add_argument("--step", type=length, default=DEFAULT_STEP_MM, help="of the values (default 0.001 mm)")
    segments.set_defaults(run=calc_segments)

    hole = commands.add_parser("hole", help="tap drill, clearance and depths for a thread")
    hole.add_argument("thread", help="such as M5, M6x0.75, 1/4-20, #10-32")
    hole.add_argument("--material", choices=MATERIALS, required=True)
    hole.add_argument("--tap", choices=("plug", "bottoming"), default="plug")
    hole.add_argument("--wall", type=length, help="thickness of the wall")
    hole.add_argument("--drills", action="append", choices=DRILL_SETS, help="sets you own (default: the thread's own)")
    hole.set_defaults(run=calc_hole)

    envelope = commands.add_parser("envelope", help="travel kept by boxes on moving members")
    envelope.add_argument("file", type=Path, help="JSON with members, axes, boxes and clearance_mm")
    envelope.set_defaults(run=calc_envelope)

    positioning = commands.add_parser("positioning", help="ISO 230-2 figures of readings in both directions")
    positioning.add_argument(
        "csv", type=Path, help="columns target, shown and approach (+ or -), such as target_mm,shown_mm"
    )
    positioning.set_defaults(run=calc_positioning)

    thermal = commands.add_parser("thermal", help="what temperature makes a scale and a reference differ")
    thermal.add_argument("--length", type=length, required=True, help="of the move")
    thermal.add_argument("--scale", choices=SUBSTANCES, required=True, help="what carries the graduation")
    thermal.add_argument("--reference", choices=SUBSTANCES, required=True, help="what it is compared with")
    thermal.add_argument("--t-scale", type=number, required=True, metavar="C", help="temperature in °C")
    thermal.add_argument("--t-reference", type=number, required=True, metavar="C", help="temperature in °C")
    thermal.add_argument("--drift", type=length, help="change seen: shown less nominal")
    thermal.add_argument("--u-drift", type=length, default=0.0, help="its standard uncertainty")
    thermal.set_defaults(run=calc_thermal)

    add_feed(commands, length, units)
    for command in commands.choices.values():
        command.add_argument("--units", choices=("mm", "in"), default="mm", help="of bare numbers, and of the answer")
        command.add_argument("--json", action="store_true", help="one JSON object, lengths in mm")


def calc_size(args: argparse.Namespace) -> Answer:
    """The sizes of each family that serve a travel."""
    families = scale_families()
    chosen = [family_by_id(families, args.family)] if args.family else families
    choices, findings = choose_sizes(chosen, args.travel, args.margin, args.face)
    return {
        "required_mm": required_length(args.travel, args.margin),
        "choices": [
            {
                "family": c.family.id,
                "measuring_length_mm": c.measuring_mm,
                "overall_length_mm": c.overall_mm,
                "cut_to_mm": c.cut_to_mm,
                "spare_each_end_mm": c.spare_each_end_mm,
                "fits_face": c.fits_face,
            }
            for c in choices
        ],
        "findings": findings,
    }


def calc_align(args: argparse.Namespace) -> Answer:
    """Tilt, bow, verdict and correction of a sweep."""
    columns = read_measurements(args.csv, ("station", "reading"))
    indicator = Indicator(args.sense, args.lever_angle, args.division)
    sweep = analyse_sweep(columns["station"], columns["reading"], indicator, args.tolerance)
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
        "bow_mm": sweep.bow_mm,
        "verdict": sweep.verdict,
        "u_shift_mm": fix.u_shift_mm if fix else None,
        "advice": advice,
        "findings": findings,
    }


def calc_counts(args: argparse.Namespace) -> Answer:
    """Counts per unit from one known move."""
    per_mm = args.set_cpmm if args.set_cpmm is not None else args.set_cpi / MM_PER_INCH
    check = MoveCheck(args.shown, args.moved, per_mm, args.u_shown, args.u_moved, args.step)
    counts = count_per_unit(check, args.travel, args.error)
    return {
        "counts_per_inch": counts.counts_per_inch,
        "counts_per_mm": counts.counts_per_mm,
        "count_um": counts.count_um,
        "u_rel": counts.u_rel,
        "nominal": counts.nominal_per_inch,
        "min_length_mm": counts.min_length_mm,
        "findings": counts.findings,
    }


def calc_factor(args: argparse.Namespace) -> Answer:
    """The linear factor from stations."""
    columns = read_measurements(args.csv, ("target", "shown"))
    fit = fit_factor(columns["target"], columns["shown"], args.current)
    return {
        "factor": fit.factor,
        "u_factor": fit.u_factor,
        "ppm": fit.ppm,
        "intercept_mm": fit.intercept_mm,
        "u_intercept_mm": fit.u_intercept_mm,
        "slope": fit.slope,
        "u_slope": fit.u_slope,
        "residual_sd_mm": fit.residual_sd_mm,
        "findings": fit.findings,
    }


def calc_segments(args: argparse.Namespace) -> Answer:
    """The table of corrections from stations."""
    columns = read_measurements(args.csv, ("target", "shown"))
    table = fit_segments(columns["shown"], columns["target"], args.points, args.spacing, args.step)
    return {
        "knots": [{"at_mm": k.at_mm, "correction_mm": k.correction_mm} for k in table.knots],
        "max_residual_mm": table.max_residual_mm,
        "rms_residual_mm": table.rms_residual_mm,
        "linear_max_residual_mm": table.linear_max_mm,
        "findings": table.findings,
    }


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


def calc_envelope(args: argparse.Namespace) -> Answer:
    """Travel kept per axis, and the pairs of boxes that can meet."""
    envelope = read_envelope(args.file)
    result = keep_travel(envelope)
    kept = result.kept
    travel = None if kept is None else {k: high - low for k, (low, high) in kept.items()}
    return {
        "kept": None if kept is None else {k: list(span) for k, span in kept.items()},
        "travel_mm": travel,
        "lost_mm": None if travel is None else {a.id: a.travel_mm - travel[a.id] for a in envelope.axes},
        "score": result.score,
        "pairs": [
            {"a": m.a.name, "b": m.b.name, "blocked": {k: list(span) for k, span in m.blocked.items()}}
            for m in result.pairs
        ],
        "findings": result.findings,
    }


def calc_positioning(args: argparse.Namespace) -> Answer:
    """Reversal, repeatability and accuracy; deviations are shown − target."""
    rows = read_measurements(args.csv, ("target", "shown"), ("approach",))
    deviations = [shown - target for shown, target in zip(rows["shown"], rows["target"], strict=True)]
    found = analyse_positioning(rows["target"], [mark > 0 for mark in rows["approach"]], deviations)
    answer: Answer = {
        "B_um": _um(found.reversal_mm),
        "B_mean_um": _um(found.mean_reversal_mm),
        "M_um": _um(found.range_mean_mm),
        "E_um": _um(found.systematic_mm),
        "R_um": _um(found.repeatability_mm),
        "A_um": _um(found.accuracy_mm),
    }
    for way, one in (("up", found.up), ("down", found.down)):
        figures = one or OneWay(None, None, None)
        answer[f"E_{way}_um"] = _um(figures.systematic_mm)
        answer[f"R_{way}_um"] = _um(figures.repeatability_mm)
        answer[f"A_{way}_um"] = _um(figures.accuracy_mm)
    return {**answer, "findings": found.findings}


def calc_thermal(args: argparse.Namespace) -> Answer:
    """What temperature makes, and whether a drift can be that."""
    check = check_temperature(
        args.length, args.scale, args.reference, args.t_scale, args.t_reference, drift_mm=args.drift,
        u_drift_mm=args.u_drift,
    )  # fmt: skip
    return {
        "expected_um": _um(check.expected_mm),
        "range_um": [_um(check.least_mm), _um(check.greatest_mm)],
        "explained": check.explained,
        "findings": check.findings,
    }


def _um(length_mm: float | None) -> float | None:
    return None if length_mm is None else length_mm * 1000


def show(answer: Answer, as_json: bool, system: UnitSystem) -> str:
    """The answer as one JSON object, or as a short table for people."""
    findings: Iterable[Finding] = answer.pop("findings")
    if as_json:
        return json.dumps({**answer, "findings": [f.as_json(system) for f in findings]}, ensure_ascii=False, indent=2)
    lines = list(_table(answer, system))
    for found in findings:
        told = found.as_json(system)
        lines += ["", f"{told['severity'].upper()}: {told['text']}", f"  → {told['remedy']}"]
    return "\n".join(lines)


def _table(answer: Answer, system: UnitSystem, indent: str = "") -> Iterable[str]:
    for key, value in answer.items():
        name = (key if key == "counts_per_mm" else key.removesuffix("_mm").removesuffix("_um")).replace("_", " ")
        if isinstance(value, list) and all(isinstance(v, float | int) for v in value) and value:
            told = (Tiny(v / 1000).show(system) if key.endswith("_um") else format_length(v, system) for v in value)
            yield f"{indent}{name:<{26 - len(indent)}}" + " to ".join(told)
        elif isinstance(value, list):
            for item in value:
                yield ""
                yield from _table(item, system, indent)
        elif isinstance(value, dict):
            yield f"{indent}{name}"
            unit = "_mm" if key.endswith("_mm") else ""
            yield from _table({f"{k}{unit}": v for k, v in value.items()}, system, indent + "  ")
        else:
            yield f"{indent}{name:<{26 - len(indent)}}{_cell(key, value, system)}"


def _cell(key: str, value: Any, system: UnitSystem) -> str:
    if value is None:
        return "–"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if key.endswith("_mm") and key != "counts_per_mm" and isinstance(value, float | int):
        signed = any(word in key for word in ("shift", "correction", "slack"))
        fine = signed or any(
            word in key for word in ("target", "bow", "end_to_end", "residual", "intercept", "backlash", "open")
        )
        return format_fine(value, system, sign=signed) if fine else format_length(value, system)
    if key.endswith("_um"):
        return Tiny(value / 1000).show(system)
    return f"{value:.9g}" if isinstance(value, float) else str(value)
