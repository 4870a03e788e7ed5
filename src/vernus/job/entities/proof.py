"""What is proved and kept: checks of the display, what was keyed in, the log."""

from __future__ import annotations

from typing import Annotated, Literal

from vernus.job.entities.base import Entity, Name, Number, Text, Value
from vernus.job.fields import LengthEntry, Quantity


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
    text: Annotated[Text, Quantity("What happened", "text")] = ""
