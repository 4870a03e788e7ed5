"""The screw's end taken apart along its axis: dial, wheel, drive gear and nut as they come off, with their sizes."""

from __future__ import annotations

from collections.abc import Mapping

from vernus.paper.drawing.asked import Asked, Shape, Sketch, stacked

_USUAL = {
    "shaft": 16.0, "shaft_length": 45.0, "shaft_key": 5.0, "end_thread": 12.0, "dial_length": 15.0, "wheel_hub": 22.0,
    "rim": 150.0, "gear_bore": 16.0, "gear_key": 5.0, "gear_outside": 50.0, "gear_face": 14.0, "unit_outside": 40.0,
    "old_bracket": 16.0, "table_end": 70.0,
}  # fmt: skip


def screw_sketch(sizes: Mapping[str, float | None], figures: Mapping[str, str], names: Mapping[str, str]) -> Sketch:
    """The parts on the screw's end from the sizes of a power feed (mm by field; None: drawn as usual)."""
    size = {k: sizes.get(k) or usual for k, usual in _USUAL.items()}
    shaft, key = size["shaft"], size["shaft_key"]
    gap = max(8.0, size["shaft_length"] / 6)
    thick, tall = size["old_bracket"], max(size["table_end"], 2 * shaft)
    thread = min(size["shaft_length"] * 0.3, 16.0)
    tip = size["shaft_length"]
    dial_at = tip + gap
    gear_at = dial_at + size["dial_length"] + gap
    wheel_at = gear_at + size["gear_face"] + gap
    end = wheel_at + size["wheel_hub"]
    rim = min(size["rim"], 1.9 * max(tall, size["gear_outside"]))
    shapes = (
        Shape("rect", (-thick, -tall / 2), (0, tall / 2), "cut"),
        Shape("rect", (0, -shaft / 2), (tip - thread, shaft / 2)),
        Shape("rect", (tip - thread, -size["end_thread"] / 2), (tip, size["end_thread"] / 2)),
        Shape("rect", (gap * 0.3, shaft / 2 - key / 2), (tip - thread - 2, shaft / 2 + key / 2), "thin"),
        Shape("rect", (dial_at, -shaft * 1.4), (dial_at + size["dial_length"], shaft * 1.4)),
        Shape("rect", (gear_at, -size["gear_outside"] / 2), (gear_at + size["gear_face"], size["gear_outside"] / 2),
              "planned"),
        Shape("line", (gear_at, size["gear_bore"] / 2), (gear_at + size["gear_face"], size["gear_bore"] / 2), "thin"),
        Shape("line", (gear_at, -size["gear_bore"] / 2), (gear_at + size["gear_face"], -size["gear_bore"] / 2), "thin"),
        Shape("rect", (wheel_at, -shaft), (end, shaft)),
        Shape("rect", (wheel_at + size["wheel_hub"] * 0.3, -rim / 2), (wheel_at + size["wheel_hub"] * 0.7, rim / 2)),
        Shape("centre", (-thick * 1.2, 0), (end + gap * 0.4, 0)),
    )  # fmt: skip
    low = -max(tall, rim, size["gear_outside"]) / 2
    level = {
        "old_bracket": (-thick, 0.0), "shaft_length": (0.0, tip),
        "dial_length": (dial_at, dial_at + size["dial_length"]),
        "gear_face": (gear_at, gear_at + size["gear_face"]), "wheel_hub": (wheel_at, end),
    }  # fmt: skip
    asked = [Asked(k, names[k], figures.get(k, ""), (a, low), (b, low)) for k, (a, b) in level.items() if k in names]
    across = {
        "shaft": (tip * 0.25, shaft, -1), "end_thread": (tip, size["end_thread"], -2),
        "gear_bore": (gear_at, size["gear_bore"], 2), "gear_outside": (gear_at, size["gear_outside"], 3),
        "rim": (end, rim, 4),
    }  # fmt: skip
    for k, (x, wide, lane) in across.items():
        if k in names:
            asked.append(Asked(k, names[k], figures.get(k, ""), (x, -wide / 2), (x, wide / 2), lane))
    return Sketch(shapes, stacked(asked))
