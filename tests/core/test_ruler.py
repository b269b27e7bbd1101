"""Ruler and compass one operation at a time, and the plates that show their steps."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from isometron.construct.outcome import ConstructionError
from isometron.construct.ruler import FARTHEST, Table
from isometron.construct.schools import construct
from isometron.demos.catalogue import demo
from isometron.solve.layers.labels import label_box
from isometron.solve.marks import Role
from isometron.surfaces.plate import plate, set_up_frame, set_up_plate, step_frame

CART = demo("tea-cart")
places = st.tuples(st.floats(-300, 300), st.floats(-300, 300))
lengths = st.floats(1, 400)
bearings = st.floats(0, 2 * np.pi).map(lambda t: (float(np.cos(t)), float(np.sin(t))))


def table():
    return Table(CART)


@given(places, places, places, places)
def test_two_lines_cross_in_a_point_of_both(a, b, c, d):
    on = table()
    one, two, three, four = (on.mark(name, at) for name, at in zip("abcd", (a, b, c, d), strict=True))
    assume(np.hypot(a[0] - b[0], a[1] - b[1]) > 1.0 and np.hypot(c[0] - d[0], c[1] - d[1]) > 1.0)
    first, second = on.join(one, two), on.join(three, four)
    try:
        found = on.cross(first, second, "x")
    except ConstructionError as error:
        turn = abs(first.du * second.dv - first.dv * second.du)
        assert turn < 0.3 and ("never meet" in str(error) or "reasonable paper" in str(error))
        return
    for line in (first, second):
        off = (found.u - line.u) * line.dv - (found.v - line.v) * line.du
        assert abs(off) < 1e-6
    on.step("y")
    assert len(on.steps[0].lines) == 2 and [s.name for s in on.steps[0].points] == ["a", "b", "c", "d", "x"]


@given(places, places, lengths, bearings)
def test_lengths_laid_off_and_swung_are_kept(start, other, length, towards):
    on = table()
    one, two = on.mark("one", start), on.mark("two", other)
    line = on.slanted(one, *towards)
    laid = on.lay_off(line, one, length, towards, "laid")
    assert np.hypot(laid.u - one.u, laid.v - one.v) == pytest.approx(length)
    assert (laid.u - one.u) * towards[0] + (laid.v - one.v) * towards[1] > 0.0
    back = on.lay_off(line, one, length, (-towards[0], -towards[1]), "back")
    assert np.allclose(np.add(laid.at, back.at), 2 * np.array(one.at))
    swung = on.swing(one, two, line, laid, "swung")
    assert np.hypot(swung.u - one.u, swung.v - one.v) == pytest.approx(np.hypot(two.u - one.u, two.v - one.v))
    on.step("y")
    u, v, a, b, _, first, last = on.steps[0].arcs[0]
    assert (u, v) == one.at and a == b and last - first <= np.pi + 1e-9
    for t, end in ((first, {two.at, swung.at}), (last, {two.at, swung.at})):
        point = np.array([u + a * np.cos(t), v + a * np.sin(t)])
        assert min(np.hypot(*(point - e)) for e in end) < 1e-6


@given(places, bearings, places)
def test_parallels_keep_their_direction_and_perpendiculars_turn_it(start, towards, through):
    on = table()
    line = on.slanted(on.mark("start", start), *towards)
    spot = on.mark("spot", through)
    parallel, upright = on.parallel(line, spot), on.perpendicular(line, spot)
    assert (parallel.du, parallel.dv) == (line.du, line.dv)
    assert upright.du * line.du + upright.dv * line.dv == pytest.approx(0.0, abs=1e-12)
    assert on.upright(spot).du == 0.0 and on.level(spot).dv == 0.0


@given(places, places, st.floats(0.02, 0.98))
def test_angles_on_a_half_circle_are_right(a, b, part):
    on = table()
    one, two = on.mark("one", a), on.mark("two", b)
    assume(np.hypot(a[0] - b[0], a[1] - b[1]) > 5.0)
    join = on.join(one, two)
    foot = on.mark("foot", (a[0] + part * (b[0] - a[0]), a[1] + part * (b[1] - a[1])))
    top = on.half_circle(one, two, on.perpendicular(join, foot), (-join.dv, join.du), "top")
    legs = np.array([one.at, two.at]) - top.at
    assert abs(legs[0] @ legs[1]) < 1e-6 * np.hypot(*legs[0]) * np.hypot(*legs[1])
    far = on.mark("far", (b[0] + 3 * (b[0] - a[0]), b[1] + 3 * (b[1] - a[1])))
    with pytest.raises(ConstructionError, match="does not reach the line"):
        on.half_circle(one, two, on.perpendicular(join, far), (1.0, 0.0), "none")


def test_what_no_ruler_can_do_is_refused_with_its_reason():
    on = table()
    one, same = on.mark("A", (0.0, 0.0)), on.mark("B", (0.0, 0.0))
    with pytest.raises(ConstructionError, match="A and B lie on one point"):
        on.join(one, same)
    with pytest.raises(ConstructionError, match=r"far away lies 90\.\d m from the sheet"):
        on.mark("far away", (90_000.0, 0.0))
    with pytest.raises(ConstructionError, match="nowhere never meet"):
        on.cross(on.level(one), on.level(on.mark("C", (0.0, 5.0))), "nowhere")
    on.mark("just on the table", (FARTHEST - 400.0, 0.0))


def test_a_step_holds_only_what_was_drawn_in_it():
    on = table()
    a, b, c = on.mark("a", (0.0, 0.0)), on.mark("b", (50.0, 0.0)), on.mark("c", (0.0, 50.0))
    on.join(a, b)
    on.step("because")
    on.edge(b, c)
    on.step("because")
    assert [len(s.lines) for s in on.steps] == [1, 0] and [len(s.edges) for s in on.steps] == [0, 1]
    assert [len(s.points) for s in on.steps] == [3, 0]
    assert on.ruler(b).startswith("260.0 mm from the left edge")


@pytest.mark.parametrize("school", ["plan", "measuring", "diagonal", "height"])
def test_plates_show_what_is_new_strongly_and_nothing_outside_their_frame(school):
    done = construct(CART, "body", school)
    for number, step in enumerate(done.steps):
        frame = step_frame(CART, done, number)
        shown = plate(CART, done, number, frame)
        strong = np.isin(shown.lines.role, [Role.STEP, Role.STEP_EDGE])
        assert strong.any() or len(step.arcs), "something new is to be seen"
        points = shown.lines.points
        assert (points[:, 0::2] >= frame.left - 1e-6).all() and (points[:, 0::2] <= frame.right + 1e-6).all()
        assert (points[:, 1::2] >= frame.lower - 1e-6).all() and (points[:, 1::2] <= frame.upper + 1e-6).all()
        boxes = [
            (left, low, right - left, high - low)
            for left, low, right, high in (label_box(one) for one in shown.labels)
        ]
        for k, (x, y, w, h) in enumerate(boxes):
            for p, q, r, s in boxes[:k]:
                assert x >= p + r or p >= x + w or y >= q + s or q >= y + h, "no two names lie on each other"


def test_the_set_up_plate_holds_every_point_that_is_laid_out():
    done = construct(CART, "body", "measuring")
    frame = set_up_frame(CART, done)
    shown = set_up_plate(CART, done, frame)
    names = {spot.name for step in done.steps[: done.setting_up] for spot in step.points}
    assert {label.text for label in shown.labels} == names == {"CV", "VP R", "VP L", "A", "E"}
    assert all(frame.holds(spot) for step in done.steps[: done.setting_up] for spot in step.points)
