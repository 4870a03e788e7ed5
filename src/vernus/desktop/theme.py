"""The look: style sheets made from the inks."""

from __future__ import annotations

from importlib import resources

from PySide6.QtGui import QColor, QPalette
from PySide6.QtWidgets import QApplication, QWidget

from vernus.paper.ink import DARK, Inks, font

STYLE = ("-style", "fusion")
"""The style to begin with, among the application's arguments: asked for by its object it takes longer to load."""
_RULES = """
QMainWindow, QDialog, #ground {{ background: {ground}; }}
QMenuBar, QStatusBar {{ background: {ground}; }}
QMenu {{ background: {sheet}; border: 1px solid {hairline}; padding: 4px; }}
QMenu::item {{ padding: 5px 24px 5px 12px; }}
QMenu::item:selected, QMenuBar::item:selected {{ background: {wash}; }}
QMenu::item:disabled {{ color: {faint}; }}
#zone {{ background: {sheet}; border: 1px solid {hairline}; }}
#instruction {{ background: {sheet}; border: 1px solid {hairline}; border-left: 5px solid {accent}; }}
#working {{ background: {sheet}; border: 1px solid {faint}; padding: 6px 10px; }}
#banner {{ background: {sheet}; border: 2px solid {stop}; }}
#notice {{ background: {wash}; border: 1px solid {hairline}; }}
#question {{ background: {wash}; border: 1px solid {caution}; border-left: 5px solid {caution}; }}
#faint {{ color: {faint}; }}
#accent {{ color: {accent}; }}
#complaint {{ color: {stop}; }}
#caution {{ color: {caution}; }}
QLineEdit, QComboBox, QSpinBox, QTableView {{
  background: {ground}; border: 1px solid {hairline}; border-radius: 0; padding: 4px 6px;
  selection-background-color: {wash}; selection-color: {ink}; }}
QLineEdit:focus, QComboBox:focus, QSpinBox:focus, QTableView:focus {{ border: 2px solid {accent}; padding: 3px 5px; }}
#row {{ border-bottom: 1px solid {hairline}; background: {sheet}; }}
#row[held="true"] {{ background: {wash}; }}
QLineEdit#inplace {{ background: transparent; border: 1px solid transparent; padding: 0 4px; }}
QLineEdit#inplace:focus, QLineEdit#dimension {{ background: {ground}; border: 2px solid {accent}; padding: 0 3px; }}
QComboBox#inplace {{ background: transparent; border: none; padding: 0; }}
QLineEdit[wrong="true"], QLineEdit#inplace[wrong="true"] {{ border: 2px dashed {stop}; }}
QLineEdit:read-only {{ color: {faint}; }}
QSpinBox::up-button, QSpinBox::down-button {{ width: 0; border: none; }}
QComboBox QAbstractItemView {{ background: {sheet}; border: 1px solid {hairline}; }}
QComboBox::drop-down {{ width: 24px; border: none; }}
QComboBox::down-arrow {{ image: url({arrow}); width: 12px; height: 8px; }}
QPushButton {{ background: {ground}; border: 1px solid {faint}; padding: 5px 12px; border-radius: 0; }}
QPushButton:focus {{ border: 2px solid {accent}; padding: 4px 11px; }}
QPushButton:hover {{ background: {wash}; }}
QPushButton:disabled {{ color: {faint}; border-color: {hairline}; }}
QPushButton:checked {{ background: {accent}; color: {on_accent}; border-color: {accent}; }}
QPushButton#main {{ background: {accent}; color: {on_accent}; border-color: {accent}; }}
QPushButton#main:focus {{ border: 2px solid {ink}; }}
QPushButton#tight {{ padding: 5px 3px; }}
QPushButton#tight:focus {{ padding: 4px 2px; }}
QPushButton#step {{ text-align: left; border: none; padding: 1px 8px; }}
QPushButton#link {{ border: none; background: transparent; color: {accent}; text-align: left; padding: 4px 2px; }}
QPushButton#link:focus {{ border: 1px solid {accent}; }}
#wordslink {{ color: {accent}; padding: 3px 2px; border: 1px solid transparent; }}
#wordslink:focus {{ border: 1px solid {accent}; }}
QTableView {{ gridline-color: {hairline}; padding: 0; outline: 0; }}
QTableView:focus {{ padding: 0; }}
QTableView::item {{ padding: 2px 6px; }}
QTableView::item:selected {{ background: {wash}; color: {ink}; }}
QHeaderView {{ background: {sheet}; }}
QHeaderView::section {{ background: {sheet}; color: {faint}; border: none; border-bottom: 1px solid {faint};
  padding: 3px 6px; }}
QTableCornerButton::section {{ background: {sheet}; border: none; }}
QScrollArea, #plain {{ background: transparent; border: none; }}
QScrollBar:vertical {{ background: transparent; width: 10px; }}
QScrollBar::handle:vertical {{ background: {hairline}; min-height: 24px; }}
QScrollBar:horizontal {{ background: transparent; height: 10px; }}
QScrollBar::handle:horizontal {{ background: {hairline}; min-width: 24px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
QToolTip {{ background: {sheet}; color: {ink}; border: 1px solid {faint}; }}
QSlider::groove:horizontal {{ height: 4px; background: {hairline}; }}
QSlider::handle:horizontal {{ width: 10px; margin: -7px 0; background: {accent}; border: 1px solid {sheet}; }}
QSlider:focus {{ border: 1px dotted {accent}; }}
QCheckBox::indicator {{ width: 14px; height: 14px; border: 1px solid {faint}; background: {ground}; }}
QCheckBox::indicator:checked {{ background: {accent}; border: 3px solid {ground}; outline: 1px solid {faint}; }}
QCheckBox:focus {{ color: {accent}; }}
"""


def dress(application: QApplication, window: QWidget, inks: Inks) -> None:
    """Give the application its type and palette, and a window its style.

    The style is the window's, not the application's: so a sheet is styled once, when it is put into the window, and
    not again and again while it is being built.
    """
    shade = "dark" if inks == DARK else "light"
    arrow = str(resources.files("vernus.data").joinpath(f"arrow-{shade}.svg"))
    rules = _RULES.format(**vars(inks), arrow=arrow)
    if window.styleSheet() == rules:
        return
    application.setFont(font())
    palette = QPalette(QColor(inks.ground))
    for role, colour in (
        (QPalette.ColorRole.Window, inks.ground),
        (QPalette.ColorRole.Base, inks.ground),
        (QPalette.ColorRole.AlternateBase, _between(inks.ground, inks.hairline, 0.28)),
        (QPalette.ColorRole.Text, inks.ink),
        (QPalette.ColorRole.WindowText, inks.ink),
        (QPalette.ColorRole.Button, inks.ground),
        (QPalette.ColorRole.ButtonText, inks.ink),
        (QPalette.ColorRole.Highlight, inks.wash),
        (QPalette.ColorRole.HighlightedText, inks.ink),
        (QPalette.ColorRole.Link, inks.accent),
        (QPalette.ColorRole.PlaceholderText, inks.faint),
    ):
        palette.setColor(role, QColor(colour))
    application.setPalette(palette)
    window.setStyleSheet(rules)


def restyle(widget: QWidget) -> None:
    """Have the rules read anew for a widget of which a property or the name has changed that they look at."""
    widget.style().unpolish(widget)
    widget.style().polish(widget)


def _between(first: str, second: str, share: float) -> str:
    """A colour so far on the way from one to another."""
    a, b = QColor(first), QColor(second)
    pairs = ((a.red(), b.red()), (a.green(), b.green()), (a.blue(), b.blue()))
    return QColor(*(round(x + share * (y - x)) for x, y in pairs)).name()
