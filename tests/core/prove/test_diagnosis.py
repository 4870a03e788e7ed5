"""Patterns and their causes, on simulated axes with known faults."""

import collections
import itertools
import random

import pytest

from vernus.bench.readout import AxisFaults, SimulatedAxis
from vernus.core.errors import BadInputError
from vernus.core.prove.causes import CAUSES, PATTERNS
from vernus.core.prove.diagnosis import diagnose

INCH = 25.4


def named(axis, stations=11, cycles=5):
    return diagnose(*zip(*axis.run(axis.targets(stations), cycles), strict=True), axis.count_mm)


def test_the_right_cause_is_named_first_in_at_least_90_of_100_and_none_wrongly():
    table = {cause: collections.Counter() for cause in PATTERNS}
    for seed, cause in itertools.product(range(10), PATTERNS):
        axis = SimulatedAxis.from_seed(1000 + seed, cause)
        table[cause][named(axis, 9 + seed % 4, 3 + seed % 3).first or "can't tell"] += 1
    right = sum(table[cause][cause] for cause in PATTERNS)
    wrong = sum(row.total() - row[cause] - row["can't tell"] for cause, row in table.items())
    assert right >= 90
    assert wrong == 0, table


@pytest.mark.parametrize(
    "pair",
    [
        ("lost-motion", "bow"),
        ("trend", "lost-motion"),
        ("lost-motion-growing", "trend"),
        ("step", "drift"),
        ("bow", "drift"),
    ],
)
def test_of_two_faults_one_is_named_first_and_both_are_named(pair):
    first = both = 0
    for seed in range(8):
        found = named(SimulatedAxis.from_seed(seed, *pair))
        first += found.first in pair
        both += set(pair) <= {n.cause for n in found.causes}
    assert first >= 7
    assert both >= 5


@pytest.mark.parametrize("scale", [1.0, INCH])
def test_a_sound_axis_has_nothing_named_in_either_unit_system(scale):
    for seed in range(10):
        axis = SimulatedAxis(300 * scale, AxisFaults(), seed, count_mm=0.005 * scale)
        found = named(axis)
        assert found.causes == ()
        assert "as good as these readings can tell" in found.instruction.text()


def test_the_evidence_has_its_figure_and_place():
    axis = SimulatedAxis(500, AxisFaults(step=0.06, step_at_share=0.4), 3)
    found = named(axis)
    assert found.first == "step"
    text = found.causes[0].evidence.text()
    assert "jumps by +0.0" in text
    where = float(text.split(" near ")[1].split()[0])
    assert where == pytest.approx(200, abs=30)
    wave = named(SimulatedAxis(400, AxisFaults(cyclic=0.08, period_share=0.3), 5), 21)
    period = float(wave.causes[0].evidence.text().split("every ")[1].split()[0])
    assert (wave.first, period) == ("cyclic", pytest.approx(120, rel=0.05))


@pytest.mark.parametrize(("ratio", "words"), [(25.4, "mm and inch"), (0.5, "radius and diameter"), (10, "count size")])
def test_a_clean_ratio_is_told_with_what_it_means(ratio, words):
    found = named(SimulatedAxis(200, AxisFaults(ratio=ratio), 1))
    assert found.first == "ratio"
    assert words in found.causes[0].evidence.text()


def test_a_display_that_counts_backwards_or_far_off_is_told():
    back = diagnose([0, 100, 200], [True] * 3, [0, -100, -200])
    assert (back.first, "other way" in back.causes[0].evidence.text()) == ("ratio", True)
    off = diagnose([0, 100, 200], [True] * 3, [0, 113, 226])
    assert off.first == "reads-wrong"


def test_drift_and_trend_read_in_one_pass_cannot_be_told_apart_and_drift_needs_repeats():
    targets = [10.0 * n for n in range(12)] * 2
    chance = random.Random(2)
    shown = [t + 0.004 * n + chance.gauss(0, 0.001) for n, t in enumerate(targets)]
    found = diagnose(targets, [True] * 24, shown)
    assert {n.cause for n in found.causes} >= {"drift"} or found.unsure == "drift"
    once = diagnose(targets[:12], [True] * 12, shown[:12])
    assert once.first in ("trend", "reads-wrong"), "drift can't be told where nothing was repeated"


def test_every_cause_has_words():
    assert set(CAUSES) == {*PATTERNS, "unexplained"}
    for make in (
        lambda: diagnose([0, 1], [True, True], [0, 1]),
        lambda: diagnose([0, 1, 2], [True], [0, 1, 2]),
        lambda: diagnose([0, 1, 2], [True] * 3, [0, 1, 2], 0.0),
    ):
        with pytest.raises(BadInputError):
            make()


@pytest.mark.parametrize(
    ("body_type", "member", "named", "never"),
    [
        ("body", "table", "a screw that pinches the body", "tape"),
        ("tape", "table", "a joint of the tape", "body"),
        ("rod", "ram", "a dent or a chip on the rod", "body"),
        ("beam", "quill", "its fixing bends the beam", "tape"),
    ],
)
def test_every_type_of_scale_has_its_own_places_to_look_at(body_type, member, named, never):
    targets = [0, 50, 100, 150, 200, 250, 300] * 3
    jumped = [t + (0.04 if t > 120 else 0.0) for t in targets]
    (first, *_) = diagnose(targets, [True] * 21, jumped, member=member, body_type=body_type).causes
    assert (first.cause, named in first.next_test.text()) == ("step", True)
    assert never not in first.next_test.text()
    ways = [n % 2 == 0 for n in range(len(targets))]
    swayed = [t + (0.03 if up else 0.0) for t, up in zip(targets * 2, [*ways, *(not w for w in ways)], strict=True)]
    play = diagnose(targets * 2, [*ways, *(not w for w in ways)], swayed, member=member, body_type=body_type).causes[0]
    assert play.cause == "lost-motion"
    assert ("push its arm round" in play.next_test.text()) == (member == "quill")
