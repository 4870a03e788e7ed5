"""Five weeks of a person who lives by the calendar: evenings missed, steps ticked early, a parcel late, a crash.

The person knows what a machinist knows of the order of the work, reads the calendar as any calendar program does
(RFC 5546: the later sequence of an id wins, cancelled is gone), and does what stands under an evening in its order.
``python -m tests.shop.weeks 300`` prints what is broken by kind.
"""

import random
import sys
import tempfile
from collections import Counter
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

from icalendar import Calendar

from tests.shop.judged.plan import Broken
from tests.shop.typing_in import CardDesk

FIRST = date(2027, 1, 4)
WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
CHAIN = ("isolate", "survey", "plan", "order", "receive", "hold", "run", "mark", "reach", "drill", "align", "reader",
         "cover", "cables", "powerup", "calibrate", "prove")  # fmt: skip
"""What comes after what on any axis, as far as an axis has it; common practice, no source."""
OF_ALL = ("isolate", "order", "receive")
FEED = ("isolate", "survey", "screwend", "order", "fit", "off", "trip", "mesh", "guard", "runon", "feed", "test")
RESTS_ON_PARCEL = {"receive", "make", "hold", "stops"}
IN_ONE_GO = ("align", "mesh", "stick", "bind")
AFTER_A_CRASH = ("screws", "align", "calibrate")
GOES_ON = " (goes on another evening)"
HAIR = 0.03
"""An entry says its hours in two figures."""


class Person:
    """One who works through the calendar for some weeks, and what went wrong with it."""

    def __init__(self, seed, days=35):
        self.chance, self.smooth = random.Random(seed), seed % 3 == 0
        self.days, self.today, self.broken = (400 if self.smooth else days), FIRST, []
        self.desk = CardDesk(
            self.chance, lambda: datetime.combine(self.today, datetime.min.time(), UTC).replace(hour=17)
        )
        self.calendar, self.done, self.early, self.worked = {}, {}, set(), Counter()
        self.parcel = self.crashed = self.opened = None
        self.promised = None
        self._say_evenings()
        self._say_own()

    # what is said before anything is done

    def _say_evenings(self):
        chance = self.chance
        self.hours = dict.fromkeys(WEEKDAYS, 0.0)
        for day in chance.sample(WEEKDAYS, chance.randint(1, 4)):
            self.hours[day] = chance.choice((1.0, 1.5, 2.0, 3.5))
        self.around = chance.choice((0, 10, 20))
        self.start = chance.choice(("19:30", "18:00", "7 pm"))
        first = FIRST + timedelta(days=chance.randint(3, 20))
        self.away = {first + timedelta(days=n) for n in range(chance.choice((0, 0, 4, 8)))}
        self.delivery = chance.randint(2, 14)
        away = f"{min(self.away)} to {max(self.away)}" if self.away else ""
        self.desk.evenings(
            **self.hours, begins=self.start, set_up=self.around / 2, pack_up=self.around / 2, away=away,
            delivery_days=self.delivery,
        )  # fmt: skip

    def _say_own(self):
        chance, self.pinned = self.chance, {}
        keys = [s["key"] for s in self.desk.steps()]
        if chance.random() < 0.5:
            self.desk.own(
                words="photograph it", after=chance.choice(keys[:8]), hours=0.25, waits=chance.choice(("yes", "no"))
            )
        if chance.random() < 0.5:
            self.desk.own(words="show it to the neighbour", hours=0.5)
        if chance.random() < 0.5:
            day = FIRST + timedelta(days=chance.randint(1, 30))
            self.desk.own(words="fetch the drill press", after="isolate", hours=0.5, on_day=str(day))
            self.pinned["fetch the drill press"] = day
        if chance.random() < 0.3:
            self.desk.own(words="oil the ways", every_days=14)

    def wrong(self, kind, what, axis=""):
        self.broken.append(Broken(kind, axis, f"{self.today}: {what}"))

    # the calendar

    def take_in(self, data):
        """Take the file in as a calendar program does, and look at what stays."""
        newest = {}
        for event in Calendar.from_ical(data).walk("VEVENT"):
            uid, sequence = str(event["uid"]), int(event["sequence"])
            if uid in newest:
                self.wrong("calendar", f"{uid} twice")
            newest[uid] = event
            held = self.calendar.get(uid)
            if held is not None and sequence < int(held["sequence"]):
                self.wrong("calendar", f"{uid} went back from {held['sequence']} to {sequence}")
                continue
            if held is not None and sequence == int(held["sequence"]) and _content(held) != _content(event):
                self.wrong("calendar", f"{uid} changed under the same sequence")
            self.calendar[uid] = event
        for uid, held in self.calendar.items():
            live = str(held.get("status")) != "CANCELLED"
            if live and _day(held) >= self.today and uid not in newest:
                self.wrong("dead entry", f"{uid} of {_day(held)} stays though nothing stands for it any more")

    def evening(self):
        """What the calendar has for today: its lines as (hours, words), none without an evening."""
        found = [e for e in self.calendar.values()
                 if _day(e) == self.today and str(e.get("status")) != "CANCELLED" and "dtend" in e
                 and isinstance(e.decoded("dtstart"), datetime)]  # fmt: skip
        if not found:
            return []
        if len(found) > 1:
            self.wrong("calendar", f"{len(found)} evenings on one day")
        event = found[0]
        lines = [line.split(" h  ", 1) for line in str(event["description"]).splitlines()]
        lines = [(round(float(h) * 60) / 60, words) for h, words in lines]  # a clock tells minutes
        pinned = sum(h for h, words in lines if words.removesuffix(GOES_ON).rpartition(": ")[2] in self.pinned)
        long = (event.decoded("dtend") - event.decoded("dtstart")).total_seconds() / 3600
        room = self.hours[WEEKDAYS[self.today.weekday()]] if self.today not in self.away else 0.0
        if long > max(room, pinned + self.around / 60) + HAIR * len(lines):
            self.wrong("hours", f"{long:.2f} h on an evening of {room} h")
        local = event.decoded("dtstart").astimezone()
        if f"{local:%H:%M}" != {"7 pm": "19:00"}.get(self.start, self.start):
            self.wrong("start", f"begins at {local:%H:%M}, not {self.start}")
        return lines

    # the work

    def live(self):
        with tempfile.TemporaryDirectory() as folder:
            for n in range(self.days):
                self.today = FIRST + timedelta(days=n)
                self._what_happens()
                data = self.desk.calendar(Path(folder) / "job.ics")
                if data:
                    self.take_in(data)
                if n == 0 and self.smooth:
                    self.promised = max(
                        (date.fromisoformat(s["day"]) for s in self.desk.steps() if s["day"]), default=None
                    )
                self.work(self.evening())
                if not any(s["day"] for s in self.desk.steps()):
                    break
        last = max(self.done.values(), default=None)
        if self.promised is not None and last != self.promised:
            self.wrong("finish", f"promised {self.promised}, was done {last}")
        return self

    def _what_happens(self):
        """A crash, a late parcel that is told of, a step ticked early."""
        if self.smooth:
            return
        open_ = [s for s in self.desk.steps() if not s["done"]]
        if self.crashed is None and self.chance.random() < 0.1:
            ready = [k for k in self.done if k.startswith("align-")]
            if ready:
                self.crashed = self.chance.choice(ready).partition("-")[2]
                self.desk.happened(self.crashed, self.chance.choice(("crash", "knock", "off")))
                self._look_after_the_crash()
        if open_ and self.chance.random() < 0.04:
            step = self.chance.choice(open_[:12])
            self.early.add(step["key"])
            self._tick(step["key"])
        if self.parcel is not None and self.parcel > self.today and self.chance.random() < 0.2:
            late = (self.parcel - self.done["order"]).days + 1
            self.desk.evenings(delivery_days=late)  # the shop wrote that it comes later

    def _look_after_the_crash(self):
        steps = {s["key"]: s for s in self.desk.steps()}
        for what in AFTER_A_CRASH:
            step = steps.get(f"{what}-{self.crashed}")
            if step is None:
                if what == "screws":
                    self.wrong("after a crash", "the screws are no step", self.crashed)
            elif step["done"]:
                self.wrong("after a crash", f"{what} stays done", self.crashed)
            else:
                self.done.pop(step["key"], None)
                self.worked.pop(step["key"], None)

    def work(self, lines):
        if not lines or (not self.smooth and self.chance.random() < 0.15):
            return  # no evening today, or no mind to it
        steps = {_words(s): s for s in self.desk.steps()}
        for hours, words in lines:
            on = words.endswith(GOES_ON)
            step = steps.get(words.removesuffix(GOES_ON))
            if step is None:
                self.wrong("words", f"“{words}” is no step of the card")
                continue
            if not self._can(step, words):
                return
            self.worked[step["key"]] += hours
            whole = step["hours"]
            kind = step["key"].split("-")[0]
            if kind in IN_ONE_GO and on and whole <= self._longest():
                self.wrong("split", f"“{words}” of {whole} h is begun with {hours} h left")
            if on or self.worked[step["key"]] > hours:
                self.desk.worked(step["key"], self.worked[step["key"]], done=not on)
            if not on:
                self._tick(step["key"])

    def _longest(self):
        return max(self.hours.values()) - self.around / 60

    def _can(self, step, words):
        """Whether it can be done tonight: what it rests on is there. A parcel that is late is waited for."""
        key, kind = step["key"], step["key"].split("-")[0]
        if step["done"]:
            self.wrong("done twice", f"“{words}” is planned though it is ticked")
        chain = FEED if kind in FEED[4:] or kind == "screwend" else CHAIN
        before = chain[: chain.index(kind)] if kind in chain else ("isolate",)
        there = {s["key"] for s in self.desk.steps()}
        for earlier in before:
            name = earlier if earlier in OF_ALL else f"{earlier}-{step['axis']}"
            if name in there and name not in self.done and name not in self.early:
                self.wrong("too early", f"“{words}” is planned before {name} is done", step["axis"])
        if kind in RESTS_ON_PARCEL and key not in self.early and self.parcel is not None and self.parcel > self.today:
            if self.smooth:
                self.wrong("parcel", f"“{words}” before the parcel of {self.parcel}")
            return False
        own = next((d for w, d in self.pinned.items() if words.endswith(w)), None)
        if own is not None and self.smooth and self.today != own:
            ready = "isolate" in self.done and self.done["isolate"] <= own
            if ready:
                self.wrong("pinned", f"“{words}” is pinned to {own}")
        return True

    def _tick(self, key):
        self.desk.tick(key)
        self.done[key] = self.today
        if key == "order" and self.parcel is None:
            late = 0 if self.smooth else self.chance.choice((-1, 0, 0, 3, 6))
            self.parcel = self.today + timedelta(days=max(0, self.delivery + late))


def _words(step):
    return ": ".join(w for w in (step["axis"], step["text"].rstrip(".")) if w)


def _day(event):
    begins = event.decoded("dtstart")
    return begins.astimezone().date() if isinstance(begins, datetime) else begins


def _content(event):
    return [str(event.get(k)) for k in ("summary", "description", "status")] + [_day(event), event.decoded("dtend")]


def broken_in(seed):
    """What is broken in the weeks of a seed."""
    return Person(seed).live().broken


def main(count, first):
    kinds, examples = Counter(), {}
    for seed in range(first, first + count):
        found = broken_in(seed)
        kinds.update({b.kind for b in found})
        for b in found:
            examples.setdefault(b.kind, f"{seed}: {b.axis} {b.what}")
    print(f"{count} times five weeks from seed {first}, broken by kind:")
    for kind, n in kinds.most_common():
        print(f"{n:5d}  {kind:<14} {examples[kind]}")


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 0)
