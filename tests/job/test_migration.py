"""Jobs of version 1 open, keep everything, and say once what was decided."""

import json
import shutil
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest

from vernus.job.document import Job
from vernus.job.entities import ENTITY_TYPES, Axis, AxisSetting, CalibrationRun, DrilledHole
from vernus.job.errors import JobFileError
from vernus.job.formats.exchange import read_export
from vernus.job.migration import VERSION, upgrade
from vernus.job.review.review import review_job
from vernus.job.review.states import axes_as_json

OLD = Path(__file__).parents[1] / "data" / "version-1"
NOBODY_SAID = {"scale": {"scale_on"}}
"""What old files hold of what nobody said: it follows the face from version 4 on."""
GONE = {"job": {"purpose"}, "profile": {"resolution", "shows"}, "axis": {"give_up_how", "give_up_why"}}


@pytest.mark.parametrize("name", ["mill", "lathe"])
def test_a_file_and_its_export_come_to_the_same_job_and_lose_nothing(tmp_path, name):
    path = Path(shutil.copy(OLD / f"{name}.vernus", tmp_path))
    job = Job.open(path)
    from_file = {e.id: e for e in job.entities()}
    assert len(job.notices) >= 2
    job.close()
    again = Job.open(path)
    assert again.notices == (), "told once"
    again.close()
    told = []
    assert {e.id: e for e in read_export(OLD / f"{name}.json", told)} == from_file
    assert told
    for entry in json.loads((OLD / f"{name}.json").read_text())["entities"]:
        now = from_file[entry["id"]].model_dump(mode="json")
        kept = {k: v for k, v in entry.items() if k not in {"kind"} | GONE.get(entry["kind"], set())}
        kept = {k: v for k, v in kept.items() if k not in NOBODY_SAID.get(entry["kind"], ())}
        assert {k: now[k] for k in kept} == kept


def test_what_is_fitted_is_taken_from_what_was_entered(tmp_path):
    mill = Job.open(Path(shutil.copy(OLD / "mill.vernus", tmp_path)))
    assert {n: (a["scope"], a["drive"]) for n, a in axes_as_json(mill).items()} == {
        "X": ("new", "new"), "Y": ("new", "none"), "W": ("new", "none"),
    }  # fmt: skip
    assert review_job(mill)
    mill.close()
    lathe = Job.open(Path(shutil.copy(OLD / "lathe.vernus", tmp_path)))
    assert [a.readout for a in lathe.axes()] == ["new", "new", "none"]
    lathe.close()


def axis(name, **more):
    return {"kind": "axis", "id": f"a{name}", "machine_id": "m", "name": name, **more}


def test_what_an_entity_says_already_stands():
    entries = [axis("X", readout="own"), {"kind": "scale", "id": "s", "axis_id": "aX"}]
    assert upgrade(entries, 1)[0][0]["readout"] == "own"


@pytest.mark.parametrize(("purpose", "readout"), [("feed", "none"), ("readout", "new")])
def test_a_travel_alone_makes_a_readout_unless_the_job_was_a_feed_only(purpose, readout):
    entries = [
        {"kind": "job", "id": "j", "purpose": purpose}, axis("X"),
        {"kind": "travel", "id": "t", "axis_id": "aX", "readings": [{"mm": 1}]},
        {"kind": "feed", "id": "f", "axis_id": "aX"}, axis("Y"), {"kind": "travel", "id": "u", "axis_id": "aY"},
    ]  # fmt: skip
    now = {e["id"]: e for e in upgrade(entries, 1)[0]}
    assert (now["aX"]["readout"], now["aX"]["drive"]) == (readout, "new")
    assert (now["aY"]["readout"], now["aY"]["drive"]) == ("none", "none"), "a survey without a reading says nothing"
    assert "purpose" not in now["j"]


def test_settings_of_the_display_become_the_axes_own_and_diameter_the_cross_slides():
    entries = [
        {"kind": "machine", "id": "m", "machine_kind": "lathe-mid"},
        {"kind": "profile", "id": "p", "per": "in", "shows": "diameter", "resolution": {"mm": 0.005}},
        *(e for n in "XZ" for e in (axis(n), {"kind": "scale", "id": f"s{n}", "axis_id": f"a{n}"},
                                    {"kind": "calibration", "id": f"r{n}", "axis_id": f"a{n}"})),
    ]  # fmt: skip
    made, told = upgrade(entries, 1)
    settings = {e["axis_id"]: (e["shows"], e["resolution"]) for e in made if e["kind"] == "setting"}
    assert settings == {"aX": ("diameter", {"mm": 0.005}), "aZ": ("radius", {"mm": 0.005})}
    assert {e["id"]: e["shows"] for e in made if e["kind"] == "calibration"} == {"rX": "diameter", "rZ": "radius"}
    assert any("diameter setting is kept for X only" in words for words in told)
    AxisSetting.model_validate({k: v for k, v in made[-1].items() if k != "kind"})


def test_holes_nobody_typed_on_a_face_follow_the_scale():
    hole = {"kind": "drilled", "part_id": "p"}
    entries = [
        {"kind": "part", "id": "p", "axis_id": "aX", "part_kind": "face"},
        {**hole, "id": "h1", "x": {"mm": 390.0}}, {**hole, "id": "h2", "x": {"mm": 10.0}},
    ]  # fmt: skip
    now = {e["id"]: e.get("follows") for e in upgrade(entries, 1)[0]}
    assert (now["h1"], now["h2"]) == ("last", "first")
    entries[2]["x"]["text"] = "10"
    assert {e.get("follows") for e in upgrade(entries, 1)[0]} == {None}, "typed ones stay where they are"


def test_every_kind_of_today_has_a_name_and_the_version_is_five():
    assert VERSION == 5
    assert {Axis, CalibrationRun, DrilledHole} <= set(ENTITY_TYPES.values())


OLD_2 = OLD.parent / "version-2"


@pytest.mark.parametrize("name", ["mill", "lathe"])
@pytest.mark.parametrize("version", range(2, VERSION))
def test_an_older_file_opens_whole_after_a_backup_and_is_of_today_afterwards(tmp_path, name, version):
    old = OLD.parent / f"version-{version}"
    path = Path(shutil.copy(old / f"{name}.vernus", tmp_path))
    before = path.read_bytes()
    job = Job.open(path)
    assert "is kept as" in job.notices[-1]
    assert (tmp_path / f"{name}.vernus.version-{version}.bak").read_bytes() == before
    assert {e.id: e for e in read_export(old / f"{name}.json")} == {e.id: e for e in job.entities()}
    assert review_job(job)
    job.close()
    again = Job.open(path)
    assert again.notices == ()
    again.close()


def test_older_ticks_are_made_to_what_is_not_noted_and_a_feed_s_parts_keep_what_they_were_made_to():
    entries = [
        {"kind": "axis", "id": "aX", "name": "X"},
        {"kind": "step", "id": "s", "key": "stops", "rested": [{"name": "the stop", "mm": 4.0, "words": ""}]},
        {"kind": "feed", "id": "f", "axis_id": "aX", "made_to": [{"what": "coupler", "words": "54 long"}]},
        {"kind": "rework", "id": "r", "axis_id": "aX", "figure": "sleeve", "made_to": "bored 16"},
        {"kind": "scale", "id": "p", "axis_id": "aX", "scale_on": "moving", "face_id": "there"},
        {"kind": "face", "id": "there"}, {"kind": "scale", "id": "q", "axis_id": "aX", "scale_on": "still"},
    ]  # fmt: skip
    now, told = upgrade(entries, 3)
    by_id = {e["id"]: e for e in now}
    assert by_id["s"]["made_to"] == []
    assert "rested" not in by_id["s"]
    assert "not noted" in told[0]
    assert [(m["id"], m["words"]) for m in by_id["f"]["made_to"]] == [("part/X/feed-coupler", "54 long")]
    assert by_id["r"]["made_to"][0]["id"] == "part/X/feed-sleeve"
    assert (by_id["p"]["scale_on"], by_id["q"]["scale_on"]) == ("", "still")


def test_what_was_given_up_of_a_travel_is_given_up_of_each_end_where_something_was():
    mill = read_export(OLD.parent / "version-4" / "mill.json")
    (y,) = (e for e in mill if isinstance(e, Axis) and e.name == "Y")
    assert y.give_up_low is not None
    assert (y.give_up_low_how, y.give_up_low_why) == ("driven", "the arbor support stays on")
    assert (y.give_up_high, y.give_up_high_why) == (None, "")


def test_an_altered_entry_of_version_2_is_refused_and_the_file_is_left_as_it_was(tmp_path):
    path = Path(shutil.copy(OLD_2 / "mill.vernus", tmp_path))
    with closing(sqlite3.connect(path)) as db, db:
        db.execute("UPDATE entity SET body=replace(body, '\"mm\":1', '\"mm\":2') WHERE kind='measure'")
    before = path.read_bytes()
    with pytest.raises(JobFileError, match="altered"):
        Job.open(path)
    assert path.read_bytes() == before


def test_a_missing_entry_of_version_2_is_noticed(tmp_path):
    path = Path(shutil.copy(OLD_2 / "mill.vernus", tmp_path))
    with closing(sqlite3.connect(path)) as db, db:
        db.execute("DELETE FROM entity WHERE kind='log'")
    with pytest.raises(JobFileError, match="missing"):
        Job.open(path)
