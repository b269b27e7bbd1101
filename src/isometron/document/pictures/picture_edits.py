"""Edits of pictures on the sheet. What a matched picture is moved by, its eye is moved by too, in one edit."""

from __future__ import annotations

from typing import Any

import msgspec

from isometron.document.edits import Edit
from isometron.document.model import Document, DocumentError, checked
from isometron.document.pictures.placing import in_place, matched_eye
from isometron.document.pictures.sheet_picture import MOST_BYTES, MOST_PICTURES, PictureFile, SheetPicture
from isometron.geometry.frames import half_turn
from isometron.view.sheet import Sheet
from isometron.wording import tr

__all__ = ["change_picture", "crop_picture", "fitted", "lay_picture", "move_picture", "remove_picture", "show_only",
           "with_picture"]  # fmt: skip

_FILLS = 0.96
"""Of the sheet's width or height: so much a picture takes when it is laid down."""


def fitted(document: Document, width: int, height: int) -> tuple[tuple[float, float], float]:
    """Return where the middle of a picture lies on the sheet, mm, and the size of its pixels when it fills the sheet."""
    sheet = document.sheet
    pixel = _FILLS * min(sheet.width / width, sheet.height / height)
    return (sheet.width / 2.0, sheet.height / 2.0), pixel


def lay_picture(document: Document, picture: SheetPicture, data: bytes) -> Edit:
    """Lay a picture on the sheet, its file kept in the document; raises `DocumentError` where there is no room for it."""
    if len(document.pictures) >= MOST_PICTURES:
        raise DocumentError(tr("A document holds {most} pictures. Take one out first.", most=MOST_PICTURES))
    picture = checked(picture, tr("picture {name!r}", name=picture.name))
    names = {other.id for other in document.pictures}
    number = next(n for n in range(1, MOST_PICTURES + 2) if f"picture-{n}" not in names)
    picture = msgspec.structs.replace(picture, id=f"picture-{number}")
    files = document.files
    if picture.file not in {file.digest for file in files}:
        files = (*files, PictureFile(digest=picture.file, data=data))
    whole = sum(len(file.data) for file in files)
    if whole > MOST_BYTES:
        raise DocumentError(
            tr("With this picture the document would hold {there} MB of pictures; {most} MB is the most. Take one out, or make "
               "them smaller.", there=f"{whole / 2**20:.1f}", most=MOST_BYTES // 2**20)
        )  # fmt: skip
    sheet = _sheet_for(document, picture)
    if sheet is not document.sheet:
        document = msgspec.structs.replace(document, sheet=sheet)
        middle, pixel = fitted(document, picture.width, picture.height)
        picture = msgspec.structs.replace(picture, middle=middle, pixel=pixel, paper=(sheet.width, sheet.height))
    # One is worked from at a time: the others are put aside, not lost.
    others = tuple(msgspec.structs.replace(other, hidden=True) for other in document.pictures)
    changed = msgspec.structs.replace(document, pictures=(*others, picture), files=files)
    return Edit(tr("lay {name} on the sheet", name=picture.name), changed)


def _sheet_for(document: Document, picture: SheetPicture) -> Sheet:
    """Return the sheet, stood upright or laid level as the picture is where nothing is drawn on it yet."""
    sheet = document.sheet
    if document.volumes or document.pictures or sheet.landscape == (picture.width > picture.height):
        return sheet
    x, y = sheet.centre_of_vision
    centre = (x * sheet.height / sheet.width, y * sheet.width / sheet.height)
    return Sheet(width=sheet.height, height=sheet.width, centre_of_vision=centre)


def with_picture(document: Document, picture: SheetPicture) -> Document:
    """Return the document with one picture in place of that of its id, every rule checked."""
    picture = checked(picture, tr("picture {name!r}", name=picture.name))
    pictures = tuple(picture if other.id == picture.id else other for other in document.pictures)
    return msgspec.structs.replace(document, pictures=pictures)


def _there(document: Document, picture_id: str) -> SheetPicture:
    picture = document.picture(picture_id)
    if picture is None:
        raise DocumentError(tr("There is no picture {id!r} on this sheet.", id=picture_id))
    return picture


def change_picture(document: Document, picture_id: str, what: str, merges: str = "", **fields: Any) -> Edit:
    """Replace fields of a picture that do not move it: how pale it is, whether it is hidden, what is marked."""
    picture = _there(document, picture_id)
    return Edit(what, with_picture(document, msgspec.structs.replace(picture, **fields)), merges=merges)


def show_only(document: Document, picture_id: str) -> Edit:
    """Show one picture and hide the others."""
    shown = _there(document, picture_id)
    pictures = tuple(msgspec.structs.replace(other, hidden=other.id != picture_id) for other in document.pictures)
    return Edit(tr("work on {name}", name=shown.name), msgspec.structs.replace(document, pictures=pictures))


def move_picture(
    document: Document,
    picture_id: str,
    *,
    middle: tuple[float, float] | None = None,
    pixel: float | None = None,
    turn_deg: float | None = None,
) -> Edit:
    """Move, scale or turn a picture on the sheet. One that lies under the drawing of its own eye takes the eye along:
    viewing distance, centre of vision and roll."""
    picture = _there(document, picture_id)
    moved = msgspec.structs.replace(
        picture,
        middle=picture.middle if middle is None else middle,
        pixel=picture.pixel if pixel is None else pixel,
        turn_deg=picture.turn_deg if turn_deg is None else half_turn(turn_deg),
        paper=(document.sheet.width, document.sheet.height) if picture.camera is None else picture.paper,
    )
    along = picture.camera is not None and in_place(document, picture)
    changed = with_picture(document, moved)
    if along:
        changed = matched_eye(changed, moved)
        checked(changed.eye, tr("the eye of the picture"))
        checked(changed.sheet, tr("the sheet"))
    return Edit(tr("move {name}", name=picture.name), changed)


def crop_picture(document: Document, picture_id: str, shown: tuple[float, float, float, float]) -> Edit:
    """Show only a part of a picture on paper: left, top, right, lower end as shares. Its eye stays what it is."""
    left, top, right, lower = shown
    if not (0.0 <= left < right <= 1.0 and 0.0 <= top < lower <= 1.0):
        raise DocumentError(tr("Nothing of the picture would be left. Cut off less than the whole."))
    return change_picture(document, picture_id, tr("crop the picture"), shown=shown)


def remove_picture(document: Document, picture_id: str) -> Edit:
    """Take a picture off the sheet; its file goes when no other picture is made of it."""
    gone = _there(document, picture_id)
    pictures = tuple(other for other in document.pictures if other.id != picture_id)
    needed = {picture.file for picture in pictures}
    files = tuple(file for file in document.files if file.digest in needed)
    eyes = tuple(
        msgspec.structs.replace(kept, picture="") if kept.picture == picture_id else kept for kept in document.eyes
    )
    changed = msgspec.structs.replace(document, pictures=pictures, files=files, eyes=eyes)
    return Edit(tr("take {name} off the sheet", name=gone.name), changed)
