"""What the picture of the practice machine is made from."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field


@dataclass(frozen=True)
class BenchShown:
    """What is drawn: the scene, the grips there are, the one in hand, and what each shows.

    ``figures``: wheel (turns), table (0 to 1), needle (turns, None unread), eye (−1 to 1), gear (turns), trips (0 to 1
    each); ``words``: what a thing says on its face; ``loose``: the screws that are.
    """

    scene: str
    grips: tuple[str, ...]
    picked: str
    figures: Mapping[str, float] = field(default_factory=dict)
    words: Mapping[str, str] = field(default_factory=dict)
    loose: tuple[str, ...] = ()
    heard: tuple[float, ...] = ()
    """How loud the gears ran round one turn, 0 to 1, below 0 a growl; empty where nobody listened."""
    rolled: tuple[float, ...] = ()
    """The backlash (mm) round one turn as a strip of paper went through; empty where none did."""
    lit: str = ""
    """The thing that a guided run would take next."""
