"""ISO 230-2 figures against a plain computation with the standard library, in both unit systems."""

import random
import statistics

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.prove.positioning import analyse_positioning

MM_PER_INCH = 25.4


def readings(seed, targets, cycles, scale=1.0):
    """Rows (target, up, deviation) of an axis with an error of form, lost motion and scatter."""
    rng = random.Random(seed)
    return [
        (t * scale, up, scale * (0.004 * t / targets[-1] + (0.003 if up else -0.002) + rng.gauss(0, 0.001)))
        for _ in range(cycles)
        for up in (True, False)
        for t in targets
    ]


def plainly(rows):
    """The clauses one after another, with nothing but means, deviations, largest and smallest."""
    at = {}
    for target, up, deviation in rows:
        at.setdefault((target, up), []).append(deviation)
    targets = sorted({t for t, _ in at})
    mean = {k: statistics.fmean(v) for k, v in at.items()}
    s = {k: statistics.stdev(v) for k, v in at.items()}
    reversal = [mean[t, True] - mean[t, False] for t in targets]
    middle = [(mean[t, True] + mean[t, False]) / 2 for t in targets]
    both = [
        max(2 * s[t, True] + 2 * s[t, False] + abs(b), 4 * s[t, True], 4 * s[t, False])
        for t, b in zip(targets, reversal, strict=True)
    ]

    def one(way):
        keys = [(t, way) for t in targets]
        span = max(mean[k] for k in keys) - min(mean[k] for k in keys)
        top, low = max(mean[k] + 2 * s[k] for k in keys), min(mean[k] - 2 * s[k] for k in keys)
        return span, max(4 * s[k] for k in keys), top - low

    return {
        "reversal": max(map(abs, reversal)),
        "mean_reversal": statistics.fmean(reversal),
        "range_mean": max(middle) - min(middle),
        "systematic": max(mean.values()) - min(mean.values()),
        "repeatability": max(both),
        "accuracy": max(mean[k] + 2 * s[k] for k in at) - min(mean[k] - 2 * s[k] for k in at),
        "up": one(True),
        "down": one(False),
    }


def analysed(rows):
    return analyse_positioning(*zip(*rows, strict=True))


@pytest.mark.parametrize("scale", [1.0, MM_PER_INCH])
@pytest.mark.parametrize("seed", range(6))
def test_every_figure_agrees_with_the_plain_computation(seed, scale):
    rows = readings(seed, [0, 61.3, 140, 199.7, 302, 377], 5, scale)
    random.Random(seed).shuffle(rows)
    found, wanted = analysed(rows), plainly(rows)
    for name in ("reversal", "mean_reversal", "range_mean", "systematic", "repeatability", "accuracy"):
        assert getattr(found, f"{name}_mm") == pytest.approx(wanted[name], rel=1e-9)
    for way in ("up", "down"):
        one = getattr(found, way)
        assert (one.systematic_mm, one.repeatability_mm, one.accuracy_mm) == pytest.approx(wanted[way], rel=1e-9)


@given(st.floats(-0.5, 0.5), st.integers(0, 50))
def test_a_shifted_zero_changes_nothing(shift, seed):
    rows = readings(seed, [0, 80, 210, 330], 3)
    moved = [(t, up, d + shift) for t, up, d in rows]
    assert analysed(moved).accuracy_mm == pytest.approx(analysed(rows).accuracy_mm, abs=1e-9)
    assert analysed(moved).mean_reversal_mm == pytest.approx(analysed(rows).mean_reversal_mm, abs=1e-9)


def test_lost_motion_keeps_its_sign():
    rows = [(t, up, -0.02 if up else 0.01) for t in (0, 100) for up in (True, False)]
    assert analysed(rows).mean_reversal_mm == pytest.approx(-0.03)
    assert analysed(rows).reversal_mm == pytest.approx(0.03)


def test_one_direction_leaves_the_bidirectional_figures_out():
    found = analysed([r for r in readings(1, [0, 100, 200], 5) if r[1]])
    assert (found.reversal_mm, found.accuracy_mm, found.repeatability_mm, found.down) == (None,) * 4
    assert found.up.repeatability_mm > 0


def test_one_run_has_no_repeatability_and_says_what_the_standard_asks():
    found = analysed(readings(1, [0, 100, 200], 1))
    assert found.repeatability_mm is None
    assert found.accuracy_mm is None
    assert found.reversal_mm > 0
    assert "Targets: 3, cycles: 1." in found.findings[0].as_json("mm")["text"]


@pytest.mark.parametrize(
    ("targets", "cycles", "enough"),
    [(5, 5, True), (5, 4, False), (4, 5, False)],
)
def test_what_the_standard_asks_of_a_short_axis(targets, cycles, enough):
    places = [i * 90.0 for i in range(targets)]
    assert (not analysed(readings(2, places, cycles)).findings) is enough


def test_a_longer_axis_asks_for_more_targets():
    found = analysed(readings(2, [i * 300.0 for i in range(6)], 5))
    assert found.findings[0].what.values["wanted"] == 8


def test_a_direction_with_fewer_cycles_counts():
    rows = readings(3, [0, 90, 180, 270, 360], 5)
    short = [r for n, r in enumerate(rows) if r[1] or n < 20]
    assert analysed(short).findings[0].what.values["cycles"] == 2


@pytest.mark.parametrize(
    ("rows", "words"),
    [
        ([(0.0, True, 0.1), (0.0, False, 0.1)], "two targets"),
        ([(0.0, True, 0.1), (9.0, True, 0.1), (9.0, False, 0.1)], "Direction -"),
    ],
)
def test_what_is_missing_is_named(rows, words):
    with pytest.raises(BadInputError, match=words):
        analysed(rows)
