"""What was found against what limit, with its word: on the sheet, by ``say`` and on paper, in mm and in inches."""

import pytest

from tests.job.conftest import Bench
from tests.printed import words_of
from vernus.core.units import format_fine
from vernus.job.align.edits import current_sweep, with_reading
from vernus.job.align.passes import result_in_job
from vernus.job.entities import CalibrationRun, Check, ReaderSetting
from vernus.job.fields import LengthEntry
from vernus.job.prove.calibrate.result import calibration_result
from vernus.job.said import statements
from vernus.paper.report import write_report

WORDS = {"pass": "PASS", "fail": "FAIL", "unsure": "CAN’T TELL"}


@pytest.fixture(params=["mm", "in"])
def bench(request):
    made = Bench(units=request.param)
    made.travel("X", "380 mm", "380 mm", "380 mm")
    made.change("X", accuracy=made.length("0.02 mm"))
    made.plan("X", measuring="450 mm")
    return made


def plain(text):
    return " ".join(text.replace("\xa0", " ").replace("\u2060", "").replace("\u202f", " ").split())


def printed(bench, tmp_path):
    write_report(bench.job, tmp_path / "report.pdf")
    return plain(words_of(tmp_path / "report.pdf"))


def told(bench, about):
    """What ``say`` says of one verdict."""
    said = next(s for s in statements(bench.job) if s.kind == "verdict" and s.about == about)
    return said, plain(said.words.text(bench.job.info.units))


def begun(bench, plane):
    return current_sweep(bench.job, bench.axis(), plane, bench.job.info.units)


def swept(bench, plane, heights):
    """Every station read; of a roll its top and its bottom, which is at zero."""
    sweep = begun(bench, plane)
    for station, height in zip(sweep.stations, heights, strict=False):
        for off in (height, 0.0) if plane == "roll" else (height,):
            sweep = with_reading(sweep, station, LengthEntry(mm=off))
    bench.job.apply("sweep", [sweep])
    return result_in_job(bench.job, sweep)


@pytest.mark.parametrize(("step", "verdict"), [(0.0, "pass"), (0.06, "fail")])
@pytest.mark.parametrize("plane", ["face", "edge", "roll"])
def test_a_sweep(bench, tmp_path, qapp, plane, step, verdict):
    result = swept(bench, plane, [0.09 if plane == "roll" and verdict == "fail" else n * step for n in range(9)])
    found = result.roll or result.alignment
    assert found.verdict == verdict
    said, words = told(bench, f"align-body-{plane}")
    assert words.endswith(
        f"{plain(format_fine(said.figures['limit_mm'], bench.job.info.units))} allowed: {WORDS[verdict]}."
    )
    assert words in printed(bench, tmp_path)


@pytest.mark.parametrize(("off", "verdict"), [(0.001, "pass"), (0.2, "fail")])
def test_a_check_and_its_temperatures(bench, tmp_path, qapp, off, verdict):
    bench.job.apply("degrees", [bench.job.info.with_(degrees="°F" if bench.job.info.units == "in" else "°C")])
    checks = tuple(Check(true=LengthEntry(mm=300.0), shown=LengthEntry(mm=300.0 + off)) for _ in range(4))
    run = CalibrationRun(
        id="r", axis_id=bench.axis().id, per="mm", set_counts=200.0, method="counts", checks=checks, scale_c=20.0,
        reference_c=20.0, u_c=0.5, step=LengthEntry(mm=0.001), u_reference=LengthEntry(mm=0.0005),
    )  # fmt: skip
    bench.job.apply("check", [run])
    assert calibration_result(bench.job, run).verdict == verdict
    _, words = told(bench, "display")
    assert words.endswith(f"is wanted: {WORDS[verdict]}.")
    paper = printed(bench, tmp_path)
    assert words in paper
    at, apart = ("68 °F", "0.9 °F") if bench.job.info.units == "in" else ("20 °C", "0.5 °C")
    assert f"Scale at {at}, reference at {at}, each ± {apart}." in paper


@pytest.mark.parametrize("which", ["scale_c", "reference_c"])
def test_a_temperature_noted_alone_is_on_paper(bench, tmp_path, qapp, which):
    checks = (Check(true=LengthEntry(mm=300.0), shown=LengthEntry(mm=300.0)),)
    run = CalibrationRun(id="r", axis_id=bench.axis().id, method="counts", checks=checks, **{which: 23.0})
    bench.job.apply("check", [run])
    assert "at 23 °C ± 0.5 °C; the other wasn't read." in printed(bench, tmp_path)


def test_what_nobody_set_is_no_setting_on_paper(bench, tmp_path, qapp):
    assert "Display set to" not in printed(bench, tmp_path)


@pytest.mark.parametrize(("shim", "verdict"), [("0.5 mm", "pass"), ("0.9 mm", "fail")])
def test_a_gap_by_its_shim(bench, tmp_path, qapp, shim, verdict):
    axis = bench.axis()
    bench.job.apply(
        "set", [ReaderSetting(id="s", axis_id=axis.id, gap_by="shim", gap_set="yes", shim=bench.length(shim))]
    )
    assert f"Gap by its shim: {WORDS[verdict]}." in printed(bench, tmp_path)


def test_from_the_second_pass_on_it_begins_at_the_first_station(bench):
    swept(bench, "face", [0.06 * n for n in range(9)])
    again = begun(bench, "face")
    second = again.with_(id="second", readings=())
    bench.job.apply("again", [second])
    first = again.stations[0]
    units = bench.job.info.units
    assert f"from the first station: run to {first.shown(units)} {units}" in plain(
        result_in_job(bench.job, second).instruction.text(units)
    )
