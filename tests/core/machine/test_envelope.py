"""The envelope solver against hand-made cases and against brute force on grids."""

import itertools
import math
import random
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.machine.bumper import bumper_finding, plan_bumper
from vernus.core.machine.envelope import Box, Envelope, EnvelopeAxis, Member, tilted_box
from vernus.core.machine.meetings import aside_meetings, meetings, minded_meetings, overlaps, pair_bounds, unchecked
from vernus.core.machine.travel_kept import keep_travel, most_kept, with_reachable_least

FAR = 1000.0


def saddle_and_column(clearance=0.0, **axis):
    """A saddle that runs +y toward a column whose face stands at y = 300."""
    return Envelope(
        (Member("base"), Member("saddle", "base", "Y")),
        (EnvelopeAxis("Y", "+y", -80, 80, **axis),),
        (
            Box("column", "base", (-100, 300, 0), (100, 400, 500)),
            Box("bracket", "saddle", (-50, 0, 100), (50, 240, 150)),
        ),
        clearance,
    )


def test_one_axis_stops_where_the_metal_touches():
    result = keep_travel(saddle_and_column())
    assert result.kept == {"Y": (-80, 60)}
    assert result.score == pytest.approx(140 / 160, abs=1e-15)
    (pair,) = result.pairs
    assert pair.blocked == {"Y": (60, 80)}
    assert pair.in_words().text() == "Y above +60 mm"


def test_a_clearance_wanted_widens_the_interval():
    assert keep_travel(saddle_and_column(clearance=2.5)).kept == {"Y": (-80, 57.5)}


def test_touching_is_not_meeting():
    envelope = saddle_and_column(home_mm=60)
    assert keep_travel(envelope).kept == {"Y": (-80, 60)}


def test_a_meeting_at_home_is_a_finding_and_no_result():
    result = keep_travel(saddle_and_column(home_mm=61))
    assert result.kept is None
    assert [f.code for f in result.findings] == ["home-blocked"]
    words = result.findings[0].what.text(), result.findings[0].remedy.text()
    assert "by 1 mm to front or back" in words[0] and "at least 1.1 mm to front or back" in words[1]


def knee_mill(weights=(1.0, 1.0), minimum=0.0):
    """A body behind the saddle that meets the column only with the knee up."""
    return Envelope(
        (Member("column"), Member("knee", "column", "W"), Member("saddle", "knee", "Y")),
        (
            EnvelopeAxis("W", "+z", -100, 100, weight=weights[0]),
            EnvelopeAxis("Y", "+y", -80, 80, weight=weights[1], minimum_mm=minimum),
        ),
        (
            Box("column head", "column", (-100, 300, 240), (100, 400, 500)),
            Box("scale", "saddle", (-50, 0, 150), (50, 250, 200)),
        ),
    )


def test_a_body_that_meets_the_column_only_with_the_knee_up():
    result = keep_travel(knee_mill())
    assert result.pairs[0].in_words().text() == "Y above +50 mm while W above +40 mm"
    assert result.pairs[0].in_words().text("in") == "Y above +1.969 in while W above +1.575 in"
    # Giving up 30 of Y's 160 (0.1875) costs less than 60 of W's 200 (0.3).
    assert result.kept == {"W": (-100, 100), "Y": (-80, 50)}


def test_weights_and_least_travels_decide_which_axis_gives_way():
    assert keep_travel(knee_mill(weights=(0.1, 1.0))).kept == {"W": (-100, 40), "Y": (-80, 80)}
    assert keep_travel(knee_mill(minimum=140)).kept == {"W": (-100, 40), "Y": (-80, 80)}


def test_least_travels_that_cannot_be_had_are_told():
    envelope = saddle_and_column(minimum_mm=150)
    result = keep_travel(envelope)
    assert result.kept is None
    assert result.findings[0].code == "minimum-unreachable"
    (most,) = (a.id for a in envelope.axes if a.minimum_mm)
    assert result.findings[0].what.values["most"].mm == pytest.approx(most_kept(envelope, most))
    reachable = with_reachable_least(envelope)
    low, high = keep_travel(reachable).kept[most]
    assert high - low == pytest.approx(most_kept(envelope, most), abs=1e-5)


@given(wanted=st.tuples(st.floats(0, 160), st.floats(0, 200)))
def test_what_is_told_to_be_the_most_can_be_kept_and_no_more(wanted):
    y, w = wanted
    mill = knee_mill()
    mill = replace(mill, axes=tuple(replace(a, minimum_mm={"Y": y, "W": w}[a.id]) for a in mill.axes))
    result = keep_travel(mill)
    for found in result.findings if result.kept is None else ():
        axis, most = found.what.values["axis"], found.what.values["most"].mm
        for least, there in ((most - 0.01, True), (most + 0.01, False)):
            other = tuple(replace(a, minimum_mm=least) if a.id == axis else a for a in mill.axes)
            assert (keep_travel(replace(mill, axes=other)).kept is not None) == there
    assert keep_travel(with_reachable_least(mill)).kept is not None


def knee_and_quill(reach):
    """A spindle on the quill (down is +Z) over a vice on the knee (up is +W), ``reach`` apart at home."""
    return Envelope(
        (Member("column"), Member("knee", "column", "W"), Member("quill", "column", "Z")),
        (EnvelopeAxis("W", "+z", 0, 200, weight=1.0), EnvelopeAxis("Z", "-z", 0, 100, weight=1.0)),
        (Box("vice", "knee", (-50, -50, 0), (50, 50, 80)), Box("nose", "quill", (-20, -20, 80 + reach), (20, 20, 400))),
    )


def test_two_axes_on_one_coordinate_share_their_sum():
    result = keep_travel(knee_and_quill(150))
    assert result.pairs[0].blocked == {"W+Z": (150, 300)}
    # A millimetre of Z is worth twice one of W, so Z is kept whole.
    assert result.kept["Z"] == pytest.approx((0, 100), abs=1e-9)
    assert result.kept["W"] == pytest.approx((0, 50), abs=1e-9)


def test_ties_go_to_the_larger_smallest_fraction():
    envelope = knee_and_quill(150)
    even = Envelope(
        envelope.members,
        (EnvelopeAxis("W", "+z", 0, 200, weight=2.0), EnvelopeAxis("Z", "-z", 0, 100, weight=1.0)),
        envelope.boxes,
    )
    kept = keep_travel(even).kept
    shares = kept["W"][1] / 200, kept["Z"][1] / 100
    assert shares == pytest.approx((0.5, 0.5), abs=1e-9)


def test_an_axis_that_keeps_nothing_is_told():
    envelope = Envelope(
        (Member("bed"), Member("slide", "bed", "X")),
        (EnvelopeAxis("X", "-x", 0, 10),),
        (Box("wall", "bed", (-5, 0, 0), (0, 1, 1)), Box("slide", "slide", (0, 0, 0), (5, 1, 1))),
    )
    result = keep_travel(envelope)
    assert result.kept == {"X": (0, 0)}
    assert [f.code for f in result.findings] == ["axis-lost"]


def test_poses_are_checked_besides_each_other_and_not_against_each_other():
    head = Box("head", "base", (-60, 100, 300), (60, 200, 500))
    tilted = tilted_box(head, "y", -45, (0, 150, 300), "right")
    assert (tilted.min_mm[0], tilted.max_mm[0]) == pytest.approx((-60 * math.sqrt(0.5), 260 * math.sqrt(0.5)))
    assert (tilted.min_mm[1], tilted.max_mm[1]) == (100, 200)
    table = Box("table end", "table", (300, 100, 250), (400, 200, 320))
    envelope = Envelope(
        (Member("base"), Member("table", "base", "X")),
        (EnvelopeAxis("X", "-x", -300, 300),),
        (Box("head", "base", head.min_mm, head.max_mm, "upright"), tilted, table),
    )
    names = {(m.a.pose, m.b.name) for m in meetings(envelope)}
    assert names == {("upright", "table end"), ("right", "table end")}
    upright = keep_travel(Envelope(envelope.members, envelope.axes, (envelope.boxes[0], table))).kept["X"]
    both = keep_travel(envelope).kept["X"]
    assert upright == (-300, 240)
    assert both[1] == pytest.approx(300 - tilted.max_mm[0], abs=1e-9)


@pytest.mark.parametrize(
    ("members", "axes", "boxes", "part"),
    [
        ((Member("a", "b"),), (), (), "not there"),
        ((Member("a", "b"), Member("b", "a")), (), (), "circle"),
        ((Member("a"), Member("a")), (), (), "two member"),
        ((Member("a"), Member("b", "a", "Q")), (), (), "not an axis"),
        ((Member("a"),), (), (Box("x", "b", (0, 0, 0), (1, 1, 1)),), "not a member"),
    ],
)
def test_machines_that_are_none_are_refused(members, axes, boxes, part):
    with pytest.raises(BadInputError, match=part):
        Envelope(members, axes, boxes)


def test_an_axis_at_an_angle_is_refused():
    with pytest.raises(BadInputError, match="at an angle"):
        EnvelopeAxis("C", "+u", 0, 10)


def test_the_bumper_closes_the_gap_at_the_stop_at_every_knee_height():
    envelope = knee_mill()
    ranges = keep_travel(envelope).kept
    saddle = Box("saddle", "saddle", (-100, 0, 100), (100, 200, 160))
    column = Box("column", "column", (-100, 300, -100), (100, 400, 500))
    bumper = plan_bumper(envelope, saddle, column, "Y", ranges, high=True)
    assert (bumper.length_mm, bumper.stop_mm) == (50, 50)
    assert bumper.lands_mm == {"x": (-100, 100), "z": (100, 160)}
    short = Box("column", "column", (-100, 300, 120), (100, 400, 240))
    assert not plan_bumper(envelope, saddle, short, "Y", ranges, high=True).lands


@pytest.mark.parametrize("seed", range(12))
@pytest.mark.parametrize("high", [True, False])
@pytest.mark.parametrize("way", ["+y", "-y"])
def test_a_pillar_at_either_end_fills_the_gap_at_the_stop_and_always_lands(way, high, seed):
    """Driven to its stop the pillar just touches, facing metal wherever the knee stands, and clear of the reader."""
    chance = random.Random(seed)
    members = (Member("column"), Member("knee", "column", "W"), Member("saddle", "knee", "Y"))
    axes = (EnvelopeAxis("W", chance.choice(("+z", "-z")), -50, 50), EnvelopeAxis("Y", way, -80, 80, home_mm=0))
    envelope = Envelope(members, axes, ())
    toward = (1 if way == "+y" else -1) * (1 if high else -1)
    front = 200 * toward
    saddle = Box("saddle", "saddle", (-150, min(0, front), 100), (150, max(0, front), 180), own=True)
    start = front + toward * chance.uniform(90, 200)
    wall = sorted((start, start + 100 * toward))
    column = Box("column", "column", (-100, wall[0], -200), (100, wall[1], 500), own=True)
    deep = sorted((front + 3 * toward, front + 40 * toward))
    reader = Box("reader", "saddle", (-40, deep[0], 150), (40, deep[1], 190), group="X scale")
    ranges = {"W": (-50, 50), "Y": (-chance.uniform(20, 80), chance.uniform(20, 80))}
    bumper = plan_bumper(envelope, saddle, column, "Y", ranges, high=high, clear_of=[reader])
    moved = envelope.offset("saddle", {"W": 0, "Y": bumper.stop_mm})[1]
    assert bumper.stop_mm == ranges["Y"][1 if high else 0]
    assert front + moved + toward * bumper.length_mm == pytest.approx(start)
    assert bumper.avoided == ("reader",)
    (left, right), (low, top) = bumper.lands_mm["x"], bumper.lands_mm["z"]
    assert -100 <= left < right <= 100
    assert 100 <= low < top <= 150


def test_a_bumper_stands_below_the_reader_in_line_with_what_it_meets():
    envelope = Envelope(
        (
            Member("column"),
            Member("knee", "column", "W"),
            Member("saddle", "knee", "Y"),
            Member("table", "saddle", "X"),
        ),
        (
            EnvelopeAxis("W", "+z", -50, 50),
            EnvelopeAxis("Y", "+y", -80, 80, home_mm=0),
            EnvelopeAxis("X", "+x", -200, 200),
        ),
        (),
    )
    saddle = Box("saddle", "saddle", (-150, 0, 100), (150, 200, 180), own=True)
    column = Box("column", "column", (-100, 300, -200), (100, 400, 500), own=True)
    reader = Box("X scale reader", "saddle", (-40, 203, 150), (40, 240, 190), group="X scale")
    body = Box("X scale body", "table", (-400, 180, 170), (400, 230, 220), group="X scale")
    ranges = {"W": (-50, 50), "Y": (-80, 50), "X": (-200, 200)}
    bumper = plan_bumper(envelope, saddle, column, "Y", ranges, high=True, clear_of=[reader, body])
    # The body runs past over the whole of X, so nothing above 170 is free; the reader leaves what is below 150.
    assert bumper.lands_mm == {"x": (-100, 100), "z": (100, 150)}
    assert bumper.avoided == ("X scale body", "X scale reader")
    told = bumper_finding(bumper, saddle, column, "place of W").remedy.text()
    assert "30 mm to 80 mm below its top" in told
    assert "50 mm to 250 mm from its left edge" in told
    assert "It lands at every place of W." in told
    low = Box("X scale reader", "saddle", (-140, 203, 95), (140, 240, 190), group="X scale")
    assert not plan_bumper(envelope, saddle, column, "Y", ranges, high=True, clear_of=[low, body]).lands


def lathe(**more):
    members = (
        Member("bed"), Member("carriage", "bed", "Z"), Member("tailstock", "bed", "tailstock"),
    )  # fmt: skip
    axes = (EnvelopeAxis("Z", "+x", -100, 100), EnvelopeAxis("tailstock", "+x", -200, 0, 0, 0, by_hand=True))
    boxes = (
        Box("tail", "tailstock", (130, -20, 0), (180, 20, 60), own=True),
        Box("carriage", "carriage", (-25, -40, 0), (25, 40, 30), own=True),
        Box("reader", "carriage", (25, -10, 10), (45, 10, 30), group="X scale"),
        Box("guard", "bed", (-300, 50, 0), (300, 55, 100)),
    )
    return Envelope(members, axes, (*boxes, *more.get("boxes", ())), minded=more.get("minded", frozenset()))


def test_what_is_slid_by_hand_costs_no_travel_and_is_told():
    envelope = lathe()
    result = keep_travel(envelope)
    assert result.kept == {"Z": (-100, 100), "tailstock": (-200, 0)}
    (met,) = aside_meetings(envelope)
    assert met.in_words().text() == "Z above +85 mm"  # 130 − 45


def test_a_part_on_what_is_slid_by_hand_is_compared_with_what_stands_still():
    through = Box("T scale body", "tailstock", (140, 40, 20), (170, 60, 40), group="T scale")
    ((a, b, deep),) = overlaps(lathe(boxes=(through,)))
    assert {a.name, b.name} == {"guard", "T scale body"}
    assert deep == 5


def test_fixed_overlaps_are_told_unless_both_are_the_machines_own():
    inside = Box("X power feed", "carriage", (-90, 0, 0), (-15, 20, 20), group="X power feed")
    own = Box("apron", "carriage", (-30, -45, -50), (20, 45, 5), own=True)
    found = {(a.name, b.name): deep for a, b, deep in overlaps(lathe(boxes=(inside, own)))}
    assert found == {("carriage", "X power feed"): 10, ("X power feed", "apron"): 5}


def test_pairs_kept_apart_at_work_cost_nothing_and_are_compared():
    minded = lathe(minded=frozenset({frozenset({"carriage", "bed"})}), boxes=(
        Box("chuck", "bed", (-160, -30, 0), (-110, 30, 90), own=True),
        Box("Z scale body", "bed", (-60, 30, 10), (60, 60, 25), group="Z scale"),
    ))  # fmt: skip
    assert keep_travel(minded).kept["Z"] == (-100, 100)
    assert {(m.a.name, m.b.name) for m in minded_meetings(minded)} == {("carriage", "Z scale body")}
    assert {m.b.name for m, why in unchecked(minded)} == {"chuck"}


# Brute force on integer machines: every end an integer, so the best ends are integers too where no two axes share one
# coordinate.


def boxes_on(draw, members, count):
    made = []
    for n in range(count):
        low = [draw(st.integers(-12, 10)) for _ in range(3)]
        size = [draw(st.integers(1, 8)) for _ in range(3)]
        high = [a + b for a, b in zip(low, size, strict=True)]
        made.append(Box(f"b{n}", draw(st.sampled_from(members)), tuple(map(float, low)), tuple(map(float, high))))
    return tuple(made)


@st.composite
def machines(draw, directions=("x", "y", "z")):
    axes = tuple(
        EnvelopeAxis(
            f"A{n}",
            draw(st.sampled_from("+-")) + c,
            float(-draw(st.integers(0, 3))),
            float(draw(st.integers(1, 3))),
            weight=draw(st.sampled_from([0.5, 1.0, 2.0])),
        )
        for n, c in enumerate(directions)
    )
    members = [Member("base")]
    for axis in axes:
        members.append(Member(f"m{axis.id}", draw(st.sampled_from([m.id for m in members])), axis.id))
    boxes = boxes_on(draw, [m.id for m in members], draw(st.integers(12, 14)))
    boxes = tuple(replace(b, own=draw(st.booleans())) for b in boxes)
    names = st.sampled_from([b.name for b in boxes])
    exempt = {frozenset(draw(st.tuples(names, names))): "they slide" for _ in range(draw(st.integers(0, 6)))}
    slid = draw(st.sampled_from(["", *(m.id for m in members[1:])]))
    axes = tuple(replace(a, by_hand=f"m{a.id}" == slid, weight=0.0 if f"m{a.id}" == slid else a.weight) for a in axes)
    return Envelope(tuple(members), axes, boxes, exempt=exempt)


def best_by_brute_force(envelope):
    """The greatest score over every product of integer intervals round home, each checked point by point."""
    free = {}
    spans = [range(int(a.from_mm), int(a.to_mm) + 1) for a in envelope.axes]
    pairs = list(compared(envelope))
    # Between integer positions of integer boxes nothing changes but at half steps, so those are looked at too.
    fine = [[n / 2 for n in range(2 * s.start, 2 * (s.stop - 1) + 1)] for s in spans]
    for at in itertools.product(*fine):
        where = {a.id: v for a, v in zip(envelope.axes, at, strict=True)}
        free[at] = not any(overlap(envelope, a, b, where) for a, b in pairs)
    best = -1.0
    options = [[(low, high) for low in s if low <= 0 for high in s if high >= 0] for s in spans]
    for choice in itertools.product(*options):
        inside = itertools.product(*[[v for v in f if lo <= v <= hi] for f, (lo, hi) in zip(fine, choice, strict=True)])
        score = sum(a.weight * (hi - lo) / a.travel_mm for a, (lo, hi) in zip(envelope.axes, choice, strict=True))
        if score > best + 1e-12 and all(free[at] for at in inside):
            best = score
    return best


def compared(envelope):
    """Every pair that cranks alone keep apart, told independently: all but two own ones that are exempt."""
    on = {m.id: (m.on, m.axis) for m in envelope.members}
    by_hand = {a.id for a in envelope.axes if a.by_hand}

    def axes_below(member):
        found = set()
        while member is not None:
            member, axis = on[member]
            found |= {axis} - {None}
        return found

    for a, b in itertools.combinations(envelope.boxes, 2):
        between = axes_below(a.member) ^ axes_below(b.member)
        exempt = a.own and b.own and frozenset((a.name, b.name)) in envelope.exempt
        if between and not exempt and not between & by_hand:
            yield a, b


def overlap(envelope, a, b, where):
    """Whether two boxes share volume with the axes at ``where``, by plain interval comparison."""
    p, q = envelope.offset(a.member, where), envelope.offset(b.member, where)
    return all(a.min_mm[c] + p[c] < b.max_mm[c] + q[c] and b.min_mm[c] + q[c] < a.max_mm[c] + p[c] for c in range(3))


@settings(max_examples=60)
@given(st.one_of(machines(), machines(directions=("z", "z", "x"))))
def test_the_solver_equals_brute_force(envelope):
    result = keep_travel(envelope)
    best = best_by_brute_force(envelope)
    if best < 0:
        assert result.kept is None
    else:
        assert result.score == pytest.approx(best, abs=1e-9)


@settings(max_examples=40)
@given(machines(directions=("x", "z", "z", "y")), st.randoms(use_true_random=False))
def test_what_is_kept_is_free_everywhere_and_more_is_not(envelope, chance):
    result = keep_travel(envelope)
    if result.kept is None:
        return
    assert (
        meetings(
            envelope, {k: (lo + 1e-9, hi - 1e-9) if hi - lo > 1e-8 else (lo, hi) for k, (lo, hi) in result.kept.items()}
        )
        == []
    )
    for _ in range(30):
        where = {k: chance.uniform(*span) for k, span in result.kept.items()}
        assert not any(overlap(envelope, m.a, m.b, where) for m in result.pairs)
    wider = {k: list(span) for k, span in result.kept.items()}
    for axis in envelope.axes:
        for end, limit in ((0, axis.from_mm), (1, axis.to_mm)):
            step = 0.01 if end else -0.01
            if abs(result.kept[axis.id][end] - limit) > 0.011:
                grown = {k: tuple(v) for k, v in wider.items()}
                grown[axis.id] = (grown[axis.id][0] + step * (1 - end), grown[axis.id][1] + step * end)
                assert meetings(envelope, grown), f"{axis.id} could keep more"


def test_leasts_of_which_every_two_exclude_each_other_are_told():
    """A tool beside three boxes: without the third axis each is reachable, and any two of the others are not."""
    members = (Member("base"), Member("mX", "base", "X"), Member("mY", "mX", "Y"), Member("mW", "mY", "W"))
    least = (("X", "+x", 60.0), ("Y", "+y", 60.0), ("W", "+z", 100.0))
    axes = tuple(EnvelopeAxis(a, d, 0, 100, minimum_mm=mm) for a, d, mm in least)
    stands = [Box(f"box {n}", "base", low, (500, 500, 500)) for n, low in enumerate(
        ((-500, 19, 84), (44, 56, -500), (41, -500, 62)))]  # fmt: skip
    wanted = Envelope(members, axes, (Box("tool", "mW", (0, 0, 0), (10, 10, 10)), *stands))
    for n, axis in enumerate(axes):
        alone = tuple(a if m == n else replace(a, minimum_mm=0.0) for m, a in enumerate(axes))
        assert keep_travel(replace(wanted, axes=alone)).kept is not None, axis.id
    result = keep_travel(wanted)
    assert result.kept is None
    assert [f.what.text() for f in result.findings] == ["X, Y, W can't all keep the least that is wanted of them."]
    assert keep_travel(with_reachable_least(wanted)).kept is not None


@settings(max_examples=60)
@given(machines(directions=("x", "z", "z", "y")), st.randoms(use_true_random=False))
def test_rows_of_boxes_meet_as_their_pairs_do_one_by_one(envelope, chance):
    posed = tuple(
        replace(b, pose=chance.choice(("", "upright", "left")), group=chance.choice(("", "", "g", "h")))
        for b in envelope.boxes
    )
    envelope = replace(envelope, boxes=posed, clearance_mm=chance.choice((0.0, 0.5)))
    ranges = {k: tuple(sorted(chance.uniform(*span) for _ in range(2))) for k, span in envelope.full.items()}

    def pair_meets(a, b):
        moves = envelope.driven(envelope.moves(a.member, b.member))
        spans = [moves.span(c, ranges) for c in range(3)]
        bounds = pair_bounds(a, b, envelope.clearance_mm)
        there = not a.pose or not b.pose or a.pose == b.pose
        runs = bool(a.group) and a.group == b.group
        touch = all(low < top and least < high for (low, high), (least, top) in zip(bounds, spans, strict=True))
        return a.member != b.member and there and not runs and touch

    one_by_one = [(a.name, b.name) for a, b in compared(envelope) if pair_meets(a, b)]
    assert [(m.a.name, m.b.name) for m in meetings(envelope, ranges)] == one_by_one
