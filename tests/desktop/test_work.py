"""Long work off the interface thread: the newest result comes, cancelled work doesn't, failures are told."""

import threading

import pytest
from PySide6.QtCore import QObject

from vernus.core.errors import BadInputError
from vernus.desktop.parts.draft import Draft
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


def test_a_draft_is_kept_for_its_key_and_made_anew_for_another():
    draft, made = Draft(), []

    def make():
        made.append(PowerFeed(id=f"f{len(made)}", axis_id="x"))
        return made[-1]

    assert draft.of("x", make) is draft.of("x", make)
    assert draft.of("y", make) is made[1]
    assert len(made) == 2
