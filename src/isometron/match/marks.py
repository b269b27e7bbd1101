"""Marks on a picture, as they are read from an open JSON: lines along edges, rings, and what is known of sizes.

Pixels: x right, y down, the centre of the top left pixel is (0, 0).
"""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta

from isometron.document.pictures.marks import Along, KnownLength, LineMark, RingOnPicture
from isometron.errors import IsometronError
from isometron.wording import tr

__all__ = ["Along", "KnownLength", "LineMark", "MarksError", "PictureMarks", "RingOnPicture", "read_marks"]


class MarksError(IsometronError, ValueError):
    """Marks that cannot be read, with their place and the remedy."""


class PictureMarks(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Everything marked on one picture.

    Args:
        width, height: of the picture, px.
        whole: whether the centre of vision is the picture's middle; false for what was cut out of a larger one.
        focal_px: the focal length where it is known, px; 0 where it is to be found.
    """

    format: Literal["isometron marks"] = "isometron marks"
    version: Literal[1] = 1
    width: Annotated[float, Meta(ge=2, le=2e5, description="px")]
    height: Annotated[float, Meta(ge=2, le=2e5, description="px")]
    whole: bool = True
    focal_px: Annotated[float, Meta(ge=0.0, le=1e7, description="px")] = 0.0
    lines: Annotated[tuple[LineMark, ...], Meta(max_length=500)] = ()
    rings: Annotated[tuple[RingOnPicture, ...], Meta(max_length=100)] = ()
    lengths: Annotated[tuple[KnownLength, ...], Meta(max_length=100)] = ()

    @property
    def middle(self) -> tuple[float, float]:
        """The middle of the picture, px."""
        return (self.width - 1.0) / 2.0, (self.height - 1.0) / 2.0


def read_marks(data: bytes, name: str) -> PictureMarks:
    """Return the marks in a JSON file; raises `MarksError` naming ``name``, the place and what is wrong."""
    try:
        marks: PictureMarks = msgspec.json.decode(data, type=PictureMarks)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise MarksError(
            tr(
                "{name} holds no marks: {error}. The handbook says what they look like (page Marks).",
                name=name,
                error=error,
            )
        ) from error
    boxes = {line.box for line in marks.lines if line.box}
    for number, line in enumerate(marks.lines, 1):
        if bool(line.box) != bool(line.edge):
            raise MarksError(
                tr("{name}, line {number}: a box and the edge of it are given together.", name=name, number=number)
            )
    for length in marks.lengths:
        if length.box not in boxes:
            raise MarksError(
                tr("{name}: no line is an edge of the box {box!r} whose length is given.", name=name, box=length.box)
            )
    return marks
