"""What stands on the screen and not on paper: every figure and every finding of a job, sheet by sheet."""

import re

from PySide6.QtCore import QEvent
from PySide6.QtWidgets import QApplication, QLabel, QTableView

from tests.printed import words_of
from vernus.job.scope import axes_in_scope, sheets_of, sheets_of_job
from vernus.job.sheet_names import AXIS_SHEETS
from vernus.paper.report import write_report

FIGURE = re.compile(r"(?<![\w.])[-+]?\d+(?:\.\d+)?(?![\w.]*\d)")
LEFT_OUT = (
    ("", r"^(mm|in|thou|µm|°C|°F)? ?= ", "the same figure in the other unit, beside its field"),
    ("scale", r"Axis .* from its ", "where the picture's slider stands"),
    ("scale", r"^[^●].* / .* \| ", "sizes that would serve too, beside the one chosen"),
    ("scale", r"^[^●]*: section ", "what is said of a family under the cursor that wasn't chosen"),
    ("order", r" \| Serves ", "families compared before one is chosen"),
    ("envelope", r"^[\d.]+ (mm|in) to the | \| ", "moves that were only tried"),
    ("align", r"^\d+ \| [\d.]+ \| *$", "stations that nobody has read yet"),
    ("align", r"^(Indicator|Both indicators|Back) at |^Indicator near", "what is read next"),
    ("positioning", r"^Cycle \d+( of \d+)?: ", "what is read next"),
    ("align", r"Screws at .* held", "how a pass is set up that has no reading yet"),
    ("receive", r"^[^|]+\|[^|]+\| *\| *$", "what was planned and hasn't arrived"),
    ("machine", r"^.*: [\d.]+ (mm|in) wide, ", "the box in hand; it is drawn to scale in the views"),
    ("mounts", r"^A slot runs at, ", "a field's own words"),
    ("part", r"^hole \d+ \| ", "holes proposed that nobody began"),
    ("start", r"", "Start is no part of a job"),
)
"""(sheet, what it looks like, why): what is left out of the report on purpose."""


def plain(text):
    """Without what only breaks lines or sets figures."""
    for was, now in (("\xa0", " "), ("\u202f", " "), ("\u2060", ""), ("\u200b", ""), ("−", "-")):
        text = text.replace(was, now)
    return re.sub(r"[ \t\n]+", lambda m: " ", text)


def figures(text):
    """The figures of a text, bare of sign and idle zeros; single digits count things and are left."""
    found = set()
    for word in FIGURE.findall(text):
        bare = word.lstrip("+-")
        if "." in bare or len(bare) > 1:
            found.add(bare.rstrip("0").rstrip(".") if "." in bare else bare)
    return found - {"0"}


def left_out(sheet, text):
    """Whether something on a sheet is left out of the report on purpose."""
    return any(where in ("", sheet) and re.search(how, text) for where, how, _ in LEFT_OUT)


def missing_on_paper(window, path):
    """(sheet, axis, text, figures) of everything shown whose figures are nowhere in the report, and findings."""
    job = window.session.job
    write_report(job, path)
    paper = plain(words_of(path))
    printed, run_together = figures(paper), re.sub(r"\s", "", paper)
    missing = []
    for name in sheets_of_job(job):
        if name == "paper":
            continue
        for axis in axes_in_scope(job):
            if name in AXIS_SHEETS and name not in sheets_of(axis):
                continue
            window.session.axis_id = axis.id
            window.show_sheet(name)
            QApplication.processEvents()
            QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
            sheet = window.sheets[name]
            if not sheet.isVisible():
                continue
            beside = sheet.hand_words  # how a figure is taken: no statement of the job
            labels = [w for w in sheet.findChildren(QLabel) if not beside.isAncestorOf(w)]
            texts = [label.text() for label in labels if label.isVisible()]
            for table in sheet.findChildren(QTableView):
                if table.isVisible():
                    texts += [" | ".join(map(str, row)) for row in table.model().rows]
            for text in map(plain, texts):
                lost = figures(text) - printed
                if lost and not left_out(name, text):
                    missing.append((name, axis.name, text, sorted(lost)))
            for text in window.findings.texts():
                if re.sub(r"\s", "", plain(text)) not in run_together:
                    missing.append((name, axis.name, text, ["a finding"]))
    return list(dict.fromkeys((n, a, t, tuple(f)) for n, a, t, f in missing))
