"""Figures are one figure wherever they stand, and what is typed is what is meant: rounds stay round, marks lie on the body."""

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.construct.outcome import Construction
from isometron.construct.schools import construct, first_school
from isometron.demos.catalogue import demo
from isometron.document.edits import change_volume, reshape_volume, resize_volume
from isometron.document.eyes.eye_edits import tilt_view
from isometron.document.eyes.eye_wishes import fit_sheet_part
from isometron.document.fresh import new_document
from isometron.document.lengths.proportion import drive, keep_ratio
from isometron.document.marks.dividing import divide_face, lay_mark
from isometron.document.model import DocumentError
from isometron.document.shapes.rounding import make_oblong, make_round
from isometron.document.shapes.roundness import is_oblong
from isometron.document.shapes.shaping import SHAPES, make_shape
from isometron.solve.drawing import solve
from isometron.solve.measures import off_sheet
from isometron.view.vanishing import horizon, vanishing
from isometron.volumes.box import Box
from isometron.volumes.marks.face_marks import DivideMark, RingMark
from isometron.volumes.relations import Repeat
from isometron.volumes.turned import Turned


@pytest.mark.parametrize("axis", [0, 1, 2])
@pytest.mark.parametrize("name", ["wheel-near", "lamp"])
def test_round_things_stay_round_whatever_is_typed(axis, name):
    cart = demo("tea-cart")
    for edit in (
        resize_volume(cart, name, axis, 333.0),
        reshape_volume(
            cart, name, (1.0, 2.0, 3.0), [333.0 if k == axis else s for k, s in enumerate(cart.volume(name).size)]
        ),
        drive(cart, name, ("long", "wide", "high")[axis], "111 * 3"),
        keep_ratio(cart, name, tuple(2.0 if k == axis else 1.0 for k in range(3))),
    ):
        body = edit.document.volume(name)
        assert not is_oblong(body)
        assert solve(edit.document).findings is not None


def test_oblong_is_a_deed_of_its_own_and_is_kept():
    cart = make_oblong(demo("tea-cart"), "lamp", 400.0).document
    assert is_oblong(cart.volume("lamp"))
    higher = resize_volume(cart, "lamp", 2, 500.0).document
    assert is_oblong(higher.volume("lamp")), "what is oblong stays so"
    moved = change_volume(cart, "lamp", "move", corner=(0.0, 0.0, 0.0)).document
    assert is_oblong(moved.volume("lamp"))
    again = make_oblong(cart, "lamp", cart.volume("lamp").size[0]).document
    assert not is_oblong(again.volume("lamp"))
    made = make_round(demo("tea-cart"), ("body",), "cylinder").document.volume("body")
    assert isinstance(made, Turned) and not is_oblong(made)


@given(st.floats(-30.0, 30.0), st.floats(-20.0, 20.0))
def test_one_distance_off_the_sheet_along_the_line_itself(pitch, roll):
    document = demo("tea-cart")
    if abs(pitch) > 1.0:
        document = tilt_view(document, pitch).document
    eye = msgspec.structs.replace(document.eye, roll_deg=roll if abs(roll) > 1.0 else 0.0)
    document = msgspec.structs.replace(document, eye=eye)
    left, lower, right, upper = document.sheet.rectangle
    line = horizon(eye)
    for direction in np.eye(3)[:2]:
        point = vanishing(eye, direction)
        if point.at is None or line is None:
            continue
        # A ruler on the horizon: the farthest place of the sheet's on it towards the point.
        a, b = line.normal
        foot, way = np.array([a, b]) * line.offset, np.array([b, -a])
        t = np.linspace(-2000.0, 2000.0, 400_001)
        places = foot + t[:, None] * way
        on = (places[:, 0] >= left) & (places[:, 0] <= right) & (places[:, 1] >= lower) & (places[:, 1] <= upper)
        if on.any() and not (left <= point.at[0] <= right and lower <= point.at[1] <= upper):
            gap = np.hypot(*(places[on] - point.at).T).min()
            assert off_sheet(document, point.at) == pytest.approx(gap, abs=0.02 + 1e-9 * gap)


def test_by_distance_never_moves_the_eyes_height():
    cart = tilt_view(demo("tea-cart"), -18.0).document
    walked = fit_sheet_part(cart, 0.5, 15.0, keep="distance").document
    assert walked.eye.position[2] == cart.eye.position[2] and walked.eye.position != cart.eye.position


@pytest.mark.parametrize(
    ("shape", "mark", "lies"),
    [
        ("steps", RingMark(face=2, at=(0.2, 0.8), diameter=100.0), False),
        ("steps", RingMark(face=2, at=(0.8, 0.2), diameter=100.0), True),
        ("L shape", RingMark(face=5, at=(0.8, 0.8), diameter=100.0), False),
        ("gable with overhang", RingMark(face=0, at=(0.05, 0.9), diameter=80.0), False),
        ("steps", DivideMark(face=2, across=(0.5,)), False),
        ("cabin, sides leaning in", RingMark(face=2, at=(0.5, 0.5), diameter=100.0), False),
        ("cabin, sides leaning in", RingMark(face="front.4", at=(0.5, 0.5), diameter=100.0), True),
        ("steps", RingMark(face="side.5", at=(0.5, 0.5), diameter=100.0), True),
        ("steps", RingMark(face="side.5", at=(0.1, 0.5), diameter=300.0), False),
        ("L shape", RingMark(face="z1", at=(0.8, 0.8), diameter=100.0), False),
        ("box again", RingMark(face=2, at=(0.1, 0.9), diameter=60.0), True),
    ],
)  # fmt: skip
def test_new_marks_beside_the_body_are_refused_and_old_ones_stay(shape, mark, lies):
    block = Box(id="b", name="B", corner=(0.0, 0.0, 0.0), size=(900.0, 900.0, 900.0))
    document = make_shape(msgspec.structs.replace(new_document(), volumes=(block,)), ("b",), shape).document
    assert shape in SHAPES
    edit = divide_face if isinstance(mark, DivideMark) else lay_mark
    if lies:
        assert mark in edit(document, "b", mark).document.volume("b").marks
        return
    with pytest.raises(DocumentError, match="beside the body"):
        edit(document, "b", mark)
    old = msgspec.structs.replace(document.volume("b"), marks=(mark,))
    kept = msgspec.structs.replace(document, volumes=(old,))
    assert mark in lay_mark(kept, "b", RingMark(face=4, at=(0.2, 0.2), diameter=50.0)).document.volume("b").marks


def test_divisions_stop_at_an_opening():
    wall = Box(id="b", name="B", corner=(0.0, 0.0, 0.0), size=(1000.0, 200.0, 1000.0))
    document = make_shape(
        msgspec.structs.replace(new_document(), volumes=(wall,)), ("b",), "arch through it"
    ).document
    plain = solve(document).scene
    parted = solve(divide_face(document, "b", DivideMark(face=2, up=(0.3,), across=(0.5,))).document).scene
    lines = parted.vertices[parted.edges[len(plain.edges) :]]
    assert len(lines) == 3, "the level line has two parts, the upright one stands over the crown only"
    level = lines[np.abs(lines[:, 0, 2] - lines[:, 1, 2]) < 1e-6]
    assert sorted(np.ptp(level[:, :, 0], axis=1).round(3)) == [120.0, 120.0]


@pytest.mark.parametrize("gap", [0.0, 900.0])
def test_a_row_by_diagonals_takes_the_pitch(gap):
    post = Box(id="p", name="Post", corner=(-800.0, 0.0, 0.0), size=(100.0, 100.0, 1200.0),
               copies=(Repeat(along="long", count=4, pitch=100.0 + gap),))  # fmt: skip
    document = msgspec.structs.replace(new_document(turn_deg=35.0, away=5000.0), volumes=(post,))
    assert first_school(document, 0) in ("row", "row-line")
    done = construct(document, "p", "row")
    if isinstance(done, Construction):
        said = " ".join(step.sentence for step in done.steps)
        assert "one pitch" in said and ("its own diagonal" in said) == (gap > 0.0)
