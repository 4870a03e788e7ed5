"""Plates over existing holes, against rules told again here by plain loops."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import MATERIALS, thread_named
from vernus.core.make.plates import KeepOut, PlaceOfHole, plan_plate

_places = st.builds(
    PlaceOfHole,
    st.integers(-80, 80).map(float),
    st.integers(-80, 80).map(float),
    st.sampled_from([thread_named(t) for t in ("M5", "M8", "1/4-20", "10-32", "1/4 BSW")]),
)
_areas = st.builds(
    lambda x, y, w, h: KeepOut((x, y), (x + w, y + h)),
    st.integers(-120, 100).map(float), st.integers(-120, 100).map(float),
    st.integers(2, 60).map(float), st.integers(2, 60).map(float),
)  # fmt: skip


def at(x, y, thread="M6", **more):
    return PlaceOfHole(x, y, thread_named(thread), **more)


@given(
    st.lists(_places, min_size=1, max_size=4), st.lists(_places, min_size=1, max_size=4), st.lists(_areas, max_size=2),
    st.sampled_from([1.0, 1.5, 2.0]), st.sampled_from(MATERIALS),
)  # fmt: skip
def test_a_plate_keeps_its_rules_and_is_the_smallest_that_does(existing, wanted, areas, edge, material):
    plan = plan_plate(existing, wanted, areas, thickness_mm=40, material=material, edge_diameters=edge)
    places = [*existing, *wanted]
    dx, dy = plan.datum_mm
    assert [(h.x_mm - dx, h.y_mm - dy) for h in plan.holes] == [pytest.approx((p.x_mm, p.y_mm)) for p in places]
    gaps = {"left": [], "right": [], "low": [], "high": []}
    for hole in plan.holes:
        d = hole.thread.major_mm
        gaps["left"].append(hole.x_mm - edge * d)
        gaps["right"].append(plan.width_mm - hole.x_mm - edge * d)
        gaps["low"].append(hole.y_mm - edge * d)
        gaps["high"].append(plan.height_mm - hole.y_mm - edge * d)
        assert hole.diameter_mm > d if hole.of == "existing" else hole.diameter_mm < d
    assert all(min(g) == pytest.approx(0, abs=1e-9) for g in gaps.values())  # no edge less, none to spare
    good = True
    for n, a in enumerate(places):
        for b in places[:n]:
            metal = math.hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm) - (a.thread.major_mm + b.thread.major_mm) / 2
            good &= metal >= max(a.thread.major_mm, b.thread.major_mm) - 1e-9
    for area in areas:
        x, y = (area.low[0] + dx, area.high[0] + dx), (area.low[1] + dy, area.high[1] + dy)
        good &= not (x[0] < plan.width_mm - 1e-9 and x[1] > 1e-9 and y[0] < plan.height_mm - 1e-9 and y[1] > 1e-9)
    assert plan.feasible == good
    assert good == all(f.severity != "stop" for f in plan.findings)


def test_a_counterbore_stays_clear_and_needs_its_depth():
    pair = [at(0, 0, counterbored=True)], [at(14, 0)]
    # Heads of M6 are sunk in 11 (DIN 974-1, from memory): 14 apart leaves 14 − 5.5 − 3 = 5.5 of metal.
    assert plan_plate(*pair, thickness_mm=12, material="steel").feasible
    near = plan_plate([at(0, 0, counterbored=True)], [at(11.5, 0)], thickness_mm=12, material="steel")
    assert not near.feasible
    thin = plan_plate(*pair, thickness_mm=7, material="steel")
    assert [f.code for f in thin.findings] == ["counterbore-too-deep"]
    assert not thin.feasible
    hole = thin.holes[0]
    assert (hole.counterbore_mm, hole.counterbore_depth_mm) == (11, 6.4)


def test_a_hole_in_a_place_to_keep_out_of_is_named_by_its_number():
    plan = plan_plate([at(0, 0)], [at(40, 0)], [KeepOut((35, -5), (60, 5))], thickness_mm=12, material="steel")
    assert "Hole 2 lies in a place to keep out of" in plan.findings[0].what.text()
    edge = plan_plate([at(0, 0)], [at(40, 0)], [KeepOut((45, -5), (60, 5))], thickness_mm=12, material="steel")
    assert "4 mm by 10 mm" in edge.findings[0].what.text()
    assert "0.157 in" in edge.findings[0].what.text("in")


def test_advice_on_a_thin_plate_ends():
    (found,) = plan_plate([at(0, 0)], [at(40, 0)], thickness_mm=6, material="aluminium").findings
    assert found.code == "thin-wall"
    assert "smaller" not in found.remedy.text()


def test_what_is_no_plate_is_refused():
    for bad in (([], [at(0, 0)]), ([at(0, 0)], [])):
        with pytest.raises(BadInputError, match="at least one hole"):
            plan_plate(*bad, thickness_mm=12, material="steel")
    with pytest.raises(BadInputError, match="larger than zero"):
        plan_plate([at(0, 0)], [at(40, 0)], thickness_mm=0, material="steel")
    with pytest.raises(BadInputError, match="lower left"):
        KeepOut((0, 0), (0, 5))
