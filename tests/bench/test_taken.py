"""An instrument alone makes no pass: what streams is not taken, what a hand sends is, and hands-free needs a move."""

import random

import pytest

from vernus.bench.line import patterns_of
from vernus.bench.taken import SendButton, Stillness


@pytest.mark.parametrize("every", [0.04, 0.1, 0.4, 0.9, 1.5, 3.0])
def test_a_stream_is_told_from_a_hand(every):
    """However slowly it sends by itself, it comes like clockwork; at most the first few are taken."""
    button, chance = SendButton(), random.Random(1)
    taken = [button.takes(n * every + chance.gauss(0, 0.01)) for n in range(40)]
    assert sum(taken) <= 6
    assert not any(taken[7:])
    assert button.by_itself


@pytest.mark.parametrize("seed", range(20))
def test_a_hand_that_cranks_and_presses_is_taken(seed):
    chance, button, at = random.Random(seed), SendButton(), 0.0
    for _ in range(15):
        at += chance.uniform(2.0, 9.0)
        assert button.takes(at)


def still(seconds, mm, noise, chance, start):
    return [(start + n * 0.04, mm + chance.gauss(0, noise)) for n in range(int(seconds / 0.04))]


def run(samples):
    held = Stillness()
    return [v for at, mm in samples if (v := held.takes(at, mm)) is not None]


@pytest.mark.parametrize("seed", range(20))
def test_hands_free_takes_each_station_once_and_nothing_where_nothing_moved(seed):
    chance = random.Random(seed)
    assert run(still(30, 0.1, 0.0003, chance, 0)) == [], "left alone it takes nothing"
    samples, at, truth = [], 0.0, []
    for n in range(7):
        mm = 0.02 * n + chance.uniform(-0.004, 0.004)
        for k in range(50):  # two seconds of cranking, the needle about
            samples.append((at, mm + 0.03 * chance.uniform(-1, 1) * (1 - k / 50)))
            at += 0.04
        samples += still(chance.uniform(2.5, 5.0), mm, 0.0003, chance, at)
        at = samples[-1][0] + 0.04
        truth.append(mm)
    taken = run(samples)
    assert len(taken) == 7
    assert taken == pytest.approx(truth, abs=0.0015)


@pytest.mark.parametrize(
    ("lines", "found"),
    [
        (["+0.560 mm", "-0.001 mm"], ["with-unit"]), (["A10.5 mm"], ["tagged"]),
        (["01A+0.560"], ["tagged", "tagged-in"]), (["0.56"], ["plain", "plain-in"]),
        (["hello"], []), ([], []), (["+0.5600 in"], ["with-unit"]), (["0,56"], ["plain", "plain-in"]),
    ],
)  # fmt: skip
def test_lines_are_understood_and_a_figure_without_a_unit_stays_open(lines, found):
    assert [p.id for p in patterns_of(lines)] == found
