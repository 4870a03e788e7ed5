"""Story 12: quill beam on a round column (inches). Usable stroke, plumb in both planes, a step that comes double."""


def test_the_beam_by_its_stroke_plumb_by_the_dial_and_the_small_step_on_paper(teller):
    teller.begin("Round-column mill-drill", "in", X="nothing", Y="nothing", Z="readout of its own")
    teller.survey("Z", "4 15/16", "4 15/16", accuracy="2")
    teller.scale("Z", "Capacitive beam")
    assert "6 in (150 mm) usable stroke" in teller.said()
    teller.face("Z", "separate quill scale")
    teller.go("receive", "Z")
    assert "Cable" not in teller.said(), "a readout of its own has none"
    teller.go("mounts", "Z")
    teller.add("Parts", name="bracket under the collar", part_kind="angle", length="1.5", width="1.25",
               thickness="3/16", leg="1.5", material="steel", bolts_to="the machine")  # fmt: skip
    teller.go("align", "Z")
    assert "Rough it in by rule" in teller.said()
    teller.log("0", "0.4", "0.9", "1.5", "2.0", "2.5", "3.1", "0")
    assert teller.sheet.ask.text().startswith("This pass is through: 8 readings")
    said = teller.said()
    assert "end in its slots" in said
    assert "screw's end" not in said
    teller.hands.press("Ctrl+Return")
    teller.log("0", "0", "0", "0.5", "0", "0", "0")
    assert "PASS" in teller.said()
    teller.click(teller.sheet.planes["edge"])
    teller.log("0", "0", "0.5", "0", "0.5", "0", "0")
    assert "PASS" in teller.said()
    teller.hands.press("Ctrl+I")
    teller.sheet = teller.window.sheets["positioning"]
    teller.click(teller.sheet.sides.buttons["by hand"])
    asked = teller.sheet.asked.editor
    asked.line.setFocus()
    teller.hands.press("Ctrl+A")
    teller.hands.enter("2")
    teller.sheet.felt.setFocus()
    teller.hands.enter(*["4.5"] * 5)
    said = teller.said()
    assert "not good" in said
    assert "is harmless here" in said
    assert "Every step of 2.0 thou comes as 4.5 thou" in teller.findings()
    paper = teller.paper()
    for words in ("Tests by hand", "small steps 2.5 thou", "FAIL", "Capacitive beam", "bracket under the collar"):
        assert words in paper, words
    for words in ("plug", "counts per"):
        assert words not in paper.split("Cautions")[0], words

    teller.think_again()  # the step asked for was of another handwheel: 4.5 thou, and a reading of the edge was a slip
    teller.go("positioning", "Z")
    teller.click(teller.sheet.sides.buttons["by hand"])
    asked = teller.sheet.asked.editor
    asked.line.setFocus()
    teller.hands.press("Ctrl+A")
    teller.hands.enter("4.5")
    assert "Every step of 2.0 thou" not in teller.findings()
    teller.go("align", "Z")
    teller.click(teller.sheet.planes["edge"])
    teller.sheet.table.setFocus()
    teller.sheet.table.selectRow(2)
    teller.hands.press("Delete")
    assert not teller.sheet.ask.text().startswith("This pass is through")
    teller.log("0")
    assert "PASS" in teller.said()
    paper = teller.paper()
    assert "small steps 2.5 thou" not in paper
    assert "2.0 thou allowed: PASS." in paper
