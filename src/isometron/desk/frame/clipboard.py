"""Copy and paste: volumes as text, which works between windows and with a text editor, and at once as a drawing for other programs."""

from __future__ import annotations

from pathlib import Path

import msgspec
from PyQt6.QtCore import QByteArray, QMetaType, QMimeData
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication

from isometron.desk.frame.picture_intake import lay_bytes, pasted_picture
from isometron.desk.frame.session import Session
from isometron.document.edits import delete_volumes, paste_volumes
from isometron.document.model import Document
from isometron.solve.drawing import solve
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["copy", "cut", "paste"]


class _Clip(msgspec.Struct, forbid_unknown_fields=True):
    """What lies on the clipboard."""

    isometron_volumes: tuple[AnyVolume, ...]


_DPI = 150.0
_SVG, _PNG, _TEXT = "image/svg+xml", "image/png", "text/plain"


class _Drawn(QMimeData):
    """A drawing on the clipboard: it is worked out as SVG or PNG when another program asks for it, and at once as our text."""

    def __init__(self, document: Document, text: str) -> None:
        super().__init__()
        self._document, self._text = document, text
        self._made: dict[str, bytes] = {}

    def formats(self) -> list[str]:
        """Return what it can be had as; the richest first."""
        return [*([_TEXT] if self._text else []), _SVG, _PNG]

    def hasFormat(self, kind: str | None) -> bool:
        """Tell whether it can be had as ``kind``."""
        return kind in self.formats()

    def retrieveData(self, kind: str | None, preferred: QMetaType) -> object:
        """Return the drawing as ``kind``."""
        if kind == _TEXT and self._text:
            return self._text
        ending = {_SVG: ".svg", _PNG: ".png", "application/x-qt-image": ".png"}.get(kind or "")
        if ending is None:
            return None
        if ending not in self._made:
            from isometron.surfaces.export import export_bytes

            self._made[ending] = export_bytes(
                solve(self._document), Path(f"copied{ending}"), dpi=_DPI, construction=False
            )
        data = self._made[ending]
        return QByteArray(data) if kind in (_SVG, _PNG) else QImage.fromData(data)


def copy(session: Session) -> bool:
    """Put the selected volumes on the clipboard, as our text and as a drawing of them; of none the whole sheet, as a drawing.

    True when volumes were copied.
    """
    board = QApplication.clipboard()
    if board is None:
        return False
    if not session.selection:
        board.setMimeData(_Drawn(session.document, ""))
        session.say(tr("Copied the sheet as a picture"))
        return False
    volumes = tuple(session.document.volume(i) for i in session.selection)
    alone = msgspec.structs.replace(session.document, volumes=volumes, planes=(), pictures=())
    board.setMimeData(_Drawn(alone, msgspec.json.encode(_Clip(volumes)).decode()))
    session.say(
        tr("Copied {name}", name=volumes[0].name)
        if len(volumes) == 1
        else tr("Copied {count} volumes", count=len(volumes))
    )
    return True


def copy_edges(session: Session) -> None:
    """Put what the table of edges tells of the selected volume on the clipboard, as a table with tabs between its columns."""
    board, owner = QApplication.clipboard(), session.active
    if board is None or owner is None:
        return
    rows = [tr("direction\ttrue mm\tdrawn mm\tforeshortening %\tslope deg")]
    for edge in session.drawing.measures(owner):
        direction = DIRECTIONS[edge.axis] if edge.axis >= 0 else tr("slanted")
        percent = None if edge.foreshortening is None else 100 * edge.foreshortening
        figures = (edge.true, edge.drawn, percent, edge.slope_deg)
        rows.append("\t".join([direction, *("" if value is None else f"{value:.3f}" for value in figures)]))
    board.setText("\n".join(rows) + "\n")
    session.say(tr("Copied the figures of {count} edges", count=len(rows) - 1))


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
