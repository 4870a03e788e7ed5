"""The calls of keeping: when the steps of a job are done."""

from __future__ import annotations

import argparse
from pathlib import Path

from vernus.cli.calc.calls import Answer, Calls
from vernus.job.formats.schedule import read_schedule


def add_schedule(calls: Calls) -> None:
    """Declare ``calc schedule``."""
    schedule = calls.add("schedule", help="steps in the evenings there are")
    schedule.add_argument("file", type=Path, help="JSON with start, hours by weekday, away and steps")
    schedule.set_defaults(run=calc_schedule)


def calc_schedule(args: argparse.Namespace) -> Answer:
    """Every step with its days and hours, and the day of the last."""
    evenings, plan = read_schedule(args.file)
    return {
        "steps": [{"key": s.key, "slots": [[evenings.day(d), h] for d, h in s.slots]} for s in plan.steps],
        "finish": evenings.day(max((d for s in plan.steps for d, _ in s.slots), default=plan.finish)),
        "findings": [],
    }
