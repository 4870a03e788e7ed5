"""One move or two decide nothing, and a wave between stations isn't passed by its line."""

import math
import random

import pytest

from vernus.job.document import new_id
from vernus.job.entities import CalibrationRun, Check
from vernus.job.fields import LengthEntry
from vernus.job.prove.calibrate.result import calibration_result


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
