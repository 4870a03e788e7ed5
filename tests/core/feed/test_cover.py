"""The cover: over random gears nothing that turns in it touches it, wherever the slots let the unit stand."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.feed.cover import plan_cover
from vernus.core.feed.gears import mesh_gears

INCH = 25.4


@given(
    st.sampled_from([1.5, 2.0, INCH / 12]), st.integers(17, 60), st.integers(17, 60), st.floats(0, 8), st.floats(10, 70)
)
def test_nothing_that_turns_in_it_touches_it(module, drive, unit, adjust, far):
    mesh = mesh_gears(module, (unit, drive), 20, backlash_mm=0.1)
    cover = plan_cover(mesh, (drive, unit), far, adjust)
    drive_out, unit_out = module * (drive / 2 + 1), module * (unit / 2 + 1)
    assert cover.from_screw_mm - drive_out == pytest.approx(5)
    for stands in (-adjust, 0.0, adjust):
        centre = module * (drive + unit) / 2 + mesh.open_mm + stands
        assert cover.long_mm - cover.from_screw_mm - centre - unit_out >= 5 - 1e-9
    assert cover.wide_mm / 2 - max(drive_out, unit_out) == pytest.approx(5)
    assert cover.deep_mm - far == pytest.approx(5)


def test_a_screw_that_passes_through_gets_a_hole_and_a_cover_too_high_is_told():
    mesh = mesh_gears(2, (18, 36), 20, backlash_mm=0.1)
    cover = plan_cover(mesh, (36, 18), 40, 5, screw=(20, 90), top_mm=40)
    assert cover.screw_mm == 24
    assert "a hole of 24 mm" in cover.words.text()
    assert [f.code for f in cover.findings] == ["cover-above-the-table"]
    assert "5 mm above" in cover.findings[0].what.text()
    assert " in along the line" in cover.words.text("in")
    assert plan_cover(mesh, (36, 18), 40, 5, screw=(20, 30), top_mm=50).screw_mm is None
    assert plan_cover(mesh, (36, 18), 40, 5, sits="right", top_mm=50).findings == ()
    assert plan_cover(mesh, (36, 18), 40, 5, sits="above", top_mm=50).findings != ()
    with pytest.raises(BadInputError):
        plan_cover(mesh, (36, 18), 0, 5)
