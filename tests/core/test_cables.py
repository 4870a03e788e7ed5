"""Cables: longest at a corner, never less than anywhere on a grid; what is in the way is named."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.cables import Anchor, plan_cable, stretch_between
from vernus.core.envelope import Box, Envelope, EnvelopeAxis, Member
from vernus.core.errors import BadInputError

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
    assert need.need_mm == pytest.approx(752 * 1.1 + 2 * math.pi * 30 + 100)
    assert need.over_mm == pytest.approx(1000 - need.need_mm)
    assert need.findings[0].code == "cable-short"
    assert "Too short by 115.7 mm" in need.instruction.text()
    assert "Too short by 4.555 in" in need.instruction.text("in")


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
    aside = [anchors[0], Anchor("display", "column", (900, 100, 200))]
    assert plan_cable(machine([head, table]), aside).snags == ()


def test_what_cannot_be_a_cable_is_refused():
    one = Anchor("reader", "table", (0, 0, 0))
    with pytest.raises(BadInputError, match="one anchor to another"):
        plan_cable(machine(), [one])
    with pytest.raises(BadInputError, match="“ram”"):
        plan_cable(machine(), [one, Anchor("display", "ram", (0, 0, 0))])
    with pytest.raises(BadInputError, match="negative"):
        plan_cable(machine(), [one, one], slack_share=-0.1)
