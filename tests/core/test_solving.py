"""Properties of the picture: what is hidden, what is clipped, and that nothing is ruled twice."""

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.demos.catalogue import DEMOS, demo
from isometron.document.edits import add_volume, change_volume
from isometron.document.fresh import new_document
from isometron.geometry.intervals import complement
from isometron.solve.drawing import solve
from isometron.solve.marks import Role
from isometron.volumes.box import Box
from tests.strategies import documents


def sampled_hidden(scene, eye, owner, points):
    """Brute force: does a sight line pass the open inside of a body before it reaches the point?"""
    hidden = np.zeros(len(points), dtype=bool)
    for body in range(len(scene.bodies)):
        if scene.see_through[scene.body_owner[body]] and scene.body_owner[body] != owner:
            continue
        normals, offsets = scene.bodies.normals[body], scene.bodies.offsets[body]
        rays = points - eye.place
        slope = rays @ normals.T
        height = offsets - normals @ eye.place
        if (height > 0).all():
            continue
        with np.errstate(divide="ignore", invalid="ignore"):
            cross = height / slope
        enter = np.where(slope < 0, cross, -np.inf).max(axis=1)
        leave = np.where(slope > 0, cross, np.inf).min(axis=1)
        # A sight line along a face (within rounding) grazes the body: it is never inside.
        length = np.linalg.norm(rays, axis=1)[:, None]
        along = (np.abs(slope) < 1e-9 * length) & (np.abs(height) < 1e-9 * length)
        outside = (along | ((slope == 0) & (height <= 0))).any(axis=1)
        hidden |= (np.maximum(enter, 0.0) + 1e-7 < np.minimum(leave, 1.0)) & ~outside
    return hidden


@given(documents(square=True))
def test_hidden_parts_agree_with_sampling(document):
    picture = solve(document).picture
    scene, (edge, start, end) = picture.scene, picture.hidden
    t = np.linspace(0.0, 1.0, 41)[1:-1] + 0.00037
    for row in range(len(scene.edges)):
        a, b = scene.vertices[scene.edges[row]]
        points = a + t[:, None] * (b - a)
        depth = picture.eye.to_camera(points)[:, 2]
        mine = np.zeros(len(t), dtype=bool)
        near_end = np.zeros(len(t), dtype=bool)
        for s, e in zip(start[edge == row], end[edge == row], strict=True):
            mine |= (t > s) & (t < e)
            near_end |= (np.abs(t - s) < 1e-4) | (np.abs(t - e) < 1e-4)
        theirs = sampled_hidden(scene, picture.eye, scene.edge_owner[row], points)
        # A sample on an edge of an outline, or within rounding of a touching face, may fall either way.
        grazing = sampled_hidden(scene, picture.eye, scene.edge_owner[row], points * (1 + 1e-6)) != theirs
        judged = (depth > 0) & ~near_end & ~grazing
        assert (mine == theirs)[judged].all()


@given(documents())
def test_marks_stay_on_their_lines_and_within_reach(document):
    drawing = solve(document)
    points = drawing.edges.points
    assert np.isfinite(points).all()
    assert (np.abs(points) <= drawing.seen.reach * (1 + 1e-9)).all()
    assert np.isfinite(drawing.of("aids").lines.points).all()
    assert np.isfinite(drawing.of("rounds").arcs.shape).all() and np.isfinite(drawing.of("rounds").lines.points).all()
    assert (np.abs(drawing.of("rounds").lines.points) <= drawing.seen.reach * (1 + 1e-9)).all()
    eye = document.eye
    for (u1, v1, u2, v2), row in zip(points, drawing.edges.edge, strict=True):
        a, b = drawing.scene.vertices[drawing.scene.edges[row]]
        normal = np.cross(a - eye.place, b - eye.place)
        span = np.linalg.norm(normal)
        if span < 1e-6 * np.linalg.norm(a - eye.place):
            continue
        for u, v in ((u1, v1), (u2, v2)):
            ray = eye.ray(u, v)
            assert abs(ray @ normal) / (np.linalg.norm(ray) * span) < 1e-7


def test_an_eye_inside_a_box_and_a_box_behind_the_eye():
    document = new_document(turn_deg=0.0, away=2000.0)
    around = Box(id="a", name="Around", corner=(-3000.0, -4000.0, 0.0), size=(6000.0, 6000.0, 3000.0))
    behind = Box(id="b", name="Behind", corner=(0.0, -9000.0, 0.0), size=(100.0, 100.0, 100.0))
    document = add_volume(add_volume(document, around).document, behind).document
    drawing = solve(document)
    codes = {(f.code, f.volumes) for f in drawing.findings}
    assert ("eye-inside", ("a",)) in codes
    assert ("behind-eye", ("a",)) in codes
    assert ("behind-eye", ("b",)) in codes
    assert set(drawing.edges.owner) == {0}
    assert all(m.drawn is None for m in drawing.measures(1))


def test_empty_document():
    drawing = solve(new_document())
    assert len(drawing.edges) == 0
    assert drawing.findings == ()
    assert len(drawing.of("aids").lines) == 1  # the horizon


def on_each_other(lines):
    """Total length by which different marks cover each other."""
    double = 0.0
    for i in range(len(lines)):
        p, q = lines[i, :2], lines[i, 2:]
        along = (q - p) / np.hypot(*(q - p))
        for j in range(i + 1, len(lines)):
            r, s = lines[j, :2] - p, lines[j, 2:] - p
            off = max(abs(along[0] * r[1] - along[1] * r[0]), abs(along[0] * s[1] - along[1] * s[0]))
            if off < 1e-6:
                lo, hi = sorted((r @ along, s @ along))
                double += max(0.0, min(hi, np.hypot(*(q - p))) - max(lo, 0.0))
    return double


def test_flush_volumes_share_their_lines():
    document = new_document()
    one = Box(id="a", name="A", corner=(0.0, 0.0, 0.0), size=(600.0, 400.0, 300.0))
    beside = Box(id="b", name="B", corner=(600.0, 0.0, 0.0), size=(300.0, 400.0, 300.0))
    on_top = Box(id="c", name="C", corner=(0.0, 0.0, 300.0), size=(450.0, 400.0, 200.0))
    for box in (one, beside, on_top):
        document = add_volume(document, box).document
    lines = solve(document).edges
    assert on_each_other(lines.points[lines.role == Role.OBJECT]) < 1e-6
    assert on_each_other(lines.points) < 1e-6


def test_a_box_on_a_box_hides_no_line_of_its_own_foot():
    document = new_document(turn_deg=-30.0)
    base = Box(id="a", name="A", corner=(-500.0, -500.0, 0.0), size=(1000.0, 1000.0, 400.0))
    top = Box(id="b", name="B", corner=(-200.0, -500.0, 400.0), size=(400.0, 400.0, 300.0))
    drawing = solve(add_volume(add_volume(document, base).document, top).document)
    near_foot = next(m for m in drawing.measures(1) if m.corners == (0, 1))
    assert near_foot.hidden == ()


@pytest.mark.parametrize("name", DEMOS)
def test_demos_are_clean(name):
    document = demo(name)
    drawing = solve(document)
    assert drawing.findings == ()
    left, lower, right, upper = document.sheet.rectangle
    u, v = drawing.picture.paper.T
    assert (u > left + 10).all() and (u < right - 10).all()
    assert (v > lower + 10).all() and (v < upper - 10).all()


def test_demo_sizes_are_those_of_the_brief():
    cart = demo("tea-cart")
    assert cart.volume("whole").size == (2400.0, 1150.0, 1900.0)
    wheels = [v for v in cart.volumes if v.id.startswith("wheel")]
    assert [w.size for w in wheels] == [(560.0, 60.0, 560.0)] * 3
    assert wheels[0].corner[0] - wheels[1].corner[0] == 1500.0
    assert cart.eye.position[2] == 1500.0
    stool = solve(demo("perch-stool")).scene
    assert stool.vertices[:, 2].max() == pytest.approx(820.0, abs=1e-5)


def test_findings_have_figures_and_places():
    document = demo("tea-cart")
    document = change_volume(document, "canopy", "move", corner=(0.0, 0.0, 1600.0)).document
    lamp = Box(id="lantern", name="Lantern", corner=(-900.0, 0.0, 700.0), size=(100.0, 100.0, 100.0))
    drawing = solve(add_volume(document, lamp).document)
    shared = [f for f in drawing.findings if f.code == "sharing-space"]
    assert {f.volumes for f in shared} == {("canopy", f"post-{n}") for n in range(1, 5)} | {("canopy", "lamp")}
    assert all(f.figure == pytest.approx(40.0) and f.at is not None for f in shared)
    floating = [f for f in drawing.findings if f.code == "floating"]
    assert [f.volumes for f in floating] == [("lantern",)]
    assert floating[0].figure == pytest.approx(700.0)
    near = solve(msgspec.structs.replace(document, eye=msgspec.structs.replace(document.eye, viewing_distance=60.0)))
    assert not [f for f in near.findings if f.code == "outside-cone"], "the cone is an angle, not a size on paper"
    narrow = msgspec.structs.replace(document, eye=msgspec.structs.replace(document.eye, cone_deg=20.0))
    worst = max(f.figure for f in solve(narrow).findings if f.code == "outside-cone")
    corner = np.hypot(*solve(narrow).picture.paper.T).max()
    assert worst == pytest.approx(np.hypot(1, corner / document.eye.viewing_distance))


@given(st.lists(st.tuples(st.integers(0, 3), st.floats(0, 1), st.floats(0, 1)), max_size=12))
def test_intervals_and_their_complement_tile_each_edge(parts):
    found = []
    for edge, start, end in sorted((p[0], *sorted(p[1:])) for p in parts):
        if found and found[-1][0] == edge and start <= found[-1][2]:
            found[-1] = (edge, found[-1][1], max(end, found[-1][2]))
        else:
            found.append((edge, start, end))
    edges, starts, ends = np.array(found).reshape(-1, 3).T
    merged = edges.astype(np.intp), starts, ends
    rest = complement(4, *merged)
    for k in range(4):
        inside = sum(e - s for i, s, e in zip(*merged, strict=True) if i == k)
        outside = sum(e - s for i, s, e in zip(*rest, strict=True) if i == k)
        assert inside + outside == pytest.approx(1.0, abs=2e-6)
