"""A job so large that the window would stand still: it is worked out beside it, and nothing else is different."""

import threading

import pytest
from PySide6.QtCore import QTimer
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QApplication

from tests.share import SOAK
from vernus.desktop import long_work
from vernus.desktop.demo import demo_source
from vernus.desktop.parts.words import Label
from vernus.desktop.sheet_list import SHEETS
from vernus.job import ahead
from vernus.job.document import Job
from vernus.job.entities import SolidBox
from vernus.job.formats.exchange import read_export
from vernus.paper.drawing.machine import solid


@pytest.fixture
def large(window, tmp_path, monkeypatch):
    """The demo mill, taken for a large one."""
    monkeypatch.setattr(long_work, "_LARGE_JOB", 10)
    monkeypatch.setattr(long_work, "_LARGE_FILE", 10)
    monkeypatch.setattr(solid, "_MOST_SOLIDS", 3)
    path = tmp_path / "large.vernus"
    Job.create(path, read_export(demo_source("mill"))).close()
    window.session.open_job(path)
    return window


def shown(window):
    labels = window.sheets[window.session.in_view].findChildren(Label)
    return [label.text() for label in labels if label.text() and label.isVisible()]


def test_sheets_and_edits_are_as_in_a_small_job(large, monkeypatch, qtbot):
    beside = []
    monkeypatch.setattr(ahead, "review_job", lambda job: beside.append(threading.current_thread()))
    for sheet in [s for s in SHEETS if SOAK or s.name in ("machine", "scale", "envelope", "paper")]:
        large.show_sheet(sheet.name)
        large.session.changed.emit()
        QApplication.processEvents()
        there = shown(large)
        monkeypatch.setattr(long_work, "_LARGE_JOB", 10**9)
        large.session.changed.emit()
        assert shown(large) == there, sheet.name
        monkeypatch.setattr(long_work, "_LARGE_JOB", 10)
    box = large.session.job.all(SolidBox)[0]
    assert large.session.apply("name it", [box.with_(name="another")])
    assert beside
    assert threading.main_thread() not in beside
    large.session.undo()
    large.show_sheet("machine")
    view = large.sheets["machine"].view
    qtbot.waitUntil(lambda: isinstance(view._image, QImage))


def test_a_window_closed_meanwhile_closes_when_it_is_through(large, monkeypatch, qtbot):
    waited = threading.Event()
    monkeypatch.setattr(ahead, "review_job", lambda _job: waited.wait(5))
    tried = []

    def close():
        tried.append((large.close(), large.working.isVisible()))
        waited.set()

    QTimer.singleShot(300, close)
    box = large.session.job.all(SolidBox)[0]
    large.session.apply("name it", [box.with_(name="another")])
    assert tried == [(False, True)], "it waits, and says so"
    qtbot.waitUntil(lambda: not large.isVisible())
    assert large.session.job.get(box.id).name == "another"


def test_a_damaged_large_file_is_refused_as_a_small_one_is(large, tmp_path):
    hurt = tmp_path / "hurt.vernus"
    hurt.write_bytes((tmp_path / "large.vernus").read_bytes()[:20_000])
    before = large.session.job
    assert not large.files.attempt(lambda: large.session.open_job(hurt))
    assert large.session.job is before
