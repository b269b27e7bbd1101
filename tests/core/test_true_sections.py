"""Sections of single bodies against solids told from their files alone: every place of a line lies on the body, and the lines go round all of it."""

import json
from pathlib import Path

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.document.store.files import encode_document, load_document
from isometron.geometry.sections.regions import Region
from isometron.volumes.openings.standing import stand_of
from isometron.volumes.sections.lines import left_out, sections_of
from isometron.volumes.sections.plane import KeptPlane
from isometron.volumes.shells.shells import shell_of
from tests.core.test_shell import bare, opened_boxes, told
from tests.ray_caster import _opened, own_depth
from tests.strategies import shaped

DRAWN = Path(__file__).parents[1] / "cases" / "drawn"
WITHIN = 0.02


def own(volume, places):
    corner, rotation = stand_of(volume)
    return (places - corner) @ rotation


BALL = np.array(
    [(x, y, z) for x in (-1, 0, 1) for y in (-1, 0, 1) for z in (-1, 0, 1) if (x, y, z) != (0, 0, 0)], dtype=float
)
BALL /= np.sqrt((BALL**2).sum(axis=1))[:, None]


def lie_on(depth, places, within):
    """Whether places lie on a surface: near it by the depth that is told, or with the surface between places so far round them (the depth need not be a distance)."""
    off = places[np.abs(depth(places)) > within]
    inside = np.array([depth(off + within * way) > 0.0 for way in BALL])
    return bool((inside.any(axis=0) & ~inside.all(axis=0)).all())


def checked(plane, volume, depth, within, least=1e-3):
    """Check the lines of a plane through one volume; return how many pieces there are."""
    count = 0
    for outlined, cutting in sections_of(plane, (volume,)):
        count += len(outlined.pieces)
        t = np.linspace(0.0, 1.0, 9)
        places = np.concatenate([cutting.world(piece.at(t)) for piece in outlined.pieces])
        assert lie_on(depth, own(volume, places), within)
        region = Region(tuple(outlined.pieces))
        low, high = region.box
        spots = low + np.random.default_rng(3).uniform(-0.1, 1.1, (200, 2)) * (high - low)
        deep = depth(own(volume, cutting.world(spots)))
        clear = np.abs(deep) > max(within, least) * 3.0
        assert (region.holds(spots[clear]) == (deep[clear] > 0.0)).all()
        assert outlined.area > 0.0, "the cut lies on the left"
    return count


def file_depth(document, row):
    text = json.loads(encode_document(document))["volumes"][row]
    return _opened(text, np.array(text["size"]), own_depth(text))


@pytest.mark.parametrize(
    "name", ["F1b-section-ball-oblique", "F1c-section-smooth", "F3-section-cone", "F5-slow-family"]
)
def test_planes_through_turned_bodies_draw_what_they_cut_and_nothing_false(name):
    document = load_document(DRAWN / f"{name}.isometron")
    found = 0
    for row, volume in enumerate(document.volumes):
        for plane in document.planes:
            alone = msgspec.structs.replace(plane, only=())
            found += checked(alone, volume, file_depth(document, row), WITHIN)
    assert found > 3 and all(
        left_out(plane, document.volumes, len(document.planes)) == 0 for plane in document.planes
    )


ways = st.sampled_from(
    [(1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0), (0.6, 0.8, 0.0), (0.36, 0.48, 0.8), (-0.48, 0.64, 0.6)]
)


def through(volume, way, part):
    """A plane through a part of a body, leaning."""
    corner, rotation = stand_of(volume)
    place = corner + rotation @ (np.array(volume.size) * part)
    normal = rotation @ np.array(way)
    first = np.cross(normal, np.eye(3)[int(np.abs(normal).argmin())])
    places = place, place + 100.0 * first, place + 100.0 * np.cross(normal, first)
    return KeptPlane(id="plane", name="Plane", through=tuple(tuple(each.tolist()) for each in places))


@settings(max_examples=60)
@given(shaped(kinds=("box", "leaning", "corners", "counted", "frame", "cut", "turned")), ways, st.floats(0.07, 0.93))
def test_any_plane_through_any_body_is_what_the_file_tells(volume, way, part):
    volume = bare(volume)
    if shell_of(volume).shell is None or min(volume.size) < 5.0:
        return
    # Of turned bodies the caster tells the width at a place, and not how near the side is; chords of its rounds lie off the true ones.
    slack = 1e-4 * max(volume.size) + WITHIN
    if type(volume).__name__ == "Turned":
        slack *= max(volume.size) / min(volume.size)
    checked(through(volume, way, part), volume, told(msgspec.structs.replace(volume, id="v", name="v")), slack)


@settings(max_examples=40)
@given(opened_boxes(), ways, st.floats(0.07, 0.93))
def test_openings_and_hollows_show_as_cut(volume, way, part):
    if shell_of(volume).refused:
        return
    checked(through(volume, way, part), volume, told(volume), WITHIN)
