"""What meets what, on every template with every candidate scale: no pair with a planned part is left unchecked."""

import itertools

import pytest

from vernus.core.machine.meetings import aside_meetings, meetings, minded_meetings, overlaps
from vernus.core.units import format_plain
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.catalog.shipped import face_schools, machine_kinds
from vernus.job.document import Job, new_id
from vernus.job.entities import Display, Measure, MountPart, ScalePlan, SolidBox
from vernus.job.fields import LengthEntry
from vernus.job.keep.steps import steps_of
from vernus.job.machine.geometry import boxes_of, envelope_of, faces_of
from vernus.job.machine.planned import all_planned_parts, planned_parts
from vernus.job.plan.faces import choose_face, face_findings, faces_result
from vernus.job.plan.scale import scale_plan
from vernus.job.plan.travel_left import envelope_result
from vernus.job.plan.what_if import what_ifs


def mm(text):
    return LengthEntry.read(str(text))


def job_on(kind, *faces, units="mm"):
    job = Job(new_job_entities("x", kind, units))
    for name in faces:
        choose(job, name)
    return job


def choose(job, name, family="glass-slim", measuring=None, **more):
    axis, face = next((a, f) for a in job.axes() for f in faces_of(job, a) if f.name == name)
    if axis.readout == "none":
        axis = axis.with_(readout="new")
        job.apply("scope", [axis])
    put = choose_face(scale_plan(job, axis), face).with_(family=family, **more)
    far = axis.usual.mm
    sizes = [s for s in range(50, 1050, 50) if s >= far + 20]
    job.apply("plan", [put.with_(measuring=mm(measuring or sizes[0]))])
    return axis


def solid(job, name, member, x, y, z, **more):
    sides = dict(zip(("left", "right", "front", "back", "bottom", "top"), (*x, *y, *z), strict=True))
    box = SolidBox(id=new_id(), name=name, member=member, **{k: mm(v) for k, v in sides.items()}, **more)
    job.apply("box", [box])
    return box


def gap(job, key, text):
    """Set a measure of the machine."""
    job.apply("gap", [next(m for m in job.all(Measure) if m.key == key).with_(value=mm(text))])


def told(job, code):
    return [f.what.text() for f in envelope_result(job).findings if f.code == code]


@pytest.mark.parametrize("kind", machine_kinds(), ids=lambda k: k.id)
def test_no_pair_with_a_planned_part_is_unchecked(kind):
    job = Job(new_job_entities("x", kind))
    for axis in job.axes():
        for face in faces_of(job, axis):
            parts = planned_parts(job, axis, face)
            assert parts
            envelope = envelope_of(job, parts)
            assert not any({b.name for b in envelope.boxes if b.group} & pair for pair in envelope.exempt)
            answers = [meetings(envelope), minded_meetings(envelope), aside_meetings(envelope)]
            seen = {frozenset((m.a.name, m.b.name)) for found in answers for m in found}
            seen |= {frozenset((a.name, b.name)) for a, b, _ in overlaps(envelope)}
            for a, b in itertools.combinations(envelope.boxes, 2):
                if (a.group or b.group) and a.group != b.group and can_touch(envelope, a, b):
                    assert frozenset((a.name, b.name)) in seen, (face.name, a.name, b.name)


def can_touch(envelope, a, b):
    """Whether the room two boxes sweep over all travels has anything in common, hand-slid ones where drawn."""
    full = {x.id: (0.0, 0.0) if x.by_hand else (x.from_mm, x.to_mm) for x in envelope.axes}
    moves = envelope.moves(a.member, b.member)
    spans = [moves.span(c, full) for c in range(3)]
    return all(
        a.min_mm[c] + spans[c][0] < b.max_mm[c] - 0.02 and b.min_mm[c] + 0.02 < a.max_mm[c] + spans[c][1]
        for c in range(3)
    )


@pytest.mark.parametrize("kind", ["lathe-small", "lathe-mid"])
def test_a_scale_on_the_cross_slide_that_reaches_into_the_guard_costs_travel(kind):
    job = job_on(kind, "tailstock side of the cross slide")
    slide = next(b for b in job.all(SolidBox) if b.name == "cross slide")
    guard = next(b for b in job.all(SolidBox) if b.name == "splash guard")
    near = slide.back.mm + 20  # a board 20 behind the slide, where the body's end comes to with the slide back
    solid(job, "chip board", "bed", (guard.left.mm, guard.right.mm), (near, near + 5), (-100, 500))
    result = envelope_result(job)
    assert result.kept is None or result.kept["X"][1] < result.full["X"][1] - 5
    assert any("chip board" in f.what.text() for f in result.findings)


def test_a_headstock_side_scale_meets_the_chuck():
    job = job_on("lathe-mid", "headstock side of the cross slide")
    gap(job, "chuck_gap", 1)
    result = envelope_result(job)
    assert any("chuck" in text for text in told(job, "meets"))
    assert result.kept["Z"][0] > result.full["Z"][0] + 1


def test_the_tailstock_is_slid_aside_and_costs_no_travel():
    job = job_on("lathe-mid", "tailstock side of the cross slide")
    gap(job, "tail_gap", 1)
    result = envelope_result(job)
    assert result.kept["Z"] == result.full["Z"]
    (text,) = told(job, "slide-aside")
    assert "tailstock" in text
    assert "Z above" in text
    assert "tailstock" in [a.id for a in result.envelope.axes]
    assert [s.axis.name for s in result.stops] == []


def test_a_lathe_job_from_before_slides_its_tailstock_too():
    job = job_on("lathe-mid", "tailstock side of the cross slide")
    gap(job, "tail_gap", 1)
    told_boxes = boxes_of(job)
    faces = [f.with_(built=()) for a in job.axes() for f in faces_of(job, a)]
    old = job.machine.with_(built=(), slid=(), minded=(("carriage", "bed"), ("cross slide", "bed")))
    job.apply("old", [old, *(b.with_(key="", built=()) for b in told_boxes), *faces])
    result = envelope_result(job)
    assert result.kept["Z"] == result.full["Z"]
    assert told(job, "slide-aside")


def test_a_box_in_the_path_of_a_quill_beam_is_met():
    job = Job(new_job_entities("x", "knee-mill-turret"))
    choose(job, "separate quill scale with its own readout", "beam", "150")
    beam = [b for b in all_planned_parts(job) if b.group == "Z scale"]
    arm = next(b for b in beam if b.name == "Z scale reader")
    low = arm.min_mm[2] - 60
    solid(job, "lamp", "head", (arm.min_mm[0], arm.max_mm[0]), (arm.min_mm[1], arm.max_mm[1]), (low, low + 20))
    result = envelope_result(job)
    assert result.kept["Z"][1] < result.full["Z"][1] - 40
    assert any("lamp" in text for text in told(job, "meets"))


def test_a_feed_unit_inside_the_scale_body_is_told_and_a_wheel_taken_off_goes():
    job = job_on("knee-mill-turret", "behind the table")
    body = next(b for b in all_planned_parts(job) if b.name == "X scale body")
    x, y, z = (tuple(sorted((body.min_mm[c], body.max_mm[c]))) for c in range(3))
    solid(job, "coolant pump", "table", (x[1] - 52, x[1] + 100), y, z)
    (text,) = [t for t in told(job, "fixed-overlap") if "body" in t]
    assert "coolant pump" in text
    wheel = next(b for b in job.all(SolidBox) if b.name == "right handwheel")
    solid(job, "gear case", "table", (wheel.left.mm - 20, wheel.left.mm + 30), (-40, 40), (-60, 0))
    assert any("right handwheel" in t for t in told(job, "fixed-overlap"))
    job.apply("off", [wheel.with_(fitted="off")])
    assert not any("right handwheel" in t for t in told(job, "fixed-overlap"))


@pytest.mark.parametrize(("units", "by"), [("mm", "6 mm"), ("in", "0.236 in")])
def test_a_body_above_the_table_is_a_finding(units, by):
    job = Job(new_job_entities("x", "bench-mill", units))
    choose(job, "behind the table", cover="no")
    body = next(b for b in all_planned_parts(job, air=False) if b.name == "X scale body")
    face = next(f for f in faces_of(job, job.axes()[0]) if f.name == "behind the table")
    raised = face.with_(built=(), z=LengthEntry(mm=face.z.mm + 6 - body.max_mm[2], text="up"))
    job.apply("up", [raised])
    found = [f for f in envelope_result(job).findings if f.code == "above-the-table"]
    (high,) = found
    assert by in high.what.text(units)
    assert high.severity == "caution"


def test_what_hangs_below_the_quill_is_a_finding():
    job = Job(new_job_entities("x", "knee-mill-turret"))
    choose(job, "separate quill scale with its own readout", "beam", "150")
    bridge = MountPart(
        id=new_id(), axis_id=next(a.id for a in job.axes() if a.name == "Z"), name="arm", part_kind="angle",
        length=mm(560), width=mm(30), thickness=mm(6),
    )  # fmt: skip
    job.apply("arm", [bridge])
    nose = next(b for b in job.all(SolidBox) if b.name == "quill nose")
    arm = next(b for b in all_planned_parts(job) if b.name == "Z scale bracket")
    assert arm.min_mm[2] < nose.bottom.mm
    assert any("Z scale bracket" in t for t in told(job, "below-the-nose"))


@pytest.mark.parametrize("units", ["mm", "in"])
@pytest.mark.parametrize("long", [90, 160, 300])
def test_a_reader_on_the_head_is_judged_against_the_spindle_s_nose(units, long):
    """A bracket that reaches below the head, but not below the nose, is in nothing's way."""
    job = Job(new_job_entities("x", "bench-mill", units))
    axis = choose(job, "left side of the column")
    bracket = MountPart(
        id=new_id(), axis_id=axis.id, part_kind="angle", carries="reader", length=mm(long), width=mm(40),
        thickness=mm(8),
    )  # fmt: skip
    job.apply("bracket", [bracket])
    (made,) = (b for b in all_planned_parts(job, air=False) if b.name == "Z scale bracket")
    nose = job.machine.tool_z.mm
    said = [f.what.text(units) for f in envelope_result(job).findings if f.code == "below-the-nose"]
    reaches = [t for t in said if t.startswith("The Z scale bracket")]
    assert len(reaches) == (made.min_mm[2] < nose)
    assert all(f"{format_plain(nose - made.min_mm[2], units)} below the spindle's nose" in t for t in reaches)


@pytest.mark.parametrize("tilt", [30, 45])
def test_the_display_and_the_quill_parts_are_compared_with_the_head_tilted(tilt):
    job = Job(new_job_entities("x", "knee-mill-turret"))
    choose(job, "behind the table")
    reach = Display(id=new_id(), member="head", side="right", reach=mm(300))
    job.apply("hang", [reach, job.machine.with_(tilt_deg=float(tilt))])
    envelope = envelope_result(job).envelope
    names = {b.name for b in envelope.boxes}
    assert {"display arm", "display arm tilted left", "display case tilted right", "quill nose tilted left"} <= names
    nose, up = (next(b for b in envelope.boxes if b.name == n) for n in ("quill nose tilted left", "quill nose"))
    assert nose.member == "head"  # over its whole travel, so it no longer moves in it
    assert nose.max_mm[0] - nose.min_mm[0] > up.max_mm[0] - up.min_mm[0]
    case = next(b for b in envelope.boxes if b.name == "display case")
    high = (case.max_mm[2] - 50, case.max_mm[2] + 50)
    wall = solid(job, "wall cupboard", "column", (case.max_mm[0] - 30, case.max_mm[0] + 60), (-150, 300), high)
    assert any(wall.name in t for t in told(job, "fixed-overlap"))
    assert envelope_result(job).kept is not None


def test_a_display_out_of_reach_of_any_axis_is_no_part():
    job = Job(new_job_entities("x", "bench-mill"))
    job.apply("own", [a.with_(readout="own" if a.name == "X" else "none") for a in job.axes()])
    job.apply("d", [Display(id=new_id(), reach=mm(300))])
    assert not [b for b in all_planned_parts(job) if b.group == "display"]


def test_parts_take_part_as_made():
    job = job_on("bench-mill", "behind the table")
    before = envelope_result(job).kept["Y"][1]
    x = next(a for a in job.axes() if a.name == "X")
    thick = MountPart(id=new_id(), axis_id=x.id, name="arm", part_kind="angle", length=mm(80), width=mm(60),
                      thickness=mm(20))  # fmt: skip
    job.apply("thick", [thick])
    assert before - envelope_result(job).kept["Y"][1] == pytest.approx(12)  # 20 where 8 were assumed


def test_no_pillar_stands_on_a_wheel():
    job = job_on("knee-mill-turret", "behind the table", "right flank of the knee")
    for finding in envelope_result(job).findings:
        if finding.code == "bumper":
            assert "handwheel" not in str(finding.what.values["moving"]) + str(finding.what.values["still"])


def test_who_meets_whom_is_named_where_a_face_does_not_work():
    job = Job(new_job_entities("x", "bench-mill"))
    x = job.axes()[0]
    body = next(b for b in planned_parts(job, x, faces_of(job, x)[0]) if b.name == "X scale reader")
    solid(job, "pump", "base", (-400, 400), (body.min_mm[1] + 2, 160), (-150, 0))
    judged = next(j for j in faces_result(job, x).judged if j.face.name == "behind the table")
    assert judged.kept is None
    assert "meets the pump" in judged.ranked.judgement.text()
    choose(job, "in front of the table")
    assert any(w.meets and w.meets[0][1] == "pump" for w in what_ifs(job, job.axes()[0]))


def test_what_is_not_checked_is_the_machines_own_and_has_its_reason():
    job = job_on("knee-mill-turret", "behind the table")
    said = [s.text() for s in envelope_result(job).unchecked]
    assert any("table against quill nose: kept apart by hand at work" in s for s in said)
    assert all(": " in s for s in said)
    lathe = job_on("lathe-mid", "tailstock side of the cross slide")
    assert [s.text() for s in envelope_result(lathe).unchecked] == []


def accuracy(job, name, text):
    axis = next(a for a in job.axes() if a.name == name)
    job.apply("wanted", [axis.with_(accuracy=mm(text))])
    return next(a for a in job.axes() if a.name == name)


@pytest.mark.parametrize("kind", ["knee-mill-turret", "round-column", "geared-head"])
def test_the_freed_arm_beats_a_rocking_collar_under_every_habit(kind):
    job = Job(new_job_entities("x", kind))
    axis = accuracy(job, "Z", "0.05").with_(readout="new", play=mm("0.12"))
    job.apply("play", [axis])
    for school in face_schools():
        job.apply("school", [job.info.with_(**{f"w_{k}": v for k, v in school.weights.items()})])
        order = [j.face.arm for j in faces_result(job, axis).judged if j.face.arm]
        assert order == ["freed", "collar"]
    job.apply("good", [axis.with_(play=mm("0.02"))])
    held = next(a for a in job.axes() if a.name == "Z")
    assert next(j.face.arm for j in faces_result(job, held).judged if j.face.arm) == "collar"


def test_the_collars_play_is_asked_for_until_it_is_measured():
    job = Job(new_job_entities("x", "geared-head"))
    accuracy(job, "Z", "0.05")
    axis = choose(job, "head front, arm from the quill collar")
    (ask,) = [f for f in face_findings(job, axis) if f.code == "collar-rocks"]
    assert "has not been measured" in ask.what.text()
    job.apply("play", [axis.with_(play=mm("0.12"))])
    (told_,) = [f for f in face_findings(job, job.get(axis.id)) if f.code == "collar-rocks"]
    assert "0.120 mm" in told_.what.text()
    assert "guide rod" in told_.remedy.text()


@pytest.mark.parametrize("kind", ["lathe-small", "lathe-mid"])
def test_the_machined_strip_behind_beats_the_apron_side(kind):
    job = Job(new_job_entities("x", kind))
    axis = next(a for a in job.axes() if a.name == "Z")
    for school in face_schools():
        job.apply("school", [job.info.with_(**{f"w_{k}": v for k, v in school.weights.items()})])
        assert faces_result(job, axis).judged[0].face.name == "rear of the bed"


def stops_box(job):
    """Trip stops 40 proud of the table's front."""
    stops = next(b for b in job.all(SolidBox) if b.name == "feed-trip stops")
    front = next(b for b in boxes_of(job) if b.name == "table").front.mm
    job.apply("stops", [stops.with_(built=(), front=mm(front - 40), back=mm(front), left=mm(-250), right=mm(250),
                                    bottom=mm(-70), top=mm(-35))])  # fmt: skip


@pytest.mark.parametrize(("off", "blocked"), [("52", False), ("36", True)])
def test_stand_off_decides_what_stands_behind_a_body(off, blocked):
    job = Job(new_job_entities("x", "knee-mill-turret"))
    stops_box(job)
    axis = choose(job, "in front of the table", stand_off=mm(off))
    judged = next(j for j in faces_result(job, axis).judged if j.face.name == "in front of the table")
    assert ("feed-trip stops" in judged.ranked.costs.blocked) == blocked
    named = [f.what.text() for f in face_findings(job, axis) if f.code == "feature-blocked"]
    assert any("feed-trip stops" in t for t in named) == blocked


def test_lips_that_look_up_count_against_a_face_and_are_told():
    job = Job(new_job_entities("x", "bench-mill"))
    axis = choose(job, "in front of the table")
    before = faces_result(job, axis).judged
    plan = job.all(ScalePlan)[0]
    job.apply("lips", [plan.with_(lips="up")])
    after = faces_result(job, axis).judged
    worse = {j.face.id: j.ranked.costs.exposure for j in after}
    assert all(worse[j.face.id] >= j.ranked.costs.exposure for j in before)
    assert worse != {j.face.id: j.ranked.costs.exposure for j in before}
    assert "lips-exposed" in [f.code for f in face_findings(job, axis)]


def test_a_covered_oil_point_done_by_hand_becomes_a_recurring_task():
    job = Job(new_job_entities("x", "lathe-mid"))
    choose(job, "tailstock side of the cross slide", stand_off=mm("0"))
    axis = job.axes()[0]
    (found,) = [f for f in face_findings(job, axis) if f.code == "feature-blocked" and "oil" in f.what.text()]
    assert found.severity == "caution"
    oil = next(b for b in job.all(SolidBox) if b.name.startswith("oil"))
    job.apply("by hand", [oil.with_(covered="by hand", every_days=7.0)])
    codes = {f.code: f for f in face_findings(job, job.axes()[0])}
    assert codes["feature-settled"].severity == "info"
    assert any(s.words.startswith("By hand every 7 days: oil ball") for s in steps_of(job))


def test_a_distance_to_the_tool_that_no_face_cures_is_no_caution():
    job = Job(new_job_entities("x", "knee-mill-turret"))
    accuracy(job, "X", "0.002")
    axis = choose(job, "behind the table")
    (found,) = [f for f in face_findings(job, axis) if f.code == "abbe"]
    assert found.severity == "info"
    assert "when calibrating" in found.remedy.text()
    # The tool comes down to the work: the distance is to a little above the table, not to the head in mid travel.
    assert found.what.values["offset"].mm < 200


def test_a_job_with_no_new_holes_has_no_drilling_step():
    job = job_on("bench-mill", "behind the table", "right flank of the base")
    assert any(s.key.startswith("drill-") for s in steps_of(job))
    job.apply("school", [job.info.with_(hole_school="none")])
    steps = steps_of(job)
    assert not any(s.key.startswith("drill-") for s in steps)
    keys = {s.key for s in steps}
    assert all(n in keys for s in steps for n in s.needs)


@pytest.mark.parametrize(("side", "tilt"), [("right", 45), ("left", 45), ("right", 20)])
def test_what_tilts_with_the_head_never_stands_inside_it_for_being_tilted(side, tilt):
    job = job_on("knee-mill-turret", "left flank of the knee")
    reach = Display(id=new_id(), member="head", side=side, reach=mm(300))
    job.apply("hang", [reach, job.machine.with_(tilt_deg=float(tilt))])
    assert not [words for words in told(job, "fixed-overlap") if "tilted" in words]
