"""Writes the demo job: an invented museum harbour's workshop and its invented universal mill.

Every figure is invented. Run: .venv/bin/python tools/make_demo.py > src/vernus/data/demo/job.json
"""

import sys
from datetime import UTC, datetime, timedelta

from vernus.job.entities import (
    Axis,
    CalibrationRun,
    Check,
    Compensation,
    Entity,
    JobInfo,
    LogEntry,
    Machine,
    Reading,
    ScalePlan,
    Sweep,
    TravelSurvey,
)
from vernus.job.fields import LengthEntry
from vernus.job.formats.exchange import job_json

_now = datetime(2026, 10, 3, 8, 30, tzinfo=UTC)
entities: list[Entity] = []


def later(**by: float) -> None:
    """Let time pass."""
    global _now
    _now += timedelta(**by)


def add(entity: Entity) -> None:
    """Put an entity at the present moment."""
    later(minutes=4)
    text = _now.isoformat(timespec="microseconds")
    entities.append(entity.model_copy(update={"created": text, "changed": text}))


def mm(text: str) -> LengthEntry:
    return LengthEntry.read(text)


def note(axis: str, text: str) -> None:
    add(LogEntry(id=f"log-{len(entities)}", axis_id=axis and f"axis-{axis}", text=text))


def sweep(name: str, axis: str, plane: str, stations: str, readings: str, **more: object) -> None:
    places = [mm(s) for s in stations.split()]
    rows = [Reading(station=s, reading=mm(r)) for s, r in zip(places, readings.split(), strict=False)]
    add(
        Sweep.model_validate(
            {"id": name, "axis_id": f"axis-{axis}", "plane": plane, "stations": places, "readings": rows, **more}
        )
    )


def survey(axis: str, tool: str, division: str, readings: str) -> None:
    values = tuple(mm(r) for r in readings.split())
    add(
        TravelSurvey(
            id=f"travel-{axis}-{tool}", axis_id=f"axis-{axis}", tool=tool, division=mm(division), readings=values
        )
    )


add(
    JobInfo(
        id="job", title="Universal mill, readout", workshop="Workshop of the museum harbour at Krabbensiel", room_c=17.5
    )
)
add(Machine(id="machine", name="Big Agda, universal mill", machine_kind="knee-mill-universal"))
for name, label, moving, still, wanted in (
    ("X", "table, left and right", "table", "saddle", "0.03"),
    ("Y", "saddle, in and out", "saddle", "knee", "0.03"),
    ("W", "knee, up and down", "knee", "column", "0.05"),
):
    add(
        Axis(
            id=f"axis-{name.lower()}",
            machine_id="machine",
            name=name,
            label=label,
            moving=moving,
            still=still,
            accuracy=mm(wanted),
        )
    )

note("", "Isolator locked off, key on the nail. Table and ways wiped down; drain hole under the table kept free.")
survey("x", "tape", "1", "681 680")
survey("x", "caliper", "0.05", "680.40 680.55")
survey("y", "caliper", "0.02", "262.36 262.44")
survey("w", "tape", "1", "391")
add(
    ScalePlan(
        id="scale-x", axis_id="axis-x", family="glass-standard", margin=mm("10"), face=mm("900"), measuring=mm("750")
    )
)
add(
    ScalePlan(
        id="scale-y", axis_id="axis-y", family="glass-slim", margin=mm("10"), face=mm("365"), measuring=mm("300"),
        scale_on="still",
    )
)  # fmt: skip
note("x", "Scale behind the table, lips down. Bumper pillar turned, 22 high, stands proud of everything on that side.")
note("y", "The knee's left flank is 365 long between the gib screw and the oil nipple; body on end standoffs.")

later(days=6)
x_at = "97 210 324 437 550 664 777"
screws = {"screw_left": mm("9"), "screw_right": mm("865")}
sweep("x-face-1", "x", "face", x_at + " 97", "0 0.04 0.07 0.12 0.15 0.20 0.23 0.00", **screws)
note("x", "Right screw eased to the dial, then tightened in two goes.")
sweep("x-face-2", "x", "face", x_at + " 97", "0 0.002 0.005 0.005 0.008 0.010 0.012 0", division=mm("0.002"), **screws)
sweep("x-edge-1", "x", "edge", x_at + " 97", "0 -0.02 -0.03 -0.05 -0.06 -0.08 -0.09 0", **screws)
sweep("x-edge-2", "x", "edge", x_at + " 97", "0 0.002 0 0.004 0.002 0.004 0.006 0", division=mm("0.002"), **screws)
note("x", "Reader set by its clips, clips off, gap 0.5 by feeler at both ends and the middle.")

later(days=1, hours=-2)
run = {
    "axis_id": "axis-x",
    "reference": "gauge block stack 500, class 1, with a 0.001 indicator as zero",
    "per": "mm",
    "u_reference": mm("0.0015"),
}
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
add(CalibrationRun.model_validate({"id": "x-run-2", "method": "factor", "checks": checks, **run}))

later(days=7)
y_at = "69 113 156 200 244 287 331"
y_screws = {"screw_left": mm("10"), "screw_right": mm("390")}
sweep("y-edge-1", "y", "edge", y_at + " 69", "0 0 0.01 0.01 0.01 0.01 0.02 0", **y_screws)
sweep("y-face-1", "y", "face", y_at + " 69", "0 -0.06 -0.13 -0.20 -0.26 -0.33 -0.39 0.01", **y_screws)
note("y", "Standoffs shimmed 0.3 under the front one; both end screws snug.")
sweep("y-face-2", "y", "face", y_at, "0 0.016 0.034 0.046 0.063 0.078 0.096", division=mm("0.002"), **y_screws)
note("y", "Knock-off time. Face still out by a tenth; carry on at pass 2.")
note("w", "Knee: only measured once, tape against the column. The oil nipple low on the column must stay reachable.")

sys.stdout.write(job_json(entities) + "\n")
