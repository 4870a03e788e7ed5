"""What the report and the wall sheet say of connecting, proving and the feed, in both unit systems."""

import math

import pytest

from vernus.desktop.demo import demo_source
from vernus.job.document import Job, new_id
from vernus.job.entities import Axis, CalibrationRun, Check, PowerFeed, ProfileSetting
from vernus.job.fields import LengthEntry
from vernus.job.formats.exchange import read_export
from vernus.job.prove.calibrate.edits import axis_setting, key_in
from vernus.job.prove.keyed import keyed_words
from vernus.paper.page import Picture, Row, Words
from vernus.paper.pages.feed.feed import feed_blocks
from vernus.paper.pages.prove.proof import proof_blocks, wall_blocks


def mm(text):
    return LengthEntry.read(str(text))


@pytest.fixture
def job():
    return Job(read_export(demo_source("mill")))


def axis_named(job, name):
    return next(a for a in job.all(Axis) if a.name == name)


def told(blocks):
    """Everything the blocks say, and how many pictures are among them."""
    blocks = list(blocks)
    words = [b.text for b in blocks if isinstance(b, Words)]
    words += [" | ".join(b.cells) for b in blocks if isinstance(b, Row)]
    return "\n".join(words), sum(isinstance(b, Picture) for b in blocks)


def test_the_proof_of_a_finished_axis_is_told_with_its_pictures(job):
    text, pictures = told(proof_blocks(job, axis_named(job, "X"), "mm"))
    assert pictures == 2, "the last calibration and one positioning run"
    longest = math.hypot(209, 170 + 262.4 / 2, 2)  # between the clips, and half the travel of Y
    for words in (
        f"clip behind the saddle to clip on the knee | {longest:.2f} mm | Y at its front end",
        "+5 V | brown | 2 | 2",
        "Good. This axis is good",
        "the gauge blocks | rectangular | 1.26 µm",
        "accuracy A 0.019 mm",
        "Scale at 19 °C, reference at 19 °C, each ± 0.5 °C.",
        "inside the ± 21 ppm of both",
    ):
        assert words in text


def test_the_same_pages_read_in_inches(job):
    text, _ = told(proof_blocks(job, axis_named(job, "X"), "in"))
    assert "clip behind the saddle to clip on the knee | 14.434 in | Y at its front end" in text
    assert "accuracy A 0.7 thou" in text
    text, pictures = told(feed_blocks(job, axis_named(job, "X"), "in"))
    assert "Make a coupler 2.148 in long: bored 0.7087 in" in text
    assert pictures == 1, "the chain; the stops are on the line of the axis, what is made has its own drawings"


def test_an_axis_without_anything_says_what_is_open_and_one_without_a_feed_has_no_feed(job):
    text, pictures = told(proof_blocks(job, axis_named(job, "W"), "mm"))
    assert text.startswith("First power-up\nNot finished.")
    assert "Move a known distance of at least" in text
    assert pictures == 0
    assert told(feed_blocks(job, axis_named(job, "W"), "mm")) == ("", 0)


def test_a_keyed_table_hangs_on_the_wall_point_by_point(job):
    axis = axis_named(job, "Y")
    profile = job.all(ProfileSetting)[0]
    job.apply("display", [profile.with_(points=4.0, step=mm("0.001"))])
    checks = tuple(Check(true=mm(t), shown=mm(f"{t + 0.05 * t * (250 - t) / 15625:.3f}")) for t in range(0, 251, 50))
    run = CalibrationRun(id=new_id(), axis_id=axis.id, method="table", per="mm", checks=checks, step=mm("0.001"))
    (run,) = job.apply("run", [run])
    keyed = job.apply("keyed", key_in(job, run))[0]
    assert keyed_words(job, keyed).text("mm") == "table of 4 points"
    text, _ = told(wall_blocks(job, job.axes(), "mm"))
    assert "Table of 4 points, keyed in" in text
    assert "Point | At | Correction" in text
    assert f"4 | {keyed.knots[-1].at_mm:g} mm" in text
    assert "200 counts per mm, keyed in 2026-10-10" in text
    assert "Not calibrated yet" in text, "W was never checked"


def test_a_display_that_was_only_checked_is_told_as_it_came(job):
    axis = axis_named(job, "W")
    run = CalibrationRun(id=new_id(), axis_id=axis.id, per="in", checks=(Check(true=mm(300), shown=mm(300)),))
    job.apply("run", [run])
    text, _ = told(wall_blocks(job, [axis], "in"))
    assert "200 counts per mm (assumed: nobody said)" in text
    assert "as it came" not in text
    assert "W shows the true move (assumed: nobody said)" in text
    assert "against a reference not named" in text


@pytest.mark.parametrize("units", ["mm", "in"])
def test_the_wall_says_what_the_display_takes_and_shows(job, units):
    axis = axis_named(job, "W")
    profile = job.all(ProfileSetting)[0]
    setting = axis_setting(job, axis, new_id()).with_(shows="diameter", counts=200.0, per="mm", resolution=mm("0.005"))
    job.apply("display", [profile.with_(factor="pair"), setting])
    checks = tuple(Check(true=mm(t), shown=mm(s)) for t, s in (("0", "0"), ("150", "300.3"), ("300", "600.6")))
    run = CalibrationRun(id=new_id(), axis_id=axis.id, method="factor", per="mm", checks=checks, shows="diameter")
    (run,) = job.apply("run", [run])
    job.apply("keyed", key_in(job, run))
    for blocks in (wall_blocks(job, [axis], units), proof_blocks(job, axis, units)):
        text, _ = told(blocks)
        assert "W shows twice the move (diameter)" in text
    text, _ = told(wall_blocks(job, [axis], units))
    pair = "True 300 mm, shown 300.300 mm" if units == "mm" else "True 11.811 in, shown 11.82283 in"
    assert pair in text
    assert "actor" not in text, "the display takes no factor"
    assert "assumed" not in text


def test_every_figure_of_the_kit_is_on_paper_with_its_unit(job):
    axis = next(a for a in job.axes() if a.drive != "none")
    feed = job.of_axis(PowerFeed, axis.id)[-1]
    job.apply("feed", [feed.with_(gear_teeth=61.0, unit_teeth=17.0)])
    for units in ("mm", "in"):
        text, _ = told(feed_blocks(job, axis, units))
        assert "Drive gear, teeth | 61" in text
        assert "Unit's gear, teeth | 17" in text
        rows = text[text.index("Measured on kit") :]
        assert f"{job.of_axis(PowerFeed, axis.id)[-1].shaft.shown(units)} {units}" in rows
