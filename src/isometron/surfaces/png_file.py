"""The bytes of a PNG picture from painted pixels.

A sheet at 300 dpi is 50 MB of nearly all white, and the toolkit's writer spends ten times its painting on it. Here rows are
told by what differs from the row above, band by band while it is in the processor's cache, and deflated by a quicker library.
Format: *Portable Network Graphics (PNG) Specification*, W3C 2003, sections 5 and 9.2 (filter Up).
"""

from __future__ import annotations

import struct
import zlib

import numpy as np
from numpy.typing import NDArray

from isometron.progress import Tell, unheard

__all__ = ["png_file"]

_BAND = 32
"""Rows worked on at a time."""
_UP, _TRUE_COLOUR, _WITH_ALPHA = 2, 2, 6


def png_file(
    pixels: NDArray[np.uint8], dots_per_metre: int, tell: Tell = unheard, *, with_alpha: bool = False
) -> bytes:
    """Return the PNG of ``pixels`` (H, W, 4): blue, green, red, and how opaque each is; without that one byte that is the same
    everywhere."""
    from isal import isal_zlib  # only when a picture is written

    height, width = pixels.shape[:2]
    packer = isal_zlib.compressobj(1)
    data = []
    for begin in range(0, height, _BAND):
        data.append(packer.compress(_told(pixels, begin, _PLACES if with_alpha else _PLACES[:3])))
        tell(begin / height)
    return b"".join(
        (
            b"\x89PNG\r\n\x1a\n",
            _chunk(
                b"IHDR",
                struct.pack(">IIBBBBB", width, height, 8, _WITH_ALPHA if with_alpha else _TRUE_COLOUR, 0, 0, 0),
            ),
            _chunk(b"sRGB", b"\x00"),  # the colours are those of screens, to be shown as they look there
            _chunk(b"pHYs", struct.pack(">IIB", dots_per_metre, dots_per_metre, 1)),
            _chunk(b"IDAT", b"".join((*data, packer.flush()))),
            _chunk(b"IEND", b""),
        )
    )


_PLACES = ((1, 2), (2, 1), (3, 0), (4, 3))
"""Where red, green, blue and how opaque it is stand in a row of the file, after its first byte, and among a pixel's bytes."""


def _told(pixels: NDArray[np.uint8], begin: int, places: tuple[tuple[int, int], ...]) -> NDArray[np.uint8]:
    """Return rows of a picture as the file has them: a byte for the filter, and each pixel's parts less those above."""
    end, each = min(begin + _BAND, len(pixels)), len(places)
    rows = np.zeros((end - begin, each * pixels.shape[1] + 1), dtype=np.uint8)
    rows[:, 0] = _UP
    band = pixels[max(begin - 1, 0) : end]
    differ = band[1:].view(np.uint32)[..., 0] != band[:-1].view(np.uint32)[..., 0]
    row, column = np.nonzero(differ)
    first = 0
    if begin == 0:  # nothing is above the first row: it is told as it is
        first = 1
        for place, colour in places:
            rows[0, place::each] = pixels[0, :, colour]
    change = band[row + 1, column] - band[row, column]
    for place, colour in places:
        rows[row + first, each * column + place] = change[:, colour]
    return rows


def _chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(data, zlib.crc32(kind)))
