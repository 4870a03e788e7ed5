from dataclasses import replace

from vernus.core.plan.display import match_display
from vernus.core.plan.scales import choose_size, judge_choice
from vernus.job.catalog.shipped import scale_families

FAMILIES = {f.id: f for f in scale_families()}
SLIM = FAMILIES["glass-slim"]


def codes(*args, **more):
    return [f.code for f in match_display(*args, **more)]


def test_a_display_that_goes_with_its_scales_raises_nothing():
    assert codes(3, 7, "Square wave, 9-pin plug", [("X", SLIM), ("Y", SLIM)], {"X": 680, "Y": 262}) == []


def test_too_few_axes_is_a_stop_with_both_numbers():
    (found,) = match_display(1, 7, "", [("X", SLIM), ("Y", SLIM)], {})
    assert (found.code, found.severity) == ("display-too-few-axes", "stop")
    assert "shows 1 axes and 2 scales" in found.what.text()


def test_digits_are_counted_from_travel_and_count():
    # 999 mm at 5 µm: 3 before the point, 3 after; 1000 mm needs 4.
    assert codes(2, 6, "", [("X", SLIM)], {"X": 999}) == []
    assert codes(2, 6, "", [("X", SLIM)], {"X": 1000}) == ["display-too-few-digits"]
    assert codes(2, 6, "", [("X", replace(SLIM, count_um=10.0))], {"X": 1000}) == []


def test_another_signal_and_mixed_signals_are_told():
    assert codes(2, 7, "sine", [("X", SLIM)], {"X": 100}) == ["display-other-signal"]
    assert codes(2, 7, "", [("X", SLIM), ("Y", FAMILIES["rod"])], {}) == ["scales-of-two-signals"]


def test_each_family_has_a_line_of_judgement_in_both_systems():
    for family in FAMILIES.values():
        choice = choose_size(family, 90, 5, 400)
        text = judge_choice(choice).text()
        assert family.label in text
        assert " mm by " in text
        assert " in by " in judge_choice(choice).text("in")
    cut = choose_size(FAMILIES["thin-housing"], 262, 10, 300)
    assert "buy 300 mm and cut it" in judge_choice(cut).text()
    assert "is longer than the face" in judge_choice(cut).text()
    assert ", 77;" in judge_choice(choose_size(replace(SLIM, price=77.0), 90, 5)).text()


def test_the_shipped_families_are_sound():
    for family in FAMILIES.values():
        assert list(family.sizes_mm) == sorted(set(family.sizes_mm))
        assert min((family.reader_mm, *family.section_mm, *family.reader_section_mm, family.count_um)) > 0
        assert family.needs
        assert family.signal
        assert 0 <= family.exposure <= 3
        assert family.gap_mm[0] <= family.gap_mm[1]
        assert family.sizes_mm or family.can_be_cut
