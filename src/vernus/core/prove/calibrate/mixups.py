"""Mix-ups that give themselves away by their figures: inch and mm, radius and diameter, count size, upside down.

Common practice, no source. A clean ratio never comes from a tilt or from a wrong reference.
"""

from __future__ import annotations

from vernus.core.finding import Finding, Ppm, finding

CLEAN_RATIOS = (2.0, 2.54, 4.0, 5.0, 10.0, 25.4)


def clean_ratio(ratio: float, tolerance: float) -> float | None:
    """The clean ratio (25.4, 2.54, 10, 5, 4, 2 or one over it) that ``ratio`` is within ``tolerance`` of, if any."""
    return next((k for r in CLEAN_RATIOS for k in (r, 1 / r) if abs(abs(ratio) / k - 1) <= max(0.005, tolerance)), None)


def review_ratio(ratio: float, u_rel: float = 0.0, *, lands: bool = False) -> list[Finding]:
    """A finding when a display shows a clean ratio of the true move: units, count size, or radius and diameter.

    ``ratio`` is shown over true; a tilt or a wrong reference never makes a clean one. ``lands`` says that the counts
    found are a standard size: then they may be keyed in, once that is understood.
    """
    clean = clean_ratio(ratio, 2 * u_rel)
    if clean is None:
        return []
    big = max(clean, 1 / clean)
    why, remedy = _RATIOS.get(big, _ITS_OWN_COUNT if lands else _OTHER_COUNT)
    return [
        finding(
            "clean-ratio",
            "caution" if lands else "stop",
            "The display shows {ratio} times the true move, a clean {clean}: " + why + ".",
            remedy,
            ratio=f"{abs(ratio):.4g}",
            clean=f"{clean:.4g}" if clean >= 1 else f"1/{1 / clean:.4g}",
        )
    ]


_OTHER_COUNT = (
    "the count size set is another standard one",
    "Set the resolution written on the scale; don't make up for it with counts or a factor.",
)
_ITS_OWN_COUNT = (
    _OTHER_COUNT[0],
    "Look at the resolution written on the scale: where it is that of the counts found, key those in; where it is not, "
    "something else is wrong, and counts don't make up for it.",
)
_RATIOS = {
    25.4: (
        "inch and mm are mixed up",
        "Set counts per inch where the display asks per inch and per mm where it asks per mm, and log moves in the "
        "unit the display is in.",
    ),
    2.0: (
        "radius and diameter are mixed up, or the count size is half or twice the one set",
        "See whether the display, or the dial it is checked against, shows a diameter; then check the resolution set.",
    ),
}


def review_keyed(wanted_before_ppm: float, wanted_now_ppm: float, u_ppm: float) -> list[Finding]:
    """A finding when a correction, once keyed in, doubled the error: it went in upside down.

    Both are the correction still wanted (ppm), before and after it was keyed in; ``u_ppm`` is the standard uncertainty
    of the second.
    """
    if abs(wanted_before_ppm) <= 4 * u_ppm or abs(wanted_now_ppm - 2 * wanted_before_ppm) > max(
        4 * u_ppm, 0.1 * abs(wanted_before_ppm)
    ):
        return []
    return [
        finding(
            "factor-upside-down",
            "stop",
            "Before keying in {before} was wanted, now {now}: twice as much, so the figure went in upside down.",
            "Enter one over it, or the other sign; then run the stations again.",
            before=Ppm(wanted_before_ppm),
            now=Ppm(wanted_now_ppm),
        )
    ]
