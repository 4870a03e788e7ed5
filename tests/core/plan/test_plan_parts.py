from dataclasses import replace

import pytest

from vernus.core.errors import BadInputError
from vernus.core.keep.schedule import JobStep, order_steps
from vernus.core.machine.envelope import Box
from vernus.core.plan.plan_parts import (
    FacePlace,
    ScaleBulk,
    abbe_error,
    abbe_offset,
    centred_start,
    clearing_across,
    clearing_off,
    scale_parts,
    solid_parts,
)  # fmt: skip
from vernus.job.catalog.shipped import scale_families

SLIM = next(f for f in scale_families() if f.id == "glass-slim")
REAR = FacePlace("table", "saddle", (300, 100, -20), "-x", "+y", 600)
BULK = ScaleBulk(SLIM, 550, centred_start(600, 550), 275, clearance_mm=0)


def test_the_body_lies_on_the_face_and_the_reader_below_it():
    parts = {p.name: p for p in scale_parts(REAR, BULK, "X scale")}
    body, reader = parts["X scale body"], parts["X scale reader"]
    assert (body.min_mm, body.max_mm) == ((-275, 100, -36.5), (275, 123, -3.5))
    assert (reader.member, reader.max_mm[2]) == ("saddle", body.min_mm[2])
    assert (reader.min_mm[0] + reader.max_mm[0]) / 2 == 0
    assert max(p.max_mm[1] for p in parts.values()) == 100 + BULK.depth_mm
    assert {p.group for p in parts.values()} == {"X scale"}


def test_air_wanted_is_added_on_every_side_but_the_faces():
    wide = {p.name: p for p in scale_parts(REAR, ScaleBulk(SLIM, 550, 25, 275, clearance_mm=2), "X scale")}
    body = wide["X scale body"]
    assert (body.min_mm, body.max_mm) == ((-277, 100, -38.5), (277, 125, -1.5))


@pytest.mark.parametrize("up", [1, -1])
def test_a_body_is_moved_across_just_clear_of_the_casting_it_rides_with(up):
    table = Box("table", "table", (-400, -100, -60), (400, 100, 60))
    low, high = sorted((-20 - 30 * up, -20 - 5 * up))
    rib = Box("rib", "table", (-400, 100, low), (400, 130, high))
    across = clearing_across(REAR, BULK, [table, rib], table)
    assert across is not None
    for share, clear in ((1.0, True), (0.9, False), (-1.0, False)):
        parts = solid_parts(REAR, replace(BULK, across_mm=BULK.across_mm + share * across))
        assert (clearing_off(REAR, parts, [table, rib]) == 0.0) == clear, share


@pytest.mark.parametrize("along", ["+x", "-x", "+y", "-y", "+z", "-z"])
@pytest.mark.parametrize("out", ["+x", "-x", "+y", "-y", "+z", "-z"])
def test_parts_are_proper_boxes_whichever_way_a_face_looks(along, out):
    if along[1] == out[1]:
        with pytest.raises(BadInputError, match="along its own length"):
            FacePlace("a", "b", (0, 0, 0), along, out, 400)
        return
    place = FacePlace("a", "b", (0, 0, 0), along, out, 600, reader_from_above=True)
    c = "xyz".index(out[1])
    for part in scale_parts(place, BULK, "s"):
        assert all(low < high for low, high in zip(part.min_mm, part.max_mm, strict=True))
        side = part.min_mm[c] if out[0] == "+" else -part.max_mm[c]
        assert side >= 0


def test_abbe_offset_is_the_distance_across_the_scale():
    # From the tool at the origin: 100 + 11.5 back, 20 down; along x it does not matter.
    assert abbe_offset(REAR, BULK, (0, 0, 0)) == pytest.approx((111.5**2 + 20**2) ** 0.5)
    assert abbe_offset(REAR, BULK, (999, 0, 0)) == abbe_offset(REAR, BULK, (0, 0, 0))
    assert abbe_error(250, 0.1) == pytest.approx(0.025)


def test_steps_come_after_what_they_need_otherwise_in_the_order_given():
    steps = [JobStep("c", "", "", ("a",)), JobStep("b", "", ""), JobStep("a", "", "")]
    assert [s.key for s in order_steps(steps)] == ["b", "a", "c"]
    with pytest.raises(BadInputError, match="circle"):
        order_steps([JobStep("a", "", "", ("b",)), JobStep("b", "", "", ("a",))])
    with pytest.raises(BadInputError, match="not a step"):
        order_steps([JobStep("a", "", "", ("x",))])
