"""What is got and done: a display from the start, holes only where they are new, steps in an order that can be done."""

import pytest

from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job, new_id
from vernus.job.entities import CableAnchor, Display, DrilledHole, Hole, MountPart, ScalePlan, TravelSurvey
from vernus.job.fields import LengthEntry
from vernus.job.keep.evenings.hours import hours_of
from vernus.job.keep.lists import buying_list
from vernus.job.keep.steps import steps_of
from vernus.job.machine.geometry import faces_of
from vernus.job.make.machine_holes import machine_holes
from vernus.job.make.new_parts import face_part, plate_over_holes


def mm(value):
    return LengthEntry(mm=float(value), text=str(value))


def planned(kind, units="mm", family="glass-slim", measuring=None, readout="new"):
    """A job whose first axis has a travel, a scale and a face."""
    job = Job(new_job_entities("x", kind, units))
    axis = job.axes()[0].with_(readout=readout)
    face, far = faces_of(job, axis)[0], axis.usual
    job.apply("plan", [
        axis, TravelSurvey(id=new_id(), axis_id=axis.id, division=mm(0.05), readings=(far, far)),
        ScalePlan(id=new_id(), axis_id=axis.id, family=family, face_id=face.id, measuring=mm(measuring or far.mm + 60)),
    ])  # fmt: skip
    return job, axis, face


def keys(job):
    return [s.key for s in steps_of(job)]


@pytest.mark.parametrize("units", ["mm", "in"])
def test_a_new_hole_is_told_with_drill_depth_and_tap_and_these_are_got(units):
    job, axis, _ = planned("bench-mill", units)
    job.apply("face", face_part(job, axis, new_id))
    (holes,) = machine_holes(job, axis)
    assert (holes.count, bool(holes.tap)) == (2, True)
    step = next(s for s in steps_of(job) if s.key == f"drill-{axis.name}")
    told = holes.in_words().text(units)
    assert told in step.words
    assert told.startswith(f"2 × drill {holes.drill}, ")
    assert told.endswith(f"deep, tap {holes.tap}")
    assert any(
        i.kind == "have" and holes.drill in i.what.text() and holes.tap in i.what.text() for i in buying_list(job)
    )


@pytest.mark.parametrize("units", ["mm", "in"])
def test_what_a_bracket_needs_in_the_casting_is_drilled_too(units):
    job, axis, _ = planned("bench-mill", units)
    part = MountPart(id=new_id(), axis_id=axis.id, name="reader block", part_kind="angle", carries="reader",
                     bolts_to="machine", length=mm(60), width=mm(40), thickness=mm(12))  # fmt: skip
    holes = [DrilledHole(id=new_id(), part_id=part.id, x=mm(x), y=mm(20), thread="M6", hole_kind="counterbored")
             for x in (15, 45)]  # fmt: skip
    job.apply("bracket", [part, *holes])
    (found,) = machine_holes(job, axis)
    # M6 in cast iron: drilled 5 mm, 9 mm of thread, four pitches of the tap's lead and the drill's point.
    assert (found.count, found.tap, found.drill_mm) == (2, "M6x1", pytest.approx(5.0, abs=0.15))
    assert 9 + 4 * 1.0 + 0.3 * 5 <= found.depth_mm <= 17
    order = keys(job)
    assert order.index(f"make-{part.id}") < order.index(f"drill-{axis.name}"), "its holes are spotted through"


@pytest.mark.parametrize("units", ["mm", "in"])
def test_where_no_hole_is_new_nothing_is_drilled(units):
    for kind, family in (("bench-mill", "tape"), ("lathe-mid", "tape")):
        job, axis, _ = planned(kind, units, family)
        assert f"drill-{axis.name}" not in keys(job), "a tape is stuck on"
    job, axis, face = planned("bench-mill", units)
    assert f"drill-{axis.name}" in keys(job)
    old = Hole(id=new_id(), face_id=face.id, member=face.member, thread="M6x1", thread_deep=mm(14), at_x=mm(60),
               at_y=mm(0), count=2, apart=mm(150))  # fmt: skip
    job.apply("reuse", [old, job.info.with_(hole_school="reuse")])
    assert f"drill-{axis.name}" not in keys(job), "the holes there are serve"
    job.apply("plate", plate_over_holes(job, axis, "M5", new_id)[0])
    assert machine_holes(job, axis) == []
    assert f"drill-{axis.name}" not in keys(job)


@pytest.mark.parametrize(("kind", "says"), [("lathe-mid", "diameter"), ("bench-mill", "hole circle")])
@pytest.mark.parametrize("units", ["mm", "in"])
def test_the_display_is_on_the_list_from_the_start_with_the_axes_of_the_scope(kind, says, units):
    job, axis, _ = planned(kind, units)
    read = sum(a.readout in ("new", "there") for a in job.axes())
    (item,) = (i for i in buying_list(job) if i.key == "display")
    assert f"{read} ax" in item.what.text(units)
    assert says in item.detail.text(units)
    job.apply("there", [a.with_(readout="there") for a in job.axes()])
    assert not [i for i in buying_list(job) if i.key in ("display", "clips", "arm")]
    job.apply("new", [axis])
    job.apply("arm", [Display(id=new_id(), reach=mm(300))])
    anchors = [CableAnchor(id=new_id(), axis_id=axis.id, name=str(n), place=float(n)) for n in range(4)]
    job.apply("cable", anchors)
    got = {i.key: i for i in buying_list(job)}
    assert (got["clips"].count, got["arm"].kind) == (2, "buy")
    assert not [i for i in buying_list(job) if "nothing" in i.what.text(units).lower()]


def test_a_beam_of_its_own_is_an_evening():
    job, axis, _ = planned("bench-mill", family="beam", readout="own")
    job.apply("alone", [a.with_(readout="none", drive="none") for a in job.axes() if a.id != axis.id])
    fitting = [s.key for s in steps_of(job) if s.key.endswith(f"-{axis.name}") and not s.key.startswith("rub")]
    assert sum(hours_of(job, k) for k in fitting) <= 3.5
    glass, its, _ = planned("bench-mill")
    assert hours_of(glass, f"align-{its.name}") > hours_of(job, f"align-{axis.name}")


@pytest.mark.parametrize("units", ["mm", "in"])
def test_what_carries_a_tape_is_made_before_the_tape_is_stuck_on_it(units):
    job, axis, _ = planned("lathe-mid", units, "tape")
    tube = MountPart(id=new_id(), axis_id=axis.id, name="square tube", part_kind="plate", carries="body")
    job.apply("tube", [tube])
    order = keys(job)
    assert order.index(f"make-{tube.id}") < order.index(f"clean-{axis.name}") < order.index(f"stick-{axis.name}")


@pytest.mark.parametrize("units", ["mm", "in"])
def test_the_reader_s_screws_ask_for_no_hole_in_the_casting(units):
    """An angle's other leg and its slots take the reader: only what bolts it down is drilled and tapped."""
    job, axis, _ = planned("bench-mill", units)
    angle = MountPart(id=new_id(), axis_id=axis.id, name="reader bracket", part_kind="angle", carries="reader",
                      bolts_to="machine", length=mm(80), width=mm(60), thickness=mm(8), leg=mm(40))  # fmt: skip
    down = [DrilledHole(id=new_id(), part_id=angle.id, x=mm(x), y=mm(40), thread="M6", hole_kind="clearance")
            for x in (14, 66)]  # fmt: skip
    up = [DrilledHole(id=new_id(), part_id=angle.id, face="leg", x=mm(x), y=mm(24), thread="M4", hole_kind=kind)
          for x, kind in ((20, "clearance"), (60, "slot"))]  # fmt: skip
    job.apply("bracket", [angle, *down, *up])
    assert [(h.count, h.tap) for h in machine_holes(job, axis)] == [(2, "M6x1")]


def test_the_end_holes_of_a_body_are_drilled_though_its_bracket_uses_old_ones():
    job, axis, face = planned("bench-mill")
    old = Hole(id=new_id(), face_id=face.id, member=face.reader_member, thread="M6x1", thread_deep=mm(14))
    plate = MountPart(id=new_id(), axis_id=axis.id, name="reader's plate", part_kind="plate", carries="reader",
                      bolts_to="machine", length=mm(80), width=mm(60), thickness=mm(8))  # fmt: skip
    over = DrilledHole(
        id=new_id(), part_id=plate.id, x=mm(14), y=mm(30), thread="M6", hole_kind="clearance", over=old.id
    )
    job.apply("plate", [old, plate, over])
    assert machine_holes(job, axis) == []
    assert f"drill-{axis.name}" in keys(job)
