import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.finding import plain
from vernus.core.plan.faces import (
    CRITERIA,
    CRITERION_WORDS,
    WORST,
    FaceCosts,
    blocked_finding,
    rank_faces,
    what_would_change,
)

EVEN = dict.fromkeys(CRITERIA, 1.0)


def costs(name, **more):
    usual = {"travel_lost": 0.0, "lost_mm": {}, "blocked": ()}
    usual |= {"exposure": 0.0, "holes": 0.0, "parts": 0.0, "abbe_mm": 0.0}
    return FaceCosts(name, **{**usual, **more})


amounts = st.builds(
    costs,
    st.sampled_from(["a", "b", "c"]),
    travel_lost=st.floats(0, 0.6),
    exposure=st.floats(0, 3),
    holes=st.integers(0, 8).map(float),
    parts=st.integers(0, 6).map(float),
    abbe_mm=st.floats(0, 600),
)
weights = st.fixed_dictionaries({k: st.floats(0.1, 10) for k in CRITERIA})


@given(amounts, weights)
def test_a_cost_is_a_mean_badness_between_nothing_and_as_bad_as_it_gets(face, given_weights):
    assert 0 <= face.cost(given_weights) <= 1 + 1e-12
    assert set(face.badness()) == set(CRITERIA) == set(WORST)


@given(st.lists(amounts, min_size=2, max_size=5), weights)
def test_the_ranking_is_by_cost_and_holds_every_face(faces, given_weights):
    ranked = rank_faces(faces, given_weights)
    assert [r.cost for r in ranked] == sorted(r.cost for r in ranked)
    assert sorted(r.costs.name for r in ranked) == sorted(f.name for f in faces)


@given(amounts, amounts, weights)
def test_the_weight_named_as_the_turning_point_is_one(first, second, given_weights):
    faces = [costs("one", **_numbers(first)), costs("two", **_numbers(second))]
    ranked = rank_faces(faces, given_weights)
    text = what_would_change(ranked, given_weights).text()
    if "would win if" not in text:
        return
    words = text.split("would win if ")[1].split(" weighed")[0]
    key = next(k for k in CRITERIA if CRITERION_WORDS[k] == words)
    # The figure is shown to a tenth, so go a little beyond it.
    turning = float(text.split("more than ")[1].split(" ")[0]) + 0.06
    again = rank_faces(faces, {**given_weights, key: max(turning, given_weights[key])})
    assert again[0].costs.name == ranked[1].costs.name or again[0].cost == pytest.approx(again[1].cost, abs=0.02)


def _numbers(face):
    return {"travel_lost": face.travel_lost, "exposure": face.exposure, "holes": face.holes, "parts": face.parts,
            "abbe_mm": face.abbe_mm}  # fmt: skip


def test_a_face_that_cannot_work_comes_last_whatever_it_costs():
    met = (("X scale reader", "splash guard"), ("X scale cover", "splash guard"))
    wonderful = costs("wonderful", possible=False, meets=met)
    ranked = rank_faces([wonderful, costs("dreadful", exposure=3, holes=9, parts=9)], EVEN)
    assert [r.costs.name for r in ranked] == ["dreadful", "wonderful"]
    assert "the X scale reader meets the splash guard with every axis at home" in ranked[1].judgement.text()
    assert "nothing to compare" in what_would_change(ranked, EVEN).text()


def test_the_judgement_names_good_and_bad_with_their_numbers_in_both_systems():
    (ranked,) = rank_faces([costs("rear", lost_mm={"Y": 14.0}, travel_lost=0.08, blocked=("drain hole",))], EVEN)
    assert ranked.judgement.text() == "Stays clean. But takes 14 mm of Y; blocks drain hole."
    assert "takes 0.551 in of Y" in ranked.judgement.text("in")


def test_nothing_to_choose_between_is_said_so():
    ranked = rank_faces([costs("left"), costs("right")], EVEN)
    assert "as good as each other" in what_would_change(ranked, EVEN).text()


def test_no_weight_at_all_ranks_nothing_above_the_other():
    ranked = rank_faces([costs("b", holes=9), costs("a")], dict.fromkeys(CRITERIA, 0.0))
    assert [r.cost for r in ranked] == [0, 0]


def test_names_with_braces_are_only_names():
    ranked = rank_faces([costs("{x}", blocked=("{y}",)), costs("z", holes=6)], EVEN)
    assert "(y)" in ranked[0].judgement.text() + ranked[1].judgement.text()
    assert "(x)" in what_would_change(ranked, EVEN).text()


def test_a_blocked_feature_says_when_and_why():
    told = blocked_finding("The X scale cover", "the table lock", "it is locked while milling", plain("Y above 10"))
    assert told.what.text() == "The X scale cover covers the table lock with Y above 10: it is locked while milling."
    assert blocked_finding("It", "the lock", "", None).what.text() == "It covers the lock."


def test_a_rocking_collar_never_comes_first_where_its_play_is_larger_than_wanted():
    collar = costs("collar", play_mm=0.12, wanted_mm=0.05, play_measured=True)
    freed = costs("freed", holes=5.0, parts=5.0, to_make="a ring and a guide rod")
    for key in CRITERIA:
        weights = {**dict.fromkeys(CRITERIA, 0.1), key: 10.0}
        ranked = rank_faces([collar, freed], weights)
        assert ranked[0].costs.name == "freed"
        assert "can't win by any weight" in what_would_change(ranked, weights).text()
    assert "rocks by 0.120 mm, more than the 0.050 mm wanted" in ranked[1].judgement.text()
    assert "To make: a ring and a guide rod." in ranked[0].judgement.text()
    held = rank_faces([costs("collar", play_mm=0.01, wanted_mm=0.05, play_measured=True), freed], EVEN)
    assert held[0].costs.name == "collar"


def test_ties_are_told_as_ties():
    ranked = rank_faces([costs("one", parts=2.0), costs("two", parts=2.0)], EVEN)
    assert "are as good as each other" in what_would_change(ranked, EVEN).text()


@given(amounts, amounts, weights)
def test_a_turning_point_is_never_the_figure_that_stands_there_already(first, second, given_weights):
    ranked = rank_faces([costs("one", **_numbers(first)), costs("two", **_numbers(second))], given_weights)
    text = what_would_change(ranked, given_weights).text()
    if "(now " in text:
        then, now = text.split("more than ")[1].split(" (now ")
        assert then != now.rstrip(").")
