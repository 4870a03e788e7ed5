"""The calls of the proof: counts, factor, table, positioning, temperature."""

from __future__ import annotations

import argparse
import math
from pathlib import Path
from typing import Literal

from vernus.cli.calc.calls import Answer, Calls
from vernus.cli.parsing import number, whole_number
from vernus.core.budget import Verdict
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, finding
from vernus.core.prove.calibrate.calibration import (
    DEFAULT_ERROR_MM,
    MM_PER_INCH,
    average_moves,
    review_repeats,
    review_stations,
)
from vernus.core.prove.calibrate.compensation import DEFAULT_STEP_MM, fit_segments
from vernus.core.prove.calibrate.counts import count_per_unit
from vernus.core.prove.calibrate.factor import fit_factor
from vernus.core.prove.circle import circle_of_holes
from vernus.core.prove.part_check import check_distances, check_places
from vernus.core.prove.positioning import A_ABOVE, OneWay, analyse_positioning
from vernus.core.prove.thermal import SUBSTANCES, check_temperature
from vernus.job.disk import read_text
from vernus.job.formats.measurements import LARGEST_CSV, read_measurements


def add_counts(calls: Calls) -> None:
    """Declare ``calc counts``."""
    counts = calls.add("counts", help="counts per unit from one known move")
    was = counts.add_mutually_exclusive_group(required=True)
    was.add_argument("--set-cpi", type=number, metavar="N", help="counts per inch set now")
    was.add_argument("--set-cpmm", type=number, metavar="N", help="counts per mm set now")
    counts.add_argument("csv", type=Path, nargs="?", help="repeats in place of --shown and --moved: moved_mm,shown_mm")
    counts.add_argument("--shown", type=calls.length, help="what the display showed")
    counts.add_argument("--moved", type=calls.length, help="the true move")
    counts.add_argument("--u-shown", type=calls.length, default=0.0, help="its standard uncertainty, rounding apart")
    counts.add_argument("--u-moved", type=calls.length, default=0.0, help="standard uncertainty of the true move")
    counts.add_argument("--travel", type=calls.length, help="travel the counts are used over")
    counts.add_argument("--error", type=calls.length, help="wanted over it (default 0.01 mm); judged where given")
    counts.add_argument("--step", type=calls.length, default=0.0, help="last step of the display")
    counts.set_defaults(run=calc_counts)


def calc_counts(args: argparse.Namespace) -> Answer:
    """Counts per unit from one known move."""
    per_mm = args.set_cpmm if args.set_cpmm is not None else args.set_cpi / MM_PER_INCH
    one_move = args.shown is not None and args.moved is not None
    if one_move == (args.csv is not None) or (args.shown is None) != (args.moved is None):
        raise BadInputError("Give --shown and --moved, or a CSV of repeats (moved_mm,shown_mm), not both.")
    rows = {"moved": [args.moved], "shown": [args.shown]}
    if args.csv is not None:
        rows = read_measurements(args.csv, ("moved", "shown"))
    check = average_moves(rows["shown"], rows["moved"], per_mm, args.u_shown, args.u_moved, args.step)
    per: Literal["in", "mm"] = "mm" if args.set_cpmm is not None else "in"
    counts = count_per_unit(check, args.travel, DEFAULT_ERROR_MM if args.error is None else args.error, per)
    odd = review_repeats(rows["shown"], rows["moved"], max(1 / per_mm, args.step))
    return {
        "n": check.n,
        "scatter_mm": check.scatter_mm if check.n > 1 else None,
        "counts_per_inch": counts.counts_per_inch,
        "counts_per_mm": counts.counts_per_mm,
        "count_um": counts.count_um,
        "u_rel": counts.u_rel,
        "U_rel": check.expanded_rel,
        "nominal": counts.nominal_per_inch,
        "min_length_mm": counts.min_length_mm,
        **_judged(None if args.error is None else check.judge(args.error, args.travel, doubtful=bool(odd))),
        "findings": [*odd, *counts.findings],
    }


def _judged(verdict: Verdict | None) -> Answer:
    """The verdict as a key, where a limit was given."""
    return {} if verdict is None else {"verdict": verdict}


def add_factor(calls: Calls) -> None:
    """Declare ``calc factor``."""
    factor = calls.add("factor", help="linear factor from stations")
    factor.add_argument("csv", type=Path, help="columns target and shown, such as target_mm,shown_mm")
    factor.add_argument("--current", type=number, default=1.0, metavar="F", help="factor set now (default 1)")
    factor.add_argument("--step", type=calls.length, default=0.0, help="last step of the display")
    factor.add_argument("--error", type=calls.length, help="wanted over the stations: judged where given")
    factor.set_defaults(run=calc_factor)


def calc_factor(args: argparse.Namespace) -> Answer:
    """The linear factor from stations."""
    columns = read_measurements(args.csv, ("target", "shown"))
    fit = fit_factor(columns["target"], columns["shown"], args.current)
    sure, odd = fit.expanded(args.step), review_stations(columns["shown"], columns["target"], args.step)
    verdict = None if args.error is None else fit.judge(args.error, args.step, doubtful=bool(odd))
    return {
        "factor": fit.factor,
        "u_factor": fit.u_factor,
        "U_factor": sure,
        **_judged(verdict),
        "ppm": fit.ppm,
        "intercept_mm": fit.intercept_mm,
        "u_intercept_mm": fit.u_intercept_mm,
        "slope": fit.slope,
        "u_slope": fit.u_slope,
        "residual_sd_mm": fit.residual_sd_mm,
        "findings": [*odd, *fit.findings],
    }


def add_segments(calls: Calls) -> None:
    """Declare ``calc segments``."""
    segments = calls.add("segments", help="table of corrections to key in")
    segments.add_argument("csv", type=Path, help="columns target and shown, such as target_mm,shown_mm")
    segments.add_argument("--points", type=whole_number, required=True, metavar="N", help="first and last included")
    segments.add_argument("--spacing", choices=("equal", "free"), default="free")
    segments.add_argument("--step", type=calls.length, default=DEFAULT_STEP_MM, help="of the values (default 0.001 mm)")
    segments.set_defaults(run=calc_segments)


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


def add_positioning(calls: Calls) -> None:
    """Declare ``calc positioning``."""
    positioning = calls.add("positioning", help="ISO 230-2 figures of readings in both directions")
    positioning.add_argument(
        "csv", type=Path, help="columns target, shown and approach (+ or -), such as target_mm,shown_mm"
    )
    positioning.add_argument("--tolerance", type=calls.length, help="for A over both directions: judged where given")
    positioning.set_defaults(run=calc_positioning)


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
    spread = found.pooled_mm
    answer["U_A_um"] = None if spread is None or found.accuracy_mm is None else _um(A_ABOVE * spread)
    if args.tolerance is not None:
        answer["verdict"] = found.judge_accuracy(args.tolerance) or "unsure"
    return {**answer, "findings": found.findings}


def add_thermal(calls: Calls) -> None:
    """Declare ``calc thermal``."""
    thermal = calls.add("thermal", help="what temperature makes a scale and a reference differ")
    thermal.add_argument("--length", type=calls.length, required=True, help="of the move")
    thermal.add_argument("--scale", choices=SUBSTANCES, required=True, help="what carries the graduation")
    thermal.add_argument("--reference", choices=SUBSTANCES, required=True, help="what it is compared with")
    thermal.add_argument("--t-scale", type=number, required=True, metavar="C", help="temperature in °C")
    thermal.add_argument("--t-reference", type=number, required=True, metavar="C", help="temperature in °C")
    thermal.add_argument("--drift", type=calls.length, help="change seen: shown less nominal")
    thermal.add_argument("--u-drift", type=calls.length, default=0.0, help="its standard uncertainty")
    thermal.set_defaults(run=calc_thermal)


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


def add_circle(calls: Calls) -> None:
    """Declare ``calc circle``."""
    circle = calls.add("circle", help="a circle of holes, or a part of one, as a table to drive to")
    circle.add_argument("--holes", type=whole_number, required=True, metavar="N")
    circle.add_argument("--radius", type=calls.length, required=True)
    circle.add_argument("--start", type=number, default=0.0, metavar="DEG", help="of the first hole, from +x")
    circle.add_argument("--span", type=number, default=360.0, metavar="DEG", help="counter-clockwise (default 360)")
    circle.add_argument("--centre", type=calls.pair, default=(0.0, 0.0), metavar="L;L", help="default 0;0")
    circle.set_defaults(run=calc_circle)


def calc_circle(args: argparse.Namespace) -> Answer:
    """The places of the holes."""
    places = circle_of_holes(args.holes, args.radius, args.start, args.span, tuple(args.centre))
    return {"holes": [{"x_mm": x, "y_mm": y} for x, y in places], "findings": []}


_PLACES = ("x", "y", "measured_x", "measured_y")
_DISTANCES = ("from_x", "from_y", "to_x", "to_y", "measured")


def add_part_check(calls: Calls) -> None:
    """Declare ``calc part-check``."""
    check = calls.add("part-check", help="scale of both axes and squareness from a drilled part")
    check.add_argument("csv", type=Path, help="x_mm,y_mm,measured_x_mm,measured_y_mm, or from_x_mm,from_y_mm,to_x_mm,"
                       "to_y_mm,measured_mm")  # fmt: skip
    check.set_defaults(run=calc_part_check)


def calc_part_check(args: argparse.Namespace) -> Answer:
    """What the measured holes or distances of a part say."""
    rows = read_measurements(args.csv, _DISTANCES if "from_x" in _head(args.csv) else _PLACES)
    if "from_x" in rows:
        starts, ends = zip(rows["from_x"], rows["from_y"], strict=True), zip(rows["to_x"], rows["to_y"], strict=True)
        found = check_distances(list(starts), list(ends), rows["measured"])
    else:
        wanted = list(zip(rows["x"], rows["y"], strict=True))
        found = check_places(wanted, list(zip(rows["measured_x"], rows["measured_y"], strict=True)))
    um, sure = 1e6, found.expanded_square
    return {
        "scale_x": found.scale_x,
        "u_scale_x": found.u_scale_x,
        "U_scale_x": found.expanded_x,
        "scale_y": found.scale_y,
        "u_scale_y": found.u_scale_y,
        "U_scale_y": found.expanded_y,
        "squareness_um_per_m": found.squareness * um,
        "u_squareness_um_per_m": None if found.u_squareness is None else found.u_squareness * um,
        "U_squareness_um_per_m": None if sure is None else sure * um,
        "residual_um": _um(found.rms_mm),
        "turn_deg": None if found.turn is None else math.degrees(found.turn),
        "findings": [*([] if found.freedom > 0 else [_none_to_spare()]), *(_odd_row(n) for n in found.odd)],
    }


def _head(path: Path) -> str:
    """The beginning of a file, to see which of the two tables it is; raises VernusError where it can't be read."""
    return read_text(path, LARGEST_CSV)[:2000]


def _odd_row(row: int) -> Finding:
    """A row far off the others: asked about, never dropped."""
    return finding(
        "doubtful", "caution", "Row {n} lies far off what the others make of the part.",
        "Measure it again; correct or leave that row out if it was a slip.", n=row + 1,
    )  # fmt: skip


def _none_to_spare() -> Finding:
    return finding(
        "none-to-spare",
        "info",
        "There are just as many readings as unknowns, so nothing says how far to trust them.",
        "Measure one hole or distance more.",
    )


def _um(length_mm: float | None) -> float | None:
    return None if length_mm is None else length_mm * 1000
