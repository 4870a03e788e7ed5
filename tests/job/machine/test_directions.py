"""Ends have names: of the axis, and of a scale that stands upright."""

import pytest

from vernus.core.finding import AxisEnd, BodySide, Directions, Sentence, directed
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.catalog.shipped import machine_kinds
from vernus.job.document import Job
from vernus.job.machine.directions import directions_of, end_words
from vernus.job.review.review import review_axis


def ends(kind):
    job = Job(new_job_entities("x", kind))
    return {a.name: end_words(job, a) for a in job.axes()}


def test_a_mill_has_left_and_right_front_and_back_bottom_and_top():
    assert ends("bench-mill") == {"X": ("left", "right"), "Y": ("front", "back"), "Z": ("bottom", "top")}
    assert ends("knee-mill-turret")["Z"] == ("top", "bottom"), "a quill counts downward"


def test_a_lathe_has_its_own():
    found = ends("lathe-mid")
    assert found == {"X": ("outer", "inner"), "Z": ("headstock", "tailstock"), "T": ("tailstock", "headstock")}


def test_low_and_high_become_names_and_other_lows_stay():
    words = Directions(("front", "back"))
    inner = Sentence("trip at the {end} end", {"end": AxisEnd("low")})
    said = directed(Sentence("A low figure: stop 3 mm before the {@high} mark, {trip}.", {"trip": inner}), words).text()
    assert said == "A low figure: stop 3 mm before the back mark, trip at the front end."


def test_what_a_user_wrote_is_never_rewritten():
    words = Directions(("bottom", "top"), ("lower", "upper"))
    name = "Bob's high end block, left screw, {@low} mark"
    said = directed(Sentence("{name}: the {side} screw.", {"name": name, "side": BodySide("left")}), words).text()
    assert said == f"{name}: the lower screw."


def test_a_scale_that_stands_has_no_left_screw():
    job = Job(new_job_entities("x", "bench-mill"))
    z = next(a for a in job.axes() if a.name == "Z")
    template = "Keep the {@left} screw tight; ease the {@right} end screw; the left flank stays."
    said = directions_of(job, z).said(template)
    assert said == "Keep the lower screw tight; ease the upper end screw; the left flank stays."


@pytest.mark.parametrize("kind", machine_kinds(), ids=lambda k: k.id)
def test_no_finding_of_an_axis_speaks_of_a_low_or_high_mark(kind):
    job = Job(new_job_entities("x", kind, scope={a.name: ("new", "new") for a in kind.axes}))
    for axis in job.axes():
        review = review_axis(job, axis)
        texts = [t for at in review.findings for t in (at.finding.what.text(), at.finding.remedy.text())]
        for text in (*texts, review.next_step.text()):
            assert not any(word in text for word in ("low mark", "high mark", "low end", "high end")), text
