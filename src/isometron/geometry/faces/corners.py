"""Outlines from corners that are sharp, rounded or chamfered, with sides that are straight or bowed to an arc."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import atan, atan2, cos, hypot, pi, sin, tan
from typing import Literal

import numpy as np

from isometron.errors import IsometronError
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import Bend, Outline, flattened
from isometron.geometry.tolerances import CLOSE, EXACT, HAIR
from isometron.wording import tr

__all__ = ["Corner", "OutlineError", "Part", "outline_through", "parts_through"]

Part = Literal["side", "round", "chamfer", "bow"]


class OutlineError(IsometronError, ValueError):
    """Corners that make no outline; the message says which, why, and the remedy."""


@dataclass(frozen=True)
class Corner:
    """A corner at ``x``, ``y`` mm: rounded by a radius, or chamfered by so many mm along both sides, or neither.

    bow : how far the side to the next corner bows out (in, when negative), as a part of half its length; 1 is half a round.
    """

    x: float
    y: float
    round: float = 0.0
    chamfer: float = 0.0
    bow: float = 0.0


def outline_through(corners: Sequence[Corner]) -> Outline:
    """Return the outline through corners, counter-clockwise whatever their order; raises `OutlineError`.

    A rounded corner is the arc of its radius that touches both sides (any text on drafting); an arc of bow b over the
    chord c has the radius c (1 + b^2) / (4 b).
    """
    return parts_through(corners)[0]


def parts_through(corners: Sequence[Corner]) -> tuple[Outline, list[tuple[int, Part]]]:
    """Return the outline, and of each of its sides the corner that it belongs to and what it is there.

    A round or a chamfer belongs to its corner, a side or a bow to the corner that it begins at as the corners were given.
    """
    if len(corners) < 3:
        raise OutlineError(tr("An outline needs three corners or more; it has {count}.", count=len(corners)))
    count = len(corners)
    own, begins = list(range(count)), list(range(count))
    if _area(corners) < 0.0:
        corners, own = _turned(corners), own[::-1]
        begins = [(count - 2 - k) % count for k in range(count)]
    apart = [k for k in range(count) if not _same(corners[k], corners[(k + 1) % count])]
    if 3 <= len(apart) < count:
        # Corners that were drawn together count once: the last of them, from which the side goes on.
        corners, own, begins = [corners[k] for k in apart], [own[k] for k in apart], [begins[k] for k in apart]
        count = len(apart)
    _audit(corners)
    backs = [_back(corners, k) for k in range(count)]
    for k in range(count):
        _audit_side(corners, backs, k)
    points: list[tuple[float, float]] = []
    bends: dict[int, Bend] = {}
    parts: list[tuple[int, Part]] = []
    for k, corner in enumerate(corners):
        points_here, bend = _at_corner(corners, k, backs[k])
        if bend is not None:
            bends[len(points)] = bend
        if len(points_here) > 1:
            parts.append((own[k], "chamfer" if bend is None else "round"))
        points += points_here
        parts.append((begins[k], "bow" if corner.bow != 0.0 else "side"))
        if corner.bow != 0.0:
            bends[len(points) - 1] = _bowed(corner, corners[(k + 1) % count])
    outline, kept = _without_doubles(points, bends, parts)
    if bends and _crossing(*flattened(outline, _COARSE).T) is not None:
        raise OutlineError(
            tr("A round or a bow of the outline crosses another side: make it smaller, or bring the corners apart.")
        )
    return outline, kept


_COARSE = 12
"""Chords to a quarter turn where it is asked whether rounds cross anything."""


def _same(one: Corner, two: Corner) -> bool:
    return hypot(one.x - two.x, one.y - two.y) <= HAIR


def _turned(corners: Sequence[Corner]) -> list[Corner]:
    """Return the corners the other way round; each side keeps its bow, which is begun at its other end."""
    count = len(corners)
    return [
        Corner(c.x, c.y, c.round, c.chamfer, corners[(count - 2 - k) % count].bow)
        for k, c in enumerate(reversed(corners))
    ]


def _area(corners: Sequence[Corner]) -> float:
    """Return the area (mm2) that the corners go round, positive counter-clockwise; bows add theirs."""
    total = 0.0
    for one, two in zip(corners, [*corners[1:], corners[0]], strict=True):
        total += (one.x * two.y - two.x * one.y) / 2.0
    return total


def _audit(corners: Sequence[Corner]) -> None:
    x, y = np.array([(c.x, c.y) for c in corners]).T
    crossing = _crossing(x, y)
    if crossing is not None:
        one, two = crossing
        raise OutlineError(
            tr("The outline crosses itself: side {one} and side {two} meet. Move one of their corners.",
               one=one + 1, two=two + 1)
        )  # fmt: skip
    reach = max(float(np.ptp(x)), float(np.ptp(y)))
    if not abs(_area(corners)) > CLOSE * reach * reach or not reach > HAIR:
        raise OutlineError(tr("The outline encloses nothing: move its corners apart."))


def _crossing(x: Floats, y: Floats) -> tuple[int, int] | None:
    """Return two sides that are no neighbours and meet, or None."""
    count = len(x)
    if count < 4:
        return None
    start = np.column_stack([x, y])
    way = np.roll(start, -1, axis=0) - start
    off = start[None] - start[:, None]
    cross = way[:, None, 0] * way[None, :, 1] - way[:, None, 1] * way[None, :, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        t = (off[..., 0] * way[None, :, 1] - off[..., 1] * way[None, :, 0]) / cross
        s = (off[..., 0] * way[:, None, 1] - off[..., 1] * way[:, None, 0]) / cross
    size = np.sqrt((way * way).sum(axis=1))
    met = np.abs(cross) > EXACT * size[:, None] * size[None]
    met &= (t > CLOSE) & (t < 1 - CLOSE) & (s > CLOSE) & (s < 1 - CLOSE)
    found = np.argwhere(np.triu(met, 2))
    if len(found):
        return int(found[0, 0]), int(found[0, 1])
    return _touching(start, way, size)


def _touching(start: Floats, way: Floats, size: Floats) -> tuple[int, int] | None:
    """Return a side and one that begins on it though it is no neighbour, or None."""
    count = len(start)
    off = start[None] - start[:, None]
    square = np.maximum(size * size, 1e-300)[:, None]
    t = np.clip((off * way[:, None]).sum(axis=2) / square, 0.0, 1.0)
    gap = np.hypot(*np.moveaxis(off - t[..., None] * way[:, None], 2, 0))
    rows = np.arange(count)
    near = gap < HAIR
    near[rows, rows] = near[rows, (rows + 1) % count] = False
    found = np.argwhere(near)
    return (int(found[0, 0]), int(found[0, 1])) if len(found) else None


def _ways(corners: Sequence[Corner], k: int) -> tuple[float, float, float, float, float]:
    """Return the unit directions from corner k back and on, and the sine of half the angle that the outline turns by."""
    here, before, after = corners[k], corners[k - 1], corners[(k + 1) % len(corners)]
    back, on = hypot(before.x - here.x, before.y - here.y), hypot(after.x - here.x, after.y - here.y)
    if back < HAIR or on < HAIR:
        return 0.0, 0.0, 0.0, 0.0, 0.0
    bx, by, ax, ay = (
        (before.x - here.x) / back,
        (before.y - here.y) / back,
        (after.x - here.x) / on,
        (after.y - here.y) / on,
    )
    turn = atan2(-bx * ay + by * ax, -(bx * ax + by * ay))
    return bx, by, ax, ay, turn


def _back(corners: Sequence[Corner], k: int) -> float:
    """Return how far from corner k its arc or chamfer begins along both sides, mm."""
    corner = corners[k]
    if corner.round > 0.0:
        turn = _ways(corners, k)[4]
        return corner.round * abs(tan(turn / 2.0)) if abs(turn) < pi - HAIR else float("inf")
    return corner.chamfer


def _audit_side(corners: Sequence[Corner], backs: Sequence[float], k: int) -> None:
    """Refuse what is cut off at both ends of a side when it is more than the side."""
    after = (k + 1) % len(corners)
    one, two = corners[k], corners[after]
    length = hypot(two.x - one.x, two.y - one.y)
    if backs[k] + backs[after] > length * (1.0 + CLOSE) + HAIR:
        at = k if backs[k] >= backs[after] else after
        most = max(length - backs[after if at == k else k], 0.0)
        word = tr("radius") if corners[at].round > 0.0 else tr("chamfer")
        value = corners[at].round or corners[at].chamfer
        fits = most * value / backs[at] if 0.0 < backs[at] < float("inf") else 0.0
        raise OutlineError(
            tr("The {word} of {value:g} mm at corner {corner} is too large for its side of {length:.4g} mm: "
               "at most {fits:.4g} mm fits.", word=word, value=value, corner=at + 1, length=length, fits=fits)
        )  # fmt: skip
    if one.bow != 0.0 and backs[k] + backs[after] > 0.0:
        raise OutlineError(
            tr("Side {side} is bowed, so its ends stay sharp: take the radius and the chamfer off corners {one} and {two}.",
               side=k + 1, one=k + 1, two=after + 1)
        )  # fmt: skip


def _at_corner(corners: Sequence[Corner], k: int, back: float) -> tuple[list[tuple[float, float]], Bend | None]:
    corner = corners[k]
    bx, by, ax, ay, turn = _ways(corners, k)
    if back <= HAIR or abs(turn) < CLOSE:
        return [(corner.x, corner.y)], None
    points = [(corner.x + back * bx, corner.y + back * by), (corner.x + back * ax, corner.y + back * ay)]
    if corner.round <= 0.0:
        return points, None
    # The centre lies to the left of the way in for an outline that turns left there.
    side = 1.0 if turn > 0.0 else -1.0
    centre = np.array([points[0][0] + side * corner.round * by, points[0][1] - side * corner.round * bx])
    start = atan2(points[0][1] - centre[1], points[0][0] - centre[0])
    r = corner.round
    return points, Bend(centre, np.array([r, 0.0]), np.array([0.0, r]), start, turn)


def _bowed(one: Corner, two: Corner) -> Bend:
    """Return the arc over a side."""
    dx, dy = two.x - one.x, two.y - one.y
    chord, angle = hypot(dx, dy), 4.0 * atan(one.bow)  # the angle that the arc turns by
    radius = chord / 2.0 / abs(sin(angle / 2.0))
    # From the chord's middle the centre lies on the left by r cos(half), for an arc that bows to the right.
    off = radius * cos(angle / 2.0) * (1.0 if angle > 0.0 else -1.0)
    centre = np.array([(one.x + two.x) / 2.0 - dy / chord * off, (one.y + two.y) / 2.0 + dx / chord * off])
    start = atan2(one.y - centre[1], one.x - centre[0])
    return Bend(centre, np.array([radius, 0.0]), np.array([0.0, radius]), start, angle)


def _without_doubles(
    points: list[tuple[float, float]], bends: dict[int, Bend], parts: list[tuple[int, Part]]
) -> tuple[Outline, list[tuple[int, Part]]]:
    """Return the outline without straight sides that have no length."""
    after = [*points[1:], points[0]]
    kept = [
        k
        for k, (one, two) in enumerate(zip(points, after, strict=True))
        if k in bends or hypot(two[0] - one[0], two[1] - one[1]) > HAIR
    ]
    place = {k: n for n, k in enumerate(kept)}
    outline = Outline(np.array([points[k] for k in kept]), {place[k]: bend for k, bend in bends.items()})
    return outline, [parts[k] for k in kept]
