"""Whether the shop finds again what was once broken: each mend is taken out, and jobs are lived until one turns red.

``python -m tests.mends_taken_out`` prints the table. It reaches into the program, which the shop itself never does.
"""

import importlib
from contextlib import ExitStack
from dataclasses import replace
from unittest.mock import patch

from tests.shop.carried_out import carry_out

SEEDS = range(80)


def _where(path):
    """The module or class that holds a name, by its dotted path."""
    parts = path.split(".")
    for n in range(len(parts), 0, -1):
        try:
            found = importlib.import_module(".".join(parts[:n]))
        except ModuleNotFoundError:
            continue
        for part in parts[n:]:
            found = getattr(found, part)
        return found
    raise AssertionError(path)


def _mid_of_what_is_kept(real):
    """The axis "at mid travel" meant the middle of what is kept, and was read as the middle between the marks."""

    def placed(family, measuring, read, margins, spare=None, **more):
        found = real(family, measuring, read, margins, spare, **more)
        return replace(found, axis_at_mm=found.axis_at_mm - read[0] / 2)  # read[0] is given up at the low end

    return placed


def _always(value):
    return lambda real: lambda *args, **more: value


def _deep(real):
    def there(hole):
        return replace(real(hole), depth_mm=100.0)

    return there


def _driven_is_stopped(real):
    def given(axis):
        return real(axis.with_(give_up_low_how="stop", give_up_high_how="stop"))

    return given


def _without_there(real):
    def parts(job, without=""):
        gone = {f"{a.name} scale" for a in job.axes() if a.readout == "there"}
        return [b for b in real(job, without) if b.group not in gone]

    return parts


def _knows_all(real):
    return lambda sweep: None


def _untyped(real):
    def judged(gaps, wanted, stroke=None, *, set_so="", typed=False):
        low, high = wanted
        if high - low < 0.1:
            low, high = low - 0.05, high + 0.05
        return real(gaps, (low, high), stroke, set_so=set_so, typed=True)

    return judged


def _by_two(real):
    def made(job, run, setting):
        found = real(job, run, setting)
        return (
            found if found.keyed is None or found.verdict == "pass" else replace(found, value_to_key=found.keyed.value)
        )

    return made


def _not_by_ratio(real):
    """What is read counts as it is shown, however far the display is off; only what the travel makes of it stays."""

    def scaled(lines, by):
        names = " ".join(line.name for line in lines)
        return list(lines) if "reference" not in names and "moved" not in names and by < 0.5 else real(lines, by)

    return scaled


def _no_side(real):
    return lambda row: real(replace(row, hole=replace(row.hole, far_side=False)))


MENDS = {
    "3 the reader's place from the middle of what's kept": {"vernus.job.plan.scale.place_reader": _mid_of_what_is_kept},
    "4 depth of an old hole ignored": {
        "vernus.job.make.holes_there.thread_there": _deep, "vernus.job.make.parts.thread_there": _deep,
    },
    "5 T-nut's neck as high as the lip": {"vernus.core.make.screws.most_neck": lambda real: lambda lip: lip},
    "6 plate over holes of the other member": {
        "vernus.job.make.new_parts.elsewhere": _always(False), "vernus.job.make.holes_there.elsewhere": _always(False),
    },
    "7 stop and bumper from unmeasured sizes, no brackets": {
        "vernus.job.plan.travel_left.stop_rests": _always(()), "vernus.job.plan.travel_left.bumper_rests": _always(()),
        "vernus.job.plan.next_measure._far_off": _always([]),
        "vernus.job.plan.next_measure.sizes_otherwise": _always([]),
    },
    "8 an existing scale is in no envelope": {"vernus.job.machine.stroke.all_planned_parts": _without_there},
    "10 stop where the axis must be driven through": {
        "vernus.job.known.axis_figures.give_up": _driven_is_stopped,
        "vernus.job.machine.stroke.give_up": _driven_is_stopped,
    },
    "13 a target for the dial before the pass is through": {
        "vernus.job.align.passes.next_to_read": _knows_all, "vernus.job.align.passes.knows_shift": _always(True),
        "vernus.job.align.passes.doubtful_reading": _knows_all,
    },
    "14 typed limits of the gap widened": {"vernus.job.align.reader.judge_gap": _untyped},
    "16 keyed in from two stations": {"vernus.job.prove.calibrate.result.factor_result": _by_two},
    "19 the pocket's side not said": {"vernus.job.make.statements.hole_said": _no_side},
    "20 the uncut kit on Receive throws the cut away": {
        "vernus.job.known.lengths.stock_to_cut": _always(None), "vernus.job.plan.cut.stock_to_cut": _always(None),
    },
    "21 taken off the plan, not off the piece at hand": {"vernus.job.make.mounts._at_hand": _always(None)},
    "15 scatter and rounding in shown length": {"vernus.job.prove.calibrate.counts.scaled": _not_by_ratio},
    "31 a crash opens nothing": {
        "vernus.job.align.passes.opened_findings": _always([]), "vernus.job.align.reader.opened_findings": _always([]),
        "vernus.job.prove.calibrate.result.opened_findings": _always([]),
        "vernus.job.prove.positioning.opened_findings": _always([]),
    },
}  # fmt: skip
"""By the row of the fault: what is put in the place of its mend."""


def without(changes):
    """The patches that take a mend out."""
    stack = ExitStack()
    for path, change in changes.items():
        owner, name = path.rsplit(".", 1)
        holder = _where(owner)
        stack.enter_context(patch.object(holder, name, change(getattr(holder, name))))
    return stack


def found_again(changes, there):
    """The first job that is broken without a mend and isn't with it, and what is broken; None where none is."""
    for seed, before in there.items():
        with without(changes):
            broken = carry_out(seed)[1]
        new = [b for b in broken if b not in before and b.kind != "never finished"]
        if new:
            return seed, new[0]
    return None


if __name__ == "__main__":
    as_it_is = {seed: carry_out(seed)[1] for seed in SEEDS}
    for mend, changes in MENDS.items():
        seen = found_again(changes, as_it_is)
        print(
            f"{mend:<55}",
            "NOT SEEN" if seen is None else f"job {seen[0]}: {seen[1].kind}: {seen[1].what[:80]}",
            flush=True,
        )
