"""Three-point: measuring points on the sides of the triangle of vanishing points.

The eye sees the vanishing points of each side at a right angle; folded into the paper about that side it lies on
the half circle over it (Thales), on the altitude through the centre of vision.
"""

from __future__ import annotations

from math import hypot

from isometron.construct.box_parts import finished, true_of
from isometron.construct.outcome import Construction, NotHere, Spot
from isometron.construct.ruler import Line, Table
from isometron.construct.subject import TiltedBox, tilted_box
from isometron.document.model import Document
from isometron.wording import tr

__all__ = ["by_three_points"]

_SIDES = ((0, 1), (1, 2), (2, 0))
_CORNERS = "ABCEDFGH"
"""Letters of the corners by their numbers (see `_close`): A the nearest, B, C and D along its three edges."""


def by_three_points(document: Document, row: int) -> Construction | NotHere:
    """Construct a box with three vanishing points, nearest corner first."""
    box = tilted_box(document, row)
    if isinstance(box, NotHere):
        return box
    table = Table(document)
    points, altitudes, nearest = _triangle(table, box)
    # A face seen on edge has its nearest corner on its own horizon: that side of the triangle serves last.
    sides = sorted(_SIDES, key=lambda side: -_off(nearest, points[side[0]], points[side[1]]))
    reached: dict[int, Spot] = {}
    for side in sides:
        wanted = [k for k in side if k not in reached]
        if wanted:
            reached |= _measure(table, box, points, altitudes[side], nearest, side, wanted)
    ends = _close(table, points, nearest, reached)
    return finished(table, "three-point", tr("Three-point, measuring points"), box, row, ends)


def _triangle(table: Table, box: TiltedBox) -> tuple[list[Spot], dict[tuple[int, int], Line], Spot]:
    letters = _letters(box)
    points = [table.mark(f"VP {letter}", at) for letter, at in zip(letters, box.points, strict=True)]
    nearest = table.mark("A", box.nearest)
    sides = {side: table.join(points[side[0]], points[side[1]]) for side in _SIDES}
    table.step(
        tr(
            "A is the nearest corner. Each side of the triangle of vanishing points is the horizon of one pair of faces."
        )
    )
    table.laid_out()
    altitudes = {side: table.perpendicular(sides[side], points[3 - sum(side)]) for side in _SIDES}
    centre = table.cross(altitudes[_SIDES[0]], altitudes[_SIDES[1]], "CV")
    altitudes[_SIDES[2]].reached.append(altitudes[_SIDES[2]].along(centre))
    table.step(
        tr(
            "CV is the centre of vision: three directions at right angles are seen so only with the eye straight before that point."
        ),
    )
    return points, altitudes, nearest


def _letters(box: TiltedBox) -> list[str]:
    """Return the letters of the vanishing points: U or D for the one that lies most above or below, L and R for the others."""
    steep = max(range(3), key=lambda k: abs(box.points[k][1]) / (1.0 + abs(box.points[k][0])))
    left, right = sorted((k for k in range(3) if k != steep), key=lambda k: box.points[k][0])
    found = {steep: "U" if box.points[steep][1] > 0.0 else "D", left: "L", right: "R"}
    return [found[k] for k in range(3)]


def _measure(
    table: Table,
    box: TiltedBox,
    points: list[Spot],
    altitude: Line,
    nearest: Spot,
    side: tuple[int, int],
    wanted: list[int],
) -> dict[int, Spot]:
    """Fold the eye about one side of the triangle, and measure the directions that vanish at its ends."""
    one, other = points[side[0]], points[side[1]]
    edge = table.join(one, other)
    outward = _away(points[3 - sum(side)], one, other)
    letters = [spot.name.removeprefix("VP ") for spot in points]
    eye = table.half_circle(one, other, altitude, outward, f"SP {letters[side[0]]}{letters[side[1]]}")
    table.step(
        tr("{eye} is the eye folded down: on the half circle every angle over its diameter is a right one, as the box's edges are.",
           eye=eye.name),
    )  # fmt: skip
    line = table.title(table.parallel(edge, nearest), tr("the measuring line to {side}", side=edge.words))
    found = {}
    for k in wanted:
        far = points[side[0] + side[1] - k]
        spot = table.swing(points[k], eye, edge, far, f"MP {letters[k]}")
        towards = (points[k].u - far.u, points[k].v - far.v)
        true = true_of(table, box.lengths[k], box.scale)
        laid = table.lay_off(line, nearest, box.lengths[k], towards, f"m {letters[k]}", true)
        found[k] = table.cross(table.join(laid, spot), table.join(nearest, points[k]), _CORNERS[1 << k])
        table.edge(nearest, found[k])
        table.step(
            tr(
                "MP is a measuring point. The measuring line is a true line of measure: it lies as far from the eye as the nearest corner."
            ),
        )
    return found


def _away(third: Spot, one: Spot, other: Spot) -> tuple[float, float]:
    """Return the direction from the third vanishing point across the side."""
    return (one.u + other.u) / 2 - third.u, (one.v + other.v) / 2 - third.v


def _off(spot: Spot, one: Spot, other: Spot) -> float:
    """Return how far a point lies from the line through two others, mm."""
    du, dv = other.u - one.u, other.v - one.v
    return abs(du * (spot.v - one.v) - dv * (spot.u - one.u)) / hypot(du, dv)


def _close(
    table: Table, points: list[Spot], nearest: Spot, reached: dict[int, Spot]
) -> dict[str, tuple[float, float]]:
    """Cross the remaining corners, each from the two known neighbours whose edges cross most cleanly.

    Corners are numbered by the directions they lie off the nearest one: bit k for direction k.
    """
    corners = {0: nearest, **{1 << k: reached[k] for k in range(3)}}
    while len(corners) < 8:
        number, pair = max(_crossings(corners, points), key=lambda found: found[2])[:2]
        lines = [table.join(corners[number ^ 1 << k], points[k]) for k in pair]
        corners[number] = table.cross(lines[0], lines[1], _CORNERS[number])
        for k in range(3):
            if number ^ 1 << k in corners:
                table.edge(corners[number ^ 1 << k], corners[number])
        if len(corners) == 7:
            table.step(tr("Parallel edges share a vanishing point."))
    table.step(
        tr(
            "If the line from the third neighbour to its vanishing point misses the last corner, something before was ruled badly."
        ),
    )
    return {_name(number): spot.at for number, spot in corners.items()}


def _crossings(corners: dict[int, Spot], points: list[Spot]) -> list[tuple[int, tuple[int, int], float]]:
    """Return each corner still missing with two directions it can be reached by, and how cleanly they cross (sine)."""
    found = []
    for number in set(range(8)) - set(corners):
        for pair in _SIDES:
            starts = [corners.get(number ^ 1 << k) for k in pair]
            if None not in starts:
                reach = [(points[k].u - at.u, points[k].v - at.v) for k, at in zip(pair, starts, strict=True) if at]
                turn = reach[0][0] * reach[1][1] - reach[0][1] * reach[1][0]
                found.append((number, pair, abs(turn) / (hypot(*reach[0]) * hypot(*reach[1]))))
    return found


def _name(number: int) -> str:
    return "".join("abc"[k] for k in range(3) if number >> k & 1) or "nearest"
