"""Spur gears of a power feed: which ones they are, how far apart, how they mesh.

Module m = 25.4/DP, pitch diameter m·z, outside diameter ≈ m·(z + 2). Centre distance m·(z₁ + z₂)/2. Backlash at the
pitch circle j ≈ 2·ΔC·tan α for centres ΔC farther apart; normal backlash j_n = j·cos α. A strip of paper on one flank
makes j_n = p, rolled through on both 2p; ΔC = j_n/(2·sin α). Contact ratio (√(r_a1² − r_b1²) + √(r_a2² − r_b2²) − C·sin
α′)/(π·m·cos α), α′ from cos α′ = (r_b1 + r_b2)/C, each root at most C·sin α′: beyond the interference points there is
no involute. A rack of addendum 1 undercuts a small gear farther still, and contact ends where that begins. Common
practice for the pressure angle, no source: 20° for modules and newer pitches, 14.5° for old inch gears.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Fine, Mm, Sentence, finding

MM_PER_INCH = 25.4
MODULES = (0.5, 0.6, 0.7, 0.8, 1.0, 1.25, 1.5, 1.75, 2.0, 2.25, 2.5, 3.0, 4.0)
PITCHES = (48, 32, 24, 20, 18, 16, 14, 12, 11, 10, 9, 8, 7, 6)
ANGLES = (14.5, 20.0, 25.0)
GOOD_RATIO = 1.1
LEAST_RATIO = 1.0
RACK_ADDENDUM = 1.0
BACKLASH_MM = (0.05, 0.25)
"""Backlash that neither grinds nor clatters at this size; common practice, no source."""


@dataclass(frozen=True)
class GearGuess:
    """A standard gear that a measured one may be: module (mm), name, and by how much the outside is off."""

    module_mm: float
    name: str
    off_mm: float
    angles_deg: tuple[float, ...]


def identify_gear(outside_mm: float, teeth: int) -> list[GearGuess]:
    """The standard modules and pitches nearest to a measured outside diameter, nearest first, three at most.

    Raises BadInputError for fewer than five teeth or a diameter that isn't positive.
    """
    if teeth < 5 or not outside_mm > 0:
        raise BadInputError("A gear has five teeth at least and an outside diameter larger than zero.")
    known: list[tuple[float, str, tuple[float, ...]]] = [(m, f"module {m:g}", (20.0,)) for m in MODULES]
    known += [(MM_PER_INCH / p, f"{p} DP", (20.0, 14.5)) for p in PITCHES]
    guesses = [GearGuess(m, name, outside_mm - m * (teeth + 2), angles) for m, name, angles in known]
    return sorted(guesses, key=lambda g: abs(g.off_mm))[:3]


def name_gear(guesses: Sequence[GearGuess], outside_mm: float) -> Sentence:
    """The gear in words, and whether two standards are too near to tell apart."""
    first, second = guesses[0], guesses[1]
    text = "{name}, the outside diameter {off} off; pressure angle likely {angle:g}°"
    values = {"name": first.name, "off": Fine(first.off_mm, sign=True), "angle": first.angles_deg[0]}
    if len(first.angles_deg) > 1:
        text += ", on old gears {other:g}°"
        values["other"] = first.angles_deg[1]
    if abs(first.off_mm) > 0.02 * outside_mm:
        return Sentence("No standard gear is near: {name} is {off} off. Count the teeth and measure again.", values)
    if abs(second.off_mm) - abs(first.off_mm) < 0.004 * outside_mm:
        values["second"] = second.name
        return Sentence(
            text + ". {second} is nearly as near: measure over more teeth, or roll it on a known one.", values
        )
    return Sentence(text + ".", values)


@dataclass(frozen=True)
class Mesh:
    """Two gears at a centre distance: nominal centres, how far to open them, backlash, contact ratio (mm)."""

    module_mm: float
    centre_mm: float
    open_mm: float
    backlash_mm: float
    contact_ratio: float
    findings: tuple[Finding, ...] = ()
    undercut_ratio: float = 0.0
    """The contact ratio of gears that a plain rack cut; the same where it undercuts neither."""


def mesh_gears(
    module_mm: float,
    teeth: tuple[int, int],
    angle_deg: float,
    *,
    backlash_mm: float | None = None,
    paper_mm: float | None = None,
    flanks: Literal[1, 2] = 1,
) -> Mesh:
    """The mesh for a wanted or measured backlash, or for a strip of paper on one flank or both.

    Exactly one of ``backlash_mm`` and ``paper_mm`` is given. Raises BadInputError.
    """
    if not module_mm > 0 or min(teeth) < 5:
        raise BadInputError("Module or pitch must be larger than zero, and a gear has five teeth at least.")
    if not 10 <= angle_deg <= 30:
        raise BadInputError("The pressure angle is 14.5, 20 or 25 degrees.")
    if (backlash_mm is None) == (paper_mm is None):
        raise BadInputError("Give the backlash or the paper: one of the two.")
    if min(backlash_mm or 0.0, paper_mm or 0.0) < 0:
        raise BadInputError("Backlash and paper can't be negative.")
    angle = math.radians(angle_deg)
    normal = (paper_mm or 0.0) * flanks if backlash_mm is None else backlash_mm * math.cos(angle)
    opened = normal / (2 * math.sin(angle))
    centre = module_mm * sum(teeth) / 2
    ratio = contact_ratio(module_mm, teeth, angle_deg, centre + opened)
    cut = contact_ratio(module_mm, teeth, angle_deg, centre + opened, undercut=True)
    backlash = normal / math.cos(angle)
    return Mesh(module_mm, centre, opened, backlash, ratio, tuple(_review_mesh(backlash, ratio, cut)), cut)


def contact_ratio(
    module_mm: float, teeth: tuple[int, int], angle_deg: float, centre_mm: float, *, undercut: bool = False
) -> float:
    """Pairs of teeth in mesh on average at a centre distance (mm); 0 where they no longer touch.

    Contact ends at the interference points, with ``undercut`` where a rack of addendum 1 has cut the involute away.
    """
    angle = math.radians(angle_deg)
    outer = [module_mm * (z + 2) / 2 for z in teeth]
    base = [module_mm * z / 2 * math.cos(angle) for z in teeth]
    if sum(base) >= centre_mm:
        return 0.0
    line = centre_mm * math.sin(math.acos(sum(base) / centre_mm))  # between the points where it leaves the base circles
    tips = [min(line, math.sqrt(max(0.0, a * a - b * b))) for a, b in zip(outer, base, strict=True)]
    starts = [module_mm * _involute_begins(z, angle_deg) if undercut else 0.0 for z in teeth]
    path = min(tips[0], line - starts[1]) - max(starts[0], line - tips[1])
    return max(0.0, path / (math.pi * module_mm * math.cos(angle)))


@lru_cache(maxsize=256)
def _involute_begins(teeth: int, angle_deg: float) -> float:
    """How far up the line of action from the base circle the involute begins (in modules) on a gear cut by a rack.

    0 where the rack's corner doesn't undercut: z ≥ 2·h/sin²α. The corner of the rack's tooth traces a trochoid in the
    gear; where that crosses the involute which its flank makes, the involute begins. Found by halving.
    """
    angle, radius = math.radians(angle_deg), teeth / 2
    sin, cos, tan = math.sin(angle), math.cos(angle), math.tan(angle)
    if radius * sin * sin >= RACK_ADDENDUM:
        return 0.0

    def beyond(s: float) -> float:
        """The involute's place round the gear less the trochoid's, at the radius that rack position ``s`` makes."""
        x, y = s * cos * cos, radius - s * sin * cos
        low = radius - RACK_ADDENDUM
        aside = math.sqrt(max(0.0, x * x + y * y - low * low))
        there = (aside + RACK_ADDENDUM * tan) / radius
        return math.atan2(y, x) + s / radius - math.atan2(low, aside) - there

    low, high = 0.0, radius * tan
    steps = [low + (high - low) * n / 400 for n in range(1, 400)]
    for a, b in itertools.pairwise(steps):
        if beyond(a) * beyond(b) < 0:
            low, high = a, b
            break
    else:
        return radius * sin
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (low, middle) if beyond(low) * beyond(middle) <= 0 else (middle, high)
    return radius * sin - low * cos


def _review_mesh(backlash_mm: float, ratio: float, undercut_ratio: float) -> list[Finding]:
    found = []
    low, high = BACKLASH_MM
    if not low <= backlash_mm <= high:
        tight = backlash_mm < low
        found.append(
            finding(
                "mesh-tight" if tight else "mesh-loose",
                "caution",
                "A backlash of {j} is "
                + ("so small that the gears will grind." if tight else "so large that they clatter."),
                "Slide the unit " + ("away" if tight else "in") + " until it is between {low} and {high}.",
                j=Fine(backlash_mm),
                low=Fine(low),
                high=Fine(high),
            )
        )
    if ratio < GOOD_RATIO:
        found.append(
            finding(
                "contact-ratio-low",
                "caution" if ratio >= LEAST_RATIO else "stop",
                "Only {ratio:.2f} pairs of teeth are in mesh at most; {good} is wanted.",
                "Bring the centres nearer, or check that both gears are of one pitch and pressure angle; a gear with "
                "more teeth meshes longer.",
                ratio=ratio,
                good=GOOD_RATIO,
            )
        )
    elif undercut_ratio < GOOD_RATIO:
        found.append(
            finding(
                "small-gear-undercut",
                "caution",
                "Up to {ratio:.2f} pairs of teeth are in mesh, but only {cut:.2f} if the small gear was cut by a plain"
                " rack, which undercuts it.",
                "Look at its teeth: waisted below the pitch circle they are undercut. Then run it slowly and feel for a"
                " beat, or get a gear with more teeth.",
                ratio=ratio,
                cut=undercut_ratio,
            )
        )
    return found


def slide_by(backlash_now_mm: float, backlash_wanted_mm: float, angle_deg: float) -> float:
    """How far (mm) to slide the unit away (negative: in) to change the measured backlash into the wanted one."""
    if not 10 <= angle_deg <= 30:
        raise BadInputError("The pressure angle is 14.5, 20 or 25 degrees.")
    return (backlash_wanted_mm - backlash_now_mm) / (2 * math.tan(math.radians(angle_deg)))


@dataclass(frozen=True)
class Engagement:
    """How much of the narrower face is in mesh, and the shim (mm) behind the unit that would centre it."""

    engaged_mm: float
    share: float
    shim_mm: float
    findings: tuple[Finding, ...] = ()


def face_engagement(drive_mm: tuple[float, float], unit_mm: tuple[float, float]) -> Engagement:
    """Both gears' faces as (near side, far side) from the bracket's face (mm), measured with a depth gauge.

    ``shim_mm`` moves the drive gear out (negative: in) until the narrower face lies wholly in the other. Raises
    BadInputError for a face without width.
    """
    if not (drive_mm[1] > drive_mm[0] and unit_mm[1] > unit_mm[0]):
        raise BadInputError("Each gear's far side must stand farther out than its near side.")
    engaged = max(0.0, min(drive_mm[1], unit_mm[1]) - max(drive_mm[0], unit_mm[0]))
    narrow = min(drive_mm[1] - drive_mm[0], unit_mm[1] - unit_mm[0])
    shim = (sum(unit_mm) - sum(drive_mm)) / 2 if engaged < narrow - 1e-9 else 0.0
    found = []
    if engaged < 0.9 * narrow:
        found.append(
            finding(
                "face-not-in-mesh",
                "caution",
                "Only {engaged} of {narrow} of face is in mesh.",
                "Shim the drive gear out by {shim} before tightening, and see that it clears the housing."
                if shim > 0
                else "Take {shim} off behind the drive gear, or shim the unit out by it.",
                engaged=Mm(engaged),
                narrow=Mm(narrow),
                shim=Mm(abs(shim)),
            )
        )
    return Engagement(engaged, engaged / narrow, shim, tuple(found))
