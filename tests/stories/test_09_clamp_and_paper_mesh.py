"""Story 9: clamp bracket and paper mesh (inches): stand-offs kept, the turn tight here and loose there is runout."""


def test_stand_offs_are_kept_and_the_swing_of_a_turn_is_not_slid_for(teller):
    teller.begin("Universal knee mill", "in", X=("nothing", "new"), Y="nothing", W="nothing")
    teller.survey("X", "27.5", "27.5")
    teller.go("fit")
    teller.fill(
        shaft="0.75", shaft_length="2.9", shaft_key="0.188", end_thread="0", gear_bore="0.751", gear_key="0.188",
        gear_teeth="34", gear_outside="2.25", gear_face="0.55", unit_teeth="21", unit_near="1.1", unit_far="1.65",
        volts="115", shop_volts="115", dial="goes", wheel="goes", clamp_face="0", kit_bracket="1.25",
    )  # fmt: skip
    teller.part_of_feed("bracket")
    assert "takes 1.25 in of table and blocks the T-slots there" in teller.said()
    teller.part_of_feed("mesh")
    teller.fill(school="paper rolled", paper="4")
    teller.part_of_feed("mesh", "trials")
    teller.line(shim="0.42", paper="just rolls", noise="grinds", inner_gap="0.015", outer_gap="0.08")
    assert "between gear and housing" in teller.said()
    teller.line(shim="0.46", paper="just rolls", noise="grinds", inner_gap="0.055", outer_gap="0.04",
                backlash="1.5 thou", loosest="8.5 thou")  # fmt: skip
    said = teller.said()
    assert "runout" in said
    assert "don't slide for it" in said
    teller.part_of_feed("trips", "run-on")
    teller.line(way="the right", speed="rapid", ran="0.18")
    teller.line(way="the left", speed="rapid", ran="0.2")
    teller.part_of_feed("trips", "speeds and stops")
    teller.fill(timed="10", timed_s="20")
    assert "Rapid 30.0 in/min by stopwatch" in teller.said()
    teller.fill(set_low="0.35", set_high="27.15")
    teller.part_of_feed("run-in", "checks")
    teller.fill(lamp="yes")
    paper = teller.paper()
    for words in ("0.420 in", "0.460 in", "1.25 in of table", "Lamp: known what it means? yes", "by rule"):
        assert words in paper, words
    teller.pick(teller.sheet.what, "Sheets to hang")
    wall = teller.paper()
    assert "Rapid 30.0 in/min by stopwatch" in wall
    assert "The right stop trips at 27.15 in from the left mark" in wall
    assert "Not calibrated" not in wall

    # A second thought after the cover was made: the unit's gear was counted wrong.
    teller.step("Make the gear cover", minutes="45")
    teller.go("fit")
    teller.fill(unit_teeth="24")
    teller.part_of_feed("bracket")
    assert "The gear cover was made to other figures" in teller.findings()
    teller.go("paper")
    teller.pick(teller.sheet.what, "All four papers")
    assert "The gear cover was made to other figures" in teller.paper()
