"""Families as they are sold: beams by their stroke, tapes with their head, kits of two lengths, signals by meaning."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import VernusError
from vernus.core.finding import Sold
from vernus.core.plan.display import match_display, same_signal, signal_kinds
from vernus.core.plan.kits import kit_that_serves
from vernus.core.plan.scales import Kit, choose_size, choose_sizes, family_by_id, judge_plan, place_reader
from vernus.core.units import parse_lengths, with_units
from vernus.job.catalog.shipped import scale_families

FAMILIES = scale_families()
BEAM, TAPE, SLIM = (family_by_id(FAMILIES, i) for i in ("beam", "tape", "glass-slim"))


@pytest.mark.parametrize(
    ("travel", "size"),
    [(3.05 * 25.4, 100), (127, 150), (3.9 * 25.4, 100), (150, 150), (150.1, 200)],
)  # fmt: skip
def test_a_beam_serves_every_travel_up_to_its_usable_stroke(travel, size):
    choice = choose_size(BEAM, travel, 10)
    assert (choice.measuring_mm, choice.cut_to_mm) == (size, None)
    assert choice.overall_mm > size + BEAM.reader_mm
    assert [f.severity for f in judge_plan(BEAM, size, travel, (0.0, 0.0))] == []


def test_a_beam_is_cut_only_where_its_face_wants_it():
    assert choose_size(BEAM, 99, 10, 400).cut_to_mm is None
    cut = choose_size(BEAM, 99, 10, BEAM.overall_mm(100) + 20)
    assert cut.cut_to_mm is None
    long = choose_size(BEAM, 127, 10, BEAM.overall_mm(150) - 10)
    assert (long.order_mm, long.cut_to_mm, long.fits_face) == (150, 140, True)
    never = choose_size(BEAM, 127, 10, BEAM.overall_mm(127) - 10)
    assert (never.cut_to_mm, never.fits_face) == (None, False)


@given(st.sampled_from(FAMILIES), st.floats(20, 500), st.floats(15, 120))
def test_the_reader_stays_on_its_body_at_both_stops(family, travel, reader):
    family = family.with_reader(reader)
    choice = choose_size(family, travel, 10)
    if choice is None:
        return
    place = place_reader(family, choice.measuring_mm, (0, travel), (10, 10), reader_follows=True)
    low, high = place.at_stops_mm
    assert high - low == pytest.approx(travel)
    over = family.reader_mm / 2 if family.sizing != "measuring" else 0.0
    assert low - over >= -1e-9
    assert high + over <= choice.overall_mm + 1e-9


def test_the_head_of_a_tape_counts_with_its_own_length():
    wide = TAPE.with_reader(55)
    assert choose_size(wide, 512, 10).measuring_mm == 512 + 20 + 55
    assert SLIM.with_reader(55).head_mm == 0


def test_a_tape_has_no_end_to_be_driven_into():
    (short,) = judge_plan(TAPE, 512 + 40 + 10, 512, (10, 10), (1.0, 9.0))
    assert short.severity == "caution"  # short of its margin: told and allowed
    (off,) = judge_plan(TAPE, 540, 512, (10, 10))
    assert off.severity == "stop"
    assert "run off its end" in off.what.text()
    assert "driven" not in off.what.text()


@pytest.mark.parametrize(
    ("mm", "inch"),
    [(200, "8 in (200 mm)"), (500, "20 in (500 mm)"), (150, "6 in (150 mm)"), (203.2, "8 in"), (412, "16.22 in")],
)
def test_inch_goods_are_named_as_sold(mm, inch):
    assert Sold(mm).show("in") == inch
    assert Sold(mm).show("mm").startswith(f"{mm:g}")


@given(
    st.lists(st.lists(st.integers(2, 40), min_size=1, max_size=4), min_size=1, max_size=5),
    st.lists(st.integers(2, 40), min_size=1, max_size=3),
)
def test_the_kit_chosen_serves_and_none_shorter_does(kits, needs):
    wanted = {f"A{n}": float(mm) for n, mm in enumerate(needs)}
    found = kit_that_serves([Kit(tuple(map(float, k)), None) for k in kits], wanted)

    def serves(kit):
        return any(all(a >= b for a, b in zip(p, needs, strict=True)) for p in itertools.permutations(kit, len(needs)))

    good = [sum(k) for k in kits if len(k) >= len(needs) and serves(k)]
    if found is None:
        assert good == []
        return
    assert found.over_mm == min(good)
    assert all(found.lengths_mm[a] >= mm for a, mm in wanted.items())
    taken = list(found.kit.lengths_mm)
    for mm in found.lengths_mm.values():
        taken.remove(mm)  # each length once


def test_signals_are_compared_by_what_they_mean():
    assert same_signal("TTL quadrature", "square wave, 9-pin plug") is True
    assert same_signal("5 V A/B line driver", "Square-wave") is True
    assert same_signal("1 Vpp sine", "square wave, 9-pin plug") is False
    assert same_signal("the blue plug", "square wave") is None
    assert signal_kinds("") == frozenset()
    travels = {"X": 400.0}
    for words, code in (("ttl, 9 pin", None), ("sine", "display-other-signal"), ("round", "display-signal-unclear")):
        found = [f.code for f in match_display(2, 7, words, [("X", SLIM)], travels)]
        assert found == ([] if code is None else [code])


@pytest.mark.parametrize(
    ("typed", "unit", "kept"),
    [("8 16", "in", "8 in; 16 in"), ("8 x 16", "in", "8 in × 16 in"), ("200; 16 in", "mm", "200 mm; 16 in"),
     ("9 1/4; 6-5/8", "in", "9 1/4 in; 6-5/8 in"), ("8×16; 8×24", "in", "8 in × 16 in; 8 in × 24 in")],
)  # fmt: skip
def test_lists_of_lengths_keep_their_unit(typed, unit, kept):
    assert with_units(typed, unit) == kept
    assert [t.mm for t in parse_lengths(kept.replace("; ", ";"))] == [t.mm for t in parse_lengths(typed, unit)]
    assert with_units(kept, "mm") == kept


def test_a_list_of_lengths_that_is_none_is_refused():
    for wrong in ("8 in; oops", ";", "8 parsecs"):
        with pytest.raises(VernusError):
            parse_lengths(wrong, "in")


def test_every_family_that_is_too_short_names_its_longest_as_sold():
    _, found = choose_sizes([BEAM], 900, 10)
    assert "24 in (600 mm)" in found[0].what.text("in")
