"""What is received and made."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from vernus.job.entities.base import Entity, Hung, Name, Number
from vernus.job.fields import LengthEntry, Quantity


class Delivery(Entity):
    """What arrived for an axis; its figures replace the plan's from then on.

    ``came`` and ``lacking`` are the names of the contents that were ticked as there, and as missing.
    """

    kind = "delivery"
    axis_id: str
    measuring: Annotated[LengthEntry | None, Quantity("Measuring length", low=0, low_open=True, judged="scale")] = None
    overall: Annotated[LengthEntry | None, Quantity("True body length", low=0, low_open=True, judged="body")] = None
    hole_from_end: Annotated[LengthEntry | None, Quantity("First hole from its end", low=0, judged="end_hole")] = None
    hole_thread: Annotated[Name, Quantity("Its holes and threads", "text")] = ""
    reader: Annotated[LengthEntry | None, Quantity("Reader, length", low=0, low_open=True, judged="reader")] = None
    reader_columns: Annotated[
        Number | None, Quantity("Reader's holes, how many along it", "number", low=1, high=20)
    ] = None
    reader_apart: Annotated[LengthEntry | None, Quantity("… apart along it", low=0, low_open=True, judged="part")] = (
        None
    )
    reader_rows: Annotated[Number | None, Quantity("Reader's holes, how many rows", "number", low=1, high=20)] = None
    reader_rows_apart: Annotated[LengthEntry | None, Quantity("… rows apart", low=0, low_open=True, judged="part")] = (
        None
    )
    reader_thread: Annotated[
        Name, Quantity("Reader's threads", "text", help="Such as M4, 8-32 or 4 BA, tried with a screw.")
    ] = ""
    reader_depth: Annotated[
        LengthEntry | None, Quantity("Reader's threads, how deep", low=0, low_open=True, judged="deep")
    ] = None
    support_apart: Annotated[
        LengthEntry | None, Quantity("Rod's supports, apart", low=0, low_open=True, judged="scale_part")
    ] = None
    support_thread: Annotated[
        Name, Quantity("Supports' threads", "text", help="Such as M8 or M8x1.25, tried with a nut.")
    ] = ""
    bracket: Annotated[
        LengthEntry | None, Quantity("Reader's bracket, thickness", low=0, low_open=True, judged="thick")
    ] = None
    cable: Annotated[LengthEntry | None, Quantity("Cable length", low=0, low_open=True, judged="cable")] = None
    missing: Annotated[Name, Quantity("Missing or unsuitable", "text")] = ""
    keep: Annotated[Name, Quantity("Small parts kept, and where", "text")] = ""
    came: tuple[Name, ...] = ()
    lacking: tuple[Name, ...] = ()


PartFaceName = Literal["face", "leg", "left", "right", "lower", "upper", "back"]
_FACES = (
    ("face", "face"), ("leg", "other leg"), ("left", "left end"), ("right", "right end"), ("lower", "lower edge"),
    ("upper", "upper edge"), ("back", "back"),
)  # fmt: skip
HoleKindName = Literal[
    "tapped", "clearance", "counterbored", "countersunk", "slot", "counterbored slot", "countersunk slot", "bore",
    "plain", "jack",
]  # fmt: skip
_HOLE_KINDS = (
    ("tapped", "tapped"), ("clearance", "a clearance hole"), ("counterbored", "counterbored"),
    ("countersunk", "countersunk"), ("slot", "a slot"), ("counterbored slot", "a counterbored slot"),
    ("countersunk slot", "a countersunk slot"), ("bore", "a bore, such as a bearing pocket"),
    ("plain", "a plain hole of a diameter"), ("jack", "tapped for a jack screw"),
)  # fmt: skip


_ROUND = ("hole_kind", ("bore", "plain"))
_SLOTTED = ("hole_kind", ("slot", "counterbored slot", "countersunk slot"))
_MADE = (
    "part_kind", ("standoff", "plate", "angle", "bridge", "t-nut", "stud", "spacer", "ring", "cover", "deflector"),
)  # fmt: skip

_NOT_ROUND = ("part_kind", (*(k for k in _MADE[1] if k != "ring"), "face"))
_PASSED = (
    "hole_kind",
    ("clearance", "counterbored", "countersunk", "slot", "counterbored slot", "countersunk slot", "plain"),
)
_NUT_CHOICES = (("no", "a thread"), ("yes", "a nut behind"))
_ON_A_FACE = ("part_kind", ("standoff", "plate", "angle", "bridge", "spacer"))


class MountPart(Hung):
    """A part to make, or a face of the machine to drill.

    ``bolts_to`` is the id of the part it is screwed to, or ``machine``, ``scale`` or ``reader``. ``gap`` is the gap
    that it fills along its size ``fills``, measured once the others are held in place. Where nothing is said of what it
    ``carries``, blocks and plates hold the body off its face, angles and bridges carry the reader.
    """

    kind = "part"
    axis_id: str
    name: Annotated[Name, Quantity("Part", "text")] = ""
    part_kind: Annotated[
        Literal[
            "standoff", "plate", "angle", "bridge", "t-nut", "stud", "spacer", "ring", "cover", "deflector", "face"
        ],
        Quantity(
            "It is",
            "choice",
            choices=(
                ("standoff", "standoff block"), ("plate", "backing plate"), ("angle", "angle bracket"),
                ("bridge", "bridge plate"), ("t-nut", "T-nut bar"), ("stud", "stud with large washers"),
                ("spacer", "spacer"), ("ring", "ring on a collar"), ("cover", "cover or way cover"),
                ("deflector", "chip or drain deflector"), ("face", "face of the machine"),
            ),
        ),
    ] = "standoff"  # fmt: skip
    length: Annotated[LengthEntry, Quantity("Length", low=0, low_open=True, judged="scale_part", when=_NOT_ROUND)] = (
        LengthEntry(mm=60)
    )
    width: Annotated[LengthEntry, Quantity("Width", low=0, low_open=True, judged="part", when=_NOT_ROUND)] = (
        LengthEntry(mm=25)
    )
    thickness: Annotated[LengthEntry, Quantity("Thickness", low=0, low_open=True, judged="thick")] = LengthEntry(mm=12)
    leg: Annotated[
        LengthEntry | None,
        Quantity("Other leg, outside", low=0, low_open=True, judged="part", when=("part_kind", ("angle",))),
    ] = None
    bend_deg: Annotated[
        Number, Quantity("Angle between its legs, °", "number", low=20, high=160, when=("part_kind", ("angle",)))
    ] = 90.0
    material: Annotated[
        Literal["steel", "tough-steel", "stainless", "cast-iron", "aluminium", "brass", "plastic", "sheet"],
        Quantity(
            "Material",
            "choice",
            choices=tuple(
                (m, {"sheet": "sheet metal"}.get(m, m.replace("-", " ")))
                for m in (
                    "steel",
                    "tough-steel",
                    "stainless",
                    "cast-iron",
                    "aluminium",
                    "brass",
                    "plastic",
                    "sheet",
                )
            ),
        ),
    ] = "aluminium"
    serves: Annotated[
        Literal["", "body", "way"],
        Quantity(
            "It covers",
            "choice",
            choices=(("", "as its sizes say"), ("body", "the scale's body"), ("way", "the ways, over the travel")),
            when=("part_kind", ("cover",)),
        ),
    ] = ""
    nose: Annotated[
        LengthEntry | None,
        Quantity("Nose it goes round, diameter", low=0, low_open=True, judged="hole", when=("part_kind", ("ring",))),
    ] = None
    outside: Annotated[
        LengthEntry | None,
        Quantity("Outside diameter", low=0, low_open=True, judged="part", when=("part_kind", ("ring",))),
    ] = None
    bolts_to: Annotated[Name, Quantity("Bolts to", "choice", when=_MADE)] = ""
    fixed: Annotated[
        Literal["screws", "foam"],
        Quantity(
            "It is held by",
            "choice",
            choices=(("screws", "screws"), ("foam", "foam tape")),
            when=_MADE,
        ),
    ] = "screws"
    tape_thick: Annotated[
        LengthEntry,
        Quantity("Foam tape, thickness", low=0, low_open=True, judged="thick", when=("fixed", ("foam",))),
    ] = LengthEntry(mm=1.1)
    tape_wide: Annotated[
        LengthEntry | None,
        Quantity("Foam tape, width", low=0, low_open=True, judged="part", when=("fixed", ("foam",))),
    ] = None
    carries: Annotated[
        Literal["", "body", "reader", "other"],
        Quantity(
            "Carries",
            "choice",
            choices=(
                ("", "by its kind"), ("body", "the scale's body"), ("reader", "the reader"),
                ("other", "something else"),
            ), when=_MADE),
    ] = ""  # fmt: skip
    fills: Annotated[
        Literal["length", "width", "thickness"],
        Quantity(
            "It fills a gap with its",
            "choice",
            choices=(("length", "length"), ("width", "width"), ("thickness", "thickness")),
            when=_MADE,
        ),
    ] = "length"
    gap: Annotated[
        LengthEntry | None, Quantity("That gap, measured", low=0, low_open=True, judged="part", when=_MADE)
    ] = None
    room: Annotated[
        LengthEntry | None, Quantity("Room in front for drill and key", low=0, low_open=True, judged="part")
    ] = None
    stock_length: Annotated[
        LengthEntry | None, Quantity("Piece at hand, length", low=0, low_open=True, judged="part")
    ] = None
    stock_width: Annotated[
        LengthEntry | None, Quantity("Piece at hand, width", low=0, low_open=True, judged="part")
    ] = None
    stock_thick: Annotated[
        LengthEntry | None, Quantity("Piece at hand, thickness", low=0, low_open=True, judged="thick")
    ] = None
    draft_rise: Annotated[
        LengthEntry | None,
        Quantity(
            "Draft of the face: it leans by",
            "fine",
            judged="part",
            when=_ON_A_FACE,
        ),
    ] = None
    draft_over: Annotated[
        LengthEntry | None,
        Quantity(
            "… over a height of",
            low=0,
            low_open=True,
            judged="part",
            when=_ON_A_FACE,
        ),
    ] = None
    wanted: Annotated[
        LengthEntry | None,
        Quantity(
            "Height the stack must reach",
            low=0,
            low_open=True,
            judged="part",
            when=_MADE,
        ),
    ] = None

    @property
    def is_of_a_face(self) -> bool:
        """A face of the machine to drill is; what is made may serve elsewhere too."""
        return self.part_kind == "face"


_CARRIED = {"standoff": "body", "plate": "body", "angle": "reader", "bridge": "reader"}


def carried_by(part: MountPart) -> str:
    """What a part carries: ``body``, ``reader`` or ``other``."""
    return part.carries or _CARRIED.get(part.part_kind, "other")


class DrilledHole(Entity):
    """A hole of a part, from the lower left corner of one of its faces.

    ``behind`` is the gap measured behind a hole, between the casting and the part: what washers and shims fill there.
    ``over`` is the hole of the machine that it lies over and its screw goes into.
    """

    kind = "drilled"
    part_id: str
    face: Annotated[PartFaceName, Quantity("On its", "choice", choices=_FACES)] = "face"
    x: Annotated[LengthEntry, Quantity("From the left edge", judged="along")] = LengthEntry(mm=10)
    y: Annotated[LengthEntry, Quantity("From the lower edge", judged="part")] = LengthEntry(mm=10)
    hole_kind: Annotated[HoleKindName, Quantity("It is", "choice", choices=_HOLE_KINDS)] = "tapped"
    thread: Annotated[Name, Quantity("For the screw", "text", help="Such as M5, 1/4-20, 1/4 BSW or 2 BA.")] = "M5"
    follows: Annotated[
        Literal["", "first", "last"],
        Quantity(
            "Its place",
            "choice",
            choices=(("", "as entered"), ("first", "the scale's first hole"), ("last", "the scale's last hole")),
        ),
    ] = ""
    adjust: Annotated[
        LengthEntry, Quantity("A slot lets it go either way by", low=0, judged="slack", when=_SLOTTED)
    ] = LengthEntry(mm=3)
    angle: Annotated[
        Number, Quantity("A slot runs at, ° (0 along, 90 across)", "number", low=-180, high=180, when=_SLOTTED)
    ] = 0.0
    bore: Annotated[
        LengthEntry | None,
        Quantity("Diameter of a bore or plain hole", low=0, low_open=True, judged="hole", when=_ROUND),
    ] = None
    worked_from: Annotated[
        Literal["front", "back"],
        Quantity(
            "Worked from",
            "choice",
            choices=(("front", "the side it is seen from"), ("back", "behind, the machine's side")),
            when=("hole_kind", ("bore",)),
        ),
    ] = "front"
    depth: Annotated[
        LengthEntry | None,
        Quantity("Depth of bore or thread (empty: usual)", low=0, low_open=True, judged="deep"),
    ] = None
    behind: Annotated[LengthEntry | None, Quantity("Gap behind it, measured", low=0, judged="slack")] = None
    nut: Annotated[
        Literal["no", "yes"], Quantity("Its screw ends in", "choice", choices=_NUT_CHOICES, when=_PASSED)
    ] = "no"
    wall: Annotated[
        LengthEntry | None, Quantity("… through a wall of", low=0, judged="thick", when=("nut", ("yes",)))
    ] = None
    over: Name = ""


class HolePattern(Entity):
    """Holes entered once: a row, a rectangle or a circle, or those of another part, of the scale or of the reader.

    ``source`` is ``""``, ``scale``, ``reader``, ``machine`` (the holes of the chosen face) or the id of a part. Carried
    ones keep their distances; their first one lies at ``x``, ``y``; ``turned`` where the two faces look at each other.
    ``left_out`` are the places of the source that aren't carried, counted from 0; None: as proposed. All of them lie
    ``off_x``, ``off_y`` beside that.
    """

    kind = "pattern"
    part_id: str
    face: Annotated[PartFaceName, Quantity("On its", "choice", choices=_FACES)] = "face"
    shape: Annotated[
        Literal["row", "rectangle", "circle", "carried"],
        Quantity(
            "Pattern",
            "choice",
            choices=(
                ("row", "a row"),
                ("rectangle", "a rectangle"),
                ("circle", "a circle"),
                ("carried", "carried from"),
            ),
        ),
    ] = "row"
    source: Annotated[Name, Quantity("Carried from", "choice", when=("shape", ("carried",)))] = ""
    turned: Annotated[
        Literal["yes", "no"],
        Quantity(
            "The two faces",
            "choice",
            choices=(("yes", "look at each other"), ("no", "look the same way")),
            when=("shape", ("carried",)),
        ),
    ] = "yes"
    x: Annotated[LengthEntry, Quantity("First (or middle) from the left edge", judged="along")] = LengthEntry(mm=10)
    y: Annotated[LengthEntry, Quantity("First (or middle) from the lower edge", judged="part")] = LengthEntry(mm=10)
    count: Annotated[
        Number, Quantity("How many along", "number", low=1, high=100, when=("shape", ("row", "rectangle", "circle")))
    ] = 2.0
    apart: Annotated[LengthEntry, Quantity("Apart along", judged="along", when=("shape", ("row", "rectangle")))] = (
        LengthEntry(mm=20)
    )
    rows: Annotated[Number, Quantity("How many rows", "number", low=1, high=50, when=("shape", ("rectangle",)))] = 1.0
    rows_apart: Annotated[LengthEntry, Quantity("Rows apart", judged="part", when=("shape", ("rectangle",)))] = (
        LengthEntry(mm=20)
    )
    radius: Annotated[
        LengthEntry,
        Quantity("Radius of the circle", low=0, low_open=True, judged="part", when=("shape", ("circle",))),
    ] = LengthEntry(mm=20)
    start: Annotated[Number, Quantity("First one at, °", "number", low=-360, high=360, when=("shape", ("circle",)))] = (
        0.0
    )
    hole_kind: Annotated[HoleKindName, Quantity("They are", "choice", choices=_HOLE_KINDS)] = "tapped"
    thread: Annotated[Name, Quantity("For the screw", "text", help="Such as M5, 1/4-20, 1/4 BSW or 2 BA.")] = "M5"
    adjust: Annotated[
        LengthEntry, Quantity("A slot lets it go either way by", low=0, judged="slack", when=_SLOTTED)
    ] = LengthEntry(mm=3)
    angle: Annotated[
        Number, Quantity("A slot runs at, ° (0 along, 90 across)", "number", low=-180, high=180, when=_SLOTTED)
    ] = 0.0
    off_x: Annotated[LengthEntry, Quantity("Offset by, along", judged="along")] = LengthEntry(mm=0)
    off_y: Annotated[LengthEntry, Quantity("Offset by, across", judged="part")] = LengthEntry(mm=0)
    nut: Annotated[
        Literal["no", "yes"], Quantity("Their screws end in", "choice", choices=_NUT_CHOICES, when=_PASSED)
    ] = "no"
    wall: Annotated[
        LengthEntry | None, Quantity("… through a wall of", low=0, judged="thick", when=("nut", ("yes",)))
    ] = None
    left_out: Annotated[tuple[int, ...] | None, Field(max_length=200)] = None


_DEEP = ("cut_kind", ("step", "tongue", "pocket", "relief"))


class PartCut(Entity):
    """A step, tongue, pocket, relief or opening of a part, from the lower left corner of one of its faces.

    Or a place to keep clear, where neither metal nor a hole may be: a cable's stub, a lock's screw, a drain.
    """

    kind = "cut"
    part_id: str
    cut_kind: Annotated[
        Literal["step", "tongue", "pocket", "relief", "opening", "keep clear"],
        Quantity(
            "It is",
            "choice",
            choices=(
                ("step", "a step"), ("tongue", "a tongue left standing"), ("pocket", "a pocket"),
                ("relief", "a relief where it would rub"), ("opening", "an opening, right through"),
                ("keep clear", "a place to keep clear (cable's stub, lock screw, drain)"),
            ),
        ),
    ] = "step"  # fmt: skip
    face: Annotated[PartFaceName, Quantity("On its", "choice", choices=_FACES)] = "face"
    x: Annotated[LengthEntry, Quantity("From the left edge", low=0, judged="along")] = LengthEntry(mm=0)
    y: Annotated[LengthEntry, Quantity("From the lower edge", low=0, judged="part")] = LengthEntry(mm=0)
    wide: Annotated[LengthEntry, Quantity("Wide", low=0, low_open=True, judged="part")] = LengthEntry(mm=12)
    high: Annotated[LengthEntry, Quantity("High", low=0, low_open=True, judged="part")] = LengthEntry(mm=12)
    deep: Annotated[LengthEntry, Quantity("Deep, or standing out", low=0, low_open=True, judged="part", when=_DEEP)] = (
        LengthEntry(mm=3)
    )


class StackHeight(Entity):
    """One measured height of the stack a part belongs to; negative where it goes back."""

    kind = "height"
    part_id: str
    name: Annotated[Name, Quantity("What", "text")] = ""
    height: Annotated[LengthEntry, Quantity("Height (minus: goes back)", judged="part")] = LengthEntry(mm=0)
    tolerance: Annotated[LengthEntry, Quantity("Known to ±", "fine", low=0, judged="accuracy")] = LengthEntry(mm=0.05)
