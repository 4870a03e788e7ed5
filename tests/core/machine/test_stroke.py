"""The line of an axis: one stop per end at the largest need, and nothing moves a stop that metal needs."""

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.machine.stroke import ENDS, FeedRun, Meets, review_trips, solve_stroke

EIGHTHS = st.integers(0, 240).map(lambda n: n / 8)
SPANS = st.lists(st.tuples(st.integers(-80, 320), st.integers(1, 200)), max_size=4)
LINES = st.builds(
    dict, travel_mm=st.integers(8, 240).map(float), home=st.floats(0, 1), spans=SPANS,
    give_up=st.tuples(EIGHTHS, EIGHTHS), ends=st.one_of(st.none(), st.tuples(EIGHTHS, EIGHTHS)), margin=EIGHTHS,
    feed=st.one_of(st.none(), st.tuples(EIGHTHS, EIGHTHS, EIGHTHS)), unit=st.sampled_from([1.0, 25.4 / 8]),
)  # fmt: skip


def line(travel_mm, home, spans, give_up, ends, margin, feed, unit):
    """A line on an eighth grid of mm or of inches, home on the grid too."""
    place = round(home * travel_mm) / 1.0
    return {
        "travel_mm": travel_mm * unit,
        "home_mm": place * unit,
        "meets": [Meets(f"box {n}", a * unit, (a + w) * unit) for n, (a, w) in enumerate(spans)],
        "give_up_mm": (give_up[0] * unit, give_up[1] * unit),
        "scale_mm": None if ends is None else ((10 - ends[0]) * unit, (travel_mm - 10 + ends[1]) * unit),
        "margin_mm": (margin * unit, margin * unit),
        "feed": None if feed is None else FeedRun((feed[0] * unit, feed[1] * unit), feed[2] * unit),
    }


def solved(given):
    try:
        return solve_stroke(**line(**given))
    except BadInputError:
        return None


@given(LINES)
def test_what_is_kept_is_what_walking_from_home_reaches(given):
    """An independent walk on a grid of sixteenths, in exact fractions, until something is in the way."""
    stroke = solved(given)
    if stroke is None:
        return
    unit = Fraction(given["unit"]) if given["unit"] == 1.0 else Fraction(254, 80)
    far, home = Fraction(given["travel_mm"]), Fraction(round(given["home"] * given["travel_mm"]))
    spans = [(Fraction(a), Fraction(a + w)) for a, w in given["spans"]]
    if any(a < home < b for a, b in spans):
        assert stroke.kept_mm is None
        return
    low, high = home, home
    step = Fraction(1, 16)
    while low > 0 and not any(a < low - step / 2 < b for a, b in spans):
        low -= step
    while high < far and not any(a < high + step / 2 < b for a, b in spans):
        high += step
    low, high = max(low, Fraction(given["give_up"][0])), min(high, far - Fraction(given["give_up"][1]))
    if given["ends"] is not None:
        margin = Fraction(given["margin"])
        low = max(low, 10 - Fraction(given["ends"][0]) + margin)
        high = min(high, far - 10 + Fraction(given["ends"][1]) - margin)
    if low > high:
        assert stroke.kept_mm is None or stroke.kept_mm[1] - stroke.kept_mm[0] < 1e-6
    else:
        assert stroke.kept_mm == pytest.approx((float(low * unit), float(high * unit)), abs=1e-6)


@given(LINES, EIGHTHS, EIGHTHS)
def test_giving_up_travel_never_moves_a_stop_that_metal_or_the_scale_needs(given, more_low, more_high):
    stroke = solved(given)
    if stroke is None:
        return
    again = solve_stroke(**{**line(**given), "give_up_mm": (more_low, more_high)})
    own = [n for n in stroke.needs if n.why != "given up"]
    assert [n for n in again.needs if n.why != "given up"] == own
    for end, given_up in zip(ENDS, (more_low, more_high), strict=True):
        needs = [n.before_mark_mm for n in own if n.end == end] + ([given_up] if given_up > 0 else [])
        stop = again.stop_at(end)
        assert (stop is None) == (not needs)
        assert stop is None or stop.before_mark_mm == max(needs), (
            "a given-up end always has a stop, at the largest need"
        )


@given(LINES)
def test_trips_come_before_stops_and_stops_before_scale_ends_or_there_is_a_finding(given):
    stroke = solved(given)
    if stroke is None or stroke.trips_mm is None:
        return
    run_on = line(**given)["feed"].run_on_mm
    for n, (end, sign) in enumerate(zip(ENDS, (-1, 1), strict=True)):
        reached = stroke.trips_mm[n] + sign * run_on[n]
        assert sign * (reached - stroke.limit_mm(end)) <= 1e-9
        margin_begins = stroke.ends_at_mm(end)
        assert margin_begins is None or sign * (reached - margin_begins) <= 1e-9
        assert margin_begins is None or sign * (stroke.limit_mm(end) - margin_begins) <= 1e-9
    crossed = stroke.trips_mm[0] >= stroke.trips_mm[1]
    assert crossed == ("no-room-for-trips" in {f.code for f in stroke.findings})


@given(LINES)
def test_the_low_end_is_the_mirror_image_of_the_high_one(given):
    stroke = solved(given)
    if stroke is None:
        return
    asked = line(**given)
    far = asked["travel_mm"]
    turned = solve_stroke(
        far,
        home_mm=far - asked["home_mm"],
        meets=[Meets(m.with_, far - m.to_mm, far - m.from_mm) for m in asked["meets"]],
        give_up_mm=asked["give_up_mm"][::-1],
        scale_mm=None if asked["scale_mm"] is None else (far - asked["scale_mm"][1], far - asked["scale_mm"][0]),
        margin_mm=asked["margin_mm"],
        feed=None if asked["feed"] is None else replace(asked["feed"], run_on_mm=asked["feed"].run_on_mm[::-1]),
    )
    for end, other in (("low", "high"), ("high", "low")):
        one, two = stroke.stop_at(end), turned.stop_at(other)
        assert (one is None) == (two is None)
        assert one is None or one.before_mark_mm == pytest.approx(two.before_mark_mm, abs=1e-9)


def test_the_stop_that_decides_is_named_and_the_others_are_told():
    stroke = solve_stroke(262.4, meets=[Meets("column", 246.2, 300)], give_up_mm=(0, 3))
    (stop,) = stroke.stops
    assert (stop.end, stop.why, stop.with_, stop.before_mark_mm) == ("high", "metal", "column", pytest.approx(16.2))
    (told,) = [f for f in stroke.findings if f.code == "stop-needed"]
    assert told.what.text() == (
        "A stop 16.2 mm before the high mark: column is met 16.2 mm before the mark; 3 mm given up."
    )
    more = solve_stroke(262.4, meets=[Meets("column", 246.2, 300)], give_up_mm=(0, 20)).stops[0]
    assert (more.why, more.before_mark_mm) == ("given up", 20), "the stop doesn't vanish when more is given up"


def test_something_in_mid_stroke_keeps_the_part_with_home():
    stroke = solve_stroke(300, home_mm=50, meets=[Meets("vise", 120, 140)])
    assert stroke.kept_mm == (0, 120)
    assert "splits-the-travel" in {f.code for f in stroke.findings}
    assert solve_stroke(300, home_mm=200, meets=[Meets("vise", 120, 140)]).kept_mm == (140, 300)


def test_home_inside_something_keeps_nothing_and_says_so():
    stroke = solve_stroke(300, home_mm=130, meets=[Meets("vise", 120, 140)])
    assert stroke.kept_mm is None
    assert [f.code for f in stroke.findings] == ["home-blocked"]
    assert solve_stroke(300, home_mm=120, meets=[Meets("vise", 120, 140)]).kept_mm == (0, 120), (
        "touching is not meeting"
    )


def test_giving_up_everything_leaves_nothing_and_still_names_both_stops():
    stroke = solve_stroke(100, give_up_mm=(60, 50))
    assert (stroke.kept_mm, [s.before_mark_mm for s in stroke.stops]) == (None, [60, 50])
    assert "no-travel-left" in {f.code for f in stroke.findings}


def test_a_spare_smaller_than_the_travel_is_known_moves_no_stop_and_is_told():
    stroke = solve_stroke(300, scale_mm=(-12, 301), margin_mm=(0, 0), u_mm=2.0)
    assert stroke.stops == ()
    (found,) = stroke.findings
    assert (found.code, "1 mm of the scale is spare" in found.what.text()) == ("spare-below-uncertainty", True)


@pytest.mark.parametrize(
    ("set_mm", "code"),
    [
        ((None, 500.0), "scale-runs-out"), ((-12.0, None), "scale-runs-out"), ((None, 493.0), "stop-late"),
        ((12.0, 486.0), None), ((486.0, 12.0), "trips-swapped"), ((12.0, 12.0), "trips-swapped"),
    ],
)  # fmt: skip
def test_trips_that_stand_wrong_are_told(set_mm, code):
    stroke = solve_stroke(500, scale_mm=(-15, 505), margin_mm=(1, 1), feed=FeedRun((6, 6), 3))
    found = [f.code for f in review_trips(stroke, (6, 6), set_mm)]
    assert found == ([code] if code else [])


def test_without_a_scale_the_stop_is_hit_instead():
    stroke = solve_stroke(500, give_up_mm=(0, 10), feed=FeedRun((6, 6), 3))
    (found,) = review_trips(stroke, (6, 6), (None, 488.0))
    assert found.code == "hits-hard-stop"
    assert "runs on to +494 mm, into the high stop at +490 mm" in found.what.text()
    assert "+19.449 in" in found.what.text("in")


@pytest.mark.parametrize(
    ("more", "words"),
    [
        ({"travel_mm": 0}, "beyond the low one"), ({"home_mm": 500}, "between the marks"),
        ({"give_up_mm": (-1, 0)}, "can't be negative"), ({"scale_mm": (10, 5)}, "below its high end"),
        ({"meets": [Meets("a", 9, 3)]}, "beyond its end"), ({"travel_mm": float("nan")}, "finite"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_in_a_sentence(more, words):
    with pytest.raises(BadInputError, match=words):
        solve_stroke(**{"travel_mm": 300, **more})


@pytest.mark.parametrize(("breach", "margin", "u", "asked"), [
    (0.3, 10, 0.8, False), (1.2, 10, 0.8, True), (0.3, 0, 0.8, True), (0.3, 10, 0.0, True), (0.6, 0.4, 0.8, True),
])  # fmt: skip
def test_a_margin_broken_by_less_than_the_travel_is_known_asks_for_no_stop_and_metal_always_does(
    breach, margin, u, asked
):
    scale = (breach - margin, 300 + margin)
    stroke = solve_stroke(300, scale_mm=scale, margin_mm=(margin, margin), u_mm=u)
    assert [n.before_mark_mm for n in stroke.stops] == ([pytest.approx(breach)] if asked else [])
    metal = solve_stroke(300, meets=[Meets("column", 300 - breach, 400)], u_mm=u)
    assert [n.why for n in metal.stops] == ["metal"]
