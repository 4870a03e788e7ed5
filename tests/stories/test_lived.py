"""The twenty jobs lived by hand with thrown figures, in the other unit system, with two second thoughts each.

What was typed and clicked stands line by line in ``tests/data/lived``. The second thoughts, drawn by lot, come after
the papers are printed for the first time: another face, another size delivered, a figure mistyped or kept, a scale that
is there already after all. ``make soak`` lives all of them again, ``make test`` the first.
"""

from pathlib import Path

import pytest

from tests.share import SOAK
from tests.stories.teller import Teller
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.job.document import Job
from vernus.job.review.review import review_job
from vernus.job.said import statements

LIVED = sorted((Path(__file__).parents[1] / "data/lived").glob("*.txt"))


class Lived(Teller):
    """A person at the window who scrolls to what is out of sight, and keeps what is asked about."""

    def field(self, name):
        try:
            return super().field(name)
        except AssertionError as error:
            if "scrolled" not in str(error):
                raise
        row = next(f for f in self.sheet.findChildren(FigureRow) if f.name == name and f.applies and f.isVisible())
        next(v for v in self.sheet.findChildren(FigureList) if row in v.rows).ensureWidgetVisible(row)
        return row

    def fill_and_keep(self, **figures):
        """Figures typed wrong, and kept."""
        for name, text in figures.items():
            try:
                self.fill(**{name: text})
            except AssertionError:
                self.keep()

    def note(self, _where):
        """What is read there: a sheet that says something, and no fault of ours."""
        assert self.said().strip()
        assert not [at for at in review_job(self.job) if at.finding.code == "fault"]

    def printed(self):
        """The papers, and what is told: the same as of the job opened afresh."""
        assert len(self.paper()) > 2000
        fresh = Job(self.job.entities(), clock=self.job.now)
        units = self.job.info.units
        assert [s.as_json(units) for s in statements(self.job)] == [s.as_json(units) for s in statements(fresh)]


@pytest.mark.parametrize("path", LIVED if SOAK else LIVED[:1], ids=lambda p: p.stem)
def test_a_job_lived_by_hand_reaches_paper_twice(path, window, hands, tmp_path, monkeypatch):
    exec(path.read_text(encoding="utf-8"), {"t": Lived(window, hands, tmp_path, monkeypatch)})
