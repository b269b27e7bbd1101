"""The handles of a volume: where they are on paper, and the one thing that each of them does."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import Enum

import numpy as np

from isometron.geometry.faces.cutting import VIEW_AXES
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE
from isometron.solve.drawing import Drawing
from isometron.solve.measures import going
from isometron.view.vanishing import vanishing
from isometron.volumes.box import BOX_FACES
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile, ViewName, view_size
from isometron.volumes.marks.holds import held_at
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS

__all__ = ["Grip", "Handle", "corner_places", "handle_at", "handles", "turning_circle"]

_LIFT_PIXELS = 30.0
_MOVE_PIXELS = 22.0
_NEAR = 0.02
"""Corners of a body that are hardly farther from a profile's corner than the nearest, as a part of its size."""


class Grip(Enum):
    """What a handle does."""

    FACE = "face"
    MOVE = "move"
    LIFT = "lift"
    TURN = "turn"
    SLIDE = "slide"
    CORNER = "corner"


_APART = 22.0
"""Pointer steps between the handle of a face that looks away and any other."""


@dataclass(frozen=True)
class Handle:
    """One handle of one volume.

    place : (3,) in the world, what is pulled; at : where it is drawn, paper mm; axis, sign : own direction and side of
    a face; going : the sketcher's word for its direction, which gives its colour; number, view : of a profile's corner; behind :
    whether its face looks away from the eye.
    """

    grip: Grip
    owner: int
    place: Floats
    at: tuple[float, float]
    axis: int
    sign: float
    going: str
    number: int = 0
    view: ViewName = "side"
    behind: bool = False


def handles(drawing: Drawing, owner: int, grain: float) -> list[Handle]:
    """Return the handles of a volume: its faces, move, lift and turn; faces that look away where no other handle lies near theirs.

    None behind the eye, locked or put away.
    """
    scene, eye = drawing.scene, drawing.document.eye
    if drawing.document.volumes[owner].locked or drawing.document.volumes[owner].put_away:
        return []
    corners = scene.corners_of(owner)
    if not (eye.to_camera(corners)[:, 2] > 0.0).all():
        return []
    rotation, volume = scene.rotations[owner], drawing.document.volumes[owner]
    middle = corners.mean(axis=0)
    found: list[Handle] = []
    hidden: list[Handle] = []
    for axis, side in BOX_FACES:
        sign = 1.0 if side else -1.0
        normal = sign * rotation[:, axis]
        place = middle + 0.5 * volume.size[axis] * normal
        word = going(vanishing(eye, rotation[:, axis]))
        handle = _handle(drawing, Grip.FACE, owner, place, axis, sign, word)
        if float(normal @ (eye.place - place)) > 0.0:
            found.append(handle)
        else:
            hidden.append(replace(handle, behind=True))
    base = middle - np.array([0.0, 0.0, middle[2] - corners[:, 2].min()])
    top = middle + np.array([0.0, 0.0, corners[:, 2].max() - middle[2]])
    lift = _handle(drawing, Grip.LIFT, owner, top, 2, 1.0, "upright")
    u, v = lift.at
    found.append(Handle(Grip.LIFT, owner, top, (u, v + _LIFT_PIXELS * grain), 2, 1.0, "upright"))
    move = _handle(drawing, Grip.MOVE, owner, base, 2, 1.0, "ground")
    u, v = move.at
    # Below the foot, so that it does not lie on the upper face of a flat volume.
    found.append(Handle(Grip.MOVE, owner, base, (u, v - _MOVE_PIXELS * grain), 2, 1.0, "ground"))
    found.append(_handle(drawing, Grip.TURN, owner, _turning_place(drawing, owner, base), 2, 1.0, "ground"))
    found += [handle for make in _OF_SHAPE for handle in make(drawing, owner, grain)]
    return found + [h for h in hidden if handle_at(found, *h.at, _APART * grain) is None]


def _facing(drawing: Drawing, place: Floats, outward: Floats) -> bool:
    return float(outward @ (drawing.document.eye.place - place)) > 0.0


def _slide(drawing: Drawing, owner: int, grain: float) -> list[Handle]:
    """A round slides along its axle: a handle off the end of the axle that looks at the eye."""
    volume = drawing.document.volumes[owner]
    if not isinstance(volume, Turned):
        return []
    axis = DIRECTIONS.index(volume.axle)
    rotation, middle = drawing.scene.rotations[owner], drawing.scene.corners_of(owner).mean(axis=0)
    for sign in (1.0, -1.0):
        end = middle + sign * 0.5 * volume.size[axis] * rotation[:, axis]
        if _facing(drawing, end, sign * rotation[:, axis]):
            word = going(vanishing(drawing.document.eye, rotation[:, axis]))
            return [_off_end(drawing, owner, end, middle, axis, sign, word, grain)]
    return []


def _off_end(
    drawing: Drawing, owner: int, end: Floats, middle: Floats, axis: int, sign: float, word: str, grain: float
) -> Handle:
    paper, _ = drawing.document.eye.project(np.vstack([middle, end]))
    way = paper[1] - paper[0]
    size = float(np.hypot(*way))
    way = way / size if size > CLOSE else np.array([1.0, 0.0])
    at = paper[1] + _LIFT_PIXELS * grain * way
    return Handle(Grip.SLIDE, owner, end, (float(at[0]), float(at[1])), axis, sign, word)


def _corners(drawing: Drawing, owner: int, grain: float) -> list[Handle]:
    """The corners of a cut body's profiles that look at the eye: of the view that is seen most square."""
    volume, eye = drawing.document.volumes[owner], drawing.document.eye
    if not isinstance(volume, CutBody):
        return []
    rotation, corner = drawing.scene.rotations[owner], drawing.scene.corners_of(owner)[0]
    to_eye = eye.place - drawing.scene.corners_of(owner).mean(axis=0)
    cut = [k for k, view in enumerate(VIEWS) if getattr(volume, view) is not None]
    if not cut:
        return []
    across = [3 - sum(VIEW_AXES[k]) for k in range(3)]
    view = max(cut, key=lambda k: abs(float(rotation[:, across[k]] @ to_eye)))
    (a, b), e = VIEW_AXES[view], across[view]
    own = (drawing.scene.vertices[drawing.scene.vertex_owner == owner][8:] - corner) @ rotation
    found = []
    for n, x, y in corner_places(volume, VIEWS[view]):
        at = np.zeros(3)
        at[a], at[b] = x, y
        # As deep as the body's own corners there, on the side of the eye: a rounded corner is not on the body itself.
        gap = np.hypot(own[:, a] - x, own[:, b] - y)
        ends = own[gap <= gap.min() + _NEAR * max(volume.size)][:, e] if len(own) else np.array([0.0, volume.size[e]])
        at[e] = ends.max() if float(rotation[:, e] @ to_eye) > 0.0 else ends.min()
        handle = _handle(drawing, Grip.CORNER, owner, corner + rotation @ at, e, 1.0, "ground")
        found.append(replace(handle, number=n, view=VIEWS[view]))
    return found


def corner_places(volume: CutBody, view: ViewName) -> list[tuple[int, float, float]]:
    """Return the number of every corner of a profile and where it lies in its view, mm."""
    profile: CutProfile | None = getattr(volume, view)
    size = view_size(volume, view)
    corners = () if profile is None else profile.corners
    return [(c.n, held_at(c.at[0], size[0]), held_at(c.at[1], size[1])) for c in corners]


_OF_SHAPE = (_slide, _corners)
"""Handles that only some kinds have; each gives none for the others."""


def _handle(drawing: Drawing, grip: Grip, owner: int, place: Floats, axis: int, sign: float, word: str) -> Handle:
    paper, _ = drawing.document.eye.project(place)
    return Handle(grip, owner, place, (float(paper[0, 0]), float(paper[0, 1])), axis, sign, word)


def _radius(drawing: Drawing, owner: int) -> float:
    size = drawing.document.volumes[owner].size
    return 0.62 * float(np.hypot(size[0], size[1]))


def _turning_place(drawing: Drawing, owner: int, base: Floats) -> Floats:
    """The place on the turning circle nearest to the eye's right-hand side of the first own direction."""
    along = drawing.scene.rotations[owner][:, 0].copy()
    along[2] = 0.0
    length = float(np.sqrt(along @ along))
    along = along / length if length > CLOSE else np.array([1.0, 0.0, 0.0])
    if float(along @ (drawing.document.eye.place - base)) < 0.0:
        along = -along
    place: Floats = base + _radius(drawing, owner) * along
    return place


def turning_circle(drawing: Drawing, owner: int) -> Floats:
    """Return the turning circle round a volume's foot as short paper lines (N, 4); nothing behind the eye."""
    corners = drawing.scene.corners_of(owner)
    middle = corners.mean(axis=0)
    middle[2] = corners[:, 2].min()
    t = np.linspace(0.0, 2 * np.pi, 73)
    ring = middle + _radius(drawing, owner) * np.column_stack([np.cos(t), np.sin(t), np.zeros_like(t)])
    paper, depth = drawing.document.eye.project(ring)
    seen = (depth[1:] > 0.0) & (depth[:-1] > 0.0)
    lines: Floats = np.hstack([paper[:-1], paper[1:]])[seen]
    return lines


def handle_at(found: list[Handle], u: float, v: float, within: float) -> Handle | None:
    """Return the handle nearest to a paper point within ``within`` mm, or None."""
    gaps = [float(np.hypot(h.at[0] - u, h.at[1] - v)) for h in found]
    if not gaps or not min(gaps) <= within:
        return None
    return found[int(np.argmin(gaps))]
