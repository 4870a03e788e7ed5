"""Mounts by key: a part, its usual holes, its stack, and the files it makes."""

import ezdxf
import pytest
from pypdf import PdfReader

from vernus.desktop.sheet_list import KEYS
from vernus.job.entities import DrilledHole, MountPart, ShimKind, StackHeight
from vernus.job.fields import LengthEntry
from vernus.job.machine.geometry import faces_of
from vernus.job.plan.faces import choose_face
from vernus.job.plan.scale import scale_plan


def mm(text):
    return LengthEntry.read(text)


@pytest.fixture
def mounts(window, hands, bench_mill):
    hands.press(KEYS["mounts"])
    return window.sheets["mounts"]


def test_a_part_gets_its_usual_holes_and_a_hole_table(mounts, hands, bench_mill):
    assert "first part" in mounts.instruction.text()
    hands.press("Ctrl+Ins")
    hands.press("Ctrl+A")
    hands.enter("standoff, left")
    assert bench_mill.job.all(MountPart)[0].name == "standoff, left"
    hands.click(mounts.usual)
    assert len(bench_mill.job.all(DrilledHole)) == 3
    rows = [list(r) for r in mounts.table.rows.rows]
    assert rows[0][4] == "tap M5: drill 4.2 mm through, 77 %"
    assert "tap M5x0.8" in mounts.tools.text()
    first = bench_mill.job.all(DrilledHole)
    hands.click(mounts.usual)
    assert bench_mill.job.all(DrilledHole) == first  # what was entered is never overwritten without asking
    assert "press again" in mounts.window().statusBar().currentMessage()
    hands.click(mounts.usual)
    assert len(bench_mill.job.all(DrilledHole)) == 3
    assert bench_mill.job.all(DrilledHole) != first


def test_in_inches_the_usual_screw_is_an_inch_one(mounts, hands, bench_mill):
    hands.press("Ctrl+U")
    hands.press("Ctrl+Ins")
    hands.click(mounts.usual)
    assert {h.thread for h in bench_mill.job.all(DrilledHole)} == {"10-24"}
    assert "drill #25" in list(mounts.table.rows.rows[0])[4]


def test_the_thickness_is_solved_from_measured_heights_and_shims(mounts, hands, bench_mill):
    hands.press("Ctrl+Ins")
    part = bench_mill.job.all(MountPart)[0]
    heights = [
        StackHeight(id="a", part_id=part.id, name="face to plane", height=mm("61.35"), tolerance=mm("0.05")),
        StackHeight(id="b", part_id=part.id, name="body", height=mm("-23.2"), tolerance=mm("0.05")),
    ]
    bench_mill.apply("stack", [part.with_(wanted=mm("52"), thickness=mm("13.5")), *heights])
    assert mounts.headline.figure.text() == "13.85 mm"
    assert "Make it 13.85 mm thick" in mounts.instruction.text()
    bench_mill.apply(
        "shims", [ShimKind(id="s", thickness=mm("0.05"), count=9), ShimKind(id="t", thickness=mm("0.2"), count=2)]
    )
    assert "Shim it by 0.350 mm" in mounts.instruction.text()
    bench_mill.apply("too high", [bench_mill.job.get(part.id).with_(wanted=mm("20"))])
    assert "too high without any spacer" in mounts.then.text()


def test_the_face_of_the_machine_gets_the_end_holes_of_the_scale(mounts, hands, bench_mill):
    hands.click(mounts.from_face)
    assert bench_mill.job.all(MountPart) == []
    axis = bench_mill.axis
    plan = choose_face(scale_plan(bench_mill.job, axis), faces_of(bench_mill.job, axis)[0])
    bench_mill.apply("plan", [plan.with_(family="glass-slim", measuring=mm("450"))])
    hands.click(mounts.from_face)
    # Face 564, body 550: it starts 7 from the left end, its holes 8 from its ends.
    assert [h.x.mm for h in bench_mill.job.all(DrilledHole)] == [15, 549]
    codes = [f.code for f in mounts._result().findings]
    assert "behind-the-wall" in codes


def test_files_are_written_and_said(mounts, hands, bench_mill, tmp_path, window):
    hands.press("Ctrl+Ins")
    hands.click(mounts.usual)
    mounts.files.write_dxf(tmp_path / "p.dxf")
    assert len(ezdxf.readfile(tmp_path / "p.dxf").modelspace().query("POINT")) == 3
    mounts.files.write_template(tmp_path / "p.pdf")
    assert len(PdfReader(tmp_path / "p.pdf").pages) == 1
    assert "p.pdf" in window.statusBar().currentMessage()
    mounts.files.write_dxf(tmp_path / "nowhere" / "p.dxf")
    assert "Can't write" in window.statusBar().currentMessage()


def test_a_thread_that_is_none_is_told_and_nothing_lost(mounts, hands, bench_mill, window):
    hands.press("Ctrl+Ins")
    hands.click(mounts.usual)
    hole = bench_mill.job.all(DrilledHole)[0]
    bench_mill.apply("thread", [hole.with_(thread="M55")])
    assert "M55” is not a thread in the table" in " ".join(window.findings.texts())
    assert bench_mill.job.get(hole.id).thread == "M55"


def test_the_other_hand_of_a_part_is_its_mirror_image(mounts, hands, bench_mill):
    hands.press("Ctrl+Ins")
    hands.click(mounts.usual)
    hands.click(mounts.hand)
    first, second = bench_mill.job.all(MountPart)
    assert second.name == "standoff block, other hand"
    xs = [sorted(h.x.mm for h in bench_mill.job.all(DrilledHole) if h.part_id == p.id) for p in (first, second)]
    assert xs[0] == pytest.approx([60 - x for x in reversed(xs[1])])


def test_drills_owned_and_hole_schools_change_the_table_and_the_findings(mounts, hands, bench_mill, window):
    axis = bench_mill.axis
    plan = choose_face(scale_plan(bench_mill.job, axis), faces_of(bench_mill.job, axis)[0])
    bench_mill.apply("plan", [plan.with_(family="glass-slim", measuring=mm("450"))])
    hands.click(mounts.from_face)
    info = bench_mill.job.info
    bench_mill.apply("drills", [info.with_(drills_owned="inch", hole_school="none")])
    assert "drill #19" in list(mounts.table.rows.rows[0])[4]
    assert any("no new holes are wanted" in t for t in window.findings.texts())


def test_draft_is_taken_out_four_ways(mounts, hands, bench_mill):
    hands.press("Ctrl+Ins")
    part = bench_mill.job.all(MountPart)[0]
    bench_mill.apply("draft", [part.with_(draft_rise=mm("2"), draft_over=mm("50"), width=mm("40"))])
    assert "leans 2.29°" in mounts.tools.text()
    assert "1.600 mm thicker" in mounts.tools.text()
    assert "two rows" in mounts.tools.text()
    held = {"part_id": part.id, "hole_kind": "clearance", "x": mm("10")}
    bench_mill.apply("rows", [DrilledHole(id=f"h{y}", y=mm(y), **held) for y in ("10", "30")])
    assert "by 0.800 mm (rows 20 mm apart)" in mounts.tools.text()
