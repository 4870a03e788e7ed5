"""The one length field: reads every entry form in the unit it shows."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from vernus.core.doubt import Doubt, Yardstick, doubt_length
from vernus.core.errors import BadInputError
from vernus.core.units import SYSTEM_OF, UnitName, UnitSystem, format_in
from vernus.desktop.parts.figure_field import FigureField
from vernus.job.fields import LengthEntry

_OTHER: dict[UnitName, tuple[UnitName, int]] = {"mm": ("in", 4), "in": ("mm", 3), "thou": ("mm", 4), "µm": ("thou", 2)}


class LengthField(FigureField):
    """A line for one length; ``accepted`` carries a LengthEntry.

    ``compare`` answers what the length is compared with before it is taken.
    """

    def __init__(
        self,
        name: str,
        unit: Callable[[], UnitName],
        *,
        optional: bool = True,
        logging: bool = False,
        compare: Callable[[], Yardstick | None] = lambda: None,
    ) -> None:
        super().__init__(name, optional=optional, logging=logging)
        self._unit, self._compare = unit, compare
        self.measure: UnitName = unit()
        self._entry: LengthEntry | None = None
        self.suffix.setText(self.measure)

    @property
    def units(self) -> UnitSystem:
        return SYSTEM_OF[self.measure]

    def show_entry(self, entry: LengthEntry | None, complaint: str = "") -> None:
        """Show what is stored; text that could not be read stays until it is mended."""
        self._show_unit()
        if self.show_text("" if entry is None else entry.shown(self.measure), complaint):
            self._entry = entry
            self.suffix.setText(self.mean(entry))
        else:
            self.preview(self.line.text())

    def _show_unit(self) -> None:
        """Read in the unit now shown; what was being typed in the one before keeps its own."""
        unit = self._unit()
        if unit == self.measure:
            return
        typed = self.line.text().strip()
        if self.draft and typed and not any(c.isalpha() or c in "\"'″" for c in typed):
            self.line.setText(f"{typed} {self.measure}")
        self.measure = unit

    def clear(self) -> None:
        self._entry = None
        self.measure = self._unit()
        super().clear()

    def parse(self, text: str) -> LengthEntry:
        return LengthEntry.read(text, self.measure)

    def doubt(self, text: str) -> Doubt | None:
        yardstick = self._compare()
        return None if yardstick is None else doubt_length(text, self.measure, yardstick)

    def kept(self, value: LengthEntry) -> LengthEntry:
        return replace(value, kept=True)

    def confirmed(self) -> bool:
        return self.line.isModified() and self._entry is not None and not self._entry.text

    def says(self) -> str:
        """The figure in the other system, so that a slip shows at once."""
        try:
            value = self.parse(self.line.text()) if self.line.text().strip() else None
        except BadInputError:
            return ""
        other, decimals = _OTHER[self.measure]
        return "" if value is None else f"= {format_in(value.mm, other, decimals)}"

    def mean(self, value: LengthEntry | None) -> str:
        """The field's unit, and the value in the other system so that a slip shows at once."""
        unit = self.measure
        if value is None or self.compact:
            return unit
        other, decimals = _OTHER[unit]
        named = not value.text or value.unit == unit or SYSTEM_OF[value.unit] != SYSTEM_OF[unit]
        bare = named and not any(c.isalpha() or c in "\"'″" for c in value.text)
        return f"{unit if bare or not value.text else ''} = {format_in(value.mm, other, decimals)}".strip()
