"""Long work off the interface thread: the newest result comes, cancelled work doesn't, failures are told."""

import threading

import pytest
import shiboken6
from PySide6.QtCore import QObject
from PySide6.QtWidgets import QWidget

from vernus.core.errors import BadInputError
from vernus.desktop.parts.draft import Draft
from vernus.desktop.parts.words import Words
from vernus.desktop.parts.work import Work
from vernus.job.entities import PowerFeed


@pytest.fixture
def work(qapp):
    parent = QObject()
    yield Work(parent)
    parent.deleteLater()


def test_the_result_comes_back_on_the_interface_thread(qtbot, work):
    came = []
    work.done.connect(lambda result: came.append((result, threading.current_thread() is threading.main_thread())))
    work.begin(lambda _cancelled: threading.current_thread() is threading.main_thread())
    qtbot.waitUntil(lambda: came != [])
    assert came == [(False, True)]
    assert not work.busy


def test_work_begun_anew_cancels_what_was_under_way(qtbot, work):
    came, seen = [], threading.Event()
    work.done.connect(came.append)

    def slow(cancelled):
        while not cancelled():
            seen.wait(0.01)
        return "old"

    work.begin(slow)
    assert work.busy
    work.begin(lambda _cancelled: "new")
    qtbot.waitUntil(lambda: came != [])
    qtbot.wait(50)
    assert came == ["new"]


def test_a_refusal_is_told_and_cancelled_work_says_nothing(qtbot, work):
    told = []
    work.failed.connect(told.append)

    def refuse(_cancelled):
        raise BadInputError("Not like that.")

    work.begin(refuse)
    qtbot.waitUntil(lambda: told != [])
    assert told == ["Not like that."]
    work.begin(refuse)
    work.cancel()
    qtbot.wait(50)
    assert told == ["Not like that."]


def test_a_draft_keeps_its_id_and_follows_the_job():
    draft, speeds = Draft(), [10.0, 20.0, 30.0]

    def make():
        return PowerFeed(id="another", axis_id="x", slow_rpm=speeds.pop(0))

    first, second, other = draft.of("x", make), draft.of("x", make), draft.of("y", make)
    assert (first.id == second.id, first.id == other.id) == (True, False)
    assert [f.slow_rpm for f in (first, second, other)] == [10.0, 20.0, 30.0], "made afresh each time"


def test_whoever_waited_may_be_gone_when_the_work_ends(qapp):
    """What ends in a thread touches nothing that the window may be taking down just then."""
    for n in range(50):
        parent = QWidget()
        works = [Work(parent) for _ in range(20)]
        words = [Words("so many words", marked=False) for _ in range(100)]
        for one in words:
            one.setParent(parent)
        for work in works:
            work.begin(lambda _cancelled, wait=0.0001 * (n % 8): threading.Event().wait(wait))
        shiboken6.delete(parent)
    qapp.processEvents()
