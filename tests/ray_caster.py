"""What is hidden, found by walking along sight lines through bodies built from the file format alone (docs/file-format.md).

Nothing here comes from the program but the document's own text: solids are told by how deep a point lies in them, mirror
images are reflected points, rounded sides are the curves of the format.
"""

from itertools import pairwise

import numpy as np

AXES = ("long", "wide", "high")


def rotation(yaw, pitch, roll):
    (sy, cy), (sp, cp), (sr, cr) = ((np.sin(np.radians(a)), np.cos(np.radians(a))) for a in (yaw, pitch, roll))
    rz = np.array([[cy, -sy, 0], [sy, cy, 0], [0, 0, 1]])
    rx = np.array([[1, 0, 0], [0, cp, -sp], [0, sp, cp]])
    ry = np.array([[cr, 0, sr], [0, 1, 0], [-sr, 0, cr]])
    return rz @ rx @ ry


def about(axis, angle):
    x, y, z = axis
    k = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    return np.eye(3) + np.sin(angle) * k + (1 - np.cos(angle)) * (k @ k)


def box_depth(low, high):
    """How deep points lie in a box of own coordinates; below nothing outside."""
    return lambda p: np.minimum(p - low, high - p).min(axis=-1)


def polygon_depth(points, p):
    """How deep (N,) points (N, 2) lie in a polygon, by its sides' distances and by crossing them."""
    x, y = (np.ascontiguousarray(column) for column in np.asarray(p, dtype=float).T)
    inside, near = np.zeros(len(x), dtype=bool), np.full(len(x), np.inf)
    for (ax, ay), (bx, by) in zip(points.tolist(), np.roll(points, -1, axis=0).tolist(), strict=True):
        along, up = bx - ax, by - ay
        length = max(along * along + up * up, 1e-300)
        off, over = x - ax, y - ay
        t = np.minimum(np.maximum((off * along + over * up) / length, 0.0), 1.0)
        off -= t * along
        over -= t * up
        off *= off
        over *= over
        off += over
        np.minimum(near, off, out=near)
        crosses = np.flatnonzero((ay > y) != (by > y))
        if len(crosses):
            inside[crosses] ^= x[crosses] < ax + (y[crosses] - ay) / up * along
    near = np.sqrt(near)
    return np.where(inside, near, -near)


def cut_points(wide, high, lengths, how):
    """A rectangle with cut corners, counter-clockwise from the lower left; corners that would pass share the side."""
    sides, r = (wide, high, wide, high), list(lengths)
    for k in range(4):
        total = lengths[k] + lengths[(k + 1) % 4]
        if total > sides[k]:
            for n in (k, (k + 1) % 4):
                r[n] = min(r[n], lengths[n] * sides[k] / total)
    found = []
    for k, (x, y, sx, sy) in enumerate(((0, 0, 1, 1), (wide, 0, -1, 1), (wide, high, -1, -1), (0, high, 1, -1))):
        steps = np.linspace(0, np.pi / 2, 90 if how == "round" else 2)
        for turn in steps:
            angle = np.pi + k * np.pi / 2 + turn
            if how == "round":
                found.append((x + sx * r[k] + r[k] * np.cos(angle), y + sy * r[k] + r[k] * np.sin(angle)))
            else:
                ends = [(x, y + sy * r[k]), (x + sx * r[k], y)]
                found.append((ends if k % 2 == 0 else ends[::-1])[0 if turn == 0 else 1])
    return np.array(found)


def width_at(profile, at):
    """How wide (N,) a profile is at places (N,) along its axle, 0 beyond it."""
    rings, found = sorted(profile, key=lambda ring: ring["at"]), np.zeros(len(at))
    for k, (one, two) in enumerate(pairwise(rings)):
        rise, run = two["at"] - one["at"], two["wide"] - one["wide"]
        own = (at >= one["at"]) & (at <= two["at"])
        if rise <= 0 or not own.any():
            continue
        t, then = (at[own] - one["at"]) / rise, one.get("then", "straight")
        if then == "straight":
            wide = one["wide"] + run * t
        elif then == "round":
            wide = one["wide"] + run * (np.sqrt(1 - (1 - t) ** 2) if run >= 0 else 1 - np.sqrt(1 - t**2))
        else:
            wide = _smooth(rings, k, t)
        found[own] = wide
    return found


def _smooth(rings, k, t):
    one, two = rings[k], rings[k + 1]
    before, after = rings[max(k - 1, 0)], rings[min(k + 2, len(rings) - 1)]

    def slope(low, high, smooth):
        rise = high["at"] - low["at"]
        return (high["wide"] - low["wide"]) / rise * (two["at"] - one["at"]) if smooth and rise > 0 else 0.0

    m0 = slope(before, two, k > 0 and before.get("then") == "smooth")
    m1 = slope(one, after, two.get("then") == "smooth")
    h = 2 * t**3 - 3 * t**2 + 1, t**3 - 2 * t**2 + t, -2 * t**3 + 3 * t**2, t**3 - t**2
    return np.clip(h[0] * one["wide"] + h[1] * m0 + h[2] * two["wide"] + h[3] * m1, 0, 1)


def own_depth(volume):
    """What tells how deep points (N, 3) of a volume's own coordinates lie in it, mm."""
    size, kind = np.array(volume["size"]), volume["kind"]
    if kind == "box":
        return box_depth(np.zeros(3), size)
    if kind == "tapered":
        return _tapered(size, volume.get("lean", (0, 0, 0, 0)))
    if kind == "cut":
        views = [(view, axes) for view, axes in VIEWS if volume.get(view)]
        outlines = [(list(axes), outline(volume[view], view, size[list(axes)])) for view, axes in views]
        box = box_depth(np.zeros(3), size)
        return lambda p: np.min([box(p), *(polygon_depth(o, p[:, axes]) for axes, o in outlines)], axis=0)
    if kind == "frame":
        parts = [box_depth(np.array(a), np.array(b)) for a, b in _frame(volume).values()]
        return lambda p: np.max([part(p) for part in parts], axis=0)
    if kind == "prism":
        k = AXES.index(volume.get("through", "wide"))
        a, b = (n for n in range(3) if n != k)
        points = _section(volume["section"], size[a], size[b])
        return lambda p: np.minimum(polygon_depth(points, p[:, [a, b]]), np.minimum(p[:, k], size[k] - p[:, k]))
    k = AXES.index(volume.get("axle", "high"))
    i, j = (k + 1) % 3, (k + 2) % 3
    profile = volume.get("profile", [{"at": 0, "wide": 1}, {"at": 1, "wide": 1}])
    ends = min(r["at"] for r in profile), max(r["at"] for r in profile)

    def turned(p):
        at = p[:, k] / size[k]
        away = np.hypot(2 * p[:, i] / size[i] - 1, 2 * p[:, j] / size[j] - 1)
        side = (width_at(profile, np.clip(at, *ends)) - away) * min(size[i], size[j]) / 2
        return np.minimum(side, np.minimum(at - ends[0], ends[1] - at) * size[k])

    return turned


VIEWS = (("side", (0, 2)), ("plan", (0, 1)), ("front", (1, 2)))


def held(coordinate, length):
    """Where a held coordinate lies, mm."""
    if not isinstance(coordinate, dict):
        return coordinate * length
    mm = coordinate["mm"]
    return {"start": mm, "middle": length / 2 + mm, "end": length - mm}[coordinate.get("from", "start")]


def outline(profile, view, size):
    """The corners of a profile in mm, with rounds and bows as many short sides."""
    corners = [
        (np.array([held(c, s) for c, s in zip(corner["at"], size, strict=True)]), corner)
        for corner in profile["corners"]
    ]
    sides = [corner.get("bow", 0.0) for _, corner in corners]
    if profile.get("alike"):
        k = 1 if view == "plan" else 0
        half = list(corners)
        for n in range(len(half) - 1, -1, -1):
            place, corner = half[n]
            if n in (0, len(half) - 1) and abs(place[k] - size[k] / 2) < 1e-6:
                continue
            other = place.copy()
            other[k] = size[k] - place[k]
            corners.append((other, corner))
            sides.append(half[n - 1][1].get("bow", 0.0) if n else 0.0)
    places = np.array([place for place, _ in corners])
    area = places[:, 0] @ np.roll(places[:, 1], -1) - places[:, 1] @ np.roll(places[:, 0], -1)
    found = []
    for n, (place, corner) in enumerate(corners):
        before, after = places[n - 1], places[(n + 1) % len(places)]
        found += _cut_corner(place, before, after, corner)
        found += _bow(place, after, sides[n] * np.sign(area))
    return np.array(found)


def _cut_corner(place, before, after, corner):
    one, two = ((p - place) / np.hypot(*(p - place)) for p in (before, after))
    if corner.get("chamfer"):
        return [place + corner["chamfer"] * one, place + corner["chamfer"] * two]
    if not corner.get("round"):
        return [place]
    # The circle that touches both sides: its centre lies on their bisector.
    half = np.arccos(np.clip(one @ two, -1, 1)) / 2
    centre = place + (one + two) / np.hypot(*(one + two)) * corner["round"] / np.sin(half)
    start, end = (place + way * corner["round"] / np.tan(half) - centre for way in (one, two))
    turn = np.arctan2(start[0] * end[1] - start[1] * end[0], start @ end)
    angles = np.arctan2(start[1], start[0]) + turn * np.linspace(0, 1, 90)
    return list(centre + corner["round"] * np.column_stack([np.cos(angles), np.sin(angles)]))


def _bow(place, after, bow):
    """Points between the ends of a bowed side: a circle through both and through what it rises to, to the right of the way."""
    if bow == 0:
        return []
    way = after - place
    right = np.array([way[1], -way[0]])
    top = (place + after) / 2 + bow * right / 2
    t = np.linspace(0, 1, 181)[1:-1]
    whole = 4 * np.arctan(bow)
    radius = (1 + bow * bow) / (4 * abs(bow)) * np.hypot(*way)
    centre = top - np.sign(bow) * radius * right / np.hypot(*way)
    start = place - centre
    angles = np.arctan2(start[1], start[0]) + whole * t
    return list(centre + radius * np.column_stack([np.cos(angles), np.sin(angles)]))


def _tapered(size, lean):
    lean = list(lean)
    for start in (0, 2):
        for sign in (1, -1):
            both = [max(sign * lean[start + n], 0) for n in (0, 1)]
            if sum(both) > 1:
                for n in (0, 1):
                    if both[n] > 0:
                        lean[start + n] = sign * both[n] / sum(both)

    def depth(p):
        up, found = p[:, 2] / size[2], np.minimum(p[:, 2], size[2] - p[:, 2])
        for axis in (0, 1):
            near, far = (np.maximum(v, 0) * up + np.maximum(-v, 0) * (1 - up) for v in lean[2 * axis : 2 * axis + 2])
            found = np.minimum(found, np.minimum(p[:, axis] - near * size[axis], (1 - far) * size[axis] - p[:, axis]))
        return found

    return depth


def _frame(volume):
    long, wide, high = volume["size"]
    inset = min(volume.get("inset", 0), 0.45 * long, 0.45 * wide)
    leg = [min(t, (s - 2 * inset) / 2) for t, s in zip(volume.get("leg", (40, 40)), (long, wide), strict=True)]
    top = min(volume.get("top", 0), high)
    under = high - top
    x, y = (inset, long - inset - leg[0]), (inset, wide - inset - leg[1])
    legs = [((a, b, 0), (a + leg[0], b + leg[1], under)) for a in x for b in y]
    boxes = {f"leg.{n}": leg for n, leg in enumerate(legs, 1)} | (
        {"slab": ((0, 0, under), (long, wide, high))} if top else {}
    )
    for number, rail in enumerate(volume.get("rails", ()), 1):
        low = max(min(rail["at"] * high - rail["high"] / 2, under - rail["high"]), 0)
        up, thick = min(low + rail["high"], under), min(rail["thick"], *leg)
        rails = [((x[0] + leg[0], b + (leg[1] - thick) / 2, low), (x[1], b + (leg[1] + thick) / 2, up)) for b in y]
        rails += [((a + (leg[0] - thick) / 2, y[0] + leg[1], low), (a + (leg[0] + thick) / 2, y[1], up)) for a in x]
        boxes |= {f"rail.{number}.{n}": rail for n, rail in enumerate(rails, 1)}
    return boxes


def _section(section, wide, high):
    if section["section"] == "cut":
        return cut_points(wide, high, section.get("lengths", (50,) * 4), section.get("how", "chamfer"))
    assert section["section"] == "counted"
    scale = np.array([wide / section.get("columns", 4), high / section.get("rows", 4)])
    return np.array(section["points"], dtype=float) * scale


def _opened(volume, size, own):
    """A box or a frame without the space of its inside and of its openings: rectangles, rings and half-round arches, by share or mm."""
    openings = [mark for mark in volume.get("marks", ()) if mark["mark"] == "opening"]
    wall = volume.get("wall", 0.0)
    if not openings and not wall:
        return own
    if volume["kind"] == "turned":
        # Only of drums and balls is how deep a place lies how far it is from the side.
        taken = [lambda p: own(p) - wall] if wall else []
        taken += [_bored(volume, size, mark, wall) for mark in openings]
        return lambda p: np.min([own(p), *(-depth(p) for depth in taken)], axis=0)
    if volume["kind"] == "cut":
        taken = [_bored(volume, size, mark, wall) for mark in openings]
        return lambda p: np.min([own(p), *(-depth(p) for depth in taken)], axis=0)
    taken = [box_depth(np.full(3, wall), size - wall)] if wall else []
    across = 1 if volume.get("ahead", "x0")[0] == "x" else 0  # its own left and right

    def space(mark, image):
        start, stop = np.zeros(3), size
        if volume["kind"] == "frame":
            part, side = mark["face"].rsplit(".", 1)
            start, stop = np.array(_frame(volume)[part], dtype=float)
            k, end = "xyz".index(side[0]), int(side[1])
        else:
            k, end = divmod(mark["face"], 2)
        a, b = (n for n in range(3) if n != k)
        goes, wide, high = mark.get("goes", "wall"), mark["wide"], mark.get("high") or mark["wide"]
        deep = mark.get("depth", 0.0) if goes == "pocket" else wall if goes == "wall" and wall else np.inf
        arched = mark.get("form") == "half-round"
        x, y = (
            start[n] + held(at, (stop - start)[n]) for at, n in zip(mark.get("at", (0.5, 0.5)), (a, b), strict=True)
        )

        def depth(p):
            if image:
                p = p.copy()
                p[:, across] = size[across] - p[:, across]
            u, v = p[:, a] - x, p[:, b] - y
            below = deep - (p[:, k] - start[k] if end == 0 else stop[k] - p[:, k])
            if mark.get("form") == "ring":
                outline = wide / 2 - np.hypot(u, v)
            elif arched:
                spring = high - wide / 2
                outline = np.where(v > spring, wide / 2 - np.hypot(u, v - spring), np.minimum(wide / 2 - abs(u), v))
            else:
                outline = np.minimum(wide / 2 - abs(u), high / 2 - abs(v))
            return np.minimum(outline, below)

        return depth

    taken += [space(mark, image) for mark in openings for image in (False, True)[: 1 + mark.get("mirrored", False)]]
    return lambda p: np.min([own(p), *(-depth(p) for depth in taken)], axis=0)


def _bored(volume, size, mark, wall):
    """The space of an opening in a round side: straight in from the plane that touches the side at its place."""
    share = mark.get("at", (0.5, 0.5))
    if volume["kind"] == "turned":
        k = AXES.index(volume.get("axle", "high"))
        one, two, axle = (np.eye(3)[n] for n in ((k + 1) % 3, (k + 2) % 3, k))
        along = held(share[0], size[k])
        angle = held(share[1], np.pi * size[(k + 1) % 3]) / (size[(k + 1) % 3] / 2)
        wide = [
            width_at(volume.get("profile", DRUM), np.array([(along + off) / size[k]]))[0]
            for off in (0.0, 1e-3, -1e-3)
        ]
        radius, slope = wide[0] * size[(k + 1) % 3] / 2, (wide[1] - wide[2]) / 2e-3 * size[(k + 1) % 3] / 2
        out = np.cos(angle) * one + np.sin(angle) * two
        about = np.cos(angle) * two - np.sin(angle) * one
        middle = size / 2 * (one + two)
        place, outward = middle + along * axle + radius * out, (out - slope * axle) / np.hypot(1.0, slope)
        first = (axle + slope * out) / np.hypot(1.0, slope)
    else:
        # The corner 3 of its side view is rounded: upright at the start of its length, level at the top.
        radius = volume["side"]["corners"][3]["round"]
        angle = held(share[1], radius * np.pi / 2) / radius
        out = np.array([-np.sin(angle), 0.0, np.cos(angle)])
        about = np.array([-np.cos(angle), 0.0, -np.sin(angle)])
        place = np.array([radius, held(share[0], size[1]), size[2] - radius]) + radius * out
        first, outward = np.array([0.0, 1.0, 0.0]), out
    up = first if abs(first[2]) >= abs(about[2]) - 1e-9 else about
    up = up if up[2] >= 0 else -up
    across = np.cross(up, outward)
    goes, wide, high = mark.get("goes", "wall"), mark["wide"], mark.get("high") or mark["wide"]
    deep = mark.get("depth", 0.0) if goes == "pocket" else np.inf

    def depth(p):
        off = p - place
        u, v, below = off @ across, off @ up, deep + off @ outward
        if goes == "wall" and wall:  # as far as the middle, which is empty
            below = off @ outward + radius
        if mark.get("form") == "ring":
            outline = wide / 2 - np.hypot(u, v)
        else:
            outline = np.minimum(wide / 2 - abs(u), high / 2 - abs(v))
        return np.minimum(outline, below)

    return depth


DRUM = [{"at": 0, "wide": 1}, {"at": 1, "wide": 1}]


def bodies_of(document):
    """Return every copy and image of every volume: (row, copy, see-through, what tells the depth of world points)."""
    named, found = {v["id"]: v for v in document["volumes"]}, []
    for row, volume in enumerate(document["volumes"]):
        if volume.get("put_away"):
            continue
        places = [(np.array(volume["corner"], dtype=float), np.array(volume["size"], dtype=float))]
        turn = rotation(*(volume.get(f"{a}_deg", 0.0) for a in ("yaw", "pitch", "roll")))
        for rows in volume.get("copies", ()):
            k = AXES.index(rows.get("along", "long"))
            places = [_step(place, rows, n, k, turn) for place in places for n in range(rows.get("count", 2))]
        depths = [_placed(volume, corner, size, turn) for corner, size in places]
        if volume.get("mirror"):
            point, normal = _plane(volume["mirror"], named)
            depths += [_reflected(depth, point, normal) for depth in depths]
        found += [(row, n, bool(volume.get("see_through")), depth) for n, depth in enumerate(depths)]
    return found


def _step(place, rows, n, k, turn):
    corner, size = place
    shift, size = n * rows["pitch"], size.copy()
    if rows.get("last", 0) > 0 and n == rows.get("count", 2) - 1:
        shift += size[k] - rows["last"] if rows["pitch"] < 0 else 0.0
        size[k] = rows["last"]
    return corner + shift * turn[:, k], size


def _placed(volume, corner, size, turn):
    own = _opened(volume, size, own_depth(volume | {"size": size}))
    steer, lean = volume.get("steer_deg", 0.0), volume.get("lean_deg", 0.0)
    if volume["kind"] == "turned" and (steer or lean):
        axle = turn[:, AXES.index(volume.get("axle", "high"))]
        travel, middle = np.array([-axle[1], axle[0], 0.0]), corner + turn @ size / 2
        length = np.hypot(*travel[:2])
        leant = about(travel / length, np.radians(lean)) if length > 1e-9 else np.eye(3)
        turn = about(np.array([0, 0, 1.0]), np.radians(steer)) @ leant @ turn
        corner = middle - turn @ size / 2
    return lambda p: own((p - corner) @ turn)


def _plane(mirror, named):
    k = AXES.index(mirror.get("across", "wide"))
    if not mirror.get("about"):
        return np.zeros(3), np.eye(3)[k]
    other = named[mirror["about"]]
    turn = rotation(*(other.get(f"{a}_deg", 0.0) for a in ("yaw", "pitch", "roll")))
    return np.array(other["corner"]) + turn @ np.array(other["size"]) / 2, turn[:, k]


def _reflected(depth, point, normal):
    return lambda p: depth(p - 2.0 * ((p - point) @ normal)[:, None] * normal)


def covers(bodies, row, copy, eye, points, near=1.0, tol=0.4, steps=2000):
    """Return for points (N, 3) of a line of a copy: 1 hidden for certain, 0 seen for certain, -1 too near to call.

    A sight line that comes within ``tol`` mm of a surface, or half a step of it, but for the last ``near`` mm before the point, is too near.
    """
    way = points - eye
    far = np.sqrt((way**2).sum(axis=1))
    part = np.linspace(0.02, 1.0, steps)
    places = eye + part[:, None, None] * way
    told = part[:, None] * far < far - near
    tol = np.maximum(tol, 0.6 * far / steps)  # what lies between two steps is not seen
    deepest = np.full(len(points), -np.inf)
    # What a line runs behind within the last of the way is hidden by so little that it is not asked.
    last = points - np.linspace(0.05, near, 20)[:, None, None] * way / far[:, None]
    within = np.zeros(len(points), dtype=bool)
    for owner, number, see_through, depth in bodies:
        if see_through and (owner, number) != (row, copy):
            continue
        within |= (depth(last.reshape(-1, 3)).reshape(20, -1) > 0.0).any(axis=0)
        found = depth(places.reshape(-1, 3)).reshape(steps, -1)
        deepest = np.maximum(deepest, np.where(told, found, -np.inf).max(axis=0))
    return np.where(deepest > tol, 1, np.where((deepest < -tol) & ~within, 0, -1))
