"""Story 19: rod encoders (knee mill, mm). One block takes screws sideways from the reader and upward from the knee."""


def test_holes_in_two_faces_of_one_block_and_the_earth_strap_among_the_contents(teller):
    teller.begin("Universal knee mill", "mm", X="new scale", Y="nothing", W="nothing")
    teller.survey("X", "680", "680.5")
    teller.scale("X", "Inductive rod")
    teller.face("X", "in front of the table")
    teller.go("receive", "X")
    said = teller.said()
    assert "earth strap" in said
    assert "anchor blocks" in said
    assert "gap clips" not in said
    teller.go("mounts", "X")
    teller.add("Parts", name="reader's block", part_kind="standoff", length="60", width="40", thickness="30",
               material="steel", bolts_to="the machine")  # fmt: skip
    teller.add("Holes", face="face", x="15", y="20", hole_kind="tapped", thread="M6")
    teller.add("Holes", face="face", x="45", y="20", hole_kind="tapped", thread="M6")
    teller.add("Holes", face="lower edge", x="15", y="15", hole_kind="tapped", thread="M8", depth="20")
    teller.add("Holes", face="lower edge", x="45", y="15", hole_kind="tapped", thread="M8", depth="20")
    assert teller.sheet.table.rows.rowCount() == 4
    paper = teller.paper()
    for words in (
        "face 15.00 mm 20.00 mm",
        "lower edge 15.00 mm 15.00 mm",
        "tap M8: drill 6.8 mm",
        "thread 20 mm deep",
    ):
        assert words in paper, words
