"""Edits of the eye. The object keeps its place on the sheet: the sheet is shifted on the picture plane as needed."""

from __future__ import annotations

from math import atan2, cos, hypot, radians, sin

import msgspec
import numpy as np

from isometron.document.edits import Edit
from isometron.document.model import Document, DocumentError, with_fields
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.view.eye import Eye
from isometron.view.placing import horizon_on_sheet
from isometron.volumes.building import scene_of
from isometron.wording import tr

__all__ = ["away_from", "lift_horizon", "move_horizon", "pivot", "raise_eye", "set_viewing_distance",
           "step_back_keeping_size", "step_to", "tilt_view", "turn_object", "turn_of", "turn_view"]  # fmt: skip

_NEAREST = 10.0


def pivot(document: Document) -> Floats:
    """Return the middle (3,) of all volumes, or the origin: what the eye walks round."""
    if not document.volumes:
        return np.zeros(3)
    vertices = scene_of(document.volumes).vertices
    middle: Floats = (vertices.min(axis=0) + vertices.max(axis=0)) / 2
    return middle


def away_from(document: Document) -> float:
    """Return the distance in plan from the station point to the pivot, mm."""
    gap = pivot(document) - document.eye.place
    return float(hypot(gap[0], gap[1]))


def turn_of(document: Document) -> float:
    """Return the angle in degrees between the world's x direction and the picture plane, -180 to 180."""
    turn = -document.eye.yaw_deg % 360.0
    return turn - 360.0 if turn > 180.0 else turn


def _with_eye(document: Document, name: str, eye: Eye) -> Edit:
    """Replace the eye and shift the sheet so that the pivot stays where it is on the sheet."""
    middle = pivot(document)
    before, _ = document.eye.project(middle)
    after, _ = eye.project(middle)
    shift = (before - after)[0]
    sheet = document.sheet
    if not np.isnan(shift).any():
        x, y = sheet.centre_of_vision
        sheet = with_fields(sheet, centre_of_vision=(round(x + float(shift[0]), 6), round(y + float(shift[1]), 6)))
    return Edit(name, msgspec.structs.replace(document, eye=eye, sheet=sheet))


def raise_eye(document: Document, height: float) -> Edit:
    """Set the eye's height above the ground, mm."""
    x, y, _ = document.eye.position
    return _with_eye(document, tr("set eye height"), with_fields(document.eye, position=(x, y, height)))


def step_to(document: Document, away: float) -> Edit:
    """Walk straight towards or from the pivot until it is ``away`` mm off in plan."""
    if not away >= _NEAREST:
        raise DocumentError(
            tr(
                "The eye stands at least {nearest:g} mm from the object's middle, not {away:g} mm.",
                nearest=_NEAREST,
                away=away,
            )
        )
    middle, eye = pivot(document), document.eye
    back = eye.place[:2] - middle[:2]
    length = hypot(*back)
    if length < HAIR:
        yaw = radians(eye.yaw_deg)
        back, length = np.array([sin(yaw), -cos(yaw)]), 1.0
    x, y = middle[:2] + back * (away / length)
    return _with_eye(
        document, tr("step nearer or back"), with_fields(eye, position=(float(x), float(y), eye.position[2]))
    )


def turn_object(document: Document, turn_deg: float) -> Edit:
    """Show the object turned: the eye walks round the pivot until world x stands at ``turn_deg`` to the picture."""
    middle, eye = pivot(document), document.eye
    back = eye.place[:2] - middle[:2]
    angle = atan2(back[1], back[0]) + radians(-turn_deg - eye.yaw_deg)
    x, y = middle[:2] + hypot(*back) * np.array([cos(angle), sin(angle)])
    place = (round(float(x), 9), round(float(y), 9), eye.position[2])
    return _with_eye(
        document,
        tr("turn to {turn_deg:g}°", turn_deg=turn_deg),
        with_fields(eye, position=place, yaw_deg=-turn_deg + 0.0),
    )


def turn_view(document: Document, yaw_deg: float) -> Edit:
    """Turn the head where it stands: the object moves across the sheet, its distance and the sheet stay."""
    return Edit(
        tr("turn the view"),
        msgspec.structs.replace(document, eye=with_fields(document.eye, yaw_deg=round(yaw_deg, 6))),
    )


def step_back_keeping_size(document: Document, distance: float) -> Edit:
    """Set the viewing distance and walk along, so that the object's middle keeps its size on paper."""
    share = distance / document.eye.viewing_distance
    walked = step_to(document, away_from(document) * share).document
    edit = set_viewing_distance(walked, distance)
    return Edit(tr("step back, size kept") if share > 1.0 else tr("step nearer, size kept"), edit.document)


def lift_horizon(document: Document, by: float) -> Edit:
    """Raise the eye so that the horizon rises ``by`` mm on the sheet while the object stays where it is drawn."""
    depth = max(float(document.eye.to_camera(pivot(document))[0, 2]), _NEAREST)
    return raise_eye(document, round(document.eye.position[2] + by / document.eye.lens.scale(depth), 1))


def tilt_view(document: Document, tilt_deg: float) -> Edit:
    """Look up (positive) or down: what makes two-point three-point."""
    return _with_eye(document, tr("tilt the view"), with_fields(document.eye, pitch_deg=tilt_deg))


def set_viewing_distance(document: Document, distance: float) -> Edit:
    """Set the distance between eye and picture plane, mm of paper: the picture grows with it, its shape stays."""
    return _with_eye(document, tr("set viewing distance"), with_fields(document.eye, viewing_distance=distance))


def move_horizon(document: Document, above: float) -> Edit:
    """Shift the sheet so that the horizon lies ``above`` mm from its lower edge; the eye stays."""
    if abs(document.eye.pitch_deg) >= 89.9:
        raise DocumentError(
            tr("Looking {pitch_deg:g}° up or down shows no horizon.", pitch_deg=document.eye.pitch_deg)
        )
    x, y = document.sheet.centre_of_vision
    shift = above - horizon_on_sheet(document.eye, document.sheet)
    sheet = with_fields(document.sheet, centre_of_vision=(x, y + shift))
    return Edit(tr("move the horizon on the sheet"), msgspec.structs.replace(document, sheet=sheet))
