"""The cable of an axis: its anchors on the machine, its need, its wires, and what is still to do."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from vernus.core.connect.cable_route import review_anchors, route_cable, whole_mm
from vernus.core.connect.cables import Anchor, CableNeed, Stretch, Tilt, plan_cable
from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Sentence, conclusion, finding, in_order, plain
from vernus.core.machine.envelope import Box, Envelope
from vernus.core.plan.plan_parts import is_part
from vernus.job.document import Job
from vernus.job.entities import BESIDE_MACHINE, Axis, CableAnchor, CableRun, Wire
from vernus.job.fields import LengthEntry, mm_of
from vernus.job.known.axis_figures import chosen_face
from vernus.job.known.lengths import cable_length
from vernus.job.machine.directions import end_words
from vernus.job.machine.geometry import (
    axis_key,
    axis_travel,
    envelope_of,
    head_pivot,
    machine_boxes,
    rides_on,
    tilting_head,
)
from vernus.job.machine.planned import all_planned_parts, planned_parts
from vernus.job.moments import instant
from vernus.job.plan.display import display_of
from vernus.job.refusals import limit_findings, refusal

DISPLAY_ANCHOR = "display"
STUB_ANCHOR = "cable stub"
"""How the name of the anchor at the display begins."""
_SAME_PLACE_MM = 50.0
_SAME_READER_MM = 20.0
_STANDARD_WIRES = ("0 V", "+5 V", "A", "A inverted", "B", "B inverted", "reference", "screen")


@dataclass(frozen=True)
class CableResult:
    """The need (None while it can't be worked out), what is wrong, what to do, and whether it is done."""

    need: CableNeed | None
    findings: tuple[Finding, ...]
    instruction: Sentence
    done: bool


def cable_of(job: Job, axis: Axis, new_id: str) -> CableRun:
    """The cable of an axis, a fresh record if there is none yet; its length as delivered where that is known."""
    found = job.of_axis(CableRun, axis.id)
    return found[-1] if found else CableRun(id=new_id, axis_id=axis.id)


def anchors_of(job: Job, axis: Axis) -> list[CableAnchor]:
    """The anchors of an axis's cable, from the reader to the display."""
    return sorted(job.of_axis(CableAnchor, axis.id), key=lambda a: (a.place, instant(a.created)))


def supplied_mm(job: Job, axis: Axis) -> float | None:
    """The length supplied, as it is known."""
    known = cable_length(job, axis)
    return None if known is None else known.value


def cable_result(job: Job, axis: Axis) -> CableResult:
    """What the cable of an axis needs, and what is wrong with it."""
    return job.derived(("cable", axis.id), lambda: _cable_result(job, axis))


def _cable_result(job: Job, axis: Axis) -> CableResult:
    cable = cable_of(job, axis, "none")
    findings = limit_findings(cable) + wire_findings(job, axis)
    anchors = [Anchor(a.name or "an anchor", a.member, (a.x.mm, a.y.mm, a.z.mm)) for a in anchors_of(job, axis)]
    if len(anchors) < 2:
        ask = Sentence(
            "Say where the cable is held: the reader first, a clip on every member it passes, the display last. "
            "“Propose” puts in what the plan knows."
        )
        return CableResult(None, tuple(findings), ask, False)
    try:
        need = plan_cable(
            _envelope(job), anchors, supplied_mm=supplied_mm(job, axis), slack_share=cable.slack / 100,
            bend_mm=cable.bend.mm, drip_mm=cable.drip.mm, ends=cable.ends, tilt=tilt_of(job),
        )  # fmt: skip
    except BadInputError as error:
        return CableResult(None, (*findings, refusal(error)), plain(str(error)), False)
    findings += [
        *need.findings,
        *review_anchors(_envelope(job), anchors[1:-1]),
        *_display_moved(job, anchors_of(job, axis)[-1]),
        *_reader_moved(job, axis, anchors_of(job, axis)[0]),
    ]
    findings += _to_do(cable, earthed(job))
    enough = need.over_mm is not None and need.over_mm >= 0
    done = enough and earthed(job) == "yes" and cable.tied == "yes"
    words = _next(need, cable, earthed(job))
    words = words if words is need.instruction else in_order(words, findings)
    done = done and not any(f.severity == "stop" or f.code in ("display-moved", "reader-moved") for f in findings)
    return CableResult(need, tuple(findings), words, done)


def _display_moved(job: Job, last: CableAnchor) -> list[Finding]:
    """Whether the cable still ends where the display hangs now: on its member and, where it was proposed, its place."""
    display = display_of(job)
    if display is None or not last.name.startswith(DISPLAY_ANCHOR):
        return []
    now = _display_anchor(job, display.member, last.member)
    if _still_at(last, now, _SAME_PLACE_MM):
        return []
    return [
        finding(
            "display-moved",
            "caution",
            "The display hangs elsewhere now ({now}) than where the cable ends ({was}): its length is for the old one.",
            "Propose the anchors again, or correct the last one.",
            now=now.name if now.member != last.member else f"{now.name}, other side or reach",
            was=f"{last.name}, on the {last.member}",
        )
    ]


def _reader_moved(job: Job, axis: Axis, first: CableAnchor) -> list[Finding]:
    """Whether a cable that was proposed still begins at the reader: its face or its place on it may be another now."""
    now = _stub_anchor(job, axis)
    if now is None or not first.name.startswith(now.name) or _still_at(first, now, _SAME_READER_MM):
        return []
    return [
        finding(
            "reader-moved",
            "caution",
            "The {axis} reader sits elsewhere now than its cable begins: its way and its length are for the old place.",
            "Propose the anchors again, or correct the first one.",
            axis=axis.name,
        )
    ]


def _still_at(noted: CableAnchor, now: Anchor, within_mm: float) -> bool:
    """Whether an anchor is where its end is now: on its member and, where its place was proposed, near it."""
    typed = any(e.text for e in (noted.x, noted.y, noted.z))
    apart = 0.0 if typed else math.dist(now.point_mm, (noted.x.mm, noted.y.mm, noted.z.mm))
    return now.member == noted.member and apart <= within_mm


def _stub_anchor(job: Job, axis: Axis) -> Anchor | None:
    """Where the cable of an axis begins; None while no face is chosen."""
    face = chosen_face(job, axis)
    parts = planned_parts(job, axis, face) if face is not None else []
    stub = next((b for b in parts if is_part(b, "stub")), None)
    return None if stub is None else Anchor(f"{axis.name} {STUB_ANCHOR}", stub.member, whole_mm(_middle(stub)))


def _display_anchor(job: Job, said: str, foot: str) -> Anchor:
    """Where the cable ends: at the display; ``foot`` is the member it hangs on where nobody said one."""
    hangs = foot if said in ("", *BESIDE_MACHINE) else said
    name = f"{DISPLAY_ANCHOR} on the {said}" if said else DISPLAY_ANCHOR
    return Anchor(name, hangs, whole_mm(_display_place(job, machine_boxes(job), hangs)))


def earthed(job: Job) -> str:
    """Whether the display is earthed: said once, on whichever axis, it is so for all; what was said last decides."""
    said = [c for c in job.all(CableRun) if c.earth]
    return max(said, key=lambda c: instant(c.changed)).earth if said else ""


def tilt_of(job: Job) -> Tilt | None:
    """The head that tilts, with what rides on it and how far; None where none does."""
    head = tilting_head(job)
    if head is None:
        return None
    members = frozenset(m.id for m in job.machine.members if rides_on(job, m.id, head.member))
    carried = {m.id: m for m in job.machine.members}
    rides = {}
    for member in members:
        at, far = member, 0.0
        while at != head.member:
            axis = next((a for a in job.axes() if a.name == carried[at].axis), None)
            far += (axis_travel(job, axis) or 0.0) if axis is not None else 0.0
            at = carried[at].on
        rides[member] = far
    x, _, z = head_pivot(head)
    return Tilt(members, job.machine.tilt_deg, (x, z), rides)


def _envelope(job: Job) -> Envelope:
    parts = [b for b in all_planned_parts(job) if b.group != "display"]
    return envelope_of(job, parts, sliding=False)


def _next(need: CableNeed, cable: CableRun, earth: str) -> Sentence:
    if need.over_mm is None or need.over_mm < 0 or need.snags:
        return need.instruction
    if cable.tied != "yes":
        return Sentence("Display off while connecting. {words}", {"words": need.instruction})
    if earth != "yes":
        return Sentence("Earth the display to the machine: bare metal, short lead, toothed washer. Then say so.")
    return conclusion("Connected. Go on to First power-up, before anything hidden is closed up.")


def _to_do(cable: CableRun, earth: str) -> list[Finding]:
    found = []
    if cable.tied == "no":
        found.append(
            finding(
                "cable-loose",
                "caution",
                "The cable is not clipped, or a loop hangs near what moves.",
                "Clip it on both members, with strain relief at the reader and the loop on the side away from chips.",
            )
        )
    if earth == "no":
        found.append(
            finding(
                "not-earthed",
                "caution",
                "The display is not earthed to the machine.",
                "Run a short earth lead from the display's earth screw to bare metal of the machine; where supply "
                "wiring is touched, local electrical codes go before this.",
            )
        )
    return found


def wire_findings(job: Job, axis: Axis) -> list[Finding]:
    """Wires that do not arrive where the display wants them."""
    wires = job.of_axis(Wire, axis.id)
    crossed = [w for w in wires if w.pin and w.wanted_pin and w.pin != w.wanted_pin]
    found = []
    if crossed:
        named = ", ".join(f"{w.signal or 'a wire'} {w.pin} → {w.wanted_pin}" for w in crossed)
        found.append(
            finding(
                "pins-differ",
                "stop",
                "The plug does not match the display pin for pin: {named}.",
                "Don't plug it in: 5 V on a signal pin can kill scale and display. Make or order an adapter by this "
                "list.",
                named=named,
            )
        )
    for pins, where in (([w.pin for w in wires], "scale's plug"), ([w.wanted_pin for w in wires], "display")):
        twice = sorted({p for p in pins if p and pins.count(p) > 1})
        if twice:
            found.append(
                finding(
                    "pin-twice",
                    "caution",
                    "Pin {pin} of the {where} stands there twice.",
                    "Correct the list; one pin carries one signal.",
                    pin=", ".join(twice),
                    where=where,
                )
            )
    return found


def usual_wires(axis: Axis, new_id: Callable[[], str]) -> list[Wire]:
    """The signals a square-wave scale usually brings, pins to be filled in from both makers' sheets."""
    return [Wire(id=new_id(), axis_id=axis.id, signal=signal) for signal in _STANDARD_WIRES]


def hold_words(job: Job, stretch: Stretch) -> str:
    """Where to hold the axes while a stretch is tied, in their own words of direction."""
    return stretch.hold_words({axis_key(job, a): end_words(job, a) for a in job.axes()})


def wires_to_copy(job: Job, axis: Axis) -> tuple[str, list[Wire]]:
    """The axis whose wires may serve here too, and those wires: the same kind of scale comes with the same plug."""
    if job.of_axis(Wire, axis.id):
        return "", []
    named = {a.id: a.name for a in job.axes() if a.id != axis.id}
    other = next((w.axis_id for w in reversed(job.all(Wire)) if w.axis_id in named), "")
    return named.get(other, ""), job.of_axis(Wire, other) if other else []


def copied_wires(job: Job, axis: Axis, new_id: Callable[[], str]) -> list[Wire]:
    """The wires of another axis's list, for this one."""
    return [
        Wire(id=new_id(), axis_id=axis.id, signal=w.signal, colour=w.colour, pin=w.pin, wanted_pin=w.wanted_pin)
        for w in wires_to_copy(job, axis)[1]
    ]


def propose_anchors(job: Job, axis: Axis, new_id: Callable[[], str]) -> list[CableAnchor]:
    """Reader, clips on the members between, and the display, led so that as little as can be is in the way.

    Raises BadInputError while no face is chosen: then nobody knows where the reader is.
    """
    start = _stub_anchor(job, axis)
    if start is None:
        raise BadInputError("Choose scale and face of this axis first; the cable begins at its stub.")
    chain = _members_between(job, start.member)
    display = display_of(job)
    said = "" if display is None else display.member
    end = _display_anchor(job, said, chain[-1])
    chain += [end.member] if end.member not in chain else []
    return [
        CableAnchor(
            id=new_id(), axis_id=axis.id, name=anchor.name, member=anchor.member, place=float(n),
            **{c: LengthEntry(mm=at) for c, at in zip("xyz", anchor.point_mm, strict=True)},
        )
        for n, anchor in enumerate(route_cable(_envelope(job), start, chain, end, comes_off=job.info.comes_off), 1)
    ]  # fmt: skip


def _members_between(job: Job, member: str) -> list[str]:
    """From a member down to the fixed one it stands on in the end."""
    on = {m.id: m.on for m in job.machine.members}
    chain = [member]
    while on.get(chain[-1]) and on[chain[-1]] not in chain:
        chain.append(on[chain[-1]])
    return chain


def _middle(box: Box) -> tuple[float, float, float]:
    x, y, z = ((low + high) / 2 for low, high in zip(box.min_mm, box.max_mm, strict=True))
    return x, y, z


def _display_place(job: Job, boxes: Sequence[Box], member: str) -> tuple[float, float, float]:
    """On the display's side of the fixed member, at the height of its top, an arm's reach out."""
    mine = [b for b in boxes if b.member == member] or list(boxes)
    display = display_of(job)
    reach = (mm_of(display.reach) or 0.0) if display is not None else 0.0
    left = display is not None and display.side == "left"
    top = max((b.max_mm[2] for b in mine), default=0.0)
    side = min((b.min_mm[0] for b in mine), default=0.0) if left else max((b.max_mm[0] for b in mine), default=0.0)
    front = min((b.min_mm[1] for b in mine), default=0.0)
    if display is not None and display.member == "wall":
        return side, max((b.max_mm[1] for b in mine), default=0.0) + reach, top
    return side + (-reach if left else reach), front, top
