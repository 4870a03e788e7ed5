"""What stands against the sheet in view, and what nobody measured under its answer."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from vernus.job.sheet_names import AXIS_SHEETS

if TYPE_CHECKING:  # the job's modules come with the first job, so that Start opens at once
    from vernus.core.finding import Finding
    from vernus.desktop.session import Session
    from vernus.job.document import Job

_RESTS = ("scale", "faces", "envelope", "order", "mounts", "align", "reader", "fit", "bracket", "trips")
_WIDER = ("machine", "envelope", "order", "part")
"""Sheets with findings of the machine as a whole, worked out only while one of them is in view."""


class OpenPoints(NamedTuple):
    """Findings, the names of what nobody measured, and of which axis ("": of the whole machine)."""

    findings: list[Finding]
    rests: list[str]
    of: str


def open_points(session: Session, job: Job) -> OpenPoints:
    """What stands against the sheet in view."""
    axis, sheet = session.axis, session.in_view
    located = session.review(axis).findings if axis is not None else ()
    found = [at.finding for at in located if at.sheet == sheet or sheet in ("log", "paper")]
    if sheet in _WIDER:
        from vernus.job.review.review import review_machine

        found += [at.finding for at in review_machine(job) if at.sheet == sheet]
    said_already = any(f.code == "rests-on-unmeasured" for f in found)
    rests = [] if said_already or axis is None or sheet not in _RESTS else _rests(session, job)
    return OpenPoints(found, rests, axis.name if axis is not None and sheet in AXIS_SHEETS else "")


def _rests(session: Session, job: Job) -> list[str]:
    """Of the axis, or of all of them on a sheet of the whole machine."""
    from vernus.job.scope import axes_in_scope

    axis = session.axis
    if axis is not None and session.in_view in AXIS_SHEETS:
        return list(session.review(axis).rests_on)
    return [f"{n} ({one.name})" for one in axes_in_scope(job) for n in session.review(one).rests_on]
