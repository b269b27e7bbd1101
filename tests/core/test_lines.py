"""Lines on surfaces: the cases computed apart, what is drawn of them, hiding, mirror images, and files."""

from itertools import pairwise
from pathlib import Path as File

import ezdxf
import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.document.edits import add_volume
from isometron.document.fresh import new_document
from isometron.document.planes.plane_edits import centre_line, draw_on_plane, forget_plane
from isometron.document.store.files import decode_document, encode_document
from isometron.geometry import cubics
from isometron.solve.drawing import solve
from isometron.solve.marks import Role
from isometron.surfaces.export import export_bytes
from isometron.view.placing import place_eye
from isometron.volumes.box import Box, box_corners
from isometron.volumes.copies import mirrored
from isometron.volumes.cut.profiles import CutBody, CutProfile, ProfileCorner
from isometron.volumes.faces.turned import round_side
from isometron.volumes.lines.on_volume import line_on
from isometron.volumes.lines.paths import Path
from isometron.volumes.lines.surfaces import FlatSurface, RoundSurface
from isometron.volumes.marks.face_marks import CurveMark, CurvePoint, PathMark, RingMark
from isometron.volumes.marks.holds import Measured
from isometron.volumes.marks.mark_parts import mark_edges, mark_rounds
from isometron.volumes.sections.plane import GROUND, PlaneLine, plane_surface
from isometron.volumes.turned import PROFILES, Turned
from tests.core.test_reference_cases import cases, close, eye_of


def surface_of(given):
    unit = lambda way: np.array(way) / np.linalg.norm(way)  # noqa: E731
    origin = np.array(given["origin"])
    if given["kind"] == "face":
        one = unit(given["d1"])
        return FlatSurface(origin, one, unit(np.array(given["d2"]) - (np.array(given["d2"]) @ one) * one))
    axle = unit(given["axis"])
    zero = unit(np.array(given["zero"]) - (np.array(given["zero"]) @ axle) * axle)
    radius = given["radius"]
    return RoundSurface(
        origin, axle, zero, np.cross(axle, zero), radius, lambda h: (np.full(len(h), radius), np.zeros(len(h)))
    )


@pytest.mark.parametrize("case", cases("surface_curve"))
def test_lines_on_surfaces(case):
    given, expect = case["given"], case["expect"]
    surface, eye, points = surface_of(given["surface"]), eye_of(given["view"]), np.array(given["curve"]["points"])
    if given["curve"]["kind"] == "bezier":
        path, places = Path((points,)), None
        places = path.at(np.arange(9) / 8.0)[0]
    else:
        path = Path(tuple(np.array(pair) for pair in pairwise(points)))
        places = np.concatenate([points[:1], path.at(np.array([0.5, 1.0])).reshape(-1, 2)])
    world = surface.world(places)
    for got, want in (
        (world, expect["world"]), (eye.project(world)[0], expect["paper"]),
        (path.true_length(surface), expect["true_length"]), (path.drawn_length(surface, eye), expect["drawn_length"]),
    ):  # fmt: skip
        close(np.asarray(got).tolist(), want, case["tolerance"])
    # What is drawn runs through the same places.
    pieces = path.on(surface)
    drawn = cubics.at(pieces, np.linspace(0.0, 1.0, 65)).reshape(-1, 3)
    assert max(np.abs(drawn - place).max(axis=1).min() for place in world) < 12.0
    assert cubics.length(pieces) == pytest.approx(expect["true_length"], rel=2e-4)


shares = st.floats(0.05, 0.95).map(lambda x: round(x, 3))
points = st.builds(
    CurvePoint, at=st.tuples(shares, shares), then=st.sampled_from(["straight", "smooth", "arc"]), bow=st.sampled_from([0.3, -0.5]),
    sharp=st.booleans(), way_deg=st.sampled_from([None, None, 40.0]),
)  # fmt: skip
lines = st.builds(
    CurveMark, face=st.integers(0, 5), closed=st.booleans(), mirrored=st.booleans(),
    points=st.lists(points, min_size=2, max_size=5, unique_by=lambda p: p.at).map(tuple),
)  # fmt: skip


def places_of(volume):
    """Places along all that the marks of a volume draw, sorted."""
    ends, rounds = mark_edges(volume).ends, mark_rounds(volume, 0)
    t = np.array([0.0, 0.25, 0.5, 0.75, 1.0])
    straight = ends[:, :1] + t[:, None] * (ends[:, 1:] - ends[:, :1])
    angle = 2 * np.pi * (rounds.ring_span[:, :1] + t * rounds.ring_span[:, 1:])[..., None]
    arcs = (
        rounds.rings[:, None, :3]
        + np.cos(angle) * rounds.rings[:, None, 3:6]
        + np.sin(angle) * rounds.rings[:, None, 6:]
    )
    smooth = cubics.at(rounds.curves.reshape(-1, 4, 3), t)
    return np.concatenate([part.reshape(-1, 3) for part in (straight, arcs, smooth)])


def same_places(one, two, slack=1e-5):
    gaps = np.abs(one[:, None] - two[None]).max(axis=2)
    return max(gaps.min(axis=0).max(), gaps.min(axis=1).max()) < slack


@settings(max_examples=60, deadline=None, derandomize=True)
@given(lines, st.floats(-60, 60), st.floats(-40, 40))
def test_a_line_on_a_face_is_what_the_homography_of_the_face_makes_of_its_points(mark, yaw, pitch):
    """Four corners of the face on paper give its homography; the line's own places go where it says."""
    volume = Box(id="b", name="b", corner=(-400.0, 900.0, 100.0), size=(800.0, 600.0, 500.0), yaw_deg=yaw, pitch_deg=pitch, marks=(mark,))  # fmt: skip
    eye = place_eye(height=900.0, away=3000.0, turn_deg=10.0, viewing_distance=400.0)
    surface, path = line_on(mark, volume)
    corners = np.array([[0.0, 0.0], [300.0, 0.0], [300.0, 200.0], [0.0, 200.0]])
    paper = eye.project(surface.world(corners))[0]
    rows = [r for (x, y), (u, v) in zip(corners, paper, strict=True)
            for r in ([x, y, 1, 0, 0, 0, -u * x, -u * y, -u], [0, 0, 0, x, y, 1, -v * x, -v * y, -v])]  # fmt: skip
    homography = np.linalg.svd(np.array(rows) / np.abs(rows).max())[2][-1].reshape(3, 3)
    drawn = path.at(np.linspace(0.0, 1.0, 17)).reshape(-1, 2)
    mapped = np.column_stack([drawn, np.ones(len(drawn))]) @ homography.T
    assert np.abs(mapped[:, :2] / mapped[:, 2:] - eye.project(surface.world(drawn))[0]).max() < 1e-6
    # And what the scene is given lies on the path.
    bare = msgspec.structs.replace(volume, marks=(msgspec.structs.replace(mark, mirrored=False),))
    fine = surface.world(path.at(np.linspace(0.0, 1.0, 4001)).reshape(-1, 2))
    for place in places_of(bare):
        assert np.abs(fine - place).max(axis=1).min() < 2.0


@settings(max_examples=40, deadline=None, derandomize=True)
@given(lines, st.integers(0, 2))
def test_mirror_images_of_lines_are_mirror_images(mark, axis):
    volume = Box(id="b", name="b", corner=(100.0, 200.0, 0.0), size=(800.0, 600.0, 500.0), marks=(mark,))
    normal = np.eye(3)[axis]
    image = places_of(mirrored(volume, np.zeros(3), normal))
    want = places_of(volume) * (1.0 - 2.0 * normal)
    assert same_places(image, want)


@pytest.mark.parametrize("axle", ["long", "wide", "high"])
@pytest.mark.parametrize("axis", [0, 1, 2])
def test_lines_on_round_sides_lie_there_and_are_mirrored(axle, axis):
    mark = CurveMark(face="side", points=(
        CurvePoint(at=(0.1, 0.05), then="smooth"), CurvePoint(at=(Measured(mm=150.0), 0.3), then="smooth"), CurvePoint(at=(0.8, 0.42)),
        CurvePoint(at=(0.4, 0.6)),
    ))  # fmt: skip
    volume = Turned(id="t", name="t", corner=(300.0, 100.0, 0.0), size=(400.0, 400.0, 400.0), axle=axle, profile=PROFILES["cylinder"], marks=(mark,))  # fmt: skip
    own = places_of(volume)
    k = ("long", "wide", "high").index(axle)
    off = own - (np.array(volume.corner) + 200.0)
    off[:, k] = 0.0
    assert np.abs(np.sqrt((off**2).sum(1)) - 200.0).max() < 1e-4
    normal = np.eye(3)[axis]
    assert same_places(places_of(mirrored(volume, np.zeros(3), normal)), own * (1.0 - 2.0 * normal), 1e-3)


@pytest.mark.parametrize("shape", ["ball", "cylinder", "frustum"])
@pytest.mark.parametrize("depth", [0.0, -25.0, 30.0])
def test_rings_knobs_and_holes_on_round_sides_lie_on_them_and_are_mirrored(shape, depth):
    ring = RingMark(face="side", at=(0.4, 0.15), diameter=60.0, depth=depth, inner=(0.5,))
    volume = Turned(id="t", name="t", corner=(300.0, 100.0, 0.0), size=(400.0, 400.0, 400.0), axle="high", profile=PROFILES[shape], marks=(ring,))  # fmt: skip
    side = round_side(volume)
    drawn = side.world(np.array([[160.0, 0.15 * 2.0 * np.pi * side.around]]))[0]
    foot = np.array([500.0, 300.0, 160.0])
    across = (drawn - foot) / np.linalg.norm(drawn - foot)
    assert across == pytest.approx(
        [np.cos(0.3 * np.pi), np.sin(0.3 * np.pi), 0.0]
    )  # 0.15 of a turn from the first half axis
    own = places_of(volume)
    off = own - np.array([500.0, 300.0, 0.0])
    far = np.sqrt((off[:, :2] ** 2).sum(axis=1)) - side.radius(own[:, 2])[0]
    assert np.abs(far).min() < 1e-3 and (
        depth < 0.0 or np.abs(far).max() < 1e-2
    )  # the rim is on the side, and all of a ring
    # Seen along the way outward the rim is a circle of its diameter.
    rounds = mark_rounds(volume, 0)
    rim = (
        cubics.at(rounds.curves.reshape(-1, 4, 3), np.linspace(0.0, 1.0, 5)).reshape(-1, 3)
        if shape != "ball"
        else own
    )
    slope = side.radius(np.array([160.0]))[1][0]
    outward = np.append(across[:2], -slope) / np.hypot(1.0, slope)
    rel = rim - drawn
    flat = np.linalg.norm(rel - np.outer(rel @ outward, outward), axis=1)
    assert np.minimum(np.abs(flat - 30.0), np.abs(flat - 15.0)).max() < 0.01 and np.abs(flat - 30.0).min() < 0.01
    # What stands out ends so far above the place, what goes in so far below the rim.
    assert len(rounds.frusta) == (depth < 0.0) and len(rounds.holes) == (depth > 0.0)
    if depth < 0.0:
        assert np.abs(((own - drawn) @ outward).max() - 25.0) < 1e-6
        angle = np.linspace(0.0, 2.0 * np.pi, 32)
        foot = rounds.frusta.base[0] + np.outer(np.cos(angle), rounds.frusta.first[0]) + np.outer(np.sin(angle), rounds.frusta.second[0])  # fmt: skip
        off = foot - np.array([500.0, 300.0, 0.0])
        assert (np.hypot(off[:, 0], off[:, 1]) <= side.radius(foot[:, 2])[0] + 1e-6).all(), (
            "it begins within the body, without a gap"
        )
    if depth > 0.0:
        assert rounds.holes[0][9:] == pytest.approx(-30.0 * outward)
    for axis in range(3):
        normal = np.eye(3)[axis]
        assert same_places(places_of(mirrored(volume, np.zeros(3), normal)), own * (1.0 - 2.0 * normal), 1e-3)


def test_a_row_of_knobs_about_a_ball_is_turned_with_it_and_kept_in_files(tmp_path):
    ring = RingMark(face="side", at=(0.5, 0.0), diameter=20.0, depth=-5.0, count=4, step=(0.0, 0.25))
    volume = Turned(id="t", name="t", corner=(0.0, 0.0, 0.0), size=(200.0, 200.0, 200.0), axle="high", profile=PROFILES["ball"], marks=(ring,))  # fmt: skip
    tops = np.array([ring[:3] for ring in mark_rounds(volume, 0).rings if np.linalg.norm(ring[:3] - 100.0) > 104.0])
    assert sorted(map(tuple, np.round(tops - 100.0, 6) + 0.0)) == [(-105.0, 0.0, 0.0), (0.0, -105.0, 0.0), (0.0, 105.0, 0.0), (105.0, 0.0, 0.0)]  # fmt: skip
    document = add_volume(new_document(), volume).document
    data = encode_document(document)
    assert b'"version": 4' in data or b'"version":4' in data
    assert decode_document(data).volumes[0].marks == (ring,)


def test_a_line_is_hidden_behind_what_stands_before_it_and_on_the_far_side():
    wave = CurveMark(face=2, mirrored=True, points=tuple(CurvePoint(at=at, then="smooth") for at in ((0.1, 0.3), (0.5, 0.7), (0.9, 0.4))))  # fmt: skip
    body = Box(id="b", name="b", corner=(-1000.0, 0.0, 0.0), size=(2000.0, 800.0, 900.0), marks=(wave,))
    post = Box(id="p", name="p", corner=(-100.0, -600.0, 0.0), size=(200.0, 200.0, 1500.0))
    eye = place_eye(height=1200.0, away=4000.0, turn_deg=20.0, viewing_distance=400.0)
    drawing = solve(msgspec.structs.replace(new_document(), volumes=(body, post), eye=eye))
    curves = drawing.of("curves").curves
    surface, path = line_on(wave, body)
    near = eye.project(surface.world(path.at(np.linspace(0, 1, 40001)).reshape(-1, 2)))[0]

    def gaps(role):
        places = curves.select(curves.role == role).at(np.linspace(0, 1, 9)).reshape(-1, 2)
        return np.array([np.hypot(*(near - p).T).min() for p in places])

    assert gaps(Role.OBJECT).max() < 0.01  # all that is seen lies on the near line
    hidden = gaps(Role.HIDDEN)
    assert (hidden < 0.01).any() and (hidden > 1.0).any()  # behind the post, and the far line
    # The cut lies where the post's edge crosses the line, to 0.01 mm: sampled sight lines say so.
    seen = curves.select(curves.role == Role.OBJECT).points
    ends = np.concatenate([seen[:, :2], seen[:, 6:]])
    edge = [p for p in ends if min(np.hypot(*(near[0] - p)), np.hypot(*(near[-1] - p))) > 0.1]
    left = eye.project(np.array([[-100.0, -600.0, 0.0], [-100.0, -600.0, 1500.0], [100.0, -600.0, 0.0], [-100.0, -400.0, 0.0], [100.0, -400.0, 0.0]]))[0][:, 0]  # fmt: skip
    assert edge and min(abs(p[0] - u) for p in edge for u in left) < 0.01


def test_lines_are_true_curves_in_files(tmp_path):
    wave = CurveMark(
        face=2, points=tuple(CurvePoint(at=at, then="smooth") for at in ((0.1, 0.3), (0.5, 0.7), (0.9, 0.4)))
    )
    body = Box(id="b", name="b", corner=(-1000.0, 0.0, 0.0), size=(2000.0, 800.0, 900.0), marks=(wave,))
    document = msgspec.structs.replace(new_document(away=5000.0), volumes=(body,))
    assert msgspec.json.decode(encode_document(document))["version"] == 4
    assert decode_document(encode_document(document)).volumes == (body,)
    svg = export_bytes(solve(document), File("x.svg")).decode()
    assert "C" in "".join(part.split('"')[0] for part in svg.split(' d="')[1:])
    from isometron.surfaces.plain_sheet import plain_export

    (tmp_path / "v.dxf").write_bytes(plain_export(document, File("v.dxf")))
    assert ezdxf.readfile(tmp_path / "v.dxf").modelspace().query("SPLINE")


@pytest.mark.parametrize("smooth", [False, True])
def test_a_line_of_the_side_view_is_carried_on_to_the_body_where_it_meets_the_surface(smooth):
    """On both leaning sides of a body, at every place straight across from the line as it was drawn."""
    lean = CutProfile.through(ProfileCorner(at=at) for at in ((0.0, 0.0), (1.0, 0.0), (0.8, 1.0), (0.2, 1.0)))
    path = PathMark(points=((0.1, 0.2), (0.5, 0.8), (0.9, 0.3)), carried=True, smooth=smooth)
    body = CutBody(
        id="b",
        name="b",
        corner=(50.0, 60.0, 0.0),
        size=(2000.0, 800.0, 1000.0),
        yaw_deg=30.0,
        front=lean,
        marks=(path,),
    )
    places = places_of(body)
    corners, rotations = box_corners([body])
    own = (places - corners[0, 0]) @ rotations[0]
    # The sides lean in by a fifth of the width over the height.
    inset = 0.2 * 800.0 * own[:, 2] / 1000.0
    assert np.minimum(np.abs(own[:, 1] - inset), np.abs(own[:, 1] - 800.0 + inset)).max() < 1e-6
    assert (own[:, 1] < 400.0).any() and (own[:, 1] > 400.0).any()
    drawn = msgspec.structs.replace(body, marks=(msgspec.structs.replace(path, carried=False),))
    line = (places_of(drawn) - corners[0, 0]) @ rotations[0]
    fine = np.concatenate(
        [line[k] + np.linspace(0, 1, 200)[:, None] * (line[k + 1] - line[k]) for k in range(len(line) - 1)]
    )
    for place in own:
        assert np.hypot(*(fine[:, [0, 2]] - place[[0, 2]]).T).min() < 12.0
    raw = msgspec.json.decode(encode_document(msgspec.structs.replace(new_document(), volumes=(body,))))
    assert raw["version"] == 4


def test_lines_on_planes_and_on_the_ground_are_true_hidden_and_kept():
    body = Box(id="b", name="b", corner=(0.0, 0.0, 0.0), size=(1000.0, 600.0, 800.0), yaw_deg=20.0)

    def straight(*at, **more):
        return PlaneLine(points=tuple(CurvePoint(at=(Measured(mm=x), Measured(mm=y)), **more) for x, y in at))

    empty = new_document(away=6000.0)
    ground = draw_on_plane(empty, GROUND, straight((-400.0, -500.0), (900.0, 1500.0))).document
    eye = ground.eye
    (points,) = [bag.points for name, bag in solve(ground).of("sections").bags() if name == "lines"]
    ends = eye.project(np.array([[-400.0, -500.0, 0.0], [900.0, 1500.0, 0.0]]))[0]
    assert np.allclose(np.sort(points.reshape(-1, 2), axis=0), np.sort(ends, axis=0), atol=1e-6)
    # Beside a body that stands on it part of it is hidden, and told so.
    document = msgspec.structs.replace(ground, volumes=(body,))
    lines = solve(document).of("sections").lines
    assert {Role.OBJECT, Role.HIDDEN} <= set(lines.role.tolist())
    length = np.hypot(lines.points[:, 2] - lines.points[:, 0], lines.points[:, 3] - lines.points[:, 1]).sum()
    assert length == pytest.approx(np.hypot(*(ends[1] - ends[0])), abs=1e-6)
    # On the middle plane of the body, smooth and an arc; it goes where the body goes.
    kept = centre_line(document, "b").document
    name = kept.planes[-1].id
    wave = straight((-300.0, 100.0), (500.0, 900.0), (1300.0, 200.0), then="smooth")
    kept = draw_on_plane(kept, name, wave).document
    kept = draw_on_plane(kept, name, straight((0.0, 1000.0), (1000.0, 1000.0), then="arc", bow=0.5)).document
    surface = plane_surface(kept.planes[-1], {"b": body})
    ways = box_corners([body])[1][0]
    assert surface.world(np.array([[200.0, 300.0]]))[0] == pytest.approx(ways @ np.array([200.0, 300.0, 300.0]))
    curves = solve(kept).of("sections").curves
    assert len(curves.points) >= 26 and decode_document(encode_document(kept)) == kept
    top = eye.project(surface.world(np.array([[500.0, 1250.0]])))[0]  # the arc bows half of half its chord
    low = eye.project(surface.world(np.array([[500.0, 750.0]])))[0]
    near = min(np.hypot(*(curves.points[:, :2] - place).T).min() for place in (top[0], low[0]))
    assert near < 1e-3
    assert forget_plane(kept, name).document.planes == ground.planes


def _slab(eye, places, low, high):
    """How much of a sight line (N,) to places (N, 3) runs through a box, less than nothing beside it; exact."""
    way = places - eye
    with np.errstate(divide="ignore"):
        one, two = (low - eye) / way, (high - eye) / way
    return np.minimum(np.maximum(one, two).min(axis=1), 1.0 - 1e-9) - np.minimum(one, two).max(axis=1)


@given(st.lists(st.tuples(st.floats(0.05, 0.95), st.floats(0.05, 0.95)), min_size=3, max_size=5), st.floats(-300.0, 900.0), st.floats(500.0, 2500.0), st.booleans())  # fmt: skip
@settings(max_examples=40, deadline=None, derandomize=True)
def test_curves_end_where_true_sight_lines_are_covered_to_a_hundredth_of_a_mm(places, x, height, mirrored):
    """Smooth lines on a far block behind a near one: the ends of what is drawn against exact crossings of sight lines and blocks."""
    points = tuple(CurvePoint(at=at, then="smooth") for at in places)
    far = Box(id="f", name="Far", corner=(0.0, 1500.0, 0.0), size=(1600.0, 600.0, 1200.0), marks=(CurveMark(face=2, points=points, mirrored=mirrored),))  # fmt: skip
    near = Box(id="n", name="Near", corner=(x, 200.0, 0.0), size=(500.0, 400.0, 700.0))
    eye = place_eye(height=height, away=4000.0, turn_deg=-12.0, viewing_distance=450.0)
    drawing = solve(msgspec.structs.replace(new_document(), volumes=(far, near), eye=eye))
    low, high = np.array(near.corner), np.array(near.corner) + near.size
    own = np.array(far.corner), np.array(far.corner) + far.size
    pieces = drawing.scene.rounds.curves.reshape(-1, 4, 3)
    drawn = drawing.of("curves").curves
    shown = drawn.points[drawn.role != Role.HIDDEN]
    ends = np.concatenate([shown[:, :2], shown[:, 6:]])
    t = np.linspace(0.0, 1.0, 400)
    for piece in pieces:
        world = cubics.at(piece[None], t)[0]
        covered = np.maximum(_slab(eye.place, world, low, high), _slab(eye.place, world, *own)) > 0.0
        for k in np.flatnonzero(covered[1:] != covered[:-1]):
            one, two = t[k], t[k + 1]
            for _ in range(50):
                middle = (one + two) / 2.0
                place = cubics.at(piece[None], np.array([middle]))[0]
                hides = max(_slab(eye.place, place, low, high)[0], _slab(eye.place, place, *own)[0]) > 0.0
                one, two = (middle, two) if hides == covered[k] else (one, middle)
            paper = eye.project(cubics.at(piece[None], np.array([one]))[0])[0][0]
            assert np.hypot(*(ends - paper).T).min() < 0.01


@pytest.mark.parametrize("name", ["cylinder", "ball", "frustum", "wheel"])
def test_lines_of_a_plain_view_are_carried_on_to_round_sides(name):
    """On the side, and in the plain view exactly where they were drawn."""
    smooth = PathMark(across="wide", points=((0.2, 0.5), (0.5, 0.7), (0.8, 0.45)), smooth=True, carried=True)
    beyond = PathMark(across="wide", points=((-0.3, 0.3), (0.7, 0.4)), carried=True)
    body = Turned(id="t", name="t", corner=(50.0, 60.0, 70.0), size=(900.0, 900.0, 800.0), profile=PROFILES[name], yaw_deg=25.0, marks=(smooth, beyond))  # fmt: skip
    assert len(mark_edges(body).ends) == 0
    places = cubics.at(mark_rounds(body, 0).curves.reshape(-1, 4, 3), np.linspace(0.0, 1.0, 5)).reshape(-1, 3)
    side = round_side(body)
    assert np.abs(side.off(places)).max() < 0.05
    own = (places - np.array(body.corner)) @ box_corners([body])[1][0]
    assert (own[:, 1] < 440.0).any() and (own[:, 1] > 460.0).any()  # on both sides
    straight = np.abs(own[:, 2] - (240.0 + 80.0 * (own[:, 0] + 270.0) / 900.0)) < 0.05
    run = own[straight]
    reach = 450.0 - side.radius(np.array([270.0]))[0][0]
    assert run[:, 0].max() == pytest.approx(630.0, abs=1e-3) and run[:, 0].min() == pytest.approx(reach, abs=30.0)
    curve = cubics.smooth_through(np.array([(180.0, 400.0), (450.0, 560.0), (720.0, 360.0)]))
    drawn = cubics.at(curve, np.linspace(0.0, 1.0, 2000)).reshape(-1, 2)
    for place in own[~straight][::7]:
        assert np.hypot(*(drawn - place[[0, 2]]).T).min() < 0.3
