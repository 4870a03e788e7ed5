"""A screw is chosen with what it ends in: it clamps before it bottoms, or it is said that none does."""

import pytest

from vernus.core.errors import BadInputError
from vernus.job.document import new_id
from vernus.job.entities import Delivery, DrilledHole, Face, Hole, MountPart, PartCut
from vernus.job.fields import LengthEntry
from vernus.job.known.axis_figures import chosen_face, plan_of
from vernus.job.machine.geometry import faces_of
from vernus.job.machine.planned import bulk_of
from vernus.job.machine.survey import agreed, hole_findings, hole_in_short, threads_that_fit
from vernus.job.make.holes_there import thread_there, used_by
from vernus.job.make.items import made_items
from vernus.job.make.lean import draft_words
from vernus.job.make.mounts import mount_result
from vernus.job.make.new_parts import plate_over_holes, t_nut_part
from vernus.job.make.served import parts_of
from vernus.job.plan.faces import choose_face
from vernus.job.said import statements


@pytest.fixture(params=["mm", "in"])
def made(request, bench):
    bench.job.apply("units", [bench.job.info.with_(units=request.param)])
    bench.travel("X", "380 mm", "380 mm", "380 mm")
    face = faces_of(bench.job, bench.axis())[0]
    bench.plan("X", face=face.name, measuring="400 mm")
    return bench


def old_hole(made, **fields):
    face = faces_of(made.job, made.axis())[0]
    usual = {"diameter": "5.9 mm", "pitch": "1 mm", "at_x": "60 mm", "at_y": "0 mm", "apart": "150 mm"}
    words = ("member", "through", "thread", "used_by")
    lengths = {k: made.length(v) for k, v in ({**usual, **fields}).items() if k not in words}
    rest = {"thread": "M6x1"} | {k: v for k, v in fields.items() if k in words}
    hole = Hole(id=new_id(), face_id=face.id, place="strip", count=2, **{"member": face.member, **rest, **lengths})
    made.job.apply("hole", [hole])


def plate_screws(made):
    put, _ = plate_over_holes(made.job, made.axis(), "M5", new_id)
    made.job.apply("plate", put)
    result = mount_result(made.job, put[0])
    codes = {f.code for f in result.findings}
    return [r.screw for r in result.rows if r.hole.kind != "tapped"], codes, result


# M6, plate 12 with the heads sunk 6.4 under the body, cast iron: wanted 9, least 6; the screw stays 1.5 off the bottom.
@pytest.mark.parametrize(
    ("depth", "length", "code"),
    [("8.9 mm", 12, "short-engagement"), ("9.6 mm", 12, "short-engagement"), ("14.6 mm", 16, None),
     ("5 mm", None, "screw-bottoms")],
)  # fmt: skip
def test_the_depth_of_an_old_hole_decides_the_screw(made, depth, length, code):
    old_hole(made, thread_deep=depth)
    screws, codes, result = plate_screws(made)
    assert [s and s.length_mm for s in screws] == [length, length]
    assert codes & {"screw-bottoms", "short-engagement", "thread-depth-unknown"} == ({code} if code else set())
    if code == "screw-bottoms":
        assert not any("Screws" in n.text() for n in result.notes)


def test_what_would_serve_is_said(made):
    old_hole(made, thread_deep="5 mm")
    *_, result = plate_screws(made)
    assert "deeper by 2.5 mm" in next(f.remedy for f in result.findings if f.code == "screw-bottoms").text("mm")


def test_a_washer_closes_what_no_length_closes_alone(made):
    # Beside the body: M6 × 20 goes 20 − 12 − 1.6 = 6.4 in, and 8.9 − 1.5 is the most.
    old_hole(made, thread_deep="8.9 mm", at_y="60 mm")
    screws, *_ = plate_screws(made)
    assert {s.washers for s in screws} == {1}
    said = next(s for s in statements(made.job) if s.kind == "screw")
    assert said.figures["layers_mm"] == [1.6, 12.0]
    assert said.figures["into_mm"] == pytest.approx(6.4)
    bought = {(i.what.text(), i.size.text(), i.count) for i in made_items(made.job, made.axis()) if i.kind == "buy"}
    name = made.job.all(MountPart)[0].name
    assert (f"Washers for {name}", "M6", 2) in bought


def test_an_unknown_depth_is_asked_for_and_no_screw_is_named(made):
    old_hole(made)
    screws, codes, _ = plate_screws(made)
    assert screws == [None, None]
    assert "thread-depth-unknown" in codes


def two_parts(made, other, mine):
    block = MountPart(id=new_id(), axis_id=made.axis().id, name="block", thickness=made.length("20 mm"))
    bridge = MountPart(
        id=new_id(), axis_id=made.axis().id, name="bridge", part_kind="bridge", thickness=made.length("12 mm"),
        bolts_to=block.id,
    )  # fmt: skip
    at = {"x": made.length("20 mm"), "y": made.length("12 mm")}
    holes = [DrilledHole(id=new_id(), part_id=block.id, **at, **other),
             DrilledHole(id=new_id(), part_id=bridge.id, **at, **mine)]  # fmt: skip
    made.job.apply("parts", [block, bridge, *holes])
    return next(r for r in mount_result(made.job, bridge).rows), mount_result(made.job, bridge)


def test_the_thread_of_our_own_block_limits_the_screw(made):
    # Grip 12 - 5.4 = 6.6 and 10 of thread less 1.2: at most 15.4; M5 x 12 has 5.4 of the 6.25 that are least.
    row, result = two_parts(made, {"depth": made.length("10 mm")}, {"hole_kind": "counterbored slot"})
    assert row.screw is None
    assert "screw-bottoms" in {f.code for f in result.findings}
    row, _ = two_parts(made, {"depth": made.length("12 mm")}, {"hole_kind": "counterbored slot"})
    assert row.screw.length_mm == 16
    row, _ = two_parts(made, {}, {"hole_kind": "clearance"})
    assert row.screw is not None
    assert row.screw.engaged_mm <= 20


def test_a_reader_of_unknown_thread_takes_no_screw_until_it_is_gauged(made):
    bracket = MountPart(
        id=new_id(), axis_id=made.axis().id, name="bracket", part_kind="bridge", thickness=made.length("10 mm"),
        bolts_to="reader",
    )  # fmt: skip
    hole = DrilledHole(id=new_id(), part_id=bracket.id, hole_kind="slot", thread="M4", x=made.length("20 mm"))
    made.job.apply("bracket", [bracket, hole])
    result = mount_result(made.job, bracket)
    assert result.rows[0].screw is None
    assert "thread-depth-unknown" in {f.code for f in result.findings}
    came = Delivery(id=new_id(), axis_id=made.axis().id, reader_depth=made.length("7.5 mm"))
    made.job.apply("came", [came])
    assert mount_result(made.job, bracket).rows[0].screw.length_mm == 16  # 10 + 4 wanted, 10 + 6 at most


def test_a_plate_never_ties_two_members(made):
    old_hole(made, member="saddle", depth="20 mm")
    with pytest.raises(BadInputError, match="would lock the two"):
        plate_over_holes(made.job, made.axis(), "M5", new_id)


@pytest.mark.parametrize(("lip", "most"), [("8", 7.5), ("20", 19)])
def test_the_neck_of_a_t_nut_is_lower_than_the_lips(made, lip, most):
    face = faces_of(made.job, made.axis())[0]
    sizes = {"mouth": "11 mm", "head": "19 mm", "head_high": "7 mm", "depth": f"{7 + int(lip)} mm"}
    slot = Hole(id=new_id(), member=face.member, what="slot", **{k: made.length(v) for k, v in sizes.items()})
    made.job.apply("slot", [slot])
    put = t_nut_part(made.job, made.axis(), new_id)
    made.job.apply("nut", put)
    assert [c.deep.mm for c in put if isinstance(c, PartCut)] == pytest.approx([most, most])
    assert "neck-too-high" not in {f.code for f in mount_result(made.job, put[0]).findings}
    cut = next(c for c in put if isinstance(c, PartCut))
    made.job.apply("higher", [c.with_(deep=made.length(f"{lip} mm")) for c in put if isinstance(c, PartCut)])
    assert cut.id in {e.id for e in made.job.entities()}
    assert "neck-too-high" in {f.code for f in mount_result(made.job, put[0]).findings}


def test_the_shim_for_a_lean_goes_by_the_rows_of_bolts(made):
    plate = MountPart(
        id=new_id(), axis_id=made.axis().id, name="plate", part_kind="plate", width=made.length("80 mm"),
        draft_rise=made.length("4.2 mm"), draft_over=made.length("80 mm"), bolts_to="machine",
    )  # fmt: skip
    made.job.apply("plate", [plate])
    assert "two rows" in draft_words(made.job, plate).text()
    holes = [
        DrilledHole(id=new_id(), part_id=plate.id, hole_kind="clearance", x=made.length(x), y=made.length(y))
        for x in ("10 mm", "50 mm") for y in ("10 mm", "70 mm")
    ]  # fmt: skip
    made.job.apply("holes", holes)
    assert "by 3.150 mm (rows 60 mm apart)" in draft_words(made.job, plate).text("mm")
    assert "by 124.0 thou (rows 2.362 in apart)" in draft_words(made.job, plate).text("in")


def test_what_comes_off_is_taken_from_the_piece_at_hand(made):
    sizes = {"thickness": "25 mm", "gap": "14.2 mm", "stock_thick": "25.3 mm"}
    part = MountPart(
        id=new_id(), axis_id=made.axis().id, fills="thickness", **{k: made.length(v) for k, v in sizes.items()}
    )
    made.job.apply("part", [part])
    assert "take 11.1 mm off" in mount_result(made.job, part).instruction.text("mm")
    assert "take 0.437 in off" in mount_result(made.job, part).instruction.text("in")


def test_a_tongue_is_part_of_the_stock(made):
    sizes = {"thickness": "35 mm", "stock_thick": "35 mm", "stock_length": "62 mm", "stock_width": "38 mm"}
    part = MountPart(id=new_id(), axis_id=made.axis().id, **{k: made.length(v) for k, v in sizes.items()})
    cut = PartCut(id=new_id(), part_id=part.id, cut_kind="tongue", face="back", deep=made.length("2 mm"))
    made.job.apply("part", [part])
    assert "stock-serves" in {f.code for f in mount_result(made.job, part).findings}
    made.job.apply("tongue", [cut])
    found = next(f for f in mount_result(made.job, part).findings if f.code.startswith("stock"))
    assert found.code == "stock-too-small"
    assert "37 mm" in found.what.text("mm")


@pytest.mark.parametrize(("figures", "can_be", "chosen"), [
    ({"diameter": "0.188 in", "pitch": "1/32 in"}, ("#10-32", "M5x0.8"), "#10-32 UNF"),
    ({"diameter": "5.9 mm", "pitch": "1 mm"}, ("M6x1", "0 BA"), "0 BA"),
])  # fmt: skip
def test_a_thread_that_two_figures_can_t_tell_apart_is_chosen_before_a_screw_is_named(made, figures, can_be, chosen):
    old_hole(made, thread="", thread_deep="14 mm", **figures)
    hole = made.job.all(Hole)[-1]
    told = " ".join(f.what.text() for f in hole_findings(made.job))
    assert all(name in told for name in can_be)
    with pytest.raises(BadInputError, match="turn a known screw in"):
        plate_over_holes(made.job, made.axis(), "M5", new_id)
    name = next(t.name for t in threads_that_fit(hole) if t.name.split()[0] == chosen.split()[0])
    made.job.apply("tried", [hole.with_(thread=name)])
    assert hole_findings(made.job) == []
    screws, _, _ = plate_screws(made)
    assert {s.thread.name for s in screws if s is not None} <= {name}
    assert hole_in_short(made.job.get(hole.id)).text() == name


@pytest.mark.parametrize(("depth", "gauged", "engages"), [("16 mm", None, 12.0), ("16 mm", "9 mm", 9.0)])
def test_a_thread_ends_before_its_hole_unless_a_screw_gauged_it(made, depth, gauged, engages):
    """A plug tap leaves about four pitches uncut: common practice, no source."""
    old_hole(made, depth=depth, **({} if gauged is None else {"thread_deep": gauged}))
    assert thread_there(made.job.all(Hole)[-1]).thread_mm == pytest.approx(engages)


def test_member_and_face_agree_and_a_t_slot_s_head_is_the_wider_part(made):
    face = faces_of(made.job, made.axis())[0]
    hole = Hole(id=new_id(), member=face.member, face_id=face.id)
    made.job.apply("hole", [hole])
    assert agreed(made.job, hole.with_(member=face.reader_member)).face_id == face.id, "its reader's side is there too"
    assert agreed(made.job, hole.with_(member="column")).face_id == ""
    other = next(f for f in made.job.all(Face) if f.member not in (face.member, face.reader_member))
    assert agreed(made.job, hole.with_(face_id=other.id)).member == other.member
    slot = Hole(id=new_id(), what="slot", member="table", place="slot", mouth=made.length("19 mm"),
                head=made.length("11 mm"))  # fmt: skip
    made.job.apply("slot", [slot])
    assert [f.code for f in hole_findings(made.job)] == ["slot-head"]
    made.job.apply("right", [slot.with_(mouth=slot.head, head=slot.mouth)])
    assert hole_findings(made.job) == []


def test_a_hole_says_what_uses_it(made):
    old_hole(made, thread_deep="14.6 mm", used_by="an old clip")
    hole = made.job.all(Hole)[0]
    assert used_by(made.job, hole) == "an old clip"
    plate_screws(made)
    part = made.job.all(MountPart)[0]
    assert used_by(made.job, hole) == f"an old clip; {part.name}"


def test_a_plate_over_old_holes_carries_the_body_as_high_as_its_holes_are(made):
    old_hole(made, thread_deep="14.6 mm", at_y="-2 mm")
    at_face = bulk_of(made.job, made.axis(), chosen_face(made.job, made.axis())).across_mm
    plate_screws(made)
    face = chosen_face(made.job, made.axis())
    part = next(p for p in made.job.all(MountPart))
    old = next(h for h in made.job.all(DrilledHole) if h.part_id == part.id and h.over)
    new = next(h for h in made.job.all(DrilledHole) if h.part_id == part.id and not h.over)
    lies = bulk_of(made.job, made.axis(), face).across_mm
    assert at_face == 0.0
    assert lies == pytest.approx(-2 + new.y.mm - old.y.mm, abs=0.01)
    made.job.apply("moved on the plate", [new.with_(y=LengthEntry(mm=new.y.mm + 10))])
    assert bulk_of(made.job, made.axis(), face).across_mm == pytest.approx(lies + 5, abs=0.01)


def test_no_head_stands_where_the_body_lies(made):
    """Heads under the body are sunk by themselves; one that can't be moves the body's line clear of it."""
    for thread, pitch, diameter, sunk in (("M6x1", "1 mm", "5.9 mm", True), ("M10x1.5", "1.5 mm", "9.9 mm", False)):
        made.job.apply("away", drop=[e.id for k in (Hole, MountPart, DrilledHole) for e in made.job.all(k)])
        old_hole(made, thread_deep="30 mm", thread=thread, pitch=pitch, diameter=diameter)
        _, codes, result = plate_screws(made)
        kinds = {r.hole.kind for r in result.rows if r.hole.kind != "tapped"}
        assert kinds == ({"counterbored"} if sunk else {"clearance"})
        assert "head-in-the-way" not in codes
        high = bulk_of(made.job, made.axis(), chosen_face(made.job, made.axis())).family.section_mm[0]
        lines = {r.hole.y_mm for r in result.rows if r.hole.kind == "tapped"}
        heads = [r.hole.y_mm for r in result.rows if r.hole.kind == "clearance"]
        assert all(abs(y - line) >= high / 2 + 9 for y in heads for line in lines)
    part = made.job.all(MountPart)[0]
    for hole in made.job.all(DrilledHole):
        if hole.hole_kind == "tapped":
            made.job.apply("back over them", [hole.with_(y=next(h.y for h in made.job.all(DrilledHole) if h.over))])
    assert "head-in-the-way" in {f.code for f in mount_result(made.job, part).findings}


def test_one_hole_that_cannot_be_read_is_one_finding_and_the_others_stand(made):
    old_hole(made, thread_deep="14.6 mm")
    plate_screws(made)
    part = made.job.all(MountPart)[0]
    bad = next(h for h in made.job.all(DrilledHole) if h.over)
    made.job.apply("a slip", [bad.with_(thread="M99x")])
    result = mount_result(made.job, part)
    unread = [f for f in result.findings if f.code == "hole-unread"]
    assert len(unread) == 1
    assert "M99x" in unread[0].what.text()
    assert len(result.rows) == len([h for h in made.job.all(DrilledHole) if h.part_id == part.id]) - 1
    assert len({r.number for r in result.rows}) == len(result.rows)


def test_screws_into_another_part_without_a_thread_for_them_are_told(made):
    axis = made.axis()
    bracket = MountPart(id="bracket", axis_id=axis.id, name="bracket", bolts_to="machine", part_kind="angle")
    cover = MountPart(id="cover", axis_id=axis.id, name="the cover", bolts_to="bracket", part_kind="cover")
    hole = DrilledHole(
        id="h", part_id="cover", x=LengthEntry(mm=12), y=LengthEntry(mm=7.5), thread="M5", hole_kind="clearance"
    )

    def told():
        return "screws-in-nothing" in {f.code for f in mount_result(made.job, cover).findings}

    made.job.apply("a cover on the bracket", [bracket, cover, hole])
    assert told()
    made.job.apply("a nut behind", [hole.with_(nut="yes")])
    assert not told()
    tapped = hole.with_(id="t", part_id="bracket", hole_kind="tapped", thread="M6")
    made.job.apply("another thread", [hole, tapped])
    assert told()
    made.job.apply("its thread", [tapped.with_(thread="M5")])
    assert not told()


def test_a_hole_that_is_there_and_takes_the_screw_is_named_before_another_is_drilled(made):
    axis, face = made.axis(), chosen_face(made.job, made.axis())
    bracket = MountPart(id="bracket", axis_id=axis.id, name="bracket", bolts_to="machine", part_kind="angle")
    hole = DrilledHole(
        id="h", part_id="bracket", x=LengthEntry(mm=20), y=LengthEntry(mm=18), thread="M8", hole_kind="clearance"
    )
    plain = Hole(id="old", place="the old rod's", member=face.member, what="plain", diameter=LengthEntry(mm=8.1))

    def told():
        return [f.what.text() for f in mount_result(made.job, bracket).findings if f.code == "hole-there-already"]

    made.job.apply("a bracket", [bracket, hole])
    assert not told()
    made.job.apply("a plain hole", [plain])
    assert "the old rod's" in told()[0]
    made.job.apply("too wide", [plain.with_(diameter=LengthEntry(mm=11))])
    assert not told()
    made.job.apply("that one", [plain, hole.with_(over="old")])
    assert not told()


def test_a_plate_over_old_holes_is_for_their_face_alone(made):
    old_hole(made)
    plate_screws(made)
    axis, plan = made.axis(), plan_of(made.job, made.axis())
    assert parts_of(made.job, axis)
    other = next(f for f in faces_of(made.job, axis) if f.id != plan.face_id)
    made.job.apply("another face", [choose_face(plan, other)])
    assert not parts_of(made.job, axis)
    assert not [i for i in made_items(made.job, axis) if "plate" in i.what.text()]
