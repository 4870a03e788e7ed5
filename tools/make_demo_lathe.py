"""Writes the demo job of the lathe, in inches: an invented toolroom lathe in the museum harbour's workshop.

Every figure is invented. Run: .venv/bin/python tools/make_demo_lathe.py > src/vernus/data/demo/lathe.json
"""

import itertools
from datetime import datetime

from demo_job import DemoJob

from vernus.job.catalog.shipped import machine_kind
from vernus.job.catalog.templates import template_entities
from vernus.job.entities import (
    Axis,
    AxisSetting,
    CalibrationRun,
    Check,
    Compensation,
    Delivery,
    Display,
    Face,
    GapCheck,
    IndicatorKit,
    JobInfo,
    Machine,
    Measure,
    ReaderSetting,
    ScalePlan,
)

job = DemoJob(datetime(2026, 10, 24, 9, 0), "in")
add, inch, thou, note = job.add, job.length, job.fine, job.note

add(
    JobInfo(
        id="job", title="Toolroom lathe, readout", workshop="Workshop of the museum harbour at Krabbensiel",
        units="in", room_c=18.0,
    )
)  # fmt: skip
_number = itertools.count(1)
fitted = {"X": "new", "Z": "new", "T": "own"}
wanted = {"X": "1 thou", "Z": "2 thou", "T": "5 thou"}
axis_of: dict[str, str] = {}
TAKEN = {"slide_front": "7-1/2", "slide_back": "5-1/8", "tail_gap": "0.47", "carriage_length": "6-7/16"}
for part in template_entities(machine_kind("lathe-mid"), "Long Wubbo, toolroom lathe", lambda: f"part-{next(_number)}"):
    kept = part
    if isinstance(part, Machine):
        kept = part.model_copy(update={"id": "machine"})
    elif isinstance(part, Axis):
        axis_of[part.id] = f"axis-{part.name.lower()}"
        changes = {
            "id": axis_of[part.id],
            "machine_id": "machine",
            "accuracy": inch(wanted[part.name]),
            "readout": fitted[part.name],
        }
        kept = part.model_copy(update=changes)
    elif isinstance(part, Face):
        kept = part.model_copy(update={"axis_id": axis_of[part.axis_id]})
        if part.name == "tailstock side of the cross slide":
            changes = {"id": "face-x", "length": inch("12-3/8"), "y": inch("-7-3/8"), "flat": "machined"}
            kept = kept.model_copy(update=changes)
        if part.name == "rear of the bed":
            kept = kept.model_copy(update={"id": "face-z"})
    elif isinstance(part, Measure) and part.key in TAKEN:
        kept = part.model_copy(update={"value": inch(TAKEN[part.key])})
    add(kept)

note("", "Isolator off and the key on the nail. Chuck off, board over the ways; ways and rack brushed clean.")
job.survey("x", "caliper", "0.001", "7.085 7.083")
job.survey("x", "tape", "1/32", "7-3/32 7-1/16")
job.survey("z", "tape", "1/32", "31-1/2 31-17/32")
note("t", "Quill: the last half inch throws the drill chuck out, so only the useful travel counts.")
add(
    ScalePlan(
        id="scale-x", axis_id="axis-x", family="glass-micro", margin=inch("3/8"), face=inch("12-3/8"),
        measuring=inch("200 mm"), face_id="face-x", price=88,
    )
)  # fmt: skip
add(
    ScalePlan(
        id="scale-z", axis_id="axis-z", family="glass-standard", margin=inch("3/8"), face=inch("40-5/32"),
        measuring=inch("850 mm"), scale_on="still", face_id="face-z", price=124,
    )
)  # fmt: skip
add(
    Display(
        id="display", axes=3, digits=7, functions="radius/diameter, mm/inch", signal="square wave, 9-pin plug",
        place="on the headstock, out of the way of the belt cover", side="left", reach=inch("12"), price=150,
    )
)  # fmt: skip
note("x", "Tailstock side it is: clean there. The oil ball stays free; the tailstock is kept 2 off by a stop collar.")
add(
    Delivery(
        id="delivery-x", axis_id="axis-x", measuring=inch("200 mm"), overall=inch("11.14"), hole_from_end=inch("0.24"),
        reader=inch("2.5"), cable=inch("98"), keep="clips in the tin with the lathe's change gears",
        came=("fitting kit and screws", "gap clips", "certificate", "reader's bracket", "earth strap", "cover"),
    )
)  # fmt: skip
add(IndicatorKit(id="kit-1", name="lever, tenths", division=thou("0.1"), range=thou("8"), sense="toward", lever_deg=12))
add(IndicatorKit(id="kit-2", name="plunger, thou", division=thou("1"), range=inch("1")))
job.later(days=3)
at = "1.2 2.37 3.54 4.71 5.88 7.05 8.2"
screws = {"screw_left": inch("0.5"), "screw_right": inch("10.6")}
job.sweep("x-face-1", "x", "face", at + " 1.2", "0 1 2 2.5 3.5 4.5 5 0", division=thou("1"), **screws)
note("x", "Shim of 6 thou under the front end pad, screws in two goes.")
fine = {"division": thou("0.1"), **screws}
job.sweep("x-face-2", "x", "face", at + " 1.2", "0 0.1 0.1 0.2 0.2 0.3 0.3 0", **fine)
job.sweep("x-edge-1", "x", "edge", at + " 1.2", "0 0 0.1 0 0.1 0.1 0.1 0", **fine)
for n, place in enumerate(("0", "3.5", "7.08"), 1):
    add(GapCheck(id=f"gap-{n}", axis_id="axis-x", station=inch(place), go=inch("0.018"), no_go=inch("0.021")))
add(
    ReaderSetting(
        id="reader-x", axis_id="axis-x", spare_low=inch("0.39"), spare_high=inch("0.4"), as_built=inch("7.084"),
        push=thou("0.2"), centred="yes", marks="yes", clips="yes", wipers="yes", cover="yes",
    )
)  # fmt: skip
note("x", "Clips off, gap even by feeler. Cover over the top edge, lips down.")
job.later(days=1)
run = {
    "axis_id": "axis-x", "reference": "micrometer heads and a 4 in length bar, indicator in tenths as zero", "per": "in",
    "u_reference": thou("0.05"), "step": thou("0.2"), "shows": "diameter",
}  # fmt: skip
checks = [
    Check(true=inch(t), shown=inch(s)) for t, s in (("1", "1.9996"), ("2", "4"), ("4", "8.0004"), ("6", "12.0004"))
]
add(CalibrationRun.model_validate({"id": "x-run-1", "set_counts": 5080.0, "checks": checks, **run}))
add(Compensation(id="x-key-1", axis_id="axis-x", run_id="x-run-1", method="counts", value=5080.0, per="in"))
add(AxisSetting(id="setting-x", axis_id="axis-x", counts=5080.0, per="in", resolution=thou("0.2"), shows="diameter"))
note("x", "Display set to diameter for X: a cut of 10 thou on the dial takes 20 off the bar, and the display says so.")
job.later(days=4)
job.sweep("z-face-1", "z", "face", "4 9.2 14.4 19.6 24.8 30 35.2", "0 6 11 17", division=thou("1"),
          screw_left=inch("0.7"), screw_right=inch("37.6"))  # fmt: skip
note("z", "Bed casting is drafted at the back; body on two jacking plates. Ferry horn: stopped half way through.")

job.tick((
    ("isolate", ""), ("order", ""), ("receive", ""), ("hold-X", ""), ("run-X", ""), ("mark-X", ""), ("reach-X", ""),
    ("drill-X", "magnet and rag over the ways"), ("reader-X", ""), ("cover-X", ""), ("hold-Z", ""), ("run-Z", ""),
))  # fmt: skip

job.write()
