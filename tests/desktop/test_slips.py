"""What nobody foresaw: caught once, kept for whoever mends it, told in a sentence; the window and the job live on."""

import sys

import pytest
from platformdirs import user_state_path
from PySide6.QtWidgets import QApplication

from vernus.cli.main import main
from vernus.core.errors import BadInputError
from vernus.desktop.app import _tell_of_slips
from vernus.desktop.sheet_list import KEYS
from vernus.job.entities import LogEntry
from vernus.job.review import review
from vernus.job.review.sheet_reviews import SHEET_REVIEWS


@pytest.fixture
def kept(window, monkeypatch):
    """The window as it runs, with somebody who keeps what nobody foresaw."""
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    _tell_of_slips(window)
    return window.keeper


def slip(*_):
    raise ZeroDivisionError("SECRET 12 mm")


def test_a_look_that_raises_is_a_finding_on_its_sheet_and_no_other(window, bench_mill, monkeypatch, slips_are_told):
    monkeypatch.setitem(SHEET_REVIEWS, "travel", slip)
    job = bench_mill.job
    job.apply("note", [LogEntry(id="n", event="knock", text="x", axis_id=job.axes()[0].id)])
    bench_mill.show_axis(job.axes()[0].id)
    for name in ("travel", "scale", "paper", "card"):
        window.show_sheet(name)
    found = review.review_axis(job, job.axes()[0])
    assert [(at.sheet, at.finding.severity) for at in found.findings if at.finding.code == "fault"] == [
        ("travel", "stop")
    ]
    assert found.states["scale"] != "stop"
    window.show_sheet("travel")
    assert any("ZeroDivisionError in test_slips.py" in t for t in window.sheets["travel"].findings.texts())


def test_such_a_job_opens_and_is_checked_all_the_same(window, bench_mill, monkeypatch, slips_are_told, capsys):
    path = bench_mill.job.path
    window.session.close_job()
    monkeypatch.setitem(SHEET_REVIEWS, "travel", slip)
    monkeypatch.setattr(review, "geometry_findings", slip)
    window.session.open_job(path)
    assert window.session.job is not None
    window.session.close_job()
    main(["check", str(path)])
    assert "can't be worked out: ZeroDivisionError" in capsys.readouterr().out


def test_a_sheet_that_cannot_be_shown_is_covered_and_comes_back(window, bench_mill, kept, monkeypatch, hands):
    hands.press(KEYS["travel"])
    sheet = window.sheets["travel"]
    monkeypatch.setattr(sheet, "refresh", slip)
    bench_mill.apply("note", [LogEntry(id="n", text="typed last")])
    assert window.stack.currentWidget() is window.broken
    assert window.banner.isVisible()
    assert "ZeroDivisionError" in window.banner.text.text()
    hands.press(KEYS["scale"])
    assert window.stack.currentWidget() is window.sheets["scale"]
    monkeypatch.undo()
    hands.click(window.banner.undo)
    assert bench_mill.job.get("n") is None
    assert not window.banner.isVisible()
    hands.press(KEYS["travel"])
    assert window.stack.currentWidget() is sheet


def test_a_slip_is_told_once_and_kept_without_a_word_of_the_job(window, bench_mill, kept, hands):
    told = []
    window.session.slipped.connect(told.append)
    for _ in range(40):
        try:
            slip()
        except ZeroDivisionError as error:
            sys.excepthook(type(error), error, error.__traceback__)
    QApplication.processEvents()
    assert len(told) == 1
    text = (user_state_path("vernus") / "fault.txt").read_text()
    assert "ZeroDivisionError" in text
    assert "test_slips.py" in text
    assert "SECRET" not in text
    assert str(bench_mill.job.path) not in text
    hands.click(window.banner.close_it)
    assert not window.banner.isVisible()


def test_in_another_job_a_slip_is_told_again(window, bench_mill, kept, tmp_path):
    told = []
    window.session.slipped.connect(told.append)
    for name in ("a", "b"):
        for _ in range(2):
            try:
                slip()
            except ZeroDivisionError as error:
                sys.excepthook(type(error), error, error.__traceback__)
        window.session.new_job(tmp_path / f"{name}.vernus", name, "mini-mill", "in", "")
    assert len(told) == 2


def test_what_is_raised_on_purpose_is_only_told(window, bench_mill, kept):
    said = []
    window.session.notice.connect(said.append)
    error = BadInputError("Type minutes, such as 60.")
    sys.excepthook(type(error), error, None)
    assert said == ["Type minutes, such as 60."]
    assert not window.banner.isVisible()
