"""Story 2: behind the table with a bumper (knee mill, inches). Old reader holes are reused, the rest by angle drill."""


def test_the_stop_the_pillar_and_the_plate_over_the_old_holes(teller):
    teller.begin("Universal knee mill", "in", X="new scale", Y="new scale", W="nothing")
    teller.go("machine")
    teller.measure("Table to column", "1.30")
    teller.measure("Saddle to column", "0.60")
    teller.survey("X", "27 3/16", "27 7/32")
    # Body, reader and bracket together 1.75 deep: 3 mm behind the reader, 8 mm of bracket, the reader itself 1.317.
    teller.scale("X", "Sealed glass, standard", clearance="0.10", reader_depth="1.317")
    teller.face("X", "behind the table")
    teller.go("envelope")
    said = teller.said()
    assert "Y loses 0.55 in" in said
    assert "bumper [1.15 in] long between the saddle and the column" in said
    assert "Measure first: X reader's bracket, its thickness" in said

    teller.go("mounts", "X")
    teller.add("Parts", name="reader's plate", part_kind="backing plate", length="3.5", width="2", thickness="8 mm",
               material="steel", carries="the reader", bolts_to="the machine")  # fmt: skip
    teller.go("envelope")
    said = teller.said()
    assert "bumper 1.15 in long between the saddle and the column" in said
    assert "in line with the column" in said
    assert "clear of the X scale reader" in said
    assert "It lands at every place" in said
    teller.go("order")
    listed = [" ".join(r) for r in teller.sheet.table.rows.rows if "back end" in " ".join(r)]
    assert len(listed) == 1  # the stop and its pillar stand there once
    assert "1.15 in long" in listed[0]
    teller.go("mounts", "X")
    teller.add("Rows", shape="a row", x="0.94", y="0.6", count="2", apart="1.62", hole_kind="a slot", thread="1/4-20",
               adjust="0.12", angle="90")  # fmt: skip
    teller.press("From face")
    teller.click(teller.sheet.tabs.buttons["parts"])
    teller.fill(room="3.1")
    said = teller.said()
    assert "angle drill" in said
    assert "0.094 in from" not in said
    paper = teller.paper()
    for words in ("1.15 in", "angle drill", "0.940 in 0.600 in", "2.560 in 0.600 in", "slot 9/32 through for 1/4-20"):
        assert words in paper, words
    assert "Not measured for " in paper

    # Another size arrives: the reader is deeper, so the stop stands farther off and its pillar grows by as much.
    teller.go("receive", "X")
    teller.fill(family_reader_depth="1.417")
    paper = teller.paper()
    assert "bumper 1.25 in long between the saddle and the column" in paper  # 1.15 and 0.10 deeper
    assert "Y 0.65 in back" in paper  # 0.55 and 0.10
    assert "1.15 in long" not in paper
