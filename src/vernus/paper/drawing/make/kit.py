"""What arrived, drawn to scale: the scale's body, its reader and the cable, with the sizes asked for."""

from __future__ import annotations

from collections.abc import Mapping

from vernus.paper.drawing.asked import Asked, Shape, Sketch, stacked

_USUAL = {"measuring": 400.0, "reader": 90.0, "hole_from_end": 8.0}


def kit_sketch(sizes: Mapping[str, float | None], figures: Mapping[str, str], names: Mapping[str, str]) -> Sketch:
    """The kit from its sizes (mm, by field of a delivery; None: not known yet, drawn as usual).

    The reader's holes are drawn where they are asked for.

    ``figures`` are the ones to print ("": not measured), ``names`` the labels of the fields; what has no end hole or
    no cable has no such name, and none is drawn.
    """
    measuring = sizes.get("measuring") or _USUAL["measuring"]
    overall = max(sizes.get("overall") or measuring * 1.2 + 60, measuring)
    hole = sizes.get("hole_from_end") or _USUAL["hole_from_end"]
    reader = sizes.get("reader") or _USUAL["reader"]
    end, high = (overall - measuring) / 2, overall / 14
    at = overall / 2 - reader / 2
    far = overall * 0.98
    holes = (hole, overall - hole) if "hole_from_end" in names else ()
    shapes = (
        Shape("rect", (0, 0), (overall, high)),
        Shape("line", (end, high * 0.5), (end + measuring, high * 0.5), "thin"),
        Shape("line", (end, high * 0.25), (end, high * 0.75), "thin"),
        Shape("line", (end + measuring, high * 0.25), (end + measuring, high * 0.75), "thin"),
        *(Shape("circle", (x - high / 7, high * 0.36), (x + high / 7, high * 0.64)) for x in holes),
        Shape("rect", (at, high * 1.08), (at + reader, high * 2.1), "planned"),
    )
    if "cable" in names:
        out = Shape("line", (at + reader, high * 1.6), (far, high * 1.6))
        shapes = (*shapes, out, Shape("line", (far, high * 1.6), (far, high * 2.4)))
    columns, rows = (max(1, round(sizes.get(k) or 2)) for k in ("reader_columns", "reader_rows"))
    apart, rows_apart = sizes.get("reader_apart") or reader * 0.6, sizes.get("reader_rows_apart") or high * 0.4
    left, low = at + reader / 2 - apart * (columns - 1) / 2, high * 1.59 - rows_apart * (rows - 1) / 2
    places = [(left + n * apart, low + m * rows_apart) for n in range(columns) for m in range(rows)]
    r = high / 14
    shapes = (*shapes, *(Shape("circle", (x - r, y - r), (x + r, y + r)) for x, y in places if "reader_apart" in names))
    spans = {
        "measuring": ((end, high / 2), (end + measuring, high / 2)),
        "overall": ((0.0, 0.0), (overall, 0.0)),
        "hole_from_end": ((0.0, high / 2), (hole, high / 2)),
    }
    below = [Asked(k, names[k], figures.get(k, ""), *spans[k]) for k in spans if k in names]
    over = {
        "reader_apart": ((left, low + rows_apart * (rows - 1)), (left + apart, low + rows_apart * (rows - 1)), -3),
        "reader_rows_apart": ((left, low), (left, low + rows_apart), -1),
        "reader": ((at, high * 2.1), (at + reader, high * 2.1), -1),
        "cable": ((at + reader, high * 1.6), (far, high * 1.6), -2),
    }
    above = [Asked(k, names[k], figures.get(k, ""), *over[k]) for k in over if k in names]
    return Sketch(shapes, (*stacked(below), *above))
