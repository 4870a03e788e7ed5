"""What is proved and kept: references, the display's settings, checks, what was keyed in, positioning, the log."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from vernus.core.prove.thermal import SUBSTANCES, Substance
from vernus.job.entities.base import Entity, Hung, Name, Number, Text, Value
from vernus.job.fields import LengthEntry, Quantity

_SUBSTANCES = tuple((s, s.replace("-", " ")) for s in SUBSTANCES)
_UNITS = (("in", "inch"), ("mm", "mm"))
_RADIUS = (("radius", "the true move"), ("diameter", "twice the move (diameter)"))
_SHOWS = (("", "not said"), *_RADIUS)


class ReferenceKit(Entity):
    """Something of the user's kit that displays are checked against."""

    kind = "reference"
    name: Annotated[Name, Quantity("Reference", "text")] = ""
    reference_kind: Annotated[
        Literal["blocks", "shop-blocks", "micrometer", "bar", "dial", "other"],
        Quantity(
            "It is",
            "choice",
            choices=(
                ("blocks", "gauge blocks with a grade"), ("shop-blocks", "blocks without one"),
                ("micrometer", "micrometer head"), ("bar", "length bar"), ("dial", "the machine's dial"),
                ("other", "something else"),
            ),
        ),
    ] = "blocks"  # fmt: skip
    grade: Annotated[
        Literal["0", "1", "2"], Quantity("Grade", "choice", choices=(("0", "0"), ("1", "1"), ("2", "2")))
    ] = "1"
    pieces: Annotated[Number, Quantity("Pieces wrung together", "number", low=1, high=10)] = 1.0
    substance: Annotated[Substance, Quantity("Made of", "choice", choices=_SUBSTANCES)] = "steel"
    stated: Annotated[
        LengthEntry | None,
        Quantity("Certificate says ± (k = 2)", "fine", low=0, low_open=True, judged="accuracy"),
    ] = None
    detector: Annotated[LengthEntry, Quantity("Division of the zero indicator", "fine", low=0, judged="accuracy")] = (
        LengthEntry(mm=0.001, text="0.001")
    )
    division: Annotated[LengthEntry, Quantity("Division of the dial", "fine", low=0, judged="division")] = LengthEntry(
        mm=0.01, text="0.01"
    )
    dial_shows: Annotated[Literal["radius", "diameter"], Quantity("The dial shows", "choice", choices=_RADIUS)] = (
        "radius"
    )


class ProfileSetting(Entity):
    """What the job's display takes, from its settings menu or its instructions."""

    kind = "profile"
    name: Annotated[Name, Quantity("Our name for it", "text")] = ""
    per: Annotated[Literal["in", "mm"], Quantity("Counts are per", "choice", choices=_UNITS)] = "mm"
    counts: Annotated[
        Literal["whole", "decimal"],
        Quantity("Counts are", "choice", choices=(("whole", "whole numbers"), ("decimal", "with decimals"))),
    ] = "whole"
    least: Annotated[Number | None, Quantity("Least counts it takes", "number", low=0, judged="counts")] = None
    most: Annotated[
        Number | None, Quantity("Most counts it takes", "number", low=0, low_open=True, judged="counts")
    ] = None
    factor: Annotated[
        Literal["multiplier", "ppm", "mm-per-m", "pair"],
        Quantity(
            "Linear correction is keyed as",
            "choice",
            choices=(
                ("multiplier", "a multiplier"), ("ppm", "ppm"), ("mm-per-m", "mm per metre"),
                ("pair", "true and shown length"),
            ),
        ),
    ] = "multiplier"  # fmt: skip
    wants: Annotated[
        Literal["correction", "error"],
        Quantity(
            "It wants",
            "choice",
            choices=(
                ("correction", "correction: + shows more"),
                ("error", "error: + is too much"),
            ),
        ),
    ] = "correction"
    points: Annotated[Number, Quantity("Points of its table (0: none)", "number", low=0, high=200)] = 0.0
    spacing: Annotated[
        Literal["equal", "free"],
        Quantity("Its points are", "choice", choices=(("equal", "at equal distances"), ("free", "where you like"))),
    ] = "free"
    step: Annotated[LengthEntry, Quantity("Step of its values", "fine", low=0, low_open=True, judged="count")] = (
        LengthEntry(mm=0.001, text="0.001")
    )
    origin: Annotated[LengthEntry | None, Quantity("Its table counts from, as shown", judged="along")] = None
    decimals: Annotated[Number, Quantity("Decimals of its multiplier", "number", low=3, high=9)] = 6.0


class AxisSetting(Entity):
    """What is set in the display for one axis: its counts, its last digit, and the true move or twice it."""

    kind = "setting"
    axis_id: str
    counts: Annotated[Number | None, Quantity("Counts set", "number", low=0, low_open=True, judged="counts")] = None
    per: Annotated[Literal["in", "mm"], Quantity("Counts per", "choice", choices=_UNITS)] = "mm"
    resolution: Annotated[
        LengthEntry | None, Quantity("Its last digit steps by", "fine", low=0, low_open=True, judged="count")
    ] = None
    shows: Annotated[Literal["", "radius", "diameter"], Quantity("It shows", "choice", choices=_SHOWS)] = ""


class Check(Value):
    """One comparison: the true position or move, and what the display showed."""

    true: LengthEntry
    shown: LengthEntry


class Warmed(Hung):
    """A check with the temperatures it was made at."""

    scale_c: Annotated[
        Number | None, Quantity("Scale is at", "temperature", low=-30, high=60, judged="temperature")
    ] = None
    reference_c: Annotated[
        Number | None, Quantity("Reference is at", "temperature", low=-30, high=60, judged="temperature")
    ] = None
    u_c: Annotated[Number, Quantity("Thermometer, ± °C", "number", low=0, high=10)] = 0.5
    scale_substance: Annotated[
        Substance | Literal[""],
        Quantity(
            "The scale expands like",
            "choice",
            choices=(("", "its family"), *_SUBSTANCES),
            help="A tape like the casting.",
        ),
    ] = ""

    @property
    def scale_like(self) -> Substance:
        """What the scale expands like: glass while neither the check nor the scale's family says otherwise."""
        return self.scale_substance or "glass"


class CalibrationRun(Warmed):
    """A check of the display against a reference.

    What is set in the display (counts, radius or diameter) is said of the axis; here only what was set when a check was
    left behind, or keyed in.
    """

    kind = "calibration"
    outlasts = True  # a display stays set to what was keyed in, wherever its scale hangs
    axis_id: str
    method: Annotated[
        Literal["counts", "factor", "table"],
        Quantity(
            "The display corrects by",
            "choice",
            choices=(("counts", "counts per unit"), ("factor", "linear factor"), ("table", "a table of points")),
        ),
    ] = "counts"
    set_counts: Annotated[
        Number | None, Quantity("Counts set now", "number", low=0, low_open=True, judged="counts")
    ] = None
    per: Annotated[Literal["in", "mm"], Quantity("Counts per", "choice", choices=_UNITS)] = "in"
    set_factor: Annotated[Number, Quantity("Factor set now", "number", low=0, low_open=True)] = 1.0
    reference_id: Annotated[str, Quantity("Checked against", "choice")] = ""
    shows: Annotated[Literal["", "radius", "diameter"], Quantity("The display showed", "choice", choices=_SHOWS)] = ""
    reference: Annotated[Name, Quantity("Reference", "text", help="What the move was measured with.")] = ""
    u_reference: Annotated[LengthEntry, Quantity("Uncertainty of the move (1u)", "fine", low=0, judged="accuracy")] = (
        LengthEntry(mm=0.002, text="0.002")
    )
    step: Annotated[LengthEntry, Quantity("Last step of the display", "fine", low=0, judged="count")] = LengthEntry(
        mm=0.005, text="0.005"
    )
    checks: tuple[Check, ...] = ()

    @property
    def counts_set(self) -> float:
        """The counts the display was set to; the usual ones of a 5 µm scale while neither check nor axis says so."""
        return self.set_counts or (5080.0 if self.per == "in" else 200.0)


class TableKnot(Value):
    """One line of a keyed table (mm)."""

    at_mm: Number
    correction_mm: Number


class Compensation(Entity):
    """What was keyed into the display for an axis, and when (``created``)."""

    kind = "compensation"
    axis_id: str
    run_id: str
    method: Literal["counts", "factor", "table"]
    value: Number
    per: Literal["in", "mm", ""] = ""
    knots: tuple[TableKnot, ...] = ()


class Approach(Value):
    """One reading of a positioning run: target, approached upward or downward, and what was shown."""

    target: LengthEntry
    up: bool
    shown: LengthEntry


class PositioningRun(Warmed):
    """Several cycles over targets in both directions, readings in the order taken."""

    kind = "positioning"
    axis_id: str
    targets: tuple[LengthEntry, ...] = ()
    plan: Annotated[
        Literal["full", "quick", "wave"],
        Quantity(
            "Kind of run",
            "choice",
            choices=(
                ("full", "full"), ("quick", "quick check: three targets, two cycles"), ("wave", "looking for a wave"),
            ),
        ),
    ] = "full"  # fmt: skip
    cycles: Annotated[Number, Quantity("Cycles", "number", low=1, high=50)] = 5.0
    ways: Annotated[
        Literal["both", "up"],
        Quantity("Approach", "choice", choices=(("both", "both directions"), ("up", "upward only"))),
    ] = "both"
    stations: Annotated[Number, Quantity("Targets", "number", low=2, high=200)] = 5.0
    step: Annotated[LengthEntry, Quantity("Last step of the display", "fine", low=0, low_open=True, judged="count")] = (
        LengthEntry(mm=0.005, text="0.005")
    )
    shows: Annotated[Literal["", "radius", "diameter"], Quantity("The display showed", "choice", choices=_SHOWS)] = ""
    reference_id: Annotated[str, Quantity("Checked against", "choice")] = ""
    readings: tuple[Approach, ...] = ()


class PlaceMeasured(Value):
    """A hole of a drilled part: its number and where it was measured to be, in any datum."""

    hole: Annotated[int, Field(ge=1, le=999)]
    x: LengthEntry
    y: LengthEntry


class SpanMeasured(Value):
    """A distance measured between the middles of two holes of a drilled part."""

    first: Annotated[int, Field(ge=1, le=999)]
    second: Annotated[int, Field(ge=1, le=999)]
    apart: LengthEntry


class TrialPart(Entity):
    """A part as proof: its centre found by halving, the holes to drive to, and what was measured after drilling."""

    kind = "trial-part"
    pattern: Annotated[
        Literal["circle", "arc", "row"],
        Quantity(
            "Holes on",
            "choice",
            choices=(("circle", "a circle"), ("arc", "part of a circle"), ("row", "a straight row")),
        ),
    ] = "circle"
    holes: Annotated[Number, Quantity("How many holes", "number", low=1, high=999)] = 6.0
    radius: Annotated[LengthEntry | None, Quantity("Radius", low=0, low_open=True, judged="part")] = None
    start_deg: Annotated[Number, Quantity("First hole at, ° from +X", "number", low=-360, high=360)] = 0.0
    span_deg: Annotated[Number, Quantity("Last hole farther by, °", "number", low=-360, high=360)] = 90.0
    pitch: Annotated[LengthEntry | None, Quantity("Hole to hole", low=0, low_open=True, judged="part")] = None
    angle_deg: Annotated[Number, Quantity("Row runs at, ° from +X", "number", low=-360, high=360)] = 0.0
    finder: Annotated[LengthEntry | None, Quantity("Edge finder's diameter", low=0, judged="part")] = None
    touched: Annotated[
        Literal["outside", "inside"],
        Quantity("Edges touched from", "choice", choices=(("outside", "outside"), ("inside", "inside, as in a bore"))),
    ] = "outside"
    x_first: Annotated[LengthEntry | None, Quantity("X shows, one side touched", judged="along")] = None
    x_second: Annotated[LengthEntry | None, Quantity("X shows, other side touched", judged="along")] = None
    y_first: Annotated[LengthEntry | None, Quantity("Y shows, one side touched", judged="along")] = None
    y_second: Annotated[LengthEntry | None, Quantity("Y shows, other side touched", judged="along")] = None
    places: tuple[PlaceMeasured, ...] = ()
    spans: tuple[SpanMeasured, ...] = ()


class FeelRecord(Hung):
    """One test by hand and indicator, its figures in order."""

    kind = "feel"
    axis_id: str
    test: Annotated[
        Literal["steps", "push", "zero"],
        Quantity(
            "Test",
            "choice",
            choices=(("steps", "small steps"), ("push", "push from the side"), ("zero", "back to zero")),
        ),
    ] = "steps"
    asked: Annotated[LengthEntry, Quantity("Small step asked for", "fine", low=0, low_open=True, judged="feel")] = (
        LengthEntry(mm=0.025, text="0.025")
    )
    values: tuple[LengthEntry, ...] = ()


class LogEntry(Entity):
    """A dated line of the notebook; ``axis_id`` is empty when it concerns the whole machine."""

    kind = "log"
    axis_id: str = ""
    text: Annotated[Text, Quantity("What happened", "text")] = ""
    event: Annotated[
        Literal["", "crash", "knock", "off", "cleaned", "moved"],
        Quantity(
            "It was",
            "choice",
            choices=(
                ("", "a note"), ("crash", "a crash"), ("knock", "a knock"), ("off", "a part was taken off"),
                ("cleaned", "scale cleaned"), ("moved", "machine moved"),
            ),
        ),
    ] = ""  # fmt: skip

    @property
    def decides(self) -> bool:
        """Only what happened to the machine does; a note doesn't."""
        return bool(self.event)
