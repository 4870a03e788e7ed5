"""Attacks that cost nothing but time: mutated inputs, flipped bits, undo under refused writes, mangled jobs, kills.

``python -m tests.soak N`` runs each N times its share, prints what it did, and exits with 1 when something broke.
"""

import random
import sqlite3
import subprocess
import sys
import tempfile
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from tests import gates
from tests.kills import in_migrations, while_logging
from vernus.core.errors import VernusError
from vernus.desktop.demo import demo_source
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.catalog.templates import read_template
from vernus.job.document import Job
from vernus.job.entities import LogEntry
from vernus.job.errors import JobContentError, JobFileError, JobWriteError
from vernus.job.formats.exchange import entities_from_json
from vernus.job.formats.json_text import parse_json
from vernus.job.formats.machine import envelope_from
from vernus.job.formats.measurements import parse_measurements
from vernus.job.formats.schedule import schedule_from
from vernus.job.formats.stroke import stroke_from

BITS = ("9" * 400, "1e999", "NaN", "\x00", "\ud800", "[[[[", "null", "-", '"', "µm", "9" * 5000, "½", ";", "\n", "{}")
CSV = "target_mm,shown_mm\n" + "".join(f"{n * 25},{n * 25.01:.3f}\n" for n in range(30))
ENVELOPE = (
    '{"members":[{"id":"t","on":"s","axis":"X"},{"id":"s"}],"axes":[{"id":"X","direction":"+x","from_mm":0,'
    '"to_mm":100}],"boxes":[{"name":"a","member":"t","min_mm":[0,0,0],"max_mm":[1,1,1]}]}'
)
SCHEDULE = (
    '{"start":"2027-01-04","hours":{"tue":2,"sat":5},"away":["2027-01-09"],"steps":[{"key":"a","hours":1,"wait_days":9},'
    '{"key":"b","hours":6,"needs":["a"]}]}'
)
STROKE = '{"marks_mm":[0,300],"scale_mm":[-10,310],"give_up_mm":[0,3],"meets":[{"name":"a","from_mm":290,"to_mm":310}]}'


def mutated(text: str, rng: random.Random) -> str:
    """Some characters dropped, doubled, or put in the place of others."""
    for _ in range(rng.randint(1, 4)):
        at, far = rng.randrange(len(text) + 1), rng.randint(0, 12)
        text = text[:at] + rng.choice((*BITS, text[at : at + far] * 2, "")) + text[at + far :]
    return text


def mutations(count: int, folder: Path) -> str:
    """Every reader of a text that somebody else may have written: an answer, or one sentence."""
    rng, refused = random.Random(count), 0
    job, template = demo_source("lathe").read_text("utf-8")[:6000], folder / "t.json"

    def read_one(text: str) -> None:
        template.write_bytes(text.encode("utf-8", "surrogatepass"))
        read_template(template)

    readers: tuple[tuple[str, Callable[[str], object]], ...] = (
        (job, entities_from_json), (CSV, lambda t: parse_measurements(t, ("target", "shown"))),
        (ENVELOPE, lambda t: envelope_from(parse_json(t, "it"))), (STROKE, lambda t: stroke_from(parse_json(t, "it"))),
        (SCHEDULE, lambda t: schedule_from(parse_json(t, "it"))),
        ('{"id":"m","label":"m","members":[],"axes":[]}', read_one),
    )  # fmt: skip
    for n in range(count):
        text, read = readers[n % len(readers)]
        try:
            read(mutated(text, rng))
        except VernusError as error:
            refused += 1
            assert str(error).strip()
    return f"{count} mutated inputs, {refused} refused, 0 others"


def flipped_bits(count: int, folder: Path) -> str:
    """A bit of a job file flipped: refused, or the same job."""
    path, rng, told = folder / "bits.vernus", random.Random(count), 0
    Job.create(path, new_job_entities("Bits", "bench-mill")).close()
    whole = path.read_bytes()
    with closing(Job.open(path)) as job:
        before = job.entities()
    for _ in range(count):
        data, at = bytearray(whole), rng.randrange(len(whole))
        data[at] ^= 1 << rng.randrange(8)
        path.write_bytes(data)
        try:
            with closing(Job.open(path)) as job:
                assert job.entities() == before, f"bit at {at} altered the job unseen"
        except JobFileError:
            told += 1
        for left in folder.glob("bits.vernus.*"):
            left.unlink()
    return f"{count} flipped bits, {told} told, 0 altered unseen"


def undo_storm(count: int, folder: Path) -> str:
    """Edits, undo and redo while the disk refuses now and then: memory goes on, and the file follows it."""
    path, rng, refused = folder / "storm.vernus", random.Random(count), 0
    path.unlink(missing_ok=True)
    job = Job.create(path, new_job_entities("Storm", "bench-mill"))
    assert job._file is not None
    db: sqlite3.Connection = job._file._db
    for n in range(count):
        db.execute(f"PRAGMA query_only={'ON' if rng.random() < 0.3 else 'OFF'}")
        act = rng.choice((job.undo, job.redo, None))
        try:
            if act is None:
                job.apply("note", [LogEntry(id=f"n{rng.randrange(40)}", text="x" * rng.randrange(9000), created="")])
            else:
                act()
        except JobWriteError:
            refused += 1
        if n % 200 == 199:
            db.execute("PRAGMA query_only=OFF")
            job.retry()
            assert job._file.load() == {e.id: e for e in job.entities()}
    job.close()
    return f"{count} edits, undos and redos, {refused} refused by the disk, 0 differences"


def mangled_texts(count: int, folder: Path) -> str:
    """Texts as long or as odd as can be typed, into every entity: kept, or refused in a sentence."""
    rng, refused = random.Random(count), 0
    entities = entities_from_json(demo_source("mill").read_text("utf-8"))
    for _ in range(count):
        entity = rng.choice(entities)
        name = rng.choice([n for n in type(entity).model_fields if n not in ("id", "created", "changed")])
        try:
            entity.with_(**{name: rng.choice(BITS) * rng.choice((1, 30, 3000))})
        except JobContentError as error:
            refused += 1
            assert str(error).endswith(".")
    return f"{count} odd texts typed, {refused} refused, 0 others"


ATTACKS = (
    (mutations, 400_000), (flipped_bits, 4_000), (undo_storm, 20_000), (mangled_texts, 20_000), (in_migrations, 3_000),
    (while_logging, 7_000),
)  # fmt: skip
SHARES = {"mutations": 80, "undo_storm": 40, "in_migrations": 200, "while_logging": 200}
"""One in how many of these ``make test`` does; of the others a twentieth."""
AT_GATES = {"Imports": 20_000, "Templates": 20_000, "Families": 20_000, "Settings": 20_000, "Calendars": 40_000,
            "Terminals": 1_000,
            "Lines": 250_000, "Measurements": 250_000}  # fmt: skip


def main(share: float) -> int:
    """Run every attack and a round of kills; returns the exit code."""
    wrong = 0
    for attack, count in ATTACKS:
        with tempfile.TemporaryDirectory() as folder:
            sys.stdout.write(attack(int(count * share), Path(folder)) + "\n")
            sys.stdout.flush()
    for gate in gates.GATES:
        count = int(AT_GATES[gate.__name__] * share)
        with tempfile.TemporaryDirectory() as folder:
            refused, broken = gates.attack(gate, count, int(1000 * share), Path(folder))
        sys.stdout.write(f"{count} at {gate.__name__}, {refused} refused, {len(broken)} broken\n")
        sys.stdout.write("".join(f"  {said}\n" for _, said, _ in broken[:10]))
        sys.stdout.flush()
        wrong += len(broken)
    kill = Path(__file__).parents[1] / "benchmarks" / "kill.py"
    killed = subprocess.run([sys.executable, str(kill), "--rounds", str(int(200 * share))], check=False).returncode
    return killed or min(1, wrong)


if __name__ == "__main__":
    sys.exit(main(float(sys.argv[1]) if len(sys.argv) > 1 else 1.0))
