"""Wishes for the view over random objects, and the words the program says about eyes and levels."""

import msgspec
import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from isometron.document.edits import add_volume
from isometron.document.eyes.eye_edits import lift_horizon, pivot, raise_eye, tilt_view, turn_object
from isometron.document.eyes.eye_setting import (
    anchor_at,
    by_two_points,
    facing_axes,
    leading_edge,
    placed,
    points_on_sheet,
    rotation_of,
)
from isometron.document.eyes.eye_wishes import (
    FARTHEST,
    Showing,
    fit_sheet_part,
    horizon_preset,
    make_points,
    showing,
    step_back_until_inside,
    wished_view,
)
from isometron.document.fresh import new_document
from isometron.document.model import Document, DocumentError
from isometron.solve.drawing import solve
from isometron.solve.showing import level_words, visible_faces
from isometron.view.cone import outside_cone
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.view.vanishing import vanishing
from isometron.volumes.box import Box
from isometron.volumes.building import scene_of


@st.composite
def setups(draw):
    eye = place_eye(
        height=draw(st.floats(400, 3000)),
        away=draw(st.floats(3500, 8000)),
        turn_deg=draw(st.floats(10, 80)),
        viewing_distance=draw(st.floats(250, 800)),
    )
    sizes = [draw(st.floats(200, 1500)) for _ in range(3)]
    corner = (draw(st.floats(-600, 0)), draw(st.floats(-400, 0)), draw(st.sampled_from([0.0, 300.0])))
    box = Box(id="box", name="Box", corner=corner, size=tuple(sizes))
    return Document(sheet=sheet_with_horizon(eye, 420.0, 297.0, 150.0), eye=eye, volumes=(box,))


def drawn(document):
    return document.eye.project(scene_of(document.volumes).vertices)[0] + document.sheet.centre_of_vision


@given(setups(), st.floats(-60, 60), st.floats(-35, 35), st.floats(150, 900))
def test_an_anchor_stays_where_it_is_and_as_large(document, yaw, pitch, f):
    corner = scene_of(document.volumes).vertices[3]
    anchor = anchor_at(document, corner)
    done = placed(document, "x", anchor, yaw_deg=yaw, pitch_deg=pitch, viewing_distance=f).document
    again = anchor_at(done, corner)
    assert again.on_sheet == pytest.approx(anchor.on_sheet, abs=1e-5)
    assert again.scale == pytest.approx(anchor.scale, rel=1e-6)
    assert (done.eye.yaw_deg, done.eye.pitch_deg, done.eye.viewing_distance) == pytest.approx((yaw, pitch, f))


@given(setups())
def test_directions_are_told_right_left_and_upright(document):
    rotation = rotation_of(document, 0)
    right, left, up = facing_axes(document.eye, rotation)
    assert {right, left, up} == {0, 1, 2} and up == 2
    at_right, at_left = (vanishing(document.eye, rotation[:, k]).at for k in (right, left))
    assert at_left[0] < 0.0 < at_right[0]
    foot, top = leading_edge(document, 0)
    assert top[2] - foot[2] == pytest.approx(document.volumes[0].size[2])
    depth = document.eye.to_camera(scene_of(document.volumes).vertices)[:, 2]
    assert document.eye.to_camera(foot)[0, 2] == pytest.approx(depth.min())


@given(setups(), st.floats(80, 340), st.floats(80, 340))
def test_two_points_lie_where_they_were_placed(document, left, right):
    centre = document.sheet.centre_of_vision[0]
    done = by_two_points(document, 0, centre - left, centre + right).document
    found = sorted(at[0] for at in points_on_sheet(done, 0)[:2])
    assert found == pytest.approx([centre - left, centre + right], abs=1e-6)
    assert done.eye.viewing_distance == pytest.approx(np.sqrt(left * right))
    assert done.eye.position[2] == pytest.approx(document.eye.position[2], abs=1e-4), "the eye keeps its height"


@given(setups(), st.sampled_from([0.3, 0.75, 1.0]), st.floats(0, 60), st.sampled_from(["perspective", "distance"]))
def test_whatever_is_fitted_lies_inside_the_margins(document, part, margin, keep):
    try:
        done = fit_sheet_part(document, part, margin, keep=keep).document
    except DocumentError as error:
        assert keep == "distance" and ("No step nearer or back" in str(error) or "Press By scale" in str(error))
        return
    vertices = scene_of(done.volumes).vertices
    if keep == "distance":
        size = np.linalg.norm(np.ptp(vertices, axis=0))
        assert np.linalg.norm(done.eye.place - pivot(done)) <= FARTHEST * size
    paper = drawn(done)
    assert (paper >= margin - 1e-4).all()
    assert (paper <= np.array([420.0, 297.0]) - margin + 1e-4).all()
    share = np.ptp(paper, axis=0) / (np.array([420.0, 297.0]) - 2 * margin)
    assert share.max() == pytest.approx(part, rel=1e-5)


@given(setups(), st.floats(10, 50))
def test_stepping_back_ends_inside_the_cone_at_the_same_size(document, cone):
    document = msgspec.structs.replace(document, eye=msgspec.structs.replace(document.eye, cone_deg=cone))
    try:
        done = step_back_until_inside(document).document
    except DocumentError as error:
        assert "already" in str(error) or "Move it nearer" in str(error)
        return
    paper = done.eye.project(scene_of(done.volumes).vertices)[0]
    assert not outside_cone(done.eye, paper).any()
    assert done.eye.viewing_distance > document.eye.viewing_distance
    middle = (scene_of(document.volumes).vertices.min(axis=0) + scene_of(document.volumes).vertices.max(axis=0)) / 2
    assert anchor_at(done, middle).scale == pytest.approx(anchor_at(document, middle).scale, rel=1e-6)


@given(setups())
def test_how_an_object_shows_agrees_with_its_corners(document):
    shown = showing(document, 0)
    assume(shown is not None)
    assert 0.0 < shown.right < 1.0 and 0.0 < shown.back < 1.0
    faces = visible_faces(solve(document), 0)
    assert (5 in faces) == (shown.top > 1e-9) or document.eye.position[2] == pytest.approx(
        document.volumes[0].size[2]
    )
    words = level_words(solve(document), 0)
    assert ("its top shows" in words) == (5 in faces) and ("its underside shows" in words) == (4 in faces)


def test_a_wish_near_what_shows_already_moves_the_eye_little():
    eye = place_eye(height=1500.0, away=5000.0, turn_deg=35.0, viewing_distance=500.0)
    box = Box(id="box", name="Box", corner=(-500.0, -300.0, 0.0), size=(1000.0, 600.0, 500.0))
    document = Document(sheet=sheet_with_horizon(eye, 420.0, 297.0, 180.0), eye=eye, volumes=(box,))
    now = showing(document, 0)
    done = wished_view(document, 0, Showing(now.right + 0.02, now.top, now.back)).document
    assert done.eye.yaw_deg == pytest.approx(eye.yaw_deg, abs=4.0)
    assert done.eye.position[2] == pytest.approx(1500.0, rel=0.1)
    from_below = wished_view(document, 0, Showing(now.right, -0.2, now.back)).document
    assert from_below.eye.position[2] < 0.0, "an underside shows only from below"


@pytest.mark.parametrize("part", [0.0, 0.5, 1.0])
def test_the_horizon_goes_where_it_is_put_and_the_object_with_it(part):
    eye = place_eye(height=1500.0, away=5000.0, turn_deg=35.0, viewing_distance=500.0)
    box = Box(id="box", name="Box", corner=(0.0, 0.0, 0.0), size=(900.0, 600.0, 500.0))
    document = Document(sheet=sheet_with_horizon(eye, 420.0, 297.0, 180.0), eye=eye, volumes=(box,))
    done = horizon_preset(document, part).document
    shift = drawn(done) - drawn(document)
    assert np.allclose(shift, shift[0], atol=1e-9) and done.eye == document.eye
    assert shift[0, 1] == pytest.approx(part * 297.0 - 180.0, abs=0.01)


def test_making_points_changes_no_more_than_it_must():
    eye = place_eye(height=1500.0, away=5000.0, turn_deg=35.0, viewing_distance=500.0)
    box = Box(id="box", name="Box", corner=(0.0, 0.0, 0.0), size=(900.0, 600.0, 500.0))
    document = Document(sheet=sheet_with_horizon(eye, 420.0, 297.0, 180.0), eye=eye, volumes=(box,))
    three = make_points(document, 3).document
    assert three.eye.yaw_deg == document.eye.yaw_deg and three.eye.pitch_deg != 0.0
    assert make_points(three, 2).document.eye.pitch_deg == 0.0
    assert three.eye.pitch_deg < 0.0, "down at what stands on the ground"
    tower = Box(id="t", name="Tower", corner=(0.0, 0.0, 0.0), size=(4000.0, 4000.0, 20000.0))
    assert make_points(add_volume(new_document(), tower).document, 3).document.eye.pitch_deg > 0.0, "up at a tower"
    one = make_points(document, 1).document
    assert abs(one.eye.yaw_deg) % 90.0 == 0.0 and one.eye.position[2] == 1500.0
    assert make_points(turn_object(document, 90.0).document, 2).document.eye.yaw_deg % 90.0 != 0.0
    assert make_points(tilt_view(one, -10.0).document, 1).document.eye.pitch_deg == 0.0


@given(setups(), st.floats(-40, 40).filter(lambda by: abs(by) > 0.5))
def test_lifting_the_horizon_lifts_the_eye_and_lowers_nothing_else(document, by):
    done = lift_horizon(document, by).document
    assert np.sign(done.eye.position[2] - document.eye.position[2]) in (0.0, np.sign(by))
    assert raise_eye(done, document.eye.position[2]).document.eye.position == document.eye.position
