"""The plan: travel, scale, display and the ticked steps."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from vernus.job.entities.base import Entity, MadeTo, Name, Number, Value
from vernus.job.fields import LengthEntry, Quantity


class TravelSurvey(Entity):
    """One way of measuring an axis's travel: a tool, its division, and the readings between the marks."""

    kind = "travel"
    axis_id: str
    tool: Annotated[Name, Quantity("Tool", "choice")] = "tape"
    division: Annotated[LengthEntry, Quantity("Division of the tool", low=0, low_open=True, judged="rule")]
    readings: Annotated[
        tuple[LengthEntry, ...], Quantity("Travel between the marks", low=0, low_open=True, judged="travel")
    ] = ()
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
    margin: Annotated[LengthEntry, Quantity("Margin at each end", low=0, judged="part")] = LengthEntry(mm=10, text="10")
    face: Annotated[LengthEntry | None, Quantity("Length of the face", low=0, low_open=True, judged="scale")] = None
    measuring: Annotated[LengthEntry | None, Quantity("Measuring length", low=0, low_open=True, judged="scale")] = None
    face_id: str = ""
    shift: Annotated[LengthEntry, Quantity("Body moved {@to_right} on its face by", judged="along")] = LengthEntry(mm=0)
    beside: Annotated[LengthEntry | None, Quantity("Compare it with the body moved by", judged="along")] = None
    starts: Annotated[LengthEntry | None, Quantity("Its body begins, from the face's {@left} end", judged="along")] = (
        None
    )
    spare_at: Annotated[
        Literal["even", "low", "high"],
        Quantity(
            "Spare",
            "choice",
            choices=(
                ("even", "the same at both ends"), ("low", "so much at the {@low} end"),
                ("high", "so much at the {@high} end"),
            ),
        ),
    ] = "even"  # fmt: skip
    spare: Annotated[
        LengthEntry | None, Quantity("Spare wanted there, the rest at the other end", low=0, judged="along")
    ] = None
    stand_off: Annotated[LengthEntry | None, Quantity("Held off its face by", low=0, judged="off")] = None
    lips: Annotated[
        Literal["down", "in", "out", "up"],
        Quantity(
            "Its lips look",
            "choice",
            choices=(("down", "down"), ("in", "in, to the casting"), ("out", "out, away from it"), ("up", "up")),
        ),
    ] = "down"
    cover: Annotated[
        Literal["yes", "no"], Quantity("Cover", "choice", choices=(("yes", "with a cover"), ("no", "none")))
    ] = "yes"
    clearance: Annotated[LengthEntry, Quantity("Air wanted round its parts", low=0, judged="slack")] = LengthEntry(mm=1)
    price: Annotated[Number | None, Quantity("Price", "number", low=0)] = None
    scale_on: Annotated[
        Literal["", "moving", "still"],
        Quantity(
            "Scale body on the",
            "choice",
            choices=(("", "as its face says"), ("moving", "moving member"), ("still", "still member")),
        ),
    ] = ""
    checked_on: Annotated[Name, Quantity("Last checked, the day (2024-05-31)", "text")] = ""
    checked_off: Annotated[
        LengthEntry | None, Quantity("It showed too much by (too little: −)", "fine", judged="accuracy")
    ] = None
    checked_over: Annotated[LengthEntry | None, Quantity("Over a move of", low=0, low_open=True, judged="scale")] = None


class FamilyEdit(Entity):
    """What the user knows better about a scale family than the table does."""

    kind = "family"
    family: Name
    sizes: Annotated[Name, Quantity("Sizes sold", "lengths", help="Such as 200; 300; 400 or 8 in; 12 in.")] = ""
    kits: Annotated[Name, Quantity("Kits of several", "lengths", help="Such as 8 in × 16 in; 8 in × 24 in.")] = ""
    kit_price: Annotated[Number | None, Quantity("Price of a kit", "number", low=0)] = None
    end_piece: Annotated[LengthEntry | None, Quantity("End piece", low=0, judged="part")] = None
    height: Annotated[LengthEntry | None, Quantity("Section, height", low=0, low_open=True, judged="section")] = None
    depth: Annotated[LengthEntry | None, Quantity("Section, depth", low=0, low_open=True, judged="section")] = None
    reader: Annotated[LengthEntry | None, Quantity("Reader, length", low=0, low_open=True, judged="part")] = None
    reader_height: Annotated[LengthEntry | None, Quantity("Reader, height", low=0, low_open=True, judged="section")] = (
        None
    )
    reader_depth: Annotated[LengthEntry | None, Quantity("Reader, depth", low=0, low_open=True, judged="section")] = (
        None
    )
    count_um: Annotated[Number | None, Quantity("One count, µm", "number", low=0, low_open=True)] = None
    price: Annotated[Number | None, Quantity("Price", "number", low=0)] = None


BESIDE_MACHINE = ("post", "wall")
"""Where a display may hang that is no member of the machine: it stands still, and not in its way."""


class Display(Entity):
    """The readout wanted."""

    kind = "display"
    axes: Annotated[Number, Quantity("Axes it shows", "number", low=1, high=8)] = 3.0
    digits: Annotated[Number, Quantity("Digits", "number", low=4, high=10)] = 7.0
    functions: Annotated[Name, Quantity("Functions wanted", "text")] = "halving, hole circle, mm/inch"
    signal: Annotated[Name, Quantity("Takes which signal and plug", "text")] = ""
    place: Annotated[Name, Quantity("Where it hangs", "text")] = ""
    member: Annotated[Name, Quantity("Hangs on the", "choice")] = ""
    reach: Annotated[LengthEntry | None, Quantity("Reach of its arm", low=0, low_open=True, judged="part")] = None
    side: Annotated[
        Literal["right", "left"], Quantity("On the side", "choice", choices=(("right", "right"), ("left", "left")))
    ] = "right"
    shared: Annotated[Name, Quantity("Shared with which machine", "text")] = ""
    price: Annotated[Number | None, Quantity("Price", "number", low=0)] = None


class Step(Entity):
    """One ticked step of the job card; ``key`` says which, ``note`` what was odd.

    ``made_to`` is what was said of it when it was ticked: where that differs by more than matters, it is open again.
    """

    kind = "step"
    made_to: Annotated[tuple[MadeTo, ...], Field(max_length=400)] = ()
    key: Name
    done: bool = True
    hours: Annotated[Number | None, Quantity("It will take, hours", "number", low=0, high=1000)] = None
    minutes: Annotated[Number | None, Quantity("It took, minutes", "number", low=0, high=60_000)] = None
    begun: Annotated[str, Field(max_length=40)] = ""


class OwnStep(Entity):
    """A step of the job card that the user adds: what to do, after which other step, and how long it takes.

    What comes again every so many days fills no evening: it falls due.
    """

    kind = "own-step"
    axis_id: Annotated[str, Quantity("It concerns", "choice")] = ""
    words: Annotated[Name, Quantity("What to do", "text")] = ""
    after: Annotated[Name, Quantity("After", "choice")] = ""
    waits: Annotated[
        Literal["yes", "no"],
        Quantity(
            "Begun",
            "choice",
            choices=(("yes", "once what that step waits for is over"), ("no", "as soon as that step is done")),
        ),
    ] = "yes"
    on_day: Annotated[
        Name, Quantity("Pinned to the day", "day", help="Such as 2027-01-31; empty: when its turn comes.")
    ] = ""
    every_days: Annotated[Number, Quantity("Again every, days", "number", low=0, high=3650, help="0: once.")] = 0.0
    hours: Annotated[Number, Quantity("Hours", "number", low=0, high=1000)] = 0.5
    wait_days: Annotated[Number, Quantity("Then wait, days", "number", low=0, high=365)] = 0.0
    tools: Annotated[Name, Quantity("Tools", "text")] = ""


class EveningPlan(Entity):
    """When the user works on the job: hours by weekday, when they begin, from which day on, and the days away.

    Setting up and packing up are in the hours: what is left of an evening is worked.
    """

    kind = "evenings"
    mon: Annotated[Number, Quantity("Monday, hours", "number", low=0, high=24)] = 0.0
    tue: Annotated[Number, Quantity("Tuesday, hours", "number", low=0, high=24)] = 0.0
    wed: Annotated[Number, Quantity("Wednesday, hours", "number", low=0, high=24)] = 0.0
    thu: Annotated[Number, Quantity("Thursday, hours", "number", low=0, high=24)] = 0.0
    fri: Annotated[Number, Quantity("Friday, hours", "number", low=0, high=24)] = 0.0
    sat: Annotated[Number, Quantity("Saturday, hours", "number", low=0, high=24)] = 0.0
    sun: Annotated[Number, Quantity("Sunday, hours", "number", low=0, high=24)] = 0.0
    begins: Annotated[Name, Quantity("Evenings begin at", "clock", help="Such as 19:30.")] = ""
    begins_weekend: Annotated[Name, Quantity("Weekend, at", "clock", help="Saturdays and Sundays, such as 09:00.")] = ""
    set_up: Annotated[Number, Quantity("Setting up, minutes", "number", low=0, high=240)] = 0.0
    pack_up: Annotated[Number, Quantity("Packing up, minutes", "number", low=0, high=240)] = 0.0
    starts: Annotated[Name, Quantity("From the day on (2027-01-31; empty: today)", "day")] = ""
    away: Annotated[Name, Quantity("Days away, such as 2027-02-01 to 2027-02-07, 2027-03-05", "days")] = ""
    delivery_days: Annotated[Number, Quantity("Delivery takes, days", "number", low=0, high=365)] = 9.0


class SentEntry(Value):
    """An entry of the calendar as it was last written: its id, how often it changed, its day, and what it held."""

    uid: Name
    sequence: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    day: Annotated[date, Field(ge=date(1970, 1, 1), le=date(2900, 12, 31))]
    digest: Annotated[str, Field(max_length=32)]
    gone: bool = False


class SentCalendar(Entity):
    """What the calendar files of this job held, so that the next one changes and cancels the same entries."""

    kind = "sent-calendar"
    entries: Annotated[tuple[SentEntry, ...], Field(max_length=4000)] = ()
