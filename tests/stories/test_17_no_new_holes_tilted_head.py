"""Story 17: no new holes, a head that tilts 45° (mm). A plate over old holes, its relief, the display on the head."""


def test_a_plate_with_a_relief_no_drilling_and_the_display_tilted_each_way(teller):
    teller.begin("Knee mill with turret head", "mm", X="new scale", Y="new scale", W="nothing", Z="nothing")
    teller.survey("X", "660", "660")
    teller.survey("Y", "300", "300")
    teller.go("machine")
    teller.click(teller.sheet.tabs.buttons["tool"])
    teller.fill(tilt_deg="45")
    teller.scale("Y", "Sealed glass, slim")
    teller.face("Y", "left flank of the knee")
    teller.go("machine")
    teller.add("Holes", place="front pair", member="knee", diameter="7.9", pitch="1.25",
               face_id="left flank of the knee", at_x="120", at_y="0", count="2", apart="180")  # fmt: skip
    teller.go("mounts", "Y")
    teller.fill(hole_school="no new holes")
    teller.press("Plate over holes")
    teller.add("Cuts", cut_kind="a relief", face="face", x="0", y="0", wide="30", high="8", deep="0.8")
    assert "goes right through" not in teller.said()
    teller.go("order")
    teller.fill(member="head", side="right", reach="300")
    teller.go("envelope")
    boxes = {b.name for b in teller.sheet._result.envelope.boxes}
    assert {"display arm tilted left", "display case tilted right"} <= boxes
    teller.go("card")
    assert not any("Drill and tap" in " ".join(r) for r in teller.sheet.table.rows.rows)
    paper = teller.paper()
    for words in ("plate over the holes there are", "Relief on its face: 30 mm × 8 mm, 0.8 mm deep", "M8x1.25"):
        assert words in paper, words

    # A second thought: the other flank of the knee. Those holes are in the left one: no plate is said to lie over them.
    teller.think_again()
    teller.face("Y", "right flank of the knee")
    paper = teller.paper()
    assert "● right flank of the knee, chosen" in paper
    assert "● left flank of the knee, chosen" not in paper
