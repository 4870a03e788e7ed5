"""Measurement CSV: a header row naming quantity and unit, then numbers.

Comma, semicolon or tab; UTF-8 with or without BOM; ``#`` comments. A bad row is reported by its line number and
nothing is computed.
"""

from __future__ import annotations

import csv
from collections.abc import Sequence
from pathlib import Path

from vernus.core.errors import BadInputError
from vernus.core.units import MM_PER, MOST_MM, UnitName, parse_number
from vernus.job.disk import read_text, shown

LARGEST_CSV = 50_000_000
_UNIT_SUFFIX: dict[str, UnitName] = {"mm": "mm", "in": "in", "thou": "thou", "um": "µm", "µm": "µm", "μm": "µm"}

_MARKS = {"+": 1.0, "-": -1.0, "−": -1.0}


def read_measurements(path: Path, columns: Sequence[str], marks: Sequence[str] = ()) -> dict[str, list[float]]:
    """The named columns of a CSV file, every value in mm; other columns are left alone.

    A column of ``marks`` names no unit and holds ``+`` or ``-``, which come back as 1.0 and -1.0. Raises VernusError
    naming the file and, where there is one, the line and the column.
    """
    return parse_measurements(read_text(path, LARGEST_CSV), columns, shown(path), marks)


def parse_measurements(
    text: str, columns: Sequence[str], name: str = "the text", marks: Sequence[str] = ()
) -> dict[str, list[float]]:
    """As ``read_measurements``, from text."""
    lines = [(n, line) for n, line in enumerate(text.splitlines(), 1) if line.strip() and not line.startswith("#")]
    wanted = ", ".join([*(f"{c}_mm" for c in columns), *marks])
    if not lines:
        raise BadInputError(f"{name} is empty; a header such as “{wanted}” and rows of numbers are wanted.")
    number, header = lines[0]
    delimiter = next((d for d in (";", "\t", ",") if d in header), ",")
    places = _find_columns(_split(header, delimiter), columns, marks, f"{name}, line {number}", wanted)
    if len(lines) == 1:
        raise BadInputError(f"{name} has a header but no rows below it.")
    values: dict[str, list[float]] = {c: [] for c in (*columns, *marks)}
    width = len(_split(header, delimiter))
    for number, line in lines[1:]:
        cells = _split(line, delimiter)
        if len(cells) != width:
            raise BadInputError(
                f"{name}, line {number}: {len(cells)} fields where the header has {width}"
                + ("; with decimal commas, separate the fields by semicolons." if delimiter == "," else ".")
            )
        for column, (place, unit) in places.items():
            try:
                values[column].append(_read_mark(cells[place]) if unit is None else _read_mm(cells[place], unit))
            except BadInputError as error:
                raise BadInputError(f"{name}, line {number}, column {place + 1} ({column}): {error}") from None
    return values


def _read_mm(cell: str, unit: UnitName) -> float:
    mm = parse_number(cell) * float(MM_PER[unit])
    if abs(mm) > MOST_MM:
        raise BadInputError(f"“{cell[:40]}” is no length of a machine.")
    return mm


def _read_mark(cell: str) -> float:
    if cell not in _MARKS:
        raise BadInputError(f"“{cell}” is neither + (going up) nor - (going down).")
    return _MARKS[cell]


def _split(line: str, delimiter: str) -> list[str]:
    try:
        return [cell.strip() for cell in next(csv.reader([line], delimiter=delimiter))]
    except csv.Error as error:
        raise BadInputError(f"A line of {len(line)} characters is no row of readings ({error}).") from None


def _find_columns(
    header: Sequence[str], columns: Sequence[str], marks: Sequence[str], where: str, wanted: str
) -> dict[str, tuple[int, UnitName | None]]:
    places: dict[str, tuple[int, UnitName | None]] = {}
    for place, cell in enumerate(header):
        plain = cell.lower() in marks
        quantity, _, suffix = (cell.lower(), "", "") if plain else cell.lower().rpartition("_")
        if quantity not in (*columns, *marks):
            continue
        if not plain and suffix not in _UNIT_SUFFIX:
            raise BadInputError(f"{where}: “{cell}” names no unit; write {quantity}_mm, _um, _in or _thou.")
        if quantity in places:
            raise BadInputError(f"{where}: the column {quantity} stands there twice.")
        places[quantity] = (place, None if plain else _UNIT_SUFFIX[suffix])
    missing = [c for c in (*columns, *marks) if c not in places]
    if missing:
        raise BadInputError(f"{where}: no column {' or '.join(missing)}; the header must read like “{wanted}”.")
    return places
