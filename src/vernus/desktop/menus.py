"""The menus: every act of the window by its name and keys."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QHBoxLayout, QMenu, QMenuBar, QSizePolicy, QWidget

from vernus.desktop.help import show_cautions, show_keys
from vernus.desktop.parts.question import KEEP_KEYS, TAKE_KEYS
from vernus.desktop.sheet_list import SHEETS


def make_menus(window: Any) -> tuple[QMenuBar, QHBoxLayout]:
    """The menus of the window (``vernus.desktop.window``, which makes them), with the row they stand in."""
    session, files, acts = window.session, window.files, window.acts
    menus = QMenuBar()
    menus.setNativeMenuBar(False)  # the strip stands beside it
    menus.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Preferred)
    top = QWidget()
    top.setObjectName("ground")
    beside = QHBoxLayout(top)
    beside.setContentsMargins(0, 0, 0, 0)
    beside.addWidget(menus, 0, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft)
    window.setMenuWidget(top)
    job, edit, view, help_ = (menus.addMenu(t) for t in ("&Job", "E&dit", "&View", "&Help"))
    for menu, text, keys, act in (
        (job, "New job…", "Ctrl+N", lambda: files.attempt(session.close_job)),
        (job, "Open…", "Ctrl+O", files.ask_and_open),
        (job, "Open the demo mill", "", files.open_demo),
        (job, "Open the demo lathe", "", lambda: files.open_demo("lathe")),
        (job, "Practise on a machine that can't be hurt", "", window.practise),
        (job, "Save", "Ctrl+S", files.say_saved),
        (job, "Save a copy as…", "Ctrl+Shift+S", files.ask_and_copy),
        (job, "Duplicate job…", "", files.ask_and_duplicate),
        (job, "Send to a friend…", "", files.ask_and_send),
        (job, "Export as JSON and CSV…", "", files.ask_and_export),
        (job, "Import an export…", "", files.ask_and_import),
        (job, "Keep this machine as a template…", "", files.ask_and_keep_template),
        (job, "Keep this scale family as a file…", "", files.ask_and_keep_family),
        (job, "Take in a machine or a scale family…", "", files.ask_and_take_shared),
        (job, "Quit", "Ctrl+Q", window.close),
        (edit, "Undo", "Ctrl+Z", session.undo),
        (edit, "Redo", "Ctrl+Shift+Z", session.redo),
        (edit, "Add a row", "Ctrl+Ins", acts.add_a_row),
        (edit, "Delete the row", "Ctrl+Del", acts.drop_a_row),
        (edit, "Take the figure proposed", TAKE_KEYS, partial(acts.answer, True)),
        (edit, "Keep the figure as typed", KEEP_KEYS, partial(acts.answer, False)),
        (view, "Units mm / in", "Ctrl+U", acts.other_units),
        (view, "Next axis", "Ctrl+PgDown", partial(acts.step_axis, 1)),
        (view, "Previous axis", "Ctrl+PgUp", partial(acts.step_axis, -1)),
        (view, "Light / dark", "Ctrl+D", acts.other_ground),
        (view, "High contrast", "", lambda: session.show_theme("contrast")),
        (view, "Larger, from the next start on", "", acts.draw_larger),
        (view, "What matters most next", "F3", acts.hold_wanted),
        (view, "Type into the drawing", "F4", acts.type_into_drawing),
        (view, "Bench view", "F11", window.other_bench),
        (view, "Practice: bench or sheet", "F12", window.other_side),
        (view, "Link an instrument…", "F8", window.ask_and_link),
        (help_, "Keys", "F1", lambda: show_keys(window, {s.keys: s.title for s in SHEETS})),
        (help_, "Cautions", "", lambda: show_cautions(window)),
        (help_, "Copy a description of the fault", "", acts.copy_fault),
    ):
        _action(window, menu, text, keys, act)
    view.addSeparator()
    for sheet in SHEETS:
        _action(window, view, sheet.title, sheet.keys, partial(window.show_sheet, sheet.name))
    return menus, beside


def _action(window: Any, menu: QMenu, text: str, keys: str, act: Callable[[], object]) -> None:
    action = QAction(text, window)
    if keys:
        action.setShortcut(QKeySequence(keys))
    action.triggered.connect(lambda _checked=False: act())
    menu.addAction(action)
