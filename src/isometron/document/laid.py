"""What was laid, and what a deed gives up of it: so that nothing goes, moves or shrinks unasked without being told.

`laid` lists everything that a person has laid on and about the volumes of a document, each with its place and whether it is drawn.
`gives_up` holds what stood there before a deed against what stands there after it.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import msgspec

from isometron.document.edits import Edit
from isometron.document.lengths.given_places import middle_of
from isometron.document.lengths.typed_places import full_place_words
from isometron.document.model import Document
from isometron.geometry.tolerances import HAIR
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile, ProfileCorner
from isometron.volumes.faces.names import edge_name, face_name
from isometron.volumes.kinds import AnyVolume, own_faces
from isometron.volumes.marks.face_marks import FaceMark
from isometron.volumes.marks.held_places import is_given
from isometron.volumes.marks.mark_names import mark_name
from isometron.volumes.marks.places import Placed, face_plane, has_face, mark_place, side_under
from isometron.volumes.own_sides import view_word
from isometron.volumes.sections.plane import plane_at
from isometron.volumes.undrawn import undrawn_edges, undrawn_marks, undrawn_outlines
from isometron.wording import tr

__all__ = ["GivenUp", "Laid", "given_up_words", "gives_up", "laid"]

Sort = Literal[
    "volume",
    "outline",
    "corner",
    "mark",
    "rounded",
    "join",
    "row",
    "mirror",
    "front",
    "size",
    "ratio",
    "target",
    "plane",
    "wall",
    "grid",
]
Place = tuple[float, float, float]
Key = tuple[str | int, ...]


@dataclass(frozen=True)
class Laid:
    """One thing that was laid. key : what it is known by in another document of the same work; words : what it is called; means : how it
    was meant, so that another meaning is a change; place : (3,) mm in the world, None where it has none; why : empty where it is drawn."""

    sort: Sort
    key: Key
    words: str
    means: object
    place: Place | None = None
    why: str = ""

    @property
    def drawn(self) -> bool:
        """Whether it is drawn."""
        return not self.why


@dataclass(frozen=True)
class GivenUp:
    """What a deed gives up: in words that say what becomes of it, and where it stood, mm in the world."""

    sort: Sort
    words: str
    place: Place | None


def laid(document: Document) -> list[Laid]:
    """Return everything that was laid in a document."""
    return [each for volume in document.volumes for each in _of_volume(volume, document)] + _beside_volumes(document)


def _place(at: object) -> Place:
    x, y, z = (float(c) for c in at)  # type: ignore[attr-defined]
    return x, y, z


def _planes(document: Document) -> Iterator[Laid]:
    named = {volume.id: volume for volume in document.volumes}
    for plane in document.planes:
        why = "" if plane_at(plane, named) is not None else tr("What it went with is not there.")
        yield Laid("plane", ("plane", plane.id), tr("plane {name}", name=plane.name), plane, why=why)


def _of_volume(volume: AnyVolume, document: Document) -> Iterator[Laid]:
    name, here = volume.name, _place(middle_of(volume))
    yield Laid("volume", (volume.id,), name, type(volume).__name__, here)
    yield from _outlines(volume, document, here)
    lost = undrawn_marks(volume)
    for number, mark in enumerate(volume.marks):
        words = tr("{mark} of {volume}", mark=mark_name(volume, mark), volume=name)
        yield Laid(
            "mark", (volume.id, "mark", number), words, mark, _mark_place(volume, mark) or here, lost.get(number, "")
        )
    sharp = undrawn_edges(volume)
    for number, edge in enumerate(volume.rounded):
        words = tr("rounded edge {edge} of {volume}", edge=edge_name(volume, edge), volume=name)
        yield Laid("rounded", (volume.id, "rounded", number), words, edge, here, sharp.get(number, ""))
    yield from _relations(volume, document, here)


def _relations(volume: AnyVolume, document: Document, here: Place) -> Iterator[Laid]:
    name, key = volume.name, volume.id
    if volume.wall > 0.0:
        yield Laid("wall", (key, "wall"), tr("wall of {volume}", volume=name), volume.wall, here)
    if volume.joined is not None:
        other = document.volume(volume.joined.to).name
        meant = volume.joined.to, *(msgspec.structs.replace(hold, by=0.0, share=0.0) for hold in volume.joined.holds)
        faces = own_faces(document.volume(volume.joined.to))
        gone = any(hold.on and hold.on not in faces for hold in volume.joined.holds)
        why = tr("the face that it stood on is not there now") if gone else ""
        words = tr("join of {volume} to {other}", volume=name, other=other)
        yield Laid("join", (key, "join"), words, meant, here, why)
    for number, row in enumerate(volume.copies):
        meant = row.along, row.count, any(s.drives == "pitch" for s in volume.says) and number == 0
        yield Laid("row", (key, "row", number), tr("row of {volume}", volume=name), meant, here)
    if volume.mirror is not None:
        yield Laid("mirror", (key, "mirror"), tr("mirror image of {volume}", volume=name), volume.mirror, here)
    yield Laid("front", (key, "front"), tr("front of {volume}", volume=name), volume.ahead, here)
    for says in volume.says:
        words = tr("{drives} of {volume}, {text}", drives=tr(says.drives), volume=name, text=says.text)
        yield Laid("size", (key, "size", says.drives), words, says.text, here)
    if volume.keep is not None:
        yield Laid("ratio", (key, "ratio"), tr("locked ratio of {volume}", volume=name), volume.keep, here)


def _outlines(volume: AnyVolume, document: Document, here: Place) -> Iterator[Laid]:
    if not isinstance(volume, CutBody):
        return
    why = undrawn_outlines(volume)
    for view in VIEWS:
        profile: CutProfile | None = getattr(volume, view)
        if profile is None:
            continue
        called = tr("{view} of {volume}", view=view_word(volume, view), volume=volume.name)
        numbers = frozenset(corner.n for corner in profile.corners)
        yield Laid("outline", (volume.id, "outline", view), called, numbers, here, why.get(view, ""))
        for number, corner in enumerate(profile.corners, 1):
            yield Laid("corner", (volume.id, "corner", view, corner.n), str(number), _meant(corner, document), here)


def _meant(corner: ProfileCorner, document: Document) -> tuple[object, ...]:
    """Return how a corner is meant: how far from which end, or after whom, and how it is shaped."""
    return *(full_place_words(held, document) for held in corner.at), corner.round, corner.chamfer, corner.bow


def _mark_place(volume: AnyVolume, mark: FaceMark) -> Place | None:
    """Return where a mark lies in the world, mm; None of one whose face is not there now, or that has no place of its own."""
    if not isinstance(mark, Placed) or not has_face(volume, mark):
        return None
    side = side_under(volume, mark)
    if side is not None:
        return None
    plane = face_plane(volume, mark.face)
    if not plane.has_area:
        return None
    x, y = mark_place(mark, plane)
    return _place(plane.spot(x / plane.wide, y / plane.high))


def gives_up(before: Document, edit: Edit) -> tuple[GivenUp, ...]:
    """Return what an edit gives up of what stood in a document without having been asked to: gone, not drawn any more, or meant otherwise."""
    after = edit.document
    if after is before:
        return ()
    old = {volume.id: volume for volume in before.volumes}
    new = {volume.id: volume for volume in after.volumes}
    found: list[GivenUp] = []
    if "volume" not in edit.asks:
        gone = [v for v in before.volumes if v.id not in new]
        found += [GivenUp("volume", tr("{volume} goes", volume=v.name), _place(middle_of(v))) for v in gone]
    for name, volume in old.items():
        if name in new and volume is not new[name] and volume != new[name]:
            found += _of_changed(
                list(_of_volume(volume, before)), list(_of_volume(new[name], after)), edit, volume, new[name]
            )
    found += _lost(_beside_volumes(before), {e.key: e for e in _beside_volumes(after)}, edit)
    return tuple(dict.fromkeys(found))


def _beside_volumes(document: Document) -> list[Laid]:
    """Return what was laid beside the volumes: targets and planes."""
    targets = [Laid("target", ("target", t.text), tr("target {text}", text=t.text), t.text) for t in document.targets]
    return [*targets, *_planes(document), *_grid(document)]


def _grid(document: Document) -> Iterator[Laid]:
    name, _, face = document.show.grid_on.partition(":")
    if document.show.grid_module > 0.0 and name:
        row = document.index_of(name)
        there = row is not None and (face.isdigit() or face in own_faces(document.volumes[row]))
        why = "" if there else tr("the face that it lay on is not there now")
        yield Laid("grid", ("grid",), tr("the grid"), document.show.grid_on, why=why)


def _lost(were: Sequence[Laid], now: dict[Key, Laid], edit: Edit) -> Iterator[GivenUp]:
    for each in were:
        if each.key not in now:
            if each.sort not in edit.asks and each.sort != "target":
                yield GivenUp(each.sort, tr("{laid} goes", laid=each.words), each.place)
        elif each.drawn and not now[each.key].drawn:
            yield GivenUp(
                each.sort, tr("{laid} is not drawn: {why}", laid=each.words, why=now[each.key].why), each.place
            )


def _of_changed(
    were: list[Laid], are: list[Laid], edit: Edit, before: AnyVolume, after: AnyVolume
) -> Iterator[GivenUp]:
    now = {each.key: each for each in are}
    marks_stay = len(before.marks) == len(after.marks)
    edges_stay = len(before.rounded) == len(after.rounded)
    resized = before.size != after.size
    corners: list[Laid] = []
    if type(before) is not type(after) and resized:
        sizes = (" x ".join(f"{length:.5g}" for length in volume.size) for volume in (before, after))
        words = tr("{volume}: {old} mm becomes {new} mm", volume=before.name, old=next(sizes), new=next(sizes))
        yield GivenUp("volume", words, _place(middle_of(before)))
    for each in were:
        here = now.get(each.key)
        if (each.sort == "mark" and not marks_stay) or (each.sort == "rounded" and not edges_stay):
            continue
        if each.sort == "corner":
            if here is not None and here.means != each.means and "corner" not in edit.asks:
                corners.append(here)
            continue
        if here is None:
            if each.sort not in edit.asks:
                yield GivenUp(each.sort, tr("{laid} goes", laid=each.words), each.place)
        elif each.drawn and not here.drawn:
            yield GivenUp(each.sort, tr("{laid} is not drawn: {why}", laid=each.words, why=here.why), each.place)
        elif each.sort not in edit.asks and here.means != each.means and (words := _changed(each, here, after)):
            yield GivenUp(each.sort, words, each.place)
    if corners and (resized or any(_gave(each, before) for each in corners)):
        yield GivenUp("corner", _corner_words(corners, after), corners[0].place)


_MOST_NAMED = 8


def _gave(corner: Laid, before: AnyVolume) -> bool:
    """Whether something else gave a corner its place before."""
    view, number = corner.key[2], corner.key[3]
    profile: CutProfile | None = getattr(before, str(view), None)
    return profile is not None and any(c.n == number and any(map(is_given, c.at)) for c in profile.corners)


def _corner_words(corners: Sequence[Laid], after: AnyVolume) -> str:
    names = ", ".join(each.words for each in corners[:_MOST_NAMED]) + (" …" if len(corners) > _MOST_NAMED else "")
    view = view_word(after, str(corners[0].key[2]))
    return tr(
        "corners {names} of the {view} of {volume} stand or are shaped otherwise now",
        names=names,
        view=view,
        volume=after.name,
    )


def _changed(was: Laid, now: Laid, volume: AnyVolume) -> str:
    """Return what has become of something that is drawn still, in words; empty where it is meant as it was."""
    if was.sort == "outline":
        assert isinstance(was.means, frozenset) and isinstance(now.means, frozenset)
        return "" if was.means <= now.means else tr("{laid} goes: another one stands there", laid=was.words)
    if was.sort == "mark":
        return _mark_change(was, now, volume)
    if was.sort == "rounded":
        one, two = was.means.radius, now.means.radius  # type: ignore[attr-defined]
        return "" if one == two else tr("{laid} has a radius of {mm:.4g} mm now", laid=was.words, mm=two)
    if was.sort == "row":
        drives = isinstance(was.means, tuple) and isinstance(now.means, tuple) and was.means[2] and not now.means[2]
        return tr("{laid}: its pitch is a plain length now", laid=was.words) if drives else ""
    if was.sort == "join":
        return tr("{laid} is held otherwise now", laid=was.words)
    return ""


def _mark_change(was: Laid, now: Laid, volume: AnyVolume) -> str:
    one, two = was.means, now.means
    if type(one) is not type(two):
        return ""
    face, other = getattr(one, "face", None), getattr(two, "face", None)
    if face != other and other is not None:
        return tr("{laid} lies on the {face} now", laid=was.words, face=face_name(volume, other))
    for name in ("diameter", "wide", "high"):
        old, new = getattr(one, name, 0.0), getattr(two, name, 0.0)
        if abs(old - new) > HAIR * (1.0 + old):
            return tr("{laid} is made smaller: it has no room as it was", laid=was.words)
    if getattr(one, "at", None) != getattr(two, "at", None):
        return tr("{laid} has been moved to where it has room", laid=was.words)
    return ""


_MOST_SAID = 3


def given_up_words(given: Sequence[GivenUp], *, taken: bool = True) -> str:
    """Return what is given up in one line; with the way back where the deed has been taken."""
    said = "; ".join(each.words.rstrip(".") for each in given[:_MOST_SAID])
    more = tr("; and {count} more", count=len(given) - _MOST_SAID) if len(given) > _MOST_SAID else ""
    if not taken:
        return f"{said}{more}."
    return tr("{said}{more}. Ctrl+Z takes it back.", said=said, more=more)
