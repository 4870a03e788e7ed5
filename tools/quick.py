"""The tests of the rooms that the uncommitted change touches: what a person runs between two edits.

Test files that are changed are run themselves; of ``src/vernus/PART/ROOM/…`` those of ``tests/PART/ROOM``, where there
is such a folder, without the window's (whole walks through it take minutes: `make test`).
"""

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent
WITHOUT_A_WINDOW = ("core", "job", "bench", "cli", "paper")


def changed() -> list[str]:
    told = subprocess.run(
        ["git", "status", "--porcelain", "--untracked-files=all"], cwd=ROOT, capture_output=True, text=True, check=True
    ).stdout
    return [line[3:].split(" -> ")[-1].strip('"') for line in told.splitlines()]


def tests_of(name: str) -> Path | None:
    """Where the tests of a changed file lie; None for one that has none of its own."""
    parts = Path(name).parts
    if parts[0] == "tests" and Path(name).name.startswith("test_"):
        return ROOT / name if (ROOT / name).exists() else None
    if parts[:2] != ("src", "vernus") or len(parts) < 4 or parts[2] not in WITHOUT_A_WINDOW:
        return None
    room, stem = ROOT / "tests" / parts[2] / parts[3], Path(name).stem
    own = ROOT / "tests" / parts[2] / f"test_{stem}.py"
    return room if room.is_dir() else own if own.exists() else None


if __name__ == "__main__":
    where = sorted({path for name in changed() if (path := tests_of(name)) is not None})
    if not where:
        sys.exit("Nothing is changed that has tests without a window; `make test` runs all.")
    print("Running " + ", ".join(str(p.relative_to(ROOT)) for p in where))
    sys.exit(
        subprocess.run([sys.executable, "-m", "pytest", "-q", "-n", "2", "--maxfail=5", *where], cwd=ROOT).returncode
    )
