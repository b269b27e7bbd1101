"""Autosave and recovery: unsaved work lies in a recovery file whose lock dies with the process that held it."""

from __future__ import annotations

import fcntl
import os
import shutil
import threading
import uuid
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from isometron.desk.frame.session import Session
from isometron.document.model import Document
from isometron.document.store.disk import (
    FileError,
    Seen,
    as_text,
    from_text,
    read_whole,
    set_aside,
    sweep,
    write_whole,
)
from isometron.document.store.files import SUFFIX, encode_document, load_document
from isometron.document.store.picture_files import keep_files, with_kept_files, without_files
from isometron.wording import tr

__all__ = ["Abandoned", "Recovery", "abandoned_work"]

_PAUSE_S = 0.8
"""From the first edit that is not kept yet to its writing: the edits of that time are written together."""
_LARGEST_NOTE = 2**16


class _Note(msgspec.Struct):
    """What stands beside a recovery file: where the document was saved, if anywhere, and what lay there then."""

    path: str | None = None
    digest: str = ""


@dataclass(frozen=True)
class _Copy:
    """What the writer is asked to have on disk: unsaved work, or nothing."""

    document: Document | None
    note: _Note


class Recovery(QObject):
    """Keeps a copy of a session's unsaved work on disk, at most two seconds old; gone when all is saved.

    A thread of its own waits for a moment after the first edit, however busy the hand or the window is, writes what is
    there by then, and begins again. Without a ``folder`` nothing is kept.
    """

    _failed = pyqtSignal(str)

    def __init__(self, session: Session, folder: Path | None, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._file = None if folder is None else folder / f"{uuid.uuid4().hex}{SUFFIX}"
        self._lock: int | None = None
        self._kept: set[str] = set()
        self._news = threading.Condition()
        self._writing = threading.Lock()
        self._wanted: _Copy | None = None
        self._ended = False
        self._thread: threading.Thread | None = None
        self._failed.connect(lambda words: session.say(words, caution=True))
        session.file_changed.connect(self._note_work)

    @property
    def works(self) -> bool:
        """Whether there is a folder to write to."""
        return self._file is not None

    def _now(self) -> _Copy:
        session = self._session
        path = session.path
        note = _Note(
            None if path is None else as_text(path.absolute()), session.seen.digest.hex() if session.seen else ""
        )
        return _Copy(session.settled if session.changed else None, note)

    def _note_work(self) -> None:
        """Tell the writer what is to be kept; the first time, begin it."""
        if self._file is None or self._ended:
            return
        copy = self._now()
        if self._thread is None:
            if copy.document is None:
                return
            self._thread = threading.Thread(target=self._keep, name="recovery", daemon=True)
            self._thread.start()
        with self._news:
            self._wanted = copy
            self._news.notify()

    def _keep(self) -> None:
        while True:
            with self._news:
                self._news.wait_for(lambda: self._wanted is not None or self._ended)
                self._news.wait_for(lambda: self._ended, _PAUSE_S)
                if self._ended:
                    return
            words = self._write_wanted()
            if words:
                with suppress(RuntimeError):  # the window is gone
                    self._failed.emit(words)

    def _write_wanted(self) -> str:
        """Bring the disk in line with what is wanted; returns words when that failed."""
        with self._writing:
            with self._news:
                copy, self._wanted = self._wanted, None
            if copy is None or self._file is None:
                return ""
            try:
                self._put(self._file, copy)
            except (OSError, FileError, ValueError) as error:
                return tr("The work could not be backed up: {error}", error=error)
            return ""

    def _put(self, file: Path, copy: _Copy) -> None:
        if copy.document is None:
            self._remove()
            return
        if self._lock is None:
            lock = os.open(_lock_of(file), os.O_CREAT | os.O_RDWR | os.O_CLOEXEC, 0o600)
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            self._lock = lock
        write_whole(msgspec.json.encode(copy.note), _note_of(file))
        keep_files(copy.document, _pictures_of(file), self._kept)
        write_whole(encode_document(without_files(copy.document)), file)

    def write(self) -> bool:
        """Bring the copy in line with the session now; False, with words on the strip, when it could not be written."""
        if self._file is None:
            return False
        with self._news:
            self._wanted = self._now()
        words = self._write_wanted()
        if words:
            self._session.say(words, caution=True)
        return not words

    def finish(self) -> None:
        """The window closes in good order: nothing is left to recover."""
        with self._news:
            self._ended = True
            self._wanted = None
            self._news.notify()
        if self._thread is not None:
            self._thread.join()
            self._thread = None
        self._remove()

    def _remove(self) -> None:
        if self._lock is not None and self._file is not None:
            _discard(self._file)
            self._kept.clear()
            os.close(self._lock)
            self._lock = None


@dataclass(frozen=True)
class Abandoned:
    """Work that a process left behind without saving it."""

    file: Path
    document: Document
    path: Path | None
    seen: Seen | None = None

    def discard(self) -> None:
        """Throw it away."""
        _discard(self.file)


def abandoned_work(folder: Path) -> list[Abandoned]:
    """Return the work in ``folder`` that no living process holds, newest first.

    What cannot be read is set aside, and what killed saves left is removed.
    """
    sweep(folder)
    found = []
    for file in sorted(folder.glob(f"*{SUFFIX}"), key=_when, reverse=True):
        if _is_held(file):
            continue
        try:
            document = with_kept_files(load_document(file), _pictures_of(file))
        except FileError:
            set_aside(file)
            _discard(file)
            continue
        note = _read_note(_note_of(file))
        known = Seen((0, 0, 0, 0), bytes.fromhex(note.digest)) if note.digest else None
        found.append(Abandoned(file, document, None if note.path is None else from_text(note.path), known))
    return found


def _when(file: Path) -> float:
    try:
        return os.lstat(file).st_mtime
    except OSError:
        return 0.0


def _read_note(file: Path) -> _Note:
    """Return a note; an empty one for what cannot be used, which is set aside."""
    try:
        note = msgspec.json.decode(read_whole(file, _LARGEST_NOTE), type=_Note)
        bytes.fromhex(note.digest)
        if "\0" not in (note.path or ""):
            return note
    except (FileError, ValueError, RecursionError):
        pass
    if os.path.lexists(file):
        set_aside(file)
    return _Note()


def _is_held(file: Path) -> bool:
    try:
        handle = os.open(_lock_of(file), os.O_RDWR | os.O_NONBLOCK | os.O_CLOEXEC)
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


def _pictures_of(file: Path) -> Path:
    """Return the folder of the picture files of recovered work, each once under its digest."""
    return file.with_suffix(".pictures")


def _discard(file: Path) -> None:
    shutil.rmtree(_pictures_of(file), ignore_errors=True)
    for each in (file, _note_of(file), _lock_of(file)):
        with suppress(OSError):
            each.unlink(missing_ok=True)
