"""What is opened, copied, sent, exported and kept: the file dialogs of the window, and why something can't be done."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QMainWindow, QMessageBox

from vernus.core.errors import VernusError
from vernus.desktop import settings
from vernus.desktop.demo import DemoName, demo_source
from vernus.desktop.session import PendingError, Session, UnfinishedError


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
            self.session.told.emit(f"A copy is in {path}.")

    def ask_and_duplicate(self) -> None:
        """Ask what the other job is called and what comes along, write it and go on in it."""
        self._ask_and_write_copy("Duplicate the job", ("ticks", "log", "pictures"), self.session.open_job)

    def ask_and_send(self) -> None:
        """Ask what a friend is to see, and write it as one file to mail."""
        self._ask_and_write_copy("Send to a friend", ("log", "pictures", "prices"), self._tell_sent)

    def _tell_sent(self, path: Path) -> None:
        self.session.told.emit(f"It is in {path}: one file to mail. Your own job is open as before.")

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
                lambda: self.session.told.emit(f"Wrote {len(export_job(job, Path(folder)))} files to {folder}.")
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

        folder = settings.templates_folder()
        start = str(folder / template_file_name(job.machine.name or "machine"))
        self.attempt(lambda: folder.mkdir(parents=True, exist_ok=True))
        name, _ = QFileDialog.getSaveFileName(
            self.window, "Keep the machine as a template", start, "Templates (*.json)"
        )
        if name:
            self.attempt(lambda: self.keep_template(Path(name if name.endswith(".json") else name + ".json")))

    def keep_template(self, path: Path) -> None:
        """Write the job's machine as a template; raises VernusError."""
        from vernus.job.catalog.templates import template_of, write_template

        assert self.session.job is not None
        write_template(template_of(self.session.job.entities(), self.session.job.machine.name or path.stem), path)
        self._offer()
        folder = settings.templates_folder()
        self.session.told.emit(f"The machine is kept in {path}; those in {folder} are offered at Start.")

    def ask_and_import_template(self) -> None:
        """Ask for a template file and offer it at Start from now on."""
        name, _ = QFileDialog.getOpenFileName(self.window, "Import a machine template", "", "Templates (*.json)")
        if name:
            self.attempt(lambda: self.import_template(Path(name)))

    def import_template(self, source: Path) -> None:
        """Check a template file and copy it among the user's own; raises VernusError."""
        from vernus.job.catalog.templates import read_template, template_file_name, write_template

        template = read_template(source)
        write_template(template, settings.templates_folder() / template_file_name(template.label))
        self._offer()
        self.session.told.emit(f"“{template.label}” is offered at Start now.")

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
