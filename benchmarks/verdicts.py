"""What is concluded, tried on a generator of its own: pass and fail at the limit, advice at no error, convergence of
jack screws, line against table, and the diagnosis with outliers, uneven targets, pairs, one cycle, waves.

Run: .venv/bin/python -m benchmarks.verdicts [TRIALS]
"""

import math
import random
import sys
from collections import Counter
from collections.abc import Callable

import numpy as np

from benchmarks.coverage import noise_of, rounded, stations
from benchmarks.rates import CONCLUSIONS, Case, rates
from vernus.bench.machine import SimulatedBody
from vernus.core.align.means import instruct
from vernus.core.align.sweep import Indicator, analyse_sweep, correct, propose_stations
from vernus.core.make.stacks import jack_turns
from vernus.core.prove.calibrate.table_choice import compare_tables
from vernus.core.prove.diagnosis import Diagnosis, diagnose, odd_readings, wave_targets
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job, new_id
from vernus.job.entities import CalibrationRun, Check
from vernus.job.fields import LengthEntry
from vernus.job.machine.travel import survey_with
from vernus.job.prove.calibrate.result import calibration_result

TOLERANCE = 0.05


def at_the_limit(rng: random.Random, share: float) -> str:
    """The verdict of a sweep whose true rise is ``share`` of the tolerance."""
    noise, division, span = noise_of(rng), 0.01, rng.uniform(100, 800)
    slope = rng.choice((-1, 1)) * share * TOLERANCE / span
    at = stations(rng, span)
    read = [rounded(slope * x + noise(0.4 * division), division / 2) for x in at]
    return analyse_sweep(at, read, Indicator(division_mm=division), TOLERANCE).verdict


def two_stations(rng: random.Random) -> str:
    """The verdict of two readings whose true rise lies at the tolerance."""
    noise, span = noise_of(rng), rng.uniform(100, 800)
    read = [rounded(x + noise(0.004), 0.005) for x in (0.0, TOLERANCE)]
    return analyse_sweep([0.0, span], read, Indicator(), TOLERANCE).verdict


def follow_jacks(seed: int, pitch_mm: float) -> int | None:
    """Passes until the sweep passes, following the words: first the turns, then the dial to its target; None: never."""
    body = SimulatedBody.from_seed(seed)
    rng = random.Random(seed)
    at = propose_stations(*body.screws_mm, 7)
    for n in range(6):
        readings = [body.reading(x) for x in at]
        sweep = analyse_sweep(at, readings, body.indicator, TOLERANCE)
        fix = correct(sweep, readings, body.indicator, body.screws_mm)
        words = instruct(sweep, fix, (), "jacks", pitch_mm).text()
        if sweep.verdict == "pass":
            return n
        if "leave" in words.lower():
            return None
        turns = jack_turns(fix.shift_mm, pitch_mm, TOLERANCE)
        assert turns.amount() in words
        body.follow_dial("left", fix.park_mm, fix.dial_target_mm + rng.gauss(0, 0.25) * body.indicator.division_mm)
    return None


def _job() -> Job:
    job = Job(new_job_entities("x", "bench-mill"))
    axis = job.axes()[0]
    survey = survey_with(job, axis, "caliper").with_(readings=(LengthEntry(mm=500), LengthEntry(mm=500)))
    job.apply("travel", [survey, axis.with_(accuracy=LengthEntry(mm=0.005))])
    return job


def advises(rng: random.Random, method: str, error: float = 0.0) -> bool:
    """Whether a change is advised to a display whose true error is ``error`` (mm over 480); it reads with noise."""
    noise, job = noise_of(rng), _job()
    sd, step = rng.choice((0.002, 0.004)), rng.choice((0.001, 0.005))
    if method == "counts":
        pairs = [(240.0, 240 + error / 2 + noise(sd)) for _ in range(rng.randint(3, 6))]
    else:
        pairs = [(x, x * (1 + error / 480) + noise(sd)) for x in np.linspace(0, 480, rng.choice((3, 4, 5, 7, 11)))]
    checks = tuple(
        Check(true=LengthEntry(mm=float(t)), shown=LengthEntry(mm=round(float(s) / step) * step)) for t, s in pairs
    )
    run = CalibrationRun(
        id=new_id(), axis_id=job.axes()[0].id, per="mm", set_counts=1000.0, method=method, checks=checks,
        step=LengthEntry(mm=step), u_reference=LengthEntry(mm=0.0005),
    )  # fmt: skip
    return calibration_result(job, run).value_to_key is not None


SHAPES: dict[str, Callable[[float], float]] = {
    "nothing wrong": lambda _s: 0.0,
    "straight": lambda s: 0.035 * s,
    "bow of 0.03": lambda s: 0.03 * (1 - (2 * s - 1) ** 2),
    "bow of 0.012": lambda s: 0.012 * (1 - (2 * s - 1) ** 2),
    "wave of ± 0.015": lambda s: 0.015 * math.sin(2 * math.pi * s),
    "kink of 0.03": lambda s: 0.06 * max(0.0, s - 0.5),
}


def choice(rng: random.Random, shape: str) -> str:
    """What is chosen: nothing, the line, or a table."""
    noise, span, step = noise_of(rng), rng.choice((200, 400, 600)), rng.choice((0.001, 0.005))
    count, sd = rng.choice((7, 9, 11)), rng.choice((0.002, 0.004))
    even = [span * n / (count - 1) for n in range(count)]
    at = even if rng.random() < 0.5 else sorted({0.0, span, *(rng.uniform(5, span - 5) for _ in range(count - 2))})
    read = [rounded(x + SHAPES[shape](x / span) + noise(sd), step) for x in at]
    shown = [r - read[0] for r in read]
    if sorted(shown) != shown:
        return "nothing"
    _, chosen = compare_tables(shown, at, 6, "free", 0.001)
    return {0: "nothing", 1: "line"}.get(chosen.points, "table")


Error = Callable[[float, bool, float], float]


def diagnosed(
    rng: random.Random, error: Error, targets: list[float], cycles: int, odd: float = 0.0, lead: float | None = None
) -> tuple[Diagnosis, bool]:
    """The diagnosis of readings with some error of place, direction and time, and whether one reading is asked about.

    ``odd``: how many counts one reading is off.
    """
    noise, count = noise_of(rng), 0.005
    rows = [(x, up) for _ in range(cycles) for up in (True, False) for x in (targets if up else targets[::-1])]
    shown = [
        rounded(x + error(x, up, n / max(1, len(rows) - 1)) + noise(0.4 * count), count)
        for n, (x, up) in enumerate(rows)
    ]
    if odd:
        shown[rng.randrange(len(shown))] += odd * count * rng.choice((-1, 1))
    rows_odd = odd_readings([x for x, _ in rows], [up for _, up in rows], shown, count)
    kept = [n for n in range(len(rows)) if n not in rows_odd]
    found = diagnose(
        [rows[n][0] for n in kept], [rows[n][1] for n in kept], [shown[n] for n in kept], count,
        periods_mm=() if lead is None else (lead,),
    )  # fmt: skip
    return found, bool(rows_odd)


def uneven(rng: random.Random, span: float, count: int) -> list[float]:
    """Targets that are nowhere evenly apart."""
    return sorted(span * (n + rng.uniform(-0.25, 0.25)) / (count - 1) if 0 < n < count - 1 else span * n / (count - 1)
                  for n in range(count))  # fmt: skip


def outlier(rng: random.Random) -> str:
    """One reading 20 counts off in a sound run: asked about, or made a cause."""
    found, asked = diagnosed(rng, lambda _x, _u, _t: 0.0, uneven(rng, 400, rng.choice((5, 7))), rng.choice((3, 5)), 20)
    return "cause" if found.causes else "asked" if asked else "unseen"


def pair(rng: random.Random) -> str:
    """Lost motion with a trend beside it: both named, one, or something wrong first."""
    found, _ = diagnosed(rng, lambda x, up, _t: (0.015 if up else -0.015) + 0.05 * x / 400, uneven(rng, 400, 7), 3)
    causes = {n.cause for n in found.causes}
    return "both" if causes >= {"lost-motion", "trend"} else "one" if causes & {"lost-motion", "trend"} else "wrong"


def one_cycle(rng: random.Random) -> str:
    """Drift in a single cycle: it can't be told from lost motion that grows, and must not be called that."""
    found, _ = diagnosed(rng, lambda _x, _u, time: 0.05 * time, uneven(rng, 400, 7), 1)
    return "wrongly told" if found.first in ("lost-motion-growing", "lost-motion") else "can't tell or drift"


def repeatable(rng: random.Random) -> str:
    """0, +.05, −.05, +.05, −.05, repeatable: told, or missed."""
    places = [0.0, 100.0, 200.0, 300.0, 400.0]
    off = dict(zip(places, (0, 0.05, -0.05, 0.05, -0.05), strict=True))
    found, _ = diagnosed(rng, lambda x, _u, _t: off[x], places, 3)
    return "told" if found.causes else "missed"


def wave(rng: random.Random, proposed: bool) -> str:
    """A wave of the leadscrew's pitch, by five targets or by those proposed."""
    lead, phase, size = rng.choice((4.0, 5.0, 5.08, 6.0)), rng.uniform(0, 2 * math.pi), rng.uniform(0.012, 0.03)
    targets = wave_targets(5, 395, lead) if proposed else uneven(rng, 400, 5)
    found, _ = diagnosed(rng, lambda x, _u, _t: size * math.sin(2 * math.pi * x / lead + phase), targets, 2, lead=lead)
    return "wave" if "cyclic" in {n.cause for n in found.causes} else "other" if found.causes else "nothing"


def table(what: Callable[[random.Random], object], trials: int, name: str) -> dict[object, float]:
    """The shares of what comes out, seeded by name."""
    found = Counter(what(random.Random(f"{name} {n}")) for n in range(trials))
    return {key: count / trials for key, count in found.items()}


def _line(name: str, shares: dict[object, float]) -> None:
    print(f"{name:52} " + ", ".join(f"{k} {100 * v:.0f} %" for k, v in sorted(shares.items(), key=lambda i: str(i[0]))))


def main() -> None:
    trials = int(sys.argv[1]) if len(sys.argv) > 1 else 400
    print(f"{trials} draws each: wrong, and not told, in per cent, by the error as a share of the limit")
    for name in CONCLUSIONS:
        for odd in (False, True):
            told = [
                (share, rates(name, Case(share, blunders=odd), trials)) for share in (0.5, 0.8, 0.95, 1.05, 1.25, 2.0)
            ]
            words = "; ".join(
                f"{share}: {100 * (r.passed if share > 1 else r.failed):.1f} wrong, {100 * r.unsure:.0f} not told"
                for share, r in told
            )
            print(f"{name + (', 3 % blunders' if odd else ''):26} {words}")
    print(f"{trials} trials each")
    _line("tilt 10 % over the limit", table(lambda r: at_the_limit(r, 1.1), trials, "over"))
    _line("tilt 10 % under the limit", table(lambda r: at_the_limit(r, 0.9), trials, "under"))
    _line("tilt at twice / at a fifth", table(lambda r: at_the_limit(r, 2.0), trials, "twice"))
    _line("tilt at a fifth of the limit", table(lambda r: at_the_limit(r, 0.2), trials, "fifth"))
    _line("two stations at the limit", table(two_stations, trials, "two"))
    for pitch in (0.5, 1.0, 1.25):
        passes = Counter(follow_jacks(seed, pitch) for seed in range(min(trials, 100)))
        print(f"jack screws of {pitch} mm, passes needed:{'':18} " + ", ".join(f"{k}: {v}" for k, v in passes.items()))
    for method in ("counts", "factor"):
        _line(f"no error, {method}: a change is advised", table(lambda r, m=method: advises(r, m), trials, method))
        _line(f"0.06 in 480, {method}: advised", table(lambda r, m=method: advises(r, m, 0.06), trials, method))
    for shape in SHAPES:
        _line(f"{shape}: chosen", table(lambda r, s=shape: choice(r, s), max(20, trials // 4), shape))
    _line("one reading 20 counts off", table(outlier, trials, "odd"))
    _line("lost motion and a trend", table(pair, trials, "pair"))
    _line("drift in a single cycle", table(one_cycle, trials, "cycle"))
    _line("repeatable zigzag of 0.05", table(repeatable, trials, "zigzag"))
    _line("wave of the leadscrew, five targets", table(lambda r: wave(r, False), trials, "five"))
    _line("wave of the leadscrew, targets proposed", table(lambda r: wave(r, True), trials, "many"))


if __name__ == "__main__":
    main()
