"""Paperwork: new sheets, files, demos, printing, and the question about unsaved work."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QLineEdit, QMessageBox, QWidget

from isometron.demos.catalogue import demo
from isometron.desk.cards.ask_path import ask_path
from isometron.desk.cards.new_sheet import NewSheetDialog
from isometron.desk.controls.words import Question
from isometron.desk.frame.banner import Banner
from isometron.desk.frame.recovery import Abandoned, Recovery, abandoned_work
from isometron.desk.frame.session import Session
from isometron.desk.frame.settings import load_settings, remember_file, remember_sheet
from isometron.document.edits import change_document
from isometron.document.store.disk import beside, shown_name
from isometron.document.store.files import SUFFIX
from isometron.errors import IsometronError
from isometron.home import home
from isometron.wording import tr

__all__ = ["Paperwork"]

_FILES = tr("Isometron documents (*{suffix})", suffix=SUFFIX)


class Paperwork(QObject):
    """What is done with documents as files. Signals: ``sheet_laid`` after a new sheet; ``recent_changed``."""

    sheet_laid = pyqtSignal()
    recent_changed = pyqtSignal()

    def __init__(self, session: Session, over: QWidget) -> None:
        super().__init__(over)
        self._session = session
        self._over = over

    def new_sheet(self) -> None:
        """Ask for a new sheet; the old one is offered for saving first."""
        if not self.may_leave():
            return
        dialog = NewSheetDialog(self._session.document.unit, load_settings().paper, self._over)
        if dialog.exec() and dialog.document is not None:
            self._session.replace(dialog.document, None, saved=False)
            remember_sheet(dialog.document.unit, dialog.paper)
            self.sheet_laid.emit()

    def open_file(self) -> None:
        """Ask for a file and open it."""
        if not self.may_leave():
            return
        name, _ = QFileDialog.getOpenFileName(self._over, tr("Open"), self._folder(), _FILES)
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> None:
        """Open a file; one that cannot be read is said, and the document stays as it was."""
        try:
            self._session.open(path)
        except IsometronError as error:
            self._session.say(str(error), caution=True)
            return
        remember_file(path)
        self.recent_changed.emit()

    def open_recent(self, path: Path) -> None:
        """Open one of the recent files."""
        if self.may_leave():
            self.open_path(path)

    def offer_recovery(self, folder: Path | None, banner: Banner, recovery: Recovery) -> None:
        """Offer work that a crash left behind: a bar above the board, not a question in the way."""
        found = [] if folder is None else abandoned_work(folder)
        if found:
            self._offer(found, banner, recovery)

    def _offer(self, found: list[Abandoned], banner: Banner, recovery: Recovery) -> None:
        """Offer the newest; when it is dropped, the next."""
        work = found[0]

        def bring_back() -> None:
            if self.may_leave():
                self._session.recover(work.document, work.path, work.seen)
                # Thrown away only once its new copy lies on disk.
                if recovery.write():
                    work.discard()

        def drop() -> None:
            work.discard()
            if found[1:]:
                self._offer(found[1:], banner, recovery)

        where = tr(" (saved as {name})", name=shown_name(work.path.name)) if work.path is not None else ""
        banner.offer(
            tr(
                "{title}{where} has work that was not saved when the program stopped.",
                title=work.document.title,
                where=where,
            ),
            (tr("Bring it back"), bring_back),
            (tr("Drop it"), drop),
        )

    def print_on_paper(self) -> None:
        """Print the sheet."""
        from isometron.desk.frame.printing import ask_printer, paint_page

        drawing = self._session.drawing
        printer = ask_printer(drawing, self._over)
        if printer is not None:
            self._session.beside.run(
                tr("Printing …"),
                lambda tell: paint_page(drawing, printer, tell),
                lambda _: self._session.say(
                    tr("Sent to the printer. Measure the bar: it must measure what it says.")
                ),
            )

    def print_preview(self) -> None:
        """Show the printed page."""
        from isometron.desk.frame.printing import preview

        preview(self._session.drawing, self._over)

    def open_demo(self, name: str) -> None:
        """Put a demo on the desk."""
        if self.may_leave():
            self._session.replace(demo(name), None, saved=False)

    def save(self) -> bool:
        """Save where the document came from, or ask."""
        return self.save_as() if self._session.path is None else self._save_to(self._session.path)

    def save_as(self) -> bool:
        """Ask for a name and save there."""
        now = self._session.path
        stem = self._session.document.title if now is None else now.stem
        path = ask_path(self._over, tr("Save as"), Path(self._folder()), stem, SUFFIX, _FILES)
        return path is not None and self._save_to(path)

    def _save_to(self, path: Path) -> bool:
        if self._session.changed_outside(path):
            chosen = self._ask_about_the_other(path)
            if chosen is None:
                return False
            path = chosen
        try:
            self._session.save(path)
        except IsometronError as error:
            self._session.say(str(error), caution=True)
            return False
        remember_file(path)
        self.recent_changed.emit()
        return True

    def _ask_about_the_other(self, path: Path) -> Path | None:
        """The file was written or removed by somebody else: return where to save now, or None for not at all."""
        there = path.exists()
        name = shown_name(path.name)
        free = beside(path, tr("mine"))
        question = Question(
            self._over,
            tr("Saved by somebody else"),
            tr("{name} was changed by another window or program since it was opened here.", name=name)
            if there
            else tr("{name} was removed or renamed since it was opened here.", name=name),
            tr("Keep both: yours is saved as {free}.", free=shown_name(free.name)),
        )
        both = question.addButton(tr("Keep both"), QMessageBox.ButtonRole.AcceptRole)
        over = question.addButton(
            tr("Replace theirs") if there else tr("Save it there again"), QMessageBox.ButtonRole.DestructiveRole
        )
        stay = question.addButton(tr("Stay here"), QMessageBox.ButtonRole.RejectRole)
        question.setDefaultButton(both)
        question.setEscapeButton(stay)
        question.exec()
        if question.clickedButton() is both:
            return free
        return path if question.clickedButton() is over else None

    def _folder(self) -> str:
        return str(self._session.path.parent if self._session.path else home())

    def change_title(self) -> None:
        """Ask for the document's title."""
        now = self._session.document.title
        text, taken = QInputDialog.getText(
            self._over, tr("Title"), tr("What the sheet is called"), QLineEdit.EchoMode.Normal, now
        )
        if taken and text.strip():
            self._session.attempt(change_document, tr("change title"), title=text.strip())

    def may_leave(self) -> bool:
        """Ask about unsaved work; False keeps everything as it is."""
        if not self._session.changed:
            return True
        question = Question(
            self._over,
            tr("Unsaved work"),
            tr("{title} has changes that are not in a file.", title=self._session.document.title),
        )
        save = question.addButton(tr("Save"), QMessageBox.ButtonRole.AcceptRole)
        drop = question.addButton(tr("Drop the changes"), QMessageBox.ButtonRole.DestructiveRole)
        stay = question.addButton(tr("Stay here"), QMessageBox.ButtonRole.RejectRole)
        question.setDefaultButton(save)
        question.setEscapeButton(stay)
        question.exec()
        if question.clickedButton() is save:
            return self.save()
        return question.clickedButton() is drop
