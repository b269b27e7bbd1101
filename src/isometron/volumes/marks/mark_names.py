"""What marks are called: by their own name, else by what they are and the face that they lie on."""

from __future__ import annotations

from isometron.volumes.faces.names import face_name
from isometron.volumes.marks.face_marks import (
    ArchMark,
    CourseMark,
    CurveMark,
    DivideMark,
    FaceMark,
    OpeningMark,
    PathMark,
    RingMark,
    TickMark,
)
from isometron.volumes.volume import Volume
from isometron.wording import tr

__all__ = ["PATTERN_WORDS", "mark_name"]

PATTERN_WORDS = {
    "bricks": tr("bricks"), "tiles": tr("tiles"), "planks": tr("planks"), "squares": tr("squares"), "slats": tr("slats"),
}  # fmt: skip
"""What fills a face, by its pattern."""


def mark_name(volume: Volume, mark: FaceMark) -> str:
    """Return what a mark of a volume is called."""
    own: str = getattr(mark, "name", "")
    if own:
        return own
    if isinstance(mark, TickMark):
        return tr("parts of edge {edge}", edge=mark.edge + 1)
    if isinstance(mark, PathMark):
        return tr("lines in a plain view")
    return tr("{kind} on the {face}", kind=_kind(mark), face=face_name(volume, mark.face))


def _kind(mark: FaceMark) -> str:
    if isinstance(mark, RingMark):
        return tr("hole") if mark.depth > 0.0 else tr("knob") if mark.depth < 0.0 else tr("ring")
    if isinstance(mark, CourseMark):
        return PATTERN_WORDS[mark.pattern]
    if isinstance(mark, OpeningMark):
        return tr("opening")
    words = {ArchMark: tr("arch"), CurveMark: tr("line"), DivideMark: tr("division")}
    return words[type(mark)]
