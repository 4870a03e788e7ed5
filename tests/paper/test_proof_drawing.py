"""Pictures of positioning, cables and the power feed: to scale, in both unit systems, readable in grey."""

import itertools

import pytest
from PySide6.QtCore import QRectF

from vernus.core.feed.fit import TurnedPart, fit_holes
from vernus.core.feed.gears import mesh_gears
from vernus.core.feed.keys import stepped_key
from vernus.core.machine.envelope import Box, Envelope, EnvelopeAxis, Member
from vernus.core.prove.positioning import analyse_positioning
from vernus.paper.drawing.feed.feed import paint_holes, paint_made, paint_mesh, paint_turned
from vernus.paper.drawing.machine.views import Scene, paint_views, scene_spans
from vernus.paper.drawing.prove.positioning import paint_positioning
from vernus.paper.ink import DARK, LIGHT, PRINT

ROOM = QRectF(0, 0, 520, 320)


def readings(scale=1.0):
    cycle = [(t, True) for t in (0.0, 100.0, 250.0)] + [(t, False) for t in (250.0, 100.0, 0.0)]
    return [(t * scale, up, scale * ((0.004 if up else -0.002) + 0.001 * (n % 2))) for n in range(3) for t, up in cycle]


def figures(rows):
    return analyse_positioning(*zip(*rows, strict=True))


@pytest.mark.parametrize(("units", "scale"), [("mm", 1.0), ("in", 25.4 / 10)])
def test_both_directions_stand_side_by_side_at_their_targets(painter, units, scale):
    rows = readings(scale)
    paint_positioning(painter, ROOM, figures(rows), rows, LIGHT, units)
    assert {"going up", "going down", "mean ± 2 s"} <= set(painter.words)
    assert f"target, {units}" in painter.words
    ups = [d.x() for d in painter.dots[: sum(up for _, up, _ in rows)]]
    squares = [r.center().x() for r in painter.rects if r.width() == 8][: len(rows) - len(ups)]
    assert min(squares) - min(ups) == pytest.approx(9), "moved aside by the same on both sides"
    places = sorted({round(x, 3) for x in ups})
    assert (places[1] - places[0]) / (places[2] - places[1]) == pytest.approx(100 / 150, rel=1e-3)


def test_one_cycle_is_drawn_without_bands_and_one_direction_without_the_other(painter):
    rows = readings()[:6]
    paint_positioning(painter, ROOM, None, rows, DARK, "mm")
    assert painter.paths == []
    alone = [row for row in readings() if row[1]]
    paint_positioning(painter, ROOM, figures(alone), alone, PRINT, "mm")
    assert len(painter.paths) == 1


def test_a_turned_part_keeps_its_proportions_and_names_its_sizes(painter):
    part = TurnedPart("coupler", ((30, 40), (20, 25)), 18, 30, None, 6)
    paint_turned(painter, ROOM, part, LIGHT, "mm")
    first, second = painter.rects[:2]
    assert first.width() / first.height() == pytest.approx(40 / 30)
    assert second.width() / second.height() == pytest.approx(25 / 20)
    assert second.left() == pytest.approx(first.right())
    assert len(painter.rects) == 5, "two steps, two claws, the bore"
    assert {"dia. 30 mm", "dia. 20 mm", "bore 18 mm", "40.00 mm", "25.00 mm"} <= set(painter.words)
    sleeve = TurnedPart("sleeve", ((25.4, 18),), 20)
    paint_turned(painter, ROOM, sleeve, DARK, "in")
    assert "bore 0.7874 in" in painter.words


@pytest.mark.parametrize("up", [0.0, 40.0])
def test_holes_are_laid_on_each_other_to_scale(painter, up):
    item = fit_holes("bracket holes", (84, up), (82, up), 9, 8)
    paint_holes(painter, ROOM, item.holes, LIGHT, "mm")
    count = 4 if up else 2
    machine, kit = painter.circles[:count], painter.circles[count:]
    assert len(kit) == count
    per_mm = (machine[1][0].x() - machine[0][0].x()) / 84
    assert kit[1][0].x() - kit[0][0].x() == pytest.approx(82 * per_mm)
    assert [r for _, r in machine] == pytest.approx([4 * per_mm] * count)
    assert [r for _, r in kit] == pytest.approx([4.5 * per_mm] * count)
    assert {"kit 82 mm", "machine 84 mm"} <= set(painter.words)
    assert ROOM.contains(kit[-1][0])


@pytest.mark.parametrize("scale", [1.0, 25.4 / 12])
def test_gears_stand_at_their_centres_and_touch_at_their_pitch_circles(painter, scale):
    mesh = mesh_gears(2 * scale, (36, 18), 20, backlash_mm=0.12)
    paint_mesh(painter, ROOM, mesh, (36, 18), LIGHT, "mm")
    (drive, outside), (_, pitch), (unit, small), _ = painter.circles
    per_mm = (unit.x() - drive.x()) / (mesh.centre_mm + mesh.open_mm)
    assert (outside, pitch, small) == pytest.approx((38 * scale * per_mm, 36 * scale * per_mm, 20 * scale * per_mm))
    assert {"36", "18", f"centres {54 * scale + mesh.open_mm:.2f} mm"} <= set(painter.words)
    assert unit.x() + small < ROOM.right()


def test_a_stepped_key_keeps_its_proportions_from_the_end_and_from_the_side(painter):
    paint_made(painter, ROOM, stepped_key(5, 4.76, 18), LIGHT, "mm")
    hub, shaft, side = painter.rects
    assert hub.width() / shaft.width() == pytest.approx(4.76 / 5)
    assert hub.bottom() == pytest.approx(shaft.top())
    assert hub.height() / shaft.height() == pytest.approx(2 / 3)
    assert side.width() / side.height() == pytest.approx(18 / 5)
    assert {"4.76 mm", "5 mm", "hub 2.00 mm", "shaft 3.00 mm", "18.00 mm"} <= set(painter.words)
    assert side.right() < ROOM.right()


def test_the_cable_moves_with_its_members_in_all_three_views(painter):
    axis = EnvelopeAxis("X", "+x", -100, 100)
    members = (Member("base"), Member("table", "base", "X"))
    boxes = (Box("table", "table", (-100, -50, 0), (100, 50, 40)), Box("base", "base", (-80, -80, -200), (80, 80, 0)))
    envelope = Envelope(members, (axis,), boxes)
    cable = [("table", (90.0, 50.0, 20.0)), ("base", (0.0, 80.0, -100.0))]
    drawn = {}
    for at in (-100.0, 100.0):
        painter.paths.clear()
        scene = Scene(envelope, {"X": at}, cable=cable)
        paint_views(painter, ROOM, scene, scene_spans(envelope, cable=cable), LIGHT, "mm")
        drawn[at] = [list(path) for path in painter.paths]
        assert len(drawn[at]) == 3
    front = [drawn[at][0] for at in (-100.0, 100.0)]
    assert front[1][0].x() > front[0][0].x(), "the end on the table went along"
    assert front[1][1].x() == pytest.approx(front[0][1].x()), "the end on the base stayed"
    side = [drawn[at][1] for at in (-100.0, 100.0)]
    for a, b in itertools.zip_longest(*side):
        assert (a.x(), a.y()) == (pytest.approx(b.x()), pytest.approx(b.y()))
