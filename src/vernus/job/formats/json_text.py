"""Reading a JSON text file that somebody else may have written."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

from vernus.core.errors import BadInputError
from vernus.core.units import LEAST_NUMBER, MOST_NUMBER
from vernus.job.disk import read_text, reason, shown

_Read = TypeVar("_Read")


def read_json(path: Path, largest: int = 5_000_000) -> Any:
    """The decoded JSON in a file; raises VernusError naming the file, and line and column where it is none."""
    return parse_json(read_text(path, largest), shown(path))


def json_files(folder: Path) -> tuple[list[Path], list[str]]:
    """The JSON files in a folder, none where there is no such folder, and why it can't be read, if it can't."""
    try:
        return (sorted(folder.glob("*.json")) if folder.is_dir() else []), []
    except OSError as error:
        return [], [f"Can't read {shown(folder)}: {reason(error)}."]


def read_as(path: Path, build: Callable[[Any], _Read]) -> _Read:
    """What ``build`` makes of the JSON in a file; raises BadInputError naming the file and the entry that is wrong."""
    try:
        return build(read_json(path))
    except BadInputError as error:
        said = str(error)
        raise BadInputError(said if said.startswith(path.name) else f"{path.name}: {said}") from None


def parse_json(text: str, name: str) -> Any:
    """The decoded JSON in ``text``; raises BadInputError saying what of ``name`` is none, and where."""
    try:
        return json.loads(text)
    except json.JSONDecodeError as error:
        raise BadInputError(f"{name}, line {error.lineno}, column {error.colno}: this is not JSON.") from None
    except RecursionError:
        raise BadInputError(f"{name} is nested too deeply.") from None
    except ValueError:
        raise BadInputError(f"{name} holds a number of thousands of digits.") from None


def number_of(value: Any, what: str, wanted: str) -> float:
    """A finite number of decoded JSON; raises BadInputError saying that ``what`` must be ``wanted``."""
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise BadInputError(f"{what} must be {wanted}.")
    if not abs(value) <= MOST_NUMBER:
        raise BadInputError(f"{what} is far too large: it must be {wanted}.")
    if value and abs(value) < LEAST_NUMBER:
        raise BadInputError(f"{what} is far too small: it must be {wanted}.")
    return float(value)
