"""What the hand knows of Vernus: the one file of the shop that names its kinds of entities and their fields.

Lengths come in mm and are typed in the units of the job, as far as the tool reads them.
"""

from dataclasses import replace

from vernus.core.errors import VernusError
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.catalog.shipped import machine_kinds
from vernus.job.connect.cables import propose_anchors
from vernus.job.document import Job, new_id
from vernus.job.entities import ENTITY_TYPES, Check, Reading, Step
from vernus.job.fields import LengthEntry, quantities
from vernus.job.keep.evenings.calendar import write_calendar
from vernus.job.keep.made import made_now
from vernus.job.keep.statements import step_statements
from vernus.job.machine.survey import threads_that_fit
from vernus.job.make.new_parts import plate_over_holes, t_nut_part
from vernus.job.plan.next_measure import next_measure
from vernus.job.prove.calibrate.edits import current_run, key_in
from vernus.job.prove.runs import next_approach, run_of, with_shown
from vernus.job.review.review import card_lines
from vernus.job.said import statements

MATTERS_MM = 1.0
DECIMALS = {"mm": 2, "in": 4}


class Desk:
    """A job that figures are typed into, and what it says."""

    def __init__(self, kind, units, scope, job=None):
        self.units, self._said, self._asked = units, None, None
        self.in_scope = {name for name, (readout, drive) in scope.items() if (readout, drive) != ("none", "none")}
        self.bought = {name for name, (readout, _) in scope.items() if readout == "new"}
        self.job = Job(new_job_entities("A job of the shop", kind, units=units, scope=scope)) if job is None else job
        self.axis = {a.name: a.id for a in self.job.axes()}
        self.faces = {(self.job.get(f.axis_id).name, f.name): f.id for f in self.job.all(ENTITY_TYPES["face"])}
        self._own = {}

    def length(self, mm, decimals=None):
        """As it is typed: to a hundredth of a millimetre, or a tenth of a thou."""
        value = mm if self.units == "mm" else mm / 25.4
        return LengthEntry.read(f"{value:.{DECIMALS[self.units] if decimals is None else decimals}f}", self.units)

    def _typed(self, kind, fields):
        """The fields of a kind as they are typed: lengths in the job's units, everything else as it is."""
        known = ENTITY_TYPES[kind].model_fields
        lengths = {k for k in fields if "LengthEntry" in str(known[k].annotation) and isinstance(fields[k], float)}
        return {k: self.length(v) if k in lengths else v for k, v in fields.items()}

    def _put(self, kind, said, fields, key=None):
        """Put an entity of a kind, or change the one that was put under this key before."""
        self._said = self._asked = None
        known = self._own.get((kind, key)) if key is not None else None
        if known is not None:
            made = self.job.get(known).with_(**self._typed(kind, fields))
        else:
            made = ENTITY_TYPES[kind].model_validate({"id": new_id(), **said, **self._typed(kind, fields)})
        self.job.apply(f"type {kind}", [made])
        if key is not None:
            self._own[kind, key] = made.id
        return made.id

    def label(self, kind, field):
        """What stands beside a field."""
        return quantities(ENTITY_TYPES[kind])[field].label

    # what is asked and said

    def asks(self):
        """What is asked for, by its words: what comes next first, then what else matters; nothing once none does."""
        if self._asked is None:
            found = next_measure(self.job)
            labels = {m.key: m.label for m in self.job.all(ENTITY_TYPES["measure"])}
            first = [found.size] if found.size else [] if found.measure is None else [found.measure.label]
            more = [labels[i.key] for i in found.ranked if i.most_mm >= MATTERS_MM] if found.measure is not None else []
            self._asked = list(dict.fromkeys([*first, *more]))
        return self._asked

    def says(self):
        """Every statement as ``vernus say --json`` gives it."""
        if self._said is None:
            self._said = [s.as_json(self.units) for s in statements(self.job)]
        return self._said

    def said(self, kind, axis=None, **having):
        """The first statement of a kind, of an axis, with some figures; None where there is none."""
        mine = (s for s in self.says() if s["kind"] == kind and axis in (None, s["axis"]))
        return next((s for s in mine if all(s.get(k) == v for k, v in having.items())), None)

    # the survey and the plan

    def measure(self, label, mm):
        found = [m for m in self.job.all(ENTITY_TYPES["measure"]) if m.label == label]
        if found:
            self._said = self._asked = None
            self.job.apply("measure", [found[0].with_(value=self.length(mm))])

    def travel(self, axis, readings, division):
        texts = tuple(self.length(r) for r in readings)
        self._put("travel", {"axis_id": self.axis[axis], "readings": texts}, {"division": division})

    def give_up(self, axis, end, mm, how="stop"):
        self._said = self._asked = None
        changed = self.job.get(self.axis[axis]).with_(**{f"give_up_{end}": self.length(mm), f"give_up_{end}_how": how})
        self.job.apply("give up", [changed])

    def wants(self, axis, mm):
        self._said = None
        self.job.apply("accuracy", [self.job.get(self.axis[axis]).with_(accuracy=self.length(mm, 4))])

    def scale(self, axis, **fields):
        """The plan of a scale; ``face`` by its name."""
        named = fields.pop("face", None)
        if named is not None:
            fields["face_id"] = self.faces[axis, named]
        self._put("scale", {"axis_id": self.axis[axis]}, fields, key=axis)

    def face_length(self, axis, mm):
        self._put("scale", {"axis_id": self.axis[axis]}, {"face": mm}, key=axis)

    def section(self, family, **fields):
        """What a caliper finds on a family of scales: height, depth, reader_height, reader_depth."""
        self._put("family", {"family": family}, fields, key=family)

    def came(self, axis, **fields):
        """What arrived, or is there: measuring, overall, hole_from_end, reader, reader_depth, cable."""
        self._put("delivery", {"axis_id": self.axis[axis]}, fields, key=axis)

    def display(self, axes):
        self._put("display", {}, {"axes": axes, "member": "post"}, key="display")

    # parts and holes

    def part(self, axis, kind, name, sizes, **more):
        long, wide, thick = sizes
        said = {"axis_id": self.axis[axis], "part_kind": kind, "name": name} | more
        return self._put("part", said, {"length": long, "width": wide, "thickness": thick}, key=(axis, name))

    def drilled(self, part, x, y, kind, thread, **more):
        return self._put("drilled", {"part_id": part, "hole_kind": kind, "thread": thread}, {"x": x, "y": y, **more})

    def hole(self, axis, face, member, thread, x, y, **more):
        """Threaded holes that the machine has, on a face."""
        said = {"face_id": self.faces[axis, face], "member": member, "what": "threaded"}
        return self._put("hole", said, {"at_x": x, "at_y": y, **thread, **more})

    def threads(self, hole):
        """The threads that are offered for a hole."""
        return [t.name for t in threads_that_fit(self.job.get(hole))]

    def tried(self, hole, names):
        """Choose the thread of the screw that went in, where it is offered."""
        if names:
            self.job.apply("tried with a screw", [self.job.get(hole).with_(thread=names[0])])

    def plate_proposed(self, axis, thread):
        """Press "Plate over holes"; whether it was done."""
        self._said = self._asked = None
        entity = self.job.get(self.axis[axis])
        try:
            made = plate_over_holes(self.job, entity, thread, new_id)[0]
        except VernusError:
            return False
        self.job.apply("propose", made)
        return True

    def slot(self, axis, member, sizes):
        """Note a T-slot and have its T-nut proposed; its id and the thread it is tapped for."""
        self._put("hole", {"member": member, "what": "slot"}, sizes)
        try:
            made = t_nut_part(self.job, self.job.get(self.axis[axis]), new_id)
        except VernusError:
            return None
        self.job.apply("propose", made)
        return made[0].id, next(e.thread for e in made if e.kind == "drilled")

    # setting

    def sweep(self, axis, plane, readings, **fields):
        """A pass over the body: (station, reading) in mm; ``ahead`` are its stations where it isn't through."""
        read = tuple(Reading(station=self.length(s), reading=self._fine(r)) for s, r in readings)
        ahead = fields.pop("ahead", None)
        stations = tuple(dict.fromkeys(r.station for r in read)) if ahead is None else tuple(map(self.length, ahead))
        said = {"axis_id": self.axis[axis], "plane": plane, "target": "body", "stations": stations, "readings": read}
        numbers = {k: fields.pop(k) for k in ("hold", "sense", "lever_deg", "order") if k in fields}
        return self._put("sweep", said | numbers, fields)

    def forget(self, entity):
        self._said = None
        self.job.apply("delete", drop=[entity])

    def crash(self, axis):
        """Note in the log that the axis was driven into something."""
        self._put("log", {"axis_id": self.axis[axis], "event": "crash", "text": "ran into the vise"}, {})

    def _fine(self, mm):
        """An indicator's figure, kept as it is where it is asked about."""
        typed = (f"{mm:.4f}", "mm") if self.units == "mm" else (f"{mm / 0.0254:.3f}", "thou")
        return replace(LengthEntry.read(*typed), kept=True)

    def gap(self, axis, station, go, no_go):
        self._put("gap", {"axis_id": self.axis[axis], "station": self.length(station)}, {"go": go, "no_go": no_go})

    def reader(self, axis, **answers):
        self._put("reader", {"axis_id": self.axis[axis]}, answers, key=axis)

    # the display

    def setting(self, axis, counts, per, step, shows):
        said = {"axis_id": self.axis[axis], "counts": counts, "per": per, "shows": shows}
        said["resolution"] = LengthEntry.read(f"{step}")
        self._put("setting", said, {}, key=axis)

    def takes(self, **fields):
        self._put("profile", {}, fields, key="display")

    def check(self, axis, pairs, method, **fields):
        """Check the display: (true, shown) in mm as the display shows it."""
        checks = tuple(Check(true=LengthEntry.read(f"{t:.4f}"), shown=LengthEntry.read(f"{s:.4f}")) for t, s in pairs)
        entries = {k: LengthEntry.read(f"{v}") for k, v in fields.items() if k in ("u_reference", "step")}
        plain = {k: v for k, v in fields.items() if k not in entries}
        said = {"axis_id": self.axis[axis], "checks": checks, "method": method} | entries | plain
        return self._put("calibration", said, {})

    def powered(self, axis, **answers):
        self._put("powerup", {"axis_id": self.axis[axis]}, answers, key=axis)

    def hold_cable(self, axis, held, supplied):
        """The cable's length, and what holds it from the reader to the display: (member, place)."""
        self._put("cable", {"axis_id": self.axis[axis]}, {"supplied": supplied}, key=axis)
        names = ["reader", *(f"clip {n}" for n in range(1, len(held) - 1)), "display"]
        for n, (name, (member, place)) in enumerate(zip(names, held, strict=True)):
            said = {"axis_id": self.axis[axis], "name": name, "member": member, "place": float(n)}
            self._put("anchor", said, dict(zip("xyz", place, strict=True)))

    def propose_cable(self, axis, supplied):
        """Press "Propose": what holds the cable as the plan has it."""
        self._put("cable", {"axis_id": self.axis[axis]}, {"supplied": supplied}, key=axis)
        self.job.apply("propose", propose_anchors(self.job, self.job.get(self.axis[axis]), new_id))

    def give_up_places(self):
        """What a scale covers is given up knowingly."""
        self._said = None
        places = [b for b in self.job.all(ENTITY_TYPES["box"]) if b.role == "keep"]
        self.job.apply("give up", [b.with_(covered="given up") for b in places])

    def answer_cable(self, axis, **answers):
        self._put("cable", {"axis_id": self.axis[axis]}, answers, key=axis)

    def keyed(self, axis):
        """Press "Keyed in"; whether there was something to key in."""
        self._said = None
        entity = self.job.get(self.axis[axis])
        try:
            self.job.apply("keyed", key_in(self.job, current_run(self.job, entity, self.units)))
        except VernusError:
            return False
        return True

    def reference(self):
        """What displays are checked against: a length bar with its certificate."""
        said = {"name": "length bar", "reference_kind": "bar"}
        return self._put("reference", said | {"stated": LengthEntry.read("0.004")}, {}, key="bar")

    def prove(self, axis, display, chance):
        """Run through the targets that are proposed, and log what the display shows at each."""
        self._said = None
        run = run_of(self.job, self.job.get(self.axis[axis]), self.units).with_(reference_id=self.reference())
        while (ahead := next_approach(run)) is not None:
            true = ahead[1].mm + chance.gauss(0, 0.0005)
            run = with_shown(run, LengthEntry(mm=abs(display.shows(true))))
        self.job.apply("prove", [run])

    # the feed

    def feed(self, axis, **fields):
        self._put("feed", {"axis_id": self.axis[axis]}, fields, key=axis)

    def ran_on(self, axis, way, speed, ran):
        self._put("runon", {"axis_id": self.axis[axis], "way": way, "speed": speed}, {"ran": ran})

    # the card

    def tick(self, keys):
        """Tick steps of the card in their order; each keeps what it was done to."""
        self._said = None
        steps = [line.step for line in card_lines(self.job) if line.step.key in keys]
        self.job.apply("tick", [Step(id=new_id(), key=s.key, made_to=made_now(self.job, s)) for s in steps])

    def look_around(self):
        """Look at everything, change nothing."""
        statements(self.job)


class CardDesk:
    """A job whose card is lived by: its evenings, its ticks, what happens, and its calendar file."""

    def __init__(self, chance, clock):
        kind = chance.choice(machine_kinds())
        scope = {a.name: (chance.choice(("new", "new", "own", "none")), chance.choice(("none", "none", "new")))
                 for a in kind.axes}  # fmt: skip
        scope[kind.axes[0].name] = ("new", scope[kind.axes[0].name][1])
        made = new_job_entities("Five weeks", kind, units=chance.choice(("mm", "in")), scope=scope)
        self.job = Job(made, clock=clock)
        self.axis = {a.name: a.id for a in self.job.axes()}
        self._ticks = {}

    def evenings(self, **fields):
        known = self.job.all(ENTITY_TYPES["evenings"])
        made = known[-1].with_(**fields) if known else ENTITY_TYPES["evenings"](id="evenings", **fields)
        self.job.apply("evenings", [made])

    def own(self, **fields):
        self.job.apply("own step", [ENTITY_TYPES["own-step"](id=new_id(), **fields)])

    def happened(self, axis, event):
        self.job.apply("log", [ENTITY_TYPES["log"](id=new_id(), axis_id=self.axis[axis], event=event, text="bang")])

    def steps(self):
        """Every step of the card, as ``vernus say --json`` gives it."""
        return [s.as_json() for s in step_statements(self.job, card_lines(self.job))]

    def tick(self, key):
        line = next(c for c in card_lines(self.job) if c.step.key == key)
        step = self._ticks.setdefault(key, Step(id=new_id(), key=key))
        self.job.apply("tick", [step.with_(done=True, made_to=made_now(self.job, line.step))])
        self._ticks[key] = self.job.get(step.id)

    def worked(self, key, hours, done):
        """The clock of a step: what it has taken so far."""
        step = self._ticks.setdefault(key, Step(id=new_id(), key=key, done=False))
        self.job.apply("clock", [step.with_(done=done, minutes=hours * 60)])
        self._ticks[key] = self.job.get(step.id)

    def calendar(self, path):
        """The calendar file as bytes; none where nothing has a day."""
        try:
            write_calendar(self.job, card_lines(self.job), path)
        except VernusError:
            return b""
        return path.read_bytes()
