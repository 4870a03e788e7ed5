"""Hidden lines against brute-force ray casting, and the order in which solids are painted."""

import random

import numpy as np
import pytest

from vernus.core.errors import BadInputError
from vernus.core.machine.hidden import Mark, View, back_to_front, visible_lines
from vernus.core.machine.solids import box_solid, disc_solid, prism_solid


def solids(seed, count=14):
    chance = random.Random(seed)
    made = []
    for _ in range(count):
        low = [chance.uniform(0, 300) for _ in range(3)]
        high = [v + chance.uniform(10, 120) for v in low]
        round_ = chance.random() < 0.3
        made.append(disc_solid(tuple(low), tuple(high), chance.randrange(3)) if round_ else box_solid(low, high))
    return made, View(chance.uniform(0, 360), chance.uniform(-80, 80))


def cast(others, point, toward):
    """Whether a ray from the point to the viewer goes through another solid: half-space by half-space."""
    for solid in others:
        enters, leaves = 1e-6, np.inf
        for normal, offset in zip(solid.normals, solid.offsets, strict=True):
            rate, depth = normal @ toward, normal @ point - offset
            if rate > 0:
                leaves = min(leaves, -depth / rate)
            elif rate < 0:
                enters = max(enters, -depth / rate)
        if leaves > enters + 1e-3:
            return True
    return False


def seen(lines, number, flat):
    """Whether a visible line of a solid goes through a place on the picture."""
    for line in lines:
        if line.solid != number:
            continue
        a, b = np.array(line.start), np.array(line.end)
        along = b - a
        t = float(np.clip((flat - a) @ along / max(along @ along, 1e-12), 0, 1))
        if np.linalg.norm(a + t * along - flat) < 1e-4:
            return True
    return False


@pytest.mark.parametrize("seed", range(12))
def test_what_is_drawn_is_what_a_ray_to_the_viewer_does_not_hit(seed):
    made, view = solids(seed)
    lines, chance = visible_lines(made, view), random.Random(seed)
    for n, solid in enumerate(made):
        front = solid.normals @ view.toward > 0
        others = [s for k, s in enumerate(made) if k != n]
        for p, q, f, g in solid.edges:
            if not (front[f] or front[g]) or (f in solid.smooth and g in solid.smooth and front[f] == front[g]):
                continue
            t = chance.uniform(0.02, 0.98)
            point = solid.points[p] + t * (solid.points[q] - solid.points[p])
            near = [point + d * (solid.points[q] - solid.points[p]) for d in (-2e-3, 2e-3)]
            hits = {cast(others, at, view.toward) for at in (point, *near)}
            if len(hits) == 1:
                assert seen(lines, n, view.flat(point[None])[0][:2]) == (not hits.pop())


def test_a_box_alone_shows_nine_edges_and_its_outline_is_six():
    lines = visible_lines([box_solid((0, 0, 0), (10, 20, 30))], View(30, 30))
    assert (len(lines), sum(line.outline for line in lines)) == (9, 6)


def test_what_lies_behind_a_larger_box_is_gone():
    near, far = box_solid((0, -50, 0), (100, -10, 100)), box_solid((40, 10, 40), (60, 20, 60))
    assert {line.solid for line in visible_lines([near, far], View(-90, 0))} == {0}
    assert {line.solid for line in visible_lines([near, far], View(90, 0))} == {0, 1}


def test_a_disc_shows_its_rim_and_no_edges_round_it():
    disc = disc_solid((0, 0, 0), (100, 100, 20), 2)
    assert np.hypot(*(disc.points[:, :2] - 50).T) == pytest.approx(50)
    assert disc.points[:24, :2].mean(axis=0) == pytest.approx(50), "all the way round"
    lines = visible_lines([disc], View(20, 40))
    assert all(line.outline or min(line.start[1], line.end[1]) > -1e9 for line in lines)
    assert len(lines) < 2 * 24 + 4


def test_a_line_on_a_face_is_hidden_with_its_face():
    table = box_solid((0, 0, 0), (100, 50, 10))
    top = next(n for n, normal in enumerate(table.normals) if normal[2] > 0.9)
    slot = Mark(0, top, (0, 25, 10), (100, 25, 10))
    assert len(visible_lines([table], View(30, 30), [slot])) == 10
    assert len(visible_lines([table], View(30, -30), [slot])) == 9


@pytest.mark.parametrize("seed", range(20))
def test_nothing_is_painted_over_what_lies_in_front_of_it(seed):
    """Apart boxes: where two overlap on the picture, the one whose ray hits the other is painted first."""
    chance, made = random.Random(seed), []
    while len(made) < 30:
        low = np.array([chance.uniform(0, 400) for _ in range(3)])
        high = low + [chance.uniform(10, 90) for _ in range(3)]
        if all(np.any(low >= s.points.max(axis=0)) or np.any(high <= s.points.min(axis=0)) for s in made):
            made.append(box_solid(tuple(low), tuple(high)))
    view = View(chance.uniform(0, 360), chance.uniform(5, 80))
    order = back_to_front(made, view)
    assert sorted(order) == list(range(30))
    for n, solid in enumerate(made):
        middle = solid.points.mean(axis=0)
        for k, other in enumerate(made):
            if k != n and cast([other], middle + view.toward * 1e-3, view.toward):
                outside = any(np.any(v) for v in (middle < other.points.min(axis=0), middle > other.points.max(axis=0)))
                assert not outside or order.index(n) < order.index(k)


def test_a_prism_wants_three_corners_and_a_length():
    with pytest.raises(BadInputError):
        prism_solid([(0, 0), (1, 0)], 0, 1)
    with pytest.raises(BadInputError):
        prism_solid([(0, 0), (1, 0), (0, 1)], 1, 1)
    vee = prism_solid([(0, 0), (10, 0), (5, 5)], 0, 100, along=0)
    assert vee.normals @ np.array([1.0, 0, 0]) == pytest.approx([-1, 1, 0, 0, 0])
