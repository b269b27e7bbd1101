"""Edits that let volumes go along with each other: join, pull apart, group, mirror."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import msgspec
import numpy as np

from isometron.document.edits import Edit, with_volumes
from isometron.document.joins import HeldBy, extents_in, hold_for, joined_as_it_lies, placed_by
from isometron.document.lengths.typed import part_typed, typed_length
from isometron.document.lengths.units import format_length, format_number
from isometron.document.model import Document, DocumentError, checked
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.box import BOX_FACES, box_corners
from isometron.volumes.kinds import AnyVolume, own_faces
from isometron.volumes.marks.face_marks import FaceRef
from isometron.volumes.relations import Direction, Hold, How, Join, Mirror
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = [
    "both_of_a_pair",
    "change_hold",
    "descendants",
    "group",
    "hold_words",
    "join",
    "join_all",
    "join_onto",
    "mates",
    "mirror",
    "pull_apart",
    "type_hold",
    "ungroup",
]


def _with(document: Document, changed: dict[str, AnyVolume], name: str, by_hand: Iterable[str] = ()) -> Edit:
    volumes = tuple(changed.get(volume.id, volume) for volume in document.volumes)
    return Edit(name, with_volumes(document, volumes, tuple(by_hand)), asks=frozenset({"join", "mirror"}))


def descendants(document: Document, volume_id: str) -> set[str]:
    """Return the ids of all volumes that go along with one, itself among them."""
    found = {volume_id}
    while True:
        more = {v.id for v in document.volumes if v.joined is not None and v.joined.to in found} - found
        if not more:
            return found
        found |= more


def join(document: Document, volume_id: str, other_id: str) -> Edit:
    """Join a volume to another one as it lies; raises `DocumentError` for one that goes along with it already."""
    volume, other = document.volume(volume_id), document.volume(other_id)
    if other_id in descendants(document, volume_id):
        raise DocumentError(
            tr(
                "{other} is joined to {volume}, so {volume} cannot be joined to it.",
                other=other.name,
                volume=volume.name,
            )
        )
    joined = msgspec.structs.replace(volume, joined=joined_as_it_lies(volume, other))
    return _with(document, {volume_id: joined}, tr("join {volume} to {other}", volume=volume.name, other=other.name))


def join_all(document: Document, ids: Iterable[str], other_id: str) -> Edit:
    """Join all of some volumes to another one as they lie, as one step; the other one among them is left as it is."""
    edit = Edit("", document)
    names = [name for name in ids if name != other_id]
    for volume_id in names:
        edit = join(edit.document, volume_id, other_id)
    if not names:
        raise DocumentError(tr("Select what is to be joined first."))
    return edit


def both_of_a_pair(document: Document, ids: Sequence[str]) -> Edit:
    """Make two volumes alike: the second becomes the linked mirror image of the first, about the middle plane that lies between them.

    The plane is one of another volume's, or the world's; raises `DocumentError` where none lies between them.
    """
    if len(ids) != 2:
        raise DocumentError(tr("Select the two that shall be alike."))
    one, two = (document.volume(name) for name in ids)
    plane = _plane_between(document, one, two)
    if plane is None:
        raise DocumentError(
            tr("No volume's middle lies half way between {one} and {two}. Stand them so, or lay a volume there.",
               one=one.name, two=two.name)
        )  # fmt: skip
    imaged = msgspec.structs.replace(one, mirror=plane)
    left = tuple(imaged if v.id == one.id else v for v in document.volumes if v.id != two.id)
    words = tr("make {one} and {two} alike", one=one.name, two=two.name)
    return Edit(words, with_volumes(document, left), (one.id,), asks=frozenset({"volume", "mirror"}))


def _plane_between(document: Document, one: AnyVolume, two: AnyVolume) -> Mirror | None:
    """Return the middle plane that one lies on the other side of than two, as far off; within a hundredth of their distance."""
    middles = [box_corners([volume])[0][0].mean(axis=0) for volume in (one, two)]
    apart = middles[1] - middles[0]
    far = float(np.sqrt(apart @ apart))
    worlds = [(Mirror(about="", across=name), np.eye(3)[k], np.zeros(3)) for k, name in enumerate(DIRECTIONS[:2])]
    own = [
        (Mirror(about=v.id, across=name), box_corners([v])[1][0][:, k], box_corners([v])[0][0].mean(axis=0))
        for v in document.volumes
        if v.id not in (one.id, two.id)
        for k, name in enumerate(DIRECTIONS)
    ]
    for image, way, place in (*own, *worlds):
        along = float(apart @ way)
        between = float((middles[0] + middles[1]) @ way) / 2 - float(place @ way)
        if far > HAIR and abs(along) > 0.99 * far and abs(between) <= 0.01 * far:
            return image
    return None


def pull_apart(document: Document, ids: Iterable[str]) -> Edit:
    """Let volumes go along with nothing; they stay where they are."""
    wanted = set(ids)
    freed = {v.id: msgspec.structs.replace(v, joined=None) for v in document.volumes if v.id in wanted}
    return _with(document, freed, tr("pull apart"))


def join_onto(
    document: Document,
    volume_id: str,
    other_id: str,
    face: int,
    place: Floats,
    within: float = 0.0,
    own_face: FaceRef | None = None,
) -> Edit:
    """Put a volume on a face of another one, its middle at ``place`` (3,), and join it there.

    face : number in `BOX_FACES` of the side that the face looks to most; within : mm within which it is caught by the middle and
    by both ends; own_face : the body's own face where it has such: on a tread it stands on that, on a slope at the place itself.
    """
    if other_id in descendants(document, volume_id):
        raise DocumentError(tr("A volume cannot stand on one that is joined to it."))
    volume, other = document.volume(volume_id), document.volume(other_id)
    axis, side = BOX_FACES[face]
    corners, rotations = box_corners([other])
    at = (place - corners[0, 0]) @ rotations[0]
    low, high = extents_in(volume, other)
    holds: list[Hold] = []
    for k, size in enumerate(other.size):
        if k == axis:
            holds.append(_put_on(other, own_face, axis, side, float(at[k])))
        else:
            half = float(high[k] - low[k]) / 2
            holds.append(_caught(float(at[k]) - half, float(at[k]) + half, size, within))
    made = Join(to=other_id, holds=(holds[0], holds[1], holds[2]))
    joined = msgspec.structs.replace(volume, joined=made, corner=placed_by(volume, other, made))
    name = tr("join {volume} to {other}", volume=volume.name, other=other.name)
    return _with(document, {volume_id: joined}, name)


def _put_on(other: AnyVolume, own_face: FaceRef | None, axis: int, side: int, at: float) -> Hold:
    """Return the hold of what is put on a face, whose side of the bounding volume is ``side`` (0 or 1), ``at`` mm along it."""
    outside = Hold(how="after" if side else "before")
    face = own_faces(other).get(own_face) if isinstance(own_face, str) else None
    if face is None:
        return outside
    corners, rotations = box_corners([other])
    if abs(float(face.outward @ rotations[0][:, axis])) < 1.0 - HAIR:
        return Hold(how="start", by=round(at, 3)) if side else Hold(how="end", by=round(other.size[axis] - at, 3))
    level = float((face.corner - corners[0, 0]) @ rotations[0][:, axis])
    at_end = min(abs(level), abs(level - other.size[axis])) <= CLOSE * other.size[axis]
    return outside if at_end else msgspec.structs.replace(outside, on=face.id)


def _caught(low: float, high: float, size: float, within: float) -> Hold:
    gaps: dict[How, float] = {"middle": abs((low + high) / 2 - size / 2), "start": abs(low), "end": abs(size - high)}
    how = min(gaps, key=lambda h: gaps[h])
    if gaps[how] <= within:
        return Hold(how=how)
    # Held from the nearer end, in whole millimetres.
    how = "start" if (low + high) / 2 <= size / 2 else "end"
    hold = hold_for(how, low, high, size)
    return msgspec.structs.replace(hold, by=float(round(hold.by)))


def change_hold(document: Document, volume_id: str, axis: int, how: How, to: HeldBy = "edge") -> Edit:
    """Hold a joined volume otherwise along one direction of the other one; nothing moves.

    to : what of it is held from the start or the end, its near edge or its middle.
    """
    volume, parent = _joined(document, volume_id)
    low, high = extents_in(volume, parent)
    return _held(document, volume, axis, hold_for(how, low[axis], high[axis], parent.size[axis], to))


def type_hold(document: Document, volume_id: str, axis: int, text: str) -> Edit:
    """Set how far a joined volume is held along one direction, as it is typed: a length, an expression, or ``40 %``.

    A share holds its middle; a length typed for a share holds its near edge from the start.
    """
    volume, _ = _joined(document, volume_id)
    assert volume.joined is not None
    hold, text = volume.joined.holds[axis], text.strip()
    part = part_typed(text)
    if part is not None:
        return _held(document, volume, axis, Hold(how="share", share=part))
    mm, says = typed_length(text, document)
    start = Hold(how="start") if hold.how == "share" else hold
    return _held(document, volume, axis, msgspec.structs.replace(start, by=mm, says=says, unit=document.unit))


def hold_words(hold: Hold, document: Document) -> str:
    """Return how far a joined volume is held, as it would be typed."""
    if hold.how == "share":
        return f"{format_number(100.0 * hold.share, 3)} %"
    return hold.says or format_length(round(hold.by, 4), document.unit)


def _joined(document: Document, volume_id: str) -> tuple[AnyVolume, AnyVolume]:
    """Return a volume and the one it is joined to."""
    volume = document.volume(volume_id)
    if volume.joined is None:
        raise DocumentError(tr("{volume} is joined to nothing.", volume=volume.name))
    return volume, document.volume(volume.joined.to)


def _held(document: Document, volume: AnyVolume, axis: int, hold: Hold) -> Edit:
    assert volume.joined is not None
    holds = list(volume.joined.holds)
    holds[axis] = hold
    joined = msgspec.structs.replace(volume.joined, holds=tuple(holds))
    changed = checked(msgspec.structs.replace(volume, joined=joined), tr("volume {name!r}", name=volume.name))
    return _with(document, {volume.id: changed}, tr("change how {volume} is held", volume=volume.name))


def group(document: Document, ids: Iterable[str]) -> Edit:
    """Let volumes be selected together from now on."""
    wanted = [volume for volume in document.volumes if volume.id in set(ids)]
    if len(wanted) < 2:
        raise DocumentError(tr("Select two volumes or more to group them."))
    taken = {volume.group for volume in document.volumes}
    name = next(f"group {n}" for n in range(1, len(document.volumes) + 2) if f"group {n}" not in taken)
    grouped = {v.id: msgspec.structs.replace(v, group=name) for v in wanted}
    return _with(document, grouped, tr("group {count} volumes", count=len(wanted)))


def ungroup(document: Document, ids: Iterable[str]) -> Edit:
    """Let volumes be selected one by one again."""
    wanted = set(ids)
    names = {v.group for v in document.volumes if v.id in wanted and v.group}
    freed = {v.id: msgspec.structs.replace(v, group="") for v in document.volumes if v.group in names}
    return _with(document, freed, tr("ungroup"))


def mates(document: Document, ids: Iterable[str]) -> tuple[str, ...]:
    """Return the ids with all that are in a group with one of them, in the order of the document."""
    wanted = set(ids)
    names = {v.group for v in document.volumes if v.id in wanted and v.group}
    return tuple(v.id for v in document.volumes if v.id in wanted or (v.group and v.group in names))


def mirror(document: Document, ids: Iterable[str], about: str | None, across: Direction = "wide") -> Edit:
    """Mirror volumes across the middle plane of another one (an empty id: the world's); None takes the image away."""
    ids = set(ids)
    if not ids:
        raise DocumentError(tr("Select a volume first."))
    if about is not None and about in ids:
        raise DocumentError(tr("A volume is not mirrored about itself. Choose another one, or the world's plane."))
    wanted = set(mates(document, ids)) - {about}
    if about:
        _must_lie_off(document, wanted, about, across)
    image = None if about is None else Mirror(about=about, across=across)
    changed = {v.id: msgspec.structs.replace(v, mirror=image) for v in document.volumes if v.id in wanted}
    return _with(document, changed, tr("mirror") if image is not None else tr("take the mirror image away"))


def _must_lie_off(document: Document, ids: set[str], about: str, across: Direction) -> None:
    other = document.volume(about)
    axis = DIRECTIONS.index(across)
    for volume in document.volumes:
        if volume.id in ids:
            low, high = extents_in(volume, other)
            if np.abs(low[axis] + high[axis] - other.size[axis]) < 0.01:
                raise DocumentError(
                    tr("{volume} stands in the middle of {other}: its mirror image would lie on itself.",
                       volume=volume.name, other=other.name)
                )  # fmt: skip
