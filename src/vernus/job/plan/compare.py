"""One scale family for the whole machine: which axes it serves, what it costs, and one line of judgement."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from vernus.core.finding import Mm, Sentence, Sold
from vernus.core.plan.display import same_signal
from vernus.core.plan.kits import KitChoice, kit_that_serves
from vernus.core.plan.scales import ScaleFamily, choose_size, family_length
from vernus.job.catalog.families import families_of
from vernus.job.document import Job
from vernus.job.known.axis_figures import give_up
from vernus.job.known.lengths import face_length, family_of, margin, measuring_length, spare_wanted
from vernus.job.machine.geometry import axis_travel
from vernus.job.plan.display import display_of
from vernus.job.scope import gets_scale


@dataclass(frozen=True)
class FamilyForAll:
    """A family over all axes: those it serves, those whose face it fits (where one is chosen), and what it costs."""

    family: ScaleFamily
    serves: tuple[str, ...]
    too_short: tuple[str, ...]
    longer_than_face: tuple[str, ...]
    price: float | None
    judgement: Sentence


def compare_families(job: Job) -> list[FamilyForAll]:
    """Every family, those that serve most axes first; empty while no travel is known."""
    if not any(axis_travel(job, a) for a in job.axes() if gets_scale(a)):
        return []
    found = [_judge(job, family) for family in families_of(job)]
    return sorted(found, key=lambda f: (-len(f.serves) + len(f.longer_than_face), f.family.exposure))


def _kit_words(kit: KitChoice | None, needs: Mapping[str, float]) -> tuple[str, dict[str, object]]:
    """Which kit serves, what each axis gets of it and where it is cut."""
    if kit is None:
        return "no kit serves every axis", {}
    values: dict[str, object] = {f"k{n}": Sold(mm) for n, mm in enumerate(kit.kit.lengths_mm)}
    text = "the kit " + " × ".join(f"{{k{n}}}" for n in range(len(kit.kit.lengths_mm))) + " serves"
    for n, (axis, mm) in enumerate(sorted(kit.lengths_mm.items())):
        text += f", {axis} the {{l{n}}}" + (f" cut to {{c{n}}}" if needs[axis] < mm - 0.5 else "")
        values |= {f"l{n}": Sold(mm), f"c{n}": Mm(float(math.ceil(needs[axis] - 1e-9)))}
    return text, values


def chosen_kit(job: Job) -> KitChoice | None:
    """The kit that serves every axis read by one family that is sold in kits."""
    families = {a.name: family_of(job, a) for a in job.axes() if gets_scale(a) and a.readout != "own"}
    kinds = {f.id for f in families.values() if f is not None}
    family = next((f for f in families.values() if f is not None), None)
    if len(kinds) != 1 or family is None or not family.kits:
        return None
    lengths = {a.name: measuring_length(job, a) for a in job.axes() if families.get(a.name) is not None}
    return kit_that_serves(family.kits, {k: v.value for k, v in lengths.items() if v is not None})


def _judge(job: Job, family: ScaleFamily) -> FamilyForAll:
    serves: list[str] = []
    needs: dict[str, float] = {}
    short: list[str] = []
    long: list[str] = []
    for axis in job.axes():
        travel = axis_travel(job, axis) if gets_scale(axis) and axis.readout != "own" else None
        if travel is None or not travel > 0:
            continue
        face, wanted = face_length(job, axis), spare_wanted(job, axis)
        length = face.value if face is not None and face.value > 0 else None
        useful = max(travel - sum(give_up(axis)), 1e-3)
        choice = choose_size(family, useful, margin(job, axis).value, length, wanted and wanted[1])
        needs[axis.name] = family_length(family, useful, margin(job, axis).value, wanted and wanted[1])
        (short if choice is None else serves).append(axis.name)
        if choice is not None and choice.fits_face is False:
            long.append(axis.name)
    kit = kit_that_serves(family.kits, needs)
    price = None if family.price is None else family.price * len(serves)
    price = kit.kit.price if kit is not None else price
    words = [f"serves {', '.join(serves)}" if serves else "serves no axis"]
    words += [f"too short for {', '.join(short)}"] if short else []
    words += [f"longer than the face on {', '.join(long)}"] if long else []
    display = display_of(job)
    if display is not None and display.signal.strip() and family.signal:
        same = same_signal(display.signal, family.signal)
        told = {True: "speaks the display's signal", False: "speaks another signal than the display"}
        words += [told[same]] if same is not None else []
    words.append("must stay dry" if family.exposure >= 2 else f"count {family.count_um:.3g} µm")
    values: dict[str, object] = {"deep": Mm(family.section_mm[1])}
    text = "; ".join(words).replace("{", "(").replace("}", ")") + "; {deep} deep"
    if family.kits:
        told_kit, more = _kit_words(kit, needs)
        text, values = f"{text}; {told_kit}", values | more
    text += "."
    return FamilyForAll(
        family, tuple(serves), tuple(short), tuple(long), price, Sentence(text[:1].upper() + text[1:], values)
    )
