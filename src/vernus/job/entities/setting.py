"""What is set: sweeps with the indicator, and the reader."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import ConfigDict, Field
from pydantic.dataclasses import dataclass as value_dataclass

from vernus.job.entities.base import Entity, Hung, Name, Number, Plane, Target
from vernus.job.fields import LengthEntry, Quantity

HeldSense = Annotated[
    Literal["toward", "away"],
    Quantity(
        "Reading grows when the surface comes",
        "choice",
        choices=(("toward", "toward the indicator"), ("away", "away from it")),
    ),
]


class IndicatorKit(Entity):
    """An indicator of the user's kit, as it is usually held."""

    kind = "indicator"
    name: Annotated[Name, Quantity("Indicator", "text")] = ""
    division: Annotated[
        LengthEntry, Quantity("Division of its dial", "fine", low=0, low_open=True, judged="division")
    ] = LengthEntry(mm=0.01, text="0.01")
    range: Annotated[LengthEntry | None, Quantity("Range", "fine", low=0, low_open=True, judged="range")] = None
    sense: HeldSense = "toward"
    lever_deg: Annotated[Number, Quantity("Usual lever or plunger angle, °", "number", low=-80, high=80)] = 0.0


class ShimKind(Entity):
    """So many shims of one thickness in the drawer."""

    kind = "shim"
    thickness: Annotated[LengthEntry, Quantity("Thickness", "fine", low=0, low_open=True, judged="gap")] = LengthEntry(
        mm=0.1, text="0.1"
    )
    count: Annotated[Number, Quantity("How many", "number", low=0, high=1000)] = 4.0


@value_dataclass(frozen=True, slots=True, config=ConfigDict(extra="forbid"))
class Reading:
    """One indicator reading at one station."""

    station: LengthEntry
    reading: LengthEntry
    line: Literal["", "top", "bottom"] = ""
    live: bool = Field(default=False, exclude_if=lambda live: not live)
    """Whether an instrument sent it, and nobody typed it."""


class Sweep(Hung):
    """One alignment pass over a scale body: stations, readings, and how the indicator was held."""

    kind = "sweep"
    axis_id: str
    target: Target = "body"
    plane: Plane = "face"
    by: Annotated[
        Literal["pivot", "shims", "jacks", "three", "slots", "restick"],
        Quantity(
            "Corrected by",
            "choice",
            choices=(
                ("pivot", "easing one end to the dial"),
                ("shims", "shims at the ends"),
                ("jacks", "jack or set screws"),
                ("three", "three bolts with spacers"),
                ("slots", "slots or clamps at the ends"),
                ("restick", "lifting and sticking again"),
            ),
        ),
    ] = "pivot"
    order: Annotated[
        Literal["first", "back", "ends"],
        Quantity(
            "After the last station",
            "choice",
            choices=(
                ("first", "the first one again"),
                ("back", "back through all of them"),
                ("ends", "both ends only, there and back"),
            ),
        ),
    ] = "first"
    both: Annotated[
        Literal["", "yes"],
        Quantity("Indicators at once", "choice", choices=(("", "one"), ("yes", "two, face and edge together"))),
    ] = ""
    rule_left: Annotated[LengthEntry | None, Quantity("By rule, edge to body, {@left} end", low=0, judged="part")] = (
        None
    )
    rule_right: Annotated[LengthEntry | None, Quantity("By rule, {@right} end", low=0, judged="part")] = None
    blocked_from: Annotated[LengthEntry | None, Quantity("Obstacle in the indicator's way, from", judged="along")] = (
        None
    )
    blocked_to: Annotated[LengthEntry | None, Quantity("Obstacle, to", judged="along")] = None
    jack_pitch: Annotated[
        LengthEntry | None, Quantity("Pitch of the jack screws", low=0, low_open=True, judged="pitch")
    ] = None
    range: Annotated[
        LengthEntry | None, Quantity("Range of the indicator", "fine", low=0, low_open=True, judged="range")
    ] = None
    lines_apart: Annotated[
        LengthEntry, Quantity("Roll: the two lines are apart", low=0, low_open=True, judged="part")
    ] = LengthEntry(mm=20, text="20")
    bolts_apart: Annotated[
        LengthEntry, Quantity("Roll: the two rows of bolts", low=0, low_open=True, judged="part")
    ] = LengthEntry(mm=20, text="20")
    sense: HeldSense = "toward"
    lever_deg: Annotated[Number, Quantity("Lever or plunger angle, °", "number", low=-80, high=80)] = 0.0
    division: Annotated[
        LengthEntry, Quantity("Division of the dial", "fine", low=0, low_open=True, judged="division")
    ] = LengthEntry(mm=0.01, text="0.01")
    tolerance: Annotated[
        LengthEntry, Quantity("Tolerance, end to end", "fine", low=0, low_open=True, judged="accuracy")
    ] = LengthEntry(mm=0.05, text="0.05")
    screw_left: Annotated[LengthEntry | None, Quantity("Left screw at", judged="along")] = None
    screw_right: Annotated[LengthEntry | None, Quantity("Right screw at", judged="along")] = None
    hold: Annotated[
        Literal["left", "right"],
        Quantity("Screw kept tight", "choice", choices=(("left", "{@left}"), ("right", "{@right}"))),
    ] = "left"
    moved_by: Annotated[
        Literal["dial", "turns", "tightening"],
        Quantity(
            "Moved since the last pass by",
            "choice",
            choices=(("dial", "the dial"), ("turns", "turns or shims"), ("tightening", "tightening only")),
        ),
    ] = "dial"
    stations: tuple[LengthEntry, ...] = ()
    readings: tuple[Reading, ...] = ()


class GapCheck(Hung):
    """The reader's gap at one station, by feelers."""

    kind = "gap"
    axis_id: str
    station: LengthEntry
    go: Annotated[LengthEntry, Quantity("Thickest feeler that goes in", "fine", low=0, judged="gap")]
    no_go: Annotated[
        LengthEntry | None, Quantity("Thinnest that doesn't", "fine", low=0, low_open=True, judged="gap")
    ] = None


_DONE = (("", "not yet"), ("yes", "yes"), ("no", "no"))
Answer = Literal["", "yes", "no"]


class ReaderSetting(Hung):
    """How the reader of an axis was set, and what was found when the axis ran."""

    kind = "reader"
    axis_id: str
    spare_low: Annotated[LengthEntry | None, Quantity("Spare beyond the {@low} stop", judged="part")] = None
    spare_high: Annotated[LengthEntry | None, Quantity("Spare beyond the {@high} stop", judged="part")] = None
    as_built: Annotated[LengthEntry | None, Quantity("Travel as built", low=0, low_open=True, judged="travel")] = None
    push: Annotated[
        LengthEntry | None, Quantity("Pushed from the side, the figure moves by", "fine", judged="feel")
    ] = None
    gap_by: Annotated[
        Literal["", "clips", "shim", "strip", "feeler", "none"],
        Quantity(
            "Gap set by",
            "choice",
            choices=(
                ("", "as its family"),
                ("clips", "its clips"),
                ("shim", "its shim"),
                ("strip", "a strip"),
                ("feeler", "feelers"),
                ("none", "it has none"),
            ),
        ),
    ] = ""
    gap_set: Annotated[Answer, Quantity("Set so, and tried at both ends?", "choice", choices=_DONE)] = ""
    shim: Annotated[
        LengthEntry | None,
        Quantity(
            "Its shim or strip, measured",
            "fine",
            low=0,
            low_open=True,
            judged="gap",
            help="By micrometer: the gap is what lay in it, not what is printed on it.",
        ),
    ] = None
    gap_least: Annotated[LengthEntry | None, Quantity("Gap wanted, least", "fine", low=0, judged="gap")] = None
    gap_most: Annotated[
        LengthEntry | None, Quantity("Gap wanted, greatest", "fine", low=0, low_open=True, judged="gap")
    ] = None
    high_by: Annotated[LengthEntry | None, Quantity("Reader too high by (− too low)", judged="part")] = None
    side_by: Annotated[LengthEntry | None, Quantity("Head beside the tape's middle by", judged="part")] = None
    side_room: Annotated[LengthEntry, Quantity("Sideways it may be", low=0, low_open=True, judged="part")] = (
        LengthEntry(mm=1.0)
    )
    yaw_deg: Annotated[Number | None, Quantity("Head out of line with the tape, °", "number", low=-45, high=45)] = None
    yaw_room_deg: Annotated[Number, Quantity("Out of line it may be, °", "number", low=0, high=45)] = 1.0
    centred: Annotated[Answer, Quantity("Head centred in height and square?", "choice", choices=_DONE)] = ""
    marks: Annotated[Answer, Quantity("Orientation marks on the same side?", "choice", choices=_DONE)] = ""
    clips: Annotated[Answer, Quantity("Shipping clips off and kept?", "choice", choices=_DONE)] = ""
    wipers: Annotated[Answer, Quantity("Wipers back on?", "choice", choices=_DONE)] = ""
    anchored: Annotated[
        Answer,
        Quantity("Support, link, rod tightened in that order, reader near, at both ends?", "choice", choices=_DONE),
    ] = ""
    free: Annotated[Answer, Quantity("Whole stroke by hand: nothing binds?", "choice", choices=_DONE)] = ""
    cover: Annotated[Answer, Quantity("Cover on, and nothing rubs?", "choice", choices=_DONE)] = ""
