"""Story 7: Z on a column in a tight corner. Three parts join reader and head; the last is made from a measured gap."""


def test_three_parts_that_somebody_can_make_from_paper_alone(teller):
    teller.begin("Bench mill with dovetail column", "mm", X="nothing", Y="nothing", Z="new scale")
    teller.survey("Z", "222", "222.5")
    teller.scale("Z", "Sealed glass, slim", spare_at="so much at the top end", spare="9")
    assert "9 mm at the top" in teller.said()
    teller.face("Z", "right side of the column")
    teller.go("mounts", "Z")

    teller.add("Parts", name="slotted angle", part_kind="angle", length="80", width="40", thickness="8", leg="50",
               material="steel", bolts_to="the reader")  # fmt: skip
    teller.add("Holes", face="face", x="20", y="25", hole_kind="a slot", thread="M5", adjust="5", angle="90")
    teller.add("Holes", face="face", x="60", y="25", hole_kind="a slot", thread="M5", adjust="5", angle="90")
    teller.add("Rows", shape="a row", face="other leg", x="20", y="30", count="2", apart="40", hole_kind="tapped",
               thread="M4")  # fmt: skip

    teller.add("Parts", name="plate", part_kind="backing plate", length="90", width="60", thickness="12",
               material="aluminium", bolts_to="slotted angle")  # fmt: skip
    teller.add("Rows", shape="a rectangle", x="25", y="15", count="2", apart="40", rows="2", rows_apart="20",
               hole_kind="a counterbored slot", thread="M4", adjust="4", angle="90")  # fmt: skip

    teller.add("Parts", name="bridge", part_kind="bridge plate", length="90", width="47.2", thickness="10",
               material="aluminium", bolts_to="plate", fills="width")  # fmt: skip
    teller.add("Rows", shape="carried from", source="plate", turned="look at each other", x="65", y="8",
               hole_kind="tapped", thread="M4")  # fmt: skip
    assert "4 holes" in teller.said() or teller.sheet.table.rows.rowCount() == 4
    teller.click(teller.sheet.tabs.buttons["parts"])
    teller.fill(gap="36.0")
    assert "take 11.2 mm off" in teller.said()

    paper = teller.paper()
    for words in (
        "Part for Z: slotted angle", "Part for Z: plate", "Part for Z: bridge",
        "80 mm × 40 mm × 8 mm, steel", "other leg 50 mm, at 90°",
        "slot 5.5 mm through for M5, 15.5 mm long overall", "across the length",
        "counterbored 8 mm × 4.4 mm deep", "screw M4 ×", "90 mm × 36 mm × 10 mm",
        "take 11.2 mm off", "tap M4: drill 3.3 mm through",
    ):  # fmt: skip
        assert words in paper, words
    # The bridge's holes are the plate's, turned: 40 apart along, 20 across, the first at 65, 8.
    for place in ("65.00 mm 8.00 mm", "25.00 mm 8.00 mm", "65.00 mm 28.00 mm", "25.00 mm 28.00 mm"):
        assert place in paper, place

    # A second thought: the gap was measured again, and the spare goes to the bottom.
    teller.think_again()
    teller.go("mounts", "Z")
    teller.click(teller.sheet.tabs.buttons["parts"])
    teller.fill(gap="35.4")
    teller.go("scale", "Z")
    teller.fill(spare_at="so much at the bottom end")
    assert "9 mm is spare at the bottom stop" in teller.said()
    paper = teller.paper()
    for words in ("take 11.8 mm off", "90 mm × 35.4 mm × 10 mm", "9 mm is spare at the bottom stop"):
        assert words in paper, words
    assert "take 11.2 mm off" not in paper
