"""What a picture under the drawing catches: starts at the corners that are marked on it, pulls at its own edges."""

from __future__ import annotations

import numpy as np

from isometron.document.pictures.placing import picture_under, to_paper, to_pixels
from isometron.geometry.frames import Floats
from isometron.tools.pencil import ToolContext
from isometron.tools.pulling import paper_direction, pulled_length
from isometron.tools.snapping import Snap
from isometron.wording import tr

__all__ = ["edge_snap", "marked_corner", "marked_place", "over_picture"]

_REACH = 6.0
"""Steps of the pointer within which an edge of the picture catches a pull."""


def over_picture(context: ToolContext) -> bool:
    """Whether a matched picture lies under the drawing, so that what is drawn follows it and no round figures."""
    picture = picture_under(context.drawing.document)
    return picture is not None and picture.camera is not None


def marked_corner(context: ToolContext, u: float, v: float, within: float) -> tuple[float, float] | None:
    """Return the end of a mark, or the leading corner, nearest to a paper place within ``within`` mm, on paper; None without one."""
    document = context.drawing.document
    picture = picture_under(document)
    if picture is None or picture.camera is None:
        return None
    ends = [line.points[k] for line in picture.lines for k in (0, -1)]
    if picture.corner is not None:
        ends.append(picture.corner)
    if not ends:
        return None
    paper = to_paper(picture, document.sheet, np.array(ends))
    far = np.hypot(*(paper - [u, v]).T)
    best = int(np.argmin(far))
    return (float(paper[best, 0]), float(paper[best, 1])) if far[best] <= within else None


def marked_place(
    context: ToolContext, u: float, v: float, within: float
) -> tuple[tuple[float, float], Floats] | None:
    """Return where the end of a marked line lies on paper and in the world (3,), of that nearest to a paper place; None without one.

    Only of lines whose place in the world the marks tell, see `isometron.match.scale.marked_places`.
    """
    document = context.drawing.document
    picture = picture_under(document)
    if picture is None or picture.camera is None:
        return None
    from isometron.match.scale import marked_places  # only over a picture

    height = picture.camera.position[2]
    foot = np.array([picture.camera.position[0], picture.camera.position[1], 0.0])
    best: tuple[float, tuple[float, float], Floats] | None = None
    for (number, end), place in marked_places(picture, picture.camera).items():
        ((pu, pv),) = to_paper(picture, document.sheet, [picture.lines[number].points[-end]])
        far = float(np.hypot(pu - u, pv - v))
        if far <= within and (best is None or far < best[0]):
            best = far, (float(pu), float(pv)), foot + height * place
    return None if best is None else (best[1], best[2])


def edge_snap(context: ToolContext, place: Floats, direction: Floats, length: float) -> Snap | None:
    """Return the pull from a place (3,) along a direction that ends at an edge of the picture near to where it ends now."""
    document = context.drawing.document
    picture = picture_under(document)
    if picture is None or picture.camera is None:
        return None
    from isometron.pictures.edges import caught_point  # only over a picture
    from isometron.pictures.rasters import grey_of

    end = place + length * direction
    way, (paper, depth) = paper_direction(document.eye, end, direction), document.eye.project(end)
    grey = grey_of(picture, document.file_of(picture))
    if way is None or grey is None or not depth[0] > 0.0:
        return None
    at, further = to_pixels(picture, document.sheet, [paper[0], paper[0] + context.grain * way])
    run = further - at
    reach = min(_REACH * max(context.grain / picture.pixel, 1.0), 40.0)
    start = (float(at[0]), float(at[1]))
    caught = caught_point(grey, start, np.array([-run[1], run[0]]), reach)
    if caught == start:
        return None
    u, v = to_paper(picture, document.sheet, [caught])[0]
    found = pulled_length(document.eye, place, direction, float(u), float(v))
    return None if found is None else Snap(found, tr("edge of the picture"))
