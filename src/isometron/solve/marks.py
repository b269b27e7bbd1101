"""Marks on paper, in millimetres: six kinds, each mark with a role and the volume it belongs to."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Generic, TypeVar

import numpy as np
from numpy.typing import NDArray

from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.tolerances import EXACT
from isometron.solve.bag import AIDS, NOBODY, Bag, Role, names_of
from isometron.solve.fills import NO_FILLS, Fills

__all__ = [
    "AIDS",
    "NOBODY",
    "NOTHING",
    "Arcs",
    "Bag",
    "Curves",
    "Fills",
    "Label",
    "Lines",
    "Marks",
    "Raster",
    "Role",
    "Singles",
]


@dataclass(frozen=True)
class Lines(Bag):
    """Straight marks. points : (N, 4) u1, v1, u2, v2; role, owner, edge : (N,); edge is a row of the scene or -1."""

    points: Floats
    role: NDArray[np.int8]
    owner: Ints
    edge: Ints

    def moved(self, place: Ints | None, shift: Ints | None = None) -> Lines:
        """Return the lines of the owners that have a place, their edges counted from there."""
        further = (
            self
            if shift is None or not len(self)
            else replace(self, edge=np.where(self.edge < 0, self.edge, self.edge + shift[self.owner]))
        )
        return super(Lines, further).moved(place)

    @staticmethod
    def of(points: Floats, role: Role, owner: int = NOBODY) -> Lines:
        """Return lines (N, 4) of one role and owner, belonging to no edge."""
        n = len(points)
        return Lines(points, np.full(n, role, np.int8), np.full(n, owner), np.full(n, -1))


@dataclass(frozen=True)
class Arcs(Bag):
    """Elliptical arcs. shape : (N, 7) centre u, v, semi-axes a, b, angle of a, first and last parameter, radians."""

    shape: Floats
    role: NDArray[np.int8]
    owner: Ints

    @staticmethod
    def of(shape: Floats, role: Role, owner: int = NOBODY) -> Arcs:
        """Return arcs (N, 7) of one role and owner."""
        return Arcs(shape, np.full(len(shape), role, np.int8), np.full(len(shape), owner))


@dataclass(frozen=True)
class Curves(Bag):
    """Cubic pieces. points : (N, 8) u, v of the start, the two points that pull it, and the end (Bézier's form)."""

    points: Floats
    role: NDArray[np.int8]
    owner: Ints

    @staticmethod
    def of(points: Floats, role: Role, owner: int = NOBODY) -> Curves:
        """Return cubic pieces (N, 8) of one role and owner."""
        return Curves(points, np.full(len(points), role, np.int8), np.full(len(points), owner))

    def at(self, t: Floats) -> Floats:
        """Return the points (N, len(t), 2) at parameters from 0 to 1, by the Bernstein polynomials."""
        s = 1.0 - t
        weights = np.stack([s**3, 3.0 * s**2 * t, 3.0 * s * t**2, t**3])
        found: Floats = np.einsum("kt,nkc->ntc", weights, self.points.reshape(-1, 4, 2))
        return found


@dataclass(frozen=True, eq=False)
class Raster:
    """A picture. pixels : (H, W, 3) bytes, red green blue; place : (3, 3) homography of pixel corners (x right, y down,
    from the upper left one) to paper mm; strength : 0 not seen to 1 as it is; within : polygons (N, 2) on paper outside which
    it is not seen, none for all of it."""

    pixels: NDArray[np.uint8]
    place: Floats
    role: Role = Role.PHOTOGRAPH
    owner: int = NOBODY
    strength: float = 1.0
    within: tuple[Floats, ...] = ()

    @property
    def straight(self) -> bool:
        """Whether it lies on the paper without any slant: moved, turned and scaled only along its sides."""
        return bool(np.allclose(self.place[2, :2], 0.0, atol=EXACT * abs(float(self.place[2, 2]))))


@dataclass(frozen=True)
class Label:
    """Lettering at (u, v): ``anchor`` -1, 0, 1 sets the text's left end, middle or right end there; size in mm.

    free : how far it may be moved across and up or down to stand clear, mm; spare : it is left out where no place is clear;
    short : what it says instead where only that stands clear.
    """

    text: str
    u: float
    v: float
    role: Role
    owner: int = NOBODY
    anchor: int = -1
    size: float = 3.5
    free: tuple[float, float] = (0.0, 0.0)
    spare: bool = False
    short: str = ""


M = TypeVar("M", Raster, Label)


@dataclass(frozen=True)
class Singles(Generic[M]):
    """Marks of a kind of which there are few, each a value of its own."""

    items: tuple[M, ...] = ()

    def __len__(self) -> int:
        return len(self.items)

    def __iter__(self) -> Iterator[M]:
        return iter(self.items)

    @cached_property
    def role(self) -> NDArray[np.int8]:
        """The roles (N,)."""
        return np.array([item.role for item in self.items], dtype=np.int8)

    @cached_property
    def owner(self) -> Ints:
        """The owners (N,)."""
        return np.array([item.owner for item in self.items], dtype=np.intp)

    def select(self, rows: Ints | Bools) -> Singles[M]:
        """Return the marks of the given rows."""
        rows = np.arange(len(self))[rows]
        return Singles(tuple(self.items[row] for row in rows))

    def moved(self, place: Ints | None, shift: Ints | None = None) -> Singles[M]:
        """Return the marks of owners that have a place, as those of the owners there."""
        if place is None:
            return self
        own = (item if item.owner < 0 else replace(item, owner=int(place[item.owner])) for item in self.items)
        kept = (moved for item, moved in zip(self.items, own, strict=False) if item.owner < 0 or moved.owner >= 0)
        return Singles(tuple(kept))

    @staticmethod
    def joined(parts: Sequence[Singles[M]]) -> Singles[M]:
        """Return the marks of all parts in their order."""
        return Singles(tuple(item for part in parts for item in part))

    def alike(self, other: Singles[M]) -> bool:
        """Whether the two hold the same marks; of pictures the very same."""
        return len(self) == len(other) and all(
            one is two or (isinstance(one, Label) and one == two) for one, two in zip(self, other, strict=True)
        )


_ROLE, _OWNER = np.zeros(0, np.int8), np.zeros(0, np.intp)


@dataclass(frozen=True)
class Marks:
    """Marks of all kinds. The order of the kinds is the order in which those of one role are painted."""

    pictures: Singles[Raster] = Singles()
    fills: Fills = NO_FILLS
    lines: Lines = Lines(np.zeros((0, 4)), _ROLE, _OWNER, _OWNER)
    arcs: Arcs = Arcs(np.zeros((0, 7)), _ROLE, _OWNER)
    curves: Curves = Curves(np.zeros((0, 8)), _ROLE, _OWNER)
    labels: Singles[Label] = Singles()

    def bags(self) -> Iterator[tuple[str, Bag]]:
        """Yield the kinds of which there are any, with their marks."""
        for name in names_of(Marks):
            bag = getattr(self, name)
            if len(bag):
                yield name, bag

    def each(self, change: Callable[[Bag], Bag]) -> Marks:
        """Return marks every kind of which is changed by the same rule."""
        return Marks(**{name: change(bag) for name, bag in self.bags()})  # type: ignore[arg-type]

    def where(self, wanted: Callable[[Bag], Bools]) -> Marks:
        """Return the marks of which a rule of role and owner says so."""
        return self.each(lambda bag: bag.select(wanted(bag)))

    def moved(self, place: Ints | None, shift: Ints | None = None) -> Marks:
        """Return the marks of owners that have a place, as those of the owners there; see `Bag.moved`."""
        return self.each(lambda bag: bag.moved(place, shift))

    def placed(self, shift: Floats, scale: float = 1.0) -> Marks:
        """Return the marks at ``scale`` times each place plus ``shift`` (2,) mm; lettering keeps its size."""
        move = np.array([[scale, 0.0, shift[0]], [0.0, scale, shift[1]], [0.0, 0.0, 1.0]])
        sized = np.array([scale, scale, scale, scale, 1.0, 1.0, 1.0])
        return Marks(
            pictures=Singles(
                tuple(
                    replace(one, place=move @ one.place, within=tuple(scale * ring + shift for ring in one.within))
                    for one in self.pictures
                )
            ),
            fills=self.fills.placed(shift, scale),
            lines=replace(self.lines, points=scale * self.lines.points + np.tile(shift, 2)),
            arcs=replace(self.arcs, shape=sized * self.arcs.shape + np.append(shift, np.zeros(5))),
            curves=replace(self.curves, points=scale * self.curves.points + np.tile(shift, 4)),
            labels=Singles(
                tuple(replace(one, u=scale * one.u + shift[0], v=scale * one.v + shift[1]) for one in self.labels)
            ),
        )

    @staticmethod
    def joined(parts: Sequence[Marks]) -> Marks:
        """Return the marks of all parts in their order."""
        found: dict[str, list[Bag]] = {}
        for part in parts:
            for name, bag in part.bags():
                found.setdefault(name, []).append(bag)
        return Marks(**{name: type(bags[0]).joined(bags) for name, bags in found.items()})  # type: ignore[arg-type]

    def alike(self, other: Marks) -> bool:
        """Whether two drawings of the same things need not be told apart."""
        return self is other or all(getattr(self, name).alike(getattr(other, name)) for name in names_of(Marks))


NOTHING = Marks()
