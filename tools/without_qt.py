"""Runs the core and job tests in an environment where PySide6 can't be imported."""

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent
BLOCK = """
import sys


class NoQt:
    def find_spec(self, name, path=None, target=None):
        if name.split(".")[0] in ("PySide6", "shiboken6"):
            raise ModuleNotFoundError(f"No module named {name!r} (blocked)", name=name)


sys.meta_path.insert(0, NoQt())
import pytest

sys.exit(pytest.main(["-p", "no:pytest-qt", "-p", "no:cacheprovider", *sys.argv[1:]]))
"""

if __name__ == "__main__":
    tests = [str(ROOT / "tests" / part) for part in ("core", "job", "bench", "cli/test_calc.py", "reference")]
    environment = {**os.environ, "VERNUS_HYPOTHESIS": "again"}
    sys.exit(subprocess.run([sys.executable, "-c", BLOCK, *tests], cwd=ROOT, env=environment, check=False).returncode)
