"""What a picture file is: its size as it is looked at, and the focal length it tells of; nothing is decoded for that."""

from __future__ import annotations

import warnings
from dataclasses import dataclass
from pathlib import Path

from isometron.errors import IsometronError
from isometron.wording import tr

__all__ = ["PictureError", "PictureFacts", "picture_facts"]

_MOST_PIXELS = 300_000_000
_FORMATS = ("PNG", "JPEG", "TIFF", "WEBP")
_ORIENTATION, _EXIF, _FOCAL_35 = 0x0112, 0x8769, 0xA405
_FILM = 36.0
"""mm: the long side of the frame that a 35 mm figure speaks of."""


class PictureError(IsometronError, ValueError):
    """A picture that cannot be read, with the remedy."""


@dataclass(frozen=True)
class PictureFacts:
    """width, height : px, turned upright; focal_px : by the file's own 35 mm figure, None where it tells none."""

    width: int
    height: int
    focal_px: float | None


def picture_facts(path: Path) -> PictureFacts:
    """Return a picture's size and what it says of its lens; raises `PictureError` for what is no picture, or too large a one."""
    from PIL import Image, UnidentifiedImageError  # only pictures need it

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(path, formats=_FORMATS) as picture:
                width, height = picture.size
                exif = picture.getexif()
                turned = exif.get(_ORIENTATION, 1) in (5, 6, 7, 8)
                told = exif.get_ifd(_EXIF).get(_FOCAL_35, 0)
    except FileNotFoundError as error:
        raise PictureError(tr("{name} is not there.", name=path)) from error
    except (Image.DecompressionBombWarning, Image.DecompressionBombError) as error:
        raise PictureError(_too_large(path)) from error
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError) as error:
        words = tr(
            "{name} is no picture that can be read: PNG, JPEG, TIFF or WebP ({error}).", name=path, error=error
        )
        raise PictureError(words) from error
    if width * height > _MOST_PIXELS:
        raise PictureError(_too_large(path))
    focal = float(told) / _FILM * max(width, height) if told else None
    return PictureFacts(height, width, focal) if turned else PictureFacts(width, height, focal)


def _too_large(path: Path) -> str:
    return tr(
        "{name} has more than {most} million pixels. Make it smaller first.",
        name=path,
        most=_MOST_PIXELS // 1_000_000,
    )
