"""First power-up: one question after the other, before anything hidden is closed up."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from vernus.core.connect.powerup import PowerUpResult
from vernus.core.finding import Fine, in_units
from vernus.core.units import format_fine
from vernus.core.verdict_words import ANSWERS
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.marks import Mark, MarkName
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.words import Label, Words
from vernus.desktop.session import Session
from vernus.job.connect.powerup import powerup_of, powerup_result
from vernus.job.document import new_id
from vernus.job.entities import PowerUpCheck
from vernus.job.fields import mm_of, quantities
from vernus.job.scope import axes_in_scope
from vernus.paper.ink import font

_TESTS = (
    ("counts", "It counts"),
    ("right_axis", "Its own figure"),
    ("direction", "Direction"),
    ("stroke", "Full stroke"),
    ("jitter", "Jitter at a standstill"),
    ("drift", "Drift in ten minutes"),
    ("driven", "Spindle running, flicker"),
)


class PowerupSheet(Sheet):
    """Questions on the left; what is known of every axis on the right."""

    name = "powerup"
    title = "First power-up"
    caution = "Run the axis by hand with the drive isolated. The display is off while plugs are moved."

    def __init__(self, session: Session) -> None:
        self.rows: dict[str, tuple[Mark, Label]] = {}
        super().__init__(session)
        names = [n for n in quantities(PowerUpCheck) if n != "note"]
        self.fields = [FigureRow(session, PowerUpCheck, name, self._check) for name in names]
        self.list = self.figures(Group("", self.fields))
        self.entry.addWidget(self.list, 1)
        board = QWidget()
        column = QVBoxLayout(board)
        column.setContentsMargins(0, 12, 0, 0)
        column.setSpacing(10)
        for key, words in _TESTS:
            mark, said = Mark(22), Label(words)
            row = QHBoxLayout()
            row.addWidget(mark)
            row.addWidget(said, 1)
            self.rows[key] = (mark, said)
            column.addLayout(row)
        column.addStretch(1)
        self.others = Words("", "faint")
        self.picture.addWidget(board, 1)
        self.picture.addWidget(self.others)
        self.hidden_on_bench = [self.others]

    def show_bench(self, bench: bool) -> None:
        super().show_bench(bench)
        for _mark, said in self.rows.values():
            said.setFont(font(20 if bench else 11))

    def focus_entry(self) -> None:
        self.list.hold_first()

    def _check(self) -> PowerUpCheck | None:
        axis, job = self.session.axis, self.session.job
        return powerup_of(job, axis, new_id()) if axis is not None and job is not None else None

    def refresh(self) -> None:
        job, axis, check = self.session.job, self.session.axis, self._check()
        if job is None or axis is None or check is None:
            return
        units = self.session.units
        self.heading.setText(f"First power-up of {self.about_axis()}")
        for field in self.fields:
            field.leave_out(field.name == "lost_at" and check.stroke != "no")
        self.list.refresh()
        result = powerup_result(job, axis)
        self.advise(result.instruction)
        figure = {"pass": "close it up", "fail": "look first", None: "not finished"}[result.verdict]
        self.headline.show_answer(
            self.session,
            figure,
            in_units(
                units,
                "at rest up to {still} is harmless, at a stop touched by hand {hand}",
                still=Fine(result.still_mm),
                hand=Fine(result.hand_mm),
            ),
            result.verdict,
        )

        self._show_board(check, result)
        verdicts = [
            (a.name, powerup_result(job, a).verdict)
            for a in axes_in_scope(job)
            if a.id != axis.id and a.readout == "new"
        ]
        word = ANSWERS
        said = ", ".join(f"{name} {word[v]}" for name, v in verdicts)
        self.others.setText(f"Other axes: {said}." if verdicts else "")

    def _show_board(self, check: PowerUpCheck, result: PowerUpResult) -> None:
        """What each test came to."""
        found = {f.code for f in result.findings}

        def answered(value: str) -> MarkName:
            return {"yes": "done", "no": "stop", "": "open"}[value]  # type: ignore[return-value]

        def seen(mm: float | None, code: str) -> tuple[MarkName, str]:
            return (
                ("open", "not tried")
                if mm is None
                else ("caution" if code in found else "done", format_fine(mm, self.session.units))
            )

        states: dict[str, tuple[MarkName, str]] = {
            key: (answered(getattr(check, key)), getattr(check, key) or "not tried")
            for key in ("counts", "right_axis", "direction", "stroke")
        }
        if result.lost_mm is not None and states["stroke"][0] != "stop":
            lost = next((f.severity for f in result.findings if f.code == "loses-counts"), None)
            mark: MarkName = states["stroke"][0] if lost is None else "stop" if lost == "stop" else "caution"
            off = format_fine(result.lost_mm, self.session.units)
            states["stroke"] = (mark, f"{states['stroke'][1]}; back at the stop {off} off")
        states["jitter"] = seen(result.jitter_mm, "jitter")
        states["drift"] = seen(result.drift_mm, "drifts")
        states["driven"] = seen(mm_of(check.driven), "hears-the-motor")
        for key, words in _TESTS:
            state, said = states[key]
            for shown in self.rows[key]:
                shown.setVisible(key != "driven" or check.driven is not None)  # noted only where it is seen
            self.rows[key][0].show_mark(state, self.session.inks)
            self.rows[key][1].setText(f"{words}: {said}")
