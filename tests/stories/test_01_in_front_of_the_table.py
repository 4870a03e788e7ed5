"""Story 1: in front of the table, feed kept (turret mill, mm). Stand-off decides; a left and a right block; a lean."""


def test_stand_off_is_a_figure_of_the_plan_and_the_blocks_can_be_made(teller):
    teller.begin("Knee mill with turret head", "mm", X="new scale", Y="new scale", W="nothing", Z="readout of its own")
    teller.go("machine")
    teller.click(teller.sheet.tabs.buttons["boxes"])
    teller.choose(teller.sheet.boxes.table, "feed-trip stops")
    teller.fill(front="-155")  # 40 proud of the table's front at −115
    teller.survey("X", "660", "660.5")
    teller.survey("Y", "300", "300.5")
    teller.scale("X", "Sealed glass, standard")
    teller.face("X", "in front of the table")
    teller.fill(stand_off="36")
    assert "feed-trip stops" in teller.findings("covers")
    teller.fill(stand_off="52")
    assert "feed-trip stops" not in teller.findings("covers")
    teller.scale("Y", "Sealed glass, slim")
    teller.face("Y", "right flank of the knee")
    teller.survey("Z", "127", "127")
    teller.scale("Z", "Capacitive beam")

    teller.go("mounts", "X")
    teller.add("Parts", name="left block", part_kind="standoff", length="50", width="50", thickness="52",
               material="aluminium", bolts_to="the machine")  # fmt: skip
    teller.add("Holes", face="back", x="25", y="25", hole_kind="counterbored", thread="M6")
    teller.add("Holes", face="face", x="10", y="25", hole_kind="tapped", thread="M5")
    teller.add("Cuts", cut_kind="a tongue", face="back", x="19", y="0", wide="12", high="50", deep="3")
    teller.press("Other hand")
    teller.go("mounts", "Y")
    teller.add("Parts", name="reader's plate", part_kind="backing plate", length="120", width="70", thickness="12",
               carries="the reader", draft_rise="2.7", draft_over="70")  # fmt: skip
    assert "leans 2.21°" in teller.said()
    teller.add("Parts", name="deflector under the drain", part_kind="chip or drain", length="120", width="60",
               thickness="1.5", material="stainless")  # fmt: skip

    paper = teller.paper()
    for words in (
        "Part for X: left block", "left block, other hand", "Tongue on its back: 12 mm × 50 mm, 3 mm high",
        "counterbored 11 mm × 6.4 mm deep", "leans 2.21°", "wedge", "jack screws", "deflector under the drain",
        "● in front of the table, chosen",
        "Not checked: table against quill nose: kept apart by hand at work",
    ):  # fmt: skip
        assert words in paper, words
    beam = paper[paper.index("Z axis:") :]
    beam = beam[: beam.index("Cautions") if "Cautions" in beam else None]
    for words in ("Cable", "feeler", "Keyed in", "Counts"):
        assert words not in beam, words
    assert "W axis" not in paper
    assert "The knee must" not in paper

    # A second thought: behind the table after all. What was in front is nowhere any more, and the column is met.
    teller.think_again()
    teller.face("X", "behind the table")
    paper = teller.paper()
    assert "● behind the table, chosen" in paper
    assert "● in front of the table, chosen" not in paper
    assert "On “behind the table” the body lies" in paper
    assert "below the top of the table" in paper
    assert "there the column is met" in paper
