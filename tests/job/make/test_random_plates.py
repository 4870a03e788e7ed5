"""Random plates over old holes, looked at by plain geometry: no head under the body, nothing bottoms, one member."""

import math
import random

from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import counterbore, thread_named
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job, new_id
from vernus.job.entities import Hole, TravelSurvey
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import chosen_face
from vernus.job.known.lengths import body_length
from vernus.job.machine.geometry import faces_of
from vernus.job.machine.planned import bulk_of
from vernus.job.make.mounts import mount_result
from vernus.job.make.new_parts import plate_over_holes
from vernus.job.plan.faces import choose_face
from vernus.job.plan.scale import scale_plan

THREADS = ("M5x0.8", "M6x1", "M8x1.25", "#10-24 UNC", "1/4-20 UNC", "5/16-18 UNC")


def mm(value):
    return LengthEntry(mm=value, text=f"{value:g} mm")


def a_machine(chance):
    """A random machine with an X scale on a face, its travel known and some old holes in a member."""
    units, kind = chance.choice(("mm", "in")), chance.choice(("bench-mill", "knee-mill-turret"))
    job = Job(new_job_entities("Plates", kind, units))
    axis = next(a for a in job.axes() if a.name == "X")
    travel = chance.uniform(250, 500)
    job.apply(
        "travel",
        [TravelSurvey(id=new_id(), axis_id=axis.id, tool="caliper", division=mm(0.02), readings=(mm(travel),) * 3)],
    )
    face = chance.choice(faces_of(job, axis))
    plan = choose_face(scale_plan(job, axis), face).with_(family=chance.choice(("glass-slim", "glass-standard")))
    job.apply("plan", [plan.with_(measuring=mm(math.ceil(travel / 50) * 50 + 50))])
    thread = thread_named(chance.choice(THREADS))
    member = face.member if chance.random() < 0.85 else face.reader_member
    hole = Hole(
        id=new_id(), member=member, face_id=face.id, place="strip", count=chance.randint(1, 5), thread=thread.name,
        diameter=mm(thread.major_mm - 0.05), pitch=mm(thread.pitch_mm), at_x=mm(chance.uniform(20, 120)),
        at_y=mm(chance.choice((0.0, chance.uniform(-30, 30)))), apart=mm(chance.uniform(60, 140)),
        thread_deep=mm(chance.uniform(4, 25)),
    )  # fmt: skip
    job.apply("holes", [hole])
    return job, axis, hole, member == face.member


@given(st.integers(0, 10**9))
def test_a_random_plate_clamps_lies_under_no_head_and_holds_one_member(seed):
    chance = random.Random(seed)
    job, axis, old, same = a_machine(chance)
    mine = chance.choice(("M5", "10-24"))
    try:
        put, plan = plate_over_holes(job, axis, mine, new_id)
    except BadInputError as error:
        assert not same or "holes" in str(error)
        return
    assert same, "a plate on one member that carries the scale on the other"
    job.apply("plate", put)
    result = mount_result(job, put[0])
    stops = {f.code for f in result.findings if f.severity == "stop"}
    rows = [r for r in result.rows if r.hole.is_passed]
    ends = [r.hole for r in result.rows if r.hole.kind == "tapped"]
    line, high = ends[0].y_mm, bulk_of(job, axis, chosen_face(job, axis)).family.section_mm[0]
    body = body_length(job, axis).value
    start = (ends[0].x_mm + ends[-1].x_mm) / 2 - body / 2
    for row in rows:
        r = counterbore(thread_named(row.hole.thread))[0] / 2
        under = start - r < row.hole.x_mm < start + body + r and abs(row.hole.y_mm - line) < high / 2 + r - 0.01
        if under and row.counterbore_mm is None:
            assert "head-in-the-way" in stops or plan.feasible is False, (seed, row.hole, line)
        if row.screw is None:
            assert stops | {f.code for f in result.findings} & {"thread-depth-unknown"}, seed
            continue
        grip = row.joint.joint.grip_mm
        short = max(1.5 * row.screw.thread.pitch_mm, 1.0)
        assert row.screw.length_mm - grip <= old.thread_deep.mm - short + 1e-6, (seed, row.screw)
        assert row.screw.engaged_mm >= row.screw.thread.major_mm - 1e-6, (seed, row.screw)  # cast iron: 1 d at least
    xs, ys = [h.x_mm for h in (r.hole for r in result.rows)], [h.y_mm for h in (r.hole for r in result.rows)]
    part = result.part
    assert min(xs) > 0
    assert max(xs) < part.length_mm
    assert min(ys) > 0
    assert max(ys) < part.width_mm
