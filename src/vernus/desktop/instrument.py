"""The instrument link: a serial port listened to in the background, with its live reading and what went wrong."""

from __future__ import annotations

import time

from PySide6.QtCore import QObject, QTimer, Signal

from vernus.bench.line import Heard, LinePattern, LineReader
from vernus.core.errors import VernusError

FARTHEST_MM = 1000.0
"""No indicator shows more than a metre: such a line is garbage, and told as that."""
_POLL_MS = 40
_STALE_S = 3.0  # also how long a line that could not be read stays told


class InstrumentError(VernusError, OSError):
    """A serial port that can't be opened."""


class Instrument(QObject):
    """One indicator on a serial line. ``sent`` are the values (mm) that came by its own send button in one look.

    However fast it sends, it is looked at once a frame, and what came is handed on in one go.
    """

    changed = Signal()
    sent = Signal(list)

    def __init__(self) -> None:
        super().__init__()
        self.port = ""
        self.live_mm: float | None = None
        self.trouble = ""
        self.asking = False
        """Whether readings are asked for all the time; then a value that arrives was not sent by hand."""
        self._line: object | None = None
        self._reader: LineReader | None = None
        self._heard_at = 0.0
        self._trouble_at = 0.0
        self._timer = QTimer(self)
        self._timer.setInterval(_POLL_MS)
        self._timer.timeout.connect(self._poll)

    @property
    def linked(self) -> bool:
        """Whether a port is open."""
        return self._line is not None

    def link(self, port: str, pattern: LinePattern, *, baud: int = 9600, asking: bool = True) -> None:
        """Open a port; raises InstrumentError with what to look for."""
        import serial

        self.unlink()
        try:
            self._line = serial.Serial(port, baudrate=baud, timeout=0, write_timeout=0.2)
        except (OSError, ValueError) as error:
            raise InstrumentError(
                f"Can't open {port}: {error}. Check the cable and the port's name, and that you may use it "
                "(group dialout)."
            ) from None
        self.port, self.asking, self._reader = port, asking, LineReader(pattern)
        self.trouble, self._heard_at = "", time.monotonic()
        self._timer.start()
        self.changed.emit()

    def unlink(self) -> None:
        """Close the port."""
        self._timer.stop()
        if self._line is not None:
            try:
                self._line.close()  # type: ignore[attr-defined]
            except OSError:
                self.trouble = "the port did not close cleanly"
        self._line, self.live_mm = None, None
        self.changed.emit()

    def _poll(self) -> None:
        line, reader = self._line, self._reader
        if line is None or reader is None:
            return
        try:
            if self.asking:
                line.write(b"?")  # type: ignore[attr-defined]
            data = line.read(4096)  # type: ignore[attr-defined]
        except (OSError, TypeError) as error:
            self.unlink()
            self.trouble = f"the instrument was unplugged ({str(error)[:60]}); link it again"
            self.changed.emit()
            return
        heard = reader.feed(data)
        values = [mm for one in heard if (mm := self._take(one)) is not None]
        if heard:
            self.changed.emit()
        if values and not self.asking:
            self.sent.emit(values)
        if time.monotonic() - self._heard_at > _STALE_S and self.live_mm is not None:
            self.live_mm = None
            self.trouble = "nothing heard for three seconds"
            self.changed.emit()

    def _take(self, heard: Heard) -> float | None:
        """The value of a line, if it can be read."""
        self._heard_at = time.monotonic()
        if heard.value_mm is None or abs(heard.value_mm) > FARTHEST_MM:
            wrong = "can't read" if heard.value_mm is None else "no indicator shows"
            self.trouble = f"{wrong} “{heard.line[:24]}”; is the line pattern right?"
            self._trouble_at = self._heard_at
            return None
        if self._heard_at - self._trouble_at > _STALE_S:
            self.trouble = ""
        self.live_mm = heard.value_mm
        return heard.value_mm


def ports() -> list[str]:
    """The serial ports of this machine."""
    from serial.tools import list_ports

    return sorted(p.device for p in list_ports.comports())
