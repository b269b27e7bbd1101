"""Properties of the geometry rooms, each against a second way of working it out."""

import numpy as np
import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st

from isometron.geometry.bodies import inside
from isometron.geometry.clipping import clip_to_rectangle, rectangle_exit
from isometron.geometry.coincident import owned_spans
from isometron.geometry.frames import box_rotation, box_rotations, camera_axes
from isometron.geometry.outlines import convex_parts, inside_parts
from isometron.geometry.overlap import bounds, overlap_depths, pairs_within_reach
from isometron.view.cone import outside_cone, stretch
from isometron.view.eye import Eye
from isometron.view.placing import horizon_on_sheet, place_eye, sheet_with_horizon
from isometron.view.sheet import Sheet, paper_name
from isometron.view.vanishing import horizon, measuring_point, vanishing
from isometron.volumes.box import BOX_FACE_CORNERS, BOX_FACES
from isometron.volumes.building import build_scene
from tests.strategies import boxes, eyes

turns = st.floats(-3.0, 3.0)
numbers = st.floats(-50.0, 50.0)


@given(turns, turns, turns)
def test_rotations_are_products_of_the_three_turns(yaw, pitch, roll):
    def about(axis, angle):
        c, s = np.cos(angle), np.sin(angle)
        return {
            "z": np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]]),
            "x": np.array([[1, 0, 0], [0, c, -s], [0, s, c]]),
            "y": np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]]),
        }[axis]

    expected = about("z", yaw) @ about("x", pitch) @ about("y", roll)
    assert box_rotation(yaw, pitch, roll) == pytest.approx(expected, abs=1e-12)
    axes = camera_axes(yaw, pitch, roll)
    assert axes @ axes.T == pytest.approx(np.eye(3), abs=1e-12)
    assert np.linalg.det(axes) == pytest.approx(-1.0), "right, up, look: the look axis points away"
    assert len(box_rotations(np.zeros((0, 3)))) == 0


def test_the_worked_example_of_the_conventions():
    look = camera_axes(np.radians(30), np.radians(10))[2]
    assert look == pytest.approx([-0.492403876506, 0.852868531952, 0.173648177667])
    lowered = camera_axes(0.0, 0.0, np.radians(10))[0]
    assert lowered[2] < 0, "a positive roll lowers the right-hand side"


@given(eyes, st.tuples(turns, turns, turns))
def test_a_direction_vanishes_where_its_far_points_go(eye, direction):
    direction = np.array(direction)
    assume(np.linalg.norm(direction) > 0.1)
    direction /= np.linalg.norm(direction)
    assume(abs(direction @ eye.axes[2]) > 0.05)
    forwards = direction * np.sign(direction @ eye.axes[2])
    far = eye.place + np.array([10.0, 20.0, 30.0]) + forwards * 1e10
    at = np.array(vanishing(eye, direction).at)
    assert eye.project(far)[0][0] == pytest.approx(at, abs=1e-4 * eye.viewing_distance)


@given(eyes, st.floats(-3.1, 3.1))
def test_level_directions_vanish_on_the_horizon(eye, angle):
    point = vanishing(eye, [np.cos(angle), np.sin(angle), 0.0])
    line = horizon(eye)
    assume(point.at is not None and np.hypot(*point.at) < 1e5)
    assert np.dot(line.normal, point.at) == pytest.approx(line.offset, abs=1e-6)


@given(eyes, st.floats(10.0, 80.0), st.floats(100.0, 2000.0))
def test_a_measuring_point_carries_true_lengths(eye, turn, length):
    """From a point in the picture plane, the line to MP cuts the edge where its true length ends."""
    yaw = np.radians(eye.yaw_deg + turn)
    along = np.array([np.cos(yaw), np.sin(yaw), 0.0])
    point = vanishing(eye, along)
    assume(point.at is not None and np.hypot(*point.at) < 1e4)
    start = eye.place + eye.axes[2] * 3000.0 - np.array([0.0, 0.0, 400.0])
    end = start + along * length
    paper, depth = eye.project(np.vstack([start, end]))
    assume((depth > 10.0).all())
    other = vanishing(eye, [-along[1], along[0], 0.0])
    assume(other.at is not None)
    measuring = np.array(measuring_point(eye, point.at, other.at))
    # The measuring line runs level through the start; true lengths are laid off on it at the start's scale.
    level = np.array([horizon(eye).normal[1], -horizon(eye).normal[0]])
    candidates = []
    for side in (1.0, -1.0):
        laid_off = paper[0] + side * level * length * eye.viewing_distance / depth[0]
        ruler, gap = laid_off - measuring, paper[1] - measuring
        candidates.append(abs(ruler[0] * gap[1] - ruler[1] * gap[0]) / np.hypot(*ruler))
    assert min(candidates) < 1e-6 * max(1.0, np.hypot(*measuring))


@given(st.floats(-1000, 2500), st.floats(500, 9000), st.floats(-80, 80), st.floats(-40, 40), st.floats(10, 290))
def test_placing_an_eye_and_the_horizon(height, away, turn, tilt, above):
    eye = place_eye(height=height, away=away, turn_deg=turn, tilt_deg=tilt, viewing_distance=400.0)
    camera = eye.to_camera(np.array([0.0, 0.0, height]))[0]
    assert camera[0] == pytest.approx(0.0, abs=1e-6), "the start is straight ahead"
    assert np.hypot(*eye.position[:2]) == pytest.approx(away)
    assert horizon_on_sheet(eye, sheet_with_horizon(eye, 420.0, 297.0, above)) == pytest.approx(above)


@given(boxes(), boxes())
def test_overlap_agrees_with_sampled_points(one, other):
    bodies = build_scene((one, other)).bodies
    depth = overlap_depths(bodies, np.array([[0, 1]]))[0]
    t = np.linspace(0.02, 0.98, 9)
    grid = np.stack(np.meshgrid(t, t, t), axis=-1).reshape(-1, 3)
    corner, size = np.array(one.corner), np.array(one.size)
    rotation = box_rotation(*np.radians([one.yaw_deg, one.pitch_deg, one.roll_deg]))
    points = corner + (grid * size) @ rotation.T
    shared = (points @ bodies.normals[1].T < bodies.offsets[1]).all(axis=1)
    if shared.any():
        assert depth > 0.0
    if depth == 0.0:
        assert not shared.any()
    within = len(pairs_within_reach(*bounds(bodies))) == 1
    assert within or depth == 0.0, "what shares space is found by its bounds first"


def test_touching_bodies_share_no_space():
    from isometron.volumes.box import Box

    one = Box(id="a", name="a", corner=(0.0, 0.0, 0.0), size=(100.0, 100.0, 100.0))
    beside = Box(id="b", name="b", corner=(100.0, 0.0, 0.0), size=(100.0, 100.0, 100.0))
    bodies = build_scene((one, beside)).bodies
    assert overlap_depths(bodies, np.array([[0, 1]]))[0] == 0.0
    assert list(inside(bodies, np.array([50.0, 50.0, 50.0]))) == [True, False]
    assert not inside(bodies, np.array([100.0, 50.0, 50.0])).any(), "on a face is not inside"


@given(boxes())
def test_faces_normals_and_edges_of_a_box_belong_together(box):
    scene = build_scene((box,))
    middle = scene.vertices.mean(axis=0)
    bodies = scene.bodies
    for face, ((axis, side), corners) in enumerate(zip(BOX_FACES, BOX_FACE_CORNERS, strict=True)):
        heights = scene.vertices[corners] @ bodies.normals[0, face] - bodies.offsets[0, face]
        assert heights == pytest.approx(np.zeros(4), abs=1e-6)
        assert middle @ bodies.normals[0, face] < bodies.offsets[0, face]
        own = bodies.normals[0, face] @ scene.rotations[0]
        assert own[axis] == pytest.approx(1.0 if side else -1.0)
    lengths = np.linalg.norm(np.diff(scene.vertices[scene.edges], axis=1)[:, 0], axis=1)
    assert lengths == pytest.approx(np.array(box.size)[scene.edge_axis])
    pairs = bodies.ridge_faces[0]
    for (i, j), (f, g) in zip(bodies.ridges[0], pairs, strict=True):
        for face in (f, g):
            assert {i, j} <= set(BOX_FACE_CORNERS[face])


@given(st.lists(st.tuples(numbers, numbers, numbers, numbers), max_size=10))
def test_clipping_keeps_what_lies_inside(lines):
    lines = np.array(lines).reshape(-1, 4)
    clipped = clip_to_rectangle(lines, -20.0, -10.0, 20.0, 10.0)
    assert (np.abs(clipped[:, 0::2]) <= 20.0 + 1e-9).all()
    assert (np.abs(clipped[:, 1::2]) <= 10.0 + 1e-9).all()
    t = np.linspace(0.0, 1.0, 2001)[:, None]
    for line in lines:
        points = line[:2] + t * (line[2:] - line[:2])
        share = (np.abs(points) <= (20.0, 10.0)).all(axis=1).mean()
        length = np.hypot(*(line[2:] - line[:2]))
        if share > 0.01 and length > 1.0:
            kept = clip_to_rectangle(line[None], -20.0, -10.0, 20.0, 10.0)
            assert np.hypot(*(kept[0, 2:] - kept[0, :2])) == pytest.approx(share * length, abs=0.002 * length)
    assert rectangle_exit((0.0, 0.0), (100.0, 0.0), (-20.0, -10.0, 20.0, 10.0)) == pytest.approx((20.0, 0.0))


@given(st.lists(st.tuples(st.integers(0, 2), st.integers(0, 2), st.integers(-4, 4), st.integers(-4, 4)), max_size=14))
def test_owned_spans_cover_each_line_once(parts):
    """Edges on three axes and a few parallels: their union is kept, and no stretch is given to two edges."""
    parts = [p for p in parts if p[2] != p[3]]
    start, end = np.zeros((len(parts), 3)), np.zeros((len(parts), 3))
    for row, (axis, shift, a, b) in enumerate(parts):
        start[row, (axis + 1) % 3] = end[row, (axis + 1) % 3] = shift * 10.0
        start[row, axis], end[row, axis] = a, b
    edge, t0, t1 = owned_spans(start, end, np.zeros(len(parts), dtype=np.intp))
    wanted, got = {}, {}
    for axis, shift, a, b in parts:
        for step in range(min(a, b), max(a, b)):
            wanted.setdefault((axis, shift), set()).add(step)
    for row, s, e in zip(edge, t0, t1, strict=True):
        axis, shift, a, b = parts[row]
        ends = sorted((a + s * (b - a), a + e * (b - a)))
        for step in range(round(ends[0]), round(ends[1])):
            assert step not in got.setdefault((axis, shift), set())
            got[axis, shift].add(step)
    assert got == wanted


def test_solid_volumes_keep_shared_lines():
    start = np.array([[0.0, 0, 0], [0.0, 0, 0]])
    end = np.array([[4.0, 0, 0], [10.0, 0, 0]])
    edge, t0, t1 = owned_spans(start, end, np.array([1, 0]))
    assert (list(edge), list(t0), list(t1)) == ([1], [0.0], [1.0])
    edge, t0, t1 = owned_spans(start, end, np.array([0, 1]))
    assert list(edge) == [0, 1]
    assert t0[1] == pytest.approx(0.4)


def test_cone_and_stretch_are_the_textbook_figures():
    eye = Eye(position=(0.0, 0.0, 0.0), viewing_distance=300.0)
    rim = eye.cone_radius
    assert rim == pytest.approx(300.0 * np.tan(np.radians(30)))
    assert stretch(eye, [[rim, 0.0]])[0] == pytest.approx(1.1547, abs=1e-4)
    assert list(outside_cone(eye, [[rim - 0.01, 0.0], [0.0, rim + 0.01], [np.nan, np.nan]])) == [False, True, False]


def test_paper_names():
    assert paper_name(420.0, 297.0) == "A3 landscape"
    assert paper_name(304.8, 457.2) == "12 x 18 in portrait"
    assert paper_name(100.0, 333.3) == "100 x 333.3 mm"
    sheet = Sheet(width=420.0, height=297.0, centre_of_vision=(210.0, 180.0))
    assert sheet.rectangle == (-210.0, -180.0, 210.0, 117.0)
    assert sheet.from_corner(-210.0, -180.0) == (0.0, 0.0)


@given(eyes, st.floats(20.0, 500.0), st.floats(-400.0, -20.0))
def test_a_measuring_point_lies_on_the_horizon_on_the_side_it_is_wanted_as_far_as_the_eye(eye, right, left):
    line = horizon(eye)
    assume(line is not None)
    along = np.array([line.normal[1], -line.normal[0]])
    foot = np.array(line.normal) * line.offset
    point, other = foot + right * along, foot + left * along
    found = measuring_point(eye, tuple(point), tuple(other))
    assert (np.array(found) - point) @ along < 0.0 and np.dot(line.normal, found) == pytest.approx(
        line.offset, abs=1e-6
    )
    assert np.hypot(*(np.array(found) - point)) == pytest.approx(np.sqrt(eye.viewing_distance**2 + point @ point))
    assert (np.array(measuring_point(eye, tuple(other), tuple(point))) - other) @ along > 0.0


@given(
    st.lists(st.tuples(numbers, numbers), min_size=3, max_size=9),
    st.lists(st.tuples(numbers, numbers, numbers, numbers), min_size=1, max_size=6),
)
def test_convex_polygons_are_clipped_as_any_polygon_is(points, lines):
    hull = shapely.MultiPoint(points).convex_hull
    assume(hull.geom_type == "Polygon" and hull.area > 1.0)
    ring, lines = np.array(hull.exterior.coords)[:-1], np.array(lines).reshape(-1, 2, 2)
    low, high = convex_parts(ring, lines)
    for line, a, b in zip(lines, low, high, strict=True):
        long = float(np.hypot(*(line[1] - line[0])))
        expected = sum(y - x for x, y in inside_parts(ring, *line))
        assert max(b - a, 0.0) * long == pytest.approx(expected * long, abs=1e-5)
    assert convex_parts(np.array([(0.0, 0.0), (2.0, 0.0), (1.0, 0.5), (1.0, 2.0)]), lines) is None
