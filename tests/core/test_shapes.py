"""Tapered boxes, prisms, frames and marks on faces: their pieces fill what is meant, and what is drawn is right."""

import msgspec
import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from isometron.document.files import decode_document, encode_document
from isometron.document.model import Document
from isometron.geometry.bodies import inside
from isometron.geometry.outlines import arch_wall, convex_pieces, counted, cut_rectangle, flattened
from isometron.solve.drawing import solve
from isometron.solve.marks import Role
from isometron.view.placing import place_eye, sheet_with_horizon
from isometron.volumes.box import Box
from isometron.volumes.building import build_scene
from isometron.volumes.face_marks import ArchMark, DivideMark, PathMark, RingMark, TickMark
from isometron.volumes.framed import Framed, Rail
from isometron.volumes.mark_parts import face_plane
from isometron.volumes.prism import Arched, Counted, Cut, Prism
from isometron.volumes.tapered import Tapered

EYE = place_eye(height=1700.0, away=5200.0, turn_deg=-32.0, viewing_distance=450.0)
SHEET = sheet_with_horizon(EYE, 420.0, 297.0, 220.0)
PLACE = {"id": "v", "name": "V", "corner": (0.0, 0.0, 0.0), "size": (900.0, 600.0, 700.0)}
NOTCH = ((0, 0), (4, 0), (4, 4), (3, 4), (3, 2), (2, 2), (2, 4), (0, 4))

parts = st.floats(0.0, 1.0)
leans = st.tuples(*[st.floats(-1.0, 1.0)] * 4)
lengths = st.tuples(*[st.floats(0.0, 600.0)] * 4)
sections = st.one_of(
    st.builds(Cut, how=st.sampled_from(["round", "chamfer"]), lengths=lengths),
    st.builds(
        Arched,
        form=st.sampled_from(["half-round", "segmental", "pointed"]),
        pier=st.floats(20.0, 200.0),
        crown=st.floats(20.0, 200.0),
        rise=st.floats(0.1, 1.0),
        band=st.booleans(),
    ),
    st.just(Counted(columns=4, rows=4, points=NOTCH)),
)


def document(*volumes):
    return Document(sheet=SHEET, eye=EYE, volumes=volumes)


def area(polygon):
    x, y = np.asarray(polygon).T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


@given(sections, st.floats(200.0, 2000.0), st.floats(200.0, 2000.0))
def test_convex_pieces_fill_an_outline_without_overlapping(section, wide, high):
    if isinstance(section, Cut):
        outline = cut_rectangle(wide, high, section.lengths, round_=section.how == "round")
    elif isinstance(section, Arched):
        outline = arch_wall(wide, high, section.pier, section.crown, section.form, section.rise, band=section.band)
    else:
        outline = counted(tuple((x / 4, y / 4) for x, y in section.points), wide, high)
    polygon = flattened(outline)
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


@given(leans)
def test_a_tapered_box_is_convex_and_within_its_bounds(lean):
    scene = build_scene([Tapered(**PLACE, lean=lean)])
    corners = scene.bodies.vertices[0]
    heights = scene.bodies.normals[0] @ corners.T - scene.bodies.offsets[0][:, None]
    assert heights.max() <= 1e-6, "no corner lies outside a face"
    assert corners.min() >= -1e-9 and (corners.max(axis=0) <= np.array(PLACE["size"]) + 1e-9).all()


def test_leaning_sides_stand_in_by_the_part_that_is_told():
    corners = build_scene([Tapered(**PLACE, lean=(0.25, 0.0, -0.1, 0.0))]).bodies.vertices[0]
    assert corners[4] == pytest.approx((225.0, 0.0, 700.0)), "the rear leans in at the top"
    assert corners[0] == pytest.approx((0.0, 60.0, 0.0)), "the near side flares: its foot stands in"
    ridge = build_scene([Tapered(**PLACE, lean=(0.0, 0.0, 0.9, 0.9))]).bodies.vertices[0]
    assert ridge[4] == pytest.approx(ridge[6]), "two leans that would pass each other meet in a ridge"


def filled(volume, point):
    """Whether a point lies within a volume, worked out from what was asked for rather than from its pieces."""
    x, y, z = point / np.array(volume.size)
    if isinstance(volume, Tapered):
        rear, front, near, far = (max(part, 0.0) for part in volume.lean)
        return rear * z < x < 1 - front * z and near * z < y < 1 - far * z
    column, row = int(x * 4), int(z * 4)
    return not (column == 2 and row >= 2)


@settings(max_examples=40)
@given(parts, parts, parts)
def test_the_pieces_of_a_volume_are_what_was_meant(x, y, z):
    place = np.array([x, y, z])
    assume((np.abs(place * 4 - np.round(place * 4)) > 1e-3).all())
    for volume in (
        Tapered(**PLACE, lean=(0.3, 0.2, 0.1, 0.1)),
        Prism(**PLACE, through="wide", section=Counted(columns=4, rows=4, points=NOTCH)),
    ):
        point = place * volume.size
        bodies = build_scene([volume]).bodies
        grown = msgspec.structs.replace(volume)
        met = inside(bodies, point).any()
        if not met and isinstance(volume, Prism):  # a seam between two pieces belongs to neither
            met = any(inside(bodies, point + d).any() for d in 1e-3 * np.eye(3))
        assert met == filled(grown, point)


def test_no_inner_edges_show_where_pieces_meet():
    notch = solve(document(Prism(**PLACE, through="wide", section=Counted(columns=4, rows=4, points=NOTCH))))
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
@given(sections, st.integers(0, 10_000))
def test_what_a_prism_hides_agrees_with_its_section(section, seed):
    """A line behind a prism shows exactly where the sight line passes through no part of it."""
    prism = Prism(**PLACE, through="wide", section=section)
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
    block = Prism(**PLACE, through="high", section=Cut(how="round", lengths=(150.0, 150.0, 150.0, 150.0)))
    drawing = solve(document(block))
    assert len(drawing.scene.edges) == 8, "tangent sides make no upright edges"
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
