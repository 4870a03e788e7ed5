"""What each sheet of a power feed asks, in groups, by the fields of the feed; and whether anything was said there."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal, get_args

from vernus.core.feed.speeds import CHECKS
from vernus.job.document import Job
from vernus.job.entities import Axis, MeshTrial, PowerFeed, RemovedPart, Rework, RunOnTest

FeedSheet = Literal["fit", "bracket", "mesh", "trips", "run-in"]
FEED_SHEETS: tuple[FeedSheet, ...] = get_args(FeedSheet)
Groups = Mapping[str, tuple[str, ...]]
ASKED: Mapping[FeedSheet, Groups] = {
    "fit": {
        "Screw's end": ("shaft", "shaft_length", "shaft_key", "end_thread", "end_pitch"),
        "Drive gear": ("gear_bore", "gear_key", "gear_drive", "gear_held", "gear_teeth", "gear_outside", "gear_face"),
        "Unit's gear": ("unit_teeth", "unit_outside", "unit_near", "unit_far"),
        "Supply": ("volts", "shop_volts", "phases", "shop_phases", "hertz", "shop_hertz", "transformer"),
        "Carried by": ("bracket", "clamp_face", "kit_bracket"),
        "Nut, dial and wheel": ("nut", "dial", "dial_length", "wheel", "wheel_hub", "wheel_drive", "claws", "rim"),
        "Bracket there is": ("hole_thread", "hole_across", "hole_up", "old_bracket"),
        "Bracket of the kit": ("kit_across", "kit_up", "kit_hole"),
        "Trip switch": ("switch_thread", "switch_across", "switch_kit", "switch_hole"),
        "Unit's size and place": ("unit_long", "unit_wide", "unit_high", "way", "end", "table_end"),
        "… Kit": ("price", "came", "lacking"),
    },
    "bracket": {
        "Bearing": ("bearing", "bearing_width", "screw_below"),
        "Unit's holes": ("sits", "feet", "pattern_x", "pattern_y", "unit_across", "unit_up", "unit_thread"),
    },
    "mesh": {
        "School": ("school", "angle", "paper", "wanted"),
        "Faces": ("drive_near", "drive_far"),
    },
    "trips": {
        "Speeds": ("slow_rpm", "fast_rpm", "rapid_rpm", "timed", "timed_s"),
        "Switch, and the stops as they stand": ("switch_s", "brake_s", "clear", "set_low", "set_high"),
    },
    "run-in": {"Checks": (*CHECKS, "made")},
}
_LISTED: Mapping[FeedSheet, tuple[type[MeshTrial | RunOnTest | Rework | RemovedPart], ...]] = {
    "mesh": (MeshTrial,), "trips": (RunOnTest,), "run-in": (Rework, RemovedPart),
}  # fmt: skip


def sheets_of_feed(axis: Axis) -> tuple[FeedSheet, ...]:
    """The sheets that the feed of an axis goes through: one that runs there already has its trips alone."""
    return FEED_SHEETS if axis.drive == "new" else ("trips",) if axis.drive == "there" else ()


def fields_of(sheet: FeedSheet) -> tuple[str, ...]:
    """The fields of the feed that a sheet asks for."""
    return tuple(name for names in ASKED[sheet].values() for name in names)


def asked_on(field: str) -> FeedSheet:
    """The sheet that asks for a field of the feed; what no sheet asks for is told on the first."""
    return next((sheet for sheet in FEED_SHEETS if field in fields_of(sheet)), "fit")


def begun_on(job: Job, axis: Axis, feed: PowerFeed, sheet: FeedSheet) -> bool:
    """Whether anything was said on a sheet: a figure that isn't as it comes, a trial, a test, a part."""
    if any(job.of_axis(kind, axis.id) for kind in _LISTED.get(sheet, ())):
        return True
    fresh = PowerFeed(id=feed.id, axis_id=feed.axis_id)
    return any(getattr(feed, name) != getattr(fresh, name) for name in fields_of(sheet))
