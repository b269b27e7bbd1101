"""The visible part of each face: reference cases through documents, and points of faces against a ray caster."""

import json
from pathlib import Path

import msgspec
import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.demos.catalogue import demo
from isometron.document.fresh import new_document
from isometron.geometry.visible import picture_of_face, plane_to_plane, visible_parts
from isometron.solve.seen_faces import faces_standing, view_of
from isometron.view.eye import Eye
from isometron.volumes.box import Box
from isometron.volumes.building import scene_of
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile, view_size
from tests.core.test_cut_bodies import corner_of

CASES = json.loads((Path(__file__).parents[1] / "cases" / "visible_faces.json").read_text())["cases"]


def volume_of(number, item):
    fields = {k: item[k] for k in ("yaw_deg", "pitch_deg", "roll_deg")} | {
        "id": f"v{number}", "name": f"V{number}", "corner": tuple(item["corner"]), "size": tuple(item["size"])}  # fmt: skip
    if item["kind"] == "box":
        return Box(**fields)
    volume = CutBody(**fields)
    for view in VIEWS:
        outline = item.get(view)
        if outline:
            size = view_size(volume, view)
            corners = [corner_of(c, outline[(k + 1) % len(outline)], size) for k, c in enumerate(outline)]
            volume = msgspec.structs.replace(volume, **{view: CutProfile.through(corners)})
    return volume


def eye_of(view):
    return Eye(position=tuple(view["eye"]), yaw_deg=view["yaw_deg"], pitch_deg=view["pitch_deg"],
               viewing_distance=view["viewing_distance"])  # fmt: skip


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["id"])
def test_reference_cases(case):
    volumes = tuple(volume_of(n, item) for n, item in enumerate(case["given"]["items"]))
    eye = eye_of(case["given"]["view"])
    scene = scene_of(msgspec.structs.replace(new_document(), volumes=volumes).volumes)
    standing = faces_standing(scene)
    seen, view = standing.visible(eye), view_of(eye)
    close = {"abs": case["tolerance"]["abs"], "rel": case["tolerance"]["rel"]}
    for owner, expected in enumerate(case["expect"]["faces"]):
        rows = np.flatnonzero((standing.owner == owner) & standing.shown)
        own = [standing.faces[row] for row in rows]
        rotation, corner = scene.rotations[owner], np.array(volumes[owner].corner)
        left = list(range(len(rows)))
        for number, face in enumerate(expected):
            if "face" in face:
                normal, offset = np.zeros(3), 0.0
                axis, end = divmod(number, 2)
                normal[axis], offset = (1.0, volumes[owner].size[axis]) if end else (-1.0, 0.0)
            else:
                normal, offset = np.array(face["normal"]), face["offset"]
            alike = [
                n for n in left
                if np.allclose(own[n].outward @ rotation, normal, atol=1e-8)
                and abs(own[n].offset - own[n].outward @ corner - offset) < 1e-6
            ]  # fmt: skip
            areas = {n: picture_of_face(view, own[n]).area for n in alike}
            found = [n for n in alike if areas[n] == pytest.approx(face["picture_area"], **close)]
            assert found, "a face on that plane with that picture"
            left.remove(found[0])
            assert seen[rows[found[0]]].area == pytest.approx(face["visible_area"], **close)
        assert not left, "no face that is not there"


@st.composite
def heaps(draw):
    places = st.floats(-900, 900).map(lambda v: round(v, 1))
    sizes = st.floats(80, 700).map(lambda v: round(v, 1))
    angles = st.floats(-40, 40).map(lambda v: round(v, 1))
    return tuple(
        Box(id=f"b{n}", name=f"B{n}", corner=(draw(places), draw(places) + 3000.0, draw(places)),
            size=(draw(sizes), draw(sizes), draw(sizes)), yaw_deg=draw(angles), pitch_deg=draw(angles), roll_deg=draw(angles),
            see_through=draw(st.booleans()) if n else False)
        for n in range(draw(st.integers(2, 6)))
    )  # fmt: skip


@settings(max_examples=25, deadline=None, derandomize=True)
@given(heaps(), st.integers(0, 2**31))
def test_what_is_seen_of_a_face_is_what_no_solid_face_stands_before(volumes, seed):
    """Bodies may even stand in each other: sight lines through random points of each face meet a solid face before it or not."""
    eye = Eye(position=(0.0, 0.0, 400.0), viewing_distance=300.0)
    standing = faces_standing(scene_of(volumes))
    seen, view = standing.visible(eye), view_of(eye)
    rng = np.random.default_rng(seed)
    for row, face in enumerate(standing.faces):
        if not view.faces_eye(face):
            assert seen[row].is_empty
            continue
        weights = rng.dirichlet(np.ones(4), 12)
        places = weights @ face.rings[0]
        paper, _ = eye.project(places)
        for place, at in zip(places, paper, strict=True):
            before, close = caster(eye.place, place, standing, row)
            point = shapely.Point(at)
            if close or seen[row].boundary.distance(point) < 1e-4:
                continue
            assert seen[row].contains(point) != before


def caster(start, end, standing, own):
    """Whether a solid face that looks at the eye is met before ``end``; and whether that is close to call."""
    way, met, close = end - start, False, False
    for row, face in enumerate(standing.faces):
        if row == own or not standing.hides[row]:
            continue
        slope = way @ face.outward
        if slope >= 0.0:
            continue
        t = (face.offset - start @ face.outward) / slope
        place = start + t * way
        ring = face.rings[0]
        sides = np.roll(ring, -1, axis=0) - ring
        inward = np.cross(face.outward, sides)
        off = ((place - ring) * inward).sum(axis=1) / np.linalg.norm(inward, axis=1)
        close |= abs(t - 1.0) < 1e-6 or (t < 1.0 and abs(off.min()) < 1e-3)
        met |= 0.0 < t < 1.0 - 1e-9 and bool((off > 0.0).all())
    return met, close


@settings(max_examples=40, deadline=None, derandomize=True)
@given(st.integers(0, 2**31))
def test_a_plane_is_carried_from_one_eye_to_another(seed):
    rng = np.random.default_rng(seed)
    box = Box(id="b", name="B", corner=tuple(rng.uniform([-500, 2500, -500], [500, 3500, 500])), size=tuple(rng.uniform(100, 900, 3)),
              yaw_deg=float(rng.uniform(-90, 90)), pitch_deg=float(rng.uniform(-30, 30)))  # fmt: skip
    one = Eye(position=(0.0, 0.0, 500.0), yaw_deg=5.0, viewing_distance=250.0)
    other = Eye(position=(800.0, -300.0, 900.0), yaw_deg=14.0, pitch_deg=-4.0, roll_deg=3.0, viewing_distance=420.0)
    for face in faces_standing(scene_of((box,))).faces:
        carry = plane_to_plane(view_of(one), view_of(other), face)
        here, there = one.project(face.rings[0])[0], other.project(face.rings[0])[0]
        moved = np.column_stack([here, np.ones(len(here))]) @ carry.T
        assert moved[:, :2] / moved[:, 2:] == pytest.approx(there, abs=1e-6)


def test_nothing_at_all_is_seen_of_nothing():
    assert visible_parts(view_of(new_document().eye), []) == []


def test_round_bodies_show_as_they_are_and_their_boxes_hide_nothing():
    """The lantern's narrow faces cover its picture, and what stands in the corner of its box is seen."""
    body = demo("ember-lantern").volume("body")
    post = Box(id="post", name="Post", corner=(2.0, 2.0, 0.0), size=(6.0, 6.0, 200.0))
    eye = Eye(position=(-300.0, -1500.0, 520.0), yaw_deg=-13.0, pitch_deg=-12.0, viewing_distance=400.0)
    standing = faces_standing(scene_of((body, post)))
    seen = standing.visible(eye)
    areas = [sum(part.area for part, owner in zip(seen, standing.owner, strict=True) if owner == n) for n in (0, 1)]
    alone = faces_standing(scene_of((post,))).visible(eye)
    assert areas[1] == pytest.approx(sum(part.area for part in alone)), (
        "the post stands beside the body, inside its box"
    )
    outline = shapely.union_all([part for part, owner in zip(seen, standing.owner, strict=True) if owner == 0])
    assert outline.area == pytest.approx(areas[0], rel=1e-3), "no part is shown twice"
    turn = np.linspace(0.0, 2.0 * np.pi, 400)
    rim, _ = eye.project(
        np.column_stack([90.0 + 90.0 * np.cos(turn), 90.0 + 90.0 * np.sin(turn), np.full(400, 10.0)])
    )
    wide = np.ptp(rim[:, 0])
    assert outline.bounds[0] == pytest.approx(rim[:, 0].min(), abs=0.015 * wide), "as far out as its widest ring"
    assert outline.bounds[2] == pytest.approx(rim[:, 0].max(), abs=0.015 * wide)
