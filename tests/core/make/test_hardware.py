import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import (
    ALL_THREADS,
    DRILL_SETS,
    MATERIALS,
    MOST_PERCENT,
    THREADS,
    countersink_mm,
    drill_named,
    drills,
    engagement_percent,
    plan_hole,
    tap_drill,
    tape_flag,
    thread_named,
)


@given(st.sampled_from(THREADS), st.sampled_from(MATERIALS))
def test_no_drill_is_tighter_than_the_thread_is_high_and_none_is_nearer_to_what_is_wanted(thread, material):
    hole = plan_hole(thread, material)
    wanted = 65 if material in ("tough-steel", "stainless") else 75
    assert 50 < hole.engagement_percent <= MOST_PERCENT
    own = ["metric"] if thread.system == "metric" else ["number", "letter", "fraction"]
    for other in drills(own):
        percent = engagement_percent(thread, other.diameter_mm)
        if 0 < percent <= MOST_PERCENT and other.diameter_mm <= thread.largest_minor_mm + 1e-9:
            assert abs(hole.engagement_percent - wanted) <= abs(percent - wanted) + 1e-9


@pytest.mark.parametrize(
    ("material", "diameters"),
    # Common practice, no source.
    [("steel", 1.0), ("cast-iron", 1.5), ("aluminium", 2.0)],
)
def test_engagement_follows_the_material(material, diameters):
    assert plan_hole(thread_named("M6"), material).min_thread_depth_mm == 6 * diameters


def test_the_drill_goes_deeper_by_the_taps_lead_and_its_own_point():
    plug = plan_hole(thread_named("M5"), "steel")
    assert plug.drill_depth_mm == pytest.approx(5 + 4 * 0.8 + 0.3 * 4.2)
    bottoming = plan_hole(thread_named("M5"), "steel", tap="bottoming")
    assert plug.drill_depth_mm - bottoming.drill_depth_mm == pytest.approx(2.5 * 0.8)
    assert tape_flag(plug) == 9.5
    assert tape_flag(plug, lip_mm=20) == 29.5


@pytest.mark.parametrize("text", ["M5", "m5x0.8", "M5×0.8", "M5-0.8", " M5 x 0.8 "])
def test_a_metric_thread_is_written_in_many_ways(text):
    assert thread_named(text).name == "M5x0.8"


@pytest.mark.parametrize(("text", "name"), [("1/4-20", "1/4-20"), ("1/4-20 UNC", "1/4-20"), ("10-32", "#10-32")])
def test_so_is_an_inch_thread(text, name):
    assert thread_named(text).name == name


def test_threads_and_drills_that_are_none_are_refused_with_what_is_near():
    with pytest.raises(BadInputError, match=r"M6x1, M6x0\.75"):
        thread_named("M6x0.9")
    with pytest.raises(BadInputError, match="no drill"):
        drill_named("#99")
    with pytest.raises(BadInputError, match="cast-iron"):
        plan_hole(thread_named("M5"), "cheese")
    with pytest.raises(BadInputError, match="None of these"):
        tap_drill(thread_named("3/4-10"), 75, ["number"])


def test_a_wall_too_thin_is_a_stop_with_both_figures():
    (found,) = plan_hole(thread_named("M6"), "cast-iron", wall_mm=12).findings
    assert (found.code, found.severity) == ("wall-too-thin", "stop")
    assert "the wall only 12 mm" in found.what.text()
    assert plan_hole(thread_named("M6"), "cast-iron", wall_mm=25).findings == ()


def test_a_fine_thread_in_aluminium_is_called_fragile():
    assert [f.code for f in plan_hole(thread_named("M6x0.75"), "aluminium").findings] == ["fragile-thread"]


@pytest.mark.parametrize("name", ["M3", "M4", "4-40", "6-32", "1/4-20"])
def test_a_small_coarse_thread_is_not_called_fine(name):
    assert plan_hole(thread_named(name), "aluminium").findings == ()


@pytest.mark.parametrize(
    ("name", "largest"),
    # ISO 965-1, 6H, and ASME B1.1, 2B, from memory of their tables (mm).
    [("M6", 5.153), ("M8x1", 7.153), ("M10", 8.676), ("M12", 10.441), ("M20", 17.744), ("1/4-20", 5.258),
     ("10-32", 4.166)],
)  # fmt: skip
def test_no_tap_drill_is_larger_than_the_largest_minor_diameter(name, largest):
    thread = thread_named(name)
    assert thread.largest_minor_mm == pytest.approx(largest, abs=0.011)
    for material in MATERIALS:
        hole = plan_hole(thread, material)
        assert hole.tap_drill.diameter_mm <= thread.largest_minor_mm
        assert "drill-too-large" not in [f.code for f in hole.findings]


@given(st.sampled_from(ALL_THREADS), st.sampled_from(MATERIALS))
def test_every_thread_has_a_drill_inside_its_limits_and_clearances_in_order(thread, material):
    hole = plan_hole(thread, material)
    assert thread.minor_mm - 1e-6 <= hole.tap_drill.diameter_mm <= thread.largest_minor_mm + 1e-9
    close, normal, loose = hole.clearance_mm
    assert thread.major_mm < close < normal < loose < 1.5 * thread.major_mm
    assert [drill_named(n).diameter_mm for n in hole.clearance_names if n[0] != "M"] == list(hole.clearance_mm)
    assert hole.counterbore_mm > hole.clearance_mm[1]


def test_a_drill_from_a_poor_drawer_that_is_too_large_is_a_stop():
    assert "drill-too-large" in [
        f.code for f in plan_hole(thread_named("M5"), "steel", sets=["fraction"]).findings
    ] or (
        plan_hole(thread_named("M5"), "steel", sets=["fraction"]).tap_drill.diameter_mm
        <= thread_named("M5").largest_minor_mm
    )


@pytest.mark.parametrize(
    ("text", "drill"),
    # Common practice, no source: 1/4 Whitworth and 0 BA with 5.1, 2 BA with 4 (74 to 77 % of their own depth).
    [("1/4 BSW", 5.1), ("0 BA", 5.1), ("2BA", 4.0), ("1/4-26 BSF", 5.4)],
)
def test_old_threads_have_drills_too(text, drill):
    hole = plan_hole(thread_named(text), "steel")
    assert hole.tap_drill.diameter_mm == pytest.approx(drill, abs=0.06)
    assert 65 < hole.engagement_percent < 85


def test_drills_of_another_system_serve_when_they_come_near():
    assert plan_hole(thread_named("M6"), "steel", sets=["number"]).tap_drill.name == "#8"
    far = plan_hole(thread_named("M20"), "steel", sets=["fraction"])
    assert far.tap_drill.name == "11/16"


def test_drills_come_smallest_first_and_named_once():
    for kind in DRILL_SETS:
        found = drills([kind])
        assert [d.diameter_mm for d in found] == sorted(d.diameter_mm for d in found)
        assert len({d.name for d in found}) == len(found)


@pytest.mark.parametrize("size", [3, 4, 5, 6, 8, 10, 12, 16, 20])
def test_the_sharp_head_of_a_flat_screw_never_stands_proud(size):
    # ISO 10642: theoretical head diameter 2.24 d, to M20 2.016 d (from memory).
    sharp = 2.24 * size if size <= 12 else {16: 33.6, 20: 40.32}[size]
    assert countersink_mm(thread_named(f"M{size}")) >= sharp - 1e-9
