"""What is so in the shop, all from one seed: machine, kits, what really arrives, displays, tools and people."""

import random
from dataclasses import dataclass, field

from tests.shop.things.display import Display
from tests.shop.things.drawing import LATHES, MILLS, MachineThere, a_machine

FAMILIES = {
    "glass-standard": dict(sizes=range(50, 1001, 50), section=(50, 30), reader=(100, 32, 38), end=62, count=5),
    "glass-slim": dict(sizes=range(50, 551, 50), section=(33, 23), reader=(90, 26, 28), end=50, count=5),
    "glass-micro": dict(sizes=range(50, 351, 50), section=(22, 20), reader=(70, 22, 24), end=42, count=5),
    "thin-housing": dict(sizes=range(200, 1201, 100), section=(25, 14), reader=(55, 18, 18), end=12, count=5, cut=True),
    "tape": dict(sizes=(), section=(10, 2), reader=(40, 16, 16), end=0, count=5, cut=True, tape=True),
}  # fmt: skip
"""Kinds of scale a shop buys: sizes sold, section, reader (long, tall, deep), end piece; common practice, no source."""


@dataclass
class Kit:
    """A scale as it is in the box, and as it is chosen to hang."""

    axis: str
    family: str
    face: str
    section: tuple
    reader: tuple
    end: float
    off_size: float
    """How much longer its measuring length is than the size it was sold as."""
    bracket: tuple
    count_um: float
    there_mm: float = 0.0
    """Its measuring length where it hangs there already."""
    came_mm: float = 0.0
    """Its measuring length as it arrived, not cut yet."""
    first_face: str = ""
    """A face that was thought of first."""

    @property
    def told(self):
        return FAMILIES[self.family]

    @property
    def tape(self):
        return bool(self.told.get("tape"))


@dataclass
class Truth:
    """One shop and one job."""

    seed: int
    kind: str
    units: str
    machine: MachineThere
    scope: dict
    kits: dict
    displays: dict
    give_up: dict
    wanted_mm: dict
    tool_mm: float
    rooms: set
    gap_mm: dict = field(default_factory=dict)
    """The reader's gap that is wanted, where its maker says another than is usual: (least, greatest)."""

    def chance(self, what):
        """Chance of its own for each thing, so that one thing asked more doesn't change another."""
        return random.Random(f"{self.seed}/{what}")


def a_truth(seed):
    """The truth of a seed."""
    chance = random.Random(f"truth {seed}")
    kind = chance.choice(sorted(MILLS) * 2 + sorted(LATHES) * 3)
    machine = a_machine(kind, chance)
    units = chance.choice(("mm", "in"))
    on_faces = {}
    for face in machine.faces:
        on_faces.setdefault(face.axis, []).append(face)
    fit = [a for a in on_faces if chance.random() < 0.75] or [chance.choice(sorted(on_faces))]
    scope = dict.fromkeys(machine.ways, ("none", "none")) | dict.fromkeys(fit, ("new", "none"))
    if chance.random() < 0.2:
        scope[chance.choice(fit)] = ("there", "none")
    kits = {a: _kit(chance, machine, a, on_faces[a], scope[a][0]) for a in fit}
    kits = {a: k for a, k in kits.items() if k is not None}
    first = {}
    for kit in kits.values():  # what is sold under one name is one size
        kit.section, kit.reader = first.setdefault(kit.family, (kit.section, kit.reader))
    for a in fit:
        if a not in kits:
            scope[a] = ("none", "none")
    if not kits:
        return a_truth(seed + 1_000_000)
    given = {}
    for a in kits:
        if chance.random() < 0.25 and scope[a][0] == "new":
            given[a] = (
                chance.choice(("low", "high")),
                machine.ways[a].travel * chance.uniform(0.03, 0.2),
                chance.choice(("stop", "stop", "driven")),
            )
    rooms = {
        r
        for r, p in (("align", 0.5), ("display", 0.7), ("joint", 0.5), ("twice", 0.4), ("gap", 0.3), ("cable", 0.3))
        if chance.random() < p
    }
    new = all(scope[a][0] == "new" and not k.tape for a, k in kits.items())
    if new and chance.random() < 0.5:
        rooms = rooms - {"joint", "cable"} | {"align", "display", "gap", "finish"}
    feeds = [a for a in ("X", "Z") if a in machine.ways and machine.ways[a].direction[1] == "x"]
    if feeds and "finish" not in rooms and chance.random() < 0.35:
        scope[feeds[0]] = (scope[feeds[0]][0], "new")
    displays = {a: _display(chance, k, kind, a, units) for a, k in kits.items()}
    wanted = {a: chance.choice((0.01, 0.02, 0.03, 0.05)) for a in kits}
    if "finish" in rooms:  # nobody can prove what a display is too coarse to show
        wanted = {a: max(w, 5 * displays[a].step_mm) for a, w in wanted.items()}
    gaps = {a: (0.48, 0.53) for a in kits if chance.random() < 0.4}
    return Truth(
        seed, kind, units, machine, scope, kits, displays, given, wanted, chance.choice((0.2, 0.5)), rooms, gaps
    )


def _kit(chance, machine, axis, faces, readout):
    travel = machine.ways[axis].travel
    fits = [f for f, told in FAMILIES.items() if told.get("tape") or max(told["sizes"]) >= travel + 25]
    chance.shuffle(fits)
    for family in fits:
        told = FAMILIES[family]
        chosen = list(faces)
        chance.shuffle(chosen)
        for face in chosen:
            size = travel + 70 if not told["sizes"] else min((s for s in told["sizes"] if s >= travel + 22), default=0)
            if size and size + 2 * told["end"] * 1.1 <= face.length:
                section = tuple(s * chance.uniform(0.85, 1.2) for s in told["section"])
                reader = tuple(s * chance.uniform(0.85, 1.2) for s in told["reader"])
                reach = _to_member(machine, face, section, reader) + chance.uniform(8, 25)
                bracket = (reader[0] * chance.uniform(0.9, 1.5), reach, chance.uniform(5, 14))
                end = told["end"] * chance.uniform(0.95, 1.05)
                kit = Kit(axis, family, face.name, section, reader, end, chance.uniform(0, 1.5), bracket, told["count"])
                kit.first_face = chosen[-1].name
                if readout == "there":
                    kit.there_mm = size + kit.off_size + (kit.reader[0] if kit.tape else 0)
                return kit
    return None


def _to_member(machine, face, section, reader):
    """How far the reader's bracket goes across the scale until it lies beside the member it is screwed to."""
    across = next(c for c in range(3) if c not in ("xyz".index(face.along[1]), "xyz".index(face.out[1])))
    member = next(s for s in machine.solids if s.member == face.reader_member)
    middle, high = face.left[across], section[0] / 2
    if face.reader_hangs == "up":
        return max(high * 2 + reader[1], member.low[across] - (middle - high - reader[1]))
    edge = member.high[across] if across == 2 else member.high[1]
    return max(reader[1], (middle - high) - edge)


def _display(chance, kit, kind, axis, units):
    per = "in" if units == "in" or chance.random() < 0.3 else "mm"
    nominal = 1000 / kit.count_um * (25.4 if per == "in" else 1)
    way = chance.choice(("counts", "counts", "multiplier", "pair", "ppm"))
    wrong = chance.choice((1, 1, 1, 2, 0.5, 10, 0.1, 5)) if way == "counts" else 1
    doubles = kind in LATHES and axis == "X" and chance.random() < 0.7
    return Display(
        per=per, counts=nominal * wrong, true_count_um=kit.count_um * (1 + chance.gauss(0, 60e-6)), way=way,
        step_mm=chance.choice((0.001, 0.005, 0.005, 0.01)), doubles=doubles, reversed=chance.random() < 0.4,
        wave_mm=chance.uniform(0, 0.0015),
    )  # fmt: skip
