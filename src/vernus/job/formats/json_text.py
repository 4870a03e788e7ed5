"""Reading a JSON text file that somebody else may have written."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from vernus.core.errors import BadInputError


def read_json(path: Path, largest: int = 5_000_000) -> Any:
    """The decoded JSON in a file; raises BadInputError naming the file, and line and column where it is none."""
    try:
        if path.stat().st_size > largest:
            raise BadInputError(
                f"{path.name} is larger than {largest // 1_000_000} MB; that is not what is wanted here."
            )
        return json.loads(path.read_text(encoding="utf-8-sig"))
    except OSError as error:
        raise BadInputError(f"Can't read {path}: {(error.strerror or str(error)).lower()}.") from None
    except json.JSONDecodeError as error:
        raise BadInputError(f"{path.name}, line {error.lineno}, column {error.colno}: this is not JSON.") from None
    except (UnicodeDecodeError, RecursionError):
        raise BadInputError(f"{path.name} is not a JSON text file in UTF-8.") from None
