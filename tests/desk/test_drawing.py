"""Drawing on the board with mouse and keys."""

import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QApplication

from isometron.demos.catalogue import demo
from isometron.document.edits import change_volume
from isometron.document.fresh import new_document


def pull_block(hand, start, sizes):
    """Three pulls with typed lengths: drag along x, drag along y, drag up."""
    x, y, z = start
    hand.press(x, y, z)
    hand.drag(x + 300, y, z)
    hand.keys(str(sizes[0]))
    hand.release(x + 300, y, z)
    end = (x + sizes[0], y, z)
    hand.press(*end)
    hand.drag(end[0], y + 300, z)
    hand.keys(str(sizes[1]))
    hand.key(Qt.Key.Key_Return)
    hand.hover(end[0], y + sizes[1], z + 200)
    hand.keys(str(sizes[2]))
    hand.key(Qt.Key.Key_Return)


@pytest.mark.parametrize(("turn", "eye_height"), [(0.0, 1500.0), (30.0, 2600.0)])
def test_a_three_box_vehicle_of_given_sizes(desk, turn, eye_height):
    hand = desk(new_document(away=6500.0, viewing_distance=560.0, eye_height=eye_height))
    hand.board.turn(turn)
    hand.key(Qt.Key.Key_B)
    pull_block(hand, (-900, -400, 0), (1800, 990, 720))
    assert hand.session.undo_name == "add Block"
    pull_block(hand, (-900, -400, 720), (1200, 700, 600))
    pull_block(hand, (-900, -400, 1320), (1400, 800, 60))
    assert hand.sizes() == [(1800.0, 990.0, 720.0), (1200.0, 700.0, 600.0), (1400.0, 800.0, 60.0)]
    corners = [v.corner for v in hand.session.document.volumes]
    assert [c[2] for c in corners] == [0.0, 720.0, 1320.0], "each stands on the one before"
    assert corners[1][:2] == corners[0][:2], "a start near a corner snaps to it"
    assert [v.name for v in hand.session.document.volumes] == ["Block", "Block 2", "Block 3"]
    assert hand.session.selection == (hand.session.document.volumes[2].id,)


@pytest.mark.parametrize("turn", [0.0, 30.0])
def test_a_pull_without_typing_follows_the_pencil(desk, turn):
    hand = desk()
    hand.board.turn(turn)
    hand.key(Qt.Key.Key_B)
    hand.press(0, 0, 0)
    hand.release(800, 0, 0)
    hand.hover(800, 500, 0)
    hand.click(800, 500, 0)
    hand.hover(800, 500, 400)
    hand.click(800, 500, 400)
    (size,) = hand.sizes()
    assert size == pytest.approx((800.0, 500.0, 400.0), abs=12.0)
    assert all(length == round(length) for length in size), "whole millimetres while pulling by hand"


def test_a_block_on_a_side_face_stands_off_it(desk):
    hand = desk(demo("tea-cart"))
    hand.session.attempt(change_volume, "whole", "see through", see_through=True)
    hand.key(Qt.Key.Key_B)
    hand.press(1400, 80, 700)
    hand.release(1100, 80, 700)
    hand.click(1100, 80, 850)
    hand.hover(1100, -40, 850)
    hand.keys("120")
    hand.key(Qt.Key.Key_Return)
    box = hand.session.document.volumes[-1]
    assert box.size[1] == 120.0
    assert box.corner[1] == -40.0, "outwards, away from the body"


def test_escape_backs_out_one_step_each_time(desk):
    hand = desk()
    hand.key(Qt.Key.Key_B)
    hand.press(0, 0, 0)
    hand.release(600, 0, 0)
    hand.click(600, 400, 0)
    assert hand.words().startswith("Third pull")
    hand.keys("12")
    hand.key(Qt.Key.Key_Escape)
    assert hand.words().startswith("Third pull"), "first the typed digits go"
    hand.key(Qt.Key.Key_Escape)
    assert hand.words().startswith("Second pull")
    hand.key(Qt.Key.Key_Escape)
    assert hand.words().startswith("First pull")
    hand.key(Qt.Key.Key_Escape)
    assert hand.words().startswith("Press where")
    assert hand.board.has_tool
    hand.key(Qt.Key.Key_Escape)
    assert not hand.board.has_tool
    assert hand.sizes() == []
    assert not hand.session.changed


def test_strokes_in_the_sky_and_nonsense_lengths_draw_nothing(desk):
    hand = desk()
    hand.key(Qt.Key.Key_B)
    sky = QPoint(hand.board.width() // 2, 20)
    hand.mouse(QEvent.Type.MouseMove, sky, Qt.MouseButton.NoButton, Qt.MouseButton.NoButton)
    hand.mouse(QEvent.Type.MouseButtonPress, sky)
    assert "no ground" in hand.words()
    hand.press(0, 0, 0)
    hand.release(600, 0, 0)
    hand.hover(600, 300, 0)
    hand.keys("3 in 2 ft")
    hand.key(Qt.Key.Key_Return)
    assert "smaller unit" in hand.words()
    assert hand.words().startswith("⚠")
    assert hand.sizes() == []


def test_the_first_click_on_an_empty_board_never_edits(desk):
    hand = desk()
    hand.click(0, 0, 0)
    hand.click(500, 500, 0)
    assert hand.sizes() == []
    assert not hand.session.changed


@pytest.mark.parametrize("turn", [0.0, 30.0])
def test_point_select_delete_undo(desk, turn):
    hand = desk(demo("tea-cart"))
    hand.board.turn(turn)
    hand.click(1700, 0, 1020)
    assert hand.session.selection == ("counter",)
    hand.click(1000, 0, 1720)
    assert hand.session.selection == ("canopy",)
    hand.key(Qt.Key.Key_Delete)
    assert hand.session.document.index_of("canopy") is None
    assert hand.desk.top_bar._undo.text() == "Undo: delete Canopy"
    hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert hand.session.document == demo("tea-cart") and hand.words() == "Taken back: delete Canopy"
    hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert hand.session.document.index_of("canopy") is None and hand.words() == "Done again: delete Canopy"


def test_duplicate_see_through_rename_by_keys(desk):
    hand = desk(demo("tea-cart"))
    hand.click(1000, 0, 1720)
    hand.key(Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    assert hand.session.document.volumes[-1].name == "Canopy 2"
    hand.key(Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    assert hand.session.document.volumes[-1].see_through
    hand.key(Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier)
    editor = QApplication.focusWidget()
    editor.selectAll()
    hand.keys("Awning")
    hand.key(Qt.Key.Key_Return)
    assert hand.session.document.volumes[-1].name == "Awning"
    assert hand.session.undo_name == "rename Canopy 2"


def test_wheel_zooms_about_the_pencil_and_fit_brings_it_back(desk):
    hand = desk(demo("tea-cart"))
    fitted = hand.board.view
    spot = hand.pixel(1700, 0, 1020)
    wheel = QWheelEvent(
        QPointF(spot), hand.board.mapToGlobal(QPointF(spot)), QPoint(), QPoint(0, 240), Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    QApplication.sendEvent(hand.board, wheel)
    assert hand.board.view.scale > fitted.scale
    assert (hand.pixel(1700, 0, 1020) - spot).manhattanLength() <= 2
    hand.key(Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
    assert hand.board.view == fitted


def test_what_is_painted_is_the_drawing(desk):
    """Ink where an edge is drawn, paper beside it, table outside the sheet."""
    hand = desk(demo("tea-cart"))
    picture = hand.board.grab().toImage()
    on_edge = hand.pixel(940, 0, 1040)
    darkest = min(picture.pixelColor(on_edge.x(), on_edge.y() + dy).lightness() for dy in (-1, 0, 1))
    assert darkest < 110
    left, _, _, upper = hand.session.document.sheet.rectangle
    x, y = hand.board.view.point_to_screen(left + 10, upper - 10)
    assert picture.pixelColor(round(x), round(y)).name() == "#fbf8f1"
    x, y = hand.board.view.point_to_screen(left + 10, upper + 8)
    assert picture.pixelColor(round(x), round(y)).name() == "#33403f"
