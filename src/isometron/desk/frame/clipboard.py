"""Copy and paste of volumes as text, so that it works between windows and with a text editor."""

from __future__ import annotations

import msgspec
from PyQt6.QtWidgets import QApplication

from isometron.desk.frame.picture_intake import lay_bytes, pasted_picture
from isometron.desk.frame.session import Session
from isometron.document.edits import delete_volumes, paste_volumes
from isometron.volumes.kinds import AnyVolume
from isometron.wording import tr

__all__ = ["copy", "cut", "paste"]


class _Clip(msgspec.Struct, forbid_unknown_fields=True):
    """What lies on the clipboard."""

    isometron_volumes: tuple[AnyVolume, ...]


def copy(session: Session) -> bool:
    """Put the selected volumes on the clipboard; False when none is selected."""
    board = QApplication.clipboard()
    if not session.selection or board is None:
        return False
    volumes = tuple(session.document.volume(i) for i in session.selection)
    board.setText(msgspec.json.encode(_Clip(volumes)).decode())
    session.say(
        tr("Copied {name}", name=volumes[0].name)
        if len(volumes) == 1
        else tr("Copied {count} volumes", count=len(volumes))
    )
    return True


def cut(session: Session) -> None:
    """Copy the selected volumes, then delete them."""
    if copy(session):
        session.attempt(delete_volumes, session.selection)


def paste(session: Session) -> None:
    """Add the volumes on the clipboard where they stood, or lay the picture there on the sheet; words when there is neither."""
    board = QApplication.clipboard()
    data = board.mimeData() if board is not None else None
    picture = None if data is None or data.hasText() else pasted_picture(data)
    if picture is not None:
        lay_bytes(session, picture, tr("pasted picture"))
        return
    try:
        clip = msgspec.json.decode((board.text() if board is not None else "").encode(), type=_Clip)
    except (msgspec.DecodeError, UnicodeError, RecursionError):
        session.say(tr("There is no volume and no picture on the clipboard. Copy one first (Ctrl+C)."), caution=True)
        return
    session.attempt(paste_volumes, clip.isometron_volumes)
