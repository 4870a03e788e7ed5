import re
from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from vernus.core.errors import BadInputError
from vernus.job.catalog.new_job import new_job_entities
from vernus.job.catalog.shipped import machine_kinds
from vernus.job.document import Job
from vernus.job.entities import ENTITY_TYPES, Axis, JobInfo, LogEntry, TravelSurvey
from vernus.job.errors import JobContentError
from vernus.job.fields import LengthEntry, Quantity, complaints, quantities


def state(job):
    return {e.id: e.model_copy(update={"created": "", "changed": ""}) for e in job.entities()}


def fresh():
    return Job(new_job_entities("x", "lathe-mid"), clock=lambda: datetime(2026, 1, 1, tzinfo=UTC))


@given(st.lists(st.tuples(st.sampled_from("abcd"), st.booleans(), st.text(max_size=5)), max_size=20))
def test_undo_and_redo_go_back_and_forth_exactly(edits):
    job = fresh()
    states = [state(job)]
    for name, drop, text in edits:
        before = len(states)
        job.apply("edit", [] if drop else [LogEntry(id=name, text=text)], [name] if drop else [])
        if job.history.next_undo and state(job) != states[-1]:
            states.append(state(job))
        elif len(states) == before:
            continue
    seen = [state(job)]
    while job.history.next_undo:
        job.undo()
        seen.append(state(job))
    assert seen[-1] == states[0]
    while job.history.next_redo:
        job.redo()
    assert state(job) == seen[0]


def test_a_new_edit_forgets_what_was_undone():
    job = fresh()
    job.apply("one", [LogEntry(id="one")])
    assert job.undo() == "one"
    job.apply("two", [LogEntry(id="two")])
    assert job.redo() is None
    assert job.get("one") is None


def test_the_history_is_bounded():
    job = fresh()
    for n in range(700):
        job.apply("edit", [LogEntry(id="one", text=str(n))])
    undone = 0
    while job.undo():
        undone += 1
    assert undone == 500


def test_creation_order_survives_a_clock_that_stands_still():
    job = fresh()
    job.apply("three at once", [LogEntry(id=i) for i in ("z", "a", "m")])
    assert [e.id for e in job.all(LogEntry)] == ["z", "a", "m"]


@pytest.mark.parametrize("kind", machine_kinds(), ids=lambda k: k.id)
def test_every_listed_machine_kind_starts_a_job(kind):
    job = Job(new_job_entities("x", kind.id))
    assert [a.name for a in job.axes()] == [a.name for a in kind.axes]


def test_an_unknown_machine_kind_is_refused():
    with pytest.raises(BadInputError, match="mini-mill"):
        new_job_entities("x", "spaceship")


def test_a_value_out_of_range_is_kept_marked_and_explained():
    axis = Axis(id="x", machine_id="m", name="X", give_up_low=LengthEntry.read("-3"))
    assert axis.give_up_low.mm == -3
    ((field, words),) = complaints(axis)
    text = words.text()
    assert field == "give_up_low"
    assert "at least 0" in text
    survey = TravelSurvey(id="s", axis_id="x", division=LengthEntry(mm=0), readings=(LengthEntry.read("-1"),))
    assert {f for f, _ in complaints(survey)} == {"division", "readings"}


def test_entities_refuse_what_they_do_not_know():
    with pytest.raises(ValidationError):
        LogEntry(id="x", colour="red")
    with pytest.raises(ValidationError):
        LengthEntry(mm=float("nan"))
    with pytest.raises(JobContentError, match="What happened"):
        LogEntry(id="x").with_(text=5)
    with pytest.raises(JobContentError, match="201 characters; at most 200 fit"):
        JobInfo(id="x").with_(title="x" * 201)


@pytest.mark.parametrize("model", ENTITY_TYPES.values(), ids=lambda m: m.__name__)
def test_every_declared_field_has_a_label_of_its_own(model):
    declared = quantities(model)
    assert all(isinstance(q, Quantity) and q.label for q in declared.values())
    assert len({q.label for q in declared.values()}) == len(declared)


@pytest.mark.parametrize(
    ("text", "unit", "shown_in", "expected"),
    [
        ("9 1/4", "in", "in", "9 1/4"),
        ("9 1/4", "in", "mm", "234.95"),
        ("262", "mm", "mm", "262"),
        ("262", "mm", "in", "10.315"),
        ("3", "thou", "thou", "3"),
        ("0.05", "mm", "thou", "2"),
        ("12 µm", "mm", "mm", "12 µm"),
    ],
)
def test_what_was_typed_is_shown_as_typed_in_its_own_system(text, unit, shown_in, expected):
    assert LengthEntry.read(text, unit).shown(shown_in) == expected


@pytest.mark.parametrize("model", ENTITY_TYPES.values(), ids=ENTITY_TYPES.keys())
def test_what_is_not_possible_is_told_in_the_units_of_the_job(model):
    for quantity in quantities(model).values():
        if quantity.kind in ("length", "fine") and quantity.low is not None:
            told = quantity.complaint(quantity.low - 12.7)
            assert told is not None
            assert "mm" not in told.text("in")
            assert re.search(r"\d (?:in|thou)\b", told.text("in").replace("\xa0", " "))
            assert "mm" in told.text("mm")
