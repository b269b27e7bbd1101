"""Rings from rings: one inside another, a stack along an upright, equal wheels along a wheelbase, one slid along its axle."""

from __future__ import annotations

from dataclasses import replace
from math import hypot

import numpy as np

from isometron.construct.outcome import Construction, NotHere, Spot
from isometron.construct.ring_in_square import (
    FLAT,
    Ring,
    Square,
    finish_ring,
    middles_of,
    ring_of,
    square_of,
    towards,
    world_centre,
)
from isometron.construct.ruler import FARTHEST, Line, Table
from isometron.document.lengths.units import format_length, format_number
from isometron.document.model import Document
from isometron.geometry.conics import circle_picture, ellipse_of
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE, EXACT, HAIR, PARALLEL
from isometron.volumes.building import scene_of
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["inner_ring", "ring_stack", "slid_ring", "wheels_in_a_row"]

_USUAL_INNER = 0.5
_USUAL_WHEELBASE = 3.0


def _ellipse(table: Table, plane: Floats) -> None:
    conic = circle_picture(plane)
    shape = ellipse_of(conic)
    if shape is not None:
        table.ring(conic, shape)


def inner_ring(document: Document, row: int, number: int | None = None) -> Construction | NotHere:
    """Construct a concentric ring: the inner square lies on the same diagonals. Without one of its own, half as wide."""
    ring = ring_of(document, row, number)
    if isinstance(ring, NotHere):
        return ring
    part = _inner_part(document, row, ring)
    table = Table(document)
    square = square_of(table, ring)
    marks = [table.mark(name, ring.at(x, -1.0)) for name, x in (("p", -part), ("q", part))]
    table.step(
        tr("p and q lie {part} of half the side to both sides of its middle: the inner ring is {part} as wide as the outer one, so its "
           "square is too.", part=format_number(part, 3)),
    )  # fmt: skip
    diagonals = [table.join(square.corners[0], square.corners[2]), table.join(square.corners[1], square.corners[3])]
    lines = [towards(square, mark, 1) for mark in marks]
    corners = [
        table.cross(lines[0], diagonals[0], "s1"),
        table.cross(lines[1], diagonals[1], "s2"),
        table.cross(lines[1], diagonals[0], "s3"),
        table.cross(lines[0], diagonals[1], "s4"),
    ]
    for k in range(4):
        table.join(corners[k], corners[(k + 1) % 4])
    points = middles_of(square, corners, square.centre)
    table.step(tr("Squares about one centre share their diagonals, in perspective as well."))
    inner = Ring(ring.plane @ np.diag([part, part, 1.0]), part * ring.diameter, part * ring.first, part * ring.second)
    _ellipse(table, ring.plane)
    return finish_ring(document, row, table, inner, "ring-inner", tr("Ring inside a ring, by diagonals"), points)


def _inner_part(document: Document, row: int, ring: Ring) -> float:
    """Return how wide the widest ring is that lies within another one about the same centre, as a part of it."""
    rounds = scene_of(document.volumes).rounds
    rings = rounds.rings[rounds.ring_owner == row]
    gap = np.sqrt(((rings[:, :3] - world_centre(document, ring)) ** 2).sum(axis=1))
    parts = np.sqrt((rings[:, 3:6] ** 2).sum(axis=1)) / (ring.diameter / 2)
    parts = parts[(gap < HAIR * ring.diameter) & (parts > 0.02) & (parts < 0.98)]
    return float(parts.max()) if len(parts) else _USUAL_INNER


def ring_stack(document: Document, row: int) -> Construction | NotHere:
    """Construct all rings of an upright turned body over its lowest one: ends ``ring k 1`` to ``4``, from the second ring."""
    volume = document.volumes[row]
    axes = document.eye.axes
    if not isinstance(volume, Turned):
        return NotHere(tr("{name} is no turned body. Make it round first.", name=volume.name))
    if abs(axes[2, 2]) >= PARALLEL or abs(axes[0, 2]) >= PARALLEL:
        return NotHere(tr("The view is tilted, so heights on an upright are not drawn in their true proportion."))
    rounds = scene_of(document.volumes).rounds
    own = (rounds.ring_owner == row) & ~rounds.ring_soft & (np.abs(rounds.ring_span[:, 1]) >= 1.0)
    rings = rounds.rings[own]
    across = np.cross(rings[:, 3:6], rings[:, 6:9]) if len(rings) else np.zeros((0, 3))
    if len(rings) < 2 or np.abs(across[:, :2]).max() > HAIR * np.abs(across[:, 2]).max():
        return NotHere(tr("{name} has no two rings over each other on an upright axle.", name=volume.name))
    rings = rings[np.argsort(rings[:, 2], kind="stable")]
    base = _as_ring(document, rings[0])
    if base is None:
        return NotHere(tr("The lowest ring of {name} is drawn as no ellipse from this eye.", name=volume.name))
    table = Table(document)
    square = square_of(table, base)
    axis = table.upright(square.centre)
    scale = document.eye.lens.scale(float((document.eye.to_camera(rings[0, :3])[0])[2]))
    ends: dict[str, tuple[float, float]] = {}
    _ellipse(table, base.plane)
    for k, ring in enumerate(rings[1:], start=2):
        ends |= _stacked(table, base, square, axis, scale, rings[0], ring, k)
    return Construction(
        "stack", tr("Stack of rings along an upright"), volume.id, scale, table.setting_up, tuple(table.steps), ends
    )


def _stacked(
    table: Table, base: Ring, square: Square, axis: Line, scale: float, foot: Floats, ring: Floats, number: int
) -> dict[str, tuple[float, float]]:
    high = float(ring[2] - foot[2])
    part = float(np.sqrt((ring[3:6] @ ring[3:6]) / (foot[3:6] @ foot[3:6])))
    centre = square.centre
    if high > CLOSE:
        true = format_length(round(high, 6), table.document.unit)
        centre = table.lay_off(axis, square.centre, high * scale, (0.0, 1.0), f"C{number}", true)
    places = ((part, 0.0), (0.0, part), (-part, 0.0), (0.0, -part))
    points = []
    for n, (x, y) in enumerate(places, start=1):
        below = table.mark(f"f{number}{n}", base.at(x, y))
        level = towards(square, centre, 0 if y == 0.0 else 1)
        over = table.upright(below)
        # An end of a middle line that is seen end on lies on the upright through the centre itself.
        turn = abs(level.du * over.dv - level.dv * over.du)
        name = f"r{number}{n}"
        spot = table.cross(level, over, name) if turn > 1e-3 else table.mark(name, _seen(table, ring, n))
        points.append(replace(spot, end=f"ring {number} {n}"))
    _ellipse(table, _as_plane(table.document, ring))
    table.step(
        tr("Ring {number}: its points stand over {part} of the lowest ring's radius, on that ring's middle lines. Uprights are parallel to "
           "the paper here, so heights keep their true proportion along one of them.", number=number, part=format_number(part, 3)),
    )  # fmt: skip
    return {spot.end: spot.at for spot in points}


def _seen(table: Table, ring: Floats, number: int) -> tuple[float, float]:
    x, y = ((1, 0), (0, 1), (-1, 0), (0, -1))[number - 1]
    paper, _ = table.document.eye.project(ring[:3] + x * ring[3:6] + y * ring[6:9])
    return float(paper[0, 0]), float(paper[0, 1])


def _as_plane(document: Document, ring: Floats) -> Floats:
    eye = document.eye
    camera = np.column_stack([eye.axes @ ring[3:6], eye.axes @ ring[6:9], eye.to_camera(ring[:3])[0]])
    plane: Floats = np.diag([eye.viewing_distance, eye.viewing_distance, 1.0]) @ camera
    return plane


def _as_ring(document: Document, ring: Floats) -> Ring | None:
    plane = _as_plane(document, ring)
    corners = [plane @ np.array([x, y, 1.0]) for x in (-1, 1) for y in (-1, 1)]
    shape = ellipse_of(circle_picture(plane)) if min(c[2] for c in corners) > 0.0 else None
    if shape is None or shape[3] <= FLAT:
        return None
    return Ring(plane, 2 * float(np.sqrt(ring[3:6] @ ring[3:6])), ring[3:6], ring[6:9])


def wheels_in_a_row(document: Document, row: int, number: int | None = None) -> Construction | NotHere:
    """Construct the last of equal wheels along a wheelbase counted in wheel diameters; without a row, three of them.

    ends : the touching points of its square, ``1`` to ``4``.
    """
    ring = ring_of(document, row, number)
    if isinstance(ring, NotHere):
        return ring
    volume = document.volumes[row]
    travel = _travel(document, row, ring)
    if isinstance(travel, NotHere):
        return travel
    axis, far = travel
    table = Table(document)
    square = square_of(table, ring)
    _ellipse(table, ring.plane)
    side = 1.0 if far > 0.0 else -1.0
    count = int(abs(far) / 2.0 + CLOSE)
    last = _count_off(table, square, axis, side, count)
    if last is None or abs(abs(far) - 2.0 * count) > CLOSE:
        last = _moved_square(table, ring, axis, far)
    corners = last
    centre = table.cross(table.join(corners[0], corners[2]), table.join(corners[1], corners[3]), "N")
    points = middles_of(square, corners, centre)
    wheels = format_number(abs(far) / 2.0, 2)
    table.step(
        tr("The wheelbase is {wheels} wheel diameters, and the last wheel is as large as the first.", wheels=wheels)
    )
    shift = np.eye(3)
    shift[axis, 2] = far
    moved = Ring(ring.plane @ shift, ring.diameter, ring.first, ring.second)
    title = tr("Wheels along a wheelbase")
    done = finish_ring(document, row, table, moved, "wheels", title, points)
    return Construction(done.school, title, volume.id, done.scale, done.setting_up, done.steps, done.ends)


def _travel(document: Document, row: int, ring: Ring) -> tuple[int, float] | NotHere:
    """Return along which of the ring's own directions the row runs, and how far, in radii."""
    volume = document.volumes[row]
    scene = scene_of(document.volumes)
    if volume.copies:
        first = volume.copies[0]
        way = scene.rotations[row][:, DIRECTIONS.index(first.along)] * first.pitch * (first.count - 1)
    else:
        level = ring.first if abs(ring.first[2]) <= abs(ring.second[2]) else ring.second
        way = level * 2.0 * _USUAL_WHEELBASE
    for axis, half in enumerate((ring.first, ring.second)):
        far = float(way @ half) / float(half @ half)
        if abs(float(np.sqrt(way @ way)) - abs(far) * float(np.sqrt(half @ half))) < HAIR * float(np.sqrt(way @ way)):
            w = ring.plane[2, 2] + far * ring.plane[2, axis]
            if w - abs(ring.plane[2, 0]) - abs(ring.plane[2, 1]) <= 0.0:
                return NotHere(tr("The last wheel of {name} reaches behind the eye.", name=volume.name))
            return axis, far
    return NotHere(tr("The row of {name} does not run in the plane of its wheel.", name=volume.name))


def _count_off(table: Table, square: Square, axis: int, side: float, count: int) -> list[Spot] | None:
    """Repeat the square by diagonals through the middle of its far side; return the last one's corners, as the first's."""
    if count == 0:
        return None
    # Corners by their own (x, y): near and far along the row, low and high across it.
    place = {(-1, -1): 0, (1, -1): 1, (1, 1): 2, (-1, 1): 3}

    def corner(along: float, across: int) -> Spot:
        key = (int(along), across) if axis == 0 else (across, int(along))
        return square.corners[place[key]]

    near = {a: corner(-side, a) for a in (-1, 1)}
    far = {a: corner(side, a) for a in (-1, 1)}
    edges = {a: towards(square, near[a], axis) for a in (-1, 1)}
    middle_line = towards(square, square.centre, axis)
    for k in range(count):
        middle = table.cross(table.join(far[-1], far[1]), middle_line, f"w{k + 1}")
        new_high = table.cross(table.join(near[-1], middle), edges[1], f"h{k + 2}")
        new_low = table.cross(table.join(near[1], middle), edges[-1], f"l{k + 2}")
        table.join(new_low, new_high)
        near, far = far, {-1: new_low, 1: new_high}
    table.step(
        tr(
            "A diagonal through the middle of the far side repeats a square; a wheel fills each of them, {count} more.",
            count=count,
        )
    )
    back = {(-side, -1): near[-1], (-side, 1): near[1], (side, -1): far[-1], (side, 1): far[1]}
    order = [(-1, -1), (1, -1), (1, 1), (-1, 1)]
    return [back[(float(x), y)] if axis == 0 else back[(float(y), x)] for x, y in order]


def _moved_square(table: Table, ring: Ring, axis: int, far: float) -> list[Spot]:
    """Set up the last square where the wheelbase is no whole number of wheels."""
    order = [(-1, -1), (1, -1), (1, 1), (-1, 1)]
    places = [(x + far, y) if axis == 0 else (x, y + far) for x, y in order]
    corners = [table.mark(f"T{k + 1}", ring.at(*place)) for k, place in enumerate(places)]
    for k in range(4):
        table.join(corners[k], corners[(k + 1) % 4])
    table.step(
        tr(
            "The last square: {wheels} wheel diameters is no whole number of squares, so it is measured.",
            wheels=format_number(abs(far) / 2.0, 2),
        ),
    )
    return corners


def slid_ring(document: Document, row: int, number: int | None = None) -> Construction | NotHere:
    """Slide a ring along its axle to the other end of its body: ends are the touching points of the slid square."""
    ring = ring_of(document, row, number)
    if isinstance(ring, NotHere):
        return ring
    volume = document.volumes[row]
    way = _axle_way(document, row, ring)
    eye = document.eye
    step = eye.axes @ way
    table = Table(document)
    square = square_of(table, ring)
    _ellipse(table, ring.plane)
    f = eye.viewing_distance
    plane = ring.plane.copy()
    plane[:, 2] += np.array([f * step[0], f * step[1], step[2]])
    moved = Ring(plane, ring.diameter, ring.first, ring.second)
    if plane[2, 2] - abs(plane[2, 0]) - abs(plane[2, 1]) <= 0.0:
        return NotHere(tr("Slid that far, the ring of {name} reaches behind the eye.", name=volume.name))
    rails = _rails(table, square.corners, step, f)
    start = _best_start(ring, moved, square, rails)
    order = [(-1, -1), (1, -1), (1, 1), (-1, 1)]
    first = table.mark(f"T{start + 1}", moved.at(*order[start]))
    table.step(
        tr("Every point of the ring slides on a line of the axle's direction; one corner is measured, {far} along.",
           far=format_length(round(float(np.sqrt(way @ way)), 6), document.unit)),
    )  # fmt: skip
    found = {start: first}
    for k, direction in ((start ^ 1, 0), (3 - start, 1)):
        found[k] = table.cross(towards(square, first, direction), rails[k], f"T{k + 1}")
    last = next(k for k in range(4) if k not in found)
    found[last] = table.cross(
        towards(square, found[start ^ 1], 1), towards(square, found[3 - start], 0), f"T{last + 1}"
    )
    corners = [found[k] for k in range(4)]
    for k in range(4):
        table.join(corners[k], corners[(k + 1) % 4])
    centre = table.cross(table.join(corners[0], corners[2]), table.join(corners[1], corners[3]), "N")
    points = middles_of(square, corners, centre)
    table.step(tr("Parallel squares share their vanishing points."))
    return finish_ring(document, row, table, moved, "slide", tr("Ring slid along its axle"), points)


def _axle_way(document: Document, row: int, ring: Ring) -> Floats:
    """Return from the ring towards the other end of its body (3,), mm: along the axle by the body's length there."""
    normal = np.cross(ring.first, ring.second)
    normal = normal / np.sqrt(normal @ normal)
    corners = scene_of(document.volumes).corners_of(row)
    along = (corners - world_centre(document, ring)) @ normal
    far = along.max() if along.max() >= -along.min() else along.min()
    way: Floats = float(far) * normal
    return way if float(np.sqrt(way @ way)) > HAIR else normal * ring.diameter / 2


def _rails(table: Table, corners: list[Spot], step: Floats, f: float) -> list[Line]:
    """Rule from every corner along the axle: to its vanishing point, or at its angle on paper where that is out of reach."""
    far = float(np.sqrt(step @ step))
    if abs(step[2]) < EXACT * far:
        return [table.slanted(corner, float(step[0]), float(step[1])) for corner in corners]
    at = float(f * step[0] / step[2]), float(f * step[1] / step[2])
    if hypot(*at) > FARTHEST - table.document.sheet.diagonal:
        return [table.slanted(corner, at[0] - corner.u, at[1] - corner.v) for corner in corners]
    point = table.mark("VP A", at)
    return [table.join(corner, point) for corner in corners]


def _best_start(ring: Ring, moved: Ring, square: Square, rails: list[Line]) -> int:
    """Return the corner from which the lines cross most cleanly."""
    order = [(-1, -1), (1, -1), (1, 1), (-1, 1)]

    def clean(start: int) -> float:
        u, v = moved.at(*order[start])
        worst = 1.0
        for k in (start ^ 1, 3 - start):
            du, dv = moved.at(*order[k])[0] - u, moved.at(*order[k])[1] - v
            size = hypot(du, dv)
            worst = min(worst, abs(du * rails[k].dv - dv * rails[k].du) / size if size > 0.0 else 0.0)
        return worst

    return max(range(4), key=clean)
