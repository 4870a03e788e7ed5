"""Writes the demo job of the mill: an invented museum harbour's workshop and its invented universal mill.

Every figure is invented. Run: .venv/bin/python tools/make_demo_mill.py > src/vernus/data/demo/mill.json
"""

import itertools
import random
from datetime import datetime

from demo_job import DemoJob

from vernus.job.catalog.shipped import machine_kind
from vernus.job.catalog.templates import template_entities
from vernus.job.document import Job
from vernus.job.entities import (
    Approach,
    Axis,
    AxisSetting,
    CableAnchor,
    CableRun,
    CalibrationRun,
    Check,
    Compensation,
    Delivery,
    Display,
    DrilledHole,
    EveningPlan,
    Face,
    FamilyEdit,
    FeelRecord,
    GapCheck,
    Hole,
    HolePattern,
    IndicatorKit,
    JobInfo,
    Machine,
    Measure,
    MeshTrial,
    MountPart,
    PartCut,
    PositioningRun,
    PowerFeed,
    PowerUpCheck,
    ProfileSetting,
    ReaderSetting,
    ReferenceKit,
    RemovedPart,
    Rework,
    RunOnTest,
    ScalePlan,
    ShimKind,
    SolidBox,
    StackHeight,
    TrialPart,
    Wire,
)
from vernus.job.feed.feed import made_now
from vernus.job.known.axis_figures import feed_of

job = DemoJob(datetime(2026, 10, 3, 8, 30), "mm")
add, later, mm, note, sweep, survey = job.add, job.later, job.length, job.note, job.sweep, job.survey

add(
    JobInfo(
        id="job",
        title="Universal mill, refit",
        workshop="Workshop of the museum harbour at Krabbensiel",
        room_c=17.5,
    )
)
_number = itertools.count(1)
fitted = {"X": ("new", "new"), "Y": ("new", "none"), "W": ("new", "none")}
wanted = {"X": "0.03", "Y": "0.03", "W": "0.05"}
renamed: dict[str, str] = {}
TAKEN = ("table_length", "table_width", "table_thick", "wheel_gap", "wheel_saddle", "column_gap", "saddle_gap")
for part in template_entities(
    machine_kind("knee-mill-universal"), "Big Agda, universal mill", lambda: f"part-{next(_number)}"
):
    if isinstance(part, Machine):
        part = part.model_copy(update={"id": "machine", "tilt_deg": 0.0})
    elif isinstance(part, SolidBox) and part.name == "left handwheel":
        part = part.model_copy(update={"fitted": "off", "note": "Off for the power feed; shelf 3, red box."})
    elif isinstance(part, Axis):
        renamed[part.id] = f"axis-{part.name.lower()}"
        part = part.model_copy(
            update={
                "id": renamed[part.id],
                "machine_id": "machine",
                "accuracy": mm(wanted[part.name]),
                "readout": fitted[part.name][0],
                "drive": fitted[part.name][1],
            }
        )
    elif isinstance(part, Face):
        part = part.model_copy(update={"axis_id": renamed[part.axis_id]})
        if part.name == "behind the table":
            part = part.model_copy(
                update={"id": "face-x-behind", "length": mm("900"), "x": mm("450"), "flat": "machined"}
            )
        if part.name == "right flank of the knee":
            part = part.model_copy(update={"id": "face-y-right", "length": mm("365")})
    elif isinstance(part, Measure) and part.key in TAKEN:
        part = part.model_copy(update={"value": mm(f"{part.value.mm:g}")})
    add(part)

note("", "Isolator locked off, key on the nail. Table and ways wiped down; drain hole under the table kept free.")
survey("x", "tape", "1", "681 680")
survey("x", "caliper", "0.05", "680.40 680.55")
survey("y", "caliper", "0.02", "262.36 262.44")
survey("w", "tape", "1", "391")
add(
    ScalePlan(
        id="scale-x", axis_id="axis-x", family="glass-standard", margin=mm("10"), face=mm("900"), measuring=mm("750"),
        face_id="face-x-behind", price=118,
    )
)  # fmt: skip
add(
    ScalePlan(
        id="scale-y", axis_id="axis-y", family="glass-slim", margin=mm("10"), face=mm("365"), measuring=mm("300"),
        scale_on="still", face_id="face-y-right", price=96,
    )
)  # fmt: skip
add(
    Display(
        id="display", axes=3, digits=7, functions="halving, hole circle, mm/inch", signal="square wave, 9-pin plug",
        place="on an arm from the column, head upright or tilted", side="right", reach=mm("420"), price=165,
    )
)  # fmt: skip
for n, (place, member, size, pitch, thread, depth, used) in enumerate(
    (
        ("left of the drain, 40 from the end", "table", "5.92", "1", "M6x1", "14", "an old coolant pipe clip"),
        ("knee, right flank, middle", "knee", "7.9", "1.41", "5/16-18", "18", "nothing any more"),
    ),
    1,
):
    add(
        Hole(
            id=f"hole-{n}", place=place, member=member, diameter=mm(size), pitch=mm(pitch), thread=thread,
            depth=mm(depth),
            used_by=used,
        )
    )  # fmt: skip
note("x", "Scale behind the table, lips down. Bumper pillar turned, 55 long, stands proud of everything on that side.")
note("y", "The knee's left flank is 365 long between the gib screw and the oil nipple; body on end standoffs.")

add(
    Delivery(
        id="delivery-x", axis_id="axis-x", measuring=mm("750"), overall=mm("874.5"), hole_from_end=mm("8"),
        reader=mm("100"), cable=mm("3000"), missing="two M4 screws of the reader bracket",
        keep="clips and certificate in the bag on the nail",
        came=("gap clips", "certificate", "reader's bracket", "earth strap", "cover"), lacking=("fitting kit and screws",),
    )
)  # fmt: skip
standoff = MountPart(
    id="part-1", axis_id="axis-y", name="standoff, front", part_kind="standoff", length=mm("70"), width=mm("30"),
    thickness=mm("14"), material="aluminium", wanted=mm("52"),
)  # fmt: skip
add(standoff)
for n, (x, y, kind) in enumerate((("12", "15", "tapped"), ("58", "15", "tapped"), ("35", "15", "counterbored")), 1):
    add(DrilledHole(id=f"part-1-{n}", part_id="part-1", x=mm(x), y=mm(y), hole_kind=kind, thread="M5"))
add(
    MountPart(
        id="part-2", axis_id="axis-y", name="reader bracket", part_kind="angle", length=mm("80"), width=mm("45"),
        thickness=mm("8"), leg=mm("42"), material="steel", bolts_to="machine",
    )
)  # fmt: skip
add(
    HolePattern(
        id="part-2-row", part_id="part-2", shape="row", x=mm("14"), y=mm("30"), count=2, apart=mm("52"),
        hole_kind="clearance", thread="M6",
    )
)  # fmt: skip
for n, x in enumerate(("20", "60"), 1):
    add(
        DrilledHole(
            id=f"part-2-{n}", part_id="part-2", face="leg", x=mm(x), y=mm("24"), hole_kind="counterbored slot", thread="M4",
            adjust=mm("5"), angle=90.0,
        )
    )  # fmt: skip
add(
    PartCut(
        id="part-2-cut", part_id="part-2", cut_kind="relief", face="face", x=mm("0"), y=mm("39"), wide=mm("80"),
        high=mm("6"), deep=mm("0.8"),
    )
)  # fmt: skip
add(FamilyEdit(id="family-x", family="glass-standard", reader_height=mm("32"), reader_depth=mm("38")))
add(
    MountPart(
        id="part-3", axis_id="axis-x", name="reader bracket, saddle", part_kind="angle", length=mm("100"), width=mm("40"),
        thickness=mm("8"), leg=mm("40"), material="steel", bolts_to="machine",
    )
)  # fmt: skip
add(
    HolePattern(
        id="part-3-row", part_id="part-3", shape="row", x=mm("20"), y=mm("30"), count=2, apart=mm("60"),
        hole_kind="clearance", thread="M6",
    )
)  # fmt: skip
for n, (what, height) in enumerate((("knee face to saddle plane", "61.35"), ("body, back to lip", "-23.2")), 1):
    add(StackHeight(id=f"height-{n}", part_id="part-1", name=what, height=mm(height), tolerance=mm("0.05")))
for n, (thick, count) in enumerate((("0.05", 4), ("0.1", 6), ("0.2", 4), ("0.5", 2)), 1):
    add(ShimKind(id=f"shim-{n}", thickness=mm(thick), count=count))
add(IndicatorKit(id="kit-1", name="lever, 0.002", division=mm("0.002"), range=mm("0.2"), sense="toward", lever_deg=15))
add(IndicatorKit(id="kit-2", name="plunger, 0.01", division=mm("0.01"), range=mm("10")))
later(days=6)
x_at = "97 210 324 437 550 664 777"
screws = {"screw_left": mm("9"), "screw_right": mm("865")}
sweep("x-face-1", "x", "face", x_at + " 97", "0 0.04 0.07 0.12 0.15 0.20 0.23 0.00", **screws)
note("x", "Right screw eased to the dial, then tightened in two goes.")
sweep("x-face-2", "x", "face", x_at + " 97", "0 0.002 0.005 0.005 0.008 0.010 0.012 0", division=mm("0.002"), **screws)
sweep("x-edge-1", "x", "edge", x_at + " 97", "0 -0.02 -0.03 -0.05 -0.06 -0.08 -0.09 0", **screws)
sweep("x-edge-2", "x", "edge", x_at + " 97", "0 0.002 0 0.004 0.002 0.004 0.006 0", division=mm("0.002"), **screws)
for n, place in enumerate(("0", "340", "680"), 1):
    add(GapCheck(id=f"gap-{n}", axis_id="axis-x", station=mm(place), go=mm("0.45"), no_go=mm("0.55")))
add(
    ReaderSetting(
        id="reader-x", axis_id="axis-x", spare_low=mm("34"), spare_high=mm("35.5"), as_built=mm("680.5"),
        push=mm("0.005"), centred="yes", marks="yes", clips="yes", wipers="yes", cover="yes",
    )
)  # fmt: skip
note("x", "Reader set by its clips, clips off, gap 0.5 by feeler at both ends and the middle.")

add(CableRun(id="cable-x", axis_id="axis-x", bend=mm("25"), plug="X, blue sleeve", socket="X", tied="yes", earth="yes"))
for n, (name, member, place) in enumerate(
    (
        ("stub of the X scale", "saddle", "-66 140 -94"),
        ("clip behind the saddle", "saddle", "0 137 -185"),
        ("clip on the knee", "knee", "209 307 -183"),
        ("clip on the column", "column", "162 455 -75"),
        ("display arm", "column", "570 360 505"),
    ),
    1,
):
    x, y, z = place.split()
    add(CableAnchor(id=f"anchor-x-{n}", axis_id="axis-x", name=name, member=member, x=mm(x), y=mm(y), z=mm(z), place=n))
for n, (signal, colour, pin) in enumerate(
    (
        ("0 V", "white", "1"),
        ("+5 V", "brown", "2"),
        ("A", "green", "3"),
        ("B", "yellow", "4"),
        ("screen", "braid", "9"),
    ),
    1,
):
    add(Wire(id=f"wire-x-{n}", axis_id="axis-x", signal=signal, colour=colour, pin=pin, wanted_pin=pin))
add(
    PowerUpCheck(
        id="powerup-x", axis_id="axis-x", counts="yes", right_axis="yes", direction="yes", stroke="yes",
        before=mm("0"), after=mm("0.005"), low=mm("0"), high=mm("0.005"), drift=mm("0"),
    )
)  # fmt: skip
note("x", "Display on for the first time: counts, right plug, table to the right counts up, one count of flicker.")

later(days=1, hours=-2)
add(
    ReferenceKit(
        id="kit-blocks", name="gauge blocks, stack of four to 500", grade="1", pieces=4, detector=mm("0.001"),
    )
)  # fmt: skip
add(ReferenceKit(id="kit-123", name="1-2-3 blocks from the drawer", reference_kind="shop-blocks", pieces=2))
add(
    ProfileSetting(
        id="profile", name="three-axis display on the arm", per="mm", counts="decimal", factor="multiplier", points=8,
        spacing="free", step=mm("0.005"),
    )
)  # fmt: skip
add(AxisSetting(id="setting-x", axis_id="axis-x", counts=200.0, per="mm", resolution=mm("0.005")))
run = {"axis_id": "axis-x", "reference_id": "kit-blocks", "per": "mm", "scale_c": 17.5, "reference_c": 17.5, "u_c": 0.5}
checks = [
    Check(true=mm(t), shown=mm(s))
    for t, s in (("100", "100.000"), ("300", "300.000"), ("500", "500.005"), ("500", "500.005"))
]
add(CalibrationRun.model_validate({"id": "x-run-1", "set_counts": 200.0, "checks": checks, **run}))
add(Compensation(id="x-key-1", axis_id="axis-x", run_id="x-run-1", method="counts", value=200.0, per="mm"))
note("x", "Keyed into the display: 200 counts per mm. Direction set so that the table to the right counts up.")
checks = [
    Check(true=mm(t), shown=mm(s))
    for t, s in (
        ("0", "0"),
        ("100", "100.000"),
        ("200", "200.000"),
        ("300", "300.005"),
        ("400", "400.005"),
        ("500", "500.005"),
    )
]
run |= {"set_counts": 200.0, "scale_c": 17.8, "reference_c": 17.8}
add(CalibrationRun.model_validate({"id": "x-run-2", "method": "factor", "checks": checks, **run}))
chance = random.Random(12)
targets = [mm(t) for t in ("10", "178", "315", "530", "670")]
cycles = [(t, up) for _ in range(5) for up in (True, False) for t in (targets if up else targets[::-1])]
shown = [
    Approach(target=t, up=up, shown=mm(f"{round((t.mm * 1.00001 + chance.gauss(0, 0.0015)) / 0.005) * 0.005:.3f}"))
    for t, up in cycles
]
add(
    PositioningRun(
        id="x-pos-1",
        axis_id="axis-x",
        targets=tuple(targets),
        readings=tuple(shown),
        reference_id="kit-blocks",
        scale_c=19.0,
        reference_c=19.0,
    )
)
add(
    FeelRecord(
        id="x-steps", axis_id="axis-x", test="steps",
        values=tuple(mm(v) for v in ["0.024", "0.026", "0.025", "0.024", "0.027", "0.025", "0.024", "0.026"]),
    )
)  # fmt: skip

add(EveningPlan(id="evenings-1", tue=2, thu=2, sat=5))
add(TrialPart(id="trial-1", pattern="circle", holes=7, radius=mm("45"), start_deg=90, finder=mm("10")))

later(days=4)
add(
    PowerFeed(
        id="feed-x", axis_id="axis-x", shaft=mm("18"), shaft_length=mm("58"), shaft_key=mm("6"), end_thread=mm("11.95"),
        end_pitch=mm("1.75"), gear_bore=mm("22.225"), gear_key=mm("6.35"), gear_teeth=36, gear_outside=mm("75.9"),
        gear_face=mm("16"), unit_teeth=18, unit_outside=mm("39.95"), volts=230, shop_volts=230,
        phases="1", shop_phases="1", hertz=50, shop_hertz=50, nut="M12x1.75", dial="no", wheel="no",
        rim=mm("180"), hole_thread="M8", hole_across=mm("84"), hole_up=mm("40"), kit_across=mm("82.5"),
        kit_up=mm("40"), kit_hole=mm("9"), switch_across=mm("30"),
        switch_kit=mm("31.5"), switch_hole=mm("4.5"), switch_thread="M4", old_bracket=mm("18"), kit_bracket=mm("24"), table_end=mm("85"),
        unit_long=mm("110"), unit_wide=mm("150"), unit_high=mm("190"), bracket="replace", end="low", bearing=mm("42"),
        bearing_width=mm("12"), screw_below=mm("45"), pattern_y=mm("-31"), unit_across=mm("70"), unit_up=mm("30"),
        slow_rpm=10, fast_rpm=160, rapid_rpm=240, wanted=mm("0.12"), drive_near=mm("54.5"), drive_far=mm("70.5"),
        unit_near=mm("54"), unit_far=mm("70"), turns_free="yes", earthed="yes",
    )
)  # fmt: skip
for n, (name, kept, back) in enumerate(
    (
        ("handwheel, left", "shelf 3, red box", "key upward, nut, 40 Nm"),
        ("bearing bracket with two M8", "shelf 3, red box", "two dowels first"),
    ),
    1,
):
    add(RemovedPart(id=f"removed-x-{n}", axis_id="axis-x", name=name, kept=kept, back=back))
turned = Rework(id="made-x-1", axis_id="axis-x", figure="coupler", how="turned, keyway shaped", minutes=130)
so_far = Job(job.entities)
axis_x = next(a for a in so_far.axes() if a.name == "X")
kit = feed_of(so_far, axis_x)
assert kit is not None
add(turned.with_(made_to=made_now(so_far, axis_x, kit, "coupler")))
add(
    Rework(
        id="made-x-2",
        axis_id="axis-x",
        figure="switch_kit",
        before=mm("31.5"),
        after=mm("30.2"),
        how="filed",
        minutes=25,
    )
)
add(MeshTrial(id="mesh-x-1", axis_id="axis-x", shim=mm("0.5"), paper="loose", backlash=mm("0.31"), noise="clatters"))
add(MeshTrial(id="mesh-x-2", axis_id="axis-x", shim=mm("0.5"), paper="rolls", backlash=mm("0.14"), noise="quiet"))
add(RunOnTest(id="run-x-1", axis_id="axis-x", way="up", speed="slow", tripped=mm("340"), stood=mm("340.4")))
add(RunOnTest(id="run-x-2", axis_id="axis-x", way="up", speed="rapid", tripped=mm("340"), stood=mm("344.6")))
note(
    "x",
    "Feed: coupler turned, switch plate filed, bracket still to be bored. Mesh agrees at the second trial; rapid only tried upward.",
)

later(days=3)
y_at = "69 113 156 200 244 287 331"
y_screws = {"screw_left": mm("10"), "screw_right": mm("390")}
sweep("y-edge-1", "y", "edge", y_at + " 69", "0 0 0.01 0.01 0.01 0.01 0.02 0", **y_screws)
sweep("y-face-1", "y", "face", y_at + " 69", "0 -0.06 -0.13 -0.20 -0.26 -0.33 -0.39 0.01", **y_screws)
note("y", "Standoffs shimmed 0.3 under the front one; both end screws snug.")
sweep("y-face-2", "y", "face", y_at, "0 0.016 0.034 0.046 0.063 0.078 0.096", division=mm("0.002"), **y_screws)
note("y", "Knock-off time. Face still out by a tenth; carry on at pass 2.")
note("w", "Knee: only measured once, tape against the column. The oil nipple low on the column must stay reachable.")

job.tick((
    ("isolate", ""), ("order", "two evenings lost over the plug: ask for the pin order first"), ("receive", ""),
    ("stops", "bumper 55, turned from an old bolt"), ("hold-X", ""), ("run-X", ""), ("mark-X", ""), ("reach-X", "the bracket key had to be cut short"), ("drill-X", ""), ("reader-X", ""), ("cover-X", ""),
    ("hold-Y", ""), ("run-Y", ""), ("mark-Y", ""), ("reach-Y", ""), ("drill-Y", ""),
))  # fmt: skip

job.write()
