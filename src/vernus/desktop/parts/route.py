"""The route: phases and sheets in job order with a mark per axis, and what comes next on this axis."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QFrame, QPushButton, QVBoxLayout, QWidget

from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.marks import MarkName, paint_mark
from vernus.desktop.parts.words import Label, Words
from vernus.desktop.session import Session
from vernus.job.entities import Axis
from vernus.job.scope import axes_in_scope, sheets_of_job
from vernus.job.sheet_names import AXIS_SHEETS, SHEET_WORDS
from vernus.paper.ink import font, pen

PHASES = (
    ("Plan", ("scope", "machine", "travel", "scale", "faces", "envelope", "order")),
    ("Make", ("receive", "mounts")),
    ("Feed", ("fit", "bracket", "mesh", "trips", "run-in")),
    ("Set", ("align", "reader")),
    ("Connect", ("cables", "powerup")),
    ("Prove", ("calibrate", "positioning", "part")),
    ("Keep", ("card", "log", "paper")),
)
_STEP = 22
_HEIGHTS = ((21, 19), (19, 17), (18, 16))
"""Heights of a row and of a phase's name, px, the roomiest first."""
_LEAST = 17
_AROUND = 34
_MARK = 14


class RouteRow(QPushButton):
    """One sheet of the route with its marks."""

    def __init__(self, session: Session, sheet: str, words: str) -> None:
        super().__init__(words)
        self._session, self.sheet, self.marks = session, sheet, list[tuple[str, MarkName | None]]()
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setObjectName("step")
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def show_marks(self, marks: list[tuple[str, MarkName | None]]) -> None:
        """Per axis: its name and the state."""
        if marks == self.marks:
            return
        self.marks = marks
        self.setAccessibleDescription(", ".join(f"{axis}: {name}" for axis, name in marks if name is not None))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        inks = self._session.inks
        for n, (_axis, name) in enumerate(self.marks):
            if name is None:
                continue
            x = self.width() - _STEP * (len(self.marks) - n) - 2
            box = QRectF(x + (_STEP - _MARK) / 2, (self.height() - _MARK) / 2, _MARK, _MARK)
            if self.isChecked():
                painter.fillRect(box.adjusted(-3, -3, 3, 3), self._session.inks.sheet)
            paint_mark(painter, box, name, inks)


class AxisNames(Label):
    """The axis names over the columns of marks."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setFixedHeight(22)

    def paintEvent(self, _event: QPaintEvent) -> None:
        job = self._session.job
        if job is None:
            return
        painter = QPainter(self)
        axes = axes_in_scope(job)
        for n, axis in enumerate(axes):
            here = axis.id == self._session.axis_id
            painter.setFont(font(bold=here))
            painter.setPen(pen(self._session.inks.accent if here else self._session.inks.faint))
            x = self.width() - _STEP * (len(axes) - n) - 2
            painter.drawText(QRectF(x, 0, _STEP, 22), int(Qt.AlignmentFlag.AlignCenter), axis.name[:2])


def _high(words: QWidget, wide: int) -> int:
    """How high something in the column is, px."""
    return words.heightForWidth(wide) if words.hasHeightForWidth() else words.sizeHint().height()


class Route(QFrame):
    """The left column."""

    asked = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setObjectName("ground")
        self.setFixedWidth(200)
        self._fitted: object = None
        """What it was fitted for last."""
        self.title = Words("")
        self.title.setFont(font(12, bold=True))
        self.machine = Words("", "faint")
        self.rows: dict[str, RouteRow] = {}
        self.phases: dict[str, Label] = {}
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 8, 4, 8)
        box.setSpacing(1)
        box.addWidget(self.title)
        box.addWidget(self.machine)
        self.names = AxisNames(session)
        box.addWidget(self.names)
        for phase, sheets in PHASES:
            label = Label(phase)
            label.setObjectName("faint")
            box.addWidget(label)
            self.phases[phase] = label
            for sheet in sheets:
                row = RouteRow(session, sheet, SHEET_WORDS[sheet])
                row.clicked.connect(lambda _checked=False, s=sheet: self.asked.emit(s))
                self.rows[sheet] = row
                box.addWidget(row)
        box.addSpacing(4)
        self.next_title = Words("")
        self.next_title.setFont(font(11, bold=True))
        self.others = Words("", "faint")
        self.go = QPushButton("Go there (Ctrl+G)")
        press_by(self.go, "Ctrl+G")
        self.go.clicked.connect(self._go)
        self.go.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        for widget in (self.next_title, self.go, self.others):
            box.addWidget(widget)
        box.addStretch(1)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """In a low window the rows stand closer, so that what comes next still has room."""
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """Rows as high as there is room for; where there is too little, the phases' names are left out."""
        words = (self.title, self.machine, self.names, self.next_title, self.go, self.others)
        asked = (self.size(), [w.text() for w in words if not w.isHidden()], [r.isHidden() for r in self.rows.values()])
        if asked == self._fitted:
            return
        self._fitted = asked
        shown = [row for row in self.rows.values() if not row.isHidden()]
        headed = [p for p, sheets in PHASES if any(not self.rows[s].isHidden() for s in sheets)]
        around = sum(_high(w, self.width() - 12) for w in words if not w.isHidden()) + _AROUND
        room = self.height() - around
        high, head = next(
            (sizes for sizes in _HEIGHTS if len(shown) * (sizes[0] + 1) + len(headed) * (sizes[1] + 1) <= room),
            (max(_LEAST, room // max(1, len(shown)) - 1), 0),
        )
        for row in self.rows.values():
            row.setFixedHeight(min(high, _HEIGHTS[0][0]))
        for phase, label in self.phases.items():
            label.setVisible(phase in headed and head > 0)
            label.setFixedHeight(max(1, head))

    def _go(self) -> None:
        axis = self._session.axis
        if axis is not None:
            self.asked.emit(self._session.review(axis).next_sheet or "paper")

    def refresh(self, sheet: str) -> None:
        """Show the job's state; ``sheet`` is the one in view."""
        job, axis = self._session.job, self._session.axis
        if job is None:
            return
        self.title.setText(job.info.title)
        self.machine.setText(job.machine.name)
        self.names.update()
        there, axes = sheets_of_job(job), axes_in_scope(job)
        states = [(a.name, self._session.review(a).states) for a in axes]
        for name, row in self.rows.items():
            row.setChecked(name == sheet)
            row.setVisible(name in there)
            row.show_marks([(a, said.get(name)) for a, said in states] if name in AXIS_SHEETS else [])
        self.go.setVisible(axis is not None)
        if axis is None:
            self.next_title.setText("Nothing is fitted yet: say on Scope what is fitted to which axis.")
        else:
            self.next_title.setText(f"{axis.name}: {self._next(axis)}")
        self.others.setText("\n".join(f"{a.name}: {self._next(a)}" for a in axes if a is not axis and a != axis))
        self._fit()

    def _next(self, axis: Axis) -> str:
        """Where an axis goes on, in a word or two."""
        following = self._session.review(axis).next_sheet
        return f"next, {SHEET_WORDS[following]}" if following else "every sheet filled in"
