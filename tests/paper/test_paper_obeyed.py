"""What the shop obeys stands on the paper it would take to the machine, with the figure it obeys."""

import os
import re

import pytest

from tests.printed import words_of
from tests.shop.carried_out import carry_out
from vernus.job.said import statements
from vernus.paper.report import PAPERS, write_report

SEEDS = range(30) if os.environ.get("VERNUS_HYPOTHESIS") == "soak" else (2,)
OBEYED = {
    "travel": (), "kept": ("to_mm",), "zone": (), "stop": ("before_mark_mm",), "bumper": ("length_mm",),
    "scale": ("measuring_mm",), "cut": ("saw_mm",), "face": (), "body": ("from_mm",),
    "place": ("axis_at_mm", "reader_at_mm"), "spare": ("low_mm", "high_mm"), "trip": ("at_mm",), "setting": (),
    "dial": ("park_mm", "from_mm", "to_mm"), "gap": ("least_mm",), "cable": ("need_mm",), "key_in": (),
    "verdict": ("value_mm", "u_mm", "limit_mm"), "mesh": ("centre_mm",),
}  # fmt: skip
"""The kinds whose sentence is printed as it is said, and the figures that are obeyed in it."""


def plain(text):
    return re.sub(r"[\s\xa0\u2060\u202f]+", "", text)


def printed_in(words, mm, units):
    """Whether a sentence has the length, to the last digit that it is printed with."""
    wanted = [abs(mm)] if units == "mm" else [abs(mm) / 25.4, abs(mm) / 0.0254]
    found = re.findall(r"\d+(?:\.\d+)?", words)
    return any(abs(float(n) - w) <= 0.51 * 10.0 ** -len(n.partition(".")[2]) for n in found for w in wanted)


@pytest.mark.parametrize("seed", SEEDS)
def test_every_sentence_the_shop_obeys_is_printed_with_its_figures(seed, tmp_path, qapp):
    job = carry_out(seed)[0].desk.job
    units = job.info.units
    write_report(job, tmp_path / "record.pdf", None, PAPERS["record"][1])
    paper, missing = plain(words_of(tmp_path / "record.pdf")), []
    whole = {s.axis: float(s.figures["overall_mm"]) for s in statements(job) if s.kind == "scale"}
    for said in statements(job):
        if said.kind not in OBEYED:
            continue
        words = said.words.text(units)
        if plain(words) not in paper:
            missing.append((said.id, words))
        missing += [
            (said.id, key, said.figures[key], words)
            for key in OBEYED[said.kind]
            if said.figures.get(key) is not None
            and not printed_in(words, float(said.figures[key]), units)
            # the reader's place is said from the end that is named, which may be the other one
            and not (key == "reader_at_mm" and printed_in(words, whole[said.axis] - float(said.figures[key]), units))
        ]
    assert not missing
