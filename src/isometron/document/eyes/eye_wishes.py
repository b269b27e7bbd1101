"""Setting the eye by a wish for the picture: how much of each side shows, what part of the sheet is filled, the cone."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan, degrees, exp, log, radians, sqrt, tan

import msgspec
import numpy as np

from isometron.document.edits import Edit
from isometron.document.eyes.eye_edits import move_horizon, pivot, tilt_view, turn_object, turn_of
from isometron.document.eyes.eye_setting import Anchor, anchor_at, placed, rotation_of
from isometron.document.lengths.units import format_length
from isometron.document.model import Document, DocumentError, with_fields
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.view.cone import off_axis
from isometron.view.eye import Eye
from isometron.view.placing import place_eye
from isometron.volumes.building import scene_of
from isometron.wording import tr

__all__ = ["FARTHEST", "HORIZONS", "STANDS", "Showing", "bird", "extent_on_paper", "fit_sheet_part", "horizon_preset", "make_points", "showing",
           "step_back_until_inside", "wished_view", "worm"]  # fmt: skip

HORIZONS = {"middle": 1 / 2, "upper third": 2 / 3, "lower third": 1 / 3}
"""Heights of the horizon as parts of the sheet's height."""

STANDS = {"standing": 1600.0, "sitting": 1200.0, "child": 1050.0, "bird": 6000.0, "worm": 100.0}
"""Eye heights above the ground, mm: a standing and a seated adult, a child of six, and the two extremes."""

FARTHEST = 20.0
"""Diagonals of the things that an eye stands away from them at most: beyond it perspective is gone."""

_TURNED, _TILTED = 30.0, -18.0


def horizon_preset(document: Document, part: float) -> Edit:
    """Put the horizon at a part of the sheet's height."""
    return move_horizon(document, round(part * document.sheet.height, 2))


@dataclass(frozen=True)
class Showing:
    """How a box shows: the right side's share of the drawn width, the top's drawn depth and the back upright, both as
    parts of the leading edge. From below, ``top`` is the underside's and negative."""

    right: float
    top: float
    back: float


def _box_corners(document: Document, row: int) -> Floats:
    return scene_of(document.volumes).corners_of(row)


def showing(document: Document, row: int) -> Showing | None:
    """Return how a box shows in a level view, or None when it does not stand upright and turned before the eye."""
    return _shown(document.eye, _box_corners(document, row), rotation_of(document, row))


def _shown(eye: Eye, corners: Floats, rotation: Floats) -> Showing | None:
    up = int(np.argmax(np.abs(rotation[2])))
    level = [k for k in range(3) if k != up]
    paper, depth = eye.project(corners)
    if not (depth > 0.0).all():
        return None
    low = [i for i in range(8) if i >> up & 1 == (0 if rotation[2, up] > 0.0 else 1)]
    lead = min(low, key=lambda i: depth[i])
    sides = [lead ^ 1 << k for k in level]
    left, right = sorted(sides, key=lambda i: paper[i, 0])
    width = paper[right, 0] - paper[left, 0]
    back, over = lead ^ 1 << level[0] ^ 1 << level[1], 1 << up
    height = paper[lead ^ over, 1] - paper[lead, 1]
    if not (width > 0.0 and height > 0.0):
        return None
    above = paper[back ^ over, 1] - paper[lead ^ over, 1]
    under = paper[back, 1] - paper[lead, 1]
    top = max(above, 0.0) if above > 0.0 else min(under, 0.0)
    share = (paper[right, 0] - paper[lead, 0]) / width
    return Showing(float(share), float(top / height), float((paper[back ^ over, 1] - paper[back, 1]) / height))


def wished_view(document: Document, row: int, wish: Showing) -> Edit:
    """Set turn, eye height and distance so that a box shows as wished; its middle stays, with its scale.

    Raises `DocumentError` with the nearest view when none shows it so. Level views only.
    """
    from scipy.optimize import least_squares  # half a second to load, so only when it is asked for

    if document.eye.pitch_deg != 0.0 or document.eye.roll_deg != 0.0:
        raise DocumentError(tr("The view is tilted. Make it two-point first."))
    corners, rotation = _box_corners(document, row), rotation_of(document, row)
    middle = corners.mean(axis=0)
    reach = float(np.ptp(corners, axis=0).max())
    target = np.array([wish.right, wish.top, wish.back])

    def eye_of(values: Floats) -> Eye:
        turn, height, away = float(values[0]), float(values[1]) * reach, exp(float(values[2])) * reach
        x, y, _ = middle
        return place_eye(
            height=float(middle[2]) + height,
            away=away,
            turn_deg=turn,
            viewing_distance=document.eye.viewing_distance,
            about=(float(x), float(y), 0.0),
        )

    def miss(values: Floats) -> Floats:
        shown = _shown(eye_of(values), corners, rotation)
        if shown is None:
            return np.full(3, 10.0)
        reached: Floats = np.array([shown.right, shown.top, shown.back]) - target
        return reached

    best = None
    now = turn_of(document)
    for turn in (now, now - 20.0, now + 20.0, now - 45.0, now + 45.0, now + 90.0):
        start = np.array([turn, 0.5 if wish.top >= 0.0 else -0.8, log(3.0)])
        found = least_squares(
            miss, start, x_scale=(10.0, 0.5, 0.5), bounds=((-400.0, -30.0, log(0.75)), (400.0, 30.0, log(200.0)))
        )
        if best is None or found.cost < best.cost:
            best = found
        if best.cost < 1e-14:
            break
    assert best is not None
    if best.cost > 1e-8:
        shown = _shown(eye_of(best.x), corners, rotation)
        raise DocumentError(_nearest_words(shown))
    eye = eye_of(best.x)
    # The middle is drawn as large as before: the viewing distance follows from its depth.
    anchor = anchor_at(document, middle)
    depth = float(eye.to_camera(middle)[0, 2])
    f = anchor.scale * depth
    fitted = with_fields(eye, viewing_distance=f, cone_deg=document.eye.cone_deg)
    at, _ = fitted.project(middle)
    centre = (anchor.on_sheet[0] - float(at[0, 0]), anchor.on_sheet[1] - float(at[0, 1]))
    sheet = with_fields(document.sheet, centre_of_vision=centre)
    return Edit(tr("set the eye by what shows"), msgspec.structs.replace(document, eye=fitted, sheet=sheet))


def _nearest_words(shown: Showing | None) -> str:
    if shown is None:
        return tr("No eye in front of the object shows it so. Ask for less.")
    return tr(
        "No eye shows it so. The nearest shows the right side {right} %, the top {top} % and the back upright {back} %.",
        right=f"{100 * shown.right:.0f}",
        top=f"{100 * shown.top:.0f}",
        back=f"{100 * shown.back:.0f}",
    )


def fit_sheet_part(document: Document, part: float, margin: float, *, keep: str) -> Edit:
    """Let the object fill a part of the sheet inside the margins, and put it in the middle.

    part : of the free width or height, 0 to 1, whichever is reached first; margin : mm. keep : ``perspective``
    scales the picture (viewing distance), ``distance`` walks nearer or back and leaves the viewing distance.
    """
    sheet = document.sheet
    room = np.array([sheet.width, sheet.height]) - 2 * margin
    if not (0.0 < part <= 1.0 and (room > 0.0).all()):
        raise DocumentError(tr("The margins leave no room on the sheet. Make them smaller."))
    if not document.volumes:
        raise DocumentError(tr("There is nothing to fit yet. Pull a block first (B)."))
    eye = _scaled(document, part * room) if keep == "perspective" else _walked(document, part * room)
    low, high = extent_on_paper(document, eye)
    u, v = (low + high) / 2
    fitted = with_fields(sheet, centre_of_vision=(sheet.width / 2 - float(u), sheet.height / 2 - float(v)))
    return Edit(tr("fit the sheet"), msgspec.structs.replace(document, eye=eye, sheet=fitted))


def extent_on_paper(document: Document, eye: Eye) -> tuple[Floats, Floats]:
    """Return the least and the greatest u, v (2,) of all that stands as an eye sees it, mm; raises `DocumentError` where part of it
    is behind the eye, or nothing stands."""
    scene = scene_of(document.volumes)
    shown = ~scene.put_away[scene.vertex_owner]
    if not shown.any():
        raise DocumentError(tr("Everything is put away. Take something out first (Ctrl+H)."))
    paper, depth = eye.project(scene.vertices[shown])
    if not (depth > 0.0).all():
        raise DocumentError(tr("Part of the object lies behind the eye. Step back first."))
    return paper.min(axis=0), paper.max(axis=0)


def _scaled(document: Document, room: Floats) -> Eye:
    low, high = extent_on_paper(document, document.eye)
    factor = float((room / np.maximum(high - low, CLOSE)).min())
    return with_fields(document.eye, viewing_distance=round(document.eye.viewing_distance * factor, 4))


def _walked(document: Document, room: Floats) -> Eye:
    """Walk level from the pivot until the picture fills the room: the size falls with every step back, the height stays."""
    from scipy.optimize import brentq

    eye, middle = document.eye, pivot(document)
    back = eye.place - middle
    back[2] = 0.0

    def at(steps: float) -> Eye:
        x, y, z = eye.place + back * (exp(steps) - 1.0)
        return with_fields(eye, position=(float(x), float(y), float(z)))

    def over(steps: float) -> float:
        try:
            low, high = extent_on_paper(document, at(steps))
        except DocumentError:
            return 10.0
        return log(float(((high - low) / room).max()))

    if over(-3.0) <= 0.0 or over(4.0) >= 0.0:
        raise DocumentError(tr("No step nearer or back fills that part of the sheet. Change the viewing distance."))
    found = at(float(brentq(over, -3.0, 4.0, xtol=1e-10)))
    away, size = float(np.sqrt(((found.place - middle) ** 2).sum())), _diagonal(document)
    if away > FARTHEST * size:
        raise DocumentError(
            tr(
                "The eye would stand {away} away, more than {times:.0f} times the size of the things: their sides hardly converge from "
                "there. Press By scale, or make the viewing distance shorter first.",
                away=format_length(round(away, -2), document.unit),
                times=FARTHEST,
            )
        )
    return found


def _diagonal(document: Document) -> float:
    """Return the length (mm) from one end to the other of all that stands."""
    scene = scene_of(document.volumes)
    places = scene.vertices[~scene.put_away[scene.vertex_owner]]
    return float(np.sqrt(((places.max(axis=0) - places.min(axis=0)) ** 2).sum()))


def step_back_until_inside(document: Document) -> Edit:
    """Step back, the object's size on paper kept, until every corner lies inside the cone of vision."""
    from scipy.optimize import brentq

    anchor = anchor_at(document, pivot(document))
    eye, half = document.eye, radians(document.eye.cone_deg) / 2

    def stepped(distance: float) -> Edit:
        return placed(
            document,
            tr("step back until it fits the cone"),
            anchor,
            yaw_deg=eye.yaw_deg,
            pitch_deg=eye.pitch_deg,
            roll_deg=eye.roll_deg,
            viewing_distance=distance,
        )

    def outside(distance: float) -> float:
        changed = stepped(distance).document
        scene = scene_of(changed.volumes)
        paper, depth = changed.eye.project(scene.vertices[~scene.put_away[scene.vertex_owner]])
        return float(off_axis(changed.eye, paper).max()) - half if (depth > 0.0).all() else 1.0

    near, far = eye.viewing_distance, eye.viewing_distance
    if outside(near) <= 0.0:
        raise DocumentError(tr("Every corner is inside the cone of vision already."))
    while outside(far) > 0.0:
        far *= 1.5
        if far > 1e5:
            raise DocumentError(
                tr("No step back brings the object into the cone. Move it nearer to the centre of vision.")
            )
    return stepped(float(brentq(lambda f: outside(f) + CLOSE, near, far, xtol=HAIR)) + 1e-5)


def make_points(document: Document, count: int) -> Edit:
    """Make the view one-, two- or three-point, changing no more than is needed."""
    turn = turn_of(document)
    flat = abs(turn / 90.0 - round(turn / 90.0)) < CLOSE
    result = document
    if count < 3 and document.eye.roll_deg != 0.0:
        result = msgspec.structs.replace(result, eye=with_fields(result.eye, roll_deg=0.0))
    if count < 3 and result.eye.pitch_deg != 0.0:
        result = tilt_view(result, 0.0).document
    if count == 1 and not flat:
        result = turn_object(result, round(turn / 90.0) * 90.0 + 0.0).document
    if count > 1 and flat:
        result = turn_object(result, turn - _TURNED).document
    if count == 3 and result.eye.pitch_deg == 0.0:
        # Towards the things: up at what stands above the eye level, else down.
        result = tilt_view(result, -_TILTED if pivot(result)[2] > result.eye.position[2] else _TILTED).document
    if result is document:
        raise DocumentError(tr("Already like that."))
    words = {1: tr("make it one-point"), 2: tr("make it two-point"), 3: tr("make it three-point")}
    return Edit(words[count], result)


def bird(document: Document) -> Edit:
    """Look down on the object from well above it."""
    return _extreme(document, tr("bird's eye"), 38.0)


def worm(document: Document) -> Edit:
    """Look up at the object from just above the ground."""
    return _extreme(document, tr("worm's eye"), -24.0)


def _extreme(document: Document, name: str, down_deg: float) -> Edit:
    """Look at the object's middle ``down_deg`` downwards (or up) and keep its size; the eye stays above the ground."""
    middle = pivot(document)
    anchor = anchor_at(document, middle)
    size = max(float(np.ptp(scene_of(document.volumes).vertices, axis=0).max()), 1.0) if document.volumes else 1000.0
    away = max(1.9 * size, 500.0)
    if down_deg < 0.0:
        # From a worm's place: so near that the eye lies a hand's breadth above the ground.
        down_deg = max(down_deg, -degrees(atan(max(middle[2] - STANDS["worm"], 1.0) / (1.2 * size))))
        away = max(middle[2] - STANDS["worm"], 1.0) / max(tan(radians(-down_deg)), 1e-3)
    level = away if down_deg < 0.0 else away / sqrt(1.0 + tan(radians(down_deg)) ** 2)
    depth = level / max(np.cos(radians(down_deg)), HAIR)
    centred = (document.sheet.width / 2, document.sheet.height / 2)
    return placed(
        document,
        name,
        Anchor(middle, centred, anchor.scale),
        yaw_deg=document.eye.yaw_deg,
        pitch_deg=-round(down_deg, 2),
        viewing_distance=round(anchor.scale * depth, 3),
        centre=centred,
    )
