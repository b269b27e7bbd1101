"""Errors of the program that escape a slot, an event or a thread: logged, said in words, and survived."""

from __future__ import annotations

import faulthandler
import os
import sys
import threading
import time
import traceback
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from types import TracebackType
from typing import TextIO

from isometron.errors import IsometronError
from isometron.wording import tr

__all__ = ["Survivor", "catch_what_escapes", "escaped"]

Survivor = Callable[[str, TracebackType | None, bool], None]
"""Takes words for the person, the traceback, and whether it was painting that failed."""

_LOG_BYTES, _LOGS = 200_000, 3
_MOST_LOGGED = 5
"""Of the same error, in a row: one that comes with every frame must not fill the disk."""
_AGAIN = 4.0
"""s after which an error that every frame makes is told again: other words have been said meanwhile, and the board still stands still."""

_log: Path | None = None
_crashes: TextIO | None = None
_tell: Survivor | None = None
_times: Counter[tuple[str, int]] = Counter()
_told: dict[tuple[str, int], float] = {}


def catch_what_escapes(folder: Path | None, tell: Survivor) -> None:
    """Survive errors from now on: log them in ``folder`` (nowhere for None), and tell windows about them.

    Crashes of the libraries beneath leave their trace in the same folder.
    """
    global _log, _tell, _crashes
    _log = None if folder is None else folder / "errors.log"
    _tell = tell
    sys.excepthook = escaped
    threading.excepthook = lambda event: escaped(event.exc_type, event.exc_value, event.exc_traceback)
    try:
        if folder is not None:
            place = folder / "crash.log"
            if place.exists() and not place.is_file():
                raise OSError(f"{place} is no plain file")  # a pipe would be waited for
            if place.exists() and place.stat().st_size > _LOG_BYTES:
                os.replace(place, folder / "crash.log.1")
            _crashes = open(place, "a", encoding="utf-8")  # noqa: SIM115 (it must outlive everything)
            faulthandler.enable(_crashes)
    except OSError:
        faulthandler.enable()


def escaped(kind: type[BaseException], error: BaseException | None, trace: TracebackType | None) -> None:
    """Take what nothing else has caught; the program goes on."""
    if error is None or not issubclass(kind, Exception):
        sys.__excepthook__(kind, error or kind(), trace)
        return
    try:
        _survive(kind, error, trace)
    except Exception:  # what mends must not break
        traceback.print_exc()
    finally:
        # A painter that the failed frames still hold would keep its window from being painted ever again.
        if trace is not None:
            traceback.clear_frames(trace)


def _survive(kind: type[BaseException], error: BaseException | None, trace: TracebackType | None) -> None:
    frames = list(traceback.walk_tb(trace))
    painting = any(frame.f_code.co_name == "paintEvent" for frame, _ in frames)
    place = (frames[-1][0].f_code.co_filename, frames[-1][1]) if frames else ("", 0)
    _times[place] += 1
    if isinstance(error, IsometronError):
        words = str(error)
    else:
        if _times[place] <= _MOST_LOGGED:
            _write("".join(traceback.format_exception(kind, error, trace)))
        words = _words(painting)
    now = time.monotonic()
    if _tell is not None and not (painting and now < _told.get(place, -_AGAIN) + _AGAIN):
        _told[place] = now
        _tell(words, trace, painting)


def _words(painting: bool) -> str:
    where = "" if _log is None else tr(" What happened is written in {path}.", path=_log)
    if painting:
        return tr("Something could not be drawn, by an error in the program.") + where
    return (
        tr("The last step could not be done, by an error in the program; everything is as it was before it.") + where
    )


def _write(text: str) -> None:
    sys.stderr.write(text)
    if _log is None:
        return
    from logging import Formatter, LogRecord
    from logging.handlers import RotatingFileHandler

    try:
        handler = RotatingFileHandler(
            _log, maxBytes=_LOG_BYTES, backupCount=_LOGS, encoding="utf-8", errors="replace"
        )
        handler.setFormatter(Formatter("%(asctime)s\n%(message)s"))
        handler.emit(LogRecord("isometron", 40, "", 0, text, None, None))
        handler.close()
    except OSError:
        return
