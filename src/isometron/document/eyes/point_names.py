"""Names of one's own for vanishing points: kept by the direction that vanishes there, so that they go where the point goes."""

from __future__ import annotations

import numpy as np

from isometron.document.edits import Edit, change_document
from isometron.document.eyes.named_point import MOST_POINTS, NamedPoint
from isometron.document.model import Document, DocumentError
from isometron.geometry.tolerances import CLOSE
from isometron.wording import tr

__all__ = ["name_point", "point_word"]

Place = tuple[float, float]


def _way(document: Document, at: Place) -> np.ndarray:
    """Return the unit direction (3,) that vanishes at a paper point, the one of its two that looks ahead."""
    ray = np.asarray(document.eye.ray(*at), dtype=np.float64)
    unit: np.ndarray = ray / np.sqrt(ray @ ray)
    return unit


def _same(way: np.ndarray, named: NamedPoint) -> bool:
    other = np.array(named.way)
    return bool(np.abs(np.cross(way, other / np.sqrt(other @ other))).max() < 10 * CLOSE)


def point_word(document: Document, at: Place | None, letter: str) -> str:
    """Return what a vanishing point on paper (mm) is called: its own name, or else its letter."""
    if at is None or not document.points:
        return letter
    way = _way(document, at)
    return next((named.name for named in document.points if _same(way, named)), letter)


def name_point(document: Document, at: Place, name: str) -> Edit:
    """Give the vanishing point at a place on paper (mm) a name of one's own; an empty one takes it away.

    Raises `DocumentError` for a name that another point has.
    """
    way, name = _way(document, at), name.strip()
    others = tuple(named for named in document.points if not _same(way, named))
    if any(named.name == name for named in others):
        raise DocumentError(tr("Another vanishing point is called {name!r}. Choose another name.", name=name))
    if not name:
        return change_document(document, tr("take a point's name away"), points=others)
    if len(others) >= MOST_POINTS:
        raise DocumentError(tr("A document names {most} points. Take a name away first.", most=MOST_POINTS))
    made = NamedPoint(name=name, way=(float(way[0]), float(way[1]), float(way[2])))
    return change_document(document, tr("call a point {name}", name=name), points=(*others, made))
