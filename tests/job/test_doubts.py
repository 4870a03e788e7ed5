"""What is asked about by what the job knows: sequences, gaps, kit holes, what is given up, places that are swapped."""

import pytest

from vernus.core.doubt import doubt_length
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job
from vernus.job.doubts import (
    doubt_swapped,
    gap_yardstick,
    reading_yardstick,
    target_yardstick,
    yardstick,
)
from vernus.job.entities import ENTITY_TYPES, Axis, PowerFeed, ReaderSetting, Reading, ScalePlan, Sweep, TravelSurvey
from vernus.job.fields import LengthEntry, quantities


@pytest.fixture
def job():
    """A bench mill, nothing measured on it but the travel of X."""
    made = Job(new_job_entities("A job", "bench-mill", "mm", "Our mill", {}))
    axis = made.axes()[0]
    made.apply(
        "travel",
        [TravelSurvey(id="t", axis_id=axis.id, tool="tape", division=at("1"), readings=(at("91.7"), at("91.7")))],
    )
    return made


def at(text, unit="mm"):
    return LengthEntry.read(text, unit)


def meant(text, unit, stick):
    """What is proposed for a text, "" where it is asked about without one, None where nobody asks."""
    asked = doubt_length(text, unit, stick)
    return None if asked is None else asked.instead


@pytest.mark.parametrize(("unit", "before", "text", "wanted"), [
    ("thou", ("10.5", "10.8", "11.0"), "110", "11 thou"),
    ("mm", ("0.10", "0.11", "0.12"), "1.3", "0.13 mm"),
    ("mm", ("0.10", "0.11", "0.12"), "0.14", None),
    ("mm", ("0", "-0.05", "-0.10", "-0.15"), "-0.2", None),
    ("mm", ("0", "0", "0"), "0.05", None),
    ("mm", ("0.10", "0.11"), "1.3", None),
])  # fmt: skip
def test_a_point_that_slipped_inside_a_sequence(unit, before, text, wanted):
    division = at("0.5 thou" if unit == "thou" else "0.01")
    readings = tuple(Reading(station=at(str(50 * n)), reading=at(r, unit)) for n, r in enumerate(before))
    sweep = Sweep(id="s", axis_id="a", division=division, readings=readings)
    assert meant(text, unit, reading_yardstick(sweep)) == wanted


def test_inches_in_a_gap_of_millimetres(job):
    axis = job.axes()[0]
    put = ScalePlan(id="p", axis_id=axis.id, family="glass-standard", measuring=at("100"))
    setting = ReaderSetting(id="r", axis_id=axis.id, gap_least=at("0.5"), gap_most=at("0.7"))
    job.apply("plan", [put, setting])
    stick = gap_yardstick(job, axis)
    assert meant("0.024", "mm", stick) == "0.024 in"
    assert [meant(text, "mm", stick) for text in ("0.1", "0.55", "1.2")] == [None, None, None]
    assert not stick.can_be(0.0)


@pytest.mark.parametrize(("text", "unit", "wanted"), [
    ("500", "in", "500 thou"), ("8", "mm", None), ("0.3", "in", None),
])  # fmt: skip
def test_what_is_given_up_is_part_of_the_travel(job, text, unit, wanted):
    axis = job.axes()[0]
    stick = yardstick(job, axis, quantities(Axis)["give_up_low"])
    assert meant(text, unit, stick) == wanted


def test_holes_of_the_kit_go_over_those_of_the_machine():
    feed = PowerFeed(id="f", axis_id="a", hole_across=at("64"))
    job = Job(new_job_entities("A job", "bench-mill", "mm", "Our mill", {}))
    stick = yardstick(job, feed, quantities(PowerFeed)["kit_across"])
    assert meant("2.5", "mm", stick) == "2.5 in"
    assert meant("640", "mm", stick) == "64 mm"
    assert meant("63.2", "mm", stick) is None


@pytest.mark.parametrize(("entity", "field", "text", "asked"), [
    (Sweep(id="s", axis_id="a", screw_left=LengthEntry.read("390")), "screw_right", "10", True),
    (Sweep(id="s", axis_id="a", screw_left=LengthEntry.read("10")), "screw_right", "390", False),
    (Sweep(id="s", axis_id="a"), "screw_right", "10", False),
    (PowerFeed(id="f", axis_id="a", set_high=LengthEntry.read("20")), "set_low", "180", True),
    (ReaderSetting(id="r", axis_id="a", gap_least=LengthEntry.read("0.7")), "gap_most", "0.5", True),
])  # fmt: skip
def test_places_in_swapped_fields_are_put_right_by_one_key(entity, field, text, asked):
    found = doubt_swapped(entity, field, LengthEntry.read(text))
    assert (found is not None) == asked
    if found is not None:
        doubt, both = found
        assert "swapped" in doubt.what.text("mm")
        low, high = both.values()
        assert low.mm <= high.mm


def test_what_a_display_shows_is_about_where_it_was_driven():
    stick = target_yardstick(150.0)
    assert meant("15.002", "mm", stick) == "150.02 mm"
    assert meant("150.002", "mm", stick) is None
    assert meant("0.002", "mm", target_yardstick(0.0)) is None


def test_what_cannot_be_is_not_offered_to_be_kept(job):
    axis = job.axes()[0]
    stick = yardstick(
        job, TravelSurvey(id="n", axis_id=axis.id, tool="tape", division=at("1")), quantities(TravelSurvey)["readings"]
    )
    asked = doubt_length("-145", "mm", stick)
    assert asked is not None
    assert not asked.may_stay
    assert asked.typed("-145") == "-145 mm"


USUAL_MM = {
    "thick": (3, 6, 8, 12, 20), "off": (6, 12, 25, 40), "section": (8, 14, 23, 50), "slack": (3, 5, 8),
    "run on": (5, 8, 12), "deep": (8, 12, 20, 40), "slot": (6, 10, 14, 18),
}  # fmt: skip
"""What such figures usually are; common practice, no source."""


@pytest.mark.parametrize(("kind", "field"), [
    (kind, name) for kind, model in ENTITY_TYPES.items() for name, q in quantities(model).items()
    if q.judged in USUAL_MM
])  # fmt: skip
def test_millimetres_typed_into_an_inch_field_are_asked_about_and_what_is_usual_is_not(job, kind, field):
    quantity = quantities(ENTITY_TYPES[kind])[field]
    stick = yardstick(job, None, quantity)
    for mm in USUAL_MM[quantity.judged]:
        assert meant(f"{mm}", "in", stick) is not None, mm
        assert meant(f"{mm}", "mm", stick) is None, mm
        assert meant(f"{mm / 25.4:.3f}", "in", stick) is None, mm
