"""Power feed: fit check, mesh, stops, bracket, commissioning, and the parts taken off."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import partial
from typing import Any, TypeVar

from PySide6.QtCore import QSize
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QPushButton, QStackedWidget, QWidget

from vernus.core.feed.bracket import how_held
from vernus.core.feed.speeds import CHECKS
from vernus.core.finding import Fine, Mm, Sentence, in_units
from vernus.core.machine.stroke import Stroke
from vernus.core.make.hole_rows import HoleRow, hole_said
from vernus.core.units import UnitSystem, format_length, format_plain, format_size
from vernus.desktop.parts.asked_view import AskedView, figures_of
from vernus.desktop.parts.draft import Draft
from vernus.desktop.parts.entity_list import EntityList, Fields
from vernus.desktop.parts.figure_list import FigureList
from vernus.desktop.parts.figure_row import FigureRow
from vernus.desktop.parts.group import Group
from vernus.desktop.parts.marks import MarkName
from vernus.desktop.parts.pictures import Paint, Picture
from vernus.desktop.parts.row import ChoiceRow, PartRow
from vernus.desktop.parts.sheet import Sheet
from vernus.desktop.parts.tables import Column, Table
from vernus.desktop.parts.words import Words
from vernus.desktop.session import Session
from vernus.job.document import new_id
from vernus.job.entities import Axis, Entity, MeshTrial, PowerFeed, RemovedPart, Rework, RunOnTest
from vernus.job.feed.chain import driven_words
from vernus.job.feed.feed import FeedResult, before_of, feed_result, fresh_feed, made_now, put_back, still_to_make
from vernus.job.feed.place import bracket_part
from vernus.job.fields import LengthEntry
from vernus.job.known import feed_of, ran_on_mm
from vernus.paper.drawing.feed.chain import paint_chain
from vernus.paper.drawing.feed.feed import paint_holes, paint_made, paint_mesh
from vernus.paper.drawing.feed.screw import screw_sketch
from vernus.paper.drawing.machine.stroke import paint_stroke
from vernus.paper.drawing.make.part import paint_part
from vernus.paper.pages.feed.feed import REWORKED, WAYS, fit_word
from vernus.paper.pages.machine.stroke import stroke_picture

_FIT = {
    "Screw's end": ("shaft", "shaft_length", "shaft_key", "end_thread", "end_pitch"),
    "Drive gear": ("gear_bore", "gear_key", "gear_drive", "gear_held", "gear_teeth", "gear_outside", "gear_face"),
    "Unit's gear": ("unit_teeth", "unit_outside", "unit_near", "unit_far"),
    "Supply": ("volts", "shop_volts", "phases", "shop_phases", "hertz", "shop_hertz", "transformer"),
    "Nut, dial and wheel": ("nut", "dial", "dial_length", "wheel", "wheel_hub", "wheel_drive", "claws", "rim"),
    "Bracket there is": ("hole_thread", "hole_across", "hole_up", "old_bracket"),
    "Bracket of the kit": ("bracket", "kit_across", "kit_up", "kit_hole", "kit_bracket"),
    "Trip switch": ("switch_thread", "switch_across", "switch_kit", "switch_hole"),
    "Unit's size and place": ("unit_long", "unit_wide", "unit_high", "way", "end", "table_end"),
    "… Kit": ("price", "came", "lacking"),
}  # fmt: skip
_MESH = {
    "School": ("school", "angle", "paper", "wanted"),
    "Faces": ("drive_near", "drive_far"),
}
_STOPS = {
    "Speeds": ("slow_rpm", "fast_rpm", "rapid_rpm", "timed", "timed_s"),
    "Switch, and the stops as they stand": ("switch_s", "brake_s", "clear", "set_low", "set_high"),
}
_BRACKET = {
    "Bearing": ("bearing", "bearing_width", "screw_below"),
    "Unit's holes": ("sits", "pattern_x", "pattern_y", "unit_across", "unit_up", "unit_thread"),
}
_FORMS: Mapping[int, Mapping[str, Sequence[str]]] = {
    0: _FIT, 1: _MESH, 3: _STOPS, 5: _BRACKET, 6: {"": (*CHECKS, "made")}
}  # fmt: skip
_TRIAL = {"": ("shim", "paper", "backlash", "loosest", "inner_gap", "outer_gap", "noise")}
_SECTIONS = (
    "1 Fit check", "2 Mesh", "3 Mesh trials", "4 Speeds and stops", "5 Run-on", "6 Bracket", "7 Commissioning",
    "8 Parts taken off", "9 Made and worked over",
)  # fmt: skip


_KEPT, _WORKED = 7, 8
_MOST_ROWS, _MOST_FITS = 4, 6
E = TypeVar("E", bound=Entity)


class FeedSheet(Sheet):
    """One section of figures on the left, what they mean on the right."""

    name = "feed"
    title = "Power feed"
    caution = (
        "Isolate and lock off before hands go near screw or gears; covers on, handle folded or off while it runs. "
        "Supply and earthing follow local electrical codes."
    )

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._draft: Draft[PowerFeed] = Draft()
        self._result: FeedResult | None = None
        row = ChoiceRow("section", "Section", list(enumerate(_SECTIONS)), lambda n: self.turn_to(int(str(n))))
        self.section = row.box
        QShortcut(QKeySequence("Ctrl+Tab"), self).activated.connect(self._turn_on)
        self.fields: dict[str, FigureRow] = {}
        self.forms: dict[int, FigureList] = {}
        self.lists: list[EntityList] = []
        self._faces: dict[int, QWidget] = {}
        self.stack = QStackedWidget()
        self.entry.addWidget(row)
        self.entry.addWidget(self.stack, 1)
        self.fits = Table("What fits, and what is to be done")
        self.fits.selectionModel().currentRowChanged.connect(lambda now, _was: self._look(now.row()))
        self.fit_rows = PartRow("fits", self.fits)
        self.stack.setCurrentWidget(self._face(0))
        self.words = Words("")
        self.view = Picture("The feed to scale", QSize(300, 150))
        self.below = Table("What is to be done")
        self.below.wrap_words()
        self.to_mounts = QPushButton("Bracket to Mounts: drawing, DXF, 1:1 template")
        self.to_mounts.clicked.connect(self._to_mounts)
        self.sketch = AskedView("The screw's end taken apart", QSize(300, 190), lambda: self.forms[0])
        self.picture.addWidget(self.sketch, 1)
        self.picture.addWidget(self.view, 1)
        self.picture.addWidget(self.words)
        self.picture.addWidget(self.below)
        self.picture.addWidget(self.to_mounts)
        self.blank = QWidget()
        self.picture.addWidget(self.blank, 1)
        self.not_on_bench = [self.below, self.to_mounts]

    def _face(self, section: int) -> QWidget:
        """The entry of a section, built when it is first turned to: there are many figures."""
        if section not in self._faces:
            made = self._build(section)
            self._faces[section] = made
            self.stack.addWidget(made)
        return self._faces[section]

    def _build(self, section: int) -> QWidget:
        session = self.session
        if section in _FORMS:
            return self._form(section)
        if section == 2:
            return self._list(
                "Mesh trials", MeshTrial, _TRIAL,
                [Column("paper", False), Column("backlash"), Column("ear", False)],
                lambda t: [t.paper or "–", self._told(t.backlash), t.noise or "–"],
            )  # fmt: skip
        if section == 4:
            return self._list(
                "Run-on tests", RunOnTest, {"": ("way", "speed", "ran", "tripped", "stood")},
                [Column("running", False), Column("at", False), Column("run-on")],
                lambda t: [session.said(WAYS[t.way]), t.speed, format_plain(ran_on_mm(t), session.units)],
            )  # fmt: skip
        if section == _WORKED:
            return self._list(
                "Worked over", Rework, {"": ("figure", "before", "after", "how", "minutes")},
                [Column("what", False), Column("before"), Column("after")],
                lambda r: [REWORKED[r.figure], self._size(r.before), self._size(r.after)],
                self._made_to,
            )  # fmt: skip
        return self._list(
            "Parts taken off", RemovedPart, {"": ("name", "kept", "back")},
            [Column("part", False), Column("kept", False)],
            lambda p: [p.name, p.kept],
        )  # fmt: skip

    def _form(self, section: int) -> FigureList:
        """The figures of a section, in their groups."""
        session, groups = self.session, []
        if section == 3:
            self.fields["lead"] = FigureRow(session, Axis, "lead", lambda: session.axis)
            groups.append(Group("Screw", [self.fields["lead"]]))
        if section == 0:
            groups.append(Group("What fits", [self.fit_rows], says=self._fits_said))
        for heading, names in _FORMS[section].items():
            settle = {"made": self._as_made}
            made = [FigureRow(session, PowerFeed, n, self._feed, settle=settle.get(n, _as_it_is)) for n in names]
            self.fields |= {row.name: row for row in made}
            groups.append(Group(heading.lstrip("… "), made, aside=heading.startswith("…")))
        self.forms[section] = self.figures(*groups)
        return self.forms[section]

    def _fits_said(self) -> list[str]:
        """How many fit, where any was measured."""
        items = () if self._result is None else self._result.fit.items
        return [f"{sum(i.verdict == 'fits' for i in items)} of {len(items)}"] if items else []

    def _as_made(self, feed: PowerFeed) -> PowerFeed:
        """The feed with what its parts are made to, where it was just said that they are."""
        job, axis = self.session.job, self.session.axis
        if feed.made != "yes" or job is None or axis is None:
            return feed
        made: PowerFeed = feed.with_(made_to=made_now(job, axis, feed))
        return made

    def _made_to(self, work: Rework) -> Rework:
        """What is noted as made, with what it was made to."""
        job, axis, feed = self.session.job, self.session.axis, self._feed()
        if job is None or axis is None or feed is None:
            return work
        stored = job.get(work.id)
        if isinstance(stored, Rework) and stored.figure != work.figure:  # another figure was chosen: its own before
            work = work.with_(before=before_of(job, axis, feed, work))
        if work.figure in PowerFeed.model_fields:
            return work
        made: Rework = work.with_(made_to=made_now(job, axis, feed, work.figure))
        return made

    def _size(self, measured: LengthEntry | None) -> str:
        return "–" if measured is None else format_size(measured.mm, self.session.units)

    def _done(self, work: Rework) -> str:
        """What was done, from which figure to which, and how long it took."""
        both = f"{self._size(work.before)} → {self._size(work.after)}" if work.after is not None else ""
        took = f"{work.minutes:g} min" if work.minutes is not None else ""
        return "; ".join(words for words in (work.how, both, took) if words)

    def _told(self, backlash: LengthEntry | None) -> str:
        return "–" if backlash is None else backlash.shown(self.session.unit("fine"))

    def _list(
        self,
        name: str,
        kind: type[Entity],
        fields: Fields,
        columns: Sequence[Column],
        row: Callable[..., Sequence[str]],
        settle: Callable[[Any], Entity] = lambda entity: entity,
    ) -> EntityList:
        made = EntityList(
            self.session, name, kind, fields, lambda: self._of_axis(kind), columns, row, lambda: self._new(kind),
            settle=settle,
        )  # fmt: skip
        self.lists.append(made)
        made.figures.held.connect(lambda _name: self.show_hand(made.figures))
        return made

    def _of_axis(self, kind: type[E]) -> list[E]:
        axis, job = self.session.axis, self.session.job
        return job.of_axis(kind, axis.id) if axis is not None and job is not None else []

    def _new(self, kind: type[Entity]) -> Entity | None:
        axis = self.session.axis
        if axis is None:
            return None
        made = kind.model_validate({"id": new_id(), "axis_id": axis.id})
        job, feed = self.session.job, self._feed()
        if not isinstance(made, Rework) or job is None or feed is None:
            return made
        begun: Rework = made.with_(before=before_of(job, axis, feed, made))
        return begun

    def _feed(self) -> PowerFeed | None:
        """The feed of the axis; one that isn't in the job yet is kept here until its first figure."""
        axis, job = self.session.axis, self.session.job
        if axis is None or job is None:
            return None
        return feed_of(job, axis) or self._draft.of(axis.id, lambda: fresh_feed(axis, new_id()))

    def _turn_on(self) -> None:
        self.turn_to((self.section.currentIndex() + 1) % len(_SECTIONS))

    def turn_to(self, section: int) -> None:
        """Show a section and put the cursor into it."""
        self.section.setCurrentIndex(section)
        self.stack.setCurrentWidget(self._face(section))
        self.refresh()
        self.focus_entry()

    def focus_entry(self) -> None:
        section = self.section.currentIndex()
        if section in self.forms:
            self.forms[section].hold_first()
        else:
            self._face(section).setFocus()

    def _to_mounts(self) -> None:
        axis, job, feed = self.session.axis, self.session.job, self._feed()
        if axis is None or job is None or feed is None:
            return
        bracket = feed_result(job, axis, feed).bracket
        if bracket is None:
            self.session.told.emit("The bracket isn't solved yet; its measures are under Fit check and Bracket.")
            return
        if self.session.apply("feed bracket", bracket_part(axis, bracket, new_id)):
            self.session.told.emit("The bracket is on the Mounts sheet, with its hole table.")

    def refresh(self) -> None:
        job, axis, feed = self.session.job, self.session.axis, self._feed()
        if job is None or axis is None or feed is None:
            return
        units = self.session.units
        self.heading.setText(f"Power feed on {self.about_axis()}")
        for form in self.forms.values():
            form.refresh()
        for entities in self.lists:
            entities.refresh()
        result = feed_result(job, axis, feed)
        self.advise(self._instruction(result))
        self._show_headline(result)
        self._show_rows(self._rows(result, units))
        self._result = result
        self._show_sketch()
        self._paint()
        self._say_words()
        self.to_mounts.setVisible(self.section.currentIndex() == 5 and not self.on_bench)

    @property
    def table(self) -> Table:
        """The table of the section in view: what fits stands in the list, the others under the drawing."""
        return self.fits if self.section.currentIndex() == 0 else self.below

    def _show_rows(self, rows: list[list[str]]) -> None:
        section = self.section.currentIndex()
        titles = ("part", "kept", "goes back") if section == _KEPT else ("what", "", "in figures")
        if section == 0:
            self.fits.rows.show_rows([Column(title, False) for title in titles], rows)
            self.fits.setColumnHidden(2, True)  # its words stand under the drawing of the row chosen
            self.fits.fix_widths({1: 96})
            self.fit_rows.show_count(len(rows), _MOST_FITS, waits=True)
            self.forms[0].tell()
            self.below.keep_to(0, 0)
            return
        self.below.rows.show_rows([Column(title, False) for title in titles], rows)
        self.below.fix_widths({0: 150, 1: 120} if section in (_KEPT, _WORKED) else {0: 100, 1: 80})
        self.below.resizeRowsToContents()
        self.below.keep_to(0 if self.on_bench else len(rows), _MOST_ROWS)

    def _show_sketch(self) -> None:
        known = self._result is not None and self._result.fit.chain is not None
        shown = self.section.currentIndex() == 0 and not known
        self.sketch.setVisible(shown)
        if shown:
            self.sketch.show_sketch(
                screw_sketch(*figures_of(self.forms[0].rows, self.session.units)), self.session.inks
            )

    def _say_words(self) -> None:
        """What is drawn, in words under it."""
        result, units, section = self._result, self.session.units, self.section.currentIndex()
        words = ""
        if result is not None and section in (3, 4) and result.speeds is not None:
            words = result.speeds.in_words().text(units)
        elif result is not None and section == 0 and result.fit.items:
            first, *others = result.fit.items
            row = self.table.currentIndex().row()
            shown = [first, *(i for i in others if i.verdict != "fits")]
            if 0 <= row < len(result.fit.items):
                shown = [result.fit.items[row]]
            words = " ".join(i.words.text(units) for i in shown)
            feed, chain = self._feed(), result.fit.chain
            if row == 0 and chain is not None and feed is not None:
                words += "".join(f" {said.text(units)}" for _, said in driven_words(chain, feed))
        self.words.setText(words)
        self.words.setVisible(bool(words))

    def _look(self, _row: int) -> None:
        self._say_words()
        self._paint()

    def _paint(self) -> None:
        feed, result = self._feed(), self._result
        drawing = self._picture(feed, result) if feed is not None and result is not None else None
        self.view.show_drawing(drawing)
        self.view.setVisible(drawing is not None)
        self.blank.setVisible(drawing is None and self.sketch.isHidden())

    def _instruction(self, result: FeedResult) -> Sentence:
        section = self.section.currentIndex()
        if section == 0 and result.fit.items and not (result.fit.missing or result.fit.covered):
            return result.fit.in_words(result.unmade)
        if section in (1, 2) and result.mesh.mesh is not None:
            return result.mesh.instruction
        if section in (3, 4):
            return result.stops.instruction
        if section == 5 and result.bracket is not None:
            return result.bracket.instruction
        if section == _WORKED:
            return still_to_make(result.unmade)
        if section == _KEPT:
            return put_back(self._of_axis(RemovedPart))
        return result.instruction

    def _show_headline(self, result: FeedResult) -> None:
        units, section = self.session.units, self.section.currentIndex()
        line, mesh = result.stops.stroke, result.mesh
        grave = any(f.severity == "stop" for f in result.findings)
        if section in (1, 2) and mesh.mesh is not None:
            under = in_units(
                units, "{name}, centres {centre} opened by {open}; {ratio:.2f} pairs of teeth in mesh",
                name=mesh.guesses[0].name, centre=Mm(mesh.mesh.centre_mm), open=Fine(mesh.mesh.open_mm),
                ratio=mesh.mesh.contact_ratio,
            )  # fmt: skip
            measured = mesh.measured_mm
            shown = mesh.mesh.backlash_mm if measured is None else measured
            word = "to expect" if measured is None else "measured"
            self.headline.show_answer(
                self.session,
                in_units(units, "{shown} " + word, shown=Fine(shown)),
                f"backlash; {under}",
                "pass" if mesh.agreed else None,
            )
        elif section in (3, 4) and line is not None and line.trips_mm is not None:
            low = format_plain(line.trips_mm[0], units, with_unit=False)
            high = format_plain(line.trips_mm[1], units)
            sure = "run-on measured" if result.stops.measured else "run-on only estimated"
            ends = self.session.directions.ends
            under = f"trip positions from the {ends[0]} mark; {sure}; {_decided(line, ends)}"
            self.headline.show_answer(self.session, f"{low} to {high}", under, "stop" if grave else None)
        elif section == 5 and result.bracket is not None:
            part = result.bracket.part
            holes = len(part.holes)
            under = in_units(units, "{t} thick, {n} holes and pockets", t=Mm(part.thickness_mm), n=holes)
            long = format_plain(part.length_mm, units, with_unit=False)
            size = in_units(units, "{long} × {wide}", long=long, wide=Mm(part.width_mm))
            stopped = any(f.severity == "stop" for f in result.bracket.findings)
            self.headline.show_answer(self.session, size, under, "stop" if stopped else None)
        elif section == 6:
            done = len(CHECKS) - len(result.open_checks)
            under = "" if not result.open_checks else f"{len(result.open_checks)} still to do"
            mark: MarkName | None = "stop" if grave else None if result.open_checks else "done"
            self.headline.show_answer(self.session, f"{done} of {len(CHECKS)} checked", under, mark)
        elif section == _WORKED:
            worked = self._of_axis(Rework)
            minutes = sum(r.minutes or 0.0 for r in worked)
            under = f"{minutes:g} min of work noted" if minutes else ""
            self.headline.show_answer(self.session, f"{len(worked)} made or worked over", under)
        elif section == _KEPT:
            kept = len(self._of_axis(RemovedPart))
            self.headline.show_answer(self.session, "1 part kept" if kept == 1 else f"{kept} parts kept")
        else:
            asked = [i for i in result.fit.items if i.verdict != "open"]
            fits, open_ = sum(i.verdict == "fits" for i in asked), len(result.fit.missing) + len(result.fit.covered)
            under = f"{open_} figures to measure" if open_ else "everything measured"
            figure = f"{fits} of {len(asked)} fit" if asked else "not measured yet"
            self.headline.show_answer(self.session, figure, under, "done" if result.done else None)

    def _rows(self, result: FeedResult, units: UnitSystem) -> list[list[str]]:
        section = self.section.currentIndex()
        if section == 5:
            rows = [[c.label, "", c.words.text(units)] for c in result.fit.brackets]
            if result.bracket is not None:
                rows += [_hole_row(row, units) for row in result.bracket.rows]
                feed = self._feed()
                held = how_held(result.bracket, feed.unit_thread).text(units) if feed is not None else ""
                rows.append(["unit held by", "", held])
            if result.cover is not None:
                rows.append(
                    [
                        "gear cover",
                        "to make" if "gear cover" in result.unmade else "made",
                        result.cover.words.text(units),
                    ]
                )
            return rows
        if section in (1, 2) and result.mesh.guesses:
            first, *others = result.mesh.guesses
            rows = [[first.name, "likely", result.mesh.named.text(units) if result.mesh.named else ""]]
            rows += [
                [g.name, "or", in_units(units, "outside diameter {off} off", off=Fine(g.off_mm, sign=True))]
                for g in others
            ]
            faces = result.mesh.engagement
            if faces is not None:
                words = "{mm} in mesh, {share:.0f} % of the narrower"
                share = in_units(units, words, mm=Mm(faces.engaged_mm), share=100 * faces.share)
                rows.append(["faces", "", share])
            return rows
        if section == _WORKED:
            noted = [[REWORKED[r.figure], r.created[:10], self._done(r)] for r in self._of_axis(Rework)]
            return [*noted, *([what, "to do", ""] for what in result.unmade)]
        if section == _KEPT:
            return [[p.name, p.kept, p.back] for p in self._of_axis(RemovedPart)]
        if section == 0:
            return [[i.what, fit_word(result, i), i.words.text(units)] for i in result.fit.items]
        return []

    def _picture(self, feed: PowerFeed, result: FeedResult) -> Paint | None:
        inks, units, section = self.session.inks, self.session.units, self.section.currentIndex()
        if section == 5 and result.bracket is not None:
            part = result.bracket.part
            return partial(paint_part, part=part, rows=result.bracket.rows, inks=inks, units=units)
        if section == 0:
            row = self.table.currentIndex().row()
            items = [result.fit.items[row]] if 0 <= row < len(result.fit.items) else []
            for item in items:
                if item.part is not None:
                    return partial(paint_made, part=item.part, inks=inks, units=units)
                if item.holes is not None:
                    return partial(paint_holes, match=item.holes, inks=inks, units=units)
            chain = result.fit.chain
            if chain is not None and (not items or items[0].what == "screw's end"):
                return partial(paint_chain, end=chain.end, plan=chain.plan, inks=inks, units=units)
        mesh = result.mesh.mesh
        if section in (1, 2) and mesh is not None and feed.gear_teeth and feed.unit_teeth:
            teeth = (round(feed.gear_teeth), round(feed.unit_teeth))
            return partial(paint_mesh, mesh=mesh, teeth=teeth, inks=inks, units=units)
        job, axis = self.session.job, self.session.axis
        if section in (3, 4, 6) and result.stops.stroke is not None and job is not None and axis is not None:
            return partial(paint_stroke, picture=stroke_picture(job, axis), inks=inks, units=units)
        return None


def _hole_row(row: HoleRow, units: UnitSystem) -> list[str]:
    x, y = format_length(row.hole.x_mm, units), format_length(row.hole.y_mm, units)
    return [f"hole {row.number}", row.hole.kind, f"{hole_said(row).text(units)}, at x {x}, y {y}"]


def _decided(line: Stroke, ends: tuple[str, str]) -> str:
    """What decides the trips, in words."""
    low, high = line.trips_by
    if low == high == "hard stop":
        return "decided by the hard stops"
    return f"{ends[0]} end by the {low}, {ends[1]} end by the {high}"


def _as_it_is(entity: Any) -> Entity:
    made: Entity = entity
    return made
