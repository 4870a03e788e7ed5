from vernus.core.finding import Fine, Mm, Rate, finding, plain


def test_a_finding_reads_right_in_either_system():
    found = finding(
        "x", "caution", "Off by {by} at {at}, {rate}.", "Move {at}.", by=Fine(0.0254), at=Mm(254), rate=Rate(1e-3)
    )
    assert found.as_json("mm")["text"] == "Off by 0.025 mm at 254 mm, 1.000 mm per metre."
    assert found.as_json("in")["text"] == "Off by 1.0 thou at 10 in, 12.00 thou per foot."
    assert found.as_json()["remedy"] == "Move 254 mm."


def test_braces_in_what_somebody_typed_are_just_braces():
    assert plain("{0} {x!r}").text() == "{0} {x!r}"
    assert finding("x", "info", "{text}", "ok", text="{evil}").what.text() == "{evil}"
