"""The confusion table of the diagnosis: simulated axes with one known fault each, and with two at once."""

import collections
import itertools

from vernus.bench.readout import SimulatedAxis
from vernus.core.prove.causes import PATTERNS
from vernus.core.prove.diagnosis import diagnose


def told(seed, *causes):
    """What is named for an axis with known faults: (first cause or "can't tell", every cause named)."""
    axis = SimulatedAxis.from_seed(seed, *causes)
    found = diagnose(*zip(*axis.run(axis.targets(9 + seed % 5), 3 + seed % 3), strict=True), axis.count_mm)
    return found.first or "can't tell", {n.cause for n in found.causes}


def confusion(seeds):
    """How often each cause is named first for each true one."""
    table = {true: collections.Counter() for true in PATTERNS}
    for seed, true in itertools.product(seeds, PATTERNS):
        table[true][told(seed, true)[0]] += 1
    return table


def show(table):
    """The table as text, one row per true cause."""
    columns = [*PATTERNS, "can't tell"]
    lines = [f"{'true cause':<22}" + "".join(f"{c[:11]:>12}" for c in columns)]
    lines += [f"{true:<22}" + "".join(f"{row[c] or '·':>12}" for c in columns) for true, row in table.items()]
    return "\n".join(lines)


if __name__ == "__main__":
    table = confusion(range(40))
    print(show(table))
    right = sum(row[true] for true, row in table.items())
    unsure, tried = sum(row["can't tell"] for row in table.values()), 40 * len(PATTERNS)
    print(f"named first: {right} of {tried}, can't tell {unsure}, wrong {tried - right - unsure}")
    both_ways = itertools.combinations(PATTERNS, 2)
    pairs = [p for p in both_ways if "ratio" not in p and set(p) != {"trend", "reads-wrong"}]
    first = both = 0
    for seed, pair in enumerate(pairs):
        one, all_named = told(seed, *pair)
        first += one in pair
        both += set(pair) <= all_named
    print(f"pairs: one of the two named first in {first} of {len(pairs)}, both named in {both}")
