"""The application as its own process: a real window under Xvfb, and a kill in the middle of logging."""

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from pypdf import PdfReader
from PySide6.QtGui import QImage

ROOT = Path(__file__).parents[2]


def test_the_real_window_opens_the_demo_on_a_virtual_screen(tmp_path):
    if shutil.which("xvfb-run") is None:
        pytest.fail("xvfb-run is missing; tools/setup installs it")
    environment = {k: v for k, v in os.environ.items() if k not in ("QT_QPA_PLATFORM", "DISPLAY", "WAYLAND_DISPLAY")}
    words = ["xvfb-run", "-a", "-s", "-screen 0 1280x800x24", sys.executable, "-m", "vernus.cli.main", "demo"]
    done = subprocess.run(
        [*words, "--write-to", str(tmp_path)], env=environment, capture_output=True, text=True, timeout=120, check=False
    )
    assert done.returncode == 0, done.stderr
    assert str(tmp_path) in done.stdout
    picture = QImage(str(tmp_path / "demo-screenshot.png"))
    assert (picture.width(), picture.height()) == (1280, 800)
    colours = {picture.pixel(x, y) for x in range(0, 1280, 4) for y in range(0, 800, 4)}
    assert len(colours) > 20, "the picture is blank"
    assert len(PdfReader(tmp_path / "demo-report.pdf").pages) > 3


def test_without_a_display_the_window_is_refused_in_a_sentence():
    environment = {k: v for k, v in os.environ.items() if k not in ("QT_QPA_PLATFORM", "DISPLAY", "WAYLAND_DISPLAY")}
    done = subprocess.run(
        [sys.executable, "-m", "vernus.cli.main"], env=environment, capture_output=True, text=True, check=False
    )
    assert done.returncode == 2
    assert done.stderr.startswith("vernus: There is no display")
    assert done.stderr.count("\n") == 1


def test_a_kill_while_readings_are_logged_loses_none_that_was_acknowledged():
    script = ROOT / "benchmarks" / "kill.py"
    done = subprocess.run(
        [sys.executable, str(script), "--rounds", "2", "--seed", "7"], capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr
    assert "0 lost, every file opened" in done.stdout
