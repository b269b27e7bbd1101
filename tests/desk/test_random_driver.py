"""A seeded monkey with mouse and keyboard: no exception, no leaked widget or timer, and undo that is exact."""

import os
import random

import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QMouseEvent, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit, QWidget

from isometron.demos.catalogue import demo
from isometron.desk.controls.fields import ValueField
from isometron.desk.controls.words import WordButton
from isometron.desk.stages.register import STAGES
from isometron.document.fresh import new_document
from isometron.document.store.files import decode_document, encode_document

STEPS = int(os.environ.get("ISOMETRON_MONKEY_STEPS", "1200"))
"""Over all seeds; the full run of 10,000 and more is for an afternoon: ISOMETRON_MONKEY_STEPS=30000 ./run test ..."""
KEYS = [
    Qt.Key.Key_C, Qt.Key.Key_E, Qt.Key.Key_PageDown, Qt.Key.Key_PageDown, Qt.Key.Key_F8,
    Qt.Key.Key_B, Qt.Key.Key_B, Qt.Key.Key_P, Qt.Key.Key_Escape, Qt.Key.Key_Return, Qt.Key.Key_Backspace,
    Qt.Key.Key_Delete, Qt.Key.Key_Tab, Qt.Key.Key_F2, Qt.Key.Key_F3, Qt.Key.Key_F4, Qt.Key.Key_F5, Qt.Key.Key_F6,
    Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Space, Qt.Key.Key_F7, Qt.Key.Key_D, Qt.Key.Key_A, Qt.Key.Key_J, Qt.Key.Key_R,
]  # fmt: skip
WITH_CTRL = [
    Qt.Key.Key_Z,
    Qt.Key.Key_Z,
    Qt.Key.Key_D,
    Qt.Key.Key_T,
    Qt.Key.Key_A,
    Qt.Key.Key_0,
    Qt.Key.Key_9,
    Qt.Key.Key_G,
]


class Monkey:
    def __init__(self, hand, seed):
        self.hand, self.dice = hand, random.Random(seed)
        self.at = QPoint(300, 300)

    def somewhere(self):
        board = self.hand.board
        near = self.dice.random() < 0.6
        step = 120 if near else 2000
        x = self.at.x() + self.dice.randint(-step, step)
        y = self.at.y() + self.dice.randint(-step, step)
        self.at = QPoint(min(max(x, 0), board.width() - 1), min(max(y, 0), board.height() - 1))
        return self.at

    def step(self):
        kinds = (
            self.move,
            self.click,
            self.drag,
            self.type,
            self.key,
            self.ctrl,
            self.wheel,
            self.ledger,
            self.eye,
            self.dial,
            self.places,
        )
        self.dice.choices(kinds, weights=(20, 14, 14, 10, 14, 7, 4, 5, 3, 4, 7))[0]()

    def move(self):
        nothing = Qt.MouseButton.NoButton
        self.hand.mouse(QEvent.Type.MouseMove, self.somewhere(), nothing, nothing)

    def click(self):
        spot = self.somewhere()
        self.hand.mouse(QEvent.Type.MouseButtonPress, spot)
        self.hand.mouse(QEvent.Type.MouseButtonRelease, spot)
        self.hand.board.setFocus()

    def drag(self):
        button = self.dice.choice([Qt.MouseButton.LeftButton, Qt.MouseButton.LeftButton, Qt.MouseButton.MiddleButton])
        self.hand.mouse(QEvent.Type.MouseButtonPress, self.somewhere(), button)
        for _ in range(self.dice.randint(1, 4)):
            self.hand.mouse(QEvent.Type.MouseMove, self.somewhere(), Qt.MouseButton.NoButton, button)
        self.hand.mouse(QEvent.Type.MouseButtonRelease, self.at, button)

    def type(self):
        self.hand.keys(self.dice.choice(["1", "250", "1200", "3 ft", "7/8", "0", ".5", "999999", "12 km", ","]))

    def key(self):
        self.hand.key(self.dice.choice(KEYS))

    def ctrl(self):
        modifier = Qt.KeyboardModifier.ControlModifier
        if self.dice.random() < 0.3:
            self.hand.key(Qt.Key.Key_Z, modifier | Qt.KeyboardModifier.ShiftModifier)
        else:
            self.hand.key(self.dice.choice(WITH_CTRL), modifier)

    def wheel(self):
        spot = QPointF(self.somewhere())
        turn = QPoint(0, self.dice.choice([-360, -120, 120, 360]))
        event = QWheelEvent(
            spot, self.hand.board.mapToGlobal(spot), QPoint(), turn, Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
        )  # fmt: skip
        QApplication.sendEvent(self.hand.board, event)

    def ledger(self):
        rows = len(self.hand.session.document.volumes)
        if rows:
            model = self.hand.desk.ledger.model()
            index = model.index(self.dice.randrange(rows), self.dice.randrange(4))
            model.setData(
                index,
                self.dice.choice(
                    ["300", "1 m", "wide", "", "-4", "12 1/2 in", "Shelf", "= 2 body", "body.long / 2", "3 block"]
                ),
            )

    def dial(self):
        desk = self.hand.desk
        widget = self.dice.choice([desk.dial_panel.dial, desk.rail, desk.upright_rail])
        left = Qt.MouseButton.LeftButton
        for kind in (QEvent.Type.MouseButtonPress, QEvent.Type.MouseMove, QEvent.Type.MouseMove):
            spot = QPointF(self.dice.randrange(widget.width()), self.dice.randrange(widget.height()))
            event = QMouseEvent(kind, spot, widget.mapToGlobal(spot), left, left, Qt.KeyboardModifier.NoModifier)
            QApplication.sendEvent(widget, event)
        if self.dice.random() < 0.2:
            QTest.keyClick(widget, Qt.Key.Key_Escape)
        QApplication.sendEvent(
            widget,
            QMouseEvent(
                QEvent.Type.MouseButtonRelease, spot, widget.mapToGlobal(spot), left, Qt.MouseButton.NoButton,
                Qt.KeyboardModifier.NoModifier,
            ),
        )  # fmt: skip

    def eye(self):
        self.fields(self.hand.desk.stages.body("Eye"))

    def places(self):
        desk = self.hand.desk
        self.hand.desk.stages.open("Block")
        self.fields(
            self.dice.choice(
                [
                    desk.stages.body("Block"),
                    desk.stages.body("Block"),
                    desk.stages.body("Divide"),
                    desk.stages.body("Rounds"),
                    desk.stages.body("Form"),
                ]
            )
        )
        boxes = [box for box in desk.stages.findChildren(QComboBox) if box.isVisible() and box.isEnabled()]
        if boxes and self.dice.random() < 0.5:
            box = self.dice.choice(boxes)
            box.setCurrentIndex(self.dice.randrange(max(box.count(), 1)))
            box.activated.emit(box.currentIndex())

    def fields(self, stage):
        sections = stage.sections
        place = self.dice.choice(sections.all)
        sections.open(place)
        lines = [
            line for line in place.findChildren(QLineEdit) if not isinstance(line, ValueField) and line.isVisible()
        ]
        lines = [line for line in lines if line.isEnabled() and not isinstance(line.parent(), QComboBox)]
        if lines and self.dice.random() < 0.4:
            text = self.dice.choice(
                ["2 : 1", "3", "1 : 2 : 1", "body.long", "wheelbase = 300", "block.high < 2", "x", ""]
            )
            self.hand.type_into(self.dice.choice(lines), text)
        fields = [field for field in place.findChildren(ValueField) if field.isVisible() and field.isEnabled()]
        if fields:
            field = self.dice.choice(fields)
            self.hand.type_into(field, self.dice.choice(["0", "-35", "20", "1500", "400", "up", "89", "2 m"]))
        buttons = [
            b
            for b in place.findChildren(WordButton)
            if b.isVisible() and b.isEnabled() and "▾" not in b.key and "…" not in b.text()
        ]
        if buttons and self.dice.random() < 0.3:
            QTest.mouseClick(self.dice.choice(buttons), Qt.MouseButton.LeftButton)


def come_to_rest(hand):
    """The same state of every place, whatever the monkey left open: each stage made, nothing selected, no tool."""
    hand.desk.lay_aside()
    hand.desk.player.begin()
    hand.desk.player.close()
    hand.session.select(())
    for stage in (
        hand.desk.stages.body("Eye"),
        hand.desk.stages.body("Rounds"),
        hand.desk.stages.body("Divide"),
        hand.desk.stages.body("Form"),
        hand.desk.stages.body("Block"),
    ):
        for place in stage.sections.all:
            stage.sections.open(place)
        stage.sections.open(stage.sections.all[0])
    hand.desk.stages.open("Block")
    hand.board.setFocus()
    QApplication.processEvents()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_a_monkey_at_the_desk(desk, seed):
    first = demo("tea-cart") if seed % 2 else new_document()
    hand = desk(first)
    monkey = Monkey(hand, seed)
    for stage in STAGES:  # each makes its body when it is first opened
        hand.desk.stages.open(stage.name)
    for _ in range(60):
        monkey.step()
    come_to_rest(hand)
    widgets, timers = len(hand.window.findChildren(QWidget)), len(hand.window.findChildren(QTimer))
    for _ in range(STEPS // 3):
        monkey.step()
        drawing, document = hand.session.drawing, hand.session.document
        assert drawing.document is document
        assert drawing.scene.volumes is document.volumes
        assert set(hand.session.selection) <= {volume.id for volume in document.volumes}
    come_to_rest(hand)
    # A table may have one editor open; nothing else may have grown.
    assert len(hand.window.findChildren(QWidget)) <= widgets + 3
    assert len(hand.window.findChildren(QTimer)) <= timers + 1
    while hand.session.redo_name is not None:
        hand.session.redo()
    last = encode_document(hand.session.document)
    assert decode_document(last) == hand.session.document
    while hand.session.undo_name is not None:
        hand.session.undo()
    assert encode_document(hand.session.document) == encode_document(first)
    while hand.session.redo_name is not None:
        hand.session.redo()
    assert encode_document(hand.session.document) == last
