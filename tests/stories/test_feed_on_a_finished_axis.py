"""A power feed added to an axis whose scale is already there (bench mill, mm): steps only for the feed."""


def test_the_feed_brings_its_own_steps_and_the_scale_keeps_its_spare(teller):
    teller.begin("Bench mill with dovetail column", "mm", X=("scale already there", "new"), Y="nothing", Z="nothing")
    teller.survey("X", "402", "402.4")
    teller.scale("X", "Sealed glass, slim")
    assert "23.9 mm" in teller.said()
    teller.go("fit")
    teller.fill(
        shaft="20", shaft_length="90", shaft_key="6", end_thread="0", gear_bore="20.02", gear_key="6", gear_teeth="36",
        gear_outside="75.9", gear_face="18", unit_teeth="18", unit_near="40", unit_far="58", volts="230",
        shop_volts="230", dial="goes", wheel="goes", clamp_face="0", unit_long="110", unit_wide="150", unit_high="200",
    )  # fmt: skip
    assert "The gear sits on the screw itself" in teller.said()
    teller.part_of_feed("trips", "run-on")
    teller.line(way="the right", speed="rapid", ran="4.5")
    teller.line(way="the left", speed="rapid", ran="4")
    teller.part_of_feed("trips", "speeds and stops")
    said = teller.said()
    assert "decided by the hard stops" in said, "the scale's spare bears them"
    assert "31 to 394.7 mm" in said
    teller.go("envelope")
    assert "handwheel" not in teller.findings(), "it goes: said once, on the feed's sheet"
    teller.go("card")
    said = teller.said()
    assert "Put the trip stops on before the bracket" in said
    for words in ("Hang the body", "Drill and tap", "Check against a reference"):
        assert words not in said
    paper = teller.paper()
    assert "gear 40 mm to 58 mm" in paper
    for words in ("Grease the gears, fit the cover", "Gear cover. Inside 127.28 mm", "by rule"):
        assert words in paper, words

    # A second thought after the cover was made: the teeth were counted wrong.
    teller.step("Make the gear cover", minutes="60")
    teller.go("fit")
    teller.fill(gear_teeth="40", gear_outside="84")
    teller.part_of_feed("bracket")
    assert "The gear cover was made to other figures" in teller.findings()
    assert "The gear cover was made to other figures" in teller.paper()
