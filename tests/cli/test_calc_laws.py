"""What may not matter to ``calc`` of align and prove, doesn't: the unit, the order, everything twice as large."""

import random

import pytest

INCH = 25.4
FINDINGS = {"findings"}
ROWS = ("residuals_mm", "places", "remains", "remains_mm", "odd")
PER_LENGTH = {"counts_per_mm", "counts_per_inch", "standard_per_mm"}


def deep(value, by=lambda key, v: v, key=""):
    """Every figure through a function of its key."""
    if isinstance(value, dict):
        return {k: deep(v, by, k) for k, v in value.items() if k not in FINDINGS}
    if isinstance(value, list):
        return [deep(v, by, key) for v in value]
    if isinstance(value, bool) or not isinstance(value, int | float):
        return value
    return pytest.approx(by(key, value), rel=1e-6, abs=2e-7)


def told(found, *drop):
    """An answer without its sentences."""
    return {k: v for k, v in found.items() if k not in (*FINDINGS, *drop)}


def is_length(key):
    return key.endswith(("_mm", "_um"))


def csv(tmp_path, heads, rows, unit="mm", by=1.0, mixed=None, name="rows.csv"):
    """The rows written in a unit, everything ``by`` times as large, in another order."""
    rows = list(rows)
    if mixed is not None:
        mixed.shuffle(rows)
    size = by / (INCH if unit == "in" else 1.0)
    lines = [";".join(repr(v * size) if isinstance(v, float) else str(v) for v in row) for row in rows]
    path = tmp_path / f"{unit} {by} {bool(mixed)} {name}"
    path.write_text("\n".join([";".join(f"{h}_{unit}" if h != "approach" else h for h in heads), *lines]))
    return path


def words(of, by=1.0):
    """Options with a length in them, ``by`` times as large."""
    return [w if isinstance(w, str) else f"{w * by!r} mm" for w in of]


def sweep(chance):
    rise = chance.uniform(-0.2, 0.2)
    at = sorted(chance.uniform(0, 500) for _ in range(chance.randint(5, 9)))
    return ("align", ("station", "reading"), [(x, rise * x / 500 + chance.gauss(0, 0.002)) for x in at],
            ["--tolerance", 0.05, "--division", 0.01])  # fmt: skip


def moves(chance):
    real = chance.uniform(50, 200)
    return ("counts", ("moved", "shown"), [(real, real * 1.002 + chance.gauss(0, 0.004)) for _ in range(5)],
            ["--set-cpmm", "200", "--step", 0.005, "--travel", 300.0, "--error", 0.02])  # fmt: skip


def factor(chance):
    off = chance.uniform(-3e-4, 3e-4)
    at = (0.0, 70.0, 155.0, 240.0, 330.0)
    return ("factor", ("target", "shown"), [(x, x * (1 + off) + chance.gauss(0, 0.003)) for x in at],
            ["--step", 0.005, "--error", 0.02])  # fmt: skip


def table(chance):
    rows = [
        (x, x + 0.03 * (x / 200 - 1) ** 2 + chance.gauss(0, 0.002)) for x in (0.0, 55.0, 120.0, 200.0, 260.0, 390.0)
    ]
    return ("segments", ("target", "shown"), rows, ["--points", "3", "--step", 0.001])


def runs(chance):
    at = sorted(chance.uniform(0, 400) for _ in range(5))
    rows = [(x, x + 0.01 * x / 400 + (0.004 if up == "+" else 0) + chance.gauss(0, 0.001), up)
            for _ in range(5) for up in "+-" for x in at]  # fmt: skip
    return ("positioning", ("target", "shown", "approach"), rows, ["--tolerance", 0.03])


def holes(chance):
    rows = []
    for _ in range(6):
        x, y = chance.uniform(-80, 80), chance.uniform(-50, 50)
        rows.append((x, y, x * 1.0003 + chance.gauss(0, 0.004), y + 1e-4 * x + chance.gauss(0, 0.004)))
    return ("part-check", ("x", "y", "measured_x", "measured_y"), rows, [])


KINDS = [sweep, moves, factor, table, runs, holes]


@pytest.fixture(params=KINDS, ids=lambda k: k.__name__)
def kind(request):
    return request.param


@pytest.mark.parametrize("seed", range(3))
def test_the_same_readings_in_inches(answer, tmp_path, kind, seed):
    what, heads, rows, more = kind(random.Random(seed))
    one = answer(what, csv(tmp_path, heads, rows), *words(more))
    assert answer(what, csv(tmp_path, heads, rows, "in"), *words(more)) | {"findings": []} == deep(one) | {
        "findings": []
    }


@pytest.mark.parametrize("seed", range(3))
def test_the_same_readings_in_another_order(answer, tmp_path, kind, seed):
    what, heads, rows, more = kind(random.Random(seed))
    one = answer(what, csv(tmp_path, heads, rows), *words(more))
    if what == "factor":  # what is shown is compared with the first station, where the display was zeroed
        rows = [rows[0], *random.Random(seed).sample(rows[1:], len(rows) - 1)]
        two = answer(what, csv(tmp_path, heads, rows, name="mixed"), *words(more))
    else:
        two = answer(what, csv(tmp_path, heads, rows, mixed=random.Random(seed)), *words(more))
    assert told(two, *ROWS) == told(deep(one), *ROWS)


@pytest.mark.parametrize("seed", range(3))
def test_everything_twice_as_large(answer, tmp_path, kind, seed):
    what, heads, rows, more = kind(random.Random(seed))
    if what == "counts":
        more = [*more[:1], "100", *more[2:]]  # half the counts a mm: the same scale, twice as coarse
    one = answer(what, csv(tmp_path, heads, rows), *words(kind(random.Random(seed))[3]))
    two = answer(what, csv(tmp_path, heads, rows, by=2.0), *words(more, 2.0))

    def twice(key, value):
        return value / 2 if key in PER_LENGTH else value * 2 if is_length(key) else value

    assert told(two) == deep(one, twice)


@pytest.mark.parametrize("seed", range(3))
def test_a_circle_and_a_change_of_length_twice_as_large_or_in_inches(answer, seed):
    chance = random.Random(seed)
    radius, centre, length = chance.uniform(10, 90), chance.uniform(-40, 40), chance.uniform(100, 900)

    def circle(by, unit):
        size = by / (INCH if unit == "in" else 1.0)
        return answer("circle", "--holes", 7, "--units", unit, f"--radius={radius * size!r}",
                      f"--centre={centre * size!r};{-centre * size!r}", "--start", 12)  # fmt: skip

    def thermal(by, unit):
        size = by / (INCH if unit == "in" else 1.0)
        return answer("thermal", "--scale", "glass", "--reference", "steel", "--t-scale", 26, "--t-reference", 23,
                      "--units", unit, f"--length={length * size!r}")  # fmt: skip

    for kind in (circle, thermal):
        one = kind(1.0, "mm")
        assert told(kind(1.0, "in")) == deep(one)
        assert told(kind(2.0, "mm")) == deep(one, lambda key, v: 2 * v if is_length(key) else v)
