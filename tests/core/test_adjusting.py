"""Handles with plain values: each changes its own number and nothing else, exactly when a figure is typed."""

import msgspec
import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from isometron.document.edits import add_volume
from isometron.document.fresh import new_document
from isometron.document.lengths.units import parse_length
from isometron.solve.drawing import solve
from isometron.solve.room import room_along
from isometron.tools.adjust import adjust_tool
from isometron.tools.handles import Grip, corner_places, handle_at, handles
from isometron.tools.pencil import Act, Pencil, ToolContext
from isometron.volumes.box import Box
from isometron.volumes.cut.begin import corners_cut, counted_off, leaning
from isometron.volumes.cut.body import uncut_because
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.framed import Framed
from isometron.volumes.relations import Repeat
from isometron.volumes.turned import PROFILES, Turned
from isometron.volumes.volume import DIRECTIONS
from tests.strategies import shaped

PLACE = {"id": "v", "name": "V", "corner": (-500.0, -300.0, 0.0), "size": (1000.0, 600.0, 500.0)}
KINDS = {
    "box": Box(**PLACE),
    "cabin": CutBody(**PLACE, side=leaning(0.2, 0.3), front=leaning(0.1, 0.05)),
    "flared": CutBody(**PLACE, side=leaning(-0.1, 0.0), front=leaning(0.0, 0.2)),
    "chamfered": CutBody(**PLACE, plan=corners_cut((60.0, 80.0, 100.0, 120.0), round_=False)),
    "rounded": CutBody(**PLACE, side=corners_cut((60.0, 80.0, 100.0, 120.0), round_=True)),
    "counted": CutBody(**PLACE, side=counted_off(4, 4, ((0, 0), (4, 0), (4, 4), (2, 4), (2, 2), (0, 2)))),
    "frame": Framed(**PLACE),
    "wheel": Turned(**PLACE, axle="wide", profile=PROFILES["wheel"]),
    "row": Box(**PLACE, copies=(Repeat(along="long", count=3, pitch=1300.0),)),
}
every = pytest.mark.parametrize("name", KINDS)


def document(volume, away=7000.0):
    return add_volume(new_document(away=away), volume).document


def pulled(drawing, handle, by, text="", *, straight=False, act=Act.RELEASE):
    """Drag a handle by (2,) mm of paper, with a figure typed or without; the edit, or the words of a refusal."""
    tool = adjust_tool(ToolContext(drawing, 0.3), handle, (drawing.document.volumes[handle.owner].id,))
    next(tool)
    u, v = handle.at
    tool.send(Pencil(Act.MOVE, u, v, ""))
    try:
        tool.send(Pencil(Act.MOVE, u + by[0], v + by[1], "", straight=straight))
        shown = tool.send(Pencil(act, u + by[0], v + by[1], text, straight=straight))
    except StopIteration as end:
        return end.value
    return shown.refusal


def grips(drawing, grip):
    return [h for h in handles(drawing, 0, 0.3) if h.grip is grip]


def changed_fields(one, other):
    return {name for name in type(one).__struct_fields__ if getattr(one, name) != getattr(other, name)}


@every
@given(st.floats(-25.0, 25.0), st.floats(-25.0, 25.0))
@settings(max_examples=15)
def test_a_face_changes_one_size_and_the_corner_at_most(name, du, dv):
    drawing = solve(document(KINDS[name]))
    before = drawing.document.volumes[0]
    for handle in grips(drawing, Grip.FACE):
        edit = pulled(drawing, handle, (du, dv))
        if edit is None or isinstance(edit, str):
            continue
        after = edit.document.volumes[0]
        shrunk = changed_fields(before, after) - {"size", "corner"}
        tight = msgspec.structs.replace(before, size=after.size)
        assert not shrunk or uncut_because(tight), "rounds shrink only where they have no room"
        others = [k for k in range(3) if k != handle.axis]
        assert [after.size[k] for k in others] == [before.size[k] for k in others]
        if handle.sign > 0.0:
            assert after.corner == before.corner
        far = np.array(after.corner) + np.array(after.size)
        if handle.sign < 0.0:
            assert far == pytest.approx(np.array(before.corner) + np.array(before.size), abs=1e-6)


@every
@pytest.mark.parametrize("text", ["1234.5", "80 cm", "3 ft 2 in"])
def test_a_typed_size_is_taken_as_it_stands(name, text):
    drawing = solve(document(KINDS[name]))
    for handle in grips(drawing, Grip.FACE):
        after = pulled(drawing, handle, (6.0, -6.0), text, act=Act.ENTER).document.volumes[0]
        assert after.size[handle.axis] == pytest.approx(parse_length(text, "mm"), abs=1e-9)


@every
def test_a_figure_that_is_none_is_refused_and_nothing_is_lost(name):
    drawing = solve(document(KINDS[name]))
    for handle in handles(drawing, 0, 0.3):
        words = pulled(drawing, handle, (6.0, -6.0), "twelve", act=Act.ENTER)
        assert isinstance(words, str) and words, handle.grip
    for handle in grips(drawing, Grip.FACE):
        assert "0.01 mm" in pulled(drawing, handle, (6.0, -6.0), "0", act=Act.ENTER)


@pytest.mark.parametrize("name", ["cabin", "flared", "chamfered", "counted"])
@given(st.floats(5.0, 60.0).map(lambda x: round(x, 1)))
@settings(max_examples=15)
def test_a_corner_of_a_profile_is_pulled_by_a_figure_and_the_others_stay(name, far):
    drawing = solve(document(KINDS[name]))
    found = grips(drawing, Grip.CORNER)
    assert len(found) >= 4
    before = drawing.document.volumes[0]
    for handle in found:
        edit = pulled(drawing, handle, (3.0, 0.5), f"{far}", act=Act.ENTER)
        if isinstance(edit, str):
            assert edit, "an outline that would cross itself is refused with words"
            continue
        after = edit.document.volumes[0]
        assert changed_fields(before, after) <= {handle.view}
        was, now = ({n: p for n, *p in corner_places(v, handle.view)} for v in (before, after))
        assert {n for n in was if was[n] != pytest.approx(now[n], abs=1e-6)} <= {handle.number}
        moved = np.abs(np.subtract(now[handle.number], was[handle.number]))
        within = [s for k, s in enumerate(before.size) if k != handle.axis]
        on_rim = any(p in (0.0, pytest.approx(s)) for p, s in zip(now[handle.number], within, strict=True))
        assert moved.max() == pytest.approx(far, abs=1e-6) or on_rim, (
            "as far as was typed, or to the rim of the volume"
        )
        assert moved.min() == pytest.approx(0.0, abs=1e-9)


@pytest.mark.parametrize("axle", DIRECTIONS)
@given(st.floats(-20.0, 20.0), st.floats(-20.0, 20.0))
@settings(max_examples=15)
def test_a_wheel_slides_along_its_axle_only(axle, du, dv):
    wheel = msgspec.structs.replace(KINDS["wheel"], axle=axle)
    drawing = solve(document(wheel))
    before = drawing.document.volumes[0]
    for handle in grips(drawing, Grip.SLIDE):
        edit = pulled(drawing, handle, (du, dv))
        if edit is None or isinstance(edit, str):
            continue
        after = edit.document.volumes[0]
        assert changed_fields(before, after) <= {"corner"}
        moved = np.subtract(after.corner, before.corner)
        k = DIRECTIONS.index(axle)
        assert np.abs(np.delete(moved, k)).max() < 1e-9


@pytest.mark.parametrize("axle", ["long", "wide"])
@given(
    st.floats(-60.0, 60.0),
    st.floats(-60.0, 60.0),
    st.just(0.0) | st.floats(30.0, 250.0),
    st.just(0.0) | st.floats(30.0, 250.0),
)
@settings(max_examples=25, deadline=None)
def test_a_disc_slid_by_hand_stops_where_it_touches_something(axle, du, dv, before, behind):
    k = DIRECTIONS.index(axle)
    disc = Turned(id="disc", name="Disc", corner=(0.0, 0.0, 0.0), size=tuple(40.0 if n == k else 300.0 for n in range(3)), axle=axle)  # fmt: skip
    at = lambda far: tuple(far if n == k else 80.0 for n in range(3))  # noqa: E731
    ends = Box(id="a", name="Fork", corner=at(40.0 + before), size=(60.0,) * 3), Box(id="b", name="Hub", corner=at(-behind - 60.0), size=(60.0,) * 3)  # fmt: skip
    aside = Box(id="c", name="Aside", corner=tuple(60.0 if n == k else 400.0 for n in range(3)), size=(60.0,) * 3)
    drawing = solve(msgspec.structs.replace(document(disc), volumes=(disc, *ends, aside)))
    grip = grips(drawing, Grip.SLIDE)[0]
    edit = pulled(drawing, grip, (du, dv))
    if edit is None or isinstance(edit, str):
        return
    moved = edit.document.volumes[0].corner[k]
    assert -behind - 1e-6 <= moved <= before + 1e-6
    free = pulled(solve(document(disc)), grip, (du, dv)).document.volumes[0].corner[k]
    if not -behind < free < before:
        assert moved == pytest.approx(before if free > 0 else -behind) or abs(moved) < abs(free)
    room = room_along(drawing.picture, {0}, np.eye(3)[k])
    assert room == ((pytest.approx(-behind, abs=1e-6), 2), (pytest.approx(before, abs=1e-6), 1))


@settings(max_examples=40)
@given(shaped(0), st.floats(-30.0, 30.0), st.floats(-30.0, 30.0))
def test_any_pull_of_any_handle_gives_a_document_that_can_be_drawn(volume, du, dv):
    assume(not volume.put_away and not volume.locked)
    drawing = solve(document(volume, away=9000.0))
    for handle in handles(drawing, 0, 0.3):
        edit = pulled(drawing, handle, (du, dv))
        if edit is None or isinstance(edit, str):
            continue
        again = solve(edit.document)
        assert np.isfinite(again.edges.points).all() and len(edit.document.volumes) == 1
        after = edit.document.volumes[0]
        assert (after.marks, after.copies, after.mirror) == (volume.marks, volume.copies, volume.mirror)


@every
def test_the_handle_under_the_pencil_is_the_nearest(name):
    drawing = solve(document(KINDS[name]))
    found = handles(drawing, 0, 0.3)
    for handle in found:
        under = handle_at(found, *handle.at, 2.0)
        assert under is not None
        assert np.hypot(*np.subtract(under.at, handle.at)) < 1e-9
    assert handle_at(found, 1e5, 1e5, 2.0) is None


@every
def test_back_lets_go_and_a_click_is_no_pull(name):
    drawing = solve(document(KINDS[name]))
    for handle in handles(drawing, 0, 0.3):
        assert pulled(drawing, handle, (40.0, 40.0), act=Act.BACK) is None
        assert pulled(drawing, handle, (0.0, 0.0)) is None, handle.grip
