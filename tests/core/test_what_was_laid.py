"""What was laid stays: no deed drops, moves or shrinks it unasked without saying so."""

import importlib
import inspect
import pkgutil
import random
from functools import cache
from itertools import pairwise
from pathlib import Path

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import isometron.document as rooms
from isometron.demos.catalogue import DEMOS, demo
from isometron.document.edits import add_volume, change_volume, delete_volumes, duplicate_volumes, resize_volume
from isometron.document.fresh import new_document
from isometron.document.joining import join, mirror
from isometron.document.joins import stood_frame
from isometron.document.laid import given_up_words, gives_up, laid
from isometron.document.lengths.proportion import drive
from isometron.document.marks.dividing import lay_mark
from isometron.document.marks.edge_edits import round_edges
from isometron.document.marks.mark_holds import type_lines
from isometron.document.marks.opening_edits import cut_opening, make_hollow
from isometron.document.marks.typed_mark_rows import type_mark_row
from isometron.document.shapes.lengthening import lengthen
from isometron.document.shapes.profiles import both_alike
from isometron.document.shapes.roofs import fence, roof_over
from isometron.document.shapes.rounding import make_round
from isometron.document.shapes.shaping import SHAPES, make_shape
from isometron.document.shapes.typed_outline import outline_text, type_outline
from isometron.document.store.files import load_document
from isometron.document.together import turn_together
from isometron.errors import IsometronError
from isometron.solve.drawing import solve
from isometron.starters.catalogue import STARTERS, lay_starter
from isometron.volumes.box import Box, box_corners
from isometron.volumes.copies import copies_of, mirrored
from isometron.volumes.cut.body import uncut_because
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile, view_size
from isometron.volumes.kinds import own_faces
from isometron.volumes.marks.face_marks import DivideMark, OpeningMark, RingMark
from isometron.volumes.marks.holds import Apart, Measured
from isometron.volumes.openings.shafts import outline_on_face
from isometron.volumes.relations import Repeat
from isometron.volumes.rounded import RoundedEdge
from isometron.volumes.turned import Turned
from isometron.volumes.undrawn import undrawn_edges, undrawn_marks

CASES = Path(__file__).parents[1] / "cases" / "drawn"
BLOCK = Box(id="block", name="Block", corner=(0.0, 0.0, 0.0), size=(2400.0, 1150.0, 1900.0))
SIDE = "0, 0; 0, 100 %; 1500, 100 %; 2300, 60 %; 100 %, 0"


def start(mm, to="edge"):
    return Measured(from_="start", mm=mm, to=to)


def block(side=SIDE, **fields):
    document = add_volume(new_document(), msgspec.structs.replace(BLOCK, **fields)).document
    return type_outline(document, "block", "side", side).document if side else document


def places(document, view="side"):
    volume = document.volume("block")
    profile = getattr(volume, view)
    size = view_size(volume, view)
    return [tuple(h.mm if isinstance(h, Measured) and h.from_ == "start" else h if not isinstance(h, Measured) else n - h.mm
                  for h, n in zip(c.at, size, strict=True)) for c in profile.corners]  # fmt: skip


# --- outlines and sizes -------------------------------------------------------------------------------------------


def test_corners_in_mm_stay_from_their_end_or_the_nearer_one_and_keep_their_order():
    document = block()
    for shorter in (lengthen(document, ("block",), 0, 2200 / 2400), resize_volume(document, "block", 0, 2200.0)):
        assert not uncut_because(shorter.document.volume("block"))
        assert [x for x, _ in places(shorter.document)] == [0.0, 0.0, 1500.0, 2100.0, 1.0]
        assert "corners 4 of the side view" in given_up_words(gives_up(document, shorter))
    tight = resize_volume(document, "block", 0, 1600.0).document
    assert [x for x, _ in places(tight)][2:4] == pytest.approx([1000.0, 1600 * 2300 / 2400]), (
        "between their neighbours together"
    )
    held = block("0, 0; 0, 100 %; 60 %, 100 %; 100 from end, 60 %; 100 %, 0")
    assert outline_text(held.volume("block").side, held).split("; ")[3] == "100 mm from end, 60 %"
    assert places(resize_volume(held, "block", 0, 1000.0).document)[3][0] == pytest.approx(900.0)


@given(
    st.floats(60.0, 6000.0),
    st.floats(60.0, 4000.0),
    st.lists(st.floats(0.02, 0.98), min_size=3, max_size=6, unique=True),
    st.randoms(),
)
@settings(max_examples=60)
def test_no_size_makes_an_outline_vanish(long, high, shares, dice):
    shares = sorted(shares)
    if min(b - a for a, b in pairwise(shares)) < 1e-3:
        return
    tops = [
        dice.choice(
            [f"{900 + 900 * dice.random():.1f}", f"{dice.randint(5, 95)} %", f"{dice.randint(1, 900)} from end"]
        )
        for _ in shares
    ]
    along = [dice.choice([f"{2400 * s:.1f}", f"{100 * s:.2f} %", f"{2400 * (1 - s):.1f} from end"]) for s in shares]
    shaped = ["", " round 40", " chamfer 25"]
    text = "; ".join(
        ["0, 0", *(f"{x}, {y}{dice.choice(shaped)}" for x, y in zip(along, tops, strict=True)), "100 %, 0"]
    )
    try:
        document = block(text)
    except IsometronError:
        return
    edit = resize_volume(resize_volume(document, "block", 0, long).document, "block", 2, high)
    volume, before = edit.document.volume("block"), document.volume("block")
    assert not uncut_because(volume), text
    assert [c.n for c in volume.side.corners] == [c.n for c in before.side.corners]
    order = [sorted(range(len(shares)), key=lambda k: places(d)[k + 1][0] if places(d)[k + 1][0] > 1.0 else places(d)[k + 1][0] * d.volume("block").size[0])
             for d in (document, edit.document)]  # fmt: skip
    assert order[0] == order[1], "corners keep their order"


def test_a_car_is_made_shorter_with_its_arches_and_its_wheelbase_in_wheels():
    car = lay_starter(new_document(), "low-car").document
    for factor in (0.9, 0.8, 1.2):
        edit = lengthen(car, ("body",), 0, factor)
        body, wheel = edit.document.volume("body"), edit.document.volume("wheel")
        assert not uncut_because(body) and len(body.side.corners) == len(car.volume("body").side.corners)
        assert wheel.copies[0].pitch == pytest.approx(4.05 * 620.0), "said as 4.05 wheel"
        ends = lengthen(car, ("body",), 0, factor, rows="ends").document
        gap = [d.volume("body").size[0] - 483.6 - d.volume("wheel").copies[0].pitch for d in (car, ends)]
        assert gap[0] == pytest.approx(gap[1]), "the rear wheel keeps its place to the rear"
        assert not uncut_because(ends.volume("body"))


def test_an_outline_takes_its_own_text_again():
    for document in (load_document(CASES / "wheel-steered-disc-stays.isometron"), demo("delivery-van"), block()):
        for volume in document.volumes:
            for view in VIEWS:
                profile = getattr(volume, view, None)
                if isinstance(profile, CutProfile):
                    again = type_outline(document, volume.id, view, outline_text(profile, document)).document
                    assert getattr(again.volume(volume.id), view).corners == profile.corners
                    assert again.volume(volume.id).marks == volume.marks


# --- faces --------------------------------------------------------------------------------------------------------


def windowed():
    document = make_hollow(block(), "block", 30.0).document
    window = OpeningMark(face="y0", at=(start(200.0), start(900.0)), wide=800.0, high=500.0)
    return cut_opening(document, "block", window).document


def test_faces_answer_to_every_outline_on_their_plane():
    document = windowed()
    where = outline_on_face(document.volume("block"), document.volume("block").marks[0])
    for view, text in (
        ("front", "0, 0; 100 %, 0; 100 %, 100 %; 0, 100 %"),
        ("plan", "0, 0; 100 %, 0; 90 %, 100 %; 0, 100 %"),
    ):
        edit = type_outline(document, "block", view, text)
        volume = edit.document.volume("block")
        assert (
            volume.marks == document.volume("block").marks
            and not undrawn_marks(volume)
            and not gives_up(document, edit)
        )
        assert np.allclose(outline_on_face(volume, volume.marks[0]), where, atol=1e-6)
        assert own_faces(volume)["y0"].id.startswith(view)
        back = type_outline(edit.document, "block", view, "").document
        assert not undrawn_marks(back.volume("block"))


def test_what_lay_on_a_face_that_is_gone_is_pushed_on_to_the_one_that_stands_there():
    document = windowed()
    edit = type_outline(document, "block", "front", "0, 0; 100 %, 0; 90 %, 100 %; 10 %, 100 %")
    (window,), volume = edit.document.volume("block").marks, edit.document.volume("block")
    assert own_faces(volume)[window.face].outward[1] < -0.9 and not undrawn_marks(volume)
    was, now = (outline_on_face(d.volume("block"), d.volume("block").marks[0]) for d in (document, edit.document))
    assert np.allclose(was[:, 0].mean(), now[:, 0].mean(), atol=1.0) and np.allclose(
        was[:, 2].mean(), now[:, 2].mean(), atol=1.0
    )
    assert "lies on the" in given_up_words(gives_up(document, edit))
    retyped = type_outline(document, "block", "side", SIDE.replace("60 %", "55 %")).document
    assert [c.n for c in retyped.volume("block").side.corners] == [c.n for c in document.volume("block").side.corners]


def test_rounded_edges_joins_and_grids_stay_with_faces_by_other_names():
    document = round_edges(block(), "block", [RoundedEdge(between=("side.1", "y0"), radius=40.0)]).document
    small = msgspec.structs.replace(
        BLOCK, id="lamp", name="Lamp", size=(100.0, 100.0, 100.0), corner=(500.0, -100.0, 900.0)
    )
    document = join(add_volume(document, small).document, "lamp", "block").document
    edit = type_outline(document, "block", "front", "0, 0; 100 %, 0; 100 %, 100 %; 0, 100 %")
    assert not undrawn_edges(edit.document.volume("block")) and not gives_up(document, edit)
    assert edit.document.volume("lamp") == document.volume("lamp")
    slim = resize_volume(
        round_edges(block(), "block", [RoundedEdge(between=("side.1", "y0"), radius=400.0)]).document,
        "block",
        1,
        300.0,
    )
    assert not undrawn_edges(slim.document.volume("block")), "a radius without room shrinks"


def test_both_sides_alike_and_back_keeps_what_lies_on_the_faces():
    document = block("0, 0; 0, 100 %; 50 %, 80 %; 100 %, 100 %; 100 %, 0")
    faces = own_faces(document.volume("block"))
    rear = next(name for name, face in faces.items() if face.outward[0] > 0.9)
    document = lay_mark(document, "block", RingMark(face=rear, at=(0.5, 0.5), diameter=200.0)).document
    for on in (True, False):
        edit = both_alike(document, "block", "side", on)
        (ring,), volume = edit.document.volume("block").marks, edit.document.volume("block")
        assert own_faces(volume)[ring.face].outward[0] > 0.9 and not undrawn_marks(volume)
        document = edit.document


def test_a_named_shape_keeps_other_outlines_and_says_which_goes():
    document = type_outline(block(), "block", "plan", "0, 0; 100 %, 0; 100 %, 100 %; 20 %, 100 %; 0, 80 %").document
    edit = make_shape(document, ("block",), "notched block")
    assert edit.document.volume("block").plan == document.volume("block").plan
    assert "side view of Block goes: another" in given_up_words(gives_up(document, edit))
    boxed = gives_up(document, make_shape(document, ("block",), "box again"))
    assert {given.words for given in boxed} >= {"side view of Block goes", "plan of Block goes"}


@pytest.mark.parametrize("ahead", ["x0", "x1", "y0", "y1"])
@pytest.mark.parametrize("name", list(SHAPES)[:13])
def test_shapes_follow_the_things_own_front(name, ahead):
    """A thing with another front has the shape that the plain one has after a turn by quarters."""
    turns = {"x0": 0, "y0": 1, "x1": 2, "y1": 3}[ahead]
    plain = make_shape(block("", size=(1000.0, 1000.0, 800.0)), ("block",), name).document.volume("block")
    made = make_shape(block("", size=(1000.0, 1000.0, 800.0), ahead=ahead), ("block",), name).document.volume("block")
    turn = np.linalg.matrix_power(np.array([[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]]), turns)

    def told(volume, by):
        middle = np.array([500.0, 500.0, 0.0])
        return sorted(
            (*np.round(by @ f.outward, 6) + 0.0, round(f.area, 3), *np.round(by @ (_centre(f) - middle), 3) + 0.0)
            for f in own_faces(volume).values()
        )

    assert np.allclose(told(plain, turn), told(made, np.eye(3)), atol=2e-3)


def _centre(face):
    low, high = face.loops[0].min(axis=0), face.loops[0].max(axis=0)
    x, y = (low + high) / 2
    return face.corner + x * face.x + y * face.y


# --- what goes along ----------------------------------------------------------------------------------------------


def test_a_roof_moves_no_window_that_was_not_asked():
    document = block("")
    window = OpeningMark(face=2, at=(start(600.0), start(800.0)), wide=700.0, high=600.0)
    document = make_hollow(cut_opening(document, "block", window).document, "block", 100.0).document
    was = outline_on_face(document.volume("block"), window)
    for kind in ("gabled", "hipped", "lean-to"):
        edit = roof_over(document, "block", kind, slope_deg=40.0, eaves=300.0, gable=200.0, thick=120.0)
        walls = edit.document.volume("block")
        assert not undrawn_marks(walls) and np.allclose(outline_on_face(walls, walls.marks[0]), was, atol=1e-6), kind


@given(st.floats(-80.0, 80.0), st.floats(-40.0, 40.0))
@settings(max_examples=20)
def test_what_is_joined_to_a_wheel_turns_with_its_steer_and_lean(steer, lean):
    document = load_document(CASES / "wheel-steered-disc-stays.isometron")
    wheel, disc = document.volume("round"), document.volume("round-2")
    turned = change_volume(document, "round", "steer", steer_deg=steer, lean_deg=lean).document
    for one, other in ((wheel, disc), (turned.volume("round"), turned.volume("round-2"))):
        assert np.allclose(stood_frame(one)[1], box_corners([other])[1][0], atol=1e-9), "as the wheel stands"
    own = [
        (box_corners([d])[0][0].mean(axis=0) - stood_frame(w)[0]) @ stood_frame(w)[1]
        for w, d in ((wheel, disc), (turned.volume("round"), turned.volume("round-2")))
    ]
    assert np.allclose(own[0], own[1], atol=1e-3)


def test_a_fence_is_one_thing():
    document = fence(
        new_document(), long=6200.0, high=1100.0, by="posts", apart=4, post=90.0, rails=2, thick=35.0, before=False
    ).document
    posts, rails = document.volumes
    both = [v.id for v in document.volumes]
    turned = turn_together(document, (rails.id,), 90.0).document
    for one in both:
        was, now = (
            [np.array(box_corners(copies_of(d.volume(one), dict))[0]).reshape(-1, 3)] for d in (document, turned)
        )
        quarter = np.array([[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
        everything = np.concatenate(
            [box_corners(copies_of(document.volume(i), dict))[0].reshape(-1, 3) for i in both]
        )
        middle = (everything.min(axis=0) + everything.max(axis=0)) / 2
        assert np.allclose((was[0] - middle) @ quarter.T + middle, now[0], atol=1e-3), one
    twin = duplicate_volumes(document, (posts.id,)).document
    assert len(twin.volumes) == 4 and len({v.group for v in twin.volumes}) == 2
    imaged = mirror(document, (posts.id,), "", "long").document
    assert all(v.mirror is not None for v in imaged.volumes)
    longer = lengthen(document, (rails.id,), 0, 1.5).document
    assert longer.volume(posts.id).copies[0].pitch == pytest.approx(1.5 * posts.copies[0].pitch)
    assert not [f for f in solve(document).findings if f.code == "sharing-space"]


@pytest.mark.parametrize("name", ["m1", "q3", "o410"])
def test_arches_on_level_faces_have_mirror_images(name):
    document = load_document(CASES / f"{name}.isometron")
    (volume,) = document.volumes
    image = copies_of(volume, dict)[-1]
    assert not undrawn_marks(image)
    one, other = (outline_on_face(v, v.marks[0]) for v in (volume, image))
    flipped = one * (1.0, -1.0, 1.0)
    assert np.allclose(sorted(map(tuple, np.round(flipped, 6))), sorted(map(tuple, np.round(other, 6))), atol=1e-5)


@given(
    st.sampled_from([0, 1, 2, 3, 4, 5]),
    st.sampled_from(["half-round", "segmental", "pointed", "rectangle"]),
    st.sampled_from([0, 1, 2]),
)
@settings(max_examples=40)
def test_images_of_openings_lie_where_a_mirror_shows_them(face, form, across):
    mark = OpeningMark(
        face=face, at=(0.4, start(100.0)), wide=200.0, high=300.0, form=form, goes="pocket", depth=40.0
    )
    volume = msgspec.structs.replace(BLOCK, marks=(mark,), yaw_deg=20.0)
    normal = np.eye(3)[across]
    image = mirrored(volume, np.zeros(3), normal)
    one, other = (outline_on_face(v, v.marks[0]) for v in (volume, image))
    flipped = one - 2.0 * np.outer(one @ normal, normal)
    gaps = np.linalg.norm(flipped[:, None] - other[None], axis=2).min(axis=1)
    assert gaps.max() < 1e-5


def test_starters_are_flush():
    for name in STARTERS:
        document = lay_starter(new_document(), name).document
        codes = [f.code for f in solve(document).findings]
        assert "nearly-flush" not in codes, name
        for volume in document.volumes:
            for says in volume.says:
                assert "0.7407" not in says.text and "0.5333" not in says.text
    hut = lay_starter(new_document(), "hut").document
    assert hut.volume("walls").size[2] == pytest.approx(hut.volume("gable").corner[2], abs=1e-9)


def test_round_says_what_it_does_to_the_sizes():
    document = block("", size=(600.0, 920.0, 400.0))
    edit = make_round(document, ("block",), "cylinder")
    assert "600 x 920 x 400 mm becomes 600 x 600 x 400 mm" in given_up_words(gives_up(document, edit))


def test_deeds_say_what_goes_with_them():
    document = lay_starter(new_document(), "low-car").document
    gone = gives_up(document, delete_volumes(document, ("body",)))
    assert any("join of Cabin" in each.words for each in gone)
    assert not any(each.sort == "volume" for each in gone), "what is asked to go is not told"
    sized = gives_up(document, resize_volume(document, "cabin", 0, 1500.0))
    assert any(each.words.startswith("long of Cabin") for each in sized)
    assert not gives_up(document, drive(document, "cabin", "long", "3 wheel"))
    listed = laid(document)
    assert {each.sort for each in listed} >= {"volume", "outline", "corner", "join", "row", "size", "front"}
    assert all(each.drawn for each in listed if each.sort != "volume")


# --- every edit there is ------------------------------------------------------------------------------------------


def edits():
    """Every public function of the document's room that returns an edit."""
    for module in pkgutil.walk_packages(rooms.__path__, rooms.__name__ + "."):
        for name, function in inspect.getmembers(importlib.import_module(module.name), inspect.isfunction):
            own = function.__module__ == module.name and not name.startswith("_")
            if own and str(inspect.signature(function, eval_str=False).return_annotation).startswith("Edit"):
                yield function


FAR = {"isometron.document.pictures.picture_edits"}
"""Edits of pictures need a picture's bytes; they touch nothing that was laid on volumes (tests/core/test_pictures.py)."""
EDITS = sorted((f for f in edits() if f.__module__ not in FAR), key=lambda f: (f.__module__, f.__name__))


def _id(dice, document):
    return dice.choice(document.volumes).id


def _marked(dice, document):
    found = [v for v in document.volumes if v.marks]
    return dice.choice(found or document.volumes)


def _mark(dice, document):
    return dice.choice([
        RingMark(face=dice.randint(0, 5), at=(start(150.0, "middle"), 0.5), diameter=60.0),
        DivideMark(face=dice.randint(0, 5), across=(0.3,), up=(0.5,)),
        OpeningMark(face=dice.randint(0, 5), at=(start(120.0), start(80.0)), wide=90.0, high=60.0, goes="pocket", depth=20.0),
    ])  # fmt: skip


ARGUMENTS = {
    "volume_id": _id, "other_id": _id, "wheel_id": _id, "thing": _id, "about": lambda d, doc: d.choice([None, "", _id(d, doc)]),
    "ids": lambda d, doc: tuple({_id(d, doc) for _ in range(d.randint(1, 3))}), "axis": lambda d, doc: d.randint(0, 2),
    "length": lambda d, doc: 40.0 + 2500.0 * d.random(), "mm": lambda d, doc: 40.0 + 900.0 * d.random(), "factor": lambda d, doc: 0.5 + d.random(),
    "text": lambda d, doc: d.choice(["900", "60 %", "1.5 m", "2 x 1500", "0, 0; 100 %, 0; 100 %, 100 %; 30 %, 100 %; 0, 50 %", "", "3"]),
    "view": lambda d, doc: d.choice(VIEWS), "number": lambda d, doc: d.randint(0, 6), "column": lambda d, doc: d.randint(0, 1),
    "corner": lambda d, doc: (10.0, 20.0, 0.0), "size": lambda d, doc: tuple(60.0 + 1500.0 * d.random() for _ in range(3)),
    "offset": lambda d, doc: (100.0 * d.random(), 5.0, 0.0), "yaw_deg": lambda d, doc: 90.0 * d.random(), "by": lambda d, doc: 1,
    "profile": lambda d, doc: d.choice(["cylinder", "wheel", "ball", "cone"]), "name": lambda d, doc: d.choice(list(SHAPES)),
    "mark": _mark, "edge": lambda d, doc: d.randint(0, 11), "places": lambda d, doc: (0.25, 0.5),
    "rows": lambda d, doc: (Repeat(along="long", count=3, pitch=900.0),), "rows_of": lambda d, doc: lambda v: (Repeat(along="wide", count=2, pitch=700.0),),
    "along": lambda d, doc: "long", "wall": lambda d, doc: d.choice([0.0, 25.0]), "room": lambda d, doc: 0.57,
    "edges": lambda d, doc: (RoundedEdge(between=(0, 5), radius=30.0),), "radius": lambda d, doc: 20.0, "grows_to": lambda d, doc: None,
    "how": lambda d, doc: d.choice(["start", "end", "middle", "share"]), "place": lambda d, doc: (200.0 * d.random(), 100.0 * d.random()),
    "after": lambda d, doc: 1, "on": lambda d, doc: d.random() < 0.5, "what": lambda d, doc: "change", "drives": lambda d, doc: d.choice(["long", "wide", "high", "pitch"]),
    "parts": lambda d, doc: (1.0, 2.0, 0.0), "lock": lambda d, doc: True, "row": lambda d, doc: 0, "high": lambda d, doc: 400.0,
    "kind": lambda d, doc: d.choice(["gabled", "hipped", "lean-to"]), "slope_deg": lambda d, doc: 35.0, "eaves": lambda d, doc: 100.0,
    "gable": lambda d, doc: 80.0, "thick": lambda d, doc: 40.0, "long": lambda d, doc: 3000.0, "post": lambda d, doc: 80.0, "rails": lambda d, doc: 2,
    "before": lambda d, doc: True, "apart": lambda d, doc: 900.0, "width": lambda d, doc: 297.0, "height": lambda d, doc: 210.0, "code": lambda d, doc: "floating",
    "quiet": lambda d, doc: True, "field": lambda d, doc: "across", "stays": lambda d, doc: 0.0, "face": lambda d, doc: d.randint(0, 5), "own_face": lambda d, doc: 4,
    "to": lambda d, doc: "edge", "within": lambda d, doc: 0.0, "across": lambda d, doc: "wide", "band": lambda d, doc: 0.0, "every": lambda d, doc: 500.0,
    "plane_id": lambda d, doc: doc.planes[0].id if doc.planes else "none", "off": lambda d, doc: 30.0, "target": lambda d, doc: doc.targets[0] if doc.targets else None,
}  # fmt: skip
BY_EDIT = {
    "change_volume": {"fields": lambda d, doc: {"yaw_deg": 15.0}}, "change_all": {"fields": lambda d, doc: {"see_through": True}},
    "change_document": {"fields": lambda d, doc: {"title": "Other"}}, "change_corner": {"fields": lambda d, doc: {"round": 15.0}},
    "change_round": {"fields": lambda d, doc: {"axle": "long"}}, "change_plane": {"fields": lambda d, doc: {"shown": True}},
    "change_mark": {"fields": lambda d, doc: {}, "volume_id": lambda d, doc: _marked(d, doc).id}, "fence": {"by": lambda d, doc: d.choice(["pitch", "gap"])},
    "put_profile": {"profile": lambda d, doc: None}, "reorder_volumes": {"by": lambda d, doc: 1}, "lengthen": {"along": lambda d, doc: (), "rows": lambda d, doc: d.choice(["said", "ends"])},
    "set_module": {"name": lambda d, doc: ""}, "set_length": {"name": lambda d, doc: "reach", "text": lambda d, doc: "900"}, "remove_length": {"name": lambda d, doc: "reach"},
    "add_volume": {"volume": lambda d, doc: msgspec.structs.replace(BLOCK, id="fresh", name="Fresh")},
    "add_in_rows": {"volume": lambda d, doc: msgspec.structs.replace(BLOCK, id="fresh", name="Fresh"), "text": lambda d, doc: d.choice(["", "3 x 1800", "2 x 500; wide 2 x 900"])},
    "paste_volumes": {"volumes": lambda d, doc: doc.volumes[:2]}, "join_onto": {"place": lambda d, doc: (100.0, 100.0, 100.0)},
    "divide_face": {"mark": lambda d, doc: DivideMark(face=d.randint(0, 5), across=(0.4,))},
    "type_bow": {"text": lambda d, doc: d.choice(["40", "20 %", "0"])},
    "add_said": {"text": lambda d, doc: d.choice(["shelf 400 x 300 x 20 at 0, 0, 900, 2 x 500", "9 x 9 x 9"])},
    "add_target": {"text": lambda d, doc: "reach = 900"}, "hold_corner": {"how": lambda d, doc: d.choice(["start", "end", "share"])},
    "count_mark_row": {"count": lambda d, doc: d.choice([1, 2, 5]), "volume_id": lambda d, doc: _marked(d, doc).id},
    "lay_twin": {"about": lambda d, doc: d.choice([None, 0, 5])},
    "step_mark": {"how": lambda d, doc: d.choice(["pitch", "gap", "share"])},
}  # fmt: skip
OTHERS = {
    "isometron.document.eyes", "isometron.document.planes.plane_edits", "isometron.document.shapes.companions",
}  # fmt: skip
"""Their arguments are eyes, planes and bodies half made: those that change no volume are only held to changing none."""


def _arguments(function, dice, document):
    own = BY_EDIT.get(function.__name__, {})
    given_ = {}
    for name, parameter in list(inspect.signature(function).parameters.items())[1:]:
        if parameter.kind is parameter.VAR_KEYWORD:
            given_ |= own["fields"](dice, document)
            continue
        make = own.get(name, ARGUMENTS.get(name))
        if make is None and parameter.default is parameter.empty:
            raise KeyError(f"{function.__name__}: nothing is known of {name}; add it to ARGUMENTS")
        if make is not None:
            given_[name] = make(dice, document)
    return given_


@cache
def laid_out():
    """Documents full of things that were laid."""
    van = demo("delivery-van")
    rich = windowed()
    rich = lay_mark(rich, "block", RingMark(face="x0", at=(0.5, start(300.0, "middle")), diameter=200.0)).document
    rich = round_edges(rich, "block", [RoundedEdge(between=("y1", "side.1"), radius=30.0)]).document
    lamp = msgspec.structs.replace(BLOCK, id="lamp", name="Lamp", size=(100.0, 100.0, 100.0), corner=(2300.0, 500.0, 400.0),
                                   copies=(Repeat(along="wide", count=2, pitch=300.0),))  # fmt: skip
    rich = drive(
        join(add_volume(rich, lamp).document, "lamp", "block").document, "lamp", "high", "0.1 block"
    ).document
    plain = block("", marks=(OpeningMark(face=2, at=(start(200.0), start(300.0)), wide=300.0, high=200.0, count=3,
                                         step=(Apart(by="gap", mm=100.0), 0.0), goes="pocket", depth=60.0),))  # fmt: skip
    cars = [lay_starter(new_document(), name).document for name in ("low-car", "hut", "three-wheeler", "side-chair")]
    return [rich, plain, van, *cars, demo("stall-row")]


def _counts(document):
    """How much is drawn of each sort on each volume, told without the code under test's own comparison."""
    found = {}
    for v in document.volumes:
        found[v.id] = {
            "mark": len(v.marks) - len(undrawn_marks(v)), "rounded": len(v.rounded) - len(undrawn_edges(v)), "row": len(v.copies),
            "outline": sum(getattr(v, view, None) is not None for view in VIEWS) - (len(uncut_because(v)) if isinstance(v, CutBody) else 0),
            "join": int(v.joined is not None), "mirror": int(v.mirror is not None), "size": len(v.says), "ratio": int(v.keep is not None),
            "wall": int(v.wall > 0.0),
        }  # fmt: skip
    return found


@pytest.mark.parametrize("function", EDITS, ids=lambda f: f.__name__)
def test_no_deed_gives_up_anything_without_saying_so(function):
    tries, done = 0, 0
    for seed in range(8):
        dice = random.Random(f"{function.__name__} {seed}")
        document = dice.choice(laid_out())
        if any(function.__module__.startswith(name) for name in OTHERS):
            return
        arguments = _arguments(function, dice, document)
        tries += 1
        try:
            edit = function(document, **arguments)
        except IsometronError:
            continue
        except (AttributeError, TypeError):
            assert None in arguments.values() or function in (type_lines, type_mark_row), (
                "another sort of mark is there"
            )
            continue
        done += 1
        told = {each.sort for each in gives_up(document, edit)} | edit.asks
        before, after = _counts(document), _counts(edit.document)
        for name, counts in before.items():
            if name not in after:
                assert "volume" in told, f"{name} goes"
                continue
            for sort, count in counts.items():
                assert after[name][sort] >= count or sort in told, (
                    f"{function.__name__}{arguments}: {sort} of {name}, told {told}"
                )
    assert tries


def test_the_demos_and_starters_have_nothing_that_is_not_drawn():
    for document in [demo(name) for name in DEMOS] + [
        lay_starter(new_document(), name).document for name in STARTERS
    ]:
        assert [each for each in laid(document) if not each.drawn] == []
        assert all(isinstance(v, Turned) or v.size for v in document.volumes)
