"""Joining by dragging: a volume is carried to a face of another one, and the relation is told before it is let go."""

from __future__ import annotations

from isometron.document.joining import descendants, join_onto
from isometron.document.joins import join_words
from isometron.document.model import DocumentError
from isometron.solve.pick import FaceHit, box_face, face_of_hit, pick_faces, pick_volume
from isometron.tools.pencil import Act, Note, Pencil, Preview, Tool, ToolContext
from isometron.wording import tr

__all__ = ["join_tool"]

_REACH = 7.0
_CATCH = 12.0
_START = tr("Press on the volume that shall go along with another one, and carry it to a face of that one.")
_CARRY = tr("Let go on the face where it shall sit; middles and ends catch. Escape lets it be.")


_NOBODY = tr("There is no volume here. Press on the one that shall go along with another.")


def join_tool(context: ToolContext) -> Tool:
    """Carry a volume to a face of another one; letting go joins it there."""
    held: int | None = None
    shown: Preview = Preview(_START)
    edit = None
    while True:
        pencil = yield shown
        if pencil.act is Act.BACK:
            return None
        if held is None:
            owner = pick_volume(context.drawing, pencil.u, pencil.v, _REACH * context.grain)
            if pencil.act is Act.PRESS and owner is not None:
                held, shown = owner, Preview(_CARRY, step=0)
            else:
                notes = (
                    () if owner is None else (Note(context.drawing.document.volumes[owner].name, pencil.u, pencil.v),)
                )
                nothing = pencil.act is Act.PRESS and owner is None
                shown = Preview(_START, notes=notes, refusal=_NOBODY if nothing else "")
            continue
        shown = _carried(context, held, pencil)
        edit = shown.edit
        if pencil.act in (Act.RELEASE, Act.ENTER):
            return edit


def _carried(context: ToolContext, held: int, pencil: Pencil) -> Preview:
    document = context.drawing.document
    own = descendants(document, document.volumes[held].id)
    hit = next(
        (h for h in pick_faces(context.drawing, pencil.u, pencil.v) if document.volumes[h.owner].id not in own), None
    )
    if hit is None:
        return Preview(_CARRY, notes=(Note(tr("no face here"), pencil.u, pencil.v),), step=0)
    try:
        edit = join_onto(
            document, document.volumes[held].id, document.volumes[hit.owner].id, box_face(context.drawing, hit),
            hit.place, _within(context, hit), face_of_hit(context.drawing, hit),
        )  # fmt: skip
    except DocumentError as error:
        return Preview(_CARRY, refusal=str(error), step=0)
    joined = edit.document.volumes[held].joined
    assert joined is not None
    words = join_words(joined, document.volumes[hit.owner], document.unit)
    return Preview(_CARRY, notes=(Note(words, pencil.u, pencil.v),), step=0, edit=edit)


def _within(context: ToolContext, hit: FaceHit) -> float:
    return _CATCH * context.per_step(hit.place)
