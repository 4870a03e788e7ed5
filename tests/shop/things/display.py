"""One axis of a display as it behaves: counts, corrections, direction and diameter, and what is keyed into it."""

import math
from dataclasses import dataclass, field


@dataclass
class Display:
    """What an axis of a display is set to, and what its scale really does.

    ``way`` is how it is corrected: ``counts``, ``multiplier``, ``ppm``, or a ``pair`` of true and shown length.
    """

    per: str
    counts: float
    true_count_um: float
    way: str
    step_mm: float
    doubles: bool
    reversed: bool
    wave_mm: float
    factor: float = 1.0
    keyed: list = field(default_factory=list)

    def reads(self, true_mm):
        """The figure before its last digit is rounded, after a true move from zero."""
        moved = true_mm + self.wave_mm * math.sin(2 * math.pi * true_mm / 2.0)
        per_mm = self.counts / (25.4 if self.per == "in" else 1.0)
        sign = -1 if self.reversed else 1
        return sign * moved * 1000 / self.true_count_um / per_mm * (2 if self.doubles else 1) * self.factor

    def shows(self, true_mm):
        """What stands on it: whole steps of its last digit."""
        return round(self.reads(true_mm) / self.step_mm) * self.step_mm

    def key(self, way, value):
        """Key in what is said, as its menus take it; a figure in a way that it hasn't got is refused."""
        if way in ("counts_per_inch", "counts_per_mm"):
            self.counts, self.per = value, "in" if way == "counts_per_inch" else "mm"
        elif way == "factor":
            self.factor = value
        elif way == "ppm":
            self.factor = 1 + value * 1e-6
        elif way == "mm_per_m":
            self.factor = 1 + value * 1e-3
        elif way == "pair":
            self.factor = value[0] / value[1]
        else:
            raise ValueError(way)
        self.keyed.append((way, value))

    def off(self, true_mm):
        """By how much too long a true move is shown."""
        return abs(self.reads(true_mm)) / (2 if self.doubles else 1) - abs(true_mm)


def checks(display, chance, travel, whole=False, longer=1.0):
    """(true, shown) of three lengths moved three times each: by blocks, or by a bar over the whole travel."""
    longest = min(travel * 0.98, travel if whole else chance.choice((150.0, 1000.0)))
    found = []
    for share in (0.35, 0.7, 1.0):
        block = longest * share
        for _ in range(3):
            found.append(
                (block, display.shows(block * longer + chance.gauss(0, 0.0008) + chance.uniform(-0.0005, 0.0005)))
            )
    return found
