"""Pulling, moving, lifting and turning volumes by their handles."""

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtTest import QTest

from isometron.demos.catalogue import demo
from isometron.document.edits import add_volume, change_volume, turn_volume
from isometron.document.fresh import new_document
from isometron.solve.drawing import solve
from isometron.tools.handles import Grip, handles
from isometron.volumes.box import Box

EVERY = (Grip.FACE, Grip.MOVE, Grip.LIFT, Grip.TURN)
"""Handles that every volume has."""


def two_blocks():
    document = new_document(away=5200.0)
    one = Box(id="one", name="One", corner=(-400.0, -300.0, 0.0), size=(800.0, 600.0, 400.0))
    other = Box(id="other", name="Other", corner=(700.0, 300.0, 0.0), size=(300.0, 300.0, 700.0))
    return add_volume(add_volume(document, one).document, other).document


@pytest.fixture
def hand(desk):
    hand = desk(two_blocks())
    hand.session.select(("one",))
    return hand


def spot(hand, grip, axis=2, sign=1.0):
    found = handles(hand.session.drawing, hand.session.active, 1.0 / hand.board.view.scale)
    handle = next(h for h in found if h.grip is grip and (grip is not Grip.FACE or (h.axis, h.sign) == (axis, sign)))
    return QPoint(*(round(c) for c in hand.board.view.point_to_screen(*handle.at)))


def take(hand, at):
    hand.mouse(QEvent.Type.MouseMove, at, Qt.MouseButton.NoButton, Qt.MouseButton.NoButton)
    hand.mouse(QEvent.Type.MouseButtonPress, at)


def towards(hand, at, place, direction, length):
    """The pixel that is ``length`` mm along ``direction`` from ``place`` beyond ``at``."""
    place = np.array(place, float)
    step = hand.pixel(*(place + length * np.array(direction))) - hand.pixel(*place)
    return at + step


def let_go(hand, at):
    hand.mouse(QEvent.Type.MouseMove, at, Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton)
    hand.mouse(QEvent.Type.MouseButtonRelease, at)


def test_a_face_is_pulled_along_its_own_direction_only(hand):
    at = spot(hand, Grip.FACE)
    take(hand, at)
    let_go(hand, QPoint(at.x() + 40, at.y() - 30))
    size, corner = hand.session.document.volumes[0].size, hand.session.document.volumes[0].corner
    assert size[:2] == (800.0, 600.0) and size[2] > 420.0
    assert corner == (-400.0, -300.0, 0.0)
    assert hand.session.undo_name == "pull a face of One"
    hand.session.undo()
    assert hand.session.document == two_blocks()


def test_pulling_a_near_face_moves_the_corner_and_typing_is_exact(hand):
    at = spot(hand, Grip.FACE, axis=1, sign=-1.0)
    take(hand, at)
    hand.mouse(QEvent.Type.MouseMove, at + QPoint(-10, 10), Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton)
    hand.keys("75 cm")
    hand.key(Qt.Key.Key_Return)
    one = hand.session.document.volumes[0]
    assert one.size == (800.0, 750.0, 400.0)
    assert one.corner[1] == pytest.approx(-450.0), "the far face stays"


def test_pulls_stop_level_with_others_and_say_so(hand):
    at = spot(hand, Grip.FACE)
    take(hand, at)
    end = hand.pixel(0.0, 0.0, 700.0 + 4.0) - hand.pixel(0.0, 0.0, 400.0)
    hand.mouse(QEvent.Type.MouseMove, at + end, Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton)
    assert "level with Other" in hand.board.in_hand.preview.notes[0].text
    assert hand.session.document.volumes[0].size[2] == 700.0, "shown while dragging"
    assert hand.session.settled.volumes[0].size[2] == 400.0, "but not taken"
    hand.mouse(QEvent.Type.MouseButtonRelease, at + end)
    assert hand.session.settled.volumes[0].size[2] == 700.0


def test_keep_ratio_and_cube(hand):
    for key, expected in (("ratio", (1200.0, 900.0, 600.0)), ("cube", (600.0, 600.0, 600.0))):
        hand.desk.stages.body("Block").deeds.keeps[key].click()
        at = spot(hand, Grip.FACE)
        take(hand, at)
        hand.keys("600")
        hand.key(Qt.Key.Key_Return)
        assert hand.session.document.volumes[0].size == pytest.approx(expected)
        hand.session.undo()
    hand.desk.stages.body("Block").deeds.keeps["cube"].click()
    assert hand.board.proportion == "free"


def test_moving_keeps_to_the_ground_and_shift_to_one_direction(hand):
    at = spot(hand, Grip.MOVE)
    take(hand, at)
    let_go(hand, towards(hand, at, (0, 0, 0), (1, 0, 0), -230.0))
    moved = hand.session.document.volumes[0]
    assert moved.corner[2] == 0.0 and moved.corner[0] == pytest.approx(-630.0, abs=60.0)
    hand.session.undo()
    at = spot(hand, Grip.MOVE)
    QTest.keyPress(hand.board, Qt.Key.Key_Shift)
    take(hand, at)
    hand.mouse(QEvent.Type.MouseMove, at + QPoint(-60, 4), Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton)
    hand.keys("250")
    hand.key(Qt.Key.Key_Return)
    corner = np.array(hand.session.document.volumes[0].corner) - (-400.0, -300.0, 0.0)
    assert sorted(np.abs(corner)) == pytest.approx([0.0, 0.0, 250.0]), "a typed distance goes along one direction"


def test_lifting_stops_on_top_of_things_and_several_lift_together(hand):
    hand.session.select(("one", "other"))
    at = spot(hand, Grip.LIFT)
    take(hand, at)
    hand.keys("150")
    hand.key(Qt.Key.Key_Return)
    assert [v.corner[2] for v in hand.session.document.volumes] == [150.0, 150.0]
    assert hand.session.undo_name == "lift 2 volumes"
    hand.session.select(("one",))
    at = spot(hand, Grip.LIFT)
    take(hand, at)
    end = hand.pixel(0.0, 0.0, 8.0) - hand.pixel(0.0, 0.0, 150.0)
    hand.mouse(QEvent.Type.MouseMove, at + end, Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton)
    assert "on the ground" in hand.board.in_hand.preview.notes[0].text


def test_turning_on_the_spot(hand):
    at = spot(hand, Grip.TURN)
    take(hand, at)
    hand.keys("45")
    hand.key(Qt.Key.Key_Return)
    assert hand.session.document.volumes[0] == turn_volume(two_blocks(), "one", 45.0).document.volumes[0]
    at = spot(hand, Grip.TURN)
    take(hand, at)
    let_go(hand, at + QPoint(25, 3))
    yaw = hand.session.document.volumes[0].yaw_deg
    assert yaw != 45.0
    middles = [solve(d).scene.corners_of(0).mean(axis=0) for d in (two_blocks(), hand.session.document)]
    assert middles[0] == pytest.approx(middles[1], abs=1e-4)


def test_a_click_on_a_handle_is_no_pull(hand):
    """Even a hair away from a snap: One stands 3 mm short of Other's height and at 14.6 degrees."""
    hand.session.attempt(change_volume, "one", "set", size=(800.0, 600.0, 697.0), yaw_deg=14.6)
    before = hand.session.document
    for grip in EVERY:
        at = spot(hand, grip)
        take(hand, at)
        hand.mouse(QEvent.Type.MouseButtonRelease, at)
        assert hand.session.document == before, grip
    assert hand.session.undo_name == "set One"


def test_escape_lets_go_and_nonsense_is_told(hand):
    at = spot(hand, Grip.FACE)
    take(hand, at)
    hand.mouse(QEvent.Type.MouseMove, at + QPoint(0, -40), Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton)
    hand.keys("3 in 2 ft")
    hand.key(Qt.Key.Key_Return)
    assert "smaller unit" in hand.words()
    hand.key(Qt.Key.Key_Escape)
    hand.key(Qt.Key.Key_Escape)
    hand.mouse(QEvent.Type.MouseButtonRelease, at + QPoint(0, -40))
    assert hand.session.document == two_blocks()
    assert hand.session.undo_name is None


def test_faces_that_look_away_have_handles_where_no_other_lies_near(hand):
    found = handles(hand.session.drawing, 0, 1.0)
    faces = {(h.axis, h.sign): h.behind for h in found if h.grip is Grip.FACE}
    assert {key for key, behind in faces.items() if not behind} == {(0, 1.0), (1, -1.0), (2, 1.0)}
    assert {h.grip for h in found} == set(EVERY)
    for k, one in enumerate(found):
        assert not one.behind or all(
            np.hypot(one.at[0] - o.at[0], one.at[1] - o.at[1]) > 20.0 for o in found[:k] if not o.behind
        )
    flat = [h for h in handles(solve(demo("tea-cart")), 2, 1.0) if not h.behind]
    assert len(flat) == 3 + 3


def test_a_hidden_end_is_pulled_as_a_near_one(hand):
    volume = hand.session.document.volumes[0]
    hand.session.select((volume.id,))
    hand.board.zoom(2.0)
    end = next(
        h
        for h in handles(hand.session.drawing, 0, 1.0 / hand.board.view.scale)
        if h.behind and h.grip is Grip.FACE and h.axis == 0
    )
    assert end.sign < 0
    hand.press(*end.place)
    hand.drag(*(end.place + np.array([-150.0, 0.0, 0.0])))
    hand.board.setFocus()
    hand.keys("1000")
    hand.key(Qt.Key.Key_Return)
    longer = hand.session.document.volumes[0]
    assert longer.size[0] == 1000.0 and longer.corner[0] == pytest.approx(volume.corner[0] + volume.size[0] - 1000.0)


def test_measuring_between_two_points_and_the_read_out(hand):
    hand.session.select(())
    hand.key(Qt.Key.Key_M)
    hand.click(-400, -300, 400)
    hand.hover(400, -300, 400)
    hand.click(400, -300, 400)
    assert "From corner of One to corner of One: true 800 mm, on paper" in hand.words()
    drawn = next(m.drawn for m in hand.session.drawing.measures(0) if m.corners == (4, 5))
    assert f"on paper {drawn:.1f} mm" in hand.words()
    hand.key(Qt.Key.Key_Escape)
    hand.key(Qt.Key.Key_Escape)
    hand.key(Qt.Key.Key_Escape)
    assert not hand.board.has_tool and not hand.session.changed
    hand.hover(400, -300, 400)
    assert hand.desk.strip._place.text().startswith("corner of One\n")
    hand.hover(0, -300, 400)
    assert "true 800 mm · drawn" in hand.desk.strip._place.text() and "slope" in hand.desk.strip._place.text()
    hand.hover(-150, -300, 150)
    assert hand.desk.strip._place.text().startswith("face of One")


def test_put_away_and_locked_volumes(hand):
    before = hand.session.drawing.edges
    hand.session.select(("other",))
    hand.key(Qt.Key.Key_H, Qt.KeyboardModifier.ControlModifier)
    assert hand.session.undo_name == "put away Other"
    assert set(hand.session.drawing.edges.owner) == {0} and 1 in before.owner
    hand.session.select(())
    hand.click(850, 300, 500)
    assert hand.session.selection == ()
    hand.session.select(("other",))
    box = hand.desk.card.switches["put_away"]
    assert box.isChecked()
    box.click()
    hand.desk.card.switches["locked"].click()
    assert handles(hand.session.drawing, 1, 1.0) == []
    hand.session.select(())
    hand.click(850, 300, 500)
    assert hand.session.selection == (), "the pencil passes through what is locked"


def test_day_and_night_table(hand):
    def table():
        return hand.board.grab().toImage().pixelColor(3, hand.board.height() - 4).name()

    day = table()
    hand.key(Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier)
    assert table() == "#171d1d" and day == "#33403f"
    hand.key(Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier)
    assert table() == day
