"""The reader over its scale with the gap between them, and the spare at either end of the body."""

from __future__ import annotations

from collections.abc import Mapping

from vernus.paper.drawing.asked import Asked, Shape, Sketch


def head_sketch(
    body_mm: float, reader_mm: float, figures: Mapping[str, str], names: Mapping[str, str], gap: str
) -> Sketch:
    """The reader in the middle of a body; the gap is drawn larger than it is, its figure is ``gap`` ("": not tried)."""
    high = body_mm / 16
    drawn_gap = high * 0.5
    at = (body_mm - reader_mm) / 2
    top = high + drawn_gap
    shapes = (
        Shape("rect", (0, 0), (body_mm, high)),
        Shape("line", (0, high * 0.5), (body_mm, high * 0.5), "thin"),
        Shape("rect", (at, top), (at + reader_mm, top + high), "planned"),
        Shape("rect", (0, -high * 0.7), (body_mm, 0), "cut"),
    )
    asked = [Asked("go", "gap", gap, (at + reader_mm, high), (at + reader_mm, top), 1)]
    spans = {"spare_low": (0.0, at), "spare_high": (at + reader_mm, body_mm)}
    for key, (a, b) in spans.items():
        if key in names:
            asked.append(Asked(key, names[key], figures.get(key, ""), (a, top + high), (b, top + high), -1))
    if "as_built" in names:
        asked.append(Asked("as_built", names["as_built"], figures.get("as_built", ""), (0, 0), (body_mm, 0), 1))
    return Sketch(shapes, tuple(asked))
