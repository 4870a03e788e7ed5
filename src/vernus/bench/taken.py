"""When a value of an instrument is taken as the reading of a station: by its own send button, or hands-free.

An instrument alone makes no pass. A value counts as sent by hand when nothing was heard for a while before it and it
doesn't come like clockwork; hands-free, when the dial has moved and then stood still. Times are seconds of any clock.
The figures are own choice, no source.
"""

from __future__ import annotations

import itertools
import statistics
from collections import deque
from dataclasses import dataclass, field

FASTEST_HAND_S = 1.0
"""Nobody cranks to the next station, waits for the figure and presses in less."""
_CLOCKWORK = 0.02
_CLOCKWORK_AFTER = 6
STILL_S = 1.5
MOVED_MM = 0.004
STILL_MM = 0.002


@dataclass
class SendButton:
    """Tells a value that somebody sent from one that an instrument sends by itself."""

    by_itself: bool = False
    """Whether it was found to send by itself."""
    _heard: deque[float] = field(default_factory=lambda: deque(maxlen=_CLOCKWORK_AFTER + 1))

    def takes(self, at_s: float) -> bool:
        """Whether a value heard at that time was sent by hand."""
        gap = at_s - self._heard[-1] if self._heard else FASTEST_HAND_S
        self._heard.append(at_s)
        times = list(self._heard)
        gaps = [b - a for a, b in itertools.pairwise(times)]
        even = len(gaps) == _CLOCKWORK_AFTER and statistics.pstdev(gaps) <= _CLOCKWORK * statistics.fmean(gaps)
        self.by_itself = even or (gap < FASTEST_HAND_S and len(gaps) > 1)
        return gap >= FASTEST_HAND_S and not even


@dataclass
class Stillness:
    """Hands-free: tells when the dial has moved away and then stood still, once each time."""

    _seen: deque[tuple[float, float]] = field(default_factory=lambda: deque(maxlen=4000))
    _moved: bool = False
    _taken_mm: float | None = None

    @property
    def waits_for(self) -> str:
        """What it waits for, in words."""
        return "stand still" if self._moved else "crank on"

    def takes(self, at_s: float, value_mm: float) -> float | None:
        """The reading to take at that time (the median while it stood still); None as long as there is none."""
        self._seen.append((at_s, value_mm))
        while self._seen and at_s - self._seen[0][0] > STILL_S:
            self._seen.popleft()
        values = [v for _, v in self._seen]
        if max(values) - min(values) >= MOVED_MM or (
            self._taken_mm is not None and abs(value_mm - self._taken_mm) >= MOVED_MM
        ):
            self._moved = True
        long = at_s - self._seen[0][0] >= 0.8 * STILL_S and len(values) >= 3
        if not (self._moved and long and max(values) - min(values) <= STILL_MM):
            return None
        self._moved, self._taken_mm = False, statistics.median(values)
        return self._taken_mm
