"""The commands about the file of a job."""

from __future__ import annotations

import argparse
from contextlib import closing

from vernus.cli.terminal import tell, tell_json
from vernus.job.document import Job
from vernus.job.formats.exchange import export_job, read_export, read_pictures
from vernus.job.review.review import card_lines, review_job, review_pictures
from vernus.job.review.states import axes_as_json
from vernus.job.said import statements


def report(args: argparse.Namespace) -> int:
    """Write the papers of a job."""
    from vernus.paper.report import write_report_headless

    with closing(Job.open(args.job)) as job:
        write_report_headless(job, args.output, args.paper or "", args.size)
    tell(f"Wrote {args.output}")
    return 0


def check(args: argparse.Namespace) -> int:
    """Tell all findings of a job."""
    with closing(Job.open(args.job)) as job:
        system, located, told = job.info.units, [*review_job(job), *review_pictures(job)], job.notices
        axes = axes_as_json(job) if args.json else {}
    for words in told:
        tell(f"vernus: {words}", wrong=True)
    if args.json:
        rows = [{**at.finding.as_json(system), "axis": at.axis, "sheet": at.sheet} for at in located]
        tell_json({"findings": rows, "axes": axes})
    elif not located:
        tell("No findings.")
    for at in located if not args.json else ():
        said = at.finding.as_json(system)
        tell(f"{at.axis} {at.sheet}: {said['severity'].upper()}: {said['text']}\n  → {said['remedy']}")
    return 0


def say(args: argparse.Namespace) -> int:
    """Tell everything that a job says."""
    with closing(Job.open(args.job)) as job:
        system, found, told = job.info.units, statements(job), job.notices
    for words in told:
        tell(f"vernus: {words}", wrong=True)
    if args.json:
        tell_json({"statements": [s.as_json(system) for s in found]})
    for one in found if not args.json else ():
        tell(f"{one.axis or 'job'} {one.sheet}: {one.words.text(system)}")
    return 0


def calendar(args: argparse.Namespace) -> int:
    """Write the evenings and what falls due as a calendar."""
    from vernus.job.keep.evenings.calendar import write_calendar

    with closing(Job.open(args.job)) as job:
        count = write_calendar(job, card_lines(job), args.output)
    tell(f"Wrote {count} entries to {args.output}")
    return 0


def export(args: argparse.Namespace) -> int:
    """Write a job as JSON and CSV."""
    with closing(Job.open(args.job)) as job:
        written = export_job(job, args.to)
    tell(f"Wrote {len(written)} files to {args.to}")
    return 0


def import_(args: argparse.Namespace) -> int:
    """Make a job from an export."""
    told: list[str] = []
    entities = read_export(args.source, told)
    Job.create(args.output, entities, read_pictures(args.source, entities, told)).close()
    for words in told:
        tell(words)
    tell(f"Wrote {args.output}")
    return 0
