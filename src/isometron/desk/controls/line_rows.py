"""The fields of a line on a surface, and how long it is."""

from __future__ import annotations

from functools import partial

import msgspec

from isometron.desk.controls.field_rows import Row
from isometron.desk.controls.opening_rows import MarkRows
from isometron.document.edits import Edit
from isometron.document.lengths.typed_places import place_words, typed_place
from isometron.document.lengths.units import format_length
from isometron.document.model import Document
from isometron.errors import IsometronError
from isometron.volumes.faces.names import face_name
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.lines.on_volume import line_on
from isometron.volumes.marks.face_marks import CurveMark, CurvePoint
from isometron.wording import tr

__all__ = ["line_rows", "line_words"]

_MOST_SHOWN = 12
_THEN = ((tr("then straight"), "straight"), (tr("then smooth"), "smooth"), (tr("then an arc"), "arc"))


def line_words(volume: AnyVolume, laid: CurveMark, document: Document) -> str:
    """Return what a line is, and how long it is, in the world and on paper."""
    face = face_name(volume, laid.face)
    try:
        surface, path = line_on(laid, volume)
    except IsometronError:
        return tr("line on the {face}", face=face)
    true = format_length(round(path.true_length(surface), 1), document.unit)
    drawn = path.drawn_length(surface, document.eye)
    if drawn != drawn:
        return tr("line on the {face}, {true}", face=face, true=true)
    return tr("line on the {face}, {true}, {drawn:.1f} mm on paper", face=face, true=true, drawn=drawn)


def line_rows(rows: MarkRows, laid: CurveMark, volume: AnyVolume) -> list[Row]:
    """Return the rows of a line: each of its points, whether it is closed, construction, mirrored."""
    found: list[Row] = []
    for number, point in enumerate(laid.points[:_MOST_SHOWN]):
        found += _point(rows, laid, number, point)
    for name, words, tip in (
        ("closed", tr("closed"), tr("Joined to its start")),
        ("soft", tr("as construction"), tr("Drawn lightly, not as the object's own line")),
        ("mirrored", tr("on the other side too"), tr("Its mirror image about the thing's own middle")),
    ):
        found.append(Row(words, tip, "switch", partial(getattr, laid, name), partial(rows.write, name)))
    return found


def _said(point: CurvePoint, column: int, document: Document) -> str:
    return place_words(point.at[column], document)


def _point(rows: MarkRows, laid: CurveMark, number: int, point: CurvePoint) -> list[Row]:
    def with_point(document: Document, **fields: object) -> Edit:
        points = list(laid.points)
        points[number] = msgspec.structs.replace(point, **fields)
        return rows.write("points", document, tuple(points))

    def placed(column: int, document: Document, text: str) -> Edit:
        at = list(point.at)
        at[column] = typed_place(text, at[column], document)
        return with_point(document, at=(at[0], at[1]))

    name = str(number + 1)
    found = [
        Row(tr("point {number} {way}", number=name, way=way), tr("40 % for a share of the face, or a length"), "text",
            partial(_said, point, column, rows.document), partial(placed, column))
        for column, way in ((0, tr("across")), (1, tr("up")))
    ]  # fmt: skip
    last = number == len(laid.points) - 1 and not laid.closed
    if not last:
        found.append(
            Row(tr("how point {number} goes on", number=name), tr("To the next point"), "choice", lambda: point.then,
                lambda d, then: with_point(d, then=then, bow=0.3 if then == "arc" and not point.bow else point.bow), _THEN)
        )  # fmt: skip
    if point.then == "arc" and not last:
        found.append(Row(tr("bow {number}", number=name), tr("In percent of half its length; negative bows the other way"), "percent",
                         lambda: 100.0 * point.bow, lambda d, v: with_point(d, bow=v / 100.0)))  # fmt: skip
    if point.then == "smooth" and number > 0:
        found.append(Row(tr("corner at {number}", number=name), tr("The curve turns here"), "switch", lambda: point.sharp,
                         lambda d, on: with_point(d, sharp=on)))  # fmt: skip
    return found
