"""Laying pictures on the sheet: opened, dropped or pasted; read beside the window, so that nothing waits."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, QMimeData
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QWidget

from isometron.desk.frame.session import Session
from isometron.document.pictures.picture_edits import lay_picture
from isometron.document.store.disk import read_whole, shown_name
from isometron.errors import IsometronError
from isometron.home import home
from isometron.progress import Tell
from isometron.wording import tr

__all__ = ["PICTURE_ENDINGS", "ask_for_picture", "is_picture", "lay_bytes", "lay_file", "pasted_picture"]

PICTURE_ENDINGS = (".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp", ".pdf")
_FILES = tr("Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.webp *.pdf)")


def is_picture(path: Path) -> bool:
    """Whether a file is taken for a picture, by its name."""
    return path.suffix.lower() in PICTURE_ENDINGS


def ask_for_picture(session: Session, over: QWidget) -> None:
    """Ask for a picture and lay it on the sheet."""
    folder = str(session.path.parent if session.path else home())
    name, _ = QFileDialog.getOpenFileName(over, tr("Lay a picture on the sheet"), folder, _FILES)
    if name:
        lay_file(session, Path(name), over)


def lay_file(session: Session, path: Path, over: QWidget) -> None:
    """Lay a picture's file on the sheet; of a PDF with several pages the one that is asked for."""
    from isometron.pictures.intake import LARGEST_READ  # only pictures need it

    try:
        data = read_whole(path, LARGEST_READ)
        page = _asked_page(data, path, over)
    except IsometronError as error:
        session.say(str(error), caution=True)
        return
    if page is not None:
        lay_bytes(session, data, shown_name(path.name), page)


def _asked_page(data: bytes, path: Path, over: QWidget) -> int | None:
    from isometron.pictures.reading import is_pdf, pdf_pages

    count = pdf_pages(data, shown_name(path.name)) if is_pdf(data) else 1
    if count < 2:
        return 0
    page, taken = QInputDialog.getInt(
        over,
        tr("Page"),
        tr("{name} has {count} pages. Lay which one?", name=shown_name(path.name), count=count),
        1,
        1,
        count,
    )
    return page - 1 if taken else None


def lay_bytes(session: Session, data: bytes, name: str, page: int = 0) -> None:
    """Read a picture beside the window and lay it on the sheet; what cannot be read is said."""
    from isometron.pictures.intake import Taken, taken_in  # only pictures need it
    from isometron.pictures.rasters import pixels_of

    document = session.document

    def work(tell: Tell) -> Taken:
        taken = taken_in(document, data, name, page)
        pixels_of(taken.picture, taken.data)  # decoded here, and there when it is painted
        return taken

    def done(taken: Taken) -> None:
        if session.attempt(lay_picture, taken.picture, taken.data):
            words = tr("Mark its edges (G): pull along them. The eye is found from four to six of them.")
            session.say(f"{taken.note} {words}" if taken.note else words)

    session.beside.run(tr("Reading {name} …", name=name), work, done)


def pasted_picture(data: QMimeData) -> bytes | None:
    """Return the picture that a clipboard holds, as the bytes of a file; None where it holds none."""
    for kind in ("image/jpeg", "image/png", "image/webp", "image/tiff"):
        if data.hasFormat(kind):
            return data.data(kind).data()
    image = data.imageData() if data.hasImage() else None
    if not isinstance(image, QImage) or image.isNull():
        return None
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return buffer.data().data()
