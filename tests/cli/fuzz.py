"""Every ``calc`` call with hostile figures in its words and files; ``python -m tests.cli.fuzz 5000`` prints what broke.

Each documented example is mutated: numbers replaced by what no machine has, entries dropped, doubled, swapped for other
kinds, rows repeated. An answer is exit 0 with JSON, or exit 2 with one line; anything else is broken.
"""

import contextlib
import io
import json
import os
import random
import re
import shlex
import signal
import sys
import tempfile
import time
from pathlib import Path

from vernus.cli.main import main

PAGE = (Path(__file__).parents[2] / "docs/command-line.md").read_text(encoding="utf-8")
SECTIONS = {s.split("\n", 1)[0]: s for s in PAGE.split("\n## ")[1:]}
FIGURES = ("1e308", "-1e308", "1e-200", "5e-324", "0", "-0.0", "-1", "1e9", "1e12", "nan", "inf", "9" * 310, "1e-7",
           "0.001", "1000000", "", "½", "½ in", "1/0", "12;7", "\x1b[31m", "\u202e", "…", "1,5", "  3 ",
           "0x10")  # fmt: skip
LONGEST_S = 10


class TooLongError(Exception):
    """It hangs."""


def example(section):
    text = SECTIONS[section]
    files = dict(re.findall(r"`([a-z]+\.(?:csv|json))`:\n\n```(?:csv|json)\n(.*?)```", text, re.S))
    (command,) = re.findall(r"```sh\nvernus (.*?)\n```", text)
    return shlex.split(command), files


def figure(rng):
    return rng.choice(FIGURES) if rng.random() < 0.7 else f"{rng.uniform(-1, 1) * 10 ** rng.randint(-12, 14):.6g}"


def mutated_words(words, rng):
    made = list(words)
    for n in range(2, len(made)):
        if made[n] != "--json" and not made[n].startswith("--") and "." not in made[n][-5:] and rng.random() < 0.4:
            made[n] = figure(rng)
    return [w for w in made if w.startswith("-") or rng.random() > 0.03 or w in ("calc", made[1])]


def mutated_json(data, rng):
    if isinstance(data, dict):
        made = {k: mutated_json(v, rng) for k, v in data.items() if rng.random() > 0.04}
        if rng.random() < 0.02:
            made["surprise"] = 1
        return made
    if isinstance(data, list):
        made = [mutated_json(v, rng) for v in data]
        return made * rng.choice((1, 1, 1, 2, 40)) if rng.random() < 0.1 else made
    if rng.random() < 0.2:
        return rng.choice(
            (None, True, "x", [], {}, 1e308, -1e308, 1e-300, 0, -1, 1e12, 10**400, "3 mm", "1e999 mm", 0.1)
        )
    return data


def mutated_csv(text, rng):
    rows = text.splitlines()
    for n in range(1, len(rows)):
        if rng.random() < 0.3:
            cells = re.split(r"([,;\t])", rows[n])
            cells[rng.randrange(0, len(cells), 2)] = figure(rng)
            rows[n] = "".join(cells)
    if rng.random() < 0.1 and len(rows) > 1:
        rows += [rng.choice(rows[1:])] * rng.choice((1, 5, 300))
    return "\n".join(rows) + "\n"


def run(words):
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        code = main(words)
    return code, out.getvalue(), err.getvalue()


def broken(code, out, err):
    """What is wrong with an answer; "" where nothing is."""
    if code == 0:
        try:
            json.loads(out, parse_constant=lambda name: (_ for _ in ()).throw(ValueError(name)))
        except ValueError as error:
            return f"no JSON: {error}"
        return f"on stderr: {err[:80]}" if err else ""
    if code != 2 or out:
        return f"exit {code}, {out[:40]!r}"
    if "can't be computed with (" in err:
        return f"unforeseen: {err.strip()}"
    if len(err.strip().splitlines()) != 1:
        return f"{len(err.strip().splitlines())} lines: {err[:120]!r}"
    return f"raw letters: {err[:60]!r}" if re.search(r"[\x00-\x08\x0b-\x1f\x7f-\x9f]", err) else ""


def hang(_signal, _frame):
    raise TooLongError


def fuzz(count, seed, folder):
    """(command, what is wrong) of ``count`` mutated calls."""
    rng, found, sections = random.Random(seed), [], list(SECTIONS)
    signal.signal(signal.SIGPROF, hang)
    for n in range(count):
        words, files = example(sections[n % len(sections)])
        if rng.random() < 0.6:
            words = mutated_words(words, rng)
        for name, text in files.items():
            made = json.dumps(mutated_json(json.loads(text), rng)) if name.endswith("json") else mutated_csv(text, rng)
            (Path(folder) / name).write_text(made, encoding="utf-8")
        signal.setitimer(signal.ITIMER_PROF, LONGEST_S)
        try:
            wrong = broken(*run(words))
        except TooLongError:
            wrong = "hangs"
        except SystemExit:
            wrong = ""
        except BaseException as error:  # noqa: BLE001 - whatever gets out is broken
            wrong = f"{type(error).__name__}: {error}"
        finally:
            signal.setitimer(signal.ITIMER_PROF, 0)
        if wrong:
            kept = {name: (Path(folder) / name).read_text(encoding="utf-8")[:400] for name in files}
            found.append((shlex.join(words)[:200], wrong[:200], kept))
    return found


if __name__ == "__main__":
    started = time.monotonic()
    with tempfile.TemporaryDirectory() as here:
        os.chdir(here)
        told = fuzz(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 0, here)
    kinds = {}
    for command, wrong, kept in told:
        kinds.setdefault((command.split()[1] if " " in command else command, wrong[:60]), []).append((command, kept))
    for (call, wrong), those in sorted(kinds.items(), key=lambda k: -len(k[1])):
        print(f"{len(those):5d}  {call}: {wrong}\n         {those[0][0]}\n         {those[0][1]}")  # noqa: T201
    print(f"{len(told)} of {sys.argv[1]} broken, {time.monotonic() - started:.0f} s")  # noqa: T201
