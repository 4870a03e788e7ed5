"""The hand: measures what is asked for, types in any order, changes its mind, and does what is said, nothing else."""

from dataclasses import dataclass, field

from tests.shop import setting_up
from tests.shop.judged import feeding, finishing, joints
from tests.shop.truth import a_truth
from tests.shop.typing_in import Desk

MOST_ASKED = 30


@dataclass
class Lived:
    """A job as it was lived: the truth, the desk, and what was asked without an answer."""

    truth: object
    desk: Desk
    said: list = field(default_factory=list)
    before: list = field(default_factory=list)
    """What was said before anything arrived."""
    unanswered: list = field(default_factory=list)
    aligned: list = field(default_factory=list)
    checked: list = field(default_factory=list)
    turned: dict = field(default_factory=dict)
    gaps: dict = field(default_factory=dict)
    cables: dict = field(default_factory=dict)
    finished: tuple | None = None
    at_the_end: list = field(default_factory=list)
    """What was said with every step ticked, before anything crashed."""
    crashed: list = field(default_factory=list)
    joints: list = field(default_factory=list)
    elsewhere: dict = field(default_factory=dict)
    """By axis the face it hung on, and what was said once another one was chosen, at the very end."""
    back: list = field(default_factory=list)
    """What was said once every scale was back."""
    feeds: list = field(default_factory=list)

    def of(self, kind, axis=None):
        return [s for s in self.said if s["kind"] == kind and axis in (None, s["axis"])]

    def one(self, kind, axis):
        found = self.of(kind, axis)
        return found[0] if found else None


def _end_hole(kit):
    """Where the first hole of a body is from its end; a tape has none."""
    return {} if kit.tape else {"hole_from_end": setting_up.END_HOLE_MM}


class Hand:
    """One person at one job."""

    def __init__(self, seed, desk=None):
        self.truth = a_truth(seed)
        self.chance = self.truth.chance("hand")
        self.desk = (desk or Desk)(self.truth.kind, self.truth.units, self.truth.scope)
        self.lived = Lived(self.truth, self.desk)
        self.arrived, self.drilled = set(), {}
        self.eager = self.chance.choice((0.3, 0.7, 0.9))  # how much is measured before anybody asks
        self.screw = "M4" if self.truth.units == "mm" else "8-32"

    def ruler(self, mm):
        """A rule read to half of its division."""
        return max(0.1, mm + self.chance.uniform(-0.5, 0.5) * self.truth.tool_mm)

    def caliper(self, mm):
        return max(0.05, mm + self.chance.uniform(-0.05, 0.05))

    # the whole job

    def live(self):
        """From the survey to the last figure."""
        self._tell()
        self._answer()
        self._choose()
        self._answer()
        self.lived.before = [dict(s) for s in self.desk.says()]
        self._receive()
        self._join()
        self._answer()
        if "twice" in self.truth.rooms:
            self._think_again()
            self._answer()
        self._set_up()
        if "finish" in self.truth.rooms:
            finishing.finish(self)
        self.lived.said = [dict(s) for s in self.desk.says()]
        self._hang_elsewhere()
        return self.lived

    def _hang_elsewhere(self):
        """The last second thought: every scale that was bought on another face, and what is said then; and back."""
        for axis, kit in self.truth.kits.items():
            others = [f.name for f in self.truth.machine.faces if f.axis == axis and f.name != kit.face]
            others = [name for name in others if (axis, name) in self.desk.faces]
            if others and not kit.there_mm:
                self.desk.scale(axis, face=others[0])
                self.lived.elsewhere[axis] = (kit.face, [dict(s) for s in self.desk.says()])
                self.desk.scale(axis, face=kit.face)
        self.lived.back = [dict(s) for s in self.desk.says()]

    def _join(self):
        """Have parts proposed or made, and measure the kit of a feed."""
        for axis, kit in self.truth.kits.items():
            if "joint" in self.truth.rooms and not kit.tape and axis in self.arrived:
                self.lived.joints.append(joints.a_joint(self, axis))
                joints.make_joint(self, self.lived.joints[-1])
        for axis, (_, drive) in self.truth.scope.items():
            if drive == "new":
                if axis not in self.truth.kits:
                    self._survey(axis)
                self.lived.feeds.append(feeding.a_feed(self.truth, axis))
                feeding.fit_feed(self, self.lived.feeds[-1])

    def _set_up(self):
        """Align, switch on and check, axis by axis, as far as the job goes."""
        for axis, kit in self.truth.kits.items():
            said = {
                s["kind"]: s for s in self.desk.says() if s["axis"] == axis and s["kind"] in ("body", "place", "spare")
            }
            if "align" in self.truth.rooms and len(said) == 3 and not kit.tape and not kit.there_mm:
                long = said["body"]["to_mm"] - said["body"]["from_mm"]
                setting_up.align(self, axis, long, (0.2 * long, 0.8 * long))
            if "gap" in self.truth.rooms and not kit.there_mm:
                finishing.gaps(self, axis)
            if "cable" in self.truth.rooms and not kit.there_mm:
                finishing.cable(self, axis)
            if "display" in self.truth.rooms:
                setting_up.power_up(self, axis)
                setting_up.check_display(self, axis)

    def _tell(self):
        """Facts and first choices, in any order, with looks in between."""
        t = self.truth
        doing = [lambda a=a: self._survey(a) for a in t.kits]
        doing += [lambda a=a: self._begin_plan(a) for a in t.kits]
        doing += [lambda a=a: self.desk.wants(a, t.wanted_mm[a]) for a in t.kits]
        doing += [lambda a=a, g=g: self.desk.give_up(a, *g) for a, g in t.give_up.items()]
        doing += [lambda lab=lab: self._measure(lab) for lab in t.machine.measured if self.chance.random() < self.eager]
        doing.append(lambda: self.desk.display(float(len(t.kits))))
        self.chance.shuffle(doing)
        for do in doing:
            do()
            if self.chance.random() < 0.05:
                self.desk.look_around()

    def _survey(self, axis):
        travel = self.truth.machine.ways[axis].travel
        self.desk.travel(axis, [self.ruler(travel), self.ruler(travel)], self.truth.tool_mm)

    def _begin_plan(self, axis):
        kit = self.truth.kits[axis]
        first = kit.first_face if self.chance.random() < 0.3 else kit.face
        self.desk.scale(axis, family=kit.family, face=first, cover="yes" if self.chance.random() < 0.7 else "no")

    def _measure(self, label):
        found = self.truth.machine.measured.get(label)
        if found is not None:
            self.desk.measure(label, self.ruler(found))

    def _choose(self):
        """Take the size that is proposed, and the face it is meant for."""
        for axis, kit in self.truth.kits.items():
            self.desk.scale(axis, face=kit.face)
            scale = self.desk.said("scale", axis)
            if kit.there_mm:
                self.desk.came(axis, measuring=self.caliper(kit.there_mm),
                overall=self.caliper(kit.there_mm + 2 * kit.end),
                               reader=self.caliper(kit.reader[0]), **_end_hole(kit))  # fmt: skip
            elif scale is not None:
                length = scale["measuring_mm"] if scale["cut_to_mm"] is None else scale["cut_to_mm"]
                self.desk.scale(axis, measuring=float(length))

    def _receive(self):
        """What arrives is measured: lengths are not quite what they were sold as."""
        for axis, kit in self.truth.kits.items():
            scale = self.desk.said("scale", axis)
            if kit.there_mm or scale is None:
                continue
            long = scale["measuring_mm"] + kit.off_size
            if scale["cut_to_mm"] is not None:
                long = self._uncut(kit, scale["cut_to_mm"])
            kit.came_mm = long
            self.desk.came(axis, measuring=self.caliper(long), overall=self.caliper(long + 2 * kit.end),
                           reader=self.caliper(kit.reader[0]), **_end_hole(kit))  # fmt: skip
            self.arrived.add(axis)
            self._make_bracket(axis)

    def _make_bracket(self, axis):
        """What carries the reader is made to reach its member, and noted."""
        bracket = self.truth.kits[axis].bracket
        part = self.desk.part(axis, "angle", f"bracket of {axis}", tuple(map(self.caliper, bracket)), carries="reader")
        if not self.drilled.get(axis):
            for share in (0.25, 0.75):
                self.desk.drilled(part, bracket[0] * share, bracket[1] / 2, "clearance", self.screw)
        self.drilled[axis] = True

    def _uncut(self, kit, cut):
        sizes = kit.told["sizes"]
        return min((s for s in sizes if s >= cut), default=cut + 60) + kit.off_size

    def _think_again(self):
        """A second thought: another face, a body moved along, what is given up put off, a size measured again."""
        axis = self.chance.choice(sorted(self.truth.kits))
        kit, what = self.truth.kits[axis], self.chance.choice(("face", "shift", "give up", "measure"))
        if what == "face":
            others = [f.name for f in self.truth.machine.faces if f.axis == axis and f.name != kit.face]
            if others:
                self.desk.scale(axis, face=self.chance.choice(others))
                self.desk.look_around()
                self.desk.scale(axis, face=kit.face)
        elif what == "shift":
            self.desk.scale(axis, shift=self.chance.uniform(-6, 6))
        elif what == "give up" and axis not in self.truth.give_up:
            self.desk.give_up(axis, "low", self.truth.machine.ways[axis].travel * 0.1)
            self.desk.look_around()
            self.desk.give_up(axis, "low", 0.0)
        else:
            for label in list(self.truth.machine.measured)[:4]:
                self._measure(label)

    # answering what is asked

    def _saw(self):
        """Saw off a bracket what is said to come off it."""
        for axis, kit in self.truth.kits.items():
            said = self.desk.said("take_off", axis, part=f"bracket of {axis}")
            if said is not None:
                kit.bracket = (kit.bracket[0], kit.bracket[1] - said["off_mm"], kit.bracket[2])
                self._make_bracket(axis)

    def _answer(self):
        """Measure what is asked for until the rest doesn't matter, and what brackets and hollow marks rest on."""
        self._saw()
        for _ in range(MOST_ASKED):
            labels = self.desk.asks()
            if not labels:
                break
            for label in labels:
                axis = next((a for a in self.truth.kits if label.startswith(f"{a} ")), None)
                if label not in self.truth.machine.measured and axis is None and not label.startswith("travel of"):
                    self.lived.unanswered.append(label)
                self._tell_of(axis or next(iter(self.truth.kits)), label)
        asked = set()
        for _ in range(MOST_ASKED):
            resting = [s for s in self.desk.says() if s["kind"] in ("stop", "bumper", "face", "body", "place")]
            names = [n for s in resting for n in s["rests_on"]]
            new = next((n for n in names if n not in asked), None)
            if new is None:
                return
            asked.add(new)
            for axis in self.truth.kits:
                if not new.startswith(tuple(self.truth.kits)) or new.startswith(f"{axis} "):
                    self._tell_of(axis, new)

    def _tell_of(self, axis, name):
        """A figure by the name it is asked for."""
        kit = self.truth.kits[axis]
        high, deep = kit.section
        _, tall, reader_deep = kit.reader
        words = name.removeprefix(f"{axis} ")
        sections = {
            "scale, height of its section": {"height": high}, "scale, depth of its section": {"depth": deep},
            "reader, its height": {"reader_height": tall}, "reader, its depth": {"reader_depth": reader_deep},
        }  # fmt: skip
        if name in self.truth.machine.measured:
            self._measure(name)
        elif words in sections:
            field_, mm = next(iter(sections[words].items()))
            self.desk.section(kit.family, **{field_: self.caliper(mm)})
        elif words.startswith("reader's bracket"):
            self._make_bracket(axis)
        elif name == "face length":
            face = next(f for f in self.truth.machine.faces if f.axis == axis and f.name == kit.face)
            self.desk.face_length(axis, self.ruler(face.length))
        elif name.startswith("travel of"):
            self._measure_travel(name)

    def _measure_travel(self, name):
        """The travel of an axis that nothing is fitted to: it is named by what moves."""
        for way in self.truth.machine.ways.values():
            if name.endswith((way.moving, f" {way.name}")):
                self.desk.travel(way.name, [self.ruler(way.travel), self.ruler(way.travel)], self.truth.tool_mm)
