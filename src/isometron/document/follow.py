"""What follows from an edit: driven sizes, locked ratios, joined volumes. Every change of volumes passes through here."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from operator import is_

import msgspec
import numpy as np

from isometron.document.joins import joined_as_it_lies, placed_by, stood_frame
from isometron.document.lengths.expressions import renamed, slug
from isometron.document.lengths.given_places import holds_followed, places_followed
from isometron.document.lengths.mentions import with_mentions
from isometron.document.lengths.sizes import Sizes, kept_with
from isometron.document.lengths.units import MM_PER, exact_words
from isometron.document.model import Document, DocumentError, checked
from isometron.document.shapes.pushed import pushed_face
from isometron.document.shapes.refitting import refitted
from isometron.document.shapes.remaining import remaining
from isometron.document.shapes.roundness import kept_round
from isometron.geometry.frames import half_turn
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.box import box_corners
from isometron.volumes.copies import angles_of
from isometron.volumes.kinds import AnyVolume, own_faces
from isometron.volumes.marks.held_places import follows_others
from isometron.volumes.marks.holds import Measured, held_at, reheld
from isometron.volumes.relations import Hold
from isometron.volumes.sections.plane import KeptPlane
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["followed", "turned_with_wheels"]

_SAME = CLOSE


def followed(
    before: Document, after: Document, by_hand: Collection[str] = (), oblong: Collection[str] = ()
) -> Document:
    """Return ``after`` with everything in it that follows from the change.

    by_hand : ids of volumes that the edit has put where they are: what they are joined to holds them there from now
    on. Any other joined volume goes where its join says. oblong : ids of turned bodies that need not be round. Raises `DocumentError` for a size or a join that needs itself.
    """
    if after.volumes is before.volumes and after.lengths == before.lengths:
        return after
    old = {volume.id: volume for volume in before.volumes}
    after = msgspec.structs.replace(after, volumes=tuple(kept_round(old, after.volumes, oblong)))
    after = msgspec.structs.replace(after, **_beside(old, after))
    if not _anything(after) and not _anything(before):
        return msgspec.structs.replace(after, volumes=tuple(_fitting(old, list(after.volumes))))
    after = msgspec.structs.replace(after, **_renamed_texts(before, after))
    volumes = _without_lost(before, after)
    volumes = [_kept(old.get(volume.id), volume) for volume in volumes]
    after = _with_lasting_lengths(before, msgspec.structs.replace(after, volumes=tuple(volumes)))
    volumes = kept_round(old, _sized(after, old, lenient=_has_lost(before, after)), oblong)
    volumes = holds_followed(volumes, after.lengths, here_before=old)
    for _ in range(_ROUNDS):
        volumes = _on_faces_that_are(old, volumes)
        # What is joined stands on faces of others, places follow what is joined, and outlines are to fit all of it.
        volumes = places_followed(_placed(old, volumes, by_hand), after.lengths, here_before=old)
        fitting = _fitting(old, volumes)
        if all(map(is_, fitting, volumes)):
            break
        volumes = fitting
    return msgspec.structs.replace(after, volumes=tuple(volumes))


_ROUNDS = 4


def _on_faces_that_are(old: Mapping[str, AnyVolume], volumes: list[AnyVolume]) -> list[AnyVolume]:
    """Return the volumes with those that stood on a face that is gone on the one that has come in its place."""
    here = {volume.id: volume for volume in volumes}
    found = []
    for volume in volumes:
        join = volume.joined
        was, now = (old.get(join.to), here.get(join.to)) if join is not None else (None, None)
        if join is not None and was is not None and now is not None and was is not now:
            holds = tuple(_on(hold, was, now) for hold in join.holds)
            if holds != join.holds:
                volume = msgspec.structs.replace(volume, joined=msgspec.structs.replace(join, holds=holds))
        found.append(volume)
    return found


def _on(hold: Hold, was: AnyVolume, now: AnyVolume) -> Hold:
    if not hold.on or hold.on in own_faces(now) or hold.on not in own_faces(was):
        return hold
    found = pushed_face(was, now, hold.on)
    if found is None or float(found.plane.outward @ found.way) < 1.0 - HAIR:
        return hold  # only faces square to a direction are stood on
    return msgspec.structs.replace(hold, on=found.face if isinstance(found.face, str) else "")


def _fitting(old: Mapping[str, AnyVolume], volumes: list[AnyVolume]) -> list[AnyVolume]:
    """Return the volumes with all that was laid on them where it has its place now."""
    found = []
    for volume in volumes:
        before = old.get(volume.id)
        found.append(volume if before is None or before is volume else remaining(before, refitted(before, volume)))
    return found


def _beside(old: Mapping[str, AnyVolume], after: Document) -> dict[str, object]:
    """Return planes and the grid as they go with volumes that have changed: in mm to the nearer end, and on the face that is there."""
    here = {volume.id: volume for volume in after.volumes}
    fields: dict[str, object] = {}
    planes = tuple(_within(plane, old.get(plane.of), here.get(plane.of)) for plane in after.planes)
    if planes != after.planes:
        fields["planes"] = planes
    name, _, face = after.show.grid_on.partition(":")
    was, now = old.get(name), here.get(name)
    if (
        was is not None
        and now is not None
        and was is not now
        and face in own_faces(was)
        and face not in own_faces(now)
    ):
        found = pushed_face(was, now, face)
        if found is not None:
            fields["show"] = msgspec.structs.replace(after.show, grid_on=f"{name}:{found.face}")
    return fields


def _within(plane: KeptPlane, was: AnyVolume | None, now: AnyVolume | None) -> KeptPlane:
    """Return a plane that keeps its mm to the end that it lay nearer to, where it would come to lie beyond its volume."""
    if was is None or now is None or not isinstance(plane.at, Measured) or plane.through is not None:
        return plane
    axis = DIRECTIONS.index(plane.across)
    old, new = was.size[axis], now.size[axis]
    at = held_at(plane.at, old)
    if old == new or not 0.0 <= at <= old or 0.0 <= held_at(plane.at, new) <= new:
        return plane
    return msgspec.structs.replace(
        plane, at=reheld(plane.at, new, max(min(at, new) if at <= old / 2.0 else new - (old - at), 0.0))
    )


def _anything(document: Document) -> bool:
    return any(
        v.says or v.joined is not None or v.keep is not None or v.mirror is not None or follows_others(v)
        for v in document.volumes
    ) or bool(document.lengths or document.targets)


def _without_lost(before: Document, after: Document) -> list[AnyVolume]:
    """Let go of joins and mirrors of volumes that are gone, and write volumes that were renamed by their new name."""
    here = {volume.id for volume in after.volumes}
    new_names = _new_names(before, after)
    if not new_names and all(volume.id in here for volume in before.volumes):
        return list(after.volumes)
    known = Sizes(before.volumes, before.lengths).known

    def text(says: str) -> str:
        for old, new in new_names.items():
            says = renamed(says, known, old, new)
        return says

    return [with_mentions(v, text, lambda other: other if other in here else None) for v in after.volumes]


def _has_lost(before: Document, after: Document) -> bool:
    """Whether a name that was there is there no more."""
    names = [{slug(each.name) for each in (*d.volumes, *d.lengths)} for d in (before, after)]
    return not names[0] <= names[1] | set(_new_names(before, after))


def _with_lasting_lengths(before: Document, after: Document) -> Document:
    """Let lengths that name what is gone keep the value that they had."""
    if not after.lengths or not _has_lost(before, after):
        return after
    sizes, had = Sizes(after.volumes, after.lengths), Sizes(before.volumes, before.lengths)
    lengths = []
    for length in after.lengths:
        try:
            sizes.value(length.name, length.unit)
        except DocumentError:
            value = had.value(length.name, length.unit) / MM_PER[length.unit]
            length = msgspec.structs.replace(length, text=exact_words(value))
        lengths.append(length)
    return msgspec.structs.replace(after, lengths=tuple(lengths))


def _new_names(before: Document, after: Document) -> dict[str, str]:
    names = {volume.id: slug(volume.name) for volume in after.volumes}
    return {
        slug(volume.name): names[volume.id]
        for volume in before.volumes
        if volume.id in names and names[volume.id] != slug(volume.name)
    }


def _renamed_texts(before: Document, after: Document) -> dict[str, object]:
    """Return lengths, targets and module with renamed volumes written by their new names."""
    new_names = _new_names(before, after)
    if not new_names:
        return {}
    known = Sizes(before.volumes, before.lengths).known

    def anew(text: str) -> str:
        for old, new in new_names.items():
            text = renamed(text, known, old, new)
        return text

    return {
        "lengths": tuple(msgspec.structs.replace(each, text=anew(each.text)) for each in after.lengths),
        "targets": tuple(msgspec.structs.replace(each, text=anew(each.text)) for each in after.targets),
        "module": new_names.get(slug(after.module), after.module),
    }


def _kept(old: AnyVolume | None, volume: AnyVolume) -> AnyVolume:
    """Hold a volume's locked ratio after one of its sizes was changed; a driven size that was changed is set free."""
    if old is None or old.size == volume.size:
        return volume
    changed = [k for k in range(3) if abs(old.size[k] - volume.size[k]) > _SAME]
    if old.says == volume.says and volume.says:
        free = tuple(s for s in volume.says if s.drives not in {DIRECTIONS[k] for k in changed})
        volume = msgspec.structs.replace(volume, says=free)
    if volume.keep is None or old.keep != volume.keep:
        return volume
    held = [k for k in changed if volume.keep.parts[k] > 0.0]
    return msgspec.structs.replace(volume, size=kept_with(volume.keep, volume.size, held[0])) if held else volume


def _sized(document: Document, old: Mapping[str, AnyVolume], *, lenient: bool) -> list[AnyVolume]:
    """Return the volumes with every driven size, and pitch, as its expression says.

    lenient : something that was named is gone; a size that named it stays as it is, and so does one of a volume that
    has come in from elsewhere. Otherwise what cannot be worked out raises `DocumentError`.
    """
    volumes = list(document.volumes)
    for row, volume in enumerate(volumes):
        if volume.says and (lenient or volume.id not in old):
            volumes[row] = _without_broken(document, row)
    sizes = Sizes(volumes, document.lengths)
    for row, volume in enumerate(volumes):
        if not volume.says:
            continue
        try:
            size = tuple(round(sizes.size(row, k), 9) for k in range(3))
            fields: dict[str, object] = {"size": size} if size != volume.size else {}
            if volume.copies and any(s.drives == "pitch" for s in volume.says):
                first = msgspec.structs.replace(volume.copies[0], pitch=sizes.pitch(row))
                fields["copies"] = (first, *volume.copies[1:])
        except DocumentError as error:
            raise DocumentError(tr("{volume}: {error}", volume=volume.name, error=error)) from error
        if fields:
            changed = msgspec.structs.replace(volume, **fields)
            volumes[row] = checked(changed, tr("volume {name!r}", name=volume.name))
    return volumes


def _without_broken(document: Document, row: int) -> AnyVolume:
    """Return a volume without those of its expressions that cannot be worked out."""
    volume = document.volumes[row]
    sizes, kept = Sizes(document.volumes, document.lengths), []
    for says in volume.says:
        try:
            sizes.value(says.text, says.unit)
            kept.append(says)
        except DocumentError:
            continue
    return msgspec.structs.replace(volume, says=tuple(kept))


def _placed(old: Mapping[str, AnyVolume], volumes: list[AnyVolume], by_hand: Collection[str]) -> list[AnyVolume]:
    """Return the volumes with every joined one where its join says, parents before children."""
    rows = {volume.id: row for row, volume in enumerate(volumes)}
    done: set[str] = set()
    way: list[str] = []

    def place(volume_id: str) -> None:
        row = rows[volume_id]
        volume = volumes[row]
        if volume_id in done or volume.joined is None:
            done.add(volume_id)
            return
        if volume_id in way:
            names = [volumes[rows[i]].name for i in [*way[way.index(volume_id) :], volume_id]]
            raise DocumentError(
                tr("{way}: a volume cannot be joined to itself through others.", way=tr(" on ").join(names))
            )
        way.append(volume_id)
        place(volume.joined.to)
        way.pop()
        parent = volumes[rows[volume.joined.to]]
        volumes[row] = _lying(old, volume, parent, by_hand)
        done.add(volume_id)

    for volume in list(volumes):
        place(volume.id)
    return volumes


def _lying(old: Mapping[str, AnyVolume], volume: AnyVolume, parent: AnyVolume, by_hand: Collection[str]) -> AnyVolume:
    join, was = volume.joined, old.get(parent.id)
    assert join is not None
    if volume.id in by_hand:
        return msgspec.structs.replace(volume, joined=joined_as_it_lies(volume, parent, join))
    if (
        was is not None
        and _angles(was) != _angles(parent)
        and volume.id in old
        and _moved_with(old[volume.id], volume)
    ):
        volume = _turned_along(volume, was, parent)
    corner = placed_by(volume, parent, join)
    if np.abs(np.subtract(corner, volume.corner)).max() <= HAIR:
        return volume
    return msgspec.structs.replace(volume, corner=corner)


def turned_with_wheels(document: Document) -> Document:
    """Return a document of an older program with what is joined to a steered or leaning wheel turned with it.

    Such a program placed it as if the wheel stood straight: it is told by its place, which is that one to a hair and not the other.
    """
    rows = {volume.id: row for row, volume in enumerate(document.volumes)}
    volumes = list(document.volumes)
    for row, volume in enumerate(volumes):
        parent = volumes[rows[volume.joined.to]] if volume.joined is not None else None
        if not isinstance(parent, Turned) or parent.steer_deg == parent.lean_deg == 0.0:
            continue
        assert volume.joined is not None
        straight = msgspec.structs.replace(parent, steer_deg=0.0, lean_deg=0.0)
        lies = [
            np.abs(np.subtract(placed_by(volume, on, volume.joined), volume.corner)).max()
            for on in (straight, parent)
        ]
        if lies[0] <= _NEAR < lies[1]:
            turned = _turned_along(volume, straight, parent)
            volumes[row] = msgspec.structs.replace(turned, corner=placed_by(turned, parent, volume.joined))
    return (
        msgspec.structs.replace(document, volumes=tuple(volumes)) if volumes != list(document.volumes) else document
    )


_NEAR = 1e-4
"""mm."""


def _moved_with(before: AnyVolume, volume: AnyVolume) -> bool:
    """Whether nobody has turned a volume itself: it turns with what it is joined to."""
    return _angles(before) == _angles(volume)


def _angles(volume: AnyVolume) -> tuple[float, ...]:
    wheel = (volume.steer_deg, volume.lean_deg) if isinstance(volume, Turned) else (0.0, 0.0)
    return volume.yaw_deg, volume.pitch_deg, volume.roll_deg, *wheel


def _turned_along(volume: AnyVolume, was: AnyVolume, parent: AnyVolume) -> AnyVolume:
    """Turn a volume as the one it is joined to was turned; turned about the upright only, its angles stay plain."""
    if _angles(was)[1:] == _angles(parent)[1:] and was.upright and parent.upright:
        yaw = half_turn(volume.yaw_deg + parent.yaw_deg - was.yaw_deg)
        return msgspec.structs.replace(volume, yaw_deg=round(yaw, 9))
    first, second, own = stood_frame(was)[1], stood_frame(parent)[1], box_corners([volume])[1][0]
    yaw, pitch, roll = angles_of(second @ first.T @ own)
    return msgspec.structs.replace(volume, yaw_deg=yaw, pitch_deg=pitch, roll_deg=roll)
