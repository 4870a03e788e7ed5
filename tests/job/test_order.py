"""Order and looking don't matter: the same facts, said in another order, come to the same statements."""

import json
import os
import random
from itertools import groupby

import pytest

from tests.job.random_jobs import RandomJob
from vernus.job.document import Job
from vernus.job.entities import Axis, JobInfo, Machine
from vernus.job.said import statements

SEEDS = range(max(1, int(os.environ.get("VERNUS_HANDS", "48")) // 6))
KEPT_IN_ORDER = {
    "sweep", "calibration", "compensation", "setting", "positioning", "feel", "log", "gap", "mesh", "runon", "rework",
    "powerup", "step", "reader",
}  # fmt: skip
"""Passes, settings, checks, keyings, what happened: their order says which came after which."""


def told(job):
    """Everything said, by id: words and figures, plain."""
    units = job.info.units
    return {s.id: json.loads(json.dumps(s.as_json(units))) for s in statements(job)}


def in_another_order(entities, chance):
    """The entities with those whose order says nothing moved about; several of one kind and axis stay as they were."""
    queues = [list(group) for _, group in groupby(sorted(entities, key=_queue), key=_queue)]
    mixed = []
    while queues:
        queue = chance.choice(queues)
        mixed.append(queue.pop(0))
        queues = [q for q in queues if q]
    return mixed


def _queue(entity):
    return "logged" if entity.kind in KEPT_IN_ORDER else entity.kind


def entered(entities, look):
    """A job in which the entities were entered one by one, at moments of their own."""
    first = [e for e in entities if isinstance(e, Machine | JobInfo | Axis)]
    job = Job([e.with_(created="", changed="") for e in first])
    for entity in entities:
        if entity not in first:
            job.apply("enter", [entity.with_(created="", changed="")])
            if look.random() < 0.1:
                statements(job)
    return job


@pytest.mark.parametrize("seed", SEEDS)
def test_the_same_facts_in_another_order_are_the_same_statements(seed):
    chance = random.Random(seed)
    made = list(RandomJob(seed).job.entities())
    one, two = entered(made, chance), entered(in_another_order(made, chance), chance)
    first, second = told(one), told(two)
    assert set(first) == set(second)
    off = {i: (first[i], second[i]) for i in first if first[i] != second[i]}
    assert not off, next(iter(off.items()))
