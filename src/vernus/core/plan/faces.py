"""Judging candidate faces side by side: what each costs, ranked by what the user cares about, with reasons.

Each criterion is a badness from 0 (nothing) to 1 (as bad as it gets); a face's cost is their weighted mean. The scales
behind the badnesses are common practice, no source.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vernus.core.finding import Finding, Fine, Mm, Sentence, finding

CRITERIA = ("travel", "blocked", "exposure", "holes", "parts", "abbe")
CRITERION_WORDS = {
    "travel": "travel lost",
    "blocked": "what it blocks",
    "exposure": "chips and coolant",
    "holes": "new holes",
    "parts": "parts to make",
    "abbe": "distance to the tool",
}
WORST = {"travel": 0.3, "blocked": 2.0, "exposure": 3.0, "holes": 6.0, "parts": 5.0, "abbe": 400.0}
TIE = 0.01
"""Costs nearer than that are no difference anybody could stand by; common practice, no source."""
Weights = Mapping[str, float]


@dataclass(frozen=True)
class FaceCosts:
    """What one face costs: share of the other axes' travel lost, features blocked, exposure 0–3, holes, parts, Abbe."""

    name: str
    travel_lost: float
    lost_mm: dict[str, float]
    blocked: tuple[str, ...]
    exposure: float
    holes: float
    parts: float
    abbe_mm: float
    fits: bool = True
    possible: bool = True
    meets: tuple[tuple[str, str], ...] = ()
    """Who meets whom with every axis at home, where the face is not possible."""
    play_mm: float | None = None
    """How far what carries the reader rocks, None where it is held."""
    wanted_mm: float = 0.0
    play_measured: bool = False
    to_make: str = ""

    @property
    def rocks(self) -> bool:
        """Whether its reader rocks by more than the accuracy wanted."""
        return self.play_mm is not None and self.play_mm > self.wanted_mm

    def amounts(self) -> dict[str, float]:
        """The raw amount per criterion."""
        return {
            "travel": self.travel_lost,
            "blocked": float(len(self.blocked)),
            "exposure": self.exposure,
            "holes": self.holes,
            "parts": self.parts,
            "abbe": self.abbe_mm,
        }

    def badness(self) -> dict[str, float]:
        """Each criterion from 0 to 1."""
        return {k: min(1.0, v / WORST[k]) for k, v in self.amounts().items()}

    def cost(self, weights: Weights) -> float:
        """The weighted mean badness; a face that can't be used costs more than any other."""
        total = sum(weights.values())
        bad = self.badness()
        mean = sum(weights[k] * bad[k] for k in CRITERIA) / total if total > 0 else 0.0
        return mean + (0.0 if self.possible else 2.0) + (1.0 if self.rocks else 0.0) + (0.0 if self.fits else 0.05)


@dataclass(frozen=True)
class RankedFace:
    """A face with its place in the ranking, its cost, and one line of judgement."""

    costs: FaceCosts
    cost: float
    judgement: Sentence


def rank_faces(faces: Sequence[FaceCosts], weights: Weights) -> list[RankedFace]:
    """The faces, cheapest first."""
    ordered = sorted(faces, key=lambda f: (f.cost(weights), f.name))
    return [RankedFace(f, f.cost(weights), _judge(f)) for f in ordered]


def _judge(face: FaceCosts) -> Sentence:
    """What is good and what is bad about a face, in one line."""
    if not face.possible:
        return _does_not_work(face.meets)
    values: dict[str, object] = {}
    bad: list[str] = []
    if face.lost_mm:
        bad.append("takes " + " and ".join("{lost_%s} of %s" % (k, k) for k in sorted(face.lost_mm)))  # noqa: UP031
        values |= {f"lost_{k}": Mm(v) for k, v in face.lost_mm.items()}
    if face.blocked:
        bad.append("blocks " + ", ".join(face.blocked).replace("{", "(").replace("}", ")"))
    if face.exposure >= 2:
        bad.append("chips and coolant reach it")
    if not face.fits:
        bad.append("the body is longer than the face")
    if face.rocks:
        word = "rocks by {play}" if face.play_measured else "may rock by {play} (measure it)"
        bad.append(f"its reader {word}, more than the {{wanted}} wanted")
        values |= {"play": Fine(face.play_mm or 0.0), "wanted": Fine(face.wanted_mm)}
    good = [] if face.lost_mm else ["keeps all travel"]
    if not face.blocked:
        good.append("blocks nothing")
    if face.exposure < 1:
        good.append("stays clean")
    text = "; ".join([*(["But " + bad[0], *bad[1:]] if bad and good else bad)])
    words = (", ".join(good).capitalize() + ". " if good else "") + (text[:1].upper() + text[1:] + "." if text else "")
    if face.to_make:
        words += " To make: " + face.to_make.replace("{", "(").replace("}", ")") + "."
    return Sentence(words.strip() or "Nothing speaks for it or against it.", values)


def _does_not_work(meets: Sequence[tuple[str, str]]) -> Sentence:
    if not meets:
        return Sentence("Does not work: with it no travel is left that keeps the least travels wanted.")
    text = "Does not work: the {a} meets the {b} with every axis at home"
    also = len(meets) - 1
    more = "" if not also else " (and one more pair does)" if also == 1 else f" (and {also} more pairs do)"
    return Sentence(text + more + ".", {"a": meets[0][0], "b": meets[0][1]})


def what_would_change(ranked: Sequence[RankedFace], weights: Weights) -> Sentence:
    """Why the first face is first, and what would have to matter more for the second to win."""
    usable = [r for r in ranked if r.costs.possible]
    if len(usable) < 2:
        return Sentence("There is nothing to compare it with yet.")
    first, second = usable[0], usable[1]
    a, b = first.costs.badness(), second.costs.badness()
    gains = {k: weights[k] * (b[k] - a[k]) for k in CRITERIA}
    why = max(CRITERIA, key=lambda k: gains[k])
    total = sum(weights.values())
    if first.costs.rocks == second.costs.rocks and abs(second.cost - first.cost) < TIE:
        return Sentence(
            f"{_safe(first)} and {_safe(second)} are as good as each other by these weights: choose the one whose "
            "drawbacks you mind less."
        )
    if second.costs.rocks and not first.costs.rocks:
        return Sentence(
            f"{_safe(first)} comes first; {_safe(second)} can't win by any weight while its reader rocks by more than "
            "is wanted."
        )
    # Raising weight k by w makes both costs equal at w = total·(cost₂ − cost₁)/(a_k − b_k).
    gap = (second.cost - first.cost) * total
    needed = {k: gap / (a[k] - b[k]) for k in CRITERIA if a[k] > b[k] + 1e-9}
    reason = f"mainly because of {CRITERION_WORDS[why]}" if gains[why] > 1e-9 else "by a hair"
    if not needed:
        return Sentence(
            f"{_safe(first)} comes first, {reason}; {_safe(second)} is no better in anything, so no weight changes "
            "that."
        )
    key = min(needed, key=lambda k: needed[k])
    now, then = weights[key], weights[key] + needed[key]
    if f"{then:.1f}" == f"{now:.1f}":
        return Sentence(
            f"{_safe(first)} comes first by a hair, {reason}; {_safe(second)} wins as soon as {CRITERION_WORDS[key]} "
            "weighs a little more."
        )
    return Sentence(
        f"{_safe(first)} comes first, {reason}. {_safe(second)} would win if {CRITERION_WORDS[key]} weighed more than "
        f"{then:.1f} (now {now:.1f})."
    )


def _safe(face: RankedFace) -> str:
    return "“" + face.costs.name.replace("{", "(").replace("}", ")") + "”"


def blocked_finding(face: str, feature: str, why: str, when: Sentence | None) -> Finding:
    """A feature that the parts of a scale cover."""
    return finding(
        "feature-blocked",
        "caution",
        "{part} covers {feature}{when}" + (": {why}." if why else "."),
        "Move the part, slim it, move or lengthen {feature}, or give it up knowingly: say so at its box on the Machine "
        "sheet, and it becomes a task to do by hand.",
        part=face,
        feature=feature,
        why=why.rstrip("."),
        when=Sentence(" with {when}", {"when": when}) if when else "",
    )
