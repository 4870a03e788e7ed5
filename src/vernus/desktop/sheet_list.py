"""The sheets there are, with their rooms and keys, and each of them built when it is first looked at."""

from __future__ import annotations

from dataclasses import dataclass
from importlib import import_module
from typing import TYPE_CHECKING

from vernus.desktop.parts.entry import drop_drafts
from vernus.desktop.parts.pages import Pages
from vernus.desktop.session import Session
from vernus.job.sheet_names import SHEET_WORDS

if TYPE_CHECKING:  # a sheet's parts are loaded with the first of them, so that Start opens at once
    from vernus.desktop.parts.sheet import Sheet


@dataclass(frozen=True)
class SheetEntry:
    """A sheet of the route: its name and room, which are its module, and its keys. It is loaded at the first look."""

    name: str
    room: str
    keys: str

    @property
    def title(self) -> str:
        """Its words in menus."""
        return SHEET_WORDS[self.name]

    def load(self) -> type[Sheet]:
        """The sheet's class."""
        words = self.name.split("-")
        module = import_module(".".join(p for p in ("vernus.desktop.sheets", self.room, "_".join(words)) if p))
        found: type[Sheet] = getattr(module, "".join(w.capitalize() for w in words) + "Sheet")
        return found


SHEETS = (
    SheetEntry("scope", "", "Ctrl+J"),
    SheetEntry("machine", "machine", "Ctrl+1"),
    SheetEntry("travel", "machine", "Ctrl+2"),
    SheetEntry("scale", "plan", "Ctrl+3"),
    SheetEntry("faces", "plan", "Ctrl+4"),
    SheetEntry("envelope", "plan", "Ctrl+5"),
    SheetEntry("order", "plan", "Ctrl+6"),
    SheetEntry("receive", "make", "Ctrl+R"),
    SheetEntry("mounts", "make", "Ctrl+M"),
    SheetEntry("fit", "feed", "Ctrl+F"),
    SheetEntry("bracket", "feed", "Ctrl+Shift+B"),
    SheetEntry("mesh", "feed", "Ctrl+Shift+M"),
    SheetEntry("trips", "feed", "Ctrl+Shift+T"),
    SheetEntry("run-in", "feed", "Ctrl+Shift+R"),
    SheetEntry("align", "align", "Ctrl+7"),
    SheetEntry("reader", "align", "Ctrl+E"),
    SheetEntry("cables", "connect", "Ctrl+B"),
    SheetEntry("powerup", "connect", "Ctrl+T"),
    SheetEntry("calibrate", "prove", "Ctrl+8"),
    SheetEntry("positioning", "prove", "Ctrl+I"),
    SheetEntry("part", "prove", "Ctrl+H"),
    SheetEntry("card", "keep", "Ctrl+9"),
    SheetEntry("log", "keep", "Ctrl+L"),
    SheetEntry("paper", "keep", "Ctrl+0"),
)
KEYS = {sheet.name: sheet.keys for sheet in SHEETS}


class Sheets:
    """The sheets by name, each built when it is first looked at, so that the window opens without waiting."""

    def __init__(self, session: Session, stack: Pages) -> None:
        self._session, self._stack = session, stack
        self._built: dict[str, Sheet] = {}

    def __getitem__(self, name: str) -> Sheet:
        if name not in self._built:
            made = next(s for s in SHEETS if s.name == name).load()(self._session)
            self._built[name] = made
            self._session.long.breathe()
            self._stack.addWidget(made)
            self._session.long.breathe()
        return self._built[name]

    def forget(self) -> None:
        """Take every sheet down: nothing that was chosen, unfolded or typed in one job is there in the next."""
        for sheet in self._built.values():
            self._stack.removeWidget(sheet)
            sheet.hide()
            sheet.deleteLater()
        self._built = {}

    def drop_drafts(self, name: str) -> list[str]:
        """Forget what is typed and not taken on a sheet, the only one that can hold any; returns the texts."""
        sheet = self._built.get(name)
        return [] if sheet is None else [t for t in (sheet.drop_draft(), *drop_drafts(sheet)) if t]
