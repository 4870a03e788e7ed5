"""Story 8: mini mill, magnetic kit (mm machine). Where the Z body lies decides what each end loses."""


def test_both_z_places_side_by_side_and_the_cross_travel_that_x_costs(teller):
    teller.begin("Mini mill", "mm", X="new scale", Y="nothing", Z="new scale")
    teller.survey("X", "220", "220.5")
    teller.survey("Z", "210", "210")
    teller.scale("X", "Magnetic, thin housing")
    teller.face("X", "behind the table")
    teller.go("envelope")
    assert "saddle loses" in teller.said()
    assert "meets the column" in teller.said()
    # Where its instructions put the body the reader runs off at the top; higher up it costs less there.
    teller.scale("Z", "Magnetic, thin housing")
    teller.fill(measuring="230", shift="-50")
    assert "runs off its top end by 40 mm" in teller.findings() or "off its top end by 40 mm" in teller.findings()
    teller.go("envelope")
    assert "top mark (the scale ends)" in teller.said()
    teller.go("scale", "Z")
    teller.fill(shift="-15")
    assert "off its top end by 5 mm" in teller.findings()
    teller.go("receive", "X")
    assert "clear shim in its bag" in teller.said()
    teller.go("card")
    assert any("Y" not in r[2] for r in teller.sheet.table.rows.rows)
    # The column comes off for Y: what it reads and where its shims sit is noted first and stands where it goes back.
    teller.go("scope")
    teller.pick(teller.sheet.fitted["Y", "readout"].box, "new scale")
    teller.fill(comes_off="column", off_for="Y")
    teller.photo("shims under the column, rear left")
    teller.step("note its tram readings", note="nod 0.03 in 150, shim 0.15 rear left", minutes="30")
    teller.step("Take the column off", minutes="50")
    assert "It was: nod 0.03 in 150, shim 0.15 rear left" in teller.said()
    paper = teller.paper()
    for words in ("shims under the column, rear left", "Put the column back on its shims", "look for rub marks"):
        assert words in paper, words
    teller.go("scope")
    teller.pick(teller.sheet.fitted["Y", "readout"].box, "nothing")
    # Travel is given up later, at the top and with its reason; a second place stands beside the planned one.
    teller.go("travel", "Z")
    teller.fill(give_up_high="30", give_up_high_why="the belt cover hits the ceiling lamp")
    teller.face("Z", "right side of the column")
    teller.go("scale", "Z")
    teller.fill(beside="35")
    teller.go("envelope", "Z")
    said = teller.said()
    assert "35 mm up" in said
    assert "as planned" in said
    paper = teller.paper()
    assert "Magnetic, thin housing" in paper
    assert "Y axis:" not in paper
    assert "30 mm at the top end is not driven to: the belt cover hits the ceiling lamp" in paper
    assert "35 mm up" in paper
