"""What meets what: every axis is driven through its positions and every pair of pieces is looked at."""

import numpy as np

from tests.shop.things.drawing import Solid

SAMPLES = 25
SLACK_MM = 1.0
"""What two rule readings may be off: less than this isn't called a crash."""


def offsets(machine, at):
    """How far each member stands off the drawing, by the position of every axis from its low mark."""

    def of(member):
        found = [0.0, 0.0, 0.0]
        while member:
            below, name = machine.on.get(member, ("", ""))
            way = machine.ways.get(name)
            if way is not None and name in at:
                c = "xyz".index(way.direction[1])
                found[c] = found[c] + (at[name] if way.direction[0] == "+" else -at[name])
            member = below
        return found

    return of


def driven(machine, member):
    """The axes that move a member."""
    found = set()
    while member:
        below, name = machine.on.get(member, ("", ""))
        if name in machine.ways:
            found.add(name)
        member = below
    return found


def meets(machine, solids, ranges, samples=SAMPLES):
    """(a, b, how deep, where) of each pair that overlaps somewhere in the ranges, worst first.

    Pairs of the machine's own metal, of one scale with itself, and those the operator minds are left out.
    """
    found = []
    for n, a in enumerate(solids):
        for b in solids[n + 1 :]:
            if a.member == b.member or not concerns(machine, a, b):
                continue
            crash = _overlap(machine, a, b, ranges, samples)
            if crash is not None and crash[0] > SLACK_MM:
                found.append((a, b, *crash))
    return sorted(found, key=lambda f: -f[2])


def concerns(machine, a, b):
    """Whether a pair is looked at."""
    if (a.own and b.own) or frozenset((a.member, b.member)) in machine.minds:
        return False
    return a.own or b.own or a.name.split(":")[0] != b.name.split(":")[0]


def _overlap(machine, a, b, ranges, samples):
    names = sorted((driven(machine, a.member) ^ driven(machine, b.member)) & set(ranges))
    axes = [np.linspace(*ranges[n], samples if ranges[n][1] > ranges[n][0] else 1) for n in names]
    grid = dict(zip(names, np.meshgrid(*axes, indexing="ij"), strict=True)) if names else {}
    of = offsets(machine, grid)
    one, two = of(a.member), of(b.member)
    depth = np.inf
    for c in range(3):
        low = np.maximum(a.low[c] + one[c], b.low[c] + two[c])
        high = np.minimum(a.high[c] + one[c], b.high[c] + two[c])
        depth = np.minimum(depth, high - low)
    depth = np.asarray(depth)
    worst = np.unravel_index(np.argmax(depth), depth.shape)
    return float(depth[worst]), {n: float(grid[n][worst]) for n in names}


def clear_to(machine, solids, ranges, axis, end):
    """How far an axis can go toward an end until one of the new pieces meets something, from its low mark.

    Found by driving: from mid travel outward in steps of a sixteenth, then halving.
    """
    low, high = ranges[axis]
    mid, far = (low + high) / 2, high if end == "high" else low

    def free(to):
        span = (mid, to) if end == "high" else (to, mid)
        return not meets(machine, solids, {**ranges, axis: span}, 13)

    if free(far):
        return far
    good, bad = mid, far
    for _ in range(9):
        middle = (good + bad) / 2
        good, bad = (middle, bad) if free(middle) else (good, middle)
    return good


def box(name, member, spans):
    """A solid of the fitter's own from spans per coordinate."""
    low = tuple(min(s) for s in spans)
    high = tuple(max(s) for s in spans)
    return Solid(name, member, low, high, own=False)
