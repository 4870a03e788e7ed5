"""The way of a cable: clips on the members between, round what is in the way, and the cheapest of all places."""

import itertools

import pytest

from vernus.core.connect.cable_route import clip_places, route_cable
from vernus.core.connect.cables import Anchor, plan_cable
from vernus.core.machine.envelope import Box, Envelope, EnvelopeAxis, Member

SCALES = pytest.mark.parametrize("scale", [1.0, 25.4 / 12])


def machine(scale=1.0, boxes=()):
    """A table on a bed, running along x between two ends."""
    whole = (
        Box("bed", "bed", (-500 * scale, -150 * scale, -300 * scale), (500 * scale, 150 * scale, -100 * scale)),
        Box("table", "table", (-200 * scale, -100 * scale, -100 * scale), (200 * scale, 100 * scale, 0.0)),
        *boxes,
    )
    axes = (EnvelopeAxis("X", "+x", -250 * scale, 250 * scale),)
    return Envelope((Member("bed"), Member("table", "bed", "X")), axes, whole)


def at(scale, *point):
    return tuple(scale * p for p in point)


@SCALES
def test_where_the_straight_way_runs_through_the_machine_the_clips_lead_it_round(scale):
    envelope = machine(scale)
    start = Anchor("stub", "table", at(scale, 0, 130, -60))
    end = Anchor("display", "bed", at(scale, 0, -400, 200))
    assert plan_cable(envelope, [start, end]).snags != ()
    way = route_cable(envelope, start, ["table", "bed"], end)
    assert (way[0], way[-1]) == (start, end)
    assert {a.member for a in way[1:-1]} == {"table", "bed"}
    assert plan_cable(envelope, way).snags == ()


def test_with_one_clip_a_member_no_other_places_cost_less():
    envelope = machine()
    start, end = Anchor("stub", "table", (0, 130, -60)), Anchor("display", "bed", (700, 300, 200))

    def cost(way):
        need = plan_cable(envelope, way, slack_share=0, bend_mm=0, drip_mm=0)
        clips = sum(100 + (300 if "front" in a.name else 0) for a in way[1:-1])
        return need.straight_mm + 5000 * len(need.snags) + clips

    places = {m: [anchor for anchor, _ in clip_places(envelope, m)] for m in ("table", "bed")}
    least = min(cost([start, a, b, end]) for a, b in itertools.product(places["table"], places["bed"]))
    assert cost(route_cable(envelope, start, ["table", "bed"], end)) <= least + 1e-6


def test_clips_sit_off_the_faces_inside_nothing_and_on_no_part_of_the_scale():
    body = Box("X scale body", "table", (-150, 100, -60), (150, 130, -20), group="X scale")
    bracket = Box("X scale bracket", "bed", (-40, 150, -100), (40, 158, -20), group="X scale")
    envelope = machine(boxes=[body, bracket])
    places = clip_places(envelope, "table")
    assert {a.name.split(", ")[1] for a, _ in places} == {"left", "right", "front", "back"}
    assert all(anchor.name.startswith(f"clip on table, {side}") for anchor, side in places)
    for anchor, side in places:
        x, y, z = anchor.point_mm
        assert ("near the left" in anchor.name) == (side in ("front", "back") and x < -60), "says where it really is"
        assert ("above its top" in anchor.name) == (z > 0), anchor
    assert any(a.name == "clip on X scale bracket, back" for a, _ in clip_places(envelope, "bed"))
    for x, y, z in (a.point_mm for a, _ in places):
        assert abs(x) > 200 or abs(y) > 100
        assert not (-150 < x < 150 and 100 < y < 130 and -60 < z < -20)


def test_a_member_without_a_box_has_no_clip():
    envelope = Envelope((Member("bed"), Member("ram", "bed")), (), (Box("bed", "bed", (0, 0, 0), (100, 100, 100)),))
    start, end = Anchor("stub", "ram", (300, 0, 0)), Anchor("display", "bed", (300, 300, 0))
    way = route_cable(envelope, start, ["ram", "bed"], end)
    assert [a.member for a in way] == ["ram", "bed", "bed"]
