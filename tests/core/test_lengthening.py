"""It is too long; outlines and rows as they are typed; what is done to all that is selected; both of a pair alike."""

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from isometron.demos.catalogue import demo
from isometron.document.edits import paste_volumes
from isometron.document.fresh import new_document
from isometron.document.joining import both_of_a_pair, descendants, join, join_all
from isometron.document.marks.dividing import change_mark
from isometron.document.marks.opening_edits import cut_opening
from isometron.document.marks.splitting import can_split, split_mark
from isometron.document.marks.typed_mark_rows import mark_row_text, type_mark_row
from isometron.document.marks.typed_rows import row_text, type_rows
from isometron.document.model import DocumentError
from isometron.document.shapes.lengthening import beside, lengthen, typed_factor
from isometron.document.shapes.typed_outline import outline_text, type_outline
from isometron.document.store.files import least_version
from isometron.solve.drawing import solve
from isometron.starters.catalogue import lay_starter
from isometron.tools.adjust import adjust_tool
from isometron.tools.handles import handles
from isometron.tools.pencil import Act, Pencil, ToolContext
from isometron.volumes.box import Box, box_corners
from isometron.volumes.cut.profiles import profile_outline
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.marks.holds import Apart
from isometron.volumes.turned import PROFILES, Turned

CAR = lay_starter(new_document(), "low-car").document
factors = st.floats(0.4, 2.5)


def box(name, corner, size, **fields):
    return Box(id=name, name=name.title(), corner=corner, size=size, **fields)


def cart():
    """A body, a box joined to its top by its middle, a wheel pair joined, and a barrel beside that is joined to nothing."""
    body, top = (
        box("body", (0.0, 0.0, 300.0), (2000.0, 800.0, 400.0)),
        box("top", (800.0, 0.0, 700.0), (400.0, 800.0, 300.0)),
    )
    wheel = Turned(
        id="wheel", name="Wheel", profile=PROFILES["wheel"], axle="wide", size=(500.0, 100.0, 500.0), corner=(200.0, -100.0, 0.0),
    )  # fmt: skip
    barrel = Turned(
        id="barrel", name="Barrel", profile=PROFILES["cylinder"], axle="high", size=(300.0, 300.0, 500.0), corner=(1500.0, 800.0, 0.0),
    )  # fmt: skip
    document = paste_volumes(new_document(), (body, top, wheel, barrel)).document
    document = type_rows(document, ("wheel",), "2 x 1100").document
    return join_all(document, ("top", "wheel"), "body").document


@given(factors, st.sampled_from([0.0, 0.5, 1.0]))
def test_all_that_goes_along_is_made_shorter_and_what_is_round_stays_round(factor, stays):
    before = cart()
    after = lengthen(before, ("body",), 0, factor, stays=stays).document
    body, top, wheel, barrel = (after.volume(name) for name in ("body", "top", "wheel", "barrel"))
    assert body.size == pytest.approx((2000.0 * factor, 800.0, 400.0))
    assert body.corner[0] + stays * body.size[0] == pytest.approx(stays * 2000.0, abs=1e-3), "the end that stays"
    assert top.size[0] == pytest.approx(400.0 * factor) and wheel.size == (500.0, 100.0, 500.0)
    room = 1100.0 + 2000.0 * (factor - 1.0)
    assert wheel.copies[0].pitch == pytest.approx(room if room >= 500.0 else 1100.0 * factor), (
        "as near to the rear as it was"
    )
    assert top.corner[0] + top.size[0] / 2 == pytest.approx(body.corner[0] + body.size[0] / 2), "held by its middle"
    assert barrel == before.volume("barrel"), "not joined, not asked for"


@given(factors)
def test_what_is_not_joined_comes_along_when_it_is_asked_for(factor):
    before = cart()
    loose = [volume.id for volume in beside(before, ("body",), 0)]
    assert loose == ["barrel"]
    after = lengthen(before, ("body",), 0, factor, along=loose).document
    barrel = after.volume("barrel")
    assert barrel.size == (300.0, 300.0, 500.0)
    assert barrel.corner[0] + 150.0 == pytest.approx(1650.0 * factor, abs=1e-3)


@given(factors)
def test_lengthening_there_and_back_again_changes_nothing(factor):
    once = lengthen(CAR, ("body",), 0, factor).document
    back = lengthen(once, ("body",), 0, 1.0 / factor).document
    for one, two in zip(CAR.volumes, back.volumes, strict=True):
        assert np.allclose(one.size, two.size, atol=1e-3) and np.allclose(one.corner, two.corner, atol=1e-2), one.name
    for name in descendants(CAR, "body"):
        volume = once.volume(name)
        if isinstance(volume, Turned):
            assert volume.size == CAR.volume(name).size


def test_factors_are_typed_as_ratios_parts_and_lengths():
    document = cart()
    typed = {
        "0.9": 0.9,
        "9/10": 0.9,
        "90 %": 0.9,
        "1/3 of it": 1 / 3,
        "1800": 0.9,
        "1.8 m": 0.9,
        "wheel * 2": 0.5,
        "2": 2.0,
    }
    for text, factor in typed.items():
        assert typed_factor(text, document, 2000.0) == pytest.approx(factor), text
    with pytest.raises(DocumentError, match="1 %"):
        lengthen(document, ("body",), 0, 0.0)


def test_a_face_pulled_with_the_key_held_takes_along_what_is_joined():
    document = cart()
    drawing = solve(document)
    end = next(h for h in handles(drawing, 0, 0.3) if h.grip.name == "FACE" and h.axis == 0 and h.sign > 0)
    tool = adjust_tool(ToolContext(drawing, 0.3), end, ("body",))
    next(tool)
    tool.send(Pencil(Act.PRESS, *end.at, straight=True))
    shown = tool.send(Pencil(Act.MOVE, end.at[0] + 5.0, end.at[1] + 1.0, text="1500", straight=True))
    assert shown.edit is not None and "not joined: Barrel" in shown.notes[0].text
    assert shown.edit.document.volume("top").size[0] == pytest.approx(300.0), (
        "the outcome is shown before it is let go"
    )
    with pytest.raises(StopIteration) as done:
        tool.send(Pencil(Act.RELEASE, end.at[0] + 5.0, end.at[1] + 1.0, text="1500", straight=True))
    assert done.value.value.document.volume("body").size[0] == pytest.approx(1500.0)


@pytest.mark.parametrize("name", ["body", "cabin"])
def test_outlines_are_typed_as_they_are_told(name):
    volume = CAR.volume(name)
    for view in ("side", "plan", "front"):
        profile = getattr(volume, view)
        if profile is None or any(getattr(held, "thing", "") for corner in profile.corners for held in corner.at):
            continue
        text = outline_text(profile, CAR)
        again = getattr(type_outline(CAR, name, view, text).document.volume(name), view)
        size = (1000.0, 400.0)
        one, two = (profile_outline(each, view, size).corners for each in (profile, again))
        assert np.allclose(one, two, atol=0.01), text


def test_a_typed_outline_takes_lengths_shares_and_roundings_and_says_what_is_wrong():
    document = paste_volumes(new_document(), (box("b", (0.0, 0.0, 0.0), (1000.0, 500.0, 400.0)),)).document
    typed = "0, 0; 0, 100 % round 8 cm; 60 %, 100 % chamfer 50; 1000, 200; 100 %, 0 bow -20 %"
    profile = type_outline(document, "b", "side", typed).document.volume("b").side
    assert [c.round for c in profile.corners] == [0.0, 80.0, 0.0, 0.0, 0.0]
    assert profile.corners[2].chamfer == 50.0 and profile.corners[4].bow == pytest.approx(-0.2)
    half = (
        type_outline(document, "b", "front", "0, 0; 0, 60 %; 10 %, 100 %; 50 %, 100 %; 50 %, 0; alike")
        .document.volume("b")
        .front
    )
    assert half.alike and half.corners[0].at[0] == 0.5, "it begins where it leaves the middle"
    for text, words in (
        ("0, 0; 1, 1", "three corners"),
        ("0, 0; 5; 1, 1", "Corner 2"),
        ("0, 0; 0, 1 round x; 1, 1", "Corner 2"),
    ):
        with pytest.raises(DocumentError, match=words):
            type_outline(document, "b", "side", text)
    assert (
        type_outline(type_outline(document, "b", "side", typed).document, "b", "side", "").document.volume("b").side
        is None
    )


def test_rows_are_typed_for_all_that_is_selected():
    document = paste_volumes(
        new_document(),
        (box("a", (0.0, 0.0, 0.0), (100.0, 50.0, 80.0)), box("b", (0.0, 500.0, 0.0), (60.0, 50.0, 80.0))),
    ).document
    made = type_rows(document, ("a", "b"), "4 gap 30; high 2 x 1 m").document
    assert [[(r.along, r.count, r.pitch) for r in v.copies] for v in made.volumes] == [
        [("long", 4, 130.0), ("high", 2, 1000.0)], [("long", 4, 90.0), ("high", 2, 1000.0)],
    ]  # fmt: skip
    assert row_text(made.volumes[0], made) == "4 x 130 mm; high 2 x 1000 mm"
    assert type_rows(made, ("a",), row_text(made.volumes[0], made)).document == made
    filled = type_rows(document, ("a",), "5 in 1300").document.volume("a").copies[0]
    assert filled.pitch == pytest.approx(300.0)
    assert type_rows(made, ("a", "b"), "").document.volumes[1].copies == ()
    with pytest.raises(DocumentError, match="is no row"):
        type_rows(document, ("a",), "four")


def test_rows_of_marks_are_typed():
    document = paste_volumes(new_document(), (box("w", (0.0, 0.0, 0.0), (4000.0, 300.0, 2000.0)),)).document
    document = cut_opening(document, "w", OpeningMark(face=2, at=(0.2, 0.5), wide=400.0, high=600.0)).document
    made = type_mark_row(document, "w", 0, "3 gap 250").document
    mark = made.volume("w").marks[0]
    assert mark.count == 3 and mark.step == (Apart(by="gap", mm=250.0), 0.0)
    assert mark_row_text(mark.count, mark.step, made) == "3 gap 250 mm"
    up = type_mark_row(made, "w", 0, "up 2 x 700").document.volume("w").marks[0]
    assert up.count == 2 and up.step == (0.0, Apart(by="pitch", mm=700.0))
    first = type_mark_row(document, "w", 0, "up 2 x 700"[:4]).document.volume("w").marks[0]
    assert first.count == 2 and first.step == (0.0, Apart(by="gap", mm=150.0))
    assert type_mark_row(made, "w", 0, "").document.volume("w").marks[0].count == 1
    with pytest.raises(DocumentError, match="is no row"):
        type_mark_row(made, "w", 0, "many")


def pair(between=True):
    left, right = (
        box("left", (-400.0, 100.0, 0.0), (100.0, 100.0, 700.0)),
        box("right", (300.0, 100.0, 0.0), (90.0, 120.0, 650.0)),
    )
    right = msgspec.structs.replace(right, size=(100.0, 100.0, 650.0))
    host = box("host", (-500.0 if between else 900.0, 0.0, 0.0), (1000.0, 300.0, 20.0))
    return paste_volumes(new_document(), (left, right, host)).document


def test_both_of_a_pair_become_one_thing_drawn_twice():
    made = both_of_a_pair(pair(), ("left", "right")).document
    assert [v.id for v in made.volumes] == ["left", "host"]
    assert made.volume("left").mirror.about == "host" and made.volume("left").mirror.across == "long"
    far = solve(made).scene.vertices[:, 0].max()
    assert far == pytest.approx(500.0) and solve(made).scene.vertices[:, 2].max() == pytest.approx(700.0)
    world = both_of_a_pair(pair(between=False), ("left", "right")).document
    assert world.volume("left").mirror.about == ""
    moved = msgspec.structs.replace(pair(between=False).volume("right"), corner=(700.0, 100.0, 0.0))
    apart = paste_volumes(new_document(), (pair().volume("left"), moved)).document
    with pytest.raises(DocumentError, match="half way"):
        both_of_a_pair(apart, ("left", "right"))


def test_all_that_is_selected_is_joined_at_once():
    document = pair()
    made = join_all(document, ("left", "right", "host"), "host").document
    assert (
        all(made.volume(name).joined.to == "host" for name in ("left", "right"))
        and made.volume("host").joined is None
    )
    assert join(document, "left", "host").document.volume("left") == made.volume("left")
    assert [box_corners([v])[0][0].tolist() for v in made.volumes] == [
        box_corners([v])[0][0].tolist() for v in document.volumes
    ]


def test_demos_can_be_made_longer_and_drawn():
    for name in ("tea-cart", "delivery-van", "perch-stool"):
        document = demo(name)
        for axis in range(3):
            longer = lengthen(document, (document.volumes[0].id,), axis, 1.3).document
            assert len(solve(longer).edges) > 0


@pytest.mark.parametrize("number", range(5))
def test_a_mark_that_stands_several_times_becomes_as_many_and_nothing_moves(number):
    """The van's windows, lamps and grille: the drawing is the same, each has a line, a name and figures of its own."""
    van = demo("delivery-van")
    volume = van.volumes[0]
    if not can_split(volume, number):
        with pytest.raises(DocumentError, match="nothing to part"):
            split_mark(van, volume.id, number)
        return
    mark = volume.marks[number]
    parted = split_mark(van, volume.id, number).document
    many = mark.count * (2 if mark.mirrored else 1)
    own = parted.volumes[0].marks[number : number + many]
    assert len(parted.volumes[0].marks) == len(volume.marks) + many - 1
    assert len({each.name for each in own}) == many and not any(each.mirrored or each.count > 1 for each in own)
    before, after = solve(van).scene, solve(parted).scene
    for name in ("edges",):
        one, two = (
            np.sort(scene.vertices[getattr(scene, name)].reshape(-1, 6).round(3), axis=0) for scene in (before, after)
        )
        assert one.shape == two.shape and np.allclose(one, two, atol=2e-3)
    rings = [np.sort(scene.rounds.rings[:, :3].round(3), axis=0) for scene in (before, after)]
    assert rings[0].shape == rings[1].shape and np.allclose(*rings, atol=2e-3)
    assert least_version(parted) == 5 and least_version(van) == 4
    other = change_mark(parted, volume.id, number, name="near lamp").document
    assert other.volumes[0].marks[number].name == "near lamp"
