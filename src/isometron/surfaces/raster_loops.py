# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""Smooth lines and fills written straight into a picture's pixels: many small ones, where a painter spends its time between them.

A fill takes of each pixel the share of its area, by sums along the rows of what each side takes and gives back (accumulation buffers, as
in any text on rendering outlines of letters). Fills of one call that share a side close without a gap: each takes its share of what
was there before, and not of its neighbour.
"""

import cython
import numpy as np
from cython.cimports.libc.math import ceil, fabs, floor, sqrt

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
    sums: cython.double[::1]
    under: cython.uint[::1]
    taken: cython.ushort[::1]
    wide: cython.Py_ssize_t

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

    def fill(
        self,
        points: cython.double[:, ::1],
        ring_first: cython.Py_ssize_t[::1],
        fill_first: cython.Py_ssize_t[::1],
        colours: cython.uint[::1],
    ):
        """Fill regions with colours (N,) 0xRRGGBB: points (P, 2) of all rings in pixels, where each ring begins (R + 1,) among them, and
        where each fill begins (N + 1,) among the rings. What an odd number of its rings goes round is filled; later ones lie on top."""
        wide: cython.Py_ssize_t = self.right - self.left
        high: cython.Py_ssize_t = self.bottom - self.top
        k: cython.Py_ssize_t
        if wide <= 0 or high <= 0 or colours.shape[0] == 0:
            return
        self.under = np.empty(wide * high, dtype=np.uint32)
        self.taken = np.zeros(wide * high, dtype=np.uint16)
        self.sums = np.zeros((wide + 2) * high)
        self.wide = wide
        for k in range(colours.shape[0]):
            self._region(points, ring_first, fill_first[k], fill_first[k + 1], colours[k] | _OPAQUE)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _region(
        self,
        points: cython.double[:, ::1],
        ring_first: cython.Py_ssize_t[::1],
        first: cython.Py_ssize_t,
        last: cython.Py_ssize_t,
        colour: cython.uint,
    ) -> cython.void:
        k: cython.Py_ssize_t
        ring: cython.Py_ssize_t
        low_x: cython.double = _LONGEST
        low_y: cython.double = _LONGEST
        high_x: cython.double = -_LONGEST
        high_y: cython.double = -_LONGEST
        for k in range(ring_first[first], ring_first[last]):
            if not (fabs(points[k, 0]) < _LONGEST and fabs(points[k, 1]) < _LONGEST):
                return
            low_x, high_x = min(low_x, points[k, 0]), max(high_x, points[k, 0])
            low_y, high_y = min(low_y, points[k, 1]), max(high_y, points[k, 1])
        if high_x <= self.left or low_x >= self.right or high_y <= self.top or low_y >= self.bottom:
            return
        left: cython.Py_ssize_t = max(cython.cast(cython.Py_ssize_t, floor(low_x)), self.left)
        top: cython.Py_ssize_t = max(cython.cast(cython.Py_ssize_t, floor(low_y)), self.top)
        wide: cython.Py_ssize_t = min(cython.cast(cython.Py_ssize_t, ceil(high_x)), self.right) - left
        high: cython.Py_ssize_t = min(cython.cast(cython.Py_ssize_t, ceil(high_y)), self.bottom) - top
        for ring in range(first, last):
            begin: cython.Py_ssize_t = ring_first[ring]
            end: cython.Py_ssize_t = ring_first[ring + 1]
            for k in range(begin, end):
                after: cython.Py_ssize_t = k + 1 if k + 1 < end else begin
                self._side(
                    points[k, 0] - left,
                    points[k, 1] - top,
                    points[after, 0] - left,
                    points[after, 1] - top,
                    wide,
                    high,
                )
        self._sweep(left, top, wide, high, colour)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _side(
        self,
        x0: cython.double,
        y0: cython.double,
        x1: cython.double,
        y1: cython.double,
        wide: cython.Py_ssize_t,
        high: cython.Py_ssize_t,
    ) -> cython.void:
        """Take a side into the sums."""
        if y0 < y1:
            self._downwards(x0, y0, x1, y1, 1.0, wide, high)
        elif y0 > y1:
            self._downwards(x1, y1, x0, y0, -1.0, wide, high)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _downwards(
        self,
        x0: cython.double,
        y0: cython.double,
        x1: cython.double,
        y1: cython.double,
        way: cython.double,
        wide: cython.Py_ssize_t,
        high: cython.Py_ssize_t,
    ) -> cython.void:
        """Take a side into the sums, as far as it lies in the window; what lies left of it counts at its rim."""
        slope: cython.double = (x1 - x0) / (y1 - y0)
        if y0 < 0.0:
            x0, y0 = x0 - slope * y0, 0.0
        if y1 > high:
            x1, y1 = x1 - slope * (y1 - high), cython.cast(cython.double, high)
        if not y0 < y1:
            return
        # In up to three parts: before the window, in it, and behind it, where it takes nothing.
        rim: cython.double = 0.0
        for rim in (0.0, cython.cast(cython.double, wide)):
            if (x0 < rim) != (x1 < rim) and x0 != rim and x1 != rim:
                y: cython.double = min(max(y0 + (rim - x0) / slope, y0), y1)
                self._downwards(x0, y0, rim, y, way, wide, high)
                self._downwards(rim, y, x1, y1, way, wide, high)
                return
        if x0 >= wide and x1 >= wide:
            return
        if x0 < 0.0 or x1 < 0.0:
            x0, x1, slope = 0.0, 0.0, 0.0
        self._summed(x0, y0, x1, y1, slope, way, wide)

    @cython.cfunc
    @cython.exceptval(check=False)
    def _summed(
        self,
        x: cython.double,
        y0: cython.double,
        x1: cython.double,
        y1: cython.double,
        slope: cython.double,
        way: cython.double,
        wide: cython.Py_ssize_t,
    ) -> cython.void:
        """Add what a side takes of each pixel of its rows to what it has more than the one to its left."""
        row: cython.Py_ssize_t
        j: cython.Py_ssize_t
        low: cython.double
        high: cython.double
        first: cython.Py_ssize_t = cython.cast(cython.Py_ssize_t, y0)
        last: cython.Py_ssize_t = cython.cast(cython.Py_ssize_t, ceil(y1))
        for row in range(first, last):
            tall: cython.double = min(row + 1.0, y1) - max(cython.cast(cython.double, row), y0)
            after: cython.double = min(max(x + slope * tall, 0.0), cython.cast(cython.double, wide))
            takes: cython.double = tall * way
            low, high = (x, after) if x < after else (after, x)
            k: cython.Py_ssize_t = row * (wide + 2)
            start: cython.Py_ssize_t = cython.cast(cython.Py_ssize_t, low)
            end: cython.Py_ssize_t = cython.cast(cython.Py_ssize_t, ceil(high))
            if end <= start + 1:
                middle: cython.double = 0.5 * (x + after) - start
                self.sums[k + start] += takes * (1.0 - middle)
                self.sums[k + start + 1] += takes * middle
            else:
                share: cython.double = 1.0 / (high - low)
                before: cython.double = 0.0
                for j in range(start, end):
                    # How much of this pixel's column the side leaves to its right, of the part of it that lies there.
                    one: cython.double = max(low - j, 0.0)
                    two: cython.double = min(high - j, 1.0)
                    covered: cython.double = share * (two - one) * (1.0 - 0.5 * (one + two))
                    passed: cython.double = share * max(min(cython.cast(cython.double, j), high) - low, 0.0)
                    self.sums[k + j] += takes * (passed + covered - before)
                    before = passed + covered
                self.sums[k + end] += takes * (1.0 - before)
            x = after

    @cython.cfunc
    @cython.exceptval(check=False)
    def _sweep(
        self,
        left: cython.Py_ssize_t,
        top: cython.Py_ssize_t,
        wide: cython.Py_ssize_t,
        high: cython.Py_ssize_t,
        colour: cython.uint,
    ) -> cython.void:
        """Colour the pixels of a region by its sums, and leave these at nothing."""
        row: cython.Py_ssize_t
        j: cython.Py_ssize_t
        for row in range(high):
            k: cython.Py_ssize_t = row * (wide + 2)
            at: cython.Py_ssize_t = (top + row) * self.stride + left
            own: cython.Py_ssize_t = (top + row - self.top) * self.wide + left - self.left
            total: cython.double = 0.0
            share: cython.int = 0
            for j in range(wide):
                change: cython.double = self.sums[k + j]
                if change != 0.0:  # a side: between sides all pixels have the same share
                    self.sums[k + j] = 0.0
                    total += change
                    part: cython.double = fabs(total)
                    if part > 1.0:  # what two rings go round is a hole
                        part -= 2.0 * floor(0.5 * part)
                        part = 2.0 - part if part > 1.0 else part
                    share = cython.cast(cython.int, 256.0 * part + 0.5)
                if share >= 256:
                    self.pixels[at + j] = colour
                    self.taken[own + j] = 256
                elif share > 0:
                    self._share(at + j, own + j, colour, share)
            self.sums[k + wide] = 0.0
            self.sums[k + wide + 1] = 0.0

    @cython.cfunc
    @cython.inline
    @cython.exceptval(check=False)
    def _share(
        self, at: cython.Py_ssize_t, own: cython.Py_ssize_t, colour: cython.uint, share: cython.int
    ) -> cython.void:
        """Give a pixel ``share`` 256ths of a colour: of what was under all fills as long as any of it is left."""
        free: cython.int = min(share, 256 - cython.cast(cython.int, self.taken[own]))
        old: cython.uint = self.pixels[at]
        if free > 0:
            if self.taken[own] == 0:
                self.under[own] = old
            under: cython.uint = self.under[own]
            old = (
                _OPAQUE
                | _less(old, colour, under, free, 16)
                | _less(old, colour, under, free, 8)
                | _less(old, colour, under, free, 0)
            )
            self.taken[own] += free
        if share > free:
            old = _mixed(old, colour, cython.cast(cython.uint, share - free))
        self.pixels[at] = old

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
def _less(
    old: cython.uint, new: cython.uint, under: cython.uint, share: cython.int, shift: cython.int
) -> cython.uint:
    """Return one channel of a colour of which ``share`` 256ths of what was under it become a new one."""
    a: cython.int = (old >> shift) & 255
    b: cython.int = (new >> shift) & 255
    c: cython.int = (under >> shift) & 255
    a = ((a << 8) + share * (b - c) + 128) >> 8
    a = min(max(a, 0), 255)
    return cython.cast(cython.uint, a) << shift


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
