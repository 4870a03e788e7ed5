"""Paper leaves nothing out: every figure and finding of both demos' screens is printed, or left out on purpose."""

import os

import pytest

from tests.on_paper import missing_on_paper

PAIRS = [("lathe", "in")]
OTHERS = [("mill", "mm"), ("mill", "in"), ("lathe", "mm")] if os.environ.get("VERNUS_ALL_ON_PAPER") else []


@pytest.mark.parametrize(("name", "units"), PAIRS + OTHERS)
def test_every_figure_and_finding_on_screen_is_on_paper(window, tmp_path, name, units):
    window.files.open_demo(name)
    window.session.show_units(units)
    missing = missing_on_paper(window, tmp_path / "report.pdf")
    assert not missing, "\n".join(map(str, missing))
