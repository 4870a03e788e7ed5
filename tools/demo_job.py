"""What the scripts that write the demo jobs share: a clock, and short words for the entities entered often."""

import sys
from collections.abc import Iterable
from datetime import UTC, datetime, timedelta

from vernus.job.document import Job
from vernus.job.entities import Entity, LogEntry, Reading, Step, Sweep, TravelSurvey
from vernus.job.fields import LengthEntry
from vernus.job.formats.exchange import job_json
from vernus.job.keep.made import made_now
from vernus.job.review.review import card_lines


class DemoJob:
    """The entities of a demo job, each created some minutes after the one before; bare lengths are in ``unit``."""

    def __init__(self, begun: datetime, unit: str) -> None:
        self.now = begun.replace(tzinfo=UTC)
        self.unit = unit
        self.entities: list[Entity] = []

    def later(self, **by: float) -> None:
        """Let time pass."""
        self.now += timedelta(**by)

    def add(self, entity: Entity) -> None:
        """Put an entity at the present moment."""
        self.later(minutes=4)
        text = self.now.isoformat(timespec="microseconds")
        self.entities.append(entity.model_copy(update={"created": text, "changed": text}))

    def length(self, text: str) -> LengthEntry:
        """A length as typed."""
        return LengthEntry.read(text, self.unit)

    def fine(self, text: str) -> LengthEntry:
        """An indicator-sized length as typed: mm, or thou in an inch job."""
        return LengthEntry.read(text, "thou" if self.unit == "in" else "mm")

    def note(self, axis: str, text: str) -> None:
        """A line of the log; of the whole machine without an axis."""
        self.add(LogEntry(id=f"log-{len(self.entities)}", axis_id=axis and f"axis-{axis}", text=text))

    def sweep(self, name: str, axis: str, plane: str, stations: str, readings: str, **more: object) -> None:
        """A sweep; fewer readings than stations leave it unfinished."""
        places = [self.length(s) for s in stations.split()]
        rows = [Reading(station=s, reading=self.fine(r)) for s, r in zip(places, readings.split(), strict=False)]
        fields = {"id": name, "axis_id": f"axis-{axis}", "plane": plane, "stations": places, "readings": rows, **more}
        self.add(Sweep.model_validate(fields))

    def survey(self, axis: str, tool: str, division: str, readings: str) -> None:
        """Travel measured with a tool; fractions are written with a hyphen."""
        values = tuple(self.length(r) for r in readings.split())
        division_ = self.length(division)
        name = f"travel-{axis}-{tool}"
        self.add(TravelSurvey(id=name, axis_id=f"axis-{axis}", tool=tool, division=division_, readings=values))

    def tick(self, steps: Iterable[tuple[str, str]]) -> None:
        """Steps of the card as done, with what was odd, made to the figures that the finished job says."""
        ticked = [Step(id=f"step-{key}", key=key, note=said) for key, said in steps]
        job = Job([*self.entities, *ticked])
        by_key = {line.step.key: line.step for line in card_lines(job)}
        for step in ticked:
            self.add(step.with_(made_to=made_now(job, by_key[step.key])) if step.key in by_key else step)

    def write(self) -> None:
        """The job as an export, on standard output."""
        sys.stdout.write(job_json(self.entities) + "\n")
