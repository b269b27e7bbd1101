"""What is hidden agrees with brute force, for every kind of volume, compiled or not."""

import pickle
import subprocess
import sys
from itertools import product

import msgspec
import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from isometron.demos.catalogue import DEMOS, demo
from isometron.document.eyes.eye_edits import turn_object
from isometron.document.fresh import new_document
from isometron.geometry.bodies import ConvexBodies
from isometron.geometry.faces.flat import FlatFaces
from isometron.geometry.frusta import Frusta
from isometron.geometry.hiding import Curves, Hiders
from isometron.solve.drawing import solve
from isometron.solve.picture import Picture, hiders_of
from isometron.starters.catalogue import STARTERS, lay_starter
from isometron.volumes.box import Box
from isometron.volumes.building import build_scene
from isometron.volumes.cut import pieces
from isometron.volumes.cut.profiles import CutBody, CutProfile, ProfileCorner
from isometron.volumes.filled import filled
from isometron.volumes.marks.face_marks import OpeningMark, RingMark
from isometron.volumes.relations import Repeat
from isometron.volumes.turned import PROFILES, Turned
from tests.brute_force import behind_bodies, behind_frusta
from tests.strategies import IN_PIECES, boxes, shaped

STEPS = 150
NEAR = 0.01
"""mm of paper: so near to where a hidden part ends nothing is asked."""


def points_on(curves, row, t):
    at = curves.at[row]
    if not curves.ring:
        return at[:3] + t[:, None] * at[3:6]
    angle = 2 * np.pi * (curves.span[row, 0] + t * curves.span[row, 1])[:, None]
    return at[:3] + np.cos(angle) * at[3:6] + np.sin(angle) * at[6:9]


def told_hidden(parts, row, t):
    return np.any([(lo <= t) & (t <= hi) for k, lo, hi in zip(*parts, strict=True) if k == row] or [t < 0], axis=0)


def disagreements(eye, scene, curves, parts, rows):
    """How many of the places asked about along some curves are told wrongly."""
    frusta, wrong = scene.unit_rounds.frusta, 0
    t = (np.arange(STEPS) + 0.5) / STEPS
    for row in rows:
        points = points_on(curves, row, t)
        paper, depth = eye.project(points)
        told = told_hidden(parts, row, t)
        ends = np.concatenate([part[parts[0] == row] for part in parts[1:]])
        at_ends, _ = eye.project(points_on(curves, row, ends))
        clear = (depth > 1.0) & ~(np.hypot(*(paper[:, None] - at_ends).T) < NEAR).any(axis=0)
        points, told = points[clear], told[clear]
        owner = curves.owner[row]
        bodies, body_owner = filled(scene)
        own = scene.units_of(body_owner) == owner  # a copy of a see-through volume hides only itself
        asked = np.flatnonzero(~scene.turned[body_owner] & (scene.solid[body_owner] | own & ~curves.is_mark[row]))
        round_ = np.flatnonzero(scene.solid[scene.unit_owner][frusta.owner] | (frusta.owner == owner))
        size = max(float(np.abs(points - eye.place).max(initial=1.0)), float(np.abs(eye.place).max()))
        surely = behind_bodies(bodies, asked, eye.place, points, -1e-6 * size)
        surely |= behind_frusta(frusta, round_, eye.place, points, 1e-3)
        maybe = behind_bodies(bodies, asked, eye.place, points, 1e-9 * size)
        maybe |= behind_frusta(frusta, round_, eye.place, points, 1e-7)
        mistaken = (surely & ~told) | (told & ~maybe)
        # Rings behind round pieces are sampled: a gap of less than a hundredth of a ring may be passed over.
        wrong += int((mistaken[1:] & mistaken[:-1]).sum() if curves.ring else mistaken.sum())
    return wrong


def all_wrong(document, most=40):
    eye, scene = document.eye, build_scene(document.volumes)
    picture = Picture(eye, lambda: scene)
    edges = scene.edge_curves
    rings = scene.unit_rounds.ring_curves
    dice = np.random.default_rng(1)
    wrong = 0
    for curves, parts in ((edges, picture.hidden), (rings, picture.hiders.hidden(rings))):
        count = len(curves.at)
        wrong += disagreements(eye, scene, curves, parts, dice.permutation(count)[:most])
    return wrong


OF_PIECES = [name for name in (*DEMOS, *STARTERS) if name not in ("low-car", "tall-van", "delivery-van", "tea-cart")]
"""Cars have too many hollows and rounds to be cut in convex pieces, openings of cut bodies are left out of theirs: casters are asked
about them."""


@pytest.mark.parametrize("name", OF_PIECES)
def test_demos_and_starters_hide_as_brute_force_says(name, monkeypatch):
    monkeypatch.setattr(
        pieces, "CHORDS", 96
    )  # the space that a rounded body fills, finer than it is asked for otherwise
    pieces.at_rest.cache_clear()
    document = demo(name) if name in DEMOS else lay_starter(new_document(turn_deg=30.0, away=3000.0), name).document
    for turn in (0.0, 65.0, 200.0):
        assert all_wrong(turn_object(document, turn).document, 12) == 0, turn


def convex(number):
    """Volumes of convex pieces, closed ones; what faces hide, and of openings, is asked of the caster."""
    return shaped(number, IN_PIECES).map(closed)


def closed(volume):
    kept = tuple(mark for mark in volume.marks if not isinstance(mark, OpeningMark))
    return msgspec.structs.replace(volume, marks=kept, wall=0.0)


@given(st.integers(1, 5).flatmap(lambda count: st.tuples(*map(convex, range(count)))),
       st.sampled_from([(0.0, 1500.0), (40.0, 300.0), (-75.0, 2600.0)]), st.lists(st.booleans(), min_size=5, max_size=5))  # fmt: skip
@settings(max_examples=25, deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow])
def test_any_volumes_hide_as_brute_force_says(volumes, stand, clear):
    base = new_document(turn_deg=stand[0], away=9000.0, eye_height=stand[1])
    volumes = tuple(msgspec.structs.replace(v, see_through=c) for v, c in zip(volumes, clear, strict=False))
    assert all_wrong(msgspec.structs.replace(base, volumes=volumes), 12) == 0


def hidden_lengths(document):
    """How much of each volume's edges is hidden, by volume, in parts of the edges."""
    scene = build_scene(document.volumes)
    edge, low, high = Picture(document.eye, lambda: scene).hidden
    return np.bincount(scene.edge_owner[edge], high - low, minlength=len(scene.volumes))


@given(st.lists(boxes(), min_size=2, max_size=6), st.integers(0, 5))
def test_one_more_solid_volume_never_brings_anything_to_light(volumes, see_through):
    volumes = [msgspec.structs.replace(v, id=f"v{n}", marks=()) for n, v in enumerate(volumes)]
    clear = [msgspec.structs.replace(v, see_through=n == see_through) for n, v in enumerate(volumes)]
    base = new_document(turn_deg=20.0, away=7000.0)
    fewer = hidden_lengths(msgspec.structs.replace(base, volumes=tuple(clear[:-1])))
    more = hidden_lengths(msgspec.structs.replace(base, volumes=tuple(clear)))
    assert (more[:-1] >= fewer - 1e-6).all()
    gone = [*clear[:-1], msgspec.structs.replace(clear[-1], put_away=True)]
    away = hidden_lengths(msgspec.structs.replace(base, volumes=tuple(gone)))
    assert np.allclose(away[:-1], fewer, atol=1e-6), "put away, it hides nothing"


@pytest.mark.parametrize("size", [0.01, 25.4, 300.0])
@pytest.mark.parametrize("name", ["low-car", "arched-row", "bottle"])
def test_what_is_hidden_does_not_depend_on_the_size_of_the_world(name, size):
    document = lay_starter(new_document(turn_deg=30.0, away=3000.0), name).document
    scene = build_scene(document.volumes)
    rings = scene.unit_rounds.ring_curves
    found = hiders_of(document.eye, scene).hidden(rings)
    eye = msgspec.structs.replace(document.eye, position=tuple(size * p for p in document.eye.position))
    frusta, bodies = scene.rounds.frusta, scene.bodies
    frusta = Frusta(frusta.owner, *(size * getattr(frusta, way) for way in ("base", "axle", "first", "second")),
                    frusta.low, frusta.high, frusta.bulge)  # fmt: skip
    faces = scene.faces
    frames = faces.frames.copy()
    frames[:, :3] *= size
    faces = FlatFaces(
        frames, size * faces.near, faces.both, faces.count, size * faces.sides, size * faces.places, faces.bows
    )
    bodies = ConvexBodies(
        size * bodies.vertices, bodies.normals, size * bodies.offsets, bodies.ridges, bodies.ridge_faces
    )
    hiders = Hiders(eye.place, eye.axes, eye.viewing_distance, bodies, scene.body_owner, frusta, faces, scene.face_owner, scene.solid, scene.turned,
                    np.zeros(len(frusta)), scene.unit_rounds.spun, scene.only_hides)  # fmt: skip
    scaled = hiders.hidden(Curves.rings(size * rings.at, rings.span, rings.owner, rings.is_mark))
    assert len(found[0]) == len(scaled[0]) and np.allclose(found[1:], scaled[1:], atol=1e-4)


def test_a_thin_post_hides_a_long_rail_however_thin():
    post = Turned(id="p", name="Post", corner=(0.0, 0.0, 0.0), size=(4.0, 4.0, 900.0), profile=PROFILES["cylinder"])
    rail = Box(id="r", name="Rail", corner=(-1600.0, 300.0, 300.0), size=(3200.0, 20.0, 20.0))
    document = new_document(turn_deg=0.0, away=3000.0)
    eye, scene = document.eye, build_scene((post, rail))
    edge, low, high = Picture(eye, lambda: scene).hidden
    front = [row for row in range(len(scene.edges)) if (scene.vertices[scene.edges[row], 1] == 300.0).all()
             and scene.edge_axis[row] == 0]  # fmt: skip
    for row in front:
        assert ((edge == row) & (high - low > 0.0005) & (high - low < 0.005)).any(), (
            "each long edge has its small gap"
        )


MARKS = """
import pickle, sys
import numpy as np
from importlib.machinery import SOURCE_SUFFIXES, FileFinder, SourceFileLoader
import isometron
if sys.argv[1] == "python":
    for room in ("geometry", "geometry/sight", "surfaces"):
        folder = f"{isometron.__path__[0]}/{room}"
        sys.path_importer_cache[folder] = FileFinder(folder, (SourceFileLoader, SOURCE_SUFFIXES))
from isometron.demos.catalogue import demo
from isometron.geometry import chain_loops, clip_loops, coincident_loops, frustum_loops, own_side_loops, piece_loops, shadow_loops, turning_loops
from isometron.geometry.sight import behind_bodies, behind_frusta, curve, hider_grid, sight
from isometron.solve.drawing import solve
from isometron.surfaces import raster_loops, stroke_loops
loops = (chain_loops, clip_loops, coincident_loops, frustum_loops, own_side_loops, piece_loops, raster_loops, shadow_loops, behind_bodies, behind_frusta, curve, hider_grid, sight, stroke_loops, turning_loops)
assert all(module.__file__.endswith(".py") == (sys.argv[1] == "python") for module in loops)
drawing = solve(demo("ember-lantern"))
strokes = stroke_loops.Strokes(3.0, 450.0, 0.0, (0.0, 0.0, 900.0, 350.0), (-17.0, -117.0, 150.0, 0.0))
arcs, marks = drawing.of("rounds").arcs, [drawing.edges.points, drawing.of("rounds").lines.points, drawing.of("rounds").arcs.shape]
for dash in ((0.0, 0.0), (6.0, 4.0)):
    strokes.set_dash(*dash)
    for role in (10, 15):
        strokes.add_lines(drawing.edges.points, drawing.edges.role, role)
        strokes.add_arcs(arcs.shape, arcs.role, role)
pixels = np.zeros(900 * 350, np.uint32)
raster_loops.Raster(pixels, 900).draw(strokes.all, 0x335577, 1.35)
sys.stdout.buffer.write(pickle.dumps([*marks, strokes.all, strokes.leaving, pixels]))
"""


def test_loops_tell_the_same_without_a_compiler():
    found = [
        pickle.loads(
            subprocess.run([sys.executable, "-W", "error", "-c", MARKS, how], capture_output=True, check=True).stdout
        )
        for how in ("compiled", "python")
    ]
    assert len(found[0][2]) > 20 and len(found[0][3]) > 200 and len(found[0][4]) > 50
    *marks, pixels = zip(*found, strict=True)
    for one, other in marks:
        assert one.shape == other.shape and np.allclose(one, other, rtol=0.0, atol=1e-9)
    assert (pixels[0] > 0).sum() > 3000 and np.array_equal(*pixels)


@pytest.mark.xfail(
    strict=True, reason="of a ring behind two knobs that stand in each other a hundredth is told wrongly"
)
def test_rings_behind_knobs_that_stand_in_each_other():
    knobs = RingMark(face=4, diameter=66.0, inner=(0.5,), depth=-20.0, count=2, step=(0.5, 0.5))
    box = Box(id="v", name="V", corner=(0.0, 0.0, 0.0), size=(5.0, 5.0, 5.0), pitch_deg=90.0, marks=(knobs,),
              copies=(Repeat(along="wide", count=2, pitch=11.0),))  # fmt: skip
    base = new_document(turn_deg=0.0, away=9000.0, eye_height=1500.0)
    assert all_wrong(msgspec.structs.replace(base, volumes=(box,)), 12) == 0


# --- closed joints ----------------------------------------------------------------------------------------------------


NOTCH = CutProfile.through(
    ProfileCorner(at=at) for at in ((0, 0), (1, 0), (1, 1), (0.6, 1), (0.6, 0.6), (0.4, 0.6), (0.4, 1), (0, 1))
)


def packed(kind):
    """Twenty-seven blocks packed without a gap: boxes, or with an upper layer that hides by its faces, notched on top."""
    blocks = []
    for row, (i, j, k) in enumerate(product(range(3), repeat=3)):
        fields = {"id": f"b{row}", "name": "Block", "corner": (100.0 * i, 100.0 * j, 100.0 * k), "size": (100.0,) * 3}
        notched = kind == "notched" and k == 2
        blocks.append(CutBody(**fields, side=NOTCH, front=NOTCH) if notched else Box(**fields))
    return tuple(blocks)


@pytest.mark.parametrize("kind", ["box", "notched"])
@settings(max_examples=60, deadline=None)
@given(
    st.tuples(st.sampled_from([-250.0, 0.0, 100.0, 150.0, 200.0, 300.0]), st.floats(-900.0, -250.0),
              st.sampled_from([-200.0, 0.0, 100.0, 150.0, 200.0, 300.0, 520.0])),
    st.tuples(*[st.sampled_from([0.0, 1e-3, -1e-3])] * 3),
)  # fmt: skip
def test_nothing_shows_through_closed_joints_whichever_way_they_are_looked_along(kind, place, hair):
    """An edge inside the packed block is hidden even where the eye looks exactly along the joint, and by a hair beside it."""
    position = tuple(float(p + h) for p, h in zip(place, hair, strict=True))
    document = msgspec.structs.replace(
        new_document(), volumes=packed(kind), eye=msgspec.structs.replace(new_document().eye, position=position, yaw_deg=0.0)
    )  # fmt: skip
    drawing = solve(document)
    scene = drawing.scene
    ends = scene.vertices[scene.edges]
    middle = ends.mean(axis=1)
    paper, depth = document.eye.project(ends.reshape(-1, 3))
    paper, depth = paper.reshape(-1, 4), depth.reshape(-1, 2)
    long = np.hypot(paper[:, 0] - paper[:, 2], paper[:, 1] - paper[:, 3]) > 1e-3
    assert (len(scene.faces) > 0) == (kind == "notched")
    asked = ((middle > 1.0) & (middle < (299.0, 299.0, 201.0))).all(axis=1) & (depth > 1.0).all(axis=1) & long
    rows, low, high = drawing.picture.hiders.hidden(scene.edge_curves)
    covered = np.bincount(rows, high - low, minlength=len(ends))
    # Faces looked along to a millionth leave what comes within a third of a millimetre of them open.
    assert asked.sum() > 10 and covered[asked].min() > 1.0 - (1e-4 if kind == "box" else 4e-3)
