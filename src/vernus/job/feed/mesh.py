"""The mesh of a feed's gears: what they are, how the chosen school sets them, and what the trials say."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vernus.core.feed.gears import (
    BACKLASH_MM,
    Engagement,
    GearGuess,
    Mesh,
    face_engagement,
    identify_gear,
    mesh_gears,
    name_gear,
    slide_by,
)
from vernus.core.finding import Finding, Fine, Mm, Sentence, Size, finding
from vernus.job.document import Job
from vernus.job.entities import Axis, MeshTrial, PowerFeed
from vernus.job.fields import mm_of


@dataclass(frozen=True)
class MeshResult:
    """What the gears are, how they mesh by the chosen school, what the trials say, and what to do."""

    guesses: tuple[GearGuess, ...]
    mesh: Mesh | None
    engagement: Engagement | None
    slide_mm: float | None
    measured_mm: float | None
    agreed: bool
    instruction: Sentence
    named: Sentence | None = None


def mesh_result(job: Job, axis: Axis, feed: PowerFeed) -> MeshResult:
    """The gears and their mesh by the school chosen, and what the trials say; raises BadInputError."""
    trials = job.of_axis(MeshTrial, axis.id)
    engagement = None
    faces = (feed.drive_near, feed.drive_far, feed.unit_near, feed.unit_far)
    if all(f is not None for f in faces):
        a, b, c, d = (mm_of(f) or 0.0 for f in faces)
        engagement = face_engagement((a, b), (c, d))
    if feed.gear_teeth is None or feed.gear_outside is None:
        ask = Sentence("Count the drive gear's teeth and measure its outside diameter: that names the gear.")
        return MeshResult((), None, engagement, None, None, False, ask)
    teeth = round(feed.gear_teeth)
    guesses = tuple(identify_gear(feed.gear_outside.mm, teeth))
    named = name_gear(guesses, feed.gear_outside.mm)
    if feed.unit_teeth is None:
        ask = Sentence("{name}. Count the teeth of the unit's gear too.", {"name": guesses[0].name})
        return MeshResult(guesses, None, engagement, None, None, False, ask, named)
    pair, angle, module = (round(feed.unit_teeth), teeth), float(feed.angle), guesses[0].module_mm
    measured = [t.backlash.mm for t in trials if t.backlash is not None]
    flanks: Literal[1, 2] = 2 if feed.school == "paper2" else 1
    if feed.school in ("paper1", "paper2"):
        mesh = mesh_gears(module, pair, angle, paper_mm=feed.paper.mm, flanks=flanks)
    else:
        mesh = mesh_gears(module, pair, angle, backlash_mm=feed.wanted.mm)
    slide = slide_by(measured[-1], feed.wanted.mm, angle) if measured else None
    agreed = bool(trials) and _agrees(trials[-1])
    latest = measured[-1] if measured else None
    words = _mesh_words(feed, mesh, trials, slide, latest, agreed)
    return MeshResult(guesses, mesh, engagement, slide, latest, agreed, words, named)


def unlike_gears(feed: PowerFeed, guesses: tuple[GearGuess, ...]) -> list[Finding]:
    """A finding when the unit's gear, by its outside diameter, can't be of the drive gear's pitch."""
    if not guesses or feed.unit_outside is None or feed.unit_teeth is None:
        return []
    wanted = guesses[0].module_mm * (feed.unit_teeth + 2)
    if abs(feed.unit_outside.mm - wanted) <= 0.02 * wanted:
        return []
    return [
        finding(
            "gears-unlike",
            "stop",
            "With {teeth:g} teeth of {name} the unit's gear would be {wanted} outside; it measures {is_mm}.",
            "Count and measure both again; if the figures stand, the two don't run together: one must be changed.",
            teeth=feed.unit_teeth,
            name=guesses[0].name,
            wanted=Size(wanted),
            is_mm=Size(feed.unit_outside.mm),
        )
    ]


def _agrees(trial: MeshTrial) -> bool:
    """Whether backlash, paper and ear of one trial say the same: right. Measured backlash decides."""
    low, high = BACKLASH_MM
    if trial.backlash is not None and not low <= trial.backlash.mm <= high:
        return False
    return trial.noise == "quiet" and (trial.backlash is not None or trial.paper == "rolls")


def _mesh_words(
    feed: PowerFeed, mesh: Mesh, trials: list[MeshTrial], slide: float | None, latest: float | None, agreed: bool
) -> Sentence:
    if agreed:
        return Sentence(
            "The mesh agrees by measure and ear: tighten, turn the handwheel through the whole travel, cover."
        )
    if slide is not None and abs(slide) > 0.005:
        way = "away from" if slide > 0 else "toward"
        return Sentence(
            "Measured backlash {now}, wanted {wanted}: slide the unit {by} " + way + " the screw, then measure again.",
            {"now": Fine(latest or 0.0), "wanted": Fine(feed.wanted.mm), "by": Fine(abs(slide))},
        )
    last = trials[-1] if trials else None
    if last is not None and (last.noise in ("grinds", "clatters") or last.paper in ("tears", "loose")):
        tight = last.noise == "grinds" or (last.paper == "tears" and last.noise != "clatters")
        where = "away, a little" if tight else "in, a little"
        return Sentence("Too " + ("tight" if tight else "loose") + ": slide the unit " + where + ", and try again.")
    values = {
        "centre": Mm(mesh.centre_mm + mesh.open_mm), "open": Fine(mesh.open_mm), "paper": Fine(feed.paper.mm),
        "j": Fine(mesh.backlash_mm), "wanted": Fine(feed.wanted.mm),
    }  # fmt: skip
    words = {
        "paper1": "Lay paper of {paper} on one flank, push the unit in, tighten: {j} of backlash, centres {centre}.",
        "paper2": "Roll a strip of {paper} through while turning the screw; it must just go: {j} of backlash.",
        "indicator": "Set the centres at {centre}, then rock one gear against an indicator, the other held: {wanted}.",
        "ear": "Slide it in until it just whines by hand, then out by {open}; run it slowly and listen.",
    }[feed.school]
    return Sentence(words + " Log the trial.", values)
