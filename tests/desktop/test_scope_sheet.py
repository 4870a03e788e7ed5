"""Scope through the window: chosen at Start, changed at any time, and followed everywhere at once."""

import re
import shutil
from pathlib import Path

import pytest
from PySide6.QtWidgets import QLabel

from vernus.desktop.sheet_list import KEYS
from vernus.job.document import new_id
from vernus.job.entities import Delivery, ScalePlan, Sweep
from vernus.job.fields import LengthEntry
from vernus.job.known.lengths import measuring_length

OLD = Path(__file__).parents[1] / "data" / "version-1"


def marks(window, sheet):
    return [name for name, mark in window.route.rows[sheet].marks if mark is not None]


def choose(hands, box, times=1, key="Down"):
    box.setFocus()
    for _ in range(times):
        hands.press(key)


def test_a_two_axis_kit_is_said_at_start_and_nothing_of_the_third_axis_is_there(window, hands, tmp_path):
    start = window.start
    choose(hands, start.kind, 2)
    assert [n for n, c in start.fitted.boxes if c == "readout"] == ["X", "Y", "Z"]
    choose(hands, start.fitted.boxes["Z", "readout"], key="Home")
    start.path.setFocus()
    hands.press("Ctrl+A")
    hands.type(str(tmp_path / "two.vernus"))
    hands.press("Return")
    assert [a.readout for a in window.session.job.axes()] == ["new", "new", "none"]
    assert list(window.strip.chips) == [a.id for a in window.session.job.axes()[:2]]
    assert marks(window, "align") == ["X", "Y"]
    window.show_sheet("card")
    assert "Z" not in {row[2] for row in window.sheets["card"].table.rows.rows}


def test_scope_says_what_comes_and_goes_and_undo_brings_it_back(window, hands, bench_mill):
    hands.press(KEYS["scope"])
    sheet = window.sheets["scope"]
    assert sheet.headline.figure.text() == "3 axes"
    choose(hands, sheet.fitted["Z", "readout"].box, key="N")
    assert sheet.comes.text().startswith("Z: goes: Travel, Scale, Face, Receive, Mounts, Align, Reader, Cables")
    assert "steps" in sheet.comes.text()
    assert (marks(window, "travel"), sheet.headline.figure.text()) == (["X", "Y"], "2 axes")
    choose(hands, sheet.fitted["X", "drive"].box, key="Right")
    assert "X: comes: Fit, Bracket, Mesh, Trips, Run in, 9 steps." in sheet.comes.text()
    assert window.route.rows["fit"].isVisible()
    hands.press("Ctrl+Z")
    hands.press("Ctrl+Z")
    assert marks(window, "travel") == ["X", "Y", "Z"]
    assert not window.route.rows["fit"].isVisible()


def test_a_sheet_that_leaves_the_scope_is_left_and_one_that_is_not_there_is_told(window, hands, bench_mill):
    hands.press(KEYS["fit"])
    assert window.session.in_view == "scope", "no axis has a feed"
    assert "not part of this job" in window.statusBar().currentMessage()
    window.session.show_axis(bench_mill.job.axes()[2].id)
    hands.press(KEYS["align"])
    bench_mill.apply("gone", [bench_mill.axis.with_(readout="none")])
    assert (window.session.axis.name, window.session.in_view) == ("X", "align")
    for axis in bench_mill.job.axes():
        bench_mill.apply("gone", [axis.with_(readout="none")])
    assert window.session.in_view == "scope"
    assert "Say for at least one axis" in window.sheets["scope"].instruction.text()
    assert window.session.axis is None


def test_nothing_on_any_sheet_names_an_axis_that_is_not_fitted(window, hands, demo):
    knee = next(a for a in demo.job.axes() if a.name == "W")
    demo.apply("scope", [knee.with_(readout="none")])
    for name, row in window.route.rows.items():
        if not row.isVisible():
            continue
        window.show_sheet(name)
        sheet = window.sheets[name]
        words = [w.text() for w in sheet.findChildren(QLabel) if w.isVisible()] + window.findings.texts()
        if name != "scope":
            assert not [w for w in words if re.search(r"(?<![\w-])W(?![\w-])", w)], name


@pytest.mark.parametrize("name", ["mill", "lathe"])
def test_a_job_of_version_1_opens_and_says_once_what_was_decided(window, tmp_path, name):
    said = []
    window.session.notice.connect(said.append)
    path = Path(shutil.copy(OLD / f"{name}.vernus", tmp_path))
    window.session.open_job(path)
    assert any("Change that on the Scope sheet" in words for words in said)
    window.session.close_job()
    said.clear()
    window.session.open_job(path)
    assert said == []


def test_a_proposed_screw_typed_again_as_it_stands_is_confirmed(window, hands, demo):
    demo.show_axis("axis-w")
    put = ScalePlan(id=new_id(), axis_id="axis-w", family="glass-slim", measuring=LengthEntry.read("450"))
    demo.apply("plan", [put])
    hands.press(KEYS["align"])
    sheet = window.sheets["align"]
    sheet.list.hold("screw_left")
    field = next(f for f in sheet.fields if f.name == "screw_left")
    assert field.mark.name == "unmeasured"
    shown = field.editor.line.text()
    hands.type(shown)
    hands.press("Return")
    sweep = demo.job.of_axis(Sweep, "axis-w")[-1]
    assert (sweep.screw_left.text, sweep.screw_left.mm) == (shown, float(shown))


def test_after_receive_one_scale_sheet_shows_one_readers_place(window, hands, bench_mill):
    hands.press(KEYS["travel"])
    hands.enter("262", "262")
    axis = bench_mill.axis
    bench_mill.apply(
        "plan", [ScalePlan(id="p", axis_id=axis.id, family="glass-slim", measuring=LengthEntry.read("300"))]
    )
    bench_mill.apply("came", [Delivery(id="d", axis_id=axis.id, overall=LengthEntry.read("412"))])
    hands.press(KEYS["scale"])
    sheet = window.sheets["scale"]
    sheet.stroke.setFocus()
    assert "reader's middle 206 mm from the body's left end" in sheet.instruction.text()
    assert "the reader's middle 206 mm from the body's left end" in sheet.position.text()
    assert sheet.stroke._shown.scale.end_piece_mm == 56


def test_what_is_typed_on_scale_after_the_delivery_lands_where_it_decides(window, hands, bench_mill):
    axis = bench_mill.axis
    bench_mill.apply(
        "plan", [ScalePlan(id="p", axis_id=axis.id, family="glass-slim", measuring=LengthEntry.read("300"))]
    )
    bench_mill.apply("came", [Delivery(id="d", axis_id=axis.id, measuring=LengthEntry.read("305"))])
    hands.press(KEYS["scale"])
    field = window.sheets["scale"].own_size
    field.setFocus()
    hands.press("Ctrl+A")
    hands.enter("302")
    assert bench_mill.job.all(Delivery)[0].measuring.mm == 302
    assert (measuring_length(bench_mill.job, axis).value, bench_mill.job.all(ScalePlan)[0].measuring.mm) == (302, 300)
