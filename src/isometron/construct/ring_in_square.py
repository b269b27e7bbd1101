"""The ellipse of a ring in its square: by 4, 8 or 12 points that ruler and diagonals find, each on the exact ellipse.

The square stands round the ring on two directions of its plane. Four points: the middles of its sides. Eight: also where
the diagonals leave the ring, 1 - 1 / sqrt 2 of half a side from the corner. Twelve: also the points at 30 and 60 degrees, on the
quarter lines and 1 - sqrt 3 / 2 of half a side from the corner.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot, sqrt

import msgspec
import numpy as np

from isometron.construct.outcome import Construction, NotHere, Spot
from isometron.construct.ruler import FARTHEST, Line, Table
from isometron.document.lengths.units import format_length
from isometron.document.model import Document
from isometron.geometry.conics import circle_picture, ellipse_of
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE, EXACT
from isometron.view.ring_picture import Circle, ring_picture
from isometron.volumes.building import scene_of
from isometron.wording import tr

__all__ = [
    "FLAT",
    "Ring",
    "Square",
    "by_eight_points",
    "by_four_points",
    "by_template",
    "by_twelve_points",
    "finish_ring",
    "middles_of",
    "ring_of",
    "square_of",
    "towards",
    "world_centre",
]

FLAT = 0.5
"""mm of the lesser half axis below which a ring is drawn as a line."""

_EIGHTH = 1.0 - sqrt(0.5)
"""Where a line through a diagonal point meets the side of the square, as a part of half the side from its corner."""


@dataclass(frozen=True)
class Ring:
    """A ring and its square: picture of the square's corners, middles of sides and centre by the square's own (x, y),
    -1 to 1, through the homography ``plane`` (3, 3) in mm of paper."""

    plane: Floats
    diameter: float
    first: Floats
    second: Floats

    def at(self, x: float, y: float) -> tuple[float, float]:
        """Return the paper point of (x, y) on the plane of the ring."""
        p = self.plane @ np.array([x, y, 1.0])
        return float(p[0] / p[2]), float(p[1] / p[2])


def ring_of(document: Document, row: int, number: int | None = None) -> Ring | NotHere:
    """Return a ring of a volume by its number, as they are told in a row (from 0); of None the one that shows most openly."""
    volume = document.volumes[row]
    # Of a volume that stands in a row the first one is constructed.
    rounds = scene_of((msgspec.structs.replace(volume, copies=(), mirror=None),)).rounds
    rings = rounds.rings[np.abs(rounds.ring_span[:, 1]) >= 1.0]
    if len(rings) == 0:
        return NotHere(
            tr("{name} has no ring. Make it round, or lay a ring on a face of it.", name=volume.name), None
        )
    if number is not None:
        rings = rings[[number % len(rings)]]
    eye = document.eye
    best, most = None, -1.0
    for ring in rings:
        centre, first, second = ring[:3], ring[3:6], ring[6:9]
        camera = np.column_stack([eye.axes @ first, eye.axes @ second, eye.to_camera(centre)[0]])
        corners = [camera @ np.array([x, y, 1.0]) for x in (-1, 1) for y in (-1, 1)]
        shape = ellipse_of(circle_picture(camera)) if min(c[2] for c in corners) > 0.0 else None
        if shape is not None and shape[3] * eye.viewing_distance > FLAT and shape[2] * shape[3] > most:
            most = shape[2] * shape[3]
            plane = np.diag([eye.viewing_distance, eye.viewing_distance, 1.0]) @ camera
            best = Ring(plane, 2 * float(np.sqrt(first @ first)), first, second)
    if best is None:
        words = tr(
            "No ring of {name} is drawn as an ellipse that a ruler can find: from this eye they are lines, or nearly so.",
            name=volume.name,
        )
        return NotHere(words, None)
    return best


@dataclass
class Square:
    """The square on the table: corners and middles of the sides, counter-clockwise from (-1, -1) and (0, -1).

    points : the vanishing points of its two directions, None for one that is off any paper.
    """

    table: Table
    ring: Ring
    corners: list[Spot]
    middles: list[Spot]
    centre: Spot
    points: tuple[Spot | None, Spot | None]


def square_of(table: Table, ring: Ring) -> Square:
    """Draw the square round a ring, its diagonals, and the middles of its sides: two steps."""
    places = [(-1, -1), (1, -1), (1, 1), (-1, 1)]
    corners = [table.mark(f"S{k + 1}", ring.at(x, y)) for k, (x, y) in enumerate(places)]
    points = _vanishing_spots(table, ring)
    for k in range(4):
        table.join(corners[k], corners[(k + 1) % 4])
    side = format_length(round(ring.diameter, 6), table.document.unit)
    told = [
        tr("{one}–{other} and its opposite side vanish in {point}.", one=one, other=other, point=point.name)
        if point is not None
        else tr("{one}–{other} and its opposite side are drawn parallel, or nearly so.", one=one, other=other)
        for (one, other), point in zip((("S1", "S2"), ("S2", "S3")), points, strict=True)
    ]
    table.step(
        tr(
            "The square round the ring, {side} on a side: a circle fits only one square in its place. {told}",
            side=side,
            told=" ".join(told),
        ),
    )
    table.laid_out()
    centre = table.cross(table.join(corners[0], corners[2]), table.join(corners[1], corners[3]), "M")
    square = Square(table, ring, corners, [], centre, points)
    square.middles = middles_of(square, corners, centre)
    table.step(tr("The diagonals cross in M, the true centre, which is not the middle of the drawn square."))
    return square


def _vanishing_spots(table: Table, ring: Ring) -> tuple[Spot | None, Spot | None]:
    """Mark the vanishing points of the square's two directions; None for one that lies off any reasonable paper."""
    found: list[Spot | None] = []
    for direction in (0, 1):
        at = vanishing_of(ring, direction)
        if at is None or hypot(*at) > FARTHEST - table.document.sheet.diagonal:
            found.append(None)
            continue
        letter = "L" if at[0] < 0.0 else "R"
        if abs(at[1]) > abs(at[0]):
            letter = "D" if at[1] < 0.0 else "U"
        found.append(table.mark(f"VP {letter}", at))
    return found[0], found[1]


def vanishing_of(ring: Ring, direction: int) -> tuple[float, float] | None:
    """Return the vanishing point of one of the square's own directions, None where it is drawn parallel."""
    x, y, w = ring.plane[:, direction]
    return None if abs(w) < EXACT * np.hypot(x, y) else (float(x / w), float(y / w))


def towards(square: Square, spot: Spot, direction: int) -> Line:
    """Return the line through a point in the square's own direction: to its vanishing point, or at its angle on paper."""
    point = square.points[direction]
    if point is not None:
        return square.table.join(spot, point)
    x, y, w = square.ring.plane[:, direction]
    if vanishing_of(square.ring, direction) is None:
        return square.table.slanted(spot, float(x), float(y))
    return square.table.slanted(spot, float(x / w) - spot.u, float(y / w) - spot.v)


def middles_of(square: Square, corners: list[Spot], centre: Spot) -> list[Spot]:
    """Mark the middles of a square's sides by lines through its centre to the vanishing points."""
    table = square.table
    sides = [table.join(corners[k], corners[(k + 1) % 4]) for k in range(4)]
    across, away = towards(square, centre, 0), towards(square, centre, 1)
    return [table.cross(away if k % 2 == 0 else across, sides[k], table.fresh("")) for k in range(4)]


def finish_ring(
    document: Document, row: int, table: Table, ring: Ring, school: str, title: str, points: list[Spot]
) -> Construction:
    """Draw the ellipse through points that were found, and return the construction that ends on them."""
    conic = _conic(document, ring)
    shape = ellipse_of(conic)
    if shape is not None:
        table.ring(conic, shape)
    table.step(
        tr("Through {points}: it touches the sides at their middles and is never pointed; check the turns at the long axis.",
           points=", ".join(spot.name for spot in points)),
    )  # fmt: skip
    ends = {spot.name: spot.at for spot in points}
    scale = document.eye.lens.scale(float(ring.plane[2, 2]))
    return Construction(school, title, document.volumes[row].id, scale, table.setting_up, tuple(table.steps), ends)


def _conic(document: Document, ring: Ring) -> Floats:
    return circle_picture(ring.plane)


def by_four_points(document: Document, row: int, number: int | None = None) -> Construction | NotHere:
    """Construct a ring's ellipse by the four points where it touches its square."""
    ring = ring_of(document, row, number)
    if isinstance(ring, NotHere):
        return ring
    table = Table(document)
    square = square_of(table, ring)
    return finish_ring(document, row, table, ring, "ring-4", tr("Ring by 4 points"), square.middles)


def by_eight_points(document: Document, row: int, number: int | None = None) -> Construction | NotHere:
    """Construct a ring's ellipse by eight points: the middles, and where the diagonals meet it."""
    ring = ring_of(document, row, number)
    if isinstance(ring, NotHere):
        return ring
    table = Table(document)
    square = square_of(table, ring)
    marks = [table.mark(name, ring.at(x, -1.0)) for name, x in (("e", -1.0 + _EIGHTH), ("f", 1.0 - _EIGHTH))]
    table.step(
        tr(
            "There the square's diagonal leaves the circle: 1 - 1 / √2, or 0.293, of half the side from its corners, in perspective."
        )
    )
    diagonals = [table.join(square.corners[0], square.corners[2]), table.join(square.corners[1], square.corners[3])]
    points = list(square.middles)
    for spot, (near, far) in zip(marks, ((0, 1), (1, 0)), strict=True):
        line = towards(square, spot, 1)
        points.append(table.cross(line, diagonals[near], table.fresh("")))
        points.append(table.cross(line, diagonals[far], table.fresh("")))
    table.step(tr("A line through two points of a ring that lie opposite each other runs like the side."))
    return finish_ring(document, row, table, ring, "ring-8", tr("Ring by 8 points"), points)


def by_twelve_points(document: Document, row: int, number: int | None = None) -> Construction | NotHere:
    """Construct a ring's ellipse by twelve points: quarters of the sides give the points at 30 and 60 degrees.

    The point (sin 30, cos 30) of a circle lies on the quarter line x = 1/2, at sqrt(3)/2 of its half height.
    """
    ring = ring_of(document, row, number)
    if isinstance(ring, NotHere):
        return ring
    table = Table(document)
    square = square_of(table, ring)
    quarters = {}
    for name, x, y in (("a", -0.5, -1.0), ("b", 0.5, -1.0), ("c", -1.0, -0.5), ("d", -1.0, 0.5)):
        quarters[name] = table.mark(name, ring.at(x, y))
    table.step(
        tr(
            "The quarter points of two sides: halves of their halves, by diagonals, the only halving that perspective keeps."
        )
    )
    high = sqrt(3.0) / 2.0
    marks = [table.mark(name, ring.at(-1.0, y)) for name, y in (("g", -high), ("h", high))]
    marks += [table.mark(name, ring.at(x, -1.0)) for name, x in (("i", -high), ("j", high))]
    table.step(
        tr("0.134 of half a side from each corner: at 30° a circle stands 0.866 of its radius from the middle line.")
    )
    points = list(square.middles)
    for upright in (quarters["a"], quarters["b"]):
        points += _pair(square, upright, (marks[0], marks[1]))
    for level in (quarters["c"], quarters["d"]):
        points += _pair(square, level, (marks[2], marks[3]), level=True)
    table.step(tr("Twelve points lie every 30° round the ring, like the hours."))
    return finish_ring(document, row, table, ring, "ring-12", tr("Ring by 12 points"), points)


def _pair(square: Square, start: Spot, marks: tuple[Spot, Spot], *, level: bool = False) -> list[Spot]:
    line, table = towards(square, start, 0 if level else 1), square.table
    return [table.cross(line, towards(square, spot, 1 if level else 0), table.fresh("")) for spot in marks]


def by_template(document: Document, row: int, number: int | None = None) -> Construction | NotHere:
    """Lay a template: the ellipse's own centre and axes, its degree, and how far the rule of the axle is off."""
    ring = ring_of(document, row, number)
    if isinstance(ring, NotHere):
        return ring
    a, b = (float(np.sqrt(half @ half)) for half in (ring.first, ring.second))
    if abs(a - b) > CLOSE * a:
        return NotHere(tr("The ring is oblong in itself; no template of circles fits it."), None)
    table = Table(document)
    square = square_of(table, ring)
    centre = world_centre(document, ring)
    picture = ring_picture(document.eye, Circle.of(centre, a, np.cross(ring.first, ring.second), ring.first))
    middle = table.mark("C", picture.centre or square.centre.at)
    turn = np.radians(picture.major_angle or 0.0)
    along, across = (float(np.cos(turn)), float(np.sin(turn))), (-float(np.sin(turn)), float(np.cos(turn)))
    long_axis, short_axis = table.slanted(middle, *along), table.slanted(middle, *across)
    ends = [
        table.lay_off(long_axis, middle, picture.semi_major, along, "A1"),
        table.lay_off(long_axis, middle, picture.semi_major, (-along[0], -along[1]), "A2"),
        table.lay_off(short_axis, middle, picture.semi_minor, across, "B1"),
        table.lay_off(short_axis, middle, picture.semi_minor, (-across[0], -across[1]), "B2"),
    ]
    table.step(
        tr("The template of {degree}° with its centre on C and its long axis along A1–A2. C is not M: the near half of a ring is drawn "
           "larger than the far half.", degree=f"{picture.degree:.1f}"),
    )  # fmt: skip
    return finish_ring(document, row, table, ring, "template", tr("Minor axis and degree"), ends)


def world_centre(document: Document, ring: Ring) -> Floats:
    """Return the true centre (3,) of a ring."""
    f = document.eye.viewing_distance
    camera = ring.plane[:, 2] / np.array([f, f, 1.0])
    centre: Floats = document.eye.place + camera @ document.eye.axes
    return centre
