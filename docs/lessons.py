"""The lessons of the handbook as deeds of a hand: mouse and keys at a real window, with a picture after some of them.

What the pages tell is done here; a test does it too, so that a lesson which does not work is no lesson.
"""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QWidget

from isometron.desk.frame.window import Desk

LEFT = Qt.MouseButton.LeftButton
Look = Callable[[str], None]
"""Takes a picture under a name."""


class HandAtDesk:
    """Mouse and keys at one desk."""

    def __init__(self, desk: Desk) -> None:
        self.desk, self.board, self.session = desk, desk.board, desk.session

    def at(self, *place: float) -> QPoint:
        u, v = self.session.document.eye.project([place])[0][0].tolist()
        x, y = self.board.view.point_to_screen(u, v)
        return QPoint(round(x), round(y))

    def key(self, key: Qt.Key) -> None:
        self.board.setFocus()
        QTest.keyClick(self.board, key)
        QApplication.processEvents()

    def pull(self, start: tuple[float, ...], *ways: tuple[tuple[float, ...], str]) -> None:
        """Press at a place, pull through the others, typing on the way to each."""
        QTest.mouseMove(self.board, self.at(*start))
        QTest.mousePress(self.board, LEFT, pos=self.at(*start))
        for number, (place, typed) in enumerate(ways):
            QTest.mouseMove(self.board, self.at(*place))
            QTest.keyClicks(self.board, typed)
            if typed:
                QTest.keyClick(self.board, Qt.Key.Key_Return)
            if number == 0:
                QTest.mouseRelease(self.board, LEFT, pos=self.at(*place))
        QApplication.processEvents()

    def click(self, *place: float) -> None:
        QTest.mouseMove(self.board, self.at(*place))
        QTest.mouseClick(self.board, LEFT, pos=self.at(*place))
        QApplication.processEvents()

    def section(self, stage: str, words: str) -> QWidget:
        """Open a stage and one of its sections; return what it holds."""
        body = self.desk.stages.body(stage)
        self.desk.stages.open(stage)
        found = next(section for section in body.sections.all if section.head.text() == words)
        if not found.head.isChecked():
            QTest.mouseClick(found.head, LEFT)
        QApplication.processEvents()
        return getattr(found, "place", found)

    def fill(self, field: QWidget, text: str) -> None:
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        QApplication.processEvents()
        self.board.setFocus()

    def choose(self, box: QComboBox, words: str) -> None:
        box.setFocus()
        QTest.keyClick(box, Qt.Key.Key_Home)
        for _ in range(box.findText(words)):
            QTest.keyClick(box, Qt.Key.Key_Down)
        QApplication.processEvents()


def form_lesson(desk: Desk, look: Look) -> None:
    """A kiosk: a block made hollow, a hatch with a sill, a door, planks, a roof, two edges rounded."""
    hand = HandAtDesk(desk)
    hand.key(Qt.Key.Key_B)
    hand.pull((-1000, 300, 0), ((200, 300, 0), "2200 x 1400 x 2000"))
    hand.key(Qt.Key.Key_Escape)
    hand.fill(hand.section("Form", "Hollow").wall, "60")
    hand.key(Qt.Key.Key_W)
    hand.fill(hand.section("Form", "Opening").sill, "80")
    hand.pull((-800, 300, 900), ((300, 300, 1650), "1300 x 800"))
    look("form-1")
    hand.fill(hand.section("Form", "Opening").sill, "0")
    hand.pull((1190, 700, 80), ((1190, 1300, 1700), "700 x 1800"))
    hand.key(Qt.Key.Key_U)
    courses = hand.section("Form", "Courses")
    hand.choose(courses.pattern, "planks")
    hand.click(900, 300, 300)
    hand.click(1190, 500, 1200)
    look("form-2")
    hand.key(Qt.Key.Key_Escape)
    hand.key(Qt.Key.Key_P)
    hand.click(900, 300, 300)
    roof = hand.section("Form", "Roof")
    hand.fill(roof.slope, "12")
    button = next(b for b in roof.buttons if b.text() == "Lean-to roof")
    QTest.mouseClick(button, LEFT)
    QApplication.processEvents()
    desk.session.select(())
    look("form-3")


def photograph_lesson(desk: Desk, look: Look) -> None:
    """The market snapshot: its marks, another eye with the picture carried along, the bare framework, and back."""
    hand = HandAtDesk(desk)
    hand.section("Eye", "Photograph")
    look("photograph-1")
    eye = hand.section("Eye", "Height and turn")
    fields = {field.accessibleName(): field for field, _ in eye._fields}
    hand.fill(fields["Eye height"], "2600")
    look("photograph-2")
    hand.key(Qt.Key.Key_T)
    look("photograph-3")
    hand.key(Qt.Key.Key_N)
