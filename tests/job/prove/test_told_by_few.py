"""One move or two decide nothing, and a wave between stations isn't passed by its line."""

import math
import random
from datetime import datetime, timedelta

import pytest

from vernus.core.prove.diagnosis import wave_targets
from vernus.job.document import new_id
from vernus.job.entities import Approach, CalibrationRun, Check, PositioningRun, ProfileSetting
from vernus.job.fields import LengthEntry
from vernus.job.prove.calibrate.edits import current_run, fresh_run, run_of_today, with_check
from vernus.job.prove.calibrate.result import calibration_result
from vernus.job.prove.positioning import positioning_result


@pytest.fixture(params=["mm", "in"])
def made(request, bench):
    bench.job.apply("units", [bench.job.info.with_(units=request.param)])
    bench.travel("X", "480 mm", "480 mm", "480 mm")
    bench.change("X", accuracy=bench.length("0.02 mm"))
    return bench


def checked(made, pairs, method="counts", step=0.001):
    checks = tuple(Check(true=LengthEntry(mm=t), shown=LengthEntry(mm=round(s / step) * step)) for t, s in pairs)
    run = CalibrationRun(
        id=new_id(), axis_id=made.axis().id, per="mm", set_counts=200.0, method=method, checks=checks,
        step=LengthEntry(mm=step), u_reference=LengthEntry(mm=0.0005),
    )  # fmt: skip
    made.job.apply("run", [run])
    return calibration_result(made.job, run)


@pytest.mark.parametrize("off", [0.0, 0.004, 0.03, 0.2])
@pytest.mark.parametrize("count", [1, 2])
def test_one_move_or_two_pass_fail_and_key_nothing(made, off, count):
    result = checked(made, [(240.0, 240.0 + off)] * count)
    assert (result.verdict, result.value_to_key, result.settled) == ("unsure", None, False)
    if not any(f.code in ("move-too-short", "no-single-move") for f in result.findings):
        assert ("twice more" if count == 1 else "once more") in result.instruction.text()


def test_another_standard_count_is_keyed_in_from_one_move(made):
    result = checked(made, [(240.0, 120.0)])
    assert result.value_to_key == pytest.approx(100.0)
    assert result.verdict == "fail"


def test_a_wave_of_a_little_more_than_is_wanted_is_hardly_ever_passed(made):
    passed = 0
    for n in range(80):
        chance = random.Random(n)
        phase, size = chance.uniform(0, 2 * math.pi), 1.05 * 0.02 / 2
        pairs = [
            (x, x + size * math.sin(2 * math.pi * x / 160 + phase) + chance.gauss(0, 0.001))
            for x in (480 * k / 12 for k in range(13))
        ]
        passed += checked(made, pairs, "factor").verdict == "pass"
    assert passed <= 4  # 5 %


def test_a_run_that_looks_for_a_wave_by_too_few_targets_never_passes(made):
    made.change("X", lead=made.length("5 mm"), accuracy=made.length("0.02 mm"))

    def run_of(targets):
        rows = [
            Approach(target=LengthEntry(mm=t), shown=LengthEntry(mm=t + 0.001 * (n % 2)), up=up)
            for _ in range(5) for up in (True, False) for n, t in enumerate(targets if up else targets[::-1])
        ]  # fmt: skip
        run = PositioningRun(
            id=new_id(), axis_id=made.axis().id, plan="wave", targets=tuple(LengthEntry(mm=t) for t in targets),
            readings=tuple(rows), step=LengthEntry(mm=0.001),
        )  # fmt: skip
        made.job.apply("run", [run])
        return positioning_result(made.job, made.axis(), run)

    assert run_of([0.0, 120.0, 240.0, 360.0, 480.0]).verdict == "unsure"
    assert run_of(wave_targets(0.0, 480.0, 5.0)).verdict == "pass"


def paired(made):
    made.job.apply("display", [ProfileSetting(id="p", factor="pair")])
    run = current_run(made.job, made.axis(), made.job.info.units)
    assert run.method == "factor", "the display takes a pair, so a pair is what a check is for"
    return run


def test_a_pair_is_said_from_one_move_with_its_repeats(made):
    run = paired(made).with_(step=made.length("0.001 mm"), u_reference=made.length("0.0005 mm"))
    for shown in ("254.09 mm", "254.092 mm", "254.091 mm"):
        run = with_check(run, made.length("254 mm"), made.length(shown))
    result = calibration_result(made.job, run)
    assert result.keyed.way == "pair"
    assert result.keyed.typed == (254, pytest.approx(254.091, abs=1e-6))
    assert result.value_to_key == pytest.approx(254 / 254.091, rel=1e-6)
    assert result.verdict == "fail"
    assert len(result.after_mm) == 3
    once = run.with_(checks=run.checks[:1])
    assert (calibration_result(made.job, once).verdict) == "unsure"


def test_temperatures_go_on_to_the_next_check_of_the_day_and_are_asked_about(made):
    run = current_run(made.job, made.axis(), made.job.info.units).with_(scale_c=19.0, reference_c=20.5)
    for _ in range(3):
        run = with_check(run, made.length("240 mm"), made.length("240.1 mm"))
    (run,) = made.job.apply("run", [run])
    again = fresh_run(run)
    assert (again.scale_c, again.reference_c) == (19.0, 20.5)
    (again,) = made.job.apply("again", [with_check(again, made.length("240 mm"), made.length("240 mm"))])
    codes = {f.code for f in calibration_result(made.job, again).findings}
    assert "temperatures-carried" in codes
    assert "temperatures-carried" not in {f.code for f in calibration_result(made.job, run).findings}
    later = datetime.fromisoformat(again.changed).astimezone() + timedelta(days=2)
    assert run_of_today(again, later).scale_c is None
