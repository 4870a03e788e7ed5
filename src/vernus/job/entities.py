"""The entities of a job. Each is frozen; an edit replaces it by a changed copy."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from vernus.core.units import UnitSystem
from vernus.job.fields import LengthEntry, Quantity

Name = Annotated[str, Field(max_length=200)]
Text = Annotated[str, Field(max_length=20_000)]
Number = Annotated[float, Field(allow_inf_nan=False)]


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
    room_c: Annotated[Number | None, Quantity("Room", "number", low=-30, high=60)] = None


class Machine(Entity):
    """The machine being fitted."""

    kind = "machine"
    name: Annotated[Name, Quantity("Machine", "text")] = ""
    machine_kind: Name = "knee-mill-turret"


class Axis(Entity):
    """One axis: what moves on what, how good it must be, and how far it was measured to travel."""

    kind = "axis"
    machine_id: str
    name: Name
    label: Name = ""
    moving: Name = ""
    still: Name = ""
    accuracy: Annotated[
        LengthEntry | None,
        Quantity("Accuracy wanted over the travel", "fine", low=0, low_open=True, help="It decides everything later."),
    ] = None
    give_up_low: Annotated[LengthEntry | None, Quantity("Given up at the low end", low=0)] = None
    give_up_high: Annotated[LengthEntry | None, Quantity("Given up at the high end", low=0)] = None
    give_up_why: Annotated[Name, Quantity("Why, and what it costs", "text")] = ""


class TravelSurvey(Entity):
    """One way of measuring an axis's travel: a tool, its division, and the readings between the marks."""

    kind = "travel"
    axis_id: str
    tool: Annotated[Name, Quantity("Tool", "choice")] = "tape"
    division: Annotated[LengthEntry, Quantity("Division of the tool", low=0, low_open=True)]
    readings: Annotated[tuple[LengthEntry, ...], Quantity("Travel between the marks", low=0, low_open=True)] = ()


class ScalePlan(Entity):
    """The scale chosen for an axis and where it goes."""

    kind = "scale"
    axis_id: str
    family: Annotated[Name, Quantity("Family", "choice")] = ""
    margin: Annotated[LengthEntry, Quantity("Margin at each end", low=0)] = LengthEntry(mm=10, text="10")
    face: Annotated[LengthEntry | None, Quantity("Length of the face", low=0, low_open=True)] = None
    measuring: Annotated[LengthEntry | None, Quantity("Measuring length", low=0, low_open=True)] = None
    scale_on: Annotated[
        Literal["moving", "still"],
        Quantity("Scale body on the", "choice", choices=(("moving", "moving member"), ("still", "still member"))),
    ] = "moving"


class Reading(Value):
    """One indicator reading at one station."""

    station: LengthEntry
    reading: LengthEntry


class Sweep(Entity):
    """One alignment pass over a scale body: stations, readings, and how the indicator was held."""

    kind = "sweep"
    axis_id: str
    plane: Annotated[
        Literal["face", "edge"],
        Quantity("Plane", "choice", choices=(("face", "face (in and out)"), ("edge", "edge (up and down)"))),
    ] = "face"
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
        Literal["dial", "turns"],
        Quantity("Moved since the last pass by", "choice", choices=(("dial", "the dial"), ("turns", "turns or shims"))),
    ] = "dial"
    stations: tuple[LengthEntry, ...] = ()
    readings: tuple[Reading, ...] = ()


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


ENTITY_TYPES: dict[str, type[Entity]] = {
    t.kind: t for t in (JobInfo, Machine, Axis, TravelSurvey, ScalePlan, Sweep, CalibrationRun, Compensation, LogEntry)
}
