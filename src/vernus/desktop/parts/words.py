"""Words on the screen: never markup, and no figure parted from its unit at the end of a line."""

from __future__ import annotations

import re

from PySide6.QtCore import QEvent, QRect, Qt, Signal
from PySide6.QtGui import QEnterEvent, QKeyEvent, QMouseEvent, QResizeEvent
from PySide6.QtWidgets import QLabel, QWidget

_KEPT = "\u00a0"
_BEFORE_UNIT = re.compile(r"(?<=\d) (?=(?:mm|in|µm|thou|ppm|°C|K|V|Hz|rpm|s|min)\b|%)")

_LONG_WORD = 24
_FIRST = re.compile(r"^.*?[.!?](?=\s|$)", re.DOTALL)


def first_sentence(text: str) -> str:
    """The first sentence of ``text``, all of it where it has no end."""
    found = _FIRST.match(text)
    return text if found is None else found.group(0)


def kept_together(text: str) -> str:
    """``text`` with spaces that don't break between a figure and its unit and after a ±."""
    return _BEFORE_UNIT.sub(_KEPT, text).replace("± ", f"±{_KEPT}")


def plain(text: str) -> str:
    """``text`` for a tooltip: what would be run as markup there is shown as it is written."""
    if "<" not in text and "&" not in text:
        return text
    from html import escape

    return f"<p>{escape(text)}</p>"


def set_tip(widget: QWidget, text: str) -> None:
    """Give a widget a tooltip of plain text."""
    widget.setToolTip(plain(text))


class Label(QLabel):
    """A label that never runs its text as markup; the only one used."""

    def __init__(self, text: str = "") -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


class Words(Label):
    """A wrapping label that keeps a figure with its unit; its words can be marked with the mouse and copied.

    Words that can be marked are laid out as a document of their own, which takes many times as long: so they can from
    the first press on. One too long for a line, such as a path, is broken by that document only.
    """

    def __init__(self, text: str = "", name: str = "", *, marked: bool = True) -> None:
        super().__init__()
        self._marked = marked
        self.setWordWrap(True)
        if name:
            self.setObjectName(name)
        self.setText(text)

    def setText(self, text: str) -> None:
        kept = kept_together(text)
        if kept != super().text():
            if self._marked and len(kept) > _LONG_WORD and any(len(word) > _LONG_WORD for word in kept.split()):
                self._let_mark()
            super().setText(kept)
            self._keep_height()

    def _let_mark(self) -> None:
        if self._marked:
            self.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)

    def enterEvent(self, event: QEnterEvent) -> None:
        super().enterEvent(event)
        if self._marked:
            self.setCursor(Qt.CursorShape.IBeamCursor)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._let_mark()
        super().mousePressEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._keep_height()

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() in (QEvent.Type.FontChange, QEvent.Type.StyleChange):
            self._keep_height()

    def _keep_height(self) -> None:
        """Never lower than the lines it takes at its width, once it has one: a layout would squeeze them otherwise."""
        if self.testAttribute(Qt.WidgetAttribute.WA_Resized) and self.width() > 40:
            room = QRect(0, 0, self.contentsRect().width(), 10_000)
            high = self.fontMetrics().boundingRect(room, Qt.TextFlag.TextWordWrap, super().text()).height()
            if high != self.minimumHeight():
                self.setMinimumHeight(high)

    def text(self) -> str:
        """The words as they were given."""
        return super().text().replace(_KEPT, " ")


class WordsLink(Words):
    """Wrapping words that lead somewhere: pressed by the mouse, Enter or the space bar."""

    pressed = Signal()

    def __init__(self, text: str) -> None:
        super().__init__(text, "wordslink", marked=False)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(text)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        super().mouseReleaseEvent(event)
        if event.button() == Qt.MouseButton.LeftButton and self.rect().contains(event.position().toPoint()):
            self.pressed.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.pressed.emit()
        else:
            super().keyPressEvent(event)
