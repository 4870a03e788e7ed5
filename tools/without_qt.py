"""Runs the core and job tests in an environment where PySide6 can't be imported; also the plugin that sees to that."""

import importlib.machinery
import os
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path
from types import ModuleType
from typing import IO

ROOT = Path(__file__).parent.parent
PARTS = ("core", "job", "bench", "cli/test_calc.py", "reference")


class NoQt:
    """Refuses to find Qt, in this process and in every one of pytest's workers."""

    def find_spec(
        self, name: str, path: Sequence[str] | None = None, target: ModuleType | None = None
    ) -> importlib.machinery.ModuleSpec | None:
        """No module of Qt is found; the others are looked for elsewhere."""
        if name.split(".")[0] in ("PySide6", "shiboken6"):
            raise ModuleNotFoundError(f"No module named {name!r} (blocked)", name=name)
        return None


def begin(said: IO[str]) -> subprocess.Popen[bytes]:
    """Begin the tests of PARTS, without Qt, in one worker that writes what it says into a file."""
    tests = [str(ROOT / "tests" / part) for part in PARTS]
    plugins = ["-p", "no:pytest-qt", "-p", "no:cacheprovider", "-p", "without_qt"]
    environment = {**os.environ, "PYTHONPATH": str(ROOT / "tools"), "VERNUS_WITHOUT_QT": "1"}
    command = [sys.executable, "-m", "pytest", *plugins, *tests]
    return subprocess.Popen(command, cwd=ROOT, env=environment, stdout=said, stderr=said)


if os.environ.get("VERNUS_WITHOUT_QT"):
    sys.meta_path.insert(0, NoQt())
