"""Edits: each takes a document and gives a new one, with the name that undo shows."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from math import radians
from typing import Any

import msgspec
import numpy as np

from isometron.document.follow import followed
from isometron.document.lengths.expressions import renamed, slug
from isometron.document.lengths.mentions import with_mentions
from isometron.document.model import Document, DocumentError, checked
from isometron.document.store.budget import hold_to_budget
from isometron.geometry.frames import box_rotation
from isometron.volumes.box import box_corners
from isometron.volumes.kinds import AnyVolume
from isometron.wording import tr

__all__ = [
    "Edit",
    "add_volume",
    "change_document",
    "change_volume",
    "delete_volumes",
    "duplicate_volumes",
    "fresh_id",
    "fresh_name",
    "held_length",
    "lay_twin",
    "move_volumes",
    "paste_volumes",
    "reorder_volumes",
    "reshape_volume",
    "resize_volume",
    "turn_volume",
]


_LEAST, _MOST = 0.01, 1e7
"""mm: how short and how long a volume may be."""


@dataclass(frozen=True)
class Edit:
    """A new document and the name of what made it, and which volumes are selected after it.

    merges : edits of one such word that follow each other are one step of the history; asks : sorts of what was laid (see
    `isometron.document.laid`) that the edit is asked to change or to take away, so that nothing is told of them; told : what was done,
    in words, where the picture alone does not say it.
    """

    name: str
    document: Document
    selection: tuple[str, ...] | None = None
    merges: str = ""
    asks: frozenset[str] = frozenset()
    told: str = ""


def fresh_id(document: Document, stem: str) -> str:
    """Return an id made of ``stem`` that no volume of the document has."""
    plain = re.sub(r"[^a-z0-9]+", "-", stem.lower()).strip("-")[:60] or "volume"
    taken = {volume.id for volume in document.volumes}
    return next(i for i in _numbered(plain, "-") if i not in taken)


def fresh_name(document: Document, stem: str) -> str:
    """Return a name like ``Block 2`` that no volume of the document has."""
    taken = {volume.name for volume in document.volumes}
    return next(name for name in _numbered(stem, " ") if name not in taken)


def _numbered(stem: str, gap: str) -> Iterable[str]:
    yield stem
    number = 1
    while True:
        number += 1
        yield f"{stem}{gap}{number}"


_PLACE = {"corner", "yaw_deg", "pitch_deg", "roll_deg"}
"""Fields that put a volume where it is."""


def add_volume(document: Document, volume: AnyVolume) -> Edit:
    """Add a volume on top of the list; raises `DocumentError` for a second one with its id."""
    volume = checked(volume, f"volume {volume.name!r}")
    if document.index_of(volume.id) is not None:
        raise DocumentError(tr("The document already has a volume with the id {id!r}.", id=volume.id))
    volumes = (*document.volumes, volume)
    return Edit(tr("add {volume}", volume=volume.name), with_volumes(document, volumes, (volume.id,)), (volume.id,))


def with_volumes(
    document: Document,
    volumes: tuple[AnyVolume, ...],
    by_hand: Collection[str] = (),
    oblong: Collection[str] = (),
    **fields: Any,
) -> Document:
    """Return the document with other volumes (already checked one by one), and with all that follows from the change.

    by_hand, oblong : the volumes that this edit has put in their places, and that need not be round, see `isometron.document.follow.followed`.
    """
    changed = hold_to_budget(document, msgspec.structs.replace(document, volumes=volumes, **fields))
    return followed(document, changed, by_hand, oblong)


def change_volume(document: Document, volume_id: str, what: str, **fields: Any) -> Edit:
    """Replace fields of one volume; ``what`` names the edit (``resize``, ``rename`` ...)."""
    old = document.volume(volume_id)
    new = checked(msgspec.structs.replace(old, **fields), f"volume {old.name!r}")
    volumes = tuple(new if volume.id == volume_id else volume for volume in document.volumes)
    moved = (volume_id,) if _PLACE.intersection(fields) else ()
    asks = frozenset(sort for name in fields for sort in _SORTS.get(name, ()))
    return Edit(tr("{what} {name}", what=what, name=old.name), with_volumes(document, volumes, moved), asks=asks)


_SORTS = {
    "marks": ("mark",), "side": ("outline", "corner"), "plan": ("outline", "corner"), "front": ("outline", "corner"),
    "rounded": ("rounded",), "wall": ("wall",), "joined": ("join",), "copies": ("row",), "mirror": ("mirror",), "says": ("size",),
    "keep": ("ratio",),
}  # fmt: skip
"""Sorts of what was laid, by the field of a volume that keeps them."""


def resize_volume(document: Document, volume_id: str, axis: int, length: float) -> Edit:
    """Set one of long, wide, high (axis 0, 1, 2) in mm; the corner stays."""
    size = list(document.volume(volume_id).size)
    size[axis] = held_length(length, document.volume(volume_id).name)
    return change_volume(document, volume_id, tr("resize"), size=tuple(size))


def held_length(length: float, name: str) -> float:
    """Return a length of a volume, mm; raises `DocumentError` for one that none can have."""
    if not _LEAST <= length <= _MOST:
        raise DocumentError(tr("{name}: a length lies between 0.01 mm and 10 km.", name=name))
    return length


def reshape_volume(document: Document, volume_id: str, corner: Sequence[float], size: Sequence[float]) -> Edit:
    """Set corner and size of a volume together, mm: what pulling a face does."""
    place = tuple(round(float(c), 6) + 0.0 for c in corner)
    return change_volume(document, volume_id, tr("pull a face of"), corner=place, size=tuple(float(s) for s in size))


def move_volumes(document: Document, ids: Iterable[str], offset: Sequence[float], what: str = "") -> Edit:
    """Shift volumes by ``offset`` (x, y, z) in mm."""
    wanted = set(ids)
    moved = []
    for volume in document.volumes:
        if volume.id in wanted:
            corner = tuple(round(c + float(d), 6) + 0.0 for c, d in zip(volume.corner, offset, strict=True))
            volume = checked(msgspec.structs.replace(volume, corner=corner), f"volume {volume.name!r}")
        moved.append(volume)
    names = [volume.name for volume in document.volumes if volume.id in wanted]
    words = tr("{what} {name}", what=what or tr("move"), name=_named(names))
    return Edit(words, with_volumes(document, tuple(moved), wanted))


def lay_twin(document: Document, volume_id: str, yaw_deg: float, about: int | None = None) -> Edit:
    """Lay a second volume like one that is there, turned to ``yaw_deg`` about the same upright: through its middle, or through a corner by its number."""
    old = document.volume(volume_id)
    name = fresh_name(document, old.name)
    twin = msgspec.structs.replace(
        old, id=fresh_id(document, name), name=name, joined=None, says=(), copies=(), mirror=None
    )
    laid = add_volume(document, twin)
    turned = turn_volume(laid.document, twin.id, yaw_deg).document
    if about is not None:
        stays, gone = (box_corners([volume])[0][0, about] for volume in (old, turned.volume(twin.id)))
        turned = move_volumes(turned, [twin.id], stays - gone).document
    return Edit(tr("lay the twin"), turned, (twin.id,))


def turn_volume(document: Document, volume_id: str, yaw_deg: float) -> Edit:
    """Turn a volume on the spot, about the upright through its middle."""
    old = document.volume(volume_id)
    half = np.array(old.size) / 2

    def middle(yaw: float) -> np.ndarray:
        angles = radians(yaw), radians(old.pitch_deg), radians(old.roll_deg)
        return np.asarray(box_rotation(*angles) @ half)

    corner = np.array(old.corner) + middle(old.yaw_deg) - middle(yaw_deg)
    # Turning back must give the old numbers: a millionth of a millimetre is beyond any pencil.
    return change_volume(
        document, volume_id, "turn", yaw_deg=yaw_deg, corner=tuple(float(c) for c in np.round(corner, 6))
    )


def delete_volumes(document: Document, ids: Iterable[str]) -> Edit:
    """Remove volumes by id."""
    gone = set(ids)
    volumes = tuple(volume for volume in document.volumes if volume.id not in gone)
    names = [volume.name for volume in document.volumes if volume.id in gone]
    words = tr("delete {named}", named=_named(names))
    return Edit(words, with_volumes(document, volumes), (), asks=frozenset({"volume"}))


def duplicate_volumes(document: Document, ids: Iterable[str]) -> Edit:
    """Add a copy of each volume beside it: shifted along its own long direction by its length.

    Copies that belong together go along with each other as the first ones do.
    """
    chosen = set(ids)
    groups = {v.group for v in document.volumes if v.id in chosen and v.group}
    wanted = {v.id for v in document.volumes if v.id in chosen or v.group in groups}
    copies = []
    for volume in document.volumes:
        if volume.id in wanted:
            along = box_rotation(radians(volume.yaw_deg), radians(volume.pitch_deg), radians(volume.roll_deg))[:, 0]
            x, y, z = np.array(volume.corner) + along * volume.size[0]
            copies.append(msgspec.structs.replace(volume, corner=(float(x), float(y), float(z))))
    name = tr("duplicate {named}", named=_named([copy.name for copy in copies]))
    return _added(document, copies, name, always_new=True)


def paste_volumes(document: Document, volumes: Sequence[AnyVolume]) -> Edit:
    """Add copies of ``volumes`` where they stand, with ids and names that are free here."""
    name = tr("paste {named}", named=_named([volume.name for volume in volumes]))
    return _added(document, volumes, name, always_new=False)


def _added(document: Document, volumes: Sequence[AnyVolume], name: str, *, always_new: bool) -> Edit:
    """Add volumes all at once, under free names and ids, referring to each other by them."""
    result, ids, slugs = document, {}, {}
    groups = _fresh_groups(document, volumes)
    plain: list[AnyVolume] = []
    for volume in volumes:
        stem = re.sub(r" \d+$", "", volume.name)
        taken = always_new or any(v.name == volume.name for v in result.volumes)
        called = fresh_name(result, stem) if taken else volume.name
        free = volume.id if not always_new and result.index_of(volume.id) is None else fresh_id(result, stem)
        ids[volume.id], slugs[slug(volume.name)] = free, slug(called)
        plain.append(
            checked(
                msgspec.structs.replace(volume, id=free, name=called, group=groups[volume.group]),
                f"volume {called!r}",
            )
        )
        result = msgspec.structs.replace(result, volumes=(*result.volumes, plain[-1]))
    here = {volume.id for volume in document.volumes} | set(ids.values())
    added = tuple(_going_along(volume, ids, slugs, here) for volume in plain)
    new = tuple(volume.id for volume in added)
    return Edit(name, with_volumes(document, (*document.volumes, *added), new), new)


def _fresh_groups(document: Document, volumes: Sequence[AnyVolume]) -> dict[str, str]:
    """Return the names of the groups that copies are in: of their own, where the first ones' are taken here."""
    taken, found = {volume.group for volume in document.volumes}, {"": ""}
    for name in dict.fromkeys(volume.group for volume in volumes if volume.group):
        stem = re.sub(r" \d+$", "", name)
        found[name] = next(n for n in _numbered(stem, " ") if n not in taken) if name in taken else name
        taken.add(found[name])
    return found


def _going_along(copy: AnyVolume, ids: dict[str, str], slugs: dict[str, str], here: set[str]) -> AnyVolume:
    """Let a copy go along with the copies of what the first one goes along with, and with nothing that is not there."""

    def text(says: str) -> str:
        for old, new in slugs.items():
            says = renamed(says, slugs.__contains__, old, new)
        return says

    def other(volume_id: str) -> str | None:
        new = ids.get(volume_id, volume_id)
        return new if new in here else None

    return with_mentions(copy, text, other)


def reorder_volumes(document: Document, ids: Iterable[str], by: int) -> Edit:
    """Move volumes one place earlier (``by`` -1) or later (1) in the list; at its end they stay."""
    wanted, volumes = set(ids), list(document.volumes)
    rows = [row for row, volume in enumerate(volumes) if volume.id in wanted]
    for row in rows if by < 0 else reversed(rows):
        other = row + by
        if 0 <= other < len(volumes) and volumes[other].id not in wanted:
            volumes[row], volumes[other] = volumes[other], volumes[row]
    names = [volume.name for volume in document.volumes if volume.id in wanted]
    return Edit(tr("move {named} in the ledger", named=_named(names)), with_volumes(document, tuple(volumes)))


def _named(names: list[str]) -> str:
    return names[0] if len(names) == 1 else tr("{count} volumes", count=len(names))


def change_document(document: Document, what: str, **fields: Any) -> Edit:
    """Replace fields of the document itself (title, unit, sheet, show ...)."""
    changed = msgspec.structs.replace(document, **fields)
    checked(msgspec.structs.replace(changed, volumes=(), files=()), "document")
    return Edit(what, changed)
