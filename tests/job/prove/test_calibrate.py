"""Checks of a display in a job: what is caught, and that everything keyed in is what the display takes."""

import itertools
import random
from datetime import UTC, datetime, timedelta

import pytest

from vernus.core.errors import BadInputError
from vernus.core.prove.calibrate.table_choice import Trial, compare_tables
from vernus.core.units import format_pm
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job, new_id
from vernus.job.entities import AxisSetting, CalibrationRun, Check, Compensation, LogEntry, ProfileSetting, ReferenceKit
from vernus.job.fields import LengthEntry
from vernus.job.machine.travel import survey_with
from vernus.job.plan.scale import scale_plan
from vernus.job.prove.as_read import check_as_read
from vernus.job.prove.calibrate.edits import axis_setting, current_run, fresh_run, key_in, run_of_today, with_check
from vernus.job.prove.calibrate.result import calibration_result
from vernus.job.prove.calibrate.ways import ways_in_words, ways_to_compare
from vernus.job.prove.recheck import due_of, due_words, history_of, temperature_sum
from vernus.job.prove.runs import run_of
from vernus.job.review.review import review_axis


def mm(text, unit="mm"):
    return LengthEntry.read(str(text), unit)


@pytest.fixture
def clock():
    """A clock that a test moves by hand."""
    return [datetime(2026, 1, 1, 9, tzinfo=UTC)]


@pytest.fixture
def job(clock):
    return Job(new_job_entities("x", "bench-mill"), clock=lambda: clock[0])


@pytest.fixture
def axis(job):
    found = job.axes()[0]
    survey = survey_with(job, found, "caliper").with_(readings=(mm(500), mm(500)))
    job.apply("travel", [survey, found.with_(accuracy=mm("0.02"))])
    return job.axes()[0]


def checked(job, axis, pairs, unit="mm", **fields):
    checks = tuple(Check(true=mm(t, unit), shown=mm(s, unit)) for t, s in pairs)
    run = CalibrationRun.model_validate(
        {"id": new_id(), "axis_id": axis.id, "per": "mm", "set_counts": 200.0, "checks": checks, **fields}
    )
    (run,) = job.apply("run", [run])
    return run


def codes(job, run):
    return [f.code for f in calibration_result(job, run).findings]


def line(slope, stations=(0, 100, 200, 300, 400, 480), bend=0.0):
    return [(x, round(x * slope + bend * x * (480 - x) / 57600, 4)) for x in stations]


def test_a_move_of_one_millimetre_for_half_a_metre_is_caught_with_its_number(job, axis):
    run = checked(job, axis, [("1", "1.005")])
    result = calibration_result(job, run)
    found = next(f for f in result.findings if f.code in ("move-too-short", "no-single-move"))
    assert "500 mm" in found.what.text()
    assert result.verdict == "unsure"
    assert not result.settled
    assert result.instruction.text().startswith("Repeat over at least")


def test_counts_that_nobody_said_are_told_before_anything_is_keyed_in(job, axis):
    run = current_run(job, axis, job.info.units)
    for shown in ("250.062", "250.062", "250.063"):
        run = with_check(run, LengthEntry.read("250", "mm"), LengthEntry.read(shown, "mm"))
    job.apply("check", [run])
    assert "counts-not-said" in codes(job, job.get(run.id))
    assert calibration_result(job, job.get(run.id)).instruction.text().startswith("Look first whether")
    told = [axis_setting(job, axis, "said").with_(counts=200, per="mm")]
    told.append(Compensation(id="k", axis_id=axis.id, run_id="before", method="counts", value=200, per="mm"))
    for said in told:
        job.apply("said", [said])
        assert "counts-not-said" not in codes(job, job.get(run.id))
        assert "Look first" not in calibration_result(job, job.get(run.id)).instruction.text()
        job.undo()
    job.apply("another", [job.get(run.id).with_(set_counts=400)])
    assert "counts-not-said" not in codes(job, job.get(run.id)), "typed, as it is not what is usual"


def test_inch_counts_in_a_millimetre_display_are_caught_and_not_keyed_in(job, axis):
    run = checked(job, axis, [("250", "9.8425")])
    result = calibration_result(job, run)
    assert codes(job, run)[0] == "clean-ratio"
    assert "1/25.4" in result.findings[0].what.text()
    assert result.value_to_key is None
    with pytest.raises(BadInputError):
        key_in(job, run)


def test_a_correction_of_a_thousand_ppm_is_caught(job, axis):
    run = checked(job, axis, line(1.001), method="factor")
    assert "ppm-suspect" in codes(job, run)
    assert "−999 ppm" in calibration_result(job, run).findings[0].what.text()


def test_a_factor_keyed_in_upside_down_is_caught_with_both_figures(job, axis, clock):
    run = checked(job, axis, line(1.00025), method="factor")
    clock[0] += timedelta(hours=1)
    job.apply("keyed", [Compensation(id="k", axis_id=axis.id, run_id=run.id, method="factor", value=1.00025)])
    clock[0] += timedelta(hours=1)
    again = checked(job, axis, line(1.00025**2), method="factor", set_factor=1.00025)
    found = calibration_result(job, again).findings[0]
    assert found.code == "factor-upside-down"
    assert "−250 ppm was wanted, now −500 ppm" in found.what.text()
    right = checked(job, axis, line(1.0), method="factor", set_factor=1 / 1.00025)
    assert "factor-upside-down" not in codes(job, right)


def test_calibrated_cold_and_checked_warm_is_worked_out(job, axis, clock):
    """A steel block and a glass scale from 8 to 24 °C: 500·(11.5 − 8.5)·16·10⁻⁶ = 0.024 mm."""
    for t, pairs in ((8.0, line(1.0)), (24.0, line(1 + 3e-6 * 16))):
        warm = {"scale_c": t, "reference_c": t, "u_c": 0.2}
        shifted = [(x, round(s + x * 3e-6 * (8.0 - 20), 4)) for x, s in pairs]
        checked(job, axis, shifted, method="factor", step=mm("0.001"), **warm)
        clock[0] += timedelta(days=120)
    found = temperature_sum(job, axis)
    assert [f.code for f in found.findings] == ["may-be-the-temperature"]
    assert "from 8 °C to 24 °C: seen +0.023 mm" in found.steps[-1].text()
    assert "480 mm × 11.5 ppm/K × (24.0 − 20) K = +22.08 µm" in found.steps[0].text()
    assert history_of(job, axis)[-1].change.verdict == "unchanged", "temperature is taken out of what is compared"
    jump = checked(job, axis, line(1.0004), method="factor", step=mm("0.001"), scale_c=24.0, reference_c=24.0)
    assert [f.code for f in temperature_sum(job, axis).findings] == ["not-the-temperature"]
    assert "calibration-changed" in {f.finding.code for f in review_axis(job, axis).findings}
    assert "temperature-taken-out" in codes(job, jump)


def test_a_change_that_keeps_what_is_wanted_is_told_and_keeps_no_job_open(job, axis, clock):
    for slope in (1.0, 1.000015):
        checked(job, axis, line(slope), method="factor", step=mm("0.001"))
        clock[0] += timedelta(days=40)
    found = {f.finding.code: f.finding.severity for f in review_axis(job, axis).findings}
    assert found.get("calibration-changed") == "info"


def test_without_temperatures_it_is_said_what_five_degrees_would_make(job, axis):
    checked(job, axis, line(1.0), method="factor")
    assert "0.028 mm over 480 mm" in temperature_sum(job, axis).steps[0].text()


def test_what_is_keyed_in_is_what_this_display_takes(job, axis):
    profile = ProfileSetting(id="p", factor="ppm", wants="error", counts="whole", least=1000, most=9000, per="in")
    job.apply("display", [profile])
    run = checked(job, axis, line(1.00015), method="factor")
    result = calibration_result(job, run)
    assert result.keyed.words.text() == "+150 ppm"
    assert "Key in +150 ppm" in result.instruction.text()
    fresh = current_run(Job([*job.entities()]), job.axes()[1], "mm")
    assert (check_as_read(job, fresh).per, check_as_read(job, fresh).set_counts) == ("in", 5080)


def test_the_budget_comes_from_the_kit_and_judges_with_a_guard_band(job, axis):
    kit = ReferenceKit(id="kit", name="shop blocks", reference_kind="shop-blocks", pieces=4)
    job.apply("kit", [kit])
    run = checked(job, axis, [("100", "100.001")], reference_id="kit", step=mm("0.001"), set_counts=1000.0)
    result = calibration_result(job, run)
    assert result.budget.dominant.name == "the reference"
    assert result.verdict == "fail" or result.budget.expanded > 0.02
    dial = ReferenceKit(id="dial", reference_kind="dial", dial_shows="diameter")
    job.apply("kit", [dial])
    turned = checked(job, axis, [("200", "100")], reference_id="dial")
    result = calibration_result(job, turned)
    assert result.true_mm == (100,)
    assert "poor-reference" in [f.code for f in result.findings]


def test_a_table_is_keyed_in_and_the_next_run_adds_to_it(job, axis, clock):
    job.apply("display", [ProfileSetting(id="p", points=5, step=mm("0.001"))])
    stations = [(x, round(x + 0.04 * x * (480 - x) / 57600, 3)) for x in range(0, 481, 60)]
    run = checked(job, axis, stations, method="table", step=mm("0.001"))
    result = calibration_result(job, run)
    assert result.table is not None
    assert len(result.table.knots) <= 5
    assert max(map(abs, result.after_mm)) == pytest.approx(result.table.max_residual_mm, abs=1e-9)
    clock[0] += timedelta(hours=1)
    job.apply("keyed", key_in(job, run))
    table = result.table
    clock[0] += timedelta(hours=1)
    fresh = current_run(job, axis, "mm")
    assert (fresh.method, fresh.checks) == ("table", ())
    reread = tuple(Check(true=mm(t), shown=LengthEntry(mm=s + table.correction(s))) for t, s in stations)
    (again,) = job.apply("again", [fresh.with_(checks=reread)])
    second = calibration_result(job, again)
    assert max(map(abs, second.before_mm)) == pytest.approx(table.max_residual_mm, abs=1e-9)
    for a, b in zip(second.table.knots, table.knots, strict=True):
        assert (a.at_mm, a.correction_mm) == pytest.approx((b.at_mm, b.correction_mm), abs=1e-6)


def test_without_table_points_a_table_is_refused_and_line_against_table_is_compared(job, axis):
    bent = checked(job, axis, line(1.0, range(0, 481, 60), bend=0.08), method="table")
    assert "how many points" in calibration_result(job, bent).instruction.text()
    trials, chosen = compare_tables(*ways_to_compare(job, bent))
    assert [t.points for t in trials] == [0, 1, 3]
    assert chosen.points == 3
    words = ways_in_words(trials, chosen, settled=False)
    assert words.text().startswith("Key in a table of 3: ")
    assert words.text("in").endswith(" thou.")


def test_what_the_comparison_comes_to_follows_from_the_way_that_does_best():
    trials = [Trial(n, 0.004, rms, 0.005) for n, rms in ((0, 0.003), (1, 0.002), (3, 0.004))]
    line = ways_in_words(trials, trials[1], settled=False).text()
    assert line.startswith("Key in the linear factor: 2.00 µm")
    assert "leave it" in ways_in_words(trials, trials[1], settled=True).text()
    for settled in (False, True):
        assert "noise" in ways_in_words(trials, trials[0], settled).text()


def test_stations_that_leave_the_stroke_unread_are_said(job, axis):
    assert "stroke-unread" in codes(job, checked(job, axis, line(1.0001, (0, 50, 100)), method="factor"))


def test_an_inch_job_reads_the_same(job, axis):
    pairs = [(t, f"{float(t) * 1.0002:.5f}") for t in ("0", "4", "8", "12", "16")]
    run = checked(job, axis, pairs, "in", method="factor")
    result = calibration_result(job, run)
    assert result.factor.ppm == pytest.approx(-200, abs=1)
    assert "thou" in result.budget.in_words().text("in")


def test_a_crash_calls_for_a_check(job, axis, clock):
    assert due_words(due_of(job, axis, clock[0])).text() == "Not checked yet."
    checked(job, axis, line(1.0), method="factor")
    assert (
        due_words(due_of(job, axis, clock[0])).text() == "Next check on Sat 2026-01-31, a month after the first check."
    )
    clock[0] += timedelta(days=3)
    job.apply("log", [LogEntry(id="c", axis_id=axis.id, text="ran into the vice", event="crash")])
    assert "due since Sun 2026-01-04" in due_words(due_of(job, axis, clock[0])).text()


def test_the_history_does_not_depend_on_what_was_keyed_in(job, axis, clock):
    """The scale makes 199.98 counts per true mm all the time; three settings, three methods."""
    own = 199.98
    for counts, factor, method in ((200.0, 1.0, "counts"), (199.98, 1.0, "factor"), (200.0, 1.0001, "factor")):
        pairs = [(x, own * x / counts * factor) for x in (100, 250, 480)]
        checked(job, axis, pairs, method=method, set_counts=counts, set_factor=factor, step=mm("0.001"))
        clock[0] += timedelta(days=30)
    kept = history_of(job, axis)
    assert [k.proof.ppm for k in kept] == pytest.approx([-100] * 3, abs=2)
    assert all(k.change is None or k.change.verdict == "unchanged" for k in kept)
    assert all(a.proof.day < b.proof.day for a, b in itertools.pairwise(kept))


def test_a_single_block_longer_than_the_table_is_a_sentence_not_a_crash(job, axis):
    survey = survey_with(job, axis, "caliper").with_(readings=(mm(680), mm(680)))
    job.apply("longer", [survey, ReferenceKit(id="kit", name="one block", pieces=1)])
    empty = checked(job, axis, [], reference_id="kit")
    assert "ends at 500 mm" in calibration_result(job, empty).instruction.text()
    long = checked(job, axis, [("600", "600")], reference_id="kit")
    assert calibration_result(job, long).findings[0].code == "cannot-compute"


def test_the_error_at_the_middle_and_at_the_full_stroke_is_told(job, axis):
    result = calibration_result(job, checked(job, axis, line(1.0, (0, 120, 240, 360, 480), bend=0.02), method="factor"))
    assert result.middle_and_full() == pytest.approx((0.02, 0), abs=1e-9)
    assert calibration_result(job, checked(job, axis, [("100", "100")])).middle_and_full() is None


def test_the_resolution_of_the_display_begins_every_new_run(job, axis):
    job.apply("display", [AxisSetting(id="p", axis_id=axis.id, resolution=mm("0.002"))])
    assert current_run(job, axis, "in").step.mm == 0.002
    assert run_of(job, axis, "in").step.mm == 0.002
    job.apply("display", [AxisSetting(id="p", axis_id=axis.id, resolution=mm("-1"))])
    assert current_run(job, axis, "mm").step.mm == 0.005
    assert run_of(job, axis, "mm").step.mm == 0.005


def test_the_decimals_of_the_display_round_its_multiplier(job, axis):
    job.apply("display", [ProfileSetting(id="p", decimals=4.0)])
    run = checked(job, axis, line(1.00012), method="factor")
    assert calibration_result(job, run).keyed.words.text() == "0.9999"


def test_a_bow_is_judged_by_what_is_left_and_not_by_its_slope(job, axis):
    run = checked(job, axis, line(1.0, bend=0.04), method="factor")
    result = calibration_result(job, run)
    assert (result.verdict, result.settled, result.value_to_key) == ("fail", False, None)
    assert result.error_mm == pytest.approx(0.04, abs=0.002)
    assert "bent" in codes(job, run)
    assert "factor can't take" in result.instruction.text()


def test_every_station_but_the_zero_off_is_the_zero_and_no_pass(job, axis):
    pairs = [(x, x + (0.03 if x else 0)) for x in (0, 100, 200, 300, 400, 480)]
    result = calibration_result(job, checked(job, axis, pairs, method="factor"))
    assert result.verdict == "fail"
    assert "Zero again" in result.instruction.text()


def test_whole_counts_that_leave_too_much_fail_and_name_what_can_mend_it(job, axis):
    job.apply("whole", [ProfileSetting(id="p", counts="whole"), axis.with_(accuracy=mm("0.05"))])
    run = checked(job, job.axes()[0], [(400, 400.1), (400, 400.1), (400, 400.1)], set_counts=1000.0)
    result = calibration_result(job, run)
    assert (result.verdict, result.settled, result.value_to_key) == ("fail", False, None)
    assert "linear factor or its table" in result.instruction.text()


def test_a_correction_inside_its_own_uncertainty_is_not_keyed_in(job, axis):
    pairs = [(0, 0), (240, 240.012), (480, 480.002)]
    result = calibration_result(job, checked(job, axis, pairs, method="factor"))
    assert result.value_to_key is None
    assert "inside its own ±" in result.instruction.text() or result.verdict == "pass"
    with pytest.raises(BadInputError):
        key_in(job, job.all(CalibrationRun)[-1])


def test_the_resolution_set_now_is_the_step_it_is_judged_by(job, axis):
    run = checked(job, axis, [(50, 50.0), (50, 50.001), (50, 50.0)], set_counts=1000.0)
    coarse = calibration_result(job, run).budget.expanded
    job.apply("1 µm", [AxisSetting(id="s", axis_id=axis.id, resolution=mm("0.001"))])
    assert calibration_result(job, run).budget.expanded < coarse


def test_an_odd_repeat_is_asked_about_and_nothing_keyed_in_until_then(job, axis):
    run = checked(job, axis, [(100, 100.2), (100, 100.201), (100, 100.2), (100, 101.2)])
    result = calibration_result(job, run)
    assert result.value_to_key is None
    assert next(f for f in result.findings if f.code == "doubtful").what.text().startswith("Check 4")


def test_one_uncertainty_stands_everywhere(job, axis):
    run = checked(job, axis, [(100, 100.2), (100, 100.21), (100, 100.2), (100, 100.205)])
    result = calibration_result(job, run)
    relative = result.budget.expanded / result.over_mm
    assert result.measured("mm") == format_pm(result.counts.counts_per_mm, relative * result.counts.counts_per_mm)


def test_a_check_of_another_day_is_a_run_of_its_own_and_one_may_be_begun_without_keying(job, axis, clock):
    run = checked(job, axis, [(100, 100.0)])
    assert run_of_today(run, clock[0]) is run
    tomorrow = run_of_today(run, clock[0] + timedelta(days=1))
    assert (tomorrow.checks, tomorrow.set_counts, tomorrow.id == run.id) == ((), run.set_counts, False)
    assert fresh_run(run).checks == ()


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("k", [0.1, 1.0, 2.0, 11.7])
def test_what_is_concluded_of_true_lengths_does_not_depend_on_the_counts_set(job, axis, unit, k):
    job.apply("travel", [axis.with_(accuracy=mm("0.05"))])
    setting = axis_setting(job, axis, new_id())

    def found(by):
        """The display set to ``by`` times the counts shows so much less, in steps so much smaller."""
        size = 25.4 if unit == "in" else 1.0
        shown = [s / by for s in (75.98, 76.03, 76.001)]
        job.apply("step", [setting.with_(resolution=LengthEntry(mm=0.005 / by, text="x"))])
        pairs = [(f"{76 / size:.9f}", f"{s / size:.12f}") for s in shown]
        run = checked(job, axis, pairs, unit, per=unit, set_counts=200.0 * by * size, scale_c=24.0, reference_c=23.0)
        return calibration_result(job, run)

    one, other = found(1.0), found(k)
    assert other.counts.counts_per_mm == pytest.approx(one.counts.counts_per_mm, rel=1e-6)
    assert other.budget.expanded == pytest.approx(one.budget.expanded, rel=1e-6)


def test_repeats_of_a_display_set_far_off_scatter_in_true_length(job, axis):
    pairs = [("3", s) for s in ("0.2558", "0.2557", "0.2561")]
    run = checked(job, axis, pairs, "in", per="in", set_counts=30000.0)
    result = calibration_result(job, run)
    assert result.counts.counts_per_inch == pytest.approx(2558.7, abs=0.2)
    # s = 0.000208 in shown is 0.00244 in true; t(2) = 4.30 over the square root of 3: 5.2 counts of 2558.7.
    assert result.budget.expanded / result.over_mm * result.counts.counts_per_inch == pytest.approx(5.2, abs=0.3)


def with_display(job, **fields):
    job.apply("display", [ProfileSetting(id=new_id(), **fields)])


def test_two_stations_key_nothing_in_but_by_a_display_that_takes_only_a_pair(job, axis):
    pairs = [("0", "0"), ("400", "400.1")]
    result = calibration_result(job, checked(job, axis, pairs, method="factor"))
    assert result.value_to_key is None
    assert "nothing is keyed in" in result.instruction.text()
    assert not result.instruction.concludes
    with_display(job, factor="pair")
    result = calibration_result(job, checked(job, axis, pairs, method="factor"))
    assert result.value_to_key == pytest.approx(400 / 400.1, rel=1e-5)
    assert "Two stations know it to ±" in result.instruction.text()
    three = calibration_result(job, checked(job, axis, [*pairs, ("200", "200.05")], method="factor"))
    assert three.value_to_key is not None


def test_perfect_displays_are_left_alone_however_noisy_their_two_stations(job, axis):
    chance, keyed = random.Random(7), 0
    for _ in range(60):
        shown = round((400 + chance.gauss(0, 0.01)) / 0.005) * 0.005
        run = checked(job, axis, [("0", "0"), ("400", f"{shown:.3f}")], method="factor")
        keyed += calibration_result(job, run).value_to_key is not None
    assert keyed == 0


def test_the_limit_of_a_beam_is_its_own_for_counts_too(job, axis):
    def codes():
        run = checked(job, axis, [("450", "449.7")] * 3, set_counts=2560 / 25.4)
        return {f.code for f in calibration_result(job, run).findings}

    assert "counts-suspect" in codes()  # 667 ppm of a sealed scale
    job.apply("beam", [scale_plan(job, axis).with_(family="beam", measuring=mm("600"))])
    assert "counts-suspect" not in codes()


@pytest.mark.parametrize("k", [2, 4, 5, 10, 0.5, 0.25, 0.2, 0.1])
@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("found", [200.0, 200.008, 199.993])
def test_a_display_set_wrong_by_any_clean_factor_keys_in_the_same_counts(job, axis, k, unit, found):
    """A scale of 200 counts per mm, off by less than a scale errs, on a display that is set to 200 · k."""
    moves = [100, 200, 300, 420]
    lengths = [m / 25.4 if unit == "in" else m for m in moves]
    right = checked(job, axis, [(f"{x:.6f}", f"{x * found / 200:.6f}") for x in lengths], unit, set_counts=200.0)
    wrong = checked(
        job, axis, [(f"{x:.6f}", f"{x * found / (200 * k):.6f}") for x in lengths], unit, set_counts=200 * k
    )
    as_set, off = calibration_result(job, right), calibration_result(job, wrong)
    assert off.verdict == "fail"
    assert off.value_to_key in (200.0, pytest.approx(found, abs=0.006)), "what was found, or the standard in its reach"
    assert off.counts.counts_per_mm == pytest.approx(as_set.counts.counts_per_mm, rel=1e-6)
    clean = [f for f in off.findings if f.code == "clean-ratio"]
    assert [f.severity for f in clean] == ["caution"]
    assert off.error_u_mm == pytest.approx(off.budget.expanded / k, rel=1e-3), "an error shown k times as large"


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_stations_of_a_table_that_scatter_are_unsure_and_read_back_they_tell(job, axis, unit):
    job.apply("display", [ProfileSetting(id="p", points=5, step=mm("0.001"))])
    size = 1 if unit == "mm" else 25.4
    off = (0, 0.012, -0.006, 0.015, -0.004, 0.013, 0.002)
    once = [(x / size, round((x + e) / size, 6)) for x, e in zip(range(0, 481, 80), off, strict=True)]
    known = {"method": "table", "step": mm("0.001"), "u_reference": mm("0.0005")}
    assert calibration_result(job, checked(job, axis, once, unit, **known)).verdict == "unsure"
    twice = once + [(t, f"{s + 0.001 / size:.6f}") for t, s in once]
    assert calibration_result(job, checked(job, axis, twice, unit, **known)).verdict == "pass"
