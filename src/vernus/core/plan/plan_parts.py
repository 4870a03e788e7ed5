"""The solids a planned scale brings with it: body, reader, bracket, cover and cable stub on their members.

A face has a corner ``at`` (the middle of its height at its left end as one faces it), runs ``along`` one coordinate,
and looks ``out`` along another; ``up`` is the third. The body lies on the face with its lips down, the reader below
it. Sizes that no family states are common practice, no source. Lengths in mm, with every axis at 0.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from vernus.core.errors import BadInputError
from vernus.core.machine.envelope import COORDINATES, Box, Triple
from vernus.core.plan.scales import ScaleFamily

READER_FROM_FACE_MM = 3.0
TILT_MRAD = 0.1
"""How far ways tilt that nobody measured; common practice, no source."""
BRACKET_MM = 8.0
BRACKET_DROP_MM = 8.0
BRACKET_RISE_MM = 35.0
COVER_MM = 3.0
STUB_MM = 30.0
STUB_SIDE_MM = 12.0


@dataclass(frozen=True)
class FacePlace:
    """Where a face lies: directions are ``+x`` … ``-z``, all three different."""

    member: str
    reader_member: str
    at_mm: Triple
    along: str
    out: str
    length_mm: float
    reader_from_above: bool = False

    def __post_init__(self) -> None:
        for word in (self.along, self.out):
            if len(word) != 2 or word[0] not in "+-" or word[1] not in COORDINATES:
                raise BadInputError(f"A direction is one of +x, -x, +y, -y, +z, -z; “{word}” was given.")
        if self.along[1] == self.out[1]:
            raise BadInputError("A face can't look along its own length.")
        if not self.length_mm > 0:
            raise BadInputError("The face must be longer than zero.")

    @property
    def up(self) -> str:
        """The direction across the face: upward where there is a choice, otherwise away from the operator."""
        return "+" + next(c for c in COORDINATES if c not in (self.along[1], self.out[1]))

    def point(self, along_mm: float, up_mm: float, out_mm: float) -> Triple:
        """A place given in the face's own directions, in machine coordinates."""
        place = list(self.at_mm)
        for word, mm in ((self.along, along_mm), (self.up, up_mm), (self.out, out_mm)):
            place[COORDINATES.index(word[1])] += mm if word[0] == "+" else -mm
        return place[0], place[1], place[2]

    def solid(
        self, name: str, member: str, along: tuple[float, float], up: tuple[float, float], out: tuple[float, float]
    ) -> Box:
        """A box given by its spans in the face's own directions."""
        p, q = self.point(along[0], up[0], out[0]), self.point(along[1], up[1], out[1])
        low = tuple(min(a, b) for a, b in zip(p, q, strict=True))
        high = tuple(max(a, b) for a, b in zip(p, q, strict=True))
        group = name.rsplit(" ", 1)[0]
        return Box(name, member, (low[0], low[1], low[2]), (high[0], high[1], high[2]), group=group)


@dataclass(frozen=True)
class ScaleBulk:
    """What the planned scale needs of room: overall length, where it starts on the face, and its options."""

    family: ScaleFamily
    overall_mm: float
    start_mm: float
    reader_at_mm: float
    cover: bool = True
    clearance_mm: float = 0.0
    stand_off_mm: float = 0.0
    block_mm: float = 0.0
    """Length of the block at each end that holds the body off; 0: a plate as long as the body does."""
    bracket_mm: Triple | None = None
    """The reader's bracket as made: along the scale, across it, and its thickness; None while it is only assumed."""
    bracket_thick_mm: float = BRACKET_MM
    """How thick the reader's bracket is while none is made: as it came, or as such brackets usually are."""
    across_mm: float = 0.0
    """How far the body lies from the face's line, upward where there is a choice, away from the operator elsewhere."""

    @property
    def depth_mm(self) -> float:
        """How far the deepest part stands out from the face, the clearance left away."""
        thick = self.bracket_thick_mm if self.bracket_mm is None else self.bracket_mm[2]
        deepest = READER_FROM_FACE_MM + self.family.reader_section_mm[1] + thick
        return self.stand_off_mm + max(deepest, self.family.section_mm[1] + (COVER_MM if self.cover else 0.0))


def centred_start(face_mm: float, overall_mm: float) -> float:
    """Where a body starts on its face when its middle is the face's middle; negative when it is longer."""
    return (face_mm - overall_mm) / 2


def body_start(
    face_mm: float, overall_mm: float, reader_at_mm: float, reader_mm: float, carrier_mm: tuple[float, float] | None
) -> float:
    """Where a body starts on its face: as near to the face's middle as keeps its reader beside what carries that.

    ``reader_at_mm`` is the reader's middle from the body's left end, ``carrier_mm`` the span of what carries the
    reader, from the face's left end, both where the boxes are drawn. The body never leaves its face for it.
    """
    start = centred_start(face_mm, overall_mm)
    if carrier_mm is None:
        return start
    half = min(reader_mm, carrier_mm[1] - carrier_mm[0]) / 2
    beside = min(max(start + reader_at_mm, carrier_mm[0] + half), carrier_mm[1] - half) - reader_at_mm
    room = sorted((0.0, face_mm - overall_mm))
    return min(max(beside, room[0]), room[1])


def beyond_carrier(bulk: ScaleBulk, carrier_mm: tuple[float, float]) -> float:
    """How far (mm) the reader stands beyond the end of what carries it; 0 while half of it is beside that."""
    middle = bulk.start_mm + bulk.reader_at_mm
    return max(0.0, carrier_mm[0] - middle, middle - carrier_mm[1])


def scale_parts(place: FacePlace, bulk: ScaleBulk, name: str) -> list[Box]:
    """Body, reader, bracket, cover and cable stub, each with the clearance on every side but the face's.

    ``bulk.reader_at_mm`` is the reader's middle from the body's left end with the axis at 0.
    """
    return list(_scale_parts(place, bulk, name))


@lru_cache(maxsize=4096)
def _scale_parts(place: FacePlace, bulk: ScaleBulk, name: str) -> tuple[Box, ...]:
    """As ``scale_parts``; what a job rests on is found by trying the same few parts again and again."""
    place = replace(place, at_mm=place.point(0.0, bulk.across_mm, 0.0))
    family, c = bulk.family, bulk.clearance_mm
    high, deep = family.section_mm[0] / 2, family.section_mm[1]
    tall, reader_deep = family.reader_section_mm
    first, last = bulk.start_mm, bulk.start_mm + bulk.overall_mm
    middle = first + bulk.reader_at_mm
    half = family.reader_mm / 2
    off = bulk.stand_off_mm
    face, far = off + READER_FROM_FACE_MM, off + READER_FROM_FACE_MM + reader_deep
    parts = [
        place.solid(f"{name} body", place.member, (first - c, last + c), (-high - c, high + c), (off, off + deep + c)),
        place.solid(
            f"{name} reader", place.reader_member, (middle - half - c, middle + half + c), (-high - tall - c, -high),
            (face, far + c),
        ),
        _bracket(place, bulk, name, (face, far)),
        place.solid(
            f"{name} stub", place.reader_member, (middle + half, middle + half + STUB_MM + c),
            (-high - tall - c, -high - tall + STUB_SIDE_MM), (face, face + STUB_SIDE_MM + c),
        ),
    ]  # fmt: skip
    if bulk.cover:
        parts.append(
            place.solid(
                f"{name} cover", place.member, (first - c, last + c), (-high, high + COVER_MM + c),
                (off, max(off + deep, far) + COVER_MM + c),
            )
        )  # fmt: skip
    return (*parts, *_held_off(place, bulk, name))


def _bracket(place: FacePlace, bulk: ScaleBulk, name: str, reader_mm: tuple[float, float]) -> Box:
    """What carries the reader: as made, or as such brackets usually are."""
    family, c = bulk.family, bulk.clearance_mm
    high, tall = family.section_mm[0] / 2, family.reader_section_mm[0]
    middle, half = bulk.start_mm + bulk.reader_at_mm, family.reader_mm / 2
    face, far = reader_mm
    above = place.reader_from_above
    thick, low, top = bulk.bracket_thick_mm, -high - tall - (0.0 if above else BRACKET_DROP_MM), high + BRACKET_RISE_MM
    if bulk.bracket_mm is not None:
        half, thick = max(half, bulk.bracket_mm[0] / 2), bulk.bracket_mm[2]
        low, top = (low, low + bulk.bracket_mm[1]) if above else (-high - bulk.bracket_mm[1], -high)
    up = (low - c, top + c) if above else (low - c, -high)
    out = (far if above else face, far + thick + c)
    return place.solid(f"{name} bracket", place.reader_member, (middle - half - c, middle + half + c), up, out)


def assumed_bracket(place: FacePlace, bulk: ScaleBulk) -> Triple:
    """What a reader's bracket is reckoned with while none is made: along the scale, across it, and its thickness."""
    high, tall = bulk.family.section_mm[0], bulk.family.reader_section_mm[0]
    wide = high + tall + BRACKET_RISE_MM if place.reader_from_above else tall + BRACKET_DROP_MM
    return bulk.family.reader_mm, wide, bulk.bracket_thick_mm


def _held_off(place: FacePlace, bulk: ScaleBulk, name: str) -> list[Box]:
    """What holds the body off its face: a block at each end, or a plate as long as the body."""
    if bulk.stand_off_mm <= 0:
        return []
    first, last, high = bulk.start_mm, bulk.start_mm + bulk.overall_mm, bulk.family.section_mm[0] / 2
    long = min(bulk.block_mm, bulk.overall_mm / 2)
    spans = [(first, first + long), (last - long, last)] if long > 0 else [(first, last)]
    words = ("left block", "right block") if long > 0 else ("plate",)
    return [
        replace(place.solid(f"{name} part", place.member, span, (-high, high), (0.0, bulk.stand_off_mm)),
                name=f"{name} {word}", group=name)
        for word, span in zip(words, spans, strict=True)
    ]  # fmt: skip


def is_part(box: Box, what: str) -> bool:
    """Whether a box is that part of a planned scale: ``body``, ``reader``, ``bracket``, ``stub`` or ``cover``."""
    return bool(box.group) and box.name == f"{box.group} {what}"


MOST_OFF_MM = 80.0
"""The farthest a body is ever held off its face; common practice, no source."""
PROPOSED_OFF_MM = 40.0
"""How far off a body is put by itself, where nobody said it; farther is asked about."""
MOST_ACROSS_MM = 60.0
"""How far across its face a body is moved by itself; farther it is another face."""
AIR_MM = 1.0
"""What is left between a part moved clear and what it was moved clear of."""
_MADE_TO_FIT = ("bracket", "stub", "block", "plate")


def clearing_off(place: FacePlace, parts: Sequence[Box], castings: Sequence[Box]) -> float | None:
    """How far (mm) a body has to be held off its face so that neither it nor its reader stands in what they ride on.

    ``parts`` are its ``solid_parts``. None where nothing up to ``MOST_OFF_MM`` clears.
    """
    c, sign = COORDINATES.index(place.out[1]), 1 if place.out[0] == "+" else -1
    across = [n for n in range(len(COORDINATES)) if n != c]
    pairs = [_along(c, sign, part, there) for part in parts for there in _beside(part, castings, across)]
    off = 0.0
    while off <= MOST_OFF_MM:
        deep = [top - low - off for low, high, base, top in pairs if low + off < top - _HAIR_MM and base < high + off]
        if not deep:
            return round(off, 2)
        off += max(deep) + _HAIR_MM
    return None


def clearing_across(place: FacePlace, bulk: ScaleBulk, castings: Sequence[Box], on: Box) -> float | None:
    """How far (mm) across its face a body lying right on it is moved at least to clear the castings it rides with.

    None where nothing clears as long as body and cover stay beside ``on``, the casting that they lie on.
    """
    u, parts = COORDINATES.index(place.up[1]), solid_parts(place, bulk)
    mine = [p for p in parts if p.member == on.member]
    least = max(on.min_mm[u] - min(p.min_mm[u] for p in mine), -MOST_ACROSS_MM)
    most = min(on.max_mm[u] - max(p.max_mm[u] for p in mine), MOST_ACROSS_MM)
    pairs = [(p, b) for p in parts for b in castings if p.member == b.member]
    ways = [w for p, b in pairs for w in (b.max_mm[u] - p.min_mm[u] + AIR_MM, b.min_mm[u] - p.max_mm[u] - AIR_MM)]
    for way in sorted((w for w in ways if least <= w <= most), key=abs):
        moved = replace(bulk, across_mm=bulk.across_mm + way)
        if clearing_off(place, solid_parts(place, moved), castings) == 0.0:
            return round(way, 2)
    return None


def solid_parts(place: FacePlace, bulk: ScaleBulk) -> list[Box]:
    """Body, reader and cover right on the face, without the air wanted.

    Brackets, stubs and blocks are made to what they are screwed to.
    """
    parts = scale_parts(place, replace(bulk, stand_off_mm=0.0, clearance_mm=0.0), "the scale")
    return [p for p in parts if not any(p.name.endswith(f" {word}") for word in _MADE_TO_FIT)]


_HAIR_MM = 0.005


def _beside(part: Box, castings: Sequence[Box], across: Sequence[int]) -> list[Box]:
    """What a part rides with and can meet by going off its face."""
    (u, v), low, high = across, part.min_mm, part.max_mm
    left, right, near, far = low[u] + _HAIR_MM, high[u] - _HAIR_MM, low[v] + _HAIR_MM, high[v] - _HAIR_MM
    return [
        b
        for b in castings
        if b.max_mm[u] > left and b.min_mm[u] < right and b.max_mm[v] > near and b.min_mm[v] < far
        and b.member == part.member
    ]  # fmt: skip


def _along(c: int, sign: int, part: Box, there: Box) -> tuple[float, float, float, float]:
    """From where to where a part and a casting reach, counted outward from the face's plane."""
    ends = (part.min_mm[c], part.max_mm[c], there.min_mm[c], there.max_mm[c])
    return ends if sign > 0 else (-ends[1], -ends[0], -ends[3], -ends[2])


def abbe_offset(place: FacePlace, bulk: ScaleBulk, tool_mm: Triple) -> float:
    """Distance (mm) of the tool from the line along which the scale measures."""
    middle = place.point(place.length_mm / 2, bulk.across_mm, bulk.family.section_mm[1] / 2)
    skip = COORDINATES.index(place.along[1])
    return math.dist(*([v for n, v in enumerate(p) if n != skip] for p in (middle, tool_mm)))


def abbe_error(offset_mm: float, tilt_mrad: float = TILT_MRAD) -> float:
    """Reading error (mm) that a tilt of the axis makes over an offset: offset × angle."""
    return offset_mm * tilt_mrad / 1000


def first_hole(start_mm: float, from_end_mm: float) -> float:
    """The first mounting hole (mm from the face's left end), ``from_end_mm`` from the body's own end."""
    return start_mm + from_end_mm
