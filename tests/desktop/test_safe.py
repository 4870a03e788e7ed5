"""Nothing accepted is lost, and nothing that is opened, typed or sent brings the window down."""

import json
import os
import re
from pathlib import Path

import pytest
from PySide6.QtWidgets import QApplication, QLabel, QWidget

import vernus.desktop
from tests.share import SOAK
from vernus.bench.line import LineReader, pattern_by_id
from vernus.core.errors import VernusError
from vernus.desktop import settings
from vernus.desktop.instrument import Link
from vernus.desktop.session import Session
from vernus.desktop.sheet_list import KEYS, SHEETS
from vernus.job.entities import Axis, JobInfo, LogEntry, SolidBox, Sweep
from vernus.job.formats.exchange import read_export

EVIL = '<img src="/dev/zero"><b>&amp;'


@pytest.fixture
def refusing(window, bench_mill):
    """A job with one edit that the disk refused."""
    db = window.session.job._file._db
    db.execute("PRAGMA max_page_count=1")
    window.session.apply("note", [LogEntry(id="only here", text="x" * 19_000)])
    assert list(window.session.job.pending) == ["only here"]
    return db


def leaving(window, tmp_path):
    return {
        "new": lambda: window.files.attempt(window.session.close_job),
        "open": lambda: window.files.attempt(lambda: window.session.open_job(tmp_path / "other.vernus")),
        "demo": window.files.open_demo,
        "quit": window.close,
    }


@pytest.mark.parametrize("way", ["new", "open", "demo", "quit"])
def test_no_way_out_drops_what_could_not_be_written(window, refusing, tmp_path, answer, way):
    job = window.session.job
    job.save_copy(tmp_path / "other.vernus")
    job.copied = False
    answer("Stay")
    leaving(window, tmp_path)[way]()
    assert (window.session.job, list(job.pending), len(answer.asked)) == (job, ["only here"], 1)
    answer("Leave")
    leaving(window, tmp_path)[way]()
    assert "1 entry" in answer.asked[1]
    assert way == "quit" or window.session.job is not job


def test_once_a_copy_is_safe_the_window_closes_also_without_its_file(window, refusing, bench_mill, tmp_path):
    job = window.session.job
    (tmp_path / "mill.vernus").unlink()
    job.save_copy(tmp_path / "copy.vernus")
    assert window.close()


def test_what_was_refused_is_written_without_a_question_when_the_disk_takes_it_again(window, refusing, tmp_path):
    refusing.execute("PRAGMA max_page_count=100000")
    path = window.session.job.path
    assert window.files.attempt(window.session.close_job)
    window.session.open_job(path)
    assert window.session.job.get("only here") is not None


def test_the_job_that_is_open_stays_as_it_is_when_opened_again(window, bench_mill):
    job = window.session.job
    window.session.open_job(job.path)
    assert window.session.job is job
    assert job.read_only_because == ""


def test_units_taken_back_are_taken_back_in_the_window_too(window, hands, bench_mill):
    job = bench_mill.job
    bench_mill.apply("room", [job.info.with_(title="Other", units="in")])
    bench_mill.show_units("in")
    hands.press("Ctrl+Z")
    assert (job.info.units, bench_mill.units) == ("mm", "mm")


def texts_made_evil(entity):
    """The entity with markup in every free text it has."""
    names = [
        n for n, f in type(entity).model_fields.items() if f.annotation is str and n not in ("id", "created", "changed")
    ]
    for name in names:
        if name.endswith(("_id", "axis", "member", "kind", "signal", "family")) or name in ("parent", "moves"):
            continue
        try:
            changed = type(entity).model_validate({**entity.model_dump(), name: EVIL})
        except ValueError:
            continue
        entity = changed
    return entity


@pytest.mark.parametrize("demo", ["mill", "lathe"] if SOAK else ["lathe"])
def test_markup_in_any_text_is_shown_as_it_is_written(window, demo, tmp_path):
    window.files.open_demo(demo)
    job = window.session.job
    changed = [texts_made_evil(e) for e in job.entities()]
    assert sum(EVIL in str(e.model_dump()) for e in changed) > 20
    axes = [e for e in changed if isinstance(e, Axis)]
    changed = [e if e not in axes else e.with_(name=f"<b>{n}</b>") for n, e in enumerate(changed)]
    job.apply(EVIL, changed)
    window.session.changed.emit()
    for sheet in SHEETS:
        window.show_sheet(sheet.name)
        QApplication.processEvents()
        for widget in window.findChildren(QWidget):
            tip = widget.toolTip()
            assert "<img" not in tip, tip
            assert "<b>" not in tip, tip
            if isinstance(widget, QLabel):
                assert widget.textFormat().name == "PlainText", widget.text()


def test_labels_and_tooltips_are_made_in_one_place():
    folder = Path(vernus.desktop.__file__).parent
    for path in folder.rglob("*.py"):
        if path.name != "words.py":
            assert not re.search(r"\bQLabel\b|\.setToolTip\(|setHtml|QTextBrowser", path.read_text()), path


def settings_file():
    return settings.demo_path("x").with_name("settings.json")


@pytest.mark.parametrize(
    "text",
    ["[" * 100_000, '{"recent": ' + "9" * 5000 + "}", '{"recent": ["/root\\u0000/x", "%s"]}' % ("y/" * 5000), "\x00"],
)
def test_start_starts_whatever_the_settings_hold(window, text):
    settings_file().parent.mkdir(parents=True, exist_ok=True)
    settings_file().write_text(text)
    assert settings.recent_jobs() == []
    assert not Session().dark
    window.start.refresh()
    settings.remember_theme("light")
    assert json.loads(settings_file().read_text())["theme"] == "light"


def test_a_recent_job_in_a_folder_one_may_not_enter_is_left_out(qapp, monkeypatch, tmp_path):
    settings_file().parent.mkdir(parents=True, exist_ok=True)
    settings_file().write_text(json.dumps({"recent": [str(tmp_path / "a.vernus")]}))

    def refused(self, *args, **kwargs):
        raise PermissionError(13, "Permission denied")

    monkeypatch.setattr(Path, "is_file", refused)
    assert settings.recent_jobs() == []


def test_a_broken_template_is_set_aside_and_said(window):
    folder = settings.templates_folder()
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "big.json").write_text('{"id": ' + "1" * 5000 + "}")
    os.mkfifo(folder / "pipe.json")
    window.start.refresh()
    said = window.start.set_aside.text()
    assert "Set aside: " in said
    assert "thousands of digits" in said
    assert "a pipe" in said
    (folder / "big.json").unlink()
    (folder / "pipe.json").unlink()


def test_a_burst_from_an_instrument_is_no_pass(window, hands, bench_mill):
    hands.press(KEYS["align"])
    instrument = bench_mill.instrument
    instrument._line = FakeLine(b"".join(b"%+.3f mm\r\n" % (n / 1000) for n in range(500)))
    instrument._reader = LineReader(pattern_by_id("with-unit"))
    instrument.link_now = Link("/dev/x", pattern_by_id("with-unit"), who="button")
    edits = []
    bench_mill.changed.connect(lambda: edits.append(1))
    while instrument._line.data:
        instrument._poll()
    (sweep,) = bench_mill.job.all(Sweep)
    assert [r.reading.mm for r in sweep.readings] == [0.0], "the first; no hand sends the others that fast"
    assert len(edits) <= 2
    instrument._line = None


class FakeLine:
    """A serial line that has all its data at once."""

    def __init__(self, data):
        self.data = data

    def read(self, most):
        part, self.data = self.data[:most], self.data[most:]
        return part

    def close(self):
        pass


def test_a_damaged_job_is_recovered_by_importing_it(window, bench_mill, tmp_path):
    for n in range(30):
        bench_mill.apply("note", [LogEntry(id=f"n{n}", text=f"note {n} " * 40)])
    path = bench_mill.job.path
    window.session.close_job()
    data = bytearray(path.read_bytes())
    at = data.index(b"note 17 note 17")
    data[at : at + 4] = b"NOTE"
    path.write_bytes(data)
    with pytest.raises(VernusError, match="import it"):
        window.session.open_job(path)
    said = []
    window.session.notice.connect(said.append)
    window.session.import_job(path, tmp_path / "recovered.vernus")
    assert any("1 of" in words and "missing" in words for words in said)
    assert {e.id for e in window.session.job.all(LogEntry)} == {f"n{n}" for n in range(30)} - {"n17"}
    assert len(read_export(path)) == len(window.session.job.entities())
    assert len(window.session.job.all(JobInfo)) == 1


def test_a_text_that_is_too_long_is_said_and_stays_in_the_field(window, hands, bench_mill):
    hands.press(KEYS["machine"])
    sheet = window.sheets["machine"]
    sheet.boxes.table.selectRow(0)
    field = next(f for f in sheet.boxes.fields if f.name == "name")
    before = bench_mill.job.entities()
    field.setFocus()
    field.editor.setText("")
    hands.type("v" * 201)
    hands.press("Return")
    assert "201 characters; at most 200 fit" in window.statusBar().currentMessage()
    assert bench_mill.job.entities() == before
    bench_mill.changed.emit()
    assert field.editor.text() == "v" * 201
    field.setFocus()
    field.editor.setCursorPosition(201)
    hands.press("Backspace")
    hands.press("Return")
    assert "v" * 200 in {b.name for b in bench_mill.job.all(SolidBox)}


def test_a_name_too_long_at_start_is_said_and_kept(window, hands):
    window.start.name.setText("n" * 230)
    hands.click(window.start.begin)
    assert "has 230 characters; at most 200 fit" in window.start.complaint.text()
    assert window.start.name.text() == "n" * 230


def test_a_note_too_long_is_said_and_kept(window, hands, bench_mill):
    hands.press(KEYS["log"])
    window.sheets["log"].line.setText("n" * 20_001)
    hands.press("Return")
    assert "20001 characters; at most 20000 fit" in window.statusBar().currentMessage()
    assert len(window.sheets["log"].line.text()) == 20_001
