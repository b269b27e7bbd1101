"""Faces filled with courses by a click."""

from __future__ import annotations

from collections.abc import Callable

import msgspec
import numpy as np

from isometron.document.lengths.units import format_length
from isometron.document.marks.dividing import fill_face
from isometron.document.model import DocumentError
from isometron.tools.form.on_face import face_near, lines_of
from isometron.tools.pencil import Act, Note, Preview, Tool, ToolContext
from isometron.volumes.faces.names import face_name
from isometron.volumes.marks.face_marks import CourseMark
from isometron.wording import tr

__all__ = ["courses_tool"]

_PROMPT = tr("Click a face to fill it so, up to its outline and its openings. Escape lays the tool aside.")


def courses_tool(context: ToolContext, plan: Callable[[], CourseMark]) -> Tool:
    """Fill the face that is clicked, as ``plan`` says at that moment; what filled it before is replaced."""
    shown = Preview(_PROMPT)
    while True:
        pencil = yield shown
        under = face_near(context, pencil.u, pencil.v)
        if under is None:
            words = tr("There is no flat face here. Click on a solid volume.") if pencil.act is Act.PRESS else ""
            shown = Preview(_PROMPT, refusal=words)
            continue
        document = context.drawing.document
        volume = document.volumes[under.owner]
        mark = msgspec.structs.replace(plan(), face=under.face)
        refusal = ""
        if pencil.act is Act.PRESS:
            try:
                return fill_face(document, volume.id, mark)
            except DocumentError as error:
                refusal = str(error)
        quad = under.plane.quad[[0, 1, 1, 0], [0, 0, 1, 1]]
        ring = np.array([under.on_copy(place) for place in quad])
        count = round(under.plane.high / (mark.high + mark.joint))
        words = tr("{face}: {high} high, about {count} courses", face=face_name(volume, under.face),
                   high=format_length(round(under.plane.high, 1), document.unit), count=count)  # fmt: skip
        shown = Preview(
            _PROMPT, live=lines_of(context, ring), notes=(Note(words, pencil.u, pencil.v),), refusal=refusal
        )
