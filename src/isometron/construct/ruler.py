"""Ruler and compass on paper: join, cross, parallel, perpendicular, swing a length, lay off a length.

Every operation is carried out on paper points (mm from the centre of vision) and leaves its marks in the running
step. Elementary geometry after Euclid, Elements I.11, I.12, I.31 (perpendicular, parallel) and I.3 (laying off).
"""

from __future__ import annotations

from dataclasses import dataclass, field
from math import atan2, hypot, pi, sqrt

import numpy as np

from isometron.construct.on_the_way import marks_on_the_way
from isometron.construct.outcome import ConstructionError, Spot, Step
from isometron.document.model import Document
from isometron.geometry.conics import line_crossings
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE
from isometron.solve.ruler_words import paper_words, ruler_words, up_words
from isometron.wording import tr

__all__ = ["FARTHEST", "Line", "Table"]

FARTHEST = 5000.0
"""A point farther than this from the sheet's middle (mm) is off any reasonable paper."""

_PARALLEL = CLOSE


@dataclass(eq=False)
class Line:
    """A line through (u, v) in the unit direction (du, dv); drawn from the least to the greatest ``reached``."""

    u: float
    v: float
    du: float
    dv: float
    reached: list[float] = field(default_factory=list)

    def along(self, spot: Spot) -> float:
        """Return where the foot of a point lies along the line, mm."""
        return (spot.u - self.u) * self.du + (spot.v - self.v) * self.dv

    def at(self, along: float) -> tuple[float, float]:
        """Return the point so far along the line."""
        return self.u + along * self.du, self.v + along * self.dv


class Table:
    """The paper a construction is drawn on: operations give points and lines, `step` closes what they have drawn."""

    def __init__(self, document: Document) -> None:
        self.document = document
        left, lower, right, upper = document.sheet.rectangle
        self._middle = ((left + right) / 2, (lower + upper) / 2)
        self.steps: list[Step] = []
        self._lines: list[Line] = []
        self._arcs: list[tuple[float, ...]] = []
        self._edges: list[tuple[float, ...]] = []
        self._points: list[Spot] = []

    # --- operations -----------------------------------------------------------------------------------------------

    def mark(self, name: str, at: tuple[float, float]) -> Spot:
        """Mark a point; raises `ConstructionError` when it lies off any reasonable paper."""
        away = hypot(at[0] - self._middle[0], at[1] - self._middle[1])
        if not away <= FARTHEST:
            raise ConstructionError(
                tr(
                    "{point} lies {far} m from the sheet, off any reasonable paper.",
                    point=name,
                    far=f"{away / 1e3:.1f}",
                )
            )
        spot = Spot(name, float(at[0]), float(at[1]))
        self._points.append(spot)
        return spot

    def join(self, one: Spot, other: Spot) -> Line:
        """Join two points by a line drawn between them; raises `ConstructionError` when they are the same point."""
        du, dv = other.u - one.u, other.v - one.v
        length = hypot(du, dv)
        if length < _PARALLEL:
            raise ConstructionError(
                tr("{one} and {other} lie on one point; no line joins them.", one=one.name, other=other.name)
            )
        line = Line(one.u, one.v, du / length, dv / length)
        self._reach(line, one)
        self._reach(line, other)
        return line

    def cross(self, one: Line, other: Line, name: str) -> Spot:
        """Mark where two lines cross; both are drawn up to it. Raises `ConstructionError` for parallel ones."""
        turn = one.du * other.dv - one.dv * other.du
        if abs(turn) < _PARALLEL:
            raise ConstructionError(tr("The lines that should give {point} never meet.", point=name))
        gap = (other.u - one.u, other.v - one.v)
        along = (gap[0] * other.dv - gap[1] * other.du) / turn
        spot = self.mark(name, one.at(along))
        self._reach(one, spot)
        self._reach(other, spot)
        return spot

    def parallel(self, line: Line, through: Spot) -> Line:
        """Return the parallel to a line through a point; it is drawn as far as it is used."""
        return self._from(through, line.du, line.dv)

    def perpendicular(self, line: Line, through: Spot) -> Line:
        """Return the perpendicular to a line through a point."""
        return self._from(through, -line.dv, line.du)

    def level(self, through: Spot) -> Line:
        """Return the level line through a point, along the horizon of an unrolled view."""
        return self._from(through, 1.0, 0.0)

    def upright(self, through: Spot) -> Line:
        """Return the upright through a point."""
        return self._from(through, 0.0, 1.0)

    def slanted(self, through: Spot, du: float, dv: float) -> Line:
        """Return the line through a point at a measured angle, given by its direction."""
        length = hypot(du, dv)
        return self._from(through, du / length, dv / length)

    def lay_off(self, line: Line, start: Spot, length: float, towards: tuple[float, float], name: str) -> Spot:
        """Lay off a length from a point on the line, to the side of the direction ``towards`` (du, dv)."""
        side = 1.0 if line.du * towards[0] + line.dv * towards[1] >= 0.0 else -1.0
        spot = self.mark(name, line.at(line.along(start) + side * length))
        self._reach(line, start)
        self._reach(line, spot)
        return spot

    def swing(self, centre: Spot, start: Spot, line: Line, towards: Spot, name: str) -> Spot:
        """Swing the length from ``centre`` to ``start`` onto a line through the centre, to the side of ``towards``."""
        side = 1.0 if line.along(towards) >= line.along(centre) else -1.0
        radius = hypot(start.u - centre.u, start.v - centre.v)
        spot = self.mark(name, line.at(line.along(centre) + side * radius))
        self._reach(line, centre)
        self._reach(line, spot)
        self._arc(centre.at, radius, start, spot)
        return spot

    def half_circle(self, one: Spot, other: Spot, line: Line, towards: tuple[float, float], name: str) -> Spot:
        """Mark where the half circle over two points crosses a line at right angles to their join (Thales).

        Of the two crossings the one on the side of the direction ``towards``.
        """
        middle = ((one.u + other.u) / 2, (one.v + other.v) / 2)
        radius = hypot(one.u - other.u, one.v - other.v) / 2
        foot = line.along(Spot("", *middle))
        off = hypot(line.at(foot)[0] - middle[0], line.at(foot)[1] - middle[1])
        if off > radius:
            raise ConstructionError(
                tr("The half circle that should give {point} does not reach the line.", point=name)
            )
        side = 1.0 if line.du * towards[0] + line.dv * towards[1] >= 0.0 else -1.0
        spot = self.mark(name, line.at(foot + side * sqrt(radius**2 - off**2)))
        self._reach(line, spot)
        self._arc(middle, radius, one, spot)
        self._arc(middle, radius, spot, other)
        return spot

    def ring(self, conic: Floats, shape: tuple[float, ...]) -> Floats:
        """Draw an ellipse: ``conic`` (3, 3) to cross with lines, ``shape`` its centre, axes and angle."""
        self._arcs.append((*shape, 0.0, 2 * pi))
        return conic

    def cross_ring(self, conic: Floats, line: Line, towards: tuple[float, float], name: str) -> Spot:
        """Mark where a line crosses an ellipse, on the side of the direction ``towards``."""
        found = line_crossings(conic, np.array([line.u, line.v]), np.array([line.du, line.dv]))
        if found is None:
            raise ConstructionError(tr("The line that should give {point} misses the ring.", point=name))
        side = 1.0 if line.du * towards[0] + line.dv * towards[1] >= 0.0 else -1.0
        spot = self.mark(name, line.at(max(found, key=lambda along: along * side)))
        self._reach(line, spot)
        return spot

    def rule_across(self, line: Line) -> Line:
        """Draw a level line over the whole width of the sheet."""
        left, _, right, _ = self.document.sheet.rectangle
        line.reached += [(left - line.u) / line.du, (right - line.u) / line.du]
        return line

    def edge(self, one: Spot, other: Spot) -> None:
        """Draw an edge of the object, firmly."""
        self._edges.append((*one.at, *other.at))

    # --- steps ----------------------------------------------------------------------------------------------------

    def step(self, sentence: str, why: str) -> None:
        """Close the step: what has been drawn since the last one belongs to this sentence."""
        drawn = [
            (*line.at(min(line.reached)), *line.at(max(line.reached)))
            for line in self._lines
            if len(line.reached) > 1 and max(line.reached) > min(line.reached)
        ]
        on_the_way, told = marks_on_the_way(self.document, drawn, self._known())
        self._points += on_the_way
        self.steps.append(
            Step(
                " ".join([sentence, *told]),
                why,
                np.array(drawn).reshape(-1, 4),
                np.array(self._arcs).reshape(-1, 7),
                np.array(self._edges).reshape(-1, 4),
                tuple(self._points),
            )
        )
        self._lines, self._arcs, self._edges, self._points = [], [], [], []

    def _known(self) -> list[Spot]:
        """Return all points that there are so far, the newest first."""
        return [*self._points, *(spot for step in reversed(self.steps) for spot in step.points)]

    def up(self, spot: Spot) -> str:
        """Return how high a point lies, as a ruler finds it from the sheet's lower or upper edge."""
        return up_words(self.document, spot.v)

    def ruler(self, spot: Spot) -> str:
        """Return where a point lies as a ruler finds it from the sheet's edges, in words with units."""
        return ruler_words(self.document, spot.u, spot.v)

    def paper(self, length: float) -> str:
        """Return a length on paper with its unit."""
        return paper_words(self.document, abs(length))

    def _from(self, through: Spot, du: float, dv: float) -> Line:
        line = Line(through.u, through.v, du, dv)
        self._reach(line, through)
        return line

    def _reach(self, line: Line, spot: Spot) -> None:
        line.reached.append(line.along(spot))
        if line not in self._lines:
            self._lines.append(line)

    def _arc(self, centre: tuple[float, float], radius: float, start: Spot, end: Spot) -> None:
        first = atan2(start.v - centre[1], start.u - centre[0])
        swept = (atan2(end.v - centre[1], end.u - centre[0]) - first + pi) % (2 * pi) - pi
        low = first if swept >= 0.0 else first + swept
        self._arcs.append((*centre, radius, radius, 0.0, low, low + abs(swept)))
