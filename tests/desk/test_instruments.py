"""Plan dial, rails and grips: held with the mouse, moved by keys, and true to the engine."""

import math

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from isometron.demos.catalogue import demo
from isometron.document.eyes.eye_edits import away_from, pivot, turn_of
from isometron.view.placing import horizon_on_sheet
from isometron.view.plan import arm_angles
from isometron.view.vanishing import box_vanishing


def send(widget, kind, x, y, button=Qt.MouseButton.LeftButton):
    spot = QPointF(x, y)
    held = Qt.MouseButton.NoButton if kind == QEvent.Type.MouseButtonRelease else Qt.MouseButton.LeftButton
    named = Qt.MouseButton.NoButton if kind == QEvent.Type.MouseMove else button
    QApplication.sendEvent(
        widget, QMouseEvent(kind, spot, widget.mapToGlobal(spot), named, held, Qt.KeyboardModifier.NoModifier)
    )


def drag(widget, start, end, *, escape=False):
    send(widget, QEvent.Type.MouseButtonPress, *start)
    for share in (0.3, 0.7, 1.0):
        send(widget, QEvent.Type.MouseMove, *(a + share * (b - a) for a, b in zip(start, end, strict=True)))
    if escape:
        QTest.keyClick(widget, Qt.Key.Key_Escape)
    send(widget, QEvent.Type.MouseButtonRelease, *end)


def size_on_paper(document):
    eye = document.eye
    middle = pivot(document)
    paper, _ = eye.project(np.vstack([middle, middle + np.array([0.0, 0.0, 100.0])]))
    return np.hypot(*(paper[1] - paper[0]))


def test_arms_hit_the_picture_plane_at_the_vanishing_points(desk):
    document = demo("tea-cart")
    left, right = arm_angles(document.eye, np.eye(3))
    points = sorted(v.at[0] for v in box_vanishing(document.eye, np.eye(3)) if v.at is not None)
    f = document.eye.viewing_distance
    assert points == pytest.approx([f * np.tan(np.radians(left)), f * np.tan(np.radians(right))])
    assert right - left == pytest.approx(90.0)


def test_turning_the_square_turns_the_object_as_one_step(desk):
    hand = desk(demo("tea-cart"))
    dial = hand.desk.dial_panel.dial
    place = dial._place()
    _, right = arm_angles(hand.session.document.eye, np.eye(3))

    def on_arm(bearing, reach=90.0):
        return (place.middle + reach * np.sin(np.radians(bearing)), place.eye_y - reach * np.cos(np.radians(bearing)))

    drag(dial, on_arm(right), on_arm(right + 10.0))
    assert turn_of(hand.session.document) == pytest.approx(-47.0, abs=0.6)
    assert away_from(hand.session.document) == pytest.approx(away_from(demo("tea-cart")))
    assert hand.session.undo_name.startswith("turn to")
    hand.session.undo()
    assert hand.session.document == demo("tea-cart"), "a whole drag is one step"
    drag(dial, on_arm(right), on_arm(right - 20.0), escape=True)
    assert hand.session.document == demo("tea-cart")
    assert hand.session.redo_name is not None, "an escaped drag leaves even redo alone"


def test_turning_the_view_moves_the_object_across_the_sheet(desk):
    hand = desk(demo("tea-cart"))
    hand.desk.dial_panel._turns_view.setChecked(True)
    dial = hand.desk.dial_panel.dial
    dial.setFocus()
    before = hand.session.document
    QTest.keyClick(dial, Qt.Key.Key_Right)
    after = hand.session.document
    assert after.eye.position == before.eye.position
    assert after.eye.yaw_deg == before.eye.yaw_deg + 1.0
    assert after.sheet == before.sheet
    arms = [arm_angles(d.eye, np.eye(3))[1] for d in (before, after)]
    assert arms[1] == pytest.approx(arms[0] + 1.0), "the key carries the arm to the right"


def test_pulling_the_station_point(desk):
    hand = desk(demo("tea-cart"))
    dial = hand.desk.dial_panel.dial
    place = dial._place()
    before = hand.session.document
    drag(dial, (place.middle, place.eye_y), (place.middle, place.eye_y + 20.0))
    after = hand.session.document
    assert after.eye.viewing_distance == pytest.approx(560.0 + 20.0 / place.scale, abs=1.0)
    assert size_on_paper(after) == pytest.approx(size_on_paper(before), rel=1e-6)
    hand.session.undo()
    hand.desk.dial_panel._keeps_size.setChecked(False)
    dial.setFocus()
    QTest.keyClick(dial, Qt.Key.Key_Down)
    assert hand.session.document.eye.viewing_distance == 570.0
    assert hand.session.document.eye.position == before.eye.position
    assert size_on_paper(hand.session.document) > size_on_paper(before)


def test_numbers_on_the_dial_are_editable(desk):
    hand = desk(demo("tea-cart"))
    panel = hand.desk.dial_panel
    assert (panel._left.text(), panel._right.text()) == ("37°", "53°")
    hand.type_into(panel._left, "30")
    assert turn_of(hand.session.document) == pytest.approx(-30.0)
    hand.type_into(panel._right, "45")
    assert panel._left.text() == "45°"
    hand.type_into(panel._distance, "500")
    assert hand.session.document.eye.viewing_distance == 500.0
    before = hand.session.document
    hand.type_into(panel._left, "steep")
    assert hand.session.document is before and "no angle" in hand.words()


def test_beads_slide_on_the_rail(desk):
    hand = desk(demo("tea-cart"))
    rail = hand.desk.rail
    left, middle, right = rail.angles()
    drag(rail, (rail.x_of(right), 20), (rail.x_of(right + 8.0), 20))
    assert rail.angles()[2] == pytest.approx(right + 8.0, abs=0.6)
    assert rail.angles()[0] == pytest.approx(left + 8.0, abs=0.6), "the square stays square"
    rail.setFocus()
    now = rail.angles()[1]
    QTest.keyClick(rail, Qt.Key.Key_Left)
    assert rail.angles()[1] == pytest.approx(now - 1.0)
    assert middle == pytest.approx((left + right) / 2)


def test_the_upright_rail_comes_with_the_third_point(desk):
    hand = desk(demo("tea-cart"))
    rail = hand.desk.upright_rail
    assert not rail.isVisible()
    hand.desk.stages.open("Eye")
    fields = {field.accessibleName(): field for field, _ in hand.desk.stages.body("Eye").sections.all[0]._fields}
    hand.type_into(fields["Tilt of the view"], "-10")
    QApplication.processEvents()
    assert rail.isVisible()
    y = rail.y_of(10.0)
    drag(rail, (10, y), (10, rail.y_of(20.0)))
    assert hand.session.document.eye.pitch_deg == pytest.approx(-20.0, abs=1.1)


@pytest.mark.parametrize("turn", [0.0, 30.0])
def test_two_grips_that_cannot_be_confused(desk, turn):
    hand = desk(demo("tea-cart"))
    board = hand.board
    board.turn(turn)
    up = (math.sin(math.radians(turn)), -math.cos(math.radians(turn)))
    before = hand.session.document
    boxes = board.grips._kinds[1].places(board.view, board.width(), board.height())
    eye, sheet = boxes["eye"].center(), boxes["sheet"].center()
    drag(board, (eye.x(), eye.y()), (eye.x() + 40.0 * up[0], eye.y() + 40.0 * up[1]))
    raised = hand.session.document
    assert raised.eye.position[2] > before.eye.position[2] + 200.0
    places = [d.sheet.from_corner(*d.eye.project(pivot(d))[0][0]) for d in (before, raised)]
    assert places[0] == pytest.approx(places[1], abs=1e-4), "the object stays"
    rise = horizon_on_sheet(raised.eye, raised.sheet) - horizon_on_sheet(before.eye, before.sheet)
    assert rise == pytest.approx(40.0 / board.view.scale, abs=0.2)
    hand.session.undo()
    sheet = board.grips._kinds[1].places(board.view, board.width(), board.height())["sheet"].center()
    drag(board, (sheet.x(), sheet.y()), (sheet.x() + 40.0 * up[0], sheet.y() + 40.0 * up[1]))
    moved = hand.session.document
    assert moved.eye == before.eye, "the eye stays"
    assert moved.sheet.centre_of_vision[1] == pytest.approx(184.0 + 40.0 / board.view.scale, abs=0.2)
    hand.session.undo()
    drag(board, (eye.x(), eye.y()), (eye.x(), eye.y() + 30.0), escape=True)
    assert hand.session.document == before
