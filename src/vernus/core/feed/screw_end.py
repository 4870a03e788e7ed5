"""The chain along the screw's end: bracket, gear, dial, wheel, nut; and the one scheme that carries the gear there.

Places count from the new bracket's outer face; the screw stands its projection less the bracket beyond it. Direct: the
gear slides on the shaft, and everything reaches. Sleeve: it reaches and 2 mm of wall are left; the key spans shaft,
wall and hub. Coupler: it doesn't reach, or there is no wall: a socket over 1.5 diameters of the shaft with its own
keyway and a set screw (a pin where the shaft has no key), and a seat of the gear's bore at the gear's plane. A nut is
0.8 of its thread's diameter. Common practice, no source. Lengths in mm.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from vernus.core.errors import BadInputError
from vernus.core.feed.keys import SLIDES_MM as KEY_SLACK_MM
from vernus.core.feed.keys import SteppedKey, fit_key, stepped_key
from vernus.core.finding import Finding, Fine, Mm, Size, finding

Scheme = Literal["direct", "sleeve", "coupler"]
Drive = Literal["key", "pin", "set screw", "claws"]
"""What carries torque over a joint."""
WheelDrive = Literal["key", "pin", "set screw", "claws", "free"]
PartName = Literal["coupler", "sleeve", "key", "set screw", "pin"]
Range = tuple[float, float]
WALL_MM = 2.0
HUB_WALL_MM = 3.0
COLLAR_MM = 6.0
"""The shoulder a coupler has before the gear's seat, where there is room for it; the set screw goes through it."""
SLIDES_MM = 0.05
SOCKET_DIAMETERS = 1.5
NUT_SHARE = 0.8
_FASTENING_MM = ((12.0, 4.0), (18.0, 5.0), (26.0, 6.0), (1e9, 8.0))
"""Set screw or pin by shaft diameter; common practice, no source."""


@dataclass(frozen=True)
class Gear:
    """The drive gear: bore, keyway and face width, and the diameter at its tooth roots where that is known (mm).

    ``drive`` is what drives it where that isn't a key in its keyway.
    """

    bore_mm: float
    keyway_mm: float
    face_mm: float
    root_mm: float | None = None
    drive: Drive | None = None

    @property
    def driven_by(self) -> Drive | None:
        """What drives it: as said, else a key where it has a keyway; None where nothing does."""
        return self.drive or ("key" if self.keyway_mm > 0 else None)


@dataclass(frozen=True)
class ScrewEnd:
    """What is known of the screw's end; 0 is left off, None not known. ``key_mm`` 0: a shaft without a key.

    ``projection_mm`` is from the face the bracket sits on; ``bracket_mm`` what a new bracket adds to that face (less
    than 0: it is thinner than the old one). ``held`` where a collar or ring keeps the gear on, without a nut.
    """

    diameter_mm: float
    projection_mm: float
    key_mm: float
    gear: Gear
    gear_plane_mm: Range
    thread_mm: float | None = None
    bracket_mm: float = 0.0
    dial_mm: float | None = 0.0
    wheel_mm: float | None = 0.0
    wheel_drive: WheelDrive | None = None
    held: bool = False
    read_mm: float = 0.0
    """How far bore and shaft may be off each other as they were read; within that the gear is to be tried on."""

    def __post_init__(self) -> None:
        sizes = (self.diameter_mm, self.projection_mm, self.gear.bore_mm, self.gear.face_mm)
        if not min(sizes) > 0 or not self.gear_plane_mm[0] < self.gear_plane_mm[1]:
            raise BadInputError("Screw, gear and the gear's plane need sizes larger than zero, its near side first.")
        rest = (self.key_mm, self.gear.keyway_mm, self.dial_mm or 0.0, self.wheel_mm or 0.0, self.thread_mm or 0.0)
        if min(*rest, self.gear_plane_mm[0]) < 0:
            raise BadInputError("Keys, dial, wheel, thread and plane can't be negative.")

    @property
    def end_mm(self) -> float:
        """Where the screw ends, beyond the new bracket."""
        return self.projection_mm - self.bracket_mm

    @property
    def gear_at_mm(self) -> Range:
        """Where the gear sits: its face in the middle of the plane of the unit's gear."""
        middle, half = sum(self.gear_plane_mm) / 2, self.gear.face_mm / 2
        return middle - half, middle + half

    @property
    def nut_mm(self) -> float:
        """What the nut takes; nothing where there is no thread."""
        return NUT_SHARE * (self.thread_mm or 0.0)

    @property
    def needs_mm(self) -> float:
        """How far the screw would have to reach for everything that sits on it."""
        return self.gear_at_mm[1] + (self.dial_mm or 0.0) + (self.wheel_mm or 0.0) + self.nut_mm


@dataclass(frozen=True)
class ScrewPart:
    """A part of the scheme; None where a figure doesn't apply. ``from_mm`` is where it begins beyond the bracket.

    ``seat_mm`` is the diameter that carries the gear, ``keyway_mm`` the shaft's, ``socket_mm`` how deep a coupler is
    bored for the shaft.
    """

    part: PartName
    bore_mm: float | None
    seat_mm: float | None
    outside_mm: float | None
    length_mm: float | None
    keyway_mm: float | None
    from_mm: float | None = None
    socket_mm: float | None = None


@dataclass(frozen=True)
class ScrewEndPlan:
    """The one scheme with its parts, where the gear sits, how much the screw is short, and what stands against it."""

    scheme: Scheme | None
    parts: tuple[ScrewPart, ...]
    gear_plane_mm: Range
    short_by_mm: float
    findings: tuple[Finding, ...]


@dataclass(frozen=True)
class Driven:
    """What turns with the screw: what drives it and what holds it along the screw, None where nothing does."""

    of: Literal["gear", "wheel"]
    by: Drive | WheelDrive | None
    held_by: str | None


def driven(end: ScrewEnd, plan: ScrewEndPlan) -> list[Driven]:
    """How gear and handwheel are driven and held in the scheme that carries them; by nothing where there is none."""
    none = {} if plan.scheme is None else _undriven(end, plan.scheme)
    by: Drive | None = "pin" if _pinned(end, plan.scheme) else end.gear.driven_by
    if plan.scheme is None or "gear" in none:
        by = None
    rows = [Driven("gear", by, _held_by(end, by))]
    if end.wheel_mm:
        own: WheelDrive | None = end.wheel_drive or ("key" if end.key_mm and plan.scheme != "coupler" else None)
        wheel = None if plan.scheme is None or "wheel" in none else own
        rows.append(Driven("wheel", wheel, _held_by(end, wheel)))
    return rows


def _held_by(end: ScrewEnd, by: str | None) -> str | None:
    """What holds something along the screw that is driven so; None where nothing does."""
    return "nut" if end.thread_mm else "collar" if end.held else by if by in ("pin", "set screw") else None


def plan_screw_end(end: ScrewEnd) -> ScrewEndPlan:
    """The scheme that carries the gear in the plane of the unit's gear; None of one while a member isn't known.

    A joint that nothing drives, or that nothing holds along the screw, is a stop in every scheme.
    """
    plan = _scheme(end)
    return plan if plan.scheme is None else replace(plan, findings=(*plan.findings, *_joints(end, plan.scheme)))


def _undriven(end: ScrewEnd, scheme: Scheme) -> dict[Literal["gear", "wheel"], str]:
    """Why nothing drives the gear or the handwheel in a scheme; empty where both are driven."""
    found: dict[Literal["gear", "wheel"], str] = {}
    drive, own_key = end.gear.driven_by, end.key_mm > 0
    pinned = _pinned(end, scheme)
    if drive is None and not pinned:
        found["gear"] = "it has no keyway"
    elif drive == "key" and not end.gear.keyway_mm:
        found["gear"] = "it has no keyway for a key"
    elif drive == "key" and not (own_key or scheme == "coupler" or pinned):
        found["gear"] = "the screw has no key for the gear's keyway"
    bare = end.wheel_drive is None and (scheme == "coupler" or not own_key)
    if end.wheel_mm and (bare or (end.wheel_drive == "key" and not own_key)):
        spigot = scheme == "coupler" and end.wheel_drive is None
        found["wheel"] = "the coupler's end is a bare spigot" if spigot else "the screw has no key for it"
    return found


def _pinned(end: ScrewEnd, scheme: Scheme | None) -> bool:
    """Whether one pin goes through hub, sleeve and shaft."""
    return scheme == "sleeve" and not end.key_mm and end.gear.drive is None


_NAMES: dict[Literal["gear", "wheel"], str] = {"gear": "drive gear", "wheel": "handwheel"}


def _joints(end: ScrewEnd, scheme: Scheme) -> list[Finding]:
    """What is wrong with the joints: gear and wheel have to be driven, and both be held along the screw."""
    found = [_not_driven(_NAMES[of], why) for of, why in _undriven(end, scheme).items()]
    if _held_by(end, "pin" if _pinned(end, scheme) else end.gear.driven_by) is None:
        found.append(_not_held("drive gear"))
    if end.wheel_mm and _held_by(end, end.wheel_drive) is None:
        found.append(_not_held("handwheel"))
    return found


def _not_driven(what: str, why: str) -> Finding:
    return finding(
        "not-driven",
        "stop",
        "Nothing drives the {part}: {why}.",
        "Say what drives it: a key in a keyway of both, claws of a part that is keyed, a pin, or a set screw on a flat "
        "(small torque only).",
        part=what,
        why=why,
    )


def _not_held(what: str) -> Finding:
    return finding(
        "not-held",
        "stop",
        "Nothing holds the {part} along the screw: there is no thread for a nut.",
        "Give it a nut and washer, a collar or a ring, or pin it; without that it walks off its key.",
        part=what,
    )


def _scheme(end: ScrewEnd) -> ScrewEndPlan:
    """The scheme by which everything reaches and fits."""
    short = max(0.0, end.needs_mm - end.end_mm)
    unknown = [name for name, mm in (("dial", end.dial_mm), ("handwheel", end.wheel_mm)) if mm is None]
    if unknown:
        return ScrewEndPlan(None, (), end.gear_at_mm, short, (_not_known(unknown),))
    if end.gear_at_mm[0] < -1e-9:
        return ScrewEndPlan(None, (), end.gear_at_mm, short, (_into_the_bracket(end),))
    gap = end.gear.bore_mm - end.diameter_mm
    if gap < -end.read_mm - 1e-9:
        return ScrewEndPlan(None, (), end.gear_at_mm, short, (_bore_too_small(end),))
    if short <= 1e-9 and gap <= SLIDES_MM + end.read_mm + 1e-9:
        close = [_try_it_on(end)] if gap < -1e-9 or gap > SLIDES_MM + 1e-9 else []
        return ScrewEndPlan("direct", (), end.gear_at_mm, 0.0, (*close, *_key_misfit(end)))
    if short <= 1e-9 and gap / 2 >= WALL_MM - 1e-9:
        return ScrewEndPlan("sleeve", _sleeve(end), end.gear_at_mm, 0.0, tuple(_key_steps(end)))
    return _coupled(end, short)


def _sleeve(end: ScrewEnd) -> tuple[ScrewPart, ...]:
    gear, near = end.gear, end.gear_at_mm[0]
    sleeve = ScrewPart("sleeve", end.diameter_mm, gear.bore_mm, gear.bore_mm, gear.face_mm, end.key_mm or None, near)
    if not end.key_mm:
        return (sleeve, _fastening(end, near + gear.face_mm / 2))
    return (sleeve, ScrewPart("key", None, None, None, gear.face_mm, end.key_mm, near))


def _coupled(end: ScrewEnd, short: float) -> ScrewEndPlan:
    """A coupler, or why none holds."""
    socket = SOCKET_DIAMETERS * end.diameter_mm
    near, _ = end.gear_at_mm
    if end.end_mm < socket - 1e-9:
        return ScrewEndPlan(None, (), end.gear_at_mm, short, (_no_grip(end, socket),))
    found: list[Finding] = []
    ends_at = end.end_mm
    into = end.end_mm - near
    wall = (end.gear.bore_mm - end.diameter_mm) / 2 - _keyway_depth(end)
    if into > 1e-9 and wall < WALL_MM - 1e-9:
        found.append(_shaft_in_seat(end, into, wall))
        ends_at = near
    if ends_at < socket - 1e-9:
        return ScrewEndPlan(None, (), end.gear_at_mm, short, (*found, _no_grip(end, socket, ends_at)))
    start = max(0.0, min(ends_at - socket, near - COLLAR_MM))
    outside = max(end.diameter_mm + 2 * max(4.0, 0.25 * end.diameter_mm), end.gear.bore_mm + 4.0)
    coupler = ScrewPart(
        "coupler", end.diameter_mm, end.gear.bore_mm, outside, end.needs_mm - start, end.key_mm or None, start,
        ends_at - start,
    )  # fmt: skip
    held = (start + min(ends_at, near)) / 2 if near > start + 1e-9 else (start + ends_at) / 2
    return ScrewEndPlan("coupler", (coupler, _fastening(end, held)), end.gear_at_mm, short, tuple(found))


def _fastening(end: ScrewEnd, at_mm: float) -> ScrewPart:
    size = next(mm for most, mm in _FASTENING_MM if end.diameter_mm <= most)
    return ScrewPart("set screw" if end.key_mm else "pin", None, None, size, None, None, at_mm)


def _keyway_depth(end: ScrewEnd) -> float:
    """How deep the gear's own keyway goes into a seat: half the height of a standard key of that width."""
    width = end.gear.keyway_mm
    return stepped_key(width, width, 1.0).depth_mm if width > 0 else 0.0


def _not_known(names: Sequence[str]) -> Finding:
    return finding(
        "not-known",
        "caution",
        "How much of the screw is taken up by the {names} is not known: nothing fits yet.",
        "Take off the handle and measure it then, or say that it is left off.",
        names=" and the ".join(names),
    )


def _into_the_bracket(end: ScrewEnd) -> Finding:
    return finding(
        "gear-in-the-bracket",
        "stop",
        "In the plane of the unit's gear the drive gear, {face} wide, would stand {into} inside the bracket.",
        "Shim the unit out by {into} at least, or face the gear down.",
        face=Mm(end.gear.face_mm),
        into=Mm(-end.gear_at_mm[0]),
    )


def _bore_too_small(end: ScrewEnd) -> Finding:
    values = {
        "bore": Size(end.gear.bore_mm), "shaft": Size(end.diameter_mm),
        "by": Fine(end.diameter_mm - end.gear.bore_mm), "wall": Mm(HUB_WALL_MM),
    }  # fmt: skip
    root = end.gear.root_mm
    opens = root is not None and (root - end.diameter_mm) / 2 - _keyway_depth(end) >= HUB_WALL_MM
    how = (
        "Open the gear's bore by {by}, its keyway again afterwards: at least {wall} stay to the tooth roots."
        if opens
        else "Get a gear with a larger bore; where {wall} stay between keyway and tooth roots this one can be opened."
    )
    return finding(
        "bore-too-small", "stop", "The gear's bore of {bore} does not go over the shaft of {shaft}.", how, **values
    )


def _try_it_on(end: ScrewEnd) -> Finding:
    """A bore and a shaft nearer to each other than a caliper tells."""
    gap = end.gear.bore_mm - end.diameter_mm
    words = "tight" if gap < 0 else "loose"
    return finding(
        "try-it-on",
        "info",
        "By these figures the gear is {by} " + words + " on the shaft: no more than a caliper is off.",
        "Try it on. Where it doesn't go, open its bore by that; where it rocks, sleeve it.",
        by=Fine(abs(gap)),
    )


def _no_grip(end: ScrewEnd, socket_mm: float, ends_at_mm: float | None = None) -> Finding:
    return finding(
        "no-grip",
        "stop",
        "Only {out} of the screw stand beyond the bracket, and a socket wants {socket} of it.",
        "Make the bracket thinner there, or let the coupler into it; a shorter socket works loose.",
        out=Mm(max(0.0, end.end_mm if ends_at_mm is None else ends_at_mm)),
        socket=Mm(socket_mm),
    )


def _shaft_in_seat(end: ScrewEnd, into_mm: float, wall_mm: float) -> Finding:
    opened = end.diameter_mm + 2 * (WALL_MM + _keyway_depth(end))
    root = end.gear.root_mm
    spare = root is not None and (root - opened) / 2 - _keyway_depth(end) >= HUB_WALL_MM
    do = "Spare the screw: shim the unit out by {into}, so that the seat lies beyond the shaft"
    if spare:
        do += ", or open the gear's bore to {opened}."
    elif root is None:
        do += ", or open the gear's bore to {opened} where its teeth leave the wall (measure it to its tooth roots)."
    else:
        do += ", or get a gear with a larger bore."
    do += " If neither can be done, shorten the shaft by {into}, and ask the maker first."
    return finding(
        "shaft-in-the-seat",
        "stop",
        "The shaft reaches {into} into the gear's seat, where "
        + ("only {wall} of wall would be left over it." if wall_mm > 0 else "no wall would be left over it."),
        do,
        into=Mm(into_mm),
        wall=Mm(max(0.0, wall_mm)),
        opened=Size(opened),
    )


def _key_misfit(end: ScrewEnd) -> list[Finding]:
    """The shaft's key in the gear's keyway, where the gear sits on the shaft itself."""
    if not end.key_mm or not end.gear.keyway_mm:
        return []
    fit = fit_key(end.key_mm, end.gear.keyway_mm)
    if fit.verdict == "fits":
        return []
    values = {"key": Size(end.key_mm), "slot": Size(end.gear.keyway_mm), "slack": Fine(abs(fit.slack_mm))}
    if fit.verdict == "tight":
        return [
            finding(
                "key-too-wide", "caution", "The key, {key}, is {slack} too wide for the gear's keyway of {slot}.",
                "Dress only what stands out of the shaft, to {slot}, or broach the keyway to {key}.", **values,
            )
        ]  # fmt: skip
    return [
        finding(
            "key-too-narrow", "caution", "The key, {key}, has {slack} of play in the gear's keyway of {slot}.",
            "Fit a stepped key ({key} in the shaft, {slot} in the hub), or accept the play.", **values,
        )
    ]  # fmt: skip


def key_through_sleeve(end: ScrewEnd) -> SteppedKey | None:
    """The key of a sleeve: as deep in the shaft as usual, through the wall, as high in the hub as usual."""
    if not end.key_mm or not end.gear.keyway_mm:
        return None
    shaft, hub = (stepped_key(w, w, 1.0) for w in (end.key_mm, end.gear.keyway_mm))
    lower = shaft.depth_mm + (end.gear.bore_mm - end.diameter_mm) / 2
    high = lower + hub.height_mm - hub.depth_mm
    return SteppedKey(end.gear.face_mm, end.key_mm, end.gear.keyway_mm, high, lower, "shaft and sleeve")


def _key_steps(end: ScrewEnd) -> list[Finding]:
    """What the key of a sleeve has to be: it spans shaft, wall and hub."""
    key = key_through_sleeve(end)
    if key is None:
        return []
    wall = (end.gear.bore_mm - end.diameter_mm) / 2
    high, deep = key.height_mm, key.depth_mm - wall
    same = abs(end.key_mm - end.gear.keyway_mm) <= KEY_SLACK_MM
    text = "{key} wide all through" if same else "{key} wide in the shaft and the sleeve, {slot} in the hub"
    return [
        finding(
            "key-spans", "info",
            "The key goes through the sleeve: {high} high ({depth} in the shaft, {wall} of wall, the rest in the hub).",
            "Make it " + text + ", and slot the sleeve right through.",
            high=Mm(high), depth=Mm(deep), wall=Mm(wall), key=Size(end.key_mm), slot=Size(end.gear.keyway_mm),
        )
    ]  # fmt: skip
