"""Story 15: Y beside the casting (mm). Three bolts with washers, a bridge made last, and a stop that metal decides."""


def test_spacers_per_bolt_and_the_last_upright_from_its_gap(teller):
    teller.begin("Bench mill with dovetail column", "mm", X="new scale", Y="new scale", Z="nothing")
    teller.survey("Y", "176", "176.5")
    teller.survey("X", "398", "398.5")
    teller.scale("X", "Sealed glass, slim")
    teller.face("X", "behind the table")
    teller.go("travel", "Y")
    teller.go("envelope")
    before = teller.findings("must stop at")
    teller.go("travel", "Y")
    teller.fill(give_up_high="4")
    teller.go("envelope")
    after = teller.findings("must stop at")
    assert before == after  # the stop stays where metal would meet
    teller.scale("Y", "Sealed glass, slim")
    teller.face("Y", "right flank of the base")
    teller.go("mounts", "Y")
    teller.add("Parts", name="plate", part_kind="backing plate", length="160", width="60", thickness="12",
               bolts_to="the machine")  # fmt: skip
    for x, y, gap in (("20", "15", "3.20"), ("140", "15", "3.85"), ("80", "45", "4.40")):
        teller.add("Holes", x=x, y=y, hole_kind="a clearance hole", thread="M6", behind=gap)
    said = teller.said()
    assert "3.200 mm behind hole 1, 3.850 mm behind hole 2, 4.400 mm behind hole 3" in said
    assert "falls away by" in said
    # 12 of plate, 4.40 of spacer behind it and 1.5 diameters of thread in cast iron (common practice, no source).
    screws = [float(row[4].rsplit("×", 1)[1].split()[0]) for row in teller.sheet.table.rows.rows]
    assert all(length >= 12 + gap + 1.5 * 6 for length, gap in zip(screws, (3.20, 3.85, 4.40), strict=True))
    teller.add("Parts", name="foot", part_kind="bridge", length="80", width="40", thickness="10", bolts_to="plate")
    teller.add("Parts", name="upright", part_kind="bridge", length="95", width="40", thickness="10", bolts_to="foot",
               fills="length", gap="93.4")  # fmt: skip
    assert "take 1.6 mm off" in teller.said()
    paper = teller.paper()
    for words in ("Part for Y: plate", "3.850 mm behind hole 2", "93.4 mm × 40 mm × 10 mm", "take 1.6 mm off"):
        assert words in paper, words

    # A second thought: the 4 mm are kept after all. The stop stays where metal meets, and nothing is given up on paper.
    teller.think_again()
    assert "given up" in paper
    teller.go("travel", "Y")
    teller.fill(give_up_high="0")
    teller.go("envelope")
    assert teller.findings("must stop at") == before
    assert "4 mm given up" not in teller.paper()
