"""The entities of a job. Each is frozen; an edit replaces it by a changed copy."""

from vernus.job.entities.base import DIRECTIONS, TARGETS, Direction, Entity, Name, Number, Plane, Target, Text, Value
from vernus.job.entities.connect import CableAnchor, CableRun, PowerUpCheck, Wire
from vernus.job.entities.feed import MeshTrial, PowerFeed, RemovedPart, Rework, RunOnTest
from vernus.job.entities.machine import (
    Axis,
    Drive,
    Face,
    Hole,
    JobInfo,
    Machine,
    Measure,
    MemberPart,
    Readout,
    SolidBox,
)
from vernus.job.entities.make import Delivery, DrilledHole, HolePattern, MountPart, PartCut, StackHeight, carried_by
from vernus.job.entities.plan import BESIDE_MACHINE, Display, FamilyEdit, ScalePlan, Step, TravelSurvey
from vernus.job.entities.proof import (
    Approach,
    AxisSetting,
    CalibrationRun,
    Check,
    Compensation,
    FeelRecord,
    LogEntry,
    PositioningRun,
    ProfileSetting,
    ReferenceKit,
    TableKnot,
    Warmed,
)
from vernus.job.entities.setting import GapCheck, IndicatorKit, ReaderSetting, Reading, ShimKind, Sweep

__all__ = [
    "BESIDE_MACHINE",
    "DIRECTIONS",
    "ENTITY_TYPES",
    "TARGETS",
    "Approach",
    "Axis",
    "AxisSetting",
    "CableAnchor",
    "CableRun",
    "CalibrationRun",
    "Check",
    "Compensation",
    "Delivery",
    "Direction",
    "Display",
    "DrilledHole",
    "Drive",
    "Entity",
    "Face",
    "FamilyEdit",
    "FeelRecord",
    "GapCheck",
    "Hole",
    "HolePattern",
    "IndicatorKit",
    "JobInfo",
    "LogEntry",
    "Machine",
    "Measure",
    "MemberPart",
    "MeshTrial",
    "MountPart",
    "Name",
    "Number",
    "PartCut",
    "Plane",
    "PositioningRun",
    "PowerFeed",
    "PowerUpCheck",
    "ProfileSetting",
    "ReaderSetting",
    "Reading",
    "Readout",
    "ReferenceKit",
    "RemovedPart",
    "Rework",
    "RunOnTest",
    "ScalePlan",
    "ShimKind",
    "SolidBox",
    "StackHeight",
    "Step",
    "Sweep",
    "TableKnot",
    "Target",
    "Text",
    "TravelSurvey",
    "Value",
    "Warmed",
    "Wire",
    "carried_by",
]

ENTITY_TYPES: dict[str, type[Entity]] = {
    t.kind: t
    for t in (
        JobInfo, Machine, Axis, Measure, SolidBox, Face, Hole, Display, Step, TravelSurvey, ScalePlan, FamilyEdit,
        Delivery, MountPart, DrilledHole, HolePattern, PartCut, StackHeight, IndicatorKit, ShimKind, Sweep, GapCheck,
        ReaderSetting, CableRun,
        CableAnchor, Wire, PowerUpCheck, ReferenceKit, ProfileSetting, AxisSetting, CalibrationRun, Compensation,
        PositioningRun, FeelRecord, LogEntry, PowerFeed, MeshTrial, RunOnTest, Rework, RemovedPart,
    )
}  # fmt: skip
