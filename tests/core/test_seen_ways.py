"""Directions in the words of somebody who looks at the sheet, and what stands at four corners."""

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.document.edits import add_volume
from isometron.document.fresh import new_document
from isometron.document.model import DocumentError
from isometron.document.shapes.at_corners import stand_at_four
from isometron.solve.seen_ways import seen_side, seen_way
from isometron.view.placing import place_eye
from isometron.volumes.box import Box, box_corners
from isometron.volumes.copies import copies_of

parts = st.floats(-1.0, 1.0)


@given(turn=st.floats(5.0, 85.0), height=st.floats(200.0, 4000.0), way=st.tuples(parts, parts, parts))
def test_a_way_is_said_as_a_short_step_along_it_is_drawn(turn, height, way):
    eye = place_eye(height=height, away=6000.0, turn_deg=turn, viewing_distance=500.0)
    place, way = np.array([300.0, 400.0, 0.0]), np.array(way)
    if np.linalg.norm(way) < 0.1:
        return
    (one, other), depth = eye.project(np.vstack([place, place + 1e-3 * way]))
    du, dv = other - one
    words = seen_way(eye, place, way)
    if np.hypot(du, dv) < 1e-9 * depth[0]:
        return
    angle = np.degrees(np.arctan2(dv, du)) % 360.0
    said = {"to the right": 0, "to the upper right": 45, "upwards": 90, "to the upper left": 135, "to the left": 180,
            "to the lower left": 225, "downwards": 270, "to the lower right": 315}[words]  # fmt: skip
    assert abs((angle - said + 180.0) % 360.0 - 180.0) <= (15.5 if said % 90 == 0 else 31.0)


def test_a_way_along_the_sight_line_is_away_or_towards():
    eye = place_eye(height=1500.0, away=6000.0, turn_deg=30.0, viewing_distance=500.0)
    place = np.array([100.0, 200.0, 300.0])
    ray = place - eye.place
    assert seen_way(eye, place, ray) == "away from you" and seen_way(eye, place, -ray) == "towards you"
    box = Box(id="b", name="B", corner=(0.0, 0.0, 0.0), size=(900.0, 500.0, 400.0))
    assert seen_side(eye, box, 2, 1) == "upwards" and seen_side(eye, box, 0, 0) != seen_side(eye, box, 0, 1)


@given(
    yaw=st.sampled_from([0.0, 90.0, 180.0, 270.0]),
    turned=st.sampled_from([0.0, 90.0, 180.0]),
    at=st.tuples(st.floats(0.02, 0.4), st.floats(0.02, 0.4)),
)
def test_four_legs_stand_alike_at_all_corners_of_the_seat(yaw, turned, at):
    seat = Box(id="seat", name="Seat", corner=(300.0, -200.0, 440.0), size=(480.0, 420.0, 40.0), yaw_deg=yaw)
    corners, rotations = box_corners([seat])
    foot = corners[0, 0] + rotations[0] @ (np.array([at[0] * 420.0, at[1] * 360.0, -440.0]))
    leg = Box(
        id="leg",
        name="Leg",
        corner=tuple(float(x) for x in foot),
        size=(40.0, 30.0, 440.0),
        yaw_deg=(yaw + turned) % 360.0,
    )
    document = add_volume(add_volume(new_document(), seat).document, leg).document
    done = stand_at_four(document, ["leg"], "seat").document.volume("leg")
    legs = np.array(
        [
            (box_corners([copy])[0][0].mean(axis=0) - corners[0].mean(axis=0)) @ rotations[0]
            for copy in copies_of(done, dict)
        ]
    )
    assert len(legs) == 4
    assert np.allclose(legs.mean(axis=0)[:2], 0.0, atol=1e-5), "about the middle of the seat"
    assert np.allclose(np.abs(legs), np.abs(legs[0]), atol=1e-5)


def test_what_cannot_stand_at_four_corners_says_why():
    seat = Box(id="seat", name="Seat", corner=(0.0, 0.0, 440.0), size=(480.0, 420.0, 40.0))
    leg = Box(id="leg", name="Leg", corner=(10.0, 10.0, 0.0), size=(40.0, 30.0, 440.0))
    turned = msgspec.structs.replace(leg, yaw_deg=20.0)
    middle = msgspec.structs.replace(leg, corner=(220.0, 10.0, 0.0))
    for volume, words in ((turned, "is turned against Seat"), (middle, "stands in the middle of Seat")):
        document = add_volume(add_volume(new_document(), seat).document, volume).document
        with pytest.raises(DocumentError, match=words):
            stand_at_four(document, ["leg"], "seat")
    with pytest.raises(DocumentError, match="Select what"):
        stand_at_four(add_volume(new_document(), seat).document, ["seat"], "seat")
