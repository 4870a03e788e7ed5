"""Pictures in the job file: filed under what they hold, kept through edits, copies and exports, told when missing."""

import sqlite3
import struct
import zlib
from contextlib import closing

import pytest

from vernus.cli.main import main
from vernus.core.errors import BadInputError
from vernus.job.document import Job
from vernus.job.entities import Face, Photo, PhotoPoint
from vernus.job.fields import LengthEntry
from vernus.job.formats.exchange import export_job, read_export, read_pictures
from vernus.job.formats.picture import MOST_BYTES, check_picture
from vernus.job.keep.photo import before_of, clicked, holes_from, measured_in, photos_of, place_rows, unclicked
from vernus.job.review.review import review_pictures
from vernus.job.rows import picture_id

FIRST, SECOND = b"\x89PNG\r\n\x1a\n first", b"\xff\xd8\xff second"


def photo(name, data, **more):
    return Photo(id=name, picture=picture_id(data), width=400, height=300, **more)


def filed(path):
    with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as db:
        return {name for (name,) in db.execute("SELECT id FROM picture")}


def test_a_picture_is_on_the_disk_with_its_entry_and_reads_back(job, path):
    job.apply("add a picture", [photo("a", FIRST)], pictures=[FIRST])
    assert filed(path) == {picture_id(FIRST)}
    job.close()
    again = Job.open(path)
    assert again.picture(photos_of(again)[0].picture) == FIRST
    again.close()


def test_undo_and_redo_bring_it_back_and_closing_forgets_what_nothing_shows(job, path):
    job.apply("add", [photo("a", FIRST)], pictures=[FIRST])
    job.apply("add", [photo("b", SECOND)], pictures=[SECOND])
    job.undo()
    job.redo()
    assert job.picture(picture_id(SECOND)) == SECOND
    job.undo()
    assert filed(path) == {picture_id(FIRST), picture_id(SECOND)}
    job.close()
    assert filed(path) == {picture_id(FIRST)}


def test_a_copy_an_export_and_an_import_lose_nothing(job, tmp_path):
    both = photo("a", FIRST).model_copy(update={"original": picture_id(SECOND)})
    job.apply("add", [both], pictures=[FIRST, SECOND])
    job.save_copy(tmp_path / "copy.vernus")
    copy = Job.open(tmp_path / "copy.vernus")
    assert dict(copy.pictures()) == {picture_id(FIRST): FIRST, picture_id(SECOND): SECOND}
    copy.close()
    names = {p.name for p in export_job(job, tmp_path / "out")}
    assert {f"{picture_id(FIRST)}.png", f"{picture_id(SECOND)}.jpg"} <= names
    entities, told = read_export(tmp_path / "out"), []
    again = Job.create(tmp_path / "again.vernus", entities, read_pictures(tmp_path / "out", entities, told))
    assert (dict(again.pictures()), told) == (dict(job.pictures()), [])
    again.close()


def test_an_altered_or_missing_picture_is_told_and_the_rest_is_whole(job, path, tmp_path, capsys):
    axis = job.axes()[1]
    job.apply("add", [photo("a", FIRST).with_(axis_id=axis.id), photo("b", SECOND)], pictures=[FIRST, SECOND])
    export_job(job, tmp_path / "out")
    (tmp_path / "out" / "pictures" / f"{picture_id(FIRST)}.png").write_bytes(b"another")
    told = []
    assert read_pictures(tmp_path / "out", job.entities(), told) == [SECOND]
    assert told == ["1 picture is missing or altered; the rest is whole."]
    job.close()
    with closing(sqlite3.connect(path)) as db, db:
        db.execute("UPDATE picture SET data=? WHERE id=?", (b"another", picture_id(FIRST)))
    again = Job.open(path)
    assert again.picture(picture_id(FIRST)) is None
    assert again.picture(picture_id(SECOND)) == SECOND
    assert len(photos_of(again)) == 2
    lost = [(at.sheet, at.finding.severity, at.axis) for at in review_pictures(again)]
    assert lost == [("log", "caution", axis.name)]
    again.close()
    assert main(["check", str(path)]) == 0
    said = f"{axis.name} log: CAUTION: A picture is missing from the job file or was altered: {axis.name}."
    assert said in capsys.readouterr().out


def test_a_damaged_file_gives_the_pictures_that_can_be_read(job, path, tmp_path):
    job.apply("add", [photo("a", FIRST)], pictures=[FIRST])
    job.close()
    with closing(sqlite3.connect(path)) as db, db:
        db.execute("UPDATE entity SET body='{}' WHERE kind='measure'")
    told = []
    entities = read_export(path, told)
    assert any("missing" in words for words in told)
    assert read_pictures(path, entities, told) == [FIRST]


def test_a_picture_waits_in_memory_while_the_disk_refuses(job, path, monkeypatch):
    path.rename(path.with_suffix(".moved"))
    with pytest.raises(Exception, match="kept in memory"):
        job.apply("add", [photo("a", FIRST)], pictures=[FIRST])
    assert job.picture(picture_id(FIRST)) == FIRST
    path.with_suffix(".moved").rename(path)
    job.retry()
    assert filed(path) == {picture_id(FIRST)}


def png(width, height, tail=b""):
    def chunk(name, data):
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    head = struct.pack(">IIBBBBB", width, height, 8, 0, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", tail) + chunk(b"IEND", b"")


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "is empty"),
        (b"GIF89a......", "a GIF"),
        (b"%PDF-1.7 and more", "a PDF"),
        (b"\0\0\0\x18ftypheic\0\0\0\0", "HEIC"),
        (b"plain words", "no picture"),
        (b"\xff\xd8\xff\xe0\0\x10JFIF", "broken or cut short"),
        (b"\xff\xd8\xff\xe0\0\0" + b"\0" * 40, "broken or cut short"),
        (b"RIFF\x10\0\0\0WEBPVP8 ", "broken or cut short"),
        (png(100_000, 90_000), "more than any camera"),
        (b"\x89PNG\r\n\x1a\n" + b"\0" * MOST_BYTES, "larger than 60 MB"),
    ],
)
def test_what_is_no_picture_is_told_before_anything_is_decoded(data, words):
    with pytest.raises(BadInputError, match=words):
        check_picture(data)


def test_a_head_says_type_and_size():
    assert (check_picture(png(640, 480)).width, check_picture(png(640, 480)).height) == (640, 480)


def marked(sides=("297", "210"), unit="mm", **more):
    """A square-on picture, 1 mm to a picture point and a rectangle of 297 by 210 in it."""
    corners = ((100, 400), (397, 400), (397, 190), (100, 190), (50, 295), (850, 295), (150, 275))
    made = Photo(id="p", picture=picture_id(FIRST), width=1000, height=800, **more)
    for x, y in corners:
        made = clicked(made, x / 1000, y / 800, 0.5)
    length, width = (LengthEntry.read(s, unit) for s in sides)
    return made.with_(known_length=length, known_width=width)


def test_clicks_mark_corners_then_the_datum_then_places_and_come_off_in_turn():
    made = marked()
    assert (len(made.corners), len(made.datum), len(made.points)) == (4, 2, 1)
    fewer = unclicked(unclicked(made))
    assert (len(fewer.corners), len(fewer.datum), len(fewer.points)) == (4, 1, 0)
    assert measured_in(fewer).next_click.startswith("a second place along")
    assert measured_in(fewer.with_(corners=made.corners[:2])).next_click.startswith("corner 3")


@pytest.mark.parametrize(
    ("sides", "unit", "shown"),
    [(("297", "210"), "mm", ["100.00", "20.00"]), (("297/25.4", "210/25.4"), "in", ["3.937", "0.787"])],
)
def test_places_are_told_in_the_unit_shown_with_their_plus_minus(sides, unit, shown):
    sides = [f"{eval(s):.6f}" for s in sides]
    made = marked(sides, unit)
    (row,) = place_rows(made, measured_in(made), unit)
    assert row[1:3] == shown
    assert float(row[3]) > 0


def test_the_size_not_given_a_slanted_thing_and_three_corners_say_what_is_wanted():
    assert "two sides" in measured_in(marked().with_(known_width=None)).complaint
    assert "above the face" in measured_in(marked(proud=LengthEntry(mm=20.0))).complaint
    assert "good to" in " ".join(f.remedy.text() for f in measured_in(marked()).findings)


def test_places_become_holes_of_the_face_that_say_they_are_by_picture():
    made = marked()
    made = made.with_(points=(made.points[0], PhotoPoint(x=0.05, y=0.25, words="oil nipple")))
    front = Face(id="f", axis_id="x", name="front", member="table")
    first, second = holes_from(Job([]), made, measured_in(made), front, "mm")
    assert (first.face_id, first.member) == ("f", "table")
    assert (first.at_x.mm, first.at_y.mm) == pytest.approx((100.0, 20.0), abs=0.005)
    assert second.at_y.mm == pytest.approx(95.0, abs=0.005)
    assert second.place.startswith("oil nipple (by picture, ± ")
    unsized = made.with_(known_length=None)
    assert holes_from(Job([]), unsized, measured_in(unsized), front, "mm") == []


def test_the_one_before_is_found_and_never_itself(job):
    job.apply("add", [photo("a", FIRST), photo("b", SECOND, before_id="a")], pictures=[FIRST, SECOND])
    job.apply("add", [photo("c", SECOND, before_id="c"), photo("d", SECOND, before_id="gone")])
    assert {p.id: before_of(job, p) and before_of(job, p).id for p in photos_of(job)} == {
        "a": None, "b": "a", "c": None, "d": None,
    }  # fmt: skip
