"""Weeks lived by the calendar: nothing is broken, and planted mistakes are seen."""

import os

import pytest

from tests.shop.weeks import broken_in

MANY = int(os.environ.get("VERNUS_SHOP", "0"))
SEEDS = (0, 13) if not MANY else (0, 3, 7, 13, 22, 26)


@pytest.mark.parametrize("seed", SEEDS)
def test_a_person_lives_by_the_calendar(seed):
    broken = broken_in(seed)
    assert not broken, "\n".join(f"{b.kind} {b.axis}: {b.what}" for b in broken)


PLANTED = {
    "nothing is cancelled": (
        "vernus.job.keep.evenings.calendar.with_history",
        lambda entries, _sent, _today: list(entries),
    ),
    "no parcel is waited for": ("vernus.job.keep.evenings.plan.waits_of", lambda _job, _key: 0),
    "days away are worked": ("vernus.job.keep.evenings.plan.read_days", lambda _text: frozenset()),
    "a crash opens nothing": ("vernus.job.keep.card.happened_since", lambda *_args: None),
    "packing up takes no time": ("vernus.job.keep.evenings.calendar.begins_at", lambda _said, _day: None),
}


@pytest.mark.parametrize("planted", PLANTED if MANY else ["nothing is cancelled", "a crash opens nothing"])
def test_a_planted_mistake_is_seen(planted, monkeypatch):
    where, instead = PLANTED[planted]
    monkeypatch.setattr(where, instead)
    assert any(broken_in(seed) for seed in SEEDS)


@pytest.mark.skipif(not MANY, reason="VERNUS_SHOP says how many")
@pytest.mark.parametrize("first", range(0, MANY, 10))
def test_many_weeks(first):
    broken = [(seed, b) for seed in range(first, first + 10) for b in broken_in(seed)]
    assert not broken, "\n".join(f"weeks {seed}: {b.kind} {b.axis}: {b.what}" for seed, b in broken)
