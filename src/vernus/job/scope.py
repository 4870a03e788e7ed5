"""What is fitted: which axes are in the job, and which sheets each of them goes through.

An axis with neither a readout nor a power feed is out of scope. It still moves, and the envelope knows it; nothing
else of the job speaks of it, and where its motion matters it goes by the name of its member.
"""

from __future__ import annotations

from vernus.job.document import Job
from vernus.job.entities import Axis
from vernus.job.sheet_names import ALL_SHEETS, AXIS_SHEETS, FEED_SHEETS, SheetName

_FITTED: tuple[SheetName, ...] = ("travel", "scale", "faces", "receive", "mounts", "align")
_BY_READOUT: dict[str, tuple[SheetName, ...]] = {
    "none": (),
    "new": (*_FITTED, "reader", "cables", "powerup", "calibrate", "positioning"),
    "there": ("travel", "scale", "faces", "calibrate", "positioning"),
    "own": (*_FITTED, "positioning"),
}
_BY_DRIVE: dict[str, tuple[SheetName, ...]] = {
    "none": (),
    "new": ("travel", "mounts", *FEED_SHEETS),
    "there": ("travel", "trips"),
}


def in_scope(axis: Axis) -> bool:
    """Whether anything is fitted to the axis, or was already."""
    return axis.readout != "none" or axis.drive != "none"


def has_scale(axis: Axis) -> bool:
    """Whether a scale is on the axis or comes to it."""
    return axis.readout != "none"


def gets_scale(axis: Axis) -> bool:
    """Whether a scale is bought and fitted in this job."""
    return axis.readout in ("new", "own")


def on_display(axis: Axis) -> bool:
    """Whether the axis is read on the job's display, and not on a readout of its own."""
    return axis.readout in ("new", "there")


def has_feed(axis: Axis) -> bool:
    """Whether a power feed is on the axis or comes to it."""
    return axis.drive != "none"


def axes_in_scope(job: Job) -> list[Axis]:
    """The axes that something is fitted to, in the order of the template."""
    return [a for a in job.axes() if in_scope(a)]


def sheets_of(axis: Axis) -> tuple[SheetName, ...]:
    """The sheets an axis goes through: those of its scale, those of its power feed, or both."""
    wanted = {*_BY_READOUT[axis.readout], *_BY_DRIVE[axis.drive]}
    return tuple(s for s in AXIS_SHEETS if s in wanted)


def sheets_of_job(job: Job) -> tuple[SheetName, ...]:
    """Every sheet of the job, in the order of the work."""
    axes = axes_in_scope(job)
    wanted: set[SheetName] = {"scope", "machine", "log", "paper"}
    for axis in axes:
        wanted |= {"envelope", "card", *sheets_of(axis)}
    if drives_patterns(job):
        wanted.add("part")
    if any(gets_scale(a) or a.drive == "new" for a in axes):
        wanted.add("order")
    return tuple(s for s in ALL_SHEETS if s in wanted)


def drives_patterns(job: Job) -> bool:
    """Whether holes can be driven to by the display: one axis along X and one along Y read on it, and no lathe."""
    return not is_lathe(job) and {"x", "y"} <= {a.direction[1:] for a in job.axes() if on_display(a)}


def is_lathe(job: Job) -> bool:
    """Whether the machine has what only a lathe has."""
    return any(m.id in ("bed", "tailstock") for m in job.machine.members)


def motion_name(axis: Axis) -> str:
    """What the motion of an axis is called: by the axis in scope, by its member otherwise."""
    return axis.name if in_scope(axis) else (axis.moving or axis.name)
