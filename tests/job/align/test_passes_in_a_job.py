"""Passes as a hand or an instrument fills them: nothing advised too early, a dial that never moved asked about."""

from dataclasses import replace

import pytest

from vernus.core.finding import Fine
from vernus.job.align.edits import current_sweep, first_sweep, with_reading, with_readings
from vernus.job.align.passes import next_to_read, result_in_job
from vernus.job.align.proposed import as_proposed
from vernus.job.align.reader import reader_result
from vernus.job.document import new_id
from vernus.job.entities import GapCheck, ReaderSetting
from vernus.job.review.review import review_axis


@pytest.fixture(params=["mm", "in"])
def made(request, bench):
    bench.job.apply("units", [bench.job.info.with_(units=request.param)])
    bench.travel("X", "380 mm", "380 mm", "380 mm")
    bench.plan("X", measuring="400 mm", face="behind the table")
    return bench


def swept(made, readings, live=False):
    sweep = current_sweep(made.job, made.axis(), "face", made.job.info.units)
    for reading in readings:
        sweep = with_reading(sweep, next_to_read(sweep) or sweep.stations[0], made.length(reading), live=live)
    made.job.apply("sweep", [sweep])
    return result_in_job(made.job, sweep), sweep


def test_no_screw_is_turned_before_the_pass_is_through(made):
    result, sweep = swept(made, ["0 mm", "0.28 mm", "2.8 mm"])
    assert len(sweep.stations) > 3
    assert "Read on" in result.instruction.text()
    assert result.correction is None


def test_no_screw_is_turned_by_less_than_is_known(made):
    result, sweep = swept(made, ["0 mm", "0.28 mm", "2.8 mm", "0.1 mm", "0 mm", "0.2 mm", "0.1 mm", "0 mm"])
    assert next_to_read(sweep) is None
    assert result.alignment.verdict == "unsure"
    assert result.correction is None
    assert "turns" not in result.instruction.text()
    assert "correct anyway" not in result.instruction.text()


def test_a_tilt_that_is_known_is_corrected(made):
    result, _ = swept(made, [f"{0.1 * n} mm" for n in range(7)] + ["0 mm"])
    assert result.alignment.verdict == "fail"
    assert isinstance(result.instruction.values["target"], Fine)


def test_equal_readings_of_an_instrument_prove_nothing(made):
    result, _ = swept(made, ["0 mm"] * 8, live=True)
    assert "never-moved" in {f.code for f in result.findings}
    assert result.alignment.verdict == "unsure"
    assert not result.instruction.concludes
    assert review_axis(made.job, made.axis()).states["align"] != "done"


@pytest.mark.parametrize("how", ["typed", "one typed", "one differs"])
def test_a_hand_or_a_difference_says_that_the_axis_moved(made, how):
    if how == "typed":
        result, _ = swept(made, ["0 mm"] * 8)
    else:
        _, sweep = swept(made, ["0 mm"] * 7, live=True)
        last = made.length("0 mm" if how == "one typed" else "0.014 mm")
        sweep = with_reading(sweep, sweep.stations[0], last, live=how == "one differs")
        result = result_in_job(made.job, sweep)
    assert "never-moved" not in {f.code for f in result.findings}
    assert result.alignment.verdict == "pass"


def test_nothing_an_instrument_sends_is_added_to_a_pass_that_is_through(made):
    _, sweep = swept(made, [])
    sent = [made.length(f"0.00{n} mm") for n in range(1, 10)] * 3
    through = with_readings(sweep, sweep.stations[0], sent, live=True)
    assert next_to_read(through) is None
    assert len(through.readings) == len(sweep.stations) + 1


@pytest.mark.parametrize(("limits", "passes"), [(("0.48 mm", "0.53 mm"), False), (("0.4 mm", "0.5 mm"), True)])
def test_typed_limits_of_the_gap_are_the_limits(made, limits, passes):
    least, most = (made.length(t) for t in limits)
    setting = ReaderSetting(
        id=new_id(), axis_id=made.axis().id, gap_by="shim", gap_least=least, gap_most=most, gap_set="yes"
    )
    checks = [
        GapCheck(id=new_id(), axis_id=made.axis().id, station=made.length(s), go=made.length("0.44 mm"),
                 no_go=made.length("0.47 mm"))
        for s in ("0 mm", "190 mm", "380 mm")
    ]  # fmt: skip
    made.job.apply("reader", [setting, *checks])
    assert (reader_result(made.job, made.axis()).verdict == "pass") is passes
    assert (reader_result(made.job, made.axis()).verdict == "fail") is not passes


def test_ends_only_is_two_stations_there_and_back_with_as_many_repeats_as_one_likes(made):
    sweep = first_sweep(made.job, made.axis(), "edge", "body", made.job.info.units)
    sweep = as_proposed(made.job, made.axis(), sweep.with_(order="ends"))
    low, high = sweep.stations
    for station, reading in ((low, "0"), (high, "0.31"), (high, "0.31"), (low, "0"), (low, "0")):
        sweep = with_reading(sweep, station, made.length(f"{reading} mm"))
    assert next_to_read(sweep) is None
    found = result_in_job(made.job, sweep)
    assert found.alignment.verdict == "fail", [f.what.text() for f in found.findings]
    two = sweep.with_(readings=sweep.readings[:2])
    assert next_to_read(two).mm == high.mm
    assert result_in_job(made.job, two).alignment.verdict == "fail", "a dozen divisions beyond the tolerance"
    near = two.with_(readings=(two.readings[0], replace(two.readings[1], reading=made.length("0.02 mm"))))
    assert result_in_job(made.job, near).alignment.verdict == "unsure", "two readings never pass"
