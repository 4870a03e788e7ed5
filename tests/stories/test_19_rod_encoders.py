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
    teller.go("card")
    steps = [" ".join(r) for r in teller.sheet.table.rows.rows]
    order = ("guard and the reader's bracket", "Tram the reader", "Thread the rod", "tighten support, link, rod",
             "Run to the other end", "feel for binding", "earth the display")  # fmt: skip
    places = [next(n for n, step in enumerate(steps) if words in step) for words in order]
    assert places == sorted(places)
    assert sum("earth the display" in step for step in steps) == 1
    teller.go("reader", "X")
    teller.fill(marks="yes", anchored="no")
    assert "wiggling them home" in teller.sheet.instruction.text()
    teller.fill(anchored="yes", free="yes", cover="yes")
    assert "The reader is set" in teller.sheet.instruction.text()
    paper = teller.paper()
    for words in (
        "face 15.00 mm 20.00 mm",
        "lower edge 15.00 mm 15.00 mm",
        "tap M8: drill 6.8 mm",
        "thread 20 mm deep",
        "earth the display to the machine",
    ):
        assert words in paper, words
