"""One scale family for the whole machine: which axes it serves, what it costs, and one line of judgement."""

from __future__ import annotations

from dataclasses import dataclass

from vernus.core.finding import Mm, Sentence
from vernus.core.plan.scales import ScaleFamily, choose_size
from vernus.job.catalog.families import families_of
from vernus.job.document import Job
from vernus.job.known import face_length, give_up, margin, spare_wanted
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


def _judge(job: Job, family: ScaleFamily) -> FamilyForAll:
    serves: list[str] = []
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
        (short if choice is None else serves).append(axis.name)
        if choice is not None and choice.fits_face is False:
            long.append(axis.name)
    price = None if family.price is None else family.price * len(serves)
    words = [f"serves {', '.join(serves)}" if serves else "serves no axis"]
    words += [f"too short for {', '.join(short)}"] if short else []
    words += [f"longer than the face on {', '.join(long)}"] if long else []
    display = display_of(job)
    if display is not None and display.signal.strip() and family.signal:
        same = display.signal.split(",")[0].strip().lower() in family.signal.lower()
        words.append("speaks the display's signal" if same else "speaks another signal than the display")
    words.append("must stay dry" if family.exposure >= 2 else f"count {family.count_um:.3g} µm")
    values = {"deep": Mm(family.section_mm[1])}
    text = "; ".join(words).replace("{", "(").replace("}", ")") + "; {deep} deep."
    return FamilyForAll(
        family, tuple(serves), tuple(short), tuple(long), price, Sentence(text[:1].upper() + text[1:], values)
    )
