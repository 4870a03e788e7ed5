"""What is kept with the job besides its figures: pictures, what is drawn on them, and what is measured in them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from vernus.job.entities.base import Entity, Name, Number, Text, Value
from vernus.job.fields import LengthEntry, Quantity

PictureId = Annotated[str, Field(pattern=r"^([0-9a-f]{32})?$")]
Share = Annotated[float, Field(allow_inf_nan=False, ge=-0.5, le=1.5)]
"""A place in a picture as a share of its width or height, from the upper left."""


class PhotoPoint(Value):
    """A place in a picture, what is there, and how coarse the view was it was clicked in (picture points)."""

    x: Share
    y: Share
    words: Name = ""
    coarse_px: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1e6)] = 0.0
    what: Annotated[
        Literal["threaded", "plain", "slot", "place"], Field(exclude_if=lambda what: what == "threaded")
    ] = "threaded"
    """What is there: a hole with a thread, one without, a T-slot; a place is none of them and goes to no holes."""


class PhotoArrow(Value):
    """An arrow drawn on a picture, from where its words stand to what it points at."""

    start: PhotoPoint
    end: PhotoPoint


class Photo(Entity):
    """A picture of the job: what it shows, what is drawn on it, and what is measured in it.

    ``picture`` and ``original`` (empty where it wasn't kept) name what is filed in the table of pictures; ``before_id``
    is the picture of the same place before. ``corners`` are those of the thing of known size, in order around it, the
    first side being its length; ``datum`` is where measuring counts from and a second place along its line.
    """

    kind = "photo"
    picture: PictureId
    original: PictureId = ""
    width: Annotated[int, Field(ge=1, le=100_000)]
    height: Annotated[int, Field(ge=1, le=100_000)]
    words: Annotated[Text, Quantity("What it shows", "text")] = ""
    axis_id: Annotated[Name, Quantity("Of the axis", "choice")] = ""
    of: Annotated[Name, Quantity("Shows the step, part or hole", "choice")] = ""
    before_id: Annotated[Name, Quantity("The same place before", "choice")] = ""
    printed: Annotated[Literal["yes", "no"], Quantity("On paper", "choice", choices=(("yes", "yes"), ("no", "no")))] = (
        "yes"
    )
    arrows: Annotated[tuple[PhotoArrow, ...], Field(max_length=100)] = ()
    corners: Annotated[tuple[PhotoPoint, ...], Field(max_length=4)] = ()
    datum: Annotated[tuple[PhotoPoint, ...], Field(max_length=2)] = ()
    points: Annotated[tuple[PhotoPoint, ...], Field(max_length=200)] = ()
    known_length: Annotated[
        LengthEntry | None,
        Quantity("Known thing: its side from corner 1 to 2", low=0, low_open=True, judged="part"),
    ] = None
    known_width: Annotated[
        LengthEntry | None, Quantity("Its side from corner 2 to 3", low=0, low_open=True, judged="part")
    ] = None
    known_within: Annotated[LengthEntry | None, Quantity("Its size is good to ±", "fine", low=0, judged="accuracy")] = (
        None
    )
    proud: Annotated[LengthEntry | None, Quantity("It stands above the face by", low=0, judged="part")] = None
    click_px: Annotated[Number, Quantity("A click is good to ±, picture points", "number", low=0.2, high=100)] = 2.0
