"""Setting the eye by what is known of the picture: vanishing points, slopes, a part of the sheet, the cone.

All of them hold a point of the object (the anchor) where it is drawn and keep its scale, mm of paper for one mm of the
object; what is asked for decides the rest. With the camera point (u, v, f) / scale the eye follows from the axes.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import asin, atan2, degrees, radians, sin, tan

import msgspec
import numpy as np

from isometron.document.edits import Edit
from isometron.document.eyes.eye_edits import pivot
from isometron.document.model import Document, DocumentError, with_fields
from isometron.geometry.frames import Floats, box_rotation, camera_axes, half_turn
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.view.eye import Eye
from isometron.view.recover import NoEye, ThreePointView, TwoPointView, eye_from_three, eye_from_two
from isometron.view.vanishing import box_vanishing, vanishing
from isometron.volumes.building import scene_of
from isometron.wording import tr

__all__ = [
    "Anchor",
    "Slopes",
    "anchor_at",
    "by_slopes",
    "by_three_points",
    "by_two_points",
    "facing_axes", "leading_edge",
    "no_eye_words",
    "placed",
    "points_on_sheet",
    "read_slopes",
    "rotation_of",
    "view_words",
]  # fmt: skip

Place = tuple[float, float]


@dataclass(frozen=True)
class Anchor:
    """A point of the object (3,), where it lies on the sheet (from its lower left corner, mm), and its scale there."""

    place: Floats
    on_sheet: Place
    scale: float


def anchor_at(document: Document, place: Floats) -> Anchor:
    """Return the anchor of a world point as it is drawn; raises `DocumentError` for one behind the eye."""
    paper, depth = document.eye.project(place)
    if not depth[0] > 0.0:
        raise DocumentError(tr("The object lies behind the eye. Step back first."))
    on_sheet = document.sheet.from_corner(float(paper[0, 0]), float(paper[0, 1]))
    return Anchor(place, on_sheet, document.eye.lens.scale(float(depth[0])))


def placed(
    document: Document,
    name: str,
    anchor: Anchor,
    *,
    yaw_deg: float,
    pitch_deg: float = 0.0,
    roll_deg: float = 0.0,
    viewing_distance: float,
    centre: Place | None = None,
) -> Edit:
    """Return the edit to an eye of given angles and distance that sees the anchor as it was.

    centre : the centre of vision on the sheet, mm from its lower left corner; None leaves it.
    """
    centre = document.sheet.centre_of_vision if centre is None else centre
    u, v = anchor.on_sheet[0] - centre[0], anchor.on_sheet[1] - centre[1]
    camera = np.array([u, v, viewing_distance]) / anchor.scale
    axes = camera_axes(radians(yaw_deg), radians(pitch_deg), radians(roll_deg))
    x, y, z = np.round(anchor.place - camera @ axes, 6) + 0.0
    eye = with_fields(
        document.eye,
        position=(float(x), float(y), float(z)),
        yaw_deg=half_turn(yaw_deg),
        pitch_deg=float(pitch_deg),
        roll_deg=float(roll_deg),
        viewing_distance=float(viewing_distance),
    )
    sheet = with_fields(document.sheet, centre_of_vision=centre)
    return Edit(name, msgspec.structs.replace(document, eye=eye, sheet=sheet))


def rotation_of(document: Document, row: int | None) -> Floats:
    """Return the rotation (3, 3) of a volume, or of the world for None."""
    if row is None:
        return np.eye(3)
    volume = document.volumes[row]
    return box_rotation(radians(volume.yaw_deg), radians(volume.pitch_deg), radians(volume.roll_deg))


def facing_axes(eye: Eye, rotation: Floats) -> tuple[int, int, int]:
    """Return which columns of ``rotation`` go right, left and upright in this view."""
    up = int(np.argmax(np.abs(rotation[2])))
    level = [k for k in range(3) if k != up]
    azimuth = [atan2(*(eye.axes[[0, 2]] @ _away(eye, rotation[:, k]))) for k in level]
    right, left = (level[0], level[1]) if azimuth[0] >= azimuth[1] else (level[1], level[0])
    return right, left, up


def _away(eye: Eye, direction: Floats) -> Floats:
    """Return the direction or its opposite, whichever leads away from the eye."""
    return direction if float(eye.axes[2] @ direction) >= 0.0 else -direction


def _must_be_level(document: Document) -> None:
    if document.eye.pitch_deg != 0.0 or document.eye.roll_deg != 0.0:
        raise DocumentError(tr("The view is tilted. Make it two-point first; then its points lie on one horizon."))


def by_two_points(
    document: Document, row: int | None, left: float, right: float, centre: float | None = None
) -> Edit:
    """Set viewing distance and turn so that two vanishing points lie where they are wished.

    left, right : along the horizon from the sheet's left edge, mm; centre : of vision likewise, None leaves it.
    Raises `DocumentError` when the centre is not between the points.
    """
    _must_be_level(document)
    old = document.sheet.centre_of_vision
    centre = old[0] if centre is None else centre
    view = eye_from_two(left, right, centre)
    if isinstance(view, NoEye):
        raise DocumentError(no_eye_words(view))
    rotation = rotation_of(document, row)
    axis = facing_axes(document.eye, rotation)[0]
    direction = _away(document.eye, rotation[:, axis])
    # The right-going direction is to vanish at the bearing 90 - angle_right: its azimuth minus that is the yaw.
    azimuth = degrees(atan2(-direction[0], direction[1]))
    return placed(
        document,
        tr("place two vanishing points"),
        anchor_at(document, pivot(document)),
        yaw_deg=azimuth + (90.0 - view.angle_right),
        viewing_distance=view.viewing_distance,
        centre=(centre, old[1]),
    )


def by_three_points(document: Document, row: int | None, points: tuple[Place, Place, Place]) -> Edit:
    """Set the eye so that the volume's own directions vanish at three points on the sheet (from its corner, mm).

    points : for the directions long, wide, high. Raises `DocumentError` with the angle that is wrong.
    """
    rotation = rotation_of(document, row)
    up = int(np.argmax(np.abs(rotation[2])))
    level = [k for k in range(3) if k != up]
    view = eye_from_three(points[level[0]], points[level[1]], points[up])
    if isinstance(view, NoEye):
        raise DocumentError(no_eye_words(view))
    axes = _axes_seeing(document, rotation, points, view)
    pitch = degrees(asin(min(max(float(axes[2, 2]), -1.0), 1.0)))
    return placed(
        document,
        tr("place three vanishing points"),
        anchor_at(document, pivot(document)),
        yaw_deg=degrees(atan2(-axes[2, 0], axes[2, 1])),
        pitch_deg=pitch,
        roll_deg=degrees(atan2(-axes[0, 2], axes[1, 2])),
        viewing_distance=view.viewing_distance,
        centre=view.centre,
    )


def _axes_seeing(
    document: Document, rotation: Floats, points: tuple[Place, Place, Place], view: ThreePointView
) -> Floats:
    """Return the camera axes (rows) that see the columns of ``rotation`` vanish at the points.

    In camera axes a direction is (V - CV, f) or its opposite, whichever is nearer to how it is seen now.
    """
    seen = np.empty((3, 3))
    for k, point in enumerate(points):
        toward = np.array([point[0] - view.centre[0], point[1] - view.centre[1], view.viewing_distance])
        toward = toward / np.sqrt(toward @ toward)
        now = document.eye.axes @ rotation[:, k]
        seen[:, k] = toward if float(toward @ now) >= 0.0 else -toward
    if np.linalg.det(seen) > 0.0:
        # Right, up, look are left-handed; a mirrored box is none, so the direction least surely seen turns about.
        k = int(np.argmin(np.abs(np.sum(seen * (document.eye.axes @ rotation), axis=0))))
        seen[:, k] = -seen[:, k]
    turned = seen @ rotation.T
    u, _, vt = np.linalg.svd(turned)
    axes: Floats = u @ vt
    return axes


def no_eye_words(found: NoEye) -> str:
    """Return why no eye sees such points, in words."""
    if found.vertex is None:
        if not found.nearest:
            return tr("The three points lie in one place or on one line. Pull them apart.")
        return tr("The centre of vision must lie between the two vanishing points.")
    if not found.nearest:
        return tr("The points lie nearly on one line, and no eye sees a box so. Pull one of them away.")
    return tr(
        "The angle at {point} is {angle}°; in the picture of a right-angled box all three are under 90°.",
        point=(tr("the long edges' point"), tr("the wide edges' point"), tr("the uprights' point"))[found.vertex],
        angle=f"{found.angle:.1f}",
    )


@dataclass(frozen=True)
class Slopes:
    """What a pencil held against the nearest upright reads: slopes in degrees from the horizontal, rising positive.

    right, left : of the ground edges; top_right : of the upper right edge (it fixes the eye's height too).
    """

    right: float
    left: float
    top_right: float | None = None


def leading_edge(document: Document, row: int) -> Floats:
    """Return the ends (2, 3) of a volume's leading edge, lower and upper."""
    rotation = rotation_of(document, row)
    up = int(np.argmax(np.abs(rotation[2])))
    corners = scene_of(document.volumes).corners_of(row)
    depth = document.eye.to_camera(corners)[:, 2]
    low = [i for i in range(8) if i >> up & 1 == (0 if rotation[2, up] > 0.0 else 1)]
    foot = min(low, key=lambda i: depth[i])
    ends: Floats = np.vstack([corners[foot], corners[foot ^ 1 << up]])
    return ends


def read_slopes(document: Document, row: int) -> Slopes | None:
    """Return the slopes of a volume's edges at its leading edge, or None when no eye level shows two points."""
    eye, rotation = document.eye, rotation_of(document, row)
    if eye.pitch_deg != 0.0 or eye.roll_deg != 0.0 or abs(rotation[2]).max() < 1.0 - CLOSE:
        return None
    right, left, _ = facing_axes(eye, rotation)
    points = box_vanishing(eye, rotation)
    at_right, at_left = points[right].at, points[left].at
    paper, depth = eye.project(leading_edge(document, row))
    if at_right is None or at_left is None or not (depth > 0.0).all():
        return None
    (u, v), (_, w) = paper
    return Slopes(
        degrees(atan2(at_right[1] - v, at_right[0] - u)),
        degrees(atan2(at_left[1] - v, u - at_left[0])),
        degrees(atan2(at_right[1] - w, at_right[0] - u)),
    )


def by_slopes(document: Document, row: int, slopes: Slopes, centre: float | None = None) -> Edit:
    """Set the eye so that a volume's edges leave the foot of its leading edge at given slopes.

    The leading edge stays as it is drawn. Without ``top_right`` the eye keeps its height; the centre of vision
    (``centre``, mm from the sheet's left edge; None leaves it) is free anywhere between the points.
    """
    _must_be_level(document)
    rotation = rotation_of(document, row)
    foot, top = leading_edge(document, row)
    anchor, upper = anchor_at(document, foot), anchor_at(document, top)
    right, left = tan(radians(slopes.right)), tan(radians(slopes.left))
    horizon = document.sheet.centre_of_vision[1]
    rise = horizon - anchor.on_sheet[1]
    if slopes.top_right is not None:
        fall = right - tan(radians(slopes.top_right))
        if not abs(fall) > HAIR:
            raise DocumentError(tr("The ground edge and the upper edge are parallel: their slopes must differ."))
        # Both edges meet in the right point: its distance is the upright's drawn height by the slopes' difference.
        rise = (upper.on_sheet[1] - anchor.on_sheet[1]) / fall * right
    if not (rise * sin(radians(slopes.right)) > 0.0 and rise * sin(radians(slopes.left)) > 0.0):
        raise DocumentError(
            tr(
                "Below eye level both ground edges rise away from the upright, above it both fall. Check the two slopes."
            )
        )
    u = anchor.on_sheet[0]
    at_right, at_left = u + rise / right, u - rise / left
    centre = document.sheet.centre_of_vision[0] if centre is None else centre
    view = eye_from_two(at_left, at_right, centre)
    if isinstance(view, NoEye):
        raise DocumentError(no_eye_words(view))
    axis = facing_axes(document.eye, rotation)[0]
    direction = _away(document.eye, rotation[:, axis])
    azimuth = degrees(atan2(-direction[0], direction[1]))
    return placed(
        document,
        tr("set the eye by slopes"),
        anchor,
        yaw_deg=azimuth + (90.0 - view.angle_right),
        viewing_distance=view.viewing_distance,
        centre=(centre, anchor.on_sheet[1] + rise),
    )


def view_words(view: TwoPointView | ThreePointView) -> str:
    """Return what the program understood of placed points."""
    if isinstance(view, TwoPointView):
        return tr("viewing distance {f} mm, sides at {right}° and {left}°", f=f"{view.viewing_distance:.0f}",
                  right=f"{view.angle_right:.1f}", left=f"{view.angle_left:.1f}")  # fmt: skip
    return tr("viewing distance {f} mm, looking {way} {angle}°", f=f"{view.viewing_distance:.0f}",
              way=tr("up") if view.pitch > 0 else tr("down"), angle=f"{abs(view.pitch):.1f}")  # fmt: skip


def points_on_sheet(document: Document, row: int | None) -> list[Place | None]:
    """Return where the directions long, wide, high vanish, mm from the sheet's lower left corner; None for never."""
    rotation = rotation_of(document, row)
    found = [vanishing(document.eye, rotation[:, k]).at for k in range(3)]
    return [None if at is None else document.sheet.from_corner(*at) for at in found]
