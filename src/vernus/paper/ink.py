"""Inks and type: the colours of screen and print, and the shipped typeface.

Warm white ground, graphite ink, layout blue as the one accent, fine scribed hairlines. Caution and stop are a shape
and a word as well as a colour.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from importlib import resources

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPen

FAMILY = "B612"
SMALLEST_PT = 11.0
PX_PER_PT = 96 / 72


@dataclass(frozen=True)
class Inks:
    """One set of colours, as ``#rrggbb``."""

    ground: str
    sheet: str
    ink: str
    faint: str
    hairline: str
    accent: str
    on_accent: str
    wash: str
    caution: str
    stop: str


LIGHT = Inks(
    ground="#f3efe6",
    sheet="#fbf9f4",
    ink="#2b2d31",
    faint="#5d5f63",
    hairline="#b9b3a6",
    accent="#1f4e8c",
    on_accent="#ffffff",
    wash="#dfe7f1",
    caution="#8a5300",
    stop="#8e1b1b",
)
DARK = Inks(
    ground="#1b1d20",
    sheet="#24272b",
    ink="#e9e5dc",
    faint="#aeaba3",
    hairline="#555a61",
    accent="#8db8ee",
    on_accent="#14171a",
    wash="#2f3c4d",
    caution="#efb65a",
    stop="#f4938c",
)
CONTRAST = Inks(
    ground="#ffffff",
    sheet="#ffffff",
    ink="#000000",
    faint="#1f1f1f",
    hairline="#4a4a4a",
    accent="#00237a",
    on_accent="#ffffff",
    wash="#ffe680",
    caution="#6b3a00",
    stop="#8a0000",
)
"""High contrast: black on white, at least 7:1 for every word."""
PRINT = Inks(
    ground="#ffffff",
    sheet="#ffffff",
    ink="#000000",
    faint="#444444",
    hairline="#888888",
    accent="#16355f",
    on_accent="#ffffff",
    wash="#e6e6e6",
    caution="#5a3a00",
    stop="#5c0f0f",
)


@cache
def load_fonts() -> None:
    """Make the shipped typeface known to Qt, once: each time it would measure everything anew.

    Only after the application object exists.
    """
    folder = resources.files("vernus.data").joinpath("fonts")
    for name in ("B612-Regular.otf", "B612-Bold.otf"):
        QFontDatabase.addApplicationFontFromData(folder.joinpath(name).read_bytes())


@cache
def font(points: float = SMALLEST_PT, *, bold: bool = False) -> QFont:
    """The typeface, whose figures are tabular, at a size given in points of a 96 dpi surface. Nobody changes it."""
    made = QFont(FAMILY)
    made.setPixelSize(round(points * PX_PER_PT))
    made.setBold(bold)
    return made


def pen(colour: str, width: float = 1.0, dashes: tuple[float, ...] = ()) -> QPen:
    """A pen; ``dashes`` are lengths in pen widths."""
    made = QPen(QColor(colour), width)
    if dashes:
        made.setDashPattern(list(dashes))
    return made
