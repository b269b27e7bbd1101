"""Shells of volumes: closed, exact, with the kind's own names; against solids told from the file format alone, and against what is drawn today."""

import json

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.document.fresh import new_document
from isometron.document.store.files import encode_document
from isometron.geometry.outlines import Bend, Outline, cut_rectangle
from isometron.geometry.shell.curves import cubics
from isometron.geometry.shell.doubts import doubts
from isometron.geometry.shell.near import with_finer_rounds
from isometron.geometry.shell.parts import block
from isometron.geometry.shell.prisms import Prism
from isometron.geometry.shell.restored import restored
from isometron.geometry.shell.shell import ARC, FREE, STRAIGHT
from isometron.geometry.shell.spun import Side, Spun
from isometron.geometry.shell.united import Put, put_together, united
from isometron.volumes.box import Box
from isometron.volumes.cut.faces import side_names
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile, ProfileCorner
from isometron.volumes.kinds import kind_of, own_faces, own_sides
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.marks.holds import Apart, Measured
from isometron.volumes.openings.solids import is_carved, opened_solids
from isometron.volumes.shells.outside import chord_of
from isometron.volumes.shells.shape import shape_of
from isometron.volumes.shells.shells import shell_of
from isometron.volumes.turned import Turned
from tests.kept_drawings import DOCUMENTS
from tests.ray_caster import _opened, own_depth
from tests.strategies import rounds, shaped

NAMES = ("x0", "x1", "y0", "y1", "z0", "z1")


def spots(low, high, shape):
    """The same places every time."""
    return np.random.default_rng(4).uniform(low, high, shape)


def told(volume):
    """A volume as its file tells it, by the independent caster: how deep places (N, 3) of its own coordinates lie in it."""
    document = msgspec.structs.replace(new_document(), volumes=(volume,))
    text = json.loads(encode_document(document))["volumes"][0]
    return _opened(text, np.array(text["size"]), own_depth(text))


def sound(shell, chord):
    """Closed, each curve gone once each way, both patches beside it where it says, all its places on its surfaces."""
    assert doubts(shell, chord) == []
    ways = np.zeros((len(shell.curve_kind), 2), dtype=int)
    np.add.at(ways, (shell.loop_curve, shell.loop_forward.astype(int)), 1)
    assert (ways == 1).all()
    own = np.repeat(shell.loop_patch, np.diff(shell.loop_first))
    beside = shell.curve_sides[shell.loop_curve, np.where(shell.loop_forward, 0, 1)]
    assert (own == beside).all()
    for number in range(len(shell.curve_kind)):
        places = shell.at(number, np.linspace(0.0, 1.0, 9))
        for surface in shell.patch_surface[shell.curve_sides[number]]:
            f, _ = shell.surfaces.at(np.full(len(places), surface), places)
            assert np.abs(f).max() < 1e-6


def against(volume, within):
    """Compare a volume's shell with what its file tells: its places and curves lie on the body, and it holds what the body holds."""
    found = shell_of(volume)
    shell, chord = found.shell, chord_of(volume)
    assert shell is not None and found.refused == {}, found.refused
    sound(shell, chord)
    depth = told(msgspec.structs.replace(shape_of(volume), id="v", name="v"))
    curves = [shell.at(k, np.linspace(0.0, 1.0, 7)) for k in range(len(shell.curve_kind))]
    assert np.abs(depth(np.concatenate([shell.places, *curves]))).max() < within
    size = np.array(volume.size)
    places = spots(-0.05, 1.05, (60, 3)) * size
    deep = depth(places)
    clear = np.abs(deep) > 3.0 * chord
    assert (shell.holds(places[clear]) == (deep[clear] > 0.0)).all()
    return shell


def bare(volume):
    return msgspec.structs.replace(volume, marks=(), copies=(), mirror=None, wall=0.0, rounded=())


@settings(max_examples=40)
@given(shaped(kinds=("box", "leaning", "corners", "counted", "frame", "cut")))
def test_cut_bodies_boxes_and_frames_are_what_their_files_tell(volume):
    volume = bare(volume)
    if any(shape_of(volume).size[k] < 1.0 for k in range(3)):
        return
    against(volume, 0.02 + 1e-4 * max(volume.size))  # the caster's rounds are chords


@settings(max_examples=40)
@given(rounds())
def test_turned_bodies_of_any_profile_are_what_their_files_tell(volume):
    volume = bare(volume)
    found = shell_of(volume)
    if found.shell is None:
        assert "no width" in found.refused[-3]
        return
    sound(found.shell, chord_of(volume))
    depth = told(msgspec.structs.replace(shape_of(volume), id="v", name="v"))
    places = spots(0.0, 1.0, (60, 3)) * volume.size
    # How deep a place lies is told by the width there: beside a flat step that is not how near the surface is.
    clear = np.array(
        [min(abs(depth(place + off)[0]) for off in _around(volume)) for place in places[:, None]]
    ) > 3.0 * chord_of(volume)
    same = np.array(
        [len({bool(depth(place + off)[0] > 0.0) for off in _around(volume)}) == 1 for place in places[:, None]]
    )
    clear &= same
    assert (found.shell.holds(places[clear]) == (depth(places[clear]) > 0.0)).all()


def _around(volume):
    """Steps along each axis, so far that no chord reaches across them."""
    far = 4.0 * chord_of(volume)
    return [np.zeros(3), *(sign * far * way for way in np.eye(3) for sign in (1.0, -1.0))]


def at(mm):
    return Measured(from_="start", mm=mm, to="middle")


lengths = st.floats(20.0, 120.0).map(round)


@st.composite
def opened_boxes(draw):
    """A box or a hollow one with openings of every form that the caster tells, overlapping and flush ones among them."""
    size = tuple(draw(st.sampled_from([300.0, 400.0, 520.0])) for _ in range(3))
    holes, wall = [], draw(st.sampled_from([0.0, 20.0]))
    for _ in range(draw(st.integers(1, 4))):
        form = draw(st.sampled_from(["rectangle", "ring", "half-round"]))
        wide = float(draw(lengths))
        holes.append(
            OpeningMark(
                face=draw(st.integers(0, 3 if form == "half-round" else 5)),
                form=form,
                wide=wide,
                high=wide if form == "ring" else float(draw(lengths)) + wide,
                at=(
                    at(float(draw(st.sampled_from([70, 90, 140, 200])))),
                    at(float(draw(st.sampled_from([120, 140, 160])))),
                ),
                goes=draw(st.sampled_from(["pocket", "wall", "through"])),
                depth=float(draw(st.sampled_from([10.0, 15.0] if wall else [10.0, 20.0, 45.0]))),
                mirrored=draw(st.booleans()),
            )
        )
    return Box(
        id="v",
        name="v",
        corner=(0.0, 0.0, 0.0),
        size=size,
        wall=wall,
        marks=tuple(holes),
    )


@settings(max_examples=60)
@given(opened_boxes())
def test_openings_may_overlap_lie_flush_and_cross_and_are_what_the_file_tells(volume):
    found = shell_of(volume)
    shell, chord = found.shell, chord_of(volume)
    if found.refused:
        return
    assert shell is not None, found.refused
    sound(shell, chord)
    depth = told(volume)
    places = spots(-0.02, 1.02, (80, 3)) * volume.size
    deep = depth(places)
    clear = np.abs(deep) > 3.0 * chord
    assert (shell.holds(places[clear]) == (deep[clear] > 0.0)).all()


def test_a_curve_is_straight_an_arc_or_cubics_through_exact_places():
    drum = Spun(
        (Side((0.0, 1.0), (1.0, 1.0)),),
        np.zeros(3),
        np.array([0.0, 0.0, 100.0]),
        np.array([40.0, 0.0, 0.0]),
        np.array([0.0, 40.0, 0.0]),
        0.1,
        ("end.0", "end.1"),
    )
    hole = Spun(
        (Side((0.0, 1.0), (1.0, 1.0), name="hole"),),
        np.array([-60.0, 5.0, 50.0]),
        np.array([120.0, 0.0, 0.0]),
        np.array([0.0, 15.0, 0.0]),
        np.array([0.0, 0.0, 15.0]),
        0.1,
        ("", ""),
    )
    shell = restored(put_together(Put("take", (drum, hole)), 0.1))
    sound(shell, 0.1)
    assert sorted(shell.curve_kind.tolist()) == [ARC, ARC, FREE, FREE]
    for number in np.flatnonzero(shell.curve_kind == FREE).tolist():
        pieces = cubics(shell, number, 1e-3)
        t = np.linspace(0.0, 1.0, 21)[:, None]
        for p in pieces:
            x, y, z = ((1 - t) ** 3 * p[0] + 3 * (1 - t) ** 2 * t * p[1] + 3 * (1 - t) * t**2 * p[2] + t**3 * p[3]).T
            assert (
                np.abs(np.hypot(x, y) - 40.0).max() < 1e-3 and np.abs(np.hypot(y - 5.0, z - 50.0) - 15.0).max() < 1e-3
            )
        assert np.abs(pieces[0, 0] - pieces[-1, 3]).max() < 1e-9
    whole = shell.arcs[shell.curve_kind == ARC]
    assert np.abs(np.abs(whole[:, 10]) - 2 * np.pi).max() < 1e-9


@settings(max_examples=60)
@given(
    st.lists(st.tuples(*[st.integers(0, 6)] * 3, *[st.integers(1, 4)] * 3, st.booleans()), min_size=2, max_size=7),
    st.sampled_from([0.0, 1e-13, 1e-9]),
)
def test_first_rule_planes_square_to_an_axis_lie_on_a_fine_grid(cells, noise):
    """Bodies of blocks on a grid of 10 mm with noise: the volume is exactly that of the cells, and one plane has no wall without thickness."""
    filled = np.zeros((11, 11, 11), dtype=bool)
    whole = None
    for x, y, z, a, b, c, taken in [(0, 0, 0, 7, 7, 7, False), *cells]:
        low, high = np.array([x, y, z]), np.array([x + a, y + b, z + c])
        shake = spots(-noise, noise, (2, 3))
        part = block(10.0 * low + shake[0], 10.0 * high + shake[1], NAMES)
        filled[low[0] : high[0], low[1] : high[1], low[2] : high[2]] = not taken
        whole = united(part) if whole is None else Put("take" if taken else "add", (whole, part))
    if not filled.any():
        return
    shell = restored(put_together(whole, 1.0))
    assert shell.volume == pytest.approx(1000.0 * filled.sum(), rel=1e-9)
    assert doubts(shell, 1.0) == []


def test_first_rule_tools_of_a_slanted_face_are_united_in_its_own_frame():
    """Two pockets side by side, as deep as a third one that crosses them, in a face that leans by 0.3 rad."""
    c, s = np.cos(0.3), np.sin(0.3)
    turn = np.array([[1.0, 0.0, 0.0], [0.0, c, -s], [0.0, s, c]])
    x, y, z = np.eye(3)
    square = Outline(np.array([(0.0, 0.0), (20.0, 0.0), (20.0, 20.0), (0.0, 20.0)]), {})

    def pocket(left, low):
        return Prism(square, np.array([left, low, -5.0]), x, y, 5.001, ("a", "b", "c", "d"), ("bottom", ""))

    wedge = Prism(
        Outline(np.array([(0.0, 0.0), (100.0, 0.0), (100.0, 100.0 * s / c)]), {}),
        np.zeros(3),
        y,
        z,
        200.0,
        ("foot", "back", "slope"),
        ("left", "right"),
    )
    tools = Put("add", [pocket(20.0, 20.0), pocket(40.0, 20.0), pocket(30.0, 33.0)], (turn, np.zeros(3)))
    shell = restored(put_together(Put("take", (wedge, tools)), 0.5))
    sound(shell, 0.5)
    assert shell.volume == pytest.approx(200.0 * 50.0 * 100.0 * s / c - 5.0 * (800.0 + 400.0 - 20.0 * 7.0), rel=1e-9)
    assert shell.patch_name.count("bottom") == 1, "three bottoms on one plane are one patch"


def ring(radius, start):
    """A circle in two halves that begins at an angle."""
    first, second = (
        radius * np.array([np.cos(start), np.sin(start)]),
        radius * np.array([-np.sin(start), np.cos(start)]),
    )
    return Outline(np.array([first, -first]), {k: Bend(np.zeros(2), first, second, k * np.pi, np.pi) for k in (0, 1)})


@pytest.mark.parametrize("turned", [0.0, 0.01, 0.3, 1.2345])
def test_second_rule_all_arcs_of_one_surface_are_parted_alike(turned):
    """A plug fills a hole of its own radius without a trace, however either is turned."""
    x, y, _ = np.eye(3)
    plate = block((-50.0, -50.0, 0.0), (50.0, 50.0, 10.0), NAMES)
    hole = Prism(ring(20.0, 0.0), np.array([0.0, 0.0, -1.0]), x, y, 12.0, ("h", "h"), ("", ""))
    plug = Prism(ring(20.0, turned), np.zeros(3), x, y, 10.0, ("p", "p"), ("z0", "z1"))
    shell = restored(put_together(Put("add", (Put("take", (plate, hole)), plug)), 0.5))
    assert sorted(shell.patch_name) == sorted(NAMES) and len(shell.curve_kind) == 12 and shell.moved < 1e-9
    assert shell.volume == pytest.approx(100_000.0, rel=1e-12)


@pytest.mark.parametrize("gap", [-0.3, -0.05, 0.05, 0.3, 1.0])
def test_third_rule_rounds_that_come_close_are_parted_finer(gap):
    """Two drums side by side whose rounds overlap, or do not, by less than their chords."""
    drums = [
        Spun(
            (Side((0.0, 1.0), (1.0, 1.0)),),
            np.array([far, 7.0, 0.0]),
            np.array([0.0, 0.0, 60.0]),
            np.array([50.0, 0.0, 0.0]),
            np.array([0.0, 50.0, 0.0]),
            4.0,
            ("a", "b"),
        )
        for far in (0.0, 100.0 + gap)
    ]
    shell = with_finer_rounds(united(*drums), 4.0)
    sound(shell, 4.0)
    straight = int((shell.curve_kind == STRAIGHT).sum())
    assert straight == (2 if gap < 0.0 else 0)
    if gap < 0.0:  # where they meet, exactly
        half = np.sqrt(50.0**2 - (50.0 + gap / 2.0) ** 2)
        ends = shell.points[shell.curve_first[np.flatnonzero(shell.curve_kind == STRAIGHT)[0]]]
        assert abs(ends[1] - 7.0) == pytest.approx(half, abs=1e-9)


@pytest.mark.parametrize("name", DOCUMENTS)
def test_every_volume_of_demos_and_starters_has_a_shell_with_the_edges_that_are_drawn(name):
    """Old and new side by side: straight edges of today's builders lie on curves of the shell that turn, and have its faces' names."""
    for volume in DOCUMENTS[name]().volumes:
        found = shell_of(volume)
        shape, chord = shape_of(volume), chord_of(volume)
        assert found.shell is not None and not found.refused and not found.unrounded, (volume.name, found.refused)
        sound(found.shell, chord)
        old = opened_solids(shape) if is_carved(shape) else kind_of(type(shape)).solids([shape])
        if not isinstance(shape, Turned):
            ends = old.vertices[0][old.edges[~old.soft]]
            assert _astray(found.shell, ends.mean(axis=1)) < 1e-6, volume.name
        known = {*own_faces(shape), *own_sides(shape), *(NAMES if isinstance(shape, Box) else ())}
        views = {name for view in VIEWS for name in (side_names(shape, view) if isinstance(shape, CutBody) else ())}
        also = views | {other for face in own_faces(shape).values() for other in face.also}
        own = {
            each
            for each in found.shell.patch_name
            if "+" not in each and not each.startswith(("opening", "inside", "wall", "bend"))
        }
        assert own <= known | also | {"", "end.0", "end.1"} | set(NAMES), (volume.name, own - known)


def _astray(shell, places):
    """How far places lie from the nearest curve that turns, mm."""
    straight = np.flatnonzero((shell.curve_kind == STRAIGHT) & (np.abs(shell.curve_turn) > 1e-9))
    if not len(places):
        return 0.0
    one, two = shell.points[shell.curve_first[straight]], shell.points[shell.curve_first[straight + 1] - 1]
    way = two - one
    part = np.clip(
        np.einsum("pck,ck->pc", places[:, None] - one, way) / np.maximum((way * way).sum(axis=1), 1e-300), 0.0, 1.0
    )
    foot = one + part[..., None] * way
    return float(np.sqrt(((places[:, None] - foot) ** 2).sum(axis=2)).min(axis=1).max())


def test_what_does_not_shape_a_body_leaves_its_shell():
    box = Box(id="a", name="a", corner=(1.0, 2.0, 3.0), size=(100.0, 50.0, 20.0), yaw_deg=30.0)
    other = msgspec.structs.replace(
        box, id="b", name="b", corner=(9.0, 9.0, 9.0), hangs=True, see_through=True, locked=True, group="g"
    )
    assert shell_of(box).shell is shell_of(other).shell
    assert shell_of(msgspec.structs.replace(box, wall=5.0)).shell is not shell_of(box).shell


def test_what_cannot_be_built_is_said_with_the_remedy():
    hollow = shell_of(Box(id="a", name="a", corner=(0.0, 0.0, 0.0), size=(100.0, 50.0, 20.0), wall=10.0))
    assert "leaves no room" in hollow.refused[-1] and hollow.shell.volume == pytest.approx(100_000.0)
    flat = shell_of(
        Turned(
            id="a",
            name="a",
            corner=(0.0, 0.0, 0.0),
            size=(10.0, 10.0, 10.0),
            profile=msgspec.convert(
                [{"at": 0.0, "wide": 0.0}, {"at": 1.0, "wide": 0.0}],
                tuple[__import__("isometron.volumes.profile", fromlist=["ProfileRing"]).ProfileRing, ...],
            ),
        )
    )
    assert flat.shell is None and "no width" in flat.refused[-3]
    crossing = Outline(np.array([(0.0, 0.0), (10.0, 10.0), (10.0, 0.0), (0.0, 10.0)]), {})
    with pytest.raises(Exception, match="crosses itself"):
        put_together(united(Prism(crossing, np.zeros(3), *np.eye(3)[:2], 5.0, ("a",) * 4, ("b", "c"))), 1.0)


def test_a_profile_that_makes_no_outline_leaves_the_others_cutting():
    def outline(*corners):
        made = tuple(ProfileCorner(n=k, at=(Measured(mm=x), Measured(mm=y))) for k, (x, y) in enumerate(corners))
        return CutProfile(corners=made)

    wedge = outline((0, 0), (300, 0), (300, 200), (100, 200))
    crossed = outline((0, 0), (300, 200), (300, 0), (0, 200))
    body = CutBody(id="c", name="c", corner=(0.0, 0.0, 0.0), size=(300.0, 250.0, 200.0), side=wedge, plan=crossed)
    assert shell_of(body).shell.volume == pytest.approx(250.0 * 200.0 * 250.0)


def test_a_heap_of_openings_is_cut_as_far_as_there_is_room_and_the_rest_is_told():
    row = OpeningMark(
        face=2,
        at=(at(40.0), at(300.0)),
        wide=10.0,
        high=20.0,
        goes="pocket",
        depth=5.0,
        count=700,
        step=(Apart(by="pitch", mm=12.0), 0.0),
    )
    found = shell_of(Box(id="a", name="a", corner=(0.0, 0.0, 0.0), size=(9000.0, 100.0, 600.0), marks=(row,)))
    assert (
        "500 openings at most" in found.refused[0]
        and sum(name.endswith(".bottom") for name in found.shell.patch_name) == 500
    )


def test_edges_that_stand_out_and_lie_in_are_told_apart():
    """An L: its inner upright lies in, the five others stand out, and so do all edges of both ends."""
    x, y, _ = np.eye(3)
    corner = Outline(np.array([(0.0, 0.0), (90.0, 0.0), (90.0, 30.0), (30.0, 30.0), (30.0, 90.0), (0.0, 90.0)]), {})
    shell = restored(put_together(united(Prism(corner, np.zeros(3), x, y, 40.0, tuple("abcdef"), ("z0", "z1"))), 0.5))
    middle = (shell.points[shell.curve_first[:-1]] + shell.points[shell.curve_first[1:] - 1]) / 2.0
    inner = np.abs(middle - (30.0, 30.0, 20.0)).max(axis=1) < 1e-9
    assert (
        inner.sum() == 1
        and shell.curve_turn[inner] == pytest.approx([-1.0])
        and shell.curve_turn[~inner] == pytest.approx(1.0)
    )


def test_an_opening_through_one_wall_goes_through_all_of_a_slanted_one_and_no_further():
    """A hollow wedge: through its slope, whose wall is longer along the opening's own way where that leans, into the hollow."""
    side = CutProfile.through(
        [
            ProfileCorner(at=(0.0, 0.0)),
            ProfileCorner(at=(1.0, 0.0)),
            ProfileCorner(at=(0.4, 1.0)),
            ProfileCorner(at=(0.0, 1.0)),
        ],
        alike=False,
    )
    body = CutBody(id="v", name="v", corner=(0.0, 0.0, 0.0), size=(600.0, 400.0, 500.0), side=side, wall=25.0)
    slope = next(face for face in own_faces(body).values() if face.outward[0] > 0.5 and face.outward[2] > 0.3)
    window = OpeningMark(face=slope.id, at=(0.5, 0.5), wide=120.0, high=100.0, goes="wall")
    low = OpeningMark(face="x0", at=(at(200.0), at(45.0)), wide=80.0, high=90.0, goes="wall")
    cut, whole = shell_of(msgspec.structs.replace(body, marks=(window,))), shell_of(body)
    assert cut.refused == {} and whole.shell.volume - cut.shell.volume == pytest.approx(
        120.0 * 100.0 * 25.0, rel=1e-6
    )
    # What runs on in the thickness of the floor does not carry an opening through to the other side.
    both = shell_of(msgspec.structs.replace(body, marks=(low,)))
    gone = whole.shell.volume - both.shell.volume
    assert 0.9 * 80.0 * 30.0 * 25.0 < gone < 1.6 * 80.0 * 90.0 * 25.0, gone


def test_a_rounded_outline_runs_on_into_its_sides():
    """Seams: where an arc only touches the straight side beside it, the curve is exact and does not turn."""
    x, y, _ = np.eye(3)
    outline = cut_rectangle(100.0, 60.0, (10.0,) * 4, round_=True)
    shell = restored(
        put_together(united(Prism(outline, np.zeros(3), x, y, 40.0, tuple("abcdefgh"), ("z0", "z1"))), 0.5)
    )
    sound(shell, 0.5)
    upright = np.flatnonzero(
        np.abs(shell.points[shell.curve_first[:-1], 2] - shell.points[shell.curve_first[1:] - 1, 2]) > 1.0
    )
    assert len(upright) == 8 and np.abs(shell.curve_turn[upright]).max() < 1e-9
    assert (shell.curve_kind[upright] == STRAIGHT).all() and (shell.curve_kind == ARC).sum() == 8
