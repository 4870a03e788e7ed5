"""A table of points: what it leaves, and whether the errors bend enough to be worth one."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache

from vernus.core.budget import BudgetLine, combine, combine_apart
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, conclusion, finding
from vernus.core.prove.calibrate.compensation import SegmentTable, fit_segments
from vernus.core.prove.calibrate.profile import Keyed, key_knot
from vernus.core.prove.calibrate.straight import shape_of
from vernus.core.prove.calibrate.table_search import Spacing
from vernus.core.prove.worst import Stations, judge_worst, scatter_of_stations
from vernus.job.document import Job
from vernus.job.entities import CalibrationRun
from vernus.job.prove.calibrate.found import CalibrationResult, base, leave_it
from vernus.job.prove.calibrate.setting import (
    CalibrationSetting,
    moved_lines,
    rounding_line,
    stations_before_table,
)

_NO_SCALE_ERRS_MM = 2.0  # common practice, no source: a table corrects hundredths


@lru_cache(maxsize=32)
def _fitted(
    raw: tuple[float, ...], true: tuple[float, ...], points: int, spacing: Spacing, step_mm: float
) -> SegmentTable:
    """The table of some stations, solved once: sheet, review and history all ask for it."""
    return fit_segments(raw, true, points, spacing, step_mm)


def _slipped(raw: Sequence[float], true: Sequence[float]) -> Finding | None:
    """A station so far off that it is a slip or another unit, and no error a table is made for: asked about first."""
    off = [s - t for s, t in zip(raw, true, strict=True)]
    middle = sorted(off)[len(off) // 2]
    n = max(range(len(off)), key=lambda k: abs(off[k] - middle))
    worst = n if abs(off[n] - middle) > abs(middle) else max(range(len(off)), key=lambda k: abs(off[k]))
    if abs(off[worst]) <= _NO_SCALE_ERRS_MM:
        return None
    return finding(
        "doubtful",
        "stop",
        "At {true} the display shows {shown}, {off} off: no scale errs by that.",
        "Correct that station if it is mistyped; if the display counts in another unit, or twice the move, set that.",
        true=Mm(true[worst]),
        shown=Mm(raw[worst]),
        off=Mm(off[worst], sign=True),
    )


def table_result(job: Job, run: CalibrationRun, setting: CalibrationSetting) -> CalibrationResult:
    """The best table of the display's points; raises BadInputError where the display has none."""
    profile = setting.profile
    if profile.table_points < 2:
        raise BadInputError("Say under Display how many points the display's table has; 0 means that it has none.")
    raw, true = stations_before_table(job, run, setting)
    slip = _slipped(raw, true)
    if slip is not None:
        told = base(setting)
        return CalibrationResult(findings=(slip,), instruction=slip.remedy, after_mm=told["before_mm"], **told)
    table = _fitted(tuple(raw), tuple(true), profile.table_points, profile.spacing, profile.table_step_mm)
    places, means = _by_station(setting)
    worst = max(map(abs, means))
    length = max(abs(t) for t in true) or 1.0
    beside = moved_lines(run, setting, length)
    stations = _stations(setting, len(places), combine(beside).u)
    read = [] if stations.u_mm is None else [
        BudgetLine("reading a station", stations.u_mm, "normal", freedom=stations.freedom,
                   remedy="Read every station several times.")
    ]  # fmt: skip
    budget = combine_apart([*beside, rounding_line(run, setting), *read])
    verdict = judge_worst(worst, stations, setting.wanted_mm).verdict
    settled = verdict == "pass"
    known = worst > budget.expanded and (len(set(true)) < 4 or _bends(raw, true, setting))
    rows = tuple(key_knot(profile, k.at_mm, k.correction_mm) for k in table.knots)
    words = Sentence("the table of {n} points", {"n": len(rows)})
    if settled:
        instruction = leave_it(worst, setting, length)
    elif not known:
        instruction = conclusion(
            "Key in no table: the errors bend no more than they scatter, so it would hold noise. Take the linear "
            "factor under How it corrects, or read the stations again."
        )
    else:
        instruction = conclusion(
            "Key in the table from the top, point by point; it leaves {left} at most where {line} would be left by the "
            "best factor. Then run the stations again.",
            {"left": Fine(table.max_residual_mm), "line": Fine(table.linear_max_mm)},
        )
    return CalibrationResult(
        table=table,
        after_mm=tuple(r + table.correction(r) - t for r, t in zip(raw, true, strict=True)),
        value_to_key=float(len(table.knots)) if known and not settled else None,
        keyed=Keyed(words, float(len(rows)), "table", rows),
        error_mm=worst,
        over_mm=length,
        budget=budget,
        verdict=verdict,
        settled=settled,
        findings=table.findings,
        instruction=instruction,
        **base(setting),
    )


def _by_station(setting: CalibrationSetting) -> tuple[list[float], list[float]]:
    """The places read (mm), and the mean error at each."""
    off: dict[float, list[float]] = {}
    for true, shown in zip(setting.true, setting.shown, strict=True):
        off.setdefault(true, []).append(shown - true)
    return list(off), [sum(rows) / len(rows) for rows in off.values()]


def _stations(setting: CalibrationSetting, count: int, u_rest_mm: float) -> Stations:
    """How the stations scatter as the display is set, and what all of them share."""
    errors = [s - t for s, t in zip(setting.shown, setting.true, strict=True)]
    found = scatter_of_stations(setting.true, errors, shape_of(setting.true, errors, setting.step_mm).pattern)
    u, freedom = found if found is not None else (None, math.inf)
    return Stations(count, u, freedom, setting.step_mm, u_rest_mm)


def _bends(raw: Sequence[float], true: Sequence[float], setting: CalibrationSetting) -> bool:
    """Whether the display's own errors, without its table, are other than a line."""
    return shape_of(true, [s - t for s, t in zip(raw, true, strict=True)], setting.step_mm).pattern == "bent"
