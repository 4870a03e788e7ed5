"""What a verdict needs before it is accepted: enough was read, and read again after the last thing that was changed.

Every rule looks at the deeds alone, never at what is hidden: a learner can know it.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from vernus.bench.practice.world import Deed, World

STATIONS, MOVES, READINGS, PLACES_OF_A_TURN = 5, 3, 3, 6

Evidence = Callable[[World], str]
"""What is still to be read, in words; "" where it is enough."""


def _since(deeds: Sequence[Deed], changes: tuple[str, ...]) -> list[Deed]:
    """The deeds after the last change."""
    last = max((n for n, (name, _) in enumerate(deeds) if name in changes), default=-1)
    return list(deeds[last + 1 :])


def _stations(deeds: Sequence[Deed], onto: str = "body") -> int:
    """How many places of the body (or table) were read in a row of deeds."""
    touched, at, found = "body", 0, set[int]()
    for name, args in deeds:
        if name == "crank":
            at += 1
        if name == "onto":
            touched = str(args[0])
        if name == "read" and touched == onto:
            found.add(at)
    return len(found)


def travel(world: World) -> str:
    """Marks read more than twice."""
    read = sum(name == "rule" for name, _ in world.deeds)
    return "" if read >= READINGS else f"Read the rule {READINGS} times at least; one alone hides how it scatters."


def swept_again(world: World) -> str:
    """A sweep after the last screw was tightened."""
    after = _since(world.deeds, ("tighten", "loosen", "turn"))
    if _stations(after) >= STATIONS:
        return ""
    return f"Sweep again at {STATIONS} places after the last screw was tightened: what isn't read again isn't proved."


def body_and_table(world: World) -> str:
    """A sweep of the body, and one of the table itself."""
    if _stations(world.deeds) < STATIONS:
        return f"Read the body at {STATIONS} places."
    if _stations(world.deeds, "table") < READINGS:
        return f"One dial can't tell: set it onto the table itself and read {READINGS} places there."
    return ""


def pushed(world: World) -> str:
    """Pushed both ways, read after each, more than once."""
    pairs = list(zip(world.deeds, world.deeds[1:], strict=False))
    ways = [a[1][0] for a, b in pairs if a[0] == "push" and b[0] == "display"]
    enough = min(ways.count("up"), ways.count("down")) >= 2
    return "" if enough else "Push it up and down and read after each, twice at least."


def tried_both(world: World) -> str:
    """Feelers at both ends after the last shift: one that goes and one that doesn't."""
    after = [args for name, args in _since(world.deeds, ("shift",)) if name == "feeler"]
    ends = {str(args[0]) for args in after}
    sizes = {end: {args[1] for args in after if args[0] == end} for end in ends}
    enough = ends == {"left", "right"} and all(len(s) >= 2 for s in sizes.values())
    return "" if enough else "Try two feelers at each end after the last thing was moved."


def moved_long(world: World) -> str:
    """Several moves over a long block."""
    long = [args[0] for name, args in world.deeds if name == "move" and float(args[0]) >= 0.3 * world.hidden.bar]
    return "" if len(long) >= MOVES else f"Move by a long block {MOVES} times."


def warm_and_moved(world: World) -> str:
    """A thermometer on both bodies, and several moves after."""
    held = {str(args[0]) for name, args in world.deeds if name == "thermometer"}
    if not {"casting", "block"} <= held:
        return "Hold the thermometer to the casting and to the block: without it nobody can say."
    return moved_long(world)


def both_sides(world: World) -> str:
    """A display read after coming from both sides, several times."""
    way, last, sides = 0, None, list[int]()
    for name, args in world.deeds:
        if name == "crank":
            way = way if last is None else (float(args[0]) > last) - (float(args[0]) < last)
            last = float(args[0])
        if name == "display" and way:
            sides.append(way)
    enough = min(sides.count(1), sides.count(-1)) >= 2
    return "" if enough else "Come to a place from both sides and read there, twice at least."


def round_the_turn(world: World) -> str:
    """Backlash felt, or heard, round the whole turn after the last slide."""
    after = _since(world.deeds, ("slide",))
    rocked = {args[0] for name, args in _turned(after) if name == "rock"}
    heard = any(name in ("listen", "paper") for name, _ in after)
    return (
        "" if heard or len(rocked) >= PLACES_OF_A_TURN else "Go round the whole turn after the last slide, or listen."
    )


def _turned(deeds: Sequence[Deed]) -> list[Deed]:
    """Rocks with the place of the turn they were done at."""
    at, found = 0.0, list[Deed]()
    for name, args in deeds:
        if name == "gear":
            at = float(args[0])
        found.append((name, (at,)) if name == "rock" else (name, args))
    return found


def run_at_rapid(world: World) -> str:
    """Each trip run into at rapid where it stands."""
    stood: dict[str, int] = {}
    for name, args in world.deeds:
        if name == "trip":
            stood[str(args[0])] = 0
        if name == "run" and args[1] == "rapid":
            stood[str(args[0])] = stood.get(str(args[0]), 0) + 1
    enough = all(stood.get(end, 0) >= 1 for end in ("left", "right"))
    return "" if enough else "Run into each trip at rapid where it stands now."


def two_faults(world: World) -> str:
    """A sweep of body and table, blocks, and the display from both sides."""
    return body_and_table(world) or moved_long(world) or both_sides(world)
