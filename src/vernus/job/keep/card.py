"""The job card: every step in order, what is done and by what, and what comes next."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from datetime import date, timedelta

from vernus.core.finding import Sentence
from vernus.core.keep.schedule import JobStep, order_steps, still_needed
from vernus.core.units import UnitSystem
from vernus.job.document import Job
from vernus.job.entities import LogEntry, Step
from vernus.job.feed.feed import feed_result, step_key
from vernus.job.happened import SCREWS, Touched, happened_since, opened_words
from vernus.job.keep.made import made_now
from vernus.job.keep.steps import steps_of
from vernus.job.keep.steps_own import again_days
from vernus.job.known.axis_figures import chosen_face, feed_of
from vernus.job.known.lengths import measuring_length
from vernus.job.made import changed_since
from vernus.job.moments import local_day, own_date
from vernus.job.scope import axes_in_scope, gets_scale

States = Mapping[str, Mapping[str, str]]
"""Per axis name the state of each of its sheets."""


@dataclass(frozen=True)
class CardLine:
    """A step of the job card, whether it is done, and by what: ticked, or the sheet says so."""

    step: JobStep
    done: bool
    when: str
    note: str
    by_sheet: bool
    minutes: float = 0.0
    reopened: Sentence | None = None
    before: str = ""
    """What it needs and is still open, in the words of the first such step, where it was ticked all the same."""
    event: str = ""
    """The id of what happened since, where that opened it again."""

    def noted(self, units: UnitSystem) -> str:
        """Its note, and why it is open again where it is."""
        opened = "" if self.reopened is None else self.reopened.text(units)
        early = f"done before {self.before}, which it needs" if self.before else ""
        return "; ".join(w for w in (self.note, early, opened) if w)

    @property
    def sheet(self) -> str:
        """The sheet on which it is done; that of the card itself for what is done at the machine only."""
        return _SHEET_OF.get(self.step.key.split("-")[0], "card")


def lines_with(job: Job, states: States, opened: Collection[tuple[str, str]] = ()) -> list[CardLine]:
    """The job card: every step in order, with what is ticked and what the sheets say is done.

    ``opened`` are the sheets, (axis name, sheet) each, that something that happened opened again.
    """
    ticked = {s.key: s for s in job.all(Step)}
    for whole in _ONCE_TOGETHER:
        if whole in ticked:
            ticked = {f"{whole}-{a.name}": ticked[whole] for a in axes_in_scope(job)} | ticked
    steps = order_steps(steps_of(job))
    for step in steps:
        all_of_it = ticked.get(f"drill-{step.axis}")
        if step.key.startswith(f"drill-{step.axis}-") and all_of_it is not None and not all_of_it.made_to:
            ticked = {step.key: all_of_it} | ticked  # ticked when the drilling of an axis was one step
    by_sheet = _done_by_sheet(job, states)
    lines: list[CardLine] = []
    for step in steps:
        tick = ticked.get(step.key)
        done = tick is not None and tick.done
        again = again_days(job, step.key) if done else None
        now = made_now(job, step) if done else ()
        reopened = changed_since(tick.made_to, now) if done and tick is not None else None
        event = _happened_to(job, step, tick.changed) if done and tick is not None else None
        reopened = opened_words(event) if reopened is None and event is not None else reopened
        done = done and reopened is None
        due = None if again is None or tick is None else _day_after(tick.changed, again)
        if due is not None and due <= job.now().astimezone().date():
            done = False
        sheet = step.key in by_sheet
        when = local_day(tick.changed) if tick is not None and tick.done else ""
        took = (tick.minutes or 0.0) if tick is not None else 0.0
        note = tick.note if tick is not None else ""
        if done and now and tick is not None and not tick.made_to:
            note = f"{note}; {_NOT_NOTED}" if note else _NOT_NOTED
        if due is not None:
            said = f"again on {due.isoformat()}" if done else f"due again since {due.isoformat()}"
            note = f"{note}; {said}" if note else said
        if event is None and not done and (step.axis, _SHEET_OF.get(step.key.split("-")[0], "card")) in opened:
            event = _happened_to(job, step, "")
        by = "" if sheet or done or event is None else event.id
        lines.append(CardLine(step, done or sheet, when, note, sheet, took, None if sheet else reopened, "", by))
    return _out_of_order(lines)


def _out_of_order(lines: list[CardLine]) -> list[CardLine]:
    """The lines, those that are ticked before what they need with what that is."""
    needs, done = {c.step.key: c.step.needs for c in lines}, {c.step.key for c in lines if c.done}
    words = {c.step.key: (c.step.words.rstrip("."), c.step.axis) for c in lines}
    found = []
    for line in lines:
        ticked = line.done and bool(line.when)
        open_ = still_needed(line.step.key, needs, done) if ticked else set()
        if not line.step.axis:
            open_ &= set(line.step.needs)  # what is of the whole machine answers for what it needs itself
        near = {c.step.axis for c in lines} if not line.step.axis else {"", line.step.axis}
        what, axis = next((words[c.step.key] for c in lines if c.step.key in open_ and c.step.axis in near), ("", ""))
        found.append(replace(line, before=f"“{what}”" + (f" of {axis}" if axis else "")) if what else line)
    return found


def next_line(lines: list[CardLine]) -> CardLine | None:
    """The first step that is not done and whose needs all are."""
    done, needs = {line.step.key for line in lines if line.done}, {line.step.key: line.step.needs for line in lines}
    return next((c for c in lines if not c.done and not still_needed(c.step.key, needs, done)), None)


_NOT_NOTED = "made to: not noted"
"""Said of a step done to figures that were not kept when it was ticked."""
_SHEET_OF = {
    "survey": "travel", "plan": "scale", "order": "order", "receive": "receive", "missing": "receive",
    "stops": "envelope", "hold": "faces", "mark": "mounts", "make": "mounts", "drill": "mounts", "clean": "mounts",
    "stick": "mounts", "roll": "mounts", "align": "align", "rodguard": "align", "rod": "align", "snug": "align",
    "other": "align", "bind": "align", "reader": "reader", "cover": "reader", "cables": "cables",
    "powerup": "powerup", "calibrate": "calibrate", "prove": "positioning", "fit": "fit", "off": "run-in",
    "trip": "trips", "mesh": "mesh", "guard": "run-in", "runon": "trips", "feed": "trips", "test": "run-in",
    "feedpart": "run-in",
    "noteoff": "log", "rub": "log", "screwend": "fit", "screws": "mounts",
}  # fmt: skip
"""The sheet on which a step is done or looked up, by the first word of its key."""
_TICKED_BY = (
    ("travel", "survey"), ("align", "align"), ("reader", "reader"), ("cables", "cables"), ("powerup", "powerup"),
    ("calibrate", "calibrate"), ("positioning", "prove"), ("fit", "fit"), ("fit", "screwend"),
    ("mesh", "mesh"), ("trips", "runon"), ("trips", "feed"), ("run-in", "guard"), ("run-in", "test"),
)  # fmt: skip
_ONCE_TOGETHER = ("cables", "powerup")
"""Steps that were one for the whole machine in older jobs: ticked there, they are ticked for every axis."""


def _done_by_sheet(job: Job, states: States) -> set[str]:
    """Keys of the steps that a finished sheet ticks."""
    done: set[str] = set()
    for name, found in states.items():
        done |= {f"{step}-{name}" for sheet, step in _TICKED_BY if found.get(sheet) == "done"}
    fed = [a.name for a in axes_in_scope(job) if a.drive == "new"]
    if fed and all(found.get("fit") == "done" for name, found in states.items() if name in fed):
        done |= set() if any(gets_scale(a) for a in axes_in_scope(job)) else {"order"}  # its kit is there
    for axis in axes_in_scope(job):
        feed = feed_of(job, axis) if axis.drive == "new" else None
        if feed is not None and feed.shaft is not None and feed.shaft_length is not None:
            done.add(f"screwend-{axis.name}")
        if feed is not None:
            result = feed_result(job, axis, feed)
            done |= {step_key(axis, what) for what in result.wanted if what not in result.unmade}
        if measuring_length(job, axis) is not None and chosen_face(job, axis) is not None:
            done.add(f"plan-{axis.name}")
    return done


def _day_after(moment: str, days: int) -> date:
    return own_date(moment) + timedelta(days=days)


_TOUCHED: dict[str, Touched] = {
    "align": "align", "rod": "align", "reader": "reader", "calibrate": "calibrate", "prove": "positioning",
    "test": "screws", SCREWS: "screws",
}  # fmt: skip
"""What something that happens has to touch so that a step is open again, by the first word of its key."""


def _happened_to(job: Job, step: JobStep, ticked: str) -> LogEntry | None:
    """What happened after a step was ticked that undoes it."""
    axis = next((a for a in axes_in_scope(job) if a.name == step.axis), None)
    touched = _TOUCHED.get(step.key.split("-")[0])
    return None if axis is None or touched is None else happened_since(job, axis, ticked, touched)
