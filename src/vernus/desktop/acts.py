"""What the keys and menus do to what is in view."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QApplication

from vernus.desktop import settings
from vernus.desktop.parts.entry import Entry
from vernus.desktop.session import Session


class Acts:
    """The acts of a window (``vernus.desktop.window``, which makes them) that change nothing of how it is laid out."""

    def __init__(self, window: Any, session: Session) -> None:
        self._window, self._session = window, session

    def other_units(self) -> None:
        """Read and type in the other units."""
        self._session.show_units("in" if self._session.units == "mm" else "mm")

    @property
    def engine(self) -> Entry:
        """The entry engine of the sheet in view, or of Start."""
        window = self._window
        shown: Entry = (window.start if self._session.job is None else window.sheets[self._session.in_view]).engine
        return shown

    def add_a_row(self) -> None:
        """Add a row to the list in hand."""
        rows = self.engine.rows()
        if rows is not None:
            rows.add_row()

    def drop_a_row(self) -> None:
        """Delete the row in hand."""
        rows = self.engine.rows()
        if rows is not None:
            rows.drop_row()

    def answer(self, take: bool) -> None:
        """Answer the figure asked about, on the sheet or in the strip; with none asked the keys do nothing."""
        question = self.engine.question() or (
            self._window.strip.engine.question() if "strip" in self._window.__dict__ else None
        )
        if question is not None:
            question.accept_proposal() if take else question.accept_typed()

    def hold_wanted(self) -> None:
        """Bring the cursor to what matters most next."""
        if self._session.job is not None:
            self._window.sheets[self._session.in_view].hold_wanted()

    def type_into_drawing(self) -> None:
        """Type into the drawing's dimension of the row in hand."""
        if self._session.job is not None and not self._window.sheets[self._session.in_view].type_into_drawing():
            self._session.notice.emit("The drawing has no dimension for the row in hand.")

    def step_axis(self, step: int) -> None:
        """Look at the next axis, or at the one before."""
        job = self._session.job
        if job is None:
            return
        from vernus.job.scope import axes_in_scope

        ids = [a.id for a in axes_in_scope(job)]
        if not ids:
            return
        self._session.show_axis(ids[(ids.index(self._session.axis_id) + step) % len(ids)])
        self._window.sheets[self._session.in_view].focus_entry()

    def other_ground(self) -> None:
        """Dark on light, or light on dark."""
        self._session.show_theme("light" if self._session.dark else "dark")

    def draw_larger(self) -> None:
        """The next larger drawing of everything, or the usual one again after the largest."""
        at = settings.SCALES.index(settings.scale())
        by = settings.SCALES[(at + 1) % len(settings.SCALES)]
        settings.remember_scale(by)
        self._session.notice.emit(f"From the next start on everything is drawn at {100 * by:.0f} %.")

    def copy_fault(self) -> None:
        """What helps somebody to mend a fault, onto the clipboard: versions and last actions, nothing of the job."""
        from vernus.desktop.fault import description

        QApplication.clipboard().setText(description(self._session, self._session.in_view))
        self._session.notice.emit("A description of the fault is on the clipboard; nothing of it was sent anywhere.")
