"""Paper: choose the axes, look at the pages, write the PDF."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QCheckBox, QComboBox, QFileDialog, QHBoxLayout, QPushButton, QSpinBox, QVBoxLayout

from vernus.core.errors import VernusError
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.words import Label, Words
from vernus.desktop.session import Session
from vernus.job.scope import axes_in_scope
from vernus.paper.ink import PRINT, pen
from vernus.paper.pages.keep.hang import back_blocks, oil_blocks
from vernus.paper.pages.prove.proof import wall_blocks
from vernus.paper.report import Report, write_report

_FILES = ("report", "wall", "oil", "back")


class PaperSheet(Sheet):
    """The report before it is printed."""

    name = "paper"
    title = "Paper"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._report: Report | None = None
        self.axes: dict[str, QCheckBox] = {}
        self._boxes = QVBoxLayout()
        self.what = QComboBox()
        self.what.setAccessibleName("What to print")
        for words, content in (
            ("The report", None),
            ("Calibration sheet for the wall", wall_blocks),
            ("Oil points, to hang", oil_blocks),
            ("How to put it back, to hang", back_blocks),
        ):
            self.what.addItem(words, content)
        self.what.currentIndexChanged.connect(lambda _index: self.refresh())
        self.entry.addWidget(self.what)
        which = Label("Axes in it")
        which.setObjectName("faint")
        self.entry.addWidget(which)
        self.entry.addLayout(self._boxes)
        self.write = QPushButton("Write the PDF… (Ctrl+P)")
        self.write.setObjectName("main")
        press_by(self.write, "Ctrl+P")
        self.write.clicked.connect(self.ask_and_write)
        self.said = Words("")
        self.entry.addSpacing(10)
        self.entry.addWidget(self.write)
        self.entry.addWidget(self.said)
        self.entry.addStretch(1)
        row = QHBoxLayout()
        self.number = QSpinBox()
        self.number.setAccessibleName("Page")
        self.number.setMinimum(1)
        self.number.valueChanged.connect(lambda _n: self._show_page())
        page = Label("Page")
        page.setObjectName("faint")
        row.addStretch(1)
        row.addWidget(page)
        row.addWidget(self.number)
        self.view = Picture("Page preview", QSize(300, 400))
        self.picture.addWidget(self.view, 1)
        self.picture.addLayout(row)
        self.say("Print it and hang it by the machine; keep the file with the job.")

    def focus_entry(self) -> None:
        self.write.setFocus()

    def refresh(self) -> None:
        job = self.session.job
        if job is None:
            return
        axes = axes_in_scope(job)
        if list(self.axes) != [a.id for a in axes]:
            for box in self.axes.values():
                box.deleteLater()
            self.axes = {}
            for axis in axes:
                box = QCheckBox(f"{axis.name}, {axis.label}".replace("&", "&&"))
                box.setChecked(True)
                box.toggled.connect(lambda _on: self.refresh())
                self._boxes.addWidget(box)
                self.axes[axis.id] = box
        if not self.isVisible():
            return
        self._report = Report(job, self.chosen(), self.what.currentData())
        count = len(self._report.pages)
        self.number.setMaximum(count)
        self.headline.show_answer(self.session, f"{count} page{'s' if count > 1 else ''}")
        self._show_page()

    def chosen(self) -> set[str]:
        """Ids of the axes to print."""
        return {axis_id for axis_id, box in self.axes.items() if box.isChecked()}

    def ask_and_write(self) -> None:
        """Ask where, then write."""
        job = self.session.job
        if job is None:
            return
        path = job.path or Path("job.vernus")
        start = str(
            path.with_suffix(".pdf")
            if self.what.currentIndex() == 0
            else path.with_name(f"{path.stem}-{_FILES[self.what.currentIndex()]}.pdf")
        )
        name, _ = QFileDialog.getSaveFileName(self, "Write the report", start, "PDF (*.pdf)")
        if name:
            self.write_to(Path(name))

    def write_to(self, path: Path) -> None:
        """Write the PDF and say so."""
        job = self.session.job
        if job is None:
            return
        try:
            pages = write_report(job, path, self.chosen(), self.what.currentData())
        except VernusError as error:
            self.said.setText(str(error))
        else:
            self.said.setText(f"Wrote {pages} pages to {path}.")

    def _show_page(self) -> None:
        self.view.show_drawing(self._paint)

    def _paint(self, painter: QPainter, room: QRectF) -> None:
        report = self._report
        if report is None:
            return
        scale = min(room.width() / report.page.width(), room.height() / report.page.height())
        width, height = report.page.width() * scale, report.page.height() * scale
        left = room.left() + (room.width() - width) / 2
        painter.fillRect(QRectF(left, room.top(), width, height), Qt.GlobalColor.white)
        painter.translate(left, room.top())
        painter.scale(scale, scale)
        report.paint(painter, min(self.number.value(), len(report.pages)) - 1)
        painter.resetTransform()
        painter.setPen(pen(PRINT.hairline))
        painter.drawRect(QRectF(left, room.top(), width - 1, height - 1))
