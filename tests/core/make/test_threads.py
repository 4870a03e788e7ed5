"""Threads told from two figures, against the tables of the bd-warehouse wheel and the systems' own arithmetic."""

import csv
import importlib.util
import math
import random
import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import ALL_THREADS, THREADS, plan_hole, thread_named
from vernus.core.make.threads import beyond_table, identify_thread, name_thread, thread_candidates

DATA = Path(next(iter(importlib.util.find_spec("bd_warehouse").submodule_search_locations))) / "data"


def names(*figures):
    return [t.name for t in identify_thread(*figures)]


@given(st.sampled_from(ALL_THREADS), st.floats(-0.058, 0.018), st.floats(-0.048, 0.048))
def test_every_thread_is_among_those_told_from_figures_within_the_limits(thread, worn, misread):
    found = thread_candidates(thread.major_mm * (1 + worn), thread.pitch_mm * (1 + misread))
    assert thread in [c.thread for c in found]
    assert [c.badness for c in found] == sorted(c.badness for c in found)
    mine = next(c for c in found if c.thread == thread)
    assert mine.diameter_off_mm == pytest.approx(thread.major_mm * worn, abs=1e-9)
    assert mine.pitch_off_mm == pytest.approx(thread.pitch_mm * misread, abs=1e-9)


@given(st.sampled_from(ALL_THREADS), st.sampled_from([0.03, -0.065]))
def test_a_screw_is_never_two_per_cent_over_nor_six_under(thread, off):
    caliper = math.copysign(0.05, off)
    assert thread not in identify_thread(thread.major_mm * (1 + off) + caliper, thread.pitch_mm)


def test_a_caliper_may_be_off_and_hardly_any_thread_is_told_alone_and_wrong():
    """Every thread of the tables, and those of the outside table, measured with a caliper within 0.05 mm."""
    chance, alone_wrong, tried = random.Random(7), 0, 0
    with (DATA / "tap_hole_sizes.csv").open(newline="") as file:
        rows = [row["Size"].strip() for row in csv.DictReader(file)]
    outside = [re.fullmatch(r"M([\d.]+)-([\d.]+)", size) for size in rows]
    sizes = {(float(m[1]), float(m[2])) for m in outside if m} - {(21.0, 2.0)}  # in no standard
    sizes |= {(t.major_mm, t.pitch_mm) for t in ALL_THREADS}
    for diameter, pitch in sorted(sizes):
        for _ in range(10):
            read = diameter + chance.uniform(-0.05, 0.05)
            found, doubt = thread_candidates(read, pitch * chance.uniform(0.98, 1.02)), beyond_table(read)
            right = [c for c in found if (c.thread.major_mm, c.thread.pitch_mm) == (diameter, pitch)]
            tried, alone_wrong = tried + 1, alone_wrong + (len(found) == 1 and not right and not doubt)
    assert len(sizes) >= 93
    assert alone_wrong / tried < 0.005, f"{alone_wrong} of {tried}"


def test_what_may_be_unified_or_whitworth_is_told_as_both_and_the_ends_of_the_table_as_doubtful():
    assert {"7/8-9", "7/8 BSW"} <= set(names(22.15, 25.4 / 9))
    assert {"1 1/2-6", "1 1/2 BSW"} <= set(names(38.0, 25.4 / 6))
    assert names(9.7, 25.4 / 28)[0] == "G1/8"
    assert names(6.98, 1.0)[0] == "M7x1"
    assert beyond_table(1.6)
    assert beyond_table(37.9)
    assert not beyond_table(6.0)


@pytest.mark.parametrize("thread", [t for t in ALL_THREADS if t not in THREADS], ids=lambda t: t.name)
def test_a_rare_thread_has_its_drill_and_is_never_proposed(thread):
    hole = plan_hole(thread_named(thread.name), "steel")
    assert thread.minor_mm - 0.01 <= hole.tap_drill.diameter_mm < thread.major_mm
    assert thread.major_mm < hole.clearance_mm[0] < hole.clearance_mm[1] < hole.clearance_mm[2]


@given(st.sampled_from(ALL_THREADS), st.floats(0, 0.3))
def test_a_hole_is_known_by_its_minor_diameter(thread, easy):
    assert thread in identify_thread(thread.minor_mm + easy * thread.pitch_mm, thread.pitch_mm, "bore")


def test_zero_ba_and_m6_cannot_be_told_apart_and_what_does_is_said():
    assert names(5.95, 1.0)[:2] == ["M6x1", "0 BA"]
    said = name_thread(identify_thread(5.95, 1.0)).text()
    assert "47½°" in said
    assert "60°" in said
    assert "0 BA" in said


def test_whitworth_and_unified_of_one_pitch_differ_by_their_angle():
    assert names(6.3, 1.27)[:2] == ["1/4-20", "1/4 BSW"]
    assert "55° or 60°" in name_thread(identify_thread(6.3, 1.27)).text()
    assert names(12.6, 25.4 / 12) == ["1/2 BSW"]  # 12 threads, where unified has 13


def test_figures_that_fit_nothing_are_said_to():
    assert identify_thread(7.0, 0.2) == []
    assert "measure the screw" in name_thread([]).text()
    for figures in ((0, 1), (5, 0), (-5, 1)):
        with pytest.raises(BadInputError, match="larger than zero"):
            identify_thread(*figures)


def test_depths_follow_from_the_profiles_own_angles():
    # Basic depth of the nut thread: 5/8 H at 60°; Whitworth 2/3·H twice at 55°; BA 0.6·P twice (BS 93, from memory).
    for name, per_pitch in (
        ("M6", 2 * 5 / 8 * math.sqrt(3) / 2), ("1/4-20", 2 * 5 / 8 * math.sqrt(3) / 2),
        ("1/4 BSW", 2 * 2 / 3 * 0.5 / math.tan(math.radians(27.5))), ("2 BA", 1.2),
    ):  # fmt: skip
        thread = thread_named(name)
        assert thread.major_mm - thread.minor_mm == pytest.approx(per_pitch * thread.pitch_mm, rel=1e-4)


@pytest.mark.parametrize("k", range(11))
def test_ba_sizes_follow_their_law(k):
    # Pitch 0.9**k, diameter 6·P**1.2, both rounded to two figures (BS 93, from memory).
    thread = thread_named(f"{k} BA")
    assert thread.pitch_mm == pytest.approx(0.9**k, abs=0.005)
    assert thread.major_mm == pytest.approx(6 * (0.9**k) ** 1.2, abs=0.051)


def test_sizes_and_pitches_of_the_outside_table_are_found():
    with (DATA / "tap_hole_sizes.csv").open(newline="") as file:
        rows = [row["Size"].strip() for row in csv.DictReader(file)]
    known = {t.name for t in ALL_THREADS}
    told = 0
    for size in rows:
        wanted = size.replace("-", "x") if size.startswith("M") else size
        if wanted in known:
            thread = thread_named(wanted)
            assert thread in identify_thread(thread.major_mm, thread.pitch_mm)
            told += 1
    assert told >= 30
