"""One who works at the desk with mouse and keys, whose actions are counted and who can only use what is to be seen.

An action is one click, one pull from press to release, one key or chord, or one typed value with its Enter; a menu is two.
"""

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMenu

from isometron.volumes.cut.profiles import view_size
from tests.desk.test_shaping_desk import card_drag, choose, opened, press

LEFT = Qt.MouseButton.LeftButton


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

    def outline_typed(self, place, view, text):
        """Choose a view of the selected volume's shape where another one is shown, and type its outline."""
        box = self.row(place.view, "view")
        if box.currentText() != view:
            self.list(place.view, "view", view)
        self.field(place.view, "corners", text)

    def switch(self, rows, words):
        self.actions += 1
        box = self.row(rows, words)
        sees(box)
        box.setFocus()
        QTest.keyClick(box, Qt.Key.Key_Space)
        QApplication.processEvents()

    def row(self, rows, words):
        return rows.widgets[[row.words for row in rows._rows].index(words)]

    def list(self, rows, words, choice):
        self.actions += 2
        sees(self.row(rows, words))
        choose(self.row(rows, words), choice)

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
