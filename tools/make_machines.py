"""Writes the machine templates: invented, plausible sizes that every user replaces by measuring.

Coordinates: x to the right, y away from the operator, z up; on mills z = 0 is the table's top with every axis at 0.
Run: .venv/bin/python tools/make_machines.py > src/vernus/data/machines.json
"""

import json
import sys


def box(name, member, x, y, z, role="solid", why=""):
    low, high = [x[0], y[0], z[0]], [x[1], y[1], z[1]]
    return {"name": name, "member": member, "min_mm": low, "max_mm": high, "role": role, "why": why}


def face(axis, name, member, reader, at, along, out, length, **more):
    rest = {"flat": "painted", "exposure": "1", "holes": 4, "parts": 2, "bracket": "down", "separate": "no", "note": ""}
    start = {"axis": axis, "name": name, "member": member, "reader_member": reader, "at_mm": list(at)}
    return {**start, "along": along, "out": out, "length_mm": length, **rest, **more}


def axis(name, label, moving, still, direction, travel, scale_on, home="mid", lead=5, readout="new"):
    return {
        "name": name, "label": label, "moving": moving, "still": still, "direction": direction, "travel_mm": travel,
        "scale_on": scale_on, "home": home, "lead_mm": lead, "readout": readout,
    }  # fmt: skip


def mill(ident, label, table, travel, gap, kind, saddle=80, rise=260, quill=0, head_axis=None, column=300):
    """One mill; ``table`` = length, width, thickness; ``gap`` = table to column with Y at its far end."""
    long, wide, thick = table
    half, side = long / 2, wide / 2
    tx, ty, tz = travel
    back = side + ty / 2 + gap
    sx = round(long * 0.19)
    knee = kind == "knee"
    under = "knee" if knee else "base"
    nose = tz / 2 + 60 if knee else (tz / 2 + 40 if head_axis else 330)
    z_saddle, z_under = -thick, -thick - saddle
    front = -(side + ty / 2 + 40)
    members = [{"id": "column" if knee else "base"}]
    root = members[0]["id"]
    if knee:
        members.append({"id": "knee", "on": "column", "axis": "W"})
    members += [{"id": "saddle", "on": under, "axis": "Y"}, {"id": "table", "on": "saddle", "axis": "X"}]
    members.append({"id": "head", "on": root, **({"axis": "Z"} if head_axis else {})})
    if quill:
        members.append({"id": "quill", "on": "head", "axis": "Z"})
    axes = [
        axis("X", "table, left and right", "table", "saddle", "+x", tx, "moving"),
        axis("Y", "saddle, in and out", "saddle", under, "+y", ty, "still"),
    ]
    if knee:
        axes.append(axis("W", "knee, up and down", "knee", "column", "+z", tz, "still", lead=2.5, readout="none"))
    if quill:
        usual = "none" if knee else "new"
        axes.append(
            axis("Z", "quill, up and down", "quill", "head", "-z", quill, "still", home="low", lead=0, readout=usual)
        )
    if head_axis:
        axes.append(axis("Z", "head, up and down", "head", root, "+z", tz, "still", lead=2))
    wheel = 55 if long < 500 else 85
    boxes = [
        box("table", "table", (-half, half), (-side, side), (-thick, 0)),
        box("left handwheel", "table", (-half - 110, -half - 60), (-wheel, wheel), (-thick / 2 - wheel, -thick / 2 + wheel)),
        box("right handwheel", "table", (half + 60, half + 110), (-wheel, wheel), (-thick / 2 - wheel, -thick / 2 + wheel)),
        box("saddle", "saddle", (-sx, sx), (-side + 5, side - 5), (z_under, z_saddle)),
        box(under, under, (-sx - 10, sx + 10), (front, back), (z_under - rise, z_under)),
        box("cross handwheel", under, (-wheel, wheel), (front - 140, front - 90), (z_under - 60 - wheel, z_under - 60 + wheel)),
        box("column", root, (-column / 2, column / 2), (back, back + 320), (z_under - rise - 200, nose + 250)),
        box("head", "head", (-95, 95), (-120, back - 20 if head_axis else 140), (nose + 70, nose + 240), "head"),
        box("table lock", "saddle", (-30, 30), (-side - 35, -side + 5), (z_saddle - 34, z_saddle - 4), "keep",
            "the table is locked while milling across"),
        box("saddle lock", "saddle", (sx, sx + 40), (-60, -20), (z_under + 15, z_under + 55), "keep",
            "the saddle is locked while milling along"),
        box("feed-trip stops", "table", (-half * 0.55, half * 0.55), (-side - 18, -side), (-thick + 8, -thick / 2 + 4), "keep",
            "the power feed trips on them"),
        box("table gib screw", "saddle", (sx, sx + 28), (-12, 12), (z_saddle - 30, z_saddle - 6), "keep",
            "the gib is adjusted there"),
        box("oil point", under, (-sx - 28, -sx - 10), (10, 40), (z_under - 70, z_under - 40), "keep",
            "the ways are oiled there every day"),
        box("T-slot ends", "table", (half, half + 55), (-side * 0.7, side * 0.7), (-24, 0), "keep",
            "T-nuts go in there"),
        box("drain hole", "table", (half - 70, half - 45), (side, side + 22), (-thick, -thick + 20), "keep",
            "coolant runs off there"),
    ]  # fmt: skip
    run = round(long * 0.94)
    low_y = front + 15
    faces = [
        face("X", "behind the table", "table", "saddle", (run / 2, side, -thick / 2), "-x", "+y", run, parts=3,
             note="Costs cross travel unless a bumper and the stops allow for it; clean and out of the way."),
        face("X", "in front of the table", "table", "saddle", (-run / 2, -side, -thick / 2), "+x", "-y", run, exposure="2",
             parts=4, holes=5, note="Keeps the cross travel; fights trips, stops, the table lock and the handwheel."),
        face("Y", f"right flank of the {under}", under, "saddle", (sx + 10, low_y, z_under - 42), "+y", "+x",
             round(back - low_y - 12), bracket="up", flat="machined"),
        face("Y", f"left flank of the {under}", under, "saddle", (-sx - 10, back - 12, z_under - 42), "-y", "-x",
             round(back - low_y - 12), bracket="up", note="The oil point is on this side."),
    ]  # fmt: skip
    if knee:
        faces += [
            face("W", "right side of the column", "column", "knee", (column / 2, back + 40, z_under - rise - 180), "+z", "+x",
                 tz + 260, parts=3, note="Clean; a long bracket from the knee."),
            face("W", "left side of the column", "column", "knee", (-column / 2, back + 40, z_under - rise - 180), "+z", "-x",
                 tz + 260, parts=3, exposure="0", note="Clean; mind the electrics on this side."),
        ]  # fmt: skip
    if quill:
        boxes.append(box("quill nose", "quill", (-42, 42), (-42, 42), (nose, nose + 70)))
        boxes.append(
            box(
                "quill lock",
                "head",
                (95, 135),
                (-60, -20),
                (nose + 90, nose + 130),
                "keep",
                "the quill is locked there",
            )
        )
        boxes.append(
            box(
                "depth stop",
                "head",
                (-80, -50),
                (-150, -120),
                (nose + 90, nose + 300),
                "keep",
                "the depth stop is set there",
            )
        )
        up = (nose + 80, quill + 130)
        faces += [
            face("Z", "head front, arm from the quill collar", "head", "quill", (62, -120, up[0]), "+z", "-y", up[1], parts=2,
                 holes=3, note="The collar rocks on its guide screw: a few hundredths to a tenth or two of false reading."),
            face("Z", "head front, arm freed from rotation", "head", "quill", (62, -120, up[0]), "+z", "-y", up[1], parts=5,
                 holes=5, note="A guide rod or a pivoting ring keeps the collar's rocking out of the reading."),
            face("Z", "separate quill scale with its own readout", "head", "quill", (62, -120, up[0]), "+z", "-y", up[1],
                 parts=1, holes=2, separate="yes", note="With a two-axis display; dry and clean, its own battery."),
        ]  # fmt: skip
    if head_axis:
        faces += [
            face("Z", "right side of the column", root, "head", (column / 2, back + 30, -40), "+z", "+x", tz + 260, parts=3,
                 note="Reads the head; misses the quill."),
            face("Z", "left side of the column", root, "head", (-column / 2, back + 30, -40), "+z", "-x", tz + 260, parts=3,
                 note="Reads the head; misses the quill."),
        ]  # fmt: skip
    minded = [["quill" if quill else "head", m] for m in ("table", "saddle", under)]
    if quill:
        minded += [["head", "table"], ["quill", "head"]]
    return {
        "id": ident, "label": label, "tool_mm": [0, 0, nose], "minded": minded, "members": members, "axes": axes,
        "boxes": boxes, "faces": faces,
    }  # fmt: skip


def lathe(ident, label, centres, height, cross, travel, tail=None):
    """One lathe; x runs along the bed, the headstock on the left."""
    bed, half = centres + 300, travel / 2
    w = height * 0.9
    stock = -half - 0.55 * w - 30
    end = half + 0.55 * w + 12
    members = [
        {"id": "bed"}, {"id": "carriage", "on": "bed", "axis": "Z"}, {"id": "cross slide", "on": "carriage", "axis": "X"},
        {"id": "tailstock", "on": "bed"},
    ]  # fmt: skip
    axes = [
        axis("X", "cross slide, in and out", "cross slide", "carriage", "+y", cross, "moving", lead=2.5),
        axis("Z", "carriage, along the bed", "carriage", "bed", "+x", travel, "still", lead=0),
    ]
    boxes = [
        box("bed", "bed", (-bed / 2, bed / 2), (-w * 0.7, w * 0.7), (-250, 0)),
        box("headstock", "bed", (stock - 260, stock - 60), (-w, w), (0, height * 2)),
        box("chuck", "bed", (stock - 60, stock), (-height * 0.6, height * 0.6), (height * 0.4, height * 1.6)),
        box("splash guard", "bed", (-bed / 2, bed / 2), (w * 0.7 + cross / 2 + 95, w * 0.7 + cross / 2 + 110), (-100, 500)),
        box("tailstock", "tailstock", (end, end + 180), (-w * 0.55, w * 0.55), (0, height * 1.5)),
        box("carriage", "carriage", (-0.55 * w, 0.55 * w), (-w, w * 0.85), (0, height * 0.45)),
        box("apron handwheel", "carriage", (-0.4 * w, -0.1 * w), (-w - 120, -w - 70), (-120, 0)),
        box("cross slide", "cross slide", (-0.3 * w, 0.3 * w), (-w * 0.9, w * 0.6), (height * 0.45, height * 0.75)),
        box("compound and toolpost", "cross slide", (-0.25 * w, 0.25 * w), (-w * 0.7, 0), (height * 0.75, height * 1.1)),
        box("carriage lock", "carriage", (0.2 * w, 0.4 * w), (-w * 0.95, -w * 0.8), (height * 0.45, height * 0.55), "keep",
            "the carriage is locked for facing"),
        box("cross-slide gib screws", "cross slide", (0.3 * w, 0.3 * w + 22), (-w * 0.3, -w * 0.2),
            (height * 0.5, height * 0.6), "keep", "the gib is adjusted there"),
        box("oil ball, cross slide", "cross slide", (0.3 * w, 0.3 * w + 14), (w * 0.1, w * 0.2), (height * 0.6, height * 0.7),
            "keep", "the screw is oiled there"),
        box("taper attachment face", "bed", (-half, half * 0.4), (w * 0.7, w * 0.7 + 20), (-60, -20), "keep",
            "a taper attachment would clamp there"),
        box("rack and lead screw", "bed", (-half, half), (-w * 0.7 - 45, -w * 0.7), (-100, -55), "keep",
            "the carriage runs on them and they are oiled there"),
        box("chuck key", "bed", (stock - 60, stock), (-height * 0.2, height * 0.2), (height * 1.6, height * 1.6 + 120), "keep",
            "the key goes in there"),
    ]  # fmt: skip
    z = round(height * 0.67)
    faces = [
        face("X", "tailstock side of the cross slide", "cross slide", "carriage", (0.3 * w, -w * 0.88, z), "+y", "+x",
             round(w * 1.45), exposure="1", parts=3, note="Clean; can cover oil holes and meet the tailstock."),
        face("X", "headstock side of the cross slide", "cross slide", "carriage", (-0.3 * w, w * 0.57, z), "-y", "-x",
             round(w * 1.45), exposure="3", parts=3, note="Where the chips fly."),
        face("Z", "rear of the bed", "bed", "carriage", (half + 110, w * 0.7, -60), "-x", "+y", travel + 220, parts=3,
             bracket="up", flat="rough", exposure="2", note="Behind the bed; the castings are drafted, chips fall there."),
        face("Z", "front of the bed, under the ways", "bed", "carriage", (-half - 110, -w * 0.7, -40), "+x", "-y", travel + 220,
             parts=4, bracket="up", exposure="2", note="Fights the apron, the rack and the lead screw."),
    ]  # fmt: skip
    if tail:
        members.append({"id": "tailstock quill", "on": "tailstock", "axis": "T"})
        axes.append(
            axis(
                "T",
                "tailstock quill",
                "tailstock quill",
                "tailstock",
                "-x",
                tail,
                "moving",
                home="low",
                lead=4,
                readout="none",
            )
        )
        boxes.append(
            box("tailstock handwheel", "tailstock", (end + 180, end + 240), (-60, 60), (height - 60, height + 60))
        )
        faces += [
            face("T", "on top of the tailstock", "tailstock", "tailstock quill", (end + 4, 0, height * 1.5), "+x", "+z", 176,
                 parts=3, bracket="up", note="The last of the travel ejects the tool: only the useful travel counts."),
            face("T", "separate scale on the tailstock", "tailstock", "tailstock quill", (end + 4, 0, height * 1.5), "+x", "+z",
                 176, parts=2, holes=2, bracket="up", separate="yes", note="Its own readout; keep it dry."),
        ]  # fmt: skip
    return {
        "id": ident, "label": label, "tool_mm": [0, 0, height], "minded": [["carriage", "bed"], ["cross slide", "bed"]],
        "members": members, "axes": axes, "boxes": boxes, "faces": faces,
    }  # fmt: skip


KINDS = [
    mill("knee-mill-turret", "Knee mill with turret head", (1070, 230, 78), (660, 300, 400), 30, "knee", quill=127),
    mill("knee-mill-universal", "Universal knee mill", (1100, 260, 85), (680, 262, 390), 34, "knee", saddle=110),
    mill("bench-mill", "Bench mill with dovetail column", (600, 180, 50), (400, 175, 330), 26, "bench", saddle=55, rise=110,
         head_axis="Z", column=160),
    mill("mini-mill", "Mini mill", (390, 92, 36), (220, 100, 210), 20, "bench", saddle=40, rise=70, head_axis="Z", column=100),
    mill("round-column", "Round-column mill-drill", (730, 210, 58), (475, 175, 0), 40, "bench", saddle=60, rise=120, quill=127,
         column=120),
    mill("geared-head", "Geared-head mill-drill", (800, 210, 62), (475, 190, 0), 36, "bench", saddle=62, rise=130, quill=130,
         column=180),
    lathe("lathe-small", "Small lathe", 350, 90, 75, 260),
    lathe("lathe-mid", "Mid-size lathe", 1000, 165, 180, 800, tail=120),
]  # fmt: skip

note = "Invented, plausible sizes; measure your own machine. What is usual where: common practice, no source."
parts = ",\n ".join(json.dumps(kind, ensure_ascii=False) for kind in KINDS)
sys.stdout.write('{"note": ' + json.dumps(note) + ', "kinds": [\n ' + parts + "\n]}\n")
