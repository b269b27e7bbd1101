"""Least squares with robust weights: Gauss and Newton's steps, damped (Levenberg 1944, Marquardt 1963), derivatives by a complex step."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from isometron.match.solving.begin import beginnings, lay_boxes
from isometron.match.solving.camera import Layout, Numbers
from isometron.match.solving.misfits import Misfits

__all__ = ["Fit", "fit", "followed", "slopes"]

_STEP = 1e-20
_MOST, _FOLLOWING = 80, 3
_ENOUGH = 1e-13
"""Of the sum of squares: what a step betters by less is as good as nothing."""
_SOFT = 2.5
"""Misfits beyond so many standard deviations count less and less (soft L1)."""
_NOTHING, _SINGULAR = 1e-9, 1e-11
"""A number that no mark moves by so much against the others, and a direction among them that is so flat, is not told of."""
_AS_GOOD, _ANOTHER = 1e-3, 0.02
"""px2 a mark by which another camera may fit worse and be as good, and the part by which its focal length then differs."""
_LEAST_NOISE = 0.02
"""px: no hand and no picture is better than that."""


@dataclass(frozen=True)
class Fit:
    """numbers : (P,); off, owner : (R,) see `Misfits`; noise : px, one standard deviation of a mark; spread : (P, P) covariance;
    unknown : (P, K) directions in which the marks say nothing; twins : focal lengths, px, of other cameras that fit as well."""

    layout: Layout
    numbers: Numbers
    off: Numbers
    owner: Numbers
    noise: float
    spread: Numbers
    unknown: Numbers
    over: int
    twins: tuple[float, ...] = ()

    @property
    def cost(self) -> float:
        """Sum of the squares of the misfits, px2, each counted as far as it is trusted."""
        return float(_cost(self.off, max(self.noise, _LEAST_NOISE)))


def slopes(function: Callable[[Numbers], Numbers], numbers: Numbers) -> Numbers:
    """Return the derivatives (R, P) of a function of numbers (P,), each by a step along the imaginary axis."""
    found: Numbers = np.imag(function(numbers + 1j * _STEP * np.eye(len(numbers)))).T / _STEP
    return found


def _weights(off: Numbers, noise: float) -> Numbers:
    return 1.0 / np.sqrt(1.0 + (off / (_SOFT * noise)) ** 2)


def _cost(off: Numbers, noise: float) -> float:
    soft = _SOFT * noise
    return float((2.0 * soft**2 * (np.sqrt(1.0 + (off / soft) ** 2) - 1.0)).sum())


def fit(layout: Layout, *, begun: Numbers | None = None) -> Fit:
    """Return the least-squares fit: from numbers of another layout of the same marks, or from nothing.

    From nothing the directions of the lines give the camera first, undistorted and centred, and then that gives the boxes.
    """
    marks = Misfits(layout)
    numbers, twins = _begun(layout) if begun is None else (begun, ())
    for _ in range(3):  # the noise is not known before the fit
        noise = _noise_of(marks, numbers)
        marks = Misfits(layout, noise=noise)
        numbers, _ = _descended(marks, numbers, noise)
    return replace(_told(marks, numbers, noise), twins=twins)


def followed(layout: Layout, like: Fit) -> Fit:
    """Return what the fit ``like`` becomes when its marks have moved a little: a few steps, for while a hand drags them."""
    marks = Misfits(layout)
    numbers = like.layout.carried(like.numbers, layout)
    noise = max(_noise_of(marks, numbers), like.noise)
    marks = Misfits(layout, noise=noise)
    numbers, _ = _descended(marks, numbers, noise, most=_FOLLOWING)
    return replace(_told(marks, numbers, _noise_of(marks, numbers)), twins=like.twins)


def _begun(layout: Layout) -> tuple[Numbers, tuple[float, ...]]:
    """Return numbers (P,) to fit from, of the best camera that the directions alone give, and the focal lengths of others as good."""
    plain = Layout(layout.marks, level=layout.level)
    marks = Misfits(plain, boxes=False)
    found = sorted((_descended(marks, start, np.inf) for start in beginnings(plain)), key=lambda each: each[1])
    best, cost = found[0]
    numbers = plain.carried(best, layout)
    lay_boxes(layout, numbers)
    f = float(plain.camera(best).f)
    as_good = [float(plain.camera(other).f) for other, own in found[1:] if own <= cost + _AS_GOOD * len(marks.owner)]
    return numbers, tuple(other for other in as_good if abs(other / f - 1.0) > _ANOTHER) if not layout.boxes else ()


def _noise_of(marks: Misfits, numbers: Numbers) -> float:
    """Return the standard deviation of the marks, px, by what is over; one where nothing is."""
    own = marks.of(numbers)[marks.owner >= 0]
    over = len(own) - marks.free - _asked(marks.layout)
    if over < 1:
        return 1.0
    robust = 1.4826 * float(np.median(np.abs(own)))
    plain = float(np.sqrt((own**2).sum() / over))
    return max(min(plain, 3.0 * robust if robust > _LEAST_NOISE else plain), _LEAST_NOISE)


def _asked(layout: Layout) -> int:
    """Return how many numbers the marks have to settle: a box has no unit of its own."""
    return layout.count - len(layout.boxes)


def _descended(marks: Misfits, numbers: Numbers, noise: float, *, most: int = _MOST) -> tuple[Numbers, float]:
    if len(numbers) == 0:
        return numbers, _cost(marks.of(numbers), min(noise, 1e6))
    damping = 1e-3
    soft = min(noise, 1e6)
    off = marks.of(numbers)
    cost = _cost(off, soft)
    for _ in range(most):
        slope = slopes(marks.of, numbers)
        weights = _weights(off, soft)
        normal = slope.T @ (weights[:, None] * slope)
        down = slope.T @ (weights * off)
        scale = np.maximum(np.diag(normal), 1e-12)
        while damping < 1e12:
            step = np.linalg.solve(normal + damping * np.diag(scale), -down)
            if float(-(step @ down)) <= _ENOUGH * max(cost, 1e-9):
                return numbers, cost  # not even the slope promises more
            tried = numbers + step
            new = marks.of(tried) if marks.layout.possible(tried) else np.full(len(off), np.inf)
            if np.isfinite(new).all() and _cost(new, soft) < cost:
                break
            damping *= 6.0
        else:
            return numbers, cost
        better, numbers, off = cost - _cost(new, soft), tried, new
        cost = _cost(new, soft)
        damping = max(damping / 12.0, 1e-12)
        if better <= _ENOUGH * max(cost, 1e-9) or float(np.abs(step).max()) < 1e-13:
            return numbers, cost
    return numbers, cost


def _told(marks: Misfits, numbers: Numbers, noise: float) -> Fit:
    layout, off, owner = marks.layout, marks.of(numbers), marks.owner
    slope = slopes(marks.of, numbers)
    weights = np.where(owner >= 0, _weights(off, noise), 1.0)
    normal = slope.T @ (weights[:, None] * slope)
    size = np.sqrt(np.diag(normal))
    asked = size > _NOTHING * max(float(size.max(initial=0.0)), 1.0)
    scale = np.where(asked, size, 1.0)
    values, vectors = np.linalg.eigh((normal / np.outer(scale, scale))[np.ix_(asked, asked)])
    known = values > _SINGULAR * max(float(values.max(initial=1.0)), 1e-30)
    whole = np.zeros((len(numbers), len(values)))
    whole[asked] = vectors / scale[asked, None]
    half = whole[:, known] / np.sqrt(values[known])
    unknown = np.hstack([whole[:, ~known], np.eye(len(numbers))[:, ~asked]])
    over = int((owner >= 0).sum()) - marks.free - _asked(layout)
    return Fit(layout, numbers, off, owner, noise, noise**2 * half @ half.T, unknown, over)
