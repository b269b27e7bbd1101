"""Choosing the eye for the template: the smallest change that brings chosen rings to a template's degree."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp

import numpy as np

from isometron.document.edits import Edit
from isometron.document.eyes.eye_edits import away_from, raise_eye, step_to, turn_object, turn_of
from isometron.document.model import Document, DocumentError
from isometron.geometry.frames import Floats, half_turn
from isometron.geometry.tolerances import CLOSE
from isometron.view.eye import Eye
from isometron.view.ring_picture import rings_to_ellipses
from isometron.volumes.turned import Turned, turned_rounds
from isometron.wording import tr

__all__ = ["Proposal", "eye_for_template", "widest_degrees"]

_TURN, _SHARE = 20.0, 0.25
"""A turn of 20 degrees, and a quarter more or less of height or distance, count as changes of one size."""

_MOST = 4.5
"""No change goes farther than this many such steps: a quarter turn, or three times the distance."""


@dataclass(frozen=True)
class Proposal:
    """An edit to the eye, and the degrees of the chosen rings before and after it."""

    edit: Edit
    before: tuple[float, ...]
    after: tuple[float, ...]


def widest_degrees(document: Document, rows: Sequence[int]) -> Floats:
    """Return the degree of the widest ring of each turned body (N,); NaN where it is no ellipse."""
    return _degrees(document.eye, _widest(document, rows))


def _widest(document: Document, rows: Sequence[int]) -> Floats:
    """Return the widest ring (N, 9) of each turned body."""
    found = []
    for row in rows:
        volume = document.volumes[row]
        if not isinstance(volume, Turned):
            raise DocumentError(tr("{volume} is not round. Make it round first.", volume=volume.name))
        rings = turned_rounds(volume, row).rings
        found.append(rings[int(np.argmax((rings[:, 3:6] ** 2).sum(axis=1)))])
    return np.array(found).reshape(-1, 9)


def _degrees(eye: Eye, rings: Floats) -> Floats:
    shape, good = rings_to_ellipses(eye, rings[:, :3], rings[:, 3:6], rings[:, 6:])
    with np.errstate(invalid="ignore", divide="ignore"):
        degrees: Floats = np.where(good, np.degrees(np.arcsin(shape[:, 3] / shape[:, 2])), np.nan)
    return degrees


def eye_for_template(
    document: Document,
    rows: Sequence[int],
    degree: float,
    *,
    tolerance: float = 0.5,
    height: bool = False,
    distance: bool = False,
) -> Proposal:
    """Return the smallest change of turn, and if allowed of eye height and distance, that brings the widest ring of
    each chosen body within ``tolerance`` of ``degree``. Sequential quadratic programming (Kraft 1988).

    Raises `DocumentError` when no such eye is near, with the nearest degrees found.
    """
    from scipy.optimize import minimize  # half a second to load, so only when it is asked for

    if not rows:
        raise DocumentError(tr("Select the round volumes that the template shall serve."))
    rings = _widest(document, rows)
    turn, high, away = turn_of(document), document.eye.position[2], away_from(document)
    free = np.array([True, height, distance])

    def changed(values: Floats) -> Document:
        x = np.zeros(3)
        x[free] = values
        result = document
        if x[0]:
            result = turn_object(result, half_turn(float(turn + _TURN * x[0]))).document
        if x[1]:
            result = raise_eye(result, float(high * exp(_SHARE * x[1]))).document
        if x[2]:
            result = step_to(result, float(max(away * exp(_SHARE * x[2]), 10.0))).document
        return result

    def misses(values: Floats) -> Floats:
        degrees = _degrees(changed(values).eye, rings)
        return np.where(np.isnan(degrees), 90.0, degrees) - degree

    best: Floats | None = None
    nearest = np.zeros(int(free.sum()))
    for start in _starts(int(free.sum())):
        found = minimize(
            lambda v: float(v @ v), start, method="SLSQP", bounds=[(-_MOST, _MOST)] * len(start), options={"maxiter": 40, "ftol": CLOSE},
            constraints=[{"type": "ineq", "fun": lambda v: 0.98 * tolerance - np.abs(misses(v))}],
        )  # fmt: skip
        if np.abs(misses(found.x)).max() <= tolerance and (best is None or found.x @ found.x < best @ best):
            best = found.x
        if np.abs(misses(found.x)).max() < np.abs(misses(nearest)).max():
            nearest = found.x
    before = widest_degrees(document, rows)
    if best is None:
        reached = ", ".join(f"{d:.1f}°" for d in widest_degrees(changed(nearest), rows))
        raise DocumentError(
            tr(
                "No eye near this one brings them all to {degree:g}°. The nearest gives {reached}.",
                degree=degree,
                reached=reached,
            )
        )
    result = changed(best)
    name = tr("choose the eye for {degree:g}°", degree=degree)
    return Proposal(
        Edit(name, result), tuple(float(d) for d in before), tuple(float(d) for d in widest_degrees(result, rows))
    )


def _starts(count: int) -> list[Floats]:
    """Where the search begins: here, and a little to every side, since a degree may first fall and then rise."""
    steps = [np.full(count, 0.05)]
    for k in range(count):
        for by in (-1.5, -0.5, 0.5, 1.5):
            step = np.full(count, 0.02)
            step[k] = by
            steps.append(step)
    return steps
