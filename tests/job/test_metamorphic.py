"""What may not matter, doesn't: other units, the machine turned round, another name, another order, more of it."""

import dataclasses
import os
import random
import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.job.conftest import Bench
from tests.job.random_jobs import RandomJob
from vernus.core.align.sweep import Indicator, analyse_sweep
from vernus.core.errors import BadInputError
from vernus.core.machine.envelope import Box, Envelope, EnvelopeAxis, Member
from vernus.core.machine.stroke import FeedRun, Meets, solve_stroke
from vernus.core.machine.travel import measure_travel
from vernus.core.machine.travel_kept import keep_travel
from vernus.core.prove.calibrate.compensation import fit_segments
from vernus.core.prove.calibrate.factor import fit_factor
from vernus.core.prove.positioning import analyse_positioning
from vernus.job.document import Job
from vernus.job.entities import CalibrationRun, Check, Machine, Step, TravelSurvey
from vernus.job.fields import LengthEntry
from vernus.job.prove.calibrate.result import calibration_result
from vernus.job.said import statements

SEEDS = range(int(os.environ.get("VERNUS_HANDS", "48")) // 8)
WORDED = ("text", "what", "size", "call", "name")


def plain(value):
    """Figures rounded far below what matters, texts as they are."""
    if isinstance(value, float):
        return round(value, 6)
    return [plain(v) for v in value] if isinstance(value, list | tuple) else value


def figures(job, drop=()):
    return {
        s.id: {k: plain(v) for k, v in s.figures.items() if k not in drop} | {"rests_on": s.rests_on}
        for s in statements(job)
    }


@pytest.mark.parametrize("seed", SEEDS)
def test_the_same_job_in_the_other_units(seed):
    job = RandomJob(seed).job
    before = figures(job, WORDED)
    job.apply("units", [job.info.with_(units="in" if job.info.units == "mm" else "mm")])
    assert figures(job, WORDED) == before


@pytest.mark.parametrize("seed", SEEDS)
def test_an_axis_under_another_name(seed):
    made = [e for e in RandomJob(seed).job.entities() if not isinstance(e, Step)]
    other = {a.name: n for a, n in zip(Job(made).axes(), ("Q", "R", "S", "U", "V"), strict=False)}

    def renamed(text):
        return re.sub(r"\b([A-Z])\b", lambda m: other.get(m[1], m[1]), text) if isinstance(text, str) else text

    def deep(value):
        if isinstance(value, dict):
            return {k: deep(v) for k, v in value.items()}
        return [deep(v) for v in value] if isinstance(value, list | tuple) else renamed(value)

    axes = [a.with_(name=other[a.name]) for a in Job(made).axes()]
    turned = {e.id: e for e in axes}

    def built(entity):
        """Sums of measures name the travel of an axis, members the axis that moves them."""
        if isinstance(entity, Machine):
            return entity.with_(members=tuple(m.model_copy(update={"axis": other.get(m.axis, m.axis)})
                                              for m in entity.members))  # fmt: skip
        if not getattr(entity, "built", ()):
            return entity
        return entity.with_(built=tuple((f, renamed_travel(s)) for f, s in entity.built))

    def renamed_travel(text):
        return re.sub(r"\b([A-Z])\.travel", lambda m: f"{other.get(m[1], m[1])}.travel", text)

    again = Job([built(turned.get(e.id, e)) for e in made])
    drop = (*WORDED, "key", "after", "what", "between", "on")
    first = {renamed(i): deep(f) for i, f in figures(Job(made), drop).items() if not i.startswith(("step", "buy"))}
    second = {i: deep(f) for i, f in figures(again, drop).items() if not i.startswith(("step", "buy"))}
    assert first == second


@pytest.mark.parametrize("on", ["moving", "still"])
@pytest.mark.parametrize("given", [(0, 0), (30, 0), (12, 45)])
@pytest.mark.parametrize("size", [450, 400, 300])
def test_a_machine_turned_end_for_end_swaps_its_ends_and_nothing_else(on, given, size):
    told = []
    for turned in (False, True):
        bench = Bench()
        low, high = reversed(given) if turned else given
        direction = bench.axis().direction
        if turned:
            direction = ("-" if direction[0] == "+" else "+") + direction[1]
        bench.change(give_up_low=bench.length(low), give_up_high=bench.length(high), direction=direction)
        bench.travel("X", 380, 380.4)
        bench.plan(measuring=size, scale_on=on)
        told.append({s.id: s.figures for s in statements(bench.job) if s.axis == "X"})
    one, two = told
    for kind, figure in (("stop", "before_mark_mm"), ("zone", "mm")):
        mine = {(f["end"], round(f[figure], 6)) for i, f in one.items() if i.startswith(kind)}
        its = {
            ({"low": "high", "high": "low"}[f["end"]], round(f[figure], 6))
            for i, f in two.items()
            if i.startswith(kind)
        }
        assert mine == its
    far = one["travel/X"]["travel_mm"]
    assert (two["kept/X"]["from_mm"], two["kept/X"]["to_mm"]) == pytest.approx(
        (far - one["kept/X"]["to_mm"], far - one["kept/X"]["from_mm"])
    )
    if "place/X" in one:
        whole = one["scale/X"]["overall_mm"]
        assert two["place/X"]["axis_at_mm"] == pytest.approx(far - one["place/X"]["axis_at_mm"])
        assert two["place/X"]["reader_at_mm"] == pytest.approx(whole - one["place/X"]["reader_at_mm"])
        assert (two["spare/X"]["low_mm"], two["spare/X"]["high_mm"]) == pytest.approx(
            (one["spare/X"]["high_mm"], one["spare/X"]["low_mm"])
        )


@pytest.mark.parametrize("seed", range(12))
def test_readings_whose_order_says_nothing_in_another_order(seed):
    chance = random.Random(seed)
    reads = [380 + chance.gauss(0, 0.2) for _ in range(5)]
    checks = [(100 + 20 * n, 100 + 20 * n + chance.gauss(0, 0.004)) for n in range(6)]

    def told(mixed):
        travels, pairs = list(reads), list(checks)
        if mixed:
            chance.shuffle(travels)
            chance.shuffle(pairs)
        made = Bench()
        made.travel("X", *(f"{r:.6f}" for r in travels))
        made.plan("X")
        rows = tuple(Check(true=made.length(f"{t:.6f}"), shown=made.length(f"{s:.6f}")) for t, s in pairs)
        run = CalibrationRun(id="r", axis_id=made.axis().id, method="factor", per="mm", checks=rows)
        made.job.apply("check", [run])
        return figures(made.job)

    assert told(mixed=True) == told(mixed=False)


@pytest.mark.parametrize("seed", SEEDS)
def test_a_figure_more_that_has_nothing_to_do_with_it(seed):
    job = RandomJob(seed).job
    before = figures(job)
    axis = job.axes()[0]
    job.apply("more", [axis.with_(note="a word"), job.info.with_(workshop="Another workshop")])
    assert figures(job) == before


@given(st.lists(st.floats(379, 381), min_size=3, max_size=8), st.sampled_from([0.02, 0.5, 1.0]))
def test_one_more_travel_reading_where_the_others_predict_it_never_widens_it(reads, division):
    before = measure_travel(reads, division)
    after = measure_travel([*reads, sum(reads) / len(reads)], division)
    assert after.travel_mm == pytest.approx(before.travel_mm)
    assert after.expanded_mm <= before.expanded_mm * (1 + 1e-9)


@given(st.lists(st.floats(-0.004, 0.004), min_size=3, max_size=7), st.floats(0.999, 1.001))
def test_one_more_check_where_the_others_predict_it_weakens_no_verdict(noise, ratio):
    bench = Bench()
    bench.travel("X", 380, 380)
    order = {"unsure": 0, "pass": 1, "fail": 1, None: 0}

    def found(shown):
        rows = tuple(Check(true=LengthEntry(mm=200.0), shown=LengthEntry(mm=s)) for s in shown)
        run = CalibrationRun(
            id="r", axis_id=bench.axis().id, method="counts", set_counts=200.0, per="mm", checks=rows, shows="radius"
        )
        return calibration_result(bench.job, run)

    shown = [200 * ratio + n for n in noise]
    one, two = found(shown), found([*shown, sum(shown) / len(shown)])
    if one.budget is not None and two.budget is not None:
        assert two.budget.expanded <= one.budget.expanded * (1 + 1e-9)
        assert order[two.verdict] >= order[one.verdict]


def scaled(value, by, *, length=False):
    """Every length of a result times so much; names, verdicts and ratios stay."""
    if dataclasses.is_dataclass(value):
        return {f.name: scaled(getattr(value, f.name), by, length=f.name.endswith("_mm"))
                for f in dataclasses.fields(value) if f.name not in ("findings", "budget", "line")}  # fmt: skip
    if isinstance(value, tuple | list):
        return [scaled(v, by, length=length) for v in value]
    if length and isinstance(value, float | int | np.floating):
        return pytest.approx(float(value) * by, rel=1e-7, abs=1e-9)
    return value


def bare(value):
    if dataclasses.is_dataclass(value):
        return {f.name: bare(getattr(value, f.name)) for f in dataclasses.fields(value)
                if f.name not in ("findings", "budget", "line")}  # fmt: skip
    if isinstance(value, tuple | list):
        return [bare(v) for v in value]
    return float(value) if isinstance(value, np.floating) else value


@given(
    st.floats(100, 900), st.tuples(st.floats(0, 40), st.floats(0, 40)), st.floats(0, 0.3), st.floats(-60, 200),
    st.floats(0, 12), st.floats(0.2, 9),
)  # fmt: skip
def test_a_line_twice_as_long_in_everything_has_every_place_twice(travel, give, home, over, margin, run_on):
    def solved(by):
        return solve_stroke(
            travel * by, home_mm=travel * (0.35 + home) * by, give_up_mm=(give[0] * by, give[1] * by),
            meets=[Meets("column", travel * 0.97 * by, travel * 1.2 * by)], margin_mm=(margin * by, margin * by),
            scale_mm=(-over / 2 * by, (travel + over / 2) * by), feed=FeedRun((run_on * by, run_on * by), 1.0 * by),
        )  # fmt: skip

    try:
        one = solved(1.0)
    except BadInputError:
        return
    two = solved(2.0)
    assert bare(two) == scaled(one, 2.0)
    assert [f.code for f in two.findings] == [f.code for f in one.findings]


@given(st.lists(st.floats(-0.2, 0.2), min_size=5, max_size=9), st.floats(40, 130))
def test_a_sweep_twice_as_large_in_everything_has_the_same_verdict(readings, apart):
    stations = [apart * n for n in range(len(readings))]
    indicator = Indicator("toward", 0.0, 0.01)
    one = analyse_sweep(stations, readings, indicator, 0.05)
    twice = dataclasses.replace(indicator, division_mm=0.02)
    two = analyse_sweep([2 * s for s in stations], [2 * r for r in readings], twice, 0.1)
    assert two.verdict == one.verdict
    assert two.rise_mm == pytest.approx(2 * one.rise_mm, abs=1e-9)
    assert two.expanded_mm == pytest.approx(2 * one.expanded_mm, rel=1e-7, abs=1e-9)


@given(st.lists(st.floats(-0.02, 0.02), min_size=4, max_size=8))
def test_positions_factor_and_table_twice_as_large_in_everything(errors):
    true = [50.0 * n for n in range(1, len(errors) + 1)]
    shown = [t + e for t, e in zip(true, errors, strict=True)]
    one, two = fit_factor(true, shown), fit_factor([2 * t for t in true], [2 * s for s in shown])
    assert two.factor == pytest.approx(one.factor, rel=1e-12)
    assert two.residuals_mm == pytest.approx([2 * r for r in one.residuals_mm], abs=1e-9)
    first = fit_segments(shown, true, 3, "equal", 0.001)
    second = fit_segments([2 * s for s in shown], [2 * t for t in true], 3, "equal", 0.002)
    assert second.max_residual_mm == pytest.approx(2 * first.max_residual_mm, abs=1e-9)
    targets = [t for _ in range(3) for way in (1, -1) for t in true[::way]]
    up = [way > 0 for _ in range(3) for way in (1, -1) for _ in true]
    off = [errors[n % len(errors)] * (1 + 0.1 * (n % 3)) for n in range(len(targets))]
    small = analyse_positioning(targets, up, off)
    large = analyse_positioning([2 * t for t in targets], up, [2 * d for d in off])
    assert large.accuracy_mm == pytest.approx(2 * small.accuracy_mm, rel=1e-9)
    assert large.reversal_mm == pytest.approx(2 * small.reversal_mm, abs=1e-9)


def machine(by):
    members = (Member("base", None, None), Member("table", "base", "X"))
    table = Box("table", "table", (-200 * by, -50 * by, 0.0), (200 * by, 50 * by, 40 * by))
    column = Box("column", "base", (230 * by, -80 * by, -100 * by), (400 * by, 80 * by, 300 * by))
    return Envelope(members, (EnvelopeAxis("X", "+x", -100 * by, 100 * by),), (table, column))


def test_an_envelope_twice_as_large_in_everything_keeps_twice_as_much():
    one, two = (keep_travel(machine(by)).kept for by in (1.0, 2.0))
    assert two["X"] == pytest.approx(tuple(2 * v for v in one["X"]))


def test_a_measure_nobody_uses_moves_nothing():
    bench = Bench()
    bench.travel("X", 380, 380)
    bench.plan("X")
    before = figures(bench.job)
    axis_id = bench.job.axes()[1].id
    bench.job.apply("more", [TravelSurvey(id="t", axis_id=axis_id, tool="tape", division=bench.length(1))])
    assert {i: f for i, f in figures(bench.job).items() if "/X" in i} == {i: f for i, f in before.items() if "/X" in i}
