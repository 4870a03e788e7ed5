"""The practice through the window: whole lessons by keys alone, quitting in the middle, the job beside it."""

import pytest
import shiboken6
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.desktop.test_room import cut
from tests.share import SOAK
from vernus.bench.practice.lessons import FREE_PLAY, LESSONS
from vernus.bench.practice.players import PLAYERS
from vernus.bench.practice.progress import best_of, left_try
from vernus.desktop.session import Session
from vernus.desktop.window import Window
from vernus.job.align.passes import passes, result_in_job
from vernus.job.entities import TravelSurvey


@pytest.fixture
def practice(window, hands):
    window.start.practise.setFocus()
    hands.press("Space")
    assert window.practice.isVisible()
    return window.practice


def tab_to(practice, hands, grip):
    """Take hold of a thing with the Tab key."""
    practice.view.setFocus()
    for _ in range(20):
        if practice._picked == grip:
            return
        shown = practice.view._shown.grips
        hands.press("Tab" if shown.index(grip) > shown.index(practice._picked) else "Shift+Tab")
    raise AssertionError(f"Tab never comes to {grip}")


def type_into(practice, hands, grip, text):
    tab_to(practice, hands, grip)
    practice.figure.setFocus()
    hands.press("Ctrl+A")
    hands.enter(text)


def value(practice):
    return practice.attempt.last.value


def test_what_is_heard_of_the_gears_is_drawn_until_the_unit_is_moved(practice, hands):
    practice.begin_lesson("mesh", 5)
    silent = practice.view.grab().toImage()
    tab_to(practice, hands, "ear")
    hands.press("Space")
    assert len(practice.view._shown.heard) > 50
    assert practice.view.grab().toImage() != silent
    tab_to(practice, hands, "unit")
    hands.press("Right")
    assert practice.view._shown.heard == ()


def test_a_travel_is_measured_by_keys_alone_typed_into_its_sheet_and_judged(window, hands, practice):
    practice.begin_lesson("travel", 7)
    hands.press("Right")  # the eye from the left to square on
    read = []
    for _ in range(4):
        hands.press("Space")
        read.append(value(practice))
    hands.press("F12")
    for figure in read:
        hands.enter(f"{figure:g}")
    assert len(window.session.job.all(TravelSurvey)[0].readings) == 4
    hands.press("F12")
    practice.answer.setFocus()
    hands.enter(f"{sum(read) / 4:.3f}")
    assert practice.attempt.ended
    assert "Good, and proved. It travels" in practice.result.text()
    assert "the adviser" in practice.result.text()
    assert best_of("travel").seed == 7


def test_a_body_is_dialled_in_by_keys_alone_with_the_advice_of_the_real_sheet(window, hands, practice):
    practice.begin_lesson("held", 7)
    job = window.session.job
    axis = job.axes()[0]
    for _ in range(4):
        sweep = passes(job, axis.id, "face", "body")[-1]
        while len(sweep.readings) < len(sweep.stations):
            station = sweep.stations[len(sweep.readings)].mm
            type_into(practice, hands, "wheel", f"{station - 3:g}")
            type_into(practice, hands, "wheel", f"{station:g}")
            tab_to(practice, hands, "dial")
            hands.press("Space")
            window.sheets["align"].reading.line.setFocus()
            hands.enter(f"{value(practice):.3f}")
            sweep = passes(job, axis.id, "face", "body")[-1]
        result = result_in_job(job, sweep)
        if result.alignment.verdict == "pass":
            break
        fix = result.correction
        tab_to(practice, hands, "screw-right")
        hands.press("Space")
        type_into(practice, hands, "wheel", f"{fix.park_mm - 3:g}")
        type_into(practice, hands, "wheel", f"{fix.park_mm:g}")
        for _ in range(120):
            tab_to(practice, hands, "dial")
            hands.press("Space")
            off = fix.dial_target_mm - value(practice)
            if abs(off) < 0.006:
                break
            tab_to(practice, hands, "screw-right")
            way = "Right" if off > 0 else "Left"
            hands.press(way if abs(off) > 0.06 else f"Shift+{way}")
        tab_to(practice, hands, "screw-right")
        hands.press("Space")
        hands.press("F12")
        hands.press("Ctrl+Return")
    practice.view.setFocus()
    hands.press("F10")
    assert "Good, and proved." in practice.result.text()


def test_a_learner_who_quits_in_the_middle_comes_back_to_the_same_state(window, hands, practice):
    practice.begin_lesson("gap", 3)
    tab_to(practice, hands, "reader")
    hands.press("Right")
    hands.press("F5")
    gap, minutes = practice.attempt.world.gap, practice.attempt.minutes
    window.session.close_job()
    assert not practice.isVisible()
    other = Window(Session())
    other.show()
    other.practise()
    assert other.practice.attempt.world.gap == gap
    assert other.practice.attempt.minutes == minutes
    assert left_try("gap").hints == 1
    other.session.job.close()
    shiboken6.delete(other)


def test_what_was_typed_beside_a_lesson_is_there_again_with_it(window, hands, practice):
    practice.begin_lesson("travel", 12)
    hands.press("F12")
    hands.enter("400.5")
    window.session.close_job()
    window.practise()
    assert window.session.job.all(TravelSurvey)[0].readings[0].mm == 400.5
    practice.begin_lesson("travel", 13)
    assert window.session.job.all(TravelSurvey) == []


@pytest.mark.parametrize("lesson", [one.id for one in (*LESSONS, FREE_PLAY)])
def test_every_lesson_shows_its_things_takes_clicks_and_can_be_ended(window, hands, practice, lesson):
    practice.begin_lesson(lesson, 5)
    view = practice.view
    for grip in view._shown.grips:
        middle = view.place_of(grip).center().toPoint()
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=middle)
        assert practice._picked == grip
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=middle)
        hands.press("Right")
        hands.press("Shift+Left")
    assert view.grab().width() > 0
    told = []
    window.session.notice.connect(told.append)
    hands.press("F10")
    if practice.attempt.ended:  # the ear was pressed on the way: it heard a whole turn
        assert lesson == "mesh"
        return
    # a verdict without evidence isn't accepted
    asked = [words for words in told if words]
    assert asked
    if practice.answer.isVisible():
        assert asked == ["Say your figure first."]
        practice.answer.setFocus()
        hands.enter("nonsense")
        assert [words for words in told if words] != asked
    if practice.choice.isVisible():
        assert asked == ["Choose an answer first."], "nothing is chosen beforehand"
    answer = PLAYERS[lesson][0](practice.attempt.world)
    if practice.answer.isVisible():
        practice.answer.setText(f"{answer:.6f}")
    if practice.choice.isVisible():
        practice.choice.setCurrentIndex(practice.choice.findData(answer))
    hands.press("F10")
    assert practice.attempt.ended
    assert practice.result.isVisible()
    assert view.grab().width() > 0
    hands.click(practice.again)
    assert (practice.attempt.ended, practice.attempt.seed) == (False, 5)


def test_guided_lights_the_next_thing_and_alone_reads_by_eye(window, hands, practice):
    practice.begin_lesson("held", 5)
    assert practice.view._shown.lit == "thumb"
    tab_to(practice, hands, "thumb")
    hands.press("Space")
    assert practice.view._shown.lit == "wheel"
    tab_to(practice, hands, "dial")
    hands.press("Space")
    assert "stands at" in practice.seen.text()
    practice.level.setCurrentIndex(2)
    practice.level.activated.emit(2)
    hands.press("Space")
    assert practice.seen.text() == "Read the needle on the dial."
    assert practice.view._shown.lit == ""
    assert not practice.hint.isVisible()


def test_the_needle_goes_along_while_the_table_is_cranked(window, hands, practice, qtbot):
    practice.begin_lesson("held", 5)
    before = practice.view._shown.figures["needle"]
    tab_to(practice, hands, "wheel")
    hands.press("Right")
    assert practice._frames, "it is seen to move"
    qtbot.waitUntil(lambda: not practice._frames, timeout=5000)
    world = practice.attempt.world
    assert practice.view._shown.figures["needle"] != before
    assert practice.view._shown.figures["needle"] == pytest.approx(world.needle / world.hidden.division / 100)


def test_a_friend_is_raced_on_the_same_number_and_the_same_machine_again_is_empty(window, hands, practice):
    practice.begin_lesson("travel", 5)
    practice.number.setFocus()
    hands.enter("77")
    assert practice.attempt.seed == 77
    hands.press("F12")
    hands.enter("400.5")
    assert window.session.job.all(TravelSurvey)
    hands.click(practice.again)
    assert practice.attempt.seed == 77
    assert window.session.job.all(TravelSurvey) == []


def test_a_figure_that_makes_no_sense_is_told_and_costs_nothing(window, hands, practice):
    practice.begin_lesson("warmth", 5)
    told = []
    window.session.notice.connect(told.append)
    for text in ("soon", "-5", "1e99"):
        type_into(practice, hands, "clock", text)
    assert len([words for words in told if words]) == 3
    assert "Type minutes, such as 60." in told
    assert practice.attempt.world.minutes == 0
    type_into(practice, hands, "clock", "60")
    assert practice.attempt.world.minutes == 60


def test_leaving_goes_back_to_start_and_a_job_is_never_mixed_with_it(window, hands, practice, tmp_path):
    hands.click(practice.leave)
    assert window.start.isVisible()
    window.session.new_job(tmp_path / "mill.vernus", "Mill", "bench-mill", "mm", "Our mill")
    QApplication.processEvents()
    assert not practice.isVisible()
    assert window.route.isVisible()
    window.practise()
    assert window.session.practising
    assert window.session.job.path != tmp_path / "mill.vernus"


def test_practice_in_inches_has_inch_dials(window, hands, practice):
    hands.press("Ctrl+U")
    practice.begin_lesson("counts", 4)
    tab_to(practice, hands, "blocks")
    hands.press("Space")
    assert " in" in practice.seen.text()
    assert practice.attempt.inch


@pytest.mark.parametrize("size", [(1200, 700), (1280, 800)][: None if SOAK else 1])
def test_nothing_of_the_panel_is_cut(window, hands, practice, size):
    window.resize(*size)
    for lesson in (*LESSONS, FREE_PLAY):
        practice.begin_lesson(lesson.id, 5)
        QApplication.processEvents()
        assert [c for c in cut(practice) if "row" not in c[1]] == [], lesson.id
