"""The round parts of volumes, as flat arrays: what is drawn as arcs, outlines and strokes, and what hides as frusta."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, fields, replace
from functools import cache, cached_property
from typing import Any

import numpy as np

from isometron.geometry.frames import Bools, Floats, Ints, after_each_other
from isometron.geometry.frusta import Frusta, each_from
from isometron.geometry.hiding import Curves
from isometron.geometry.shell.facets import FACET, placed_facets
from isometron.geometry.turning import KNOTS, SAMPLES

__all__ = ["RoundParts", "nothing_round"]

_WHOLE = (0.0, 1.0)
_TOUCH = 1e-3
"""An outline is not hidden by less than this part of its own body's radius, which its sight line touches."""

_OWNED = {
    "ring_owner": ("rings", "ring_span", "ring_soft", "ring_is_mark"),
    "stroke_owner": ("strokes", "stroke_is_mark"),
    "hole_owner": ("holes",),
    "bend_owner": ("bends", "bend_curve", "bend_spun"),
    "crease_owner": ("creases", "crease_spun"),
    "spindle_owner": ("spindles", "spindle_curve", "spindle_spun"),
    "sheet_owner": ("sheets",),
    "curve_owner": ("curves", "curve_soft", "curve_on_round"),
    "facet_owner": ("facets",),
}
"""Fields that go by the owners told in another."""


def _none(*shape: int) -> Floats:
    return np.zeros((0, *shape))


def _nobody() -> Ints:
    return np.zeros(0, dtype=np.intp)


def _never() -> Bools:
    return np.zeros(0, dtype=bool)


def _carried(rows: Floats, rotation: Floats, corner: Floats) -> Floats:
    """Return rows (N, 3 K) of a place and K - 1 directions, turned about the origin and moved."""
    carried = (rows.reshape(-1, 3) @ rotation.T).reshape(rows.shape)
    carried[:, :3] += corner
    return carried


def _moved(rows: Floats, rotation: Floats, corner: Floats | float) -> Floats:
    """Return rows (N, 3 K) of places, turned and moved."""
    found: Floats = (rows.reshape(-1, 3) @ rotation.T + corner).reshape(rows.shape)
    return found


@dataclass(frozen=True)
class RoundParts:
    """Round parts of any number of volumes.

    frusta : solid pieces, in order along each axle; rounded : (R,) those that a rounded side is cut into; spun, bend_spun, spindle_spun : (R,), (K,), (K,) from 1
    on, which of the bodies they are of whose whole curve is known, and that tell by themselves where they hide their own outlines; 0 for
    none: spindles : (K, 12) the frames of its stretches, spindle_curve : (K, `KNOTS`, 4) at,
    wide and their derivatives along each; spindle_owner. bends : (K, 12),
    bend_curve : (K, M, 4), bend_owner : (K,) the rounded sides themselves, for their outlines, see `turning.turning_lines`. rings : (G, 9) centre and two half axes; ring_span : (G, 2) start and sweep in turns;
    creases : (K, 16) frames of rings that are not drawn as corners though the side bends there, how far along the axle and how wide they
    are, and how the side widens along the axle before and after them; crease_owner, crease_spun.
    ring_owner : (G,); ring_soft : (G,) drawn as construction, near half only; ring_is_mark : (G,) marks on a volume, which it does not hide when it is see-through. strokes : (S, 2, 3) ends; stroke_owner, stroke_is_mark.
    holes : (H, 12) centre, half axes and the way down to the bottom; hole_owner. skins : convex round sides that are no
    pieces of their own (rounded edges), with skin_span : (K, 2) radians about the axle: only their outline is drawn.
    sheets : (K, 18) the same of rounds that are cut off aslant: centre, half axes and the unit way through of a cylinder, and
    an angle with the least and the greatest part of the way there, twice; sheet_owner. curves : (C, 12) cubic pieces, the four places
    of each; curve_owner; curve_soft : (C,) drawn as construction; curve_on_round : (C,) those on the round side of their own body.
    facets : (K, `FACET`) of rounds that know their surface, see `geometry.shell.facets`; facet_owner.
    """

    frusta: Frusta = field(default_factory=Frusta.none)
    rounded: Bools = field(default_factory=_never)
    spun: Ints = field(default_factory=_nobody)
    bend_spun: Ints = field(default_factory=_nobody)
    spindle_spun: Ints = field(default_factory=_nobody)
    spindles: Floats = field(default_factory=lambda: _none(12))
    spindle_curve: Floats = field(default_factory=lambda: _none(KNOTS, 4))
    spindle_owner: Ints = field(default_factory=_nobody)
    bends: Floats = field(default_factory=lambda: _none(12))
    bend_curve: Floats = field(default_factory=lambda: _none(SAMPLES, 4))
    bend_owner: Ints = field(default_factory=_nobody)
    creases: Floats = field(default_factory=lambda: _none(16))
    crease_owner: Ints = field(default_factory=_nobody)
    crease_spun: Ints = field(default_factory=_nobody)
    rings: Floats = field(default_factory=lambda: _none(9))
    ring_span: Floats = field(default_factory=lambda: _none(2))
    ring_owner: Ints = field(default_factory=_nobody)
    ring_soft: Bools = field(default_factory=_never)
    ring_is_mark: Bools = field(default_factory=_never)
    strokes: Floats = field(default_factory=lambda: _none(2, 3))
    stroke_owner: Ints = field(default_factory=_nobody)
    stroke_is_mark: Bools = field(default_factory=_never)
    holes: Floats = field(default_factory=lambda: _none(12))
    hole_owner: Ints = field(default_factory=_nobody)
    skins: Frusta = field(default_factory=Frusta.none)
    skin_span: Floats = field(default_factory=lambda: _none(2))
    sheets: Floats = field(default_factory=lambda: _none(18))
    sheet_owner: Ints = field(default_factory=_nobody)
    curves: Floats = field(default_factory=lambda: _none(12))
    curve_owner: Ints = field(default_factory=_nobody)
    curve_soft: Bools = field(default_factory=_never)
    curve_on_round: Bools = field(default_factory=_never)
    facets: Floats = field(default_factory=lambda: _none(FACET))
    facet_owner: Ints = field(default_factory=_nobody)

    @cached_property
    def own_least(self) -> Floats:
        """How far (mm, (R,)) a sight line must run inside each piece for it to hide its own body's outline."""
        least: Floats = _TOUCH * self.frusta.reach
        return least

    @cached_property
    def straight(self) -> Bools:
        """Frusta (R,) whose side is straight, and no part of a rounded one."""
        straight: Bools = (self.frusta.bulge == 0.0) & ~self.rounded
        return straight

    @cached_property
    def domes(self) -> Ints:
        """Rows of frusta that are half an ellipsoid."""
        return np.flatnonzero((self.frusta.bulge > 0.0) & ~self.rounded)

    @cached_property
    def whole_sides(self) -> Floats:
        """Spans (R, 2) of frusta as of skins, radians: their sides go all round."""
        return np.tile([0.0, 2 * np.pi], (len(self.frusta), 1))

    @cached_property
    def ring_curves(self) -> Curves:
        """The rings as what may be hidden."""
        return Curves.rings(self.rings, self.ring_span, self.ring_owner, self.ring_is_mark)

    def __len__(self) -> int:
        return (
            len(self.frusta)
            + len(self.rings)
            + len(self.strokes)
            + len(self.holes)
            + len(self.skins)
            + len(self.bends)
            + len(self.sheets)
            + len(self.curves)
            + len(self.facets)
            + len(self.spindles)
        )

    def placed(self, rotation: Floats, corner: Floats) -> RoundParts:
        """Return the parts turned about the origin by ``rotation`` (3, 3), and moved by ``corner`` (3,)."""
        return replace(
            self,
            frusta=self.frusta.placed(rotation, corner),
            bends=_carried(self.bends, rotation, corner),
            spindles=_carried(self.spindles, rotation, corner),
            creases=np.hstack([_carried(self.creases[:, :12], rotation, corner), self.creases[:, 12:]]),
            rings=_carried(self.rings, rotation, corner),
            strokes=self.strokes @ rotation.T + corner,
            holes=_carried(self.holes, rotation, corner),
            skins=self.skins.placed(rotation, corner),
            sheets=np.hstack([_carried(self.sheets[:, :12], rotation, corner), self.sheets[:, 12:]]),
            curves=_moved(self.curves, rotation, corner),
            facets=placed_facets(self.facets, rotation, corner),
        )

    def taken(self, place: Ints) -> RoundParts:
        """Return the parts of owners with a ``place`` (N,) that is not negative, as those of the owners there."""
        made: dict[str, Any] = {}
        for owner_name, names in _OWNED.items():
            owner = getattr(self, owner_name)
            rows = np.flatnonzero(place[owner] >= 0)
            made[owner_name] = place[owner[rows]]
            made |= {name: getattr(self, name)[rows] for name in names}
        for own, names in (("frusta", ("rounded", "spun")), ("skins", ("skin_span",))):
            frusta: Frusta = getattr(self, own)
            rows = np.flatnonzero(place[frusta.owner] >= 0)
            made[own] = replace(frusta.select(rows), owner=place[frusta.owner[rows]])
            made |= {name: getattr(self, name)[rows] for name in names}
        return RoundParts(**made)

    def with_rings(self, rows: Ints, spans: Floats) -> RoundParts:
        """Return the parts with only such rings (G,), each over the spans (G, 2) in turns."""
        own = {name: getattr(self, name)[rows] for name in ("rings", "ring_owner", "ring_soft", "ring_is_mark")}
        return replace(self, **own, ring_span=spans)

    def owned(self, other: Callable[[Ints], Ints]) -> RoundParts:
        """Return the same parts as those of other owners."""
        made: dict[str, Any] = {name: other(getattr(self, name)) for name in _OWNED}
        for own in ("frusta", "skins"):
            frusta: Frusta = getattr(self, own)
            made[own] = replace(frusta, owner=other(frusta.owner))
        return replace(self, **made)

    @staticmethod
    def drawn(
        owner: int,
        rings: Sequence[Floats],
        soft: bool | Sequence[bool] = False,
        spans: Floats | None = None,
        *,
        is_mark: bool = False,
    ) -> RoundParts:
        """Return rings (9,) of one owner; ``spans`` (G, 2) in turns, whole rings without."""
        count = len(rings)
        return RoundParts(
            rings=np.array(rings).reshape(-1, 9),
            ring_span=np.tile(_WHOLE, (count, 1)) if spans is None else spans,
            ring_owner=np.full(count, owner),
            ring_soft=np.broadcast_to(np.asarray(soft, dtype=bool), count).copy(),
            ring_is_mark=np.full(count, is_mark),
        )

    @staticmethod
    def stroked(owner: int, strokes: Sequence[Floats], *, is_mark: bool = True) -> RoundParts:
        """Return strokes (2, 3) of one owner."""
        count = len(strokes)
        return RoundParts(
            strokes=np.array(strokes).reshape(-1, 2, 3),
            stroke_owner=np.full(count, owner),
            stroke_is_mark=np.full(count, is_mark),
        )

    @staticmethod
    def curved(owner: int, curves: Floats, *, soft: bool = False, on_round: bool = False) -> RoundParts:
        """Return cubic pieces (C, 12) of one owner."""
        count = len(curves)
        return RoundParts(
            curves=curves, curve_owner=np.full(count, owner), curve_soft=np.full(count, soft), curve_on_round=np.full(count, on_round)
        )  # fmt: skip

    @staticmethod
    def joined(parts: Sequence[RoundParts], bases: Sequence[int] | Ints | None = None) -> RoundParts:
        """Return all parts in their order; the owners of each are counted from its base, if there are any."""
        if not any(len(part) for part in parts):
            return nothing_round()
        if len(parts) == 1 and (bases is None or bases[0] == 0):
            return parts[0]
        made: dict[str, Any] = {}
        bodies = [int(part.spindle_spun.max(initial=0)) for part in parts]
        spun = np.cumsum([0, *bodies[:-1]])
        for own in fields(RoundParts):
            values = [getattr(part, own.name) for part in parts]
            if isinstance(values[0], Frusta):
                made[own.name] = Frusta.joined(values, bases)
            elif bases is not None and own.name.endswith("owner"):
                made[own.name] = each_from(bases, values)
            elif own.name.endswith("spun"):
                made[own.name] = after_each_other(
                    [np.where(v > 0, v + n, 0) for v, n in zip(values, spun, strict=True)]
                )
            else:
                made[own.name] = after_each_other(values)
        return RoundParts(**made)


@cache
def nothing_round() -> RoundParts:
    """Return no round parts: what most volumes have."""
    return RoundParts()
