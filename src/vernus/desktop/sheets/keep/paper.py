"""Paper: choose the axes, look at the pages, write the PDF."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QPushButton, QSpinBox, QVBoxLayout

from vernus.core.errors import VernusError
from vernus.desktop import settings
from vernus.desktop.parts.choice import ChoiceBox
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.pictures import Picture
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.words import Label, Words
from vernus.desktop.session import Session
from vernus.job.scope import axes_in_scope
from vernus.paper.ink import PRINT, pen
from vernus.paper.report import PAPERS, SIZES, Content, PaperSize, Report, usual_size, write_report


class PaperSheet(Sheet):
    """The papers before they are printed."""

    name = "paper"
    title = "Paper"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._report: Report | None = None
        self.axes: dict[str, QCheckBox] = {}
        self._boxes = QVBoxLayout()
        self.what = ChoiceBox("What to print", [("", "All four papers"), *((n, w) for n, (w, _) in PAPERS.items())])
        self.what.currentIndexChanged.connect(lambda _index: self._turn_to_first())
        self.entry.addWidget(self.what)
        self.size_of_paper = ChoiceBox("Size of the paper", [(s, s) for s in SIZES])
        self.size_of_paper.activated.connect(lambda _index: self._resize_paper())
        self.entry.addWidget(self.size_of_paper)
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
        self.say(
            "The drawings and the card go to the machine, the sheets to hang beside it; keep the record with the job."
        )

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
        self.size_of_paper.setCurrentText(self._size())
        chosen, content, size = self.chosen(), self._content(), self._size()
        asked = ("report", frozenset(chosen), content, size)
        self._report = job.derived_now(
            asked, lambda: self.session.long.beside(lambda: Report(job, chosen, content, size))
        )
        count = len(self._report.pages)
        self.number.setMaximum(count)
        self.headline.show_answer(self.session, f"{count} page{'s' if count > 1 else ''}")
        self._show_page()

    def chosen(self) -> set[str]:
        """Ids of the axes to print."""
        return {axis_id for axis_id, box in self.axes.items() if box.isChecked()}

    def _content(self) -> Content | None:
        """What makes the pages chosen; None: all four papers."""
        name = self.what.currentData()
        return PAPERS[name][1] if name else None

    def _size(self) -> PaperSize:
        """The paper chosen once, else the one of the country."""
        kept, job = settings.paper_size(), self.session.job
        return next((s for s in SIZES if s == kept), usual_size("mm" if job is None else job.info.units))

    def _resize_paper(self) -> None:
        settings.remember_paper_size(self.size_of_paper.currentText())
        self.refresh()

    def _turn_to_first(self) -> None:
        self.number.setValue(1)
        self.refresh()

    def ask_and_write(self) -> None:
        """Ask where, then write."""
        job = self.session.job
        if job is None:
            return
        path = job.path or Path("job.vernus")
        which = self.what.currentData()
        start = str(path.with_name(f"{path.stem}-{which}.pdf") if which else path.with_suffix(".pdf"))
        name, _ = QFileDialog.getSaveFileName(self, "Write the paper", start, "PDF (*.pdf)")
        if name:
            self.write_to(Path(name))

    def write_to(self, path: Path) -> None:
        """Write the PDF and say so."""
        job = self.session.job
        if job is None:
            return
        try:
            pages = write_report(job, path, self.chosen(), self._content(), self._size())
        except VernusError as error:
            self.said.setText(str(error))
        else:
            self.said.setText(f"Wrote {pages} pages to {path}.")

    def _show_page(self) -> None:
        report = self._report
        if report is not None:
            number = min(self.number.value(), len(report.pages)) - 1
            self.view.show_drawing(partial(_paint, report, number), long=self.session.long.is_large)


def _paint(report: Report, number: int, painter: QPainter, room: QRectF) -> None:
    """A page, as large as its place."""
    scale = min(room.width() / report.page.width(), room.height() / report.page.height())
    width, height = report.page.width() * scale, report.page.height() * scale
    left = room.left() + (room.width() - width) / 2
    painter.fillRect(QRectF(left, room.top(), width, height), Qt.GlobalColor.white)
    painter.save()
    painter.translate(left, room.top())
    painter.scale(scale, scale)
    report.paint(painter, number)
    painter.restore()
    painter.setPen(pen(PRINT.hairline))
    painter.drawRect(QRectF(left, room.top(), width - 1, height - 1))
