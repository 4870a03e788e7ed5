"""The part as proof in a job: where it belongs, what it is held against, and that what is wrong is told everywhere."""

import math

import pytest

from vernus.core.errors import BadInputError
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job, new_id
from vernus.job.entities import CalibrationRun, Check, TrialPart
from vernus.job.fields import LengthEntry
from vernus.job.machine.travel import survey_with
from vernus.job.prove.part import (
    display_ppm,
    found_places,
    next_hole,
    off_places,
    part_result,
    plane_axes,
    with_place,
    with_span,
    without_measured,
)
from vernus.job.review.review import review_machine
from vernus.job.review.states import job_states
from vernus.job.scope import sheets_of_job


def mm(value, unit="mm"):
    return LengthEntry.read(f"{value:.6f}" if isinstance(value, float) else str(value), unit)


def made(kind="bench-mill", unit="mm"):
    job = Job(new_job_entities("x", kind))
    for axis in job.axes():
        travel = "300" if unit == "mm" else "12"
        survey = survey_with(job, axis, "caliper").with_(readings=(mm(travel, unit), mm(travel, unit)))
        accuracy = mm("0.02") if unit == "mm" else mm("0.001", "in")
        job.apply("travel", [survey, axis.with_(readout="new", accuracy=accuracy)])
    return job


def drilled(part, holes, scale=(1.0, 1.0), square=0.0, noise=0.0):
    """The part with every hole measured as a machine with these errors drills it."""
    for n, (x, y) in enumerate(holes, 1):
        off = noise * (-1) ** n
        part = with_place(part, n, mm(scale[0] * x + square * y + off + 20.0), mm(scale[1] * y - off))
    return part


CIRCLE = {"pattern": "circle", "holes": 7, "start_deg": 0}


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_a_part_that_agrees_is_done_and_one_that_does_not_is_told(unit):
    job = made(unit=unit)
    part = TrialPart(id="p", radius=mm("35" if unit == "mm" else "1.375", unit), **CIRCLE)
    holes = part_result(job, part).holes
    good = part_result(job, drilled(part, holes, noise=0.001))
    assert (good.done, good.findings) == (True, ())
    job.apply("drilled", [drilled(part, holes, scale=(1.001, 1.0), noise=0.001)])
    found = [(at.sheet, at.finding.code) for at in review_machine(job)]
    assert ("part", "part-scale") in found
    assert job_states(job)["part"] == "caution"


def test_the_part_is_held_against_what_calibrate_says():
    job = made()
    x = job.axes()[0]
    checks = tuple(Check(true=mm("250"), shown=mm("250.000")) for _ in range(3))
    job.apply("check", [CalibrationRun(id=new_id(), axis_id=x.id, per="mm", set_counts=200.0, checks=checks)])
    off, sure = display_ppm(job, job.axes()[0])
    assert off == pytest.approx(0)
    assert sure > 0
    part = TrialPart(id="p", radius=mm("60"), **CIRCLE)
    holes = part_result(job, part).holes
    told = part_result(job, drilled(part, holes, scale=(1.0006, 1.0), noise=0.001))
    assert "part-differs" in [f.code for f in told.findings]
    assert "Ask what differs" in told.instruction.text()


@pytest.mark.parametrize("method", ["counts", "factor"])
def test_what_calibrate_says_is_true_over_shown(method):
    job = made()
    x = job.axes()[0]
    pairs = [(100.0, 100.05), (200.0, 200.1), (280.0, 280.14)]
    pairs = pairs if method == "counts" else [(0.0, 0.0), *pairs]
    checks = tuple(Check(true=mm(t), shown=mm(s)) for t, s in pairs)
    job.apply("c", [CalibrationRun(id="c", axis_id=x.id, per="mm", set_counts=200.0, method=method, checks=checks)])
    assert display_ppm(job, job.axes()[0])[0] == pytest.approx(-500e-6, abs=1e-6)


def test_axes_out_of_square_are_told_with_the_way():
    job = made()
    part = TrialPart(id="p", radius=mm("60"), **CIRCLE)
    holes = part_result(job, part).holes
    for square, way in ((0.001, "below"), (-0.001, "above")):
        found = part_result(job, drilled(part, holes, square=square, noise=0.001)).findings
        told = next(f for f in found if f.code == "part-not-square")
        assert f"the angle is {way} 90°" in told.what.text()


def test_the_middle_by_halving_moves_what_the_display_shows():
    job = made()
    touched = {"x_first": mm("-5"), "x_second": mm("105"), "y_first": mm("-5"), "y_second": mm("65")}
    part = TrialPart(id="p", radius=mm("35"), finder=mm("10"), **touched, **CIRCLE)
    result = part_result(job, part)
    assert [m.width_mm for m in result.middle] == [100, 60]
    assert result.shown(1) == pytest.approx((50 + 35, 30))
    row = TrialPart(id="r", pattern="row", holes=3, pitch=mm("20"), angle_deg=90)
    assert [math.hypot(*h) for h in part_result(job, row).holes] == pytest.approx([0, 20, 40])


def test_holes_are_measured_once_each_and_taken_out_again():
    part = TrialPart(id="p", radius=mm("35"), **CIRCLE)
    part = with_place(with_place(part, 2, mm("1"), mm("1")), 1, mm("2"), mm("2"))
    assert next_hole(part, 7) == 3
    assert [p.hole for p in with_place(part, 2, mm("9"), mm("9")).places] == [1, 2]
    part = with_span(part, 1, 4, mm("60"))
    assert len(with_span(part, 4, 1, mm("61")).spans) == 1
    with pytest.raises(BadInputError):
        with_span(part, 3, 3, mm("5"))
    assert without_measured(part, 2).spans == ()
    assert [p.hole for p in without_measured(part, 0).places] == [2]


def test_holes_measured_that_the_pattern_has_not_are_told():
    job = made()
    part = TrialPart(id="p", radius=mm("35"), **CIRCLE)
    part = drilled(part, part_result(job, part).holes)
    assert "Hole 6 was measured" in part_result(job, part.with_(holes=5)).findings[0].what.text()


def test_a_lathe_and_a_job_of_one_axis_have_no_part():
    lathe = made("lathe-small")
    assert plane_axes(lathe) is None
    assert "part" not in sheets_of_job(lathe)
    mill = made()
    assert "part" in sheets_of_job(mill)
    x = mill.axes()[0]
    mill.apply("only one", [x.with_(readout="none")])
    assert "part" not in sheets_of_job(mill)
    assert "two axes" in part_result(mill, TrialPart(id="p")).instruction.text()


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("turned_deg", [0.0, 1.5])
def test_what_was_found_shows_the_stretch_and_what_remains_doesnt(unit, turned_deg):
    """A machine 1000 ppm long in X drills it; it lies turned and shifted while it is measured."""
    job = made(unit=unit)
    part = TrialPart(id="p", radius=mm("35" if unit == "mm" else "1.375", unit), **CIRCLE)
    holes = part_result(job, part).holes
    cos, sin = math.cos(math.radians(turned_deg)), math.sin(math.radians(turned_deg))
    for n, (x, y) in enumerate(holes, 1):
        x *= 1.001
        part = with_place(part, n, mm(f"{cos * x - sin * y + 20:.6f}"), mm(f"{sin * x + cos * y - 7:.6f}"))
    result = part_result(job, part)
    found, left = found_places(part, result), off_places(part, result)
    for n, (x, _) in enumerate(holes, 1):
        assert found[n] == pytest.approx((0.001 * x, 0.0), abs=2e-5)
        assert left[n] == pytest.approx((0.0, 0.0), abs=2e-6)
