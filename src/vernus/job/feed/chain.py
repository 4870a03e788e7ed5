"""The screw's end of a job as a chain: what is known of it, what is still asked, and the parts of its one scheme."""

from __future__ import annotations

from dataclasses import dataclass, replace

from vernus.core.feed.fit import CLAW_MM, FitItem, FitVerdict, TurnedPart, fit_keyway
from vernus.core.feed.gears import identify_gear
from vernus.core.feed.screw_end import (
    Driven,
    Gear,
    ScrewEnd,
    ScrewEndPlan,
    ScrewPart,
    driven,
    key_through_sleeve,
    plan_screw_end,
)
from vernus.core.finding import Mm, Sentence, Size, Stock
from vernus.core.make.threads import CALIPER_MM
from vernus.job.entities import PowerFeed
from vernus.job.fields import mm_of
from vernus.job.known.run_on import new_bracket_mm

_KIT = (
    ("gear_bore", "bore of the drive gear"), ("gear_key", "its keyway (0: none)"), ("gear_teeth", "its teeth"),
    ("gear_outside", "its outside diameter"), ("gear_face", "its face width"),
    ("unit_teeth", "teeth of the unit's gear"), ("unit_near", "where the unit's gear begins, from its mounting face"),
    ("unit_far", "where it ends"), ("volts", "the unit's voltage"), ("shop_volts", "the shop's voltage"),
)  # fmt: skip
_END = (
    ("shaft", "diameter of the screw's end"), ("shaft_length", "how far it sticks out"),
    ("shaft_key", "its key (0: none)"), ("end_thread", "the thread at its end (0: none)"),
)  # fmt: skip


CALIPERS_MM = 2 * CALIPER_MM
"""What two figures of a caliper are off each other at most."""


@dataclass(frozen=True)
class Chain:
    """The screw's end as it is measured, and the scheme that carries the gear."""

    end: ScrewEnd
    plan: ScrewEndPlan


def kit_missing(feed: PowerFeed) -> tuple[str, ...]:
    """What is measured on kit and machine before anything comes off."""
    missing = [words for name, words in _KIT if getattr(feed, name) is None]
    if feed.bracket == "replace":
        missing += ["thickness of the old bracket"] if feed.old_bracket is None else []
        missing += ["thickness of the new bracket, or the bearing's width"] if new_bracket_mm(feed) is None else []
    elif feed.clamp_face is None:
        missing.append("how far the clamp's face stands outside the bearing bracket's")
    return tuple(missing)


def unit_face_mm(feed: PowerFeed) -> float:
    """Where the face that the unit is screwed to lies, from the bracket's outer face (mm)."""
    return (mm_of(feed.clamp_face) or 0.0) if feed.bracket == "clamp" else 0.0


def end_missing(feed: PowerFeed) -> tuple[str, ...]:
    """What lies under handle and dial, and what those two take of the screw where they stay."""
    missing = [words for name, words in _END if getattr(feed, name) is None]
    if feed.dial == "yes" and feed.dial_length is None:
        missing.append("what the dial takes of the screw")
    if feed.wheel == "yes" and feed.wheel_hub is None:
        missing.append("what the handwheel's hub takes")
    return tuple(missing)


def chain_of(feed: PowerFeed) -> Chain | None:
    """The chain along the screw; None while a member of it isn't known. Raises BadInputError.

    It counts from the bearing bracket's outer face, or that of the bracket in its place. A clamp's face, to which the
    unit is screwed, may stand anywhere beside it.
    """
    needed = (feed.shaft, feed.shaft_length, feed.shaft_key, feed.end_thread)
    kit = (feed.gear_bore, feed.gear_key, feed.gear_face, feed.unit_near, feed.unit_far)
    if any(v is None for v in (*needed, *kit)):
        return None
    added = 0.0
    if feed.bracket == "replace":
        new, old = new_bracket_mm(feed), mm_of(feed.old_bracket)
        if new is None or old is None:
            return None
        added = new - old
    elif feed.clamp_face is None:
        return None
    shaft, out, key, thread = (mm_of(v) or 0.0 for v in needed)
    bore, slot, face, near, far = (mm_of(v) or 0.0 for v in kit)
    near, far = near + unit_face_mm(feed), far + unit_face_mm(feed)
    end = ScrewEnd(
        shaft, out, key, Gear(bore, slot, face, root_mm(feed), feed.gear_drive or None), (near, far), thread or None,
        added,
        mm_of(feed.dial_length) if feed.dial == "yes" else 0.0, mm_of(feed.wheel_hub) if feed.wheel == "yes" else 0.0,
        feed.wheel_drive or ("claws" if feed.claws == "yes" else None), bool(feed.gear_held),
        CALIPERS_MM,
    )  # fmt: skip
    return Chain(end, plan_screw_end(end))


_BY = {"key": "a key", "pin": "a pin", "set screw": "a set screw on a flat", "claws": "claws"}
_HELD = {"nut": "the nut", "collar": "a collar", "ring": "a ring", "pin": "its pin", "set screw": "its set screw"}


def driven_words(chain: Chain, feed: PowerFeed) -> list[tuple[Driven, Sentence]]:
    """How gear and handwheel turn with the screw and stay on it, each with its words."""
    found: list[tuple[Driven, Sentence]] = []
    for row in driven(chain.end, chain.plan):
        name = {"gear": "drive gear", "wheel": "handwheel"}[row.of]
        held = "ring" if row.held_by == "collar" and feed.gear_held == "ring" else row.held_by
        by = f"The {name} is driven by {_BY[row.by]}" if row.by in _BY else f"Nothing drives the {name} yet"
        by = f"The {name} runs free" if row.by == "free" else by
        stays = f"held along the screw by {_HELD[held]}" if held is not None else "nothing holds it along the screw"
        found.append((replace(row, held_by=held), Sentence(f"{by}, and {stays}.")))
    return found


def root_mm(feed: PowerFeed) -> float | None:
    """The diameter at the drive gear's tooth roots, 1.25 modules below the pitch circle."""
    if feed.gear_outside is None or feed.gear_teeth is None:
        return None
    return feed.gear_outside.mm - 4.5 * identify_gear(feed.gear_outside.mm, round(feed.gear_teeth))[0].module_mm


def chain_items(feed: PowerFeed, chain: Chain) -> list[FitItem]:
    """The scheme with its parts, each drawn, and the key where the gear sits on the screw itself."""
    end, plan = chain.end, chain.plan
    if plan.scheme is None:
        told = plan.findings[0]
        verdict: FitVerdict = "open" if told.code == "not-known" else "task"
        both = Sentence("{what} {do}", {"what": told.what, "do": told.remedy})
        return [FitItem("screw's end", verdict, both)]
    if plan.scheme == "direct":
        items = [FitItem("screw's end", "fits", _told("The gear sits on the screw itself.", end))]
        if end.key_mm and end.gear.keyway_mm:
            items.append(fit_keyway(end.key_mm, end.gear.keyway_mm, mm_of(feed.rim), end.diameter_mm, end.gear.face_mm))
        return items
    first = plan.parts[0]
    if plan.scheme == "sleeve":
        return _sleeved(end, plan, first)
    return [
        FitItem(
            "screw's end",
            "part",
            _coupled(end, plan, first),
            coupler_drawn(end, first, plan.parts[1], claws=feed.claws == "yes"),
        )
    ]


def _sleeved(end: ScrewEnd, plan: ScrewEndPlan, sleeve: ScrewPart) -> list[FitItem]:
    words = "Make a sleeve: outside {seat}, bore {bore}, {long} long" + (
        ", slotted right through for the key." if end.key_mm else ", pinned through hub and shaft."
    )
    values = {"key": Size(end.key_mm)}
    note = "slot of {key} right through" if end.key_mm else "drilled for the pin with hub and shaft in place"
    steps = ((sleeve.seat_mm or 0.0, sleeve.length_mm or 0.0),)
    drawn = TurnedPart("sleeve", steps, end.diameter_mm, None, end.key_mm, None, (Sentence(note, values),))
    items = [FitItem("screw's end", "part", _told(words, end, sleeve), drawn)]
    key = key_through_sleeve(end)
    told = next((f for f in plan.findings if f.code == "key-spans"), None)
    if key is not None and told is not None:
        both = Sentence("{what} {do}", {"what": told.what, "do": told.remedy})
        items.append(FitItem("key", "part", both, key))
    return items


def _coupled(end: ScrewEnd, plan: ScrewEndPlan, coupler: ScrewPart) -> Sentence:
    hold = plan.parts[1]
    slot = " with the shaft's keyway" if end.key_mm else ""
    first = "Too short by {short}. " if plan.short_by_mm > 0 else "No wall for a sleeve. "
    words = (
        first + "Make a coupler {long} long: bored {bore}, {socket} deep" + slot + ", held by a {hold} of {size} at "
        "{at} from the bracket; a seat of {seat}"
        + (" with the gear's keyway" if end.gear.keyway_mm else "")
        + " carries the gear."
    )
    more: dict[str, object] = {
        "short": Mm(plan.short_by_mm), "socket": Mm(coupler.socket_mm or 0.0), "hold": hold.part,
        "size": Stock(hold.outside_mm or 0.0), "at": Mm(hold.from_mm or 0.0),
    }  # fmt: skip
    return _told(words, end, coupler, more)


def _told(words: str, end: ScrewEnd, part: ScrewPart | None = None, more: dict[str, object] | None = None) -> Sentence:
    """The words, and the chain's members from the bracket outward behind them."""
    near, far = end.gear_at_mm
    values: dict[str, object] = {
        "near": Mm(near), "far": Mm(far), "dial": Mm(end.dial_mm or 0.0), "wheel": Mm(end.wheel_mm or 0.0),
        "nut": Mm(end.nut_mm), "need": Mm(end.needs_mm), "out": Mm(max(0.0, end.end_mm)),
    }  # fmt: skip
    if part is not None:
        values |= {"bore": Size(part.bore_mm or 0.0), "seat": Size(part.seat_mm or 0.0)}
        values |= {"long": Mm(part.length_mm or 0.0)}
    members = " From the bracket: gear {near} to {far}, "
    members += ("dial {dial}, " if end.dial_mm else "") + ("handwheel {wheel}, " if end.wheel_mm else "")
    members += ("nut {nut}: " if end.nut_mm else "no nut: ") + "{need} wanted, {out} there."
    return Sentence(words + members, {**values, **(more or {})})


def coupler_drawn(end: ScrewEnd, coupler: ScrewPart, held: ScrewPart | None, *, claws: bool) -> TurnedPart:
    """The coupler from its socket outward: collar, the gear's seat, what carries dial and wheel, the thread."""
    start, (near, far) = coupler.from_mm or 0.0, end.gear_at_mm
    steps = [
        (coupler.outside_mm or 0.0, near - start), (end.gear.bore_mm, far - max(near, start)),
        (end.diameter_mm, (end.dial_mm or 0.0) + (end.wheel_mm or 0.0)), (end.thread_mm or 0.0, end.nut_mm),
    ]  # fmt: skip
    kept = tuple((d, length) for d, length in steps if length > 1e-6)
    values: dict[str, object] = {
        "deep": Mm(coupler.socket_mm or 0.0), "key": Size(end.key_mm), "slot": Size(end.gear.keyway_mm),
        "seat": Size(end.gear.bore_mm),
    }  # fmt: skip
    notes = [Sentence("bored {deep} deep" + (", with a keyway of {key}" if end.key_mm else ""), values)]
    if held is not None and held.from_mm is not None:
        at = {"size": Stock(held.outside_mm or 0.0), "at": Mm(held.from_mm - start), "what": held.part}
        notes.append(Sentence("{what} of {size}, {at} from the socket's end", at))
    if end.wheel_mm and end.wheel_drive == "key":
        notes.append(Sentence("keyway of {key} for the handwheel behind the seat", values))
    if end.gear.keyway_mm:
        notes.append(Sentence("keyway of {slot} in the seat of {seat}", values))
    return TurnedPart(
        "coupler", kept, end.diameter_mm, coupler.socket_mm, coupler.keyway_mm, CLAW_MM if claws else None, tuple(notes)
    )
