"""Random jobs from a seed: random machines, scopes and edits on every kind of entity, most of them plausible."""

import random

from vernus.job.catalog.new_job import new_job_entities
from vernus.job.catalog.shipped import machine_kinds, scale_families
from vernus.job.document import Job, new_id
from vernus.job.entities import ENTITY_TYPES, Approach, Axis, Check, Face, Machine, Measure, Reading, SolidBox
from vernus.job.fields import LengthEntry, quantities

_LONG = {
    "travel": 400, "scale": 500, "delivery": 500, "sweep": 400, "calibration": 300, "positioning": 300, "feed": 30,
    "face": 600, "box": 300, "part": 60, "drilled": 30, "cable": 3000, "anchor": 400,
}  # fmt: skip
_WORDS = ("snug", "left hand", "see {note}", "<b>bold</b>", "50 % of it", "")
_THREADS = ("M5", "M6", "1/4-20", "no such thread")
_NUMBERS = {"shaft": 20, "gear_bore": 20, "gear_outside": 75, "gear_face": 18, "division": 0.01, "tolerance": 0.05}


class RandomJob:
    """A job, and edits of it; everything follows from the seed."""

    def __init__(self, seed):
        self.chance = random.Random(seed)
        kind = self.chance.choice(machine_kinds())
        readouts, drives = ("none", "new", "new", "there", "own"), ("none", "none", "new", "there")
        scope = {a.name: (self.chance.choice(readouts), self.chance.choice(drives)) for a in kind.axes}
        units = self.chance.choice(("mm", "in"))
        self.job = Job(new_job_entities("Random", kind, units=units, scope=scope))
        self._good = self.chance.random() < 0.5
        self._focus = self.chance.choice(self.job.axes()).id
        for _ in range(self.chance.randint(5, 70)):
            self.edit()

    def edit(self):
        """One accepted edit: an entity made, changed or dropped."""
        what = self.chance.random()
        entities = [e for e in self.job.entities() if not isinstance(e, Machine) and e.kind not in ("job", "axis")]
        if what < 0.08 and entities:
            self.job.apply("drop", drop=[self.chance.choice(entities).id])
        elif what < 0.3:
            self._change(self.chance.choice(self.job.entities()))
        else:
            kinds = [k for k in ENTITY_TYPES if k not in ("job", "machine", "axis", "box", "face", "family", "measure")]
            self._put(ENTITY_TYPES[self.chance.choice(kinds)])

    def _put(self, model):
        fields = {"id": new_id(), **self._links(model), **self._fields(model, 0.7)}
        if model.kind == "travel":
            travel = self.chance.choice((150, 262, 380, 700)) * (1 + self.chance.uniform(-0.001, 0.001))
            fields["readings"] = tuple(LengthEntry(mm=travel + self.chance.gauss(0, 0.1), text="r") for _ in range(3))
            fields["division"] = LengthEntry(mm=0.5, text="0.5")
        fields |= self._readings(model)
        self.job.apply(f"put {model.kind}", [model.model_validate(fields)])

    def _change(self, entity):
        fields = self._fields(type(entity), 0.2)
        if isinstance(entity, Axis):
            fields.pop("direction", None)
        if isinstance(entity, Measure):
            near = entity.value.mm * self.chance.uniform(0.7, 1.3)
            fields = {"value": LengthEntry(mm=near, text="m")}
        if isinstance(entity, SolidBox) and self.chance.random() < 0.9:
            fields = {}
        if entity.kind == "scale":
            fields |= self._links(type(entity)) | {"axis_id": entity.axis_id}
        self.job.apply(f"change {entity.kind}", [entity.with_(**fields)])

    def _links(self, model):
        names = model.model_fields
        links = {}
        known = self.job.get(self._focus) if self.chance.random() < 0.6 else self.chance.choice(self.job.axes())
        axis = known if isinstance(known, Axis) else self.job.axes()[0]
        if "axis_id" in names:
            links["axis_id"] = axis.id
        if "part_id" in names:
            parts = self.job.all(ENTITY_TYPES["part"])
            links["part_id"] = self.chance.choice(parts).id if parts else "none"
        if model.kind == "scale":
            faces = self.job.of_axis(Face, axis.id)
            face = self.chance.choice(faces).id if faces and self.chance.random() < 0.8 else ""
            links |= {"family": self.chance.choice(scale_families()).id, "face_id": face}
            links["measuring"] = LengthEntry(mm=float(self.chance.choice((200, 300, 400, 450, 750))), text="m")
        if model.kind == "compensation":
            links |= {"run_id": "none", "method": "counts", "value": 200.0}
        if model.kind == "step":
            links["key"] = self.chance.choice(("isolate", "order", "hold-X", "gone"))
        if model.kind == "photo":
            links |= {"picture": "0" * 32, "width": 400, "height": 300}
        if model.kind == "family":
            links["family"] = "tape"
        return links

    def _fields(self, model, share):
        made = {}
        for name, quantity in quantities(model).items():
            often = 0.97 if self._good and model.kind in ("reader", "powerup", "cable", "feed") else share
            if self.chance.random() > often or name in ("readings", "values"):
                continue
            value = self._value(model, name, quantity)
            if value is not None:
                made[name] = value
        return made

    def _value(self, model, name, quantity):
        if quantity.kind in ("length", "fine"):
            if self._good and model.kind == "powerup":
                return _entry(0.0)
            size = _NUMBERS.get(name, 0.05 if quantity.kind == "fine" else _LONG.get(model.kind, 40))
            mm = size * self.chance.lognormvariate(0, 0.6) * (-1 if self.chance.random() < 0.02 else 1)
            return LengthEntry(mm=round(mm, 3), text=f"{mm:.3f}" if self.chance.random() < 0.8 else "")
        if quantity.kind == "choice":
            declared = [v for v, _ in quantity.choices]
            if self._good and "yes" in declared and self.chance.random() < 0.97:
                return "yes"
            return self.chance.choice(declared) if declared else None
        if quantity.kind in ("number", "temperature"):
            low = 0.0 if quantity.low is None else quantity.low
            high = 100.0 if quantity.high is None else quantity.high
            value = round(low + (high - low) * self.chance.random(), 2)
            return high * 2 if self.chance.random() < 0.02 else value or None
        if "thread" in name:
            return self.chance.choice(_THREADS)
        return self.chance.choice(_WORDS)

    def _readings(self, model):
        """What is logged: sweeps, checks, cycles and feels, good ones and bad ones."""
        chance = self.chance
        if model.kind == "sweep":
            slope, noise = chance.choice((0, 0, 2e-4, 1e-3)), chance.choice((0, 0.002, 0.05))
            stations = tuple(LengthEntry(mm=20.0 + 50 * n, text=str(20 + 50 * n)) for n in range(7))
            lines = ("top", "bottom")
            rows = tuple(
                Reading(station=s, reading=LengthEntry(mm=round(slope * s.mm + chance.gauss(0, noise), 3), text="r"),
                        line=lines[n % 2])
                for n, s in enumerate(x for x in stations[: chance.randint(0, 7)] for _ in lines)
            )  # fmt: skip
            return {"stations": stations, "readings": rows}
        if model.kind == "calibration":
            off = chance.choice((1.0, 1.0001, 1.001, 2.0, 25.4))
            moves = [50.0 * n for n in range(1, chance.randint(1, 6))]
            return {"checks": tuple(Check(true=_entry(m), shown=_entry(round(m * off, 3))) for m in moves),
                    "set_counts": 200.0, "per": "mm", "set_factor": 1.0}  # fmt: skip
        if model.kind == "positioning":
            off, targets = chance.choice((0.0, 0.01, 0.1)), [0.0, 60.0, 130.0, 200.0]
            ways = [(t, up) for _ in range(5) for up in (True, False) for t in (targets if up else targets[::-1])]
            rows = tuple(
                Approach(
                    target=_entry(t), up=up, shown=_entry(t + (off if up else -off) + round(chance.gauss(0, 0.003), 3))
                )
                for t, up in ways
            )
            more = {"cycles": 5.0, "ways": "both", "step": _entry(0.005)}
            return {"targets": tuple(map(_entry, targets)), "readings": rows, **more}
        if model.kind == "feel":
            size = chance.choice((0.0, 0.004, 0.03))
            return {"values": tuple(_entry(round(size * chance.random(), 3)) for _ in range(chance.randint(0, 8)))}
        if model.kind == "gap":
            return {
                "station": _entry(chance.choice((0.0, 100.0, 250.0))),
                "go": _entry(chance.choice((0.3, 0.45, 0.7))),
            }
        return {}


def _entry(mm):
    return LengthEntry(mm=float(mm), text=f"{mm:g}")
