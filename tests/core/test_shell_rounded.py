"""Rounded edges of shells: on the rolled balls to the last digit, at walls, bows and in corners, hollow and cut open."""

import sys

import msgspec
import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from isometron.document.fresh import new_document
from isometron.geometry.shell.doubts import doubts
from isometron.geometry.shell.shell import ARC, FREE, STRAIGHT
from isometron.geometry.shell.united import missing_library
from isometron.solve.drawing import solve
from isometron.volumes.box import Box
from isometron.volumes.cut.profiles import CutBody, CutProfile, ProfileCorner
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.marks.holds import Measured
from isometron.volumes.shells.outside import chord_of
from isometron.volumes.shells.shells import shell_of
from tests.core.test_rounded_edges import PAIRS, SIZE, box, depth_in, edge, wedge
from tests.core.test_shell import at, sound, spots


def shell(volume, *, unrounded=()):
    found = shell_of(volume)
    assert found.refused == {} and set(found.unrounded) == set(unrounded), (found.refused, found.unrounded)
    sound(found.shell, chord_of(volume))
    return found.shell


def cut(corners, *rounded, size=SIZE, view="side", **fields):
    """A cut body of one outline; corners are (x, y) or (x, y, bow)."""
    made = tuple(
        ProfileCorner(n=k, at=(Measured(mm=c[0]), Measured(mm=c[1])), **({"bow": c[2]} if len(c) > 2 else {}))
        for k, c in enumerate(corners)
    )
    return CutBody(
        id="c",
        name="Cut",
        corner=(0.0, 0.0, 0.0),
        size=size,
        rounded=rounded,
        **{view: CutProfile(corners=made)},
        **fields,
    )


def curve_places(found):
    return np.concatenate([found.at(k, np.linspace(0.0, 1.0, 7)) for k in range(len(found.curve_kind))])


@settings(max_examples=40, suppress_health_check=list(HealthCheck))
@given(st.lists(st.sampled_from(PAIRS), min_size=1, max_size=12, unique=True), st.floats(5.0, 150.0), st.booleans())
def test_places_and_curves_lie_on_the_rolled_balls(pairs, radius, slanted):
    names = {0: "side.3", 1: "side.1", 2: "y0", 3: "y1", 4: "side.0", 5: "side.2"}
    rounded = [edge(*(names[f] if slanted else f for f in pair), radius) for pair in pairs]
    make = wedge if slanted else box
    sharp = set(shell_of(make(*rounded)).unrounded)
    volume = make(*(each for k, each in enumerate(rounded) if k not in sharp))
    assume(volume.rounded)
    found, depth = shell(volume), depth_in(volume, radius)
    assert np.abs(depth(np.concatenate([found.places, curve_places(found)]))).max() < 2e-6
    places = spots(-0.02, 1.02, (80, 3)) * SIZE
    deep = depth(places)
    clear = np.abs(deep) > 3.0 * chord_of(volume)
    assert (found.holds(places[clear]) == (deep[clear] > 0.0)).all()
    # Rounds run on into faces and balls; nothing free is left, and edges that meet anything sharply stay sharp.
    assert set(found.curve_kind.tolist()) <= {STRAIGHT, ARC}
    rounds = [k for k, name in enumerate(found.patch_name) if "+" in name]
    soft = np.abs(found.curve_turn) < 1e-6
    for k in rounds:
        mine = (found.curve_sides == k).any(axis=1)
        assert soft[mine].sum() >= (3 if found.patch_name[k].count("+") == 2 else 2)


def test_a_full_ball_in_every_corner_has_the_volume_of_the_textbook():
    rounded = [edge(*pair, 40.0) for pair in PAIRS]
    found = shell(box(*rounded))
    a, b, c, r = *SIZE, 40.0
    true = a * b * c - (1.0 - np.pi / 4.0) * r * r * 4.0 * (a + b + c - 6.0 * r) - 8.0 * r**3 * (1.0 - np.pi / 6.0)
    assert found.volume == pytest.approx(true, rel=1.5e-3)  # of chords, which lie within
    assert len(found.patch_name) == 26 and (np.abs(found.curve_turn) < 1e-6).all()


def test_a_radius_that_grows_is_a_cone_that_leans():
    volume = box(edge(1, 5, 20.0, 60.0))
    found = shell(volume)
    row = found.patch_name.index("x1+z1")
    mine = found.places[np.unique(found.rows[found.patch == row])]
    radius = 20.0 + 40.0 * mine[:, 1] / SIZE[1]
    away = np.hypot(mine[:, 0] - (SIZE[0] - radius), mine[:, 2] - (SIZE[2] - radius))
    assert np.abs(away - radius).max() < 1e-9
    arcs = np.flatnonzero((found.curve_sides == row).any(axis=1) & (found.curve_kind == ARC))
    assert sorted(np.linalg.norm(found.arcs[k, 3:6]) for k in arcs) == pytest.approx([20.0, 60.0])


def test_a_radius_that_grows_from_nothing_begins_in_its_corner():
    found = shell(box(edge(1, 5, 0.0, 60.0)))
    assert [900.0, 0.0, 500.0] in found.places.tolist()
    assert found.patch_name.count("x1+z1") == 1


CAR = ((0, 0), (900, 0), (900, 300), (600, 300), (450, 500), (0, 500))


def test_a_round_that_ends_at_a_wall_stops_there():
    """A bonnet's edge at the foot of a slanted screen: the screen is longer below the bonnet's level by what the round takes."""
    found = shell(cut(CAR, edge("side.2", "y0", 50.0)))
    sharp = shell(cut(CAR))
    # The screen's plane leans forward below the bonnet, 0.75 mm for each mm down: there the round ends sooner, on average as at the middle
    # of what it takes of the corner, (10 - 3 pi) / (12 - 3 pi) of its radius down. Chords take a little more than the round.
    down = 50.0 * (10.0 - 3.0 * np.pi) / (12.0 - 3.0 * np.pi)
    lost = (1.0 - np.pi / 4.0) * 50.0**2 * (300.0 - 0.75 * down)
    assert 0.0 < sharp.volume - found.volume - lost < 0.02 * lost
    screen = found.patch_name.index("side.3")
    low = found.places[np.unique(found.rows[found.patch == screen])][:, 2].min()
    assert low == pytest.approx(250.0)
    assert found.patch_name.count("side.3") == 1


def test_two_rounds_that_meet_at_a_wall_are_refused_and_one_stays():
    volume = cut(CAR, edge("side.2", "y0", 50.0), edge("side.3", "y0", 50.0))
    found = shell(volume, unrounded={1})
    assert "turn inwards" in shell_of(volume).unrounded[1]
    assert "side.2+y0" in found.patch_name


@pytest.mark.parametrize("bow", [0.3, -0.3])
def test_a_round_ends_on_a_bow(bow):
    """The front edge of a counter whose end is bowed: the round ends on the bow itself, in a curve that is on both."""
    corners = (
        ((0, 0), (900, 0, bow), (900, 600), (0, 600)) if bow > 0.0 else ((0, 0), (700, 0, bow), (700, 600), (0, 600))
    )
    corners = ((0, 0), (600, 0, bow), (600, 600), (0, 600))
    volume = cut(corners, edge("plan.0", "z1", 30.0), size=(900.0, 600.0, 200.0), view="plan")
    found = shell(volume)
    bowed = next(k for k, name in enumerate(found.patch_name) if name.startswith("plan.1"))
    rolled = found.patch_name.index("plan.0+z1")
    between = [k for k in range(len(found.curve_kind)) if set(found.curve_sides[k].tolist()) == {bowed, rolled}]
    assert len(between) == 1 and found.curve_kind[between[0]] == FREE
    places = found.at(between[0], np.linspace(0.0, 1.0, 9))
    assert np.abs(np.hypot(places[:, 1] - 30.0, places[:, 2] - 170.0) - 30.0).max() < 1e-9


def test_a_hollow_body_with_rounded_edges_and_openings_through_them():
    hole = OpeningMark(face=5, form="ring", wide=120.0, high=120.0, at=(at(840.0), at(350.0)), goes="through")
    slit = OpeningMark(
        face=1, form="rectangle", wide=200.0, high=500.0, at=(at(350.0), at(250.0)), goes="pocket", depth=15.0
    )
    volume = msgspec.structs.replace(
        box(edge(1, 5, 50.0), edge(3, 5, 50.0), edge(1, 3, 50.0)), wall=20.0, marks=(hole, slit)
    )
    found = shell(volume)
    assert doubts(found, chord_of(volume)) == []
    solid = depth_in(volume, 50.0)
    places = spots(0.0, 1.0, (400, 3)) * SIZE

    def inside(p):
        inner = ((p > 20.0) & (p < np.array(SIZE) - 20.0)).all(axis=1)
        ring = np.hypot(p[:, 0] - 840.0, p[:, 1] - 350.0) < 60.0
        slot = (np.abs(p[:, 1] - 350.0) < 100.0) & (p[:, 0] > SIZE[0] - 15.0)
        return (solid(p) > 0.0) & ~inner & ~ring & ~slot

    near = np.array([inside(places + off) for off in 2.0 * np.vstack([np.zeros(3), np.eye(3), -np.eye(3)])])
    clear = (near == near[0]).all(axis=0)
    assert (found.holds(places[clear]) == near[0][clear]).all()
    assert "x1+y1+z1" in found.patch_name


def test_what_cannot_be_rounded_stays_sharp_and_is_told():
    words = shell_of(box(edge(1, 5, 600.0), edge(0, 5, 10.0))).unrounded
    assert set(words) == {0} and "finds no room" in words[0]
    assert "not there now" in shell_of(wedge(edge("side.9", "y0", 10.0))).unrounded[0]
    frame_like = Box(id="b", name="b", corner=(0.0, 0.0, 0.0), size=(10.0, 10.0, 10.0), rounded=(edge(1, 5, 5.0), edge(0, 5, 5.0)))  # fmt: skip
    assert len(shell_of(frame_like).unrounded) == 1


def test_doubts_and_a_library_that_is_missing_are_told_in_words(monkeypatch):
    """Two rounds that nearly touch are doubtful, and Check says which body; without the library it is said at once, and nothing falls."""
    sound_one = msgspec.structs.replace(new_document(), volumes=(box(edge(1, 5, 40.0)),))
    assert "doubtful" not in {each.code for each in solve(sound_one).findings}
    monkeypatch.setattr("isometron.volumes.shells.shells.doubts", lambda shell, chord: ["A corner came out."])
    odd = msgspec.structs.replace(new_document(), volumes=(box(edge(1, 5, 41.0)),))
    told = [each for each in solve(odd).findings if each.code == "doubtful"]
    assert [each.volumes for each in told] == [("b",)] and "in doubt" in told[0].message

    monkeypatch.setitem(sys.modules, "manifold3d", None)
    monkeypatch.setattr("isometron.geometry.shell.united.find_spec", lambda name: None)
    found = shell_of(box(edge(1, 5, 42.0)))
    assert found.shell is None and "manifold3d" in found.refused[-3] and "./run demo" in missing_library()
    lost = msgspec.structs.replace(new_document(), volumes=(box(edge(1, 5, 43.0)),))
    assert any("manifold3d" in each.message for each in solve(lost).findings)
