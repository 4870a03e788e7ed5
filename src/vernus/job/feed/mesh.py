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
from vernus.job.feed.chain import unit_face_mm
from vernus.job.fields import mm_of

HOUSING_MM = 0.5
"""Least gap between a turning gear and what stands beside it; common practice, no source."""


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
        out = unit_face_mm(feed)
        engagement = face_engagement((a, b), (c + out, d + out))
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
    measured = [mean for t in trials if (mean := _mean(t)) is not None]
    flanks: Literal[1, 2] = 2 if feed.school == "paper2" else 1
    if feed.school in ("paper1", "paper2"):
        mesh = mesh_gears(module, pair, angle, paper_mm=feed.paper.mm, flanks=flanks)
    else:
        mesh = mesh_gears(module, pair, angle, backlash_mm=feed.wanted.mm)
    slide = slide_by(measured[-1], mesh.backlash_mm, angle) if measured else None  # what the school makes is wanted
    agreed = bool(trials) and _agrees(trials[-1], feed.school)
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


def _mean(trial: MeshTrial) -> float | None:
    """The backlash of a trial; tightest and loosest within a turn come to their mean (runout, not the centres)."""
    if trial.backlash is None:
        return None
    return trial.backlash.mm if trial.loosest is None else (trial.backlash.mm + trial.loosest.mm) / 2


def _agrees(trial: MeshTrial, school: str) -> bool:
    """Whether backlash, paper and ear of one trial say the same: right. Measured backlash decides.

    Who sets the mesh by ear is held to the ear alone, where nothing measured speaks against it.
    """
    low, high = BACKLASH_MM
    for measured in (trial.backlash, trial.loosest):
        if measured is not None and not low <= measured.mm <= high:
            return False
    if any(gap is not None and gap.mm < HOUSING_MM for gap in (trial.inner_gap, trial.outer_gap)):
        return False
    by_ear = school == "ear" and trial.paper in ("", "rolls")
    return trial.noise == "quiet" and (trial.backlash is not None or trial.paper == "rolls" or by_ear)


def _round_the_turn(feed: PowerFeed, mesh: Mesh, tight: float, loose: float, slide: float | None) -> Sentence:
    """What to do where backlash changes within a turn: only its mean is set by sliding.

    A swing that holds the backlash usual, or what the school makes, is not slid for.
    """
    low, high = sorted((tight, loose))
    values = {
        "low": Fine(low), "high": Fine(high), "mean": Fine((low + high) / 2), "half": Fine((high - low) / 2),
        "by": Fine(abs(slide or 0.0)), "wanted": Fine(mesh.backlash_mm),
    }  # fmt: skip
    words = "{low} to {high} within a turn: {mean} ± {half}. The swing is runout of gear, sleeve or shaft: true those"
    holds = any(low < wanted < high for wanted in (mesh.backlash_mm, feed.wanted.mm))
    if slide is not None and abs(slide) > 0.005 and not holds:
        way = "away from" if slide > 0 else "toward"
        words += "; then slide the unit {by} " + way + " the screw"
    else:
        words += ", don't slide for it"
    return Sentence(words + "; measure round the turn again.", values)


def _mesh_words(
    feed: PowerFeed, mesh: Mesh, trials: list[MeshTrial], slide: float | None, latest: float | None, agreed: bool
) -> Sentence:
    if agreed:
        return Sentence(
            "The mesh agrees by measure and ear: tighten, turn the handwheel through the whole travel, cover."
        )
    last = trials[-1] if trials else None
    close = last is not None and [g.mm for g in (last.inner_gap, last.outer_gap) if g is not None and g.mm < HOUSING_MM]
    if close:
        return Sentence(
            "Only {gap} between gear and housing; {least} is wanted on both sides: shim the stand-off.",
            {"gap": Mm(min(close)), "least": Mm(HOUSING_MM)},
        )
    if last is not None and last.noise == "rubs":
        return Sentence(
            "Something rubs: look for a bright line on gear, bracket, housing and cover, both sides; shim the unit or "
            "the gear along the screw until it is gone, then try again.",
        )
    if last is not None and last.backlash is not None and last.loosest is not None:
        return _round_the_turn(feed, mesh, last.backlash.mm, last.loosest.mm, slide)
    if slide is not None and abs(slide) > 0.005:
        way = "away from" if slide > 0 else "toward"
        return Sentence(
            "Measured backlash {now}, wanted {wanted}: slide the unit {by} " + way + " the screw, then measure again.",
            {"now": Fine(latest or 0.0), "wanted": Fine(mesh.backlash_mm), "by": Fine(abs(slide))},
        )
    if last is not None and (last.noise in ("grinds", "clatters") or last.paper in ("tears", "loose")):
        tight = last.noise == "grinds" or (last.paper == "tears" and last.noise != "clatters")
        where = "away, a little" if tight else "in, a little"
        return Sentence("Too " + ("tight" if tight else "loose") + ": slide the unit " + where + ", and try again.")
    values = {
        "centre": Mm(mesh.centre_mm + mesh.open_mm), "open": Fine(mesh.open_mm), "paper": Fine(feed.paper.mm),
        "j": Fine(mesh.backlash_mm),
    }  # fmt: skip
    words = {
        "paper1": "Lay paper of {paper} on one flank, push the unit in, tighten: {j} of backlash, centres {centre}.",
        "paper2": "Roll a strip of {paper} through while turning the screw; it must just go: {j} of backlash.",
        "indicator": "Set the centres at {centre}, then rock one gear against an indicator, the other held: {j}.",
        "ear": "Slide it in until it just whines by hand, then out by {open}; run it slowly and listen.",
    }[feed.school]
    return Sentence(words + " Log the trial.", values)
