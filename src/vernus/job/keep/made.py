"""Which statements a step of the card is done to."""

from __future__ import annotations

from collections.abc import Iterable

from vernus.core.keep.schedule import JobStep
from vernus.job.connect.statements import cable_statements
from vernus.job.document import Job
from vernus.job.entities import Axis, MadeTo
from vernus.job.feed.feed import made_now as feed_made_now
from vernus.job.feed.statements import feed_statements
from vernus.job.keep.buying import buy_statements
from vernus.job.known.axis_figures import feed_of
from vernus.job.made import noted
from vernus.job.make.parts import patterns_of
from vernus.job.make.served import parts_of
from vernus.job.make.statements import part_statements
from vernus.job.plan.statements import scale_statements, stop_statements
from vernus.job.scope import axes_in_scope
from vernus.job.statement import Statement

_FITTED = ("hold", "run", "mark", "reach", "rodguard", "rod", "cover")
_ON_A_FACE = ("align", "reader", "calibrate", "prove")
_FITTED_TO = ("scale", "face", "body")
_MOST = 400


def made_now(job: Job, step: JobStep) -> tuple[MadeTo, ...]:
    """What is kept with a step that is ticked now; nothing for one that is done to no figure."""
    if step.key.startswith("feedpart-"):
        return _feed_part_now(job, step)
    return noted(done_to(job, step))[:_MOST]


def _feed_part_now(job: Job, step: JobStep) -> tuple[MadeTo, ...]:
    """How a part of a feed has to be, as its sheet notes it too."""
    axis = next((a for a in axes_in_scope(job) if a.name == step.axis), None)
    feed = None if axis is None else feed_of(job, axis)
    if axis is None or feed is None:
        return ()
    return feed_made_now(job, axis, feed, step.key.removeprefix(f"feedpart-{axis.name}-"))


def done_to(job: Job, step: JobStep) -> list[Statement]:
    """The statements a step is done to, as things stand."""
    return list(job.derived(("done to", step.key, step.axis), lambda: list(_done_to(job, step))))


def _done_to(job: Job, step: JobStep) -> Iterable[Statement]:
    kind = step.key.split("-")[0]
    axis = next((a for a in axes_in_scope(job) if a.name == step.axis), None)
    if kind == "order":
        return buy_statements(job)
    if kind == "stops":
        return [s for a in job.axes() for s in stop_statements(job, a)]
    if axis is None:
        return []
    if kind == "make":
        part = step.key.removeprefix("make-")
        return [s for s in part_statements(job, axis) if s.kind in ("part", "hole") and _of(s, part)]
    if kind == "drill":
        return [*_fitted(job, axis), *_drilled(job, axis, step)]
    if kind in _FITTED:
        return _fitted(job, axis)
    if kind in _ON_A_FACE:
        return [s for s in _fitted(job, axis) if s.kind == "face"]
    if kind == "cables":
        return cable_statements(job, axis)
    return [s for s in feed_statements(job, axis) if s.kind == "trip"] if kind == "trip" else []


def _of(statement: Statement, part_id: str) -> bool:
    about = statement.about if statement.kind == "part" else statement.about.rpartition("-")[0]
    return about == part_id


def _fitted(job: Job, axis: Axis) -> list[Statement]:
    """The scale, its face, and where the body lies on it."""
    found = job.derived(("fitted to", axis.id), lambda: scale_statements(job, axis))
    return [s for s in found if s.kind in _FITTED_TO]


def _drilled(job: Job, axis: Axis, step: JobStep) -> list[Statement]:
    """The holes of the faces drilled for an axis: of one pattern where the step is that pattern's."""
    faces = [p for p in parts_of(job, axis) if p.part_kind == "face"]
    pattern = step.key.removeprefix(f"drill-{axis.name}").lstrip("-")
    mine = [f.id for f in faces if not pattern or pattern in (p.id for p in patterns_of(job, f))]
    holes = [s for s in part_statements(job, axis) if s.kind == "hole"]
    return [s for s in holes if any(_of(s, face) for face in mine)]
