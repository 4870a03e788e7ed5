"""Six lessons played to the end through the window by the keyboard, and as many by the mouse: what the adviser does."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.share import SOAK
from vernus.bench.practice.grips import EYES, SPEEDS, WARM
from vernus.bench.practice.players import PLAYERS

SIMPLE = {
    "read": "dial", "press": "thumb", "reset": "bezel", "display": "display", "zero": "nought", "rock": "tooth",
    "listen": "ear", "paper": "paper", "lock": "padlock", "onto": "stand", "hand": "palm",
}  # fmt: skip
LESSONS = ("travel", "gap", "counts", "lost", "sag", "mesh")


class Through:
    """A machine worked through the window: what a player does to it is done to the things on the screen."""

    def __init__(self, practice, hands, mouse):
        self.practice, self.hands, self.mouse = practice, hands, mouse

    def __getattr__(self, name):
        return getattr(self.practice.attempt.world, name)

    def take(self, grip):
        view = self.practice.view
        if self.mouse and self.practice._picked != grip:
            QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.place_of(grip).center().toPoint())
        view.setFocus()
        while self.practice._picked != grip:
            shown = view._shown.grips
            self.hands.press("Tab" if shown.index(grip) > shown.index(self.practice._picked) else "Shift+Tab")

    def work(self, grip):
        self.take(grip)
        if self.mouse:
            view = self.practice.view
            QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.place_of(grip).center().toPoint())
            QApplication.processEvents()
        else:
            self.hands.press("Space")

    def type(self, grip, figure):
        self.take(grip)
        self.practice.figure.setFocus()
        self.hands.press("Ctrl+A")
        self.hands.enter(f"{figure:.6f}")

    def until(self, grip, name, wanted):
        """Turn a thing until the one wanted is in hand."""
        self.take(grip)
        while getattr(self.practice.hand, name) != wanted:
            self.hands.press("Right" if getattr(self.practice.hand, name) < wanted else "Left")

    def do(self, name, *args):
        if name in SIMPLE:
            self.work(SIMPLE[name])
        elif name == "rule":
            self.until("rule", "eye", EYES.index(args[0]))
            self.work("rule")
        elif name == "move":
            blocks = self.practice._grips[0].id
            sizes = [b for b in (10.0, 25.0, 50.0, 100.0, 200.0, 300.0) if b <= self.hidden.bar]
            self.until(blocks, "block", sizes.index(args[0]))
            self.work(blocks)
        elif name == "thermometer":
            self.until("thermometer", "warm", WARM.index(args[0]))
            self.work("thermometer")
        elif name == "gear":
            self.take("gear")
            while abs(self.gear_turn - args[0]) > 1e-9:
                self.hands.press("Right")
        elif name == "run":
            self.until(f"run-{args[0]}", "speed", SPEEDS.index(args[1]))
            self.work(f"run-{args[0]}")
        else:
            grip = {"crank": "wheel", "slide": "unit", "wait": "clock"}.get(name) or f"{name}-{args[0]}"
            if name == "shift":
                grip = "reader" if args[0] == "reader" else f"end-{args[0]}"
            self.type(grip, args[-1])
        return self.practice.attempt.last


PLAYED = [(lesson, mouse) for mouse in (False, True) for lesson in LESSONS]


@pytest.mark.parametrize(("lesson", "mouse"), PLAYED if SOAK else PLAYED[: len(LESSONS) + 2])
def test_a_lesson_is_played_to_good_and_proved(window, hands, lesson, mouse):
    window.practise()
    practice = window.practice
    practice.begin_lesson(lesson, 4)
    answer = PLAYERS[lesson][0](Through(practice, hands, mouse))
    if practice.answer.isVisible():
        practice.answer.setFocus()
        hands.enter(f"{answer:.6f}")
    elif practice.choice.isVisible():
        practice.choice.setCurrentIndex(practice.choice.findData(answer))
    if not practice.attempt.ended:
        hands.press("F10")
    assert practice.result.text().startswith("Good, and proved."), practice.result.text()
