"""An answer as one JSON object, or as a short table for people."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from vernus.cli.calc.calls import Answer
from vernus.cli.terminal import json_text
from vernus.core.finding import Finding, Tiny
from vernus.core.units import UnitSystem, format_fine, format_length


def show(answer: Answer, as_json: bool, system: UnitSystem) -> str:
    """The answer as one JSON object, or as a short table for people."""
    findings: Iterable[Finding] = answer.pop("findings")
    if as_json:
        return json_text({**answer, "findings": [f.as_json(system) for f in findings]})
    lines = list(_table(answer, system))
    for found in findings:
        told = found.as_json(system)
        lines += ["", f"{told['severity'].upper()}: {told['text']}", f"  → {told['remedy']}"]
    return "\n".join(lines)


def _table(answer: Answer, system: UnitSystem, indent: str = "") -> Iterable[str]:
    for key, value in answer.items():
        name = (key if key == "counts_per_mm" else key.removesuffix("_mm").removesuffix("_um")).replace("_", " ")
        if isinstance(value, list) and all(isinstance(v, float | int) for v in value) and value:
            told = (Tiny(v / 1000).show(system) if key.endswith("_um") else format_length(v, system) for v in value)
            yield f"{indent}{name:<{26 - len(indent)}}" + " to ".join(told)
        elif isinstance(value, list) and all(isinstance(item, dict) for item in value):
            for item in value:
                yield ""
                yield from _table(item, system, indent)
        elif isinstance(value, list):
            told = (" ".join(map(_plain, item)) if isinstance(item, list) else _plain(item) for item in value)
            yield f"{indent}{name:<{26 - len(indent)}}" + ", ".join(told)
        elif isinstance(value, dict):
            yield f"{indent}{name}"
            unit = "_mm" if key.endswith("_mm") else ""
            yield from _table({f"{k}{unit}": v for k, v in value.items()}, system, indent + "  ")
        else:
            yield f"{indent}{name:<{26 - len(indent)}}{_cell(key, value, system)}"


def _plain(value: Any) -> str:
    return f"{value:.9g}" if isinstance(value, float) else str(value)


def _cell(key: str, value: Any, system: UnitSystem) -> str:
    if value is None:
        return "–"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if key.endswith("_mm") and key != "counts_per_mm" and isinstance(value, float | int):
        signed = any(word in key for word in ("shift", "correction", "slack"))
        fine = signed or any(
            word in key for word in ("target", "bow", "end_to_end", "residual", "intercept", "backlash", "open")
        )
        return format_fine(value, system, sign=signed) if fine else format_length(value, system)
    if key.endswith("_um"):
        return Tiny(value / 1000).show(system)
    return f"{value:.9g}" if isinstance(value, float) else str(value)
