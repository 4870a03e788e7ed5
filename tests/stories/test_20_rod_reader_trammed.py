"""Story 20: rod reader trammed (inches). Two planes from one traverse, set screws by the dial, slack at the corner."""


def test_two_planes_from_one_traverse_and_set_screws_fine_enough(teller):
    teller.begin("Universal knee mill", "in", X="new scale", Y="new scale", W="nothing")
    teller.survey("Y", "10 5/16", "10 5/16")
    teller.survey("X", "26.75", "26.75")
    teller.scale("Y", "Inductive rod")
    teller.face("Y", "right flank of the knee")
    teller.go("align", "Y")
    assert "reader" in teller.sheet.heading.text()
    teller.fill(both="two", by="jack or set screws", jack_pitch="1/32")
    teller.sheet.reading.setFocus()
    for n in range(7):
        teller.hands.enter(f"{9 * n / 6:.1f}", f"{-13 * n / 6:.1f}")
    teller.hands.enter("0", "0")
    assert teller.sheet.ask.text().startswith("This pass is through: 8 readings")
    said = teller.said()
    assert "FAIL" in said
    assert "the jack screw about" in said
    assert "°" in teller.sheet.instruction.text(), "an eighth of 1/32 is coarser than half of two thou"
    assert "until the dial goes from" in said
    assert "keeps this tilt all along the stroke" in said
    found = teller.findings()
    assert "Reader, face, pass 1" in found
    assert "Reader, edge, pass 1" in found
    teller.click(teller.sheet.planes["edge"])
    assert teller.sheet.headline.figure.text() == "−14.0 thou", "13 over what was swept, 14 over the reader"
    teller.go("reader", "Y")
    assert "no gap" in teller.sheet.headline.figure.text()
    assert "feeler" not in teller.said().lower()
    teller.go("cables", "Y")
    teller.click(teller.sheet.tabs.buttons["anchors"])
    teller.press("Propose")
    teller.click(teller.sheet.tabs.buttons["cable"])
    said = teller.said()
    assert "needed" in teller.sheet.headline.figure.text()
    assert "at its" in said, "where to hold every axis while tying"
    teller.click(teller.sheet.tabs.buttons["wires"])
    teller.press("Usual signals")
    teller.go("cables", "X")
    teller.click(teller.sheet.tabs.buttons["wires"])
    teller.press("Copy those of Y")
    assert "screen" in teller.said()
    teller.go("card")
    steps = [" ".join(r) for r in teller.sheet.table.rows.rows]
    assert sum("earth the display" in s for s in steps) == 1
    paper = teller.paper()
    for words in ("Alignment, reader, face", "Alignment, reader, edge", "FAIL", "Hold while tying", "Pin at the plug"):
        assert words in paper, words

    teller.think_again()  # other set screws, and the face was read at one end on a burr
    teller.go("align", "Y")
    teller.click(teller.sheet.planes["face"])
    before = teller.sheet.instruction.text()
    teller.fill(jack_pitch="1/24")
    after = teller.sheet.instruction.text()
    assert before != after, "another pitch, another turn"
    paper = teller.paper()
    assert after.split(".")[1].strip().split(" ")[0] in paper
    assert "1/24" in paper or "0.0417" in paper
