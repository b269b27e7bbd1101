"""Pulls are measured where the hand goes: near edge, far edge and all between agree."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from isometron.tools.base import Base
from isometron.tools.on_base import length_on_base, nearest_edge
from isometron.tools.pencil import Act, Pencil
from isometron.tools.pulls import Pull
from isometron.view.placing import place_eye

BASE = Base(np.array([100.0, 50.0, 0.0]), np.eye(3), (0.0, 0.0, 0.0), 2, 1.0, None)
eyes = st.builds(
    lambda height, turn: place_eye(height=height, away=6000.0, turn_deg=turn, viewing_distance=450.0),
    st.floats(700.0, 3000.0), st.floats(-60.0, 60.0),
)  # fmt: skip


def at(eye, place):
    return Pencil(Act.MOVE, *map(float, eye.project(place)[0][0]))


@given(eyes, st.sampled_from([900.0, -700.0]), st.floats(-1500.0, 1500.0), st.floats(-0.5, 1.5))
def test_a_second_pull_counts_the_same_along_every_line_of_its_direction(eye, first, length, aside):
    """Wherever the hand goes beside the block, at the same depth of its second direction it gets the same length."""
    done = [Pull(0, first)]
    place = BASE.place + np.array([first * aside, length, 0.0])
    assume(eye.to_camera(place)[0, 2] > 500.0)
    assert length_on_base(eye, BASE, done, 1, at(eye, place)) == pytest.approx(length, abs=1e-6)


def test_near_the_horizon_of_the_base_the_nearest_edge_counts():
    eye = place_eye(height=60.0, away=6000.0, turn_deg=30.0, viewing_distance=450.0)  # the ground is all but on edge
    done = [Pull(0, 900.0)]
    for start in (BASE.place, BASE.place + np.array([900.0, 0.0, 0.0])):
        pencil = at(eye, start + np.array([0.0, 400.0, 0.0]))
        assert length_on_base(eye, BASE, done, 1, pencil) == pytest.approx(400.0, rel=0.02)
    beyond = Pencil(Act.MOVE, 40.0, 30.0)
    assert np.isfinite(length_on_base(eye, BASE, done, 1, beyond))


@given(eyes, st.integers(0, 3))
def test_the_third_pull_counts_along_the_edge_that_it_sets_off_beside(eye, corner):
    done = [Pull(0, 900.0), Pull(1, 600.0)]
    corners = [BASE.place + np.array([x, y, 0.0]) for x in (0.0, 900.0) for y in (0.0, 600.0)]
    paper = np.array([eye.project(c)[0][0] for c in corners])
    assume(np.abs(np.diff(np.sort(paper[:, 0]))).min() > 1.0)
    pencil = at(eye, corners[corner] + np.array([0.0, 0.0, 20.0]))
    assert np.allclose(nearest_edge(eye, BASE, done, pencil), corners[corner])
