"""How far every sheet of the whole job is, and the axes as JSON."""

from __future__ import annotations

from typing import Literal

from vernus.job.document import Job
from vernus.job.entities import (
    LogEntry,
    Step,
    TrialPart,
)
from vernus.job.feed.asked import FEED_SHEETS
from vernus.job.known.axis_figures import chosen_face
from vernus.job.machine.stroke import stroke_of
from vernus.job.machine.survey import told_so_far
from vernus.job.plan.display import display_of
from vernus.job.prove.part import part_result, trial_part
from vernus.job.review.review import card_lines, review_axis, review_machine
from vernus.job.review.sheet_reviews import State, state_with
from vernus.job.scope import (
    axes_in_scope,
    gets_scale,
    in_scope,
    sheets_of,
    sheets_of_job,
)
from vernus.job.sheet_names import AXIS_SHEETS, SheetName


def job_states(job: Job) -> dict[SheetName, State]:
    """The state of every sheet that belongs to the machine or the whole job."""
    serious = {
        s: [at.finding for at in review_machine(job) if at.sheet == s] for s in ("machine", "envelope", "order", "part")
    }
    fitted = [a for a in axes_in_scope(job) if gets_scale(a)]
    chosen = sum(chosen_face(job, a) is not None for a in fitted)
    done, of = told_so_far(job)
    entered: dict[SheetName, Literal["open", "begun", "done"]] = {
        "scope": "done" if axes_in_scope(job) else "open",
        "machine": _how_far(done, of),
        "envelope": _how_far(chosen, len(fitted)),
        "order": _how_far(sum((display_of(job) is not None, _ordered(job))), 2),
        "part": _part_state(job),
        "card": _card_state(job),
        "log": "begun" if job.all(LogEntry) else "open",
        "paper": "open",
    }
    wanted = [s for s in sheets_of_job(job) if s not in AXIS_SHEETS]
    return {s: state_with(entered[s], serious.get(str(s), ()), failed=False) for s in wanted}


def _part_state(job: Job) -> Literal["open", "begun", "done"]:
    if not job.all(TrialPart):
        return "open"
    return "done" if part_result(job, trial_part(job, "none")).done else "begun"


def _how_far(done: int, of: int) -> Literal["open", "begun", "done"]:
    return "open" if done == 0 else "done" if done >= of else "begun"


def _ordered(job: Job) -> bool:
    return any(s.key == "order" and s.done for s in job.all(Step))


def _card_state(job: Job) -> Literal["open", "begun", "done"]:
    lines = card_lines(job)
    return "open" if not any(s.done for s in job.all(Step)) else _how_far(sum(c.done for c in lines), len(lines))


_WORST: tuple[State, ...] = ("stop", "caution", "begun", "open", "done")


def _with_feed(states: dict[SheetName, State]) -> dict[str, State]:
    """The states with the worst of a feed's sheets before them, under ``feed``."""
    found: dict[str, State] = {}
    mine = [states[s] for s in FEED_SHEETS if s in states]
    for sheet, state in states.items():
        if sheet in FEED_SHEETS and "feed" not in found:
            worst = min(mine, key=_WORST.index)
            found["feed"] = "begun" if worst == "open" and "done" in mine else worst
        found[sheet] = state
    return found


def axes_as_json(job: Job) -> dict[str, dict[str, object]]:
    """What ``check --json`` says of every axis, those out of scope too."""
    shared = job_states(job) if axes_in_scope(job) else {}
    found: dict[str, dict[str, object]] = {}
    for axis in job.axes():
        review, line = review_axis(job, axis), stroke_of(job, axis).stroke
        wanted = sheets_of(axis)
        states = {**shared, **review.states} if in_scope(axis) else {}
        order = [s for s in sheets_of_job(job) if s in states and (s in wanted or s not in AXIS_SHEETS)]
        found[axis.name] = {
            "scope": axis.readout,
            "drive": axis.drive,
            "states": _with_feed({s: states[s] for s in order}),
            "stops": []
            if line is None
            else [{"end": n.end, "before_mark_mm": n.before_mark_mm, "why": n.why} for n in line.stops],
            "kept_mm": None if line is None or line.kept_mm is None else list(line.kept_mm),
            "rests_on": list(review.rests_on),
        }
    return found
