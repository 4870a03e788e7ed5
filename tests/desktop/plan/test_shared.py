"""Machines and scale families as files: kept with who measured them, dropped on the window, known at Start."""

import json

import pytest
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtWidgets import QApplication, QFileDialog, QInputDialog

from vernus.desktop import settings
from vernus.job.catalog.families import families_of
from vernus.job.entities import FamilyEdit, JobInfo, ScalePlan
from vernus.job.fields import LengthEntry


@pytest.fixture
def asked(monkeypatch, tmp_path):
    """Who measured it is answered, and where it is kept is as proposed."""
    monkeypatch.setattr(QInputDialog, "getText", lambda *_a, **_k: ("Quay shop", True))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda _w, _t, start, _k: (start, ""))


def dropped(window, *paths):
    """Drop files on the window."""
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(p)) for p in paths])
    event = QDropEvent(
        QPointF(9, 9), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    window.dropEvent(event)
    QApplication.processEvents()


def measured(session):
    axis = session.axis
    plan = ScalePlan(id="plan", axis_id=axis.id, family="glass-slim")
    edit = FamilyEdit(id="edit", family="glass-slim", reader=LengthEntry.read("3 9/32", "in"))
    session.apply("measured", [plan, edit])


def reader_of(job):
    return next(f.reader_mm for f in families_of(job) if f.id == "glass-slim")


def test_a_family_measured_once_is_known_in_the_next_job_and_in_a_friends(window, bench_mill, asked, tmp_path):
    window.files.ask_and_keep_family()
    assert "Nothing of this family is measured" in window.banner.text.text()
    measured(bench_mill)
    window.files.ask_and_keep_family()
    (kept,) = settings.families_folder().glob("*.json")
    window.session.close_job()
    assert "Known in new jobs: Sealed glass, slim (Quay shop" in window.start.set_aside.text()
    window.session.new_job(tmp_path / "next.vernus", "Next", "lathe-small", "mm", "Ours")
    assert reader_of(window.session.job) == pytest.approx(3.28125 * 25.4)
    mailed = tmp_path / "mailed.json"
    kept.rename(mailed)
    window.session.close_job()
    window.session.new_job(tmp_path / "friend.vernus", "Friend", "mini-mill", "in", "Theirs")
    assert reader_of(window.session.job) == 90
    dropped(window, mailed)
    assert reader_of(window.session.job) == pytest.approx(3.28125 * 25.4)
    window.session.undo()
    assert reader_of(window.session.job) == 90
    assert kept.exists()


def test_a_machine_dropped_on_start_is_offered_with_who_measured_it(window, bench_mill, asked, tmp_path):
    window.files.ask_and_keep_template()
    (kept,) = settings.templates_folder().glob("*.json")
    mailed = tmp_path / "mill.json"
    kept.rename(mailed)
    window.session.close_job()
    offered = lambda: [window.start.kind.itemText(n) for n in range(window.start.kind.count())]  # noqa: E731
    assert not [w for w in offered() if "own: " in w]
    dropped(window, mailed)
    (mine,) = [w for w in offered() if "own: " in w]
    assert mine == "own: Our mill (X, Y, Z)"
    window.start.kind.setCurrentText(mine)
    assert window.start.whose.text().startswith("Measured by Quay shop, 20")
    window.start.kind.setCurrentIndex(0)
    assert window.start.whose.isHidden()


def test_what_is_neither_is_refused_and_nothing_is_kept(window, bench_mill, tmp_path):
    before = bench_mill.job.entities()
    for name, data in (
        ("a", []),
        ("b", {"format": "vernus-family"}),
        ("c", {"id": "x"}),
        ("d", "text"),
        ("j", {"format": "vernus-job"}),
    ):
        (tmp_path / f"{name}.json").write_text(json.dumps(data))
        dropped(window, tmp_path / f"{name}.json")
        assert f"{name}.json" in window.banner.text.text()
    (tmp_path / "e.json").write_bytes(b"\xff\x00")
    dropped(window, tmp_path / "e.json")
    assert bench_mill.job.entities() == before
    assert not settings.families_folder().exists()
    assert not settings.templates_folder().exists()
    assert len(bench_mill.job.all(JobInfo)) == 1
