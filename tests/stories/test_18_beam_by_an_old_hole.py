"""Story 18: beam by the collar's old rod hole (mm). A plain hole is a hole; foam tape; the cover has its opening."""


def test_a_plain_hole_is_a_hole_and_the_beam_serves_by_its_stroke(teller):
    teller.begin("Round-column mill-drill", "mm", X="nothing", Y="nothing", Z="readout of its own")
    teller.survey("Z", "127", "127")
    teller.go("machine")
    teller.add("Holes", place="collar, where the rod was", member="quill", what="a plain hole", diameter="8",
               through="through")  # fmt: skip
    assert "plain 8 mm" in teller.said()
    teller.scale("Z", "Capacitive beam")
    assert "150 mm usable stroke" in teller.said()
    assert "Stop" not in teller.findings().splitlines()
    teller.face("Z", "separate quill scale")
    teller.go("order")
    assert "Serves no axis" not in teller.said(), "a readout of its own is compared with no display"
    assert "brings one along" in teller.said()
    teller.go("receive", "Z")
    assert "foam tape" in teller.said()
    teller.go("mounts", "Z")
    teller.add("Parts", name="bracket on the collar", part_kind="angle", length="40", width="30", thickness="5",
               leg="40", material="steel", bolts_to="the machine")  # fmt: skip
    teller.add("Holes", face="face", x="20", y="18", hole_kind="a clearance hole", thread="M8")
    teller.add("Parts", name="cover with its opening", part_kind="cover", length="200", width="60", thickness="2",
               material="aluminium")  # fmt: skip
    teller.add("Cuts", cut_kind="a pocket", face="face", x="70", y="15", wide="60", high="30", deep="1.5")
    paper = teller.paper()
    for words in (
        "plain 8 mm",
        "hole 9 mm through for M8",
        "Pocket on its face: 60 mm × 30 mm",
        "Capacitive beam",
    ):
        assert words in paper, words
