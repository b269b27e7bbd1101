"""What is drawn of a body, and what hides, from its shell."""

from __future__ import annotations

from dataclasses import dataclass

import msgspec
import numpy as np

from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.faces.shaft import Shaft
from isometron.geometry.frames import Bools, Floats
from isometron.geometry.shell.curves import cubics
from isometron.geometry.shell.facets import facets_of
from isometron.geometry.shell.flat_faces import flat_faces
from isometron.geometry.shell.rings_left import rings_left
from isometron.geometry.shell.shell import ARC, FREE, STRAIGHT, Shell
from isometron.geometry.shell.surfaces import PLANE
from isometron.volumes.kinds import kind_of
from isometron.volumes.rounds import RoundParts
from isometron.volumes.turned import Turned
from isometron.volumes.volume import Volume

__all__ = ["Drawn", "drawn_of", "ends_of", "rim_depth"]

_SHARP = 1e-6
"""Sine of an angle: patches that turn by less at a curve run on there."""
_GRAIN = np.sin(0.12)
"""The same of walls of one opening whose outline is made of chords."""
_RIM, _WHOLE = 1e-6, 1.0 - 1e-9


@dataclass(frozen=True)
class Drawn:
    """edges : (E, 2, 3) straight ones, soft : (E,) drawn as construction, outer : (E,) those of the body as it is without openings and wall; faces : what hides; rounds : arcs, free curves and what bulges."""

    edges: Floats
    soft: Bools
    outer: Bools
    faces: FlatFaces
    rounds: RoundParts


def drawn_of(volume: Volume, shell: Shell, grained: set[int]) -> Drawn:
    """Return what is drawn of a volume at rest; ``grained`` : numbers of openings whose outlines are made of chords."""
    turn = np.abs(shell.curve_turn)
    least, shown = _rules(volume, shell, grained)
    sharp = turn > least
    kept = shown & (sharp | (turn <= _SHARP) & _tangent_shown(volume, shell))
    straight, arcs = (np.flatnonzero(kept & (shell.curve_kind == kind)) for kind in (STRAIGHT, ARC))
    free = np.flatnonzero(kept & (shell.curve_kind == FREE))
    ends = [shell.points[shell.curve_first[straight + step] - step] for step in (0, 1)]
    spans = shell.arcs[arcs, 9:] / (2.0 * np.pi)
    spans[np.abs(spans[:, 1]) > _WHOLE] = (0.0, 1.0)  # where a ring begins says nothing
    rings = RoundParts.drawn(0, list(shell.arcs[arcs, :9]), (~sharp[arcs]).tolist(), spans)
    curved = [RoundParts.curved(0, cubics(shell, k).reshape(-1, 12), soft=not sharp[k]) for k in free.tolist()]
    facets = facets_of(shell)
    bent = RoundParts(facets=facets, facet_owner=np.zeros(len(facets), dtype=np.intp))
    rounds = RoundParts.joined([rings, *curved, bent, _laid(volume, shell)])
    outer = np.array([_is_outer(name) for name in shell.patch_name])
    own: Bools = np.logical_and(*outer[shell.curve_sides[straight]].T)
    return Drawn(np.stack(ends, axis=1), ~sharp[straight], own, flat_faces(shell), rounds)


def _rules(volume: Volume, shell: Shell, grained: set[int]) -> tuple[Floats, Bools]:
    """Return by how much patches must turn at each curve for it to be a corner (C,), and which curves are drawn from the shell at all."""
    least, shown = np.full(len(shell.curve_kind), _SHARP), np.ones(len(shell.curve_kind), dtype=bool)
    names = shell.patch_name
    for k, (one, two) in enumerate(shell.curve_sides.tolist()):
        a, b = names[one], names[two]
        if one == two:
            shown[k] = False
        elif a.startswith("opening.") and b.startswith("opening."):
            number = int(a.split(".")[1])
            least[k] = _GRAIN if number in grained and b.split(".")[1] == a.split(".")[1] else _SHARP
        elif isinstance(volume, Turned) and a.startswith("inside") and b.startswith("inside"):
            shown[k] = a != b  # chords of one stretch
        elif isinstance(volume, Turned) and _is_outer(a) and _is_outer(b):
            shown[k] = shell.curve_kind[k] != ARC  # its rings are told by its profile
    return least, shown


def _is_outer(name: str) -> bool:
    return not name.startswith(("opening.", "inside", "wall."))


def _tangent_shown(volume: Volume, shell: Shell) -> Bools:
    """Which curves (C,) are drawn as construction where patches run on: those of a cut body's and a rounded edge's own rounds."""
    if isinstance(volume, Turned):
        return np.zeros(len(shell.curve_kind), dtype=bool)
    opening = np.array([name.startswith("opening.") for name in shell.patch_name])
    found: Bools = np.logical_not(opening[shell.curve_sides].any(axis=1))
    return found


def _laid(volume: Volume, shell: Shell) -> RoundParts:
    """Return what the kind itself lays on a body, such as the rings of a turned one, as far as its surface is still there."""
    build = kind_of(type(volume)).rounds
    if build is None or not isinstance(volume, Turned):
        return RoundParts()
    whole = build(msgspec.structs.replace(volume, marks=(), wall=0.0, rounded=()), 0)
    laid = RoundParts(
        rings=whole.rings, ring_span=whole.ring_span, ring_owner=whole.ring_owner, ring_soft=whole.ring_soft, ring_is_mark=whole.ring_is_mark,
        strokes=whole.strokes, stroke_owner=whole.stroke_owner, stroke_is_mark=whole.stroke_is_mark,
    )  # fmt: skip
    return laid.with_rings(*rings_left(shell, laid.rings, laid.ring_span))


def ends_of(shell: Shell, number: int, shaft: Shaft) -> list[Floats]:
    """Return the frames (12,) of the flat faces on which an opening comes out, of the mark so numbered."""
    own = f"opening.{number}."
    walls = np.array([name.startswith(own) for name in shell.patch_name])
    found = []
    corners = shaft.outline.corners
    low, high = corners.min(axis=0), corners.max(axis=0)
    slack = 0.5 * float((high - low).max())
    for patch in np.flatnonzero(shell.surfaces.kind[shell.patch_surface] == PLANE).tolist():
        if walls[patch] or shell.patch_name[patch].startswith("opening."):
            continue
        rim = np.flatnonzero((shell.curve_sides == patch).any(axis=1) & walls[shell.curve_sides].any(axis=1))
        if not len(rim):
            continue
        form = shell.surfaces.form[shell.patch_surface[patch]]
        outward = form[3:6] * shell.patch_sign[patch]
        if abs(float(outward @ shaft.frame[9:])) < _RIM:
            continue
        flat = (shell.points[shell.curve_first[rim]] - shaft.frame[:3]) @ shaft.frame[3:9].reshape(2, 3).T
        if ((flat >= low - slack) & (flat <= high + slack)).all(axis=1).any():
            x = shaft.frame[3:6] - float(shaft.frame[3:6] @ outward) * outward
            if np.sqrt(x @ x) < _RIM:
                x = shaft.frame[6:9] - float(shaft.frame[6:9] @ outward) * outward
            x = x / np.sqrt(x @ x)
            found.append(np.concatenate([form[:3], x, np.cross(outward, x), outward]))
    return found


def rim_depth(shell: Shell, number: int, shaft: Shaft) -> float:
    """Return how far back behind its plane the rim of an opening in a round side lies at most, mm."""
    own = f"opening.{number}."
    mine = np.array([name.startswith(own) for name in shell.patch_name])
    outer = np.array([_is_outer(name) for name in shell.patch_name])
    corners = shaft.outline.corners
    middle, reach = corners.mean(axis=0), float(np.ptp(corners, axis=0).max())
    deep = [0.0]
    for k in np.flatnonzero(mine[shell.curve_sides].any(axis=1) & outer[shell.curve_sides].any(axis=1)).tolist():
        off = shell.curve(k) - shaft.frame[:3]
        far = -(off @ shaft.frame[9:])
        near = (np.abs(off @ shaft.frame[3:9].reshape(2, 3).T - middle) <= reach).all(axis=1) & (far <= reach)
        deep += far[near].tolist()
    return max(deep)
