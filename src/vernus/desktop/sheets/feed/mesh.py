"""Mesh: what the gears are, how the chosen school sets them, and the trials until paper, indicator and ear agree."""

from __future__ import annotations

from functools import partial

from vernus.core.finding import Fine, Mm, in_units
from vernus.desktop.parts.pictures import Paint
from vernus.desktop.parts.tables import Column
from vernus.desktop.session import Session
from vernus.desktop.sheets.feed.of_feed import OfFeed
from vernus.job.entities import MeshTrial, PowerFeed
from vernus.job.feed.feed import FeedResult
from vernus.job.fields import LengthEntry
from vernus.paper.drawing.feed.feed import paint_mesh

_TRIAL = {"": ("shim", "paper", "backlash", "loosest", "inner_gap", "outer_gap", "noise")}


class MeshSheet(OfFeed):
    """School and faces, or the trials, on the left; the two gears in mesh on the right."""

    name = "mesh"
    title = "Mesh"
    part = "mesh"
    about = "Mesh of the feed on"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.trials = self.listed(
            "Mesh trials", MeshTrial, _TRIAL, [Column("paper", False), Column("backlash"), Column("ear", False)],
            lambda t: [t.paper or "–", self._told(t.backlash), t.noise or "–"],
        )  # fmt: skip
        self.turned_over(("Setting", self.form()), ("Trials", self.trials))

    def _told(self, backlash: LengthEntry | None) -> str:
        return "–" if backlash is None else backlash.shown(self.session.unit("fine"))

    def show_answer(self, feed: PowerFeed, result: FeedResult) -> None:
        units, mesh = self.session.units, result.mesh
        if mesh.mesh is None:
            self.headline.show_answer(self.session, "gears not known yet")
            return
        under = in_units(
            units, "backlash; {name}, centres {centre} opened by {open}; {ratio:.2f} pairs of teeth in mesh",
            name=mesh.guesses[0].name, centre=Mm(mesh.mesh.centre_mm), open=Fine(mesh.mesh.open_mm),
            ratio=mesh.mesh.contact_ratio,
        )  # fmt: skip
        measured = mesh.measured_mm
        shown = mesh.mesh.backlash_mm if measured is None else measured
        word = "to expect" if measured is None else "measured"
        self.headline.show_answer(
            self.session, in_units(units, "{shown} " + word, shown=Fine(shown)), under, "pass" if mesh.agreed else None
        )

    def rows_of(self, feed: PowerFeed, result: FeedResult) -> list[list[str]]:
        units, mesh = self.session.units, result.mesh
        if not mesh.guesses:
            return []
        first, *others = mesh.guesses
        rows = [[first.name, "likely", mesh.named.text(units) if mesh.named else ""]]
        rows += [
            [g.name, "or", in_units(units, "outside diameter {off} off", off=Fine(g.off_mm, sign=True))] for g in others
        ]
        faces = mesh.engagement
        if faces is not None:
            words = "{mm} in mesh, {share:.0f} % of the narrower"
            rows.append(["faces", "", in_units(units, words, mm=Mm(faces.engaged_mm), share=100 * faces.share)])
        return rows

    def drawing_of(self, feed: PowerFeed, result: FeedResult) -> Paint | None:
        mesh = result.mesh.mesh
        if mesh is None or not (feed.gear_teeth and feed.unit_teeth):
            return None
        teeth = (round(feed.gear_teeth), round(feed.unit_teeth))
        return partial(paint_mesh, mesh=mesh, teeth=teeth, inks=self.session.inks, units=self.session.units)
