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
    return finished(table, "three-point", tr("Three-point, measuring points"), box, row, ends, setting_up=1)


def _triangle(table: Table, box: TiltedBox) -> tuple[list[Spot], dict[tuple[int, int], Line], Spot]:
    points = [table.mark(f"VP {k + 1}", at) for k, at in enumerate(box.points)]
    nearest = table.mark("nearest", box.nearest)
    sides = {side: table.join(points[side[0]], points[side[1]]) for side in _SIDES}
    table.step(
        tr(
            "Mark the three vanishing points: VP 1, {a}; VP 2, {b}; VP 3, {c}. Join them, and mark the nearest corner, {near}.",
            a=table.ruler(points[0]),
            b=table.ruler(points[1]),
            c=table.ruler(points[2]),
            near=table.ruler(nearest),
        ),
        tr("Each side of the triangle is the horizon of one pair of faces."),
    )
    altitudes = {side: table.perpendicular(sides[side], points[3 - sum(side)]) for side in _SIDES}
    centre = table.cross(altitudes[_SIDES[0]], altitudes[_SIDES[1]], "CV")
    table.step(
        tr("Drop a perpendicular from each vanishing point to the opposite side: they meet in the centre of vision, {place}.",
           place=table.ruler(centre)),
        tr("Three directions at right angles are seen so only with the eye straight before that point."),
    )  # fmt: skip
    return points, altitudes, nearest


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
    eye = table.half_circle(one, other, altitude, outward, f"eye {side[0] + 1}{side[1] + 1}")
    table.step(
        tr("Draw the half circle over VP {one} and VP {other}; the perpendicular meets it in the eye folded down.",
           one=side[0] + 1, other=side[1] + 1),
        tr("On the half circle every angle over its diameter is a right one, as the box's edges are."),
    )  # fmt: skip
    line = table.parallel(edge, nearest)
    found = {}
    for k in wanted:
        far = points[side[0] + side[1] - k]
        spot = table.swing(points[k], eye, edge, far, f"MP {k + 1}")
        towards = (points[k].u - far.u, points[k].v - far.v)
        laid = table.lay_off(line, nearest, box.lengths[k], towards, f"m {k + 1}")
        found[k] = table.cross(table.join(laid, spot), table.join(nearest, points[k]), "abc"[k])
        table.edge(nearest, found[k])
        table.step(
            tr(
                "Swing the folded eye about VP {k} onto the side: MP {k}. Through the nearest corner rule the parallel to "
                "the side, lay off {true} ({drawn} of paper), and rule to MP {k}: it cuts the edge to VP {k}.",
                k=k + 1,
                true=true_of(table, box.lengths[k], box.scale),
                drawn=table.paper(box.lengths[k]),
            ),
            tr("The parallel is a true line of measure: it lies as far from the eye as the nearest corner."),
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
        corners[number] = table.cross(lines[0], lines[1], _name(number))
        for k in range(3):
            if number ^ 1 << k in corners:
                table.edge(corners[number ^ 1 << k], corners[number])
        if len(corners) == 7:
            table.step(
                tr(
                    "From the ends reached so far run to the other vanishing points: they cross in three more corners."
                ),
                tr("Parallel edges share a vanishing point."),
            )
    table.step(
        tr(
            "The last corner: from each of its three neighbours to the vanishing point that is left. The lines meet in one."
        ),
        tr("If the third line misses the crossing of the other two, something before was ruled badly."),
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
