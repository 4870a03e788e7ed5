"""One figure, one source: what was measured or delivered decides everywhere, and choosing overwrites nothing typed."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.job.conftest import Bench
from vernus.core.errors import BadInputError
from vernus.job.align.edits import current_sweep, with_reading
from vernus.job.align.passes import next_to_read, result_in_job
from vernus.job.document import new_id
from vernus.job.entities import (
    AxisSetting,
    CalibrationRun,
    Check,
    Compensation,
    Delivery,
    Face,
    MountPart,
    PowerUpCheck,
    ReaderSetting,
)
from vernus.job.keep.lists import buying_list
from vernus.job.known.axis_figures import accuracy, travel
from vernus.job.known.display import count
from vernus.job.known.lengths import (
    body_length,
    cable_length,
    carrier,
    face_length,
    first_hole,
    measuring_length,
    reader_length,
    screws,
    spare,
    stand_off,
    substance,
)
from vernus.job.known.stored import store_of
from vernus.job.machine.planned import planned_parts
from vernus.job.make.mounts import mount_result
from vernus.job.make.new_parts import face_part
from vernus.job.make.parts import holes_of
from vernus.job.plan.places import place_on_face
from vernus.job.plan.scale import scale_result
from vernus.job.prove.calibrate.result import calibration_result
from vernus.job.prove.recheck import history_of

BEHIND = "behind the table"


@pytest.fixture
def planned(bench):
    bench.travel("X", 380, 380)
    bench.plan(face=BEHIND)
    return bench


def came(bench, **figures):
    put = Delivery(id="d", axis_id=bench.axis().id, **{k: bench.length(v) for k, v in figures.items()})
    bench.job.apply("came", [put])


@pytest.mark.parametrize("units", ["mm", "in"])
def test_a_face_length_typed_on_scale_survives_the_choice_of_a_face(units):
    bench = Bench(units=units)
    bench.travel("X", 15, 15) if units == "in" else bench.travel("X", 380, 380)
    typed = "21 1/4" if units == "in" else "540"
    bench.plan(measuring="450 mm", face=BEHIND)
    template = face_length(bench.job, bench.axis())
    assert (template.source, template.is_given) == ("template", False)
    bench.plan(measuring="450 mm", face="") and None
    entity, field = store_of(bench.job, bench.axis(), "face", new_id())
    assert (type(entity), field) == (Face, "length"), "the face chosen keeps its own length"
    bench.job.apply("typed", [entity.with_(length=bench.length(typed))])
    bench.plan(measuring="450 mm", face=BEHIND)
    known = face_length(bench.job, bench.axis())
    assert (known.source, known.value) == ("typed", bench.length(typed).mm)
    lies = place_on_face(bench.job, bench.axis())
    assert lies.start_mm + lies.end_mm == pytest.approx(known.value), "the body lies in the middle of that length"


def test_a_face_length_typed_before_any_face_was_chosen_is_not_replaced_by_the_templates(bench):
    bench.travel("X", 380, 380)
    bench.plan()
    entity, field = store_of(bench.job, bench.axis(), "face", new_id())
    bench.job.apply("typed", [entity.with_(**{field: bench.length(540)})])
    bench.plan(face=BEHIND)
    assert (face_length(bench.job, bench.axis()).value, face_length(bench.job, bench.axis()).source) == (540, "typed")
    lies = place_on_face(bench.job, bench.axis())
    assert lies.overhang_mm == pytest.approx((550 - 540) / 2)


def test_what_was_delivered_decides_on_every_sheet_and_page(planned):
    axis = planned.axis()
    swept = current_sweep(planned.job, axis, "face", "mm")
    for n in range(len(swept.stations)):
        swept = with_reading(swept, next_to_read(swept), planned.length(f"{n / 10}"))
    planned.job.apply("sweep", [swept])
    part = face_part(planned.job, axis, new_id)
    planned.job.apply("face", part)
    assert "screws-proposed" in {f.code for f in result_in_job(planned.job, swept).findings}
    came(planned, overall=556, hole_from_end=11, reader=84)
    assert (body_length(planned.job, axis).value, first_hole(planned.job, axis).source) == (556, "delivered")
    assert screws(planned.job, axis).value == (11, 545)
    result = result_in_job(planned.job, planned.job.all(type(swept))[0])
    assert "screws-proposed" not in {f.code for f in result.findings}, "the holes that came are where its screws are"
    assert {result.correction.hold_mm, result.correction.move_mm} == {11, 545}
    lies = place_on_face(planned.job, axis)
    holes = [h.x.mm for h in holes_of(planned.job, part[0])]
    assert holes == [lies.first_hole_mm, lies.last_hole_mm], "a part already made from the face follows"
    assert lies.last_hole_mm - lies.first_hole_mm == pytest.approx(534)
    assert mount_result(planned.job, part[0]).rows[0].hole.x_mm == lies.first_hole_mm
    assert reader_length(planned.job, axis).value == scale_result(planned.job, axis).family.reader_mm == 84


def test_a_hole_somebody_typed_follows_nothing_any_more(planned):
    part = face_part(planned.job, planned.axis(), new_id)
    planned.job.apply("face", part)
    first = holes_of(planned.job, part[0])[0]
    planned.job.apply("typed", [first.with_(x=planned.length(60))])
    came(planned, overall=556, hole_from_end=11)
    assert next(h.x.mm for h in holes_of(planned.job, part[0])) == 60


def test_what_is_typed_after_the_delivery_counts_as_measured(planned):
    axis = planned.axis()
    came(planned, measuring=455, cable=3000)
    assert measuring_length(planned.job, axis).source == cable_length(planned.job, axis).source == "delivered"
    for figure, mm in (("measuring", 452), ("cable", 2900)):
        entity, field = store_of(planned.job, axis, figure, new_id())
        assert isinstance(entity, Delivery)
        planned.job.apply("typed", [entity.with_(**{field: planned.length(mm)})])
    assert (measuring_length(planned.job, axis).value, cable_length(planned.job, axis).value) == (452, 2900)


def test_moving_the_body_changes_spare_and_picture(planned):
    def reader_gap():
        face = next(f for f in planned.job.all(Face) if f.name == BEHIND)
        body, reader = planned_parts(planned.job, planned.axis(), face)[:2]
        return body.min_mm[0], reader.min_mm[0]

    body, reader = reader_gap()
    assert spare(planned.job, planned.axis()).value == (35, 35)
    planned.plan(face=BEHIND, shift=planned.length(12))
    moved, stays = reader_gap()
    assert (abs(moved - body), stays) == (12, pytest.approx(reader)), "the reader stays where its member holds it"
    assert sorted(spare(planned.job, planned.axis()).value) == [23, 47]


@pytest.mark.parametrize("end", ["low", "high"])
def test_the_spare_wanted_at_one_end_makes_the_readers_place_a_figure(planned, end):
    planned.plan(face=BEHIND, spare_at=end, spare=planned.length(9))
    low, high = spare(planned.job, planned.axis()).value
    assert (low if end == "low" else high, low + high) == (9, 70)
    result = scale_result(planned.job, planned.axis())
    assert "±" not in result.instruction.text()
    assert "margin-thin" not in {f.code for f in result.findings}, "less than the margin was asked for on purpose"
    assert abs(result.placement.reader_at_mm - 275) == pytest.approx(26)


def test_spare_measured_once_the_reader_is_set_goes_before_the_plan(planned):
    planned.plan(face=BEHIND, spare_at="low", spare=planned.length(9))
    put = ReaderSetting(id="r", axis_id=planned.axis().id, spare_low=planned.length(14))
    planned.job.apply("set", [put])
    known = spare(planned.job, planned.axis())
    assert (known.value, known.source) == ((14, 56), "measured")


def test_a_tape_is_never_bought_shorter_than_the_length_chosen():
    bench = Bench()
    bench.travel("X", 380, 380)
    bench.plan(family="thin-housing", measuring=520)
    (line,) = [i for i in buying_list(bench.job) if i.what.text() == "Magnetic, thin housing"]
    assert "520 mm; buy 600 mm and cut it" in line.detail.text()


def test_parts_made_on_mounts_reach_the_order_and_the_envelope(planned):
    face = next(f for f in planned.job.all(Face) if f.name == BEHIND)
    near = planned_parts(planned.job, planned.axis(), face)[0].min_mm[1]
    block = MountPart(id="p", axis_id=planned.axis().id, name="left block", thickness=planned.length(17))
    planned.job.apply("part", [block])
    boxes = planned_parts(planned.job, planned.axis(), face)
    assert boxes[0].min_mm[1] == near + 17
    assert {"X scale left block", "X scale right block"} <= {b.name for b in boxes}
    assert (stand_off(planned.job, planned.axis()).value, stand_off(planned.job, planned.axis()).source) == (
        17, "measured",
    )  # fmt: skip
    made = [i.what.text() for i in buying_list(planned.job) if (i.kind, i.axis) == ("make", "X")]
    assert ("left block" in made, "Bracket and standoffs" in made) == (True, False)


def check(bench, name, true, shown, **more):
    axis = bench.axis(name)
    checks = (Check(true=bench.length(true), shown=bench.length(shown)),)
    run = CalibrationRun(id=new_id(), axis_id=axis.id, set_counts=200, per="mm", checks=checks, **more)
    bench.job.apply("check", [run])
    return bench.job.of_axis(CalibrationRun, axis.id)[-1]


@pytest.mark.parametrize("first", ["said", "read"])
def test_diameter_said_before_or_after_the_check_comes_to_the_same(first):
    bench = Bench("lathe-small")
    said = AxisSetting(id="s", axis_id=bench.axis("X").id, shows="diameter")
    steps = [lambda: bench.job.apply("set", [said]), lambda: check(bench, "X", 50, 100)]
    for step in steps if first == "said" else reversed(steps):
        step()
    (run,) = bench.job.of_axis(CalibrationRun, bench.axis("X").id)
    result = calibration_result(bench.job, run)
    assert (result.error_mm, [f.severity for f in result.findings if f.severity == "stop"]) == (pytest.approx(0), [])


def test_diameter_on_one_axis_leaves_the_others_and_the_history_alone():
    bench = Bench("lathe-small")
    run_x, run_z = check(bench, "X", 50, 50, shows="radius"), check(bench, "Z", 100, 100)
    before = [calibration_result(bench.job, r).error_mm for r in (run_x, run_z)]
    bench.job.apply("set", [AxisSetting(id="s", axis_id=bench.axis("X").id, shows="diameter")])
    assert [calibration_result(bench.job, r).error_mm for r in (run_x, run_z)] == before == [0, 0]
    now = check(bench, "X", 50, 100, shows="diameter")
    assert calibration_result(bench.job, now).error_mm == pytest.approx(0)
    assert len(history_of(bench.job, bench.axis("X"))) == 2


def test_a_proof_is_judged_by_the_count_that_is_set(bench):
    axis = bench.axis()
    assert (count(bench.job, axis).value, count(bench.job, axis).source) == (0.005, "default")
    seen = PowerUpCheck(id="p", axis_id=axis.id, low=bench.length(0), high=bench.length("0.005"))
    bench.job.apply("first", [seen])
    bench.job.apply("set", [AxisSetting(id="s", axis_id=axis.id, counts=1000, per="mm")])
    assert (count(bench.job, axis).value, count(bench.job, axis).is_given) == (0.001, True)
    from vernus.job.connect.powerup import powerup_result

    assert powerup_result(bench.job, axis).still_mm == pytest.approx(0.0025), "a quarter of 0.01; two counts are less"
    assert powerup_result(bench.job, axis).verdict == "fail", "five counts, not one"
    keyed = Compensation(id="c", axis_id=axis.id, run_id="r", method="counts", value=25400 / 10, per="in")
    bench.job.apply("keyed", [keyed])
    assert count(bench.job, axis).value == pytest.approx(0.01), "what was keyed last is set"


def test_drift_is_judged_against_the_count_set_not_a_default(bench):
    check(bench, "X", 100, 100)
    (kept,) = history_of(bench.job, bench.axis())
    assert kept.proof.ppm == pytest.approx(0)
    other = Bench()
    axis = other.axis()
    checks = (Check(true=other.length(100), shown=other.length(100)),)
    other.job.apply("check", [CalibrationRun(id="r", axis_id=axis.id, set_counts=1000, per="mm", checks=checks)])
    assert history_of(other.job, axis)[0].proof.ppm == pytest.approx(0), "1000 per mm is not 400 % off"


def test_sources_are_told_and_what_nobody_measured_is_not_sure(bench):
    axis = bench.axis()
    assert (travel(bench.job, axis).source, travel(bench.job, axis).is_given) == ("template", False)
    assert accuracy(axis).source == "default"
    bench.travel("X", 380)
    assert travel(bench.job, axis).source == "measured"
    bench.plan(family="tape", measuring=440)
    assert substance(bench.job, bench.axis()).value == "cast-iron", "a tape expands like what it is stuck to"
    assert carrier(bench.job, bench.axis()).value == "moving"


@given(
    st.floats(1, 900), st.floats(1, 900), st.sampled_from(["measuring", "overall", "reader", "hole_from_end", "cable"])
)
def test_a_delivered_figure_is_the_one_that_every_reader_gets(first, second, name):
    bench = Bench()
    bench.travel("X", 380, 380)
    bench.plan(measuring=450, face=BEHIND)
    figures = {"measuring": measuring_length, "overall": body_length, "reader": reader_length,
               "hole_from_end": first_hole, "cable": cable_length}  # fmt: skip
    for mm in (first, second):
        came(bench, **{name: f"{mm:.3f}"})
        known = figures[name](bench.job, bench.axis())
        if name == "overall" and round(mm, 3) < 450:
            assert known.source != "delivered", "a body shorter than it measures can't be"
        else:
            assert (known.source, known.value) == ("delivered", pytest.approx(round(mm, 3)))
        try:
            scale_result(bench.job, bench.axis())
        except BadInputError:
            pytest.fail("a figure that was entered is told, never thrown")
