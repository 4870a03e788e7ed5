"""A new job: the entities it begins with, on a machine of some kind."""

from __future__ import annotations

from collections.abc import Mapping

from vernus.job.catalog.shipped import machine_kind
from vernus.job.catalog.templates import MachineTemplate, template_entities
from vernus.job.document import new_id
from vernus.job.entities import Axis, Drive, Entity, JobInfo, Readout

Scope = Mapping[str, tuple[Readout, Drive]]
"""Per axis name: what readout and what power feed it gets."""


def new_job_entities(
    title: str,
    kind: str | MachineTemplate,
    units: str = "mm",
    machine_name: str = "",
    scope: Scope | None = None,
) -> list[Entity]:
    """The entities of a new job, with the axes, boxes and faces of its template.

    Axes that ``scope`` doesn't name get what is usual on that kind of machine. Raises BadInputError for a kind that
    isn't there.
    """
    template = machine_kind(kind) if isinstance(kind, str) else kind
    info = JobInfo.model_validate({"id": new_id(), "title": title, "units": units})
    made = template_entities(template, machine_name, new_id)
    said = scope or {}
    return [info, *(_scoped(e, said) if isinstance(e, Axis) else e for e in made)]


def _scoped(axis: Axis, scope: Scope) -> Axis:
    if axis.name not in scope:
        return axis
    readout, drive = scope[axis.name]
    changed = axis.with_(readout=readout, drive=drive)
    assert isinstance(changed, Axis)
    return changed
