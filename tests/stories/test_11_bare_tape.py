"""Story 11: bare magnetic tape (mm). Cut with the head on it at both ends; stuck on, so nothing is drilled for it."""


def test_a_tape_is_cut_stuck_and_never_drilled(teller):
    teller.begin("Small lathe", "mm", X="new scale", Z="new scale")
    teller.survey("X", "131", "131.5")
    teller.survey("Z", "512", "512")
    teller.scale("Z", "Magnetic tape and head")
    teller.fill(reader="48")
    teller.choose(teller.sheet.table, "Magnetic tape and head")
    assert "Cut to 580 mm" in teller.said()  # 512 + 20 + the head's 48
    teller.fill(measuring="562")
    said = teller.said()
    assert "the margin you asked for" in said
    assert "driven into its end" not in said
    teller.face("Z", "rear of the bed")
    assert "first hole" not in teller.said(), "what is stuck on has no end holes"
    assert "2 holes and 3 parts to make" in teller.said()
    teller.go("mounts", "Z")
    teller.press("From face")
    assert "stuck on" in teller.window.statusBar().currentMessage()
    teller.go("receive", "Z")
    assert "cover strip" in teller.said()
    assert "gap clips" not in teller.said()
    assert "First hole" not in teller.said()
    teller.scale("X", "Magnetic tape and head")
    teller.go("order")
    assert any("Cover strip" in " ".join(r) for r in teller.sheet.table.rows.rows)
    teller.fill(shared="the mill")
    teller.go("card")
    assert not any("Drill and tap" in " ".join(r) for r in teller.sheet.table.rows.rows)
    said = teller.said()
    assert said.index("degrease the face") < said.index("Stick the tape along") < said.index("Roll it down")
    assert "Cover strip on" in said
    assert "Hang the body" not in said
    assert "Sweep the tape along its line" in said
    assert "Dry fit: mark the tape's edge and the bracket" in said
    teller.photo("the tape's line scribed on the bed")
    teller.step("degrease the face", note="paint scraped off to bare iron", minutes="35")
    paper = teller.paper()
    for words in ("562", "the tape's line scribed on the bed", "paint scraped off to bare iron", "0.6 h"):
        assert words in paper, words

    # A longer tape arrives, with a longer head: the cut stays, the list of sizes follows the head that came.
    teller.go("receive", "Z")
    teller.fill(measuring="620", reader="55")
    teller.go("scale", "Z")
    assert "587" in teller.said(), "512 + 20 + the head's 55"
    teller.go("order")
    rows = [" ".join(r) for r in teller.sheet.table.rows.rows]
    assert not [r for r in rows if r.startswith("buy Z") and "Magnetic tape" in r], "what has come is not ordered again"
    paper = teller.paper()
    assert "562 mm" in paper
    # The display is the mill's too: what is set for this machine, axis by axis, stands on one sheet.
    sheet = paper[paper.index("Changing the display over between the mill and this machine") :]
    assert sheet.index("X shows") < sheet.index("Z shows") < sheet.index("Mark the plugs")
