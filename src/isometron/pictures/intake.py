"""Taking a picture in: what its file is, how it lies on the sheet at first, and a smaller file where it is too large."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import TYPE_CHECKING

from isometron.document.model import Document
from isometron.document.pictures.picture_edits import fitted
from isometron.document.pictures.sheet_picture import SheetPicture
from isometron.document.store.picture_files import digest_of
from isometron.pictures.reading import is_pdf, picture_facts, upright
from isometron.wording import tr

if TYPE_CHECKING:
    from PIL.Image import Image

__all__ = ["LARGEST_READ", "Taken", "taken_in"]

LARGEST_READ = 256 * 2**20
"""Bytes of a picture's file that are read at most."""
_KEPT_AS_IT_CAME = 4 * 2**20
_QUALITIES = (92, 85, 75, 60)
_LONGEST = 8000


@dataclass(frozen=True)
class Taken:
    """A picture ready to be laid on a sheet, the bytes that are kept of it, and what was done to them, in words."""

    picture: SheetPicture
    data: bytes
    note: str = ""


def taken_in(document: Document, data: bytes, name: str, page: int = 0) -> Taken:
    """Return a picture made of a file's bytes, filling the sheet; raises `PictureError` for what cannot be read."""
    facts = picture_facts(data, name, page)
    note = ""
    if len(data) > _KEPT_AS_IT_CAME or is_pdf(data):
        before, focal = len(data), facts.focal_px
        old = facts.width
        data = _smaller(data, name, page)
        facts = picture_facts(data, name)
        scale = facts.width / old
        facts = type(facts)(facts.width, facts.height, None if focal is None else focal * scale)
        note = tr("{name} ({before} MB) is kept in the document as a JPEG of {after} MB, {width} x {height} pixels.",
                  name=name, before=f"{before / 2**20:.1f}", after=f"{len(data) / 2**20:.1f}", width=facts.width,
                  height=facts.height)  # fmt: skip
    else:
        upright(data, name, most=64)  # a file that breaks off is refused now, not when it is painted
    middle, pixel = fitted(document, facts.width, facts.height)
    picture = SheetPicture(
        id="picture", name=name[:120] or tr("picture"), file=digest_of(data), width=facts.width, height=facts.height,
        focal_px=facts.focal_px or 0.0, middle=middle, pixel=pixel,
        paper=(document.sheet.width, document.sheet.height),
    )  # fmt: skip
    return Taken(picture, data, note)


def _smaller(data: bytes, name: str, page: int) -> bytes:
    """Return a picture as a JPEG of 4 MB at most, upright, as good as that allows."""
    image = upright(data, name, page, _LONGEST)
    while True:
        # A large picture takes long to pack: how well it may be is tried on a part of it.
        part, share = _middle_of(image)
        guess = next(
            (q for q in _QUALITIES if len(_jpeg(part, q)) <= 0.95 * share * _KEPT_AS_IT_CAME), _QUALITIES[-1]
        )
        for quality in _QUALITIES[_QUALITIES.index(guess) :]:
            packed = _jpeg(image, quality)
            if len(packed) <= _KEPT_AS_IT_CAME:
                return packed
        image = image.resize((max(image.width * 3 // 4, 2), max(image.height * 3 // 4, 2)))


def _jpeg(image: Image, quality: int) -> bytes:
    out = io.BytesIO()
    image.save(out, "JPEG", quality=quality)
    return out.getvalue()


def _middle_of(image: Image) -> tuple[Image, float]:
    """Return the middle of a picture, a strip as high as the whole, and which share of it that is."""
    wide = max(image.width // 12, 1)
    left = (image.width - wide) // 2
    return image.crop((left, 0, left + wide, image.height)), wide / image.width
