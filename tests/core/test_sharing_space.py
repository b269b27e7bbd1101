"""Which volumes share space, asked of their shells: against places told from the files alone."""

from pathlib import Path

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.document.fresh import new_document
from isometron.document.store.files import load_document
from isometron.solve.drawing import solve
from isometron.volumes.box import Box
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.marks.holds import Measured
from isometron.volumes.relations import Mirror, Repeat
from isometron.volumes.shells.shared_space import common_space
from isometron.volumes.turned import Turned

DRAWN = Path(__file__).parents[1] / "cases" / "drawn"


def sharing(document):
    return [f for f in solve(document).findings if f.code == "sharing-space"]


@pytest.mark.parametrize("name", ["share_b_box_door_and_two_pockets_in_top", "share_c_cutbody_door"])
def test_a_post_that_stands_free_in_a_doorway_shares_none(name):
    document = load_document(DRAWN / f"{name}.isometron")
    assert sharing(document) == []
    wall, post = document.volumes
    # Moved into the jamb it does, so deep and there.
    jamb = msgspec.structs.replace(post, corner=(wall.corner[0] + 10.0, wall.corner[1] + 5.0, wall.corner[2] + 5.0))
    (found,) = sharing(msgspec.structs.replace(document, volumes=(wall, jamb)))
    assert found.figure > 1.0 and found.at is not None


def wall(**fields):
    """A wall with a doorway of 400 x 900 in its middle."""
    door = OpeningMark(
        face=2,
        at=(Measured(from_="start", mm=800.0, to="edge"), Measured(from_="start", mm=0.0, to="edge")),
        wide=400.0,
        high=900.0,
        goes="through",
    )
    return Box(id="wall", name="Wall", corner=(0.0, 0.0, 0.0), size=(2000.0, 200.0, 1500.0), marks=(door,), **fields)


@settings(max_examples=60)
@given(
    st.floats(500.0, 1400.0),
    st.floats(-150.0, 250.0),
    st.floats(20.0, 300.0),
    st.sampled_from([0.0, 30.0, 90.0]),
    st.sampled_from([0.0, 25.0]),
)
def test_a_box_beside_or_in_a_doorway_shares_what_the_places_in_it_share(x, y, size, turn, lean):
    post = Box(
        id="post",
        name="Post",
        corner=(round(x, 1), round(y, 1), 100.0),
        size=(round(size, 1), 60.0, 500.0),
        yaw_deg=turn,
    )
    body = msgspec.structs.replace(wall(), yaw_deg=lean)
    found = common_space(body, post, {})
    assert found is not None
    parts = (np.stack(np.meshgrid(*[np.linspace(0.001, 0.999, 23)] * 3), axis=-1)).reshape(-1, 3) * post.size
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    places = parts @ np.array([[c, s, 0.0], [-s, c, 0.0], [0.0, 0.0, 1.0]]) + post.corner
    c, s = np.cos(np.radians(lean)), np.sin(np.radians(lean))
    own = places @ np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])
    within = ((own > 0.0) & (own < (2000.0, 200.0, 1500.0))).all(axis=1)
    door = (own[:, 0] > 800.0) & (own[:, 0] < 1200.0) & (own[:, 2] < 900.0)
    if (within & ~door).any():
        assert found[0] > 0.0
        hit = own[within & ~door]
        assert (np.abs(found[1] - places[within & ~door].mean(axis=0)) < 400.0).all() and len(hit)
    elif found[0] > 0.0:
        assert found[0] < max(post.size) / 20.0, "thinner than the places are apart"


def test_copies_and_mirror_images_are_asked_where_they_stand():
    post = Box(id="post", name="Post", corner=(900.0, 50.0, 0.0), size=(60.0, 60.0, 500.0))
    assert common_space(wall(), post, {})[0] == 0.0
    row = msgspec.structs.replace(post, copies=(Repeat(along="long", count=3, pitch=200.0),))
    depth, middle = common_space(wall(), row, {})
    assert depth == pytest.approx(60.0) and middle == pytest.approx([1330.0, 80.0, 250.0])
    image = msgspec.structs.replace(post, corner=(-960.0, 50.0, 0.0), mirror=Mirror(across="long"))
    assert common_space(wall(), image, {})[0] == 0.0, "its image stands in the doorway"
    beside = msgspec.structs.replace(image, corner=(-760.0, 50.0, 0.0))
    assert common_space(wall(), beside, {})[0] == pytest.approx(60.0)


def test_a_plug_in_a_round_hole_shares_none_and_one_that_is_thicker_does():
    hole = OpeningMark(face=2, at=(0.5, 0.5), form="ring", wide=100.0, high=100.0, goes="through")
    plate = Box(id="plate", name="Plate", corner=(0.0, 0.0, 0.0), size=(300.0, 40.0, 300.0), marks=(hole,))
    for wide, shares in ((100.0, False), (130.0, True)):
        low = 150.0 - wide / 2.0
        plug = Turned(id="plug", name="Plug", corner=(low, -20.0, low), size=(wide, 80.0, wide), axle="wide")
        document = msgspec.structs.replace(new_document(), volumes=(plate, plug))
        assert bool(sharing(document)) is shares
