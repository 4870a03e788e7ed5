"""Story 4: small lathe, no new holes (mm). T-nuts carry the X body, a plate over two of five old holes the Z body."""


def test_t_nuts_a_plate_over_old_holes_and_no_drilling(teller):
    teller.begin("Small lathe", "mm", X="new scale", Z="new scale")
    teller.survey("X", "151", "151.5")
    teller.survey("Z", "438", "438")
    teller.go("machine")
    teller.add("Holes", place="first slot", member="cross slide", what="a T-slot", mouth="10", head="17", head_high="7",
               depth="16")  # fmt: skip
    teller.scale("X", "Sealed glass, micro")
    teller.face("X", "tailstock side of the cross slide")
    teller.scale("Z", "Sealed glass, slim")
    teller.go("faces", "Z")
    assert "rear of the bed" in " ".join(teller.sheet.table.rows.rows[0])
    teller.choose(teller.sheet.table, "rear of the bed")
    teller.go("machine")
    teller.add("Holes", place="strip behind the bed", member="bed", diameter="7.9", pitch="1.25",
               face_id="rear of the bed", at_x="60", at_y="0", count="5", apart="60",
               used_by="an attachment given up")  # fmt: skip
    assert "M8x1.25" in teller.said()
    teller.go("envelope")
    assert "Z loses" not in teller.said()
    teller.go("mounts", "X")
    teller.fill(hole_school="no new holes")
    teller.press("T-nut bar")
    assert teller.sheet.table.rows.rowCount() == 2
    teller.go("mounts", "Z")
    teller.press("Plate over holes")
    teller.go("card")
    steps = [" ".join(r) for r in teller.sheet.table.rows.rows]
    assert not any("Drill and tap" in s for s in steps)
    paper = teller.paper()
    for words in ("T-nut bar, first slot", "Step on its face: 60 mm ×", "plate over the holes there are", "M8x1.25"):
        assert words in paper, words
    assert "stop at the tailstock end" not in paper.lower()

    # A second thought: the Z body that comes is a size longer, and what arrived is what paper and place go by.
    teller.think_again()
    teller.go("receive", "Z")
    teller.fill(measuring="500.4", overall="600", reader="80")
    paper = teller.paper()
    assert "500.4 mm" in paper
    assert "Order" not in teller.findings()
    teller.go("scale", "Z")
    assert "500.4 mm" in teller.said()
