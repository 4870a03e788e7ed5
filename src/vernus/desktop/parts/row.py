"""One line of a list of figures: a mark, a name, and what is edited in place; its question full width below it."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from functools import cached_property
from typing import Literal

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPolygonF, QResizeEvent
from PySide6.QtWidgets import QComboBox, QFrame, QGridLayout, QSizePolicy, QVBoxLayout, QWidget

from vernus.desktop.parts.choice import ChoiceBox
from vernus.desktop.parts.figure_field import FigureField
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.tables import Table
from vernus.desktop.parts.words import Words, set_tip
from vernus.desktop.theme import restyle
from vernus.paper.ink import LIGHT, Inks, pen

RowMarkName = Literal["", "unmeasured", "measured", "wanted"]
ROW_PX = 26
_MARK, _LEFT, _RIGHT = 14, 6, 4
_FIGURE_PX, _TEXT_PX = 109, 150
_MOST_BESIDE = 0.56
"""The most of a line that a choice may take beside its name; a longer one stands on a line of its own."""
_MARK_WORDS: dict[RowMarkName, str] = {
    "": "", "unmeasured": "not measured", "measured": "measured or said", "wanted": "matters most next"
}  # fmt: skip


class RowMark(QWidget):
    """A hollow ring where nobody measured, a tick where somebody did, an arrow where it matters most next."""

    def __init__(self) -> None:
        super().__init__()
        self.name: RowMarkName = ""
        self._inks: Inks = LIGHT
        self.setFixedSize(QSize(_MARK, ROW_PX - 2))

    def show_mark(self, name: RowMarkName, inks: Inks) -> None:
        """Show a mark, or nothing."""
        if (name, inks) != (self.name, self._inks):
            self.name, self._inks = name, inks
            self.setAccessibleName(_MARK_WORDS[name])
            self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        c = QRectF(self.rect()).center()
        if self.name == "unmeasured":
            painter.setPen(pen(self._inks.faint, 1.3))
            painter.drawEllipse(c, 3.6, 3.6)
        elif self.name == "measured":
            painter.setPen(pen(self._inks.faint, 1.6))
            painter.drawPolyline(QPolygonF([c + QPointF(-4, 0), c + QPointF(-1, 3.4), c + QPointF(4.4, -4)]))
        elif self.name == "wanted":
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(pen(self._inks.accent).color())
            painter.drawPolygon(QPolygonF([c + QPointF(-4, -5), c + QPointF(5, 0), c + QPointF(-4, 5)]))


class Row(QFrame):
    """A line of a list. ``editor`` is the figure, choice or text; what kind it is decides how the line is laid out."""

    def __init__(self, name: str, label: str, editor: QWidget) -> None:
        super().__init__()
        self.setObjectName("row")
        self.name, self.label, self.editor = name, label, editor
        self.heading = ""
        self.wanted = self._absent = self._folded = False
        self._measured: tuple[tuple[int, int, str], int] = ((0, 0, ""), ROW_PX)
        self._wide: bool | None = None
        self._marked: tuple[RowMarkName, Inks] = ("", LIGHT)
        self._said = label
        grid = self._line = QGridLayout()
        grid.setContentsMargins(_LEFT, 0, _RIGHT, 0)
        grid.setHorizontalSpacing(4)
        grid.setVerticalSpacing(0)
        grid.setColumnStretch(1, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 1, 0, 0)
        column.setSpacing(0)
        column.addLayout(grid)
        if isinstance(editor, FigureField):
            editor.in_place()
            below = QVBoxLayout()
            below.setContentsMargins(_LEFT, 0, _RIGHT, 0)
            editor.ask_in(below)
            column.addLayout(below)
        self.setFocusProxy(editor)
        self._place(wide=False)

    @cached_property
    def mark(self) -> RowMark:
        """Whether the figure is measured; made, as the name is, when the row is first seen: many stay folded."""
        made = RowMark()
        self._line.addWidget(made, 0, 0, Qt.AlignmentFlag.AlignTop)
        return made

    @cached_property
    def title(self) -> Words:
        """Its name."""
        made = Words(self._said, marked=False)
        made.setBuddy(self.editor)
        made.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._line.addWidget(made, 0, 1)
        return made

    def _appear(self) -> None:
        """Be seen, unless its group is folded or the row is left out."""
        seen = not self._absent and not self._folded
        if seen:
            self.furnish()
        self.setVisible(seen)

    def furnish(self) -> None:
        """Make mark and name, where they aren't there yet; a list does that, so only a row outside one needs it."""
        if "title" not in self.__dict__:
            self.mark.show_mark(*self._marked)
            self.mark.show()
            self.title.show()

    # what a kind of row says for itself

    @property
    def open(self) -> bool:
        """Whether nothing is known here that somebody measured or said: Enter stops at it."""
        return False

    @property
    def waits(self) -> bool:
        """Whether its group is to stay open for it."""
        return self.open

    @property
    def help(self) -> str:
        """How it is taken, or what it decides: stands beside the drawing while the row is in hand."""
        return ""

    def figure(self) -> str:
        """What stands here, in a few words; empty where nothing does."""
        return ""

    def refresh(self) -> None:
        """Show what is stored."""

    def drop_draft(self) -> str:
        """Forget what is typed and not taken; returns it."""
        return ""

    # what all share

    @property
    def asking(self) -> bool:
        """Whether something stands under the row: a question, or why a figure isn't taken."""
        return isinstance(self.editor, FigureField) and self.editor.stays

    @property
    def applies(self) -> bool:
        """Whether the row belongs to what is shown; one in a folded group does too."""
        return not self._absent

    def leave_out(self, absent: bool) -> None:
        """Leave the row out where its figure means nothing."""
        self._absent = absent
        self._appear()

    def fold(self, folded: bool) -> None:
        """Put the row away with its group."""
        self._folded = folded
        self._appear()

    def mark_as(self, name: RowMarkName, inks: Inks) -> None:
        """Show whether its figure is measured."""
        self._marked = name, inks
        if "mark" in self.__dict__:
            self.mark.show_mark(name, inks)

    def hold(self, held: bool) -> None:
        """Show that it is the row in hand."""
        if bool(self.property("held")) != held:
            self.setProperty("held", held)
            restyle(self)

    def type_over(self, text: str) -> bool:
        """Take the first letters typed somewhere else in the list; false where nothing can be typed."""
        line = self.editor.line if isinstance(self.editor, FigureField) else self.editor
        if not isinstance(line, Line):
            return False
        line.type_over(text)
        return True

    def name_it(self, label: str) -> None:
        """Show the name, without what the group's heading says already."""
        words = label
        if self.heading and re.match(rf"{re.escape(self.heading)}[ ,:]", label, re.IGNORECASE):
            words = label[len(self.heading) :].lstrip(" ,:") or label
            words = words[:1].upper() + words[1:]
        self._said = words
        if "title" in self.__dict__:
            self.title.setText(words)
        self._fit()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click anywhere in the row brings the cursor into it."""
        self.editor.setFocus(Qt.FocusReason.MouseFocusReason)
        event.accept()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """A choice or text that has no room beside its name stands on a line of its own."""
        room = self.width() - _MARK - _LEFT - _RIGHT - 8
        takes = self.takes()
        if room > 60 and takes:
            words = self.fontMetrics().horizontalAdvance(self._said)
            wide = words + takes > room and takes > _MOST_BESIDE * room
            if wide != self._wide:
                self._place(wide=wide)
            if not wide and isinstance(self.editor, Line):
                self.editor.setFixedWidth(takes)
            if isinstance(self.editor, ChoiceBox):
                self.editor.fit(room)

    def high(self, width: int) -> int:
        """The height the row takes in a list of that width, px, its questions and complaints apart."""
        asked = width, self.takes(), self._said
        if asked != self._measured[0]:
            self._measured = asked, self._high(*asked)
        return self._measured[1]

    def _high(self, width: int, own: int, words: str) -> int:
        room, takes = width - _MARK - _LEFT - _RIGHT - 8, own or _FIGURE_PX
        metrics = self.fontMetrics()
        if own and takes > _MOST_BESIDE * room and metrics.horizontalAdvance(words) + takes > room:
            lines, below = metrics.boundingRect(0, 0, room, 999, Qt.TextFlag.TextWordWrap, words).height(), ROW_PX
        else:
            beside = max(40, room - takes)
            lines, below = metrics.boundingRect(0, 0, beside, 999, Qt.TextFlag.TextWordWrap, words).height(), 0
        return (
            max(ROW_PX, lines + 2) + below + (ROW_PX - 4 if isinstance(self.editor, ChoiceBox) and takes > room else 0)
        )

    def takes(self) -> int:
        """The width of an editor that may stand on a line of its own, px; 0 for a figure, which never does."""
        if isinstance(self.editor, ChoiceBox):
            return self.editor.longest()
        if isinstance(self.editor, Line):
            return max(_TEXT_PX, self.editor.fontMetrics().horizontalAdvance(self.editor.text()) + 16)
        return 0

    def _place(self, *, wide: bool) -> None:
        self._wide = wide
        self._line.removeWidget(self.editor)
        if wide:
            self._line.addWidget(self.editor, 1, 1, 1, 2)
        elif isinstance(self.editor, ChoiceBox):
            self._line.addWidget(self.editor, 0, 2, Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignRight)
        else:
            self._line.addWidget(self.editor, 0, 2, Qt.AlignmentFlag.AlignTop)
        if not isinstance(self.editor, ChoiceBox | FigureField):
            self.editor.setFixedWidth(_TEXT_PX) if not wide else _free_width(self.editor)


class ChoiceRow(Row):
    """A choice that is no figure of the job: the tool in hand, a habit to take over."""

    def __init__(
        self,
        name: str,
        label: str,
        choices: Sequence[tuple[object, str]] = (),
        act: Callable[[object], object] = lambda _value: None,
        help: str = "",
    ) -> None:
        self.box = ChoiceBox(label, choices)
        super().__init__(name, label, self.box)
        self._help = help
        set_tip(self.box, help)
        self.box.activated.connect(lambda _index: act(self.box.currentData()))

    @property
    def help(self) -> str:
        return self._help

    def figure(self) -> str:
        return self.box.currentText()

    def show_value(self, value: object) -> None:
        """Show one of the choices, none where there is no such one."""
        self.box.setCurrentIndex(self.box.findData(value))

    def offer(self, choices: Sequence[tuple[object, str]]) -> None:
        """Offer these choices."""
        offer(self.box, choices)
        self._fit()


class PartRow(Row):
    """A table among the rows, as wide as the list: readings that were logged, what is in the box, sizes to choose."""

    def __init__(self, name: str, table: Table) -> None:
        super().__init__(name, "", table)
        self.table, self._waits = table, False
        self.mark.hide()
        self.title.hide()
        self._line.setContentsMargins(0, 0, 0, 0)

    def show_count(self, count: int, most: int, *, waits: bool = False) -> None:
        """As high as its rows, up to ``most``; left out while there is none. ``waits``: there is something to say."""
        self._waits = waits
        self.leave_out(count == 0)
        self.table.keep_to(count, most)

    @property
    def waits(self) -> bool:
        return self._waits

    def high(self, width: int) -> int:
        return self.table.height() + 2

    def takes(self) -> int:
        return 0

    def figure(self) -> str:
        return f"{len(self.table.rows.rows)}"

    def type_over(self, text: str) -> bool:
        return False

    def _fit(self) -> None:
        """It has no name to stand beside."""

    def _place(self, *, wide: bool) -> None:
        self._line.addWidget(self.editor, 0, 0, 1, 3)


def offer(box: QComboBox, choices: Sequence[tuple[object, str]]) -> bool:
    """Offer these choices in a box; false where it does already."""
    if [(box.itemData(n), box.itemText(n)) for n in range(box.count())] == list(choices):
        return False
    box.clear()
    for value, words in choices:
        box.addItem(words, value)
    return True


def _free_width(widget: QWidget) -> None:
    widget.setMinimumWidth(0)
    widget.setMaximumWidth(16_777_215)
