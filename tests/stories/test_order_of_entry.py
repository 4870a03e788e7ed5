"""Said in the real window in another order, with sheets looked into in between, a job says the same."""

import os
import random

import pytest

from tests.job.test_order import told
from tests.share import SOAK
from vernus.desktop.sheet_list import KEYS
from vernus.job.align.edits import current_sweep
from vernus.job.scope import sheets_of

SEEDS = range(max(1, int(os.environ.get("VERNUS_HANDS", "48")) // 48))
FIGURES = {
    "mm": {"travel": ("380", "380.5"), "give": "12", "long": "700", "off": "11", "pair": ("100", "200.05")},
    "in": {"travel": ("15", "15.02"), "give": "0.5", "long": "27.5", "off": "0.4", "pair": ("4", "8.002")},
}
NEEDS = {"size": {"travel", "give up"}, "stand off": {"face"}}
"""What has to be there first: a size is chosen from the list of those that serve the travel kept."""


def facts(teller, units, readout):
    """What one person says of X, each with how it is said in the window."""
    own = FIGURES[units]

    def setup(sheet, **figures):
        teller.go(sheet, "X")
        teller.fill(**figures)

    def display(**figures):
        teller.go("calibrate", "X")
        teller.click(teller.sheet.sides.buttons["display"])
        teller.fill(**figures)
        teller.click(teller.sheet.sides.buttons["check"])

    def pair():
        teller.go("calibrate", "X")
        teller.log(*own["pair"])
        if teller.sheet.shown.question is not None and teller.sheet.shown.question.isVisible():
            teller.keep()

    def measure():
        teller.go("machine")
        teller.measure("Table, length", own["long"])

    said = {
        "travel": lambda: teller.survey("X", *own["travel"]),
        "give up": lambda: setup("travel", give_up_high=own["give"]),
        "face": lambda: teller.face("X", "behind the table"),
        "stand off": lambda: setup("faces", stand_off=own["off"]),
        "diameter": lambda: display(shows="twice the move"),
        "counts": lambda: display(counts="200" if units == "mm" else "5080", per="mm" if units == "mm" else "inch"),
        "pair": pair,
        "measure": measure,
    }
    if readout == "new scale":
        said["size"] = lambda: teller.scale("X", "Sealed glass, standard")
    return said


def told_of(teller):
    """Everything said, and where a pass would be read that nobody has begun."""
    job, axis = teller.job, teller.job.axes()[0]
    stations = [round(s.mm, 6) for s in current_sweep(job, axis, "face", job.info.units).stations]
    return told(job) | {"stations": stations}


def lived(teller, units, readout, order, look=None):
    teller.begin("Bench mill", units, X=readout)
    said = facts(teller, units, readout)
    for name in order:
        said[name]()
        if look is not None:
            teller.hands.press("Alt+X")
            for sheet in look.sample(sheets_of(teller.job.axes()[0]), 3):
                teller.hands.press(KEYS[sheet])
    return told_of(teller)


def shuffled(names, chance):
    """The names in a random order in which each comes after what it needs."""
    left, order = list(names), []
    while left:
        ready = [n for n in left if NEEDS.get(n, set()) & set(names) <= set(order)]
        order.append(chance.choice(ready))
        left.remove(order[-1])
    return order


READOUTS = ("new scale", "scale already there")
CASES = [(seed, units, READOUTS[(seed + (units == "in")) % 2]) for seed in SEEDS for units in ("mm", "in")]
if not SOAK:
    CASES = CASES[1:]


@pytest.mark.parametrize(("seed", "units", "readout"), CASES)
def test_the_same_facts_in_another_order_and_with_other_looks_say_the_same(teller, units, readout, seed):
    chance = random.Random(f"{seed} {units} {readout}")
    names = list(facts(teller, units, readout))
    first = lived(teller, units, readout, names)
    teller.window.session.close_job()
    second = lived(teller, units, readout, shuffled(names, chance), chance)
    assert set(first) == set(second)
    off = {i: (first[i], second[i]) for i in first if first[i] != second[i]}
    assert not off, next(iter(off.items()))
