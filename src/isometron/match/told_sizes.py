"""How sure the sizes of volumes are that were pulled over a picture: what the eye's spread and the pixels they were pulled to leave open.

A corner keeps its height over the ground, and each end its direction, while the eye's numbers and the four pixels that the volume was
pulled to are moved a little: first-order propagation of their covariances (Hartley and Zisserman, *Multiple View Geometry*, 5.2).
"""

from __future__ import annotations

from collections.abc import Callable
from math import radians

import numpy as np

from isometron.document.lengths.units import UnitName, format_length
from isometron.document.model import Document
from isometron.document.pictures.placing import eye_of, to_pixels
from isometron.document.pictures.sheet_picture import Camera, SheetPicture
from isometron.geometry.frames import Floats, box_rotation
from isometron.match.answer import Answer, Figure, deviations
from isometron.match.picture_eye import camera_by
from isometron.match.scale import from_eye
from isometron.match.solving.camera import Layout
from isometron.view.sheet import Sheet
from isometron.volumes.kinds import AnyVolume
from isometron.wording import tr

__all__ = ["picture_values", "sure_sizes", "sure_words", "told_sizes"]

_STEP, _SAME = 1e-6, 1e-6
_FINEST = 0.3
"""px: no pull is surer than that."""


def sure_sizes(picture: SheetPicture, answer: Answer, volume: AnyVolume) -> tuple[Figure, Figure, Figure] | None:
    """Return long, wide and high of a volume, mm, each with its plus-minus at 95 %; None where the picture does not show them."""
    if picture.camera is None:
        return None
    pixels = _pixels(picture, volume)
    if pixels is None:
        return None
    level = volume.corner[2]
    rotation = box_rotation(radians(volume.yaw_deg), radians(volume.pitch_deg), radians(volume.roll_deg))

    def by_pixels(flat: Floats) -> Floats:
        assert picture.camera is not None
        return _sizes(picture.camera, flat.reshape(4, 2), level, rotation)

    pulled = _slopes(by_pixels, pixels.ravel())
    pm = np.zeros(3)
    # A level picture may be tilted all the same: the wider of the two spreads is told.
    for found in (answer.fit, answer.tilted):

        def by_numbers(numbers: Floats, layout: Layout = found.layout) -> Floats:
            return _sizes(camera_by(picture, layout, numbers), pixels, level, rotation)

        own = _slopes(by_numbers, found.numbers)
        spread = own @ found.spread @ own.T + max(found.noise, _FINEST) ** 2 * pulled @ pulled.T
        open_ = np.abs(own @ found.unknown).max(axis=1, initial=0.0) > _SAME * np.abs(own).max(initial=0.0)
        told = deviations(found.over) * np.sqrt(np.maximum(np.diag(spread), 0.0))
        pm = np.maximum(pm, np.where(open_ | ~np.isfinite(told), np.inf, told))
    if not np.isfinite(answer.focal.pm95):
        pm[:] = np.inf
    one, two, three = (Figure(size, float(own_pm)) for size, own_pm in zip(volume.size, pm, strict=True))
    return one, two, three


def sure_words(sure: tuple[Figure, Figure, Figure], unit: UnitName) -> str:
    """Return sizes with their plus-minus, to the digits that a picture can tell."""
    names = (tr("long"), tr("wide"), tr("high"))
    figures = []
    for name, figure in zip(names, sure, strict=True):
        value = format_length(round(figure.value), unit, with_unit=False)
        known = np.isfinite(figure.pm95)
        pm = (
            format_length(max(round(figure.pm95, 1 if figure.pm95 < 10.0 else None), 0.1), unit)
            if known
            else tr("unknown")
        )
        figures.append(tr("{name} {value} ± {pm}", name=name, value=value, pm=pm))
    return ", ".join(figures)


def told_sizes(document: Document, volume: AnyVolume) -> list[str]:
    """Return a line for each picture that a volume is seen on: its sizes and how sure that picture makes them."""
    from isometron.match.picture_eye import answer_of

    told = []
    for picture in document.pictures:
        answer = answer_of(picture)
        sure = None if isinstance(answer, str) else sure_sizes(picture, answer, volume)
        if sure is not None:
            told.append(tr("on {picture}: {sizes}", picture=picture.name, sizes=sure_words(sure, document.unit)))
    return told


def _pixels(picture: SheetPicture, volume: AnyVolume) -> Floats | None:
    """Return where the picture shows a volume's corner and the ends of its three edges there (4, 2); None where it does not."""
    found = eye_of(picture)
    if found is None:
        return None
    eye, centre = found
    rotation = box_rotation(radians(volume.yaw_deg), radians(volume.pitch_deg), radians(volume.roll_deg))
    places = np.array(volume.corner) + np.vstack([np.zeros(3), (rotation * np.array(volume.size)).T])
    paper, depth = eye.project(places)
    if not (depth > 0.0).all():
        return None
    sheet = Sheet(width=picture.paper[0], height=picture.paper[1], centre_of_vision=centre)
    pixels = to_pixels(picture, sheet, paper)
    inside = ((pixels >= 0.0) & (pixels <= (picture.width, picture.height))).all(axis=1)
    return pixels if inside.any() else None


def _sizes(camera: Camera, pixels: Floats, level: float, rotation: Floats) -> Floats:
    """Return the sizes (3,) of a volume whose corner and three ends are seen at pixels (4, 2), its corner at a height of ``level``."""
    rays = from_eye(camera, pixels)
    corner = rays[0] * ((level - camera.position[2]) / rays[0, 2])
    found = np.zeros(3)
    for k in range(3):
        # The end lies where its edge comes nearest to the ray: (corner + s d) x ray is least.
        across, still = np.cross(rotation[:, k], rays[k + 1]), np.cross(corner, rays[k + 1])
        found[k] = -float(across @ still) / max(float(across @ across), 1e-30)
    return found


def _slopes(function: Callable[[Floats], Floats], at: Floats) -> Floats:
    """Return the derivatives (3, P) of a function of numbers (P,) by central differences."""
    columns = []
    for k in range(len(at)):
        step = np.zeros(len(at))
        step[k] = _STEP * max(abs(float(at[k])), 1.0)
        columns.append((function(at + step) - function(at - step)) / (2.0 * step[k]))
    return np.array(columns).T.reshape(3, len(at))


def picture_values(document: Document) -> list[dict[str, object]]:
    """Return what the report says of each picture: its eye, and the sizes of volumes on it, each with its plus-minus."""
    from isometron.match.picture_eye import answer_of

    found: list[dict[str, object]] = []
    for picture in document.pictures:
        answer = answer_of(picture)
        if isinstance(answer, str):
            found.append({"picture": picture.name, "focal_px": None, "sizes": [], "free": [answer]})
            continue
        sizes = []
        for volume in document.volumes:
            sure = sure_sizes(picture, answer, volume)
            if sure is not None:
                known = {k: _plain(f) for k, f in zip(("long", "wide", "high"), sure, strict=True)}
                sizes.append({"volume": volume.id, **known})
        scaled = picture.true is not None
        free = [
            f"{each.what}: {each.settle}" for each in answer.free if not (scaled and each.what == tr("the scale"))
        ]
        found.append({"picture": picture.name, "focal_px": _plain(answer.focal), "sizes": sizes, "free": free})
    return found


def _plain(figure: Figure) -> dict[str, float | None]:
    return {"value": figure.value, "pm95": figure.pm95 if np.isfinite(figure.pm95) else None}
