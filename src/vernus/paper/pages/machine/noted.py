"""What was entered of one thing, every figure with its label, so that paper leaves nothing out."""

from __future__ import annotations

from collections.abc import Collection

from vernus.core.units import UnitSystem, format_temperature
from vernus.job.entities import Entity
from vernus.job.fields import LengthEntry, field_unit, quantities


def noted_words(entity: Entity, units: UnitSystem, leave_out: Collection[str] = ()) -> str:
    """Label and value of every field that somebody typed or chose, in one line; empty while nothing was."""
    told = []
    for name, quantity in quantities(type(entity)).items():
        value = getattr(entity, name)
        default = type(entity).model_fields[name].default
        if name in leave_out or value in (None, "") or (value == default and not isinstance(value, LengthEntry)):
            continue
        if isinstance(value, LengthEntry):
            if not value.text:
                continue
            unit = field_unit(quantity.kind, units)
            said = f"{value.shown(unit)} {unit}"
        elif quantity.kind == "temperature":
            said = format_temperature(float(value), "°F" if units == "in" else "°C")
        elif quantity.choices:
            said = dict(quantity.choices).get(str(value), str(value))
        else:
            said = f"{value:g}" if isinstance(value, float) else str(value)
        told.append(f"{quantity.label.rstrip('?')}: {said}")
    return "; ".join(told) + "." if told else ""
