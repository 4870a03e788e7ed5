"""Random hands against a model of what was typed: nothing lost, nothing read in another unit than the one shown.

``make soak`` runs 200 of them (VERNUS_HANDS), ``make test`` one.
"""

import os
import random
from itertools import pairwise

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog

from vernus.core.errors import BadInputError
from vernus.core.units import parse_length
from vernus.desktop.parts.figure_field import FigureField
from vernus.desktop.parts.length_field import LengthField
from vernus.desktop.sheet_list import SHEETS
from vernus.job.entities import JobInfo

TYPED = ("0", "1.5", "12", "-3", "0.011", "665", "26", "3/16 in", "5 thou", "12 µm", "2,5", "30,000", "abc", "20 tpi")


class Model:
    """What was accepted, by field, in the order it came."""

    def __init__(self):
        self.taken = []

    def watch(self, field):
        field.accepted.connect(lambda value, f=field: self.taken.append((f, value)))


def outcome(window, model, field, text):
    """Type ``text`` and Enter into a field: it is taken as it is, asked about or complained of, and never gone."""
    shown = field.suffix.text().split(" ")[0]
    unit = shown if shown in ("mm", "in", "thou", "µm") else field.measure
    assert unit == field.measure, "the label says one unit, the field reads another"
    if field.line.text() == text:
        return  # the figure that stands already: nothing to take
    before = len(model.taken)
    field.line.setFocus()
    field.line.selectAll()
    QTest.keyClicks(field.line, text)
    QTest.keyClick(field.line, Qt.Key.Key_Return)
    QApplication.processEvents()
    mine = [value for f, value in model.taken[before:] if f is field]
    if mine:
        assert mine[0].mm == pytest.approx(parse_length(text, unit).mm)
        return
    if field.unanswered:
        answer(field, model, before, text, unit)
        return
    try:
        parse_length(text, unit)
    except BadInputError:
        assert field.complaint.text()
        assert field.line.text() == text
        return
    same = field.line.text() == text or not field.isVisible()
    now = field.line.text()
    assert same, f"{field.line.accessibleName()}: “{text}” is neither taken nor asked about; there is {now!r}"


def answer(field, model, before, text, unit):
    """Keep what was typed: then it is exactly that; what can't be so is not offered to be kept."""
    if field.question.keep.isHidden():
        field.question.accept_typed()
        assert field.unanswered
        assert field.drop_draft() == text.strip()
        return
    field.question.accept_typed()
    QApplication.processEvents()
    mine = [value for f, value in model.taken[before:] if f is field]
    assert mine[0].kept
    assert mine[0].mm == pytest.approx(parse_length(text, unit).mm)


def run(window, seed, steps):
    """Random sheets, axes, units and entries; then every edit taken back."""
    chance, model, watched = random.Random(seed), Model(), set()
    window.files.open_demo("lathe" if seed % 2 else "mill")
    begun = {e.id: e for e in window.session.job.entities() if not isinstance(e, JobInfo)}
    names = [s.name for s in SHEETS]
    for _ in range(steps):
        way = chance.random()
        if way < 0.12:
            window.show_sheet(chance.choice(names))
        elif way < 0.18:
            window.acts.step_axis(1)
        elif way < 0.26:
            window.acts.other_units()
        elif way < 0.30:
            chance.choice((window.acts.add_a_row, window.acts.drop_a_row))()
        elif way < 0.33:
            window.session.undo()
        else:
            sheet = window.sheets[window.session.in_view]
            fields = [f for f in sheet.findChildren(LengthField) if f.isVisible() and f.isEnabled()]
            for field in fields:
                if id(field) not in watched:
                    watched.add(id(field))
                    model.watch(field)
            if fields:
                outcome(window, model, chance.choice(fields), chance.choice(TYPED))
        for dialog in window.findChildren(QDialog):
            dialog.reject()
    while window.session.job.undo() is not None:
        pass
    now = {e.id: e for e in window.session.job.entities() if not isinstance(e, JobInfo)}
    assert now == begun, "undo did not bring everything back"


@pytest.mark.parametrize("seed", range(100, 100 + int(os.environ.get("VERNUS_HANDS", "1"))))
def test_what_hands_typed_is_what_the_job_has(window, seed):
    run(window, seed, 60)


def test_every_figure_field_is_one_engine(window, demo):
    """No sheet makes a line of its own for a figure."""
    for sheet in SHEETS:
        window.show_sheet(sheet.name)
        fields = window.sheets[sheet.name].findChildren(FigureField)
        for one, other in pairwise(fields):
            assert type(one).accept is type(other).accept is FigureField.accept
