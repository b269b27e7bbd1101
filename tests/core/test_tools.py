"""Tools with plain values: no window, no toolkit."""

import re

import msgspec
import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from isometron.demos.catalogue import demo
from isometron.document.edits import paste_volumes
from isometron.document.fresh import new_document
from isometron.document.lengths.units import UNITS
from isometron.solve.drawing import solve
from isometron.solve.pick import corner_face, nearest_corner, nearest_edge, pick_face, pick_volume
from isometron.tools.along_edges import _edge_place, run_along
from isometron.tools.base import find_base
from isometron.tools.block import block_tool
from isometron.tools.pencil import Act, Pencil, ToolContext
from isometron.tools.pulling import on_plane, paper_direction, pulled_length, round_step, rounded
from isometron.tools.round import round_tool
from isometron.volumes.box import Box
from tests.strategies import boxes, eyes

CART = solve(demo("tea-cart"))


class Stroke:
    """Feeds a tool with acts at world places, as the desk would."""

    def __init__(self, drawing, grain=0.6):
        self.drawing = drawing
        self.tool = block_tool(ToolContext(drawing, grain))
        self.preview, self.edit, self.text = next(self.tool), None, ""

    def paper(self, place):
        return (float(c) for c in self.drawing.document.eye.project([place])[0][0])

    def act(self, act, place, text=""):
        try:
            self.preview = self.tool.send(Pencil(act, *self.paper(place), text))
        except StopIteration as end:
            self.edit = end.value
        return self


@given(eyes, st.tuples(*[st.floats(-2000, 2000)] * 3), st.tuples(*[st.floats(-1, 1)] * 3), st.floats(-900, 900))
def test_a_pull_reads_back_the_length_that_was_drawn(eye, place, direction, length):
    place, direction = np.array(place), np.array(direction)
    assume(np.linalg.norm(direction) > 0.1)
    direction /= np.linalg.norm(direction)
    ends = np.vstack([place, place + length * direction])
    paper, depth = eye.project(ends)
    assume((depth > 50.0).all() and np.abs(paper).max() < 3000.0)
    assume(paper_direction(eye, place, direction) is not None)
    assume(np.hypot(*(paper[1] - paper[0])) > 0.01 * abs(length) * eye.viewing_distance / depth.max())
    at = vanishing_share(eye, place, direction, paper)
    assume(at < 0.97)
    assert pulled_length(eye, place, direction, *paper[1]) == pytest.approx(length, rel=1e-5, abs=1e-4)


def vanishing_share(eye, place, direction, paper):
    """How far on the way to the vanishing point the end lies; 0 when there is none on that side."""
    from isometron.view.vanishing import vanishing

    at = vanishing(eye, direction).at
    if at is None:
        return 0.0
    way, gone = np.array(at) - paper[0], paper[1] - paper[0]
    return max(0.0, float(gone @ way / (way @ way)))


@given(eyes, st.floats(-400, 400), st.floats(-400, 400))
def test_any_pull_is_finite_and_in_front_of_the_eye(eye, u, v):
    place = eye.place + eye.axes[2] * 2000.0
    for direction in (*np.eye(3), *-np.eye(3)):
        length = pulled_length(eye, place, direction, u, v)
        if length is not None:
            assert np.isfinite(length)
            assert eye.to_camera(place + length * direction)[0, 2] > 0.0
    ground = on_plane(eye, np.zeros(3), np.array([0.0, 0.0, 1.0]), u, v)
    if ground is not None:
        assert ground[2] == pytest.approx(0.0, abs=1e-6 * np.abs(ground).max())
        assert eye.project(ground)[0][0] == pytest.approx((u, v), abs=1e-5)


@given(st.floats(0.01, 5000), st.sampled_from(UNITS))
def test_round_steps(size, unit):
    step = round_step(size, unit)
    inch = step / 25.4
    if unit == "in":
        assert inch * 16 == pytest.approx(round(inch * 16))
    else:
        assert step >= min(size, 0.1) * (1 - 1e-9) and float(f"{step:.0e}"[0]) in (1, 2, 5)
    assert rounded(7.3 * step, step) == pytest.approx(7 * step, abs=1e-6)


@pytest.mark.parametrize(
    ("unit", "typed", "mm"), [("mm", "820", 820.0), ("in", "32 1/4", 819.15), ("cm", "0,82 m", 820.0)]
)
def test_typed_lengths_in_any_unit(unit, typed, mm):
    stroke = Stroke(solve(new_document(unit=unit)))
    stroke.act(Act.PRESS, (0, 0, 0)).act(Act.MOVE, (400, 0, 0))
    for _ in range(3):
        stroke.act(Act.TYPE, (400, 300, 0), typed).act(Act.ENTER, (400, 300, 0), typed)
    assert stroke.edit.document.volumes[0].size == pytest.approx((mm, mm, mm))


@given(boxes(), st.floats(0.15, 0.85), st.floats(0.15, 0.85), st.integers(0, 5))
def test_a_block_on_any_face_stands_outside_and_touches(box, s, t, face):
    """However the host is turned, a block started on a face it shows shares a plane with it and no space."""
    import msgspec

    from isometron.document.edits import add_volume
    from isometron.geometry.overlap import overlap_depths

    host = msgspec.structs.replace(box, see_through=False, size=tuple(max(x, 150.0) for x in box.size))
    document = add_volume(new_document(away=9000.0, eye_height=2600.0), host).document
    drawing = solve(document)
    bodies, rotation = drawing.scene.bodies, drawing.scene.rotations[0]
    axis = face // 2
    own = np.array([s, t, s])
    own[axis] = face % 2
    place = np.array(host.corner) + rotation @ (own * host.size)
    eye = document.eye
    assume((drawing.picture.camera[:, 2] > 200.0).all())
    assume(bodies.normals[0, face] @ (eye.place - place) > 200.0)
    stroke = Stroke(drawing)
    plane = [k for k in range(3) if k != axis]
    outward = rotation[:, axis] * (1.0 if face % 2 else -1.0)
    stroke.act(Act.PRESS, place)
    assume(stroke.preview.step == 0)
    stroke.act(Act.MOVE, place + 40.0 * rotation[:, plane[0]])
    for step in range(3):
        towards = place + 40.0 * rotation[:, plane[0]] + 40.0 * rotation[:, plane[1]] + 40.0 * outward
        stroke.act(Act.TYPE, towards, "60").act(Act.ENTER, towards, "60")
        if stroke.edit is None and stroke.preview.step != step + 1:
            assume(False)  # seen edge on: no length can be pulled there
    both = stroke.edit.document
    scene = build(both)
    assert overlap_depths(scene.bodies, np.array([[0, 1]]))[0] == 0.0
    new = scene.corners_of(1) @ bodies.normals[0, face] - bodies.offsets[0, face]
    assert new.min() == pytest.approx(0.0, abs=1e-4)
    assert new.max() == pytest.approx(60.0, abs=1e-4)


def build(document):
    from isometron.volumes.building import build_scene

    return build_scene(document.volumes)


def test_previews_say_what_is_going_on():
    stroke = Stroke(CART)
    stroke.act(Act.MOVE, (500, 300, 1040))
    assert [n.text for n in stroke.preview.notes] == ["start on Counter"]
    stroke.act(Act.PRESS, (500, 300, 1040))
    assert stroke.preview.prompt.startswith("First pull, along either direction")
    stroke.act(Act.MOVE, (900, 300, 1040))
    assert stroke.preview.prompt.startswith("First pull to the right")
    assert len(stroke.preview.guides) == 2, "to both vanishing points"
    assert [n.text for n in stroke.preview.notes] == ["400 mm · level with Rear wheel near"]
    stroke.act(Act.MOVE, (2700, 300, 1040))
    assert [n.text for n in stroke.preview.notes] == ["2200 mm"], "nothing catches in the open"
    stroke.act(Act.ENTER, (900, 300, 1040), "ten")
    assert "There is no 'ten' here" in stroke.preview.refusal
    assert stroke.preview.step == 0
    stroke.act(Act.RELEASE, (900, 300, 1040)).act(Act.MOVE, (900, 500, 1040))
    assert stroke.preview.prompt.startswith("Second pull to the right")
    stroke.act(Act.BACK, (900, 500, 1040))
    assert stroke.preview.prompt.startswith("First pull")
    stroke.act(Act.BACK, (900, 500, 1040))
    assert stroke.preview.step is None
    stroke.tool.close()


def test_a_block_beyond_the_documents_rules_is_refused_and_the_last_pull_taken_back():
    stroke = Stroke(solve(new_document()))
    stroke.act(Act.PRESS, (-900, 0, 0)).act(Act.MOVE, (-1300, 0, 0))
    for typed in ("10 km", "500", "500"):
        stroke.act(Act.TYPE, (-1300, 300, 0), typed).act(Act.ENTER, (-1300, 300, 0), typed)
    assert stroke.edit is None
    assert "corner[0]: expected a number >= -10000000.0" in stroke.preview.refusal
    assert stroke.preview.step == 2


def test_what_lies_under_the_pencil():
    def at(*place):
        return tuple(float(c) for c in CART.document.eye.project([place])[0][0])

    def name(owner):
        return CART.document.volumes[owner].id

    owner, row = nearest_edge(CART, *at(940, 0, 1040), 1.0)
    assert name(owner) == "counter" and CART.scene.edge_axis[row] == 0
    assert name(pick_face(CART, *at(1500, 80, 600)).owner) == "body"
    assert name(pick_volume(CART, *at(600, 0, 1800), 0.5)) == "canopy"
    assert name(pick_volume(CART, *at(2400, 0, 900), 0.5)) == "whole", "a see-through volume by its edge"
    assert pick_face(CART, *at(2400, 600, 1500)) is None, "and not by its face"
    assert nearest_corner(CART, 3, *at(2040, 0, 1640), 2.0) == pytest.approx([2040, 0, 1640])
    hit = corner_face(CART, *at(1880, 0, 1040), 2.0)
    assert name(hit.owner) == "counter"
    assert CART.scene.bodies.normals[2, hit.face] == pytest.approx([0, 0, 1])
    empty = solve(new_document())
    assert nearest_edge(empty, 0, 0, 5.0) is None
    assert pick_volume(empty, 0, 0, 5.0) is None


GROUND = solve(new_document(away=4000.0, eye_height=1600.0))


@pytest.mark.parametrize("sign", [1.0, -1.0])
def test_a_typed_pull_waits_for_the_hand_and_the_next_goes_where_it_sets_off(sign):
    """The pull was typed longer than it was drawn: what counts is which way the hand goes on, not where the wire ends."""
    stroke = Stroke(GROUND)
    stroke.act(Act.PRESS, (0, 0, 0)).act(Act.MOVE, (500, 0, 0)).act(Act.TYPE, (500, 0, 0), "1000")
    stroke.act(Act.ENTER, (500, 0, 0), "1000")
    assert stroke.preview.step == 1
    # The hand trembles and lets go where it is: nothing is begun, whatever lies under the pencil.
    for act in (Act.MOVE, Act.RELEASE, Act.MOVE):
        stroke.act(act, (501, 0, 0))
    assert stroke.preview.step == 1 and len(stroke.preview.notes) == 1
    for far in (60.0, 200.0):
        stroke.act(Act.MOVE, (500, sign * far, 0))
    stroke.act(Act.TYPE, (500, sign * 200.0, 0), "300").act(Act.ENTER, (500, sign * 200.0, 0), "300")
    stroke.act(Act.RELEASE, (500, sign * 200.0, 0))
    assert stroke.preview.step == 2 and stroke.edit is None
    stroke.act(Act.MOVE, (500, sign * 200.0, 300)).act(Act.TYPE, (500, sign * 200.0, 300), "250")
    stroke.act(Act.ENTER, (500, sign * 200.0, 300), "250")
    box = stroke.edit.document.volumes[0]
    assert box.size == (1000.0, 300.0, 250.0)
    assert box.corner == pytest.approx((0.0, 0.0 if sign > 0 else -300.0, 0.0))


def test_a_hand_that_goes_to_the_end_of_the_wire_is_taken_where_it_is():
    stroke = Stroke(GROUND)
    stroke.act(Act.PRESS, (0, 0, 0)).act(Act.MOVE, (500, 0, 0)).act(Act.ENTER, (500, 0, 0), "1000")
    for place in ((700, 0, 0), (1000, 60, 0), (1000, 400, 0)):
        stroke.act(Act.MOVE, place)
    stroke.act(Act.RELEASE, (1000, 400, 0))
    assert stroke.preview.step == 2
    for place in ((1000, 400, 100), (1000, 400, 300)):
        stroke.act(Act.MOVE, place)
    stroke.act(Act.RELEASE, (1000, 400, 300))
    assert stroke.edit.document.volumes[0].size == pytest.approx((1000.0, 400.0, 300.0))


def test_a_ring_whose_diameter_is_typed_waits_for_its_height():
    drawing = GROUND
    tool = round_tool(ToolContext(drawing, 0.6))
    next(tool)

    def send(act, place, text=""):
        return tool.send(Pencil(act, *(float(c) for c in drawing.document.eye.project([place])[0][0]), text))

    send(Act.PRESS, (0, 0, 0))
    send(Act.MOVE, (300, 400, 0))
    assert send(Act.ENTER, (300, 400, 0), "800").step == 1
    shown = send(Act.RELEASE, (300, 400, 0))
    assert shown.step == 1 and len(shown.notes) == 1
    send(Act.MOVE, (0, 0, 500))
    with pytest.raises(StopIteration) as end:
        send(Act.RELEASE, (0, 0, 500))
    assert end.value.value.document.volumes[0].size == pytest.approx((800.0, 800.0, 500.0))


@given(st.floats(-2500, 2500), st.floats(-1500, 4000), st.floats(-180, 180))
def test_the_ground_is_told_by_what_stands_nearest(x, y, yaw):
    box = Box(id="b", name="Body", corner=(-300.0, 900.0, 0.0), size=(800.0, 400.0, 500.0), yaw_deg=yaw)
    drawing = solve(
        msgspec.structs.replace(new_document(away=6000.0, eye_height=1600.0, turn_deg=0.0), volumes=(box,))
    )
    paper, depth = drawing.document.eye.project([(x, y, 0.0)])
    assume(depth[0] > 500.0)
    base = find_base(drawing, *paper[0], 0.01, 0.01)
    assume(base is not None and base.host is None)
    corners = drawing.scene.corners_of(0)[[0, 1, 3, 2], :2]
    gaps = []
    for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True):
        part = np.clip((base.place[:2] - a) @ (b - a) / ((b - a) @ (b - a)), 0, 1)
        gaps.append(base.place[:2] - a - part * (b - a))
    step = min(gaps, key=lambda g: np.hypot(*g))
    assume(np.hypot(*step) > 200.0 and abs(abs(step[0]) - abs(step[1])) > 1.0)
    told = re.fullmatch(r"on the ground, (\d+) mm (behind|before|to the right of|to the left of) Body", base.words)
    assert abs(float(told[1]) - np.hypot(*step)) <= 5.01
    deep = abs(step[1]) > abs(step[0])
    assert told[2] == (
        ("behind" if step[1] > 0 else "before") if deep else f"to the {'right' if step[0] > 0 else 'left'} of"
    )


@pytest.mark.parametrize("selected", [False, True])
@pytest.mark.parametrize(("to", "normal"), [((0.0, 0.0, 150.0), 1), ((0.0, 250.0, 0.0), 2)])
def test_a_start_near_an_edge_belongs_to_the_face_that_the_first_movement_runs_along(to, normal, selected):
    """From the upper front edge of a block: up it is the front, backwards the top, whichever face the pencil was on."""
    box = Box(id="b", name="Body", size=(1200.0, 800.0, 600.0), corner=(-600.0, 0.0, 0.0))
    document = paste_volumes(new_document(), (box,)).document
    for beside in (-12.0, 12.0):  # mm below the edge on the front, and above it on the top
        edge = np.array([0.0, 0.0, 600.0])
        start = edge + ((0.0, 0.0, beside) if beside < 0 else (0.0, beside, 0.0))
        context = ToolContext(solve(document), 0.6, selected=("b",) if selected else ())
        tool = block_tool(context)
        next(tool)
        eye = document.eye

        def at(place, eye=eye):
            return tuple(float(x) for x in eye.project(np.array(place))[0][0])

        tool.send(Pencil(Act.MOVE, *at(start)))
        tool.send(Pencil(Act.PRESS, *at(start)))
        shown = tool.send(Pencil(Act.MOVE, *at(start + to)))
        pulled = shown.live[0]
        way = pulled[2:] - pulled[:2]
        seen = np.subtract(at(edge + to), at(edge))
        assert abs(way @ seen) / np.hypot(*way) / np.hypot(*seen) > 0.995, (beside, to)
        tool.send(Pencil(Act.RELEASE, *at(start + to)))
        other = (300.0, 0.0, 0.0)
        shown = tool.send(Pencil(Act.MOVE, *at(start + to + other)))
        assert len(shown.live) >= 4
        tool.send(Pencil(Act.RELEASE, *at(start + to + other)))
        out = {1: (0.0, -200.0, 0.0), 2: (0.0, 0.0, 200.0)}[normal]
        tool.send(Pencil(Act.MOVE, *at(start + to + np.array(other) + out)))
        with pytest.raises(StopIteration) as done:
            tool.send(Pencil(Act.RELEASE, *at(start + to + np.array(other) + out)))
        made = done.value.value.document.volumes[-1]
        assert made.joined is not None and made.joined.to == "b"
        if normal == 1:
            assert made.corner[1] + made.size[1] == pytest.approx(0.0, abs=1e-6), "it stands before the front"
        else:
            assert made.corner[2] == pytest.approx(600.0), "it stands on the top"


def test_a_start_amid_a_face_stays_on_it_however_the_hand_sets_off():
    box = Box(id="b", name="Body", size=(1200.0, 800.0, 600.0), corner=(-600.0, 0.0, 0.0))
    document = paste_volumes(new_document(), (box,)).document
    drawing = solve(document)
    start = np.array([0.0, 0.0, 300.0])
    base = find_base(drawing, *drawing.document.eye.project(start)[0][0], 0.6, 5.0)
    for to in ((300.0, 0.0, 0.0), (0.0, 0.0, 200.0), (0.0, 300.0, 0.0)):
        u, v = drawing.document.eye.project(start + to)[0][0]
        assert run_along(ToolContext(drawing, 0.6), base, Pencil(Act.MOVE, float(u), float(v))) is base


def test_of_edges_that_lie_near_together_the_selected_volumes_comes_first_else_the_nearest():
    document = paste_volumes(
        new_document(), (Box(id="far", name="Far", size=(1200.0, 800.0, 600.0), corner=(-600.0, 0.0, 0.0)),)
    ).document
    eye = document.eye
    spot = np.array([-100.0, 0.0, 600.0])
    near = eye.place + 0.7 * (spot - eye.place)
    box = Box(
        id="near", name="Near", size=(60.0, 60.0, 60.0), corner=tuple((near - np.array([0.0, 0.0, 60.0])).tolist())
    )
    drawing = solve(paste_volumes(document, (box,)).document)
    u, v = eye.project(spot - np.array([12.0, 0.0, 0.0]))[0][0]
    owners = [_edge_place(drawing, np.array([u, v]), 6.0, selected)[0] for selected in ((), ("far",), ("near",))]
    assert [drawing.document.volumes[owner].id for owner in owners] == ["near", "far", "near"]
