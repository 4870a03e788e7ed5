"""A part of the job written to files: DXF, and the 1:1 paper template."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from vernus.core.errors import VernusError
from vernus.core.make.hole_rows import HoleRow
from vernus.core.make.parts import Part
from vernus.desktop.session import Session
from vernus.job.formats.dxf import write_dxf
from vernus.paper.pages.make.template import write_template_pdf

Drawn = Callable[[], tuple[Part, Sequence[HoleRow]] | None]


class PartFiles:
    """Asks where, writes, and says so; ``drawn`` is the part in view with its hole rows, None while there is none."""

    def __init__(self, session: Session, over: QWidget, drawn: Drawn) -> None:
        self._session, self._over, self._drawn = session, over, drawn

    def ask_and_write_dxf(self) -> None:
        """Ask where, then write the part as DXF."""
        self._ask_and("Write the part as DXF", "DXF (*.dxf)", ".dxf", self.write_dxf)

    def ask_and_write_template(self) -> None:
        """Ask where, then write the 1:1 template."""
        self._ask_and("Write the 1:1 template", "PDF (*.pdf)", ".pdf", self.write_template)

    def _ask_and(self, title: str, kinds: str, ending: str, write: Callable[[Path], None]) -> None:
        drawn = self._drawn()
        if drawn is None:
            self._session.notice.emit("This part can't be drawn yet: give its sizes first.")
            return
        name, _ = QFileDialog.getSaveFileName(self._over, title, f"{drawn[0].name or 'part'}{ending}", kinds)
        if name:
            write(Path(name if name.endswith(ending) else name + ending))

    def write_dxf(self, path: Path) -> None:
        """Write the part as DXF and say so."""
        self._write(path, lambda part, rows: write_dxf(part, list(rows), path))

    def write_template(self, path: Path) -> None:
        """Write the 1:1 template and say so."""
        self._write(path, lambda part, rows: write_template_pdf(part, tuple(rows), path, self._session.units))

    def _write(self, path: Path, act: Callable[[Part, Sequence[HoleRow]], object]) -> None:
        drawn = self._drawn()
        if drawn is None:
            self._session.notice.emit("This part can't be drawn yet: give its sizes first.")
            return
        try:
            act(*drawn)
        except VernusError as error:
            self._session.notice.emit(str(error))
        else:
            self._session.notice.emit(f"Wrote {path}.")
