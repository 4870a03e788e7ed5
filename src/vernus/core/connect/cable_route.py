"""Where to clip a cable so that nothing moving runs into it: a way from stub to display over the members between.

Places for a clip are looked for on the upright faces of each member's boxes, at a clip's stand-off. The way chosen has
the least length at its farthest corners, where a stretch that runs through a box counts as 5 m, a clip as 0.1 m and a
clip on the front face, where chips fly, as 0.3 m more (weights: a judgement, no source). Shortest over layers of
places, so it is the best of those looked at. All lengths in mm.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vernus.core.connect.cables import Anchor, farthest_and_nearest, snag_shares
from vernus.core.finding import Finding, finding
from vernus.core.machine.envelope import Box, Envelope, Range, Triple
from vernus.core.plan.plan_parts import is_part

Points = NDArray[np.float64]
_STAND_OFF_MM, _EDGE_MM = 12.0, 10.0
_SNAG_MM, _CLIP_MM, _CHIPS_MM = 5000.0, 100.0, 300.0
_MOST_CLIPS = 3
_SIDES = {(0, 0): "left", (0, 1): "right", (1, 0): "front", (1, 1): "back"}


@dataclass(frozen=True)
class _Layer:
    """The places of one choice on the way, with what each costs by itself; ``stay`` when no clip may be needed."""

    places: tuple[Anchor, ...]
    costs: Points
    stay: bool = False

    @property
    def points(self) -> Points:
        return np.array([p.point_mm for p in self.places])


def whole_mm(point: Triple) -> Triple:
    """The place as it is kept and printed; the way is looked for between such places, so that it is the way printed."""
    return (float(round(point[0])), float(round(point[1])), float(round(point[2])))


def clip_places(envelope: Envelope, member: str) -> list[tuple[Anchor, str]]:
    """Places for a clip on a member, and on a reader's bracket that it carries, with the side each is on.

    12 mm off the four upright faces, at the middle and 10 mm from the edges, both along and up, and on a tab 12 mm
    above the top edge, to the whole millimetre they are printed to: from such places the cable goes round an edge
    without touching it.
    """
    mine = [b for b in envelope.boxes if b.member == member]
    places = []
    for box in mine:
        if box.pose or (box.group and not is_part(box, "bracket")) or bears_no_clip(box):
            continue
        spans = list(zip(box.min_mm, box.max_mm, strict=True))
        for (across, end), side in _SIDES.items():
            out = spans[across][end] + (_STAND_OFF_MM if end else -_STAND_OFF_MM)
            heights = [*_places(spans[2]), spans[2][1] + _STAND_OFF_MM]
            for along, up in itertools.product(_places(spans[1 - across]), heights):
                point = whole_mm((out, along, up) if across == 0 else (along, out, up))
                anchor = Anchor(box.name, member, point)
                if not any(_in(point, other) for other in mine) and not over_the_ways(envelope, anchor):
                    name = f"clip on {box.name}, {side}{_where(box, 1 - across, along, up)}"
                    places.append((Anchor(name, member, point), side))
    return places


_TOOLS = ("chuck", "toolpost", "tool post", "compound", "spindle", "quill nose", "guard", "door")


def bears_no_clip(box: Box) -> bool:
    """Whether a box turns, opens, or carries tool or work, so that no cable is ever held on it."""
    return box.turns or any(word in box.name.lower() for word in _TOOLS)


def over_the_ways(envelope: Envelope, anchor: Anchor) -> bool:
    """Whether a place lies above the top of a member on which another slides along: there the ways are."""
    carries = {
        m.on for m in envelope.members
        if m.axis is not None and any(a.id == m.axis and a.coordinate != 2 for a in envelope.axes)
    }  # fmt: skip
    if anchor.member not in carries:
        return False
    x, y, z = anchor.point_mm
    own = [b for b in envelope.boxes if b.member == anchor.member and b.own and not b.turns]
    low = [b for b in own if b.min_mm[0] - _EDGE_MM <= x <= b.max_mm[0] + _EDGE_MM]
    low = [b for b in low if b.min_mm[1] - _EDGE_MM <= y <= b.max_mm[1] + _EDGE_MM]
    return bool(low) and z >= max(b.max_mm[2] for b in low)


def review_anchors(envelope: Envelope, anchors: Sequence[Anchor]) -> list[Finding]:
    """Anchors where none may be: on what turns, opens or carries tool or work, or above the ways."""
    found = []
    for anchor in anchors:
        near = next(
            (b for b in envelope.boxes if b.member == anchor.member and bears_no_clip(b) and _close(anchor, b)), None
        )
        above = near is None and over_the_ways(envelope, anchor)
        if near is not None or above:
            where = "above the ways of the {member}" if near is None else "on the {box}"
            found.append(
                finding(
                    "anchor-in-the-way",
                    "stop",
                    "The cable is held " + where + " ({name}): there it is caught or cut.",
                    "Hold it on a side that nothing slides on, away from chuck, tool and chips; “Propose” finds one.",
                    name=anchor.name,
                    member=anchor.member,
                    box="" if near is None else near.name,
                )
            )
    return found


def _close(anchor: Anchor, box: Box) -> bool:
    room = _STAND_OFF_MM + 1e-6
    return all(
        low - room <= at <= high + room for low, at, high in zip(box.min_mm, anchor.point_mm, box.max_mm, strict=True)
    )


def _where(box: Box, along: int, at: float, up: float) -> str:
    """Where on a side of a box a place is, in words: along it, and how high."""
    ends = ("left", "right") if along == 0 else ("front", "back")
    words = ""
    for low, high, place, names in (
        (box.min_mm[along], box.max_mm[along], at, (f"near the {ends[0]}", f"near the {ends[1]}")),
        (box.min_mm[2], box.max_mm[2], up, ("low", "high")),
    ):
        if place > high:
            words += ", above its top"
        elif high - low > 3 * _EDGE_MM and abs(place - (low + high) / 2) > (high - low) / 4:
            words += f", {names[place > (low + high) / 2]}"
    return words


def route_cable(
    envelope: Envelope, start: Anchor, members: Sequence[str], end: Anchor, *, comes_off: str = ""
) -> list[Anchor]:
    """The anchors from ``start`` to ``end`` with one to three clips on each of ``members`` that has boxes.

    None on the member that ``comes_off`` the machine for the work, where the reader isn't on it itself.
    """
    layers = [_Layer((start,), np.zeros(1))]
    for member in members:
        if member == comes_off and member not in (start.member, end.member):
            continue
        places = clip_places(envelope, member)
        if places:
            anchors = tuple(anchor for anchor, _ in places)
            costs = np.array([_CLIP_MM + (_CHIPS_MM if side == "front" else 0.0) for _, side in places])
            layers += [_Layer(anchors, costs, stay=n > 0) for n in range(_MOST_CLIPS)]
    layers.append(_Layer((end,), np.zeros(1)))
    way = [layer.places[n] for layer, n in zip(layers, _cheapest(envelope, layers), strict=True)]
    return [place for n, place in enumerate(way) if n == 0 or place != way[n - 1]]


def _cheapest(envelope: Envelope, layers: Sequence[_Layer]) -> list[int]:
    """The place taken in each layer on the cheapest way."""
    total, arrived = layers[0].costs, []
    for before, after in itertools.pairwise(layers):
        step = _step_costs(envelope, before, after) + after.costs
        if after.stay:
            np.fill_diagonal(step, 0.0)
        through = total[:, None] + step
        arrived.append(through.argmin(axis=0))
        total = through.min(axis=0)
    way = [int(total.argmin())]
    for back in reversed(arrived):
        way.append(int(back[way[-1]]))
    return way[::-1]


def _step_costs(envelope: Envelope, before: _Layer, after: _Layer) -> Points:
    """Of every place before with every place after: longest distance, and what the boxes in the way add."""
    a = np.repeat(before.points, len(after.places), axis=0)
    b = np.tile(after.points, (len(before.places), 1))
    here, there = before.places[0].member, after.places[0].member
    cost, _ = farthest_and_nearest(envelope.moves(here, there), a - b, envelope.full)
    for box in envelope.boxes:
        first, last = snag_shares(envelope, (here, a), (there, b), box, envelope.full)
        cost += np.where(first < last, _SNAG_MM, 0.0)
    return np.asarray(cost.reshape(len(before.places), len(after.places)))


def _places(span: Range) -> list[float]:
    """The middle of a side, and near its edges where it is long enough for that."""
    middle = (span[0] + span[1]) / 2
    return [span[0] + _EDGE_MM, middle, span[1] - _EDGE_MM] if span[1] - span[0] > 3 * _EDGE_MM else [middle]


def _in(point: Triple, box: Box) -> bool:
    return all(low < p < high for p, low, high in zip(point, box.min_mm, box.max_mm, strict=True))
