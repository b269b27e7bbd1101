"""The Eye stage by hand: each way of setting the eye, beads on the board, ticks and grid, by mouse and by key."""

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from isometron.demos.catalogue import demo
from isometron.desk.controls.fields import ValueField
from isometron.document.edits import resize_volume
from isometron.document.eyes.eye_edits import raise_eye, tilt_view, turn_object
from isometron.document.eyes.eye_setting import points_on_sheet, read_slopes
from isometron.document.eyes.eye_wishes import extent_on_paper, showing
from isometron.view.cone import outside_cone
from isometron.view.placing import horizon_on_sheet
from isometron.view.vanishing import point_count


@pytest.fixture
def cart(desk):
    hand = desk(demo("tea-cart"))
    hand.session.select(("body",))
    hand.desk.stages.open("Eye")
    return hand


def section(hand, title):
    for one in hand.desk.stages.body("Eye").sections.all:
        if one.head.accessibleName() == title:
            if not one.head.isChecked():
                QTest.mouseClick(one.head, Qt.MouseButton.LeftButton)
            for _ in range(6):
                QApplication.processEvents()
            return one
    raise AssertionError(title)


def field(place, name):
    return next(f for f in place.findChildren(ValueField) if f.accessibleName() == name)


def row(hand):
    return hand.session.document.index_of("body")


def test_one_two_three_points_by_a_click_with_the_reason_in_words(cart):
    stage = cart.desk.stages.body("Eye")
    for count, words in ((3, "no edge is parallel"), (1, "long and high edges are parallel"), (2, "uprights stay")):
        QTest.mouseClick(stage.points[count], Qt.MouseButton.LeftButton)
        assert point_count(cart.session.document.eye, np.eye(3)) == count
        assert words in stage._words.text()
    for _ in range(3):
        cart.session.undo()
    assert cart.session.document == demo("tea-cart")


def test_presets_of_height_and_horizon(cart):
    place = section(cart, "Height and turn")
    place.stands.aboutToShow.emit()
    words = [action.text() for action in place.stands.actions()]
    assert "sitting, 1200 mm" in words and "the top of Counter, 1040 mm" in words
    place.stands.actions()[words.index("the top of Counter, 1040 mm")].trigger()
    assert cart.session.document.eye.position[2] == 1040.0
    place.levels.actions()[1].trigger()
    document = cart.session.document
    assert horizon_on_sheet(document.eye, document.sheet) == pytest.approx(198.0)


def test_points_typed_are_understood(cart):
    place = section(cart, "Vanishing points")
    cart.type_into(field(place, "Left vanishing point"), "-400")
    assert points_on_sheet(cart.session.document, row(cart))[0][0] == pytest.approx(-400.0, abs=1e-6)
    assert "Understood: viewing distance" in place._said.text()
    cart.type_into(field(place, "Centre of vision"), "900")
    assert "between the two vanishing points" in cart.words(), "refused, and nothing has changed"
    assert points_on_sheet(cart.session.document, row(cart))[0][0] == pytest.approx(-400.0, abs=1e-6)
    cart.session.undo()
    assert cart.session.document == demo("tea-cart")


def test_slopes_typed_are_drawn_and_the_rest_is_said_to_be_free(cart):
    place = section(cart, "Slopes")
    cart.type_into(field(place, "Slope of the right ground edge"), "14")
    cart.type_into(field(place, "Slope of the left ground edge"), "12")
    slopes = read_slopes(cart.session.document, row(cart))
    assert (slopes.right, slopes.left) == pytest.approx((14.0, 12.0), abs=1e-6)
    assert "Still free: the eye's height (now 1500 mm)" in place._free.text()
    cart.type_into(field(place, "Slope of the upper right edge"), "3")
    slopes = read_slopes(cart.session.document, row(cart))
    assert (slopes.right, slopes.top_right) == pytest.approx((14.0, 3.0), abs=1e-6)


def test_a_wish_for_what_shows_is_found(cart):
    place = section(cart, "What shows")
    cart.type_into(field(place, "Share of the right side"), "45 %")
    cart.type_into(field(place, "Depth of the top"), "25")
    QTest.mouseClick(place._go, Qt.MouseButton.LeftButton)
    now = showing(cart.session.document, row(cart))
    assert (now.right, now.top) == pytest.approx((0.45, 0.25), abs=1e-4)


def test_filling_the_sheet_and_stepping_back_into_the_cone(cart):
    place = section(cart, "Fill the sheet")
    place._part.setCurrentIndex(2)
    buttons = [b for b in place.findChildren(type(place.head)) if b.isVisible()]
    QTest.mouseClick(buttons[0], Qt.MouseButton.LeftButton)
    drawing = cart.session.drawing
    low, high = drawing.picture.paper.min(axis=0), drawing.picture.paper.max(axis=0)
    assert max((high - low) / np.array([390.0, 267.0])) == pytest.approx(0.5)
    cone = section(cart, "Cone")
    cart.type_into(field(cone, "Angle of the cone of vision"), "12")
    assert "outside the 12° cone" in cone._words.text()
    QTest.mouseClick(cone._back, Qt.MouseButton.LeftButton)
    drawing = cart.session.drawing
    assert not outside_cone(drawing.document.eye, drawing.picture.paper).any()
    assert "Every corner is inside" in cone._words.text()


def test_points_off_the_page_ticks_fan_and_grid(cart):
    place = section(cart, "Off the page")
    assert "533.1 mm beyond the left edge" in place._words.text()
    QTest.mouseClick(
        place._ticks, Qt.MouseButton.LeftButton, pos=place._ticks.rect().center() - QPointF(60, 0).toPoint()
    )
    assert cart.session.document.show.edge_ticks and cart.session.document.show.guides_of == "body"
    place._fan.setFocus()
    cart.key(Qt.Key.Key_Space)
    assert cart.session.document.show.fan
    grid = section(cart, "Grid")
    cart.type_into(field(grid, "Module of the grid"), "250")
    assert cart.session.document.show.grid_module == 250.0
    grid._on.setCurrentIndex(1)
    grid._on.activated.emit(1)
    assert cart.session.document.show.grid_on == "body:5"
    levels = section(cart, "Above, below")
    assert "Body is below eye level: its top shows" in levels._words.text()
    cart.session.select(("canopy",))
    assert "Canopy is above eye level" in levels._words.text()


def bead(hand, k):
    document = hand.session.document
    at = points_on_sheet(document, hand.session.active)[k]
    centre = document.sheet.centre_of_vision
    return QPointF(*hand.board.view.point_to_screen(at[0] - centre[0], at[1] - centre[1]))


def drag_bead(hand, k, by, release=True):
    start = bead(hand, k)
    hand.mouse(QEvent.Type.MouseMove, start, Qt.MouseButton.NoButton, Qt.MouseButton.NoButton)
    hand.mouse(QEvent.Type.MouseButtonPress, start)
    for part in (0.4, 1.0):
        hand.mouse(QEvent.Type.MouseMove, start + part * by, Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton)
    if release:
        hand.mouse(QEvent.Type.MouseButtonRelease, start + by)
    return start + by


def test_a_bead_on_the_board_is_dragged_to_where_the_point_shall_be(cart):
    cart.desk.board.fit_everything()
    before = points_on_sheet(cart.session.document, row(cart))
    scale = cart.board.view.scale
    drag_bead(cart, 0, QPointF(40.0, 0.0))
    after = points_on_sheet(cart.session.document, row(cart))
    assert after[0][0] == pytest.approx(before[0][0] + 40.0 / scale, abs=1.0)
    assert after[1][0] == pytest.approx(before[1][0], abs=1e-5), "the other point stays"
    assert cart.session.undo_name == "place two vanishing points"
    drag_bead(cart, 0, QPointF(60.0, 0.0), release=False)
    cart.key(Qt.Key.Key_Escape)
    assert points_on_sheet(cart.session.document, row(cart)) == after, "Escape lets go"


def test_three_beads_and_the_nearest_triangle_that_works(cart):
    cart.session.attempt(tilt_view, -25.0)
    cart.desk.board.fit_everything()
    before = points_on_sheet(cart.session.document, row(cart))
    drag_bead(cart, 2, QPointF(12.0, 10.0))
    after = points_on_sheet(cart.session.document, row(cart))
    assert after[2] != before[2] and after[0] == pytest.approx(before[0], abs=1e-3)
    assert cart.session.document.eye.roll_deg != 0.0 and cart.session.undo_name == "place three vanishing points"
    settled = cart.session.document
    drag_bead(cart, 2, QPointF(bead(cart, 0).x(), bead(cart, 0).y() + 40.0) - bead(cart, 2), release=False)
    assert cart.words().startswith("⚠ The angle at the ")
    cart.mouse(QEvent.Type.MouseButtonRelease, bead(cart, 0))
    assert cart.session.document == settled, "no eye sees it, so the eye stays"
    place = cart.desk.stages.body("Eye").by_points
    assert place.head.isChecked() and "The angle at the " in place._said.text()
    for _ in range(6):
        QApplication.processEvents()
    QTest.mouseClick(place._nearest, Qt.MouseButton.LeftButton)
    assert cart.session.document != settled and "Understood" in place._said.text()


def test_the_single_point_of_one_point_is_not_placed_by_hand(cart):
    cart.session.attempt(turn_object, 0.0)
    drag_bead(cart, 1, QPointF(20.0, 0.0))
    assert "A single vanishing point is where the eye looks" in cart.words()


def test_sections_open_by_key_and_one_at_a_time(cart):
    heads = [one.head for one in cart.desk.stages.body("Eye").sections.all]
    heads[0].setFocus()
    for _ in range(40):
        cart.key(Qt.Key.Key_Tab)
        if QApplication.focusWidget() is heads[1]:
            break
    assert QApplication.focusWidget() is heads[1]
    cart.key(Qt.Key.Key_Space)
    assert [head.isChecked() for head in heads].count(True) == 1 and heads[1].isChecked()


def test_slopes_are_dragged_with_a_laid_pencil(cart):
    section(cart, "Slopes")
    slopes = cart.board.grips._kinds[2]
    before = read_slopes(cart.session.document, row(cart))
    start, end = slopes._ends(cart.board.view)["right"]
    cart.mouse(QEvent.Type.MouseButtonPress, end)
    foot = QPointF(start)
    cart.mouse(
        QEvent.Type.MouseMove, foot + QPointF(100.0, -20.0), Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton
    )
    cart.mouse(QEvent.Type.MouseButtonRelease, foot + QPointF(100.0, -20.0))
    after = read_slopes(cart.session.document, row(cart))
    assert after.right == pytest.approx(np.degrees(np.arctan2(20, 100)), abs=0.2)
    assert after.left == pytest.approx(before.left, abs=1e-6)
    assert slopes._ends(cart.board.view)["right"][0].x() == pytest.approx(start.x(), abs=1e-3), "the upright stays"
    section(cart, "Grid")
    assert slopes._ends(cart.board.view) == {}, "the pencils lie there only while their place is open"


def test_stretched_corners_are_marked_and_a_height_is_carried_to_a_clicked_place(cart):
    section(cart, "Cone")
    plain = cart.board.grab().toImage()
    cart.type_into(field(cart.desk.stages.body("Eye").sections.chosen, "Angle of the cone of vision"), "20")
    assert "stretch" in cart.board.on_board().asked and cart.board.grab().toImage() != plain
    cart.board.setFocus()
    cart.key(Qt.Key.Key_C)
    player, strip = cart.desk.player, cart.desk.step_strip
    player.take("height")
    usual = player.construction.ends
    cart.click(-600, -900, 0)
    assert set(player.construction.ends) == {"height 1 bottom", "height 1 top"}
    QTest.mouseClick(strip._place, Qt.MouseButton.LeftButton)
    assert player.construction.ends == usual
    cart.session.attempt(resize_volume, "body", 1, 1800.0)
    player.take("turn")
    first = player.construction.ends["corner 1 top"]
    cart.type_into(strip.turn, "15")
    assert player.construction.ends["corner 1 top"] != first


def test_a_tick_keeps_it_filling_the_sheet_through_changes_in_a_row(desk):
    hand = desk(demo("perch-stool"))
    fit = next(s for s in hand.desk.stages.body("Eye").sections.all if type(s).__name__ == "ByFit")
    fit.keeps.click()

    def room():
        low, high = extent_on_paper(hand.session.document, hand.session.document.eye)
        sheet = hand.session.document.sheet
        left, lower, right, upper = sheet.rectangle
        return min(
            (high - low)[k] and ((right - left, upper - lower)[k] - 30.0 - (high - low)[k]) for k in (0, 1)
        ), low[0] - left - (right - high[0])

    for change in (
        lambda: hand.session.attempt(raise_eye, 900.0),
        lambda: hand.session.attempt(tilt_view, -12.0),
        lambda: hand.session.attempt(resize_volume, "seat", 0, 700.0),
    ):
        assert change()
        spare, aside = room()
        assert abs(spare) < 0.1 and abs(aside) < 0.1, "as large as the margins allow, and in the middle"
    steps = hand.session.undo_name
    hand.session.undo()
    assert steps and hand.session.document.volume("seat").size[0] != 700.0, "one step of the history"
    fit.keeps.click()
    eye = hand.session.document.eye.viewing_distance
    hand.session.attempt(tilt_view, -3.0)
    assert hand.session.document.eye.viewing_distance == eye
