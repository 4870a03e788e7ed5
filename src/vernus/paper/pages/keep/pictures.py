"""The pictures in the report: each with its words, beside the one before; what was measured in it as a table."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import partial

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter

from vernus.core.units import UnitSystem
from vernus.job.document import Job
from vernus.job.entities import Axis, Photo
from vernus.job.keep.photo import before_of, measured_in, photos_of, place_rows, said_of
from vernus.job.moments import local_day
from vernus.paper.drawing.keep.photo import PhotoShown, paint_photo, paint_photos, photo_place
from vernus.paper.ink import PRINT
from vernus.paper.page import Block, Picture, Words, heading, table
from vernus.paper.photo import image_of

_TALL = 330.0


def picture_blocks(job: Job, axes: Sequence[Axis], units: UnitSystem) -> Iterable[Block]:
    """Every picture that is wanted on paper, of these axes or of the whole machine."""
    ids = {a.id for a in axes}
    photos = [p for p in photos_of(job) if p.printed == "yes" and (not p.axis_id or p.axis_id in ids)]
    shown_before = {p.before_id for p in photos}
    for n, photo in enumerate(p for p in photos if p.id not in shown_before):
        if not n:
            yield heading("Pictures")
        yield Words(f"{local_day(photo.created)}: {said_of(job, photo)}", after=3, keep_with_next=True)
        yield Picture(partial(_draw, job=job, photo=photo), _TALL)
        measured = measured_in(photo)
        rows = place_rows(photo, measured, units)
        if rows:
            yield from table(("Place", f"Along, {units}", f"Up, {units}", "±"), rows, (0.4, 0.2, 0.2, 0.2), (1, 2, 3))
            yield Words(
                "Measured in the picture, from the datum marked; a lens that bends lines isn't in the ±. By the rule "
                "before anything is drilled."
            )


def _draw(painter: QPainter, room: QRectF, *, job: Job, photo: Photo) -> None:
    """Decoded only when its page is painted, so that many pictures don't lie in memory together."""
    before = before_of(job, photo)
    after = PhotoShown(photo, image_of(job, photo), f"after, {local_day(photo.created)}")
    if before is None:
        paint_photo(painter, photo_place(after, room), after, PRINT, measured=True)
        return
    first = PhotoShown(before, image_of(job, before), f"before, {local_day(before.created)}")
    paint_photos(painter, room, (first, after), PRINT)
