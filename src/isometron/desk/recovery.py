"""Autosave and recovery: unsaved work lies in a recovery file whose lock dies with the process that held it."""

from __future__ import annotations

import fcntl
import os
import uuid
from dataclasses import dataclass
from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject, QTimer

from isometron.desk.session import Session
from isometron.document.files import SUFFIX, FileError, encode_document, load_document, write_whole
from isometron.document.model import Document
from isometron.wording import tr

__all__ = ["Abandoned", "Recovery", "abandoned_work"]

_PAUSE_MS = 800


class _Note(msgspec.Struct):
    """What stands beside a recovery file: where the document was saved, if anywhere."""

    path: str | None = None


class Recovery(QObject):
    """Keeps a copy of a session's unsaved work on disk, written once the hand rests; gone when all is saved."""

    def __init__(self, session: Session, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._file = folder / f"{uuid.uuid4().hex}{SUFFIX}"
        self._lock: int | None = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_PAUSE_MS)
        self._timer.timeout.connect(self.write)
        session.file_changed.connect(self._timer.start)

    def write(self) -> bool:
        """Bring the copy in line with the session: written while there is unsaved work, removed when there is none.

        False, with words on the strip, when it could not be written.
        """
        self._timer.stop()
        if not self._session.changed:
            self._remove()
            return True
        try:
            if self._lock is None:
                self._lock = os.open(_lock_of(self._file), os.O_CREAT | os.O_RDWR, 0o600)
                fcntl.flock(self._lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            path = self._session.path
            note = _Note(None if path is None else str(path.resolve()))
            write_whole(msgspec.json.encode(note), _note_of(self._file))
            write_whole(encode_document(self._session.settled), self._file)
        except (OSError, FileError) as error:
            self._session.say(tr("The work is not being kept for recovery: {error}", error=error), caution=True)
            return False
        return True

    def finish(self) -> None:
        """The window closes in good order: nothing is left to recover."""
        self._timer.stop()
        self._remove()

    def _remove(self) -> None:
        if self._lock is not None:
            _discard(self._file)
            os.close(self._lock)
            self._lock = None


@dataclass(frozen=True)
class Abandoned:
    """Work that a process left behind without saving it."""

    file: Path
    document: Document
    path: Path | None

    def discard(self) -> None:
        """Throw it away."""
        _discard(self.file)


def abandoned_work(folder: Path) -> list[Abandoned]:
    """Return the work in ``folder`` that no living process holds, newest first; unreadable leftovers are skipped."""
    found = []
    for file in sorted(folder.glob(f"*{SUFFIX}"), key=lambda f: f.stat().st_mtime, reverse=True):
        if _is_held(file):
            continue
        try:
            document = load_document(file)
            note = msgspec.json.decode(_note_of(file).read_bytes(), type=_Note)
        except (FileError, OSError, msgspec.DecodeError):
            continue
        found.append(Abandoned(file, document, None if note.path is None else Path(note.path)))
    return found


def _is_held(file: Path) -> bool:
    try:
        handle = os.open(_lock_of(file), os.O_RDWR)
    except OSError:
        return False
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return True
    finally:
        os.close(handle)
    return False


def _lock_of(file: Path) -> Path:
    return file.with_suffix(".lock")


def _note_of(file: Path) -> Path:
    return file.with_suffix(".note")


def _discard(file: Path) -> None:
    for each in (file, _note_of(file), _lock_of(file)):
        each.unlink(missing_ok=True)
