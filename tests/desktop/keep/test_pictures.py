"""Pictures through the window: dropped, pasted, broken, drawn on and measured in, by mouse and by keys alone."""

from pathlib import Path

import pytest
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QColor, QDropEvent, QGuiApplication, QImage, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from tests.printed import words_of
from vernus.desktop.sheet_list import KEYS
from vernus.desktop.sheets.keep.photo_intake import Source
from vernus.job.entities import Hole, Photo, PhotoArrow, PhotoPoint, Step
from vernus.paper.photo import LONGEST, decode, encode, take
from vernus.paper.report import write_report


def image(width=1200, height=900, colour="#8e9794"):
    made = QImage(width, height, QImage.Format.Format_RGB32)
    made.fill(QColor(colour))
    painter = QPainter(made)
    painter.fillRect(width // 4, height // 4, width // 3, height // 5, QColor("#f4f1e8"))
    painter.end()
    return made


@pytest.fixture
def files(tmp_path):
    names = [tmp_path / f"{n}.jpg" for n in ("before", "after")]
    for name, colour in zip(names, ("#8e9794", "#54606c"), strict=True):
        name.write_bytes(encode(image(colour=colour)))
    return [str(n) for n in names]


@pytest.fixture
def log(window, hands, bench_mill):
    hands.press(KEYS["log"])
    hands.click(window.sheets["log"].tabs.buttons["pictures"])
    return window.sheets["log"]


def drop(qtbot, log, names):
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(n) for n in names])
    log.view.dropEvent(
        QDropEvent(QPointF(50, 50), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier(0))
    )
    qtbot.waitUntil(lambda: not log.pictures.intake.busy, timeout=20_000)


def photos(session):
    return session.job.all(Photo)


def test_pictures_dropped_are_in_the_job_smaller_and_without_what_the_camera_wrote(qtbot, log, bench_mill, tmp_path):
    large = tmp_path / "large.jpg"
    data = encode(image(4000, 3000))
    large.write_bytes(data[:2] + b"\xff\xe1\x00\x11Exif\0\0somewhere" + data[2:])
    drop(qtbot, log, [str(large)])
    (photo,) = photos(bench_mill)
    assert (photo.width, photo.height) == (LONGEST, LONGEST * 3 // 4)
    assert b"somewhere" not in bench_mill.job.picture(photo.picture)
    assert "1 picture" in log.headline.figure.text()
    assert photo.original == ""


def test_the_original_is_kept_on_wish(qtbot, log, hands, bench_mill, files):
    hands.click(log.pictures.keep)
    drop(qtbot, log, files[:1])
    (photo,) = photos(bench_mill)
    assert bench_mill.job.picture(photo.original) == Path(files[0]).read_bytes()


def test_a_picture_lying_on_its_side_is_turned_as_it_was_taken():
    upright = encode(image(300, 200))
    # orientation 6 in tag 274 of a TIFF head; from memory
    turned = b"\xff\xe1\x00\x22Exif\0\0MM\0*\0\0\0\x08\0\x01\x01\x12\0\x03\0\0\0\x01\0\x06\0\0\0\0\0\0"
    data = upright[:2] + turned + upright[2:]
    assert (take(data).width, take(data).height) == (200, 300)


def test_what_is_broken_wrongly_named_or_huge_is_told_and_the_rest_is_taken(
    qtbot, log, window, bench_mill, tmp_path, files
):
    (tmp_path / "cut.jpg").write_bytes(encode(image())[:900])
    (tmp_path / "words.png").write_text("no picture at all")
    head = b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR" + (200_000).to_bytes(4, "big") * 2 + b"\x08\0\0\0\0" + b"\0" * 20
    (tmp_path / "bomb.png").write_bytes(head)
    told = []
    bench_mill.notice.connect(told.append)
    drop(qtbot, log, [str(tmp_path / n) for n in ("cut.jpg", "words.png", "bomb.png", "gone.jpg")] + files)
    assert len(photos(bench_mill)) == 2
    said = told[-1]
    assert "cut.jpg" in said
    assert "words.png is no picture" in said
    assert "bomb.png unpacks to 200000 by 200000" in said
    assert "(and 1 more)" in said


def test_a_picture_is_pasted(qtbot, log, hands, bench_mill):
    QGuiApplication.clipboard().setImage(image())
    hands.press("Ctrl+Shift+V")
    qtbot.waitUntil(lambda: not log.pictures.intake.busy, timeout=20_000)
    assert len(photos(bench_mill)) == 1
    QGuiApplication.clipboard().setText("words")
    told = []
    bench_mill.notice.connect(told.append)
    hands.press("Ctrl+Shift+V")
    assert told == ["There is no picture to paste; copy one first."]


def test_files_are_chosen_with_the_key_that_adds(qtbot, log, hands, bench_mill, files, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_a, **_k: (files, ""))
    log.pictures.list.table.setFocus()
    hands.press("Ctrl+Ins")
    qtbot.waitUntil(lambda: not log.pictures.intake.busy, timeout=20_000)
    assert len(photos(bench_mill)) == 2
    hands.press("Ctrl+Z")
    assert photos(bench_mill) == []


def test_arrows_are_drawn_named_and_taken_back_and_before_and_after_stand_side_by_side(
    qtbot, log, hands, window, bench_mill, files, tmp_path
):
    drop(qtbot, log, files)
    log.view.setFocus()
    hands.press("Space")
    for _ in range(4):
        hands.press("Right")
    hands.press("Space")
    hands.enter("it rubbed here")
    newest = photos(bench_mill)[-1]
    chosen = next(p for p in photos(bench_mill) if p.arrows)
    assert chosen.arrows[0].start.words == "it rubbed here"
    assert chosen.arrows[0].end.x > chosen.arrows[0].start.x
    fields = {f.name: f for f in log.pictures.list.fields}
    other = next(p for p in photos(bench_mill) if p.id != chosen.id)
    box = fields["before_id"].editor
    box.setFocus()
    hands.press("Right")
    assert bench_mill.job.get(chosen.id).before_id == other.id
    assert log.view.place().isEmpty(), "two pictures side by side"
    write_report(bench_mill.job, tmp_path / "out.pdf")
    text = words_of(tmp_path / "out.pdf")
    assert "it rubbed here" in text
    assert "before, " in text
    assert newest is not None


def test_a_face_is_measured_in_a_picture_by_keys_alone(qtbot, log, hands, window, bench_mill, files):
    drop(qtbot, log, files[:1])
    hands.click(log.tabs.buttons["measure"])
    log.view.setFocus()

    def mark(x, y):
        for _ in range(400):
            here = log.view.cross
            place = log.view.place()
            dx, dy = (x - here[0]) * place.width(), (y - here[1]) * place.height()
            if max(abs(dx), abs(dy)) < 0.6:
                break
            fine = max(abs(dx), abs(dy)) < 12
            way = ("Right" if dx > 0 else "Left") if abs(dx) >= abs(dy) else ("Down" if dy > 0 else "Up")
            hands.press(f"Shift+{way}" if fine else way)
        hands.press("Space")

    paper = ((0.25, 0.45), (0.25 + 1 / 3, 0.45), (0.25 + 1 / 3, 0.25), (0.25, 0.25))
    for at in (*paper, (0.1, 0.35), (0.9, 0.35), (0.7, 0.35)):
        mark(*at)
    for name, text in (("known_length", "200"), ("known_width", "90")):
        field = next(f for f in log.measure.fields if f.name == name)
        field.editor.setFocus()
        hands.enter(text)
    (row,) = log.measure.places.rows.rows
    along, up, within = (float(t.replace("−", "-")) for t in row[1:4])
    assert abs(along - 360) <= within  # 0.6 of the width, which is 600 mm
    assert abs(up) <= within
    assert 0.3 < within < 12
    log.view.setFocus()
    hands.press("Backspace")
    assert photos(bench_mill)[0].points == ()


def test_measured_places_go_to_the_machine_once_a_face_is_chosen(qtbot, hands, demo, window, files):
    hands.press(KEYS["log"])
    log = window.sheets["log"]
    hands.click(log.tabs.buttons["pictures"])
    drop(qtbot, log, files[:1])
    hands.click(log.tabs.buttons["measure"])
    for x, y in ((0.25, 0.45), (0.58, 0.45), (0.58, 0.25), (0.25, 0.25), (0.1, 0.35), (0.9, 0.35), (0.7, 0.35)):
        place = log.view.place()
        at = QPointF(place.left() + x * place.width(), place.top() + y * place.height()).toPoint()
        QTest.mouseClick(log.view, Qt.MouseButton.LeftButton, pos=at)
    for name, text in (("known_length", "200"), ("known_width", "90")):
        field = next(f for f in log.measure.fields if f.name == name)
        field.editor.setFocus()
        hands.enter(text)
    before = len(window.session.job.all(Hole))
    hands.click(log.measure.keep)
    assert len(window.session.job.all(Hole)) == before + 1
    assert "by picture" in window.session.job.all(Hole)[-1].place


def test_a_damaged_picture_is_said_to_be_in_its_place(qtbot, log, bench_mill, files, tmp_path):
    drop(qtbot, log, files[:1])
    photo = photos(bench_mill)[0]
    bench_mill.apply("spoil", [photo.with_(picture="0" * 32)])
    assert log.grab().width() > 0
    write_report(bench_mill.job, tmp_path / "out.pdf")
    text = words_of(tmp_path / "out.pdf")
    assert "This picture is missing or damaged." in text


def test_pictures_that_are_too_large_are_decoded_smaller():
    assert decode(encode(image(900, 700)), 300).width() == 300


def begin(log, tmp_path, count):
    """Pictures that are being taken in, one of them after the other."""
    sources = []
    for n in range(count):
        path = tmp_path / f"{n}.jpg"
        path.write_bytes(encode(image(1200, 900, colour=f"#8e97{n:02x}")))
        sources.append(Source(path.name, path))
    log.pictures.intake.begin(sources, keep_original=False, axis_id="")
    assert log.pictures.intake.busy


def test_a_window_closed_while_pictures_are_taken_in_asks_and_can_wait(
    qtbot, log, window, bench_mill, tmp_path, answer
):
    begin(log, tmp_path, 5)
    answer("Wait")
    assert not window.close()
    qtbot.waitUntil(lambda: not log.pictures.intake.busy, timeout=20_000)
    assert len(photos(bench_mill)) == 5
    assert bench_mill.job.path is not None
    bench_mill.may_leave()


def test_another_job_is_opened_once_the_rest_is_said_to_be_left_out(qtbot, log, window, bench_mill, tmp_path, answer):
    begin(log, tmp_path, 5)
    told = []
    bench_mill.notice.connect(told.append)
    first = bench_mill.job
    answer("Leave the rest out")
    assert window.files.attempt(lambda: bench_mill.new_job(tmp_path / "other.vernus", "Other", "mini-mill", "mm", "x"))
    assert bench_mill.job is not first
    assert any("left out" in words for words in told)
    qtbot.wait(200)
    assert photos(bench_mill) == []


def test_more_arrows_places_and_letters_than_fit_are_told_and_stay_out(window, bench_mill, hands):
    told = []
    bench_mill.notice.connect(told.append)
    at = PhotoPoint(x=0.5, y=0.5)
    full = Photo(
        id="p", picture="", width=100, height=100, arrows=(PhotoArrow(start=at, end=at),) * 100, corners=(at,) * 4,
        datum=(at, at), points=(at,) * 200,
    )  # fmt: skip
    bench_mill.apply("photo", [full])
    window.show_sheet("log")
    log = window.sheets["log"]
    log.pictures.list.choose("p")
    log.pictures.mark(0.1, 0.1, 1.0)
    log.pictures.mark(0.2, 0.2, 1.0)
    log.measure.mark(0.3, 0.3, 1.0)
    assert [w for w in told if "at most" in w]
    assert len(bench_mill.job.get("p").arrows) == 100
    assert len(bench_mill.job.get("p").points) == 200
    window.show_sheet("card")
    card = window.sheets["card"]
    card.note.setText("x" * 20_001)
    hands.click(card.button)
    assert any("20001" in w or "characters" in w for w in told)
    assert not [s for s in bench_mill.job.all(Step) if s.done]
