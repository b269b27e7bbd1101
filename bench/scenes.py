"""Made-up documents of many boxes for the benchmarks: spread like market stalls, or all in one heap."""

from __future__ import annotations

import random
from itertools import cycle
from math import ceil

import msgspec
import numpy as np

from isometron.document.model import Document
from isometron.document.shapes.shaping import SHAPES
from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.frames import Floats, Ints
from isometron.starters.vehicles import low_car
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.volumes.box import Box
from isometron.volumes.turned import PROFILES, Turned

__all__ = ["boxes_and_wheels", "cars", "many_boxes", "mixed_volumes", "walls"]


def many_boxes(count: int, *, heap: bool = False) -> Document:
    """Return ``count`` boxes of furniture size, each turned its own way, all in view."""
    dice = random.Random(count)
    side = ceil(count**0.5)
    boxes = tuple(_box(number, side, heap, dice) for number in range(count))
    reach = side * 900.0 * (0.3 if heap else 1.0)
    eye = place_eye(
        height=reach * 0.5 + 1500.0,
        away=reach * 1.1 + 2000.0,
        turn_deg=30.0,
        tilt_deg=-15.0,
        viewing_distance=400.0,
        about=(reach / 2, reach / 2, 0.0),
    )
    return Document(title="Many", sheet=sheet_with_horizon(eye, 420.0, 297.0, 290.0), eye=eye, volumes=boxes)


def boxes_and_wheels(count: int, profile: str = "cylinder") -> Document:
    """Return ``count`` boxes and as many wheels between them, of eight rings, or ten with the profile of a tyre."""
    document = many_boxes(2 * count)

    def wheel(box: Box) -> Turned:
        size = (500.0, 120.0, 500.0)
        return Turned(id=box.id, name=box.name, corner=box.corner, size=size, yaw_deg=box.yaw_deg, axle="wide",
                      profile=PROFILES[profile], face_rings=(0.7, 0.3, 0.15))  # fmt: skip

    volumes = tuple(wheel(box) if row % 2 else box for row, box in enumerate(document.volumes))
    return msgspec.structs.replace(document, volumes=volumes)


def mixed_volumes(count: int) -> Document:
    """Return volumes of every kind and shape in turn, spread out: an eighth are round, others are cut, counted, framed."""
    document = many_boxes(count)
    shapes = [
        "box again", "cabin, sides leaning in", "steps", "chamfered in plan", "rounded in plan", "frame: legs, rails, top",
        "box again", "",
    ]  # fmt: skip
    volumes = tuple(
        Turned(**_shared(box), axle="high", profile=PROFILES["cylinder"]) if not name else SHAPES[name](box)
        for box, name in zip(document.volumes, cycle(shapes), strict=False)
    )
    return msgspec.structs.replace(document, volumes=volumes)


def cars(count: int) -> Document:
    """Return ``count`` low cars side by side: bodies and cabins that are cut by their plain views, four wheels each."""
    document = many_boxes(1)
    volumes: list = []
    for number in range(count):
        for volume in low_car(620.0).volumes:
            x, y, z = volume.corner
            place = (x + number // 2 * 5200.0, y + number % 2 * 2600.0, z)
            own = msgspec.structs.replace(
                volume, id=f"{volume.id}-{number}", name=f"{volume.name} {number}", corner=place, says=(), joined=None
            )
            about = own.mirror and msgspec.structs.replace(own.mirror, about=f"body-{number}")
            volumes.append(msgspec.structs.replace(own, mirror=about))
    reach = 2600.0 * count
    eye = place_eye(height=0.35 * reach, away=1.2 * reach, turn_deg=30.0, tilt_deg=-12.0, viewing_distance=400.0,
                    about=(reach / 2, 2000.0, 0.0))  # fmt: skip
    sheet = sheet_with_horizon(eye, 420.0, 297.0, 250.0)
    return msgspec.structs.replace(document, sheet=sheet, eye=eye, volumes=tuple(volumes))


def walls(count: int) -> tuple[Document, FlatFaces, Ints, Floats, Ints]:
    """Return an eye over ``count`` walls with six rectangular and two round openings each: their faces and whose they are,
    their edges (E, 2, 3) and whose they are."""
    dice, faces, owner, edges, edge_owner = random.Random(3), [], [], [], []
    side = ceil(count**0.5)
    for number in range(count):
        place = np.array([number % side * 7000.0, number // side * 7000.0, 0.0])
        own, ends = _wall(place, dice.random() * 2 * np.pi)
        faces.append(own)
        owner.append(np.full(len(own), number))
        edges.append(ends)
        edge_owner.append(np.full(len(ends), number))
    reach = side * 7000.0
    eye = place_eye(height=0.35 * reach + 1500.0, away=1.1 * reach + 2000.0, turn_deg=30.0, tilt_deg=-15.0,
                    viewing_distance=400.0, about=(reach / 2, reach / 2, 0.0))  # fmt: skip
    document = msgspec.structs.replace(many_boxes(1), eye=eye)
    return document, FlatFaces.joined(faces), np.concatenate(owner), np.concatenate(edges), np.concatenate(edge_owner)


def _wall(place: Floats, yaw: float) -> tuple[FlatFaces, Floats]:
    rings = [np.array([[0.0, 0.0], [6000.0, 0.0], [6000.0, 3000.0], [0.0, 3000.0]])]
    for x, y in ((500.0 + 1400.0 * i, 300.0 + 1400.0 * j) for i in range(3) for j in range(2)):
        rings.append(np.array([[x, y], [x, y + 1000.0], [x + 900.0, y + 1000.0], [x + 900.0, y]]))
    t = -np.arange(48) * 2 * np.pi / 48
    rings += [np.column_stack([5200.0 + 450.0 * np.cos(t), y + 450.0 * np.sin(t)]) for y in (800.0, 2200.0)]
    along, up = np.array([np.cos(yaw), np.sin(yaw), 0.0]), np.array([0.0, 0.0, 1.0])
    way = 300.0 * np.cross(along, up)
    flat = [place + ring @ np.stack([along, up]) for ring in rings]
    frames, counts, sides, places, edges = [], [], [], [], []
    for shift, out in ((np.zeros(3), -way), (way, way)):
        frames.append(np.concatenate([place + shift, along, up, out / 300.0]))
        counts.append(sum(map(len, rings)))
        sides += [np.hstack([ring, np.roll(ring, -1, axis=0)]) for ring in rings]
        places += [ring + shift for ring in flat]
        edges += [np.stack([ring + shift, np.roll(ring, -1, axis=0) + shift], axis=1) for ring in flat]
    for ring in flat:
        for start, end in zip(ring, np.roll(ring, -1, axis=0), strict=True):
            run = (end - start) / np.linalg.norm(end - start)
            frames.append(np.concatenate([start, run, way / 300.0, np.cross(run, way / 300.0)]))
            counts.append(4)
            long = np.linalg.norm(end - start)
            corners = np.array([[0.0, 0.0], [long, 0.0], [long, 300.0], [0.0, 300.0]])
            sides.append(np.hstack([corners, np.roll(corners, -1, axis=0)]))
            places.append(np.array([start, end, end + way, start + way]))
        if len(ring) == 4:
            edges.append(np.stack([ring, ring + way], axis=1))
    found = FlatFaces(
        np.array(frames), np.zeros(len(frames)), np.zeros(len(frames), dtype=bool), np.array(counts), np.concatenate(sides),
        np.concatenate(places), np.zeros((sum(counts), 7)),
    )  # fmt: skip
    return found, np.concatenate(edges)


def _shared(box: Box) -> dict:
    return {name: getattr(box, name) for name in Box.__struct_fields__}


def _box(number: int, side: int, heap: bool, dice: random.Random) -> Box:
    if heap:
        place = (dice.random() * side * 270.0, dice.random() * side * 270.0, dice.random() * 1500.0)
    else:
        place = (number % side * 900.0, number // side * 900.0, 0.0)
    size = (300.0 + dice.random() * 400.0, 300.0 + dice.random() * 400.0, 200.0 + dice.random() * 700.0)
    return Box(
        id=f"box-{number}", name=f"Box {number}", corner=place, size=size, yaw_deg=round(dice.random() * 90.0, 2)
    )
