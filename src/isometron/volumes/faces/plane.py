"""A face of a volume as marks use it: its corners, its middle, its two directions, and its outline where it has one."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from isometron.geometry.frames import Floats, square_to
from isometron.geometry.outlines import inside_parts
from isometron.geometry.tolerances import CLOSE, HAIR

__all__ = ["BodyFace", "FacePlane", "FacesById", "counter_clockwise", "level_directions", "plane_of_face"]


@dataclass(frozen=True)
class FacePlane:
    """A face: its four corners (2, 2, 3) by its own (x, y), its middle, its two directions with their lengths in mm, and
    the way outward. On a face that is no rectangle the directions are those of its middle lines. loops : the outline and the
    holes (K, 2), as parts of the middle lines' lengths, where the face is not just its four corners."""

    quad: Floats
    middle: Floats
    x: Floats
    y: Floats
    outward: Floats
    axes: tuple[int, int]
    loops: tuple[Floats, ...] = ()

    @property
    def wide(self) -> float:
        """Length along x, mm."""
        return float(np.sqrt(self.x @ self.x))

    @property
    def high(self) -> float:
        """Length along y, mm."""
        return float(np.sqrt(self.y @ self.y))

    @property
    def has_area(self) -> bool:
        """Whether it is a face, and not a side drawn together to a line or a point."""
        return self.wide > CLOSE and self.high > CLOSE

    def at(self, x: float, y: float) -> Floats:
        """Return the world place (3,) of parts of the face, 0 to 1; straight lines stay straight."""
        low = self.quad[0, 0] + x * (self.quad[1, 0] - self.quad[0, 0])
        high = self.quad[0, 1] + x * (self.quad[1, 1] - self.quad[0, 1])
        place: Floats = low + y * (high - low)
        return place

    def spot(self, x: float, y: float) -> Floats:
        """Return the world place (3,) of parts of the middle lines: where a mark held so lies."""
        place: Floats = self.middle + (x - 0.5) * self.x + (y - 0.5) * self.y
        return place

    def parts_of(self, place: Floats) -> tuple[float, float]:
        """Return a world place (3,) on the plane as parts of the middle lines, 0 to 1 where it lies between their ends."""
        gap = place - self.middle
        return (
            float(gap @ self.x) / max(self.wide**2, CLOSE) + 0.5,
            float(gap @ self.y) / max(self.high**2, CLOSE) + 0.5,
        )

    def on_face(self, start: Floats, end: Floats) -> list[tuple[float, float]]:
        """Return the parts (t0, t1) of a stroke (3,) -> (3,) that lie within the outline and beside its holes."""
        if not self.loops:
            return [(0.0, 1.0)]
        size = np.array([self.wide, self.high])
        p, q = (np.array(self.parts_of(place)) * size for place in (start, end))
        return self.beside(
            [hole * size for hole in self.loops[1:]], start, end, inside_parts(self.loops[0] * size, p, q)
        )

    def beside(
        self, holes: Sequence[Floats], start: Floats, end: Floats, parts: list[tuple[float, float]]
    ) -> list[tuple[float, float]]:
        """Return what of some parts (t0, t1) of a stroke lies beside holes (K, 2), mm from the lower left of the middle lines."""
        if not holes:
            return parts
        size = np.array([self.wide, self.high])
        p, q = (np.array(self.parts_of(place)) * size for place in (start, end))
        for hole in holes:
            for low, high in inside_parts(hole, p, q):
                parts = [
                    part
                    for a, b in parts
                    for part in ((a, min(b, low)), (max(a, high), b))
                    if part[1] - part[0] > CLOSE
                ]
        return parts


@dataclass(frozen=True)
class BodyFace:
    """A face that a kind of volume gives: ``id`` stays with it through edits; corner : (3,) a place on it; x, y, outward : (3,)
    its directions, of length one; loops : outline, then holes (K, 2) in mm from the corner along x and y; part : what the part
    of the body that it belongs to is called, where that has parts; also : further ids that it answers to."""

    id: str
    corner: Floats
    x: Floats
    y: Floats
    outward: Floats
    loops: tuple[Floats, ...]
    part: str = ""
    also: tuple[str, ...] = ()

    @property
    def area(self) -> float:
        """Area without its holes, mm2: the outline goes one way round, the holes the other."""
        return (
            abs(sum(float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) for x, y in (loop.T for loop in self.loops))) / 2.0
        )


class FacesById(dict[str, BodyFace]):
    """Faces by their ids, in their order; each is found by any id that it answers to, and listed by its first."""

    def __init__(self, faces: Iterable[BodyFace]) -> None:
        super().__init__((face.id, face) for face in faces)
        self._also: dict[str, str] = {}
        for face in self.values():
            self._also |= {name: face.id for name in face.also if name not in self}

    def __missing__(self, name: str) -> BodyFace:
        return super().__getitem__(self._also[name])

    def __contains__(self, name: object) -> bool:
        return super().__contains__(name) or name in self._also

    def get(self, name: str, default: Any = None) -> Any:
        """Return a face by any of its ids."""
        try:
            return self[name]
        except KeyError:
            return default

    def first_id(self, name: str) -> str:
        """Return the first id of a face; the given one where there is no such face."""
        return self._also.get(name, name)


def level_directions(outward: Floats) -> tuple[Floats, Floats]:
    """Return the two directions of a face in own axes: level along it and up it; long and wide where it lies level."""
    level = np.array([-outward[1], outward[0], 0.0])
    size = float(np.sqrt(level @ level))
    if size < HAIR:
        return np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0])
    x = level / size * (1.0 if level[int(np.argmax(np.abs(level)))] > 0.0 else -1.0)
    y = square_to(outward, x)
    return x, y if y[2] > 0.0 else -y


def counter_clockwise(loop: Floats) -> Floats:
    """Return a loop (K, 2) that goes round counter-clockwise."""
    other = np.roll(loop, -1, axis=0)
    return loop if float((loop[:, 0] * other[:, 1] - loop[:, 1] * other[:, 0]).sum()) > 0.0 else loop[::-1]


def plane_of_face(face: BodyFace) -> FacePlane:
    """Return a body's own face as marks use it; one with four corners, two by two level, is divided along its sides."""
    outline = face.loops[0]
    quad = _quad(outline)
    exact = quad is not None and len(face.loops) == 1
    low, high = outline.min(axis=0), outline.max(axis=0)
    if quad is None or not exact:
        quad = np.array([[(x, y) for y in (low[1], high[1])] for x in (low[0], high[0])])
    world = face.corner + quad[..., :1] * face.x + quad[..., 1:] * face.y
    x = (world[1, 0] - world[0, 0] + world[1, 1] - world[0, 1]) / 2
    y = (quad[0, 1, 1] - quad[0, 0, 1]) * face.y
    middle = world.mean(axis=(0, 1))
    axes = int(np.argmax(np.abs(face.x))), int(np.argmax(np.abs(face.y)))
    plane = FacePlane(world, middle, x, y, face.outward, axes)
    if exact or not plane.has_area:
        return plane
    centre = quad.mean(axis=(0, 1))
    size = np.array([plane.wide, plane.high])
    return FacePlane(
        world, middle, x, y, face.outward, axes, tuple((loop - centre) / size + 0.5 for loop in face.loops)
    )


def _quad(outline: Floats) -> Floats | None:
    """Return the corners (2, 2, 2) by x and y of an outline of four, or three, corners two of which lie level."""
    low, high = outline[:, 1].min(), outline[:, 1].max()
    found = []
    for level in (low, high):
        row = outline[np.abs(outline[:, 1] - level) <= HAIR]
        row = row[np.argsort(row[:, 0])]
        if len(row) not in (1, 2):
            return None
        found.append([row[0], row[-1]])
    corners = len(outline)
    if corners not in (3, 4) or sum(len(np.unique(np.array(row), axis=0)) for row in found) != corners:
        return None
    return np.moveaxis(np.array(found), 0, 1)
