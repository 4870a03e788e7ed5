"""A scale body that leans, a dial that is read on it, and the end that is moved until the dial shows a figure."""

from dataclasses import dataclass


@dataclass
class Leaning:
    """A body's distance from true, along it: tilt in mm per mm, bow in mm at its middle over the sweep."""

    tilt: float
    bow: float
    sense: int
    """+1 where the reading grows as the body comes toward the indicator, -1 otherwise."""
    division: float
    long: float

    def height(self, x):
        u = 2 * x / self.long - 1
        return self.tilt * x - self.bow * (1 - u * u)

    def reads(self, x, chance):
        """The dial at a place, to half a division, with its friction."""
        raw = self.sense * self.height(x) + chance.gauss(0, 0.2 * self.division)
        return round(raw / (self.division / 2)) * self.division / 2

    def bring(self, hold, park, to, chance):
        """Keep the screw at ``hold`` and move the other end until the dial at ``park`` shows ``to``."""
        here = self.sense * self.height(park)
        turn = self.sense * (to + chance.gauss(0, 0.2 * self.division) - here) / (park - hold)
        self.tilt += turn + chance.gauss(0, 0.003) / self.long

    def rise(self, over):
        return self.tilt * over
