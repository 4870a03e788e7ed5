"""Blunders are asked about wherever there are readings; waves are seen only by targets close enough."""

import math
import random

import pytest

from vernus.core.budget import blunders_of_line, written_step
from vernus.core.machine.travel import measure_travel
from vernus.core.prove.diagnosis import odd_readings, wave_targets, widest_phase
from vernus.core.prove.feel import judge_steps
from vernus.core.prove.part_check import check_distances, check_places

PLACES = [(50 * math.cos(math.radians(a)), 50 * math.sin(math.radians(a))) for a in range(0, 360, 30)]


@pytest.mark.parametrize("unit", [1.0, 25.4])
def test_a_third_of_the_points_of_a_line_can_be_odd_and_clean_ones_hardly_ever_are(unit):
    asked, found = 0, 0
    for n in range(300):
        chance = random.Random(n)
        x = [unit * 7 * k for k in range(11)]
        y = [0.001 * unit * v + unit * chance.gauss(0, 0.004) for v in range(11)]
        asked += bool(blunders_of_line(x, y, 0.001 * unit))
        odd = chance.sample(range(11), 3)
        for k in odd:
            y[k] += chance.choice((-1, 1)) * 0.2 * unit
        found += set(blunders_of_line(x, y, 0.001 * unit)) == set(odd)
    assert asked <= 6
    assert found >= 285


def test_a_slip_in_the_travel_is_named():
    travel = measure_travel([402.1, 402.0, 402.2, 420.1, 402.1], 0.5)
    assert [(f.code, f.what.text()[:9]) for f in travel.findings] == [("doubtful", "Reading 4")]
    assert measure_travel([402.1, 402.0, 402.2, 402.3, 402.1], 0.5).findings == ()


def test_several_odd_readings_of_a_run_are_asked_about():
    targets = [t for _ in range(5) for t in (0.0, 100.0, 200.0, 300.0)]
    shown = [t + 0.001 * (n % 3) for n, t in enumerate(targets)]
    shown[6] += 0.3
    shown[13] -= 0.2
    assert odd_readings(targets, [True] * 20, shown, 0.005) == [6, 13]


@pytest.mark.parametrize("step", [0.01, 0.001, 0.0127, 0.0254])
def test_a_part_is_known_to_one_step_at_best(step):
    """Measured in whole steps of a perfect part: the true scale lies inside U, and U holds a step over the span."""
    inside = 0
    for n in range(200):
        chance = random.Random(f"{step} {n}")
        spots = chance.sample(PLACES, 4)
        scale = 1 + chance.uniform(-2e-4, 2e-4)
        got = [(round(scale * x / step) * step, round(scale * y / step) * step) for x, y in spots]
        check = check_places(spots, got)
        assert check.step_mm == pytest.approx(written_step([v for p in got for v in p]))
        inside += abs(check.scale_x - scale) <= check.expanded_x
    assert inside >= 186  # 93 %


def test_a_hole_measured_wrongly_is_asked_about():
    got = [(x, y) for x, y in PLACES]
    got[4] = (got[4][0] + 0.4, got[4][1])
    assert check_places(PLACES, got, 0.01).odd == (4,)
    ends = [(0, 6), (1, 7), (2, 8), (3, 9), (4, 10), (5, 11), (0, 3), (3, 6), (6, 9), (9, 0)]
    apart = [math.dist(PLACES[a], PLACES[b]) + 0.001 * (n % 2) for n, (a, b) in enumerate(ends)]
    apart[2] += 0.5
    check = check_distances([PLACES[a] for a, _ in ends], [PLACES[b] for _, b in ends], apart, 0.01)
    assert check.odd == (2,)


@pytest.mark.parametrize("lead", [4.0, 5.0, 5.08, 2.54])
def test_the_targets_proposed_see_nine_tenths_of_a_wave(lead):
    gap = widest_phase([t for t in wave_targets(5, 395, lead) if 130 < t < 160], lead)
    assert math.cos(math.pi * gap) >= 0.92
    assert widest_phase([0, lead, 2 * lead], lead) == 1.0


@pytest.mark.parametrize("unit", [1.0, 25.4])
def test_steps_that_all_come_by_one_ratio_are_a_matter_of_counts_and_not_of_the_gib(unit):
    asked = 0.025 * unit
    for ratio, code in ((3.0, "steps-by-a-ratio"), (0.5, "steps-by-a-ratio"), (1.0, None)):
        found = judge_steps([asked * ratio] * 10, asked, 0.005 * unit)
        assert [f.code for f in found.findings if f.severity == "caution"] == ([code] if code else [])
    mixed = judge_steps([0.0, asked, 0.0, 2 * asked, 0.0, 2.2 * asked, asked], asked, 0.005 * unit)
    assert "steps-by-a-ratio" not in {f.code for f in mixed.findings}


@pytest.mark.parametrize("step", [1, 0.5, 0.1, 0.05, 0.02, 0.01, 0.005, 0.002, 0.001, 0.0005, 0.0001, 25.4e-3, 12.7e-3])
def test_the_step_that_figures_are_written_in_is_found(step):
    assert written_step([3 * step, 7 * step]) == pytest.approx(step, rel=1e-9)
