"""The drawings: scales, ticks and places, read back from what a painter was asked to do."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import QPointF, QRectF

from vernus.core.align.sweep import Indicator, analyse_sweep, correct
from vernus.core.machine.envelope import Box, Envelope, EnvelopeAxis, Member
from vernus.core.machine.stroke import FeedRun, Meets, solve_stroke
from vernus.core.make.parts import Part, PartCut
from vernus.job.fields import LengthEntry
from vernus.paper.drawing.align.dial import paint_dial
from vernus.paper.drawing.align.stations import paint_stations
from vernus.paper.drawing.align.sweep import paint_sweep
from vernus.paper.drawing.chart import Chart, Range, ticks
from vernus.paper.drawing.machine.stroke import paint_stroke, position_at, stroke_scale
from vernus.paper.drawing.machine.stroke_parts import ScaleRow, StrokePicture
from vernus.paper.drawing.machine.views import Scene, paint_kept, paint_views, scene_spans
from vernus.paper.drawing.make.part import end_outline
from vernus.paper.drawing.prove.residuals import paint_residuals
from vernus.paper.ink import DARK, LIGHT, PRINT

ROOM = QRectF(0, 0, 520, 320)


@given(st.floats(-1e4, 1e4), st.floats(1e-4, 1e5), st.integers(2, 9))
def test_ticks_are_round_inside_and_not_too_many(low, width, wanted):
    found = ticks(low, low + width, wanted)
    assert all(low - 1e-6 * width <= t <= low + width * (1 + 1e-6) for t in found)
    assert len(found) <= wanted + 1
    if len(found) > 1:
        step = found[1] - found[0]
        leading = step / 10 ** math.floor(math.log10(step) + 1e-9)
        assert any(leading == pytest.approx(m, rel=1e-6) for m in (1, 2, 5))


@given(st.lists(st.floats(-100, 100), min_size=1, max_size=9))
def test_a_range_holds_every_value_and_has_a_width(values):
    found = Range.holding(values, "mm", "x", least_mm=0.01)
    assert found.low_mm <= min(values) <= max(values) <= found.high_mm
    assert found.high_mm - found.low_mm >= 0.01 * (1 - 1e-9)


def test_a_chart_places_its_corners_in_both_unit_systems(painter):
    for unit in ("mm", "in"):
        chart = Chart(painter, ROOM, Range(0, 254, unit, "x"), Range(-1, 1, unit, "y"), LIGHT)
        assert (chart.at(0, -1).x(), chart.at(0, -1).y()) == (chart.frame.left(), chart.frame.bottom())
        assert (chart.at(254, 1).x(), chart.at(254, 1).y()) == (chart.frame.right(), chart.frame.top())
    assert {"200", "10"} <= set(painter.words)


def line(at=131.0, *, left="low", **more):
    """A slim scale of 300 on 262 of travel: 19 spare at each end."""
    solved = solve_stroke(262, scale_mm=(-19, 281), margin_mm=(10, 10), **more)
    return StrokePicture(solved, ("table", "saddle"), ScaleRow(300, 50, 90, left), at)


@pytest.mark.parametrize("left", ["low", "high"])
@pytest.mark.parametrize("width", [320, 520, 1400])
def test_dragging_the_reader_gives_back_the_position_it_is_drawn_at(left, width):
    room = QRectF(0, 0, width, 300)
    scale = stroke_scale(line(left=left), room)
    for position in (0, 17.5, 131, 262):
        assert scale.position(scale.x(position)) == pytest.approx(position, abs=1e-9)
    assert {scale.position(-1e4), scale.position(1e4)} == {0, 262}


def test_the_line_is_to_scale_and_dimensioned(painter):
    paint_stroke(painter, ROOM, line(), PRINT, "mm")
    bar, body, measuring = painter.rects[:3]
    assert body.width() / measuring.width() == pytest.approx(400 / 300)
    assert measuring.width() / bar.width() == pytest.approx(300 / 262)
    wanted = {"travel 262 mm", "spare 19 mm", "measures 300 mm", "body 400 mm", "low mark", "high mark"}
    assert wanted <= set(painter.words)


@pytest.mark.parametrize("way", [1, -1])
def test_an_upright_axis_is_drawn_upright_to_scale_and_dragged_up_and_down(painter, way):
    room = QRectF(0, 0, 740, 560)
    shown = replace(line(), upright=way)
    paint_stroke(painter, room, shown, PRINT, "mm")
    bar, body, measuring = painter.rects[:3]
    assert bar.height() > 4 * bar.width()
    assert body.height() / measuring.height() == pytest.approx(400 / 300)
    assert measuring.height() / bar.height() == pytest.approx(300 / 262)
    assert {"travel 262 mm", "spare 19 mm", "measures 300 mm", "body 400 mm", "low mark"} <= set(painter.words)
    below, above = (position_at(shown, room, QPointF(0, y)) for y in (540, 20))
    assert (below, above) == ((0, 262) if way > 0 else (262, 0))


def test_a_strip_has_no_room_to_stand_up(painter):
    paint_stroke(painter, QRectF(0, 0, 520, 92), replace(line(), upright=1), LIGHT, "mm")
    assert painter.rects[0].width() > painter.rects[0].height()


def test_the_line_speaks_inches(painter):
    paint_stroke(painter, ROOM, line(), LIGHT, "in")
    assert {"travel 10.315 in", "spare 0.748 in"} <= set(painter.words)


def test_stops_stand_where_they_are_needed_and_say_why(painter):
    shown = line(meets=[Meets("column", 245.8, 300)], give_up_mm=(5, 3))
    paint_stroke(painter, QRectF(0, 0, 900, 320), shown, PRINT, "mm")
    said = {"stop 5 mm before: given up", "stop 16.2 mm before: column", "kept 240.8 mm"}
    assert said <= set(painter.words)


@pytest.mark.parametrize("units", ["mm", "in"])
def test_trips_stand_where_they_are_or_are_to_be(painter, units):
    picture = line(feed=FeedRun((5, 10), 5))
    shown = StrokePicture(picture.stroke, picture.members, picture.scale, None, (None, 230.0))
    paint_stroke(painter, ROOM, shown, LIGHT, units)
    assert ({"trip 10 mm", "set 230 mm"} if units == "mm" else {"trip 0.394 in", "set 9.055 in"}) <= set(painter.words)


def test_a_low_place_keeps_the_line_and_leaves_the_dimensions_out(painter):
    paint_stroke(painter, QRectF(0, 0, 520, 92), line(), LIGHT, "mm")
    assert set(painter.words) == {"table on saddle", "low mark", "high mark"}


def test_without_a_travel_the_line_says_what_to_measure(painter):
    paint_stroke(painter, ROOM, StrokePicture(None, ("knee", "column")), PRINT, "mm")
    assert {"measure this", "travel of the knee", "low mark"} <= set(painter.words)


def test_a_travel_nobody_measured_wears_a_hollow_mark(painter):
    shown = StrokePicture(solve_stroke(262), ("table", "saddle"), unmeasured=True)
    paint_stroke(painter, ROOM, shown, PRINT, "mm")
    assert "○ travel 262 mm" in painter.words


def test_the_dial_says_now_and_target(painter):
    paint_dial(painter, ROOM, 0.096, -0.02, LengthEntry.read("0.002"), LIGHT, "mm")
    assert "now +0.096 mm" in painter.words
    assert {"bring to −0.020 mm", "−58.0 divisions"} <= set(painter.words)
    assert "20" in painter.words, "numbered in µm"
    painter.words.clear()
    paint_dial(painter, ROOM, 0.0254, 0.0508, LengthEntry.read("0.5 thou"), DARK, "in")
    assert {"bring to +2.0 thou", "+2.0 divisions"} <= set(painter.words)
    assert {"5", "45"} <= set(painter.words), "numbered in thou, as the dial is"


def test_the_sweep_chart_names_its_marks_and_screws(painter):
    x, r = [0.0, 100.0, 200.0, 300.0], [0.0, 0.05, 0.11, 0.15]
    now = analyse_sweep(x, r, Indicator())
    before = analyse_sweep(x, [2 * v for v in r], Indicator())
    fix = correct(now, r, Indicator(), (-10.0, 310.0))
    paint_sweep(painter, ROOM, now, PRINT, "mm", before=before, fix=fix)
    assert {"this pass", "pass before", "line", "tolerance", "hold", "move"} <= set(painter.words)
    assert "height toward the indicator, mm" in painter.words


def test_stations_show_where_the_indicator_goes_next(painter):
    paint_stations(painter, ROOM, [25.4, 127.0, 254.0], (0.0, 279.4), "left", 127.0, LIGHT, "in")
    assert {"1", "5", "10"} <= set(painter.words)
    paint_stations(painter, ROOM, [], None, "left", None, LIGHT, "mm")


def test_errors_are_in_micrometres_or_thou(painter):
    for units, words in (("mm", "error, shown less true, µm"), ("in", "error, shown less true, thou")):
        paint_residuals(painter, ROOM, [0, 254], [0.0, 0.01], [0.0, 0.001], LIGHT, units)
        assert words in painter.words


MACHINE = Envelope(
    (Member("bed"), Member("slide", "bed", "X")),
    (EnvelopeAxis("X", "+x", -50, 150),),
    (Box("wall", "bed", (200, -50, 0), (220, 50, 100)), Box("block", "slide", (0, -20, 0), (100, 20, 40))),
)


def test_a_pair_that_meets_is_named_not_only_coloured(painter):
    scene = Scene(MACHINE, {"X": 140.0}, meeting={"wall", "block"})
    paint_views(painter, ROOM, scene, scene_spans(MACHINE), LIGHT, "mm", {"X": (-50.0, 100.0)})
    assert "meets" in painter.words
    assert {"from the front", "from the right", "from above"} <= set(painter.words)


def test_the_picture_has_room_for_the_whole_travel():
    (x, _, z) = scene_spans(MACHINE)
    assert x == (-50, 250)
    assert z == (0, 100)
    scene = Scene(MACHINE, {"X": 150.0})
    assert scene.placed(MACHINE.boxes[1])[0] == (150, 250)


@pytest.mark.parametrize(
    ("kept", "units", "words"),
    [
        ({"X": (-50.0, 100.0)}, "mm", "150 of 200 mm"),
        ({"X": (-50.0, 100.0)}, "in", "5.906 of 7.874 in"),
        ({"X": (-50.0, 150.0)}, "mm", "all 200 mm"),
        (None, "mm", "blocked"),
    ],
)
def test_the_bars_say_what_is_kept(painter, kept, units, words):
    paint_kept(painter, ROOM, MACHINE, {"X": 0.0}, kept, LIGHT, units)
    assert words in painter.words


def test_a_narrow_bar_says_less_rather_than_running_over(painter):
    paint_kept(painter, QRectF(0, 0, 110, 100), MACHINE, {"X": 0.0}, {"X": (-50.0, 100.0)}, LIGHT, "mm")
    assert "150 of 200 mm" not in painter.words
    assert any(w.endswith("150 mm") for w in painter.words)


def test_a_t_nut_is_seen_as_a_t_from_its_end():
    steps = [PartCut("step", "face", 0.0, y, 60.0, 5.0, 8.5) for y in (0.0, 18.0)]
    bar = Part("bar", "t-nut", 60, 23, 14, "steel", cuts=tuple(steps))
    outline = end_outline(bar)
    area = abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(outline, [*outline[1:], outline[0]], strict=True))) / 2
    assert area == pytest.approx(23 * 14 - 2 * 5 * 8.5)
    assert max(x for x, _ in outline) == 14
    assert {y for x, y in outline if x == 14} == {0.0, 5.0, 18.0, 23.0}
