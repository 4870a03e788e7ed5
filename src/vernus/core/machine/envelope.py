"""A machine as boxes on moving members, so that it can be told which of them meet and what travel is left.

Members form a tree; each axis moves one member along one machine coordinate; boxes are given with every axis at 0. For
a pair (A on a, B on b) the displacement of A relative to B in coordinate c is d_c = Σ ±q_k over the axes between them.
They meet iff for every c: B.min_c − A.max_c < d_c < B.max_c − A.min_c (touching is not meeting; a clearance wanted
widens the interval by itself). All lengths in mm. The pairs are in
``vernus.core.machine.meetings``, the solver in ``vernus.core.machine.travel_kept``.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

from vernus.core.errors import BadInputError

COORDINATES = "xyz"
UPRIGHT = "upright"
Triple = tuple[float, float, float]
Range = tuple[float, float]


@dataclass(frozen=True)
class EnvelopeAxis:
    """One axis: the coordinate it drives, as ``+x`` … ``-z``, its range, its home, and what it is worth."""

    id: str
    direction: str
    from_mm: float
    to_mm: float
    home_mm: float = 0.0
    weight: float = 1.0
    minimum_mm: float = 0.0
    by_hand: bool = False
    """Whether the member is slid along by hand, such as a tailstock: it is put aside and costs no travel."""

    def __post_init__(self) -> None:
        if len(self.direction) != 2 or self.direction[0] not in "+-" or self.direction[1] not in COORDINATES:
            raise BadInputError(
                f"Axis {self.id}: the direction is one of +x, -x, +y, -y, +z, -z; “{self.direction}” was given. "
                "An axis at an angle (a compound slide) can't be solved exactly and is refused."
            )
        if not all(map(math.isfinite, (self.from_mm, self.to_mm, self.home_mm, self.weight, self.minimum_mm))):
            raise BadInputError(f"Axis {self.id}: every length must be a finite number.")
        if not self.from_mm < self.to_mm:
            raise BadInputError(f"Axis {self.id}: it must go from a smaller to a larger position.")
        if not self.from_mm <= self.home_mm <= self.to_mm:
            raise BadInputError(f"Axis {self.id}: home must lie between {self.from_mm:g} and {self.to_mm:g} mm.")
        if self.weight < 0 or not 0 <= self.minimum_mm <= self.travel_mm:
            raise BadInputError(
                f"Axis {self.id}: weight and minimum can't be negative, nor the minimum above the travel."
            )

    @property
    def coordinate(self) -> int:
        """0, 1 or 2 for x, y or z."""
        return COORDINATES.index(self.direction[1])

    @property
    def sign(self) -> int:
        """+1 when a growing position moves the member toward growing coordinates."""
        return 1 if self.direction[0] == "+" else -1

    @property
    def travel_mm(self) -> float:
        """Its whole travel."""
        return self.to_mm - self.from_mm


@dataclass(frozen=True)
class Member:
    """A part of the machine: what it sits on, and the axis that moves it there (None: fixed to it)."""

    id: str
    on: str | None = None
    axis: str | None = None


@dataclass(frozen=True)
class Box:
    """A solid on a member, in machine coordinates with every axis at 0. ``pose`` "" is there in every pose.

    Boxes of one ``group`` are made to run on each other (a scale and its reader) and are not compared. ``own`` is metal
    that came with the machine: only two of those can be exempt. ``turns`` is a wheel or a chuck.
    """

    name: str
    member: str
    min_mm: Triple
    max_mm: Triple
    pose: str = ""
    group: str = ""
    own: bool = False
    turns: bool = False

    def __post_init__(self) -> None:
        if len(self.min_mm) != 3 or len(self.max_mm) != 3:
            raise BadInputError(f"Box {self.name}: three coordinates are wanted for min_mm and for max_mm.")
        if not all(map(math.isfinite, (*self.min_mm, *self.max_mm))):
            raise BadInputError(f"Box {self.name}: every coordinate must be a finite number.")
        for c, low, high in zip(COORDINATES, self.min_mm, self.max_mm, strict=True):
            if low > high:
                raise BadInputError(f"Box {self.name}: min_mm is larger than max_mm in {c}.")

    @property
    def volume_mm3(self) -> float:
        """How much room it takes."""
        return math.prod(high - low for low, high in zip(self.min_mm, self.max_mm, strict=True))


@dataclass(frozen=True)
class Moves:
    """d_c of one member against another: per coordinate the (axis id, ±1) that add up to it."""

    by_coordinate: tuple[tuple[tuple[str, int], ...], ...]

    def displacement(self, c: int, at: Mapping[str, float]) -> float:
        """d_c (mm) with the axes at ``at``."""
        return sum(sign * at[axis] for axis, sign in self.by_coordinate[c])

    def span(self, c: int, ranges: Mapping[str, Range]) -> Range:
        """Least and greatest d_c (mm) while each axis stays in its range."""
        low = high = 0.0
        for axis, sign in self.by_coordinate[c]:
            ends = (sign * ranges[axis][0], sign * ranges[axis][1])
            low, high = low + min(ends), high + max(ends)
        return low, high


@dataclass(frozen=True)
class Envelope:
    """A machine as members, axes and boxes; validated when made."""

    members: tuple[Member, ...]
    axes: tuple[EnvelopeAxis, ...]
    boxes: tuple[Box, ...]
    clearance_mm: float = 0.0
    minded: frozenset[frozenset[str]] = frozenset()
    """Pairs of members that the operator keeps apart at work, such as the quill and the table: they cost no travel."""
    exempt: Mapping[frozenset[str], str] = field(default_factory=dict, hash=False)
    """Pairs of the machine's own boxes, by name, that are not compared, and why."""
    _paths: dict[str, dict[str, tuple[int, int]]] = field(init=False, repr=False, compare=False, default_factory=dict)

    def __post_init__(self) -> None:
        if not (math.isfinite(self.clearance_mm) and self.clearance_mm >= 0):
            raise BadInputError("The clearance must be zero or more.")
        for what, names in (("member", [m.id for m in self.members]), ("axis", [a.id for a in self.axes])):
            twice = next((n for n in names if names.count(n) > 1), None)
            if twice is not None:
                raise BadInputError(f"There are two {what} entries called “{twice}”.")
        axes, members = {a.id: a for a in self.axes}, {m.id: m for m in self.members}
        driven = [m.axis for m in self.members if m.axis is not None]
        for member in self.members:
            if member.on is not None and member.on not in members:
                raise BadInputError(f"Member {member.id} sits on “{member.on}”, which is not there.")
            if member.axis is not None and member.axis not in axes:
                raise BadInputError(f"Member {member.id} is moved by “{member.axis}”, which is not an axis.")
            if member.axis is not None and (member.on is None or driven.count(member.axis) > 1):
                raise BadInputError(f"Axis {member.axis} must move exactly one member on another one.")
            self._paths[member.id] = _path(member, members, axes)
        for box in self.boxes:
            if box.member not in members:
                raise BadInputError(f"Box {box.name} is on “{box.member}”, which is not a member.")

    @property
    def full(self) -> dict[str, Range]:
        """Every axis's whole range."""
        return {a.id: (a.from_mm, a.to_mm) for a in self.axes}

    @property
    def home(self) -> dict[str, float]:
        """Every axis's home."""
        return {a.id: a.home_mm for a in self.axes}

    def offset(self, member: str, at: Mapping[str, float]) -> Triple:
        """How far a member stands from its place at 0 (mm) with the axes at ``at``."""
        moved = [0.0, 0.0, 0.0]
        for axis, (c, sign) in self._paths[member].items():
            moved[c] += sign * at[axis]
        return moved[0], moved[1], moved[2]

    def swept(self) -> dict[str, tuple[Range, Range, Range]]:
        """How far (mm) each member goes each way in x, y and z while every axis goes over its whole range."""
        root, full, found = self.members[0].id, self.full, dict[str, tuple[Range, Range, Range]]()
        for member in self.members:
            moves = self.moves(member.id, root)
            found[member.id] = moves.span(0, full), moves.span(1, full), moves.span(2, full)
        return found

    def driven(self, moves: Moves) -> Moves:
        """The part of a displacement that cranks make; what is slid by hand stands as drawn."""
        by_hand = {a.id for a in self.axes if a.by_hand}
        if not by_hand:
            return moves
        return Moves(tuple(tuple(t for t in terms if t[0] not in by_hand) for terms in moves.by_coordinate))

    def moves(self, a: str, b: str) -> Moves:
        """How member ``a`` moves against member ``b``; axes below their common member fall out."""
        lists: tuple[list[tuple[str, int]], ...] = ([], [], [])
        mine, other = self._paths[a], self._paths[b]
        for axis, (c, sign) in mine.items():
            if axis not in other:
                lists[c].append((axis, sign))
        for axis, (c, sign) in other.items():
            if axis not in mine:
                lists[c].append((axis, -sign))
        return Moves(tuple(tuple(part) for part in lists))


def _path(
    member: Member, members: Mapping[str, Member], axes: Mapping[str, EnvelopeAxis]
) -> dict[str, tuple[int, int]]:
    """The axes between a member and the root: axis id → (coordinate, sign)."""
    path: dict[str, tuple[int, int]] = {}
    seen: set[str] = set()
    at: Member | None = member
    while at is not None:
        if at.id in seen:
            raise BadInputError(f"Member {member.id} sits on itself in a circle.")
        seen.add(at.id)
        if at.axis is not None:
            path[at.axis] = (axes[at.axis].coordinate, axes[at.axis].sign)
        at = None if at.on is None else members[at.on]
    return path


def tilted_box(box: Box, about: str, angle_deg: float, pivot_mm: Triple, pose: str) -> Box:
    """The safe axis-aligned bound of ``box`` tilted about the coordinate axis ``about`` through ``pivot_mm``."""
    c = COORDINATES.index(about)
    u, v = [n for n in range(3) if n != c]
    cos, sin = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
    corners = [
        (
            pivot_mm[u] + cos * (p - pivot_mm[u]) - sin * (q - pivot_mm[v]),
            pivot_mm[v] + sin * (p - pivot_mm[u]) + cos * (q - pivot_mm[v]),
        )
        for p in (box.min_mm[u], box.max_mm[u])
        for q in (box.min_mm[v], box.max_mm[v])
    ]
    low, high = list(box.min_mm), list(box.max_mm)
    for place, values in ((u, [p for p, _ in corners]), (v, [q for _, q in corners])):
        low[place], high[place] = min(values), max(values)
    return Box(box.name, box.member, (low[0], low[1], low[2]), (high[0], high[1], high[2]), pose)
