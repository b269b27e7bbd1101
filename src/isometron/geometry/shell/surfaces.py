"""Unbounded surfaces in one table, and places drawn on to two or three of them by Newton's method. Lengths in mm.

Every surface is a function f of space that is 0 on it and whose gradient is near length 1 there.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import sqrt

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.tolerances import CLOSE, HAIR

__all__ = [
    "BOWED",
    "LINE",
    "PLANE",
    "SMOOTH",
    "WIDTH",
    "Surfaces",
    "cross",
    "leaning_row",
    "length",
    "on_three",
    "on_two",
    "plane_row",
    "turned_row",
]

PLANE, LINE, BOWED, SMOOTH = range(4)
"""A plane, and what a line, an arc of an ellipse, a cubic leave that are turned about an axle: cylinder and cone; sphere, torus and
ellipsoid; a smooth side."""
WIDTH = 20
_NEXT, _LAST = [1, 2, 0], [2, 0, 1]
_TINY = 1e-300
_STEPS = 12
_ON = 1e-10


def cross(a: Floats, b: Floats) -> Floats:
    """Return a x b (N, 3): on few rows ten times quicker than NumPy's own."""
    found: Floats = a[..., _NEXT] * b[..., _LAST] - a[..., _LAST] * b[..., _NEXT]
    return found


def length(a: Floats) -> Floats:
    """Return the lengths (N,) of rows (N, 3)."""
    found: Floats = np.sqrt(np.einsum("...k,...k->...", a, a))
    return found


def plane_row(place: Sequence[float] | Floats, outward: Sequence[float] | Floats) -> tuple[int, Floats]:
    """Return a plane through a place (3,), square to a unit vector (3,)."""
    form = np.zeros(WIDTH)
    form[:3], form[3:6] = place, outward
    return PLANE, form


def turned_row(
    kind: int, place: Floats, axle: Floats, first: Floats, second: Floats, curve: Sequence[float]
) -> tuple[int, Floats]:
    """Return what a curve leaves that is turned about an axle (3,) from a place (3,); ``first`` and ``second`` (3,) are the half axes of
    its ring of width one, square to the axle and to each other.

    With h along the axle as a part of it and r as a part of the half axes, ``curve`` is (a, b, c) of a h + b r = c; of an arc (h, r) of its
    middle and its two half axes; of a cubic where it starts, how long it is along h, and the four factors of r by powers of its part.
    """
    form = np.zeros(WIDTH)
    form[:3] = place
    for at, way in ((3, axle), (6, first), (9, second)):
        form[at : at + 3] = way / (way @ way)
    form[12 : 12 + len(curve)] = curve
    # f is multiplied by what makes its gradient about 1: widths are told as parts of about these sizes.
    broad, long = sqrt(sqrt((first @ first) * (second @ second))), sqrt(axle @ axle)
    if kind == LINE:
        form[19] = 1.0 / max(sqrt((curve[0] / long) ** 2 + (curve[1] / broad) ** 2), _TINY)
    elif kind == BOWED:
        form[19] = sqrt(abs(curve[2] * long * curve[3] * broad))
    else:
        form[19] = broad
    return kind, form


def leaning_row(
    tip: Floats, way: Floats, across: tuple[Floats, Floats], lean: Floats, grows: float
) -> tuple[int, Floats]:
    """Return a cone whose rings are circles square to a unit way (3,) though its middle line leans: from its tip (3,) the middles move by ``way + lean``
    and the radius grows by ``grows`` for each mm along the way. ``across`` : two unit ways square to it and each other."""
    form = np.zeros(WIDTH)
    form[:3], form[3:6] = tip, way
    for at, own in zip((6, 9), across, strict=True):
        form[at : at + 3] = own - float(own @ lean) * way
    form[12:15] = -grows, 1.0, 0.0
    form[19] = 1.0 / sqrt(1.0 + grows * grows)
    return LINE, form


@dataclass(frozen=True)
class Surfaces:
    """kind : (S,); form : (S, `WIDTH`): a place 0:3, of planes the unit normal 3:6; of turned ones the axle and both half axes, each
    divided by the square of its length, 3:12 (of what leans not square to the axle), the curve 12:18 and what f is multiplied by, 19."""

    kind: NDArray[np.int8]
    form: Floats

    def __len__(self) -> int:
        return len(self.kind)

    @staticmethod
    def of(rows: Sequence[tuple[int, Floats]]) -> Surfaces:
        """Return surfaces from `plane_row` and `turned_row`."""
        form = np.array([row for _, row in rows]).reshape(-1, WIDTH)
        return Surfaces(np.array([kind for kind, _ in rows], dtype=np.int8), form)

    @staticmethod
    def joined(parts: Sequence[Surfaces]) -> Surfaces:
        """Return the surfaces of all parts in their order."""
        return Surfaces(np.concatenate([p.kind for p in parts]), np.concatenate([p.form for p in parts]))

    def only(self, row: int) -> Surfaces:
        """Return one of them."""
        return Surfaces(self.kind[row : row + 1], self.form[row : row + 1])

    def placed(self, rotation: Floats, shift: Floats) -> Surfaces:
        """Return them turned by an orthogonal matrix (3, 3), also a mirror image, and moved by (3,)."""
        form = self.form.copy()
        form[:, :3] = form[:, :3] @ rotation.T + shift
        for at in (3, 6, 9):
            form[:, at : at + 3] = form[:, at : at + 3] @ rotation.T
        return replace(self, form=form)

    def at(self, rows: Ints, places: Floats) -> tuple[Floats, Floats]:
        """Return f (N,) and its gradient (N, 3) of surfaces ``rows`` (N,) at places (N, 3)."""
        kind, form = self.kind[rows], self.form[rows]
        off = places - form[:, :3]
        f, slope = np.einsum("nk,nk->n", off, form[:, 3:6]), form[:, 3:6].copy()
        for which in (LINE, BOWED, SMOOTH):
            n = np.flatnonzero(kind == which)
            if not len(n):
                continue
            own, h = form[n], f[n]
            x, y = np.einsum("nk,nk->n", off[n], own[:, 6:9]), np.einsum("nk,nk->n", off[n], own[:, 9:12])
            r = np.sqrt(x * x + y * y)
            out = (x[:, None] * own[:, 6:9] + y[:, None] * own[:, 9:12]) / np.maximum(r, _TINY)[:, None]
            value, by_h, by_r = _curve(which, own[:, 12:18], h, r)
            f[n] = own[:, 19] * value
            slope[n] = own[:, 19:20] * (by_h[:, None] * own[:, 3:6] + by_r[:, None] * out)
        return f, slope

    @property
    def axles(self) -> Floats:
        """Unit vectors (S, 3) along the axles of turned surfaces, square to planes."""
        way = self.form[:, 3:6]
        found: Floats = way / np.maximum(length(way), _TINY)[:, None]
        return found

    @property
    def rings(self) -> tuple[Floats, Floats]:
        """The half axes (S, 3) of turned surfaces' rings of width one, square to their axles."""
        axle = self.axles
        found = []
        for at in (6, 9):
            way = self.form[:, at : at + 3]
            way = way - np.einsum("nk,nk->n", way, axle)[:, None] * axle
            found.append(way / np.maximum(np.einsum("nk,nk->n", way, way), _TINY)[:, None])
        return found[0], found[1]

    def middles(self, rows: Ints, places: Floats) -> Floats:
        """Return the middles (N, 3) of the rings of turned surfaces that places (N, 3) are in the planes of."""
        form = self.form[rows]
        line = cross(form[:, 6:9], form[:, 9:12])  # where both half axes are nothing
        line = line / np.einsum("nk,nk->n", line, form[:, 3:6])[:, None]
        found: Floats = form[:, :3] + np.einsum("nk,nk->n", places - form[:, :3], form[:, 3:6])[:, None] * line
        return found

    @property
    def cylinders(self) -> NDArray[np.bool_]:
        """Which (S,) are cylinders, also elliptic ones."""
        found: NDArray[np.bool_] = (self.kind == LINE) & (
            np.abs(self.form[:, 12]) <= CLOSE * np.abs(self.form[:, 13])
        )
        return found

    @property
    def spheres(self) -> NDArray[np.bool_]:
        """Which (S,) are spheres."""
        first, second, long = (1.0 / np.maximum(length(self.form[:, at : at + 3]), _TINY) for at in (6, 9, 3))
        p, q = self.form[:, 14] * long, self.form[:, 15] * first
        alike = (np.abs(first - second) <= CLOSE * first) & (np.abs(p - q) <= CLOSE * np.abs(q))
        found: NDArray[np.bool_] = (self.kind == BOWED) & alike & (np.abs(self.form[:, 13]) <= CLOSE)
        return found

    def keys(self) -> Floats:
        """Return rows (S, 16), mm, that differ by less than `HAIR` for surfaces that are the same in space, whichever way they look."""
        found = np.zeros((len(self), 16))
        if not len(self):
            return found
        axle = self.axles
        lead = np.take_along_axis(axle, (np.abs(axle) > 1e-7).argmax(axis=1)[:, None], 1)[:, 0] < 0.0
        axle = np.where(lead[:, None], -axle, axle)
        found[:, 0] = 1e6 * self.kind
        found[:, 1:4] = 1e3 * axle
        plane = self.kind == PLANE
        h = np.einsum("nk,nk->n", self.form[:, :3], axle)
        found[:, 4] = np.where(plane, h, 0.0)
        turned = np.flatnonzero(~plane)
        if len(turned):
            found[turned, 4:16] = self._turned_keys(turned, axle[turned], h[turned], lead[turned])
        return found

    def _turned_keys(self, rows: Ints, axle: Floats, h: Floats, lead: NDArray[np.bool_]) -> Floats:
        form = self.form[rows]
        found = np.zeros((len(rows), 12))
        found[:, :3] = form[:, :3] - h[:, None] * axle  # where the axle passes the origin
        u, v = (w / np.einsum("nk,nk->n", w, w)[:, None] for w in (form[:, 6:9], form[:, 9:12]))
        cylinder = self.cylinders[rows]
        scale = np.where(cylinder, form[:, 14] / np.where(cylinder, form[:, 13], 1.0), 1.0)[:, None]
        size = np.maximum(length(u), length(v))[:, None] * np.abs(scale)
        square = np.einsum("nj,nk->njk", u, u) + np.einsum("nj,nk->njk", v, v)
        found[:, 3:9] = square.reshape(-1, 9)[:, (0, 1, 2, 4, 5, 8)] * scale**2 / np.maximum(size, _TINY)
        long = np.where(lead, -1.0, 1.0) / np.maximum(length(form[:, 3:6]), _TINY)
        for k, row in enumerate(form):
            if not cylinder[k]:
                found[k, 9:12] = _own_key(
                    int(self.kind[rows[k]]), row[12:18], float(h[k]), float(long[k]), float(size[k, 0])
                )
        return found


def _own_key(kind: int, curve: Floats, h: float, long: float, broad: float) -> tuple[float, float, float]:
    """Return three lengths, mm, that tell one curve about the same axle from another."""
    if kind == LINE:  # r at the origin's height, and how it grows in 1000 mm; a flat one by its height
        a, b, c = curve[:3]
        if abs(b) <= CLOSE * abs(a):
            return h + long * c / a, 0.0, -1.0
        grows = -a / b * broad / long
        return c / b * broad - h * grows, 1e3 * grows, 0.0
    if kind == BOWED:
        return h + long * curve[0], broad * curve[1] + 3.7 * broad * curve[3], abs(long * curve[2])
    start, far = h + long * curve[0], long * curve[1]
    at = [curve[2] + t * (curve[3] + t * (curve[4] + t * curve[5])) for t in (0.0, 0.37, 0.71, 1.0)]
    low, high = (start, start + far) if far > 0.0 else (start + far, start)
    weights = (1.0, 0.61, 0.37, 0.23) if far > 0.0 else (0.23, 0.37, 0.61, 1.0)
    return low, high, broad * float(np.dot(weights, at))


def _curve(which: int, curve: Floats, h: Floats, r: Floats) -> tuple[Floats, Floats, Floats]:
    """Return g (N,) and its derivatives by h and r of curves (N, 6) in the half plane of an axle."""
    if which == LINE:
        a, b, c = curve[:, 0], curve[:, 1], curve[:, 2]
        return a * h + b * r - c, a, b
    if which == BOWED:
        x, y = (h - curve[:, 0]) / curve[:, 2], (r - curve[:, 1]) / curve[:, 3]
        q = np.maximum(np.sqrt(x * x + y * y), _TINY)
        return q - 1.0, x / q / curve[:, 2], y / q / curve[:, 3]
    t = (h - curve[:, 0]) / curve[:, 1]
    c0, c1, c2, c3 = curve[:, 2:6].T
    return (
        r - (c0 + t * (c1 + t * (c2 + t * c3))),
        -(c1 + t * (2.0 * c2 + 3.0 * t * c3)) / curve[:, 1],
        np.ones(len(r)),
    )


def on_two(s: Surfaces, rows: Ints, places: Floats) -> Floats:
    """Return places (N, 3) moved the shortest way on to the surfaces ``rows`` (N, 2), by Newton's method."""
    p = places.copy()
    for _ in range(_STEPS):
        f, g = s.at(rows.T.reshape(-1), np.concatenate([p, p]))
        (fa, fb), (ga, gb) = f.reshape(2, -1), g.reshape(2, -1, 3)
        if max(np.abs(fa).max(initial=0.0), np.abs(fb).max(initial=0.0)) < _ON:
            break
        aa, ab, bb = (np.einsum("nk,nk->n", x, y) for x, y in ((ga, ga), (ga, gb), (gb, gb)))
        det = np.maximum(aa * bb - ab * ab, 1e-12 * aa * bb)
        same = rows[:, 0] == rows[:, 1]
        one = np.where(same, fa / np.maximum(aa, _TINY), (fa * bb - fb * ab) / np.maximum(det, _TINY))
        two = np.where(same, 0.0, (fb * aa - fa * ab) / np.maximum(det, _TINY))
        p -= one[:, None] * ga + two[:, None] * gb
    return p


def on_three(s: Surfaces, rows: Ints, places: Floats) -> Floats:
    """Return places (N, 3) moved on to where three surfaces ``rows`` (N, 3) meet, by Newton's method; where they do not cross, as they were."""
    p = places.copy()
    for _ in range(_STEPS):
        f, g = s.at(rows.T.reshape(-1), np.concatenate([p, p, p]))
        f, g = f.reshape(3, -1), g.reshape(3, -1, 3)
        if np.abs(f).max(initial=0.0) < _ON:
            break
        one, two, three = cross(g[1], g[2]), cross(g[2], g[0]), cross(g[0], g[1])
        det = np.einsum("nk,nk->n", g[0], one)
        det = np.where(np.abs(det) < HAIR, np.inf, det)
        p -= (f[0][:, None] * one + f[1][:, None] * two + f[2][:, None] * three) / det[:, None]
    return p
