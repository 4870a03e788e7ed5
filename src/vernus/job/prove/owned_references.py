"""What displays are checked against, and what the job's display takes, from the entities to the core."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from vernus.core.prove.calibrate.compensation import Knot
from vernus.core.prove.calibrate.profile import DisplayProfile, key_knot
from vernus.core.prove.references import Reference
from vernus.job.document import Job
from vernus.job.entities import Axis, CalibrationRun, PositioningRun, ProfileSetting, ReferenceKit, TableKnot
from vernus.job.fields import mm_of
from vernus.job.known.display import shows


def reference_of(job: Job, run: CalibrationRun | PositioningRun) -> ReferenceKit | None:
    """The reference of the kit a run was checked against."""
    found = job.get(run.reference_id) if run.reference_id else None
    return found if isinstance(found, ReferenceKit) else None


def profile_of(job: Job) -> ProfileSetting | None:
    """What the job's display takes, if it was said."""
    found = job.all(ProfileSetting)
    return found[-1] if found else None


def core_profile(entity: ProfileSetting | None, shows: Literal["radius", "diameter"] = "radius") -> DisplayProfile:
    """The display's profile for the core; a plain one while nothing was said: decimals, a multiplier, no table.

    ``shows`` is how it was set for the axis in question.
    """
    if entity is None:
        return DisplayProfile(whole_counts=False, shows=shows)
    return DisplayProfile(
        entity.per, entity.counts == "whole", entity.least, entity.most, entity.factor, entity.wants,
        min(9, max(0, round(entity.decimals))), round(entity.points), entity.spacing == "equal",
        entity.step.mm, shows, mm_of(entity.origin) or 0.0,
    )  # fmt: skip


def keyed_points(job: Job, axis: Axis, knots: Iterable[Knot | TableKnot]) -> list[tuple[float, float]]:
    """A table of corrections (mm) as the job's display takes it for an axis, point by point."""
    profile = core_profile(profile_of(job), shows(job, axis).value)
    return [key_knot(profile, k.at_mm, k.correction_mm) for k in knots]


def core_reference(kit: ReferenceKit | None) -> Reference | None:
    """A reference of the kit for the core."""
    if kit is None:
        return None
    return Reference(
        kit.reference_kind, kit.grade, max(1, round(kit.pieces)), kit.substance, mm_of(kit.stated), kit.detector.mm,
        kit.division.mm,
    )  # fmt: skip
