"""What the pens leave on the sheet, as strokes: pieces that run on into each other are one, as an eye sees them."""

from dataclasses import dataclass

import numpy as np
from shapely import LineString, STRtree

from isometron.solve.marks import Role

INK = (Role.OBJECT, Role.SURFACE)
JOINED = 0.02
"""mm within which two ends are one place."""


@dataclass(frozen=True)
class Stroke:
    """A run of pieces of one volume and pen. path : (N, 2) mm."""

    path: np.ndarray
    owner: int
    role: int

    @property
    def length(self):
        return float(np.hypot(*np.diff(self.path, axis=0).T).sum())

    def end(self, which):
        """The place of an end, 0 or 1, and the way (2,) in which it points."""
        path = self.path if which else self.path[::-1]
        further = np.hypot(*(path - path[-1]).T) > 1e-4
        back = path[np.flatnonzero(further)[-1]] if further.any() else path[0]
        way = path[-1] - back
        return path[-1], way / max(float(np.hypot(*way)), 1e-12)


def pieces_of(drawing):
    """Paths (K, 2) of all visible marks with role and owner; rings closed, curves as close polylines."""
    marks = drawing.marks
    for row, points in enumerate(marks.lines.points):
        yield points.reshape(2, 2), int(marks.lines.role[row]), int(marks.lines.owner[row])
    for row, (u, v, a, b, angle, first, last) in enumerate(marks.arcs.shape):
        t = np.linspace(first, last, 2 + int(abs(last - first) * 30))
        x, y = a * np.cos(t), b * np.sin(t)
        c, s = np.cos(angle), np.sin(angle)
        yield (
            np.column_stack([u + c * x - s * y, v + s * x + c * y]),
            int(marks.arcs.role[row]),
            int(marks.arcs.owner[row]),
        )
    for row, path in enumerate(marks.curves.at(np.linspace(0.0, 1.0, 17))):
        yield path, int(marks.curves.role[row]), int(marks.curves.owner[row])


def strokes_of(drawing):
    """All strokes of visible ink: ends that meet and run on within 25 degrees are joined, longest way first."""
    pieces = [
        (p, r, o) for p, r, o in pieces_of(drawing) if r in INK and np.hypot(*np.diff(p, axis=0).T).sum() > 1e-6
    ]
    ends = [(p[-1], p[-1] - p[-2], k, 1) for k, (p, _, _) in enumerate(pieces)]
    ends += [(p[0], p[0] - p[1], k, 0) for k, (p, _, _) in enumerate(pieces)]
    cells: dict = {}
    for n, (at, _, k, _) in enumerate(ends):
        cells.setdefault((pieces[k][1:], *np.floor(at / JOINED).astype(int)), []).append(n)
    partner: dict = {}
    pairs = []
    for n, (at, way, k, _) in enumerate(ends):
        key, (i, j) = pieces[k][1:], np.floor(at / JOINED).astype(int)
        for di in (-1, 0, 1):
            for dj in (-1, 0, 1):
                for m in cells.get((key, i + di, j + dj), ()):
                    if m <= n or np.hypot(*(ends[m][0] - at)) > JOINED:
                        continue
                    bend = -float(way @ ends[m][1]) / float(np.hypot(*way) * np.hypot(*ends[m][1]))
                    if bend > 0.9:
                        pairs.append((bend, n, m))
    for _, n, m in sorted(pairs, reverse=True):
        if n not in partner and m not in partner:
            partner[n], partner[m] = m, n
    numbered = {(k, which): n for n, (_, _, k, which) in enumerate(ends)}
    done: set = set()
    found = []
    loose = [(k, which) for (k, which), n in numbered.items() if n not in partner]
    for k, which in [*loose, *numbered]:
        if k in done:
            continue
        path, at, start = [], k, which
        while at not in done:
            done.add(at)
            one = pieces[at][0]
            path.append(one if start == 0 else one[::-1])
            out = numbered[at, 1 - start]
            if out not in partner:
                break
            _, _, at, start = ends[partner[out]]
        found.append(Stroke(np.concatenate(path), pieces[k][2], pieces[k][1]))
    return found


class Ink:
    """All strokes of a drawing, to ask what lies near."""

    def __init__(self, drawing):
        self.sheet = drawing.document.sheet
        self.strokes = strokes_of(drawing)
        self.tree = STRtree([LineString(s.path) for s in self.strokes])

    def on_sheet(self, at, margin=0.0):
        left, lower, right, upper = self.sheet.rectangle
        return bool(left + margin <= at[0] <= right - margin and lower + margin <= at[1] <= upper - margin)

    def closed(self, stroke):
        return bool(np.hypot(*(stroke.path[0] - stroke.path[-1])) <= JOINED)

    def distance(self, at, but):
        """From a place to the nearest other ink, or to its own stroke further on, mm."""
        from shapely import Point

        nearest = np.inf
        for row in self.tree.query(Point(at).buffer(3.0)):
            path = self.strokes[row].path
            if row == but:
                gone = np.append(0.0, np.cumsum(np.hypot(*np.diff(path, axis=0).T)))
                near_start = np.hypot(*(path[0] - at)) < 1e-9
                far = gone > 1.0 if near_start else gone < gone[-1] - 1.0
                path = path[far]
                if len(path) < 2:
                    continue
            nearest = min(nearest, LineString(path).distance(Point(at)))
        return nearest

    def in_the_air(self, reach=0.05):
        """(row, which end, place, distance to the next ink) of ends on the sheet that touch nothing."""
        for row, stroke in enumerate(self.strokes):
            if self.closed(stroke):
                continue
            for which in (0, 1):
                at, _ = stroke.end(which)
                if self.on_sheet(at, 0.01) and (gap := self.distance(at, row)) > reach:
                    yield row, which, at, gap

    def dots(self, least=1.0):
        return [
            row for row, s in enumerate(self.strokes) if s.length < least and all(self.on_sheet(p) for p in s.path)
        ]
