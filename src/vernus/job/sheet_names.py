"""The sheets there are, those that belong to an axis, and what each is called; needs nothing else of the job."""

from __future__ import annotations

from typing import Literal

SheetName = Literal[
    "scope", "machine", "travel", "scale", "faces", "envelope", "order", "receive", "mounts", "fit", "bracket", "mesh",
    "trips", "run-in", "align", "reader", "cables", "powerup", "calibrate", "positioning", "part", "card", "log",
    "paper",
]  # fmt: skip
AXIS_SHEETS: tuple[SheetName, ...] = (
    "travel", "scale", "faces", "receive", "mounts", "fit", "bracket", "mesh", "trips", "run-in", "align", "reader",
    "cables", "powerup", "calibrate", "positioning",
)  # fmt: skip
"""The sheets that belong to an axis, in the order of the work."""
FEED_SHEETS: tuple[SheetName, ...] = ("fit", "bracket", "mesh", "trips", "run-in")
"""The sheets of a power feed."""

ALL_SHEETS: tuple[SheetName, ...] = (
    "scope", "machine", "travel", "scale", "faces", "envelope", "order", *AXIS_SHEETS[3:], "part", "card", "log",
    "paper",
)  # fmt: skip

SHEET_WORDS: dict[str, str] = {
    "scope": "Scope", "machine": "Machine", "travel": "Travel", "scale": "Scale", "faces": "Face",
    "envelope": "Envelope", "order": "Order", "receive": "Receive", "mounts": "Mounts", "fit": "Fit",
    "bracket": "Bracket", "mesh": "Mesh", "trips": "Trips", "run-in": "Run in",
    "align": "Align", "reader": "Reader", "cables": "Cables", "powerup": "First power-up", "calibrate": "Calibrate",
    "positioning": "Positioning", "part": "Part", "card": "Job card", "log": "Log", "paper": "Paper",
}  # fmt: skip
"""What each sheet is called on the route, in menus and on paper."""
