"""Story 14: blocks, repeat until settled (inches). One standard count in reach, a cold morning, then a part."""


def test_the_mean_with_its_scatter_a_cold_morning_and_seven_holes(teller):
    teller.begin("Bench mill with dovetail column", "in", X="scale already there", Y="scale already there", Z="nothing")
    teller.survey("X", "15.7", "15.7", accuracy="2")
    teller.survey("Y", "7.1", "7.1", accuracy="2")
    teller.go("calibrate", "X")
    sheet = teller.sheet
    teller.click(sheet.sides.buttons["kit"])
    teller.hands.press("Ctrl+Ins")
    teller.fill(name="1-2-3 block", reference_kind="blocks without one", detector="0.5")
    teller.click(sheet.sides.buttons["display"])
    teller.fill(counts="20000", per="inch", resolution="0.1")
    teller.click(sheet.sides.buttons["check"])
    teller.fill(reference_id="1-2-3", scale_c="72 °F", reference_c="72 °F")
    sheet.focus_entry()
    for shown in ("0.2559", "0.2561", "0.2560"):
        teller.hands.enter("2.000", shown)
        if teller.sheet.shown.unanswered:
            teller.keep()
    said = teller.said()
    assert "2560 per inch" in said
    assert "standard count" in said
    assert "Key 2560 counts per inch" in said.replace("\n", " ")
    teller.hands.press("Ctrl+Return")
    teller.log("2.000", "2.000", "2.000", "2.000")
    assert "leave 2560" in teller.said()
    teller.press("Check again")
    teller.fill(scale_c="50 °F", reference_c="50 °F")
    teller.log("2.000", "2.002", "2.000", "2.002")
    teller.click(sheet.views.buttons["warm?"])
    said = teller.said()
    assert "not the temperature" in said
    assert "Look for lost motion" in said
    teller.go("part")
    teller.fill(holes="7", radius="1.375", x_first="-0.1", x_second="4.1", y_first="-0.1", y_second="3.1", finder="0.2")
    said = teller.said()
    assert "X: the middle is at 2 in" in said
    assert "4 in between the edges" in said
    assert "1 1.3750 0.0000 3.3750 1.5000" in said
    teller.click(teller.sheet.tabs.buttons["places"])
    teller.sheet.focus_entry()
    for x, y in (("3.3750", "1.5000"), ("2.8573", "2.5752"), ("1.6940", "2.8406"), ("0.7612", "2.0967"),
                 ("0.7612", "0.9033"), ("1.6940", "0.1594"), ("2.8573", "0.4248")):  # fmt: skip
        teller.hands.enter(x, y)
    said = teller.said()
    assert "ppm" in teller.sheet.headline.figure.text()
    assert "out of square" in said
    paper = teller.paper()
    for words in ("2560 counts per in", "A part as proof", "Along X it came out", "Out of square", "50 °F"):
        assert words in paper, words

    teller.think_again()  # it was warm on the scale already, and two of the readings were taken on the way
    teller.go("calibrate", "X")
    teller.fill(scale_c="68 °F", reference_c="68 °F")
    for row in (2, 0):
        teller.sheet.table.setFocus()
        teller.sheet.table.selectRow(row)
        teller.hands.press("Delete")
    teller.log("2.000", "2.000", "2.000", "2.000")
    assert "leave 2560" in teller.said()
    paper = teller.paper()
    assert "2560 counts per in" in paper
    assert "68 °F" in paper
    assert "50 °F" not in paper
