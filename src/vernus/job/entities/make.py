"""What is received and made."""

from __future__ import annotations

from typing import Annotated, Literal

from vernus.job.entities.base import Entity, Name
from vernus.job.fields import LengthEntry, Quantity


class Delivery(Entity):
    """What arrived for an axis; its figures replace the plan's from then on."""

    kind = "delivery"
    axis_id: str
    measuring: Annotated[LengthEntry | None, Quantity("Measuring length", low=0, low_open=True, against="scale")] = None
    overall: Annotated[LengthEntry | None, Quantity("True body length", low=0, low_open=True, against="scale")] = None
    hole_from_end: Annotated[LengthEntry | None, Quantity("First hole from its end", low=0, against="part")] = None
    hole_thread: Annotated[Name, Quantity("Its holes and threads", "text")] = ""
    reader: Annotated[LengthEntry | None, Quantity("Reader, length", low=0, low_open=True, against="part")] = None
    cable: Annotated[LengthEntry | None, Quantity("Cable length", low=0, low_open=True, against="cable")] = None
    missing: Annotated[Name, Quantity("Missing or unsuitable", "text")] = ""
    keep: Annotated[Name, Quantity("Small parts kept, and where", "text")] = ""


class MountPart(Entity):
    """A part to make, or a face of the machine to drill."""

    kind = "part"
    axis_id: str
    name: Annotated[Name, Quantity("Part", "text")] = ""
    part_kind: Annotated[
        Literal["standoff", "plate", "angle", "bridge", "t-nut", "stud", "spacer", "face"],
        Quantity(
            "It is",
            "choice",
            choices=(
                ("standoff", "standoff block"), ("plate", "backing plate"), ("angle", "angle bracket"),
                ("bridge", "bridge plate"), ("t-nut", "T-nut bar"), ("stud", "stud with large washers"),
                ("spacer", "spacer"), ("face", "face of the machine"),
            ),
        ),
    ] = "standoff"  # fmt: skip
    length: Annotated[LengthEntry, Quantity("Length", low=0, low_open=True, against="scale_part")] = LengthEntry(mm=60)
    width: Annotated[LengthEntry, Quantity("Width", low=0, low_open=True, against="part")] = LengthEntry(mm=25)
    thickness: Annotated[LengthEntry, Quantity("Thickness", low=0, low_open=True, against="part")] = LengthEntry(mm=12)
    material: Annotated[
        Literal["steel", "tough-steel", "stainless", "cast-iron", "aluminium", "brass"],
        Quantity(
            "Material",
            "choice",
            choices=tuple(
                (m, m.replace("-", " "))
                for m in ("steel", "tough-steel", "stainless", "cast-iron", "aluminium", "brass")
            ),
        ),
    ] = "aluminium"
    draft_rise: Annotated[LengthEntry | None, Quantity("Draft of the face: it leans by", "fine", against="part")] = None
    draft_over: Annotated[LengthEntry | None, Quantity("… over a height of", low=0, low_open=True, against="part")] = (
        None
    )
    wanted: Annotated[
        LengthEntry | None, Quantity("Height the stack must reach", low=0, low_open=True, against="part")
    ] = None


class DrilledHole(Entity):
    """A hole of a part, from its lower left corner."""

    kind = "drilled"
    part_id: str
    x: Annotated[LengthEntry, Quantity("From the left edge", against="along")] = LengthEntry(mm=10)
    y: Annotated[LengthEntry, Quantity("From the lower edge", against="part")] = LengthEntry(mm=10)
    hole_kind: Annotated[
        Literal["tapped", "clearance", "counterbored", "slot", "bore"],
        Quantity(
            "It is",
            "choice",
            choices=(
                ("tapped", "tapped"), ("clearance", "a clearance hole"), ("counterbored", "counterbored"),
                ("slot", "a slot"), ("bore", "a bore, such as a bearing pocket"),
            ),
        ),
    ] = "tapped"  # fmt: skip
    thread: Annotated[Name, Quantity("For the screw", "text", help="Such as M5 or 1/4-20.")] = "M5"
    follows: Annotated[
        Literal["", "first", "last"],
        Quantity(
            "Its place",
            "choice",
            choices=(("", "as entered"), ("first", "the scale's first hole"), ("last", "the scale's last hole")),
        ),
    ] = ""
    adjust: Annotated[LengthEntry, Quantity("A slot lets it go either way by", low=0, against="part")] = LengthEntry(
        mm=3
    )
    bore: Annotated[LengthEntry | None, Quantity("A bore's diameter", low=0, low_open=True, against="hole")] = None
    depth: Annotated[
        LengthEntry | None, Quantity("A bore's depth (empty: through)", low=0, low_open=True, against="part")
    ] = None


class StackHeight(Entity):
    """One measured height of the stack a part belongs to; negative where it goes back."""

    kind = "height"
    part_id: str
    name: Annotated[Name, Quantity("What", "text")] = ""
    height: Annotated[LengthEntry, Quantity("Height (minus: goes back)", against="part")] = LengthEntry(mm=0)
    tolerance: Annotated[LengthEntry, Quantity("Known to ±", "fine", low=0, against="accuracy")] = LengthEntry(mm=0.05)
