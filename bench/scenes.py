"""Made-up documents of many boxes for the benchmarks: spread like market stalls, or all in one heap."""

from __future__ import annotations

import random
from itertools import cycle
from math import ceil

import msgspec

from isometron.document.fresh import new_document
from isometron.document.model import Document
from isometron.document.shapes.shaping import SHAPES
from isometron.starters.vehicles import low_car
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.volumes.box import Box
from isometron.volumes.marks.face_marks import CourseMark, OpeningMark
from isometron.volumes.marks.holds import Apart, Measured
from isometron.volumes.rounded import RoundedEdge
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


def walls(count: int) -> Document:
    """Return ``count`` walls with six rectangular and two round openings each."""
    dice = random.Random(3)
    side = ceil(count**0.5)
    window = OpeningMark(face=2, wide=900.0, high=1000.0, count=3)
    apart = Apart(by="pitch", mm=1400.0)
    marks = [
        msgspec.structs.replace(window, at=(Measured(mm=950.0), Measured(mm=y)), step=(apart, 0.0))
        for y in (800.0, 2200.0)
    ]
    marks += [
        OpeningMark(face=2, form="ring", at=(Measured(mm=5200.0), Measured(mm=y)), wide=900.0)
        for y in (800.0, 2200.0)
    ]
    volumes = tuple(
        Box(id=f"w{n}", name=f"Wall {n}", corner=(n % side * 7000.0, n // side * 7000.0, 0.0), size=(6000.0, 300.0, 3000.0),
            yaw_deg=dice.random() * 360.0, marks=tuple(marks))
        for n in range(count)
    )  # fmt: skip
    reach = side * 7000.0
    eye = place_eye(height=0.35 * reach + 1500.0, away=1.1 * reach + 2000.0, turn_deg=30.0, tilt_deg=-15.0,
                    viewing_distance=400.0, about=(reach / 2, reach / 2, 0.0))  # fmt: skip
    return msgspec.structs.replace(many_boxes(1), eye=eye, volumes=volumes)


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


def brick_wall(count: int) -> Document:
    """Return a wall of about so many bricks, one thing."""
    long = 250.0 * (count / 2.5) ** 0.5
    high = 81.0 * count / (long / 250.0)
    wall = Box(
        id="wall", name="Wall", corner=(0.0, 0.0, 0.0), size=(long, 300.0, high), marks=(CourseMark(face=2, gap=0.0),)
    )
    return msgspec.structs.replace(new_document(away=2.0 * max(long, high), eye_height=0.4 * high), volumes=(wall,))


def rounded_blocks(count: int) -> Document:
    """Return blocks in a row, each with its twelve edges rounded."""
    pairs = [(a, b) for a in range(6) for b in range(a + 1, 6) if a // 2 != b // 2]
    edges = tuple(RoundedEdge(between=pair, radius=40.0) for pair in pairs)
    volumes = tuple(
        Box(id=f"b{k}", name=f"Block {k}", corner=(520.0 * (k % 5), 700.0 * (k // 5), 0.0), size=(450.0, 400.0, 350.0), rounded=edges)
        for k in range(count)
    )  # fmt: skip
    return msgspec.structs.replace(new_document(away=6000.0), volumes=volumes)
