"""What a linked instrument shows now, what is wrong with the link, and one big key that takes the station."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from vernus.core.units import format_fine
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.paper.ink import font

_PT, _ON_BENCH_PT, _KEY_ON_BENCH_PX, _KEY_ON_BENCH_PT = 16, 54, 90, 22


class LiveView(QWidget):
    """``taken`` carries the value (mm) of a station that a hand took: by the key here, by its button, or hands-free."""

    taken = Signal(float)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.now = Words("")
        self.trouble = Words("", "caution")
        self.key = QPushButton("Take this station (F9, space bar)")
        press_by(self.key, "F9")
        self.key.clicked.connect(self.take)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        for widget in (self.now, self.trouble, self.key):
            box.addWidget(widget)
        session.instrument.changed.connect(self.show_now)
        session.instrument.sent.connect(self.taken)
        self.show_bench(False)

    def take_by_space(self, lines: Sequence[Line]) -> None:
        """The space bar in one of these lines, empty, takes the station: one hand stays on the crank."""
        for line in lines:
            line.on_space = self._space

    def _space(self) -> bool:
        if not self._session.instrument.linked:
            return False
        self.take()
        return True

    def take(self) -> None:
        """Take what it shows now."""
        live = self._session.instrument.live_mm
        if live is not None:
            self.taken.emit(live)
        elif self._session.instrument.linked:
            self._session.notice.emit(
                "Nothing heard from the instrument yet; press its button, or F8 to look at the link."
            )
        else:
            self._session.notice.emit("No instrument is linked; F8 links one.")

    def show_bench(self, bench: bool) -> None:
        """Readable from two metres, a key that a knuckle finds."""
        self.now.setFont(font(_ON_BENCH_PT if bench else _PT, bold=True))
        self.key.setMinimumHeight(_KEY_ON_BENCH_PX if bench else 0)
        self.key.setFont(font(_KEY_ON_BENCH_PT if bench else 11))
        self.show_now()

    def show_now(self) -> None:
        """The figure, what hands-free waits for, and what is wrong with the link."""
        instrument = self._session.instrument
        there, mm = instrument.link_now is not None, instrument.live_mm
        figure = "listening…" if mm is None else format_fine(mm, self._session.units, sign=True)
        self.now.setText(" · ".join(w for w in (figure, instrument.waits_for) if w) if there else "")
        self.trouble.setText(instrument.trouble)
        self.now.setVisible(there)
        self.trouble.setVisible(bool(instrument.trouble))
        self.key.setVisible(instrument.linked and instrument.who == "key")
