"""Parts in a job: carried patterns, plates over old holes, T-nuts, the last piece of a chain, what arrived."""

import pytest

from vernus.core.errors import BadInputError
from vernus.core.make.hole_rows import hole_table
from vernus.core.make.parts import Part, PartCut, PartHole
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job, new_id
from vernus.job.doubts import yardstick
from vernus.job.entities import ENTITY_TYPES, Delivery, DrilledHole, Hole, HolePattern, MountPart, ShimKind
from vernus.job.entities import PartCut as Cut
from vernus.job.fields import LengthEntry, applies, quantities
from vernus.job.formats.dxf import LAYERS, write_dxf
from vernus.job.known.axis_figures import chosen_face
from vernus.job.known.lengths import stand_off
from vernus.job.known.stored import unmeasured
from vernus.job.machine.geometry import faces_of
from vernus.job.machine.planned import planned_parts
from vernus.job.make.items import made_items
from vernus.job.make.mounts import mount_result
from vernus.job.make.new_parts import face_part, new_part, other_hand, plate_over_holes, t_nut_part, with_usual_holes
from vernus.job.make.parts import part_of, places_of, solved_size
from vernus.job.plan.faces import choose_face
from vernus.job.plan.scale import scale_plan


def mm(text):
    return LengthEntry.read(str(text))


@pytest.fixture(params=["mm", "in"])
def job(request):
    return Job(new_job_entities("Parts", "bench-mill", request.param))


@pytest.fixture
def axis(job):
    found = job.axes()[0]
    put = choose_face(scale_plan(job, found), faces_of(job, found)[0])
    job.apply("plan", [put.with_(family="glass-slim", measuring=mm("450"))])
    return job.axes()[0]


def part(job, axis, **more):
    usual = {"name": "plate", "part_kind": "plate", "length": mm(120), "width": mm(60), "thickness": mm(12)}
    made = MountPart(id=new_id(), axis_id=axis.id, **{**usual, **more})
    job.apply("part", [made])
    return made


@pytest.mark.parametrize("kind", ["standoff", "plate", "angle", "bridge"])
def test_a_part_of_which_nothing_was_typed_moves_nothing_that_was_planned(job, axis, kind):
    plan = scale_plan(job, axis)
    job.apply("stand-off", [plan.with_(stand_off=mm("40"))])
    before = planned_parts(job, axis, chosen_face(job, axis))
    job.apply("begun", [new_part(job, axis, new_id).with_(part_kind=kind)])
    assert planned_parts(job, axis, chosen_face(job, axis)) == before
    assert stand_off(job, axis).value == 40


def test_a_stand_off_that_only_a_part_begun_makes_is_said_to_be_nobodys(job, axis):
    assert "stand-off" not in {k.name for k in unmeasured(job, axis)}
    block = new_part(job, axis, new_id)
    job.apply("begun", [block])
    assert stand_off(job, axis).value == block.thickness.mm
    assert "stand-off" in {k.name for k in unmeasured(job, axis)}
    job.apply("typed", [block.with_(thickness=mm("0.5 in"))])
    assert "stand-off" not in {k.name for k in unmeasured(job, axis)}


def test_the_first_block_is_as_thick_as_the_plan_wants_and_another_thickness_is_told(job, axis):
    job.apply("stand-off", [scale_plan(job, axis).with_(stand_off=mm("40"))])
    block = new_part(job, axis, new_id)
    assert block.thickness.mm == 40
    job.apply("typed", [block.with_(thickness=mm("1.4 in"))])
    assert stand_off(job, axis).value == pytest.approx(35.56)
    told = mount_result(job, job.get(block.id)).findings
    assert [f.severity for f in told if f.code == "parts-against-plan"] == ["caution"]
    job.apply("as planned", [job.get(block.id).with_(thickness=mm("40"))])
    assert "parts-against-plan" not in {f.code for f in mount_result(job, job.get(block.id)).findings}


def pattern(job, owner, **more):
    made = HolePattern(id=new_id(), part_id=owner.id, **more)
    job.apply("pattern", [made])
    return made


def test_a_pattern_is_carried_from_part_to_part_and_follows_its_source(job, axis):
    one, two, three = (part(job, axis, name=n) for n in ("one", "two", "three"))
    rect = pattern(job, one, shape="rectangle", x=mm(20), y=mm(15), count=2, apart=mm(40), rows=2, rows_apart=mm(30))
    second = pattern(job, two, shape="carried", source=one.id, turned="yes", x=mm(80), y=mm(15))
    third = pattern(job, three, shape="carried", source=two.id, turned="yes", x=mm(20), y=mm(15))
    assert places_of(job, two, second) == [(80, 15), (40, 15), (80, 45), (40, 45)]
    assert places_of(job, three, third) == places_of(job, one, rect)  # turned twice
    job.apply("moved", [rect.with_(apart=mm(60))])
    assert places_of(job, three, third)[1] == (80, 15)
    assert made_items(job, axis)[2].detail.text().endswith("4 holes")


def test_patterns_carried_in_a_circle_are_told(job, axis):
    one, two = part(job, axis, name="one"), part(job, axis, name="two")
    pattern(job, one, shape="carried", source=two.id)
    pattern(job, two, shape="carried", source=one.id)
    result = mount_result(job, one)
    assert result.part is None
    assert "in a circle" in result.findings[0].what.text()
    assert "enter one of them" in result.instruction.text()
    own = part(job, axis, name="own")
    pattern(job, own, shape="carried", source=own.id)
    assert "Say what the pattern of own is carried from" in mount_result(job, own).findings[0].what.text()


def test_holes_of_the_scale_and_of_the_reader_are_carried(job, axis):
    plate = part(job, axis, length=mm(600))
    body = pattern(job, plate, shape="carried", source="scale", turned="no", x=mm(25), y=mm(20))
    first, last = places_of(job, plate, body)
    assert last[0] - first[0] == pytest.approx(550 - 16)  # the body less twice its first hole
    reader = pattern(job, plate, shape="carried", source="reader", turned="no", x=mm(25), y=mm(40))
    near, far = places_of(job, plate, reader)
    assert far[0] - near[0] == pytest.approx(90 - 16)


def old_holes(job, axis, **more):
    face = faces_of(job, axis)[0]
    usual = {"diameter": mm("7.9"), "pitch": mm("1.25"), "at_x": mm(100), "at_y": mm(0), "count": 3, "apart": mm(150)}
    hole = Hole(id=new_id(), member=face.member, face_id=face.id, place="strip", **{**usual, **more})
    job.apply("holes", [hole])
    return hole


def test_a_plate_over_old_holes_has_both_patterns(job, axis):
    with pytest.raises(BadInputError, match="from its left end"):
        plate_over_holes(job, axis, "M5", new_id)
    old_holes(job, axis)
    put, plan = plate_over_holes(job, axis, "M5", new_id)
    job.apply("plate", put)
    assert plan.feasible
    result = mount_result(job, put[0])
    assert [r.hole.kind for r in result.rows] == ["clearance"] * 3 + ["tapped"] * 2
    xs = [r.hole.x_mm for r in result.rows]
    assert (xs[1] - xs[0], xs[2] - xs[1]) == pytest.approx((150, 150))
    assert xs[4] - xs[3] == pytest.approx(550 - 16)
    assert not {"off-the-part", "near-an-edge", "holes-too-near"} & {f.code for f in result.findings}


def test_reuse_offers_only_holes_of_the_parts_own_face_each_once(job, axis):
    old_holes(job, axis, count=1, at_x=mm(20), room=mm(45))
    job.apply("other", [Hole(id=new_id(), member="saddle", place="saddle", diameter=mm("4.9"), pitch=mm("0.8"))])
    job.apply("school", [job.info.with_(hole_school="reuse")])
    put = face_part(job, axis, new_id)
    job.apply("face", put)
    found = [f for f in mount_result(job, put[0]).findings if f.code in ("hole-there", "no-hole-there")]
    assert [f.code for f in found] == ["hole-there", "no-hole-there"]
    assert all("saddle" not in f.what.text() for f in found)
    assert "short key" in found[0].remedy.text()


def test_a_t_nut_bar_is_made_from_the_slots_sizes(job, axis):
    with pytest.raises(BadInputError, match="Note the T-slot"):
        t_nut_part(job, axis, new_id)
    face = faces_of(job, axis)[0]
    slot = Hole(id=new_id(), member=face.member, what="slot", place="front slot", mouth=mm(14), head=mm(23),
                head_high=mm(9), depth=mm(23))  # fmt: skip
    job.apply("slot", [slot])
    put = t_nut_part(job, axis, new_id)
    job.apply("nut", put)
    made = mount_result(job, put[0]).part
    assert made.width_mm < 23
    assert made.thickness_mm < 23
    steps = made.cuts
    assert made.width_mm - steps[0].high_mm - steps[1].high_mm < 14
    assert made.thickness_mm - steps[0].depth_mm < 9
    assert {h.thread for h in made.holes} == {"M10x1.5" if job.info.units == "mm" else "3/8-16"}


def test_the_last_piece_is_made_from_the_gap_and_too_short_is_told(job, axis):
    bridge = part(job, axis, part_kind="bridge", width=mm("47.2"), fills="width", gap=mm("36.0"))
    assert solved_size(job, bridge)[1] == 36.0
    assert part_of(job, bridge).width_mm == 36.0
    assert "take 11.2 mm off" in mount_result(job, bridge).instruction.text("mm")
    assert "take 0.441 in off" in mount_result(job, bridge).instruction.text("in")
    job.apply("wide", [bridge.with_(gap=mm("48"))])
    result = mount_result(job, job.get(bridge.id))
    assert "too-short-for-the-gap" in [f.code for f in result.findings]
    job.apply("same", [bridge.with_(gap=mm("47.2"))])
    assert "as planned" in mount_result(job, job.get(bridge.id)).notes[0].text()


def test_three_bolts_get_their_spacers_and_the_lean_of_the_casting_is_told(job, axis):
    plate = part(job, axis)
    spots = ((20, 15, "2.0"), (100, 15, "3.0"), (60, 45, "2.5"))
    holes = [
        DrilledHole(id=f"h{n}", part_id=plate.id, x=mm(x), y=mm(y), hole_kind="clearance", behind=mm(gap))
        for n, (x, y, gap) in enumerate(spots)
    ]
    shims = [ShimKind(id="a", thickness=mm(2), count=3), ShimKind(id="b", thickness=mm("0.5"), count=4)]
    job.apply("bolts", [*holes, *shims])
    first, lean, *_ = mount_result(job, plate).notes
    assert "3.000 mm behind hole 2 (from the drawer 2 of 0.500 mm and 1 of 2.000 mm)" in first.text("mm") or (
        "3.000 mm behind hole 2 (from the drawer 1 of 2.000 mm and 2 of 0.500 mm)" in first.text("mm")
    )
    assert "falls away by 1.500 mm over the length and 0.000 mm over the width" in lean.text("mm")


def test_what_a_part_carries_decides_what_it_moves(job, axis):
    part(job, axis, carries="reader")
    assert stand_off(job, axis).value == 0
    part(job, axis)
    assert stand_off(job, axis).value == 12


def test_the_other_hand_of_a_part_takes_patterns_and_cuts_along(job, axis):
    one = part(job, axis)
    pattern(job, one, shape="row", x=mm(20), y=mm(20), count=2, apart=mm(30))
    job.apply("cut", [Cut(id="c", part_id=one.id, cut_kind="step", x=mm(0), y=mm(0), wide=mm(10), high=mm(60))])
    put = other_hand(job, one, new_id)
    job.apply("hand", put)
    made = part_of(job, put[0])
    assert sorted(h.x_mm for h in made.holes) == [70, 100]
    assert made.cuts[0].x_mm == 110


def test_usual_holes_of_a_part_too_small_are_refused_in_a_sentence(job, axis):
    tiny = part(job, axis, length=mm(10), width=mm(8))
    with pytest.raises(BadInputError, match="too small for its usual holes"):
        with_usual_holes(job, tiny, "M5", new_id)


@pytest.mark.parametrize(
    ("field", "good", "bad"),
    [("overall", 550, 400), ("overall", 550, 2000), ("hole_from_end", 8, 300), ("reader", 90, 3), ("reader", 90, 700)],
)
def test_impossible_sizes_of_what_arrived_are_asked_about(job, axis, field, good, bad):
    arrived = Delivery(id="d", axis_id=axis.id, measuring=mm(450), overall=mm(550))
    measure = yardstick(job, arrived, quantities(Delivery)[field])
    assert measure.fits(good)
    assert not measure.fits(bad)


def test_a_part_is_written_face_by_face_to_dxf(tmp_path):
    import ezdxf

    made = Part("angle", "angle", 90, 40, 8, "steel", (
        PartHole(20, 25, "clearance", "M6"),
        PartHole(45, 20, "counterbored slot", "M4", 5, face="leg", angle_deg=90, into="steel"),
        PartHole(70, 20, "bore", "", bore_mm=16, depth_mm=5, far_side=True),
    ), (PartCut("step", "face", 0, 30, 90, 10, 2),), 35, 92)  # fmt: skip
    path = tmp_path / "angle.dxf"
    write_dxf(made, hole_table(made), path)
    space = ezdxf.readfile(path).modelspace()
    assert {e.dxf.layer for e in space} == set(LAYERS)
    outlines = [e for e in space if e.dxf.layer == "outline"]
    assert len(outlines) == 2
    words = " / ".join(e.dxf.text for e in space.query("TEXT"))
    assert "leg 35 at 92 deg" in words
    assert "counterbored 8 mm × 4.4 mm deep" in words
    assert "other leg" in words
    assert "Seen from outside; pocket from the machine's side" in words
    assert "bore 16 mm H7, 5 mm deep, pocket from the machine's side" in words
    slots = [e for e in space.query("LWPOLYLINE") if e.dxf.layer in ("holes", "sunk")]
    assert len(slots) == 2
    for slot in slots:  # it runs across: higher than it is wide, by twice what it lets the screw go
        xs, ys = zip(*[(p[0], p[1]) for p in slot], strict=True)
        assert max(ys) - min(ys) == pytest.approx(10)
        assert 4 < max(xs) - min(xs) < 9


@pytest.mark.parametrize("model", ENTITY_TYPES.values(), ids=ENTITY_TYPES.keys())
def test_a_figure_that_means_something_only_for_some_kinds_names_kinds_there_are(model):
    declared = quantities(model)
    for quantity in declared.values():
        if quantity.when is not None:
            other, values = quantity.when
            assert set(values) < {value for value, _ in declared[other].choices}


def test_a_field_that_does_not_apply_is_left_out_unless_somebody_filled_it():
    slot, bolt = Hole(id="s", what="slot"), Hole(id="h", what="threaded")
    assert [applies(h, "mouth") for h in (slot, bolt)] == [True, False]
    assert [applies(h, "diameter") for h in (slot, bolt)] == [False, True]
    assert applies(slot.with_(diameter=mm("6")), "diameter"), "what somebody typed is never hidden"
    assert applies(slot, "depth")


@pytest.mark.parametrize(("there", "nut"), [("clearance", True), ("tapped", False), ("slot", True)])
def test_what_is_carried_from_clearance_holes_of_the_part_it_bolts_to_goes_through_with_a_nut(job, axis, there, nut):
    first = part(job, axis, name="first", thickness=mm(8))
    job.apply("h", [DrilledHole(id=new_id(), part_id=first.id, x=mm(20), y=mm(20), hole_kind=there, thread="M5")])
    second = part(job, axis, name="second", thickness=mm(6), bolts_to=first.id)
    pattern(job, second, shape="carried", source=first.id, x=mm(30), y=mm(30), hole_kind="clearance", thread="M5")
    (row,) = mount_result(job, job.get(second.id)).rows
    assert row.screw.nut == nut
    assert row.screw.length_mm >= (6 + 8 + 5 if nut else 6 + 5)
    apart = part(job, axis, name="third", thickness=mm(6))
    pattern(job, apart, shape="carried", source=first.id, x=mm(30), y=mm(30), hole_kind="clearance", thread="M5")
    assert all(r.screw is None for r in mount_result(job, job.get(apart.id)).rows), "bolted to nothing that is known"
