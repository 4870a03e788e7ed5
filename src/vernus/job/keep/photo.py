"""The pictures of a job: what they may show, which belong together, and the places measured in one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from vernus.core.errors import BadInputError
from vernus.core.finding import Finding, Mm, finding
from vernus.core.keep.photo import Click, Rectified, Sourced, measure_photo
from vernus.core.units import UnitSystem, format_length
from vernus.job.document import Job
from vernus.job.entities import Face, Hole, MountPart, Photo, PhotoPoint
from vernus.job.fields import LengthEntry, mm_of
from vernus.job.keep.steps import steps_of
from vernus.job.scope import axes_in_scope

_MOST_WORDS = 60


@dataclass(frozen=True)
class PhotoMeasured:
    """What is measured in a picture: places in mm from the datum with their ±; else why not, and what is wanted next.

    ``next_click`` says in words what the next click marks.
    """

    result: Rectified | None
    complaint: str
    next_click: str
    findings: tuple[Finding, ...] = ()


def photos_of(job: Job) -> list[Photo]:
    """The pictures of the job, of axes in scope or of the whole machine, the oldest first."""
    axes = {a.id for a in axes_in_scope(job)}
    return [p for p in job.all(Photo) if not p.axis_id or p.axis_id in axes]


def before_of(job: Job, photo: Photo) -> Photo | None:
    """The picture of the same place before, where one was named and is there."""
    found = job.get(photo.before_id) if photo.before_id and photo.before_id != photo.id else None
    return found if isinstance(found, Photo) else None


def shown_by(job: Job) -> list[tuple[str, str]]:
    """What a picture can be of: (key, words) of each step, part and hole of the job."""
    names = {a.id: a.name for a in axes_in_scope(job)}
    steps = [(f"step:{s.key}", ": ".join(w for w in (s.axis, s.words.rstrip(".")) if w)) for s in steps_of(job)]
    parts = [(f"part:{p.id}", f"part: {p.name or 'a part'}") for p in job.all(MountPart) if p.axis_id in names]
    holes = [(f"hole:{h.id}", f"hole: {h.place or h.member or 'a hole'}") for h in job.all(Hole)]
    return [(key, _short(words)) for key, words in (*parts, *holes, *steps)]


def _short(words: str) -> str:
    return words if len(words) <= _MOST_WORDS else words[: _MOST_WORDS - 1].rstrip() + "…"


def said_of(job: Job, photo: Photo) -> str:
    """What a picture shows, in a line: its axis, what it is of, its words."""
    axis = next((a.name for a in axes_in_scope(job) if a.id == photo.axis_id), "")
    of = dict(shown_by(job)).get(photo.of, "") if photo.of else ""
    return "; ".join(w for w in (axis, of, photo.words) if w) or "a picture without words"


def measured_in(photo: Photo) -> PhotoMeasured:
    """The places marked in a picture, once four corners and the sides of the known thing are there."""
    if len(photo.corners) < 4:
        number = len(photo.corners) + 1
        return PhotoMeasured(None, "", f"corner {number} of the thing of known size, going around it")
    asked = _asked_next(photo)
    length, width = mm_of(photo.known_length), mm_of(photo.known_width)
    if length is None or width is None:
        return PhotoMeasured(None, "Give the two sides of the thing whose corners are marked.", asked)
    known = Sourced(
        tuple(_points(photo, photo.corners)), length, width, mm_of(photo.known_within) or 0.0, mm_of(photo.proud) or 0.0
    )
    try:
        result = measure_photo(
            known, _points(photo, photo.points), _points(photo, photo.datum), (photo.width, photo.height)
        )
    except BadInputError as error:
        return PhotoMeasured(None, str(error), asked)
    findings = list(result.findings)
    if photo.known_within is None:
        findings.append(
            finding(
                "photo-size-unsure", "info", "The thing's size is taken as exact.",
                "Say what it is good to: printing paper is cut to about ± {paper}, a rule is good to ± {rule}.",
                paper=Mm(0.5), rule=Mm(0.1),
            )
        )  # fmt: skip
    return PhotoMeasured(result, "", asked, tuple(findings))


def _asked_next(photo: Photo) -> str:
    if not photo.datum:
        return "the datum: the left end of the face, at the middle of its height"
    if len(photo.datum) < 2:
        return "a second place along the face's length, far from the datum"
    return "a hole or an edge"


def _points(photo: Photo, points: Sequence[PhotoPoint]) -> list[Click]:
    """Clicks in picture points; each is good to what was said of all, or to the view it was made in."""
    return [(p.x * photo.width, p.y * photo.height, max(photo.click_px, p.coarse_px)) for p in points]


def clicked(photo: Photo, x: float, y: float, coarse_px: float, what: str = "threaded") -> Photo:
    """The picture with one more click, which marks what was asked for next; a place is ``what`` it was said to be."""
    at = PhotoPoint.model_validate({"x": x, "y": y, "coarse_px": coarse_px, "what": what})
    name = "corners" if len(photo.corners) < 4 else "datum" if len(photo.datum) < 2 else "points"
    more: Photo = photo.with_(**{name: (*getattr(photo, name), at)})
    return more


def unclicked(photo: Photo) -> Photo:
    """The picture without its last click."""
    name = next((n for n in ("points", "datum", "corners") if getattr(photo, n)), None)
    fewer: Photo = photo if name is None else photo.with_(**{name: getattr(photo, name)[:-1]})
    return fewer


def place_rows(photo: Photo, measured: PhotoMeasured, units: UnitSystem) -> list[list[str]]:
    """What is measured in a picture: name, along, up and ± of each place, bare of the unit."""
    if measured.result is None:
        return []
    rows = []
    for n, (point, place) in enumerate(zip(photo.points, measured.result.places, strict=True), 1):
        figures = (place.x_mm, place.y_mm, max(place.x_expanded_mm, place.y_expanded_mm))
        rows.append([point.words or f"hole {n}", *(format_length(mm, units, with_unit=False) for mm in figures)])
    return rows


def holes_from(job: Job, photo: Photo, measured: PhotoMeasured, face: Face, units: UnitSystem) -> list[Hole]:
    """A hole of the machine for each hole or slot marked, on a face, its place noted as measured in a picture.

    Sent again it takes the place of the one sent before, with what was said of that since.
    """
    if measured.result is None:
        return []
    made = []
    for n, (point, place) in enumerate(zip(photo.points, measured.result.places, strict=True), 1):
        ways = (place.x_mm, place.y_mm)
        at_x, at_y = (LengthEntry.read(format_length(mm, units, with_unit=False), units) for mm in ways)
        within = format_length(max(place.x_expanded_mm, place.y_expanded_mm), units)
        place_words = f"{point.words or f'in the picture, {n}'} (by picture, ± {within})"
        if point.what == "place":
            continue
        key = f"{photo.id[:50]}-place-{n}"
        sent = job.get(key)
        hole = sent if isinstance(sent, Hole) else Hole(id=key, what=point.what)
        made.append(
            hole.with_(
                member=face.member, face_id=face.id, at_x=at_x, at_y=at_y, place=place_words[:200], what=point.what
            )
        )
    return made
