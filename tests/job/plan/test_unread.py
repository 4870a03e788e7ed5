"""A zone that is driven through but not read, such as where a tailstock quill ejects its arbor: no stop goes there."""

import pytest

from tests.job.conftest import Bench
from vernus.core.machine.stroke import solve_stroke
from vernus.job.keep.lists import buying_list
from vernus.job.machine.stroke import stroke_of
from vernus.job.machine.travel import travel_result
from vernus.job.plan.scale import scale_result
from vernus.job.plan.travel_left import stops_of


@pytest.fixture(params=["mm", "in"])
def lathe(request):
    made = Bench("lathe-mid", units=request.param, scope={"T": ("own", "none")})
    made.travel("T", "91.7 mm", "91.7 mm", "91.7 mm")
    return made


def ejecting(lathe, how, measuring):
    end = "low" if stroke_ends(lathe)[0] == "tailstock" else "high"
    lathe.change("T", **{f"give_up_{end}": lathe.length("12.7 mm"), f"give_up_{end}_how": how})
    lathe.plan("T", family="beam", measuring=measuring)
    return lathe.axis("T"), end


def stroke_ends(lathe):
    from vernus.job.machine.directions import end_words

    return end_words(lathe.job, lathe.axis("T"))


def test_given_up_with_a_stop_asks_for_the_stop_and_driven_through_for_none(lathe):
    axis, end = ejecting(lathe, "stop", "100 mm")
    assert [s.need.end for s in stops_of(lathe.job)] == [end]
    assert any("Stop at the tailstock end" in i.what.text() for i in buying_list(lathe.job))
    axis, _ = ejecting(lathe, "driven", "100 mm")
    assert stops_of(lathe.job) == []
    assert not any("Stop at" in i.what.text() for i in buying_list(lathe.job))
    told = {f.code: f for f in travel_result(lathe.job, axis).findings}
    assert "12.7 mm" in told["driven-unread"].what.text("mm")
    assert "0.5 in" in told["driven-unread"].what.text("in")


def test_the_scale_bears_the_whole_travel(lathe):
    axis, _ = ejecting(lathe, "driven", "100 mm")
    result = scale_result(lathe.job, axis)
    assert result.travel_mm == pytest.approx(91.7)
    beam = next(c for c in result.choices if c.family.id == "beam")
    assert beam.measuring_mm >= 91.7
    line = stroke_of(lathe.job, axis).stroke
    assert line.scale_mm[0] <= 0
    assert line.scale_mm[1] >= 91.7
    assert not [f for f in result.findings if f.severity == "stop"]


def test_a_beam_too_short_for_it_is_a_stop_and_no_stop_on_the_way_is_proposed(lathe):
    axis, end = ejecting(lathe, "driven", "85 mm")
    found = {f.code: f.severity for f in scale_result(lathe.job, axis).findings}
    assert "stop" in found.values()
    assert "driven-off-the-scale" in found
    assert end not in {s.need.end for s in stops_of(lathe.job)}


def test_the_line_by_itself():
    line = solve_stroke(90, unread_mm=(0, 12), scale_mm=(-5, 80), margin_mm=(0, 0))
    assert line.stops == ()
    assert line.kept_mm == (0, 90)
    codes = {f.code: f.severity for f in line.findings}
    assert codes == {"driven-unread": "info", "driven-off-the-scale": "stop"}
    assert solve_stroke(90, unread_mm=(0, 12), scale_mm=(-5, 95)).findings[0].code == "driven-unread"
