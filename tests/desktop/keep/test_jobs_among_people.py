"""Jobs among people: a duplicate asks its title, a friend gets one file, words are found on Start."""

import pytest
from PySide6.QtWidgets import QApplication, QFileDialog

from vernus.desktop.copy_dialog import CopyDialog
from vernus.desktop.parts.words import WordsLink
from vernus.job.document import Job
from vernus.job.entities import EveningPlan, LogEntry, Step


@pytest.fixture
def said(monkeypatch):
    """Accept the dialog that asks for a title, with what is set here."""
    answers = {}

    def accept(dialog):
        dialog.title.setText(answers.get("title", dialog.title.text()))
        for name, on in answers.get("along", {}).items():
            dialog.boxes[name].setChecked(on)
        return CopyDialog.DialogCode.Accepted

    monkeypatch.setattr(CopyDialog, "exec", accept)
    return answers


def test_a_duplicate_has_an_id_and_a_title_of_its_own(window, bench_mill, tmp_path, monkeypatch, said):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(tmp_path / "second.vernus"), ""))
    bench_mill.apply("note", [LogEntry(id="l", text="x"), Step(id="s", key="isolate")])
    first, said["title"], said["along"] = bench_mill.job.info, "The second mill", {"ticks": False}
    window.files.ask_and_duplicate()
    second = bench_mill.job
    assert second.path.name == "second.vernus"
    assert (second.info.title, second.info.id != first.id) == ("The second mill", True)
    assert second.all(LogEntry)
    assert not second.all(Step)


def test_a_friend_gets_one_file_without_log_and_prices(window, bench_mill, tmp_path, monkeypatch, said):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(tmp_path / "mail.vernus"), ""))
    bench_mill.apply("note", [LogEntry(id="l", text="private")])
    mine = bench_mill.job.path
    window.files.ask_and_send()
    assert bench_mill.job.path == mine, "one's own job stays open"
    sent = Job.open(tmp_path / "mail.vernus")
    assert not sent.all(LogEntry)
    sent.close()


def test_words_are_found_on_start_and_lead_to_their_sheet(window, hands, bench_mill):
    bench_mill.apply("note", [LogEntry(id="l", text="the gib screw was loose")])
    bench_mill.close_job()
    window.start.search.setFocus()
    hands.enter("gib loose")
    (link,) = window.start.findChildren(WordsLink)
    assert "gib screw" in link.text()
    link.setFocus()
    hands.press("Return")
    assert window.session.in_view == "log"
    bench_mill.close_job()
    window.start.search.setFocus()
    hands.enter("no such words")
    assert "stands in none" in window.start.due_title.text()


def test_the_evenings_go_on_with_the_next_job(window, bench_mill, tmp_path):
    bench_mill.apply("evenings", [EveningPlan(id="e", tue=2, begins="19:30", set_up=10, starts="2027-01-01")])
    bench_mill.new_job(tmp_path / "next.vernus", "Next", "bench-mill", "mm", "")
    (plan,) = bench_mill.job.all(EveningPlan)
    assert (plan.tue, plan.begins, plan.set_up, plan.starts) == (2, "19:30", 10, "")


def test_tab_on_start_goes_as_the_eye_does(window, hands):
    start = window.start
    start.units.setFocus()
    hands.press("Tab")
    assert QApplication.focusWidget() in start.fitted.boxes.values()
    for _ in range(len(start.fitted.boxes)):
        hands.press("Tab")
    assert QApplication.focusWidget() is start.path
