"""Pages of which one is in view: those that aren't are neither laid out nor measured."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QSize, Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QApplication, QWidget


class Pages(QWidget):
    """As large as the page in view wants to be. Showing another one takes as long as that one, however many there are.

    The stacked widget of the toolkit measures all of its pages, and tells every widget on them, whenever it turns.
    """

    def __init__(self) -> None:
        super().__init__()
        self._pages: list[QWidget] = []
        self._shown: QWidget | None = None

    def addWidget(self, page: QWidget) -> None:
        """Take in a page; the first one is shown."""
        page.hide()
        page.setParent(self)
        self._pages.append(page)
        if self._shown is None:
            self.setCurrentWidget(page)

    def removeWidget(self, page: QWidget) -> None:
        """Let go of a page; it stays a child until it is deleted."""
        self._pages.remove(page)
        page.hide()
        if page is self._shown:
            self._shown = None

    def count(self) -> int:
        """How many pages there are."""
        return len(self._pages)

    def widget(self, number: int) -> QWidget:
        """The page of that number; raises IndexError."""
        return self._pages[number]

    def currentWidget(self) -> QWidget | None:
        """The page in view."""
        return self._shown

    def currentIndex(self) -> int:
        """The number of the page in view, −1 where none is."""
        return -1 if self._shown is None else self._pages.index(self._shown)

    def setCurrentIndex(self, number: int) -> None:
        """Bring a page into view by its number."""
        self.setCurrentWidget(self._pages[number])

    def setCurrentWidget(self, page: QWidget) -> None:
        """Bring a page into view; the cursor comes along."""
        was = self._shown
        if page is was:
            return
        here = QApplication.focusWidget()
        along = was is not None and here is not None and (here is was or was.isAncestorOf(here))
        if along:
            self.setFocus(Qt.FocusReason.OtherFocusReason)  # so a page that goes remembers where the cursor was
        if was is not None:
            was.hide()
        self._shown = page
        page.setGeometry(self.rect())
        page.show()
        if along:
            left = page.focusWidget()
            (left if left is not None and left.isVisible() else page).setFocus(Qt.FocusReason.OtherFocusReason)
        self.updateGeometry()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self._shown is not None:
            self._shown.setGeometry(self.rect())

    def sizeHint(self) -> QSize:
        return QSize() if self._shown is None else self._shown.sizeHint()

    def minimumSizeHint(self) -> QSize:
        return QSize() if self._shown is None else self._shown.minimumSizeHint()

    def event(self, event: QEvent) -> bool:
        """What the page in view wants has changed, so has what this one wants."""
        if event.type() == QEvent.Type.LayoutRequest:
            self.updateGeometry()
        return super().event(event)
