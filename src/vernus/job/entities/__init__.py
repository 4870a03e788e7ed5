"""The entities of a job. Each is frozen; an edit replaces it by a changed copy."""

from vernus.job.entities.base import DIRECTIONS, TARGETS, Direction, Entity, Name, Number, Plane, Target, Text, Value
from vernus.job.entities.machine import Axis, Face, Hole, JobInfo, Machine, MemberPart, SolidBox
from vernus.job.entities.make import Delivery, DrilledHole, MountPart, StackHeight
from vernus.job.entities.plan import Display, FamilyEdit, ScalePlan, Step, TravelSurvey
from vernus.job.entities.proof import CalibrationRun, Check, Compensation, LogEntry
from vernus.job.entities.setting import GapCheck, IndicatorKit, ReaderSetting, Reading, ShimKind, Sweep

__all__ = [
    "DIRECTIONS",
    "ENTITY_TYPES",
    "TARGETS",
    "Axis",
    "CalibrationRun",
    "Check",
    "Compensation",
    "Delivery",
    "Direction",
    "Display",
    "DrilledHole",
    "Entity",
    "Face",
    "FamilyEdit",
    "GapCheck",
    "Hole",
    "IndicatorKit",
    "JobInfo",
    "LogEntry",
    "Machine",
    "MemberPart",
    "MountPart",
    "Name",
    "Number",
    "Plane",
    "ReaderSetting",
    "Reading",
    "ScalePlan",
    "ShimKind",
    "SolidBox",
    "StackHeight",
    "Step",
    "Sweep",
    "Target",
    "Text",
    "TravelSurvey",
    "Value",
]

ENTITY_TYPES: dict[str, type[Entity]] = {
    t.kind: t
    for t in (
        JobInfo, Machine, Axis, SolidBox, Face, Hole, Display, Step, TravelSurvey, ScalePlan, FamilyEdit, Delivery,
        MountPart, DrilledHole, StackHeight, IndicatorKit, ShimKind, Sweep, GapCheck, ReaderSetting, CalibrationRun,
        Compensation, LogEntry,
    )
}  # fmt: skip
