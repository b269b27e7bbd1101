"""One test in a real window on a real X server: started, looked at, worked in, closed."""

import os
import shutil
import subprocess
import sys

import pytest

WORK = """
import sys
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtTest import QTest
from isometron.desk.frame.application import DeskWindow, application
from isometron.demos.catalogue import demo

app = application()
assert app.platformName() == "xcb", app.platformName()
window = DeskWindow((1200, 760))
desk = window.put_in(demo("tea-cart"), None)
window.show()
assert QTest.qWaitForWindowExposed(window)
window.activateWindow()
desk.board.setFocus()
QTest.qWait(100)
(u, v) = desk.session.document.eye.project([[1000, 0, 1800]])[0][0]
x, y = desk.board.view.point_to_screen(float(u), float(v))
from PyQt6.QtCore import QPoint
QTest.mouseMove(desk.board, QPoint(round(x), round(y)))
QTest.mouseClick(desk.board, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(y)))
assert desk.session.selection == ("canopy",), desk.session.selection
QTest.keyClick(desk.board, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
assert len(desk.session.document.volumes) == 13
desk.session.undo()
QTest.qWait(100)
screen = app.primaryScreen().grabWindow(0).toImage()
corner = desk.board.mapToGlobal(QPoint(*(round(c) for c in desk.board.view.point_to_screen(-180.0, 90.0))))
print(screen.pixelColor(corner).name())
desk.paperwork.may_leave = lambda: True
window.close()
"""


@pytest.mark.screen
def test_the_program_on_a_real_screen(tmp_path):
    xvfb = shutil.which("Xvfb")
    assert xvfb, "Xvfb is missing: ./run test installs it where it may; else: sudo apt-get install xvfb"
    read, write = os.pipe()
    server = subprocess.Popen(
        [xvfb, "-displayfd", str(write), "-screen", "0", "1280x800x24", "-nolisten", "tcp"],
        pass_fds=[write], stderr=subprocess.DEVNULL,
    )  # fmt: skip
    try:
        os.close(write)
        with os.fdopen(read) as answer:
            display = f":{answer.readline().strip()}"
        environment = os.environ | {"DISPLAY": display, "QT_QPA_PLATFORM": "xcb"}
        done = subprocess.run(
            [sys.executable, "-c", WORK], env=environment, capture_output=True, text=True, timeout=60
        )
        assert done.returncode == 0, done.stderr
        assert done.stdout.strip() == "#fbf8f1", "the sheet is really on the screen"
    finally:
        server.terminate()
        server.wait(timeout=10)
