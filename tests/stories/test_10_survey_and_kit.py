"""Story 10: survey and kit choice (bench mill, inches). The left flank wins by name; one kit serves both axes."""


def test_the_left_flank_wins_the_kit_serves_and_what_arrived_is_ticked(teller):
    teller.begin("Bench mill with dovetail column", "in", X="new scale", Y="new scale", Z="nothing")
    teller.survey("X", "12 7/8", "12 7/8", tool="Tape")
    teller.survey("Y", "6 1/8", "6 1/8", tool="Tape")
    teller.go("machine")
    for name, back in (("gib screws, right", "6"), ("lock lever, right", "8")):
        teller.add("Boxes", name=name, member="base", role="to be kept reachable", near="base", side="to its right",
                   gap="0", wide="1", deep=back, high="4")  # fmt: skip
    teller.go("faces", "Y")
    assert "left flank" in " ".join(teller.sheet.table.rows.rows[0])
    teller.choose(teller.sheet.table, "left flank")
    teller.go("scale", "X")
    teller.choose(teller.sheet.table, "Magnetic, thin housing")
    teller.fill(kits="8 x 16; 8 x 24", kit_price="180")
    teller.go("order")
    offered = next(" ".join(r) for r in teller.sheet.families.rows.rows if "thin housing" in " ".join(r))
    assert "the kit 8 in × 16 in serves" in offered
    assert "X the 16 in" in offered
    assert "Y the 8 in" in offered
    teller.scale("X", "Magnetic, thin housing")
    teller.scale("Y", "Magnetic, thin housing")
    teller.go("order")
    bought = [" ".join(r) for r in teller.sheet.table.rows.rows if r[0] == "buy"]
    assert any("Kit of 8 in × 16 in" in b and "180" in b for b in bought)
    teller.go("receive", "X")
    teller.choose(teller.sheet.contents, "clear shim")
    teller.choose(teller.sheet.contents, "certificate")
    teller.choose(teller.sheet.contents, "certificate")
    assert "certificate" in teller.findings("Missing")
    teller.fill(overall="17.1", keep="shim in the tin with the keys")
    paper = teller.paper()
    for words in (
        "clear shim in its bag: there",
        "certificate: MISSING",
        "● left flank",
        "shim in the tin with the keys",
    ):
        assert words in paper, words
    assert "Z axis:" not in paper
    teller.go("card")
    assert any("Ask for what was missing: certificate" in " ".join(r) for r in teller.sheet.table.rows.rows)
