"""One slider per axis, in steps of a hundredth of its travel; arrow keys move them."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QSlider, QWidget

from vernus.core.machine.envelope import EnvelopeAxis
from vernus.core.units import UnitSystem, format_length
from vernus.desktop.parts.words import Label

_STEPS = 200


class AxisSliders(QWidget):
    """Positions of the axes; ``moved`` follows every change."""

    moved = Signal()

    def __init__(self) -> None:
        super().__init__()
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setVerticalSpacing(2)
        self._axes: tuple[EnvelopeAxis, ...] = ()
        self._rows: dict[str, tuple[QSlider, Label, Label]] = {}
        self._units: UnitSystem = "mm"
        self._rest: dict[str, float] = {}

    def show_axes(self, axes: tuple[EnvelopeAxis, ...], units: UnitSystem) -> None:
        """Show these axes, each where it was, new ones at home."""
        was = self.at() if self._axes else {}
        if [a.id for a in axes] != [a.id for a in self._axes]:
            for row in self._rows.values():
                for widget in row:
                    widget.deleteLater()
            self._rows = {}
            for n, axis in enumerate(axes):
                self._add(n, axis)
        self._axes, self._units = axes, units
        for axis in axes:
            where = min(axis.to_mm, max(axis.from_mm, was.get(axis.id, axis.home_mm)))
            slider = self._rows[axis.id][0]
            slider.blockSignals(True)
            slider.setValue(round((where - axis.from_mm) / axis.travel_mm * _STEPS))
            slider.blockSignals(False)
        self._tell()

    def _add(self, n: int, axis: EnvelopeAxis) -> None:
        name, figure = Label(axis.id), Label()
        slider = QSlider(Qt.Orientation.Horizontal)
        slider.setRange(0, _STEPS)
        slider.setPageStep(20)
        slider.setAccessibleName(f"Position of {axis.id}")
        slider.valueChanged.connect(self._moved)
        name.setBuddy(slider)
        figure.setMinimumWidth(84)
        figure.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        for column, widget in enumerate((name, slider, figure)):
            self._grid.addWidget(widget, n, column)
        self._rows[axis.id] = (slider, name, figure)

    def at(self) -> dict[str, float]:
        """The position (mm) of every axis; an end of the slider is exactly the end of the travel, home is home."""
        found: dict[str, float] = {}
        for axis in self._axes:
            value = self._rows[axis.id][0].value()
            home = round((axis.home_mm - axis.from_mm) / axis.travel_mm * _STEPS)
            found[axis.id] = axis.home_mm if value == home else axis.from_mm + axis.travel_mm * (value / _STEPS)
        return found

    def go(self, at: Mapping[str, float]) -> None:
        """Put the axes somewhere."""
        for axis in self._axes:
            if axis.id in at:
                value = round((at[axis.id] - axis.from_mm) / axis.travel_mm * _STEPS)
                self._rows[axis.id][0].setValue(value)

    def drive(self, axis_id: str, by_mm: float) -> None:
        """Run one axis by so much, as far as it goes."""
        at = self.at().get(axis_id)
        if at is not None:
            self._rest[axis_id] = self._rest.get(axis_id, 0.0) + by_mm
            axis = next(a for a in self._axes if a.id == axis_id)
            steps = round(self._rest[axis_id] / axis.travel_mm * _STEPS)
            if steps:
                self._rest[axis_id] -= steps * axis.travel_mm / _STEPS
                slider = self._rows[axis_id][0]
                slider.setValue(slider.value() + steps)

    def _moved(self) -> None:
        self._tell()
        self.moved.emit()

    def _tell(self) -> None:
        for axis_id, mm in self.at().items():
            self._rows[axis_id][2].setText(format_length(mm, self._units, sign=True))
