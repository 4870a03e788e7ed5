"""Story 6: lathe and tailstock (inches). A quill whose last 0.7 ejects the chuck; diameter on X; the dial errs too."""

from vernus.desktop.sheet_list import KEYS
from vernus.job.prove.as_read import check_as_read


def test_the_quill_by_its_useful_stroke_diameter_on_x_only_and_a_dial_that_errs(teller):
    teller.begin("Mid-size lathe", "in", X="new scale", Z="new scale", T="readout of its own")
    teller.survey("X", "6.9", "6.9", accuracy="2")
    teller.survey("Z", "31.4", "31.42")
    teller.survey("T", "4.6", "4.6")
    teller.fill(give_up_high="0.7")
    teller.scale("T", "Capacitive beam")
    said = teller.said()
    assert "3.9" in said
    assert "usable stroke" in said
    teller.face("T", "on top of the tailstock")
    teller.go("travel", "T")
    assert "0.7 in at the" in teller.said()
    for sheet in ("cables", "powerup", "calibrate"):
        teller.hands.press(KEYS[sheet])
        assert teller.window.session.axis.name != "T", f"{sheet} is asked of a readout of its own"
    teller.scale("X", "Sealed glass, micro")
    teller.face("X", "tailstock side of the cross slide")
    teller.go("calibrate", "X")
    sheet = teller.sheet
    teller.click(sheet.sides.buttons["display"])
    teller.fill(shows="twice the move")
    teller.click(sheet.sides.buttons["kit"])
    teller.hands.press("Ctrl+Ins")
    teller.fill(name="the dial of the cross slide", reference_kind="the machine's dial", division="2",
                dial_shows="twice the move")  # fmt: skip
    teller.click(sheet.sides.buttons["check"])
    teller.fill(reference_id="the dial")
    assert check_as_read(teller.job, teller.sheet.run()).shows == "diameter", "said once, of this axis"
    teller.log("2.000", "2.001", "2.000", "2.001", "2.000", "2.001")
    assert "own dial is a poor reference" in teller.findings()
    paper = teller.paper()
    for words in ("the screw behind the dial", "Capacitive beam", "tailstock", "usable stroke 4 in"):
        assert words in paper, words

    # A second thought: a quarter of an inch less is given up. What is useful grows by it, here and on paper.
    teller.think_again()
    teller.go("travel", "T")
    teller.fill(give_up_high="0.45")
    teller.go("scale", "T")
    assert "4.15" in teller.said()
    paper = teller.paper()
    assert "0.45 in" in paper
    assert "0.7 in at the" not in paper
