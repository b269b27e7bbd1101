"""The reference cases, computed independently to 50 digits, through the public interface of the core."""

import json
from pathlib import Path

import numpy as np
import pytest

from isometron.construct.outcome import Options
from isometron.construct.schools import construct
from isometron.document.model import Document
from isometron.geometry.faces.flat import no_faces
from isometron.geometry.frames import box_rotation
from isometron.geometry.frusta import Frusta
from isometron.geometry.hiding import Curves, Hiders
from isometron.solve.drawing import solve
from isometron.tools.by_eye import by_eye_tool
from isometron.tools.pencil import Act, Pencil, ToolContext
from isometron.view.eye import Eye
from isometron.view.placing import place_eye
from isometron.view.recover import NoEye, eye_from_three, eye_from_two, triangle_angles
from isometron.view.ring_picture import Circle, ring_picture, rings_to_ellipses
from isometron.view.sheet import Sheet
from isometron.view.templates import best_fit
from isometron.view.vanishing import box_vanishing, horizon, vanishing
from isometron.volumes.box import Box
from isometron.volumes.building import build_scene
from isometron.volumes.marks.face_marks import DivideMark

CASES = Path(__file__).parent.parent / "cases"


def cases(family):
    data = json.loads((CASES / f"{family}.json").read_text())
    return [pytest.param(case, id=case["id"]) for case in data["cases"]]


def close(got, expected, tolerance):
    if expected is None or got is None:
        assert got is expected
        return
    got, expected = np.asarray(got, float), np.asarray(expected, float)
    assert got.shape == expected.shape
    assert np.all(np.abs(got - expected) <= tolerance["abs"] + tolerance["rel"] * np.abs(expected))


def eye_of(view):
    return Eye(
        position=tuple(view["eye"]),
        yaw_deg=view["yaw_deg"],
        pitch_deg=view["pitch_deg"],
        viewing_distance=view["viewing_distance"],
    )


def rotation_of(angles):
    return box_rotation(*np.radians([angles["yaw_deg"], angles["pitch_deg"], angles["roll_deg"]]))


def sheet_with(eye, *volumes):
    sheet = Sheet(width=420.0, height=297.0, centre_of_vision=(210.0, 150.0))
    return Document(sheet=sheet, eye=eye, volumes=volumes)


def rod(start, end, parts):
    """A thin box from ``start`` on, its lower front edge over ``end`` and as far as the parts go, which are drawn on its front."""
    way = np.subtract(end, start)
    length, least = float(np.sqrt(way @ way)), min(float(np.min(parts)), 0.0)
    most = max(float(np.max(parts)), 1.0) - least
    across = tuple((float(p) - least) / most for p in parts if 0.0 < p - least < most)
    start = np.asarray(start) + least * way
    return Box(
        id="rod", name="Rod", corner=tuple(map(float, start)), size=(length * most, 1.0, 1.0),
        yaw_deg=float(np.degrees(np.arctan2(way[1], way[0]))), roll_deg=float(-np.degrees(np.arcsin(way[2] / length))),
        marks=(DivideMark(face=2, across=across, soft=False),),
    )  # fmt: skip


def from_paper(given):
    """An eye and a segment whose picture begins at a point and goes so far towards a vanishing point."""
    eye = Eye(position=(0.0, 0.0, 0.0), viewing_distance=500.0)
    start = 1000.0 / 500.0 * eye.ray(*given["start"])
    way, part = eye.ray(*given["vp"]) / 500.0, given["end_fraction"]
    depth = float(start @ eye.axes[2])
    return eye, start, start + depth * part / (1.0 - part) * way


@pytest.mark.parametrize("case", cases("divide"))
def test_divisions_are_drawn_where_they_lie(case):
    given, expect = case["given"], case["expect"]
    if given["op"] == "divide":
        places = np.linspace(0.0, 1.0, given["parts"] + 1)
    elif given["op"] == "repeat":
        begin = np.arange(given["copies"] + 1.0) * (1.0 + given["gap_ratio"])
        places = np.column_stack([begin, begin + 1.0]).reshape(-1)
    else:
        places = np.array(given["at"])
    eye, start, end = (
        (eye_of(given["view"]), given["start"], given["end"]) if given["form"] == "world" else from_paper(given)
    )
    ends = solve(sheet_with(eye, rod(start, end, places))).edges.points.reshape(-1, 2)
    wanted = expect["points"] if "points" in expect else [at for copy in expect["copies"] for at in copy]
    assert len(wanted) == len(places)
    for told in wanted:
        if told is not None and np.abs(told).max() < 5000.0:
            allowed = case["tolerance"]["abs"] + 1e-8 * np.abs(told).max()
            assert np.hypot(*(ends - told).T).min() < allowed, "an end of what is drawn lies there"


def check_vanishing(got, expected, tolerance):
    assert got.finite == expected["finite"]
    if got.finite:
        close(got.at, expected["at"], tolerance)
    else:
        sign = 1.0 if np.dot(got.direction, expected["direction"]) > 0 else -1.0
        close(sign * np.array(got.direction), expected["direction"], tolerance)


@pytest.mark.parametrize("case", cases("project"))
def test_points_on_paper(case):
    paper, depth = eye_of(case["given"]["view"]).project(case["given"]["points"])
    for got, expected in zip(paper, case["expect"]["paper"], strict=True):
        close(None if np.isnan(got).any() else got, expected, case["tolerance"])
    close(depth, case["expect"]["depth"], case["tolerance"])


@pytest.mark.parametrize("case", cases("vanishing"))
def test_vanishing_points(case):
    eye, expect, tolerance = eye_of(case["given"]["view"]), case["expect"], case["tolerance"]
    rotation = rotation_of(case["given"]["box_rotation"])
    for got, name in zip(box_vanishing(eye, rotation), "abc", strict=True):
        check_vanishing(got, expect[f"vp_{name}"], tolerance)
    close(horizon(eye).height_at(0.0), expect["horizon_v"], tolerance)
    close(eye.cone_radius, expect["cone60_radius"], tolerance)
    if "points_case" not in expect:
        return
    angles = {key: case["given"]["box_rotation"][key] for key in ("yaw_deg", "pitch_deg", "roll_deg")}
    at = eye.place + 6000.0 * eye.axes[2] - (0.0, 0.0, 1500.0)
    document = sheet_with(eye, Box(id="b", name="B", corner=tuple(at), size=(300.0, 300.0, 300.0), **angles))
    wanted = (
        {"DP": [(u, 0.0) for u in expect["distance_points_u"]]}
        if expect["points_case"] == 1
        else {
            "SP": [expect["station_rabatted"]],
            **{name: [(expect[key], 0.0)] for name, key in (("VP R", "vp_right_u"), ("VP L", "vp_left_u"),
               ("MP R", "measuring_point_of_right_vp_u"), ("MP L", "measuring_point_of_left_vp_u"),
               ("45", "diagonal_vp_between_u"))},
        }
    )  # fmt: skip
    schools = ("one-point",) if expect["points_case"] == 1 else ("measuring", "diagonal")
    found = [construct(document, "b", school) for school in schools]
    spots = {spot.name: spot.at for done in found for step in done.steps for spot in step.points}
    for name, places in wanted.items():
        gap = min(float(np.abs(np.subtract(spots[name], place)).max()) for place in places)
        assert gap < 1e-6 + 1e-8 * np.abs(spots[name]).max(), name


def hidden_part(bodies, eye, segment):
    """The part of a segment that one body hides, as the program's own hiding tells it."""
    eye, ends = np.asarray(eye, dtype=float), np.array([segment], dtype=float)
    way = ends[0] - eye
    look = (way / np.sqrt((way**2).sum(axis=1))[:, None]).sum(axis=0)
    look /= np.sqrt(look @ look)
    right = np.cross(look, np.eye(3)[int(np.argmin(np.abs(look)))])
    right /= np.sqrt(right @ right)
    one, yes = np.zeros(1, dtype=np.intp), np.ones(1, dtype=bool)
    axes = np.stack([right, np.cross(right, look), look])
    hiders = Hiders(
        eye, axes, 1.0, bodies, one, Frusta.none(), no_faces(), one[:0], yes, ~yes, np.zeros(0), one[:0], ~yes
    )
    _, low, high = hiders.hidden(Curves.lines(ends, one))
    return (float(low[0]), float(high[0])) if len(low) else None


@pytest.mark.parametrize("case", cases("occlusion"))
def test_hidden_parts(case):
    given = case["given"]
    box = Box(
        id="b", name="b", corner=tuple(given["box"]["corner"]), size=tuple(given["box"]["size"]),
        **{key: given["box"][key] for key in ("yaw_deg", "pitch_deg", "roll_deg")},
    )  # fmt: skip
    got = hidden_part(build_scene((box,)).bodies, given["eye"], given["segment"])
    close(got, case["expect"]["hidden"], case["tolerance"])


@pytest.mark.parametrize("case", cases("height"))
def test_height_transfer(case):
    given, expect, tolerance = case["given"], case["expect"], case["tolerance"]
    if given["form"] == "paper":
        level, eye_height = given["horizon_v"], given["eye_height"]
        base_1, top_1, base_2 = (np.array(given[key]) - (0.0, level) for key in ("base_1", "top_1", "base_2"))
        sign = -1.0 if base_1[1] < 0.0 else 1.0
        eye = Eye(position=(0.0, 0.0, -sign * eye_height), viewing_distance=500.0)
        foot = eye.place + eye_height / abs(base_1[1]) * eye.ray(*base_1)
        size = (top_1[1] - base_1[1]) / -base_1[1] * -sign * eye_height
    else:
        eye, up, level = eye_of(given["view"]), np.array([0, 0, given["height"]]), 0.0
        bases = np.array([given["base_1"], given["base_2"]])
        paper, depth = eye.project(np.vstack([bases, bases + up]))
        for got, key in zip(paper, ("base_1", "base_2", "top_1", "top_2"), strict=True):
            close(got, expect[key], tolerance)
        close(horizon(eye).height_at(0.0), expect["horizon_v"], tolerance)
        check_vanishing(vanishing(eye, up), expect["vertical_vp"], tolerance)
        if "scale_2_over_1" in expect:
            close(depth[0] / depth[1], expect["scale_2_over_1"], tolerance)
        if given["view"]["pitch_deg"] != 0.0:
            return
        foot, size, base_2 = bases[0], given["height"], paper[1]
    if expect["top_2"] is None or size <= 0.0:
        return
    # The leading edge of a box that goes away from the eye stands on the first foot.
    away = float(np.degrees(np.arctan2(*(foot - eye.place)[[1, 0]]))) - 45.0
    upright = Box(id="b", name="B", corner=tuple(foot), size=(50.0, 50.0, float(size)), yaw_deg=away)
    done = construct(sheet_with(eye, upright), "b", "height", Options(place=tuple(base_2)))
    close(done.ends["height 1 top"], np.array(expect["top_2"]) - (0.0, level), {"abs": 1e-6, "rel": 1e-8})


@pytest.mark.parametrize("case", cases("recover2"))
def test_the_eye_of_two_points(case):
    given, expect = case["given"], case["expect"]
    got = eye_from_two(given["vp_left_u"], given["vp_right_u"], given["centre_of_vision_u"])
    assert isinstance(got, NoEye) != expect["possible"]
    if not expect["possible"]:
        assert given["vp_left_u"] < got.nearest[0][0] < given["vp_right_u"]
        return
    for value, key in (
        (got.viewing_distance, "viewing_distance"),
        (got.angle_right, "angle_right_deg"),
        (got.angle_left, "angle_left_deg"),
        (got.measuring_right, "measuring_point_of_right_vp_u"),
        (got.measuring_left, "measuring_point_of_left_vp_u"),
        (got.diagonal_between, "diagonal_vp_between_u"),
        (got.cone_radius(), "cone60_radius"),
    ):
        close(value, expect[key], case["tolerance"])


@pytest.mark.parametrize("case", cases("recover3"))
def test_the_eye_of_three_points(case):
    given, expect = case["given"], case["expect"]
    points = [tuple(given[name]) for name in "abc"]
    close(triangle_angles(np.array(points)), expect["triangle_angles_deg"], case["tolerance"])
    got = eye_from_three(*points)
    assert isinstance(got, NoEye) != expect["possible"]
    if isinstance(got, NoEye):
        assert "abc"[got.vertex] == expect["offending_vertex"]
        close(got.angle, expect["offending_angle_deg"], case["tolerance"])
        assert got.nearest == () or not isinstance(eye_from_three(*got.nearest), NoEye)
        return
    close(got.centre, expect["centre_of_vision"], case["tolerance"])
    close(got.viewing_distance, expect["viewing_distance"], case["tolerance"])
    close(got.pitch, expect["pitch_deg"], case["tolerance"])
    close(got.horizon_angle, expect["horizon_angle_deg"], case["tolerance"])


def cube_document(given):
    """The set-up of a cube case as a document: the world at the scale of the leading edge, one mm for one mm."""
    f, edge = given["viewing_distance"], given["edge_height"]
    eye = place_eye(height=given["horizon_above_leading_bottom"], away=f, turn_deg=0.0, viewing_distance=f)
    box = Box(
        id="cube",
        name="Cube",
        corner=(given["leading_edge_u"], 0.0, 0.0),
        size=(edge, edge, edge),
        yaw_deg=given["yaw_deg"],
    )
    return Document(sheet=Sheet(width=420.0, height=297.0, centre_of_vision=(210.0, 150.0)), eye=eye, volumes=(box,))


@pytest.mark.parametrize("school", ["plan", "measuring", "diagonal"])
@pytest.mark.parametrize("case", cases("cube"))
def test_schools_land_on_the_true_cube(case, school):
    done = construct(cube_document(case["given"]), "cube", school)
    for name, at in case["expect"]["corners"].items():
        close(done.ends[name.replace("_", " ")], at, case["tolerance"])
    spots = {spot.name: spot for step in done.steps for spot in step.points}
    close(spots["VP R"].u, case["expect"]["vp_right_u"], case["tolerance"])
    close(spots["VP L"].u, case["expect"]["vp_left_u"], case["tolerance"])
    if school == "plan":
        for name, key in (("b1", "right"), ("c1", "left"), ("d1", "back")):
            close(spots[name].u, case["expect"]["picture_line_crossings_u"][key], case["tolerance"])


def strokes(document, acts):
    """What the tool for cubes by eye shows after acts at paper points."""
    tool = by_eye_tool(ToolContext(solve(document), 1e-9))
    next(tool)
    for act, at in acts:
        shown = tool.send(Pencil(act, *at))
    return tool, shown


@pytest.mark.parametrize("case", cases("measure_back"))
def test_what_a_box_drawn_by_eye_means(case):
    given, expect = case["given"], case["expect"]
    f, bottom, top = given["viewing_distance"], given["near_bottom"], given["near_top"]
    height = -4e4 * bottom[1] / f  # the foot is 40 m away
    eye = Eye(position=(0.0, 0.0, height), yaw_deg=-float(np.degrees(np.arctan2(f, given["vp_right_u"]))), viewing_distance=f)  # fmt: skip
    acts = [(Act.PRESS, bottom), (Act.MOVE, top), (Act.RELEASE, top)]
    for end in (given["right_bottom"], given["left_bottom"]):
        acts += [(Act.MOVE, end), (Act.RELEASE, end)]
    tool, shown = strokes(sheet_with(eye), acts)
    corners = shown.guides.reshape(-1, 2)
    for name, at in expect["cube_corners"].items():
        assert np.hypot(*(corners - at).T).min() < 2e-3, f"{name} of the cube that is shown"
    with pytest.raises(StopIteration) as taken:
        tool.send(Pencil(Act.PRESS, *given["left_bottom"]))
    right, left, up = taken.value.value.document.volumes[0].size
    for found, key in ((left / up, "left_over_height"), (right / up, "right_over_height"), (left / right, "left_over_right")):  # fmt: skip
        assert found == pytest.approx(expect[key], rel=1e-4), f"{key}, the start on round figures"


@pytest.mark.parametrize("case", cases("ellipse"))
def test_the_conic_of_a_ring(case):
    given, expect, tolerance = case["given"], case["expect"], case["tolerance"]
    ring = given["circle"]
    circle = Circle.of(ring["centre"], ring["radius"], ring["normal"], ring["axis_hint"])
    eye = eye_of(given["view"])
    got = ring_picture(eye, circle)
    assert got.kind == expect["type"]
    close(got.true_centre, expect["image_of_true_centre"], tolerance)
    for mine, theirs in ((got.touching, expect["tangent_points"]), (got.corners, expect["square_corners"])):
        for point, wanted in zip(mine, theirs, strict=True):
            close(point, wanted, tolerance)
    check_vanishing(got.normal, expect["normal_vp"], tolerance)
    if "conic_over_f" in expect:
        c = got.conic
        numbers = np.array([c[0, 0], 2 * c[0, 1], c[1, 1], 2 * c[0, 2], 2 * c[1, 2], c[2, 2]])
        numbers /= np.linalg.norm(numbers)
        wanted = np.array(expect["conic_over_f"])
        close(numbers * np.sign(numbers @ wanted), wanted, tolerance)
    if "centre" in expect:
        close(got.centre, expect["centre"], tolerance)
    if got.kind == "ellipse":
        close(got.semi_major, expect["semi_major"], tolerance)
        close(got.semi_minor, expect["semi_minor"], tolerance)
        close(got.degree, expect["degree"], tolerance)
        close(got.centre_offset, expect["centre_offset"], tolerance)
        close(got.major_angle, expect["major_angle_deg"], tolerance)
        close(got.deviation, expect["minor_axis_deviation_deg"], tolerance)
        close(got.widest, expect["widest_angle_deg"], tolerance)
        shape, good = rings_to_ellipses(
            eye, circle.centre[None], circle.radius * circle.first[None], circle.radius * circle.second[None]
        )
        assert good.all()
        close(
            shape[0, :4], [*expect["centre"], expect["semi_major"], expect["semi_minor"]], {"abs": 1e-5, "rel": 1e-8}
        )
    if got.kind == "hyperbola":
        close(got.semi_major, expect["semi_transverse"], tolerance)
        close(got.semi_minor, expect["semi_conjugate"], tolerance)
        close(got.major_angle, expect["transverse_angle_deg"], tolerance)
    if got.kind == "segment":
        ends = sorted(got.ends)
        close(ends, sorted(map(tuple, expect["ends"])), tolerance)


@pytest.mark.parametrize("case", cases("template"))
def test_the_best_template(case):
    given, expect, tolerance = case["given"], case["expect"], case["tolerance"]
    got = best_fit(given["semi_major"], given["semi_minor"], given["template_degrees"], given["template_majors"])
    close(got.exact, expect["exact_degree"], tolerance)
    best = expect["best"]
    close((got.degree, got.major, got.gap), (best["degree"], best["major"], best["distance"]), tolerance)
    assert sorted(got.equally_good) == sorted((float(d), float(m)) for d, m in expect["equally_good"])
    close(got.runner_up[2], expect["runner_up"]["distance"], tolerance)
    plain = expect["nearest_degree_and_nearest_major"]
    close(got.by_numbers, (plain["degree"], plain["major"], plain["distance"]), tolerance)
