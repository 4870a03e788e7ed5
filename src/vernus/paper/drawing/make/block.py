"""A part before it has holes: its front and its side, with the sizes asked for."""

from __future__ import annotations

from collections.abc import Mapping

from vernus.paper.drawing.asked import Asked, Shape, Sketch


def block_sketch(sizes: Mapping[str, float | None], figures: Mapping[str, str], names: Mapping[str, str]) -> Sketch:
    """Front and side of a block from length, width and thickness (mm by field; None: drawn as usual)."""
    long, wide = sizes.get("length") or 60.0, sizes.get("width") or 25.0
    thick = sizes.get("thickness") or 12.0
    beside = long + max(long, wide) * 0.25
    far = beside + thick
    shapes = (
        Shape("rect", (0, 0), (long, wide)),
        Shape("rect", (beside, 0), (far, wide), "cut"),
        Shape("centre", (-long * 0.05, wide / 2), (long * 1.05, wide / 2)),
    )
    asked = (
        Asked("length", names["length"], figures.get("length", ""), (0, 0), (long, 0), 1),
        Asked("width", names["width"], figures.get("width", ""), (0, 0), (0, wide), -1),
        Asked("thickness", names["thickness"], figures.get("thickness", ""), (beside, wide), (far, wide), -1),
    )
    return Sketch(shapes, asked)
