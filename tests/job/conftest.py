"""Jobs to try things on: small machines with travels measured, scales planned and faces chosen."""

import pytest

from vernus.job.catalog.new_job import new_job_entities
from vernus.job.document import Job, new_id
from vernus.job.entities import Face, TravelSurvey
from vernus.job.fields import LengthEntry
from vernus.job.plan.faces import choose_face
from vernus.job.plan.scale import scale_plan


class Bench:
    """A job and short words for what is entered in it; bare lengths are in the job's units."""

    def __init__(self, kind="bench-mill", units="mm", scope=None):
        self.job = Job(new_job_entities("Bench", kind, units=units, scope=scope))

    def length(self, text):
        return LengthEntry.read(str(text), self.job.info.units)

    def axis(self, name="X"):
        return next(a for a in self.job.axes() if a.name == name)

    def change(self, name="X", **fields):
        self.job.apply("axis", [self.axis(name).with_(**fields)])
        return self.axis(name)

    def travel(self, name="X", *readings):
        put = TravelSurvey(
            id=new_id(), axis_id=self.axis(name).id, tool="caliper", division=self.length("0.02"),
            readings=tuple(self.length(r) for r in readings),
        )  # fmt: skip
        self.job.apply("travel", [put])

    def plan(self, name="X", family="glass-slim", measuring=450, face="", **more):
        axis = self.axis(name)
        put = scale_plan(self.job, axis).with_(family=family, measuring=self.length(measuring), **more)
        if face:
            put = choose_face(put, next(f for f in self.job.all(Face) if f.name == face))
        self.job.apply("plan", [put])
        return put


@pytest.fixture
def bench():
    return Bench()


@pytest.fixture
def path(tmp_path):
    return tmp_path / "mill.vernus"


@pytest.fixture
def job(path):
    """A job in a file."""
    job = Job.create(path, new_job_entities("Mill", "bench-mill"))
    yield job
    job.close()
