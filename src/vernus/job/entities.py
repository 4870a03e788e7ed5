"""The entities of a job. Each is frozen; an edit replaces it by a changed copy."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from vernus.core.units import UnitSystem
from vernus.job.fields import LengthEntry, Quantity

Name = Annotated[str, Field(max_length=200)]
Text = Annotated[str, Field(max_length=20_000)]
Number = Annotated[float, Field(allow_inf_nan=False)]
Plane = Literal["face", "edge", "roll"]
Target = Literal["plate", "body", "reader", "rod"]
TARGETS: tuple[tuple[Target, str], ...] = (
    ("body", "scale body"),
    ("plate", "backing plate"),
    ("reader", "reader"),
    ("rod", "rod"),
)
Direction = Literal["+x", "-x", "+y", "-y", "+z", "-z"]
DIRECTIONS = (
    ("", "not said"),
    ("+x", "right"),
    ("-x", "left"),
    ("+y", "away from you"),
    ("-y", "toward you"),
    ("+z", "up"),
    ("-z", "down"),
)


class Value(BaseModel):
    """A part of an entity: frozen, and refusing fields it doesn't know."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class Entity(Value):
    """Anything with an identity in the job; times are ISO 8601 in UTC."""

    kind: ClassVar[str]

    id: Annotated[str, Field(min_length=1, max_length=64)]
    created: str = ""
    changed: str = ""
    note: Text = ""

    def with_(self, **changes: Any) -> Any:
        """A validated copy with some fields changed."""
        return type(self).model_validate({**dict(self), **changes})


class JobInfo(Entity):
    """The job itself: its title, the workshop, and the unit system shown."""

    kind = "job"
    title: Annotated[Name, Quantity("Job", "text")] = "New job"
    workshop: Annotated[Name, Quantity("Workshop", "text")] = ""
    units: UnitSystem = "mm"
    w_travel: Annotated[Number, Quantity("Travel lost", "number", low=0, high=100)] = 1.0
    w_blocked: Annotated[Number, Quantity("What it blocks", "number", low=0, high=100)] = 1.0
    w_exposure: Annotated[Number, Quantity("Chips and coolant", "number", low=0, high=100)] = 1.0
    w_holes: Annotated[Number, Quantity("New holes", "number", low=0, high=100)] = 1.0
    w_parts: Annotated[Number, Quantity("Parts to make", "number", low=0, high=100)] = 1.0
    w_abbe: Annotated[Number, Quantity("Tool distance", "number", low=0, high=100)] = 1.0
    room_c: Annotated[Number | None, Quantity("Room", "number", low=-30, high=60)] = None


class MemberPart(Value):
    """A member of the machine: what it sits on, and the name of the axis that moves it there ("": fixed)."""

    id: Name
    on: Name = ""
    axis: Name = ""


class Machine(Entity):
    """The machine being fitted: its members, and where its tool cuts with every axis at 0."""

    kind = "machine"
    name: Annotated[Name, Quantity("Machine", "text")] = ""
    machine_kind: Name = "knee-mill-turret"
    kind_label: Name = ""
    members: tuple[MemberPart, ...] = ()
    minded: tuple[tuple[Name, Name], ...] = ()
    tool_x: Annotated[LengthEntry | None, Quantity("Tool, from the middle to the right")] = None
    tool_y: Annotated[LengthEntry | None, Quantity("Tool, away from you")] = None
    tool_z: Annotated[LengthEntry | None, Quantity("Tool, up")] = None
    tilt_deg: Annotated[Number, Quantity("Head tilts to either side by, °", "number", low=0, high=90)] = 0.0


class Axis(Entity):
    """One axis: what moves on what, how good it must be, and how far it was measured to travel."""

    kind = "axis"
    machine_id: str
    name: Name
    label: Name = ""
    moving: Name = ""
    still: Name = ""
    direction: Annotated[
        Literal["", "+x", "-x", "+y", "-y", "+z", "-z"],
        Quantity("Grows toward", "choice", choices=DIRECTIONS),
    ] = ""
    usual: Annotated[LengthEntry | None, Quantity("Travel until it is measured", low=0, low_open=True)] = None
    home: Literal["mid", "low", "high"] = "mid"
    usual_on: Literal["moving", "still"] = "moving"
    lead: Annotated[LengthEntry | None, Quantity("Lead of the screw", low=0, low_open=True)] = None
    backlash: Annotated[LengthEntry | None, Quantity("Backlash", "fine", low=0)] = None
    least: Annotated[LengthEntry | None, Quantity("Keep at least", low=0)] = None
    weight: Annotated[Number, Quantity("Worth against the other axes", "number", low=0, high=100)] = 1.0
    accuracy: Annotated[
        LengthEntry | None,
        Quantity("Accuracy wanted over the travel", "fine", low=0, low_open=True, help="It decides everything later."),
    ] = None
    give_up_low: Annotated[LengthEntry | None, Quantity("Given up at the low end", low=0)] = None
    give_up_high: Annotated[LengthEntry | None, Quantity("Given up at the high end", low=0)] = None
    give_up_why: Annotated[Name, Quantity("Why, and what it costs", "text")] = ""


class SolidBox(Entity):
    """A box on a member with every axis at 0: a solid that can meet others, or a place that must stay reachable."""

    kind = "box"
    name: Annotated[Name, Quantity("Name", "text")] = ""
    member: Annotated[Name, Quantity("On the", "choice")] = ""
    role: Annotated[
        Literal["solid", "keep", "head"],
        Quantity(
            "It is",
            "choice",
            choices=(
                ("solid", "metal in the way"),
                ("keep", "to be kept reachable"),
                ("head", "part of the tilting head"),
            ),
        ),
    ] = "solid"
    left: Annotated[LengthEntry, Quantity("Left side, x")] = LengthEntry(mm=0)
    right: Annotated[LengthEntry, Quantity("Right side, x")] = LengthEntry(mm=0)
    front: Annotated[LengthEntry, Quantity("Front, y")] = LengthEntry(mm=0)
    back: Annotated[LengthEntry, Quantity("Back, y")] = LengthEntry(mm=0)
    bottom: Annotated[LengthEntry, Quantity("Bottom, z")] = LengthEntry(mm=0)
    top: Annotated[LengthEntry, Quantity("Top, z")] = LengthEntry(mm=0)
    why: Annotated[Name, Quantity("Why it matters", "text")] = ""


class Face(Entity):
    """A face a scale could be screwed to."""

    kind = "face"
    axis_id: str
    name: Annotated[Name, Quantity("Face", "text")] = ""
    member: Annotated[Name, Quantity("Scale on the", "choice")] = ""
    reader_member: Annotated[Name, Quantity("Reader on the", "choice")] = ""
    x: Annotated[LengthEntry, Quantity("Its left end, x")] = LengthEntry(mm=0)
    y: Annotated[LengthEntry, Quantity("Its left end, y")] = LengthEntry(mm=0)
    z: Annotated[LengthEntry, Quantity("Middle of its height, z")] = LengthEntry(mm=0)
    along: Annotated[Direction, Quantity("Runs toward", "choice", choices=DIRECTIONS[1:])] = "+x"
    out: Annotated[Direction, Quantity("Looks toward", "choice", choices=DIRECTIONS[1:])] = "+y"
    length: Annotated[LengthEntry, Quantity("Length", low=0, low_open=True)] = LengthEntry(mm=100)
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
    separate: Annotated[
        Literal["no", "yes"],
        Quantity("Scale with a readout of its own", "choice", choices=(("no", "no"), ("yes", "yes"))),
    ] = "no"


class Hole(Entity):
    """A hole that is already in the machine."""

    kind = "hole"
    member: Annotated[Name, Quantity("In the", "choice")] = ""
    place: Annotated[Name, Quantity("Where", "text")] = ""
    diameter: Annotated[LengthEntry | None, Quantity("Diameter measured", low=0, low_open=True)] = None
    measured_on: Annotated[
        Literal["screw", "bore"],
        Quantity("Measured on", "choice", choices=(("screw", "its screw"), ("bore", "the bore"))),
    ] = "screw"
    pitch: Annotated[LengthEntry | None, Quantity("Pitch (1/tpi in for inch threads)", low=0, low_open=True)] = None
    depth: Annotated[LengthEntry | None, Quantity("Depth", low=0, low_open=True)] = None
    through: Annotated[
        Literal["blind", "through"], Quantity("It is", "choice", choices=(("blind", "blind"), ("through", "through")))
    ] = "blind"
    used_by: Annotated[Name, Quantity("Used by", "text")] = ""


class Display(Entity):
    """The readout wanted."""

    kind = "display"
    axes: Annotated[Number, Quantity("Axes it shows", "number", low=1, high=8)] = 3.0
    digits: Annotated[Number, Quantity("Digits", "number", low=4, high=10)] = 7.0
    functions: Annotated[Name, Quantity("Functions wanted", "text")] = "halving, hole circle, mm/inch"
    signal: Annotated[Name, Quantity("Takes which signal and plug", "text")] = ""
    place: Annotated[Name, Quantity("Where it hangs", "text")] = ""
    reach: Annotated[LengthEntry | None, Quantity("Reach of its arm", low=0, low_open=True)] = None
    side: Annotated[
        Literal["right", "left"], Quantity("On the side", "choice", choices=(("right", "right"), ("left", "left")))
    ] = "right"
    shared: Annotated[Name, Quantity("Shared with which machine", "text")] = ""
    price: Annotated[Number | None, Quantity("Price", "number", low=0)] = None


class Step(Entity):
    """One ticked step of the job card; ``key`` says which, ``note`` what was odd."""

    kind = "step"
    key: Name
    done: bool = True


class TravelSurvey(Entity):
    """One way of measuring an axis's travel: a tool, its division, and the readings between the marks."""

    kind = "travel"
    axis_id: str
    tool: Annotated[Name, Quantity("Tool", "choice")] = "tape"
    division: Annotated[LengthEntry, Quantity("Division of the tool", low=0, low_open=True)]
    readings: Annotated[tuple[LengthEntry, ...], Quantity("Travel between the marks", low=0, low_open=True)] = ()
    approach: Annotated[
        Literal["same", "opposite"],
        Quantity(
            "Both marks approached from",
            "choice",
            choices=(("same", "the same side"), ("opposite", "opposite sides")),
        ),
    ] = "same"


class ScalePlan(Entity):
    """The scale chosen for an axis and where it goes."""

    kind = "scale"
    axis_id: str
    family: Annotated[Name, Quantity("Family", "choice")] = ""
    margin: Annotated[LengthEntry, Quantity("Margin at each end", low=0)] = LengthEntry(mm=10, text="10")
    face: Annotated[LengthEntry | None, Quantity("Length of the face", low=0, low_open=True)] = None
    measuring: Annotated[LengthEntry | None, Quantity("Measuring length", low=0, low_open=True)] = None
    face_id: str = ""
    shift: Annotated[LengthEntry, Quantity("Body moved to the right on its face by")] = LengthEntry(mm=0)
    cover: Annotated[
        Literal["yes", "no"], Quantity("Cover", "choice", choices=(("yes", "with a cover"), ("no", "none")))
    ] = "yes"
    clearance: Annotated[LengthEntry, Quantity("Air wanted round its parts", low=0)] = LengthEntry(mm=1)
    price: Annotated[Number | None, Quantity("Price", "number", low=0)] = None
    scale_on: Annotated[
        Literal["moving", "still"],
        Quantity("Scale body on the", "choice", choices=(("moving", "moving member"), ("still", "still member"))),
    ] = "moving"


class IndicatorKit(Entity):
    """An indicator of the user's kit, as it is usually held."""

    kind = "indicator"
    name: Annotated[Name, Quantity("Indicator", "text")] = ""
    division: Annotated[LengthEntry, Quantity("Division of its dial", "fine", low=0, low_open=True)] = LengthEntry(
        mm=0.01, text="0.01"
    )
    range: Annotated[LengthEntry | None, Quantity("Range", "fine", low=0, low_open=True)] = None
    sense: Annotated[
        Literal["toward", "away"],
        Quantity(
            "Reading grows when the surface comes",
            "choice",
            choices=(("toward", "toward the indicator"), ("away", "away from it")),
        ),
    ] = "toward"
    lever_deg: Annotated[Number, Quantity("Usual lever or plunger angle, °", "number", low=-80, high=80)] = 0.0


class ShimKind(Entity):
    """So many shims of one thickness in the drawer."""

    kind = "shim"
    thickness: Annotated[LengthEntry, Quantity("Thickness", "fine", low=0, low_open=True)] = LengthEntry(
        mm=0.1, text="0.1"
    )
    count: Annotated[Number, Quantity("How many", "number", low=0, high=1000)] = 4.0


class Reading(Value):
    """One indicator reading at one station."""

    station: LengthEntry
    reading: LengthEntry
    line: Literal["", "top", "bottom"] = ""


class Sweep(Entity):
    """One alignment pass over a scale body: stations, readings, and how the indicator was held."""

    kind = "sweep"
    axis_id: str
    target: Target = "body"
    plane: Plane = "face"
    by: Annotated[
        Literal["pivot", "shims", "jacks"],
        Quantity(
            "Corrected by",
            "choice",
            choices=(("pivot", "easing one end to the dial"), ("shims", "shims at the ends"), ("jacks", "jack screws")),
        ),
    ] = "pivot"
    jack_pitch: Annotated[LengthEntry | None, Quantity("Pitch of the jack screws", low=0, low_open=True)] = None
    range: Annotated[LengthEntry | None, Quantity("Range of the indicator", "fine", low=0, low_open=True)] = None
    lines_apart: Annotated[LengthEntry, Quantity("Roll: the two lines are apart", low=0, low_open=True)] = LengthEntry(
        mm=20, text="20"
    )
    bolts_apart: Annotated[LengthEntry, Quantity("Roll: the two rows of bolts", low=0, low_open=True)] = LengthEntry(
        mm=20, text="20"
    )
    sense: Annotated[
        Literal["toward", "away"],
        Quantity(
            "Reading grows when the surface comes",
            "choice",
            choices=(("toward", "toward the indicator"), ("away", "away from it")),
        ),
    ] = "toward"
    lever_deg: Annotated[Number, Quantity("Lever or plunger angle, °", "number", low=-80, high=80)] = 0.0
    division: Annotated[LengthEntry, Quantity("Division of the dial", "fine", low=0, low_open=True)] = LengthEntry(
        mm=0.01, text="0.01"
    )
    tolerance: Annotated[LengthEntry, Quantity("Tolerance, end to end", "fine", low=0, low_open=True)] = LengthEntry(
        mm=0.05, text="0.05"
    )
    screw_left: Annotated[LengthEntry | None, Quantity("Left screw at")] = None
    screw_right: Annotated[LengthEntry | None, Quantity("Right screw at")] = None
    hold: Annotated[
        Literal["left", "right"],
        Quantity("Screw kept tight", "choice", choices=(("left", "left"), ("right", "right"))),
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


class GapCheck(Entity):
    """The reader's gap at one station, by feelers."""

    kind = "gap"
    axis_id: str
    station: LengthEntry
    go: Annotated[LengthEntry, Quantity("Thickest feeler that goes in", "fine", low=0)]
    no_go: Annotated[LengthEntry | None, Quantity("Thinnest that doesn't", "fine", low=0, low_open=True)] = None


_DONE = (("", "not yet"), ("yes", "yes"), ("no", "no"))
Answer = Literal["", "yes", "no"]


class ReaderSetting(Entity):
    """How the reader of an axis was set, and what was found when the axis ran."""

    kind = "reader"
    axis_id: str
    spare_low: Annotated[LengthEntry | None, Quantity("Spare beyond the low stop")] = None
    spare_high: Annotated[LengthEntry | None, Quantity("Spare beyond the high stop")] = None
    as_built: Annotated[LengthEntry | None, Quantity("Travel as built", low=0, low_open=True)] = None
    push: Annotated[LengthEntry | None, Quantity("Pushed from the side, the figure moves by", "fine")] = None
    centred: Annotated[Answer, Quantity("Head centred in height and square?", "choice", choices=_DONE)] = ""
    marks: Annotated[Answer, Quantity("Orientation marks on the same side?", "choice", choices=_DONE)] = ""
    clips: Annotated[Answer, Quantity("Shipping clips off and kept?", "choice", choices=_DONE)] = ""
    wipers: Annotated[Answer, Quantity("Wipers back on?", "choice", choices=_DONE)] = ""
    cover: Annotated[Answer, Quantity("Cover on, and nothing rubs?", "choice", choices=_DONE)] = ""


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
    length: Annotated[LengthEntry, Quantity("Length", low=0, low_open=True)] = LengthEntry(mm=60)
    width: Annotated[LengthEntry, Quantity("Width", low=0, low_open=True)] = LengthEntry(mm=25)
    thickness: Annotated[LengthEntry, Quantity("Thickness", low=0, low_open=True)] = LengthEntry(mm=12)
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
    wanted: Annotated[LengthEntry | None, Quantity("Height the stack must reach", low=0, low_open=True)] = None


class DrilledHole(Entity):
    """A hole of a part, from its lower left corner."""

    kind = "drilled"
    part_id: str
    x: Annotated[LengthEntry, Quantity("From the left edge")] = LengthEntry(mm=10)
    y: Annotated[LengthEntry, Quantity("From the lower edge")] = LengthEntry(mm=10)
    hole_kind: Annotated[
        Literal["tapped", "clearance", "counterbored", "slot"],
        Quantity(
            "It is",
            "choice",
            choices=(
                ("tapped", "tapped"), ("clearance", "a clearance hole"), ("counterbored", "counterbored"),
                ("slot", "a slot"),
            ),
        ),
    ] = "tapped"  # fmt: skip
    thread: Annotated[Name, Quantity("For the screw", "text", help="Such as M5 or 1/4-20.")] = "M5"
    adjust: Annotated[LengthEntry, Quantity("A slot lets it go either way by", low=0)] = LengthEntry(mm=3)


class StackHeight(Entity):
    """One measured height of the stack a part belongs to; negative where it goes back."""

    kind = "height"
    part_id: str
    name: Annotated[Name, Quantity("What", "text")] = ""
    height: Annotated[LengthEntry, Quantity("Height (minus: goes back)")] = LengthEntry(mm=0)
    tolerance: Annotated[LengthEntry, Quantity("Known to ±", "fine", low=0)] = LengthEntry(mm=0.05)


class Delivery(Entity):
    """What arrived for an axis; its figures replace the plan's from then on."""

    kind = "delivery"
    axis_id: str
    measuring: Annotated[LengthEntry | None, Quantity("Measuring length", low=0, low_open=True)] = None
    overall: Annotated[LengthEntry | None, Quantity("True body length", low=0, low_open=True)] = None
    hole_from_end: Annotated[LengthEntry | None, Quantity("First hole from its end", low=0)] = None
    hole_thread: Annotated[Name, Quantity("Its holes and threads", "text")] = ""
    reader: Annotated[LengthEntry | None, Quantity("Reader, length", low=0, low_open=True)] = None
    cable: Annotated[LengthEntry | None, Quantity("Cable length", low=0, low_open=True)] = None
    missing: Annotated[Name, Quantity("Missing or unsuitable", "text")] = ""
    keep: Annotated[Name, Quantity("Small parts kept, and where", "text")] = ""


class Check(Value):
    """One comparison: the true position or move, and what the display showed."""

    true: LengthEntry
    shown: LengthEntry


class CalibrationRun(Entity):
    """A check of the display against a reference."""

    kind = "calibration"
    axis_id: str
    method: Annotated[
        Literal["counts", "factor"],
        Quantity(
            "The display corrects by",
            "choice",
            choices=(("counts", "counts per unit"), ("factor", "linear factor")),
        ),
    ] = "counts"
    set_counts: Annotated[Number, Quantity("Counts set now", "number", low=0, low_open=True)] = 5080.0
    per: Annotated[
        Literal["in", "mm"],
        Quantity("Counts per", "choice", choices=(("in", "inch"), ("mm", "mm"))),
    ] = "in"
    set_factor: Annotated[Number, Quantity("Factor set now", "number", low=0, low_open=True)] = 1.0
    reference: Annotated[Name, Quantity("Reference", "text", help="What the move was measured with.")] = ""
    u_reference: Annotated[LengthEntry, Quantity("Uncertainty of the move (1u)", "fine", low=0)] = LengthEntry(
        mm=0.002, text="0.002"
    )
    step: Annotated[LengthEntry, Quantity("Last step of the display", "fine", low=0)] = LengthEntry(
        mm=0.005, text="0.005"
    )
    checks: tuple[Check, ...] = ()


class Compensation(Entity):
    """What was keyed into the display for an axis, and when (``created``)."""

    kind = "compensation"
    axis_id: str
    run_id: str
    method: Literal["counts", "factor"]
    value: Number
    per: Literal["in", "mm", ""] = ""


class LogEntry(Entity):
    """A dated line of the notebook; ``axis_id`` is empty when it concerns the whole machine."""

    kind = "log"
    axis_id: str = ""
    text: Annotated[Text, Quantity("Note", "text")] = ""


class FamilyEdit(Entity):
    """What the user knows better about a scale family than the table does."""

    kind = "family"
    family: Name
    sizes: Annotated[Name, Quantity("Sizes sold (mm, with spaces)", "text")] = ""
    end_piece: Annotated[LengthEntry | None, Quantity("End piece", low=0)] = None
    height: Annotated[LengthEntry | None, Quantity("Section, height", low=0, low_open=True)] = None
    depth: Annotated[LengthEntry | None, Quantity("Section, depth", low=0, low_open=True)] = None
    reader: Annotated[LengthEntry | None, Quantity("Reader, length", low=0, low_open=True)] = None
    reader_height: Annotated[LengthEntry | None, Quantity("Reader, height", low=0, low_open=True)] = None
    reader_depth: Annotated[LengthEntry | None, Quantity("Reader, depth", low=0, low_open=True)] = None
    count_um: Annotated[Number | None, Quantity("One count, µm", "number", low=0, low_open=True)] = None
    price: Annotated[Number | None, Quantity("Price", "number", low=0)] = None


ENTITY_TYPES: dict[str, type[Entity]] = {
    t.kind: t
    for t in (
        JobInfo, Machine, Axis, SolidBox, Face, Hole, Display, Step, TravelSurvey, ScalePlan, FamilyEdit, Delivery,
        MountPart, DrilledHole, StackHeight, IndicatorKit, ShimKind, Sweep, GapCheck, ReaderSetting, CalibrationRun,
        Compensation, LogEntry,
    )
}  # fmt: skip
