"""Machines of the shop, as on a drawing: members, axes, metal, and what a person measures where on them.

Everything here is written from how such machines are built, in mm: x to the right, y away from the operator,
z up. Solids
are given with every axis at its low mark. Sizes are common practice, no source; each is up to 40 % off.
"""

from dataclasses import dataclass, field


@dataclass(frozen=True)
class Solid:
    """A piece of metal on a member."""

    name: str
    member: str
    low: tuple
    high: tuple
    own: bool = True
    """Whether it is the machine's own metal."""


@dataclass(frozen=True)
class Way:
    """An axis: which member runs on which, whither it grows, and how far it goes from mark to mark."""

    name: str
    moving: str
    still: str
    direction: str
    travel: float


@dataclass(frozen=True)
class FaceThere:
    """A face a scale can hang on: its plane and middle line, and how it lies.

    ``left`` is its end on the left of a person who looks at it (the lower one where it stands), ``along`` runs from
    there, ``up`` across it.
    """

    axis: str
    name: str
    member: str
    reader_member: str
    left: tuple
    along: str
    out: str
    length: float
    reader_hangs: str
    """Whether the reader's bracket goes ``down`` or ``up`` to its member."""


@dataclass
class MachineThere:
    """A machine as it stands in the shop."""

    kind: str
    ways: dict
    on: dict
    solids: list
    faces: list
    sizes: dict
    measured: dict = field(default_factory=dict)
    """By the words on the sheet: what rule or caliper would find."""
    minds: frozenset = frozenset()
    """Pairs of members that the operator himself keeps apart: the tool and the work."""


def _sizes(chance, nominal):
    return {name: size * chance.uniform(0.6, 1.4) for name, size in nominal.items()}


MILLS = {
    "knee-mill-turret": dict(table=1070, wide=230, thick=78, half=213, travel_y=300, saddle=80, knee=260, column=300,
    knee_mill=True, quill=True),
    "knee-mill-universal": dict(table=1100, wide=260, thick=85, half=220, travel_y=262, saddle=110, knee=260,
    column=300, knee_mill=True, quill=False),
    "bench-mill": dict(table=600, wide=180, thick=50, half=124, travel_y=175, saddle=55, knee=110, column=160,
    knee_mill=False, quill=False),
    "mini-mill": dict(table=390, wide=92, thick=36, half=84, travel_y=100, saddle=40, knee=70, column=100,
    knee_mill=False, quill=False),
    "round-column": dict(table=730, wide=210, thick=58, half=149, travel_y=190, saddle=60, knee=120, column=120,
    knee_mill=False, quill=True),
    "geared-head": dict(table=800, wide=210, thick=62, half=162, travel_y=190, saddle=62, knee=130, column=180,
    knee_mill=False, quill=True),
}  # fmt: skip
LATHES = {
    "lathe-small": dict(bed=650, width=113, centre=90, carriage=89, travel_x=75, slide=48, quill=False),
    "lathe-mid": dict(bed=1300, width=208, centre=165, carriage=163, travel_x=180, slide=89, quill=True),
}


def a_machine(kind, chance):
    """One possible machine of a kind."""
    for _ in range(400):
        made = _mill(kind, chance) if kind in MILLS else _lathe(kind, chance)
        if made is not None:
            return made
    raise AssertionError(kind)


def _mill(kind, chance):
    told = MILLS[kind]
    s = _sizes(chance, {k: v for k, v in told.items() if not isinstance(v, bool)} | {
        "wheel_gap": 60, "wheel_thick": 50, "wheel": 170, "head_high": 170, "head_wide": 190, "head_front": 120,
        "nose": 70,
        "quill_across": 84, "beyond": 10, "cross": 170,
    })  # fmt: skip
    long, wide, thick, half = s["table"], s["wide"], s["thick"], s["half"]
    clear_x = chance.uniform(4, 90)
    tx = 2 * (long / 2 + s["wheel_gap"] - half - clear_x)
    ty, gap_table = s["travel_y"], chance.uniform(2, 70)
    saddle_back = wide / 2 * chance.uniform(0.75, 1.1)
    gap_saddle = wide / 2 + gap_table - saddle_back
    if not (0.3 * long < tx < long and gap_saddle >= 3 and half - s["beyond"] > 40):
        return None
    # At mid travel the spindle stands over the middle of the table; y 0 is the spindle.
    column_front = wide / 2 + ty / 2 + gap_table
    base_front = -saddle_back - ty / 2 - chance.uniform(20, 100)
    cross_back = base_front - chance.uniform(20, 80)
    body = "knee" if told["knee_mill"] else "base"
    column = "column" if told["knee_mill"] else "base"
    tw, tz = 400 * chance.uniform(0.7, 1.3), (127 if told["quill"] else 1.2 * ty) * chance.uniform(0.8, 1.3)
    low_x, low_y = -tx / 2, -ty / 2
    saddle_top, base_top = -thick, -thick - s["saddle"]
    base_bottom = base_top - s["knee"]
    wheel_z = -thick / 2
    head_over = chance.uniform(380, 620) if told["knee_mill"] else chance.uniform(90, 420)
    column_up = head_over + s["head_high"] * chance.uniform(0.6, 1.6) + (0 if told["quill"] else tz)
    lift = 0.0  # the drawing shows the knee at its low mark: the table's top is z 0 there

    def on_table(x, y, z):
        return (x[0] + low_x, y[0] + low_y, z[0]), (x[1] + low_x, y[1] + low_y, z[1])

    def on_saddle(x, y, z):
        return (x[0], y[0] + low_y, z[0]), (x[1], y[1] + low_y, z[1])

    w, r = s["wheel_thick"], s["wheel"] / 2
    near = long / 2 + s["wheel_gap"]
    solids = [
        Solid("table", "table", *on_table((-long / 2, long / 2), (-wide / 2, wide / 2), (-thick, 0))),
        Solid("left handwheel", "table", *on_table((-near - w, -near), (-r, r), (wheel_z - r, wheel_z + r))),
        Solid("right handwheel", "table", *on_table((near, near + w), (-r, r), (wheel_z - r, wheel_z + r))),
        Solid("saddle", "saddle", *on_saddle((s["beyond"] - half, half - s["beyond"]), (-saddle_back, saddle_back),
        (base_top, saddle_top))),
        Solid(body, body, (-half, base_front, base_bottom), (half, column_front, base_top)),
        Solid("cross handwheel", body, (-s["cross"] / 2, cross_back - w, base_top - 60 - s["cross"] / 2),
        (s["cross"] / 2, cross_back, base_top - 60 + s["cross"] / 2)),
        Solid("column", column, (-s["column"] / 2, column_front, base_bottom - 200), (s["column"] / 2,
        column_front + 120, lift + column_up)),
    ]  # fmt: skip
    head_back = 140 if told["quill"] or told["knee_mill"] else column_front - 20
    solids.append(Solid("head", "head", (-s["head_wide"] / 2, -s["head_front"], head_over), (s["head_wide"] / 2,
    head_back, head_over + s["head_high"])))  # fmt: skip
    ways = {
        "X": Way("X", "table", "saddle", "+x", tx),
        "Y": Way("Y", "saddle", body, "+y", ty),
    }
    on = {"saddle": (body, "Y"), "table": ("saddle", "X"), body: ("", ""), "head": (column, "")}
    if told["knee_mill"]:
        ways["W"] = Way("W", "knee", "column", "+z", tw)
        on |= {"knee": ("column", "W"), "column": ("", "")}
    if told["quill"]:
        q = s["quill_across"] / 2
        solids.append(Solid("quill nose", "quill", (-q, -q, head_over - s["nose"]), (q, q, head_over)))
        ways["Z"] = Way("Z", "quill", "head", "-z", tz)
        on["quill"] = ("head", "Z")
    elif not told["knee_mill"]:
        ways["Z"] = Way("Z", "head", "base", "+z", tz)
        on["head"] = ("base", "Z")
    faces = _mill_faces(chance, s, dict(
        body=body, low_x=low_x, low_y=low_y, base_front=base_front, column_front=column_front, base_top=base_top,
        half=half,
        ways=ways, base_bottom=base_bottom, head_over=head_over, column_up=column_up,
    ))  # fmt: skip
    nearer = "Handwheel to saddle or knee, table fully right" if told["knee_mill"] else "Handwheel to saddle or base, table fully right"  # fmt: skip
    name = "Knee" if told["knee_mill"] else "Base"
    measured = {
        "Table, length": long, "Table, width": wide, "Table, thickness": thick,
        "Table's end to the handwheel": s["wheel_gap"],
        "Handwheel, thickness": w, "Handwheel, diameter": 2 * r, nearer: clear_x, "Saddle, height": s["saddle"],
        f"{name} beyond the saddle, each side": s["beyond"], "Table to column, saddle fully back": gap_table,
        "Saddle to column, saddle fully back": gap_saddle,
        "Knee, front to back" if told["knee_mill"] else "Base, in front of the column": column_front - base_front,
        f"{name}, height": s["knee"], "Saddle to cross handwheel, saddle fully forward": -saddle_back - ty / 2 - cross_back,
        "Cross handwheel, diameter": s["cross"], "Column, width": s["column"],
        "Head, height": s["head_high"], "Head, width": s["head_wide"], "Head in front of the spindle": s["head_front"],
        "Spindle nose below the head": s["nose"],
    }  # fmt: skip
    # the knee or head fully down, as drawn; with the knee fully up the column stands lower over the table by its travel
    if told["knee_mill"]:
        measured |= {
            "Table to head, knee fully down": head_over,
            "Column above the table, knee fully up": column_up - tw,
        }
    else:
        over = "Table to head" if told["quill"] else "Table to head, head fully down"
        measured |= {over: head_over, "Column above the table": column_up}
    if told["quill"]:
        measured["Quill, diameter"] = s["quill_across"]
    work = {"table", "saddle", "knee", "base"} - {column}
    minds = frozenset(frozenset((a, b)) for a in ("head", "quill") for b in work)
    return MachineThere(kind, ways, on, solids, faces, s, measured, minds)


def _mill_faces(chance, s, at):
    long, wide, thick = s["table"], s["wide"], s["thick"]
    inset = chance.uniform(0.02, 0.05) * long
    x0, y0, z = at["low_x"], at["low_y"], -thick / 2
    down = at["base_top"] - chance.uniform(36, 48)
    start, end = at["base_front"] + chance.uniform(10, 20), at["column_front"] - chance.uniform(8, 16)
    name = "knee" if at["body"] == "knee" else "base"
    faces = [
        FaceThere("X", "behind the table", "table", "saddle", (long / 2 - inset + x0, wide / 2 + y0, z), "-x", "+y",
        long - 2 * inset, "down"),
        FaceThere("X", "in front of the table", "table", "saddle", (-long / 2 + inset + x0, -wide / 2 + y0, z), "+x",
        "-y", long - 2 * inset, "down"),
        FaceThere("Y", f"right flank of the {name}", at["body"], "saddle", (at["half"], start, down), "+y", "+x",
        end - start, "up"),
        FaceThere("Y", f"left flank of the {name}", at["body"], "saddle", (-at["half"], end, down), "-y", "-x",
        end - start, "up"),
    ]  # fmt: skip
    if "Z" in at["ways"] and at["ways"]["Z"].moving == "head":
        for side, sign in (("right", 1), ("left", -1)):
            left = (sign * s["column"] / 2, at["column_front"] + 30, -40)
            faces.append(
                FaceThere("Z", f"{side} side of the column", "base", "head", left, "+z", "+x" if sign > 0 else "-x",
                          at["column_up"] + 40 - 20, "down")
            )  # fmt: skip
    return faces


def _lathe(kind, chance):
    told = LATHES[kind]
    c, d = told["centre"], told["bed"]
    s = _sizes(chance, {
        "bed": d, "width": told["width"], "centre": c, "carriage": told["carriage"], "front": 0.9 * c,
        "back": 0.765 * c,
        "high": 0.45 * c, "slide": told["slide"], "slide_high": 0.3 * c, "chuck": 60, "chuck_across": 1.2 * c,
        "head_wide": 1.8 * c, "head_high": 2 * c, "tail": 180, "tail_high": 1.5 * c, "post": 0.35 * c, "apron": 120,
        "slide_front": 0.81 * c, "slide_back": 0.54 * c, "guard": 105,
    })  # fmt: skip
    tx = told["travel_x"] * chance.uniform(0.6, 1.4)
    gap_chuck, gap_tail = chance.uniform(5, 60), chance.uniform(2, 30)
    head = 200.0
    tz = s["bed"] - head - s["chuck"] - gap_chuck - s["carriage"] - gap_tail - s["tail"]
    if tz < 0.25 * s["bed"] or s["slide"] > 0.8 * s["carriage"] or s["chuck_across"] > 1.9 * s["centre"]:
        return None
    # x 0 is the middle of the bed; the drawing shows the carriage at its headstock mark, the slide at its outer one
    left = -s["bed"] / 2 + head + s["chuck"] + gap_chuck
    right, mid = left + s["carriage"], left + s["carriage"] / 2
    y0, top = -tx / 2, s["high"]
    tail = right + tz + gap_tail
    bed_back = s["width"] / 2
    guard = s["slide_back"] + tx / 2 + s["guard"]
    chuck = s["chuck_across"] / 2
    slide_x, centre = (mid - s["slide"] / 2, mid + s["slide"] / 2), s["centre"]
    solids = [
        Solid("bed", "bed", (-s["bed"] / 2, -bed_back, -250), (s["bed"] / 2, bed_back, 0)),
        Solid("headstock", "bed", (-s["bed"] / 2, -s["head_wide"] / 2, 0), (-s["bed"] / 2 + head, s["head_wide"] / 2,
        s["head_high"])),
        Solid("chuck", "bed", (left - gap_chuck - s["chuck"], -chuck, centre - chuck), (left - gap_chuck, chuck,
        centre + chuck)),
        Solid("splash guard", "bed", (-s["bed"] / 2, guard, -100), (s["bed"] / 2, guard + 15, 500)),
        Solid("tailstock", "tailstock", (tail, -0.5 * told["centre"], 0), (tail + s["tail"], 0.5 * told["centre"],
        s["tail_high"])),
        Solid("carriage", "carriage", (left, -s["front"], 0), (right, s["back"], top)),
        Solid("apron handwheel", "carriage", (mid - 0.36 * told["centre"], -s["front"] - s["apron"], -120),
        (mid - 0.09 * told["centre"], -s["front"] - s["apron"] + 50, 0)),
        Solid("cross slide", "cross slide", (slide_x[0], -s["slide_front"] + y0, top), (slide_x[1],
        s["slide_back"] + y0, top + s["slide_high"])),
        Solid("toolpost", "cross slide", (mid - 37, -s["slide_front"] * 0.7 + y0, top + s["slide_high"]), (mid + 37,
        y0, top + s["slide_high"] + s["post"])),
    ]  # fmt: skip
    ways = {
        "X": Way("X", "cross slide", "carriage", "+y", tx),
        "Z": Way("Z", "carriage", "bed", "+x", tz),
    }
    on = {"bed": ("", ""), "carriage": ("bed", "Z"), "cross slide": ("carriage", "X"), "tailstock": ("bed", "slid")}
    if told["quill"]:
        ways["T"] = Way("T", "tailstock quill", "tailstock", "-x", 120 * chance.uniform(0.7, 1.3))
        on["tailstock quill"] = ("tailstock", "T")
    slide_long = s["slide_front"] + s["slide_back"]
    z_slide = top + s["slide_high"] * chance.uniform(0.6, 0.8)
    faces = [
        FaceThere("X", "tailstock side of the cross slide", "cross slide", "carriage", (slide_x[1],
        -s["slide_front"] + 3 + y0, z_slide), "+y", "+x", slide_long - 7, "down"),
        FaceThere("X", "headstock side of the cross slide", "cross slide", "carriage", (slide_x[0],
        s["slide_back"] - 4 + y0, z_slide), "-y", "-x", slide_long - 7, "down"),
        FaceThere("Z", "rear of the bed", "bed", "carriage", (s["bed"] / 2 - 0.12 * s["bed"], bed_back, -60), "-x",
        "+y", 0.78 * s["bed"], "up"),
        FaceThere("Z", "front of the bed, under the ways", "bed", "carriage", (-s["bed"] / 2 + 0.12 * s["bed"],
        -bed_back, -40), "+x", "-y", 0.78 * s["bed"], "up"),
    ]  # fmt: skip
    measured = {
        "Carriage, along the bed": s["carriage"], "Carriage in front of the centre line": s["front"],
        "Carriage behind the centre line": s["back"], "Carriage, height above the ways": top,
        "Centre height above the bed": centre,
        "Chuck to carriage, carriage fully left": gap_chuck, "Chuck, length": s["chuck"],
        "Chuck, diameter": s["chuck_across"],
        "Headstock, width": s["head_wide"], "Headstock, height above the bed": s["head_high"],
        "Carriage to tailstock, carriage fully right": gap_tail, "Tailstock, length": s["tail"],
        "Tailstock, height above the bed": s["tail_high"], "Bed, length of the ways": s["bed"],
        "Carriage to the end of the bed, carriage fully right": s["bed"] / 2 - right - tz,
        "Bed, width": s["width"],
        "Cross slide, along the bed": s["slide"], "Cross slide in front of the centre line, in mid travel": s["slide_front"],
        "Cross slide behind the centre line, in mid travel": s["slide_back"], "Cross slide, height": s["slide_high"],
        "Cross slide to splash guard, slide fully back": s["guard"], "Toolpost above the cross slide": s["post"],
        "Apron handwheel, from the carriage's front": s["apron"],
    }  # fmt: skip
    minds = frozenset({frozenset(("cross slide", "tailstock")), frozenset(("carriage", "tailstock")),
                       frozenset(("carriage", "tailstock quill")),
                       frozenset(("cross slide", "tailstock quill"))})  # fmt: skip
    return MachineThere(kind, ways, on, solids, faces, s, measured, minds)
