"""Edits that cut openings, and make bodies hollow or solid."""

from __future__ import annotations

from dataclasses import replace

import msgspec

from isometron.document.edits import Edit, change_volume
from isometron.document.marks.dividing import lay_mark
from isometron.document.model import Document, DocumentError
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.openings.solids import uncut_openings
from isometron.wording import tr

__all__ = ["cut_opening", "make_hollow"]


def cut_opening(document: Document, volume_id: str, mark: OpeningMark) -> Edit:
    """Cut an opening into a volume; raises `DocumentError` in words where it cannot be cut."""
    volume = document.volume(volume_id)
    found = uncut_openings(msgspec.structs.replace(volume, marks=(*volume.marks, mark)))
    number = len(volume.marks)
    if number in found:
        raise DocumentError(tr("{volume}: {why}", volume=volume.name, why=found[number]))
    edit = lay_mark(document, volume_id, mark)
    return replace(edit, name=tr("cut an opening into {volume}", volume=volume.name))


def make_hollow(document: Document, volume_id: str, wall: float) -> Edit:
    """Make a volume hollow with a wall so thick, mm, or solid with 0; raises `DocumentError` where that leaves no room."""
    volume = document.volume(volume_id)
    found = uncut_openings(msgspec.structs.replace(volume, wall=wall))
    if wall > 0.0 and -1 in found:
        raise DocumentError(tr("{volume}: {why}", volume=volume.name, why=found[-1]))
    return change_volume(document, volume_id, tr("make hollow") if wall > 0.0 else tr("make solid"), wall=wall)
