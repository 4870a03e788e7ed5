"""Story 3: a power feed on its own bracket (bench mill, mm, no scale): the screw's end is too short for the gear."""


def test_one_scheme_one_bracket_and_the_wrong_voltage_before_it_is_bought(teller):
    teller.begin("Bench mill with dovetail column", "mm", X=("nothing", "new"), Y="nothing", Z="nothing")
    teller.survey("X", "402", "402.4")
    teller.go("fit")
    teller.fill(
        gear_bore="19.05", gear_key="6.35", gear_teeth="30", gear_outside="48", gear_face="14", unit_teeth="20",
        unit_near="46", unit_far="60", volts="115", shop_volts="230", bracket="a bracket instead", old_bracket="12",
        kit_bracket="16", hole_thread="M6", hole_across="84", hole_up="40", unit_long="110", unit_wide="120",
        unit_high="160", dial="goes", wheel="goes",
    )  # fmt: skip
    assert "115 V" in teller.findings()
    teller.fill(volts="230")
    assert "115 V" not in teller.findings()
    assert "handle and dial come off" in teller.said()
    assert teller.sheet.fits.rows.rows == [], "nothing is said to fit yet"
    teller.fill(shaft="15", shaft_length="41", shaft_key="6", end_thread="0")
    said = teller.said()
    assert "Too short by 23 mm. Make a coupler 45.5 mm long: bored 15 mm, 22.5 mm deep" in said
    assert "set screw of 5 mm" in said
    assert "sleeve" not in said
    assert "tepped key" not in said
    teller.part_of_feed("bracket")
    teller.fill(
        bearing="35", bearing_width="9", screw_below="45", sits="below", pattern_y="-30", unit_across="64",
        unit_up="30", unit_thread="M8",
    )  # fmt: skip
    said = teller.said()
    assert "the screw then sticks out 37 mm" in said
    assert "bore 35 mm H7, 9 mm deep" in said
    assert "bore 16 mm through" in said, "the hole for the screw"
    slots = [h for h in teller.sheet._result.bracket.holes if h.for_ == "unit"]
    assert {h.slot_angle_deg for h in slots} == {90.0}, "along the line from the screw to the gear below it"
    teller.part_of_feed("mesh")
    teller.fill(school="ear")
    teller.part_of_feed("mesh", "trials")
    teller.line(noise="grinds")
    assert "Too tight" in teller.said()
    teller.line(noise="quiet")
    assert "agrees by measure and ear" in teller.said()

    paper = teller.paper()
    assert "Gear cover. Inside" in paper
    for words in ("Make a coupler 45.5 mm long", "a bracket of 16 mm to make", "screw then sticks out 37 mm"):
        assert words in paper, words
    assert "19.05" in paper, "caliper figures stay on paper"

    # A second thought after it was made: the bracket gets thicker, so the coupler made is no longer the one wanted.
    teller.step("coupler", note="turned and keyed")
    teller.go("fit")
    assert teller.sheet.fits.rows.rows[0][:2] == ["screw's end", "made"]
    teller.fill(kit_bracket="22")
    assert "was made to other figures" in teller.findings(), teller.findings()
    assert teller.sheet.fits.rows.rows[0][1] == "to make"
    paper = teller.paper()
    assert "Make a coupler 51.5 mm long" in paper
    assert "was made to other figures" in paper
