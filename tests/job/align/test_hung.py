"""Another face: what was laid out, swept, set and proved on the old one doesn't count until it is back."""

import pytest

from tests.job.conftest import Bench
from tests.job.test_laws import said
from vernus.desktop.demo import demo_source
from vernus.job.align.passes import passes
from vernus.job.document import Job
from vernus.job.entities import CalibrationRun, Check, MountPart, PositioningRun, ReaderSetting, ScalePlan, Sweep
from vernus.job.fields import LengthEntry
from vernus.job.formats.exchange import read_export
from vernus.job.known.axis_figures import chosen_face, plan_of
from vernus.job.known.lengths import spare
from vernus.job.machine.geometry import faces_of
from vernus.job.make.machine_holes import machine_holes
from vernus.job.make.new_parts import face_part
from vernus.job.make.served import parts_of
from vernus.job.plan.faces import choose_face
from vernus.job.review.review import card_lines, review_axis


def hung(name, axis_name):
    """A demo of which an axis is swept, drilled for and proved on its face; and another face of that axis."""
    job = Job(read_export(demo_source(name)))
    axis = next(a for a in job.axes() if a.name == axis_name)
    face, plan = chosen_face(job, axis), plan_of(job, axis)
    other = next(f for f in faces_of(job, axis) if f.id != face.id)
    done = [e for kind in (Sweep, PositioningRun, ReaderSetting, CalibrationRun) for e in job.of_axis(kind, axis.id)]
    fresh = [e.model_copy(update={"id": f"again-{e.id}", "created": "", "changed": ""}) for e in done]
    job.apply("hang it there", fresh, drop=[e.id for e in done])
    job.apply("from face", face_part(job, axis, iter(f"new-{n}" for n in range(99)).__next__))
    return job, axis, plan, face, other


@pytest.mark.parametrize(("name", "axis_name"), [("mill", "X"), ("mill", "Y"), ("lathe", "Z")])
def test_another_face_opens_what_was_done_on_the_old_one_and_back_it_counts_again(name, axis_name):
    job, axis, plan, face, other = hung(name, axis_name)
    before = said(job)
    assert [p.name for p in parts_of(job, axis) if p.part_kind == "face"] == [face.name]
    job.apply("another face", [choose_face(plan, other)])
    assert passes(job, axis.id, "face") == passes(job, axis.id, "edge") == job.of_axis(PositioningRun, axis.id) == []
    assert not [p for p in parts_of(job, axis) if p.part_kind == "face"]
    known = spare(job, axis)
    assert known is None or known.source != "measured"
    drilled = [line.step.words for line in card_lines(job) if line.step.key.startswith(f"drill-{axis.name}")]
    assert not [words for words in drilled if face.name in words]
    assert not [h for h in machine_holes(job, axis) if h.where == face.name]
    codes = {f.finding.code for f in review_axis(job, axis).findings}
    assert "done-elsewhere" in codes
    job.apply("back", [choose_face(plan_of(job, axis), face)])
    assert said(job) == before


@pytest.mark.parametrize(("units", "mm"), [("mm", 250.0), ("in", 10 * 25.4)])
def test_a_check_of_the_display_is_open_after_the_scale_hung_elsewhere(units, mm):
    job = Bench("bench-mill", units=units, scope={"X": ("new", "none"), "Y": ("none", "none")}).job
    axis = job.axes()[0]
    first, second = faces_of(job, axis)[:2]
    plan = ScalePlan(id="plan", axis_id=axis.id)
    job.apply("face", [choose_face(plan, first)])
    pair = Check(true=LengthEntry(mm=mm), shown=LengthEntry(mm=mm + 0.004))
    job.apply("check", [CalibrationRun(id="run", axis_id=axis.id, checks=(pair,))])
    told = "while the scale hung on"
    assert not [f for f in review_axis(job, axis).findings if told in f.finding.what.text()]
    job.apply("another", [choose_face(plan_of(job, axis), second)])
    assert [f for f in review_axis(job, axis).findings if told in f.finding.what.text()]
    assert job.of_axis(CalibrationRun, axis.id), "what the display was set to stays known"


def test_a_scale_that_is_there_already_only_has_its_face_said_otherwise():
    job, axis, plan, _, other = hung("mill", "Y")
    job.apply("there", [axis.with_(readout="there")])
    job.apply("said otherwise", [choose_face(plan, other)])
    assert passes(job, axis.id, "face")
    assert not [p for p in job.all(MountPart) if not job.counts(p)]


@pytest.mark.parametrize("units", ["mm", "in"])
def test_a_part_that_becomes_a_face_to_drill_is_of_the_face_of_then(units):
    job = Bench("bench-mill", units=units, scope={"X": ("new", "none"), "Y": ("none", "none")}).job
    axis = job.axes()[0]
    first, second = faces_of(job, axis)[:2]
    job.apply("face", [choose_face(ScalePlan(id="plan", axis_id=axis.id), first)])
    part = MountPart(id="part", axis_id=axis.id, name="by hand")
    job.apply("added", [part])
    job.apply("it is a face", [job.get("part").with_(part_kind="face")])
    job.apply("another", [choose_face(plan_of(job, axis), second)])
    assert parts_of(job, axis) == []
    job.apply("a plate", [MountPart(id="plate", axis_id=axis.id, name="a plate", part_kind="plate")])
    job.apply("back", [choose_face(plan_of(job, axis), first)])
    assert [p.name for p in parts_of(job, axis)] == ["by hand", "a plate"]
