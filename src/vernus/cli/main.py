"""The ``vernus`` command: exit 0 done, 2 bad input (one line on stderr), 1 anything else.

What a command needs is loaded when it is asked for, so that the window opens at once.
"""

from __future__ import annotations

import argparse
import gc
import os
import sys
import warnings
from collections.abc import Callable, Sequence
from importlib import import_module
from io import TextIOWrapper
from pathlib import Path

from vernus import __version__
from vernus.cli.parsing import OneLineParser, join_negative_values
from vernus.cli.terminal import tell
from vernus.core.errors import VernusError
from vernus.core.units import UnitSystem
from vernus.job.disk import is_there
from vernus.job.errors import DiskError, JobWriteError


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
        args = _parser(given).parse_args(given)
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
    report.set_defaults(act=_of("jobs", "report"))


def _parser(words: Sequence[str]) -> OneLineParser:
    units = _units_wanted(words)
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
    check.set_defaults(act=_of("jobs", "check"))

    say = commands.add_parser("say", help="everything that a job says, statement by statement")
    say.add_argument("job", type=Path, metavar="FILE")
    say.add_argument("--json", action="store_true")
    say.set_defaults(act=_of("jobs", "say"))

    calendar = commands.add_parser("calendar", help="write the evenings of a job and what falls due as a calendar file")
    calendar.add_argument("job", type=Path, metavar="FILE")
    calendar.add_argument("-o", "--output", type=Path, required=True, metavar="OUT.ics")
    calendar.set_defaults(act=_of("jobs", "calendar"))

    export = commands.add_parser("export", help="write a job as JSON and CSV")
    export.add_argument("job", type=Path, metavar="FILE")
    export.add_argument("--to", type=Path, required=True, metavar="DIR")
    export.set_defaults(act=_of("jobs", "export"))

    import_ = commands.add_parser("import", help="make a job from an export")
    import_.add_argument("source", type=Path, metavar="DIR")
    import_.add_argument("-o", "--output", type=Path, required=True, metavar="FILE")
    import_.set_defaults(act=_of("jobs", "import_"))

    bench = commands.add_parser("bench", help="serve a simulated indicator on a pseudo-terminal")
    bench.set_defaults(act=_of("bench", "serve"))
    if "bench" in words:
        import_module("vernus.cli.bench").add_bench(bench)

    calc = commands.add_parser("calc", help="one calculation, for scripts")
    calc.set_defaults(act=_calc)
    if "calc" in words:
        import_module("vernus.cli.calc").add_calc(calc, units)
    return parser


def _of(module: str, name: str) -> Callable[[argparse.Namespace], int]:
    """What a command does, loaded when it is done."""
    return lambda args: int(getattr(import_module(f"vernus.cli.{module}"), name)(args))


def _calc(args: argparse.Namespace) -> int:
    from vernus.cli.calc.show import show

    tell(show(args.run(args), args.json, args.units))
    return 0


def _load_jobs() -> None:
    """Load what reads and reviews jobs before the toolkit, which looks through the source of all that comes after it.

    Nothing of it is garbage, and looking for that takes a tenth of the time.
    """
    gc.disable()
    for name in ("vernus.job.ahead", "vernus.job.formats.exchange"):
        import_module(name)
    gc.enable()


def _window(args: argparse.Namespace) -> int:
    if args.job is not None:
        _load_jobs()
    from vernus.desktop.app import run

    return run(args.job)


def _demo(args: argparse.Namespace) -> int:
    _load_jobs()
    from vernus.desktop.app import run_demo

    return run_demo(args.write_to)


if __name__ == "__main__":
    sys.exit(main())
