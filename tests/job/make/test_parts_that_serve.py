"""Parts follow what they serve; patterns are carried by choice; tongues, foam, nuts and jack screws."""

import pytest

from vernus.core.errors import BadInputError
from vernus.job.align.edits import current_sweep
from vernus.job.align.passes import setting_in_job
from vernus.job.document import new_id
from vernus.job.entities import Delivery, DrilledHole, Hole, HolePattern, MountPart, PartCut, StackHeight
from vernus.job.known.axis_figures import chosen_face
from vernus.job.known.lengths import body_length, gap_left, screws, stand_off
from vernus.job.machine.geometry import faces_of
from vernus.job.machine.travel import travel_result
from vernus.job.make.carried import source_holes
from vernus.job.make.delivered import compare_delivery, not_of_it
from vernus.job.make.items import made_items
from vernus.job.make.lean import draft_words, jack_holes, jacks_under, shims_of
from vernus.job.make.mounts import mount_result
from vernus.job.make.new_parts import face_part, new_part, with_usual_holes
from vernus.job.make.parts import part_of, places_of, solved_size
from vernus.job.make.served import parts_of, served, unserved
from vernus.job.said import statements


@pytest.fixture(params=["mm", "in"])
def made(request, bench):
    bench.job.apply("units", [bench.job.info.with_(units=request.param)])
    bench.travel("X", "380 mm", "380 mm", "380 mm")
    bench.plan("X", face=faces_of(bench.job, bench.axis())[0].name, measuring="400 mm")
    return bench


def part(made, **fields):
    words = {"name", "part_kind", "bolts_to", "carries", "serves", "fixed", "fills", "material"}
    put = MountPart(
        id=new_id(), axis_id=made.axis().id, **{k: v if k in words else made.length(v) for k, v in fields.items()}
    )
    made.job.apply("part", [put])
    return put


def hole(made, of, x, y, kind="clearance", thread="M5", **more):
    put = DrilledHole(
        id=new_id(), part_id=of.id, x=made.length(x), y=made.length(y), hole_kind=kind, thread=thread,
        **{k: v if k in ("nut", "face") else made.length(v) for k, v in more.items()},
    )  # fmt: skip
    made.job.apply("hole", [put])
    return put


def codes(made, of):
    return {f.code for f in mount_result(made.job, of).findings}


def test_a_part_nobody_named_is_called_what_it_is_and_follows_its_kind(made):
    first, second = new_part(made.job, made.axis(), new_id), new_part(made.job, made.axis(), new_id)
    made.job.apply("two", [first, second])
    assert [p.name for p in parts_of(made.job, made.axis())] == ["standoff block", "standoff block 2"]
    edited = unserved(made.job, served(made.job, first).with_(part_kind="bridge"))
    assert edited.name == ""
    made.job.apply("kind", [edited])
    assert {p.name for p in parts_of(made.job, made.axis())} == {"bridge plate", "standoff block"}
    assert "a part" not in {i.what.text() for i in made_items(made.job, made.axis())}


def test_a_scale_s_cover_follows_the_body_and_its_end_holes(made):
    cover = part(made, part_kind="cover", serves="body")
    body = body_length(made.job, made.axis()).value
    assert solved_size(made.job, cover)[0] == pytest.approx(body)
    made.job.apply("holes", with_usual_holes(made.job, cover, "M5", new_id))
    xs = [h.x_mm for h in part_of(made.job, cover).holes]
    assert (xs[0], xs[-1]) == pytest.approx(screws(made.job, made.axis()).value)
    made.job.apply("came", [Delivery(id=new_id(), axis_id=made.axis().id, overall=made.length("561 mm"))])
    assert solved_size(made.job, cover)[0] == pytest.approx(561)
    typed = cover.with_(length=made.length("500 mm"))
    made.job.apply("typed", [typed])
    assert solved_size(made.job, typed)[0] == pytest.approx(500)


def test_a_way_cover_is_as_long_as_the_travel_asks_and_asks_for_its_width(made):
    cover = part(made, part_kind="cover", serves="way")
    long = solved_size(made.job, cover)[0]
    assert long > travel_result(made.job, made.axis()).best.travel_mm + 50
    assert "across the ways" in mount_result(made.job, cover).instruction.text()
    assert "Say what it covers" in mount_result(made.job, part(made, part_kind="cover")).instruction.text()


def test_a_ring_asks_for_nose_and_outside_and_is_bored_for_the_nose(made):
    ring = part(made, part_kind="ring")
    assert "nose" in mount_result(made.job, ring).instruction.text()
    ring = ring.with_(nose=made.length("42 mm"), outside=made.length("70 mm"))
    made.job.apply("sizes", [ring])
    made.job.apply("bore", with_usual_holes(made.job, ring, "M5", new_id))
    bored = part_of(made.job, ring).holes[0]
    assert bored.bore_mm == pytest.approx(42.1)
    assert solved_size(made.job, ring)[:2] == (70, 70)


def test_a_pattern_carries_what_does_not_hold_its_source_already_and_any_hole_can_be_left_out(made):
    plate = part(made, part_kind="plate", bolts_to="machine", length="120 mm", width="60 mm")
    for x in ("15 mm", "105 mm"):
        hole(made, plate, x, "10 mm")
    for x in ("30 mm", "60 mm", "90 mm"):
        hole(made, plate, x, "45 mm", "tapped")
    bridge = part(made, part_kind="bridge", bolts_to=plate.id, length="120 mm", width="60 mm")
    pattern = HolePattern(id=new_id(), part_id=bridge.id, shape="carried", source=plate.id, turned="no",
                          x=made.length("20 mm"), y=made.length("20 mm"), hole_kind="clearance")  # fmt: skip
    made.job.apply("carried", [pattern])
    assert places_of(made.job, bridge, pattern) == [(20, 20), (50, 20), (80, 20)]
    assert [on for _, on in source_holes(made.job, bridge, pattern)] == [False, False, True, True, True]
    ticked = pattern.with_(left_out=(0, 1, 3), off_y=made.length("4 mm"))
    assert places_of(made.job, bridge, ticked) == [(20, 24), (80, 24)]
    onto = pattern.with_(part_id=bridge.id)
    turned = plate.with_(bolts_to=bridge.id)  # now the clearance holes of the plate are what bolts it to the bridge
    made.job.apply("turned", [turned])
    assert len(places_of(made.job, bridge, onto)) == 2


def test_the_reader_s_own_pattern_is_carried_and_its_threads_are_held_to(made):
    came = Delivery(
        id=new_id(), axis_id=made.axis().id, reader_columns=2, reader_rows=2, reader_apart=made.length("60 mm"),
        reader_rows_apart=made.length("24 mm"), reader_thread="M4", reader_depth=made.length("7.5 mm"),
    )  # fmt: skip
    made.job.apply("came", [came])
    bracket = part(made, part_kind="bridge", bolts_to="machine", length="120 mm", width="80 mm", thickness="10 mm")
    made.job.apply("usual", with_usual_holes(made.job, bracket, "M5", new_id))
    slots = [r for r in mount_result(made.job, bracket).rows if r.hole.is_slot]
    assert len(slots) == 4
    assert {r.hole.thread for r in slots} == {"M4"}
    xs, ys = {round(r.hole.x_mm, 3) for r in slots}, {round(r.hole.y_mm, 3) for r in slots}
    assert (max(xs) - min(xs), max(ys) - min(ys)) == pytest.approx((60, 24))
    assert {r.screw.thread.name for r in slots} == {"M4x0.7"}
    pattern = made.job.all(HolePattern)[0]
    made.job.apply("other", [pattern.with_(thread="M5")])
    assert "reader-thread" in codes(made, bracket)
    made.job.apply("slip", [came.with_(reader_thread="M4.x")])
    assert "thread-unread" in {f.code for f in compare_delivery(made.job, made.axis())[1]}


def test_a_rod_hangs_on_its_own_supports(bench):
    bench.travel("X", "380 mm", "380 mm", "380 mm")
    bench.plan("X", family="rod", face=faces_of(bench.job, bench.axis())[0].name, measuring="400 mm")
    with pytest.raises(BadInputError, match="rod's supports"):
        face_part(bench.job, bench.axis(), new_id)
    assert "support_apart" not in not_of_it(bench.job, bench.axis())
    came = Delivery(id=new_id(), axis_id=bench.axis().id, support_apart=bench.length("430 mm"), support_thread="M8")
    bench.job.apply("came", [came])
    put = face_part(bench.job, bench.axis(), new_id)
    xs = [h.x.mm for h in put[1:]]
    assert xs[1] - xs[0] == pytest.approx(430)
    assert {h.thread for h in put[1:]} == {"M8"}


@pytest.mark.parametrize(("wide", "code"), [("11.1 mm", "tongue-too-wide"), ("10.97 mm", "tongue-too-wide"),
                                            ("10.9 mm", "tongue-fits"), ("10.2 mm", "tongue-loose")])  # fmt: skip
def test_a_tongue_is_held_against_the_slot_s_mouth(made, wide, code):
    face = chosen_face(made.job, made.axis())
    sizes = {"mouth": "11 mm", "head": "19 mm", "head_high": "7 mm", "depth": "15 mm"}
    slot = Hole(id=new_id(), member=face.member, what="slot", **{k: made.length(v) for k, v in sizes.items()})
    block = part(made, thickness="35 mm")
    cut = PartCut(id=new_id(), part_id=block.id, cut_kind="tongue", face="back", wide=made.length("50 mm"),
                  high=made.length(wide), deep=made.length("2 mm"))  # fmt: skip
    made.job.apply("tongue", [slot, cut])
    assert code in codes(made, block)
    if wide == "11.1 mm":
        found = next(f for f in mount_result(made.job, block).findings if f.code == code)
        assert "0.15 mm" in found.remedy.text("mm")
        assert "0.006 in" in found.remedy.text("in")


def test_a_chain_of_widths_leaves_the_last_piece_what_the_gap_leaves(made):
    last = part(made, part_kind="bridge", fills="width", width="20 mm", gap="62.4 mm", stock_width="19.5 mm")
    heights = [StackHeight(id=new_id(), part_id=last.id, name=n, height=made.length(h))
               for n, h in (("the bracket", "25.3 mm"), ("the plate", "18.1 mm"))]  # fmt: skip
    made.job.apply("others", heights)
    assert gap_left(made.job, last) == pytest.approx(19.0)
    assert solved_size(made.job, last)[1] == pytest.approx(19.0)
    said = mount_result(made.job, last).instruction.text("mm")
    assert "the bracket takes 25.3 mm and the plate takes 18.1 mm, which leaves 19 mm" in said
    assert "take 0.5 mm off" in said
    made.job.apply("too much", [heights[0].with_(height=made.length("50 mm"))])
    assert "gap-is-full" in codes(made, last)


@pytest.mark.parametrize("kind", ["bridge", "angle", "ring", "standoff"])
def test_every_kind_of_part_has_a_target_for_its_stack(made, kind):
    sizes = {"nose": "30 mm", "outside": "60 mm"} if kind == "ring" else {}
    piece = part(made, part_kind=kind, wanted="40 mm", **sizes)
    made.job.apply("h", [StackHeight(id=new_id(), part_id=piece.id, name="block", height=made.length("28.5 mm"))])
    assert mount_result(made.job, piece).stack.total_mm == pytest.approx(11.5)


def test_a_nut_behind_takes_what_lies_between(made):
    plate = part(made, part_kind="plate", bolts_to="machine", length="120 mm", width="60 mm", thickness="10 mm")
    hole(made, plate, "20 mm", "20 mm", nut="yes", wall="8 mm")
    screw = mount_result(made.job, plate).rows[0].screw
    assert screw.nut
    assert screw.length_mm >= 10 + 8 + 0.8 * 5 + 2 * 0.8
    assert mount_result(made.job, plate).rows[0].joint.joint.grip_mm == pytest.approx(18)


@pytest.mark.parametrize("material", ["sheet", "plastic"])
def test_thin_sheet_and_plastic_take_nuts_and_not_threads(made, material):
    cover = part(made, part_kind="cover", material=material, length="100 mm", width="60 mm", thickness="2 mm")
    hole(made, cover, "20 mm", "20 mm", "tapped")
    assert "thread-in-sheet" in codes(made, cover)


def test_a_place_to_keep_clear_is_kept_clear_of_holes_and_metal(made):
    plate = part(made, part_kind="plate", length="120 mm", width="60 mm")
    hole(made, plate, "40 mm", "30 mm")
    area = {"x": "35 mm", "y": "20 mm", "wide": "20 mm", "high": "20 mm"}
    keep = PartCut(id=new_id(), part_id=plate.id, cut_kind="keep clear", **{k: made.length(v) for k, v in area.items()})
    made.job.apply("drain", [keep])
    assert "kept-clear" in codes(made, plate)
    made.job.apply("away", [made.job.all(DrilledHole)[0].with_(x=made.length("100 mm"))])
    told = next(f for f in mount_result(made.job, plate).findings if f.code == "kept-clear")
    assert "under the metal" in told.what.text()
    made.job.apply("opened", [keep.with_(id=new_id(), cut_kind="opening")])
    assert "kept-clear" not in codes(made, plate)


def test_foam_tape_is_bought_stuck_by_steps_and_lifts_the_body(made):
    block = part(made, thickness="12 mm", length="400 mm", width="30 mm", fixed="foam", tape_wide="25 mm")
    assert stand_off(made.job, made.axis()).value == pytest.approx(13.1)
    bought = {i.what.text(): i.size.text("mm") for i in made_items(made.job, made.axis()) if i.kind == "buy"}
    assert bought["Foam tape for standoff block"] == "400 mm × 25 mm, 1.1 mm thick"
    told = next(f for f in mount_result(made.job, block).findings if f.code == "foam-creeps")
    assert "2.0 kg" in told.what.text()  # 100 cm² at 50 cm² a kilogram
    keys = [s.figures["key"] for s in statements(made.job) if s.kind == "step"]
    at = [keys.index(f"{k}-{block.id}") for k in ("make", "degrease", "press")]
    assert at == sorted(at)
    with pytest.raises(BadInputError, match="no holes"):
        with_usual_holes(made.job, block, "M5", new_id)


def leaning_plate(made):
    plate = part(made, part_kind="plate", bolts_to="machine", length="520 mm", width="80 mm", thickness="15 mm",
                 draft_rise="0.6 mm", draft_over="80 mm")  # fmt: skip
    for x in ("20 mm", "500 mm"):
        for y in ("12 mm", "68 mm"):
            hole(made, plate, x, y, thread="M6")
    first, last = screws(made.job, made.axis()).value
    hole(made, plate, "30 mm", "40 mm", "tapped")
    hole(made, plate, f"{30 + last - first} mm", "40 mm", "tapped")
    return plate


def test_jack_screws_stand_beside_the_outer_bolts_and_go_to_align_by_themselves(made):
    plate = leaning_plate(made)
    assert shims_of(made.job, plate)
    assert "its upper edge stands out" in draft_words(made.job, plate).text()
    made.job.apply("jacks", jack_holes(made.job, plate, "M6", new_id))
    assert shims_of(made.job, plate) == []
    rows = [r for r in mount_result(made.job, plate).rows if r.hole.kind == "jack"]
    xs = sorted({r.hole.x_mm for r in rows})
    assert len(rows) == 4
    assert 20 < xs[0] < 50
    assert xs[1] == pytest.approx(520 - xs[0])
    assert all(r.drill_depth_mm is None for r in rows)
    assert "holes-too-near" not in codes(made, plate)
    jacks = jacks_under(made.job, made.axis())
    first = screws(made.job, made.axis()).value[0]
    assert jacks.left_mm == pytest.approx(xs[0] - 30 + first)
    assert (jacks.rows_mm, jacks.pitch_mm) == (pytest.approx(56), 1.0)
    for plane, by in (("face", "jacks"), ("roll", "jacks"), ("edge", "pivot")):
        sweep = current_sweep(made.job, made.axis(), plane, made.job.info.units, "body")
        setting = setting_in_job(made.job, sweep)
        assert setting.by_on(sweep) == by
        ends = (jacks.left_mm, jacks.right_mm) if by == "jacks" else screws(made.job, made.axis()).value
        assert setting.screws.value == pytest.approx(ends)
        assert (sweep.screw_left.mm, sweep.screw_right.mm) == pytest.approx(ends)
    bought = {i.what.text(): i.size.text() for i in made_items(made.job, made.axis()) if i.kind == "buy"}
    assert bought["Jack screws for backing plate"] == "M6 × 25"  # 15 + 4.8 + 2 at least
