"""What meets what: findings on pairs that cost travel, on fixed overlaps, on what is kept apart or slid aside by hand.

Every pair with a planned, made or own part is in one of them; ``not_checked`` lists the rest, which is the machine's
own metal, pair by pair with its reason.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from itertools import islice

from vernus.core.finding import Finding, Mm, Sentence, finding
from vernus.core.machine.envelope import Box, Envelope
from vernus.core.machine.meetings import Meeting, aside_meetings, minded_meetings, overlaps, unchecked
from vernus.job.document import Job
from vernus.job.fields import mm_of
from vernus.job.machine.geometry import boxes_of, machine_told
from vernus.job.machine.planned import all_planned_parts

_HAIR_MM = 1e-6
MOST_TOLD = 200
"""Of more pairs than this nobody reads the rest: their number is told."""
_FOLLOW_THEIR_CARRIER = ("bracket", "stub")  # their shape is made to what they are screwed to


def meeting_findings(pairs: Sequence[Meeting], *, stopped: bool = False) -> list[Finding]:
    """One finding per scale and box it meets: the part that meets it soonest, the others named beside it."""
    return [_meeting(group, stopped) for group in _grouped(pairs)]


def _grouped(pairs: Iterable[Meeting]) -> list[list[Meeting]]:
    groups: dict[frozenset[str], list[Meeting]] = {}
    for pair in pairs:
        groups.setdefault(frozenset(b.group or b.name for b in (pair.a, pair.b)), []).append(pair)
    return list(groups.values())


def _blocked_most(pair: Meeting) -> float:
    """How much of an axis a pair blocks (mm), sums that it blocks wholly left away."""
    narrow = [
        high - low
        for key, (low, high) in pair.blocked.items()
        if low > pair.limits[key][0] or high < pair.limits[key][1]
    ]
    return max(narrow, default=float("inf"))


def _told(pairs: Sequence[Meeting]) -> dict[str, object]:
    """The part that meets soonest, what it meets, where, and the other parts of its scale that meet it too."""
    pair = max(pairs, key=_blocked_most)
    part, other = (pair.a, pair.b) if pair.a.group else (pair.b, pair.a)
    names = {b.name.removeprefix(f"{b.group} ") for m in pairs for b in (m.a, m.b) if b.group == part.group and b.group}
    also = sorted(names - {part.name.removeprefix(f"{part.group} ")})
    where = pair.in_words() or "every axis anywhere"
    return {"a": part.name, "b": other.name, "where": where, "also": f" (so do {', '.join(also)})" if also else ""}


def _meeting(pairs: Sequence[Meeting], stopped: bool) -> Finding:
    remedy = "Keep out of there by a stop, slim or move the part, or choose another face."
    if stopped:
        remedy = "The stop that is fitted keeps it out of there; nothing more to do."
    return finding(
        "meets", "info" if stopped else "caution", "The {a} meets the {b} with {where}{also}.", remedy, **_told(pairs)
    )


def room_findings(job: Job, envelope: Envelope) -> list[Finding]:
    """Fixed overlaps, what a member slid by hand meets, what stands above the table or below the spindle's nose."""
    found = [_overlap(a, b, deep) for a, b, deep in overlaps(envelope) if not _fitted_to(a, b) and not _fitted_to(b, a)]
    for group in _grouped(aside_meetings(envelope)):
        found.append(_aside(envelope, group))
    return found + _at_work(job, envelope)


def stands_in(envelope: Envelope, group: str) -> list[Finding]:
    """What the parts of a group stand inside of, as the Envelope tells it: for the sheet on which they are fitted."""
    return [
        _overlap(a, b, deep)
        for a, b, deep in overlaps(envelope)
        if group in (a.group, b.group) and not _fitted_to(a, b) and not _fitted_to(b, a)
    ]


def _fitted_to(part: Box, carrier: Box) -> bool:
    """Whether a part is a bracket or cable stub on the machine's own metal, to which it is made to fit."""
    follows = any(part.name == f"{part.group} {word}" for word in _FOLLOW_THEIR_CARRIER)
    return carrier.own and bool(part.group) and follows and part.member == carrier.member


def _overlap(a: Box, b: Box, deep: float) -> Finding:
    part, other = (a, b) if a.group or not b.group else (b, a)
    pose = part.pose or other.pose
    tilted = "" if pose in ("", "upright") else f" with the head {pose}"
    wheel = " or mark it as taken off on the Machine sheet" if other.turns else ""
    return finding(
        "fixed-overlap",
        "caution" if tilted or other.own else "stop",
        "The {part} stands {deep} inside the {other}{tilted}: both can't be there.",
        "Move or slim the {part}, or the {other}" + wheel + "; where a size is only the template's, measure it first.",
        part=part.name, other=other.name, deep=Mm(deep), tilted=tilted,
    )  # fmt: skip


def _aside(envelope: Envelope, pairs: Sequence[Meeting]) -> Finding:
    pair = pairs[0]
    on = {m.id: m.on for m in envelope.members}
    hands = {a.id for a in envelope.axes if a.by_hand}
    slid = next((m for b in (pair.a, pair.b) for m in _below(on, b.member) if m in hands), pair.b.member)
    return finding(
        "slide-aside",
        "info",
        "The {a} meets the {b} with {where}{also}, where the {slid} stands at the end of its way.",
        "It costs no travel: slide the {slid} farther back, or take it off, before the axis goes there.",
        slid=slid, **_told(pairs),
    )  # fmt: skip


def _below(on: dict[str, str | None], member: str | None) -> Iterable[str]:
    while member is not None:
        yield member
        member = on.get(member)


def _at_work(job: Job, envelope: Envelope) -> list[Finding]:
    """Planned parts that stand above the table's top or below the spindle's nose, where work and tools are.

    Judged without the air wanted round them; the nose is the lowest of the member and of what rides on it.
    """
    found: list[Finding] = []
    bare = {b.name: b for b in all_planned_parts(job, air=False)}
    boxes = [bare.get(b.name, b) for b in envelope.boxes]
    table = next((b for b in boxes_of(job) if b.shape == "slotted-x" or b.name == "table"), None)
    on = {m.id: m.on for m in envelope.members}
    met = [{m.a.name, m.b.name} for m in minded_meetings(envelope)]
    if table is not None:
        above = [
            b for b in boxes
            if b.group and b.member in _below(on, table.member) and b.max_mm[2] > table.top.mm + _HAIR_MM
            and on.get(b.member) is not None and b.pose in ("", "upright")
        ]  # fmt: skip
        found += [_above(b, b.max_mm[2] - table.top.mm, any(b.name in names for names in met)) for b in _highest(above)]
    tools = {m for pair in envelope.minded for m in pair} - (set() if table is None else set(_below(on, table.member)))
    for member in sorted(tools):
        own = [b for b in boxes if b.own and member in _below(on, b.member) and b.pose in ("", "upright")]
        if not own:
            continue
        low = min(own, key=lambda b: b.min_mm[2])
        lowest, what = low.min_mm[2], low.name
        nose = mm_of(machine_told(job).tool_z)
        if nose is not None and nose < lowest:
            lowest, what = nose, "spindle's nose"
        for box in boxes:
            by = lowest - box.min_mm[2]
            if box.member == member and not box.own and by > _HAIR_MM and box.pose in ("", "upright"):
                found.append(_below_the_nose(box, by, what))
    return found


def _highest(boxes: Sequence[Box]) -> list[Box]:
    """Of each group the one that stands highest."""
    best: dict[str, Box] = {}
    for box in boxes:
        key = box.group or box.name
        if key not in best or box.max_mm[2] > best[key].max_mm[2]:
            best[key] = box
    return list(best.values())


def _above(box: Box, by_mm: float, met: bool) -> Finding:
    tool = " The spindle can meet it too: keep it clear as you keep it clear of the table." if met else ""
    return finding(
        "above-the-table",
        "caution",
        "The {part} stands {by} above the table: work that overhangs the table there meets it.",
        "Lower the part or the body below the table's top, or mind it with every long piece of work." + tool,
        part=box.name, by=Mm(by_mm),
    )  # fmt: skip


def _below_the_nose(box: Box, by_mm: float, lowest: str) -> Finding:
    return finding(
        "below-the-nose",
        "caution",
        "The {part} reaches {by} below the {lowest}: it meets the work before a short tool does.",
        "Shorten or raise it, or mind it with every tool that reaches less far out.",
        part=box.name, by=Mm(by_mm), lowest=lowest,
    )  # fmt: skip


def not_checked(envelope: Envelope) -> list[Sentence]:
    """The pairs of the machine's own metal that are not compared, each with its reason.

    Those of a planned part and the tool are compared, and told here where the operator has to keep them apart.
    """
    work = [(m, "compared; kept apart by hand at work") for m in minded_meetings(envelope)]
    pairs = dict.fromkeys(
        (m.a.name, m.b.name, why) for m, why in [*unchecked(envelope), *work] if m.pose in ("", "upright")
    )
    said = [Sentence("{a} against {b}: {why}", {"a": a, "b": b, "why": why}) for a, b, why in islice(pairs, MOST_TOLD)]
    beyond = len(pairs) - len(said)
    return [*said, Sentence("and {n} pairs more", {"n": str(beyond)})] if beyond else said
