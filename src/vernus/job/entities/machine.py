"""The machine: job, members, axes, boxes, faces and the holes there are."""

from __future__ import annotations

from typing import Annotated, Literal

from vernus.core.units import UnitSystem
from vernus.job.entities.base import DIRECTIONS, Direction, Entity, Name, Number, Value
from vernus.job.fields import LengthEntry, Quantity
from vernus.job.fitted import DRIVES, READOUTS, Drive, Readout

Built = tuple[tuple[Name, Name], ...]
"""(field, sum of measures it follows), see ``vernus.core.machine.measures``."""


class JobInfo(Entity):
    """The job itself: its title, the workshop, and the unit system shown."""

    kind = "job"
    title: Annotated[Name, Quantity("Job", "text")] = "New job"
    workshop: Annotated[Name, Quantity("Workshop", "text")] = ""
    units: UnitSystem = "mm"
    begin: Annotated[
        Literal["easiest", "hardest"],
        Quantity(
            "Begin with",
            "choice",
            choices=(
                ("easiest", "the easiest axis, to learn"),
                ("hardest", "the hardest axis"),
            ),
        ),
    ] = "easiest"
    pace: Annotated[
        Literal["", "one", "together"],
        Quantity(
            "Then",
            "choice",
            choices=(
                ("", "as is usual with that"), ("one", "one axis wholly, then the next"),
                ("together", "all axes side by side"),
            ),
        ),
    ] = ""  # fmt: skip
    comes_off: Annotated[Name, Quantity("Has to come off the machine", "choice")] = ""
    off_for: Annotated[Name, Quantity("For the work on the axis", "choice")] = ""
    w_travel: Annotated[Number, Quantity("Travel lost", "number", low=0, high=100)] = 1.0
    w_blocked: Annotated[Number, Quantity("What it blocks", "number", low=0, high=100)] = 1.0
    w_exposure: Annotated[Number, Quantity("Chips and coolant", "number", low=0, high=100)] = 1.0
    w_holes: Annotated[Number, Quantity("New holes", "number", low=0, high=100)] = 1.0
    w_parts: Annotated[Number, Quantity("Parts to make", "number", low=0, high=100)] = 1.0
    w_abbe: Annotated[Number, Quantity("Tool distance", "number", low=0, high=100)] = 1.0
    hole_school: Annotated[
        Literal["drill", "none", "reuse", "stick"],
        Quantity(
            "Holes in the machine",
            "choice",
            choices=(
                ("drill", "drill and tap where it is right"),
                ("none", "no new holes"),
                ("reuse", "reuse the holes there are"),
                ("stick", "magnets or adhesive"),
            ),
        ),
    ] = "drill"
    drills_owned: Annotated[
        Literal["own", "metric", "inch", "all"],
        Quantity(
            "Drills you own",
            "choice",
            choices=(
                ("own", "those of the thread's system"), ("metric", "metric only"),
                ("inch", "number, letter, fraction"), ("all", "all of them"),
            ),
        ),
    ] = "own"  # fmt: skip
    degrees: Annotated[
        Literal["°C", "°F"], Quantity("Temperatures in", "choice", choices=(("°C", "°C"), ("°F", "°F")))
    ] = "°C"
    room_c: Annotated[Number | None, Quantity("Room", "temperature", low=-30, high=60, judged="temperature")] = None


class MemberPart(Value):
    """A member of the machine: what it sits on, and the name of the axis that moves it there ("": fixed)."""

    id: Name
    on: Name = ""
    axis: Name = ""


class Machine(Entity):
    """The machine being fitted: its members, and where its tool cuts with every axis at 0.

    ``slid`` names the members that are pushed along by hand, such as a tailstock, each with the direction of its way.
    """

    kind = "machine"
    name: Annotated[Name, Quantity("Machine", "text")] = ""
    machine_kind: Name = "knee-mill-turret"
    kind_label: Name = ""
    members: tuple[MemberPart, ...] = ()
    minded: tuple[tuple[Name, Name], ...] = ()
    slid: tuple[tuple[Name, Direction], ...] = ()
    tool_x: Annotated[LengthEntry | None, Quantity("Tool, from the middle to the right", judged="machine")] = None
    tool_y: Annotated[LengthEntry | None, Quantity("Tool, away from you", judged="machine")] = None
    tool_z: Annotated[LengthEntry | None, Quantity("Tool, up", judged="machine")] = None
    built: Built = ()
    tilt_deg: Annotated[Number, Quantity("Head tilts to either side by, °", "number", low=0, high=90)] = 0.0


GivenUp = Literal["stop", "driven"]
_GIVEN_UP = (("stop", "is not driven to: a stop there"), ("driven", "is driven through, only not read"))


class Axis(Entity):
    """One axis: what moves on what, what is fitted to it, how good it must be, and how far it travels.

    An axis whose ``readout`` and ``drive`` are both ``none`` is out of scope: it still moves, and nothing else is said
    of it.
    """

    kind = "axis"
    machine_id: str
    name: Name
    label: Name = ""
    readout: Annotated[
        Readout,
        Quantity(
            "Readout",
            "choice",
            choices=READOUTS,
        ),
    ] = "none"
    drive: Annotated[
        Drive,
        Quantity("Power feed", "choice", choices=DRIVES),
    ] = "none"
    moving: Name = ""
    still: Name = ""
    direction: Annotated[
        Literal["", "+x", "-x", "+y", "-y", "+z", "-z"],
        Quantity("Grows toward", "choice", choices=DIRECTIONS),
    ] = ""
    usual: Annotated[
        LengthEntry | None, Quantity("Travel until it is measured", low=0, low_open=True, judged="travel")
    ] = None
    home: Literal["mid", "low", "high"] = "mid"
    usual_on: Literal["moving", "still"] = "moving"
    lead: Annotated[LengthEntry | None, Quantity("Lead of the screw", low=0, low_open=True, judged="pitch")] = None
    backlash: Annotated[LengthEntry | None, Quantity("Backlash", "fine", low=0, judged="backlash")] = None
    play: Annotated[
        LengthEntry | None,
        Quantity(
            "Play of the collar, measured at the scale",
            "fine",
            low=0,
            help="Indicator on the arm where the scale will be, turn the collar both ways against its guide screw.",
            judged="backlash",
        ),
    ] = None
    least: Annotated[LengthEntry | None, Quantity("Keep at least", low=0, judged="along")] = None
    weight: Annotated[Number, Quantity("Worth against the other axes", "number", low=0, high=100)] = 1.0
    accuracy: Annotated[
        LengthEntry | None,
        Quantity(
            "Accuracy wanted over the travel",
            "fine",
            low=0,
            low_open=True,
            help="It decides everything later.",
            judged="accuracy",
        ),
    ] = None
    give_up_low: Annotated[LengthEntry | None, Quantity("Given up at the {@low} end", low=0, judged="given_up")] = None
    give_up_low_how: Annotated[GivenUp, Quantity("That at the {@low} end", "choice", choices=_GIVEN_UP)] = "stop"
    give_up_low_why: Annotated[Name, Quantity("Why, at the {@low} end", "text")] = ""
    give_up_high: Annotated[LengthEntry | None, Quantity("Given up at the {@high} end", low=0, judged="given_up")] = (
        None
    )
    give_up_high_how: Annotated[GivenUp, Quantity("That at the {@high} end", "choice", choices=_GIVEN_UP)] = "stop"
    give_up_high_why: Annotated[Name, Quantity("Why, at the {@high} end", "text")] = ""


class Measure(Entity):
    """A distance of the machine that a person takes, with the sentence how; boxes and faces follow from it.

    ``low`` and ``high`` name the two figures it lies between (``table.right``), ``pose`` the end of an axis at which
    it is taken (``Y+``: at the high end), ``likely_mm`` how far off a figure is that nobody measured.
    """

    kind = "measure"
    key: Name
    label: Name = ""
    how: Name = ""
    pose: Name = ""
    low: Name = ""
    high: Name = ""
    likely_mm: Number = 10.0
    value: Annotated[LengthEntry, Quantity("Measured", low=0, judged="measure")] = LengthEntry(mm=0)


class SolidBox(Entity):
    """A box on a member with every axis at 0: a solid that can meet others, or a place that must stay reachable."""

    kind = "box"
    key: Name = ""
    built: Built = ()
    shape: Annotated[
        Literal["box", "disc-x", "disc-y", "disc-z", "slotted-x"],
        Quantity(
            "Its shape",
            "choice",
            choices=(
                ("box", "square-edged"), ("disc-x", "round, lying left to right"), ("disc-y", "round, front to back"),
                ("disc-z", "round, standing"), ("slotted-x", "with T-slots, left to right"),
            ),
        ),
    ] = "box"  # fmt: skip
    name: Annotated[Name, Quantity("Name", "text")] = ""
    member: Annotated[Name, Quantity("On the", "choice")] = ""
    role: Annotated[
        Literal["solid", "keep", "head", "display"],
        Quantity(
            "It is",
            "choice",
            choices=(
                ("solid", "metal in the way"),
                ("keep", "to be kept reachable"),
                ("head", "part of the tilting head"),
                ("display", "the display or its arm"),
            ),
        ),
    ] = "solid"
    fitted: Annotated[
        Literal["yes", "off"],
        Quantity("Fitted or off", "choice", choices=(("yes", "fitted"), ("off", "taken off"))),
    ] = "yes"
    near: Annotated[Name, Quantity("Next to the", "choice")] = ""
    side: Annotated[
        Literal["", "right", "left", "back", "front", "above", "below"],
        Quantity(
            "On which side of it",
            "choice",
            choices=(
                ("", "given by its sides below"), ("right", "to its right"), ("left", "to its left"),
                ("back", "behind it"), ("front", "in front of it"), ("above", "above it"), ("below", "below it"),
            ),
        ),
    ] = ""  # fmt: skip
    gap: Annotated[LengthEntry, Quantity("Gap between the two", low=0, judged="part")] = LengthEntry(mm=0)
    wide: Annotated[LengthEntry | None, Quantity("Width, left to right", low=0, low_open=True, judged="part")] = None
    deep: Annotated[LengthEntry | None, Quantity("Depth, front to back", low=0, low_open=True, judged="part")] = None
    high: Annotated[LengthEntry | None, Quantity("Height", low=0, low_open=True, judged="part")] = None
    left: Annotated[LengthEntry, Quantity("Left side, x", judged="machine")] = LengthEntry(mm=0)
    right: Annotated[LengthEntry, Quantity("Right side, x", judged="machine")] = LengthEntry(mm=0)
    front: Annotated[LengthEntry, Quantity("Front, y", judged="machine")] = LengthEntry(mm=0)
    back: Annotated[LengthEntry, Quantity("Back, y", judged="machine")] = LengthEntry(mm=0)
    bottom: Annotated[LengthEntry, Quantity("Bottom, z", judged="machine")] = LengthEntry(mm=0)
    top: Annotated[LengthEntry, Quantity("Top, z", judged="machine")] = LengthEntry(mm=0)
    why: Annotated[Name, Quantity("Why it matters", "text")] = ""
    covered: Annotated[
        Literal["", "by hand", "moved", "given up"],
        Quantity(
            "If it is covered",
            "choice",
            choices=(
                ("", "not decided"), ("by hand", "done by hand, as a task"), ("moved", "moved or lengthened"),
                ("given up", "given up"),
            ),
        ),
    ] = ""  # fmt: skip
    every_days: Annotated[Number, Quantity("Then every so many days", "number", low=1, high=3650)] = 30.0


class Face(Entity):
    """A face a scale could be screwed to."""

    kind = "face"
    built: Built = ()
    axis_id: str
    name: Annotated[Name, Quantity("Face", "text")] = ""
    member: Annotated[Name, Quantity("Scale on the", "choice")] = ""
    reader_member: Annotated[Name, Quantity("Reader on the", "choice")] = ""
    x: Annotated[LengthEntry, Quantity("Its left end, x", judged="machine")] = LengthEntry(mm=0)
    y: Annotated[LengthEntry, Quantity("Its left end, y", judged="machine")] = LengthEntry(mm=0)
    z: Annotated[LengthEntry, Quantity("Middle of its height, z", judged="machine")] = LengthEntry(mm=0)
    along: Annotated[Direction, Quantity("Runs toward", "choice", choices=DIRECTIONS[1:])] = "+x"
    out: Annotated[Direction, Quantity("Looks toward", "choice", choices=DIRECTIONS[1:])] = "+y"
    length: Annotated[LengthEntry, Quantity("Length", low=0, low_open=True, judged="scale")] = LengthEntry(mm=100)
    flat: Annotated[
        Literal["machined", "painted", "rough"],
        Quantity(
            "Surface",
            "choice",
            choices=(("machined", "machined flat"), ("painted", "flat under paint"), ("rough", "rough or drafted")),
        ),
    ] = "painted"
    exposure: Annotated[
        Literal["0", "1", "2", "3"],
        Quantity(
            "Chips and coolant",
            "choice",
            choices=(("0", "none get there"), ("1", "a few"), ("2", "many"), ("3", "in the stream")),
        ),
    ] = "1"
    holes: Annotated[Number, Quantity("New holes", "number", low=0, high=50)] = 4.0
    parts: Annotated[Number, Quantity("Parts to make", "number", low=0, high=50)] = 2.0
    bracket: Annotated[
        Literal["down", "up"],
        Quantity("The reader hangs from", "choice", choices=(("down", "below"), ("up", "above"))),
    ] = "down"
    arm: Annotated[
        Literal["", "collar", "freed"],
        Quantity(
            "Its reader hangs on",
            "choice",
            choices=(
                ("", "what moves, held fast"),
                ("collar", "a collar that can rock"),
                ("freed", "an arm freed of it"),
            ),
        ),
    ] = ""
    separate: Annotated[
        Literal["no", "yes"],
        Quantity("Scale with a readout of its own", "choice", choices=(("no", "no"), ("yes", "yes"))),
    ] = "no"


_ROUND = ("what", ("threaded", "plain"))
_THREADED = ("what", ("threaded",))
_SLOT = ("what", ("slot",))


class Hole(Entity):
    """A hole or T-slot that is already in the machine, or a row of them.

    Its place counts from the datum of the face it is named on: the face's left end and the middle of its height.
    """

    kind = "hole"
    what: Annotated[
        Literal["threaded", "plain", "slot"],
        Quantity(
            "It is", "choice", choices=(("threaded", "threaded"), ("plain", "a plain hole"), ("slot", "a T-slot"))
        ),
    ] = "threaded"
    member: Annotated[Name, Quantity("In the", "choice")] = ""
    face_id: Annotated[Name, Quantity("On the face", "choice")] = ""
    place: Annotated[Name, Quantity("Where", "text")] = ""
    at_x: Annotated[LengthEntry | None, Quantity("From the face's left end", judged="along")] = None
    at_y: Annotated[LengthEntry | None, Quantity("Above the middle of its height", judged="part")] = None
    count: Annotated[Number, Quantity("How many in a row", "number", low=1, high=100)] = 1.0
    apart: Annotated[LengthEntry | None, Quantity("Apart in the row", low=0, low_open=True, judged="part")] = None
    diameter: Annotated[
        LengthEntry | None, Quantity("Diameter measured", low=0, low_open=True, judged="hole", when=_ROUND)
    ] = None
    measured_on: Annotated[
        Literal["screw", "bore"],
        Quantity("Measured on", "choice", choices=(("screw", "its screw"), ("bore", "the bore")), when=_THREADED),
    ] = "screw"
    pitch: Annotated[
        LengthEntry | None,
        Quantity("Pitch (1/tpi in for inch threads)", low=0, low_open=True, judged="pitch", when=_THREADED),
    ] = None
    thread: Annotated[
        Name,
        Quantity(
            "Its thread, tried with a screw", "choice", when=_THREADED,
            help="Where two figures fit several threads, turn in a screw that is known.",
        ),
    ] = ""  # fmt: skip
    depth: Annotated[LengthEntry | None, Quantity("Depth of the hole", low=0, low_open=True, judged="deep")] = None
    thread_deep: Annotated[
        LengthEntry | None,
        Quantity(
            "Depth of its thread", low=0, low_open=True, judged="part", when=_THREADED,
            help="Turn a screw in until it stops: so far it goes, less than the drill went.",
        ),
    ] = None  # fmt: skip
    through: Annotated[
        Literal["blind", "through"],
        Quantity("Ends", "choice", choices=(("blind", "blind"), ("through", "through")), when=_ROUND),
    ] = "blind"
    mouth: Annotated[
        LengthEntry | None,
        Quantity("T-slot, width of its mouth", low=0, low_open=True, judged="slot", when=_SLOT),
    ] = None
    head: Annotated[
        LengthEntry | None,
        Quantity("T-slot, width of its head", low=0, low_open=True, judged="slot", when=_SLOT),
    ] = None
    head_high: Annotated[
        LengthEntry | None,
        Quantity("T-slot, height of its head", low=0, low_open=True, judged="slot", when=_SLOT),
    ] = None
    room: Annotated[
        LengthEntry | None, Quantity("Room in front for drill and key", low=0, low_open=True, judged="part")
    ] = None
    used_by: Annotated[Name, Quantity("Used by", "text")] = ""
