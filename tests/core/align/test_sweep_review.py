import random

import pytest

from vernus.core.align.means import instruct
from vernus.core.align.sweep import Indicator, analyse_sweep, correct
from vernus.core.align.sweep_review import compare_passes, gain_between, review_sweep

STATIONS = [0.0, 100, 200, 300, 400, 500]


def swept(slope_per_m, bow=0.0, indicator=None, extra=()):
    indicator = indicator or Indicator()
    readings = [slope_per_m / 1000 * x + bow * ((x - 250) / 250) ** 2 for x in STATIONS]
    stations = [*STATIONS, *(s for s, _ in extra)]
    readings += [r for _, r in extra]
    return analyse_sweep(stations, readings, indicator), readings, indicator


def codes(sweep, readings, indicator, screws=None):
    return [f.code for f in review_sweep(sweep, readings, indicator, screws)]


def test_a_slipped_base_is_told_and_stops_the_advice():
    sweep, readings, indicator = swept(0.3, extra=[(0.0, 0.03)])
    findings = review_sweep(sweep, readings, indicator)
    assert [f.code for f in findings][:1] == ["indicator-moved"]
    fix = correct(sweep, readings, indicator, (0, 500))
    assert "sweep again before touching a screw" in instruct(sweep, fix, findings).text()


def test_two_divisions_apart_is_still_the_same_reading():
    assert "indicator-moved" not in codes(*swept(0.3, extra=[(0.0, 0.02)]))


def test_sag_is_named_as_such_and_a_bow_that_is_none_is_named_otherwise():
    assert "sag" in codes(*swept(0.0, bow=0.08))
    sweep = analyse_sweep(STATIONS, [0, 0, 0.08, 0, 0, 0], Indicator())
    assert "bow-unsure" in [f.code for f in review_sweep(sweep, [0, 0, 0.08, 0, 0, 0], Indicator())], "or a slip"
    twice = [0, 0, 0.08, 0, 0, 0] * 2
    sweep = analyse_sweep([*STATIONS, *STATIONS], twice, Indicator())
    assert "bow-over-tolerance" in [f.code for f in review_sweep(sweep, twice, Indicator())]


@pytest.mark.parametrize(("times", "word", "least"), [(0.4, "pass", 0.9), (2.0, "fail", 0.9)])
@pytest.mark.parametrize(("n", "passes"), [(5, 2), (7, 1), (10, 2)])
def test_a_bow_is_judged_by_how_the_readings_scatter(times, word, least, n, passes):
    chance, tolerance, said = random.Random(f"bow {times} {n}"), 0.05, []
    stations = [500 * k / (n - 1) for k in range(n)]
    for _ in range(100):
        readings = [
            4 * times * tolerance * (x / 500) * (1 - x / 500) + chance.gauss(0, 0.003) for x in stations * passes
        ]
        said.append(analyse_sweep(stations * passes, readings, Indicator(), tolerance).bow_verdict)
    wrong = {"pass": "fail", "fail": "pass"}[word]
    assert said.count(word) / len(said) >= least
    assert said.count(wrong) / len(said) <= 0.01


def test_cannot_tell_says_what_would_settle_it():
    sweep, readings, indicator = swept(0.095)
    found = review_sweep(sweep, readings, indicator)[0]
    assert (sweep.verdict, found.code) == ("unsure", "cannot-tell")
    assert "0.003 mm would settle it" in found.remedy.text("mm")
    assert "0.1 thou would settle it" in found.remedy.text("in")


def test_a_sweep_much_shorter_than_the_screws_are_apart_is_told():
    sweep, readings, indicator = swept(0.3)
    assert "short-sweep" in codes(sweep, readings, indicator, (-300, 800))
    assert "short-sweep" not in codes(sweep, readings, indicator, (-20, 520))


def test_a_steep_lever_over_a_long_swing_is_told():
    assert "steep-lever" in codes(*swept(4.0, indicator=Indicator(angle_deg=60)))
    assert "steep-lever" not in codes(*swept(0.3, indicator=Indicator(angle_deg=60)))


@pytest.mark.parametrize(
    ("after", "moved_by", "expected"),
    [
        (0.6, "turns", ["sense-reversed"]),
        (0.6, "dial", ["moved-wrong-way"]),
        (0.29, "dial", ["screw-stuck"]),
        (0.13, "dial", []),
        (0.001, "turns", []),
    ],
)
def test_two_passes_tell_what_the_correction_did(after, moved_by, expected):
    before, _, _ = swept(0.3)
    now, _, _ = swept(after)
    assert [f.code for f in compare_passes(before, now, moved_by)] == expected


def test_nothing_is_judged_from_a_gain_that_is_not_known_well():
    before, _, _ = swept(0.02)
    after, _, _ = swept(-0.3)
    assert not gain_between(before, after).judged
    assert compare_passes(before, after, "turns") == []


def test_the_instruction_names_screw_station_way_and_figures_in_both_systems():
    sweep, readings, indicator = swept(0.3)
    text = instruct(sweep, correct(sweep, readings, indicator, (-20, 520), "left"), [])
    assert "Keep the left screw at −20 mm tight" in text.text("mm")
    assert "away from the indicator" in text.text("mm")
    assert "from +0.150 mm to −0.006 mm" in text.text("mm")
    assert "from +5.9 thou to −0.2 thou" in text.text("in")
    held_right = instruct(sweep, correct(sweep, readings, indicator, (-20, 520), "right"), [])
    assert "ease the left screw's end toward" in held_right.text()


def test_a_pass_says_leave_it_alone():
    sweep, _, _ = swept(0.02)
    assert instruct(sweep, None, []).text().startswith("Leave the screws alone")


def test_a_sweep_that_cannot_tell_says_so_before_it_advises():
    sweep, readings, indicator = swept(0.095)
    text = instruct(sweep, correct(sweep, readings, indicator, (-20, 520)), []).text()
    assert text.startswith("This sweep can't tell")
    assert "keep the left screw" in text


def test_who_sweeps_the_longest_stretch_there_is_is_asked_for_no_longer_one():
    readings = [0.02 * n for n in range(5)]
    sweep = analyse_sweep([0, 30, 60, 90, 120], readings, Indicator(), 0.05, 400)
    assert "short-sweep" in [f.code for f in review_sweep(sweep, readings, Indicator(), (0, 400))]
    assert "short-sweep" not in [f.code for f in review_sweep(sweep, readings, Indicator(), (0, 400), 121)]


def test_two_readings_are_told_to_be_too_few():
    sweep = analyse_sweep([0, 400], [0, 0.09], Indicator())
    (found,) = review_sweep(sweep, [0, 0.09], Indicator())
    assert (found.code, found.severity) == ("two-readings", "info")
    assert "Read more stations" in found.remedy.text()


def test_what_a_move_achieved_is_held_against_what_was_advised():
    before, _, _ = swept(0.4)
    after, _, _ = swept(0.1)
    assert gain_between(before, after).value == pytest.approx(0.75)
    assert gain_between(before, after, before.line.slope / 0.8).value == pytest.approx(0.6)
