"""Edits that keep planes, change them, and forget them."""

from __future__ import annotations

from dataclasses import replace

import msgspec
import numpy as np

from isometron.document.edits import Edit
from isometron.document.model import Document, DocumentError, checked
from isometron.geometry.frames import Floats
from isometron.volumes.box import box_corners
from isometron.volumes.marks.holds import Measured
from isometron.volumes.marks.mirroring import middle_axis
from isometron.volumes.sections.plane import GROUND, MOST_PLANES, KeptPlane, PlaneLine, plane_at
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = [
    "belt",
    "centre_line",
    "change_plane",
    "draw_on_plane",
    "forget_plane",
    "keep_plane",
    "parallel_plane",
    "plane_square_to",
    "plane_through",
    "section_family",
]


def _named(document: Document, stem: str) -> tuple[str, str]:
    """Return an id and a name that no plane has."""
    taken = {plane.name for plane in document.planes}
    name, number = stem, 2
    while name in taken:
        name, number = f"{stem} {number}", number + 1
    ids = {plane.id for plane in document.planes}
    return next(f"plane-{k}" for k in range(1, len(ids) + 2) if f"plane-{k}" not in ids), name


def keep_plane(document: Document, plane: KeptPlane) -> Edit:
    """Keep one more plane."""
    if len(document.planes) >= MOST_PLANES:
        raise DocumentError(tr("A document keeps {most} planes. Forget one first.", most=MOST_PLANES))
    kept = checked(plane, tr("plane {name}", name=plane.name))
    if plane_at(kept, {volume.id: volume for volume in document.volumes}) is None:
        raise DocumentError(tr("Three places that lie on one line make no plane: move one of them."))
    return Edit(
        tr("keep the plane {name}", name=kept.name),
        msgspec.structs.replace(document, planes=(*document.planes, kept)),
    )


def centre_line(document: Document, volume_id: str) -> Edit:
    """Cut all that stands by the middle plane of a volume, between its left and its right side."""
    volume = document.volume(volume_id)
    plane_id, name = _named(document, tr("centre line of {volume}", volume=volume.name)[:100])
    return keep_plane(
        document, KeptPlane(id=plane_id, name=name, of=volume_id, across=DIRECTIONS[middle_axis(volume)])
    )


def section_family(document: Document, volume_id: str, every: float) -> Edit:
    """Cut a volume every so many mm from its front to its rear, as construction."""
    volume = document.volume(volume_id)
    plane_id, name = _named(document, tr("sections of {volume}", volume=volume.name)[:100])
    across = DIRECTIONS[1 - middle_axis(volume)]
    plane = KeptPlane(id=plane_id, name=name, of=volume_id, across=across, every=every, only=(volume_id,), soft=True)
    return keep_plane(document, plane)


def belt(document: Document, volume_id: str, high: float, band: float = 0.0) -> Edit:
    """Carry a line, or a band so wide, round a volume at a height over its foot, mm."""
    volume = document.volume(volume_id)
    plane_id, name = _named(document, tr("belt of {volume}", volume=volume.name)[:100])
    plane = KeptPlane(
        id=plane_id, name=name, of=volume_id, across="high", at=Measured(mm=high), band=band, only=(volume_id,)
    )
    return keep_plane(document, plane)


def plane_through(document: Document, places: tuple[Floats, Floats, Floats], volume_id: str = "") -> Edit:
    """Keep the plane through three places (3,) of the world; it goes with a volume where one is named."""
    plane_id, name = _named(document, tr("plane through three places"))
    if volume_id:
        corners, rotations = box_corners([document.volume(volume_id)])
        a, b, c = ((place - corners[0, 0]) @ rotations[0] for place in places)
        places = a, b, c
    through = tuple((float(p[0]), float(p[1]), float(p[2])) for p in places)
    plane = KeptPlane(id=plane_id, name=name, of=volume_id, through=(through[0], through[1], through[2]), shown=True)
    return keep_plane(document, plane)


def plane_square_to(document: Document, start: Floats, end: Floats, volume_id: str = "") -> Edit:
    """Keep the plane through the end of a line square to it, from one place (3,) of the world to another."""
    way = end - start
    first = np.cross(way, np.eye(3)[int(np.argmin(np.abs(way)))])
    found = plane_through(document, (end, end + first, end + np.cross(way, first)), volume_id)
    plane = found.document.planes[-1]
    _, name = _named(document, tr("plane square to a line"))
    return change_plane(found.document, plane.id, name=name)


def parallel_plane(document: Document, plane_id: str, off: float) -> Edit:
    """Keep a plane parallel to another, so many mm from it."""
    plane = document.planes[_row(document, plane_id)]
    new_id, name = _named(document, tr("parallel to {name}", name=plane.name)[:110])
    return keep_plane(document, msgspec.structs.replace(plane, id=new_id, name=name, off=plane.off + off))


def draw_on_plane(document: Document, plane_id: str, line: PlaneLine) -> Edit:
    """Draw a line on a kept plane, or on the ground."""
    if plane_id == GROUND and all(plane.id != GROUND for plane in document.planes):
        ground = KeptPlane(id=GROUND, name=tr("the ground"), across="high", at=Measured(mm=0.0), cuts=False)
        document = keep_plane(document, ground).document
    plane = document.planes[_row(document, plane_id)]
    edit = change_plane(document, plane_id, lines=(*plane.lines, line))
    return replace(edit, name=tr("draw a line on {name}", name=plane.name))


def _row(document: Document, plane_id: str) -> int:
    for row, plane in enumerate(document.planes):
        if plane.id == plane_id:
            return row
    raise DocumentError(tr("This plane is not kept any more."))


def change_plane(document: Document, plane_id: str, **fields: object) -> Edit:
    """Change a plane."""
    row = _row(document, plane_id)
    planes = list(document.planes)
    planes[row] = checked(msgspec.structs.replace(planes[row], **fields), tr("plane {name}", name=planes[row].name))
    return Edit(
        tr("change the plane {name}", name=planes[row].name),
        msgspec.structs.replace(document, planes=tuple(planes)),
        asks=frozenset({"plane"}),
    )


def forget_plane(document: Document, plane_id: str) -> Edit:
    """Keep a plane no longer; its lines go with it."""
    row = _row(document, plane_id)
    planes = tuple(plane for plane in document.planes if plane.id != plane_id)
    return Edit(
        tr("forget the plane {name}", name=document.planes[row].name),
        msgspec.structs.replace(document, planes=planes),
        asks=frozenset({"plane"}),
    )
