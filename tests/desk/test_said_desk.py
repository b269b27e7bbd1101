"""Things said in one breath: typed while a block is pulled, before it is begun, and in the ledger's line."""

import pytest
from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtTest import QTest

from isometron.desk.controls.fields import LengthField


def test_three_sizes_are_typed_while_a_block_is_pulled_each_to_the_pencils_side(desk):
    hand = desk()
    hand.key(Qt.Key.Key_B)
    hand.press(0, 0, 0)
    hand.drag(600, 0, 0)
    hand.keys("420 x 400 x 45")
    assert "420 x 400 x 45" in [note.text for note in hand.board.in_hand.preview.notes], (
        "what is typed stands beside the pencil"
    )
    hand.key(Qt.Key.Key_Return)
    (box,) = hand.session.document.volumes
    assert box.size == (420.0, 400.0, 45.0) and box.corner == (0.0, 0.0, 0.0)
    assert hand.session.selection == (box.id,), "what was just laid is selected"
    hand.press(2000, 0, 0)
    hand.drag(1500, 0, 0)
    hand.keys("300 x 200 x 100, 3 x 400")
    hand.key(Qt.Key.Key_Return)
    second = hand.session.document.volumes[1]
    assert (
        second.size == (300.0, 200.0, 100.0) and second.corner == (1700.0, 0.0, 0.0) and second.copies[0].count == 3
    )


def test_two_sizes_leave_the_third_to_be_pulled_or_typed(desk):
    hand = desk()
    hand.key(Qt.Key.Key_B)
    hand.press(0, 0, 0)
    hand.drag(0, 500, 0)
    hand.keys("420 x 400")
    hand.key(Qt.Key.Key_Return)
    assert hand.board.busy and not hand.session.document.volumes
    hand.keys("45")
    hand.key(Qt.Key.Key_Return)
    assert hand.sizes() == [(400.0, 420.0, 45.0)], "the pull that runs is the first one said"


def test_a_whole_block_is_typed_before_anything_is_pressed(desk):
    hand = desk()
    hand.key(Qt.Key.Key_B)
    hand.hover(0, 0, 0)
    hand.keys("400 x 300 x 20 at 0, 0, 440")
    hand.key(Qt.Key.Key_Return)
    (seat,) = hand.session.document.volumes
    assert seat.size == (400.0, 300.0, 20.0) and seat.corner == (0.0, 0.0, 440.0)
    hand.keys("100 above block")  # only a start: it is pulled from there
    hand.key(Qt.Key.Key_Return)
    assert hand.board.busy
    hand.keys("60 x 50 x 40")
    hand.key(Qt.Key.Key_Return)
    assert hand.session.document.volumes[1].corner[2] == pytest.approx(560.0)
    assert hand.session.document.volumes[1].joined.to == seat.id, "said above it, it goes along with it"
    hand.keys("10 below block")
    hand.key(Qt.Key.Key_Return)
    hand.keys("60 x 50 x 40")
    hand.key(Qt.Key.Key_Return)
    assert hand.session.document.volumes[2].corner[2] == pytest.approx(390.0), "below it, it hangs downwards"


def test_what_cannot_be_said_is_refused_with_the_way_and_stays_typed(desk):
    hand = desk()
    hand.key(Qt.Key.Key_B)
    hand.press(0, 0, 0)
    hand.drag(600, 0, 0)
    hand.keys("420 x 400 x 45 on table")
    hand.key(Qt.Key.Key_Return)
    assert "There is no table here" in hand.words() and hand.board.busy and not hand.session.document.volumes
    assert hand.board.in_hand.typed == "420 x 400 x 45 on table"
    hand.key(Qt.Key.Key_Escape)
    assert hand.board.in_hand.typed == "" and hand.board.busy, "Escape takes back the words, then the stroke"


def test_the_ledgers_line_lays_things_and_brings_earlier_lines_back(desk):
    hand = desk()
    line = hand.desk.figures.new_line
    assert line.isVisible()
    hand.type_into(line, "seat 420 x 400 x 45 at 0, 0, 440")
    hand.type_into(line, '"leg 1" 40 x 40 x 440 below seat')
    seat, leg = hand.session.document.volumes
    assert (seat.name, leg.name) == ("seat", "leg 1") and leg.corner == pytest.approx((190.0, 180.0, 0.0))
    assert leg.joined.to == "seat" and line.text() == "" and hand.session.selection == (leg.id,)
    hand.type_into(line, "nothing")
    assert line.text() == "nothing" and "Say its size" in hand.words() and len(hand.session.document.volumes) == 2
    QTest.qWait(30)
    assert line.hasFocus(), "what is refused can be mended at once"
    QTest.keyClick(line, Qt.Key.Key_Up)
    assert line.text() == '"leg 1" 40 x 40 x 440 below seat'
    QTest.keyClick(line, Qt.Key.Key_Up)
    assert line.text().startswith("seat")
    QTest.keyClick(line, Qt.Key.Key_Down)
    QTest.keyClick(line, Qt.Key.Key_Down)
    assert line.text() == "nothing"


def test_one_click_edits_a_figure_of_the_ledger_and_up_brings_back_a_length(desk):
    hand = desk()
    hand.type_into(hand.desk.figures.new_line, "seat 420 x 400 x 45 at 0, 0, 440")
    ledger = hand.desk.ledger
    spot = ledger.visualRect(ledger.model().index(0, 2)).center()
    QTest.qWait(30)
    QTest.mouseClick(ledger.viewport(), Qt.MouseButton.LeftButton, pos=spot)
    QTest.qWait(600)  # longer than a double click
    hand.keys("380")
    hand.key(Qt.Key.Key_Return)
    assert hand.session.document.volumes[0].size == (420.0, 380.0, 45.0)
    field = next(f for f in hand.desk.card.findChildren(LengthField) if f.isVisible())
    hand.type_into(field, "1 m 20")
    field.setFocus()
    QTest.keyClick(field, Qt.Key.Key_Up)
    assert field.text() == "1 m 20"


def test_a_saved_file_gives_window_and_bar_its_name(desk, tmp_path):
    hand = desk()
    hand.type_into(hand.desk.figures.new_line, "seat 420 x 400 x 45")
    assert hand.desk.host.windowTitle().startswith("Untitled")
    hand.session.save(tmp_path / "garden bench.isometron")
    assert hand.desk.host.windowTitle().startswith("garden bench")
    assert hand.desk.top_bar._name.text().startswith("garden bench")


def test_what_leaves_the_sheet_is_told_while_it_is_pulled_with_the_way_to_bring_it_in(desk):
    hand = desk()
    hand.key(Qt.Key.Key_B)
    hand.press(0, 0, 0)
    hand.drag(600, 0, 0)
    assert "leaves the sheet" not in hand.words()
    hand.keys("600 x 600 x 60000")
    assert "leaves the sheet by" in hand.words() and "upper edge" in hand.words() and "Fill the sheet" in hand.words()
    for _ in range(3):
        hand.key(Qt.Key.Key_Backspace)
    assert "leaves the sheet" not in hand.words()


def test_a_pull_that_came_to_nothing_says_so(desk):
    hand = desk()
    hand.key(Qt.Key.Key_B)
    hand.press(0, 0, 0)
    hand.release(600, 0, 0)
    hand.mouse(QEvent.Type.MouseButtonPress, hand.pixel(600, 0, 0))
    hand.mouse(QEvent.Type.MouseButtonRelease, hand.pixel(600, 0, 0))
    assert "came to nothing" in hand.words() and hand.board.busy
    hand.hover(700, 100, 0)
    assert "came to nothing" in hand.words(), "it stands while the hand only moves"
    hand.keys("4")
    assert "came to nothing" not in hand.words()


def test_what_leaves_the_sheet_is_brought_back_by_the_deed_that_is_named_while_pulling(desk):
    hand = desk()
    hand.type_into(hand.desk.figures.new_line, "tower 600 x 600 x 60000 at 0, 0, 0")
    hand.key(Qt.Key.Key_F8)
    check = hand.desk.stages.body("Check")
    check.refresh()
    codes = [finding.code for finding in hand.session.drawing.findings]
    assert "off-sheet" in codes
    check._list.setCurrentRow(codes.index("off-sheet"))
    assert check._mend.isVisible() and check._mend.text() == "Fill the sheet"
    QTest.mouseClick(check._mend, Qt.MouseButton.LeftButton)
    assert "off-sheet" not in [finding.code for finding in hand.session.drawing.findings]
