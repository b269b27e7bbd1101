"""Edits of what is marked on a picture: each finds the eye anew."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec
import numpy as np

from isometron.document.edits import Edit
from isometron.document.model import Document, DocumentError
from isometron.document.pictures.marks import Along, LineMark, RingOnPicture
from isometron.document.pictures.sheet_picture import SheetPicture, TrueLength
from isometron.geometry.frames import Floats
from isometron.match.bundles import DIRECTIONS, by_slope, direction_of, new_thing, relabelled
from isometron.match.picture_eye import answer_of, marked
from isometron.match.scale import eye_height, true_length
from isometron.match.scaling import scaled_world
from isometron.wording import tr

__all__ = ["Spot", "add_line", "add_point", "add_ring", "move_point", "next_kind", "remove_mark", "set_corner", "set_kind", "set_size", "set_thing",
           "set_true", "set_whole"]  # fmt: skip

Spot = tuple[str, int, int]
"""A point of a mark: ``line``, ``ring`` or ``corner``, the mark's number, the point's number."""


def _pixels(points: Floats) -> tuple[tuple[float, float], ...]:
    return tuple((round(float(x), 3), round(float(y), 3)) for x, y in points)


def add_line(document: Document, picture: SheetPicture, points: Floats) -> Edit:
    """Mark an edge by its points (N, 2), px; it takes the direction that it fits, of the thing that it fits."""
    thing, along = direction_of(picture, points)
    lines = (*picture.lines, LineMark(object=thing, along=along, points=_pixels(points)))
    if not thing and _fits_ill(picture, lines):
        # Seen from below, or partly so, edges rise the other way: what goes best together tells.
        other = relabelled(picture, lines)
        apart = (
            *picture.lines,
            msgspec.structs.replace(lines[-1], object=new_thing(picture), along=by_slope(points)),
        )
        if other != lines and _fits_better(picture, other, lines):
            lines = other
        elif along != "high" and _fits_better(picture, apart, lines, over=2):
            lines = apart
    return marked(document, msgspec.structs.replace(picture, lines=lines), tr("mark an edge"))


_ILL, _LEAST = 3.0, 4
"""px by which marks that run as they are said to do not miss each other; and how many lines tell that they do."""


def _fits_ill(picture: SheetPicture, lines: tuple[LineMark, ...]) -> bool:
    """Whether lines give no eye yet though there are enough of them, or one that they miss."""
    if len(lines) < _LEAST:
        return False
    answer = answer_of(msgspec.structs.replace(picture, lines=lines))
    return isinstance(answer, str) or not answer.usable or answer.noise > _ILL or bool(answer.contradicting)


def _fits_better(
    picture: SheetPicture, lines: tuple[LineMark, ...], than: tuple[LineMark, ...], over: int = 0
) -> bool:
    """Whether lines of other directions, or of another thing, fit an eye well and others ``than`` do not.

    over : so many marks more than are needed those others must have to be judged.
    """
    one, other = (answer_of(msgspec.structs.replace(picture, lines=each)) for each in (lines, than))
    if isinstance(one, str) or not one.usable or one.noise > _ILL or one.fit.over < 1:
        return False
    if isinstance(other, str) or not other.usable:
        return over == 0
    if other.fit.over < over:
        return False
    if len(one.contradicting) != len(other.contradicting):
        return len(one.contradicting) < len(other.contradicting)
    return one.noise < 0.5 * other.noise


def add_ring(document: Document, picture: SheetPicture, points: Floats) -> Edit:
    """Mark a ring by points on it (N, 2), px; it is taken as level."""
    rings = (*picture.rings, RingOnPicture(points=_pixels(points)))
    return marked(document, msgspec.structs.replace(picture, rings=rings), tr("mark a ring"))


def set_corner(document: Document, picture: SheetPicture, at: tuple[float, float]) -> Edit:
    """Mark the leading corner's foot on the ground: the world's origin."""
    return marked(
        document, msgspec.structs.replace(picture, corner=_pixels(np.array([at]))[0]), tr("mark the leading corner")
    )


def move_point(
    document: Document, picture: SheetPicture, spot: Spot, at: tuple[float, float], *, moving: bool = False
) -> Edit:
    """Move a point of a mark to a pixel."""
    kind, number, point = spot
    new = _pixels(np.array([at]))[0]
    if kind == "corner":
        return marked(
            document, msgspec.structs.replace(picture, corner=new), tr("move the leading corner"), moving=moving
        )
    marks = picture.lines if kind == "line" else picture.rings
    points = tuple(new if n == point else old for n, old in enumerate(marks[number].points))
    return _with_mark(document, picture, kind, number, tr("move a mark"), moving=moving, points=points)


def add_point(document: Document, picture: SheetPicture, number: int, at: tuple[float, float]) -> Edit:
    """Add a point to a marked line, between those beside it: for edges that a lens bends."""
    points = np.array(picture.lines[number].points)
    way = points[-1] - points[0]
    along = (points - points[0]) @ way
    place = int(np.searchsorted(along, float((np.array(at) - points[0]) @ way)))
    place = min(max(place, 1), len(points) - 1)
    more = _pixels(np.insert(points, place, at, axis=0))
    return _with_mark(document, picture, "line", number, tr("add a point to a mark"), points=more)


def _with_mark(
    document: Document,
    picture: SheetPicture,
    kind: str,
    number: int,
    what: str,
    *,
    moving: bool = False,
    **fields: object,
) -> Edit:
    if kind == "line":
        lines = _replaced(picture.lines, number, fields)
        return marked(document, msgspec.structs.replace(picture, lines=lines), what, moving=moving)
    rings = _replaced(picture.rings, number, fields)
    return marked(document, msgspec.structs.replace(picture, rings=rings), what, moving=moving)


def _replaced(marks: Sequence[msgspec.Struct], number: int, fields: dict[str, object]) -> tuple[msgspec.Struct, ...]:
    return tuple(msgspec.structs.replace(m, **fields) if n == number else m for n, m in enumerate(marks))


def set_kind(document: Document, picture: SheetPicture, kind: str, number: int, along: Along, axle: str = "") -> Edit:
    """Let a line run in a direction of its thing; let a ring be square to it, on the upright axle of a name where one is given."""
    if kind == "line":
        return _with_mark(
            document, picture, kind, number, tr("change the direction of a mark"), along=along, by_hand=True
        )
    words = tr("change what a ring is square to")
    return _with_mark(document, picture, kind, number, words, square_to=along, axle=axle)


def set_thing(document: Document, picture: SheetPicture, kind: str, number: int, thing: str) -> Edit:
    """Let a mark belong to a thing: things stand upright, each turned as it likes; empty for the first one."""
    return _with_mark(document, picture, kind, number, tr("say which thing a mark belongs to"), object=thing)


def next_kind(document: Document, picture: SheetPicture, kind: str, number: int) -> Edit:
    """Let a line run in the next of the three directions; let a ring be square to the next one."""
    now = picture.lines[number].along if kind == "line" else picture.rings[number].square_to
    following = DIRECTIONS[(DIRECTIONS.index(now) + 1) % 3]
    return set_kind(document, picture, kind, number, following)


def remove_mark(document: Document, picture: SheetPicture, kind: str, number: int) -> Edit:
    """Take a mark away."""
    if kind == "corner":
        return marked(document, msgspec.structs.replace(picture, corner=None), tr("take the leading corner away"))
    marks = picture.lines if kind == "line" else picture.rings
    if not 0 <= number < len(marks):
        raise DocumentError(tr("There is no such mark on this picture."))
    left = tuple(mark for n, mark in enumerate(marks) if n != number)
    true = picture.true
    if true is not None and true.of == kind:
        # The scale that hung on it stays as it is: by the eye's height.
        height = picture.camera.position[2] if picture.camera is not None else 0.0
        renumbered = true.number - (true.number > number)
        true = msgspec.structs.replace(true, number=renumbered)
        if picture.true is not None and picture.true.number == number:
            true = TrueLength(of="eye", mm=height) if height > 0.0 else None
    fields = {"lines" if kind == "line" else "rings": left, "true": true}
    return marked(document, msgspec.structs.replace(picture, **fields), tr("take a mark away"))


def set_true(document: Document, picture: SheetPicture, true: TrueLength) -> Edit:
    """Set the scale by one true length. What stands in the world already grows along, so that it is drawn where it was."""
    camera = picture.camera
    if camera is None:
        raise DocumentError(tr("The eye is not found yet. Mark edges first; then a true length gives the scale."))
    if true_length(picture, camera, true.of, true.number) is None:
        raise DocumentError(
            tr("Its length cannot be told yet: mark edges that lead to it from the foot of the leading corner (F), or type the "
               "eye's height.")
        )  # fmt: skip
    known = msgspec.structs.replace(picture, true=true)
    factor = eye_height(known, camera) / camera.position[2]
    return marked(scaled_world(document, factor), known, tr("set the scale"))


def set_size(document: Document, picture: SheetPicture, volume_id: str, axis: int, mm: float) -> Edit:
    """Set the scale by the true length of a volume that was pulled over the picture: everything grows along with it."""
    camera = picture.camera
    if camera is None:
        raise DocumentError(tr("The eye is not found yet. Mark edges first; then a true length gives the scale."))
    factor = mm / document.volume(volume_id).size[axis]
    known = msgspec.structs.replace(picture, true=TrueLength(of="eye", mm=camera.position[2] * factor))
    return marked(scaled_world(document, factor), known, tr("set the scale"))


def set_whole(document: Document, picture: SheetPicture, *, whole: bool) -> Edit:
    """Say whether a picture is whole, or cut out of a larger one."""
    words = tr("take the picture as whole") if whole else tr("take the picture as cut out of a larger one")
    return marked(document, msgspec.structs.replace(picture, whole=whole), words)
