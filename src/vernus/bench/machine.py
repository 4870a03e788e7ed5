"""A scale body on a machine that isn't there: tilt, bow, roll and noise from one seed, and screws that can be moved.

Stations run along the body in mm, growing to the right; heights are toward the indicator.
"""

from __future__ import annotations

import math
import random
from dataclasses import dataclass, replace
from typing import Literal

from vernus.core.align.sweep import Indicator, Sense
from vernus.core.errors import BadInputError


@dataclass(frozen=True)
class Faults:
    """What is wrong with the body as found; lengths in mm, tilt in mm per metre."""

    tilt_mm_per_m: float = 0.0
    bow_mm: float = 0.0
    roll: float = 0.0
    noise_mm: float = 0.0
    screw_play: float = 0.0
    """Share of a correction that tightening takes back."""


class SimulatedBody:
    """A body on two end screws, with an indicator standing on it."""

    def __init__(
        self,
        length_mm: float,
        faults: Faults,
        seed: int,
        *,
        sense: Sense = "toward",
        angle_deg: float = 0.0,
        division_mm: float = 0.01,
    ) -> None:
        if not length_mm > 20:
            raise BadInputError("The simulated body must be longer than 20 mm.")
        self.length_mm = length_mm
        self.screws_mm = (8.0, length_mm - 8.0)
        self.indicator = Indicator(sense, angle_deg, division_mm)
        self.station_mm = length_mm / 2
        self._faults = faults
        self._chance = random.Random(seed)
        self._slope = faults.tilt_mm_per_m / 1000
        self._height = self._chance.uniform(-0.2, 0.2)

    @classmethod
    def from_seed(cls, seed: int, **more: float) -> SimulatedBody:
        """A body with hidden faults: 200 to 900 mm long, tilted up to 3 mm per metre, bowed, noisy, either sense."""
        chance = random.Random(seed)
        faults = Faults(
            tilt_mm_per_m=chance.uniform(-3, 3),
            bow_mm=chance.uniform(-0.015, 0.015),
            roll=chance.uniform(-0.002, 0.002),
            noise_mm=chance.uniform(0.0, 0.002),
            screw_play=chance.uniform(0.0, 0.1),
        )
        sense: Sense = chance.choice(("toward", "away"))
        angle = chance.choice((0.0, 0.0, 15.0, 30.0))
        return cls(chance.uniform(200, 900), faults, seed + 1, sense=sense, angle_deg=angle)

    def let_noise_be(self, noise_mm: float) -> None:
        """Read with another noise (one standard deviation, mm) from now on."""
        self._faults = replace(self._faults, noise_mm=noise_mm)

    @property
    def tilt_mm(self) -> float:
        """The true rise from end screw to end screw (mm)."""
        return self._slope * (self.screws_mm[1] - self.screws_mm[0])

    def height(self, station_mm: float) -> float:
        """The true height (mm) of the body at a station."""
        share = 2 * station_mm / self.length_mm - 1
        return self._height + self._slope * station_mm + self._faults.bow_mm * (1 - share * share)

    def reading(self, station_mm: float | None = None) -> float:
        """What the indicator shows (mm): height by sense and angle, with noise, to its division."""
        at = self.station_mm if station_mm is None else station_mm
        shown = self.indicator.sign * self.height(at) / self.indicator.cosine
        shown += self._chance.gauss(0.0, self._faults.noise_mm)
        return round(shown / self.indicator.division_mm) * self.indicator.division_mm

    def follow_dial(self, hold: Literal["left", "right"], park_mm: float, target_mm: float) -> None:
        """Hold one screw, stand at ``park_mm``, ease the other end until the dial shows ``target_mm``, tighten."""
        pivot = self.screws_mm[0 if hold == "left" else 1]
        change = self.indicator.sign * (target_mm - self.reading(park_mm)) * self.indicator.cosine
        self._turn(pivot, change / (park_mm - pivot) * (1 - self._faults.screw_play))

    def move_screw(self, hold: Literal["left", "right"], shift_mm: float) -> None:
        """Move the other screw's end by ``shift_mm`` toward the indicator, by turns or shims."""
        left, right = self.screws_mm
        pivot, moved = (left, right) if hold == "left" else (right, left)
        self._turn(pivot, shift_mm / (moved - pivot) * (1 - self._faults.screw_play))

    def _turn(self, pivot_mm: float, slope: float) -> None:
        self._slope += slope
        self._height -= slope * pivot_mm

    def crank(self, station_mm: float) -> None:
        """Bring the indicator to a station; raises BadInputError off the body."""
        if not (math.isfinite(station_mm) and 0 <= station_mm <= self.length_mm):
            raise BadInputError(f"The body ends at {self.length_mm:.0f} mm; there is no station {station_mm:g} mm.")
        self.station_mm = station_mm
