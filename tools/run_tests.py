"""Every test, once: those of core, job and bench where Qt can't be imported, then the others."""

import subprocess
import sys

import without_qt

if __name__ == "__main__":
    without = without_qt.run()
    others = [f"--ignore={without_qt.ROOT / 'tests' / part}" for part in without_qt.PARTS]
    command = [sys.executable, "-m", "pytest", "-n", "2", "--dist", "loadfile", *others, str(without_qt.ROOT / "tests")]
    sys.exit(subprocess.run(command, cwd=without_qt.ROOT, check=False).returncode or without)
