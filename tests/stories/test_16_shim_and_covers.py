"""Story 16: gap by shim, covers (inches). Two brackets bolted together; the cover has its holes and its screws."""


def test_two_brackets_bolted_together_and_a_cover_with_its_screws(teller):
    teller.begin("Bench mill with dovetail column", "in", X="new scale", Y="nothing", Z="nothing")
    teller.survey("X", "15 11/16", "15 11/16")
    teller.scale("X", "Magnetic, thin housing")
    teller.face("X", "in front of the table")
    teller.go("mounts", "X")
    teller.add("Parts", name="saddle bracket", part_kind="angle", length="3", width="2", thickness="1/4", leg="1.5",
               material="steel", bolts_to="the machine", draft_rise="60", draft_over="1.5")  # fmt: skip
    teller.press("Usual holes")
    teller.add("Parts", name="reader bracket", part_kind="bridge", length="3", width="2", thickness="1/4",
               material="aluminium", bolts_to="saddle bracket")  # fmt: skip
    teller.add("Rows", shape="carried from", source="saddle bracket", turned="look at each other", x="2.5", y="1.4",
               hole_kind="a clearance hole", thread="1/4-20")  # fmt: skip
    assert "Screws:" in teller.said()
    teller.add("Parts", name="cover", part_kind="cover", length="16", width="1.5", thickness="1/16",
               material="aluminium", bolts_to="saddle bracket")  # fmt: skip
    teller.press("Usual holes")
    assert teller.sheet.table.rows.rowCount() >= 3
    teller.go("reader", "X")
    assert "its shim" in teller.said()
    teller.fill(gap_set="yes", shim="19.8")
    assert (teller.sheet.headline.figure.text(), teller.sheet.headline.word.text()) == ("set by its shim", "PASS")
    teller.fill(wipers="no")
    assert "The wipers are off" in teller.findings()
    teller.fill(wipers="yes", centred="yes", marks="yes", clips="yes", cover="yes")
    assert "The reader is set" in teller.sheet.instruction.text()
    teller.fill(spare_low="0.4", spare_high="0.85", as_built="15.65")
    assert "make 16.9 in, but the scale measures" in teller.findings()
    paper = teller.paper()
    for words in ("Part for X: saddle bracket", "Part for X: reader bracket", "Part for X: cover", "hole 9/32 through",
                  "screw 1/4-20 ×", "leans 2.29°",
                  "Gap by its shim: PASS"):  # fmt: skip
        assert words in paper, words

    teller.think_again()  # the shim was another one, and the spare at the low end was read from the wrong mark
    teller.go("reader", "X")
    teller.fill(spare_low="1.0", shim="32")
    assert "make 16.9 in" not in teller.findings()
    assert teller.sheet.headline.word.text() == "FAIL"
    teller.fill(shim="20.1")
    assert teller.sheet.headline.word.text() == "PASS"
    paper = teller.paper()
    assert "Gap by its shim: PASS" in paper
    assert "20.1 thou" in paper
    assert "make 16.9 in" not in paper
