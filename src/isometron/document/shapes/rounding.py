"""Edits that make volumes round, and change what round volumes have: axle, profile, rings on the ends, spokes."""

from __future__ import annotations

from collections.abc import Iterable
from math import radians
from typing import Literal

import msgspec
import numpy as np

from isometron.document.edits import Edit, add_volume, change_volume, fresh_id, fresh_name, with_volumes
from isometron.document.model import Document, DocumentError, checked
from isometron.document.shapes.roundness import widths_of
from isometron.document.shapes.shaping import shared_fields
from isometron.geometry.frames import box_rotation
from isometron.volumes.box import Box
from isometron.volumes.building import scene_of
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.turned import PROFILES, ProfileRing, Turned
from isometron.volumes.volume import DIRECTIONS, Volume
from isometron.wording import tr

__all__ = [
    "change_round",
    "make_oblong",
    "make_round",
    "make_square",
    "pair_across",
    "profile_from_csv",
    "profile_to_csv",
]

_WHEEL_RINGS, _WHEEL_SPOKES = (0.68, 0.3, 0.14), 0


def _flattest(volume: Volume) -> str:
    """The own direction of the least size: a wheel's axle."""
    return DIRECTIONS[volume.size.index(min(volume.size))]


Fits = Literal["narrow", "wide", "both"]
"""How wide a round becomes whose bounding volume is not square: by the narrow side, by the wide one, or oblong by both."""


def make_round(document: Document, ids: Iterable[str], profile: str, fits: Fits = "narrow") -> Edit:
    """Turn volumes into round bodies of a named profile in the middle of the same bounding volume, as wide as ``fits`` says.

    Wheels turn about their flattest direction, everything else about the upright one; what is round already keeps
    its axle.
    """
    wanted = tuple(ids)
    if profile not in PROFILES:
        known = ", ".join(PROFILES)
        raise DocumentError(
            tr("There is no profile called {profile!r}. Known: {known}.", profile=profile, known=known)
        )

    def rounded(volume: AnyVolume) -> AnyVolume:
        wheel = profile == "wheel"
        axle = volume.axle if isinstance(volume, Turned) else _flattest(volume) if wheel else "high"
        rings = _WHEEL_RINGS if wheel else ()
        fields = (
            shared_fields(volume)
            | _within(volume, axle, fits)
            | {"axle": axle, "profile": PROFILES[profile], "face_rings": rings}
        )
        return checked(Turned(**fields), f"volume {volume.name!r}")  # type: ignore[arg-type]

    oblong = wanted if fits == "both" else ()
    return _each(document, wanted, tr("make a {profile}", profile=profile), rounded, oblong)


def _within(volume: AnyVolume, axle: str, fits: Fits) -> dict[str, object]:
    """Return size and corner of a round body in the middle of a bounding volume, but on its ground."""
    if isinstance(volume, Turned):
        return {}
    a, b = (k for k in range(3) if DIRECTIONS[k] != axle)
    size = np.array(volume.size)
    if fits != "both":
        size[a] = size[b] = (min if fits == "narrow" else max)(size[a], size[b])
    shift = (np.array(volume.size) - size) / 2
    if volume.upright:
        shift[2] = 0.0
    rotation = box_rotation(*(radians(angle) for angle in (volume.yaw_deg, volume.pitch_deg, volume.roll_deg)))
    corner = np.round(np.array(volume.corner) + rotation @ shift, 6) + 0.0
    return {"size": tuple(size.tolist()), "corner": tuple(corner.tolist())}


def make_square(document: Document, ids: Iterable[str]) -> Edit:
    """Turn round bodies back into their bounding boxes."""
    return _each(document, ids, tr("back to a box"), lambda volume: Box(**shared_fields(volume)))  # type: ignore[arg-type]


def _each(document: Document, ids: Iterable[str], name: str, change, oblong: tuple[str, ...] = ()) -> Edit:  # type: ignore[no-untyped-def]
    wanted = set(ids)
    if not any(volume.id in wanted for volume in document.volumes):
        raise DocumentError(tr("Select a volume first."))
    volumes = tuple(change(volume) if volume.id in wanted else volume for volume in document.volumes)
    return Edit(name, with_volumes(document, volumes, oblong=oblong))


def pair_across(document: Document, volume_id: str) -> Edit:
    """Add the other one of a pair: mirrored on its axle about the middle of all other volumes.

    Raises `DocumentError` when nothing else stands there, or the volume lies in the middle already.
    """
    volume = document.volume(volume_id)
    if not isinstance(volume, Turned):
        raise DocumentError(tr("{volume} is not round. Make it round first.", volume=volume.name))
    scene = scene_of(document.volumes)
    row = document.index_of(volume_id)
    assert row is not None
    along = scene.rotations[row][:, DIRECTIONS.index(volume.axle)]
    others = scene.vertices[scene.vertex_owner != row] @ along
    own = scene.corners_of(row) @ along
    if len(others) == 0:
        raise DocumentError(tr("There is nothing else that a pair could stand on both sides of."))
    shift = float(others.min() + others.max() - own.min() - own.max())
    if abs(shift) < 0.01:
        raise DocumentError(tr("{volume} stands in the middle already.", volume=volume.name))
    corner = tuple(round(float(c), 6) + 0.0 for c in np.array(volume.corner) + shift * along)
    name = fresh_name(document, volume.name)
    other = msgspec.structs.replace(volume, id=fresh_id(document, name), name=name, corner=corner)
    return Edit(tr("add the pair of {volume}", volume=volume.name), add_volume(document, other).document, (other.id,))


def make_oblong(document: Document, volume_id: str, width: float) -> Edit:
    """Give a round body another second width, mm: its sections are ellipses then. The same as the first: round again."""
    volume = document.volume(volume_id)
    if not isinstance(volume, Turned):
        raise DocumentError(tr("{volume} is not round. Make it round first.", volume=volume.name))
    size = list(volume.size)
    size[widths_of(volume)[1]] = width
    new = checked(msgspec.structs.replace(volume, size=tuple(size)), f"volume {volume.name!r}")
    volumes = tuple(new if each.id == volume_id else each for each in document.volumes)
    return Edit(tr("make {volume} oblong", volume=volume.name), with_volumes(document, volumes, oblong=(volume_id,)))


def change_round(document: Document, volume_id: str, what: str, **fields: object) -> Edit:
    """Replace fields of one round volume; raises `DocumentError` for one that is not round."""
    if not isinstance(document.volume(volume_id), Turned):
        raise DocumentError(tr("{volume} is not round. Make it round first.", volume=document.volume(volume_id).name))
    return change_volume(document, volume_id, what, **fields)


def profile_from_csv(text: str) -> tuple[ProfileRing, ...]:
    """Return a profile from rows ``height, diameter[, straight|round|smooth]`` in any one unit.

    Heights and diameters are brought to parts of the largest. Raises `DocumentError` naming the row.
    """
    rows: list[tuple[float, float, str]] = []
    for number, line in enumerate(text.splitlines(), start=1):
        cells = [cell.strip() for cell in line.replace(";", ",").split(",")]
        if not any(cells) or (number == 1 and not cells[0].replace(".", "", 1).replace("-", "", 1).isdigit()):
            continue  # an empty line, or the heads
        try:
            height, diameter = float(cells[0]), float(cells[1])
            rows.append((height, diameter, cells[2] if len(cells) > 2 and cells[2] else "straight"))
        except (ValueError, IndexError) as error:
            words = tr("Row {number} is no ring: {line!r}. Write height, diameter, and straight, round or smooth.",
                       number=number, line=line)  # fmt: skip
            raise DocumentError(words) from error
    if len(rows) < 2 or max(r[1] for r in rows) <= 0.0 or max(r[0] for r in rows) <= min(r[0] for r in rows):
        raise DocumentError(tr("A profile needs two rings at different heights, and one of them wider than nothing."))
    low, high, wide = min(r[0] for r in rows), max(r[0] for r in rows), max(r[1] for r in rows)
    rings = [
        checked(
            ProfileRing(at=(h - low) / (high - low), wide=d / wide, then=then),  # type: ignore[arg-type]
            tr("ring at {height:g}", height=h),
        )
        for h, d, then in sorted(rows)
    ]
    return tuple(rings)


def profile_to_csv(volume: Turned) -> str:
    """Return a volume's profile as rows of height and diameter in mm, and how the side runs on."""
    k = DIRECTIONS.index(volume.axle)
    tall, wide = volume.size[k], volume.size[(k + 1) % 3]
    rows = [f"{ring.at * tall:g},{ring.wide * wide:g},{ring.then}" for ring in volume.profile]
    return "\n".join(["height,diameter,then", *rows]) + "\n"
