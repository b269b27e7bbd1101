"""The model that the desk's widgets share: document with history, drawing, selection, file. Each change is told once."""

from __future__ import annotations

import sys
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from types import FrameType, TracebackType

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from isometron.desk.frame.long_work import LongWork
from isometron.document.edits import Edit
from isometron.document.history import History
from isometron.document.laid import GivenUp, given_up_words, gives_up
from isometron.document.model import UNTITLED, Document
from isometron.document.store.disk import Seen, shown_name, write_whole
from isometron.document.store.files import open_document, save_document
from isometron.errors import IsometronError
from isometron.progress import Tell
from isometron.solve.again import Again
from isometron.solve.drawing import Drawing, solve
from isometron.volumes.kinds import AnyVolume
from isometron.wording import tr

__all__ = ["Maker", "Session"]

Maker = Callable[[Tell, Callable[[str], None]], bytes]
"""Makes a file's bytes: told how far it is, and what must be said of it."""


_CALM_MS = 80


@dataclass
class _Deed:
    """What the latest deed began from, and who did it: an error in any of these frames is an error of the deed's."""

    history: History
    untouched: bool
    selection: tuple[str, ...]
    frames: frozenset[FrameType]
    running: bool = True
    failed: bool = False

    def forget(self) -> None:
        """Its event is over: what fails from now on is another deed."""
        self.frames = frozenset()


class Session(QObject):
    """One document being worked on.

    Signals: ``document_changed`` after any edit, undo, redo or load; ``previewed`` while a hand is dragging and nothing
    is in the history yet; ``previewed_calmly`` the same a few times a second, for figures that are read and not watched; ``selection_changed``; ``file_changed`` when the path or the saved state may have changed;
    ``ring_picked`` when `picked_ring`, a volume and the number of a ring of it, is another; ``said`` with words for the strip and whether they are a caution.
    """

    document_changed = pyqtSignal()
    previewed = pyqtSignal()
    previewed_calmly = pyqtSignal()
    selection_changed = pyqtSignal()
    file_changed = pyqtSignal()
    replaced = pyqtSignal()
    ring_picked = pyqtSignal()
    said = pyqtSignal(str, bool)

    def __init__(self, document: Document, path: Path | None = None, *, saved: bool = False) -> None:
        super().__init__()
        self._history = History.of(document, saved=saved)
        self._untouched = True
        self._shown: Edit | None = None
        self._deed: _Deed | None = None
        self.beside = LongWork(self)
        self.beside.said.connect(self.said)
        self._calm = QTimer(self)
        self._calm.setSingleShot(True)
        self._calm.setInterval(_CALM_MS)
        self._calm.timeout.connect(self.previewed_calmly)
        self.path = path
        self.along: Callable[[Document, Edit], Edit] | None = None
        self.seen: Seen | None = None
        self.picked_ring: tuple[str, int] | None = None
        self.drawing: Drawing = solve(document)
        self._again = Again(self.drawing)
        self._selection: tuple[str, ...] = ()
        self._given_up: tuple[GivenUp, ...] | None = ()
        self.told = ("", False)

    def pick_ring(self, volume_id: str, number: int) -> None:
        """Say which ring of a volume is meant by what constructs one."""
        self.picked_ring = (volume_id, number)
        self.ring_picked.emit()

    @property
    def given_up(self) -> tuple[GivenUp, ...]:
        """What the edit that is shown would give up of what was laid; else what the latest deed gave up."""
        if self._given_up is None:
            assert self._shown is not None
            self._given_up = gives_up(self.settled, self._shown)
        return self._given_up

    @property
    def document(self) -> Document:
        """The document now; while a hand is dragging, as it would be if the hand let go."""
        return self._history.document if self._shown is None else self._shown.document

    @property
    def settled(self) -> Document:
        """The document of the history, whatever is being dragged: what a drag starts from."""
        return self._history.document

    @property
    def moving(self) -> bool:
        """Whether an edit is shown that is not taken yet: something is being dragged."""
        return self._shown is not None

    def preview(self, edit_of, *arguments, **fields) -> None:
        """Show what an edit of the settled document would give, without taking it. A refused one is said."""
        try:
            edit = edit_of(self.settled, *arguments, **fields)
        except IsometronError as error:
            self.say(str(error), caution=True)
            return
        self.show(edit)

    def show(self, edit: Edit) -> None:
        """Show an edit of the settled document without taking it."""
        self._shown, self._given_up = edit, None
        self.drawing = self._again.solve(self.document)
        self.previewed.emit()
        if not self._calm.isActive():
            self._calm.start()

    def take_preview(self) -> None:
        """Take what is shown as one step of the history."""
        shown, self._shown = self._shown, None
        if shown is not None:
            self.do(shown)
            if self.drawing.document is not self.document:
                self._settle(self._selection)

    def drop_preview(self) -> None:
        """Let go of what is shown: the document is as it was."""
        if self._shown is not None:
            self._shown, self._given_up = None, ()
            self._settle(self._selection)

    @property
    def selection(self) -> tuple[str, ...]:
        """Ids of the selected volumes, in the order of the document."""
        return self._selection

    @property
    def active(self) -> int | None:
        """Position of the one selected volume, or of the last of several; None without selection."""
        return self.document.index_of(self._selection[-1]) if self._selection else None

    @property
    def active_volume(self) -> AnyVolume | None:
        """The one selected volume, or the last of several; None without selection."""
        row = self.active
        return None if row is None else self.document.volumes[row]

    @property
    def name(self) -> str:
        """What the document is called: by its title, or, where nobody gave it one, by its file."""
        usual = self.path is not None and self.document.title == UNTITLED
        return self.path.stem if usual and self.path is not None else self.document.title

    @property
    def changed(self) -> bool:
        """Whether there is work that is not on disk; a demo or an empty sheet that nobody touched is none."""
        return self._history.changed and not self._untouched

    @property
    def undo_name(self) -> str | None:
        """What undo would take back."""
        return self._history.undo_name

    @property
    def redo_name(self) -> str | None:
        """What redo would bring again."""
        return self._history.redo_name

    def do(self, edit: Edit) -> None:
        """Take an edit as one step of the history, with what goes along with every edit; what it gives up of what was laid is said."""
        edit = edit if self.along is None else self.along(self.settled, edit)
        self._shown, self._given_up = None, gives_up(self.settled, edit)
        selection = self._selection if edit.selection is None else edit.selection
        with self._in_a_deed():
            if self._history.do(edit):
                self._untouched = False
                self._settle(selection)
            else:
                self.select(selection)
        given_up = given_up_words(self._given_up) if self._given_up else ""
        self.told = (given_up or edit.told, bool(given_up))
        self.tell()

    def tell(self) -> None:
        """Say what there is to say of the last deed: what it gave up, or what it did where the picture alone does not show it."""
        words, caution = self.told
        if words:
            self.say(words, caution=caution)

    @contextmanager
    def _in_a_deed(self) -> Iterator[None]:
        """What changes the document, all or nothing: an error on the way, or in what is told of it, takes it back."""
        deed = self._deed = _Deed(self._history.kept(), self._untouched, self._selection, _stack())
        QTimer.singleShot(0, deed.forget)
        try:
            yield
        except Exception:
            self._history.put_back(deed.history)
            self._untouched = deed.untouched
            raise
        finally:
            deed.running = False
        if deed.failed:
            self._put_back(deed)

    def back_out(self, traceback: TracebackType | None) -> None:
        """An error escaped: drop what is shown, and take back what the failed deed had already done."""
        deed = self._deed
        if deed is not None and deed.running:
            deed.failed = True  # taken back when it has been told to all
        elif deed is not None and traceback is not None and traceback.tb_frame in deed.frames:
            self._put_back(deed)
        else:
            self.drop_preview()

    def _put_back(self, deed: _Deed) -> None:
        self._shown, self._deed = None, None
        self._history.put_back(deed.history)
        self._untouched = deed.untouched
        self._settle(deed.selection)

    def attempt(self, edit_of, *arguments, **fields) -> bool:
        """Make an edit and take it; an edit that the document refuses is said, and nothing has changed."""
        try:
            edit = edit_of(self.document, *arguments, **fields)
        except IsometronError as error:
            self.say(str(error), caution=True)
            return False
        self.do(edit)
        return True

    def undo(self) -> None:
        """Take the last step back."""
        self._step(self._history.undo, tr("Taken back: {name}", name=self._history.undo_name))

    def redo(self) -> None:
        """Bring the last undone step again."""
        self._step(self._history.redo, tr("Done again: {name}", name=self._history.redo_name))

    def _step(self, step: Callable[[], bool], words: str) -> None:
        self._shown, self._given_up = None, ()
        with self._in_a_deed():
            done = step()
            if done:
                self._settle(self._selection)
        if done:
            self.say(words)

    def _settle(self, selection: tuple[str, ...]) -> None:
        """Solve, bring the selection in line with the document, and only then tell anyone."""
        self.drawing = solve(self.document)
        self._again = Again(self.drawing)
        kept = self._kept(selection)
        moved, self._selection = kept != self._selection, kept
        self.document_changed.emit()
        if moved:
            self.selection_changed.emit()
        self.file_changed.emit()

    def _kept(self, ids: tuple[str, ...]) -> tuple[str, ...]:
        wanted = set(ids)
        return tuple(volume.id for volume in self.document.volumes if volume.id in wanted)

    def select(self, ids: tuple[str, ...]) -> None:
        """Select volumes by id; ids that are gone are dropped. Telling happens only when something changes."""
        kept = self._kept(ids)
        if kept != self._selection:
            self._selection = kept
            self.selection_changed.emit()

    def say(self, words: str, *, caution: bool = False) -> None:
        """Put words on the strip."""
        self.said.emit(words, caution)

    def hand_out(self, path: Path, make: Maker) -> None:
        """Make a file beside the window and write it; say so, and what the maker says of it, or why not."""
        notes: list[str] = []
        self.hand_out_all(path, lambda tell: [(path, make(tell, notes.append))], notes)

    def hand_out_all(
        self, path: Path, make: Callable[[Tell], list[tuple[Path, bytes]]], notes: Sequence[str] = ()
    ) -> None:
        """The same for what may become several files, named after ``path``."""

        def work(tell: Tell) -> list[Path]:
            made = make(tell)
            tell(1.0)
            for target, data in made:
                write_whole(data, target)
            return [target for target, _ in made]

        def done(written: list[Path]) -> None:
            names = shown_name(written[0].name)
            words = tr("Wrote {path} to {parent}", path=names, parent=shown_name(path.parent))
            if len(written) > 1:
                words = tr("Wrote {count} files {first} to {parent}", count=len(written), first=f"{names} …",
                           parent=shown_name(path.parent))  # fmt: skip
            self.say(". ".join((words, *notes)))

        self.beside.run(tr("Writing {path} …", path=shown_name(path.name)), work, done)

    def replace(self, document: Document, path: Path | None, *, saved: bool) -> None:
        """Put another document on the desk, with a history of its own."""
        self._shown, self._deed, self._given_up = None, None, ()
        self._history = History.of(document, saved=saved)
        self._untouched = True
        self.path, self.seen = path, None
        self._settle(())
        self.replaced.emit()

    def recover(self, document: Document, path: Path | None, seen: Seen | None) -> None:
        """Put recovered work on the desk: it counts as unsaved, under the name it was saved as before."""
        self.replace(document, path, saved=False)
        self._untouched, self.seen = False, seen
        self.file_changed.emit()

    def open(self, path: Path) -> None:
        """Load a file; raises `FileError` and leaves the document on the desk as it was."""
        document, seen = open_document(path)
        self.replace(document, path, saved=True)
        self.seen = seen

    def changed_outside(self, path: Path) -> bool:
        """Whether somebody else has written or removed the file since this document was read from it or saved to it."""
        return path == self.path and self.seen is not None and not self.seen.still(path)

    def save(self, path: Path) -> None:
        """Save to a file; raises `FileError` and leaves the old file as it was."""
        self.seen = save_document(self.document, path)
        self.path = path
        self._history.mark_saved()
        self.file_changed.emit()
        self.say(tr("Saved as {path}", path=shown_name(path.name)))


def _stack() -> frozenset[FrameType]:
    frame: FrameType | None = sys._getframe(1)
    found = []
    while frame is not None:
        found.append(frame)
        frame = frame.f_back
    return frozenset(found)
