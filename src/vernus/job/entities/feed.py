"""The power feed of an axis: caliper figures, mesh, stops, bracket, commissioning, and the parts removed for it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from vernus.core.feed.speeds import PHASES
from vernus.job.entities.base import Entity, MadeTo, Name, Number
from vernus.job.entities.setting import Answer
from vernus.job.fields import LengthEntry, Quantity

Phases = Literal["", "1", "3", "dc"]
_PHASES = (("", "not said"), *PHASES.items())
_YES_NO = (("", "not yet"), ("yes", "yes"), ("no", "no"))
_KEEP = (("yes", "stays"), ("no", "goes"))


def _size(label: str, judged: str = "part") -> Quantity:
    return Quantity(label, low=0, low_open=True, judged=judged)


class PowerFeed(Entity):
    """A power feed on an axis, measured before anything is taken apart.

    ``unit_x`` and ``unit_y`` are how jobs up to version 5.0 told where the unit's holes lie: from the screw. They count
    where somebody typed them and nobody said ``pattern_x`` and ``pattern_y``, which count from the unit's own gear.
    """

    kind = "feed"
    axis_id: str
    shaft: Annotated[LengthEntry | None, _size("Screw end, diameter", "shaft")] = None
    shaft_length: Annotated[LengthEntry | None, _size("… sticks out of the bracket")] = None
    shaft_key: Annotated[LengthEntry | None, Quantity("… its key, width (0: none)", low=0, judged="keyway")] = None
    end_thread: Annotated[LengthEntry | None, Quantity("… end thread, diameter (0: none)", low=0, judged="thread")] = (
        None
    )
    end_pitch: Annotated[LengthEntry | None, _size("… end thread, pitch", "pitch")] = None
    dial: Annotated[Literal["yes", "no"], Quantity("Dial", "choice", choices=_KEEP)] = "yes"
    dial_length: Annotated[LengthEntry | None, Quantity("… takes of the screw", low=0, judged="part")] = None
    wheel: Annotated[Literal["yes", "no"], Quantity("Handwheel", "choice", choices=_KEEP)] = "yes"
    wheel_hub: Annotated[LengthEntry | None, Quantity("… hub takes of the screw", low=0, judged="part")] = None
    rim: Annotated[LengthEntry | None, _size("… rim, diameter")] = None
    claws: Annotated[
        Literal["yes", "no"],
        Quantity("… driven by claws?", "choice", choices=(("no", "no"), ("yes", "yes"))),
    ] = "no"
    gear_bore: Annotated[LengthEntry | None, _size("Drive gear, bore", "shaft")] = None
    gear_key: Annotated[LengthEntry | None, Quantity("Drive gear, keyway (0: none)", low=0, judged="keyway")] = None
    gear_drive: Annotated[
        Literal["", "key", "pin", "set screw", "claws"],
        Quantity(
            "Drive gear, driven by",
            "choice",
            choices=(
                ("", "a key, where it has a keyway"), ("key", "a key"), ("pin", "a pin"),
                ("set screw", "a set screw on a flat"), ("claws", "claws or dog teeth"),
            ),
        ),
    ] = ""  # fmt: skip
    gear_held: Annotated[
        Literal["", "collar", "ring"],
        Quantity(
            "Drive gear, kept on by",
            "choice",
            choices=(
                ("", "the nut, where there is a thread"), ("collar", "a collar with a set screw"),
                ("ring", "a circlip or ring"),
            ),
        ),
    ] = ""  # fmt: skip
    wheel_drive: Annotated[
        Literal["", "key", "pin", "set screw", "claws", "free"],
        Quantity(
            "Handwheel, driven by",
            "choice",
            choices=(
                ("", "not said"), ("key", "a key"), ("pin", "a pin"), ("set screw", "a set screw on a flat"),
                ("claws", "claws"), ("free", "nothing: it runs free"),
            ),
        ),
    ] = ""  # fmt: skip
    gear_teeth: Annotated[Number | None, Quantity("Drive gear, teeth", "number", low=5, high=300)] = None
    gear_outside: Annotated[LengthEntry | None, _size("Drive gear, outside diameter")] = None
    gear_face: Annotated[LengthEntry | None, _size("Drive gear, face width")] = None
    unit_teeth: Annotated[Number | None, Quantity("Unit's gear, teeth", "number", low=5, high=300)] = None
    unit_outside: Annotated[LengthEntry | None, _size("Unit's gear, outside diameter")] = None
    nut: Annotated[Name, Quantity("Nut in the kit", "text", help="Such as M10x1 or 3/8-24.")] = ""
    made: Annotated[Answer, Quantity("Parts to make: made and fitted?", "choice", choices=_YES_NO)] = ""
    hole_across: Annotated[
        LengthEntry | None, Quantity("Bracket holes on the machine, across", low=0, judged="holes_across")
    ] = None
    hole_up: Annotated[LengthEntry | None, Quantity("Bracket holes on the machine, up", low=0, judged="holes_up")] = (
        None
    )
    kit_across: Annotated[
        LengthEntry | None, Quantity("Holes of the kit's bracket, across", low=0, judged="holes_across")
    ] = None
    kit_up: Annotated[LengthEntry | None, Quantity("Holes of the kit's bracket, up", low=0, judged="holes_up")] = None
    kit_hole: Annotated[LengthEntry | None, _size("Holes of the kit's bracket, diameter", "hole")] = None
    hole_thread: Annotated[Name, Quantity("Screws of the old bracket", "text", help="Such as M6 or 1/4-20.")] = ""
    switch_across: Annotated[
        LengthEntry | None, Quantity("Trip switch holes there are, apart", low=0, judged="holes_switch")
    ] = None
    switch_kit: Annotated[
        LengthEntry | None, Quantity("Trip switch of the kit, holes apart", low=0, judged="holes_switch")
    ] = None
    switch_hole: Annotated[LengthEntry | None, _size("Trip switch of the kit, hole diameter", "hole")] = None
    switch_thread: Annotated[Name, Quantity("Screws of the trip switch", "text")] = ""
    old_bracket: Annotated[LengthEntry | None, Quantity("Old bracket, thickness", low=0, judged="thick")] = None
    kit_bracket: Annotated[LengthEntry | None, Quantity("New bracket or clamp, thickness", low=0, judged="thick")] = (
        None
    )
    clamp_face: Annotated[
        LengthEntry | None,
        Quantity(
            "Clamp's face, outside the bearing bracket's",
            judged="part",
            when=("bracket", ("clamp",)),
            help="From the bearing bracket's outer face to the face of the clamp that the unit is screwed to; minus "
            "where the clamp's face lies behind it.",
        ),
    ] = None
    volts: Annotated[Number | None, Quantity("Unit's voltage, V", "number", low=0, low_open=True)] = None
    shop_volts: Annotated[Number | None, Quantity("Shop's voltage, V", "number", low=0, low_open=True)] = None
    phases: Annotated[Phases, Quantity("Unit's phases", "choice", choices=_PHASES)] = ""
    shop_phases: Annotated[Phases, Quantity("Shop's phases", "choice", choices=_PHASES)] = ""
    hertz: Annotated[Number | None, Quantity("Unit's frequency, Hz", "number", low=0, low_open=True, high=400)] = None
    shop_hertz: Annotated[Number | None, Quantity("Shop's frequency, Hz", "number", low=0, low_open=True, high=400)] = (
        None
    )
    transformer: Annotated[
        Number | None, Quantity("A transformer or new wiring gives, V", "number", low=0, low_open=True)
    ] = None
    price: Annotated[Number | None, Quantity("Price of the kit", "number", low=0)] = None
    came: Annotated[Name, Quantity("What came in the kit", "text")] = ""
    lacking: Annotated[Name, Quantity("What was missing from it", "text")] = ""
    slow_rpm: Annotated[Number | None, Quantity("Unit's gear, slowest, rpm", "number", low=0)] = None
    fast_rpm: Annotated[Number | None, Quantity("… fastest feed, rpm", "number", low=0)] = None
    rapid_rpm: Annotated[Number | None, Quantity("… rapid, rpm", "number", low=0)] = None
    school: Annotated[
        Literal["indicator", "paper1", "paper2", "ear"],
        Quantity(
            "Mesh set by",
            "choice",
            choices=(
                ("indicator", "backlash by indicator"), ("paper1", "paper on one flank"),
                ("paper2", "paper rolled through"), ("ear", "ear"),
            ),
        ),
    ] = "paper2"  # fmt: skip
    angle: Annotated[
        Literal["14.5", "20"], Quantity("Pressure angle, °", "choice", choices=(("20", "20"), ("14.5", "14.5")))
    ] = "20"
    paper: Annotated[LengthEntry, Quantity("Paper, thickness", "fine", low=0, low_open=True, judged="gap")] = (
        LengthEntry(mm=0.095)
    )
    wanted: Annotated[LengthEntry, Quantity("Backlash wanted", "fine", low=0, low_open=True, judged="backlash")] = (
        LengthEntry(mm=0.12)
    )
    drive_near: Annotated[LengthEntry | None, Quantity("Drive gear's near side, from the bracket", judged="part")] = (
        None
    )
    drive_far: Annotated[LengthEntry | None, Quantity("Drive gear's far side", judged="part")] = None
    unit_near: Annotated[
        LengthEntry | None, Quantity("Unit's gear, near side from its mounting face", low=0, judged="part")
    ] = None
    unit_far: Annotated[LengthEntry | None, Quantity("… far side", low=0, judged="part")] = None
    timed: Annotated[
        LengthEntry | None, Quantity("… or rapid by stopwatch: it ran", low=0, low_open=True, judged="part")
    ] = None
    timed_s: Annotated[Number | None, Quantity("… in seconds", "number", low=0, low_open=True, high=3600)] = None
    clear: Annotated[LengthEntry, Quantity("Clear of the hard stops", low=0, judged="slack")] = LengthEntry(mm=3)
    switch_s: Annotated[Number, Quantity("Switch lets go after, s (until measured)", "number", low=0, high=5)] = 0.1
    brake_s: Annotated[Number, Quantity("Brakes within, s (until measured)", "number", low=0, high=20)] = 0.6
    set_low: Annotated[LengthEntry | None, Quantity("Low stop now trips at", judged="along")] = None
    set_high: Annotated[LengthEntry | None, Quantity("High stop now trips at", judged="along")] = None
    bracket: Annotated[
        Literal["clamp", "replace"],
        Quantity(
            "Carried by",
            "choice",
            choices=(("clamp", "a clamp on the table's end"), ("replace", "a bracket instead of the bearing's")),
        ),
    ] = "clamp"
    way: Annotated[
        Literal["horizontal", "vertical"],
        Quantity("Unit stands", "choice", choices=(("horizontal", "horizontal"), ("vertical", "vertical"))),
    ] = "vertical"
    sits: Annotated[
        Literal["below", "above", "right", "left"],
        Quantity(
            "Unit's gear lies",
            "choice",
            choices=(
                ("below", "below the screw"), ("above", "above the screw"), ("right", "right of the screw"),
                ("left", "left of the screw"),
            ),
        ),
    ] = "below"  # fmt: skip
    end: Annotated[
        Literal["low", "high"],
        Quantity("On the end", "choice", choices=(("high", "{@high}"), ("low", "{@low}"))),
    ] = "high"
    unit_long: Annotated[LengthEntry | None, _size("Unit, along the screw")] = None
    unit_wide: Annotated[LengthEntry | None, _size("Unit, across")] = None
    unit_high: Annotated[LengthEntry | None, _size("Unit, height")] = None
    table_end: Annotated[LengthEntry | None, _size("Table's end, height")] = None
    bearing: Annotated[LengthEntry | None, _size("Bearing, outside diameter", "shaft")] = None
    bearing_width: Annotated[LengthEntry | None, _size("Bearing, width")] = None
    screw_below: Annotated[LengthEntry | None, _size("Screw's axis below the table's top")] = None
    pattern_x: Annotated[
        LengthEntry | None,
        Quantity(
            "Unit's holes: middle from its own gear, across",
            judged="part",
            help="To the right as seen from outside, facing the table's end.",
        ),
    ] = None
    pattern_y: Annotated[
        LengthEntry | None,
        Quantity(
            "Unit's holes: middle from its gear, up (minus: below)",
            judged="part",
            help="Upward as seen from outside, facing the table's end.",
        ),
    ] = None
    unit_x: Annotated[LengthEntry, Quantity("Unit's holes: middle from the screw, across", judged="part")] = (
        LengthEntry(mm=0)
    )
    unit_y: Annotated[LengthEntry, Quantity("Unit's holes: middle, up (minus: below)", judged="part")] = LengthEntry(
        mm=-60
    )
    unit_across: Annotated[LengthEntry | None, Quantity("Unit's holes, across", low=0, judged="part")] = None
    unit_up: Annotated[LengthEntry | None, Quantity("Unit's holes, up", low=0, judged="part")] = None
    unit_thread: Annotated[Name, Quantity("Unit's screws", "text")] = "M8"
    feet: Annotated[
        Literal["holes", "slots"],
        Quantity(
            "Unit's feet have",
            "choice",
            choices=(("holes", "holes: slots in the bracket"), ("slots", "slots: studs in the bracket")),
        ),
    ] = "holes"
    turns_free: Annotated[Answer, Quantity("Turns free by hand over the whole travel?", "choice", choices=_YES_NO)] = ""
    end_float: Annotated[
        Answer,
        Quantity(
            "Screw's end float and bearing preload right?",
            "choice",
            choices=_YES_NO,
            help="By indicator at the screw's end, pushed and pulled: after dial, bracket or nut were off.",
        ),
    ] = ""
    greased: Annotated[Answer, Quantity("Gears greased?", "choice", choices=_YES_NO)] = ""
    covered: Annotated[Answer, Quantity("Gears covered?", "choice", choices=_YES_NO)] = ""
    made_to: Annotated[tuple[MadeTo, ...], Field(max_length=50)] = ()
    trips: Annotated[Answer, Quantity("Both trips stop it?", "choice", choices=_YES_NO)] = ""
    reverses: Annotated[Answer, Quantity("Reverses only from standstill?", "choice", choices=_YES_NO)] = ""
    rapid: Annotated[Answer, Quantity("Rapid only while held?", "choice", choices=_YES_NO)] = ""
    lamp: Annotated[Answer, Quantity("Lamp: known what it means?", "choice", choices=_YES_NO)] = ""
    earthed: Annotated[Answer, Quantity("Earthed?", "choice", choices=_YES_NO)] = ""


class MeshTrial(Entity):
    """One trial of the mesh: where the unit stood, what paper, indicator and ear said."""

    kind = "mesh"
    axis_id: str
    shim: Annotated[LengthEntry, Quantity("Stand-off, shims and all", low=0, judged="off")] = LengthEntry(mm=0)
    backlash: Annotated[LengthEntry | None, Quantity("Backlash by indicator", "fine", low=0, judged="backlash")] = None
    paper: Annotated[
        Literal["", "tears", "rolls", "loose"],
        Quantity(
            "Paper",
            "choice",
            choices=(("", "not tried"), ("tears", "tears"), ("rolls", "just rolls through"), ("loose", "falls out")),
        ),
    ] = ""
    loosest: Annotated[
        LengthEntry | None,
        Quantity("… loosest within a turn, where it changes", "fine", low=0, judged="backlash"),
    ] = None
    inner_gap: Annotated[LengthEntry | None, Quantity("Gear to housing, bracket side", low=0, judged="slack")] = None
    outer_gap: Annotated[LengthEntry | None, Quantity("… far side", low=0, judged="part")] = None
    noise: Annotated[
        Literal["", "quiet", "grinds", "clatters", "rubs"],
        Quantity(
            "By ear",
            "choice",
            choices=(
                ("", "not tried"), ("quiet", "quiet"), ("grinds", "grinds or whines"), ("clatters", "clatters"),
                ("rubs", "rubs on something"),
            ),
        ),
    ] = ""  # fmt: skip


class RunOnTest(Entity):
    """One trip in mid travel with a temporary stop: where it tripped and stood still, or how far it ran on by rule."""

    kind = "runon"
    axis_id: str
    way: Annotated[
        Literal["up", "down"],
        Quantity("Running toward", "choice", choices=(("up", "the {@high} end"), ("down", "the {@low} end"))),
    ] = "up"
    speed: Annotated[
        Literal["slow", "rapid"], Quantity("At", "choice", choices=(("slow", "a slow feed"), ("rapid", "rapid")))
    ] = "slow"
    ran: Annotated[LengthEntry | None, Quantity("Ran on, by rule", low=0, judged="run on")] = None
    tripped: Annotated[LengthEntry, Quantity("… or tripped at", judged="along")] = LengthEntry(mm=0)
    stood: Annotated[LengthEntry, Quantity("Stood still at", judged="along")] = LengthEntry(mm=0)


class Rework(Entity):
    """What was made or worked over: for a figure what it measured before and after; and how long it took.

    ``figure`` is a field of the power feed, which then counts with what it measures after, or a part that is made now,
    to what ``made_to`` said of it then.
    """

    kind = "rework"
    axis_id: str
    made_to: Annotated[tuple[MadeTo, ...], Field(max_length=50)] = ()
    figure: Annotated[
        Literal[
            "gear_bore", "gear_key", "shaft_key", "shaft_length", "kit_across", "kit_up", "kit_hole", "switch_kit",
            "switch_hole", "kit_bracket", "coupler", "sleeve", "stepped key", "feed bracket", "gear cover",
            "bracket holes", "trip switch", "end thread", "height", "screw's end",
        ],
        Quantity(
            "Made or worked over",
            "choice",
            choices=(
                ("gear_bore", "drive gear's bore"), ("gear_key", "drive gear's keyway"),
                ("shaft_key", "the screw's key"),
                ("shaft_length", "the screw's end"), ("kit_across", "bracket's holes, across"),
                ("kit_up", "bracket's holes, up"), ("kit_hole", "bracket's holes, size"),
                ("switch_kit", "switch plate's holes, apart"), ("switch_hole", "switch plate's holes, size"),
                ("kit_bracket", "bracket's thickness"), ("coupler", "coupler: made"), ("sleeve", "sleeve: made"),
                ("stepped key", "key: made"), ("feed bracket", "bracket: made"), ("gear cover", "gear cover: made"),
                ("bracket holes", "bracket holes: seen to"), ("trip switch", "trip switch: seen to"),
                ("end thread", "nut or end thread: seen to"), ("height", "unit's height: seen to"),
                ("screw's end", "screw's end: seen to"),
            ),
        ),
    ] = "gear_key"  # fmt: skip
    before: Annotated[LengthEntry | None, Quantity("It measured", low=0, judged="part")] = None
    after: Annotated[LengthEntry | None, Quantity("It measures now", low=0, judged="part")] = None
    how: Annotated[Name, Quantity("How", "text", help="Such as broached, filed, bored.")] = ""
    minutes: Annotated[Number | None, Quantity("Minutes it took", "number", low=0, high=6000)] = None


class RemovedPart(Entity):
    """A part taken off for the feed, kept so that the machine can be put back."""

    kind = "removed"
    axis_id: str
    name: Annotated[Name, Quantity("Part taken off", "text")] = ""
    kept: Annotated[Name, Quantity("Kept where", "text")] = ""
    back: Annotated[Name, Quantity("How it goes back", "text")] = ""
