"""Where body and reader lie: one place, one loss, and what a change of it does said before it is made."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.plan.plan_parts import body_start
from vernus.desktop.demo import demo_source
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job, new_id
from vernus.job.entities import Delivery, DrilledHole, MountPart, ReaderSetting, ScalePlan, TravelSurvey
from vernus.job.fields import LengthEntry
from vernus.job.formats.exchange import read_export
from vernus.job.keep.lists import buying_list
from vernus.job.known.axis_figures import chosen_face, plan_of
from vernus.job.machine.geometry import faces_of
from vernus.job.machine.planned import bulk_of
from vernus.job.machine.stroke import metal_of
from vernus.job.plan.places import place_on_face
from vernus.job.plan.scale import scale_result
from vernus.job.plan.travel_left import envelope_result
from vernus.job.plan.what_if import foretell, what_ifs
from vernus.job.review.review import review_axis
from vernus.job.said import of_axis, statements

DEMOS = [("mill", "Y", "mm"), ("lathe", "Z", "in"), ("mill", "Y", "in"), ("lathe", "Z", "mm")]


def demo(name, axis_name):
    job = Job(read_export(demo_source(name)))
    return job, next(a for a in job.axes() if a.name == axis_name)


def shifted(job, axis, by_mm):
    plan = plan_of(job, axis)
    job.apply("move the body", [plan.with_(shift=LengthEntry(mm=plan.shift.mm + by_mm))])


@pytest.mark.parametrize("name", ["mill", "lathe"])
def test_as_planned_loses_what_the_headline_loses_and_moved_what_it_would_lose(name):
    job = Job(read_export(demo_source(name)))
    for axis in job.axes():
        for what_if in what_ifs(job, axis):
            if what_if.words.text() == "as planned":
                assert what_if.ends_mm == envelope_result(job).ends_lost_mm
    y = next(a for a in job.axes() if a.name in "YZ")
    job.apply("compare", [plan_of(job, y).with_(beside=LengthEntry(mm=23.0))])
    foreseen = what_ifs(job, y)[1]
    assert foreseen.words.text().startswith("23 mm")
    shifted(job, y, 23.0)
    assert what_ifs(job, y)[0].ends_mm == foreseen.ends_mm == envelope_result(job).ends_lost_mm


@pytest.mark.parametrize(("name", "axis_name", "units"), DEMOS)
@pytest.mark.parametrize("by_mm", [-12.7, 9.0, 31.0])
def test_what_a_move_of_the_body_changes_is_said_before_and_so_it_comes(name, axis_name, units, by_mm):
    job, axis = demo(name, axis_name)
    plan = plan_of(job, axis)
    before = bulk_of(job, axis, chosen_face(job, axis))
    said = foretell(job, axis, plan.with_(shift=LengthEntry(mm=by_mm)), units)
    shifted(job, axis, by_mm)
    after = bulk_of(job, axis, chosen_face(job, axis))
    assert after.start_mm - before.start_mm == pytest.approx(by_mm)
    assert after.start_mm + after.reader_at_mm == pytest.approx(before.start_mm + before.reader_at_mm), "it is bolted"
    as_it_is = foretell(job, axis, plan_of(job, axis), units)
    assert as_it_is.endswith("As it is now.")
    assert said.startswith(as_it_is.removesuffix(" As it is now."))


@pytest.mark.parametrize(("units", "shown"), [("mm", ("27.6 mm", "26 mm")), ("in", ("1.087 in", "1.024 in"))])
def test_one_rounding_of_the_spare_wherever_it_is_said(units, shown):
    # 300 measured over 262.4 of travel: 18.8 even; moved 8.8 that is 27.6 and 10, and the stop 16 before the back mark.
    job, axis = demo("mill", "Y")
    shifted(job, axis, -8.8)
    spare = next(s for s in of_axis(job, axis) if s.id.startswith("spare/"))
    assert all(figure in spare.words.text(units) for figure in shown)
    assert foretell(job, axis, plan_of(job, axis), units).startswith(f"Then spare {shown[0]} front, {shown[1]} back")


places = st.floats(-200, 1200)
lengths = st.floats(20, 900)


@given(face=lengths, overall=lengths, reader_at=places, reader=st.floats(15, 120), low=places, wide=lengths)
def test_the_body_lies_as_near_the_middle_as_keeps_its_reader_beside_what_carries_it(
    face, overall, reader_at, reader, low, wide
):
    carried = (low, low + wide)
    start = body_start(face, overall, reader_at, reader, carried)
    middle = (face - overall) / 2
    inside = start + reader_at - reader / 2 >= low - 1e-6 and start + reader_at + reader / 2 <= low + wide + 1e-6
    at_an_end = min(abs(start), abs(start + overall - face)) < 1e-6
    if wide >= reader:
        assert inside or at_an_end, "beside the casting wherever it has the length, and never off its face for it"
        centred = middle + reader_at - reader / 2 >= low and middle + reader_at + reader / 2 <= low + wide
        assert not centred or start == pytest.approx(middle)
    assert body_start(face, overall, reader_at, reader, None) == pytest.approx(middle)


def there(kind, units):
    """A job whose first two axes have a scale already, 20 short of the travel and on a face shorter than it."""
    job = Job(new_job_entities("x", kind, units))
    for axis in job.axes()[:2]:
        face, travel = faces_of(job, axis)[0], axis.usual
        job.apply("there", [
            axis.with_(readout="there"), face.with_(length=LengthEntry(mm=0.7 * travel.mm, text="measured")),
            TravelSurvey(id=new_id(), axis_id=axis.id, division=LengthEntry(mm=0.05), readings=(travel, travel)),
            ScalePlan(id=new_id(), axis_id=axis.id, family="glass-slim", face_id=face.id,
                      measuring=LengthEntry(mm=travel.mm - 20, text="as it is")),
        ])  # fmt: skip
    return job


ADVICE_FOR_NEW = ("order", "buy", "standoff", "carry", "family", "goes on the face", "display")


@pytest.mark.parametrize("kind", ["knee-mill-turret", "lathe-mid", "bench-mill"])
@pytest.mark.parametrize("units", ["mm", "in"])
def test_advice_for_what_is_there_is_about_stops_and_the_reader(kind, units):
    job = there(kind, units)
    for axis in job.axes()[:2]:
        told = [f.finding.remedy.text(units) for f in review_axis(job, axis).findings if f.finding.severity != "info"]
        said = [s.words.text(units) for s in of_axis(job, axis) if s.kind in ("scale", "face", "body", "place")]
        assert any("Fit stops before it ends" in t for t in told)
        assert any("Its reader's middle stands" in t for t in said)
        assert not [t for t in (*told, *said) for word in ADVICE_FOR_NEW if word in t.lower()]
    bought = [i for i in buying_list(job) if i.axis in {a.name for a in job.axes()[:2]}]
    assert {i.kind for i in bought} <= {"make"}
    assert all(i.what.text().startswith("Stop") for i in bought)


@pytest.mark.parametrize(("units", "long"), [("mm", "700"), ("in", "28 in")])
def test_what_is_carried_by_a_made_part_is_as_long_as_that_part(units, long):
    job = Job(new_job_entities("x", "bench-mill", units))
    axis, face = job.axes()[0], faces_of(job, job.axes()[0])[0]
    job.apply("plan", [
        TravelSurvey(id=new_id(), axis_id=axis.id, division=LengthEntry(mm=0.05), readings=(axis.usual, axis.usual)),
        ScalePlan(id=new_id(), axis_id=axis.id, family="glass-slim", face_id=face.id, measuring=LengthEntry(mm=450)),
        face.with_(length=LengthEntry(mm=400, text="400")),
    ])  # fmt: skip
    assert "longer-than-face" in {f.code for f in scale_result(job, axis).findings}
    assert any("carry it" in i.what.text() for i in buying_list(job))
    plate = MountPart(id=new_id(), axis_id=axis.id, part_kind="plate", carries="body", length=LengthEntry.read(long))
    job.apply("plate", [plate])
    assert "longer-than-face" not in {f.code for f in scale_result(job, axis).findings}
    assert place_on_face(job, axis).overhang_mm == 0
    assert not any("carry it" in i.what.text() for i in buying_list(job))
    job.apply("shorter", [plate.with_(length=LengthEntry(mm=500, text="500"))])
    found = next(f for f in scale_result(job, axis).findings if f.code == "longer-than-face")
    assert found.what.values["face"].mm == 500


@pytest.mark.parametrize(
    ("units", "said"), [("mm", "0.020 mm too much over 300 mm: 67 ppm"), ("in", "too much over 11.811 in: 67 ppm")]
)
def test_what_is_there_is_told_with_its_sizes_and_its_last_check(units, said):
    job = there("knee-mill-turret", units)
    axis = job.axes()[0]
    plan = plan_of(job, axis)
    job.apply("last check", [
        plan.with_(checked_on="2024-05-31", checked_off=LengthEntry(mm=0.02), checked_over=LengthEntry(mm=300)),
        Delivery(id=new_id(), axis_id=axis.id, overall=LengthEntry(mm=750, text="750")),
        ReaderSetting(id=new_id(), axis_id=axis.id, spare_low=LengthEntry(mm=5, text="5")),
    ])  # fmt: skip
    result = scale_result(job, axis)
    found = next(f for f in result.findings if f.code == "old-check")
    assert said in found.what.text(units)
    assert "2024-05-31" in found.what.text(units)
    assert (result.body_mm, result.placement.spare_mm[0]) == (750, pytest.approx(5 + result.placement.stops_mm[0]))


def test_a_plate_over_old_holes_says_how_high_the_body_lies_and_the_face_doesn_t():
    job = Job(new_job_entities("x", "bench-mill"))
    axis, face = job.axes()[0], faces_of(job, job.axes()[0])[0]
    job.apply("plan", [
        TravelSurvey(id=new_id(), axis_id=axis.id, division=LengthEntry(mm=0.05), readings=(axis.usual, axis.usual)),
        ScalePlan(id=new_id(), axis_id=axis.id, family="glass-slim", face_id=face.id, measuring=LengthEntry(mm=450)),
    ])  # fmt: skip
    body = next(s for s in of_axis(job, axis) if s.kind == "body")
    assert body.figures["across_on"] == "table"
    plate = MountPart(id=new_id(), axis_id=axis.id, part_kind="plate", carries="body", bolts_to="machine")
    job.apply("plate", [plate, DrilledHole(id=new_id(), part_id=plate.id, over="an old hole")])
    body = next(s for s in of_axis(job, axis) if s.kind == "body")
    assert body.figures["across_mm"] is None
    assert "below the top" not in body.words.text()


@pytest.mark.parametrize("units", ["mm", "in"])
def test_a_bracket_too_long_is_told_by_how_much_and_obeying_it_clears(units):
    """A bracket that meets metal with every axis at home: what comes off it is said, and cut so it is clear."""
    job = Job(new_job_entities("x", "bench-mill", units=units, scope={"X": ("new", "none")}))
    axis = job.axes()[0]
    face = next(f for f in faces_of(job, axis) if f.name == "behind the table")
    plan = ScalePlan(id="plan", axis_id=axis.id, family="glass-slim", face_id=face.id)
    long = {k: LengthEntry.read(v, "mm") for k, v in (("length", "120"), ("width", "75"), ("thickness", "10"))}
    part = MountPart(id="bracket", axis_id=axis.id, part_kind="angle", carries="reader", name="angle", **long)
    job.apply("a bracket", [plan, part])
    said = [s for s in statements(job) if s.kind == "take_off"]
    assert [s.figures["part"] for s in said] == ["angle"]
    job.apply("sawn", [part.with_(width=LengthEntry.read(f"{said[0].figures['to_mm']} mm", units))])
    assert not [s for s in statements(job) if s.kind == "take_off"]
    assert metal_of(job).result.kept is not None
