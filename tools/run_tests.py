"""Every test, once: those of core, job and bench where Qt can't be imported, then the others.

Both at a time, the first with one worker: what waits for the disk or for a window leaves a core to the other. What is
imported is compiled once and kept, also where the environment says otherwise: tests start many processes.
"""

import os
import subprocess
import sys
import tempfile

import without_qt

if __name__ == "__main__":
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
    subprocess.run([sys.executable, "-m", "compileall", "-q", "-j", "2", str(without_qt.ROOT / "src")], check=True)
    others = [f"--ignore={without_qt.ROOT / 'tests' / part}" for part in without_qt.PARTS]
    command = [sys.executable, "-m", "pytest", "-n", "2", "--dist", "loadfile", *others, str(without_qt.ROOT / "tests")]
    with tempfile.TemporaryFile("w+") as said:  # a pipe would be full before anybody reads it
        without = without_qt.begin(said)
        failed = subprocess.run(command, cwd=without_qt.ROOT, check=False).returncode
        without.wait()
        said.seek(0)
        sys.stdout.write(said.read())
    sys.exit(without.returncode or failed)
