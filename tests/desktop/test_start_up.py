"""What Start loads, how the look is chosen, that every control has a name, and what a fault's description holds."""

import gc
import json
import os
import subprocess
import sys
import weakref

import pytest
import shiboken6
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QGuiApplication
from PySide6.QtWidgets import QAbstractButton, QAbstractItemView, QApplication, QComboBox, QLabel, QLineEdit, QSpinBox

from vernus.desktop import settings
from vernus.desktop.session import Session
from vernus.desktop.window import Window
from vernus.job.scope import sheets_of_job
from vernus.job.sheet_names import AXIS_SHEETS
from vernus.paper.ink import CONTRAST, DARK, LIGHT

PROBE = """
import sys, json
from PySide6.QtWidgets import QApplication
def shown():
    QApplication.processEvents()
    print(json.dumps(sorted(sys.modules)))
    return 0
QApplication.exec = staticmethod(shown)
from vernus.cli.main import main
main(sys.argv[1:])
sys.stdout.flush()
import os
os._exit(0)
"""


def test_the_command_loads_nothing_heavy_for_start_and_for_the_demo_only_what_it_shows():
    def loaded(*words):
        run = subprocess.run([sys.executable, "-c", PROBE, *words], capture_output=True, text=True, check=True)
        return set(json.loads(run.stdout.splitlines()[-1]))

    start, demo = loaded(), loaded("demo")
    heavy = {
        "numpy",
        "scipy",
        "pydantic",
        "ezdxf",
        "serial",
        "icalendar",
        "vernus.job.entities",
        "vernus.job.review.review",
    }
    assert not heavy & start
    assert not {"scipy", "ezdxf", "serial", "icalendar"} & demo


def test_a_window_that_is_gone_leaves_nothing_behind(qapp):
    made = Window(Session())
    made.files.open_demo()
    made.show_sheet("scale")
    left = weakref.ref(made), weakref.ref(made.session), weakref.ref(made.session.job)
    made.session.job.close()
    shiboken6.delete(made)
    del made
    gc.collect()
    assert [ref() is None for ref in left] == [True, True, True]


def luminance(colour):
    """Relative luminance (WCAG 2, from memory)."""
    parts = [c / 255 for c in (QColor(colour).red(), QColor(colour).green(), QColor(colour).blue())]
    red, green, blue = (p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def contrast(one, other):
    high, low = sorted((luminance(one), luminance(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize(("inks", "least"), [(LIGHT, 4.5), (DARK, 4.5), (CONTRAST, 7.0)])
def test_every_word_stands_out_from_its_ground(inks, least):
    for ground in (inks.ground, inks.sheet):
        for ink in (inks.ink, inks.faint, inks.accent, inks.caution, inks.stop):
            assert contrast(ink, ground) >= least
    assert contrast(inks.on_accent, inks.accent) >= 4.5
    assert contrast(inks.ink, inks.wash) >= 4.5


def test_the_desktops_preference_is_followed_until_a_theme_is_chosen(window, monkeypatch):
    hints = QGuiApplication.styleHints()
    scheme = [Qt.ColorScheme.Dark]
    monkeypatch.setattr(type(hints), "colorScheme", lambda _self: scheme[0])
    assert Session().theme == "dark"
    window.session.follow_desktop()
    assert window.session.theme == "dark"
    window.session.show_theme("contrast")
    scheme[0] = Qt.ColorScheme.Light
    window.session.follow_desktop()
    assert window.session.theme == "contrast"
    assert Session().theme == "contrast"


@pytest.mark.parametrize(
    ("kept", "theme"), [({"dark": True}, "dark"), ({"dark": False}, None), ({"theme": "pink"}, None)]
)
def test_what_older_settings_say_of_the_look_still_holds(own_home, kept, theme):
    settings._write(**kept)
    assert settings.theme() == theme


def test_everything_is_drawn_larger_from_the_next_start(window):
    told = []
    window.session.notice.connect(told.append)
    seen = []
    for _ in settings.SCALES:
        window.acts.draw_larger()
        seen.append(settings.scale())
    assert seen == [1.25, 1.5, 2.0, 1.0]
    assert "125 %" in told[0]


NAMED = (QLineEdit, QComboBox, QAbstractButton, QAbstractItemView, QSpinBox)


def nameless(window):
    """Controls that can be reached and that a screen reader could only call by their kind."""
    buddies = {label.buddy() for label in window.findChildren(QLabel) if label.buddy()}
    found = []
    for control in window.findChildren(NAMED[0]) + [c for kind in NAMED[1:] for c in window.findChildren(kind)]:
        inside = isinstance(control.parent(), QComboBox | QSpinBox | QAbstractItemView) or not control.isVisible()
        own = control.accessibleName() or (control.text() if isinstance(control, QAbstractButton) else "")
        if not inside and not own and control not in buddies:
            found.append((type(control).__name__, type(control.parent()).__name__))
    return found


@pytest.mark.parametrize("name", ["mill", "lathe"] if os.environ.get("VERNUS_HANDS") else ["mill"])
def test_every_control_has_a_name_for_a_screen_reader(window, name):
    assert nameless(window) == []
    window.files.open_demo(name)
    for sheet in sheets_of_job(window.session.job):
        window.show_sheet(sheet)
        QApplication.processEvents()
        assert nameless(window) == [], sheet
    assert AXIS_SHEETS


def test_a_faults_description_has_versions_and_actions_and_nothing_of_the_job(window, demo, hands):
    job = window.session.job
    demo.apply("rename", [job.info.with_(title="SECRET TITLE")])
    demo.note_fault("ValueError", ["file.py:3 act"])
    window.acts.copy_fault()
    text = QGuiApplication.clipboard().text()
    assert text.startswith("Vernus 0.1.0\nPython ")
    assert "put job" in text
    assert "fault: ValueError\nfile.py:3 act" in text
    assert "SECRET" not in text
    assert str(job.path) not in text
