"""The laws of the design over random jobs: random edits on every kind of entity, then everything the job says.

``python -m tests.job.test_laws N [FIRST]`` tries more seeds, as ``make soak`` does.
"""

import json
import os
import re
import sys
from datetime import date

import pytest

from tests.job.random_jobs import RandomJob
from vernus.core.errors import BadInputError
from vernus.core.finding import Mm
from vernus.core.machine.stroke import ENDS
from vernus.job.align.passes import passes, result_in_job
from vernus.job.document import Job
from vernus.job.entities import TARGETS, CalibrationRun, FeelRecord, MountPart, PositioningRun
from vernus.job.feed.feed import feed_result
from vernus.job.keep.lists import buying_list
from vernus.job.known.axis_figures import feed_of
from vernus.job.known.lengths import family_of, measuring_length, reader_follows, reader_length, spare
from vernus.job.machine.geometry import axis_key
from vernus.job.machine.stroke import stop_margins, stroke_of
from vernus.job.make.mounts import mount_result
from vernus.job.make.parts import holes_of
from vernus.job.plan.places import place_on_face
from vernus.job.plan.scale import scale_result
from vernus.job.plan.travel_left import envelope_result
from vernus.job.prove.calibrate.result import calibration_result
from vernus.job.prove.feel import feel_result
from vernus.job.prove.positioning import positioning_result
from vernus.job.review.review import card_lines, review_axis, review_job
from vernus.job.review.sheet_reviews import SHEET_REVIEWS
from vernus.job.review.states import axes_as_json
from vernus.job.scope import axes_in_scope, in_scope, sheets_of

CONCLUDES = re.compile(r"^(Key|Leave|Proved|Connected|Nothing meets|Good:|All measured)\b|\bfinished\b|\bis set[.:;,]")
"""How conclusions are written: kept apart from the flag by which the code tells them."""


def said(job):
    """Everything a job says, as far as it must not depend on how it was opened: findings, states, stops."""
    found = sorted((at.axis, at.sheet, at.finding.code, at.finding.severity) for at in review_job(job))
    axes = axes_as_json(job)
    return found, {n: (a["states"], a["rests_on"], [(s["end"], s["why"]) for s in a["stops"]]) for n, a in axes.items()}


def results_of(job, axis):
    """(what, findings, instruction) of every result a sheet shows for an axis."""
    for sheet in sheets_of(axis):
        look = SHEET_REVIEWS[sheet](job, axis)
        yield sheet, look.findings, look.step
    yield "scale", scale_result(job, axis).findings, scale_result(job, axis).instruction
    for target, _ in TARGETS:
        for plane in ("face", "edge", "roll"):
            for sweep in passes(job, axis.id, plane, target):
                result = result_in_job(job, sweep)
                yield "pass", result.findings, result.instruction
    for run in job.of_axis(CalibrationRun, axis.id):
        yield "check", calibration_result(job, run).findings, calibration_result(job, run).instruction
    for run in job.of_axis(PositioningRun, axis.id):
        yield "run", positioning_result(job, axis, run).findings, positioning_result(job, axis, run).instruction
    for record in job.of_axis(FeelRecord, axis.id):
        yield "feel", feel_result(job, axis, record).findings, feel_result(job, axis, record).instruction
    feed = feed_of(job, axis)
    if feed is not None:
        result = feed_result(job, axis, feed)
        yield "feed", result.findings, result.instruction
        yield "stops", result.stops.findings, result.stops.instruction


def an_instruction_never_contradicts_an_open_finding(job):
    for axis in axes_in_scope(job):
        for what, findings, instruction in results_of(job, axis):
            serious = [f for f in findings if f.severity != "info"]
            words = instruction.text(job.info.units)
            told = (what, words, [f.code for f in serious])
            assert not (serious and instruction.concludes), told
            assert instruction.concludes or not CONCLUDES.search(words) or not serious, told


def every_fail_has_its_finding_and_its_mark(job):
    for axis in axes_in_scope(job):
        review = review_axis(job, axis)
        for sheet in sheets_of(axis):
            look = SHEET_REVIEWS[sheet](job, axis)
            if look.failed:
                assert look.findings, (sheet, "fails without a finding")
                assert review.states[sheet] in ("caution", "stop"), (sheet, review.states[sheet])
            for serious in {f.severity for f in look.findings} - {"info"}:
                assert review.states[sheet] in ({"stop"} if serious == "stop" else {"caution", "stop"})
            told = [at.finding for at in review.findings if at.sheet == sheet]
            assert all(f in told for f in look.findings)


def nothing_out_of_scope_is_named(job):
    gone = [a.name for a in job.axes() if not in_scope(a)]
    texts = [t for at in review_job(job) for t in (at.finding.what.text(), at.finding.remedy.text())]
    texts += [c.step.words for c in card_lines(job)] + [c.step.axis for c in card_lines(job)]
    texts += [t for i in buying_list(job) for t in (i.axis, i.what.text(), i.detail.text())]
    for axis in axes_in_scope(job):
        texts += [words.text() for _, _, words in results_of(job, axis)]
    for name in gone:
        named = [t for t in texts if re.search(rf"(?<![\w-]){name}(?![\w-])", t)]
        assert not named, (name, named[:2])
    known = {a.id for a in axes_in_scope(job)} | {""}
    assert {at.axis_id for at in review_job(job)} <= known


def lengths_that_differ_are_printed_so(job):
    for at in review_job(job):
        for system in ("mm", "in"):
            for sentence in (at.finding.what, at.finding.remedy):
                text = sentence.text(system)
                lengths = [v for v in sentence.values.values() if isinstance(v, Mm)]
                for a in lengths:
                    for b in lengths:
                        if a.mm > b.mm + 1e-4 and "{" not in text:
                            assert a.printed_mm(system, 4) > b.printed_mm(system, 4), text
    """The strings themselves are read back in tests/core/test_finding.py."""


def one_figure_has_one_source(job):
    for axis in axes_in_scope(job):
        measuring, result = measuring_length(job, axis), scale_result(job, axis)
        assert result.measuring_mm == (None if measuring is None else measuring.value)
        reader, family = reader_length(job, axis), family_of(job, axis)
        assert reader is None or family.reader_mm == reader.value
        lies = place_on_face(job, axis)
        for part in job.of_axis(MountPart, axis.id):
            for hole in holes_of(job, part):
                if hole.follows and not hole.x.text and lies is not None:
                    assert hole.x.mm == (lies.first_hole_mm if hole.follows == "first" else lies.last_hole_mm)
            mount_result(job, part)


def trips_come_before_stops_and_stops_before_scale_ends(job):
    for axis in axes_in_scope(job):
        line = stroke_of(job, axis)
        if line.stroke is None or line.stroke.trips_mm is None:
            continue
        codes = {f.code for f in line.findings}
        for n, (end, sign) in enumerate(zip(ENDS, (-1, 1), strict=True)):
            reached = line.stroke.trips_mm[n] + sign * line.run_on.value[n]
            assert sign * (reached - line.stroke.limit_mm(end)) <= 1e-9
            margin = line.stroke.ends_at_mm(end)
            assert margin is None or sign * (line.stroke.limit_mm(end) - margin) <= 1e-9
        assert line.stroke.trips_mm[0] < line.stroke.trips_mm[1] or "no-room-for-trips" in codes


def the_same_job_says_the_same(made):
    before = said(made.job)
    json.dumps(axes_as_json(made.job), allow_nan=False)
    assert said(Job(made.job.entities())) == before, "reopened"
    other = "in" if made.job.info.units == "mm" else "mm"
    made.job.apply("units", [made.job.info.with_(units=other)])
    assert said(made.job) == before, "in the other units"
    made.job.undo()
    made.edit()
    made.job.undo()
    assert said(made.job) == before, "after undo"
    for _ in range(3):
        made.edit()
        assert said(made.job) == said(Job(made.job.entities())), "kept from before an edit"


def what_is_lost_has_its_stop_and_what_has_a_stop_is_lost(job):
    try:
        result = envelope_result(job)
    except BadInputError:
        return
    if result.lost_mm is None:
        return
    stopped = {s.motion for s in result.stops if s.need.before_mark_mm > 1e-6}
    lines = {axis_key(job, a): stroke_of(job, a).stroke for a in job.axes()}
    nothing = {key for key, line in lines.items() if line is not None and line.kept_mm is None}  # all of it is lost
    assert set(result.lost_mm) == (stopped | nothing) & set(result.full), (result.lost_mm, stopped, nothing)
    assert result.verdict != "pass" or not (stopped | nothing)
    driven = {f.code for f in result.findings if f.severity != "info"} & {"scale-ends-first", "no-travel-left"}
    assert result.lost_mm or not driven, "all travel kept, and a finding against it"


def the_reader_set_as_told_stays_on_its_scale(job):
    """Bolted where the place says, and run from stop to stop as they stand, by positions and not by spares."""
    for axis in axes_in_scope(job):
        result, line = scale_result(job, axis), stroke_of(job, axis).stroke
        if result.placement is None or line is None or line.kept_mm is None or line.scale_mm is None:
            continue
        words = result.instruction.text(job.info.units)
        assert "mid travel" not in words
        if any(f.code == "driven-off-the-scale" for f in line.findings):
            assert any(f.severity == "stop" for f in result.findings)
            assert "Set the reader" not in words
            continue
        place, way = result.placement, 1 if reader_follows(job, axis) else -1
        for at, end in zip(line.kept_mm, ENDS, strict=True):
            reader = place.reader_at_mm + way * (at - place.axis_at_mm)
            assert reader == pytest.approx(place.reader_mm(at))
            head, margin = result.family.head_mm / 2, stop_margins(job, axis)[ENDS.index(end)]
            low, high = place.measuring_from_mm + head, place.measuring_to_mm - head
            room = reader - low if (end == "low") == (way > 0) else high - reader
            if spare(job, axis).source == "measured":  # two spares read may not make up the scale; that is told
                continue
            assert room >= margin - 1e-6, (axis.name, end, room, margin)
            assert place.spare_mm[ENDS.index(end)] == pytest.approx(room, abs=1e-6)


LAWS = (
    the_reader_set_as_told_stays_on_its_scale,
    an_instruction_never_contradicts_an_open_finding, every_fail_has_its_finding_and_its_mark,
    nothing_out_of_scope_is_named, lengths_that_differ_are_printed_so, one_figure_has_one_source,
    trips_come_before_stops_and_stops_before_scale_ends, what_is_lost_has_its_stop_and_what_has_a_stop_is_lost,
)  # fmt: skip


def hold(seed):
    made = RandomJob(seed)
    for law in LAWS:
        law(made.job)
    the_same_job_says_the_same(made)


TODAY = 10_000 + 10 * (date.today().toordinal() % 5000)
"""Other jobs every day; the seed of one that breaks is its test's name, and VERNUS_SEED repeats a day's."""
FIRST = int(os.environ.get("VERNUS_SEED", TODAY))


MANY = int(os.environ.get("VERNUS_HANDS", "50")) // 5


@pytest.mark.parametrize("seed", [*range(MANY), *range(FIRST, FIRST + MANY)])
def test_the_laws_hold_over_random_jobs(seed):
    hold(seed)


def what_is_supposed_says_the_same(made):
    """A job with some entities said otherwise takes over nothing that depends on them."""
    before = Job(made.job.entities())
    said(before)
    made.edit()
    if {e.id for e in before.entities()} <= {e.id for e in made.job.entities()}:
        changed = [e for e in made.job.entities() if before.get(e.id) != e]
        assert said(before.supposing(*changed)) == said(Job(made.job.entities()))


@pytest.mark.parametrize("seed", range(FIRST, FIRST + MANY // 2))
def test_what_is_supposed_says_what_a_job_of_its_own_says(seed):
    what_is_supposed_says_the_same(RandomJob(seed))


if __name__ == "__main__":
    many, first = int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1000
    broken = {}
    for n in range(first, first + many):
        try:
            hold(n)
        except Exception as error:  # noqa: BLE001 - a soak tells every seed that breaks, and why
            broken[n] = f"{type(error).__name__}: {str(error).splitlines()[0][:300] if str(error) else ''}"
    for n, why in broken.items():
        sys.stdout.write(f"seed {n}: {why}\n")
    sys.stdout.write(f"laws over random jobs: {many} jobs, {len(broken)} broken\n")
    sys.exit(bool(broken))
