"""Tools that mark faces and join volumes, with plain values: no window, no toolkit."""

import msgspec
import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from isometron.document.edits import add_volume
from isometron.document.fresh import new_document
from isometron.document.model import DocumentError
from isometron.geometry.bodies import inside
from isometron.solve.drawing import solve
from isometron.solve.pick import box_face, pick_face, pick_faces
from isometron.tools.joiner import join_tool
from isometron.tools.marking import DividePlan, LayPlan, divide_tool, face_under, lay_tool
from isometron.tools.pencil import Act, Pencil, ToolContext
from isometron.volumes.box import BOX_FACES, Box
from isometron.volumes.cut.begin import counted_off, leaning
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.faces.plane import plane_of_face
from isometron.volumes.kinds import own_faces
from isometron.volumes.marks.face_marks import ArchMark, DivideMark, RingMark, TickMark
from isometron.volumes.marks.mark_parts import mark_edges
from isometron.volumes.marks.places import face_plane
from tests.strategies import documents

ONE = Box(id="one", name="One", corner=(-900.0, -300.0, 0.0), size=(1600.0, 700.0, 400.0))
OTHER = Box(id="other", name="Other", corner=(1000.0, 300.0, 0.0), size=(300.0, 300.0, 500.0))


def document(*volumes):
    made = new_document(away=5200.0)
    for volume in volumes or (ONE, OTHER):
        made = add_volume(made, volume).document
    return made


class Hand:
    """One tool, fed with acts at world places as the desk would."""

    def __init__(self, made, tool, grain=0.5):
        self.drawing = solve(made)
        self.tool = tool(ToolContext(self.drawing, grain))
        self.preview, self.edit, self.done = next(self.tool), None, False

    def at(self, *place):
        return tuple(float(c) for c in self.drawing.document.eye.project([place])[0][0])

    def act(self, act, *place, text=""):
        try:
            self.preview = self.tool.send(Pencil(act, *self.at(*place), text))
        except StopIteration as end:
            self.edit, self.done = end.value, True
        return self

    def mark(self, volume_id="one"):
        return self.edit.document.volume(volume_id).marks[-1]

    def words(self):
        return self.preview.notes[0].text


def lay(plan=None, made=None):
    return Hand(made or document(), lambda context: lay_tool(context, lambda: plan or LayPlan()))


def divide(plan=None, made=None):
    return Hand(made or document(), lambda context: divide_tool(context, lambda: plan or DividePlan()))


@settings(max_examples=60)
@given(documents(), st.floats(-250, 250), st.floats(-250, 250))
def test_the_face_under_the_pencil_is_the_first_that_the_sight_line_meets(made, u, v):
    """By walking along the sight line in small steps instead of crossing it with planes."""
    drawing = solve(made)
    hits = pick_faces(drawing, u, v)
    reach = [float(np.linalg.norm(hit.place - made.eye.place)) for hit in hits]
    assert reach == sorted(reach)
    ray = made.eye.ray(u, v) / np.linalg.norm(made.eye.ray(u, v))
    scene = drawing.scene
    solid = scene.bodies.select(np.flatnonzero(scene.solid[scene.body_owner]))
    walked = np.arange(5.0, 12_000.0, 5.0)
    met = [bool(inside(solid, made.eye.place + far * ray).any()) for far in walked[::8]]
    assume(not inside(solid, made.eye.place).any())
    first = hits[0] if hits else None
    if first is None:
        assert not any(met)
        return
    assert made.eye.project(first.place)[0][0] == pytest.approx((u, v), abs=1e-6)
    assert not any(m for m, far in zip(met, walked[::8], strict=True) if far < reach[0] - 1.0)
    assert first.normal @ ray < 0.0, "it looks at the eye"
    assert 0 <= box_face(drawing, first) < len(BOX_FACES)


@given(st.floats(0.05, 0.95), st.floats(0.05, 0.95), st.sampled_from([0, 2, 5]))
def test_a_place_on_a_face_is_told_as_parts_of_it(x, y, face):
    made = document(ONE)
    plane = face_plane(ONE, face)
    place = plane.at(x, y)
    drawing = solve(made)
    under = face_under(ToolContext(drawing, 0.5), *made.eye.project(place)[0][0])
    assume(under is not None and under.face == face)
    assert under.at == pytest.approx((x, y), abs=1e-6)


@given(
    st.sampled_from([(), (0.5,), (0.25, 0.5, 0.75), (1 / 3, 2 / 3)]),
    st.sampled_from([(), (0.5,), (0.2,)]),
    st.floats(0, 90),
)
def test_a_click_parts_the_face_as_planned(across, up, border):
    assume(across or up or border > 0.0)
    plan = DividePlan(across=across, up=up, border=border)
    hand = divide(plan).act(Act.MOVE, 0.0, 50.0, 400.0)
    assert "on the top of One" in hand.words() and hand.edit is None
    assert len(hand.preview.live) > 0, "the lines are shown before they are made"
    hand.act(Act.PRESS, 0.0, 50.0, 400.0)
    mark = hand.mark()
    assert isinstance(mark, DivideMark)
    assert (mark.face, mark.across, mark.up, mark.border) == (5, across, up, border)


def test_near_an_edge_it_is_the_edge_that_is_parted():
    hand = divide(DividePlan(across=(0.25, 0.5))).act(Act.MOVE, 0.0, -300.0, 400.0)
    assert "edge of One" in hand.words()
    tick = hand.act(Act.PRESS, 0.0, -300.0, 400.0).mark()
    assert isinstance(tick, TickMark) and tick.parts == (0.25, 0.5)
    nothing = divide(DividePlan(across=(), up=(0.5,))).act(Act.PRESS, 0.0, -300.0, 390.0)
    assert isinstance(nothing.mark(), DivideMark), "ticks run along; parts upward alone are the face's"


def test_where_there_is_nothing_to_part_it_says_so_and_goes_on():
    hand = divide().act(Act.PRESS, 6000.0, 6000.0, 0.0)
    assert "There is no face here" in hand.preview.refusal and not hand.done
    locked = document(msgspec.structs.replace(ONE, locked=True))
    hand = divide(made=locked).act(Act.PRESS, 0.0, 50.0, 400.0)
    assert "There is no face here" in hand.preview.refusal
    parted = document(msgspec.structs.replace(ONE, marks=(DivideMark(face=5, across=(0.5,)),)))
    hand = divide(DividePlan(across=()), parted).act(Act.PRESS, 0.0, 50.0, 400.0)
    assert hand.edit.document.volume("one").marks == (), "a division into nothing takes the division away"


@given(st.floats(60.0, 300.0), st.one_of(st.floats(-500.0, -260.0), st.floats(60.0, 300.0)))
def test_a_ring_is_pulled_open_to_the_place_of_the_pencil(radius, x):
    hand = lay().act(Act.PRESS, x, -300.0, 200.0)
    hand.act(Act.MOVE, x + radius, -300.0, 200.0)
    assert hand.words().startswith("⌀ ") and len(hand.preview.live) == 49  # with its axle
    ring = hand.act(Act.RELEASE, x + radius, -300.0, 200.0).mark()
    assert isinstance(ring, RingMark) and ring.face == 2
    assert ring.at[1] == 0.5 and ring.at[0] == pytest.approx((x + 900.0) / 1600.0, abs=0.02)
    assert ring.diameter == pytest.approx(2 * radius, abs=40.0)


def test_a_typed_diameter_is_taken_as_it_stands_and_a_wrong_one_is_asked_again():
    plan = LayPlan(depth=-20.0, inner=(0.5,), divisions=12, sweep_deg=180.0)
    hand = lay(plan).act(Act.PRESS, -100.0, -300.0, 200.0).act(Act.MOVE, 100.0, -300.0, 200.0, text="")
    hand.act(Act.ENTER, 100.0, -300.0, 200.0, text="12 apples")
    assert hand.preview.refusal and not hand.done
    ring = hand.act(Act.ENTER, 100.0, -300.0, 200.0, text="22 cm").mark()
    assert (ring.at, ring.diameter, ring.depth, ring.inner, ring.divisions, ring.sweep_deg) == (
        (0.5, 0.5), 220.0, -20.0, (0.5,), 12, 180.0,
    )  # fmt: skip


def test_the_lines_that_part_a_face_catch_the_ring_within_a_border_too():
    parted = msgspec.structs.replace(ONE, marks=(DivideMark(face=2, across=(0.25,), up=(0.5,), border=40.0),))
    line = -900.0 + 40.0 + 0.25 * (1600.0 - 80.0)
    ring = lay(made=document(parted)).act(Act.PRESS, line + 12.0, -300.0, 195.0)
    ring = ring.act(Act.RELEASE, line + 100.0, -300.0, 200.0).mark()
    assert -900.0 + ring.at[0] * 1600.0 == pytest.approx(line) and ring.at[1] == 0.5


@given(st.floats(80.0, 300.0), st.floats(120.0, 340.0))
def test_an_arch_stands_on_the_foot_of_its_face(half, high):
    plan = LayPlan(kind="arch", form="pointed", band=25.0)
    hand = lay(plan).act(Act.PRESS, -100.0, -300.0, 4.0)
    hand.act(Act.MOVE, -100.0 + half, -300.0, high)
    arch = hand.act(Act.RELEASE, -100.0 + half, -300.0, high).mark()
    assert isinstance(arch, ArchMark) and (arch.at, arch.form, arch.band) == ((0.5, 0.0), "pointed", 25.0)
    assert (arch.wide, arch.high) == pytest.approx((2 * half, high), abs=40.0)


def test_what_cannot_be_is_told_and_back_steps_back():
    hand = lay(LayPlan(kind="arch")).act(Act.PRESS, 0.0, 50.0, 400.0)
    assert hand.preview.refusal == "An arch stands on an upright face."
    hand = lay().act(Act.PRESS, 6000.0, 6000.0, 0.0)
    assert "There is no face here" in hand.preview.refusal
    hand = lay().act(Act.PRESS, -100.0, -300.0, 200.0)
    assert hand.preview.step == 0
    hand.act(Act.BACK, -100.0, -300.0, 200.0)
    assert hand.preview.step is None and not hand.done
    hand.act(Act.PRESS, -100.0, -300.0, 200.0).act(Act.RELEASE, -100.0, -300.0, 200.0)
    assert not hand.done, "a ring without size is none"


SLANTED = {
    "cabin": CutBody(id="one", name="One", corner=ONE.corner, size=ONE.size, side=leaning(0.3, 0.3), front=leaning(0.2, 0.2)),
    "steps": CutBody(id="one", name="One", corner=ONE.corner, size=ONE.size, side=counted_off(2, 2, ((0, 0), (2, 0), (2, 2), (1, 2), (1, 1), (0, 1)))),
}  # fmt: skip


@pytest.mark.parametrize("name", SLANTED)
def test_other_shapes_are_marked_on_the_faces_of_their_body(name):
    made = document(SLANTED[name])
    volume = made.volume("one")
    for face in own_faces(volume).values():
        plane = plane_of_face(face)
        place = plane.at(0.52, 0.47)
        u, v = made.eye.project(place)[0][0]
        hit = pick_face(solve(made), u, v)
        if hit is None or not np.allclose(hit.place, place, atol=1e-6):
            continue  # this face does not look at the eye, or another one stands before it
        hand = divide(made=made)
        with pytest.raises(StopIteration) as end:
            hand.tool.send(Pencil(Act.PRESS, float(u), float(v), ""))
        mark = end.value.value.document.volume("one").marks[-1]
        assert mark.face == face.id
        ends = mark_edges(msgspec.structs.replace(volume, marks=(mark,))).ends
        assert np.abs((ends - face.corner) @ face.outward).max() < 1e-9, "the lines lie on the face"


@given(st.floats(-800.0, 500.0), st.floats(-200.0, 200.0))
def test_a_volume_is_carried_to_where_it_sits_and_the_relation_is_told_first(x, y):
    hand = Hand(document(), join_tool).act(Act.MOVE, 1150.0, 300.0, 250.0)
    assert hand.words() == "Other" and hand.preview.edit is None
    hand.act(Act.PRESS, 1150.0, 300.0, 250.0).act(Act.MOVE, x, y, 400.0)
    assert "stands on One" in hand.words()
    shown = hand.preview.edit.document.volume("other")
    hand.act(Act.RELEASE, x, y, 400.0)
    other = hand.edit.document.volume("other")
    assert other == shown, "what was shown is what is made"
    assert other.joined.to == "one" and other.corner[2] == 400.0
    middle = other.corner[0] + 150.0, other.corner[1] + 150.0
    assert np.abs(np.subtract(middle, (x, y))).max() <= 160.0, "near the pencil, caught by ends and middles"


def test_a_volume_is_not_carried_to_itself_nor_to_what_goes_along_with_it():
    made = document()
    hand = Hand(made, join_tool).act(Act.PRESS, 1150.0, 300.0, 250.0).act(Act.RELEASE, 0.0, 0.0, 400.0)
    joined = hand.edit.document
    back = Hand(joined, join_tool).act(Act.PRESS, -600.0, -300.0, 200.0)
    top = np.add(joined.volume("other").corner, (150.0, 150.0, 500.0))
    back.act(Act.MOVE, *top)
    assert back.words() == "no face here" or back.preview.edit.document.volume("one").joined is None
    assert back.act(Act.BACK, *top).done and back.edit is None


def test_beside_hanging_and_inset_are_told_in_words():
    made = document()
    beside = Hand(made, join_tool).act(Act.PRESS, 1150.0, 300.0, 250.0).act(Act.MOVE, -100.0, -300.0, 200.0)
    assert "One" in beside.words() and "stands on" not in beside.words()
    nothing = Hand(made, join_tool).act(Act.PRESS, 1150.0, 300.0, 250.0).act(Act.MOVE, 6000.0, 6000.0, 0.0)
    assert nothing.words() == "no face here" and nothing.preview.edit is None
    locked = document(ONE, msgspec.structs.replace(OTHER, locked=True))
    held = Hand(locked, join_tool).act(Act.PRESS, 1150.0, 300.0, 250.0).act(Act.MOVE, 0.0, 0.0, 400.0)
    assert held.preview.edit is None, "a locked volume stays where it is"


def test_marks_of_a_volume_that_is_gone_are_refused_by_the_document():
    from isometron.document.marks.dividing import lay_mark

    with pytest.raises(DocumentError):
        lay_mark(document(), "gone", RingMark(face=0, diameter=20.0))
