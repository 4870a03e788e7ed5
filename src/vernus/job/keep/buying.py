"""What is said of everything to buy."""

from __future__ import annotations

from vernus.core.finding import Sentence
from vernus.job.document import Job
from vernus.job.keep.lists import buying_list
from vernus.job.statement import Statement


def buy_statements(job: Job) -> list[Statement]:
    """Everything to buy, each line of the list once."""
    found: list[Statement] = []
    for item in buying_list(job):
        if item.kind == "buy":
            size = "" if item.size is None else item.size.text(job.info.units)
            told = ": {detail}." if item.detail.text() else "."
            words = Sentence("Buy {n} × {what}" + told, {"n": item.count, "what": item.what, "detail": item.detail})
            said = {
                "what": item.what.text(), "size": size, "count": item.count, "size_mm": item.size_mm,
            }  # fmt: skip
            found.append(Statement("buy", item.axis, item.key, "order", words, said))
    return found
