"""A factory of real windows, and hands that work in them."""

import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMessageBox

from isometron.desk.frame.application import DeskWindow
from isometron.desk.frame.theme import dress
from isometron.document.fresh import new_document


class Hand:
    """One person at one window: mouse and keys only."""

    def __init__(self, window):
        self.window, self.desk = window, window.desk
        self.board, self.session = self.desk.board, self.desk.session

    def pixel(self, *place):
        """Where a world point is on the board."""
        (u, v) = self.session.document.eye.project([place])[0][0]
        x, y = self.board.view.point_to_screen(float(u), float(v))
        return QPoint(round(x), round(y))

    def mouse(self, kind, at, button=Qt.MouseButton.LeftButton, held=None, modifier=Qt.KeyboardModifier.NoModifier):
        spot = QPointF(at)
        buttons = (
            held
            if held is not None
            else (button if kind != QEvent.Type.MouseButtonRelease else Qt.MouseButton.NoButton)
        )
        event = QMouseEvent(kind, spot, self.board.mapToGlobal(spot), button, buttons, modifier)
        QApplication.sendEvent(self.board, event)

    def hover(self, *place):
        self.mouse(QEvent.Type.MouseMove, self.pixel(*place), Qt.MouseButton.NoButton, Qt.MouseButton.NoButton)

    def press(self, *place, modifier=Qt.KeyboardModifier.NoModifier):
        self.hover(*place)
        self.mouse(QEvent.Type.MouseButtonPress, self.pixel(*place), modifier=modifier)

    def drag(self, *place):
        self.mouse(QEvent.Type.MouseMove, self.pixel(*place), Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton)

    def release(self, *place):
        self.drag(*place)
        self.mouse(QEvent.Type.MouseButtonRelease, self.pixel(*place))

    def click(self, *place):
        self.press(*place)
        self.mouse(QEvent.Type.MouseButtonRelease, self.pixel(*place))

    def keys(self, text):
        QTest.keyClicks(QApplication.focusWidget() or self.board, text)

    def key(self, key, modifier=Qt.KeyboardModifier.NoModifier):
        QTest.keyClick(QApplication.focusWidget() or self.board, key, modifier)
        QApplication.processEvents()  # an editor in a table commits from the event queue

    def type_into(self, field, text, end=Qt.Key.Key_Return):
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, end)

    def rest(self, seconds=30.0):
        """Wait for what runs beside the window."""
        for _ in range(int(seconds * 50)):
            if not self.session.beside.running:
                return
            QTest.qWait(20)

    def sizes(self):
        return [volume.size for volume in self.session.document.volumes]

    def words(self):
        return self.desk.strip._words.text()


@pytest.fixture
def home(tmp_path, monkeypatch):
    for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME"):
        monkeypatch.setenv(name, str(tmp_path / name))
    return tmp_path


@pytest.fixture
def desk(qapp, qtbot):
    """Make windows: desk(document) gives a Hand. Fails on widgets left behind."""
    dress(qapp)
    before = set(QApplication.topLevelWidgets())
    windows = []

    def make(document=None, size=(1280, 800), path=None):
        window = DeskWindow(size)
        window.put_in(document or new_document(), path)
        with qtbot.waitActive(window, timeout=5000):
            window.show()
            window.activateWindow()
        window.desk.board.setFocus()
        windows.append(window)
        return Hand(window)

    yield make
    for window in windows:
        window.desk.stages.body("Hand on").finish()
        window.desk.stages.body("Check")._timer.stop()
        window.desk.paperwork.may_leave = lambda: True  # nobody is there to answer
        window.close()
        window.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    left = [w for w in set(QApplication.topLevelWidgets()) - before if w.isVisible()]
    assert left == []


@pytest.fixture
def answer():
    """Press a button of the next question by its words."""

    def arrange(words):
        def press():
            for widget in QApplication.topLevelWidgets():
                if isinstance(widget, QMessageBox) and widget.isVisible():
                    button = next(b for b in widget.buttons() if b.text() == words)
                    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
                    return
            QTimer.singleShot(20, press)

        QTimer.singleShot(0, press)

    return arrange
