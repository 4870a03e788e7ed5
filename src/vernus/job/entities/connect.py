"""What is connected: cables with their anchors and wires, and the first power-up."""

from __future__ import annotations

from typing import Annotated, Literal

from vernus.job.entities.base import Entity, Name, Number
from vernus.job.entities.setting import Answer
from vernus.job.fields import LengthEntry, Quantity

_YES_NO = (("", "not yet"), ("yes", "yes"), ("no", "no"))


class CableRun(Entity):
    """The cable of one axis: what is supplied, its allowances, and where it is plugged in."""

    kind = "cable"
    axis_id: str
    supplied: Annotated[
        LengthEntry | None, Quantity("Cable supplied, plug to reader", low=0, low_open=True, judged="cable")
    ] = None
    slack: Annotated[Number, Quantity("Slack, %", "number", low=0, high=100)] = 10.0
    bend: Annotated[LengthEntry, Quantity("Bend radius it bears", low=0, judged="part")] = LengthEntry(mm=30)
    drip: Annotated[LengthEntry, Quantity("Drip loop before the display", low=0, judged="part")] = LengthEntry(mm=100)
    ends: Annotated[
        Literal["moulded", "screw"],
        Quantity("Its plug is", "choice", choices=(("moulded", "moulded on"), ("screw", "screw terminals"))),
    ] = "moulded"
    plug: Annotated[Name, Quantity("Plug, as labelled", "text")] = ""
    socket: Annotated[Name, Quantity("Into the display's socket", "text")] = ""
    earth: Annotated[Answer, Quantity("Display earthed to the machine?", "choice", choices=_YES_NO)] = ""
    tied: Annotated[Answer, Quantity("Clipped, loops clear of what moves?", "choice", choices=_YES_NO)] = ""


class CableAnchor(Entity):
    """A place the cable is held at, with every axis at 0: the reader first, clips, the display last."""

    kind = "anchor"
    axis_id: str
    name: Annotated[Name, Quantity("What it is", "text")] = ""
    member: Annotated[Name, Quantity("On the", "choice")] = ""
    x: Annotated[LengthEntry, Quantity("To the right, x", judged="machine")] = LengthEntry(mm=0)
    y: Annotated[LengthEntry, Quantity("Away from you, y", judged="machine")] = LengthEntry(mm=0)
    z: Annotated[LengthEntry, Quantity("Up, z", judged="machine")] = LengthEntry(mm=0)
    place: Annotated[Number, Quantity("Place along the cable", "number", low=0, high=100)] = 0.0


class Wire(Entity):
    """One wire: its pin at the scale's plug, what it carries, and the pin the display wants that on."""

    kind = "wire"
    axis_id: str
    signal: Annotated[Name, Quantity("Carries", "text")] = ""
    colour: Annotated[Name, Quantity("Colour", "text")] = ""
    pin: Annotated[Name, Quantity("Pin at the scale's plug", "text")] = ""
    wanted_pin: Annotated[Name, Quantity("Pin at the display", "text")] = ""


class PowerUpCheck(Entity):
    """What one axis did when it was first switched on."""

    kind = "powerup"
    axis_id: str
    counts: Annotated[Answer, Quantity("Does it count?", "choice", choices=_YES_NO)] = ""
    right_axis: Annotated[Answer, Quantity("Its own figure, no other?", "choice", choices=_YES_NO)] = ""
    direction: Annotated[Answer, Quantity("The way you expect?", "choice", choices=_YES_NO)] = ""
    before: Annotated[LengthEntry | None, Quantity("At one stop it shows", judged="along")] = None
    after: Annotated[LengthEntry | None, Quantity("After the full stroke, same stop", judged="along")] = None
    stroke: Annotated[
        Answer, Quantity("Full stroke without a drop-out, jump or binding?", "choice", choices=_YES_NO)
    ] = ""
    lost_at: Annotated[LengthEntry | None, Quantity("If not: near which position", judged="along")] = None
    low: Annotated[LengthEntry | None, Quantity("Standing still: least figure", judged="along")] = None
    high: Annotated[LengthEntry | None, Quantity("Standing still: greatest figure", judged="along")] = None
    drift: Annotated[LengthEntry | None, Quantity("In ten minutes it went by", "fine", judged="feel")] = None
    driven: Annotated[
        LengthEntry | None,
        Quantity(
            "With the spindle running it flickers by", "fine", judged="feel",
            help="Nothing is cut and nobody's hands are near; 0 where it stands still.",
        ),
    ] = None  # fmt: skip
