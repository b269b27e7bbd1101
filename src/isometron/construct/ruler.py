"""Ruler and compass on paper: join, cross, parallel, perpendicular, swing a length, lay off a length.

Every operation is carried out on paper points (mm from the centre of vision) and leaves its marks in the running
step. Elementary geometry after Euclid, Elements I.11, I.12, I.31 (perpendicular, parallel) and I.3 (laying off).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from math import atan2, cos, hypot, pi, sin, sqrt

import numpy as np

from isometron.construct import sentences
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
_MOST_SAID, _MOST_LETTERS = 8, 420
"""Sentences of one step, and their letters: as many as a person follows with a finger on the page."""


@dataclass(eq=False)
class Line:
    """A line through (u, v) in the unit direction (du, dv); drawn from the least to the greatest ``reached``.

    words : what it is called in sentences; said : whether a sentence has named it.
    """

    u: float
    v: float
    du: float
    dv: float
    words: str = ""
    reached: list[float] = field(default_factory=list)
    said: bool = False

    def along(self, spot: Spot) -> float:
        """Return where the foot of a point lies along the line, mm."""
        return (spot.u - self.u) * self.du + (spot.v - self.v) * self.dv

    def at(self, along: float) -> tuple[float, float]:
        """Return the point so far along the line."""
        return self.u + along * self.du, self.v + along * self.dv

    def off(self, spot: Spot) -> float:
        """Return how far a point lies beside the line, mm."""
        return abs((spot.u - self.u) * self.dv - (spot.v - self.v) * self.du)

    def named(self) -> str:
        """Return what it is called, and note that a sentence names it."""
        self.said = True
        return self.words


class Table:
    """The paper a construction is drawn on: operations give points and lines and say how; `step` closes what they have drawn.

    setting_up : how many steps lay out what the others begin from (see `laid_out`).
    """

    def __init__(self, document: Document) -> None:
        self.document = document
        left, lower, right, upper = document.sheet.rectangle
        self._middle = ((left + right) / 2, (lower + upper) / 2)
        self.steps: list[Step] = []
        self.setting_up = 0
        self._names: dict[str, Spot] = {}
        self._whole = 0
        self._begin()

    def _begin(self) -> None:
        self._lines: list[Line] = []
        self._arcs: list[tuple[float, ...]] = []
        self._edges: list[tuple[float, ...]] = []
        self._points: list[Spot] = []
        self._used: dict[str, Spot] = {}
        self._said: list[str] = []
        self._firm: list[str] = []

    # --- operations -----------------------------------------------------------------------------------------------

    def mark(self, name: str, at: tuple[float, float]) -> Spot:
        """Mark a point by its ruler distances; raises `ConstructionError` when it lies off any reasonable paper."""
        spot = self._spot(name, at)
        self._say(sentences.marked(spot.name, self.ruler(spot)))
        return spot

    def again(self, spot: Spot, name: str) -> Spot:
        """Give a point a second name."""
        other = self._spot(name, spot.at)
        self._say(sentences.also(other.name, self._use(spot)))
        return other

    def join(self, one: Spot, other: Spot) -> Line:
        """Join two points by a line drawn between them; raises `ConstructionError` when they are the same point."""
        du, dv = other.u - one.u, other.v - one.v
        length = hypot(du, dv)
        if length < _PARALLEL:
            raise ConstructionError(
                tr("{one} and {other} lie on one point; no line joins them.", one=one.name, other=other.name)
            )
        line = Line(one.u, one.v, du / length, dv / length, sentences.joined(self._use(one), self._use(other)))
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
        spot = self._spot(name, one.at(along))
        self._reach(one, spot)
        self._reach(other, spot)
        self._say(sentences.crossing(spot.name, one.named(), other.named()))
        return spot

    def title(self, line: Line, words: str) -> Line:
        """Rule a line that is called by a name of its own from now on, such as *the horizon*."""
        self._say(sentences.named(line.named(), words))
        line.words = words
        return line

    def parallel(self, line: Line, through: Spot) -> Line:
        """Return the parallel to a line through a point; it is drawn as far as it is used."""
        return self._from(through, line.du, line.dv, sentences.parallel(line.words, self._use(through)))

    def perpendicular(self, line: Line, through: Spot) -> Line:
        """Return the perpendicular to a line through a point."""
        words = sentences.square_to(line.words, self._use(through))
        if line.dv == 0.0:
            words = sentences.upright(through.name)
        return self._from(through, -line.dv, line.du, words)

    def level(self, through: Spot) -> Line:
        """Return the level line through a point, along the horizon of an unrolled view."""
        return self._from(through, 1.0, 0.0, sentences.level(self._use(through)))

    def upright(self, through: Spot) -> Line:
        """Return the upright through a point."""
        return self._from(through, 0.0, 1.0, sentences.upright(self._use(through)))

    def slanted(self, through: Spot, du: float, dv: float) -> Line:
        """Return the line through a point at a measured angle, given by its direction."""
        length = hypot(du, dv)
        return self._from(through, du / length, dv / length, sentences.slanted(self._use(through), du, dv))

    def halving(self, corner: Spot, one: Spot, other: Spot) -> Line:
        """Return the line that halves the angle at a corner between two points (Euclid, Elements I.9)."""
        arms = [(spot.u - corner.u, spot.v - corner.v) for spot in (one, other)]
        unit = [(du / hypot(du, dv), dv / hypot(du, dv)) for du, dv in arms]
        du, dv = unit[0][0] + unit[1][0], unit[0][1] + unit[1][1]
        words = sentences.halving(self._use(corner), self._use(one), self._use(other))
        return self._from(corner, du / hypot(du, dv), dv / hypot(du, dv), words)

    def lay_off(
        self, line: Line, start: Spot, length: float, towards: tuple[float, float], name: str, true: str = ""
    ) -> Spot:
        """Lay off a length from a point on the line, to the side of the direction ``towards`` (du, dv).

        true : what the length stands for, as it is said.
        """
        side = 1.0 if line.du * towards[0] + line.dv * towards[1] >= 0.0 else -1.0
        spot = self._spot(name, line.at(line.along(start) + side * length))
        self._reach(line, start)
        self._reach(line, spot)
        way = sentences.way_word(side * line.du, side * line.dv)
        if length < 0.0:
            way = sentences.way_word(-side * line.du, -side * line.dv)
        self._say(sentences.laid_off(spot.name, self._use(start), self.paper(length), line.named(), way, true))
        return spot

    def swing(self, centre: Spot, start: Spot, line: Line, towards: Spot, name: str) -> Spot:
        """Swing the length from ``centre`` to ``start`` onto a line through the centre, to the side of ``towards``."""
        side = 1.0 if line.along(towards) >= line.along(centre) else -1.0
        radius = hypot(start.u - centre.u, start.v - centre.v)
        spot = self._spot(name, line.at(line.along(centre) + side * radius))
        self._reach(line, centre)
        self._reach(line, spot)
        self._arc(centre.at, radius, start, spot)
        way = sentences.way_word(side * line.du, side * line.dv)
        self._say(sentences.swung(spot.name, self._use(centre), self._use(start), line.named(), way))
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
        spot = self._spot(name, line.at(foot + side * sqrt(radius**2 - off**2)))
        self._reach(line, spot)
        self._arc(middle, radius, one, spot)
        self._arc(middle, radius, spot, other)
        way = sentences.way_word(side * line.du, side * line.dv)
        self._say(sentences.half_circle(spot.name, self._use(one), self._use(other), line.named(), way))
        return spot

    def ring(self, conic: Floats, shape: tuple[float, ...]) -> Floats:
        """Draw an ellipse: ``conic`` (3, 3) to cross with lines, ``shape`` its centre, axes and angle."""
        self._arcs.append((*shape, 0.0, 2 * pi))
        u, v, long, short, turn = shape[:5]
        axis = sentences.lying(cos(turn), sin(turn))
        place = ruler_words(self.document, u, v)
        self._say(sentences.along_ring(place, self.paper(2 * long), self.paper(2 * short), axis))
        return conic

    def cross_ring(self, conic: Floats, line: Line, towards: tuple[float, float], name: str) -> Spot:
        """Mark where a line crosses an ellipse, on the side of the direction ``towards``."""
        found = line_crossings(conic, np.array([line.u, line.v]), np.array([line.du, line.dv]))
        if found is None:
            raise ConstructionError(tr("The line that should give {point} misses the ring.", point=name))
        side = 1.0 if line.du * towards[0] + line.dv * towards[1] >= 0.0 else -1.0
        spot = self._spot(name, line.at(max(found, key=lambda along: along * side)))
        self._reach(line, spot)
        way = sentences.way_word(side * line.du, side * line.dv)
        self._say(sentences.across_ring(spot.name, line.named(), way))
        return spot

    def rule_across(self, line: Line) -> Line:
        """Draw a level line over the whole width of the sheet."""
        left, _, right, _ = self.document.sheet.rectangle
        line.reached += [(left - line.u) / line.du, (right - line.u) / line.du]
        return line

    def edge(self, one: Spot, other: Spot) -> None:
        """Draw an edge of the object, firmly."""
        self._edges.append((*one.at, *other.at))
        self._firm.append(sentences.joined(self._use(one), self._use(other)))

    def bend(self, one: Spot, places: Sequence[tuple[float, float]], other: Spot) -> None:
        """Draw a bend of the object by hand: from one point through places to another."""
        way = [one.at, *places, other.at]
        self._edges += [(*start, *end) for start, end in pairwise(way)]
        self._say(sentences.by_hand(self._use(one), self._use(other)))

    # --- steps ----------------------------------------------------------------------------------------------------

    def laid_out(self) -> None:
        """Say that the steps so far lay out what the others begin from."""
        self.setting_up = len(self.steps)

    def step(self, why: str) -> None:
        """Close the step: what has been drawn and said since the last one belongs together.

        A step of more sentences than a person follows with a finger on the page has been parted; all parts have one reason.
        """
        if self._said or self._firm or self._lines:
            self._close()
        self.steps[self._whole :] = [replace(part, why=why) for part in self.steps[self._whole :]]
        self._whole = len(self.steps)

    def _close(self) -> None:
        firm = set(self._firm)
        alone = [line for line in self._lines if not line.said and line.words and len(line.reached) > 1]
        ruled = [line.named() for line in alone if not {line.words, _back(line.words)} & firm]
        if ruled:
            self._said.append(sentences.ruled(ruled))
        if self._firm:
            self._said.append(sentences.firmly(list(dict.fromkeys(self._firm))))
        drawn = [
            (*line.at(min(line.reached)), *line.at(max(line.reached)))
            for line in self._lines
            if len(line.reached) > 1 and max(line.reached) > min(line.reached)
        ]
        on_the_way, told = marks_on_the_way(self.document, drawn, self._known())
        self._points += on_the_way
        new = {spot.name for spot in self._points}
        self.steps.append(
            Step(
                " ".join([*self._said, *told]),
                "",
                np.array(drawn).reshape(-1, 4),
                np.array(self._arcs).reshape(-1, 7),
                np.array(self._edges).reshape(-1, 4),
                tuple(self._points),
                tuple(spot for name, spot in self._used.items() if name not in new),
            )
        )
        self._begin()

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

    def fresh(self, stem: str) -> str:
        """Return a name such as ``P3`` that no point has."""
        number = 1
        while f"{stem}{number}" in self._names:
            number += 1
        return f"{stem}{number}"

    def _spot(self, name: str, at: tuple[float, float]) -> Spot:
        away = hypot(at[0] - self._middle[0], at[1] - self._middle[1])
        if not away <= FARTHEST:
            raise ConstructionError(
                tr(
                    "{point} lies {far} m from the sheet, off any reasonable paper.",
                    point=name,
                    far=f"{away / 1e3:.1f}",
                )
            )
        while name in self._names:  # two points of one name could not be told apart
            name += "′"
        spot = Spot(name, float(at[0]), float(at[1]))
        self._names[name] = spot
        self._points.append(spot)
        return spot

    def _use(self, spot: Spot) -> str:
        if spot.name:
            self._used[spot.name] = spot
        return spot.name

    def _say(self, words: str) -> None:
        """Add a sentence; everything that it tells has been drawn by now."""
        self._said.append(words)
        if len(self._said) >= _MOST_SAID or sum(map(len, self._said)) >= _MOST_LETTERS:
            self._close()

    def _from(self, through: Spot, du: float, dv: float, words: str) -> Line:
        line = Line(through.u, through.v, du, dv, words)
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


def _back(words: str) -> str:
    one, _, other = words.partition("–")
    return sentences.joined(other, one)
