"""What is said of what a display is set to, what is to be keyed in, and how well it then reads."""

from __future__ import annotations

from vernus.core.finding import Fine, KeyedLength, Mm, Sentence, conclusion, plain
from vernus.core.prove.calibrate.profile import DisplayProfile, key_knot
from vernus.job.document import Job
from vernus.job.entities import Axis, CalibrationRun
from vernus.job.known import accuracy, shows
from vernus.job.known import step as last_digit
from vernus.job.prove.calibrate.found import CalibrationResult
from vernus.job.prove.calibrate.result import calibration_result, latest_run
from vernus.job.prove.calibrate.setting import setting_of
from vernus.job.statement import Statement


def prove_statements(job: Job, axis: Axis) -> list[Statement]:
    """The display's settings of an axis, what to key in or what already stands there, and the verdict on that."""
    found = _settings(job, axis)
    run = latest_run(job, axis)
    if run is None or not run.checks:
        return found
    result = calibration_result(job, run)
    return [*found, *_key_in(job, axis, run, result), *_verdict(axis, result)]


def _settings(job: Job, axis: Axis) -> list[Statement]:
    shown, digit = shows(job, axis), last_digit(job, axis)
    assumed = shown.source == "default"
    words = plain(f"The display shows the {shown.value}" + (", which is assumed." if assumed else "."))
    said = {"what": "diameter", "value": shown.value == "diameter", "assumed": assumed}
    found = [Statement("setting", axis.name, "diameter", "calibrate", words, said)]
    if digit is not None:
        words = Sentence("Its last digit steps by {mm}.", {"mm": KeyedLength(digit.value.mm)})
        said = {"what": "step", "value": digit.value.mm, "assumed": False}
        found.append(Statement("setting", axis.name, "step", "calibrate", words, said))
    return found


def _key_in(job: Job, axis: Axis, run: CalibrationRun, result: CalibrationResult) -> list[Statement]:
    """What to key in; nothing while the checks don't settle it."""
    profile = setting_of(job, run).profile
    keyed = result.value_to_key is None
    if (keyed and not result.settled) or result.budget is None or result.over_mm is None:
        return []
    way, value = _as_keyed(run, result, profile, keyed=keyed)
    words = Sentence("{figure} stands in the display.", {"figure": _in_words(way, value)})
    if not keyed and result.keyed is not None:
        first = next((f.remedy for f in result.findings if f.severity != "info"), None)
        words = conclusion("Key in {figure}.", {"figure": result.keyed.words})
        if first is not None:
            words = Sentence("{first} Then {figure} is to be keyed in.", {"first": first, "figure": result.keyed.words})
    said = {"keyed": keyed, "way": way, "value": value, "u_mm": result.budget.expanded, "over_mm": result.over_mm}
    return [Statement("key_in", axis.name, "", "calibrate", words, said)]


def _as_keyed(
    run: CalibrationRun, result: CalibrationResult, profile: DisplayProfile, *, keyed: bool
) -> tuple[str, object]:
    """The way the display takes it and the figure: a number, (true, shown) of a pair in mm, or rows of a table."""
    if run.method == "counts":
        return f"counts_per_{'inch' if run.per == 'in' else 'mm'}", run.set_counts if keyed else result.value_to_key
    if run.method == "table":
        knots = () if result.table is None else result.table.knots
        return "table", [list(key_knot(profile, k.at_mm, k.correction_mm)) for k in knots]
    factor = run.set_factor if keyed or result.value_to_key is None else result.value_to_key
    told = factor if profile.wants == "correction" else 1 / factor
    if profile.factor == "pair":
        true = max(map(abs, result.true_mm))
        return "pair", [true, true / factor]
    if profile.factor == "multiplier":
        return "factor", told
    ppm = (factor - 1) * 1e6 * (1 if profile.wants == "correction" else -1)
    return ("ppm", ppm) if profile.factor == "ppm" else ("mm_per_m", ppm / 1000)


def _in_words(way: str, value: object) -> str:
    units = {"counts_per_inch": " counts per inch", "counts_per_mm": " counts per mm", "ppm": " ppm",
             "mm_per_m": " mm per metre"}  # fmt: skip
    if not isinstance(value, float | int):
        return f"The {way}"
    return f"{value:.7g}{units[way]}" if way in units else f"The {way} {value:.7g}"


def _verdict(axis: Axis, result: CalibrationResult) -> list[Statement]:
    if result.verdict is None or result.error_mm is None or result.budget is None or result.over_mm is None:
        return []
    limit = accuracy(axis).value
    words = Sentence(
        "As it is set the display is off by {error} ± {u} over {over}; {limit} is wanted.",
        {
            "error": Fine(result.error_mm), "u": Fine(result.budget.expanded), "over": Mm(result.over_mm),
            "limit": Fine(limit),
        },
    )  # fmt: skip
    said = {
        "of": "display", "value_mm": result.error_mm, "u_mm": result.budget.expanded, "limit_mm": limit,
        "verdict": result.verdict,
    }  # fmt: skip
    return [Statement("verdict", axis.name, "display", "calibrate", words, said)]
