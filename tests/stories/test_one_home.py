"""One figure changed where it is said: screen, list, paper and ``say`` all have the new one, and none the old."""

import re

from tests.paper.test_said_on_paper import plain
from tests.printed import words_of
from vernus.core.finding import Mm
from vernus.job.entities import DrilledHole, GapCheck, Measure, MountPart, RunOnTest, ScalePlan, TravelSurvey
from vernus.job.fields import LengthEntry
from vernus.job.said import statements
from vernus.paper.report import write_report


def longer(entry, by=1.0):
    return LengthEntry(mm=entry.mm + by, text=f"{entry.mm + by:g}")


def first(job, kind, **wanted):
    return next(e for e in job.all(kind) if all(getattr(e, k) == v for k, v in wanted.items()))


def moved_body(job, axis="axis-y"):
    return [(plan := first(job, ScalePlan, axis_id=axis)).with_(shift=longer(plan.shift))]


def longer_travel(job):
    surveys = [s for s in job.all(TravelSurvey) if s.axis_id == "axis-x"]
    return [s.with_(readings=tuple(longer(r, 3.0) for r in s.readings)) for s in surveys]


def nearer_column(job):
    gap = next(m for m in job.all(Measure) if m.key == "column_gap")
    return [gap.with_(value=longer(gap.value, -1.0))]


def thicker_part(job):
    return [(part := first(job, MountPart, id="part-2")).with_(thickness=longer(part.thickness))]


def moved_hole(job):
    return [(hole := first(job, DrilledHole, id="part-1-1")).with_(x=longer(hole.x))]


def longer_run_on(job):
    return [test.with_(stood=longer(test.stood)) for test in job.all(RunOnTest)]


def wider_gap(job):
    return [g.with_(go=longer(g.go, 0.01), no_go=None if g.no_go is None else longer(g.no_go, 0.01))
            for g in job.all(GapCheck)]  # fmt: skip


CHANGES = {
    "place": ("scale", "Y", moved_body, ("reader_at_mm",)), "spare": ("scale", "Y", moved_body, ("low_mm", "high_mm")),
    "body": ("scale", "Y", moved_body, ("from_mm",)), "travel": ("travel", "X", longer_travel, ("travel_mm",)),
    "stop": ("envelope", "Y", nearer_column, ("before_mark_mm",)), "bumper": ("order", "Y", nearer_column, ()),
    "part": ("mounts", "Y", thicker_part, ()), "hole": ("mounts", "Y", moved_hole, ("x_mm",)),
    "trip": ("trips", "X", longer_run_on, ()), "gap": ("reader", "X", wider_gap, ()),
}  # fmt: skip
"""By kind: where it is read, of which axis, what is changed, and the figures that have to be seen there."""


def test_figures_changed_at_their_homes_are_changed_everywhere(teller, tmp_path):
    teller.window.files.open_demo()
    job = teller.job
    before = {s.id: s.words.text() for s in statements(job)}
    for change in dict.fromkeys(change for _, _, change, _ in CHANGES.values()):
        job.apply("one figure", change(job))
    teller.window.session.changed.emit()
    after = statements(job)
    write_report(job, tmp_path / "report.pdf")
    paper = plain(words_of(tmp_path / "report.pdf"))
    for kind, (sheet, axis, _, figures) in CHANGES.items():
        new = [s for s in after if (s.kind, s.axis) == (kind, axis) and s.words.text() != before.get(s.id)]
        assert new, f"{kind}: the statement follows"
        teller.go(sheet, axis)
        seen = plain(teller.said())
        for statement in new:
            for figure in figures:
                number = plain(Mm(statement.figures[figure]).show("mm")).removesuffix("mm")
                assert re.search(rf"(?<![\d.]){re.escape(number)}(?!\d)", seen), (statement.id, figure)
        if kind not in ("part", "hole"):  # those stand in tables, figure by figure
            assert all(plain(s.words.text()) in paper for s in new), kind
            assert not any(plain(before[s.id]) in paper for s in new if s.id in before), f"{kind}: what it was is left"
