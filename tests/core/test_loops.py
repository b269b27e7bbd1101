"""The compiled loops one by one: strokes, pieces of lines and rings, kept parts, convex pieces, turning lines."""

from concurrent.futures import ThreadPoolExecutor

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.geometry.clipping import clip_to_rectangle
from isometron.geometry.hiding import Curves
from isometron.geometry.outlines import convex_pieces
from isometron.geometry.piece_loops import ArcPieces, camera_rings, ring_ellipses
from isometron.geometry.shadow_loops import boxes_meeting, paper_bounds
from isometron.geometry.turning import turning_lines
from isometron.solve.picture import hiders_of, ruled
from isometron.surfaces.stroke_loops import Strokes
from isometron.view.placing import place_eye
from isometron.volumes.arch import Arch
from isometron.volumes.box import Box
from isometron.volumes.building import build_scene
from isometron.volumes.keeping import Kept
from isometron.volumes.profile import profile_sides, sampled
from isometron.volumes.relations import Mirror, Repeat
from isometron.volumes.turned import PROFILES, Turned
from tests.strategies import eyes

WINDOW = (0.0, 0.0, 200.0, 120.0)
SHEET = (20.0, 10.0, 150.0, 100.0)
near = st.floats(-300.0, 500.0)
lines = st.lists(st.tuples(near, near, near, near), max_size=8).map(lambda found: np.array(found).reshape(-1, 4))
dashes = st.sampled_from([(0.0, 0.0), (6.0, 4.0), (3.0, 9.0)])
spaces = st.tuples(*[st.floats(-2000.0, 2000.0).map(lambda x: round(x, 1))] * 3)


def stroked(marks, dash=(0.0, 0.0), window=WINDOW):
    strokes = Strokes(1.0, 0.0, 0.0, window, (SHEET[0], -SHEET[3], SHEET[2], -SHEET[1]))
    strokes.set_dash(*dash)
    strokes.add_lines(marks * (1.0, -1.0, 1.0, -1.0), np.zeros(len(marks), np.int8), 0)
    return strokes


def lengths(marks):
    return np.hypot(marks[:, 2] - marks[:, 0], marks[:, 3] - marks[:, 1])


@given(lines)
def test_whole_lines_are_cut_as_a_rectangle_cuts_them(marks):
    expected = clip_to_rectangle(marks, *WINDOW)
    found = stroked(marks).all
    assert len(found) == len(expected) and np.allclose(found, expected, atol=1e-9)


@given(lines, dashes)
def test_dashes_lie_on_their_lines_within_the_window_and_fill_their_share(marks, dash):
    whole, strokes = stroked(marks, window=(-1e4, -1e4, 1e4, 1e4)), stroked(marks, dash)
    found, off = strokes.all, strokes.leaving
    assert (found[:, 0::2] >= -1e-9).all() and (found[:, 0::2] <= 200.0 + 1e-9).all()
    assert (found[:, 1::2] >= -1e-9).all() and (found[:, 1::2] <= 120.0 + 1e-9).all()
    left, top, right, bottom = SHEET
    x, y = found[:, 0::2], found[:, 1::2]
    inside = ((x >= left) & (x <= right) & (y >= top) & (y <= bottom)).all(axis=1)
    assert np.array_equal(off, found[~inside]), "what leaves the sheet is told apart"
    if dash[0]:
        assert (lengths(found) <= dash[0] + 1e-9).all()
    all_dashes = stroked(marks, dash, (-1e4, -1e4, 1e4, 1e4)).all
    share = dash[0] / sum(dash) if dash[0] else 1.0
    wanted = lengths(whole.all).sum() * share
    assert lengths(all_dashes).sum() == pytest.approx(wanted, abs=len(marks) * (sum(dash) + 1e-6))


@given(
    st.lists(st.tuples(near, near, near, near), min_size=1, max_size=3),
    st.floats(-80.0, 80.0),
    st.floats(-50.0, 50.0),
)
def test_dashes_keep_their_places_on_the_line_when_the_window_moves(marks, dx, dy):
    marks = np.array(marks)
    here = stroked(marks, (6.0, 4.0)).all
    there = stroked(marks, (6.0, 4.0), (dx, dy, 200.0 + dx, 120.0 + dy)).all
    both = np.concatenate([here, there])
    starts = both[:, :2]
    middle = (np.abs(starts - (100.0, 60.0)) < (15.0, 5.0)).all(axis=1)
    for start in starts[middle]:
        assert (np.hypot(*(starts - start).T) < 1e-6).sum() >= 2, "the same dashes in both windows"


@given(
    st.floats(5.0, 90.0),
    st.floats(0.05, 1.0),
    st.floats(-3.0, 3.0),
    st.floats(-3.0, 3.0),
    st.floats(0.2, 6.28),
    dashes,
)
def test_chords_stray_from_their_arc_by_no_more_than_a_fifth_of_a_pixel(a, flat, angle, first, sweep, dash):
    b = a * flat
    strokes = Strokes(2.0, 50.0, 70.0, (-1e4, -1e4, 1e4, 1e4), (-1e4, -1e4, 1e4, 1e4))
    strokes.set_dash(*dash)
    strokes.add_arcs(np.array([[7.0, -3.0, a, b, angle, first, first + sweep]]), np.zeros(1, np.int8), 0)
    t = np.linspace(first, first + sweep, 4001)
    u = 7.0 + a * np.cos(t) * np.cos(angle) - b * np.sin(t) * np.sin(angle)
    v = -3.0 + a * np.cos(t) * np.sin(angle) + b * np.sin(t) * np.cos(angle)
    curve = np.column_stack([50.0 + 2.0 * u, 70.0 - 2.0 * v])
    found = strokes.all
    middles = (found[:, :2] + found[:, 2:]) / 2
    gaps = np.sqrt(((middles[:, None] - curve) ** 2).sum(axis=2)).min(axis=1)
    step = np.hypot(*np.diff(curve, axis=0).T).max()
    # A dash may run over one joint of chords, so over two of them.
    assert (gaps <= (0.21 if dash[0] == 0.0 else 0.85) + step).all()
    wanted = np.hypot(*np.diff(curve, axis=0).T).sum() * (dash[0] / sum(dash) if dash[0] else 1.0)
    assert lengths(found).sum() == pytest.approx(wanted, rel=0.03, abs=sum(dash) + 0.5)


@given(eyes, spaces, spaces, st.lists(st.floats(0.0, 1.0), min_size=2, max_size=6))
def test_seen_and_hidden_pieces_tile_what_is_drawn_of_a_line(eye, start, end, cuts):
    ends = np.array([[start, end]])
    cuts = sorted(set(cuts))
    pairs = np.array(cuts[: len(cuts) // 2 * 2]).reshape(-1, 2)
    parts = np.zeros(len(pairs), dtype=np.intp), pairs[:, 0].copy(), pairs[:, 1].copy()
    whole, _, _ = ruled(eye, ends, 5000.0)
    both, _, back = ruled(eye, ends, 5000.0, parts, with_hidden=True)
    assert lengths(both).sum() == pytest.approx(lengths(whole).sum(), abs=1e-3 * max(lengths(whole).sum(), 1.0))
    seen, _, _ = ruled(eye, ends, 5000.0, parts)
    assert np.array_equal(seen, both[~back])
    depth = eye.to_camera(ends.reshape(-1, 3))[:, 2]
    if (depth > 1.0).all() and len(whole):
        paper, _ = eye.project(ends[0])
        if (np.abs(paper) < 5000.0).all():
            assert np.allclose(whole[0], paper.ravel(), atol=1e-6), "all of it, to its ends"
    if (depth < 0.0).all():
        assert len(whole) == 0, "nothing of what lies behind the eye"


def test_a_ring_cut_over_its_seam_is_one_arc():
    eye = place_eye(height=1500.0, away=4200.0, turn_deg=32.0, viewing_distance=450.0)
    ring = np.array([[0.0, 300.0, 500.0, 200.0, 0.0, 0.0, 0.0, 200.0, 0.0]])
    camera = camera_rings(ring, eye.place, eye.axes)
    shapes, round_ = ring_ellipses(camera, eye.viewing_distance)
    pieces = ArcPieces(camera, np.array([[0.0, 1.0]]), shapes, round_.view(np.uint8), eye.viewing_distance)
    hidden = (np.zeros(1, dtype=np.intp), np.array([0.4]), np.array([0.6]))
    (shape, _, back), _ = pieces.cut(hidden, np.ones(1, dtype=np.uint8))
    assert list(back) == [False, True] and (shape[:, 6] > shape[:, 5]).all()
    assert (shape[:, 6] - shape[:, 5]).sum() == pytest.approx(2 * np.pi)
    u, _, a, b, angle, first, _ = shape[1]
    at = u + a * np.cos(first) * np.cos(angle) - b * np.sin(first) * np.sin(angle)
    turns = np.array([0.4, 0.6]) * 2 * np.pi
    ends, _ = eye.project(ring[0, :3] + 200.0 * np.column_stack([np.cos(turns), np.sin(turns), np.zeros(2)]))
    assert np.abs(ends[:, 0] - at).min() < 1e-9, "the hidden arc begins where the ring is hidden"


@given(
    eyes, spaces, st.floats(10.0, 900.0), st.floats(0.0, 1.0), st.floats(-1.0, 1.0).filter(lambda x: abs(x) > 0.01)
)
def test_bounds_of_rings_and_arcs_hold_all_of_their_pictures(eye, centre, radius, start, sweep):
    at = np.array([[*centre, radius, 0.0, 0.0, 0.0, 0.6 * radius, 0.8 * radius]])
    curves = Curves.rings(at, np.array([[start, sweep]]), np.zeros(1, dtype=np.intp), np.ones(1, dtype=bool))
    box, least, _ = paper_bounds(curves.bounds, eye.place, eye.axes, eye.viewing_distance)
    angle = 2 * np.pi * (start + sweep * np.linspace(0.0, 1.0, 200))[:, None]
    paper, depth = eye.project(at[:, :3] + np.cos(angle) * at[:, 3:6] + np.sin(angle) * at[:, 6:9])
    assert depth.min() >= least[0] - 1e-6
    seen = paper[np.isfinite(paper).all(axis=1)]
    slack = 1e-9 * (1.0 + np.abs(seen).max(initial=0.0))
    assert (seen >= box[0, :2] - slack).all() and (seen <= box[0, 2:] + slack).all()


@pytest.mark.parametrize("corners", [3, 5, 12, 40, 110])
def test_a_round_outline_needs_few_convex_pieces(corners):
    angle = np.linspace(0.0, 2 * np.pi, corners, endpoint=False)
    pieces = convex_pieces(np.column_stack([300.0 * np.cos(angle), 200.0 * np.sin(angle)]))
    assert max(map(len, pieces)) <= 28
    assert len(pieces) <= max(1, corners // 12)


@settings(max_examples=25)
@given(st.floats(-60.0, 60.0), st.floats(-2500.0, 3500.0), st.floats(0.2, 3.0), st.data())
def test_outlines_of_rounded_sides_touch_the_sight_lines(turn, height, stretched, data):
    """Every point of an outline lies on the side, and the sight line to it lies in the plane that touches there."""
    side = data.draw(st.sampled_from([s for name in ("wheel", "bottle") for s in profile_sides(PROFILES[name]) if s.kind != "straight"]))  # fmt: skip
    axle, first, second = np.array([0, 0, 900.0]), np.array([300.0, 0, 0]), np.array([0, 300.0 * stretched, 0])
    eye = np.array([4000.0 * np.sin(np.radians(turn)), -4000.0 * np.cos(np.radians(turn)), height])
    frame = np.concatenate([np.zeros(3), axle, first, second])[None]
    behind = frame.copy()
    behind[0, :3] = 3.0 * eye
    look = -eye / np.linalg.norm(eye)
    found, rows, _ = turning_lines(np.concatenate([behind, frame]), np.stack([sampled(side)] * 2), eye, look, 450.0)
    assert len(rows) == len(found) > 0 and (rows == 1).all()  # nothing of what lies behind the eye
    for point in found.reshape(-1, 3):
        x, y, at = point[0] / 300.0, point[1] / (300.0 * stretched), point[2] / 900.0
        assert abs(np.hypot(x, y) - float(side.width(np.array([at]))[0])) < 1e-5
        # In the measure of the halves: the normal there, and the way to the eye.
        e = eye / [300.0, 300.0 * stretched, 900.0]
        t = np.linspace(0.0, 1.0, 2001)
        near = int(np.argmin(np.abs(side.at(t)[:, 0] - at) + np.abs(side.at(t)[:, 1] - np.hypot(x, y))))
        _, _, rise, run = side.at(t)[near]
        normal = np.array([rise * x, rise * y, -run * np.hypot(x, y)])
        way = e - [x, y, at]
        assert abs(normal @ way) < 2e-2 * np.linalg.norm(normal) * np.linalg.norm(way)


def test_results_are_kept_by_identity_and_the_oldest_goes_first():
    made = []
    kept = Kept(2)
    values = [object() for _ in range(3)]
    for value in (values[0], values[0], values[1], values[2], values[0]):
        kept.of((value,), lambda value=value: made.append(value))
    assert made == [values[0], values[1], values[2], values[0]]
    kept.make_room(3)
    for value in values:
        kept.of((value,), lambda value=value: made.append(value))
    assert len(made) == 5, "with room for three only the one that had gone is made again"


def test_kept_parts_follow_what_a_mirror_image_is_mirrored_about():
    post = Box(id="p", name="Post", corner=(0.0, 0.0, 0.0), size=(100.0, 100.0, 400.0))
    wheel = Turned(id="w", name="Wheel", corner=(500.0, 0.0, 0.0), size=(300.0, 60.0, 300.0), axle="wide",
                   profile=PROFILES["cylinder"], mirror=Mirror(about="p", across="long"),
                   copies=(Repeat(along="long", count=2, pitch=400.0),))  # fmt: skip
    for at in (0.0, 200.0, 0.0):
        moved = msgspec.structs.replace(post, corner=(at, 0.0, 0.0))
        scene = build_scene((moved, wheel))
        middles = np.sort(scene.rounds.frusta.base[:, 0])
        assert len(middles) == 4 and np.allclose(middles + middles[::-1], 2 * (at + 50.0)), (
            "they lie to both sides of the post"
        )
        assert (scene.rounds.frusta.owner == 1).all()
        eye = place_eye(height=1500.0, away=6000.0, turn_deg=20.0, viewing_distance=450.0)
        assert len(hiders_of(eye, scene).hidden(scene.edge_curves)[0]) > 0


boxes_on_paper = st.lists(st.tuples(*[st.floats(-100.0, 100.0)] * 4), min_size=1, max_size=12).map(
    lambda rows: np.array([[min(a, c), min(b, d), max(a, c), max(b, d)] for a, b, c, d in rows])
)


@given(boxes_on_paper, boxes_on_paper, st.floats(0.0, 5.0))
def test_boxes_meet_where_they_share_a_place(boxes, others, aside):
    found = boxes_meeting(boxes, others, aside)
    for box, meets in zip(boxes, found, strict=True):
        gaps = np.maximum(np.maximum(others[:, :2] - box[2:], box[:2] - others[:, 2:]), 0.0).max(axis=1)
        assert meets == (gaps <= aside).any() or np.abs(gaps - aside).min() < 1e-9


@given(lines, st.integers(0, 3))
def test_marks_near_a_window_are_all_that_leave_strokes_in_it(rows, role):
    """What is passed over beforehand would not have left a stroke."""
    roles = np.arange(len(rows), dtype=np.int8) % 4
    whole, part = (Strokes(2.0, 90.0, 50.0, WINDOW, (-1e9, -1e9, 1e9, 1e9)) for _ in range(2))
    near = part.lines_near(rows)
    whole.add_lines(rows, roles, role)
    part.add_lines(rows[near], roles[near], role)
    assert np.array_equal(whole.all, part.all)


def test_bodies_are_packed_without_their_padding():
    plain, round_ = (
        Box(id=f"b{k}", name="Box", corner=(900.0 * k, 0.0, 0.0), size=(300.0, 400.0, 500.0)) for k in (0, 1)
    )
    shared = {name: getattr(round_, name) for name in Box.__struct_fields__}
    prism = Arch(**shared, band=True)
    scene = build_scene((plain, prism))
    own = scene.bodies.packed
    assert np.diff(own.first, axis=1)[:, 0].tolist() == [8, 6, 12], "a box among arches is a box"
    assert len(scene.bodies.vertices[0]) > 8
    for body in range(len(scene.bodies)):
        rows = [slice(*own.first[k, body : body + 2]) for k in range(3)]
        assert {tuple(v) for v in own.vertices[rows[0]]} == {tuple(v) for v in scene.bodies.vertices[body]}
        inside = own.vertices[rows[0]].mean(axis=0)
        faces = own.faces[rows[1]]
        assert (faces[:, :3] @ inside < faces[:, 3]).all()
        ends = own.vertices[rows[0]][own.ridges[rows[2], :2]]
        for face in (2, 3):
            on = faces[own.ridges[rows[2], face]]
            assert np.abs(np.einsum("rk,rek->re", on[:, :3], ends) - on[:, 3:]).max() < 1e-6, (
                "ridges lie on their faces"
            )


def test_two_threads_see_what_one_sees():
    dice = np.random.default_rng(4)
    volumes = [
        Box(
            id=f"b{k}",
            name="Box",
            corner=tuple(dice.uniform(0.0, 4000.0, 3)),
            size=tuple(dice.uniform(100.0, 900.0, 3)),
        )
        for k in range(80)
    ]
    wheels = [Turned(id=f"w{k}", name="Wheel", corner=tuple(dice.uniform(0.0, 4000.0, 3)), size=(500.0, 120.0, 500.0),
                     axle="wide") for k in range(20)]  # fmt: skip
    scene = build_scene((*volumes, *wheels))
    hiders = hiders_of(place_eye(height=2000.0, away=9000.0, turn_deg=30.0, viewing_distance=450.0), scene)
    edges, rings = hiders.hidden(scene.edge_curves), hiders.hidden(scene.rounds.ring_curves)
    with ThreadPoolExecutor(2) as pool:
        for _ in range(20):
            one = pool.submit(hiders.twin().hidden, scene.edge_curves)
            other = pool.submit(hiders.hidden, scene.rounds.ring_curves)
            for found, expected in ((one.result(), edges), (other.result(), rings)):
                assert all(np.array_equal(a, b) for a, b in zip(found, expected, strict=True))
    assert len(edges[0]) > 100 and len(rings[0]) > 10
