"""Arches, frames and marks on faces: their pieces fill what is meant, and what is drawn is right."""

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from isometron.document.model import Document
from isometron.document.store.files import decode_document, encode_document
from isometron.geometry.outlines import arch_wall, convex_pieces, counted, cut_rectangle, flattened
from isometron.solve.drawing import solve
from isometron.solve.marks import Role
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.volumes.arch import Arch, outline_of
from isometron.volumes.box import Box
from isometron.volumes.cut.begin import corners_cut, counted_off
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.framed import Framed, Rail
from isometron.volumes.marks.face_marks import ArchMark, DivideMark, PathMark, RingMark, TickMark
from isometron.volumes.marks.places import face_plane

EYE = place_eye(height=1700.0, away=5200.0, turn_deg=-32.0, viewing_distance=450.0)
SHEET = sheet_with_horizon(EYE, 420.0, 297.0, 220.0)
PLACE = {"id": "v", "name": "V", "corner": (0.0, 0.0, 0.0), "size": (900.0, 600.0, 700.0)}
NOTCH = ((0, 0), (4, 0), (4, 4), (3, 4), (3, 2), (2, 2), (2, 4), (0, 4))

lengths = st.tuples(*[st.floats(0.0, 600.0)] * 4)
arches = st.builds(
    Arch,
    **{name: st.just(value) for name, value in PLACE.items()},
    form=st.sampled_from(["half-round", "segmental", "pointed"]),
    pier=st.floats(20.0, 200.0),
    crown=st.floats(20.0, 200.0),
    rise=st.floats(0.1, 1.0),
    band=st.booleans(),
    hangs_down=st.booleans(),
)


def document(*volumes):
    return Document(sheet=SHEET, eye=EYE, volumes=volumes)


def area(polygon):
    x, y = np.asarray(polygon).T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


@given(st.one_of(
    arches.map(outline_of),
    st.builds(cut_rectangle, st.floats(200.0, 2000.0), st.floats(200.0, 2000.0), lengths, round_=st.booleans()),
    st.builds(counted, st.just(tuple((x / 4, y / 4) for x, y in NOTCH)), st.floats(200.0, 2000.0), st.floats(200.0, 2000.0)),
))  # fmt: skip
def test_convex_pieces_fill_an_outline_without_overlapping(outline):
    polygon = flattened(outline)
    ends = [outline.corners]
    ends += [bend.centre + np.hypot(bend.first, bend.second) for bend in outline.bends.values()]
    wide, high = np.vstack(ends).max(axis=0)
    pieces = convex_pieces(polygon)
    assert sum(area(piece) for piece in pieces) == pytest.approx(area(polygon), rel=1e-6)
    for piece in pieces:
        x, y = (np.roll(piece, -1, axis=0) - piece).T
        assert (x * np.roll(y, -1) - y * np.roll(x, -1) >= -1e-6 * wide * high).all(), "convex"
    assert polygon.min() >= -1e-6 and (polygon.max(axis=0) <= (wide + 1e-6, high + 1e-6)).all(), "within its bounds"


def test_a_half_round_opening_is_a_true_half_circle():
    outline = arch_wall(1000.0, 900.0, 150.0, 100.0, "half-round", 0.4, band=False)
    (bend,) = outline.bends.values()
    assert bend.sweep == pytest.approx(-np.pi) and bend.first[0] == bend.second[1] == 350.0
    assert bend.at(np.array([np.pi / 2]))[0] == pytest.approx((500.0, 800.0)), "its crown lies 100 mm under the top"
    sharp = outline.sharp()
    smooth = outline.corners[~sharp]
    assert sorted(map(tuple, smooth)) == [(150.0, 450.0), (850.0, 450.0)], "piers run into the arch without a corner"


def test_no_inner_edges_show_where_pieces_meet():
    notch = solve(document(CutBody(**PLACE, side=counted_off(4, 4, NOTCH))))
    assert len(notch.scene.edges) == 3 * len(NOTCH)
    table = Framed(**PLACE, leg=(50.0, 50.0), inset=30.0, top=40.0, rails=(Rail(at=0.3, high=40.0, thick=30.0),))
    scene = solve(document(table)).scene
    ends = scene.vertices[scene.edges]
    # Tops of legs meet the underside of the top: four little squares there, and the top's own twelve edges.
    level = np.isclose(ends[:, :, 2], 660.0).all(axis=1)
    assert level.sum() == 4 + 4 * 4
    upright = scene.edge_axis == 2
    lengths_ = np.abs(ends[upright, 1, 2] - ends[upright, 0, 2])
    assert np.isclose(lengths_, 660.0).sum() == 16 and np.isclose(lengths_, 40.0).sum() == 4 + 4 * 4


def runs_inside(bodies, start, end):
    """Return how many mm of a segment run inside each body: clipped by its half-spaces, one after the other."""
    here = bodies.normals @ start - bodies.offsets
    slope = bodies.normals @ (end - start)
    with np.errstate(divide="ignore", invalid="ignore"):
        at = -here / slope
    low = np.where(slope < 0.0, at, 0.0).max(axis=1, initial=0.0)
    high = np.where(slope > 0.0, at, 1.0).min(axis=1, initial=1.0)
    high[((slope == 0.0) & (here > 0.0)).any(axis=1)] = 0.0
    return np.maximum(high - low, 0.0) * np.linalg.norm(end - start)


@settings(max_examples=40)
@given(arches, st.integers(0, 10_000))
def test_what_an_arch_hides_agrees_with_its_outline(prism, seed):
    """A line behind a prism shows exactly where the sight line passes through no part of it."""
    back = Box(id="b", name="B", corner=(-600.0, 900.0, 0.0), size=(2400.0, 10.0, 900.0))
    drawing = solve(document(prism, back))
    scene, dice = drawing.scene, np.random.default_rng(seed)
    edge, low, high = drawing.picture.hidden
    rows = np.arange(*scene.edges_of(1).indices(len(scene.edges)))
    for row in dice.choice(rows, 4):
        a, b = scene.vertices[scene.edges[row]]
        ends = np.concatenate([low[edge == row], high[edge == row], [0.0, 1.0]])
        for t in dice.uniform(0.02, 0.98, 8):
            run = runs_inside(scene.bodies, EYE.place, a + t * (b - a)).max()
            if np.abs(ends - t).min() < 1e-4 or 0.0 < run < 0.01:
                continue
            told = bool(((low <= t) & (t <= high) & (edge == row)).any())
            assert told == (run > 0.0)


def test_rounded_edges_are_true_arcs_and_their_outline_touches():
    block = CutBody(**PLACE, plan=corners_cut((150.0,) * 4, round_=True))
    drawing = solve(document(block))
    assert (~drawing.scene.edge_soft).sum() == 8, "tangent sides make no upright edges"
    assert drawing.scene.edge_soft.sum() == 8, "but light lines where the rounds begin and end"
    lines = drawing.of("rounds").lines
    seen = lines.points[lines.role == Role.OBJECT]
    assert len(seen) == 2, "an outline on the left and on the right"
    for row in seen:
        foot = EYE.ray(*row[:2])
        at = EYE.place + foot * (-EYE.place[2] / foot[2])
        centres = np.array([(x, y, 0.0) for x in (150.0, 750.0) for y in (150.0, 450.0)])
        radius = np.linalg.norm(centres - at, axis=1)
        centre = centres[np.argmin(np.abs(radius - 150.0))]
        assert radius.min() == pytest.approx(150.0, abs=1e-6)
        assert (at - centre)[:2] @ (EYE.place - at)[:2] == pytest.approx(0.0, abs=1e-3), (
            "the sight line touches there"
        )


def test_a_hole_shows_its_bottom_through_its_rim_only():
    plate = Box(**PLACE, marks=(RingMark(face=5, diameter=400.0, depth=60.0),))
    shapes = solve(document(plate)).of("rounds").arcs
    rim, bottom = shapes.shape[shapes.role == Role.OBJECT]
    assert rim[6] - rim[5] == pytest.approx(2 * np.pi) and 0.5 < bottom[6] - bottom[5] < 2 * np.pi - 0.5
    middle = np.array([450.0, 300.0, 0.0])
    for t in np.linspace(bottom[5], bottom[6], 9):
        x, y = bottom[2] * np.cos(t), bottom[3] * np.sin(t)
        cos, sin = np.cos(bottom[4]), np.sin(bottom[4])
        ray = EYE.ray(bottom[0] + x * cos - y * sin, bottom[1] + x * sin + y * cos)
        for height, rule in (
            (640.0, lambda r: r == pytest.approx(200.0, abs=1e-6)),
            (700.0, lambda r: r <= 200.0 + 1e-6),
        ):
            at = EYE.place + ray * ((height - EYE.place[2]) / ray[2])
            assert rule(np.linalg.norm((at - middle)[:2])), "on the bottom ring, and seen through the rim"


def test_marks_move_grow_and_hide_with_their_volume():
    marks = (
        DivideMark(face=2, across=(0.25, 0.5, 0.75), up=(0.5,), border=50.0, diagonals=True),
        TickMark(edge=0, parts=(0.5,)),
        ArchMark(face=0, wide=300.0, high=500.0, band=40.0),
        PathMark(across="wide", at=0.5, points=((0.0, 1.0), (0.5, 1.5), (1.0, 1.0)), closed=True),
        RingMark(face=2, diameter=200.0, depth=-40.0, inner=(0.5,), divisions=12),
    )
    volume = Box(**PLACE, marks=marks)
    drawing = solve(document(volume))
    plane = face_plane(volume, 2)
    ends = drawing.scene.vertices[drawing.scene.edges]
    for part in marks[0].across:
        at = plane.at(50 / 900 + part * 800 / 900, 0.5)
        on = np.linalg.norm(np.cross(ends[:, 1] - ends[:, 0], at - ends[:, 0]), axis=1) < 1e-6
        assert on.any(), "the line lies where the part says, inside the border"
    roles = drawing.of("rounds").arcs.role
    assert len(drawing.scene.rounds.strokes) == 12 and (roles == Role.OBJECT).sum() == 3, (
        "button: foot, rim, inner ring"
    )
    assert (roles == Role.HIDDEN).sum() >= 2, "the arch and its band lie on the far end"
    assert decode_document(encode_document(document(volume))).volumes == (volume,)
    moved = solve(document(msgspec.structs.replace(volume, corner=(10.0, 20.0, 30.0))))
    assert np.allclose(moved.scene.vertices - drawing.scene.vertices, (10.0, 20.0, 30.0))
    wall = Box(id="w", name="W", corner=(-2000.0, -900.0, 0.0), size=(5000.0, 20.0, 3000.0))
    behind = solve(document(volume, wall))
    own = behind.of("rounds").arcs.role[behind.of("rounds").arcs.owner == 0]
    assert set(own) == {Role.HIDDEN} and set(behind.edges.role[behind.edges.owner == 0]) == {Role.HIDDEN}


def test_a_bad_mark_in_a_file_is_told_with_its_place():
    text = encode_document(document(Box(**PLACE, marks=(RingMark(face=5),)))).decode().replace('"face":5', '"face":7')
    with pytest.raises(ValueError, match="face"):
        decode_document(text.encode())
