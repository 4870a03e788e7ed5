"""Joints recomputed by trying every length on sale: none bottoms, all hold, and where none is said none serves."""

import math
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from vernus.core.errors import BadInputError
from vernus.core.make.hardware import MATERIALS, THREADS, thread_named
from vernus.core.make.joint import MADE_FOR_IT, Into, Joint, Layer, close_joint, close_with_washers, washer_mm
from vernus.core.make.screws import INCH_LENGTHS, METRIC_LENGTHS

# Diameters wanted and least: common practice, no source.
STEELS = ("steel", "tough-steel", "stainless")
WANTED = dict.fromkeys(STEELS, 1) | {"sheet": 1, "cast-iron": 1.5, "aluminium": 2, "brass": 1.5, "plastic": 2.5}
LEAST = dict.fromkeys(STEELS, 0.8) | {"sheet": 0.8, "cast-iron": 1, "aluminium": 1.25, "brass": 1, "plastic": 2}
EACH = 7
TINY = 1e-6


def a_joint(chance):
    """A random joint, what is wanted and least of it, and how far a screw may go beyond its grip."""
    thread = chance.choice(THREADS)
    layers = [Layer("part", chance.choice((3.0, 6.35, 8.0, 12.0, chance.uniform(1, 40))))]
    if chance.random() < 0.3:
        layers.insert(0, Layer("washer", chance.choice((0.8, 1.6, 2.5))))
    if chance.random() < 0.3:
        layers.append(Layer(chance.choice(("shim", "spacer", "slot")), chance.uniform(0.05, 10)))
    sunk = chance.choice((0.0, 0.0, min(layers[-1].thickness_mm, thread.major_mm)))
    kind = chance.choice(("hole", "reader", "through", "nut", "t-nut"))
    material = "steel" if kind in ("nut", "t-nut") else chance.choice(MATERIALS)
    deep, lip = chance.uniform(1, 4 * thread.major_mm), chance.uniform(5, 20)
    neck, head = lip - max(0.5, lip / 20) - chance.uniform(0, 2), chance.uniform(4, 12)
    slot = lip + head + chance.uniform(0.3, 3)
    into = Into("t-nut", None, lip, max(neck, 0.5), head, slot) if kind == "t-nut" else Into(kind, deep)
    d = thread.major_mm
    wanted, least = {"reader": (1, 1), "nut": (0.8, 0.8)}.get(kind, (WANTED[material], LEAST[material]))
    return Joint(thread, tuple(layers), into, material, sunk), wanted * d, least * d


def engaged(joint, length):
    """How much of a screw engages, and whether it goes too far."""
    into, grip = joint.into, sum(x.thickness_mm for x in joint.layers) - joint.counterbore_mm
    beyond = length - grip
    if into.kind == "nut":
        need = 0.8 * joint.thread.major_mm
        shank = length - (2 * joint.thread.major_mm + 12)
        return (need if beyond >= need + 2 * joint.thread.pitch_mm - TINY else 0.0), shank > grip + TINY
    if into.kind == "t-nut":
        held = min(beyond, into.lip_mm + into.nut_mm) - (into.lip_mm - into.neck_mm)
        return held, beyond > into.slot_mm - 1 + TINY
    if into.kind == "through":
        return min(beyond, into.thread_mm), False
    return beyond, beyond > into.thread_mm - max(1.5 * joint.thread.pitch_mm, 1.0) + TINY


@given(st.integers(0, 10**9))
def test_random_joints_hold_and_never_bottom(seed):
    chance = random.Random(seed)
    for _ in range(EACH):
        joint, wanted, least = a_joint(chance)
        sold = METRIC_LENGTHS if joint.thread.system == "metric" else [i * 25.4 for i in INCH_LENGTHS]
        serve = [(mm, e) for mm in sold for e, over in [engaged(joint, mm)] if not over and e >= least - TINY]
        inside = joint.grip_mm + (joint.into.thread_mm or 0) + TINY
        if joint.into.kind == "through" and any(mm <= inside for mm, _ in serve):
            serve = [(mm, e) for mm, e in serve if mm <= inside]
        closed = close_joint(joint)
        if closed.screw is None:
            assert not serve, (joint, serve)
            assert [f for f in closed.findings if f.severity == "stop" and f.remedy.text()]
            continue
        held, over = engaged(joint, closed.screw.length_mm)
        assert not over, joint
        assert held >= least - TINY
        assert closed.screw.engaged_mm == pytest.approx(held)
        enough = [mm for mm, e in serve if e >= wanted - TINY]
        if enough:
            assert closed.screw.length_mm == pytest.approx(min(enough))
        else:
            assert "short-engagement" in {f.code for f in closed.findings}


@given(st.integers(0, 10**9))
def test_washers_close_what_no_screw_closes_alone_and_nothing_else_changes(seed):
    chance = random.Random(seed)
    for _ in range(EACH):
        joint, *_ = a_joint(chance)
        bare, closed = close_joint(joint), close_with_washers(joint)
        if bare.screw is not None or closed.screw is None:
            assert closed == bare
            continue
        assert closed.screw.washers - joint.washers in (1, 2, 3)
        held, over = engaged(closed.joint, closed.screw.length_mm)
        assert held >= closed.joint.least_mm - TINY
        assert not over


def plate(thick, into, thread="M6", **more):
    return Joint(thread_named(thread), (Layer("part", thick),), into, **{"material": "cast-iron", **more})


@pytest.mark.parametrize(
    ("joint", "length"),
    [
        (plate(12, Into("hole", 8.9)), None),  # M6 × 25 would go 13 into 8.9 less 1.5, × 20 engage 8 of 7.4
        (plate(12, Into("hole", 14.6)), 25),
        (plate(5, Into("hole", 5), "M4", material="steel"), None),
        (plate(6, MADE_FOR_IT, "1/4-20"), 15.875),
        (plate(8, Into("reader", 6), "M4", material="aluminium"), 12),
        (plate(10, Into("nut"), "M6", material="steel"), 20),  # 10 + 4.8 + 2
    ],
)
def test_joints_with_known_answers(joint, length):
    closed = close_joint(joint)
    assert (closed.screw and closed.screw.length_mm) == (length and pytest.approx(length))


def test_what_would_close_it_is_said_in_the_order_of_harm():
    closed = close_joint(plate(12, Into("hole", 8.9)))
    assert "Put a washer or spacer of 0.6 mm under the head" in closed.findings[0].remedy.text()
    assert close_with_washers(plate(12, Into("hole", 8.9))).screw.in_words().text() == "M6 × 20 with a washer"
    closed = close_joint(plate(12, Into("hole", 5)))
    assert closed.findings[0].remedy.text().startswith("Make the thread deeper by 2.5 mm")


def test_an_unknown_depth_is_asked_and_no_screw_is_named():
    closed = close_joint(plate(12, Into("hole", None)))
    assert closed.screw is None
    assert [f.code for f in closed.findings] == ["thread-depth-unknown"]


def test_a_t_nut_whose_neck_is_as_high_as_the_lips_draws_nothing():
    for neck, fine in ((9.0, False), (8.6, False), (8.5, True)):
        closed = close_joint(plate(10, Into("t-nut", None, 9.0, neck, 6.0, 16.0), "M8", material="steel"))
        assert (closed.screw is not None) == fine
        assert ("neck-too-high" in {f.code for f in closed.findings}) != fine


def test_foam_in_a_screwed_joint_is_refused():
    joint = Joint(thread_named("M5"), (Layer("part", 5), Layer("foam", 1)), MADE_FOR_IT)
    assert [f.code for f in close_joint(joint).findings] == ["foam-in-joint"]


def test_heads_and_what_lies_over_them():
    m6 = plate(12, Into("hole", 30), over_head_mm=0.0)
    assert close_joint(m6).joint.head_proud_mm == 6
    assert "head-in-the-way" in {f.code for f in close_joint(m6).findings}
    sunk = plate(12, Into("hole", 30), over_head_mm=0.0, counterbore_mm=6.4)
    assert close_joint(sunk).findings == ()
    assert close_joint(sunk).joint.head_proud_mm == pytest.approx(-0.4)
    slot = Joint(thread_named("M6"), (Layer("slot", 10),), MADE_FOR_IT)
    assert "slot-wants-washer" in {f.code for f in close_joint(slot).findings}
    washed = Joint(thread_named("M6"), (Layer("washer", washer_mm(thread_named("M6"))), Layer("slot", 10)), MADE_FOR_IT)
    assert close_joint(washed).findings == ()


def test_impossible_joints_are_refused_with_the_reason():
    with pytest.raises(BadInputError, match="at least one layer"):
        Joint(thread_named("M5"), (), MADE_FOR_IT)
    with pytest.raises(BadInputError, match="goes through it"):
        plate(4, MADE_FOR_IT, counterbore_mm=6)
    with pytest.raises(BadInputError, match="less than nothing"):
        plate(-1, MADE_FOR_IT)
    assert math.isinf(MADE_FOR_IT.thread_mm)
