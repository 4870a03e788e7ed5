"""Every test, once: those of core, job and bench where Qt can't be imported, then the others.

What is imported is compiled once and kept, also where the environment says otherwise: tests start many processes.
"""

import os
import subprocess
import sys

import without_qt

if __name__ == "__main__":
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
    subprocess.run([sys.executable, "-m", "compileall", "-q", "-j", "2", str(without_qt.ROOT / "src")], check=True)
    without = without_qt.run()
    others = [f"--ignore={without_qt.ROOT / 'tests' / part}" for part in without_qt.PARTS]
    command = [sys.executable, "-m", "pytest", "-n", "2", "--dist", "loadfile", *others, str(without_qt.ROOT / "tests")]
    sys.exit(subprocess.run(command, cwd=without_qt.ROOT, check=False).returncode or without)
