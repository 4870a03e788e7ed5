"""Writes the four papers of the demo mill. Run by `make papers`.

Usage: tools/papers.py FOLDER
"""

import os
import sys
from importlib import resources
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from vernus.job.document import Job
from vernus.job.formats.exchange import read_export
from vernus.paper.report import write_report_headless


def main(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    job = Job(read_export(Path(str(resources.files("vernus.data"))) / "demo/mill.json", []))
    for paper in ("job", "drawings", "card", "record"):
        write_report_headless(job, folder / f"{paper}.pdf", paper, "A4")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
