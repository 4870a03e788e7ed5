"""The instrument link: a serial port listened to in the background, with its live reading and what went wrong.

A reading is taken when a hand says so: its own send button, the key that logs (F9 or the space bar), or hands-free, the
axis moved and then stood still. What is unplugged is linked again as soon as it is there again.
"""

from __future__ import annotations

import time
from typing import Any, Literal, NamedTuple

from PySide6.QtCore import QObject, QTimer, Signal

from vernus.bench.line import Heard, LinePattern, LineReader
from vernus.bench.taken import SendButton, Stillness
from vernus.core.errors import VernusError

FARTHEST_MM = 1000.0
"""No indicator shows more than a metre: such a line is garbage, and told as that."""
Who = Literal["key", "button", "free"]
"""Who says that a station is taken: a key here, the instrument's own send button, or nobody's hand: it stood still."""
_POLL_MS = 40
_STALE_S = 3.0  # also how long a line that could not be read stays told
_TRY_AGAIN_S = 1.0


class InstrumentError(VernusError, OSError):
    """A serial port that can't be opened."""


class Link(NamedTuple):
    """How an instrument is linked: its port, what its lines look like, how fast, who takes, and what it is called."""

    port: str
    pattern: LinePattern
    baud: int = 9600
    who: Who = "key"
    serial: str = ""


class Port(NamedTuple):
    """A serial port of this machine: where, what the instrument calls itself, and its serial number."""

    device: str
    name: str = ""
    serial: str = ""

    @property
    def key(self) -> str:
        """What it is remembered by: its serial number where it has one, which no other socket changes."""
        return self.serial or self.device


class Instrument(QObject):
    """One indicator on a serial line. ``sent`` is a value (mm) that a hand sent, or that stood still hands-free.

    However fast it sends, it is looked at once a frame.
    """

    changed = Signal()
    sent = Signal(float)

    def __init__(self) -> None:
        super().__init__()
        self.port = ""
        self.live_mm: float | None = None
        self.trouble = ""
        self.link_now: Link | None = None
        self._line: Any = None
        self._reader: LineReader | None = None
        self._heard_at = 0.0
        self._trouble_at = 0.0
        self._tried_at = 0.0
        self._button, self._stillness = SendButton(), Stillness()
        self._timer = QTimer(self)
        self._timer.setInterval(_POLL_MS)
        self._timer.timeout.connect(self._poll)

    @property
    def linked(self) -> bool:
        """Whether a port is open."""
        return self._line is not None

    @property
    def who(self) -> Who:
        """Who says that a station is taken."""
        return self.link_now.who if self.link_now is not None else "key"

    @property
    def asking(self) -> bool:
        """Whether readings are asked for all the time."""
        return self.who != "button"

    @property
    def waits_for(self) -> str:
        """What hands-free waits for; empty otherwise."""
        return self._stillness.waits_for if self.linked and self.who == "free" else ""

    def link(self, port: str, pattern: LinePattern, *, baud: int = 9600, who: Who = "key", serial: str = "") -> None:
        """Open a port; raises InstrumentError with what to look for."""
        self.unlink()
        self._open(Link(port, pattern, baud, who, serial))
        self._timer.start()
        self.changed.emit()

    def _open(self, link: Link) -> None:
        self._line = open_port(link.port, link.baud)
        self.port, self.link_now, self._reader = link.port, link, LineReader(link.pattern)
        self._button, self._stillness = SendButton(), Stillness()
        self.trouble, self._heard_at = "", time.monotonic()

    def unlink(self) -> None:
        """Close the port."""
        self._timer.stop()
        self._close()
        self.link_now = None
        self.changed.emit()

    def _close(self) -> None:
        if self._line is not None:
            try:
                self._line.close()
            except OSError:
                self.trouble = "the port did not close cleanly"
        self._line, self.live_mm = None, None

    def _poll(self) -> None:
        if self._line is None:
            self._link_again()
            return
        try:
            if self.asking:
                self._line.write(b"?")
            data = self._line.read(4096)
        except (OSError, TypeError) as error:
            self._close()
            self.trouble = f"the instrument was unplugged ({str(error)[:60]}); it is linked again when it is there"
            self.changed.emit()
            return
        heard = self._reader.feed(data) if self._reader is not None else []
        now = time.monotonic()
        values = [mm for one in heard if (mm := self._take(one)) is not None]
        self._hand_on(values, now)
        if heard:
            self.changed.emit()
        if now - self._heard_at > _STALE_S and self.live_mm is not None:
            self.live_mm = None
            self.trouble = "nothing heard for three seconds"
            self.changed.emit()

    def _hand_on(self, values: list[float], now: float) -> None:
        """Take what was sent by hand, or what stood still."""
        for mm in values:
            if self.who == "button":
                if self._button.takes(now):
                    self.sent.emit(mm)
                elif self._button.by_itself:
                    self._tell("it sends by itself: no hand does. Link it hands-free, or log with the key")
            elif self.who == "free":
                taken = self._stillness.takes(now, mm)
                if taken is not None:
                    self.sent.emit(taken)

    def _link_again(self) -> None:
        """Open the port again once the instrument is plugged in again, wherever that is."""
        link, now = self.link_now, time.monotonic()
        if link is None or now - self._tried_at < _TRY_AGAIN_S:
            return
        self._tried_at = now
        there = next((p.device for p in ports() if link.serial and p.serial == link.serial), link.port)
        try:
            self._open(link._replace(port=there))
        except InstrumentError:
            return
        self.changed.emit()

    def _tell(self, trouble: str) -> None:
        self.trouble, self._trouble_at = trouble, time.monotonic()

    def _take(self, heard: Heard) -> float | None:
        """The value of a line, if it can be read."""
        self._heard_at = time.monotonic()
        if heard.value_mm is None or abs(heard.value_mm) > FARTHEST_MM:
            wrong = "can't read" if heard.value_mm is None else "no indicator shows"
            self._tell(f"{wrong} “{heard.line[:24]}”; is the line pattern right?")
            return None
        if self._heard_at - self._trouble_at > _STALE_S:
            self.trouble = ""
        self.live_mm = heard.value_mm
        return heard.value_mm


class Listening(QObject):
    """A port listened to before it is linked: its lines as they come.

    A speed that gives garbage is left for the next one. Silence is not garbage: the instrument may wait for its button.
    """

    heard = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.lines: list[str] = []
        self.baud = 0
        self._line: Any = None
        self._reader: LineReader | None = None
        self._port, self._bauds = "", list[int]()
        self._timer = QTimer(self)
        self._timer.setInterval(_POLL_MS)
        self._timer.timeout.connect(self._poll)

    def listen(self, port: str, bauds: tuple[int, ...]) -> None:
        """Listen at each speed in turn until lines can be read; raises InstrumentError."""
        self.stop()
        self._port, self._bauds = port, list(bauds)
        self._next()
        self._timer.start()

    def stop(self) -> None:
        """Listen no more."""
        self._timer.stop()
        if self._line is not None:
            self._line.close()
        self._line = None

    def _next(self) -> None:
        """The next speed; the last one stays."""
        from vernus.bench.line import pattern_by_id

        self.stop()
        self.baud, self.lines = self._bauds.pop(0), []
        self._line, self._reader = open_port(self._port, self.baud), LineReader(pattern_by_id("plain"))
        self._timer.start()

    def _poll(self) -> None:
        if self._line is None or self._reader is None:
            return
        try:
            self._line.write(b"?")
            data = self._line.read(4096)
        except (OSError, TypeError):
            self.stop()
            return
        new = [h.line for h in self._reader.feed(data)]
        self.lines = [*self.lines, *new][-5:]
        unread = bool(new) and not all(line.isascii() and any(c.isdigit() for c in line) for line in new)
        if unread:
            self._bauds.append(self.baud)
            self._next()
        if new:
            self.heard.emit()


def open_port(port: str, baud: int) -> Any:
    """A serial port opened; raises InstrumentError with what to look for."""
    import serial

    try:
        return serial.Serial(port, baudrate=baud, timeout=0, write_timeout=0.2)
    except (OSError, ValueError) as error:
        raise InstrumentError(
            f"Can't open {port}: {error}. Check the cable and the port's name, and that you may use it (group dialout)."
        ) from None


def ports() -> list[Port]:
    """The serial ports of this machine, and that of a simulated indicator that runs here."""
    from serial.tools import list_ports

    from vernus.bench.serve import bench_port

    found = [Port(p.device, p.product or "", p.serial_number or "") for p in list_ports.comports()]
    simulated = bench_port()
    return sorted(found) + ([Port(simulated, "the simulated indicator")] if simulated else [])
