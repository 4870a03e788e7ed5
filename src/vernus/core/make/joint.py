"""A joint: the layers a screw passes, what it ends in, what lies over its head, and the screw on sale that closes it.

Grip G = layers − counterbore. Engagement wanted: steel 1 d, iron and brass 1.5, aluminium 2, plastic 2.5; at least
0.8, 1.0, 1.25, 2.0; a reader's hole 1 d. Into a blind thread the screw stays 1.5 pitches or 1 mm short of the bottom,
else it bottoms before it clamps; out of one right through it comes only where none on sale holds within it. Nut: 0.8 d
and two pitches beyond it. T-nut: drawn up against the lips it engages what it reaches beyond the gap over its neck, and
ends 1 mm above the slot's floor. Heads over the face: cap d, button 0.55 d, low and hexagon 0.7 d. All common practice,
no source; washers ISO 7089 and ASME B18.21.1, from memory. Lengths in mm.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal, get_args

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, finding
from vernus.core.make.hardware import ENGAGED_DIAMETERS, LEAST_DIAMETERS, Material, Thread
from vernus.core.make.screws import Screw, lengths_sold, most_neck

LayerKind = Literal["part", "slot", "washer", "spacer", "shim", "foam"]
IntoKind = Literal["hole", "through", "nut", "t-nut", "reader"]
HeadKind = Literal["cap", "button", "low", "hex", "countersunk"]
LAYER_KINDS: tuple[LayerKind, ...] = get_args(LayerKind)
INTO_KINDS: tuple[IntoKind, ...] = get_args(IntoKind)
HEAD_KINDS: tuple[HeadKind, ...] = get_args(HeadKind)
HEAD_DIAMETERS: dict[HeadKind, float] = {"cap": 1.0, "button": 0.55, "low": 0.7, "hex": 0.7, "countersunk": 0.0}
READER_DIAMETERS = 1.0
NUT_DIAMETERS, BEYOND_NUT_PITCHES = 0.8, 2.0
SHANK_DIAMETERS, SHANK_MM = 2.0, 12.0
"""A screw sold has at least so much thread: two diameters and so much (ISO 888 to 125 mm, from memory)."""
FLOOR_MM = 1.0
BOTTOM_PITCHES, BOTTOM_MM = 1.5, 1.0
LEAST_UNDER_HEAD_MM, LEFT_UNDER_HEAD_DIAMETERS = 1.0, 0.5
"""What is left under a sunk head: so much at least, and half a diameter, or it is told."""
_WASHERS_METRIC: dict[float, float] = {
    3: 0.5,
    4: 0.8,
    5: 1.0,
    6: 1.6,
    8: 1.6,
    10: 2.0,
    12: 2.5,
    14: 2.5,
    16: 3.0,
    20: 3.0,
}
_WASHERS_INCH = {0.164: 1.2, 0.19: 1.2, 0.25: 1.6, 0.3125: 1.6, 0.375: 1.6, 0.4375: 1.6, 0.5: 2.4, 0.625: 2.4}
MOST_WASHERS = 3
_SAME_MM = 1e-6


@dataclass(frozen=True)
class Layer:
    """Something the screw passes, from its head inward."""

    kind: LayerKind
    thickness_mm: float


@dataclass(frozen=True)
class Into:
    """What a screw ends in. ``thread_mm`` is the depth of the thread there is, None while nobody gauged it.

    A hole that is made for the screw, as deep as it wants, has ``thread_mm`` of infinity. Of a T-nut there are the
    lips' thickness, the heights of its neck and of its head (``nut_mm``), and how deep the slot is in all.
    """

    kind: IntoKind
    thread_mm: float | None = None
    lip_mm: float = 0.0
    neck_mm: float = 0.0
    nut_mm: float = 0.0
    slot_mm: float = math.inf

    def most_mm(self, thread: Thread) -> float:
        """The most thread there is to engage in a hole, a reader or a part tapped through."""
        deep = self.thread_mm or 0.0
        return deep if self.kind == "through" else max(0.0, deep - short_of_bottom(thread))


NOT_KNOWN = Into("hole")
"""A thread nobody gauged."""
MADE_FOR_IT = Into("hole", math.inf)
"""A thread that is made as deep as its screw wants."""


@dataclass(frozen=True)
class Joint:
    """The layers from the head inward, what the screw ends in, the room over its head (None: nothing lies there)."""

    thread: Thread
    layers: tuple[Layer, ...]
    into: Into
    material: Material = "steel"
    counterbore_mm: float = 0.0
    head: HeadKind = "cap"
    over_head_mm: float | None = None

    def __post_init__(self) -> None:
        if not self.layers:
            raise BadInputError("A joint wants at least one layer that its screw passes.")
        sizes = [*(layer.thickness_mm for layer in self.layers), self.counterbore_mm]
        sizes += [self.into.lip_mm, self.into.neck_mm, self.into.nut_mm, self.into.thread_mm or 0.0]
        if any(math.isnan(mm) or mm < 0 for mm in sizes):
            raise BadInputError("No layer, counterbore or depth of a joint can be less than nothing.")
        if self.grip_mm < -_SAME_MM:
            raise BadInputError("The counterbore goes through it: the screw has nothing to clamp.")

    @property
    def grip_mm(self) -> float:
        """What the screw clamps, from under its head: layers less the counterbore; a flat head counts as its length."""
        sunk = 0.0 if self.head == "countersunk" else self.counterbore_mm
        return math.fsum(layer.thickness_mm for layer in self.layers) - sunk

    @property
    def under_head_mm(self) -> float:
        """Washers and spacers under the head, outside the first part."""
        outside = itertools.takewhile(lambda layer: layer.kind in ("washer", "spacer"), self.layers)
        return math.fsum(layer.thickness_mm for layer in outside)

    @property
    def washers(self) -> int:
        """How many washers lie under the head."""
        return len(list(itertools.takewhile(lambda layer: layer.kind == "washer", self.layers)))

    @property
    def head_proud_mm(self) -> float:
        """How far the head stands out of the outer part's face; negative where it is sunk."""
        if self.head == "countersunk":
            return 0.0
        return HEAD_DIAMETERS[self.head] * self.thread.major_mm - self.counterbore_mm + self.under_head_mm

    @property
    def wanted_mm(self) -> float:
        """The engagement wanted."""
        if self.into.kind == "nut":
            return NUT_DIAMETERS * self.thread.major_mm
        return self._diameters(ENGAGED_DIAMETERS) * self.thread.major_mm

    @property
    def least_mm(self) -> float:
        """The least engagement that is told as short."""
        whole = self.into.kind in ("nut", "reader")
        least = self.wanted_mm if whole else LEAST_DIAMETERS[self.material] * self.thread.major_mm
        return min(self.wanted_mm, least)

    def _diameters(self, of: dict[Material, float]) -> float:
        return READER_DIAMETERS if self.into.kind == "reader" else of[self.material]

    @property
    def reach_mm(self) -> float:
        """How far a screw may go beyond the grip; infinite where nothing stops it."""
        into = self.into
        if into.kind in ("nut", "through"):
            return math.inf
        if into.kind == "t-nut":
            return into.slot_mm - FLOOR_MM
        return into.most_mm(self.thread)

    @property
    def gap_mm(self) -> float:
        """What a screw passes beyond the grip before it engages: the air over a T-nut's neck."""
        return max(0.0, self.into.lip_mm - self.into.neck_mm) if self.into.kind == "t-nut" else 0.0

    @property
    def most_mm(self) -> float:
        """The most thread there is to engage."""
        into = self.into
        if into.kind == "nut":
            return self.wanted_mm
        if into.kind == "t-nut":
            return min(into.lip_mm + into.nut_mm, self.reach_mm) - self.gap_mm
        return into.most_mm(self.thread)

    def engaged_mm(self, length_mm: float) -> float:
        """How much of a screw of a length engages."""
        return max(0.0, min(length_mm - self.grip_mm - self.gap_mm, self.most_mm))

    @property
    def known(self) -> bool:
        """Whether what it ends in was measured."""
        return self.into.thread_mm is not None or self.into.kind in ("nut", "t-nut")


@dataclass(frozen=True)
class Closed:
    """A joint with the screw on sale that closes it, None where none does, and what stands against it."""

    joint: Joint
    screw: Screw | None
    findings: tuple[Finding, ...]

    @property
    def clear_of_bottom_mm(self) -> float | None:
        """How far the screw's end is off the bottom of a thread or a slot; None where there is none, or no screw."""
        into = self.joint.into
        deep = into.slot_mm if into.kind == "t-nut" else (into.thread_mm or 0.0)
        if self.screw is None or into.kind in ("nut", "through") or math.isinf(deep):
            return None
        return self.joint.grip_mm + deep - self.screw.length_mm


def short_of_bottom(thread: Thread) -> float:
    """How far (mm) a screw stays off the bottom of a blind thread."""
    return max(BOTTOM_PITCHES * thread.pitch_mm, BOTTOM_MM)


def washer_mm(thread: Thread) -> float:
    """How thick a plain washer of a thread is (mm); a fifth of its diameter where the tables hold none."""
    table = _WASHERS_METRIC if thread.system == "metric" else _WASHERS_INCH
    size = thread.major_mm if thread.system == "metric" else round(thread.major_mm / 25.4, 4)
    return table.get(size, 0.2 * thread.major_mm)


def close_joint(joint: Joint, name: str = "this joint") -> Closed:
    """The screw that closes a joint as it is, and findings; ``name`` says which hole of which part."""
    refused = list(_refused(joint, name))
    screw = None if refused or not joint.known else _screw(joint)
    found = refused or ([_unknown(joint, name)] if not joint.known else _review(joint, screw, name))
    return Closed(joint, screw, (*found, *_over_head(joint, name)))


def close_with_washers(joint: Joint, name: str = "this joint") -> Closed:
    """The joint closed, with as few washers under the head as make a screw on sale serve; as it is where none do."""
    bare = close_joint(joint, name)
    if bare.screw is not None or not joint.known or joint.head == "countersunk":
        return bare
    thick = washer_mm(joint.thread)
    for count in range(1, MOST_WASHERS + 1):
        layers = (*(Layer("washer", thick) for _ in range(count)), *joint.layers)
        closed = close_joint(replace(joint, layers=layers), name)
        if closed.screw is not None and not any(f.severity == "stop" for f in closed.findings):
            return closed
    return bare


def _screw(joint: Joint) -> Screw | None:
    """The shortest on sale that engages what is wanted within its reach, else the longest that engages the least."""
    base, beyond = joint.grip_mm + joint.gap_mm, 0.0
    if joint.into.kind == "nut":
        beyond = BEYOND_NUT_PITCHES * joint.thread.pitch_mm
    wanted, least = base + joint.wanted_mm + beyond, base + joint.least_mm + beyond
    sold = [float(mm) for mm in lengths_sold(joint.thread)]
    if joint.into.kind == "through":
        if joint.most_mm < joint.least_mm - _SAME_MM:
            return None
        inside = [mm for mm in sold if least - _SAME_MM <= mm <= base + joint.most_mm + _SAME_MM]
        fits = inside or [mm for mm in sold if mm >= least - _SAME_MM][:1]  # else it comes out behind
    else:
        fits = [mm for mm in sold if least - _SAME_MM <= mm <= joint.grip_mm + joint.reach_mm + _SAME_MM]
        fits = [mm for mm in fits if joint.engaged_mm(mm) >= joint.least_mm - _SAME_MM or joint.into.kind == "nut"]
    if joint.into.kind == "nut":
        thread = SHANK_DIAMETERS * joint.thread.major_mm + SHANK_MM
        fits = [mm for mm in fits if mm - thread <= joint.grip_mm + _SAME_MM]
    enough = [mm for mm in fits if mm >= wanted - _SAME_MM]
    found = enough[0] if enough else fits[-1] if fits else None
    if found is None:
        return None
    nut = joint.into.kind == "nut"
    return Screw(joint.thread, found, joint.engaged_mm(found), joint.grip_mm, nut=nut, washers=joint.washers)


def _refused(joint: Joint, name: str) -> Iterable[Finding]:
    """What can't be a joint at all: foam that creeps, a T-nut that draws nothing."""
    if any(layer.kind == "foam" for layer in joint.layers):
        yield finding(
            "foam-in-joint",
            "stop",
            "The screw of {hole} passes foam: it creeps, and the screw comes loose.",
            "Cut the foam out round the screw and put a spacer there, or stick the part and leave the screw away.",
            hole=name,
        )
    if joint.into.kind == "t-nut":
        yield from review_neck(f"the T-nut under {name}", joint.into.neck_mm, joint.into.lip_mm)


def review_neck(of: str, neck_mm: float, lip_mm: float) -> list[Finding]:
    """A neck as high as the lips it is drawn up against: the part above rides on the nut."""
    if neck_mm <= most_neck(lip_mm) + _SAME_MM:
        return []
    return [
        finding(
            "neck-too-high",
            "stop",
            "The neck of {of} is {neck} high under lips {lip} thick: the part above rides on the nut, and the screw "
            "clamps the nut alone.",
            "Make the neck {most} high at most.",
            of=of, neck=Mm(neck_mm), lip=Mm(lip_mm), most=Mm(most_neck(lip_mm)),
        )
    ]  # fmt: skip


def _unknown(joint: Joint, name: str) -> Finding:
    how = "Try a screw by hand, gauge the thread's depth with a pin or wire, and note it."
    if joint.into.kind == "reader":
        how = "Gauge the reader's threads with a pin or wire, and note how deep they are on Receive."
    return finding(
        "thread-depth-unknown",
        "caution",
        "Under {hole} nobody measured how deep the {thread} thread is: no screw can be chosen.",
        how,
        hole=name, thread=joint.thread.name,
    )  # fmt: skip


def _review(joint: Joint, screw: Screw | None, name: str) -> list[Finding]:
    """What is wrong with a joint whose depth is known: none clamps, it holds little, it comes out, a slot's washer."""
    values: dict[str, object] = {"hole": name, "thread": joint.thread.name, "grip": Mm(joint.grip_mm)}
    values |= {"wanted": Mm(joint.wanted_mm), "least": Mm(joint.least_mm)}
    if screw is None:
        return [_none_closes(joint, values)]
    found: list[Finding] = []
    out = screw.length_mm - joint.grip_mm - screw.engaged_mm
    values |= {"engaged": Mm(screw.engaged_mm), "out": Mm(out)}
    if screw.engaged_mm < joint.wanted_mm - _SAME_MM:
        found.append(
            finding(
                "short-engagement",
                "caution",
                "The screw of {hole} engages {engaged}, where {wanted} is wanted in this material.",
                "Tighten it gently, use one more screw, or make the thread deeper.",
                **values,
            )
        )
    if joint.into.kind == "through" and out > _SAME_MM:
        found.append(
            finding(
                "screw-comes-out",
                "caution",
                "The screw of {hole} comes out {out} on the far side.",
                "See that nothing lies or moves there; otherwise cut it to length.",
                **values,
            )
        )
    bearing = next((layer.kind for layer in joint.layers), "part")
    if bearing == "slot" and joint.counterbore_mm == 0.0 and joint.head != "countersunk":
        found.append(
            finding(
                "slot-wants-washer",
                "caution",
                "The head of {hole} bears on the edges of a slot.",
                "Put a washer of {washer} under it and reckon with that.",
                **values,
                washer=Mm(washer_mm(joint.thread)),
            )
        )
    return found


def _none_closes(joint: Joint, values: dict[str, object]) -> Finding:
    """That no screw on sale closes a joint, and what would: washer, counterbore, a deeper hole, a stud."""
    sold = [float(mm) for mm in lengths_sold(joint.thread)]
    values = {**values, "deep": Mm(joint.into.thread_mm or joint.into.slot_mm)}
    least = joint.grip_mm + joint.gap_mm + joint.least_mm
    ways: list[str] = []
    if joint.most_mm >= joint.least_mm - _SAME_MM and not math.isinf(joint.reach_mm):
        over = [mm - joint.reach_mm - joint.grip_mm for mm in sold if mm >= least - _SAME_MM]
        if over and over[0] > 0:
            ways.append("put a washer or spacer of {washer} under the head")
            values["washer"] = Mm(over[0])
        shorter = [least - mm for mm in sold if mm < least - _SAME_MM]
        outer = next((layer.thickness_mm for layer in joint.layers if layer.kind in ("part", "slot")), 0.0)
        left = outer - joint.counterbore_mm - (shorter[-1] if shorter else math.inf)
        if shorter and left >= LEFT_UNDER_HEAD_DIAMETERS * joint.thread.major_mm:
            ways.append("sink the head {sink} deeper")
            values["sink"] = Mm(shorter[-1])
    elif joint.into.kind in ("hole", "reader", "through"):
        ways.append("make the thread deeper by {deeper}")
        values["deeper"] = Mm(joint.least_mm - joint.most_mm)
    ways.append("take a stud with a nut")
    if math.isinf(joint.reach_mm) and joint.into.kind not in ("nut", "through"):
        words = "Through {grip}, no {thread} screw sold is long enough for {hole}."
        return finding("screw-too-short", "stop", words, "Sink its head, or take a stud with a nut.", **values)
    into = {"nut": "to a nut", "t-nut": "into a T-nut"}.get(joint.into.kind, "into a {thread} thread {deep} deep")
    return finding(
        "screw-bottoms",
        "stop",
        "Through {grip} " + into + ", no screw sold for {hole} both holds and stays clear of the bottom.",
        (", or ".join(ways) + ".").capitalize(),
        **values,
    )


def _over_head(joint: Joint, name: str) -> list[Finding]:
    over = joint.over_head_mm
    if over is None or joint.head_proud_mm <= over + _SAME_MM:
        return []
    return [
        finding(
            "head-in-the-way",
            "stop",
            "The head of {hole} stands {proud} out, and there is {over} of room over it.",
            "Sink it {sink} deeper, take a lower head, or move the hole clear of what lies there.",
            hole=name, proud=Mm(joint.head_proud_mm), over=Mm(over), sink=Mm(joint.head_proud_mm - over),
        )
    ]  # fmt: skip
