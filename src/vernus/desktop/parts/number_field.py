"""The one field for plain numbers and for temperatures."""

from __future__ import annotations

from collections.abc import Callable

from vernus.core.doubt import Doubt, Yardstick, doubt_number, doubt_temperature
from vernus.core.errors import BadInputError
from vernus.core.units import DegreeName, format_temperature, in_degrees, parse_number, parse_temperature
from vernus.desktop.parts.figure_field import FigureField

_SUCH_AS = "2 or 1,5"


class NumberField(FigureField):
    """A line for one number; ``accepted`` carries a float."""

    def __init__(self, name: str, *, compare: Callable[[], Yardstick | None] = lambda: None, such_as: str = "") -> None:
        super().__init__(name)
        self._compare, self._such_as = compare, such_as or _SUCH_AS
        self.suffix.hide()

    def show_value(self, value: float | None, complaint: str = "") -> None:
        """Show what is stored."""
        self.show_text("" if value is None else f"{value:.10g}", complaint)

    def parse(self, text: str) -> float:
        try:
            return parse_number(text, such_as=self._such_as)
        except BadInputError as error:
            raise BadInputError(f"{self.line.accessibleName()}: {error}") from None

    def doubt(self, text: str) -> Doubt | None:
        yardstick = self._compare()
        return None if yardstick is None else doubt_number(text, parse_number(text), yardstick)

    def mean(self, value: float | None) -> str:
        return ""


class TemperatureField(FigureField):
    """A line for one temperature; ``accepted`` carries °C, ``named`` is the scale it was last typed in."""

    def __init__(
        self, name: str, degrees: Callable[[], DegreeName], *, compare: Callable[[], Yardstick | None] = lambda: None
    ) -> None:
        super().__init__(name)
        self._degrees, self._compare = degrees, compare
        self.measure: DegreeName = degrees()
        self.named: DegreeName = self.measure
        self.line.setMinimumWidth(54)

    def show_value(self, value: float | None, complaint: str = "") -> None:
        """Show what is stored, in the degrees shown."""
        self.measure = self._degrees()
        text = "" if value is None else f"{round(in_degrees(value, self.measure), 2):.10g}"
        if self.show_text(text, complaint):
            self.suffix.setText(self.measure)

    def parse(self, text: str) -> float:
        value, self.named = parse_temperature(text, self.measure)
        return value

    def doubt(self, text: str) -> Doubt | None:
        yardstick = self._compare()
        return None if yardstick is None else doubt_temperature(text, self.measure, yardstick)

    def mean(self, value: float | None) -> str:
        if value is None or self.named == self.measure:
            return self.measure
        return f"= {format_temperature(value, self.measure)}"
