"""Somebody with a ruler, a compass and the printed words of a worksheet, and nothing else: no program, no picture.

Knows the forms of sentences as they are printed, imports nothing of the program, and works in mm from the sheet's lower left corner.
"""

import math
import re

NUMBER = r"(\d+(?:\.\d+)?)"
WAYS = {"to the right": (1, 0), "to the left": (-1, 0), "upwards": (0, 1), "downwards": (0, -1)}
FOR = r"(?:, for [^:]+)?"


class LostError(AssertionError):
    """The words do not say where to go."""


class TooFineError(AssertionError):
    """What is told cannot be drawn with the printed figures: two points or two lines come to lie on each other."""


class Reader:
    """Follows sentences one by one; ``points`` by their names, places as (x, y)."""

    def __init__(self, width, height):
        self.width, self.height = width, height
        self.points, self.titles, self.ellipse, self.firm = {}, {}, None, set()

    def follow(self, text):
        """Do what a step says; the words of every sentence must be understood."""
        for sentence in re.findall(r".+?\.(?=\s|$)", text):
            self._do(sentence.strip()[:-1])

    def _do(self, words):
        for form, deed in FORMS:
            found = re.fullmatch(form, words)
            if found:
                return getattr(self, deed)(*found.groups())
        raise LostError(f"not understood: {words!r}")

    # --- places, lines ------------------------------------------------------------------------------------------------

    def place(self, words):
        """A place by ruler distances from the sheet's edges."""
        across, up = words.split(", ")
        return self._edge(across, {"left": 0.0, "right": self.width}), self._edge(
            up, {"lower": 0.0, "upper": self.height}
        )

    def _edge(self, words, edges):
        found = re.fullmatch(NUMBER + r" mm (from|beyond|above|below) the (\w+) edge", words)
        if not found or found[3] not in edges:
            raise LostError(f"no ruler distance: {words!r}")
        far, at = float(found[1]), edges[found[3]]
        outward = 1.0 if found[3] in ("right", "upper") else -1.0
        if found[2] == "beyond":
            return at + outward * far
        if found[2] == "from":
            return at - outward * far
        return at + far if found[2] == "above" else at - far

    def point(self, name):
        if name not in self.points:
            raise LostError(f"{name!r} is used before it is marked")
        return self.points[name]

    def line(self, words):
        """A line as it is called: (point, direction)."""
        if words in self.titles:
            return self.titles[words]
        for form, find in LINES:
            found = re.fullmatch(form, words)
            if found:
                return getattr(self, find)(*found.groups())
        one, _, other = words.partition("–")
        a, b = self.point(one), self.point(other)
        return a, (b[0] - a[0], b[1] - a[1])

    def _level(self, name):
        return self.point(name), (1.0, 0.0)

    def _upright(self, name):
        return self.point(name), (0.0, 1.0)

    def _parallel(self, line, name):
        return self.point(name), self.line(line)[1]

    def _square(self, line, name):
        du, dv = self.line(line)[1]
        return self.point(name), (-dv, du)

    def _halving(self, one, corner, other):
        at = self.point(corner)
        arms = [(self.point(n)[0] - at[0], self.point(n)[1] - at[1]) for n in (one, other)]
        unit = [(x / math.hypot(x, y), y / math.hypot(x, y)) for x, y in arms]
        return at, (unit[0][0] + unit[1][0], unit[0][1] + unit[1][1])

    def _slanted(self, name, lies):
        return self.point(name), self.lying(lies)

    def lying(self, words):
        found = re.fullmatch(rf"(rises|falls) {NUMBER}° to the right", words)
        angle = math.radians(float(found[2])) * (1 if found[1] == "rises" else -1)
        return math.cos(angle), math.sin(angle)

    # --- deeds ---------------------------------------------------------------------------------------------------------

    def _name(self, name, at):
        if name in self.points:
            raise LostError(f"{name!r} is marked twice")
        self.points[name] = at

    def mark(self, name, place):
        self._name(name, self.place(place))

    def also(self, name, other):
        self._name(other, self.point(name))

    def title(self, line, title):
        self.titles[title] = self.line(line)

    def rule(self, lines):
        for line in re.split(r", | and ", lines):
            self.line(line)

    def cross(self, name, one, other):
        (x, y), (a, b) = self.line(one)
        (p, q), (c, d) = self.line(other)
        turn = a * d - b * c
        if abs(turn) < 1e-12 * math.hypot(a, b) * math.hypot(c, d) or not turn:
            raise TooFineError(f"{one} and {other} are drawn in one line")
        along = ((p - x) * d - (q - y) * c) / turn
        self._name(name, (x + along * a, y + along * b))

    def _sided(self, direction, way):
        """A direction turned to the side that is said, of length one."""
        x, y = WAYS[way]
        du, dv = direction
        size = math.hypot(du, dv)
        if abs(du * x + dv * y) < 1e-9 * size:
            raise LostError(f"a line at right angles to {way!r}")
        sign = 1.0 if du * x + dv * y > 0.0 else -1.0
        return sign * du / size, sign * dv / size

    def lay_off(self, start, length, way, line, name):
        du, dv = self._sided(self.line(line)[1], way)
        x, y = self.point(start)
        self._name(name, (x + float(length) * du, y + float(length) * dv))

    def swing(self, centre, start, line, way, name):
        (x, y), (a, b) = self.point(centre), self.point(start)
        du, dv = self._sided(self.line(line)[1], way)
        radius = math.hypot(a - x, b - y)
        self._name(name, (x + radius * du, y + radius * dv))

    def half_circle(self, one, other, name, line, way):
        (a, b), (c, d) = self.point(one), self.point(other)
        middle, radius = ((a + c) / 2, (b + d) / 2), math.hypot(a - c, b - d) / 2
        (x, y), direction = self.line(line)
        du, dv = self._sided(direction, way)
        along = (middle[0] - x) * du + (middle[1] - y) * dv
        off = abs((middle[0] - x) * dv - (middle[1] - y) * du)
        along += math.sqrt(radius**2 - off**2)
        self._name(name, (x + along * du, y + along * dv))

    def draw_ellipse(self, place, long, short, axis):
        self.ellipse = (self.place(place), float(long) / 2, float(short) / 2, self.lying(axis))

    def across_ellipse(self, name, line, way):
        (u, v), a, b, (c, s) = self.ellipse
        (x, y), direction = self.line(line)
        du, dv = self._sided(direction, way)
        # In the ellipse's own directions, scaled to a circle of radius one.
        p = (((x - u) * c + (y - v) * s) / a, ((y - v) * c - (x - u) * s) / b)
        d = ((du * c + dv * s) / a, (dv * c - du * s) / b)
        k, m, n = d[0] ** 2 + d[1] ** 2, p[0] * d[0] + p[1] * d[1], p[0] ** 2 + p[1] ** 2 - 1.0
        along = (-m + math.sqrt(m * m - k * n)) / k
        self._name(name, (x + along * du, y + along * dv))

    def draw(self, edges):
        for edge in re.split(r", | and ", edges):
            one, other = edge.split("–")
            self.point(one), self.point(other)
            self.firm.add(frozenset((one, other)))

    def by_hand(self, one, other):
        self.point(one), self.point(other)

    def on_the_way(self, first, last, long, marks, how):
        for mark in marks.split("; "):
            _, place = mark.split(", ", 1)
            self.place(place)


WAY = f"({'|'.join(WAYS)})"
LINES = [
    (r"the level line through (.+)", "_level"),
    (r"the upright through (.+)", "_upright"),
    (r"the parallel to (.+) through (.+?)", "_parallel"),
    (r"the line square to (.+) through (.+?)", "_square"),
    (r"the line that halves the angle (.+)–(.+)–(.+)", "_halving"),
    (r"the line through (.+) that ((?:rises|falls) .+)", "_slanted"),
]
FORMS = [
    (r"Mark (.+?) where (.+) crosses the ellipse, " + WAY, "across_ellipse"),
    (r"Mark (.+?) where (.+) crosses (.+)", "cross"),
    (r"Mark ([^,]+), (.+)", "mark"),
    (r"(.+) is also (.+)", "also"),
    (r"From (.+?) lay off " + NUMBER + r" mm " + WAY + r" along (.+?)" + FOR + r": (.+)", "lay_off"),
    (r"Compass in (.+): swing (.+?) onto (.+), " + WAY + r": (.+)", "swing"),
    (r"Draw the half circle over (.+) and (.+); mark (.+) where it crosses (.+), " + WAY, "half_circle"),
    (r"Draw the ellipse with its centre (.+), " + NUMBER + r" mm long and " + NUMBER + r" mm across; its long axis (.+)", "draw_ellipse"),
    (r"Draw the bend from (.+) to (.+) by hand", "by_hand"),
    (r"Draw (.+) firmly", "draw"),
    (r"Rule (.+): (.+)", "title"),
    (r"Rule (.+)", "rule"),
    (r"From (.+) to (.+) it is (.+), longer than the ruler: mark (.+), and lay the ruler from mark to mark(.*)", "on_the_way"),
]  # fmt: skip
