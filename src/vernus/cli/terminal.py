"""The one way to a terminal: nothing that a terminal would obey leaves here, whatever a name or a file holds."""

from __future__ import annotations

import json
import sys
import unicodedata
from typing import Any

_KEPT = "\n\t"


def plain(text: str) -> str:
    """Text with what a terminal would obey written out: control characters, and marks that turn the order of words."""
    return "".join(c if c in _KEPT or not _obeyed(c) else f"\\u{ord(c):04x}" for c in text)


def _obeyed(letter: str) -> bool:
    """Whether a terminal does something at a letter instead of showing it."""
    return unicodedata.category(letter) in ("Cc", "Cf", "Zl", "Zp")


def tell(text: str, *, wrong: bool = False) -> None:
    """Print lines to standard output, or to standard error."""
    print(plain(text), file=sys.stderr if wrong else sys.stdout, flush=True)


def tell_json(data: Any) -> None:
    """Print one JSON object; what is no number is null, and no letter in it is one that a terminal obeys."""
    tell(json_text(data))


def json_text(data: Any) -> str:
    """One JSON object as text: figures that are none are null."""
    return json.dumps(_finite(data), ensure_ascii=False, indent=2, allow_nan=False)


def _finite(data: Any) -> Any:
    if isinstance(data, dict):
        return {key: _finite(value) for key, value in data.items()}
    if isinstance(data, list | tuple):
        return [_finite(value) for value in data]
    if isinstance(data, float) and not abs(data) < float("inf"):
        return None
    return data
