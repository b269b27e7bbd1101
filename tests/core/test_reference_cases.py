"""The reference cases, computed independently to 50 digits, through the public interface of the core."""

import json
from pathlib import Path

import numpy as np
import pytest

from isometron.construct.by_eye import cube_corners, judged
from isometron.construct.schools import construct
from isometron.document.model import Document
from isometron.geometry.frames import box_rotation
from isometron.geometry.hiding import hidden_interval
from isometron.view.division import equal_parts, on_edge, on_paper, row_places
from isometron.view.eye import Eye
from isometron.view.heights import transfer_height
from isometron.view.placing import place_eye
from isometron.view.recover import NoEye, eye_from_three, eye_from_two, triangle_angles
from isometron.view.ring_picture import Circle, ring_picture, rings_to_ellipses
from isometron.view.sheet import Sheet
from isometron.view.templates import best_fit
from isometron.view.vanishing import box_vanishing, horizon, level_points, vanishing
from isometron.volumes.box import Box
from isometron.volumes.building import build_scene

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


@pytest.mark.parametrize("case", cases("divide"))
def test_divide(case):
    given, expect = case["given"], case["expect"]
    if given["op"] == "divide":
        places = equal_parts(given["parts"])
    elif given["op"] == "repeat":
        places = row_places(given["copies"] + 1, given["gap_ratio"]).reshape(-1)
    else:
        places = np.array(given["at"])
    if given["form"] == "world":
        points = on_edge(eye_of(given["view"]), given["start"], given["end"], places)
    else:
        points = on_paper(given["start"], given["vp"], given["end_fraction"], places)
    wanted = expect["points"] if "points" in expect else [end for copy in expect["copies"] for end in copy]
    assert len(wanted) == len(points)
    for got, told in zip(points, wanted, strict=True):
        close(None if np.isnan(got).any() else got, told, case["tolerance"])


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
    points = level_points(eye, rotation)
    assert (points is not None) == ("points_case" in expect)
    if points is None:
        return
    assert points.case == expect["points_case"]
    close(points.station, expect["station_rabatted"], tolerance)
    close(points.distance_points, expect.get("distance_points_u"), tolerance)
    for name, key in {
        "right": "vp_right_u",
        "left": "vp_left_u",
        "diagonal_between": "diagonal_vp_between_u",
        "diagonal_outside": "diagonal_vp_outside_u",
        "measuring_right": "measuring_point_of_right_vp_u",
        "measuring_left": "measuring_point_of_left_vp_u",
    }.items():
        close(getattr(points, name), expect.get(key), tolerance)


@pytest.mark.parametrize("case", cases("occlusion"))
def test_hidden_interval(case):
    given = case["given"]
    box = Box(
        id="b",
        name="b",
        corner=tuple(given["box"]["corner"]),
        size=tuple(given["box"]["size"]),
        **{key: given["box"][key] for key in ("yaw_deg", "pitch_deg", "roll_deg")},
    )
    got = hidden_interval(build_scene((box,)).bodies, given["eye"], *given["segment"])
    close(got, case["expect"]["hidden"], case["tolerance"])


@pytest.mark.parametrize("case", cases("height"))
def test_height_transfer(case):
    given, expect, tolerance = case["given"], case["expect"], case["tolerance"]
    if given["form"] == "paper":
        horizon_v, eye_height = given["horizon_v"], given["eye_height"]
        feet_and_top = [tuple(given[key]) for key in ("base_1", "top_1", "base_2")]
    else:
        eye, up = eye_of(given["view"]), np.array([0, 0, given["height"]])
        bases = np.array([given["base_1"], given["base_2"]])
        places = np.vstack([bases, bases + up])
        paper, depth = eye.project(places)
        for got, key in zip(paper, ("base_1", "base_2", "top_1", "top_2"), strict=True):
            close(got, expect[key], tolerance)
        horizon_v, eye_height = horizon(eye).height_at(0.0), given["view"]["eye"][2]
        close(horizon_v, expect["horizon_v"], tolerance)
        close(given["height"] / eye_height, expect["height_over_eye_height"], tolerance)
        check_vanishing(vanishing(eye, up), expect["vertical_vp"], tolerance)
        if "scale_2_over_1" in expect:
            close(depth[0] / depth[1], expect["scale_2_over_1"], tolerance)
        if given["view"]["pitch_deg"] != 0.0:
            return
        feet_and_top = [tuple(paper[0]), tuple(paper[2]), tuple(paper[1])]
    got = transfer_height(horizon_v, eye_height, *feet_and_top)
    close(got.ratio, expect["height_over_eye_height"], tolerance)
    close(got.top, expect["top_2"], {"abs": 1e-6, "rel": 1e-9})
    if "true_height" in expect:
        close(got.true_height, expect["true_height"], tolerance)
        close(got.paper_height, expect["paper_height_2"], tolerance)


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
        for name, key in (("b", "right"), ("c", "left"), ("d", "back")):
            close(spots[name].u, case["expect"]["picture_line_crossings_u"][key], case["tolerance"])


@pytest.mark.parametrize("case", cases("measure_back"))
def test_what_a_box_drawn_by_eye_means(case):
    given, expect = case["given"], case["expect"]
    points = (given["vp_right_u"], 0.0), (given["vp_left_u"], 0.0)
    bottom, top = tuple(given["near_bottom"]), tuple(given["near_top"])
    f = given["viewing_distance"]
    got = judged(f, *points, bottom, top, given["right_fraction"], given["left_fraction"])
    close(got.left, expect["left_over_height"], case["tolerance"])
    close(got.right, expect["right_over_height"], case["tolerance"])
    close(got.left / got.right, expect["left_over_right"], case["tolerance"])
    for name, at in expect["cube_corners"].items():
        close(cube_corners(f, *points, bottom, top)[name.replace("_", " ")], at, case["tolerance"])


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
