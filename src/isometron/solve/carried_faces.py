"""Pictures on the faces they were seen on, as another eye sees those: what either eye does not see stays blank."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from isometron.document.model import Document
from isometron.document.pictures.placing import eye_of, place_of
from isometron.document.pictures.sheet_picture import SheetPicture
from isometron.geometry.frames import Floats
from isometron.geometry.visible import plane_to_plane, visible_parts
from isometron.solve.layers.photographs import raster_lying
from isometron.solve.marks import Raster
from isometron.solve.seen_faces import StandingFaces, faces_standing, view_of
from isometron.view.sheet import Sheet
from isometron.volumes.keeping import Kept
from isometron.volumes.scene import Scene

__all__ = ["carried_rasters"]

_LEAST = 0.1
"""mm2 of paper: a smaller part of a face is not worth a picture."""
_STANDING: Kept[StandingFaces] = Kept(2)
_WAS_SEEN: Kept[list[BaseGeometry]] = Kept(4)


def carried_rasters(document: Document, scene: Scene, carried: Sequence[SheetPicture]) -> list[Raster]:
    """Return the pictures ``carried``, each matched, on the faces that they show, as the document's eye sees those."""
    standing = _STANDING.of((scene,), lambda: faces_standing(scene))
    # Only what the photograph shows is looked for under the new eye.
    was = {p.id: _WAS_SEEN.of((scene, p), lambda p=p: _seen_on(p, scene, standing)) for p in carried}  # type: ignore[misc]
    wanted = np.array([any(not parts[row].is_empty for parts in was.values()) for row in range(len(standing.faces))])
    now = visible_parts(view_of(document.eye), standing.faces, wanted, standing.hides)
    return [r for p in carried for r in _on_faces(document, p, standing, was[p.id], now)]


def _seen_on(picture: SheetPicture, scene: Scene, standing: StandingFaces) -> list[BaseGeometry]:
    """Return the part of each face that a picture shows, on the paper of its own eye."""
    found = eye_of(picture)
    assert found is not None
    eye, centre = found
    frame = shapely.Polygon(_corners(picture, centre))
    return [part.intersection(frame) if not part.is_empty else part for part in standing.visible(eye)]


def _own_sheet(picture: SheetPicture, centre: tuple[float, float]) -> Sheet:
    return Sheet(width=picture.paper[0], height=picture.paper[1], centre_of_vision=centre)


def _corners(picture: SheetPicture, centre: tuple[float, float]) -> Floats:
    """Return the corners (4, 2) of the part of a picture that shows, on the paper of its own eye."""
    left, top, right, lower = picture.seen
    x0, x1 = left * picture.width - 0.5, right * picture.width - 0.5
    y0, y1 = top * picture.height - 0.5, lower * picture.height - 0.5
    place = place_of(picture, _own_sheet(picture, centre))
    found: Floats = (np.array([[x0, y0, 1.0], [x1, y0, 1.0], [x1, y1, 1.0], [x0, y1, 1.0]]) @ place.T)[:, :2]
    return found


def _on_faces(
    document: Document,
    picture: SheetPicture,
    standing: StandingFaces,
    was: list[BaseGeometry],
    now: list[BaseGeometry],
) -> list[Raster]:
    found = eye_of(picture)
    assert found is not None
    eye, centre = found
    lying = raster_lying(picture, document.file_of(picture), _own_sheet(picture, centre))
    if lying is None:
        return []
    one, other = view_of(eye), view_of(document.eye)
    rasters = []
    for face, then, here in zip(standing.faces, was, now, strict=True):
        if then.is_empty or here.is_empty:
            continue
        carry = plane_to_plane(one, other, face)
        both = shapely.make_valid(_carried(then, carry)).intersection(here)
        rings = tuple(
            np.array(ring.coords)[:-1] for part in _parts(both) for ring in (part.exterior, *part.interiors)
        )
        if rings:
            rasters.append(_cropped(lying, carry @ lying.place, rings))
    return rasters


def _cropped(lying: Raster, place: Floats, rings: tuple[Floats, ...]) -> Raster:
    """Return a picture carried to a place, cropped to what is seen of it: the rest may lie behind the eye."""
    paper = np.concatenate(rings)
    pixels = np.column_stack([paper, np.ones(len(paper))]) @ np.linalg.inv(place).T
    pixels = pixels[:, :2] / pixels[:, 2:]
    height, width = lying.pixels.shape[:2]
    x0, y0 = np.clip(np.floor(pixels.min(axis=0)).astype(int) - 1, 0, [width - 1, height - 1])
    x1, y1 = np.clip(np.ceil(pixels.max(axis=0)).astype(int) + 1, [x0 + 1, y0 + 1], [width, height])
    there = place @ np.array([[1.0, 0.0, x0], [0.0, 1.0, y0], [0.0, 0.0, 1.0]])
    # The same homography with its third coordinate positive where it is seen: painters take others for what lies behind.
    sense = np.sign(there[2] @ np.array([(x1 - x0) / 2.0, (y1 - y0) / 2.0, 1.0]))
    return replace(lying, pixels=lying.pixels[y0:y1, x0:x1], place=sense * there, within=rings)


def _carried(part: BaseGeometry, carry: Floats) -> BaseGeometry:
    """Return polygons carried by a homography; all of them lie before both eyes."""

    def moved(points: Floats) -> Floats:
        there = np.column_stack([points, np.ones(len(points))]) @ carry.T
        found: Floats = there[:, :2] / there[:, 2:]
        return found

    carried: BaseGeometry = shapely.transform(part, moved)
    return carried


def _parts(both: BaseGeometry) -> list[shapely.Polygon]:
    return [
        part
        for part in shapely.get_parts(both, return_index=False)
        if part.geom_type == "Polygon" and part.area > _LEAST
    ]
