"""The shipped templates as they are told in measures."""

import random

import pytest

from vernus.core.machine.meetings import meetings
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.catalog.shipped import machine_kinds
from vernus.job.document import Job
from vernus.job.entities import Axis, Face, Measure, SolidBox, TravelSurvey
from vernus.job.fields import LengthEntry
from vernus.job.machine.geometry import boxes_of, contradictions, envelope_of, faces_of
from vernus.job.machine.measures import unmeasured_under


def consistent(job, chance):
    """The job with sizes up to 15 % off, gaps at the end marks from nothing to twice as wide, and other travels."""
    values = {}
    for measure in job.all(Measure):
        loose = measure.key in ("column_gap", "wheel_saddle", "cross_gap", "chuck_gap", "tail_gap", "guard_gap")
        values[measure.key] = measure.value.mm * (chance.uniform(0, 2) if loose else chance.uniform(0.85, 1.15))
    if "saddle_gap" in values:  # the saddle reaches back past the middle of the table
        values["saddle_gap"] = chance.uniform(0, values["column_gap"] + 0.4 * values["table_width"])
    changed = [m.with_(value=LengthEntry(mm=values[m.key], text="m")) for m in job.all(Measure)]
    for axis in job.all(Axis):
        far = axis.usual.mm * chance.uniform(0.9, 1.1)
        readings = (LengthEntry(mm=far, text="r"),)
        changed.append(TravelSurvey(id=f"t{axis.id}", axis_id=axis.id, division=LengthEntry(mm=0.5), readings=readings))
    job.apply("measured", changed)


@pytest.mark.parametrize("kind", machine_kinds(), ids=lambda k: k.id)
def test_a_template_at_random_measures_is_still_a_machine(kind):
    chance = random.Random(kind.id)
    for _ in range(25):  # times eight templates: two hundred
        job = Job(new_job_entities("x", kind))
        consistent(job, chance)
        assert [f"{m.a.name} and {m.b.name}" for m in meetings(envelope_of(job))] == []
        assert contradictions(job) == []
        boxes = {b.key: b for b in boxes_of(job)}
        values = {m.key: m.value.mm for m in job.all(Measure)}
        if "table" in boxes:
            table = boxes["table"]
            assert boxes["right_handwheel"].left.mm == pytest.approx(table.right.mm + values["wheel_gap"])
            assert boxes["left_handwheel"].right.mm == pytest.approx(table.left.mm - values["wheel_gap"])
            assert boxes["drain_hole"].front.mm == pytest.approx(table.back.mm)
        for axis in job.axes():
            for face in faces_of(job, axis):
                assert on_its_member(job, face, boxes.values()), face.name


def on_its_member(job, face, boxes):
    """Whether the face lies on a side of some box of its member, within a hair."""
    c, way = "xyz".index(face.out[1]), face.out[0]
    place = (face.x.mm, face.y.mm, face.z.mm)[c]
    low, high = (("left", "right"), ("front", "back"), ("bottom", "top"))[c]
    mine = [b for b in boxes if b.member == face.member and b.role != "keep"]
    return any(abs(getattr(b, high if way == "+" else low).mm - place) < 1e-6 for b in mine)


@pytest.mark.parametrize("kind", machine_kinds(), ids=lambda k: k.id)
def test_a_template_has_fifteen_to_twenty_five_measures_and_stands_where_its_boxes_say(kind):
    job = Job(new_job_entities("x", kind))
    assert 15 <= len(job.all(Measure)) <= 25
    told = {b.id: b for b in boxes_of(job)}
    for box in job.all(SolidBox):
        for side in ("left", "right", "front", "back", "bottom", "top"):
            assert getattr(told[box.id], side).mm == pytest.approx(getattr(box, side).mm, abs=1e-3)
    for face in job.all(Face):
        axis = job.get(face.axis_id)
        now = next(f for f in faces_of(job, axis) if f.id == face.id)
        for side in ("x", "y", "z", "length"):
            assert getattr(now, side).mm == pytest.approx(getattr(face, side).mm, abs=1e-3)


def test_a_side_typed_by_hand_stands_whatever_the_measures_say():
    job = Job(new_job_entities("x", "bench-mill"))
    table = next(b for b in job.all(SolidBox) if b.key == "table")
    job.apply("typed", [table.with_(right=LengthEntry.read("333"))])
    length = next(m for m in job.all(Measure) if m.key == "table_length")
    job.apply("measured", [length.with_(value=LengthEntry.read("700"))])
    now = {b.key: b for b in boxes_of(job)}
    assert (now["table"].left.mm, now["table"].right.mm) == (-350, 333)
    assert now["right_handwheel"].left.mm == 333 + 60


def test_driven_travel_against_typed_sizes_is_a_contradiction_and_not_a_stop():
    job = Job(new_job_entities("x", "bench-mill"))
    y = next(a for a in job.axes() if a.name == "Y")
    column = next(b for b in job.all(SolidBox) if b.key == "column")
    job.apply("typed", [column.with_(front=LengthEntry.read("160"))])
    assert contradictions(job) == []
    survey = TravelSurvey(id="s", axis_id=y.id, division=LengthEntry(mm=0.5), readings=(LengthEntry.read("175"),))
    job.apply("driven", [survey])
    found = contradictions(job)
    assert {(c.axis, c.end) for c in found} == {("Y", "high")}
    assert max(c.short_mm for c in found) == pytest.approx(90 + 87.5 - 160)
    pairs = [{m.a.name, m.b.name} for m in meetings(envelope_of(job))]
    assert {"table", "column"} not in pairs


def test_an_own_box_stands_by_its_gap_and_moves_along_with_its_neighbour():
    job = Job(new_job_entities("x", "bench-mill"))
    table = next(b for b in job.all(SolidBox) if b.key == "table")
    wall = SolidBox(
        id="w", key="own_w", name="wall", member="base", near=table.id, side="back", gap=LengthEntry.read("2 in"),
        wide=LengthEntry.read("900"), deep=LengthEntry.read("100"), high=LengthEntry.read("500"),
    )  # fmt: skip
    job.apply("wall", [wall])

    def now():
        return next(b for b in boxes_of(job) if b.id == "w")

    assert (now().front.mm, now().back.mm) == (pytest.approx(90 + 50.8), pytest.approx(240.8))
    assert (now().left.mm, now().right.mm, now().top.mm) == (-450, 450, pytest.approx(225))
    assert unmeasured_under(job, now()) == []
    assert unmeasured_under(job, now().with_(deep=LengthEntry(mm=100))) == ["size of the wall"]
    width = next(m for m in job.all(Measure) if m.key == "table_width")
    job.apply("measured", [width.with_(value=LengthEntry.read("200"))])
    assert now().front.mm == pytest.approx(100 + 50.8)
    job.apply("typed", [now().with_(back=LengthEntry.read("400"))])
    assert (now().front.mm, now().back.mm) == (pytest.approx(150.8), 400)
    job.apply("gone", drop=[table.id])
    assert now().back.mm == 400
