"""What is opened, copied, sent, exported and kept: the file dialogs of the window, and why something can't be done."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QInputDialog, QMainWindow, QMessageBox

from vernus.core.errors import BadInputError, VernusError
from vernus.desktop import settings
from vernus.desktop.demo import DemoName, demo_source
from vernus.desktop.session import PendingError, Session, UnfinishedError
from vernus.job.disk import make_folder, shown
from vernus.job.formats.json_text import read_json


class JobFiles:
    """The files of a window; ``refuse`` shows why something can't be done, ``offer`` what Start has to offer now."""

    def __init__(
        self, window: QMainWindow, session: Session, refuse: Callable[[str], object], offer: Callable[[], object]
    ) -> None:
        self.window, self.session = window, session
        self._refuse, self._offer = refuse, offer

    def say_saved(self) -> None:
        job = self.session.job
        if job is None:
            return
        if job.pending:
            self.session.retry()
        else:
            self.window.statusBar().showMessage(
                f"Every accepted entry is already in {job.path}; there is nothing to save.", 12_000
            )

    def ask_and_open(self) -> None:
        """Ask for a job file and open it."""
        name, _ = QFileDialog.getOpenFileName(
            self.window, "Open a job", str(settings.jobs_folder()), "Vernus jobs (*.vernus)"
        )
        if name:
            self.attempt(lambda: self.session.open_job(Path(name)))

    def open_demo(self, name: DemoName = "mill") -> None:
        """Open a demo job, written afresh."""
        self.attempt(lambda: self.session.open_demo(settings.demo_path(name), demo_source(name)))

    def ask_and_copy(self) -> None:
        """Ask for a name and save a copy there."""
        path = self._ask_new("Save a copy")
        job = self.session.job
        if path is not None and job is not None and self.attempt(lambda: job.save_copy(path, replace=True)):
            self.session.notice.emit(f"A copy is in {path}.")

    def ask_and_duplicate(self) -> None:
        """Ask what the other job is called and what comes along, write it and go on in it."""
        self._ask_and_write_copy("Duplicate the job", ("ticks", "log", "pictures"), self.session.open_job)

    def ask_and_send(self) -> None:
        """Ask what a friend is to see, and write it as one file to mail."""
        self._ask_and_write_copy("Send to a friend", ("log", "pictures", "prices"), self._tell_sent)

    def _tell_sent(self, path: Path) -> None:
        self.session.notice.emit(f"It is in {path}: one file to mail. Your own job is open as before.")

    def _ask_and_write_copy(self, heading: str, ask: tuple[str, ...], then: Callable[[Path], None]) -> None:
        job = self.session.job
        if job is None:
            return
        from vernus.desktop.copy_dialog import CopyDialog
        from vernus.job.catalog.copies import Along

        sending = "prices" in ask
        along = Along(prices=not sending, log=not sending)
        dialog = CopyDialog(self.window, heading, job.info.title, along, ask)
        if dialog.exec() != CopyDialog.DialogCode.Accepted:
            return
        path = self._ask_new(heading)
        if path is not None and self.attempt(
            lambda: self.session.write_copy(path, dialog.title.text(), dialog.along())
        ):
            self.attempt(lambda: then(path))

    def ask_and_export(self) -> None:
        """Ask for a folder and write JSON and CSV into it."""
        job = self.session.job
        folder = QFileDialog.getExistingDirectory(self.window, "Folder for the export") if job else ""
        if folder and job is not None:
            from vernus.job.formats.exchange import export_job

            self.attempt(
                lambda: self.session.notice.emit(f"Wrote {len(export_job(job, Path(folder)))} files to {folder}.")
            )

    def ask_and_import(self) -> None:
        """Ask for an export and for the file to make of it."""
        kinds = "Exports and job files (job.json *.vernus)"
        name, _ = QFileDialog.getOpenFileName(self.window, "Import an export, or recover a job file", "", kinds)
        path = self._ask_new("Make a job of it") if name else None
        if path is not None and self.attempt(lambda: self.session.import_job(Path(name), path)):
            self._ask_title()

    def _ask_title(self) -> None:
        """What the job is called that was just made of another."""
        from vernus.desktop.copy_dialog import CopyDialog
        from vernus.job.catalog.copies import Along

        job = self.session.job
        if job is None:
            return
        dialog = CopyDialog(self.window, "A job of its own", job.info.title, Along(), ())
        if dialog.exec() == CopyDialog.DialogCode.Accepted and dialog.title.text().strip():
            self.session.apply("name the job", [job.info.with_(title=dialog.title.text().strip())])

    def ask_and_keep_template(self) -> None:
        """Ask for a file and write the job's machine there as a template."""
        job = self.session.job
        if job is None:
            return
        from vernus.job.catalog.templates import template_file_name

        proposed = settings.templates_folder() / template_file_name(job.machine.name or "machine")
        name = self._ask_kept("Keep the machine as a template", proposed)
        by = self._ask_who() if name is not None else None
        if name is not None and by is not None:
            self.attempt(lambda: self.keep_template(name, by))

    def _ask_kept(self, title: str, proposed: Path) -> Path | None:
        """Where a machine or family is kept as JSON."""
        self.attempt(lambda: make_folder(proposed.parent))
        name, _ = QFileDialog.getSaveFileName(self.window, title, str(proposed), "JSON (*.json)")
        return Path(name if name.endswith(".json") else name + ".json") if name else None

    def _ask_who(self) -> str | None:
        """Who measured it, as it is to stand in the file; None where that was left."""
        job = self.session.job
        words = "Measured by (a name or a workshop; it stands in the file, and may stay empty)"
        who, taken = QInputDialog.getText(self.window, "Vernus", words, text="" if job is None else job.info.workshop)
        return who.strip()[:200] if taken else None

    def keep_template(self, path: Path, by: str = "") -> None:
        """Write the job's machine as a template, with who measured it and today's date; raises VernusError."""
        from vernus.job.catalog.templates import template_of, write_template

        job = self.session.job
        assert job is not None
        made = template_of(job.entities(), job.machine.name or path.stem)
        write_template(made.model_copy(update={"by": by, "on": job.now().date().isoformat()}), path)
        self._offer()
        folder = settings.templates_folder()
        self.session.notice.emit(f"The machine is kept in {path}; those in {folder} are offered at Start.")

    def ask_and_keep_family(self) -> None:
        """Ask for a file and write there what is known of the scale family in view."""
        job, axis = self.session.job, self.session.axis
        if job is None or axis is None:
            return
        from vernus.job.catalog.shared import family_file_name, shared_family, write_family
        from vernus.job.known.axis_figures import plan_of

        plan = plan_of(job, axis)

        def keep() -> None:
            nobodys = shared_family(job, plan.family if plan is not None else "", "", job.now().date())
            by = self._ask_who()
            if by is None:
                return
            shared = nobodys.model_copy(update={"by": by})
            path = self._ask_kept("Keep the scale family", settings.families_folder() / family_file_name(shared))
            if path is not None:
                write_family(shared, path)
                self._offer()
                self.session.notice.emit(f"“{shared.said()}” is kept in {path}; new jobs know it.")

        self.attempt(keep)

    def ask_and_take_shared(self) -> None:
        """Ask for a machine or a scale family that somebody sent, and take it in."""
        title, kinds = "Take in a machine or a scale family", "Machines and families (*.json)"
        name, _ = QFileDialog.getOpenFileName(self.window, title, "", kinds)
        if name:
            self.attempt(lambda: self.take_shared(Path(name)))

    def take_shared(self, source: Path) -> None:
        """Take in a machine's template or a scale family, by what the file says it is; raises VernusError."""
        data = read_json(source)
        if isinstance(data, dict) and data.get("format") == "vernus-family":
            self.import_family(source)
        elif isinstance(data, dict) and data.get("format") == "vernus-job":
            raise BadInputError(f"{shown(source)} is a whole job; Job, Import an export… makes a job file of it.")
        else:
            self.import_template(source)

    def import_template(self, source: Path) -> None:
        """Check a template file and copy it among the user's own; raises VernusError."""
        from vernus.job.catalog.templates import read_template, template_file_name, write_template

        template = read_template(source)
        write_template(template, settings.templates_folder() / template_file_name(template.label))
        self._offer()
        self.session.notice.emit(f"“{template.label}” is offered at Start now.")

    def import_family(self, source: Path) -> None:
        """Check a family file, keep it, and put its figures into the open job; raises VernusError."""
        from vernus.job.catalog.shared import family_file_name, read_family, write_family
        from vernus.job.document import new_id
        from vernus.job.entities import FamilyEdit

        shared, job = read_family(source), self.session.job
        write_family(shared, settings.families_folder() / family_file_name(shared))
        self._offer()
        into = ""
        if job is not None and not job.read_only_because:
            there = next((e for e in job.all(FamilyEdit) if e.family == shared.family), None)
            self.session.apply("take in a family", [shared.entity(new_id()) if there is None else shared.into(there)])
            into = ", this one too (Ctrl+Z takes it out again)"
        self.session.notice.emit(f"“{shared.said()}” is kept; new jobs know it{into}.")

    def drop(self, paths: list[Path]) -> None:
        """Files dropped on the window: a job is opened, a machine or a family is taken in."""
        for path in paths[:20]:
            if path.suffix == ".vernus":
                self.attempt(lambda path=path: self.session.open_job(path))  # type: ignore[misc]
                return
            self.attempt(lambda path=path: self.take_shared(path))  # type: ignore[misc]

    def _ask_new(self, title: str) -> Path | None:
        start = str(settings.jobs_folder() / "copy.vernus")
        name, _ = QFileDialog.getSaveFileName(self.window, title, start, "Vernus jobs (*.vernus)")
        return Path(name if name.endswith(".vernus") else name + ".vernus") if name else None

    def attempt(self, act: Callable[[], object]) -> bool:
        """Do something that may fail, and say why if it does."""
        try:
            act()
        except PendingError as error:
            return self._ask_to_leave(str(error)) and self.attempt(act)
        except UnfinishedError as error:
            return self._ask_to_wait(str(error)) and self.attempt(act)
        except VernusError as error:
            self._refuse(str(error))
            return False
        return True

    def _ask_to_wait(self, why: str) -> bool:
        """Whether what is still being taken in is left out; true when the job may be left now."""
        text = f"{why} Wait until they are in, or leave the rest out?"
        box = QMessageBox(QMessageBox.Icon.Question, "Vernus", text, parent=self.window)
        box.setTextFormat(Qt.TextFormat.PlainText)
        leave = box.addButton("Leave the rest out", QMessageBox.ButtonRole.DestructiveRole)
        wait = box.addButton("Wait", QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(wait)
        box.setEscapeButton(wait)
        box.exec()
        if box.clickedButton() is not leave:
            return False
        self.session.leave_unfinished()
        return True

    def _ask_to_leave(self, why: str) -> bool:
        """What is to become of edits that could not be written; true when the job may be left now."""
        text = f"{why} Save a copy elsewhere, or leave it behind: it is lost then."
        box = QMessageBox(QMessageBox.Icon.Warning, "Vernus", text, parent=self.window)
        box.setTextFormat(Qt.TextFormat.PlainText)
        copy = box.addButton("Save a copy as…", QMessageBox.ButtonRole.AcceptRole)
        leave = box.addButton("Leave it behind", QMessageBox.ButtonRole.DestructiveRole)
        stay = box.addButton("Stay", QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(copy)
        box.setEscapeButton(stay)
        box.exec()
        if box.clickedButton() is leave:
            self.session.forget_pending()
            return True
        if box.clickedButton() is copy:
            self.ask_and_copy()
        job = self.session.job
        return job is None or job.copied
