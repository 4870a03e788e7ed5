"""The figure a display showed, asked about when it can't belong to the true one beside it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Signal

from vernus.core.doubt import Doubt, doubt_length
from vernus.core.finding import Sentence
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.session import Session
from vernus.job.doubts import looks_swapped, shown_yardstick
from vernus.job.entities import CalibrationRun
from vernus.job.fields import LengthEntry

Pair = Callable[[], tuple[CalibrationRun, LengthEntry] | None]


class CheckField(LengthField):
    """``swapped`` carries the text of the true figure when the two were typed the wrong way round."""

    swapped = Signal(str)

    def __init__(self, session: Session, pair: Pair) -> None:
        super().__init__("Shown", lambda: session.unit("length"), optional=False, logging=True)
        self._pair = pair
        self.take_other = self._swap

    def doubt(self, text: str) -> Doubt | None:
        pair = self._pair()
        if pair is None:
            return None
        run, true = pair
        if looks_swapped(run, true.mm, self.parse(text).mm):
            return Doubt(Sentence("Are the true and the shown figure swapped?"), "swap", "swap them")
        yardstick = shown_yardstick(run, true.mm)
        return None if yardstick is None else doubt_length(text, self.measure, yardstick)

    def _swap(self, text: str) -> bool:
        pair = self._pair() if text == "swap" else None
        if pair is None:
            return False
        true = self.line.text()
        self.line.setText(pair[1].shown(self.measure))
        self.swapped.emit(true)
        value = self.read()
        if value is not None:
            self.accepted.emit(value)
        return True
