"""Which scale serves a travel, and where its reader must sit.

Required = travel + a margin at both ends, plus the head's length for families whose head must lie wholly on the
scale; beams are sold by their usable stroke, which needs only the travel, and are longer by their reader. Spare each
end = (measuring length − head − travel)/2, margin included. Positions along the scale are
measured from the left end of its body as one faces it.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from vernus.core.errors import BadInputError
from vernus.core.finding import AxisEnd, Finding, Fine, Mm, Sentence, Sold, finding

Pair = tuple[float, float]
Sizing = Literal["measuring", "head-on", "stroke"]
_EDGE = 1e-9  # mm; keeps a sum that is whole on paper from being rounded up a size


@dataclass(frozen=True)
class ScaleFamily:
    """What is sold under one generic name; lengths in mm.

    ``sizes_mm`` are the stocked measuring lengths; empty when it is sold in any length. ``end_piece_mm`` is added
    at both ends for the overall length. ``head_mm`` counts only where the head must lie wholly on the scale.
    Sections are height × depth; ``gap_mm`` is the least and greatest gap of the reader; ``exposure`` says how well it
    bears chips and coolant, 0 (sealed) to 3 (must stay dry); ``expands_like`` is the substance of its graduation, or of
    what carries that. ``sizing`` is the rule it is sold by: ``measuring`` length, ``head-on`` (the head wholly on it)
    or usable ``stroke``; ``open_ended`` has no end to be driven into. ``contents`` is what comes in its box.
    """

    id: str
    label: str
    sizes_mm: tuple[float, ...]
    can_be_cut: bool
    end_piece_mm: float
    head_mm: float
    reader_mm: float
    section_mm: tuple[float, float]
    count_um: float
    body_type: str
    suspect_ppm: float
    needs: str
    reader_section_mm: tuple[float, float] = (30.0, 30.0)
    gap_mm: tuple[float, float] = (0.5, 0.5)
    holes_from_end_mm: float = 8.0
    exposure: float = 1.0
    signal: str = ""
    price: float | None = None
    expands_like: str = "glass"
    sizing: Sizing = "measuring"
    open_ended: bool = False
    held: str = "end screws"
    gap_by: str = "clips"
    covered_by: str = "cover"
    contents: tuple[str, ...] = ()
    kits: tuple[Kit, ...] = ()

    @property
    def beyond_mm(self) -> float:
        """What the body is longer than its measuring length at each end; half its reader where that is a stroke."""
        return self.end_piece_mm + (self.reader_mm / 2 if self.sizing == "stroke" else 0.0)

    def overall_mm(self, measuring_mm: float) -> float:
        """The body from end to end for a measuring length (mm)."""
        return measuring_mm + 2 * self.beyond_mm

    def wanted_margin(self, margin_mm: float) -> float:
        """The margin this family needs at each end where a person leaves this much: a usable stroke needs none."""
        return 0.0 if self.sizing == "stroke" else margin_mm

    def with_reader(self, reader_mm: float) -> ScaleFamily:
        """The family with another reader; a head that must lie wholly on the scale counts with its own length."""
        return replace(self, reader_mm=reader_mm, head_mm=reader_mm if self.sizing == "head-on" else self.head_mm)


@dataclass(frozen=True)
class Kit:
    """Lengths sold together for one price (None: not known); lengths in mm."""

    lengths_mm: tuple[float, ...]
    price: float | None = None


@dataclass(frozen=True)
class ScaleChoice:
    """One size of one family for a travel; ``order_mm`` is the stocked length to buy."""

    family: ScaleFamily
    measuring_mm: float
    overall_mm: float
    cut_to_mm: float | None
    order_mm: float
    spare_each_end_mm: float
    fits_face: bool | None


@dataclass(frozen=True)
class Placement:
    """Where the reader is set: with the axis at so much from its low mark, its middle so far from the body's left end.

    ``axis_at_mm`` is the middle of what the stops leave as they stand, so that the slack is the same to either side;
    ``stops_mm`` and ``spare_mm`` are those stops and what is spare beyond them, at the low and the high end.
    """

    axis_at_mm: float
    reader_at_mm: float
    slack_mm: float
    stops_mm: Pair
    spare_mm: Pair
    measuring_from_mm: float
    measuring_to_mm: float
    follows: bool

    def reader_mm(self, axis_mm: float) -> float:
        """The reader's middle from the body's left end, with the axis at so much from its low mark."""
        return self.reader_at_mm + (axis_mm - self.axis_at_mm) * (1 if self.follows else -1)

    @property
    def at_stops_mm(self) -> Pair:
        """The reader's middle from the body's left end, with the axis at its low and its high stop."""
        return self.reader_mm(self.stops_mm[0]), self.reader_mm(self.stops_mm[1])


def required_length(travel_mm: float, margin_mm: float, head_mm: float = 0.0, asked_mm: float | None = None) -> float:
    """Least measuring length (mm): travel, a margin at both ends, and the head where it counts.

    ``asked_mm`` is a spare asked for at one end, which takes the place of the margin there.
    """
    if not travel_mm > 0:
        raise BadInputError(f"The travel must be larger than zero; {travel_mm:g} mm was given.")
    if margin_mm < 0:
        raise BadInputError(f"The margin can't be negative; {margin_mm:g} mm was given.")
    return travel_mm + margin_mm + (margin_mm if asked_mm is None else asked_mm) + head_mm


def family_length(family: ScaleFamily, travel_mm: float, margin_mm: float, asked_mm: float | None = None) -> float:
    """Least measuring length (mm) of a family by its own sizing rule."""
    return required_length(travel_mm, family.wanted_margin(margin_mm), family.head_mm, asked_mm)


def choose_size(
    family: ScaleFamily,
    travel_mm: float,
    margin_mm: float,
    face_mm: float | None = None,
    asked_mm: float | None = None,
) -> ScaleChoice | None:
    """The smallest size of ``family`` that serves, or None when even the longest is too short.

    Families that can be cut are cut to the required length rounded up to a whole millimetre, those sold by their usable
    stroke only where the face wants it; ``asked_mm`` is a spare asked for at one end in place of the margin.
    """
    if face_mm is not None and not face_mm > 0:
        raise BadInputError(f"The face must be longer than zero; {face_mm:g} mm was given.")
    need = family_length(family, travel_mm, margin_mm, asked_mm)
    whole = float(math.ceil(need - _EDGE))
    by_stroke = family.sizing == "stroke"
    target = whole if family.can_be_cut and not by_stroke else need
    stock = [s for s in sorted(family.sizes_mm) if s >= target - _EDGE]
    if family.sizes_mm and not stock:
        return None
    order = stock[0] if stock else whole
    measuring = whole if family.can_be_cut and not by_stroke else order
    if by_stroke and family.can_be_cut and face_mm is not None and family.overall_mm(order) > face_mm + _EDGE:
        longest = float(math.floor(face_mm - 2 * family.beyond_mm + _EDGE))
        measuring = longest if longest >= need - _EDGE else order
    overall = family.overall_mm(measuring)
    return ScaleChoice(
        family=family,
        measuring_mm=measuring,
        overall_mm=overall,
        cut_to_mm=measuring if family.can_be_cut and (not by_stroke or measuring < order) else None,
        order_mm=order,
        spare_each_end_mm=(measuring - family.head_mm - travel_mm) / 2,
        fits_face=None if face_mm is None else overall <= face_mm + _EDGE,
    )


def order_length(family: ScaleFamily, measuring_mm: float) -> float | None:
    """The stocked length to buy for a measuring length (mm): the next one; None where none is long enough."""
    if not family.sizes_mm:
        return measuring_mm
    return next((s for s in sorted(family.sizes_mm) if s >= measuring_mm - _EDGE), None)


def choose_sizes(
    families: Iterable[ScaleFamily],
    travel_mm: float,
    margin_mm: float,
    face_mm: float | None = None,
    asked_mm: float | None = None,
) -> tuple[list[ScaleChoice], list[Finding]]:
    """The size of each family that serves ``travel_mm``, and findings for those that don't or don't fit the face."""
    choices: list[ScaleChoice] = []
    findings: list[Finding] = []
    for family in families:
        choice = choose_size(family, travel_mm, margin_mm, face_mm, asked_mm)
        if choice is None:
            findings.append(no_size(family, family_length(family, travel_mm, margin_mm, asked_mm)))
            continue
        choices.append(choice)
        if choice.fits_face is False and face_mm is not None:
            findings.append(face_finding(choice.measuring_mm, choice.overall_mm, face_mm, family.label))
    return choices, findings


def judge_choice(choice: ScaleChoice) -> Sentence:
    """One line of judgement on a size: section, count, price, how it bears chips, and what it means for the face."""
    family = choice.family
    bears = (
        "keeps chips and coolant out"
        if family.exposure < 0.6
        else ("bears some chips under a cover" if family.exposure < 2 else "must stay dry and clean")
    )
    fits = {True: "fits the face", False: "is longer than the face", None: "face not measured yet"}[choice.fits_face]
    cut = "; buy {order} and cut it" if choice.cut_to_mm is not None and choice.order_mm > choice.measuring_mm else ""
    cut = "; usable stroke {stroke}" + cut if family.sizing == "stroke" else cut
    price = "" if family.price is None else f", {family.price:g}"
    return Sentence(
        "{family}: section {high} by {deep}, count {count:g} µm" + price + "; {bears}; {fits}" + cut + ".",
        {
            "family": family.label, "high": Mm(family.section_mm[0]), "deep": Mm(family.section_mm[1]),
            "count": round(family.count_um, 2), "bears": bears, "fits": fits, "order": Sold(choice.order_mm),
            "stroke": Sold(choice.measuring_mm),
        },
    )  # fmt: skip


def no_size(family: ScaleFamily, need_mm: float) -> Finding:
    """That none of a family's sizes is as long as is needed (mm)."""
    return finding(
        "no-size",
        "caution",
        "{family}: the longest size, {longest}, is shorter than the {need} needed.",
        "Choose a family sold in longer sizes, or give up travel at one end with a stop.",
        family=family.label,
        longest=Sold(max(family.sizes_mm)),
        need=Mm(need_mm),
    )


def face_finding(measuring_mm: float, overall_mm: float, face_mm: float, label: str) -> Finding:
    """The finding for a body longer than the face it is screwed to."""
    why = "although its measuring length of {measuring} is not" if measuring_mm <= face_mm else "by {over}"
    return finding(
        "longer-than-face",
        "caution",
        "{family}: the body, {overall} overall, is longer than the face of {face}, " + why + ".",
        "Carry its ends on standoffs or a plate, choose a family that can be cut, or give up travel.",
        family=label,
        measuring=Mm(measuring_mm),
        overall=Mm(overall_mm),
        face=Mm(face_mm),
        over=Mm(overall_mm - face_mm),
    )


def place_reader(
    family: ScaleFamily,
    measuring_mm: float,
    read_mm: Pair,
    margins_mm: Pair,
    spare_mm: Pair | None = None,
    *,
    reader_follows: bool,
    stops_mm: Pair | None = None,
) -> Placement:
    """Where the reader is set, for what is read of the travel, ``read_mm``, from the low mark (0) on.

    ``margins_mm`` and ``spare_mm`` are at the axis's low and high end; without a spare it is even. ``stops_mm`` is
    where the axis stops at either end as its stops stand, the ends of what is read where none are known.
    ``reader_follows`` is true when the reader moves to the right as the axis goes to its high end (reader on the
    moving member, or axis and body running opposite ways); false when the scale itself is carried that way. The slack
    is what the place may be off, either way, with the margins kept at both ends.
    """
    rest = measuring_mm - family.head_mm - (read_mm[1] - read_mm[0])
    low_spare, high_spare = (rest / 2, rest / 2) if spare_mm is None else spare_mm
    stops = read_mm if stops_mm is None else stops_mm
    beyond = low_spare + stops[0] - read_mm[0], high_spare + read_mm[1] - stops[1]
    at = (stops[0] + stops[1]) / 2
    first = family.beyond_mm + family.head_mm / 2
    last = family.beyond_mm + measuring_mm - family.head_mm / 2
    along = low_spare + at - read_mm[0]
    return Placement(
        axis_at_mm=at,
        reader_at_mm=first + along if reader_follows else last - along,
        slack_mm=min(beyond[0] - margins_mm[0], beyond[1] - margins_mm[1]),
        stops_mm=stops,
        spare_mm=beyond,
        measuring_from_mm=family.beyond_mm,
        measuring_to_mm=family.beyond_mm + measuring_mm,
        follows=reader_follows,
    )


def old_check(day: str, off_mm: float, over_mm: float) -> Finding:
    """What the last check of a scale that is there already found: by how much it showed too much over a move (mm)."""
    rate = round(off_mm / over_mm * 1e6)
    return finding(
        "old-check",
        "info",
        "When it was last checked" + (", on {day}," if day else "") + " it showed {off} too "
        + ("much" if off_mm >= 0 else "little") + " over {over}: {rate} ppm.",
        "Check it again (Calibrate) before it is trusted; what it shows now decides.",
        day=day, off=Fine(abs(off_mm)), over=Mm(over_mm), rate=abs(rate),
    )  # fmt: skip


def judge_plan(
    family: ScaleFamily,
    measuring_mm: float,
    travel_mm: float,
    margins_mm: Pair,
    spare_mm: Pair | None = None,
    face_mm: float | None = None,
    *,
    there: bool = False,
) -> list[Finding]:
    """Findings on a measuring length: too short, margin thin, or longer than what it lies on.

    ``margins_mm`` and ``spare_mm`` are at the axis's low and high end; without a spare it is even. Of a scale that is
    ``there`` already nothing is ordered: its reader is shifted, or stops keep it off its ends.
    """
    rest = measuring_mm - family.head_mm - travel_mm
    spare = (rest / 2, rest / 2) if spare_mm is None else spare_mm
    overall = family.overall_mm(measuring_mm)
    worst = min((0, 1), key=lambda n: spare[n] - margins_mm[n])
    values = {
        "measuring": Mm(measuring_mm),
        "least": Mm(travel_mm + family.head_mm),
        "need": Mm(travel_mm + family.head_mm + sum(margins_mm)),
        "spare": Mm(spare[worst]),
        "margin": Mm(margins_mm[worst]),
        "over": Mm(-min(spare)),
        "end": AxisEnd("high" if worst else "low"),
        "off": AxisEnd("low" if spare[0] < spare[1] else "high"),
        "driven": "the head would run off its" if family.open_ended else "the reader would be driven into its",
        "runs": "the head runs off its" if family.open_ended else "the reader is driven off its",
    }
    findings = _ends_of(spare, margins_mm, worst, values, there=there)
    if face_mm is not None and overall > face_mm + _EDGE:
        findings.append(face_finding(measuring_mm, overall, face_mm, family.label))
    return findings


def _ends_of(spare: Pair, margins: Pair, worst: int, values: dict[str, Any], *, there: bool) -> list[Finding]:
    """What is wrong with the spare at both ends; ``worst`` is the end that is shortest of its margin."""
    even = abs(spare[0] - spare[1]) <= _EDGE
    if sum(spare) < -_EDGE:
        return [
            finding(
                "scale-too-short",
                "caution" if there else "stop",
                "The scale measures {measuring} and the travel needs {least} before any margin: "
                "{driven} " + ("" if even else "{off} ") + "end by {over}.",
                "Fit stops before it ends, and drive to them."
                if there
                else "Order a measuring length of {need} or more, or give up travel with a stop.",
                **values,
            )
        ]
    if min(spare) < -_EDGE:
        return [
            finding(
                "scale-off-place",
                "stop",
                "The scale is long enough, but as it lies {runs} {off} end by {over}.",
                "Shift the reader until both ends have their margin, or fit a stop there."
                if there
                else "Move the body or the reader until both ends have their margin.",
                **values,
            )
        ]
    if spare[worst] >= margins[worst] - _EDGE:
        return []
    longer = even or sum(spare) < sum(margins) - _EDGE
    first = "Order a measuring length of {need} or more" if longer else "Move body or reader toward the middle"
    if there:
        first = "Leave it" if longer else "Shift the reader toward the middle"
    return [
        finding(
            "margin-thin",
            "caution",
            ("Only {spare} is spare at each end" if even else "Only {spare} is spare at the {end} end")
            + "; the margin you asked for is {margin}.",
            first + ", or accept a smaller margin and set the stops first.",
            **values,
        )
    ]


def family_by_id(families: Sequence[ScaleFamily], wanted: str) -> ScaleFamily:
    """The family with id ``wanted``; raises BadInputError listing the ids there are."""
    for family in families:
        if family.id == wanted:
            return family
    ids = ", ".join(f.id for f in families)
    raise BadInputError(f"There is no scale family “{wanted}”; choose one of {ids}.")
