"""What is said of what a display is set to, what is to be keyed in, and how well it then reads."""

from __future__ import annotations

from vernus.core.budget import Verdict
from vernus.core.finding import Fine, KeyedLength, Mm, Sentence, conclusion, plain
from vernus.core.prove.calibrate.profile import PAIR_MM, DisplayProfile, key_factor, key_knot
from vernus.job.connect.powerup import powerup_of
from vernus.job.document import Job
from vernus.job.entities import Axis, CalibrationRun, PositioningRun, TrialPart
from vernus.job.known.axis_figures import accuracy
from vernus.job.known.display import count_said, shows
from vernus.job.known.display import step as last_digit
from vernus.job.prove.as_read import check_as_read
from vernus.job.prove.calibrate.found import CalibrationResult
from vernus.job.prove.calibrate.result import calibration_result, latest_run
from vernus.job.prove.calibrate.setting import keyed_table, setting_of
from vernus.job.prove.part import part_verdict
from vernus.job.prove.positioning import accuracy_of, positioning_result
from vernus.job.scope import drives_patterns
from vernus.job.sheet_names import SheetName
from vernus.job.statement import Judged, Statement, verdict_statement


def prove_statements(job: Job, axis: Axis) -> list[Statement]:
    """The display's settings of an axis, what to key in or what already stands there, and the verdict on that."""
    found = _settings(job, axis)
    run = latest_run(job, axis)
    if run is not None and run.checks:
        run = check_as_read(job, run)
        result = calibration_result(job, run)
        found += [*_key_in(job, axis, run, result), *_verdict(axis, result)]
    return [*found, *_positioned(job, axis), *_part(job, axis)]


def _positioned(job: Job, axis: Axis) -> list[Statement]:
    """The accuracy found by the last run of targets against the one wanted."""
    runs = [r for r in job.of_axis(PositioningRun, axis.id) if r.readings]
    result = positioning_result(job, axis, runs[-1]) if runs else None
    found = None if result is None or result.figures is None else accuracy_of(result.figures)
    if result is None or found is None or result.budget is None or result.verdict is None:
        return []
    return [_judged(axis, "positioning", "positioning", found, result.budget.expanded, result.verdict)]


def _part(job: Job, axis: Axis) -> list[Statement]:
    """What the part drilled and measured says of the axis over its travel."""
    judged = part_verdict(job, axis) if job.all(TrialPart) and drives_patterns(job) else None
    return [] if judged is None else [_judged(axis, "part", "part", *judged)]


def _judged(axis: Axis, of: str, sheet: SheetName, value_mm: float, u_mm: float, verdict: Verdict) -> Statement:
    limit = accuracy(axis).value
    values = {"value": Fine(value_mm), "u": Fine(u_mm), "limit": Fine(limit)}
    what = {"positioning": "The accuracy found", "part": "By the part measured, the error over the travel"}[of]
    words = Sentence(what + " is {value} ± {u}; {limit} is wanted", values)
    return verdict_statement(axis.name, of, sheet, words, Judged(value_mm, u_mm, limit, verdict))


def _settings(job: Job, axis: Axis) -> list[Statement]:
    shown, digit = shows(job, axis), last_digit(job, axis)
    assumed = shown.source == "default"
    what = "twice the move (diameter)" if shown.value == "diameter" else "the true move"
    words = plain(f"{axis.name} shows {what}" + (" (assumed: nobody said)." if assumed else "."))
    said = {"what": "diameter", "value": shown.value == "diameter", "assumed": assumed}
    found = [Statement("setting", axis.name, "diameter", "calibrate", words, said), _direction(job, axis)]
    if digit is not None:
        mm = {"axis": axis.name, "mm": KeyedLength(digit.value.mm)}
        words = Sentence("The last digit of {axis} steps by {mm}.", mm)
        said = {"what": "step", "value": digit.value.mm, "assumed": False}
        found.append(Statement("setting", axis.name, "step", "calibrate", words, said))
    return found


def _direction(job: Job, axis: Axis) -> Statement:
    """Whether the display's sense of direction stands as it came, was found right, or has to be turned round."""
    seen = powerup_of(job, axis, "none").direction
    value = {"yes": "as it is", "no": "reverse"}.get(seen, "as it came")
    words = {
        "yes": f"{axis.name} counts the way expected.",
        "no": f"{axis.name} counts the wrong way: reverse its direction in the display.",
    }.get(seen, f"Which way {axis.name} counts was not looked at yet.")  # fmt: skip
    said = {"what": "direction", "value": value, "assumed": not seen}
    return Statement("setting", axis.name, "direction", "powerup", plain(words), said)


def _key_in(job: Job, axis: Axis, run: CalibrationRun, result: CalibrationResult) -> list[Statement]:
    """What to key in, or what already stands in the display; said for every axis that was checked."""
    profile = setting_of(job, run).profile
    keyed = result.value_to_key is None
    way, value, figure = _stands(job, run, result, profile) if keyed else _to_key(result)
    if keyed:
        told = "The display holds {figure}" + ("" if _said(job, axis, run) else " (assumed: nobody said)")
        open_ = "" if result.settled else "; the checks don't settle yet whether that can stay"
        words = Sentence(told + open_ + ".", {"figure": figure})
    else:
        words = conclusion("Key in {figure}.", {"figure": figure})
        first = next((f.remedy for f in result.findings if f.severity != "info"), None)
        if first is not None:
            words = Sentence("{first} Then {figure} is to be keyed in.", {"first": first, "figure": figure})
    u = None if result.budget is None else result.budget.expanded
    said = {"keyed": keyed, "way": way, "value": value, "u_mm": u, "over_mm": result.over_mm}
    return [Statement("key_in", axis.name, "", "calibrate", words, said)]


def _said(job: Job, axis: Axis, run: CalibrationRun) -> bool:
    """Whether somebody said, or keyed in, what the display holds."""
    return run.method != "counts" or count_said(job, axis, latest_run(job, axis) or run)


def _to_key(result: CalibrationResult) -> tuple[str, object, Sentence]:
    """The way, the figure and its words of what is to be keyed in: as the display takes it."""
    keyed = result.keyed
    return ("", None, Sentence("")) if keyed is None else (keyed.way, _plain(keyed.typed), keyed.words)


def _stands(
    job: Job, run: CalibrationRun, result: CalibrationResult, profile: DisplayProfile
) -> tuple[str, object, Sentence]:
    """The same of what stands in the display already."""
    if run.method == "table":
        table = keyed_table(job, run)
        rows = [] if table is None else [list(key_knot(profile, k.at_mm, k.correction_mm)) for k in table.knots]
        return "table", rows, Sentence("the table of {n} points" if rows else "no table", {"n": len(rows)})
    if run.method == "counts":
        way = "counts_per_inch" if run.per == "in" else "counts_per_mm"
        unit = "inch" if run.per == "in" else "mm"
        return way, run.counts_set, Sentence("{v:.7g} counts per {unit}", {"v": run.counts_set, "unit": unit})
    longest = max(map(abs, result.true_mm), default=0.0) or PAIR_MM
    told = key_factor(profile, run.set_factor, longest)
    return told.way, _plain(told.typed), told.words


def _plain(typed: float | tuple[object, ...]) -> object:
    """Pairs and rows as plain lists."""
    return [_plain(t) if isinstance(t, tuple) else t for t in typed] if isinstance(typed, tuple) else typed


def _verdict(axis: Axis, result: CalibrationResult) -> list[Statement]:
    if result.verdict is None or result.error_mm is None or result.budget is None or result.over_mm is None:
        return []
    limit = accuracy(axis).value
    words = Sentence(
        "As it is set the display is off by {error} ± {u} over {over}; {limit} is wanted",
        {
            "error": Fine(result.error_mm), "u": Fine(result.error_u_mm or 0.0), "over": Mm(result.over_mm),
            "limit": Fine(limit),
        },
    )  # fmt: skip
    judged = Judged(result.error_mm, result.error_u_mm or 0.0, limit, result.verdict)
    return [verdict_statement(axis.name, "display", "calibrate", words, judged)]
