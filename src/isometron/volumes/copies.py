"""The copies of a repeated or mirrored volume, each as a plain volume of its own: what the scene is built from."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from itertools import product
from math import asin, atan2, degrees

import msgspec
import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.tolerances import EXACT
from isometron.volumes.box import box_corners
from isometron.volumes.flipping import flipped, turns_over
from isometron.volumes.framed import Framed
from isometron.volumes.relations import Mirror, Repeat
from isometron.volumes.turned import Turned, turned_frame
from isometron.volumes.volume import DIRECTIONS, Volume

__all__ = ["angles_of", "copies_of", "is_many", "mirrored", "placements"]


def is_many(volume: Volume) -> bool:
    """Whether a volume stands for more than one."""
    return volume.mirror is not None or any(repeat.count > 1 for repeat in volume.copies)


def copies_of(volume: Volume, named: Callable[[], Mapping[str, Volume]]) -> list[Volume]:
    """Return a volume's copies, itself first; ``named`` gives the volumes of the document by id, when a mirror asks.

    A mirror about a volume that is not there is passed over.
    """
    if not is_many(volume):
        return [volume]
    plain = msgspec.structs.replace(volume, copies=(), mirror=None)
    found = [plain]
    _, rotations = box_corners([volume])
    for repeat in volume.copies:
        found = _apart([_stepped(one, repeat, k, rotations[0]) for one, k in product(found, range(repeat.count))])
    if volume.mirror is not None:
        plane = _plane(volume.mirror, named)
        if plane is not None:
            found += [mirrored(one, *plane) for one in found]
    return found


def placements(volume: Volume, named: Callable[[], Mapping[str, Volume]]) -> list[tuple[Floats, Floats]]:
    """Return how a volume's copies lie to itself, itself first: a place p of it lies at L p + o on one; L is (3, 3), o (3,)."""
    _, rotations = box_corners([volume])
    shifts = [np.zeros(3)]
    for repeat in volume.copies:
        step = repeat.pitch * rotations[0][:, DIRECTIONS.index(repeat.along)]
        shifts = [shift + k * step for shift in shifts for k in range(repeat.count)]
    found = [(np.eye(3), shift) for shift in shifts]
    plane = None if volume.mirror is None else _plane(volume.mirror, named)
    if plane is not None:
        point, normal = plane
        turned = np.eye(3) - 2.0 * np.outer(normal, normal)
        found += [(turned, turned @ shift + 2.0 * float(point @ normal) * normal) for shift in shifts]
    return found


def _apart(volumes: list[Volume]) -> list[Volume]:
    """Return one of each that stand in the same place: rows of no pitch, or two rows along the same direction."""
    return list({(volume.corner, volume.size): volume for volume in reversed(volumes)}.values())[::-1]


def _stepped(volume: Volume, repeat: Repeat, number: int, rotation: Floats) -> Volume:
    axis = DIRECTIONS.index(repeat.along)
    shift = number * repeat.pitch * rotation[:, axis]
    size = list(volume.size)
    if repeat.last > 0.0 and number == repeat.count - 1:
        if repeat.pitch < 0.0:  # the end that it shares with the others is then the far one
            shift = shift + (size[axis] - repeat.last) * rotation[:, axis]
        size[axis] = repeat.last
    x, y, z = np.array(volume.corner) + shift
    return msgspec.structs.replace(volume, corner=(float(x), float(y), float(z)), size=tuple(size))


def _plane(mirror: Mirror, named: Callable[[], Mapping[str, Volume]]) -> tuple[Floats, Floats] | None:
    """Return a point (3,) of the mirror's plane and its unit normal (3,)."""
    axis = DIRECTIONS.index(mirror.across)
    if not mirror.about:
        return np.zeros(3), np.eye(3)[axis]
    other = named().get(mirror.about)
    if other is None:
        return None
    corners, rotations = box_corners([other])
    return corners[0].mean(axis=0), rotations[0][:, axis]


def mirrored(volume: Volume, point: Floats, normal: Floats) -> Volume:
    """Return the mirror image of a volume in a plane.

    With M the reflection and F the one of the own direction k, M R F is a rotation again, so the image is the volume
    flipped along k in the frame M R F. The direction k is the one that lies most along the normal.
    """
    volume = _as_it_stands(volume)
    corners, rotations = box_corners([volume])
    reflection = np.eye(3) - 2.0 * np.outer(normal, normal)
    k = int(np.argmax(np.abs(normal @ rotations[0])))
    # A frame has no shape of its own that stands on its head, nor an arch on any face: these are flipped along, and turned over.
    k = 0 if turns_over(volume, k) or (k == 2 and isinstance(volume, Framed)) else k
    turned = reflection @ rotations[0]
    turned[:, k] = -turned[:, k]
    # The image of the far end along k is where the flipped volume starts.
    start = corners[0, 1 << k]
    corner = start - 2.0 * float((start - point) @ normal) * normal
    yaw, pitch, roll = angles_of(turned)
    same = np.abs(turned - rotations[0]).max() < EXACT
    angles = (volume.yaw_deg, volume.pitch_deg, volume.roll_deg) if same else (yaw, pitch, roll)
    return msgspec.structs.replace(
        flipped(volume, k),
        corner=tuple(float(c) for c in corner),
        yaw_deg=angles[0],
        pitch_deg=angles[1],
        roll_deg=angles[2],
    )


def _as_it_stands(volume: Volume) -> Volume:
    """Return a steered or leant wheel as one that simply stands so: steer and lean are about directions of the world."""
    if not isinstance(volume, Turned) or (volume.steer_deg == 0.0 and volume.lean_deg == 0.0):
        return volume
    corner, stood = turned_frame(volume)
    yaw, pitch, roll = angles_of(stood)
    place = tuple(float(c) for c in corner)
    return msgspec.structs.replace(
        volume, corner=place, yaw_deg=yaw, pitch_deg=pitch, roll_deg=roll, steer_deg=0.0, lean_deg=0.0
    )


def angles_of(rotation: Floats) -> tuple[float, float, float]:
    """Return yaw, pitch, roll in degrees of R = Rz(yaw) Rx(pitch) Ry(roll); roll is 0 where only their sum counts."""
    pitch = asin(min(max(float(rotation[2, 1]), -1.0), 1.0))
    if abs(rotation[2, 1]) > 1.0 - EXACT:
        return degrees(atan2(rotation[1, 0], rotation[0, 0])), degrees(pitch), 0.0
    yaw, roll = atan2(-rotation[0, 1], rotation[1, 1]), atan2(-rotation[2, 0], rotation[2, 2])
    return degrees(yaw), degrees(pitch), degrees(roll)
