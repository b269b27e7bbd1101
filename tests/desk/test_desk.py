"""The ledger, the eye, files and hand on, as a person uses them."""

import csv
import io
import json
import os
import subprocess
import sys

import msgspec
import pytest
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QFileDialog, QLineEdit, QPushButton, QScrollArea, QWidget

from isometron.demos.catalogue import demo
from isometron.desk.cards.new_sheet import NewSheetDialog
from isometron.document.eyes.eye_edits import tilt_view
from isometron.document.fresh import new_document
from isometron.document.store.files import load_document, save_document
from isometron.volumes.box import Box


def cell(hand, row, column):
    index = hand.desk.ledger.model().index(row, column)
    return hand.desk.ledger.visualRect(index).center()


def edit_cell(hand, row, column, text):
    ledger = hand.desk.ledger
    QTest.mouseClick(ledger.viewport(), Qt.MouseButton.LeftButton, pos=cell(hand, row, column))
    QTest.mouseDClick(ledger.viewport(), Qt.MouseButton.LeftButton, pos=cell(hand, row, column))
    editor = QApplication.focusWidget()
    assert isinstance(editor, QLineEdit)
    editor.selectAll()
    QTest.keyClicks(editor, text)
    QTest.keyClick(editor, Qt.Key.Key_Return)
    QApplication.processEvents()


def test_ledger_edits_in_place_with_units(desk):
    hand = desk(demo("tea-cart"))
    edit_cell(hand, 1, 1, "190 cm")
    assert hand.session.document.volume("body").size[0] == 1900.0
    assert hand.session.undo_name == "resize Body"
    edit_cell(hand, 1, 0, "Hull")
    assert hand.session.document.volume("body").name == "Hull"
    before = hand.session.document
    edit_cell(hand, 1, 2, "as wide as it goes")
    assert hand.session.document is before
    assert "Understood: 1200" in hand.words()
    edit_cell(hand, 1, 3, "-5")
    assert hand.session.document is before
    assert "between 0.01 mm and 10 km" in hand.words()


def test_ledger_and_board_share_one_selection(desk):
    hand = desk(demo("tea-cart"))
    QTest.mouseClick(hand.desk.ledger.viewport(), Qt.MouseButton.LeftButton, pos=cell(hand, 3, 0))
    assert hand.session.selection == ("canopy",)
    assert hand.desk.card._places[2].text() == "1640 mm"
    hand.click(1700, 0, 1020)
    rows = {i.row() for i in hand.desk.ledger.selectionModel().selectedRows()}
    assert rows == {2}


def test_card_moves_turns_and_refuses(desk):
    hand = desk(demo("tea-cart"))
    hand.session.select(("counter",))
    card = hand.desk.card
    hand.type_into(card._places[2], "3' 4\"")
    assert hand.session.document.volume("counter").corner[2] == pytest.approx(1016.0)
    hand.type_into(card._turn, "15")
    assert hand.session.document.volume("counter").yaw_deg == 15.0
    before = hand.session.document
    hand.type_into(card._places[0], "somewhere")
    assert hand.session.document is before
    assert card._places[0].value == before.volume("counter").corner[0]
    assert "The old value stays" in hand.words()
    box = card.switches["see_through"]
    QTest.mouseClick(box, Qt.MouseButton.LeftButton, pos=QPoint(9, box.height() // 2))
    assert hand.session.document.volume("counter").see_through


def test_edge_table_shows_the_reports_numbers(desk):
    hand = desk(demo("tea-cart"))
    hand.session.select(("body",))
    table = hand.desk.edge_table
    texts = [table.item(row, 0).text() for row in range(table.rowCount())]
    heads = [t for t in texts if "·" in t]
    assert len(heads) == 3 and len(texts) == 3 + len(hand.session.drawing.measures(1))
    assert " off" in heads[0] and "no vanishing point" in heads[2]
    first = hand.session.drawing.measures(1)[0]
    assert table.item(1, 1).text() == "1800"
    assert table.item(1, 2).text() == f"{first.drawn:.1f}"
    assert table.item(1, 3).text() == f"{100 * first.foreshortening:.0f}"
    assert table.columnWidth(4) >= table.sizeHintForColumn(4), "no slope is cut"


def test_eye_fields_change_the_view(desk):
    hand = desk(demo("tea-cart"))
    hand.key(Qt.Key.Key_F2)
    fields = {field.accessibleName(): field for field, _ in hand.desk.stages.body("Eye").sections.all[0]._fields}
    hand.type_into(fields["Turn of the object"], "0")
    assert hand.desk.stages.body("Eye")._words.text().startswith("One-point")
    hand.type_into(fields["Turn of the object"], "-30")
    hand.type_into(fields["Tilt of the view"], "-12")
    assert hand.desk.stages.body("Eye")._words.text().startswith("Three-point")
    hand.type_into(fields["Eye height"], "2.2 m")
    assert hand.session.document.eye.position[2] == 2200.0
    for _ in range(4):
        hand.session.undo()
    assert hand.session.document == demo("tea-cart")


def test_unit_and_paper_menus(desk):
    hand = desk(demo("tea-cart"))
    bar = hand.desk.top_bar
    next(a for a in bar._unit.menu().actions() if a.text() == "in").trigger()
    assert hand.desk.ledger.model().index(0, 1).data() == "94 1/2"
    next(a for a in bar._paper.menu().actions() if a.text() == "A2 portrait").trigger()
    sheet = hand.session.document.sheet
    assert (sheet.width, sheet.height) == (420.0, 594.0)
    assert bar._paper.text().startswith("A2 portrait")


def test_save_open_and_the_question_about_unsaved_work(desk, tmp_path, monkeypatch, answer):
    hand = desk(demo("tea-cart"))
    path = tmp_path / "cart.isometron"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(path.with_suffix("")), ""))
    hand.key(Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert load_document(path) == hand.session.document
    assert not hand.window.isWindowModified()
    hand.session.select(("body",))
    hand.key(Qt.Key.Key_Delete)
    assert hand.window.isWindowModified()
    answer("Stay here")
    hand.window.close()
    assert hand.window.isVisible()
    answer("Save")
    assert hand.window.close()
    assert load_document(path).index_of("body") is None


def test_an_ending_put_on_replaces_nothing_unasked(desk, tmp_path, monkeypatch, answer):
    hand = desk(demo("tea-cart"))
    other = tmp_path / "cart v1.2.isometron"
    save_document(demo("perch-stool"), other)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "cart v1.2"), ""))
    answer("Keep it")
    assert not hand.desk.paperwork.save_as()
    assert load_document(other).title == "Perch stool"
    answer("Replace it")
    assert hand.desk.paperwork.save_as()
    assert load_document(other).title == "Tea cart"
    assert [p.name for p in tmp_path.iterdir()] == ["cart v1.2.isometron"]


def test_opening_a_bad_file_keeps_the_document(desk, tmp_path, monkeypatch):
    hand = desk(demo("tea-cart"))
    bad = tmp_path / "bad.isometron"
    bad.write_text('{"format": "isometron document", "version": 1, "title": 5}')
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(bad), ""))
    hand.key(Qt.Key.Key_O, Qt.KeyboardModifier.ControlModifier)
    assert hand.session.document == demo("tea-cart")
    assert "bad.isometron" in hand.words() and "title" in hand.words()
    good = tmp_path / "good.isometron"
    save_document(demo("perch-stool"), good)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(good), ""))
    hand.key(Qt.Key.Key_O, Qt.KeyboardModifier.ControlModifier)
    assert hand.session.document.title == "Perch stool"
    assert hand.window.windowTitle().startswith("Perch stool")


def test_new_sheet_dialog(desk):
    hand = desk()

    def fill():
        dialog = next(w for w in QApplication.topLevelWidgets() if isinstance(w, NewSheetDialog) and w.isVisible())
        dialog.findChild(QComboBox).setFocus()
        combos = {c.accessibleName(): c for c in dialog.findChildren(QComboBox)}
        QTest.keyClicks(combos["Paper"], "12")
        hand.type_into(dialog._fields["eye height"], "5 ft")
        hand.type_into(dialog._fields["turn"], "nonsense")
        assert "no angle" in dialog._words.text()
        hand.type_into(dialog._fields["turn"], "25")
        hand.type_into(dialog._fields["tilt"], "-10")
        assert dialog._words.text().startswith("Three-point")
        button = next(b for b in dialog.findChildren(QPushButton) if b.text() == "Lay the sheet down")
        QTest.mouseClick(button, Qt.MouseButton.LeftButton)

    QTimer.singleShot(50, fill)
    hand.key(Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
    document = hand.session.document
    assert (document.sheet.width, document.sheet.height) == (457.2, 304.8)
    assert document.eye.position[2] == pytest.approx(1524.0)
    assert (document.eye.yaw_deg, document.eye.pitch_deg) == (-25.0, -10.0)
    assert hand.board.has_tool, "the pencil is ready for the first block"


def test_check_lists_counts_and_selects(desk, qtbot):
    hand = desk(demo("tea-cart"))
    hand.session.select(("canopy",))
    hand.type_into(hand.desk.card._places[2], "1600")
    button = hand.desk.stages._buttons["Check"]
    qtbot.waitUntil(lambda: "5" in button.key, timeout=2000)
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    warnings = hand.desk.stages.body("Check")._list
    item = warnings.visualItemRect(warnings.item(2)).center()
    QTest.mouseClick(warnings.viewport(), Qt.MouseButton.LeftButton, pos=item)
    assert "canopy" in hand.session.selection


def test_hand_on_writes_every_kind(desk, tmp_path, qtbot, monkeypatch):
    hand = desk(demo("perch-stool"))
    hand.key(Qt.Key.Key_F9)
    names = iter(tmp_path / f"stool.{e}" for e in ("pdf", "png", "svg", "dxf", "csv", "json"))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(next(names)), ""))
    hand.desk.stages.body("Hand on")._dpi.setValue(72)
    shown = [button for button in hand.desk.stages.body("Hand on")._buttons if button.isVisible()]
    assert len(shown) == 6, "a stool has no rings, and A4 no pages of a smaller paper"
    for button in shown:
        QTest.mouseClick(button, Qt.MouseButton.LeftButton)
        qtbot.waitUntil(lambda: hand.words().startswith("Wrote"), timeout=8000)
        hand.session.say("next")
    assert (tmp_path / "stool.pdf").read_bytes().startswith(b"%PDF")
    assert (tmp_path / "stool.png").read_bytes().startswith(b"\x89PNG")
    assert "<svg" in (tmp_path / "stool.svg").read_text()
    table = (tmp_path / "stool.csv").read_text(encoding="utf-8-sig")
    rows = list(csv.DictReader(io.StringIO(table)))
    assert len(rows) == sum(len(hand.session.drawing.measures(row)) for row in range(3)) > 100
    assert json.loads((tmp_path / "stool.json").read_text())["format"] == "isometron report"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "no" / "x.pdf"), ""))
    QTest.mouseClick(hand.desk.stages.body("Hand on")._buttons[0], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: "not saved" in hand.words(), timeout=8000)


def test_every_control_that_takes_keys_has_a_name(desk):
    hand = desk(demo("tea-cart"))
    hand.session.attempt(tilt_view, -10.0)
    looked_at = 0
    for stage in ("Eye", "Block", "Rounds", "Check", "Hand on"):
        hand.desk.stages.open(stage)
        QApplication.processEvents()
        for widget in hand.window.findChildren(QWidget):
            if not widget.isVisible() or widget.focusPolicy() == Qt.FocusPolicy.NoFocus:
                continue
            if widget.objectName().startswith("qt_") or isinstance(widget, QScrollArea):
                continue
            name = widget.accessibleName() or (widget.text() if hasattr(widget, "text") else "")
            assert name, f"{type(widget).__name__} {widget.objectName()!r} in {stage} has no name"
            looked_at += 1
    assert looked_at > 60


def test_without_a_display_the_program_says_what_to_do(tmp_path):
    bare = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    done = subprocess.run(
        [sys.executable, "-m", "isometron", "demo"], env=bare, capture_output=True, text=True, timeout=30
    )
    assert done.returncode == 2
    assert "no display" in done.stderr and "isometron export" in done.stderr


@pytest.mark.parametrize("size", [(1024, 700), (1920, 1080)])
def test_nothing_is_cut_off_in_other_windows(desk, size):
    hand = desk(demo("tea-cart"), size)
    hand.session.select(("body",))
    for button in hand.window.findChildren(QPushButton):
        if button.isVisible() and button.text():
            assert button.width() >= button.fontMetrics().horizontalAdvance(button.text()), button.text()
    assert hand.board.width() >= 400


def test_figures_typed_in_the_edge_table_set_a_size_or_a_turn(desk):
    chest = Box(id="c", name="Chest", corner=(-400.0, 200.0, 0.0), size=(900.0, 500.0, 600.0))
    hand = desk(msgspec.structs.replace(new_document(away=3000.0, eye_height=1400.0), volumes=(chest,)))
    hand.session.select(("c",))
    table, said = hand.desk.edge_table, []
    hand.session.said.connect(lambda words, _: said.append(words))

    def typed(column, text):
        place = table.visualItemRect(table.item(1, column)).center()
        QTest.mouseClick(table.viewport(), Qt.MouseButton.LeftButton, pos=place)
        QTest.mouseDClick(table.viewport(), Qt.MouseButton.LeftButton, pos=place)
        editor = table.findChild(QLineEdit)
        editor.selectAll()
        QTest.keyClicks(editor, text)
        QTest.keyClick(editor, Qt.Key.Key_Return)
        for _ in range(5):
            QApplication.processEvents()
        return hand.session.drawing.measures(0)[0]

    assert typed(2, "137 mm on paper").drawn == pytest.approx(137.0, abs=1e-3)
    assert "137.0 mm on paper" in said[-1] and table.item(1, 2).text() == "137.0"
    assert typed(1, "1 m 20 cm").true == pytest.approx(1200.0)
    assert typed(1, "1/2 of it").true == pytest.approx(600.0)
    assert typed(4, "12").slope_deg == pytest.approx(12.0, abs=1e-3)
    assert "turn Chest to" in said[-1]
    before = hand.session.document
    typed(2, "long")
    assert (
        hand.session.document is before
        and table.item(1, 2).text() == f"{hand.session.drawing.measures(0)[0].drawn:.1f}"
    )
    for _ in range(4):
        hand.session.undo()
    assert hand.session.document.volumes[0] == chest
