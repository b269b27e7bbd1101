"""A cut body in the world: its faces, edges, arcs and rounds."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from isometron.geometry.bodies import ConvexBodies, stacked
from isometron.geometry.faces.convex import are_convex, as_convex_body
from isometron.geometry.faces.corners import OutlineError
from isometron.geometry.faces.cutting import VIEW_AXES, CutFaces, TooMuchWork, cut_body, rectangle
from isometron.geometry.faces.flat import FlatFaces, faces_of, no_faces
from isometron.geometry.frames import Floats, Ints
from isometron.geometry.outlines import Outline, convex_pieces, flattened
from isometron.geometry.prisms import prisms
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.box import box_corners
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile, ViewName, profile_outline, view_size
from isometron.volumes.marks.holds import held_at
from isometron.volumes.rounds import RoundParts
from isometron.volumes.solids import Solids
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["Profiles", "cut_at_rest", "cut_corners", "cut_rounds", "cut_solids", "uncut_because", "used_outlines"]

Refused = list[tuple[ViewName, str]]
Profiles = tuple[CutProfile | None, CutProfile | None, CutProfile | None]


def cut_at_rest(volume: CutBody) -> tuple[CutFaces, FlatFaces]:
    """Return a cut body and its faces in its own axes. A profile that makes no outline cuts nothing: see `uncut_because`."""
    found, faces, _ = _cut(volume.size, (volume.side, volume.plan, volume.front))
    return found, faces


def uncut_because(volume: CutBody) -> Refused:
    """Return the views whose profile cannot be used, each with the reason and the remedy in words."""
    return _cut(volume.size, (volume.side, volume.plan, volume.front))[2]


@lru_cache(maxsize=256)
def _cut(size: tuple[float, float, float], profiles: Profiles) -> tuple[CutFaces, FlatFaces, Refused]:
    outlines, refused = _outlines(size, profiles)
    try:
        found = cut_body(*outlines)
    except TooMuchWork:
        refused = [(view, tr("The outlines are too intricate to be cut: take corners out.")) for view in VIEWS]
        found = cut_body(*_whole(size))
    return found, faces_of(found), refused


def used_outlines(size: tuple[float, float, float], profiles: Profiles) -> list[Outline]:
    """Return the outlines of the three views that the body is cut by."""
    outlines, refused = _outlines(size, profiles)
    return outlines if _cut(size, profiles)[2] == refused else _whole(size)  # where all together are too intricate


def _whole(size: tuple[float, float, float]) -> list[Outline]:
    return [rectangle(size[a], size[b]) for a, b in VIEW_AXES]


_outline = lru_cache(maxsize=512)(profile_outline)
"""Of the three outlines only one changes while a corner is pulled."""


def _outlines(size: tuple[float, float, float], profiles: Profiles) -> tuple[list[Outline], Refused]:
    """Return the outlines, that of a profile which makes none replaced by its whole view, and why."""
    outlines: list[Outline] = _whole(size)
    refused: Refused = []
    for number, (view, profile) in enumerate(zip(VIEWS, profiles, strict=True)):
        if profile is None:
            continue
        try:
            a, b = VIEW_AXES[number]
            outlines[number] = _outline(profile, view, (size[a], size[b]))
        except OutlineError as error:
            refused.append((view, str(error)))
    return outlines, refused


def cut_solids(volumes: Sequence[Volume]) -> Solids:
    """Return one cut body: its straight edges, tangent ones as construction, and the faces, or the convex body, that hide."""
    (volume,) = volumes
    assert isinstance(volume, CutBody)
    bounds, rotations = box_corners(volumes)
    cut, faces = cut_at_rest(volume)
    ends, tangent = cut.edges
    corner, rotation = bounds[0, 0], rotations[0]
    places, edges = _shared(ends)
    quick = _quick(volume.size, (volume.side, volume.plan, volume.front))
    if quick is not None:
        faces = no_faces()
    bodies = stacked([]) if quick is None else quick.placed(rotation, corner)
    return Solids(
        vertices=np.concatenate([bounds[0], places @ rotation.T + corner])[None],
        edges=edges + 8,
        edge_axes=_axes(ends),
        soft=tangent,
        rotations=rotations,
        bodies=bodies,
        body_row=np.zeros(len(bodies), dtype=np.intp),
        faces=faces.placed(rotation, corner),
        face_row=np.zeros(len(faces), dtype=np.intp),
    )


@lru_cache(maxsize=256)
def _quick(size: tuple[float, float, float], profiles: Profiles) -> ConvexBodies | None:
    """Return the body as convex pieces, which hide quicker, where one view cuts it or it has neither rounds nor hollows."""
    outlines = used_outlines(size, profiles)
    if are_convex(outlines):
        return as_convex_body(_cut(size, profiles)[0])
    cutting = [number for number, profile in enumerate(profiles) if profile is not None]
    if len(cutting) != 1:
        return None
    axes = VIEW_AXES[cutting[0]]
    plane, way = np.eye(3)[list(axes)], np.eye(3)[3 - sum(axes)]
    pieces = convex_pieces(flattened(outlines[cutting[0]]))
    return prisms([piece @ plane for piece in pieces], size[3 - sum(axes)] * way)


_GRAIN = 1e-5
"""mm: ends of edges that are nearer than this are one corner."""


def _shared(ends: Floats) -> tuple[Floats, Ints]:
    """Return the corners (V, 3) of edges (E, 2, 3), each once, and the edges as rows of them (E, 2)."""
    flat = ends.reshape(-1, 3)
    keys = np.round(flat / _GRAIN).astype(np.int64)
    _, first, inverse = np.unique(keys, axis=0, return_index=True, return_inverse=True)
    return flat[first], inverse.reshape(-1, 2).astype(np.intp)


def _axes(ends: Floats) -> Ints:
    """Return the own direction (E,) that edges run in, -1 for none."""
    way = np.abs(ends[:, 1] - ends[:, 0])
    axis = way.argmax(axis=1) if len(way) else np.zeros(0, dtype=np.intp)
    others = way.sum(axis=1) - way.max(axis=1, initial=0.0)
    found: Ints = np.where(others <= CLOSE * way.sum(axis=1), axis, -1)
    return found


def cut_corners(volumes: Sequence[Volume]) -> Floats:
    """Return the eight corners (N, 8, 3) of bodies that lean like a roof or a cabin, else those of the bounding volume.

    Of a body whose side view and front are four corners, two of them at the foot and two at the top, each of the eight lies
    where both say.
    """
    bounds, rotations = box_corners(volumes)
    for row, volume in enumerate(volumes):
        assert isinstance(volume, CutBody)
        spans = [_spans(volume, view) for view in ("side", "front")]
        if volume.plan is not None or spans[0] is None or spans[1] is None:
            continue
        own = np.array(
            [[spans[0][i >> 2][i & 1], spans[1][i >> 2][i >> 1 & 1], (i >> 2) * volume.size[2]] for i in range(8)]
        )
        bounds[row] = bounds[row, 0] + own @ rotations[row].T
    return bounds


def _spans(volume: CutBody, view: ViewName) -> tuple[tuple[float, float], tuple[float, float]] | None:
    """Return how far a view reaches at its foot and at its top, mm, where it is four corners; None for any other."""
    profile, (wide, high) = getattr(volume, view), view_size(volume, view)
    if profile is None:
        return (0.0, wide), (0.0, wide)
    found = []
    for level in (0.0, high):
        at = sorted(held_at(c.at[0], wide) for c in profile.corners if abs(held_at(c.at[1], high) - level) <= HAIR)
        if not at or len(at) > 2:
            return None
        found.append((at[0], at[-1]))
    sharp = all(c.round == c.chamfer == c.bow == 0.0 for c in profile.corners)
    return (found[0], found[1]) if sharp and 3 <= len(profile.corners) <= 4 and not profile.alike else None


def cut_rounds(volume: CutBody, row: int) -> RoundParts:
    """Return the arcs of a cut body's rounds, and the sheets that show an outline where they turn away from the eye."""
    cut, _ = cut_at_rest(volume)
    if not len(cut.rounds):
        return RoundParts()
    bounds, rotations = box_corners([volume])
    corner, rotation = bounds[0, 0], rotations[0]
    rings, spans = cut.arcs
    drawn = RoundParts.drawn(row, list(rings), spans=spans / (2 * np.pi))
    round_ = cut.rounds[cut.sheets[:, 0].astype(np.intp)]
    sheets = np.hstack([round_, cut.sheets[:, 1:]])
    bent = RoundParts(sheets=sheets, sheet_owner=np.full(len(sheets), row))
    seams = RoundParts.stroked(row, list(cut.seams), is_mark=False)
    return RoundParts.joined([drawn, bent, seams]).placed(rotation, corner)
