"""The list of figures: a row per figure, edited in place, in groups whose headings fold to what is in them.

Only as many groups are open as the list has room for: opening one folds others, so that nothing that is typed has to be
scrolled to. Groups that stand ``aside`` hold what is set once; Enter passes them by.

A list on a face that is not turned to makes its rows when they are first seen or asked for.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from itertools import pairwise

from PySide6.QtCore import QEvent, QSize, Qt, QTimer, Signal
from PySide6.QtGui import (
    QKeyEvent,
    QMouseEvent,
    QResizeEvent,
    QShowEvent,
)
from PySide6.QtWidgets import QAbstractScrollArea, QApplication, QFrame, QScrollArea, QVBoxLayout, QWidget

from vernus.desktop.parts.figure_field import FigureField
from vernus.desktop.parts.group import Group, Heading
from vernus.desktop.parts.keys import is_figure
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.row import ROW_PX, PartRow, Row
from vernus.desktop.parts.together import together

_LIST_PX = QSize(280, 4 * ROW_PX)
_FOLLOWED = "cursor followed"


class FigureList(QScrollArea):
    """Rows in groups; ``held`` carries the row that comes into hand, by its name.

    ``make`` makes the groups when they are first needed.
    """

    held = Signal(str)
    filled = Signal()
    """Its rows are there, and not shown yet."""

    def __init__(self, *groups: Group, make: Callable[[], Sequence[Group]] | None = None) -> None:
        super().__init__()
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._body = QFrame()
        self._body.setObjectName("plain")
        self._column = QVBoxLayout(self._body)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(0)
        self._column.addStretch(1)
        self.setWidget(self._body)
        self._make = make
        self._groups: list[Group] = []
        self._headings: list[Heading] = []
        self._in_hand: Row | None = None
        self._laid_out = self._turned = False
        self._fitting = QTimer(self)
        self._fitting.setSingleShot(True)
        self._fitting.timeout.connect(self._fit)
        if make is None:
            self.show_groups(groups)
        _follow_cursor()

    def sizeHint(self) -> QSize:
        """The room there is, whatever is in it."""
        return QSize(_LIST_PX)

    # rows and groups

    @property
    def made(self) -> bool:
        """Whether its rows are there yet."""
        return self._make is None

    def make_rows(self) -> None:
        """Make the rows, where they aren't there yet, and show what is stored."""
        if self._make is not None:
            make, self._make = self._make, None
            self.show_groups(make())
            self.filled.emit()
            self.refresh()

    @property
    def groups(self) -> list[Group]:
        """The groups, in reading order."""
        self.make_rows()
        return self._groups

    @property
    def headings(self) -> list[Heading]:
        """Their headings."""
        self.make_rows()
        return self._headings

    def show_groups(self, groups: Sequence[Group]) -> None:
        """Show other groups: rows that are in none of them go."""
        kept, before = {row for group in groups for row in group.rows}, set(self.rows)
        for heading in self.headings:
            self._column.removeWidget(heading)
            heading.deleteLater()
        for row in self.rows:
            self._column.removeWidget(row)
            if row not in kept:
                row.hide()
                row.deleteLater()
        if self._in_hand not in kept:
            self._in_hand = None
        self._groups, self._headings = list(groups), []
        for group in groups:
            heading = Heading(group)
            heading.folded = bool(group.heading) and not self._turned
            heading.clicked.connect(lambda _checked=False, h=heading: self._turn(h))
            self.headings.append(heading)
            self._column.insertWidget(self._column.count() - 1, heading)
            heading.setVisible(bool(group.heading))
            for row in group.rows:
                row.heading = group.heading
                if isinstance(row.editor, FigureField) and row not in before:
                    row.editor.asking.connect(partial(self._fitting_row, row))
                self._column.insertWidget(self._column.count() - 1, row)
                row.fold(heading.folded)
        self._order_tabs()
        self._laid_out = False

    def _order_tabs(self) -> None:
        """Tab goes as the list is read: heading, its rows, the next heading."""
        stops: list[QWidget] = []
        for heading in self.headings:
            stops += [heading, *(row.editor for row in heading.holds.rows)]
        for first, second in pairwise(stops):
            QWidget.setTabOrder(first, second)

    @property
    def rows(self) -> list[Row]:
        """Every row, in reading order."""
        return [row for group in self.groups for row in group.rows]

    def row(self, name: str) -> Row:
        """A row by its name; raises KeyError."""
        for row in self.rows:
            if row.name == name:
                return row
        raise KeyError(name)

    @property
    def in_hand(self) -> Row | None:
        """The row the cursor is in, or was in last."""
        return self._in_hand

    def hold(self, name: str) -> bool:
        """Bring the cursor into a row, its group opened; false where it isn't there."""
        row = next((r for r in self.rows if r.name == name and r.applies), None)
        if row is None or not row.isEnabled():
            return False
        self._enter(row)
        return True

    def hold_first(self) -> bool:
        """Bring the cursor where the next figure is typed: the row in hand, else the first open one."""
        here = self._in_hand
        if here is not None and here.applies and here.isVisibleTo(self):
            self._enter(here)
            return True
        there = [r for r in self.rows if r.applies and r.isEnabled()]
        asked = [r for g in self.groups if not g.aside for r in g.rows if r in there]
        first = next((r for r in asked if r.open), next(iter(asked or there), None))
        if first is not None:
            self._enter(first)
        return first is not None

    def want(self, names: Sequence[str]) -> None:
        """Mark the rows that matter most next."""
        for row in self.rows:
            row.wanted = row.name in names

    def hold_wanted(self) -> bool:
        """Bring the cursor to what matters most next: the row marked, else the first open one."""
        there = [r for r in self.rows if r.applies and r.isEnabled()]
        found = next((r for r in there if r.wanted), None)
        found = found or next((r for g in self.groups if not g.aside for r in g.rows if r in there and r.open), None)
        if found is not None:
            self._enter(found)
        return found is not None

    def refresh(self) -> None:
        """Show what is stored in every row, and what is in every group."""
        if not self.made:
            return
        with together.begin():
            for row in self.rows:
                row.refresh()
        self.tell()

    def tell(self) -> None:
        """Say beside each heading what is in its group, and fit the groups to the room."""
        self._say()
        self._fitting.start(0)

    def _say(self) -> None:
        for heading in self.headings:
            rows = [r for r in heading.holds.rows if r.applies]
            heading.setVisible(bool(heading.holds.heading) and bool(rows))
            if not heading.folded:
                asked = [r for r in rows if isinstance(r.editor, FigureField)]
                done = sum(not r.open for r in asked)
                heading.say([f"{done} of {len(asked)}"] if asked else [])
            elif heading.holds.says is not None:
                heading.say([w for w in heading.holds.says() if w])
            else:
                heading.say([w for r in rows if (w := r.figure())])

    def event(self, event: QEvent) -> bool:
        """What can't be seen isn't measured: not every time one of its rows is styled, or comes and goes."""
        if event.type() in (QEvent.Type.StyleChange, QEvent.Type.LayoutRequest) and not self.isVisible():
            return QAbstractScrollArea.event(self, event)
        return super().event(event)

    # folding

    def showEvent(self, event: QShowEvent) -> None:
        self.make_rows()
        super().showEvent(event)
        self._fitting.start(0)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fitting.start(0)

    def _fit(self) -> None:
        """Open as many groups as there is room for: at first all that are asked, from the top."""
        if not self.isVisible() or not self.made:
            return
        named = [h for h in self.headings if h.holds.heading and any(r.applies for r in h.holds.rows)]
        mine = self._group_of(self._in_hand) or next(
            (h for h in named if any(r.waits for r in h.holds.rows) and not h.holds.aside), next(iter(named), None)
        )
        if self._turned:
            opened = self._opened()
        else:
            opened = {h for h in self.headings if h.holds.heading and (h is mine or not h.holds.aside)}
        self._make_room(mine, opened)
        self._laid_out = True

    def _opened(self) -> set[Heading]:
        """The groups that are open and can be folded."""
        return {h for h in self.headings if h.holds.heading and not h.folded}

    def _make_room(self, kept: Heading | None, opened: set[Heading]) -> None:
        """Open these groups, as far as they fit: those set once go, then those filled in, then from the bottom."""
        here = QApplication.focusWidget()
        busy = next((h for h in self.headings if here and any(r.isAncestorOf(here) for r in h.holds.rows)), None)
        order = sorted(
            (h for h in opened if h is not kept and h is not busy),
            key=lambda h: (not h.holds.aside, any(r.waits for r in h.holds.rows), -self.headings.index(h)),
        )
        while order and self._wanted_px(opened) > self.viewport().height():
            opened = opened - {order.pop(0)}
        self._column.setEnabled(False)  # laid out once, not row by row
        for heading in self.headings:
            if heading.holds.heading:
                self._fold(heading, folded=heading not in opened)
        self._column.setEnabled(True)
        self._say()

    def _wanted_px(self, opened: set[Heading]) -> int:
        """The height of what is open."""
        wide = self.viewport().width()
        high = sum(ROW_PX for h in self.headings if not h.isHidden())
        for heading in self.headings:
            if heading in opened or not heading.holds.heading:
                for row in heading.holds.rows:
                    if row.applies:
                        high += max(row.high(wide), row.height() if row.asking else 0)
        return high

    def _fold(self, heading: Heading, *, folded: bool) -> None:
        if folded == heading.folded:
            return
        here = QApplication.focusWidget()
        if folded and here is not None and any(row.isAncestorOf(here) for row in heading.holds.rows):
            heading.setFocus(Qt.FocusReason.OtherFocusReason)  # or it would go to whatever Tab finds next
        heading.folded = folded
        for row in heading.holds.rows:
            row.fold(folded)
        heading.update()

    def _turn(self, heading: Heading) -> None:
        """Fold a group, or open it and bring the cursor to its first open row."""
        self._turned = True
        if not heading.folded:
            self._fold(heading, folded=True)
            self.tell()
            return
        rows = [r for r in heading.holds.rows if r.applies and r.isEnabled()]
        self._open(heading)
        if rows:
            self._enter(next((r for r in rows if r.open), rows[0]))

    def _open(self, heading: Heading) -> None:
        if heading.folded:
            self._fold(heading, folded=False)
            heading.setFocus(Qt.FocusReason.OtherFocusReason) if self._has_focus() else None
            self._make_room(heading, self._opened())
            self.tell()

    def _has_focus(self) -> bool:
        here = QApplication.focusWidget()
        return here is not None and self.isAncestorOf(here)

    def _group_of(self, row: Row | None) -> Heading | None:
        return next((h for h in self.headings if row is not None and row in h.holds.rows), None)

    def unfold(self, heading: str) -> None:
        """Open a group by its words, without the cursor."""
        for one in self.headings:
            if one.holds.heading == heading and any(r.applies for r in one.holds.rows):
                self._open(one)

    # walking

    def next_open(self, after: QWidget) -> Row | None:
        """The next open row in reading order, its group opened; None after the last."""
        rows = self.rows
        here = next((n for n, r in enumerate(rows) if r is after or r.isAncestorOf(after)), -1)
        aside = {r for g in self.groups if g.aside for r in g.rows}
        mine = self._group_of(rows[here]) if here >= 0 else None
        for row in rows[here + 1 :]:
            near = mine is not None and row in mine.holds.rows
            if row.applies and row.isEnabled() and row.open and (row not in aside or near):
                return row
        return None

    def enter(self, row: Row) -> None:
        """Bring the cursor into a row."""
        self._enter(row)

    def _enter(self, row: Row) -> None:
        heading = self._group_of(row)
        if heading is not None and heading.folded:
            if not self._laid_out:
                self._fit()
            self._open(heading)
        row.editor.setFocus(Qt.FocusReason.TabFocusReason)
        self._show_row(row)

    def _fitting_row(self, row: Row) -> None:
        """Bring what is asked under a row into view, once it is laid out."""
        QTimer.singleShot(0, self, lambda: self._show_row(row))

    def _show_row(self, row: Row) -> None:
        self._column.activate()
        self.ensureWidgetVisible(row, 0, ROW_PX)

    def step(self, way: int) -> bool:
        """Go one row up or down; a folded heading is a stop on the way."""
        stops: list[QWidget] = []
        for heading in self.headings:
            if heading.folded and not heading.isHidden():
                stops.append(heading)
            stops += [r for r in heading.holds.rows if r.isVisibleTo(self) and r.isEnabled()]
        now = QApplication.focusWidget()
        here = next((n for n, s in enumerate(stops) if now is not None and (s is now or s.isAncestorOf(now))), None)
        to = (0 if way > 0 else len(stops) - 1) if here is None else here + way
        if not 0 <= to < len(stops):
            return False
        there = stops[to]
        if isinstance(there, Row):
            self._enter(there)
        else:
            there.setFocus(Qt.FocusReason.TabFocusReason)
            self.ensureWidgetVisible(there, 0, ROW_PX)
        return True

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up and Down walk the rows; what is typed anywhere in the list goes to the row in hand."""
        if (
            event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down)
            and not event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        ):
            self.step(1 if event.key() == Qt.Key.Key_Down else -1)
        elif not self.take_typed(event):
            event.ignore()

    def take_typed(self, event: QKeyEvent) -> bool:
        """Give a digit typed elsewhere to the row in hand; false where it is none, or nothing can be typed."""
        text = event.text()
        if not is_figure(event):
            return False
        row = self._in_hand
        if row is None or not row.applies or not isinstance(row.editor, FigureField | Line):
            row = self._first_figure()
        if row is None:
            return False
        heading = self._group_of(row)
        if heading is not None:
            self._open(heading)
        if not row.type_over(text):
            return False
        self._show_row(row)
        return True

    def _first_figure(self) -> Row | None:
        """The first open figure, else the first there is, of what is asked."""
        asked = [r for g in self.groups if not g.aside for r in g.rows if r.applies and r.isEnabled()]
        figures = [r for r in asked if isinstance(r.editor, FigureField)]
        return next((r for r in figures if r.open), next(iter(figures), None))

    def follow(self, now: QWidget) -> None:
        """Follow the cursor from row to row; it stays in hand when the cursor leaves the list."""
        row = next((r for r in self.rows if r.isAncestorOf(now) and not isinstance(r, PartRow)), None)
        if row is None or row is self._in_hand:
            return
        if self._in_hand is not None:
            self._in_hand.hold(held=False)
        self._in_hand = row
        row.hold(held=True)
        self._show_row(row)
        self.held.emit(row.name)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click beside the rows gives the cursor back to the row in hand."""
        if self._in_hand is not None and self._in_hand.isVisibleTo(self):
            self._in_hand.editor.setFocus(Qt.FocusReason.OtherFocusReason)
        super().mousePressEvent(event)


def _follow_cursor() -> None:
    """Have the list that the cursor comes into follow it: one asks for all lists, however many there are."""
    application = QApplication.instance()
    if isinstance(application, QApplication) and not application.property(_FOLLOWED):
        application.setProperty(_FOLLOWED, True)
        application.focusChanged.connect(_cursor_moved)


def _cursor_moved(_was: QWidget | None, now: QWidget | None) -> None:
    at = now
    while at is not None and not isinstance(at, FigureList):
        at = at.parentWidget()
    if at is not None and now is not None and at is not now:
        at.follow(now)
