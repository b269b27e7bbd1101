"""From a ring on paper to the wheel in space: the cases computed apart, and there and back."""

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from isometron.view.placing import place_eye
from isometron.view.ring_picture import Circle, ring_picture
from isometron.view.ring_to_wheel import WantedRing, circles_of, standing_wheel
from tests.core.test_reference_cases import cases, close, eye_of


@pytest.mark.parametrize("case", cases("wheel_from_ring"))
def test_which_wheel_a_ring_is(case):
    given, expect, tolerance = case["given"], case["expect"], case["tolerance"]
    eye = eye_of(given["view"])
    if "ellipse" in given:
        own = given["ellipse"]
        ring = WantedRing(tuple(own["centre"]), own["semi_major"], own["semi_minor"], own["angle_deg"] + 90.0)
        found = circles_of(eye, ring, given["diameter"])
        assert len(found) == len(expect["circles"])
        for circle in expect["circles"]:
            centre, normal = min(
                found, key=lambda f: np.abs(f[0] - circle["centre"]).max() + np.abs(f[1] - circle["normal"]).max()
            )
            close(centre.tolist(), circle["centre"], tolerance)
            close(normal.tolist(), circle["normal"], tolerance)
        return
    minor = given["semi_major"] * np.sin(np.radians(given["degree"]))
    wheel = standing_wheel(
        eye, WantedRing(tuple(given["centre"]), given["semi_major"], minor, given["minor_axis_deg"])
    )
    got = {
        "axle_azimuth_deg": wheel.axle_azimuth_deg, "diameter": wheel.diameter, "contact": wheel.contact.tolist(),
        "degree_residual": wheel.degree_off, "axis_residual": wheel.axis_off, "sum_of_squares": wheel.sum_of_squares,
    }  # fmt: skip
    for key, want in expect.items():
        close(got[key], want, tolerance)


@settings(max_examples=25, deadline=None, derandomize=True)
@given(st.floats(-1500, 1500), st.floats(-500, 2000), st.floats(150, 600), st.floats(5, 175), st.floats(400, 2500))
def test_the_ring_of_a_standing_wheel_gives_the_wheel_back(x, y, radius, azimuth, height):
    eye = place_eye(height=height, away=4000.0, turn_deg=10.0, viewing_distance=400.0)
    axle = np.array([np.cos(np.radians(azimuth)), np.sin(np.radians(azimuth)), 0.0])
    picture = ring_picture(eye, Circle.of((x, y, radius), radius, axle, (0.0, 0.0, 1.0)))
    assume(picture.kind == "ellipse" and 0.1 < picture.semi_minor / picture.semi_major < 0.95)
    ring = WantedRing(picture.centre, picture.semi_major, picture.semi_minor, picture.major_angle + 90.0)
    wheel = standing_wheel(eye, ring)
    assert wheel is not None and wheel.sum_of_squares < 1e-12
    circles = circles_of(eye, ring, 2 * radius)
    assert min(np.abs(centre - (x, y, radius)).max() for centre, _ in circles) < 1e-5 * radius
    # Where two standing wheels have the same picture either will do.
    there = circles_of(eye, ring, wheel.diameter)
    centre = wheel.contact + np.array([0.0, 0.0, wheel.diameter / 2])
    assert min(np.abs(place - centre).max() for place, _ in there) < 1e-5 * wheel.diameter
    assert max(abs(normal @ wheel.axle) for _, normal in there) == pytest.approx(1.0, abs=1e-9)
