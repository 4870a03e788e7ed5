"""Parts to make: blocks, angles, rings and sheet with holes and cuts on several faces, each from its own datum corner.

A part's face is ``length`` along x by ``width`` along y, seen from the front; its ``leg`` is the other leg of an angle,
seen from outside with the bend below. Ends and edges are seen square from outside, x along their longer side as the
face has it, y across the thickness from the back. Lengths in mm.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, get_args

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import Material
from vernus.core.make.joint import Into

PartKind = Literal[
    "standoff", "plate", "angle", "bridge", "t-nut", "stud", "spacer", "ring", "cover", "deflector", "face"
]  # fmt: skip
PartFace = Literal["face", "leg", "left", "right", "lower", "upper", "back"]
HoleKind = Literal[
    "tapped", "clearance", "counterbored", "countersunk", "slot", "counterbored slot", "countersunk slot", "bore",
    "plain", "jack",
]  # fmt: skip
CutKind = Literal["step", "tongue", "pocket", "relief", "opening", "keep clear"]
PART_FACES: tuple[PartFace, ...] = get_args(PartFace)
FACE_WORDS: dict[PartFace, str] = {
    "face": "face", "leg": "other leg", "left": "left end", "right": "right end", "lower": "lower edge",
    "upper": "upper edge", "back": "back",
}  # fmt: skip
_OTHER_SIDE: dict[PartFace, PartFace] = {"left": "right", "right": "left"}


@dataclass(frozen=True)
class PartHole:
    """A hole of a part; ``adjust_mm`` is how far a slot lets the screw go either way along ``angle_deg`` from x.

    A ``plain`` hole is drilled ``bore_mm`` wide right through, whatever its screw is. A ``jack`` hole is tapped right
    through for a screw that pushes the part off. A ``bore`` takes no screw, ``bore_mm`` wide and ``depth_mm`` deep
    (None: through), such as a bearing pocket.
    ``depth_mm`` of a tapped hole is how deep its thread has to be (None: by the material). ``into`` is what its screw
    goes into, None while that is not known. ``behind_mm`` is the filled gap behind it that its screw passes,
    ``through_mm`` the other part or wall it goes right through, ``nut`` whether it ends in a nut behind all that,
    ``there`` the thread it finds, None where it is made as deep as the screw wants. ``far_side``: worked from the side
    that looks at the machine, its place still as seen from outside. ``over_mm`` is the room over its head, None where
    nothing lies there.
    """

    x_mm: float
    y_mm: float
    kind: HoleKind
    thread: str
    adjust_mm: float = 0.0
    bore_mm: float = 0.0
    depth_mm: float | None = None
    face: PartFace = "face"
    angle_deg: float = 0.0
    into: Material | None = None
    behind_mm: float = 0.0
    through_mm: float = 0.0
    nut: bool = False
    there: Into | None = None
    over_mm: float | None = None
    far_side: bool = False

    @property
    def is_slot(self) -> bool:
        """Whether its screw can be moved along it."""
        return "slot" in self.kind

    @property
    def is_passed(self) -> bool:
        """Whether a screw goes through it into something else."""
        return passes_screw(self.kind)

    @property
    def is_tapped(self) -> bool:
        """Whether a thread is cut into it."""
        return self.kind in ("tapped", "jack")


def passes_screw(kind: str) -> bool:
    """Whether a screw goes through a hole of a kind into something else."""
    return kind not in ("tapped", "jack", "bore")


@dataclass(frozen=True)
class PartCut:
    """What is milled of a face, or left standing of it (a tongue): lower left corner, sizes and depth or height.

    An ``opening`` goes right through, whatever depth it has. A place to ``keep clear`` isn't cut: neither metal nor a
    hole may be there.
    """

    kind: CutKind
    face: PartFace
    x_mm: float
    y_mm: float
    wide_mm: float
    high_mm: float
    depth_mm: float


@dataclass(frozen=True)
class Part:
    """A part: a block of length × width × thickness (mm) with holes and cuts; a ``face`` is a place on the machine.

    ``leg_mm`` is how far the other leg of an angle goes, outside; ``bend_deg`` the angle between its legs.
    """

    name: str
    kind: PartKind
    length_mm: float
    width_mm: float
    thickness_mm: float
    material: Material
    holes: tuple[PartHole, ...] = ()
    cuts: tuple[PartCut, ...] = ()
    leg_mm: float = 0.0
    bend_deg: float = 90.0

    def __post_init__(self) -> None:
        if not (self.length_mm > 0 and self.width_mm > 0 and self.thickness_mm > 0):
            raise BadInputError(f"{self.name}: length, width and thickness must be larger than zero.")
        if self.leg_mm < 0 or not 20 <= self.bend_deg <= 160:
            raise BadInputError(f"{self.name}: a leg can't be negative, nor the angle between legs beyond 20 to 160°.")
        for hole in self.holes:
            if hole.face == "leg" and not self.has_leg:
                raise BadInputError(f"{self.name} has a hole on its other leg but no such leg; give the leg its size.")

    @property
    def has_leg(self) -> bool:
        """Whether it is an angle with two legs."""
        return self.kind == "angle" and self.leg_mm > 0

    @property
    def seen(self) -> str:
        """From where its places are seen, where something is worked from the other side; "" where nothing is."""
        pocket = any(h.far_side for h in self.holes)
        return "seen from outside; pocket from the machine's side" if pocket else ""

    def size_of(self, face: PartFace) -> tuple[float, float, float]:
        """Along, across and behind a face (mm): what a drill meets there before it comes out again."""
        long, wide, thick = self.length_mm, self.width_mm, self.thickness_mm
        return {
            "face": (long, wide, thick), "back": (long, wide, thick), "leg": (long, self.leg_mm, thick),
            "left": (wide, thick, long), "right": (wide, thick, long),
            "lower": (long, thick, wide), "upper": (long, thick, wide),
        }[face]  # fmt: skip

    def faces_used(self) -> list[PartFace]:
        """The front and every other face that has holes or cuts, the other leg of an angle always."""
        used = (
            {h.face for h in self.holes} | {c.face for c in self.cuts} | {"face"} | ({"leg"} if self.has_leg else set())
        )
        return [f for f in PART_FACES if f in used]


def mirrored(part: Part, name: str) -> Part:
    """The other hand of a part: everything counted from the right edge, what was on one end now on the other."""
    holes = tuple(_mirrored_hole(part, h) for h in part.holes)
    cuts = tuple(
        replace(c, face=_OTHER_SIDE.get(c.face, c.face),
                x_mm=c.x_mm if c.face in _OTHER_SIDE else part.size_of(c.face)[0] - c.x_mm - c.wide_mm)
        for c in part.cuts
    )  # fmt: skip
    return replace(part, name=name, holes=holes, cuts=cuts)


def _mirrored_hole(part: Part, hole: PartHole) -> PartHole:
    if hole.face in _OTHER_SIDE:
        return replace(hole, face=_OTHER_SIDE[hole.face])
    turned = (180.0 - hole.angle_deg) % 180.0 if hole.is_slot else hole.angle_deg
    return replace(hole, x_mm=part.size_of(hole.face)[0] - hole.x_mm, angle_deg=turned)
