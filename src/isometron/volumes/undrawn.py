"""What of a volume is kept but not drawn now, and why: outlines, openings, marks, rounded edges."""

from __future__ import annotations

from isometron.volumes.cut.body import uncut_because
from isometron.volumes.cut.profiles import CutBody, ViewName
from isometron.volumes.faces.names import face_name
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.lines.on_volume import line_on
from isometron.volumes.marks.face_marks import ArchMark, CurveMark, FaceMark, OpeningMark, RingMark
from isometron.volumes.marks.places import face_plane, has_face, has_place, lies_on, places_of, side_under
from isometron.volumes.openings.solids import uncut_openings, unrounded_edges
from isometron.wording import tr

__all__ = ["undrawn_edges", "undrawn_marks", "undrawn_outlines"]


def undrawn_outlines(volume: AnyVolume) -> dict[ViewName, str]:
    """Return why outlines of a volume cut nothing, by their view."""
    return dict(uncut_because(volume)) if isinstance(volume, CutBody) else {}


def undrawn_edges(volume: AnyVolume) -> dict[int, str]:
    """Return why edges of a volume are not rounded, by their number."""
    return unrounded_edges(volume)


def undrawn_marks(volume: AnyVolume) -> dict[int, str]:
    """Return why marks of a volume are not drawn, or not all of their row, by their number."""
    found = {number: why for number, why in uncut_openings(volume).items() if number >= 0}
    for number, mark in enumerate(volume.marks):
        if number not in found and (why := _why_not(volume, mark)):
            found[number] = why
    return found


def _why_not(volume: AnyVolume, mark: FaceMark) -> str:
    if not has_face(volume, mark):
        return tr("The face that it lay on is not there now.")
    if isinstance(mark, CurveMark):
        return "" if len(line_on(mark, volume)[1].pieces) else tr("It lies beside its face.")
    if not isinstance(mark, RingMark | ArchMark | OpeningMark) or side_under(volume, mark) is not None:
        return ""
    where = face_name(volume, mark.face)
    if not has_place(volume, mark):
        return tr("Its place is beyond the {face}.", face=where)
    plane = face_plane(volume, mark.face)
    if isinstance(mark, OpeningMark) and mark.form == "inset":
        return ""
    places = list(places_of(mark, plane)) if plane.has_area else []
    off = sum(not lies_on(place, plane) for place in places)
    if off:
        return tr("{count} of its row lie beyond the {face}.", count=off, face=where)
    return ""
