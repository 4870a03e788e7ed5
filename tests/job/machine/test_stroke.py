"""The line of an axis in a job: metal, what is given up, the scale and the trips of its feed on one line."""

import pytest

from tests.job.conftest import Bench
from vernus.job.entities import PowerFeed, RunOnTest
from vernus.job.feed.trips import stops_result
from vernus.job.known.lengths import spare
from vernus.job.machine.stroke import candidate_stroke, metal_of, stroke_of
from vernus.job.plan.faces import faces_result
from vernus.job.plan.travel_left import envelope_result, stops_of
from vernus.job.review.review import review_job
from vernus.job.review.states import axes_as_json

BEHIND = "behind the table"


@pytest.fixture(params=["mm", "in"])
def behind(request):
    """A scale behind the table of a bench mill, which takes 14 mm of Y at the back."""
    bench = Bench(units=request.param)
    bench.plan(measuring="450 mm", face=BEHIND)
    return bench


def stop(bench, name="Y", end="high"):
    return stroke_of(bench.job, bench.axis(name)).stroke.stop_at(end)


def bumper(bench):
    (found,) = [f for f in envelope_result(bench.job).findings if f.code == "bumper"]
    return found.what.values["length"].mm


def test_giving_up_less_than_metal_takes_moves_neither_stop_nor_bumper(behind):
    assert (stop(behind).before_mark_mm, stop(behind).why, stop(behind).with_) == (14, "metal", "column")
    pillar = bumper(behind)
    behind.change("Y", give_up_high=behind.length("3 mm"))
    assert (stop(behind).before_mark_mm, stop(behind).why) == (14, "metal")
    assert bumper(behind) == pillar


def test_giving_up_more_than_metal_takes_keeps_the_stop_and_lengthens_the_bumper(behind):
    pillar = bumper(behind)
    behind.change("Y", give_up_high=behind.length("20 mm"))
    assert (stop(behind).before_mark_mm, stop(behind).why) == (20, "given up")
    assert bumper(behind) == pytest.approx(pillar + 6), "metal still meets metal first, at the stop that is fitted"
    result = envelope_result(behind.job)
    assert "20 mm before its back mark" in result.instruction.text()
    assert "whole travel" not in result.instruction.text()
    (told,) = [f for f in stroke_of(behind.job, behind.axis("Y")).findings if f.code == "stop-needed"]
    assert "column is met 14 mm before the mark" in told.what.text(), "the other reason is told beside it"


def test_giving_up_never_erases_why_from_the_comparison_of_faces(behind):
    def lost():
        judged = faces_result(behind.job, behind.axis()).judged
        return {j.face.name: j.ranked.costs.lost_mm for j in judged}

    before = lost()
    behind.change("Y", give_up_high=behind.length("27 mm"))
    assert lost() == before
    assert before[BEHIND] == {"Y": 14}


def test_the_stop_stands_on_every_list_once(behind):
    behind.change("Y", give_up_high=behind.length("3 mm"))
    assert [(s.motion, s.need.end) for s in stops_of(behind.job)] == [("Y", "high")]
    found = axes_as_json(behind.job)["Y"]
    assert [(s["end"], s["before_mark_mm"], s["why"]) for s in found["stops"]] == [("high", 14, "metal")]
    assert found["kept_mm"] == [0, 161]
    assert "Table to column, saddle fully back" in found["rests_on"], "the template's column decides it"


def test_trips_of_a_feed_come_before_what_metal_takes(behind):
    behind.travel("Y", "175 mm", "175 mm")
    behind.change("Y", drive="new", lead=behind.length("5 mm"))
    axis = behind.axis("Y")
    feed = PowerFeed(id="f", axis_id=axis.id)
    runs = [
        RunOnTest(id=w, axis_id=axis.id, way=w, speed="rapid", tripped=behind.length("80 mm"),
                  stood=behind.length(f"{80 + 4 * s} mm"))
        for w, s in (("up", 1), ("down", -1))
    ]  # fmt: skip
    behind.job.apply("feed", [feed, *runs])
    stops = stops_result(behind.job, axis, feed)
    assert stops.stroke.trips_mm == pytest.approx((7, 161 - 3 - 4))
    assert "Fit the stops first" in stops.instruction.text()
    late = feed.with_(set_high=behind.length("160 mm"))
    behind.job.apply("late", [late])
    assert "hits-hard-stop" in {f.code for f in stops_result(behind.job, axis, late).findings}


def test_a_scale_that_is_too_short_asks_for_a_stop_where_its_margin_begins(behind):
    behind.travel("X", "380 mm", "380 mm")
    behind.plan(measuring="390 mm", face=BEHIND)
    low, high = (stop(behind, "X", end) for end in ("low", "high"))
    assert {(low.why, high.why), (low.before_mark_mm, high.before_mark_mm)} == {("scale", "scale"), (5, 5)}
    assert spare(behind.job, behind.axis()).value == (5, 5)
    longer = candidate_stroke(behind.job, behind.axis(), _family(behind), 450)
    assert longer.stops == (), "the one under the cursor needs none"


def _family(bench):
    from vernus.job.known.lengths import family_of

    return family_of(bench.job, bench.axis())


def test_where_metal_cannot_be_solved_no_stop_is_the_last_word(behind):
    table = next(b for b in behind.job.entities() if getattr(b, "name", "") == "table")
    behind.job.apply("swap", [table.with_(left=behind.length("300 mm"), right=behind.length("-300 mm"))])
    codes = {f.code: f.severity for f in stroke_of(behind.job, behind.axis("Y")).findings}
    assert codes["metal-unknown"] == "stop"
    assert any(at.finding.code == "machine-wrong" for at in review_job(behind.job))


def test_a_coupled_axis_gets_back_what_another_ones_given_up_travel_frees():
    bench = Bench("knee-mill-universal", scope={"W": ("new", "none")})
    column = next(b for b in bench.job.entities() if getattr(b, "name", "") == "column")
    bench.job.apply("short column", [column.with_(bottom=bench.length(80))])
    bench.plan("X", "glass-standard", 750, BEHIND)
    kept = metal_of(bench.job).result.kept
    tight = [k for k, (a, b) in kept.items() if (a, b) != metal_of(bench.job).envelope.full[k]]
    assert tight in (["Y"], ["W"]), "Y ends early, or the knee stays low"
    other = "W" if tight == ["Y"] else "Y"
    bench.change(other, give_up_high=bench.length(150))
    within = metal_of(bench.job).within
    assert within[tight[0]] == metal_of(bench.job).envelope.full[tight[0]]
    assert metal_of(bench.job).result.kept == kept, "metal itself was solved from mark to mark, as before"
