# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""Smooth lines written straight into a picture's pixels: many short ones, where a painter spends its time between them."""

import cython
from cython.cimports.libc.math import fabs, sqrt

from isometron.geometry.tolerances import CLOSE

__all__ = ["Raster"]

_CLOSE = cython.declare(cython.double, CLOSE)

_OVERLAP = cython.declare(cython.double, 0.25)  # pixels by which a line is longer at each end, so that joints close
_OPAQUE = cython.declare(cython.uint, 0xFF000000)
_LONGEST = cython.declare(cython.double, 1e7)  # pixels; no sheet is as large, and rows are counted in whole numbers


@cython.final
@cython.cclass
class Raster:
    """The pixels of a picture, 0xffRRGGBB, and the only part of it that may be drawn on.

    A pixel takes as much of a line's colour as the line covers of it: in each column (of a line that is wider than high,
    else row) the share of its height, at the ends times the share of its length. Lines lie on corners of pixels: (0, 0)
    is the upper left corner of the first.
    """

    pixels: cython.uint[::1]
    stride: cython.Py_ssize_t
    left: cython.Py_ssize_t
    top: cython.Py_ssize_t
    right: cython.Py_ssize_t
    bottom: cython.Py_ssize_t
    colour: cython.uint

    def __init__(self, pixels, stride: cython.Py_ssize_t):
        """``pixels``: (height x stride,) uint32, row by row."""
        self.pixels, self.stride = pixels, stride
        self.clip_to(0, 0, stride, len(pixels) // max(stride, 1))

    def clip_to(
        self, left: cython.Py_ssize_t, top: cython.Py_ssize_t, right: cython.Py_ssize_t, bottom: cython.Py_ssize_t
    ):
        """Draw only on columns left to right and rows top to bottom (both without the last), where there are any."""
        self.left, self.top = max(left, 0), max(top, 0)
        self.right, self.bottom = min(right, self.stride), min(bottom, len(self.pixels) // max(self.stride, 1))

    def draw(self, lines: cython.double[:, ::1], colour: cython.uint, width: cython.double):
        """Draw lines (N, 4) x1, y1, x2, y2 in one colour 0xRRGGBB and of one width, all in pixels."""
        k: cython.Py_ssize_t
        self.colour = colour | _OPAQUE
        if self.right <= self.left or self.bottom <= self.top:
            return
        for k in range(lines.shape[0]):
            self._line(lines[k, 0], lines[k, 1], lines[k, 2], lines[k, 3], width)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _line(
        self, x0: cython.double, y0: cython.double, x1: cython.double, y1: cython.double, width: cython.double
    ) -> cython.void:
        dx: cython.double = x1 - x0
        dy: cython.double = y1 - y0
        length: cython.double = sqrt(dx * dx + dy * dy)
        if not length < _LONGEST:
            return
        if length < _CLOSE:
            dx, dy, length = _CLOSE, 0.0, _CLOSE
        if fabs(dx) >= fabs(dy):
            if dx < 0.0:
                x0, y0, dx, dy = x1, y1, -dx, -dy
            self._run(
                x0, y0, dx / length, dy / length, length, width,
                (1, self.stride), (self.left, self.right), (self.top, self.bottom),
            )  # fmt: skip
        else:
            if dy < 0.0:
                x0, y0, dx, dy = x1, y1, -dx, -dy
            self._run(
                y0, x0, dy / length, dx / length, length, width,
                (self.stride, 1), (self.top, self.bottom), (self.left, self.right),
            )  # fmt: skip

    @cython.cfunc
    @cython.exceptval(check=False)
    def _run(
        self,
        start: cython.double,
        across: cython.double,
        along_unit: cython.double,
        across_unit: cython.double,
        length: cython.double,
        width: cython.double,
        strides: tuple[cython.Py_ssize_t, cython.Py_ssize_t],
        span: tuple[cython.Py_ssize_t, cython.Py_ssize_t],
        depth: tuple[cython.Py_ssize_t, cython.Py_ssize_t],
    ) -> cython.void:
        """Draw a line from (start, across), step by step in the direction in which it is longer."""
        slope: cython.double = across_unit / along_unit
        end: cython.double = start + length * along_unit + _OVERLAP
        start -= _OVERLAP
        if end <= span[0] or start >= span[1]:
            return
        first: cython.Py_ssize_t = _pixel(start, span)
        last: cython.Py_ssize_t = _pixel(end, span)
        thick: cython.longlong = cython.cast(cython.longlong, width / along_unit * 65536.0)
        step: cython.longlong = cython.cast(cython.longlong, slope * 65536.0)
        low: cython.longlong = cython.cast(
            cython.longlong, (across + slope * (first + 0.5 - start - _OVERLAP)) * 65536.0
        ) - (thick >> 1)
        rows: cython.Py_ssize_t = ((thick - 1) >> 16) + 2
        k: cython.Py_ssize_t = first * strides[0]
        share: cython.uint = cython.cast(
            cython.uint, 256.0 * (min(end, first + 1.0) - max(start, cython.cast(cython.double, first)))
        )
        for _ in range(first, last):
            self._column(k, low, low + thick, share, rows, strides[1], depth)
            low += step
            k += strides[0]
            share = 256
        if last < span[1]:
            share = cython.cast(cython.uint, 256.0 * (end - max(start, cython.cast(cython.double, last))))
            self._column(k, low, low + thick, share, rows, strides[1], depth)

    @cython.cfunc
    @cython.inline
    @cython.exceptval(check=False)
    def _column(
        self,
        k: cython.Py_ssize_t,
        low: cython.longlong,
        high: cython.longlong,
        share: cython.uint,
        rows: cython.Py_ssize_t,
        stride: cython.Py_ssize_t,
        depth: tuple[cython.Py_ssize_t, cython.Py_ssize_t],
    ) -> cython.void:
        """Colour from low to high, in 65536ths of a pixel, ``share`` 256ths of the column's width."""
        j: cython.Py_ssize_t
        floor: cython.longlong
        covered: cython.longlong
        colour: cython.uint = self.colour
        first: cython.Py_ssize_t = low >> 16
        last: cython.Py_ssize_t = first + rows
        if first < depth[0] or last > depth[1]:
            low, high = max(low, depth[0] << 16), min(high, depth[1] << 16)
            first, last = max(first, depth[0]), min(last, depth[1])
        k += first * stride
        # No row is asked whether the line reaches it: taking nothing of the colour is quicker than a wrong guess.
        for j in range(first, last):
            floor = j * 65536
            covered = max(min(high, floor + 65536) - max(low, floor), 0)
            self.pixels[k] = _mixed(
                cython.cast(cython.uint, self.pixels[k]), colour, share * cython.cast(cython.uint, covered) >> 16
            )
            k += stride


@cython.cfunc
@cython.inline
@cython.exceptval(check=False)
def _mixed(old: cython.uint, new: cython.uint, share: cython.uint) -> cython.uint:
    """Return ``share`` 256ths of a new colour over an old one; red and blue in one product, as there is room between."""
    rest: cython.uint = 256 - share
    outer: cython.uint = ((old & 0xFF00FF) * rest + (new & 0xFF00FF) * share + 0x800080) >> 8
    inner: cython.uint = ((old & 0x00FF00) * rest + (new & 0x00FF00) * share + 0x008000) >> 8
    return _OPAQUE | (outer & 0xFF00FF) | (inner & 0x00FF00)


@cython.cfunc
@cython.inline
@cython.exceptval(check=False)
def _pixel(place: cython.double, within: tuple[cython.Py_ssize_t, cython.Py_ssize_t]) -> cython.Py_ssize_t:
    """Return the pixel a place lies in, or the nearest end of where it may be."""
    if place <= within[0]:
        return within[0]
    return cython.cast(cython.Py_ssize_t, place) if place < within[1] else within[1]
