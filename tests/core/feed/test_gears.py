"""Gears: named from a caliper, centred, opened for backlash, in contact; against plain geometry."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.feed.gears import (
    MODULES,
    PITCHES,
    contact_ratio,
    face_engagement,
    identify_gear,
    mesh_gears,
    name_gear,
    slide_by,
)

INCH = 25.4


@pytest.mark.parametrize("module", [m for m in MODULES if m not in (2.0, 2.5)])
@pytest.mark.parametrize("teeth", [12, 25, 60])
def test_a_module_gear_is_named_from_its_outside_diameter(module, teeth):
    guess = identify_gear(module * (teeth + 2), teeth)[0]
    assert (guess.name, guess.off_mm) == (f"module {module:g}", pytest.approx(0, abs=1e-9))


@pytest.mark.parametrize("pitch", PITCHES)
def test_an_inch_gear_is_named_by_its_pitch(pitch):
    guess = identify_gear(INCH / pitch * 42, 40)[0]
    assert guess.module_mm == pytest.approx(INCH / pitch)
    assert 14.5 in guess.angles_deg or guess.name.startswith("module")


def test_near_standards_are_told_to_be_near_and_far_ones_not_to_be_gears():
    near = identify_gear(2.1 * 22, 20)
    assert "measure over more teeth" in name_gear(near, 46.2).text() or near[0].name == "12 DP"
    assert "12 DP" in name_gear(identify_gear(INCH / 12 * 37, 35), INCH / 12 * 37).text()
    assert "14.5°" in name_gear(identify_gear(INCH / 12 * 37, 35), INCH / 12 * 37).text()
    assert "No standard gear" in name_gear(identify_gear(200, 12), 200).text()


def test_backlash_and_centres_of_the_formulas():
    """0.1 mm of backlash is 0.137 mm of centres at 20°, 0.193 mm at 14.5° (from j = 2·ΔC·tan α)."""
    assert mesh_gears(2, (20, 40), 20, backlash_mm=0.1).open_mm == pytest.approx(0.137, abs=5e-4)
    assert mesh_gears(2, (20, 40), 14.5, backlash_mm=0.1).open_mm == pytest.approx(0.193, abs=5e-4)
    assert mesh_gears(2, (20, 40), 20, backlash_mm=0.1).centre_mm == 60


@given(st.floats(0.01, 0.2), st.sampled_from([14.5, 20.0]), st.sampled_from([1.0, INCH / 12]))
def test_paper_on_both_flanks_opens_twice_as_far_as_on_one(paper, angle, module):
    one = mesh_gears(module, (18, 36), angle, paper_mm=paper)
    two = mesh_gears(module, (18, 36), angle, paper_mm=paper, flanks=2)
    assert two.open_mm == pytest.approx(2 * one.open_mm)
    assert one.backlash_mm * math.cos(math.radians(angle)) == pytest.approx(paper)
    again = mesh_gears(module, (18, 36), angle, backlash_mm=two.backlash_mm)
    assert again.open_mm == pytest.approx(two.open_mm)


def rolled(module, teeth, angle, centre):
    """The contact ratio by walking along the line of action: from where one tip meets it to where the other leaves."""
    alpha = math.radians(angle)
    base = [module * z / 2 * math.cos(alpha) for z in teeth]
    tip = [module * (z + 2) / 2 for z in teeth]
    line = math.sqrt(centre**2 - sum(base) ** 2)
    steps = 200_000
    inside = 0
    for n in range(steps):  # between the interference points: beyond them there is no involute
        along = line * n / steps
        inside += math.hypot(base[0], along) <= tip[0] and math.hypot(base[1], line - along) <= tip[1]
    return inside * line / steps / (math.pi * module * math.cos(alpha))


@pytest.mark.parametrize(
    ("module", "teeth", "angle", "opened"),
    [
        (2, (20, 40), 20, 0.0),
        (INCH / 12, (18, 36), 14.5, 0.3),
        (1.5, (30, 31), 20, 0.1),
        (2, (10, 40), 14.5, 0.0),
        (INCH / 10, (8, 12), 14.5, 0.0),
        (2, (12, 60), 20, 0.2),
    ],
)
def test_the_contact_ratio_equals_a_walk_along_the_line_of_action(module, teeth, angle, opened):
    centre = module * sum(teeth) / 2 + opened
    assert contact_ratio(module, teeth, angle, centre) == pytest.approx(rolled(module, teeth, angle, centre), rel=2e-3)


@pytest.mark.parametrize(
    ("teeth", "whole", "undercut", "code", "severity"),
    [
        ((10, 40), 1.17, 0.87, "small-gear-undercut", "caution"),
        ((8, 12), 0.82, 0.82, "contact-ratio-low", "stop"),
    ],
)
@pytest.mark.parametrize("module", [2.0, INCH / 12])
def test_interference_and_undercut_are_told_apart(module, teeth, whole, undercut, code, severity):
    """14.5°, addendum 1: the nominal 1.63 of 10 and 40 teeth ends at the interference points at 1.17 (the walk above).

    0.87 and 0.82, where a rack undercuts, are the project's own formula: no outside source.
    """
    mesh = mesh_gears(module, teeth, 14.5, backlash_mm=0.0)
    assert mesh.contact_ratio <= whole + 0.005
    assert mesh.undercut_ratio <= undercut + 0.005
    if teeth == (10, 40):
        assert (mesh.contact_ratio, mesh.undercut_ratio) == pytest.approx((1.17, 0.87), abs=0.005)
    told = {f.code: f.severity for f in mesh.findings}
    assert told.get(code) == severity
    assert "1.63" not in " ".join(f.what.text() for f in mesh.findings)


@given(st.integers(6, 60), st.integers(6, 120), st.sampled_from([14.5, 20.0]))
def test_an_undercut_gear_is_never_longer_in_contact_than_a_whole_one(small, large, angle):
    mesh = mesh_gears(2, (small, large), angle, backlash_mm=0.1)
    assert 0 <= mesh.undercut_ratio <= mesh.contact_ratio + 1e-12
    if min(small, large) * math.sin(math.radians(angle)) ** 2 >= 2:
        assert mesh.undercut_ratio == pytest.approx(mesh.contact_ratio)


def test_gears_pulled_too_far_apart_are_told():
    assert contact_ratio(2, (20, 40), 20, 80) == 0
    far = mesh_gears(2, (20, 40), 20, backlash_mm=1.6)
    assert {f.code for f in far.findings} >= {"mesh-loose", "contact-ratio-low"}
    assert mesh_gears(2, (20, 40), 20, backlash_mm=0.01).findings[0].code == "mesh-tight"
    assert mesh_gears(2, (20, 40), 20, paper_mm=0.095, flanks=2).findings == (), "the usual strip makes a good mesh"


def test_sliding_takes_the_measured_backlash_to_the_wanted_one():
    assert slide_by(0.31, 0.12, 20) == pytest.approx(-0.19 / (2 * math.tan(math.radians(20))))
    with pytest.raises(BadInputError):
        slide_by(0.1, 0.2, 45)


def test_faces_that_miss_each_other_are_shimmed_into_mesh():
    assert face_engagement((4, 22), (6, 21)).findings == ()
    off = face_engagement((4, 22), (14, 34))
    assert (off.engaged_mm, off.shim_mm) == (8, 11)
    assert "out by 11 mm" in off.findings[0].remedy.text()
    assert "0.433 in" in off.findings[0].remedy.text("in")
    with pytest.raises(BadInputError):
        face_engagement((4, 4), (6, 21))


@pytest.mark.parametrize(
    "wrong",
    [
        {"backlash_mm": 0.1, "paper_mm": 0.1}, {}, {"backlash_mm": -0.1}, {"paper_mm": -0.1},
    ],
)  # fmt: skip
def test_contradicting_measures_are_refused(wrong):
    with pytest.raises(BadInputError):
        mesh_gears(2, (20, 40), 20, **wrong)


def test_impossible_gears_are_refused():
    for module, teeth, angle in ((0, (20, 40), 20), (2, (3, 40), 20), (2, (20, 40), 50)):
        with pytest.raises(BadInputError):
            mesh_gears(module, teeth, angle, backlash_mm=0.1)
    with pytest.raises(BadInputError):
        identify_gear(-1, 20)
