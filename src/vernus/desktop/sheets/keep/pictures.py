"""The pictures of the log: taken in by drop, paste or choice, told apart by words, drawn on, and measured in."""

from __future__ import annotations

from collections import OrderedDict
from pathlib import Path

from PySide6.QtCore import QSize, Qt, QTimer, Signal
from PySide6.QtGui import QGuiApplication, QIcon, QImage, QPixmap
from PySide6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from vernus.core.errors import VernusError
from vernus.desktop.parts.choice import ChoiceBox
from vernus.desktop.parts.entity_list import EntityList
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.keys import press_by
from vernus.desktop.parts.line import Line
from vernus.desktop.parts.photo_view import PhotoView
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words, set_tip
from vernus.desktop.session import Session
from vernus.desktop.sheets.keep.photo_intake import PhotoIntake, Source
from vernus.job.document import Job
from vernus.job.entities import Photo, PhotoArrow, PhotoPoint
from vernus.job.keep.photo import (
    PhotoMeasured,
    before_of,
    clicked,
    holes_from,
    measured_in,
    photos_of,
    place_rows,
    said_of,
    shown_by,
    unclicked,
)
from vernus.job.known.axis_figures import chosen_face
from vernus.job.moments import local_day
from vernus.job.scope import axes_in_scope
from vernus.paper.drawing.keep.photo import PhotoShown
from vernus.paper.photo import encode, image_of

_FIELDS = {"": ("words", "axis_id", "of", "before_id", "printed")}
_MEASURE = ("known_length", "known_width", "known_within", "proud", "click_px")
_EMPTY = "No pictures yet: drop some here, paste one, or choose files with Add."
_KEPT_DECODED = 6
_THUMB = (56, 42)
_WHAT = [
    ("threaded", "next: a threaded hole"), ("plain", "next: a plain hole"), ("slot", "next: a T-slot"),
    ("place", "next: a place, no hole"),
]  # fmt: skip


class PicturesFace(QWidget):
    """The list of pictures with what each shows, and the words of arrows drawn on the one chosen."""

    chosen = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._start: PhotoPoint | None = None
        self.intake = PhotoIntake(session, self)
        self.intake.progress.connect(self._show_progress)
        self.list = EntityList(
            session, "Pictures", Photo, _FIELDS, self._photos, [Column("when", False), Column("shows", False)],
            self._row, self.ask,
        )  # fmt: skip
        self.list.table.wrap_words()
        self.list.table.setIconSize(QSize(*_THUMB))
        self._thumbs: dict[str, QIcon] = {}
        self._next_thumb = QTimer(self)
        self._next_thumb.setSingleShot(True)
        self._next_thumb.timeout.connect(self._make_thumb)
        session.opened.connect(self._thumbs.clear)
        self.list.chosen.connect(self.chosen.emit)
        self.list.add.setText("Add… (Ctrl+Ins)")
        self.paste = QPushButton("Paste")
        set_tip(self.paste, "Ctrl+Shift+V")
        self.paste.setObjectName("tight")
        press_by(self.paste, "Ctrl+Shift+V")
        self.paste.clicked.connect(self.take_pasted)
        self.keep = QCheckBox("Keep originals")
        self.progress = Words("", "faint")
        self.stop = QPushButton("Stop")
        self.stop.clicked.connect(self.intake.stop)
        self.arrow = Line()
        self.arrow.setAccessibleName("Words of the last arrow")
        self.arrow.setPlaceholderText("words of the last arrow, Enter")
        self.arrow.returnPressed.connect(self._name_arrow)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.addWidget(self.paste)
        row.addWidget(self.keep)
        box.addLayout(row)
        box.addWidget(self.progress)
        box.addWidget(self.stop)
        box.addWidget(self.list, 1)
        box.addWidget(self.arrow)
        self._show_progress("")
        self.setFocusProxy(self.list)

    def photo(self) -> Photo | None:
        """The picture chosen."""
        found: Photo | None = self.list.current()
        return found

    def _photos(self) -> list[Photo]:
        return photos_of(self._session.job)[::-1] if self._session.job else []

    def _row(self, photo: Photo) -> list[str]:
        job = self._session.job
        said = "" if job is None else said_of(job, photo)
        return [local_day(photo.created), said if len(said) <= 120 else said[:119] + "…"]

    def ask(self) -> None:
        """Ask for files and take them in."""
        names, _ = QFileDialog.getOpenFileNames(self, "Add pictures", "", "Pictures (*.jpg *.jpeg *.png *.webp)")
        self.take_files(names)

    def take_files(self, names: list[str]) -> None:
        """Take files in, one after the other, beside the window."""
        if names:
            self._begin([Source(Path(n).name[:60], Path(n)) for n in names])

    def take_pasted(self) -> None:
        """Take in what is on the clipboard: a picture, or files that were copied."""
        data = QGuiApplication.clipboard().mimeData()
        files = [u.toLocalFile() for u in data.urls() if u.isLocalFile()] if data.hasUrls() else []
        image = QGuiApplication.clipboard().image()
        if files:
            self.take_files(files)
        elif not image.isNull():
            self._begin([Source("what was pasted", data=encode(image))])
        else:
            self._session.notice.emit("There is no picture to paste; copy one first.")

    def _begin(self, sources: list[Source]) -> None:
        job = self._session.job
        if job is None:
            return
        if job.read_only_because:
            self._session.notice.emit(
                f"This job is open read-only: {job.read_only_because}. Save a copy to work on it."
            )
            return
        self.intake.begin(sources, keep_original=self.keep.isChecked(), axis_id=self._session.axis_id)

    def _show_progress(self, words: str) -> None:
        self.progress.setText(words)
        self.progress.setVisible(bool(words))
        self.stop.setVisible(bool(words))

    def mark(self, x: float, y: float, _coarse_px: float) -> None:
        """A click in the picture: where an arrow's words stand, then what it points at."""
        photo, at = self.photo(), PhotoPoint(x=x, y=y)
        if photo is None:
            return
        if self._start is None:
            self._start = at
            self._session.notice.emit("Now click what the arrow points at.")
            return
        arrow = PhotoArrow(start=self._start, end=at)
        self._start = None
        try:
            put = photo.with_(arrows=(*photo.arrows, arrow))
        except VernusError:
            self._session.notice.emit(f"A picture holds {len(photo.arrows)} arrows at most; take one off first.")
            return
        if self._session.apply("draw an arrow", [put]):
            self.arrow.setFocus()

    def take_back(self) -> None:
        """Take the last arrow off."""
        photo = self.photo()
        if self._start is not None:
            self._start = None
        elif photo is not None and photo.arrows:
            self._session.apply("delete an arrow", [photo.with_(arrows=photo.arrows[:-1])])

    def _name_arrow(self) -> None:
        photo, text = self.photo(), self.arrow.text().strip()
        if photo is None or not photo.arrows:
            self._session.notice.emit("Draw an arrow first: click where its words stand, then what it points at.")
            return
        last = photo.arrows[-1]
        try:
            named = last.model_copy(update={"start": PhotoPoint(x=last.start.x, y=last.start.y, words=text)})
        except ValueError:
            self._session.notice.emit(f"{len(text)} characters; at most 200 stand on an arrow. Shorten it.")
            return
        if self._session.apply("words of an arrow", [photo.with_(arrows=(*photo.arrows[:-1], named))]):
            self.arrow.renew()

    def refresh(self) -> None:
        """Show what is stored."""
        job = self._session.job
        if job is None:
            return
        here = self.photo()
        self.list.offer("axis_id", [("", "the whole machine"), *((a.id, a.name) for a in axes_in_scope(job))])
        self.list.offer("of", [("", "nothing in particular"), *shown_by(job)])
        others = [p for p in self._photos() if here is None or p.id != here.id]
        self.list.offer(
            "before_id",
            [("", "no picture of it"), *((p.id, f"{local_day(p.created)} {said_of(job, p)}"[:60]) for p in others)],
        )
        self.list.refresh()
        self._show_thumbs()

    def _show_thumbs(self) -> None:
        """A small picture beside each row; those that aren't made yet come one after the other."""
        photos = self._photos()
        icons = {n: self._thumbs[p.picture] for n, p in enumerate(photos) if p.picture in self._thumbs}
        table = self.list.table
        if icons != table.rows.icons:
            table.rows.icons = icons
            table.resizeRowsToContents()
            table.viewport().update()
        if len(icons) < len(photos) and self.isVisible():
            self._next_thumb.start(0)

    def _make_thumb(self) -> None:
        job = self._session.job
        photo = next((p for p in self._photos() if p.picture not in self._thumbs), None)
        if job is None or photo is None:
            return
        image = image_of(job, photo)
        small = QPixmap() if image is None else QPixmap.fromImage(image.scaled(
            QSize(*_THUMB), Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
        ))  # fmt: skip
        self._thumbs[photo.picture] = QIcon(small)
        self._show_thumbs()


class PhotoMeasureFace(QWidget):
    """The size of the known thing, what the next click marks, the places found, and the way into the machine."""

    def __init__(self, session: Session, pictures: PicturesFace) -> None:
        super().__init__()
        self._session, self._pictures = session, pictures
        self.asked = Words("")
        self.fields = [FigureRow(session, Photo, name, pictures.photo) for name in _MEASURE]
        self.list = FigureList(Group("", self.fields))
        self.places = Table("Places measured in the picture")
        self.places.setMaximumHeight(150)
        self.named = Line()
        self.named.setAccessibleName("Name of the last place")
        self.named.setPlaceholderText("name of the last place, Enter")
        self.named.returnPressed.connect(self._name)
        self.what = ChoiceBox("The next place is", _WHAT)
        self.keep = QPushButton("Into the machine's holes")
        self.keep.clicked.connect(self._keep)
        self.complaint = Words("", "caution")
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.asked)
        box.addWidget(self.list, 1)
        for widget in (self.what, self.named, self.keep):
            box.addWidget(widget)
        self.setFocusProxy(self.fields[0].editor)

    def mark(self, x: float, y: float, coarse_px: float) -> None:
        """A click in the picture marks what was asked for."""
        photo = self._pictures.photo()
        if photo is None:
            return
        try:
            put = clicked(photo, x, y, coarse_px, self.what.currentData())
        except VernusError:
            self._session.notice.emit(f"A picture holds {len(photo.points)} places at most; take one back first.")
            return
        self._session.apply("mark in a picture", [put])

    def take_back(self) -> None:
        """The last mark goes."""
        photo = self._pictures.photo()
        if photo is not None and unclicked(photo) is not photo:
            self._session.apply("delete a mark in a picture", [unclicked(photo)])

    def _name(self) -> None:
        photo, text = self._pictures.photo(), self.named.text().strip()
        if photo is None or not photo.points:
            self._session.notice.emit("Mark a place first: four corners, the datum, then holes and edges.")
            return
        last = photo.points[-1]
        point = last.model_copy(update={"words": text[:60]})
        if self._session.apply("name a place", [photo.with_(points=(*photo.points[:-1], point))]):
            self.named.renew()

    def _keep(self) -> None:
        job, axis, photo = self._session.job, self._session.axis, self._pictures.photo()
        if job is None or axis is None or photo is None:
            return
        face = chosen_face(job, axis)
        if face is None:
            self._session.notice.emit(f"Choose the face for {axis.name} first (Face sheet); the places are put on it.")
            return
        holes = holes_from(job, photo, measured_in(photo), face, self._session.units)
        if holes and self._session.apply("holes from a picture", holes):
            self._session.notice.emit(
                f"{len(holes)} put on {face.name} (Machine, Holes). Measure them by rule before anything is drilled."
            )

    def refresh(self) -> PhotoMeasured | None:
        """Show what the picture tells; returns it."""
        photo = self._pictures.photo()
        for field in self.fields:
            field.setEnabled(photo is not None)
        self.list.refresh()
        measured = None if photo is None else measured_in(photo)
        units = self._session.units
        rows = [] if measured is None or photo is None else place_rows(photo, measured, units)
        self.places.rows.show_rows(
            [Column("place", False), Column(f"along, {units}"), Column(f"up, {units}"), Column("±")], rows
        )
        self.keep.setEnabled(bool(rows))
        self.asked.setText("Choose a picture first." if measured is None else f"Next click: {measured.next_click}.")
        told = [] if measured is None else [f.what.text(units) + " " + f.remedy.text(units) for f in measured.findings]
        self.complaint.setText(" ".join([*([measured.complaint] if measured and measured.complaint else []), *told]))
        self.complaint.setVisible(bool(self.complaint.text()))
        return measured


class PicturesShown:
    """Shows the picture chosen in the view, decoded once; beside the one before where it is only looked at."""

    def __init__(self, session: Session, view: PhotoView) -> None:
        self._session, self._view = session, view
        self._decoded: OrderedDict[str, QImage | None] = OrderedDict()

    def show(self, photo: Photo | None, *, measured: bool) -> None:
        """Show it."""
        job = self._session.job
        shown: list[PhotoShown] = []
        if job is not None and photo is not None:
            before = None if measured else before_of(job, photo)
            if before is not None:
                shown.append(PhotoShown(before, self._image(job, before), f"before, {local_day(before.created)}"))
            shown.append(PhotoShown(photo, self._image(job, photo), f"after, {local_day(photo.created)}"))
        self._view.show_photos(shown, self._session.inks, measured=measured, empty=_EMPTY)

    def forget(self) -> None:
        """Let go of what was decoded."""
        self._decoded.clear()

    def _image(self, job: Job, photo: Photo) -> QImage | None:
        if photo.picture not in self._decoded:
            self._decoded[photo.picture] = image_of(job, photo)
            while len(self._decoded) > _KEPT_DECODED:
                self._decoded.popitem(last=False)
        self._decoded.move_to_end(photo.picture)
        return self._decoded[photo.picture]
