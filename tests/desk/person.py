"""One who works at the desk with mouse and keys, whose actions are counted and who can only use what is to be seen.

An action is one click, one pull from press to release, one key or chord, or one typed value with its Enter; a menu is two.
"""

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QLineEdit, QMenu, QPushButton

from isometron.volumes.cut.profiles import view_size
from tests.desk.test_shaping_desk import card_drag, choose, opened, press

LEFT = Qt.MouseButton.LeftButton
_STAGE_KEYS = {
    "Eye": Qt.Key.Key_F2,
    "Block": Qt.Key.Key_F3,
    "Divide": Qt.Key.Key_F4,
    "Rounds": Qt.Key.Key_F5,
    "Form": Qt.Key.Key_F6,
}


def sees(widget):
    """Fail unless all of a widget is on screen, without scrolling or unfolding anything."""
    whole = QRect(0, 0, widget.width(), widget.height())
    for _ in range(20):
        if widget.isVisible() and widget.visibleRegion().boundingRect().contains(whole):
            return
        QTest.qWait(10)  # what changed is laid out
        whole = QRect(0, 0, widget.width(), widget.height())
    name = widget.accessibleName() or getattr(widget, "text", str)() or type(widget).__name__
    raise AssertionError(f"{name!r} is not in sight: {widget.visibleRegion().boundingRect()} of {whole}")


class Person:
    """One who works at the desk, and whose actions are counted."""

    def __init__(self, hand):
        self.hand, self.actions, self.cautions = hand, 0, []
        hand.session.said.connect(lambda words, caution: caution and self.cautions.append(words))

    def key(self, key):
        self.actions += 1
        self.hand.key(key)

    def pull(self, start, *ways, upright=False):
        """Pull from a place; each way is where the pencil goes next, and what is typed there."""
        self.actions += 1 + int(upright)  # Shift is a key
        held = Qt.KeyboardModifier.ShiftModifier if upright else Qt.KeyboardModifier.NoModifier
        self.hand.press(*start, modifier=held)
        for k, (to, text) in enumerate(ways):
            (self.hand.drag if k == 0 else self.hand.hover)(*to)
            self.hand.board.setFocus()
            self.actions += 1
            self.hand.keys(text)
            self.hand.key(Qt.Key.Key_Return)
            if k == 0:
                self.hand.release(*to)

    def cut(self, start, end, text, key=Qt.Key.Key_W):
        """Pull an opening (or what the key lays) on a face, its size typed with the row behind it; return what it became."""
        self.hand.board.setFocus()
        self.key(key)
        self.pull(start, (end, text))
        return self.hand.session.active_volume.marks[-1]

    def click(self, *place):
        self.actions += 1
        self.hand.click(*place)

    def section(self, section):
        self.actions += 1
        sees(section.head)
        return opened(self.hand, section)

    def menu(self, offered, words):
        self.actions += 2
        sees(offered.parentWidget() if isinstance(offered, QMenu) else offered)
        choose(offered, words)

    def button(self, place, words):
        self.actions += 1
        sees(next(b for b in place.findChildren(type(place.head)) if b.text() == words))
        press(place, words)

    def named(self, place, name):
        """Find a field of a section by its accessible name."""
        return next(one for one in place.findChildren(QLineEdit) if one.accessibleName() == name)

    def say(self, line):
        """Type a whole thing into the line under the ledger."""
        self.fill(self.hand.desk.figures.new_line, line)
        return self.hand.session.active_volume

    def select(self, volume):
        """Click on a volume's name in the ledger."""
        self.actions += 1
        ledger, model = self.hand.desk.ledger, self.hand.desk.ledger.model()
        row = [volume.id for volume in self.hand.session.document.volumes].index(volume.id)
        cell = ledger.visualRect(model.index(row, 0))
        assert ledger.viewport().rect().contains(cell.center()), f"{volume.name!r} is not in sight in the ledger"
        QTest.mouseClick(ledger.viewport(), LEFT, pos=cell.center())
        QApplication.processEvents()
        assert self.hand.session.selection == (volume.id,)

    def ledger(self, row, axis, text):
        """Click a size in the ledger and type another one."""
        self.actions += 2
        table = self.hand.desk.ledger
        cell = table.visualRect(table.model().index(row, 1 + axis))
        assert table.viewport().rect().contains(cell), "the figure is not in sight"
        QTest.mouseClick(table.viewport(), LEFT, pos=cell.center())
        QApplication.processEvents()
        self.hand.keys(text)
        self.hand.key(Qt.Key.Key_Return)
        QApplication.processEvents()
        self.hand.board.setFocus()

    def hand_on(self, words, path, monkeypatch):
        """Write a file by a button of Hand on; its name is typed into the dialog, which is not shown here."""
        self.actions += 3
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(path), ""))
        self.hand.key(Qt.Key.Key_F9)
        body = self.hand.desk.stages.body("Hand on")
        button = next(b for b in body.findChildren(QPushButton) if b.text() == words)
        sees(button)
        QTest.mouseClick(button, LEFT)
        self.hand.rest()

    def part(self, stage, words):
        """Open a section of a stage where it is not open, the stage by its key."""
        body = self.hand.desk.stages.body(stage)
        if not body.isVisible():
            self.key(_STAGE_KEYS[stage])
        found = next(one for one in body.sections.all if one.head.text() == words)
        return getattr(found, "place", found) if found.isVisible() else self.section(found)

    def outline_typed(self, place, view, text):
        """Choose a view of the selected volume's shape where another one is shown, and type its outline."""
        word = next(b for b in self.row(place.view, "view").buttons if b.text() == view)
        if not word.isChecked():
            self.actions += 1
            sees(word)
            QTest.mouseClick(word, LEFT)
            QApplication.processEvents()
        self.field(place.view, "corners", text)

    def switch(self, rows, words):
        self.tick(self.row(rows, words))

    def row(self, rows, words):
        return rows.widgets[[row.words for row in rows._rows].index(words)]

    def list(self, rows, words, choice):
        self.pick(self.row(rows, words), choice)

    def pick(self, box, choice):
        """Choose from a list."""
        self.actions += 2
        sees(box)
        choose(box, choice)

    def tick(self, box):
        """Tick a box that stands alone."""
        self.actions += 1
        sees(box)
        box.setFocus()
        QTest.keyClick(box, Qt.Key.Key_Space)
        QApplication.processEvents()

    def field(self, rows, words, text):
        """Click into a field of a list of rows and type a value with its Enter."""
        self.fill(self.row(rows, words), text)

    def fill(self, widget, text):
        self.actions += 2
        sees(widget)
        self.hand.type_into(widget, text)
        QApplication.processEvents()  # the keyboard goes back to the board

    def outline(self, card, start, end):
        """Pull a corner, or a side for a new one, on the outline card; places are parts of the view."""
        self.actions += 1
        size = view_size(self.hand.session.active_volume, card.view)
        card_drag(card, (start[0] * size[0], start[1] * size[1]), (end[0] * size[0], end[1] * size[1]))

    def begin(self, card):
        self.actions += 1
        size = view_size(self.hand.session.active_volume, card.view)
        QTest.mouseClick(card, LEFT, pos=card.point_of(0.5 * size[0], 0.5 * size[1]).toPoint())
        QApplication.processEvents()

    def corner(self, place, at, words, text):
        """Click a corner on the card, and type how it is rounded or chamfered."""
        card = place.card
        self.actions += 1
        size = view_size(self.hand.session.active_volume, card.view)
        QTest.mouseClick(card, LEFT, pos=card.point_of(at[0] * size[0], at[1] * size[1]).toPoint())
        QApplication.processEvents()
        self.field(place.corner, words, text)
