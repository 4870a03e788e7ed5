"""A simulated indicator on a pseudo-terminal: what listens to a real one listens to this."""

from __future__ import annotations

import os
import select
import termios
import threading
import tty
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from platformdirs import user_state_path

from vernus.bench.machine import SimulatedBody
from vernus.core.errors import VernusError
from vernus.job.disk import make_folder, write_text

FORMATS: dict[str, Callable[[float], str]] = {
    "plain": lambda mm: f"{mm:+.3f}",
    "plain-in": lambda mm: f"{mm / 25.4:+.5f}",
    "with-unit": lambda mm: f"{mm:+.3f} mm",
    "tagged": lambda mm: f"01A{mm:+.3f}",
}


def _note() -> Path:
    return user_state_path("vernus") / "bench-port"


def announce(port: str) -> None:
    """Let the application on this machine know where a simulated indicator is served; nothing depends on it."""
    with suppress(VernusError):
        make_folder(_note().parent)
        write_text(_note(), f"{os.getpid()} {port}\n")


def withdraw() -> None:
    """It is served no longer."""
    with suppress(OSError):
        _note().unlink()


def bench_port() -> str:
    """Where a simulated indicator is served on this machine now; "" where none is."""
    try:
        pid, port = _note().read_text(encoding="utf-8", errors="replace")[:200].split()
        os.kill(int(pid), 0)
    except (OSError, ValueError):
        return ""
    return port if port.startswith("/dev/pts/") and Path(port).exists() else ""


class BenchServer:
    """Answers a ``?`` with the reading now, and sends one every ``every_s`` seconds (0: only when asked)."""

    def __init__(self, body: SimulatedBody, pattern: str = "plain", every_s: float = 0.0) -> None:
        if pattern not in FORMATS:
            raise VernusError(f"There is no line pattern “{pattern}”; choose one of {', '.join(FORMATS)}.")
        self.body = body
        self._format, self._every = FORMATS[pattern], every_s
        self._ours, self._theirs = os.openpty()
        tty.setraw(self._theirs, termios.TCSANOW)
        self.port = os.ttyname(self._theirs)
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._serve, name="bench", daemon=True)

    def start(self) -> None:
        """Serve until ``stop``."""
        self._thread.start()

    def stop(self) -> None:
        """Pull the plug."""
        self._stop.set()
        if self._thread.is_alive():
            self._thread.join(timeout=2)
        for handle in (self._ours, self._theirs):
            try:
                os.close(handle)
            except OSError:
                continue

    def send(self, text: str | None = None) -> None:
        """The instrument's own send button; or any other line."""
        line = self._format(self.body.reading()) if text is None else text
        os.write(self._ours, (line + "\r\n").encode())

    def _serve(self) -> None:
        while not self._stop.is_set():
            ready, _, _ = select.select([self._ours], [], [], self._every or 0.1)
            try:
                if (ready and b"?" in os.read(self._ours, 256)) or (not ready and self._every):
                    self.send()
            except OSError:
                return
