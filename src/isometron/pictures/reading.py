"""What a picture file is, and its pixels upright: read in a bounded way, or refused with words."""

from __future__ import annotations

import io
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from isometron.errors import IsometronError
from isometron.wording import tr

if TYPE_CHECKING:
    from PIL.Image import Image

__all__ = ["MOST_PIXELS", "PictureError", "PictureFacts", "is_pdf", "pdf_pages", "picture_facts", "upright"]

MOST_PIXELS = 100_000_000
_FORMATS = ("PNG", "JPEG", "TIFF", "WEBP")
_ORIENTATION, _EXIF, _FOCAL_35 = 0x0112, 0x8769, 0xA405
_FILM = 36.0
"""mm: the long side of the frame that a 35 mm figure speaks of."""
_PDF_DPI, _PDF_LONGEST, _POINT = 200.0, 4000, 72.0


class PictureError(IsometronError, ValueError):
    """A picture that cannot be read, with the remedy."""


@dataclass(frozen=True)
class PictureFacts:
    """width, height : px, turned upright; focal_px : by the file's own 35 mm figure, None where it tells none."""

    width: int
    height: int
    focal_px: float | None


def is_pdf(data: bytes) -> bool:
    """Whether bytes begin as those of a PDF do."""
    return data[:1024].lstrip()[:5] == b"%PDF-"


@contextmanager
def _opened(source: Path | bytes, name: str) -> Iterator[Image]:
    """Open a picture and decode nothing yet; whatever goes wrong, then or on decoding, is a `PictureError`."""
    from PIL import Image, UnidentifiedImageError  # only pictures need it

    if isinstance(source, Path) and source.exists() and not source.is_file():
        raise PictureError(tr("{name} is no plain file: a pipe or a device would be waited for.", name=name))
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(io.BytesIO(source) if isinstance(source, bytes) else source, formats=_FORMATS) as picture:
                if picture.size[0] * picture.size[1] > MOST_PIXELS:
                    raise PictureError(_too_large(name))
                if min(picture.size) < 2:
                    raise PictureError(tr("{name} is one pixel wide: there is nothing to see on it.", name=name))
                yield picture
    except FileNotFoundError as error:
        raise PictureError(tr("{name} is not there.", name=name)) from error
    except IsADirectoryError as error:
        raise PictureError(tr("{name} is a folder, and no picture.", name=name)) from error
    except Image.DecompressionBombError as error:
        raise PictureError(_too_large(name)) from error
    except PictureError:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, EOFError, MemoryError, OverflowError) as error:
        words = tr(
            "{name} is no picture that can be read: PNG, JPEG, TIFF or WebP ({error}).",
            name=name,
            error=str(error)[:200],
        )
        raise PictureError(words) from error


def picture_facts(source: Path | bytes, name: str = "", page: int = 0) -> PictureFacts:
    """Return a picture's size and what it says of its lens; raises `PictureError` for what is no picture, or too large a one."""
    name = name or str(source if isinstance(source, Path) else tr("the picture"))
    if isinstance(source, bytes) and is_pdf(source):
        width, height = _pdf_page(source, name, page, None).size
        return PictureFacts(width, height, None)
    with _opened(source, name) as picture:
        width, height = picture.size
        exif = picture.getexif()
        turned = exif.get(_ORIENTATION, 1) in (5, 6, 7, 8)
        told = exif.get_ifd(_EXIF).get(_FOCAL_35, 0)
    focal = None
    if isinstance(told, int | float) and 0 < told < 1e4:
        focal = float(told) / _FILM * max(width, height)
    return PictureFacts(height, width, focal) if turned else PictureFacts(width, height, focal)


def upright(data: bytes, name: str, page: int = 0, most: int | None = None) -> Image:
    """Return a picture as it is to be looked at (EXIF turn), RGB of 8 bits, of an animated one the first image.

    most : about how long its longer side is to be, px; it is never made larger than the file has it. Raises `PictureError`.
    """
    from PIL import Image, ImageOps

    if is_pdf(data):
        return _pdf_page(data, name, page, most)
    with _opened(data, name) as picture:
        if most is not None and picture.format == "JPEG":
            picture.draft(None, (most, most))  # decoded at a half, a quarter or an eighth at once
        image = _on_white(ImageOps.exif_transpose(_eight_bits(picture)))
        if most is not None and max(image.size) > most:
            image.thumbnail((most, most), Image.Resampling.BICUBIC, reducing_gap=1.0)
        return image


def _eight_bits(picture: Image) -> Image:
    """Return a picture of 16 bits or of floating numbers with its values spread over 8; others as they are."""
    from PIL import Image

    if not picture.mode.startswith(("I", "F")):
        return picture
    values = np.nan_to_num(np.asarray(picture).astype(np.float64), nan=0.0, posinf=0.0, neginf=0.0)
    most = float(values.max(initial=0.0))
    top = 1.0 if most <= 1.0 else 255.0 if most <= 255.0 else 65535.0
    eight = Image.fromarray(np.clip(values * (255.0 / top), 0.0, 255.0).astype(np.uint8))
    eight.info.update(picture.info)
    return eight


def _on_white(image: Image) -> Image:
    """Return an RGB picture; what is see-through lies on white."""
    from PIL import Image

    if image.mode in ("RGBA", "LA", "PA", "La", "RGBa") or "transparency" in image.info:
        clear = image.convert("RGBA")
        return Image.alpha_composite(Image.new("RGBA", clear.size, (255, 255, 255, 255)), clear).convert("RGB")
    return image.convert("RGB")


def pdf_pages(data: bytes, name: str) -> int:
    """Return how many pages a PDF has; raises `PictureError`."""
    import pypdfium2

    try:
        document = pypdfium2.PdfDocument(data)
    except (pypdfium2.PdfiumError, ValueError) as error:
        raise PictureError(tr("{name} is no PDF that can be read ({error}).", name=name, error=error)) from error
    count = len(document)
    document.close()
    return count


def _pdf_page(data: bytes, name: str, page: int, most: int | None) -> Image:
    """Return a page of a PDF as pixels, at 200 dpi or less where it is large."""
    import pypdfium2

    count = pdf_pages(data, name)
    if not 0 <= page < count:
        raise PictureError(
            tr("{name} has {count} pages; there is no page {page}.", name=name, count=count, page=page + 1)
        )
    document = pypdfium2.PdfDocument(data)
    try:
        sheet = document[page]
        longest = max(sheet.get_size())
        scale = min(_PDF_DPI / _POINT, (most or _PDF_LONGEST) / max(longest, 1.0))
        drawn: Image = sheet.render(scale=scale).to_pil().convert("RGB")
        return drawn
    except (pypdfium2.PdfiumError, ValueError, MemoryError) as error:
        raise PictureError(
            tr("{name}, page {page}, cannot be drawn ({error}).", name=name, page=page + 1, error=error)
        ) from error
    finally:
        document.close()


def _too_large(name: str) -> str:
    return tr(
        "{name} has more than {most} million pixels. Make it smaller first.", name=name, most=MOST_PIXELS // 1_000_000
    )
