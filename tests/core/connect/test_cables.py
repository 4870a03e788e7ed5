"""Cables: longest at a corner, never less than anywhere on a grid; what is in the way is named."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from vernus.core.connect.cables import Anchor, Tilt, find_snags, plan_cable, stretch_between
from vernus.core.errors import BadInputError
from vernus.core.machine.envelope import Box, Envelope, EnvelopeAxis, Member

MEMBERS = (
    Member("column"),
    Member("knee", "column", "W"),
    Member("saddle", "knee", "Y"),
    Member("table", "saddle", "X"),
)


def machine(boxes=(), scale=1.0):
    axes = (
        EnvelopeAxis("X", "-x", -320 * scale, 341.5 * scale),
        EnvelopeAxis("Y", "+y", 0.0, 262 * scale),
        EnvelopeAxis("W", "+z", -390 * scale, 0.0),
    )
    return Envelope(MEMBERS, axes, tuple(boxes))


POINT = st.tuples(*[st.floats(-800, 800)] * 3)


@given(POINT, POINT, st.sampled_from(["table", "saddle", "knee"]), st.sampled_from([1.0, 25.4 / 12]))
def test_no_place_of_the_axes_needs_more_than_the_corner_found(a, b, member, scale):
    envelope = machine(scale=scale)
    found = stretch_between(envelope, Anchor("reader", member, a), Anchor("display", "column", b), envelope.full)
    apart = []
    for at in itertools.product(*(np.linspace(ax.from_mm, ax.to_mm, 5) for ax in envelope.axes)):
        places = dict(zip(("X", "Y", "W"), at, strict=True))
        apart.append(math.dist(np.add(a, envelope.offset(member, places)), b))
    assert found.longest_mm == pytest.approx(max(apart), abs=1e-9)
    assert found.shortest_mm <= min(apart) + 1e-9
    assert math.dist(np.add(a, envelope.offset(member, {"X": 0, "Y": 0, "W": 0, **found.hold})), b) == pytest.approx(
        found.longest_mm
    )


def test_the_need_is_each_stretch_at_its_own_corner_with_its_allowances():
    anchors = [
        Anchor("reader", "saddle", (0, 100, 0)),
        Anchor("clip on the knee", "knee", (0, 0, 0)),
        Anchor("display", "column", (0, 0, 0)),
    ]
    need = plan_cable(machine(), anchors, supplied_mm=1000, slack_share=0.1, bend_mm=30, drip_mm=100)
    assert [s.longest_mm for s in need.stretches] == [362, 390]
    assert [dict(s.hold) for s in need.stretches] == [{"Y": 262}, {"W": -390}]
    assert [s.hold_words() for s in need.stretches] == ["Y at its high end", "W at its low end"]
    assert need.need_mm == math.ceil(752 * 1.1 + 2 * math.pi * 30 + 100)
    assert need.over_mm == pytest.approx(1000 - need.need_mm)
    assert need.findings[0].code == "cable-short"
    assert "Too short by 116 mm" in need.instruction.text()
    assert "Too short by 4.567 in" in need.instruction.text("in")


def test_a_still_stretch_has_no_half_turn_and_no_position_to_hold():
    anchors = [Anchor("clip", "column", (0, 0, 0)), Anchor("display", "column", (300, 0, 400))]
    need = plan_cable(machine(), anchors, supplied_mm=2000, slack_share=0, bend_mm=50, drip_mm=0)
    assert need.need_mm == 500
    assert not need.stretches[0].moves
    assert "Its plug is moulded on" in need.instruction.text()
    cut = plan_cable(machine(), anchors, supplied_mm=2000, slack_share=0, drip_mm=0, ends="screw")
    assert "may be cut" in cut.instruction.text()
    assert "Measure the one supplied" in plan_cable(machine(), anchors).instruction.text()


def test_what_the_cable_would_run_through_is_named_with_a_position_where_it_does():
    head = Box("head", "column", (-50, 400, 100), (50, 500, 200))
    table = Box("table", "table", (-600, -100, -60), (600, 100, 0))
    anchors = [Anchor("reader", "table", (0, 100, -20)), Anchor("display", "column", (0, 700, 200))]
    need = plan_cable(machine([head, table]), anchors, supplied_mm=5000)
    assert [s.box.name for s in need.snags] == ["head"]
    assert "runs through head with" in need.findings[0].what.text()
    aside = [anchors[0], Anchor("display", "column", (900, 400, 200))]
    assert plan_cable(machine([head, table]), aside).snags == ()


BOX = st.tuples(POINT, st.tuples(*[st.floats(8, 300)] * 3))


@given(POINT, POINT, BOX, st.sampled_from(["table", "knee", "column"]), st.sampled_from(["table", "saddle", "column"]))
@settings(max_examples=2 * settings.default.max_examples)
def test_what_a_grid_of_positions_runs_into_is_found_and_what_is_found_is_there(a, b, box, end, on):
    corner, size = box
    solid = Box("obstacle", on, corner, tuple(c + s for c, s in zip(corner, size, strict=True)))
    envelope = machine([solid])
    stretch = stretch_between(envelope, Anchor("reader", end, a), Anchor("display", "column", b), envelope.full)
    assume(not any(held.member == on and inside(held.point_mm, solid) for held in (stretch.a, stretch.b)))
    found = find_snags(envelope, stretch, envelope.full)
    for snag in found:
        ranges = envelope.full
        assert all(ranges[x][0] - 1e-9 <= mm <= ranges[x][1] + 1e-9 for x, mm in snag.at.items())
        assert runs_through(envelope, stretch, solid, snag.at, deep=0.0)
    grid = (
        dict(zip("XYW", at, strict=True))
        for at in itertools.product(*(np.linspace(*envelope.full[x], 4) for x in "XYW"))
    )
    if any(runs_through(envelope, stretch, solid, at, deep=2.0) for at in grid):
        assert found


def inside(point, box):
    return all(low < p < high for p, low, high in zip(point, box.min_mm, box.max_mm, strict=True))


def runs_through(envelope, stretch, box, at, deep):
    """Whether one of many points of the stretch is in the box: sampled, not solved."""
    places = {"X": 0.0, "Y": 0.0, "W": 0.0, **at}
    ends = [
        np.add(e.point_mm, envelope.offset(e.member, places)) - envelope.offset(box.member, places)
        for e in (stretch.a, stretch.b)
    ]
    t = np.linspace(0, 1, 4001)[:, None]
    line = (1 - t) * ends[0] + t * ends[1]
    off = np.minimum(deep, np.subtract(box.max_mm, box.min_mm) / 4)
    return bool(np.all((line > np.add(box.min_mm, off)) & (line < np.subtract(box.max_mm, off)), axis=1).any())


def test_an_obstacle_met_only_between_any_round_places_is_found_and_a_thin_guard_counts():
    post = Box("guard", "column", (-101.0, -300.0, -50.0), (-99.5, 300.0, 50.0))
    reader, clip = Anchor("reader", "table", (37.0, 0.0, 0.0)), Anchor("clip", "saddle", (37.0, 200.0, 0.0))
    envelope = machine([post])
    (snag,) = find_snags(envelope, stretch_between(envelope, reader, clip, envelope.full), envelope.full)
    assert snag.box.name == "guard"
    held = {"X": (-300.0, -200.0), "Y": (0.0, 262.0), "W": (-390.0, 0.0)}
    assert find_snags(envelope, stretch_between(envelope, reader, clip, held), held) == [], "it stays on the right"


def test_a_cable_led_along_a_face_touches_it_and_one_led_through_its_own_member_is_told():
    table = Box("table", "table", (-600, -100, -60), (600, 100, 0))
    envelope = machine([table])
    behind = Anchor("reader", "table", (0, 100, -20))
    along = stretch_between(envelope, behind, Anchor("clip", "table", (300, 100, -20)), envelope.full)
    across = stretch_between(envelope, behind, Anchor("clip", "table", (300, -101, -20)), envelope.full)
    assert find_snags(envelope, along, envelope.full) == []
    assert [s.box.name for s in find_snags(envelope, across, envelope.full)] == ["table"]


def test_what_cannot_be_a_cable_is_refused():
    one = Anchor("reader", "table", (0, 0, 0))
    with pytest.raises(BadInputError, match="one anchor to another"):
        plan_cable(machine(), [one])
    with pytest.raises(BadInputError, match="“ram”"):
        plan_cable(machine(), [one, Anchor("display", "ram", (0, 0, 0))])
    with pytest.raises(BadInputError, match="negative"):
        plan_cable(machine(), [one, one], slack_share=-0.1)


HEAD = Tilt(frozenset({"head", "quill"}), 45.0, (0.0, 300.0), {"head": 0.0, "quill": 120.0})


@given(POINT, POINT, st.floats(1, 60), st.floats(0, 1), st.sampled_from([-1, 1]))
def test_no_pose_of_a_tilting_head_needs_more_than_what_is_found(a, b, angle, share, side):
    """The quill's anchor goes out along the tilted head, not straight down: turned after it was driven out."""
    members = (Member("column"), Member("head", "column"), Member("quill", "head", "W"))
    envelope = Envelope(members, (EnvelopeAxis("W", "-z", 0.0, 120.0),), ())
    tilt = Tilt(HEAD.members, angle, HEAD.pivot_mm, HEAD.rides_mm)
    quill, post = Anchor("reader", "quill", a), Anchor("display", "column", b)
    found = plan_cable(envelope, [quill, post], slack_share=0, bend_mm=0, drip_mm=0, tilt=tilt).stretches[0]
    driven = Anchor("reader", "quill", (a[0], a[1], a[2] - 120 * share))
    for point in (driven, tilt.turned(driven, side)):
        assert math.dist(point.point_mm, b) <= found.longest_mm + 1e-6


def test_a_cable_to_a_tilting_head_is_longest_tilted_and_says_so():
    members = (Member("column"), Member("head", "column"))
    anchors = [Anchor("reader", "column", (0, 0, 0)), Anchor("display", "head", (300, 0, 500))]
    need = plan_cable(Envelope(members, (), ()), anchors, slack_share=0, drip_mm=0, tilt=HEAD)
    # (300, 200) from the pivot, turned by 45° to the left: (70.7, 353.6), so 70.7 across and 653.6 up from the reader
    assert need.stretches[0].hold_words() == "head tilted left"
    assert need.stretches[0].longest_mm == pytest.approx(math.hypot(70.711, 653.553), abs=0.01)
    assert need.stretches[0].moves
    both = [Anchor("clip", "head", (0, 0, 300)), anchors[1]]
    assert not plan_cable(Envelope(members, (), ()), both, tilt=HEAD).stretches[0].moves, "they tilt together"
