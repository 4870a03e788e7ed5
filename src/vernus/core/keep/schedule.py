"""The steps of a job in an order in which each comes after what it needs."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter

from vernus.core.errors import BadInputError


@dataclass(frozen=True)
class JobStep:
    """One step: its key, what to do, what must be done before, the tools, and what to park or keep where."""

    key: str
    axis: str
    words: str
    needs: tuple[str, ...] = ()
    tools: str = ""
    care: str = ""


def order_steps(steps: Sequence[JobStep]) -> list[JobStep]:
    """The steps, each after those it needs, otherwise in the order given.

    Raises BadInputError for a need that isn't a step, or steps that need each other in a circle.
    """
    place = {s.key: n for n, s in enumerate(steps)}
    for step in steps:
        missing = next((n for n in step.needs if n not in place), None)
        if missing is not None:
            raise BadInputError(f"Step {step.key} needs “{missing}”, which is not a step.")
    sorter = TopologicalSorter({s.key: s.needs for s in steps})
    try:
        sorter.prepare()
    except CycleError as error:
        raise BadInputError("These steps need each other in a circle: " + ", ".join(error.args[1]) + ".") from None
    by_key = {s.key: s for s in steps}
    ordered: list[JobStep] = []
    ready = sorted(sorter.get_ready(), key=lambda k: place[k])
    while ready:
        key = ready.pop(0)
        ordered.append(by_key[key])
        sorter.done(key)
        ready = sorted([*ready, *sorter.get_ready()], key=lambda k: place[k])
    return ordered


def still_needed(key: str, needs: Mapping[str, Sequence[str]], done: Collection[str]) -> set[str]:
    """What must still be done before a step: its open needs, and those behind needs that are done already.

    A step done out of order takes nothing away from what it needed itself.
    """
    found: set[str] = set()
    seen, todo = {key}, list(needs.get(key, ()))
    while todo:
        need = todo.pop()
        if need in seen or need not in needs:
            continue
        seen.add(need)
        if need in done:
            todo += needs[need]
        else:
            found.add(need)
    return found
