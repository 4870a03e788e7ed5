"""The lessons: who follows the advice passes every one, a beginner does measurably worse; a try is kept as it is left.

``python -m tests.bench.test_practice 200`` prints both over more seeds, as ``make soak`` does.
"""

import statistics
import sys

import pytest
from platformdirs import user_data_path

from vernus.bench.practice.attempt import Attempt, went_another_way
from vernus.bench.practice.grips import InHand, grips_of, known_facts
from vernus.bench.practice.lessons import FREE_PLAY, LESSONS, lesson_by_id
from vernus.bench.practice.players import PLAYERS
from vernus.bench.practice.progress import (
    Best,
    best_of,
    keep_best,
    keep_end,
    keep_try,
    last_lesson,
    left_try,
    streak_of,
)
from vernus.bench.practice.sheet_job import practice_entities, practice_title
from vernus.bench.practice.world import Hidden
from vernus.core.errors import BadInputError
from vernus.job.document import Job
from vernus.job.review.review import review_job

ALL = (*LESSONS, FREE_PLAY)


def played(lesson, seeds, player):
    """(good ones, median minutes) of a player over seeds, in millimetres and inches by turns."""
    good, minutes = 0, []
    for seed in seeds:
        world = lesson.world(seed, inch=seed % 2 == 1)
        answer = PLAYERS[lesson.id][player](world)
        good += lesson.judge(world, answer).good and not lesson.evidence(world)
        minutes.append(world.minutes)
    return good, statistics.median(minutes)


@pytest.mark.parametrize("lesson", ALL, ids=lambda one: one.id)
def test_the_adviser_passes_on_every_machine_and_a_beginner_on_far_fewer(lesson):
    seeds = range(20)
    advised, _ = played(lesson, seeds, 0)
    naive, _ = played(lesson, seeds, 1)
    assert advised == len(seeds)
    assert naive <= 0.1 * len(seeds)


@pytest.mark.parametrize("lesson", ALL, ids=lambda one: one.id)
def test_a_guess_is_no_verdict(lesson):
    """Whatever is guessed, without having read anything it isn't accepted, and says what is to be read."""
    for seed in range(20):
        guess = {"length": 0.1, "counts": 200.0, "choice": lesson.choices[0][0] if lesson.choices else None}
        with pytest.raises(BadInputError) as caught:
            Attempt(lesson, seed).end(guess.get(lesson.asked))
        assert len(str(caught.value)) > 20


def test_one_cold_move_does_not_tell_temperature_from_the_rest():
    """The shift is of the size that a block from the drawer makes by itself."""
    lesson, right = lesson_by_id("warmth"), 0
    for seed in range(200):
        world = lesson.world(seed)
        off = abs(world.do("move", world.hidden.bar).value / world.hidden.bar - 1) * 1e6
        right += ("other" if off > 90 else "temperature") == ("other" if world.hidden.shifted_ppm else "temperature")
    assert right < 170


def test_a_hand_between_gears_that_are_not_locked_off_ends_it():
    attempt = Attempt(lesson_by_id("mesh"), 3)
    attempt.do("rock")
    attempt.do("listen")
    trace = attempt.end(None)
    assert not trace.outcome.good
    assert "locked off" in trace.outcome.truth.text()


def test_a_row_of_machines_is_counted_and_broken_by_one_that_is_not_good():
    assert [keep_end("held", seed, good=True) for seed in (1, 2, 2, 3)] == [1, 2, 2, 3]
    assert streak_of("held") == 3
    assert keep_end("held", 4, good=False) == streak_of("held") == 0


def test_the_end_says_where_it_went_another_way_and_why():
    attempt = Attempt(lesson_by_id("held"), 2)
    world = attempt.world
    for at in (20.0, 80.0, 140.0, 200.0, 230.0):
        attempt.do("crank", at)
        attempt.do("read")
    assert world.deeds
    told = went_another_way(attempt.end(None), attempt.adviser())
    assert told.startswith("Here it went another way, step 1: the adviser pressed with a thumb (you: cranked)")


@pytest.mark.parametrize("lesson", ALL, ids=lambda one: one.id)
def test_players_use_only_what_a_learner_is_offered(lesson):
    for player in PLAYERS[lesson.id]:
        world = lesson.world(3)
        player(world)
        offered = set(lesson.grips) | ({"press"} if lesson.scene == "body" else set())
        assert {name for name, _ in world.deeds} <= offered


@pytest.mark.parametrize("lesson", ALL, ids=lambda one: one.id)
def test_every_thing_can_be_gripped_and_answers_or_is_refused_in_words(lesson):
    attempt, hand = Attempt(lesson, 5), InHand()
    grips = grips_of(attempt, hand)
    assert len({g.id for g in grips}) == len(grips)
    assert all(g.turn_words or g.act_words or g.type_words for g in grips)
    assert [f.text("in") for f in known_facts(lesson, attempt)] or lesson.id == "travel"
    for grip in grips:
        for steps, fine in ((1, False), (-1, True)):
            grip.turned(steps, fine)
        try:
            grip.acted()
        except BadInputError as error:
            assert str(error)
        try:
            grip.typed(1.0)
        except BadInputError as error:
            assert str(error)
        shown = grip.shows()
        assert shown is None or shown.text("in")
    assert attempt.minutes > 0


def test_a_try_left_in_the_middle_comes_back_as_it_was():
    attempt = Attempt(lesson_by_id("held"), 11)
    for deed in (("crank", 50.0), ("read",), ("loosen", "right"), ("turn", "right", 0.1)):
        attempt.do(*deed)
    attempt.take_hint()
    keep_try(attempt)
    again = left_try("held")
    assert (again.world.heights, again.minutes, again.hints, again.ended) == (
        attempt.world.heights, attempt.minutes, 1, False,
    )  # fmt: skip
    assert again.do("read") == attempt.do("read"), "and the next reading is the same one"
    assert last_lesson() == "held"


def test_hints_cost_and_run_out():
    attempt = Attempt(lesson_by_id("gap"), 1)
    said = [attempt.take_hint() for _ in range(4)]
    assert len(set(said)) == 4
    assert "no more hints" in said[-1]
    assert attempt.minutes == 9.0


def test_an_ended_try_is_judged_by_the_truth_and_nothing_more_can_be_done():
    attempt = Attempt(lesson_by_id("travel"), 4)
    with pytest.raises(BadInputError, match="Say your figure"):
        attempt.end(None)
    with pytest.raises(BadInputError, match="Read the rule"):
        attempt.end(400.0)
    for _ in range(3):
        attempt.do("rule", "square")
    trace = attempt.end(attempt.world.hidden.travel + 3.0)
    assert not trace.outcome.good
    assert "off by 3.000 mm" in trace.outcome.truth.text("mm")
    assert " in" in trace.outcome.truth.text("in")
    with pytest.raises(BadInputError, match="ended"):
        attempt.do("rule", "square")
    assert Attempt.from_json(attempt.as_json()).ended


def test_what_is_not_offered_is_refused():
    with pytest.raises(BadInputError, match="no part of this lesson"):
        Attempt(lesson_by_id("travel"), 4).do("display")


@pytest.mark.parametrize(
    "data",
    [None, 7, {}, {"lesson": "none"}, {"lesson": "gap", "seed": "x"},
     {"lesson": "gap", "seed": 1, "inch": False, "hints": 99, "deeds": [], "ended": False, "answer": None},
     {"lesson": "gap", "seed": 1, "inch": False, "hints": 0, "deeds": [["fly"]], "ended": False, "answer": None}],
)  # fmt: skip
def test_what_is_no_try_is_refused(data):
    with pytest.raises(BadInputError):
        Attempt.from_json(data)


def test_progress_that_cannot_be_read_counts_as_none_and_the_best_is_held_against_the_adviser():
    path = user_data_path("vernus") / "practice.json"
    path.parent.mkdir(parents=True)
    path.write_text('{"tries": [1], "best": 3, "last": 7}')
    assert (left_try("gap"), best_of("gap"), last_lesson()) == (None, None, "")
    assert keep_best("gap", Best(1, 40.0, 20.0))
    assert not keep_best("gap", Best(2, 30.0, 10.0)), "three times the adviser's is no better than twice"
    assert keep_best("gap", Best(3, 45.0, 40.0))
    assert best_of("gap").seed == 3


def test_the_adviser_is_drawn_pass_by_pass_to_good():
    attempt = Attempt(lesson_by_id("held"), 2)
    trace = attempt.adviser()
    assert trace.outcome.good
    assert trace.passes >= 1
    assert trace.off[0] > 0
    assert trace.off[-1] == 0
    assert len(trace.minutes) == trace.passes + 2


@pytest.mark.parametrize("units", ["mm", "in"])
@pytest.mark.parametrize("lesson", ALL, ids=lambda one: one.id)
def test_the_job_beside_a_lesson_is_sound_and_knows_only_what_can_be_seen(lesson, units):
    attempt = Attempt(lesson, 6, inch=units == "in")
    job = Job(practice_entities(attempt, units))
    assert job.info.title == practice_title(attempt)
    assert isinstance(review_job(job), list)
    text = "".join(e.model_dump_json() for e in job.entities())
    hidden = attempt.world.hidden
    for name in ("tilt", "lost_motion", "rock", "run_on", "backlash_gear", "scale_ppm", "sag"):
        secret = getattr(hidden, name)
        assert secret == getattr(Hidden(), name) or str(secret) not in text


def main(count):
    for lesson in ALL:
        (advised, minutes), (naive, short) = (played(lesson, range(count), player) for player in (0, 1))
        advised_said, naive_said = f"{advised} in {minutes:.0f} min", f"{naive} in {short:.0f} min"
        print(f"{lesson.id:9} of {count}: adviser {advised_said}, beginner {naive_said}")  # noqa: T201
        assert advised == count, lesson.id


if __name__ == "__main__":
    main(int(sys.argv[1]))
