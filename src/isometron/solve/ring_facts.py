"""What is told about each ring of a volume: how open it is, its axes, where its centres lie, and the template for it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE, EXACT
from isometron.solve.drawing import Drawing
from isometron.view.ring_picture import Circle, RingPicture, ring_picture
from isometron.view.templates import USUAL_DEGREES, USUAL_MAJORS, Fit, best_fit
from isometron.wording import tr

__all__ = ["RingFact", "ring_facts", "rule_words"]

_VOID_DEGREE = 60.0
"""Above this degree an ellipse is so round that the direction of its minor axis means nothing."""

_LINE_DEGREE = 2.0


@dataclass(frozen=True)
class RingFact:
    """One ring: true diameter in mm, its picture, the best template (None where no template can be laid), and whether
    the circle is a true one (a section of an oblong body is an ellipse in the world already)."""

    diameter: float
    picture: RingPicture
    fit: Fit | None
    true_circle: bool


def ring_facts(
    drawing: Drawing, owner: int, degrees: ArrayLike = USUAL_DEGREES, majors: ArrayLike = USUAL_MAJORS
) -> list[RingFact]:
    """Return the facts of all rings of a volume, in order along its axle; boxes have none."""
    rounds = drawing.scene.rounds
    found = []
    whole = np.abs(rounds.ring_span[:, 1]) >= 1.0 - EXACT
    for row in np.flatnonzero((rounds.ring_owner == owner) & whole):
        ring = rounds.rings[row]
        first, second = ring[3:6], ring[6:9]
        a, b = float(np.sqrt(first @ first)), float(np.sqrt(second @ second))
        picture = ring_picture(drawing.document.eye, _circle(ring[:3], first, second, a))
        round_ = abs(a - b) <= CLOSE * a
        fit = None
        if round_ and picture.kind == "ellipse" and picture.semi_minor > 0.0:
            fit = best_fit(picture.semi_major, picture.semi_minor, degrees, majors)
        found.append(RingFact(2 * a, picture, fit, round_))
    return found


def _circle(centre: Floats, first: Floats, second: Floats, radius: float) -> Circle:
    return Circle.of(centre, radius, np.cross(first, second), first)


def rule_words(fact: RingFact) -> str:
    """Return how far the rule "minor axis along the axle" is off for a ring, or why it says nothing."""
    picture = fact.picture
    if picture.kind == "segment":
        return tr("lies at eye level: it is drawn as a line")
    if picture.kind in ("hyperbola", "parabola"):
        return tr("reaches the plane of the eye: it is drawn as no ellipse")
    if picture.kind == "behind":
        return tr("lies behind the eye")
    if picture.degree < _LINE_DEGREE:
        return tr("is about to become a line: it lies within reach of the eye level")
    if picture.deviation is None or picture.degree > _VOID_DEGREE:
        return tr("almost round: the direction of its minor axis means nothing")
    off = 2 * picture.semi_major * np.sin(np.radians(picture.deviation))
    return tr(
        "minor axis {angle}° off the axle, {far} mm at the ends",
        angle=f"{picture.deviation:.1f}",
        far=f"{off / 2:.1f}",
    )
