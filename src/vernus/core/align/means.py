"""What to do about a tilt, by what the body is held by: the one sentence to follow next.

A screw eased to the dial, jack or set screws, shims, spacers under three bolts, slots, or a strip lifted and stuck
again. Whatever can be moved by the dial is: a dial target converges, a count of turns is only the way there. Common
practice, no source.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from vernus.core.align.corrections import EndMoves, Roll, shims_at_ends
from vernus.core.align.sweep import Alignment, Correction, Indicator, which_way
from vernus.core.finding import BodySide, BodySideName, Finding, Fine, Mm, Sentence, conclusion
from vernus.core.make.shims import ShimPick, ShimStock, pick_shims
from vernus.core.make.stacks import jack_turns, level_plane

By = Literal["pivot", "shims", "jacks", "three", "slots", "restick"]
RULE_OFF_MM = 0.5  # what is roughed in by rule, both ends against a machined edge; common practice, no source
_WAYS: dict[str, str] = {
    "pivot": "Keep the {held} screw at {hold} tight. Park the indicator at {park} and ease the {other} screw's end "
    "{way} the indicator until the dial goes from {now} to {target}.",
    "slots": "Keep the {held} end clamped. Park the indicator at {park}, slacken the {other} end in its slots, and "
    "move it {way} the indicator until the dial goes from {now} to {target}. Snug it, and sweep again.",
    "restick": "Keep the {held} end stuck. Lift the strip from the {other} end to near {hold}, clean both faces, park "
    "the indicator at {park}, and stick it again {shift} {way} the indicator: the dial goes from {now} to {target}.",
    "jacks": "Keep the {held} screw. Park the indicator at {park} and {turn} at the {other} end until the dial goes "
    "from {now} to {target}; if it goes the other way, the sense is noted wrong. Lock it, tighten, and sweep again.",
}


def instruct(
    sweep: Alignment, fix: Correction | None, findings: Sequence[Finding], by: By = "pivot", pitch_mm: float = 0.0
) -> Sentence:
    """The one sentence to follow next, for what is moved by the dial; ``pitch_mm`` of jack screws, 0: not known."""
    stop = next((f for f in findings if f.severity == "stop"), None)
    if stop is not None:
        return stop.remedy
    if sweep.verdict == "pass":
        screws = "Leave it" if by in ("slots", "restick") else "Leave the screws alone"
        return conclusion(
            screws + ": it {way} {rise} over {over}, inside {tolerance}. Tighten, then sweep once more, since "
            "tightening moves things."
            if by != "restick"
            else screws + ": it {way} {rise} over {over}, inside {tolerance}. Roll it down, and sweep once more.",
            {
                "way": which_way(sweep),
                "rise": Fine(abs(sweep.rise_mm)),
                "over": Mm(sweep.judged_mm),
                "tolerance": Fine(sweep.tolerance_mm),
            },
        )
    if fix is not None and sweep.verdict == "unsure" and not knows_shift(sweep, fix):
        return Sentence(
            "This sweep can't tell, nor by how much to correct it; see the finding for what would settle it."
        )
    if fix is None:
        return Sentence("Say where the two ends are held to be told which one to move and how far.")
    words = _WAYS.get(by, _WAYS["pivot"])
    if sweep.verdict == "unsure":
        words = "This sweep can't tell; see the finding for what would settle it. To correct anyway: " + _small(words)
    return Sentence(
        words,
        {
            "held": BodySide("left" if fix.hold_mm < fix.move_mm else "right"),
            "other": BodySide("right" if fix.hold_mm < fix.move_mm else "left"),
            "hold": Mm(fix.hold_mm),
            "park": Mm(fix.park_mm),
            "way": "toward" if fix.shift_mm > 0 else "away from",
            "shift": Fine(abs(fix.shift_mm)),
            "turn": _turn(fix.shift_mm, pitch_mm, sweep.tolerance_mm),
            "now": Fine(fix.dial_now_mm, sign=True),
            "target": Fine(fix.dial_target_mm, sign=True),
        },
    )


def knows_shift(sweep: Alignment, fix: Correction) -> bool:
    """Whether a correction is larger than its own uncertainty (95 %); otherwise turning a screw is guessing."""
    return sweep.line.budget.k * fix.u_shift_mm < abs(fix.shift_mm)


def _small(words: str) -> str:
    return words[0].lower() + words[1:]


def _turn(move_mm: float, pitch_mm: float, tolerance_mm: float) -> str:
    """Which way the jack screw goes, and how far where its pitch is known."""
    way = "drive in" if move_mm >= 0 else "back off"
    if not pitch_mm > 0:
        return f"{way} the jack screw"
    return f"{way} the jack screw about {jack_turns(move_mm, pitch_mm, tolerance_mm).amount()}"


def follows_face(sweep: Alignment) -> Sentence:
    """What to do about the tilt of a strip that is stuck to a face, seen square to that face: it is the face's own."""
    if sweep.verdict == "pass":
        return instruct(sweep, None, (), "restick")
    return Sentence(
        "The strip follows the face it is stuck to, so {rise} over {over} is the face's own tilt. Leave it where "
        "the reader's gap stays inside its range at both ends; otherwise stick it on a straight backing strip.",
        {"rise": Fine(sweep.rise_mm, sign=True), "over": Mm(sweep.judged_mm)},
    )


def instruct_rule(left_mm: float, right_mm: float, hold: str) -> Sentence | None:
    """The rough setting by rule, edge to body at both ends: which end to move and how far; None when it is near."""
    apart = right_mm - left_mm
    if abs(apart) <= RULE_OFF_MM:
        return None
    moved: BodySideName = "right" if hold == "left" else "left"
    more = apart if moved == "right" else -apart
    return Sentence(
        "By the rule first: the two ends differ by {apart}. Bring the {moved} end {apart} {way} the edge the rule "
        "stands on, then put the indicator on.",
        {"apart": Mm(abs(apart)), "moved": BodySide(moved), "way": "nearer to" if more > 0 else "farther from"},
    )


def instruct_shims(moves: EndMoves, stock: Sequence[ShimStock]) -> tuple[Sentence, ShimPick | None]:
    """Which end gets how much under it, and from which shims of the drawer."""
    side: BodySideName = "left" if moves.left_mm > 0 else "right"
    mm = moves.left_mm if side == "left" else moves.right_mm
    if mm <= 0:
        return conclusion("Both ends stand alike; leave the shims as they are."), None
    pick = pick_shims(stock, min(mm, 50.0)) if stock else None
    values = {"end": BodySide(side), "mm": Fine(mm), "u": Fine(moves.expanded_mm)}
    if pick is None or not pick.pieces:
        return Sentence("Put {mm} ± {u} under the {end} end, tighten, and sweep again.", values), pick
    names = {f"t{n}": Fine(t) for n, (t, _) in enumerate(pick.pieces)}
    words = " and ".join(f"{count} of {{t{n}}}" for n, (_, count) in enumerate(pick.pieces))
    return Sentence(
        "Put {mm} ± {u} under the {end} end: " + words + " makes {total}. Tighten, and sweep again.",
        {**values, **names, "total": Fine(pick.total_mm)},
    ), pick


def instruct_spacers(sweep: Alignment, screws_mm: tuple[float, float]) -> Sentence:
    """What to add under each of three bolts, the third in the middle, for a tilt along the body."""
    moves = shims_at_ends(sweep, screws_mm)
    ends = {"left": moves.left_mm, "right": moves.right_mm}
    return Sentence(
        "Add under the bolts: {@left} {left}; middle {middle}; {@right} {right}. Tighten, and sweep again.",
        {
            "left": Fine(ends["left"]),
            "middle": Fine((ends["left"] + ends["right"]) / 2),
            "right": Fine(ends["right"]),
        },
    )


def instruct_roll(roll: Roll) -> Sentence:
    """What to put under which row."""
    if roll.verdict == "pass":
        return conclusion("The face stands upright enough; leave it. Tighten, and read both lines once more.")
    row = "bottom" if roll.shim_mm > 0 else "top"
    lead = "Two lines at one more station would tell. To correct anyway: put" if roll.verdict == "unsure" else "Put"
    return Sentence(
        lead + " {shim} under the {row} row of screws; the other row stays where it is. Then read both lines again.",
        {"shim": Fine(abs(roll.shim_mm)), "row": row},
    )


Corner = tuple[float, float]


def instruct_corners(
    readings_mm: Mapping[Corner, float],
    indicator: Indicator,
    screws_mm: tuple[float, float],
    rows_mm: float,
    *,
    three: bool = False,
    pitch_mm: float | None = None,
    tolerance_mm: float = 0.0,
) -> Sentence:
    """A move for each of four corner jacks, or a spacer for each of three bolts (the third in the middle of the top).

    ``readings_mm`` are as read, by (station, distance above the middle between the two lines). With a pitch (0: not
    known) the moves go either way, with the least total and a dial target at each corner; without one they are shims,
    none negative.
    """
    left, right = sorted(screws_mm)
    half = rows_mm / 2
    places = {"{@left} bottom": (left, -half), "{@right} bottom": (right, -half)}
    if three:
        places["top middle"] = ((left + right) / 2, half)
    else:
        places |= {"{@left} top": (left, half), "{@right} top": (right, half)}
    scale = indicator.sign * indicator.cosine
    points = [(x, y, scale * r) for (x, y), r in readings_mm.items()]
    plane = level_plane(points, list(places.values()), only_out=pitch_mm is None)
    parts: list[str] = []
    values: dict[str, object] = {}
    for n, (name, move) in enumerate(zip(places, plane.moves_mm, strict=True)):
        if pitch_mm is None:
            parts.append(f"{name} {{m{n}}}")
            values[f"m{n}"] = Fine(move)
            continue
        x, y = places[name]
        corner = min(readings_mm, key=lambda at: (abs(at[1] - y), abs(at[0] - x)))
        change = move - plane.slope_x * (corner[0] - x) - plane.slope_y * (corner[1] - y)
        way = "drive in" if move >= 0 else "back off"
        turns = f" {jack_turns(move, pitch_mm, tolerance_mm).amount()}" if pitch_mm > 0 else ""
        parts.append(f"{name} {way}{turns}, dial {{n{n}}} to {{t{n}}}")
        values[f"n{n}"] = Fine(readings_mm[corner], sign=True)
        values[f"t{n}"] = Fine(readings_mm[corner] + change / scale, sign=True)
    lead = "Put under the bolts: " if pitch_mm is None else "Jack screws, in turn and round again: "
    return Sentence(lead + "; ".join(parts) + ". Tighten, and read both lines at both ends again.", values)
