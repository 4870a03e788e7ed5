"""The ``vernus`` command: exit 0 done, 2 bad input (one line on stderr), 1 anything else."""

from __future__ import annotations

import argparse
import os
import sys
import warnings
from collections.abc import Sequence
from contextlib import closing
from io import TextIOWrapper
from pathlib import Path
from typing import Literal

from vernus import __version__
from vernus.bench.machine import SimulatedBody
from vernus.bench.serve import FORMATS, BenchServer, announce, withdraw
from vernus.cli.calc import add_calc, show
from vernus.cli.parsing import OneLineParser, join_negative_values, number
from vernus.cli.terminal import tell, tell_json
from vernus.core.errors import VernusError
from vernus.core.units import UnitSystem, parse_length
from vernus.job.disk import is_there
from vernus.job.document import Job
from vernus.job.errors import DiskError, JobWriteError
from vernus.job.formats.exchange import export_job, read_export, read_pictures
from vernus.job.review.review import card_lines, review_job, review_pictures
from vernus.job.review.states import axes_as_json
from vernus.job.said import statements


def main(words: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit code."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, TextIOWrapper):
            stream.reconfigure(errors="backslashreplace")  # names of files can be made of any bytes
    if not sys.warnoptions:
        warnings.simplefilter("ignore")  # what a library thinks of figures is no answer
    given = join_negative_values(sys.argv[1:] if words is None else words)
    if len(given) == 1 and (given[0].endswith(".vernus") or is_there(Path(given[0]))):
        given = ["open", *given]  # as a double click in a file manager starts it
    try:
        args = _parser(_units_wanted(given)).parse_args(given)
        return int(args.act(args))
    except (JobWriteError, DiskError) as error:
        tell(f"vernus: {error}", wrong=True)
        return 1
    except VernusError as error:
        tell("vernus: " + " ".join(str(error).split()), wrong=True)
        return 2
    except (ArithmeticError, ValueError, TypeError, IndexError, KeyError, RecursionError) as error:
        if given[:1] != ["calc"]:
            raise
        tell(f"vernus: these figures can't be computed with ({type(error).__name__}); look at their sizes.", wrong=True)
        return 2
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 1


def _units_wanted(words: Sequence[str]) -> UnitSystem:
    """--units decides how the other words are read, so it is looked up first."""
    early = argparse.ArgumentParser(add_help=False)
    early.add_argument("--units", default="mm")
    found = early.parse_known_args(list(words))[0].units
    return "in" if found == "in" else "mm"


def _add_report(commands: argparse._SubParsersAction[OneLineParser]) -> None:
    report = commands.add_parser("report", help="write the papers of a job as PDF")
    report.add_argument("job", type=Path, metavar="FILE")
    report.add_argument("-o", "--output", type=Path, required=True, metavar="OUT.pdf")
    report.add_argument(
        "--paper", choices=("job", "drawings", "card", "record", "hang", "tonight"),
        help="one of them; all but the sheets to hang and tonight's otherwise",
    )  # fmt: skip
    report.add_argument("--size", choices=("A4", "Letter"), help="of the paper; as the country prints otherwise")
    report.set_defaults(act=_report)


def _parser(units: UnitSystem) -> OneLineParser:
    parser = OneLineParser(prog="vernus", description="Digital readout and power feed retrofits: plan, align, prove.")
    parser.add_argument("--version", action="version", version=f"vernus {__version__}")
    parser.set_defaults(act=_window, job=None, units=units)
    commands = parser.add_subparsers(metavar="COMMAND", parser_class=OneLineParser)

    demo = commands.add_parser("demo", help="open the demo job")
    demo.add_argument(
        "--write-to", type=Path, metavar="DIR", help="write its report and a screenshot there, then leave"
    )
    demo.set_defaults(act=_demo)

    open_ = commands.add_parser("open", help="open a job")
    open_.add_argument("job", type=Path, metavar="FILE")
    open_.set_defaults(act=_window)

    _add_report(commands)
    check = commands.add_parser("check", help="all findings of a job")
    check.add_argument("job", type=Path, metavar="FILE")
    check.add_argument("--json", action="store_true")
    check.set_defaults(act=_check)

    say = commands.add_parser("say", help="everything that a job says, statement by statement")
    say.add_argument("job", type=Path, metavar="FILE")
    say.add_argument("--json", action="store_true")
    say.set_defaults(act=_say)

    calendar = commands.add_parser("calendar", help="write the evenings of a job and what falls due as a calendar file")
    calendar.add_argument("job", type=Path, metavar="FILE")
    calendar.add_argument("-o", "--output", type=Path, required=True, metavar="OUT.ics")
    calendar.set_defaults(act=_calendar)

    export = commands.add_parser("export", help="write a job as JSON and CSV")
    export.add_argument("job", type=Path, metavar="FILE")
    export.add_argument("--to", type=Path, required=True, metavar="DIR")
    export.set_defaults(act=_export)

    import_ = commands.add_parser("import", help="make a job from an export")
    import_.add_argument("source", type=Path, metavar="DIR")
    import_.add_argument("-o", "--output", type=Path, required=True, metavar="FILE")
    import_.set_defaults(act=_import)

    bench = commands.add_parser("bench", help="serve a simulated indicator on a pseudo-terminal")
    bench.add_argument("--seed", type=int, default=7, help="the machine's hidden faults (default 7)")
    bench.add_argument("--pattern", choices=sorted(FORMATS), default="with-unit", help="what its lines look like")
    bench.add_argument("--every", type=number, default=0.0, metavar="S", help="send by itself every S seconds")
    bench.set_defaults(act=_bench)

    calc = commands.add_parser("calc", help="one calculation, for scripts")
    calc.set_defaults(act=_calc)
    add_calc(calc, units)
    return parser


def _calc(args: argparse.Namespace) -> int:
    tell(show(args.run(args), args.json, args.units))
    return 0


def _window(args: argparse.Namespace) -> int:
    from vernus.desktop.app import run

    return run(args.job)


def _demo(args: argparse.Namespace) -> int:
    from vernus.desktop.app import run_demo

    return run_demo(args.write_to)


def _bench(args: argparse.Namespace) -> int:
    """Commands on standard input: a station to crank to, ``left S`` or ``right S`` to move that screw, ``quit``."""
    body = SimulatedBody.from_seed(args.seed)
    server = BenchServer(body, args.pattern, max(0.0, args.every))
    server.start()
    announce(server.port)
    left, right = body.screws_mm
    tell(f"Simulated indicator on {server.port}; body {body.length_mm:.0f} mm, screws at {left:.0f} and {right:.0f}.")
    tell("It answers “?”. Type a station (120), a move of a screw toward the indicator (right 0.2), or quit.")
    try:
        for line in sys.stdin:
            words = line.split()
            if words[:1] == ["quit"]:
                break
            tell(_bench_command(body, words))
    except KeyboardInterrupt:
        tell("")
    withdraw()
    server.stop()
    return 0


def _bench_command(body: SimulatedBody, words: list[str]) -> str:
    try:
        if len(words) == 2 and words[0] in ("left", "right"):
            hold: Literal["left", "right"] = "right" if words[0] == "left" else "left"
            body.move_screw(hold, parse_length(words[1]).mm)
            return f"{words[0]} screw moved"
        if words:
            body.crank(parse_length(" ".join(words)).mm)
            return f"at {body.station_mm:g} mm: {body.reading():+.3f} mm"
    except VernusError as error:
        return str(error)
    return "type a station, a move, or quit"


def _report(args: argparse.Namespace) -> int:
    from vernus.paper.report import write_report_headless

    with closing(Job.open(args.job)) as job:
        write_report_headless(job, args.output, args.paper or "", args.size)
    tell(f"Wrote {args.output}")
    return 0


def _check(args: argparse.Namespace) -> int:
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


def _say(args: argparse.Namespace) -> int:
    with closing(Job.open(args.job)) as job:
        system, found, told = job.info.units, statements(job), job.notices
    for words in told:
        tell(f"vernus: {words}", wrong=True)
    if args.json:
        tell_json({"statements": [s.as_json(system) for s in found]})
    for one in found if not args.json else ():
        tell(f"{one.axis or 'job'} {one.sheet}: {one.words.text(system)}")
    return 0


def _calendar(args: argparse.Namespace) -> int:
    from vernus.job.keep.evenings.calendar import write_calendar

    with closing(Job.open(args.job)) as job:
        count = write_calendar(job, card_lines(job), args.output)
    tell(f"Wrote {count} entries to {args.output}")
    return 0


def _export(args: argparse.Namespace) -> int:
    with closing(Job.open(args.job)) as job:
        written = export_job(job, args.to)
    tell(f"Wrote {len(written)} files to {args.to}")
    return 0


def _import(args: argparse.Namespace) -> int:
    told: list[str] = []
    entities = read_export(args.source, told)
    Job.create(args.output, entities, read_pictures(args.source, entities, told)).close()
    for words in told:
        tell(words)
    tell(f"Wrote {args.output}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
