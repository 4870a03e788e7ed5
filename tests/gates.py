"""Every gate of a job with what somebody else may have written: an answer, or one sentence, and nothing that raises.

``python -m tests.gates 5000 SEED`` prints what broke, gate by gate. What a gate lets in is gone on with: a template
begins a job, an import is reviewed, a calendar is read by a library.
"""

import copy
import io
import json
import os
import random
import re
import signal
import sys
import tempfile
from collections import Counter
from contextlib import contextmanager, redirect_stderr, redirect_stdout
from datetime import UTC, datetime
from pathlib import Path

import icalendar
from platformdirs import user_state_path

from vernus.bench.line import PATTERNS, LineReader
from vernus.cli.main import main
from vernus.core.errors import VernusError
from vernus.desktop import settings
from vernus.desktop.demo import demo_source
from vernus.job.catalog.families import families_of
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.catalog.shared import read_family
from vernus.job.catalog.shipped import machine_kinds
from vernus.job.catalog.templates import read_template
from vernus.job.document import Job
from vernus.job.formats.calendar import Entry, calendar_file
from vernus.job.formats.exchange import entities_from_json, job_json
from vernus.job.formats.measurements import parse_measurements
from vernus.job.review.review import review_job

LONGEST_S = 10
SHARE = float(os.environ.get("VERNUS_REVIEWED", "0.03"))
"""What of the jobs let in is reviewed too."""
ODD = (
    None, True, "x", "", [], {}, 1e308, -1e308, 1e-300, 0, -1, 1e12, 10**400, "3 mm", "y" * 25_000, 0.1, "\x1b[2J",
    "\n", float("nan"), -0.0, "2027-13-01", "9999-12-31T23:59:59+00:00", ["a", "b"], "\u202e", "½ in", 7, "-x",
)  # fmt: skip


class TooLongError(Exception):
    """It hangs."""


@contextmanager
def in_time():
    """Raises TooLongError once it works longer than anybody waits; a machine that stands still counts for nothing."""

    def hang(_signal, _frame):
        raise TooLongError

    signal.signal(signal.SIGPROF, hang)
    signal.setitimer(signal.ITIMER_PROF, LONGEST_S)
    try:
        yield
    finally:
        signal.setitimer(signal.ITIMER_PROF, 0)


def places(data, path=()):
    """Every place in decoded JSON, as keys on the way to it."""
    yield path
    inside = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for key, value in inside:
        yield from places(value, (*path, key))


def at(data, path):
    """What stands at a place."""
    for key in path:
        data = data[key]
    return data


def spoiled(data, rng):
    """A copy with one to three places replaced, dropped, doubled, or filled with what stands somewhere else."""
    made = copy.deepcopy(data)
    for _ in range(rng.choice((1, 1, 1, 2, 3))):
        path = rng.choice([p for p in places(made) if p])
        held = at(made, path[:-1])
        act, was = rng.random(), held[path[-1]]
        if act < 0.05 and isinstance(held, dict):
            del held[path[-1]]
        elif act < 0.1 and isinstance(held, list):
            held += copy.deepcopy([was]) * rng.choice((1, 1, 300))
        elif isinstance(was, float) and act < 0.8:
            held[path[-1]] = was * rng.choice((-1, 0, 0.001, 25.4, 1 / 25.4, 1000, 1e7, 1e-7)) + rng.choice(
                (0, 0, 1, -50)
            )
        elif act < 0.6:
            alike = [v for p in places(made) if p and type(v := at(made, p)) is type(was) and len(repr(v)) < 4000]
            held[path[-1]] = copy.deepcopy(rng.choice(alike or [was]))
        else:
            held[path[-1]] = copy.deepcopy(rng.choice(ODD))
    return made


def written(data):
    return json.dumps(data, ensure_ascii=False)


class Imports:
    """An export with entries spoiled; every one let in is the same after going round, one in thirty is reviewed."""

    LETS_ALL_IN = False

    def __init__(self):
        self.jobs = [json.loads(demo_source(n).read_text("utf-8")) for n in ("mill", "lathe")]

    def __call__(self, rng, folder):
        job = rng.choice(self.jobs)
        n = rng.randrange(len(job["entities"]))
        entry = spoiled(job["entities"][n], rng)
        entities = entities_from_json(
            written({**job, "entities": [*job["entities"][:n], entry, *job["entities"][n + 1 :]]})
        )
        if rng.random() < SHARE:
            made = Job(entities)
            assert entities_from_json(job_json(made.entities())) == made.entities()
            review_job(made)


class Templates:
    """A machine's template spoiled; one that is read begins a job, and that job is one of ours."""

    LETS_ALL_IN = False

    def __init__(self):
        self.kinds = [k.model_dump(mode="json", by_alias=True) for k in machine_kinds()]

    def __call__(self, rng, folder):
        path = folder / "template.json"
        path.write_text(written(spoiled(rng.choice(self.kinds), rng)), "utf-8", "surrogatepass")
        made = Job(new_job_entities("Spoiled", read_template(path)))
        assert entities_from_json(job_json(made.entities())) == made.entities()
        if rng.random() < SHARE:
            review_job(made)


class Families:
    """A scale family somebody sent, spoiled; one that is read goes into a job."""

    LETS_ALL_IN = False

    def __call__(self, rng, folder):
        good = {
            "format": "vernus-family", "version": 1, "family": "glass-slim", "label": "x", "by": "y",
            "on": "2026-11-30",
            "figures": {"sizes": "200; 300", "reader": {"mm": 83.5, "text": "83.5"}, "price": 9.5, "count_um": 1.0},
        }  # fmt: skip
        (folder / "family.json").write_text(written(spoiled(good, rng)), "utf-8", "surrogatepass")
        shared = read_family(folder / "family.json")
        made = Job([*new_job_entities("Shared", "mini-mill"), shared.entity("f")])
        assert families_of(made)
        assert entities_from_json(job_json(made.entities())) == made.entities()


class Settings:
    """Settings somebody else wrote: every question of ours is answered."""

    LETS_ALL_IN = True

    def __call__(self, rng, folder):
        kept = {
            "recent": [str(folder / "a.vernus"), "/x"], "theme": "dark", "scale": 1.5, "paper": "A4", "dark": True,
            "due": {str(folder / "a.vernus"): [["2027-01-01", "words", "log", "X"]]},
            "links": {"button": {"port": "/dev/ttyUSB0", "pattern": "with-unit"}}, "lessons": {"zero": 2},
        }  # fmt: skip
        path = user_state_path("vernus") / "settings.json"
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(written(spoiled(kept, rng)), "utf-8", "surrogatepass")
        for ask in (settings.theme, settings.scale, settings.paper_size, settings.recent_jobs, settings.due_tasks,
                    settings.links, settings.lessons_done):  # fmt: skip
            ask()
        settings.remember_theme("light")
        assert settings.theme() == "light"


LETTERS = (
    "\n",
    "\r",
    "\x00",
    "\x1b",
    ";",
    ",",
    "\\",
    '"',
    ":",
    "ä",
    "\u2028",
    "\u202e",
    "\x7f",
    "\x85",
    "BEGIN:VEVENT",
    "x" * 80,
    "😀",
)


def words(rng):
    return "".join(rng.choice(LETTERS) for _ in range(rng.randint(0, 9)))


class Calendars:
    """Any words as title, entry and text: a library reads the file, and no letter in it steers anything."""

    LETS_ALL_IN = True

    def __call__(self, rng, folder):
        now = datetime(2027, 1, 4, 19, tzinfo=UTC)
        entries = [
            Entry(f"k{n}", now.date(), words(rng), words(rng), now, now, rng.choice((None, 30)), n, rng.random() < 0.2)
            for n in range(rng.randint(0, 3))
        ]
        made = calendar_file(words(rng), entries, "job", now)
        assert not re.search(rb"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f]", made)
        assert made.count(b"\r") == made.count(b"\n") == made.count(b"\r\n")
        assert len(icalendar.Calendar.from_ical(made).walk("VEVENT")) == len(entries)


class Terminals:
    """Names and texts that a terminal would obey, through the commands that print a job."""

    LETS_ALL_IN = True

    def __call__(self, rng, folder):
        path = folder / "evil.vernus"
        path.unlink(missing_ok=True)
        job = Job.create(path, new_job_entities(words(rng)[:150] or "x", "mini-mill", rng.choice(("mm", "in"))))
        for entity in rng.sample(job.entities(), 6):
            names = [n for n in ("name", "label", "note", "why", "title") if n in type(entity).model_fields]
            try:
                job.apply("evil", [entity.with_(**{rng.choice(names): words(rng)})])
            except VernusError:
                continue
        job.close()
        out, err = io.StringIO(), io.StringIO()
        with redirect_stdout(out), redirect_stderr(err):
            code = main([rng.choice(("check", "say")), str(path), *rng.choice(([], ["--json"]))])
        assert code in (0, 1, 2), code
        assert not re.search(r"[\x00-\x08\x0b-\x1f\x7f-\x9f\u202e\u2028]", out.getvalue() + err.getvalue())


class Lines:
    """What comes down a line from an instrument, cut and soiled: readings, trouble, or nothing."""

    LETS_ALL_IN = True

    def __call__(self, rng, folder):
        good = (
            b"+0.012 mm\r\n",
            b"01A+000.123\r",
            b"  -1.5005 in\n",
            b"9" * 400 + b"\n",
            b"1e9 mm\r\n",
            b"\xff\xfe",
            b"nan mm\n",
        )
        data = b"".join(rng.choice((rng.choice(good), rng.randbytes(rng.randint(0, 40)))) for _ in range(6))
        reader = LineReader(rng.choice(PATTERNS))
        while data:
            reader.feed(data[:7])
            data = data[7:]


class Measurements:
    """A table of readings somebody typed elsewhere."""

    LETS_ALL_IN = False

    def __call__(self, rng, folder):
        rows = [[f"{n * 25}", f"{n * 25.01:.3f}"] for n in range(8)]
        for _ in range(3):
            row = rng.choice(rows)
            row[rng.randrange(len(row))] = str(rng.choice(ODD))[:400]
        parse_measurements(
            "target_mm,shown_mm\n" + "".join(rng.choice((",", ",", ";")).join(row) + "\n" for row in rows),
            ("target", "shown"),
        )


GATES = (Imports, Templates, Families, Settings, Calendars, Terminals, Lines, Measurements)


def attack(gate, count, seed, folder):
    """(how many were refused, what broke) of ``count`` inputs to a gate."""
    rng, refused, broken, at_it = random.Random(f"{gate.__name__} {seed}"), 0, [], gate()
    for n in range(count):
        before = rng.getstate()
        try:
            with in_time():
                at_it(rng, folder)
        except VernusError as error:
            refused += 1
            if not str(error).strip():
                broken.append((n, "says nothing", before))
        except Exception as error:  # noqa: BLE001 - whatever gets out is broken
            where = error.__traceback__
            while where.tb_next is not None:
                where = where.tb_next
            at = f"{Path(where.tb_frame.f_code.co_filename).name}:{where.tb_lineno}"
            broken.append((n, f"{type(error).__name__} at {at}: {str(error)[:160]}", before))
    return refused, broken


if __name__ == "__main__":
    every, first = int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 0
    for asked in (g for g in GATES if len(sys.argv) < 4 or g.__name__ in sys.argv[3:]):
        with tempfile.TemporaryDirectory() as here:
            no, wrong = attack(asked, every, first, Path(here))
        print(f"{asked.__name__}: {every} inputs, {no} refused, {len(wrong)} broken")  # noqa: T201
        for said, times in Counter(w for _, w, _ in wrong).most_common(12):
            print(f"  {times:5d}  {said}")  # noqa: T201
