"""It is too long: one deed shortens or lengthens a thing and all that goes along with it.

Sizes along one direction of the thing are multiplied, its own and those of what is joined to it; what is joined is then placed by its
holds, as after any edit. What an expression says stays said. The last of a row that is held in mm keeps its mm to the far end as the
first does to the near one; other rows are multiplied. What is round stays round: it keeps its size, and only its place and its rows follow.
What is not joined is offered to come along: it keeps its place as a share of the thing's length.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from typing import Literal

import msgspec
import numpy as np

from isometron.document.edits import Edit, with_volumes
from isometron.document.joining import descendants, mates
from isometron.document.lengths.typed import part_typed, read_length
from isometron.document.model import Document, DocumentError, checked
from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import HAIR
from isometron.volumes.box import box_corners
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.relations import Hold, Repeat
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["Rows", "beside", "lengthen", "rows_said", "typed_factor"]

Rows = Literal["said", "ends"]

_LEAST, _MOST = 0.01, 100.0
_PARALLEL = 0.999
"""Cosine above which a direction of another thing runs along the one that is lengthened."""


def typed_factor(text: str, document: Document, size: float) -> float:
    """Return the factor that is typed for a size (mm): ``0.9``, ``9/10``, ``90 %``, ``1/3 of it``, or the new length itself.

    A bare number of at most 3 is a factor, and one with a unit, an expression or a larger one a length. Raises `LengthError`.
    """
    words = text.strip()
    part = part_typed(words)
    if part is not None:
        return part
    head, slash, foot = words.partition("/")
    bare = [each.strip().replace(".", "", 1) for each in ((head, foot) if slash else (head,))]
    if all(each.isdigit() for each in bare):
        value = float(head) / float(foot) if slash and float(foot) else float(head)
        if value <= 3.0:
            return value
    return read_length(words, document, size) / size


def lengthen(
    document: Document,
    ids: Sequence[str],
    axis: int,
    factor: float,
    *,
    stays: float = 0.0,
    along: Collection[str] = (),
    rows: Rows = "said",
) -> Edit:
    """Make volumes so many times as long along their own direction ``axis``, with all that goes along with them.

    stays : the part of the length, 0 to 1, that keeps its place; along : ids of what is not joined and comes along all the same,
    see `beside`; rows : whether a pitch that an expression gives stays "said", or the last of such a row keeps its place to the far
    end ("ends"). Raises `DocumentError` for a factor that is none, and for a locked ratio of the thing that would not hold.
    """
    if not _LEAST <= factor <= _MOST:
        raise DocumentError(tr("A thing is made from 1 % to 100 times as long, not {factor:g} times.", factor=factor))
    if not ids:
        raise DocumentError(tr("Select a volume first."))
    volumes = {volume.id: volume for volume in document.volumes}
    lead = volumes[ids[-1]]
    ids = mates(document, ids)
    corners, rotations = box_corners([lead])
    way, start = rotations[0][:, axis], corners[0, 0]
    fixed = float(start @ way) + stays * lead.size[axis]
    wanted = {name for each in ids for name in descendants(document, each)} | set(along)
    changed = {}
    for name in wanted:
        volume = volumes[name]
        kept = _longer(volume, way, factor, (lead.size[axis] * (factor - 1.0), axis, rows), lead=volume is lead)
        if _is_free(volume, wanted):
            kept = _moved(volume, kept, way, fixed, factor)
        changed[name] = checked(kept, tr("volume {name!r}", name=volume.name))
    words = tr("make {name} {percent} % as long", name=lead.name, percent=f"{100 * factor:g}")
    volumes_now = tuple(changed.get(volume.id, volume) for volume in document.volumes)
    return Edit(words, with_volumes(document, volumes_now, tuple(n for n in changed if _is_free(volumes[n], wanted))))


def rows_said(document: Document, ids: Iterable[str]) -> str:
    """Return the expressions by which rows of volumes, and of what goes along with them, keep their pitch; nothing without any."""
    own = {name for each in ids for name in descendants(document, each)}
    found = [
        says.text for v in document.volumes if v.id in own for says in v.says if says.drives == "pitch" and v.copies
    ]
    return ", ".join(dict.fromkeys(found))


def _is_free(volume: AnyVolume, wanted: Collection[str]) -> bool:
    """Whether no join to one of these volumes says where a volume is."""
    return volume.joined is None or volume.joined.to not in wanted


def _own_axis(volume: AnyVolume, way: Floats) -> int | None:
    """Return which own direction of a volume runs along a way, if one does."""
    _, rotations = box_corners([volume])
    near = np.abs(rotations[0].T @ way)
    axis = int(np.argmax(near))
    return axis if near[axis] > _PARALLEL else None


def _longer(
    volume: AnyVolume, way: Floats, factor: float, grown: tuple[float, int, Rows], *, lead: bool
) -> AnyVolume:
    """Return a volume with its size and its rows along a way made longer; a round one keeps its size unless its axle lies that way.

    grown : mm that the whole thing becomes longer, along which of its own directions, and what becomes of rows by expressions.
    """
    axis = _own_axis(volume, way)
    if axis is None:
        return volume
    name = DIRECTIONS[axis]
    fields: dict[str, object] = {}
    driven = {says.drives for says in volume.says}
    if (name not in driven or lead) and not (isinstance(volume, Turned) and volume.axle != name):
        size = list(volume.size)
        size[axis] *= factor
        fields["size"] = tuple(size)
        fields["says"] = tuple(each for each in volume.says if each.drives != name)
        if volume.keep is not None and volume.keep.parts[axis]:
            fields["keep"] = None
    far, hold_axis, choice = grown
    held = volume.joined.holds[hold_axis] if volume.joined is not None and not lead else None
    stays = "pitch" in driven and choice == "said"
    copies = tuple(
        row
        if row.along != name or (number == 0 and stays)
        else msgspec.structs.replace(row, pitch=_longer_pitch(row, volume.size[axis], factor, held, far))
        for number, row in enumerate(volume.copies)
    )
    if copies != volume.copies:
        fields["copies"] = copies
        if copies[0] != volume.copies[0]:
            said = fields.get("says", volume.says)
            fields["says"] = tuple(each for each in said if each.drives != "pitch")  # type: ignore[attr-defined]
    return msgspec.structs.replace(volume, **fields)


def _longer_pitch(row: Repeat, size: float, factor: float, held: Hold | None, far: float) -> float:
    """Return the pitch of a row on a thing that is ``far`` mm longer: the last one keeps its mm to the far end, where the first keeps
    its own to the near one, and there is room for it; else so many times as wide."""
    inward = held is not None and (held.how == "start") == (row.pitch > 0.0) and held.how in ("start", "end")
    if row.count > 1 and inward:
        pitch = row.pitch + (far if row.pitch > 0.0 else -far) / (row.count - 1)
        if pitch * row.pitch > 0.0 and abs(pitch) >= min(size, abs(row.pitch)):
            return pitch
    return row.pitch * factor


def _moved(before: AnyVolume, after: AnyVolume, way: Floats, fixed: float, factor: float) -> AnyVolume:
    """Return a volume whose middle along a way lies as far from the fixed place as it did, times the factor."""
    middles = []
    for volume in (before, after):
        corners, _ = box_corners([volume])
        middles.append(float((corners[0] @ way).mean()))
    wish = fixed + factor * (middles[0] - fixed)
    corner = np.array(after.corner) + (wish - middles[1]) * way
    return msgspec.structs.replace(after, corner=tuple(float(np.round(c, 6)) for c in corner))


def beside(document: Document, ids: Iterable[str], axis: int) -> list[AnyVolume]:
    """Return what is not joined to some volumes and would be left behind when they are lengthened along an own direction: what touches
    them, or what touches that, and lies beside the last of them along it; put-away and locked volumes are left out."""
    wanted = list(ids)
    if not wanted:
        return []
    own = {name for each in wanted for name in descendants(document, each)}
    lead = document.volume(wanted[-1])
    corners, rotations = box_corners([lead])
    start, ways = corners[0, 0], rotations[0]
    reach = {v.id: _extent((box_corners([v])[0][0] - start) @ ways) for v in document.volumes}
    room = 0.02 * np.array(lead.size) + HAIR
    left = [v for v in document.volumes if v.id not in own and not v.put_away and not v.locked]
    left = [v for v in left if reach[v.id][0][axis] <= lead.size[axis] and reach[v.id][1][axis] >= 0.0]
    near, found = [reach[name] for name in own], []
    while True:
        met = [v for v in left if any(_touch(reach[v.id], other, room) for other in near)]
        if not met:
            return [v for v in document.volumes if v in found]
        found += met
        near = [reach[v.id] for v in met]
        left = [v for v in left if v not in met]


def _extent(corners: Floats) -> tuple[Floats, Floats]:
    return corners.min(axis=0), corners.max(axis=0)


def _touch(one: tuple[Floats, Floats], other: tuple[Floats, Floats], room: Floats) -> bool:
    """Whether two extents come nearer than some room (3,) in every direction."""
    return bool((one[0] <= other[1] + room).all() and (other[0] <= one[1] + room).all())
