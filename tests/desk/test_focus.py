"""After Enter or Escape in any field the keyboard is the board's again: letters are tools, Ctrl+Z undoes."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractSpinBox, QApplication, QComboBox, QLineEdit

from isometron.demos.catalogue import demo
from isometron.desk.cards.new_sheet import NewSheetDialog
from isometron.desk.stages.register import STAGES

FIELDS = (QLineEdit, QAbstractSpinBox, QComboBox)


def fields_of(hand):
    found = [f for kind in FIELDS for f in hand.window.findChildren(kind) if f.isVisible() and f.isEnabled()]
    return [f for f in found if not isinstance(f.parent(), QAbstractSpinBox | QComboBox)]


@pytest.mark.parametrize("stage", [stage.name for stage in STAGES])
@pytest.mark.parametrize("key", [Qt.Key.Key_Return, Qt.Key.Key_Escape])
def test_every_field_hands_the_keyboard_back(home, desk, stage, key):
    hand = desk(demo("tea-cart"))
    hand.session.select(("body",))
    hand.desk.stages.open(stage)
    QApplication.processEvents()
    before, tried = hand.session.document, 0
    for field in fields_of(hand):
        field.setFocus()
        if QApplication.focusWidget() is not field:
            continue
        QTest.keyClick(field, key)
        QTest.qWait(1)
        assert hand.board.hasFocus(), field.accessibleName()
        assert hand.session.document == before, f"{field.accessibleName()}: nothing was typed"
        assert hand.session.selection == ("body",)
        tried += 1
    assert tried >= 6
    hand.key(Qt.Key.Key_B)
    assert hand.board.has_tool


def test_typing_then_keys_then_undo(home, desk):
    hand = desk(demo("tea-cart"))
    hand.session.select(("body",))
    hand.desk.ledger.edit(hand.desk.ledger.model().index(1, 1))
    editor = QApplication.focusWidget()
    QTest.keyClicks(editor, "1234")
    QTest.keyClick(editor, Qt.Key.Key_Return)
    QTest.qWait(5)
    assert hand.session.document.volume("body").size[0] == 1234.0 and hand.board.hasFocus()
    hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert hand.session.document.volume("body").size[0] == 1800.0


def test_a_refused_field_keeps_the_keyboard(home, desk):
    hand = desk(demo("tea-cart"))
    field = next(f for f in fields_of(hand) if f.accessibleName() == "Viewing distance")
    hand.type_into(field, "nonsense")
    QTest.qWait(5)
    assert field.hasFocus(), "to be mended"


def test_enter_in_a_field_of_a_new_sheet_does_not_lay_it(home, desk, qtbot):
    hand = desk()
    dialog = NewSheetDialog("mm", "A3", hand.window)
    dialog.show()
    for field in dialog.findChildren(QLineEdit):
        if field.isVisible() and field.isEnabled():
            field.setFocus()
            QTest.keyClick(field, Qt.Key.Key_Return)
            assert dialog.isVisible() and dialog.document is None, field.accessibleName()
    button = next(b for b in dialog.findChildren(type(dialog._accept)) if b is dialog._accept)
    button.setFocus()
    QTest.keyClick(button, Qt.Key.Key_Space)
    assert dialog.document is not None and not dialog.isVisible()


def test_keys_are_told_once():
    keys = [stage.key for stage in STAGES]
    assert len(set(keys)) == len(keys)


def test_no_key_means_two_things(home, desk):
    hand = desk()
    keys = [a.shortcut().toString() for a in hand.desk.actions() if not a.shortcut().isEmpty()]
    assert len(set(keys)) == len(keys)
