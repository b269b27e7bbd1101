"""Whether there is a display to open a window on: asked first, because the toolkit answers by aborting."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager, suppress

from PyQt6.QtCore import QMessageLogContext, QtMsgType, qInstallMessageHandler

from isometron.errors import IsometronError
from isometron.wording import tr

__all__ = ["NoDisplayError", "need_display", "words_for_a_fatal_end"]

_WAIT_S = 5.0
_HELLO = b"l\0\x0b\0\0\0\0\0\0\0\0\0"
"""The X protocol's greeting, little end first, version 11, without authorisation: any server answers it, if only to refuse."""


class NoDisplayError(IsometronError, RuntimeError):
    """No window can be shown; the message says why and what works without one."""


def _without() -> str:
    return tr(
        "Start it from a desktop session; without one, isometron export, report and shot do their work all the same."
    )


def need_display() -> None:
    """Raise `NoDisplayError` when there is no display, or one that does not answer within five seconds."""
    if sys.platform != "linux" or os.environ.get("QT_QPA_PLATFORM"):
        return
    wayland, x = os.environ.get("WAYLAND_DISPLAY"), os.environ.get("DISPLAY")
    if not (wayland or x):
        raise NoDisplayError(tr("There is no display to open a window on. {without}", without=_without()))
    if not wayland and x and not _answers(x):
        raise NoDisplayError(tr("The display {name!r} does not answer. {without}", name=x, without=_without()))


def _answers(name: str) -> bool:
    """Whether an X server listens at a display's name such as ``:0`` or ``host:10.0`` and says anything."""
    import re  # on most desktops nobody asks
    import socket

    match = re.fullmatch(r"(?:(?P<host>[^:/]*)|(?P<kind>\w+)/(?P<where>.*)):(?P<number>\d+)(?:\.\d+)?", name)
    if match is None:
        return not re.search(r":\d", name) and os.path.exists(name)  # a socket by its path, else no name at all
    number = int(match["number"])
    if match["host"] and match["host"] != "unix":
        places: list[tuple[int, object]] = [(socket.AF_INET, (match["host"], 6000 + number))]
    else:
        path = f"/tmp/.X11-unix/X{number}"
        places = [
            (socket.AF_UNIX, f"\0{path}"),
            (socket.AF_UNIX, path),
            (socket.AF_INET, ("127.0.0.1", 6000 + number)),
        ]
    return any(_greets(family, place) for family, place in places)


def _greets(family: int, place: object) -> bool:
    import socket

    with suppress(OSError, OverflowError, UnicodeError), socket.socket(family, socket.SOCK_STREAM) as line:
        line.settimeout(_WAIT_S)
        line.connect(place)  # type: ignore[arg-type]
        line.sendall(_HELLO)
        return bool(line.recv(1))
    return False


@contextmanager
def words_for_a_fatal_end() -> Iterator[None]:
    """While the toolkit starts: what makes it abort is said in words, and the exit code is that of bad input."""

    def handle(kind: QtMsgType, context: QMessageLogContext, message: str | None) -> None:
        if kind == QtMsgType.QtFatalMsg:
            reason = (message or "").splitlines()[0] if message else ""
            words = tr("isometron: No window can be shown: {reason} {without}", reason=reason, without=_without())
            os.write(2, (words + "\n").encode(errors="backslashreplace"))
            os._exit(2)
        if kind != QtMsgType.QtDebugMsg:
            os.write(2, ((message or "") + "\n").encode(errors="backslashreplace"))

    before = qInstallMessageHandler(handle)
    try:
        yield
    finally:
        qInstallMessageHandler(before)
