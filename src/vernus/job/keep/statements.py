"""What is said of the steps of the job, in an order in which they can be done."""

from __future__ import annotations

from collections.abc import Sequence

from vernus.core.finding import Sentence, plain
from vernus.job.document import Job
from vernus.job.keep.card import CardLine
from vernus.job.keep.due import tasks_of
from vernus.job.keep.evenings.plan import plan_card
from vernus.job.statement import Statement


def check_statements(job: Job, lines: Sequence[CardLine]) -> list[Statement]:
    """What falls due again, with its day."""
    found: list[Statement] = []
    for task in tasks_of(job, list(lines), job.now()):
        words = Sentence("{what} Due {day}.", {"what": task.words, "day": task.day.isoformat()})
        said = {"what": task.words, "due": task.day.isoformat()}
        found.append(Statement("check", task.axis, task.key, "log", words, said))
    return found


def step_statements(job: Job, lines: Sequence[CardLine]) -> list[Statement]:
    """Every step of the card once; its day is the evening on which it is finished, None where no evenings were said."""
    plan = plan_card(job, lines, job.now().astimezone().date())
    days, hours = plan.days, plan.hours
    found: list[Statement] = []
    for line in lines:
        key, on = line.step.key, days.get(line.step.key, ())
        said = {
            "key": key, "day": on[-1].isoformat() if on else None, "hours": hours[key], "done": line.done,
            "after": list(line.step.needs),
        }  # fmt: skip
        found.append(Statement("step", line.step.axis, key, "card", plain(line.step.words), said))
    return found
