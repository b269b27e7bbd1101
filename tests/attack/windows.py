"""A monkey at real windows, with menus, dialogs, the clipboard and several windows; each run is a process of its own."""

import os
import subprocess
import sys
import tempfile

CODE = """
import random, sys, tempfile, time
from pathlib import Path
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QDialog, QLineEdit, QMenu, QPushButton, QWidget
from isometron.demos.catalogue import DEMOS, demo
from isometron.desk.frame import mishaps
from isometron.desk.frame.application import DeskWindow, application
seed, steps = int(sys.argv[1]), int(sys.argv[2])
dice, app, failed = random.Random(seed), application(), []
mishaps.catch_what_escapes(None, lambda words, trace, painting: failed.append(words))
window = DeskWindow((dice.choice((1000, 1280, 1600)), dice.choice((640, 800, 1000))))
window.put_in(demo(dice.choice(list(DEMOS))), None)
window.show()
folder = Path(tempfile.mkdtemp())
TEXTS = ["1200", "", "-4", "1,200", "abc", "2 body", "9" * 400, "<b>x</b>", "3 ft", "\\ud800", "50 %", "1 : 2", "x = 3"]
KEYS = [getattr(Qt.Key, "Key_" + k) for k in "B R D A J M P C E V F2 F3 F4 F5 F8 F9 Return Escape Tab Space Left Up Delete PageDown".split()]
WITH = [getattr(Qt.Key, "Key_" + k) for k in "Z D T H G A C X V 0 9 L".split()]
def close_dialogs():
    for top in QApplication.topLevelWidgets():
        if isinstance(top, QMenu) and top.isVisible():
            top.close()
        elif isinstance(top, QDialog) and top.isVisible() and top.isModal():
            fields = [f for f in top.findChildren(QLineEdit) if f.isVisible()]
            if fields and dice.random() < 0.5:
                dice.choice(fields).insert(dice.choice(TEXTS))
            buttons = [b for b in top.findChildren(QPushButton) if b.isVisible() and b.isEnabled()]
            if buttons and dice.random() < 0.5:
                dice.choice(buttons).click()
            else:
                top.reject()
closer = QTimer(); closer.timeout.connect(close_dialogs); closer.start(30)
import isometron.desk.cards.ask_path as ask
from PyQt6.QtWidgets import QFileDialog
QFileDialog.getSaveFileName = staticmethod(lambda *a, **k: (str(folder / f"f{dice.randrange(4)}"), ""))
QFileDialog.getOpenFileName = staticmethod(lambda *a, **k: (str(folder / f"f{dice.randrange(4)}.isometron"), ""))
import isometron.desk.frame.printing as printing
printing.ask_printer = lambda *a: None
printing.preview = lambda *a: None
def step():
    windows = [w for w in QApplication.topLevelWidgets() if isinstance(w, DeskWindow) and w.isVisible()]
    if not windows:
        return
    top = dice.choice(windows)
    desk, board = top.desk, top.desk.board
    kind = dice.random()
    spot = QPoint(dice.randrange(board.width()), dice.randrange(board.height()))
    if kind < 0.25:
        QTest.mousePress(board, Qt.MouseButton.LeftButton, pos=spot)
        QTest.mouseMove(board, spot + QPoint(dice.randint(-200, 200), dice.randint(-200, 200)))
        QTest.mouseRelease(board, Qt.MouseButton.LeftButton, pos=spot + QPoint(dice.randint(-200, 200), 30))
    elif kind < 0.4:
        QTest.keyClick(QApplication.focusWidget() or board, dice.choice(KEYS))
    elif kind < 0.5:
        QTest.keyClick(board, dice.choice(WITH), Qt.KeyboardModifier.ControlModifier)
    elif kind < 0.6:
        QTest.keyClicks(QApplication.focusWidget() or board, dice.choice(TEXTS[:9]))
    elif kind < 0.75:
        fields = [f for f in desk.findChildren(QLineEdit) if f.isVisible() and f.isEnabled()]
        if fields:
            field = dice.choice(fields)
            field.setFocus(); field.selectAll(); field.insert(dice.choice(TEXTS))
            QTest.keyClick(field, dice.choice([Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Tab]))
    elif kind < 0.9:
        buttons = [b for b in desk.findChildren(QPushButton) if b.isVisible() and b.isEnabled()]
        if buttons:
            dice.choice(buttons).click()
    elif kind < 0.97:
        actions = [a for a in desk.actions() if a.isEnabled()]
        action = dice.choice(actions)
        if len(windows) < 3 or "window" not in action.text():
            action.trigger()
    else:
        QApplication.clipboard().setText(dice.choice(TEXTS[:9] + ['{"isometron_volumes": []}', '{"isometron_volumes": [{"kind": "box"}]}']))
        desk.session.select(tuple(v.id for v in desk.session.document.volumes if dice.random() < 0.3))
for number in range(steps):
    try:
        step()
        app.processEvents()
    except Exception as error:
        mishaps.escaped(type(error), error, error.__traceback__)
    if failed:
        print("FAILED at step", number, failed[:3], flush=True)
        break
import os
sys.stdout.flush()
os._exit(1 if failed else 0)
"""


def attack(seed, steps, seconds=240):
    """Let the monkey loose once; return words on what failed, empty for nothing."""
    with tempfile.TemporaryDirectory() as home:
        places = dict.fromkeys(("XDG_CONFIG_HOME", "XDG_STATE_HOME", "HOME"), home)
        environment = os.environ | places | {"QT_QPA_PLATFORM": "offscreen"}
        try:
            done = subprocess.run([sys.executable, "-c", CODE, str(seed), str(steps)], env=environment,
                                  capture_output=True, text=True, errors="replace", timeout=seconds)  # fmt: skip
        except subprocess.TimeoutExpired as error:
            return f"no end within {seconds} s: {error.stderr!r}"
    return "" if done.returncode == 0 else f"exit {done.returncode}\n{done.stdout}\n{done.stderr[-3000:]}"
