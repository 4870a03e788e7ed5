"""What can be fitted to an axis, in words; needs nothing else of the job."""

from __future__ import annotations

from typing import Literal

Readout = Literal["none", "new", "there", "own"]
Drive = Literal["none", "new", "there"]
READOUTS: tuple[tuple[Readout, str], ...] = (
    ("none", "nothing"), ("new", "new scale on the display"), ("there", "scale already there"),
    ("own", "readout of its own"),
)  # fmt: skip
DRIVES: tuple[tuple[Drive, str], ...] = (("none", "none"), ("new", "new"), ("there", "already there"))
