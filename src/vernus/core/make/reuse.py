"""New holes in the machine, by the school: none wanted, or those there are offered where a part can reach them.

A hole is offered only on the member, or better the face, that the part is on, and each hole once. How far a slot or a
plate bridges is common practice, no source.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from vernus.core.finding import Finding, Mm, finding
from vernus.core.make.hardware import Thread, thread_named
from vernus.core.make.hole_rows import HoleRow
from vernus.core.make.joint import NOT_KNOWN, Into
from vernus.core.make.parts import Part

SLOT_REACH_MM = 6.0
PLATE_REACH_MM = 80.0
KEY_ROOM_MM = 60.0


@dataclass(frozen=True)
class HoleThere:
    """A hole the machine has: where, its thread (None: plain), and its place on the part's face (mm), if measured."""

    where: str
    thread: Thread | None
    place_mm: tuple[float, float] | None = None
    used_by: str = ""
    room_mm: float | None = None
    """What there is in front of it for a key."""
    hole_id: str = ""
    ends: Into = NOT_KNOWN
    """How deep its thread is."""

    def off(self, row: HoleRow) -> float:
        """How far it is from a planned hole (mm); infinite where its place wasn't measured."""
        if self.place_mm is None:
            return math.inf
        return math.dist(self.place_mm, (row.hole.x_mm, row.hole.y_mm))


def review_school(school: str, part: Part, rows: Sequence[HoleRow], there: Sequence[HoleThere]) -> list[Finding]:
    """Findings on new holes in the machine by the school: ``none``, ``reuse``, ``stick`` or ``drill``.

    ``there`` are the holes on the face the part is, or on its member where no place was measured.
    """
    new = [r for r in rows if r.hole.kind == "tapped"]
    if part.kind != "face" or not new or school == "drill":
        return []
    if school == "reuse":
        return _reuse(new, there)
    what = "no new holes are wanted in the machine" if school == "none" else "it is to be stuck on"
    how = (
        "Clamp it, use the T-slots, or carry it on a plate bolted to holes there are."
        if school == "none"
        else "Clean and key both faces; magnets and adhesive carry a light cover or a tape, hardly a scale body. Keep "
        "magnets from pacemakers."
    )
    return [
        finding(
            "new-holes",
            "caution",
            "{n} tapped {holes} planned in {part}, but " + what + ".",
            how,
            n=len(new), part=part.name, holes="hole is" if len(new) == 1 else "holes are",
        )
    ]  # fmt: skip


def _reuse(rows: Sequence[HoleRow], there: Sequence[HoleThere]) -> list[Finding]:
    """Each planned hole with the nearest one there is that isn't taken by another."""
    left = list(there)
    found: list[tuple[int, Finding]] = []
    for row in sorted(rows, key=lambda r: min((h.off(r) for h in there), default=math.inf)):
        near = min(left, key=lambda h: (h.off(row), not _goes_in(row, h)), default=None)
        if near is None or (near.place_mm is not None and near.off(row) > PLATE_REACH_MM):
            found.append((row.number, _none_there(row, there)))
            continue
        left.remove(near)
        found.append((row.number, _offered(row, near)))
    return [told for _, told in sorted(found, key=lambda f: f[0])]


def _goes_in(row: HoleRow, hole: HoleThere) -> bool:
    return hole.thread is not None and hole.thread.name == thread_named(row.hole.thread).name


def _offered(row: HoleRow, hole: HoleThere) -> Finding:
    off = hole.off(row)
    same = "its screw fits" if _goes_in(row, hole) else "with its own screw"
    name = hole.thread.name if hole.thread is not None else "a plain hole"
    used = f"; used by {hole.used_by}" if hole.used_by else ""
    if math.isinf(off):
        where, how = "", "Measure its place on this face first; then it shows whether a slot or a plate reaches it."
    elif off <= SLOT_REACH_MM:
        where, how = ", {off} away", "Reach it with a slot in the bracket instead of drilling."
    else:
        where, how = ", {off} away", "Carry it on a plate over that hole instead of drilling."
    if hole.room_mm is not None and hole.room_mm < KEY_ROOM_MM:
        how += " There are only {room} in front: use a short key, or put the screw in before the part in front goes on."
    return finding(
        "hole-there",
        "info",
        "Hole {n}: {name} is there" + where + ": {where}" + used.replace("{", "(").replace("}", ")") + "; {same}.",
        how,
        n=row.number, name=name, where=hole.where, same=same, off=Mm(0.0 if math.isinf(off) else off),
        room=Mm(hole.room_mm or 0.0),
    )  # fmt: skip


def _none_there(row: HoleRow, there: Sequence[HoleThere]) -> Finding:
    others = ", ".join(f"{h.thread.name if h.thread else 'plain'} ({h.where})" for h in there) or "none noted"
    return finding(
        "no-hole-there",
        "caution",
        "Hole {n}: no hole within reach is left to reuse; on this face there are: {others}.",
        "Bridge to one with a plate, use a T-slot, or drill this one after all.",
        n=row.number,
        others=others,
    )
