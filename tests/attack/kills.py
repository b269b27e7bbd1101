"""Kills at random moments: of windows under steady work, and of saves. Both end when who asked for them is gone."""

import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

STEADY = """
import os, random, sys, time
from PyQt6.QtCore import QTimer
from isometron.demos.catalogue import demo
from isometron.desk.frame.application import DeskWindow, application
from isometron.document.edits import change_document
app = application()
window = DeskWindow()
desk = window.put_in(demo("perch-stool"), None)
window.show()
dice, asked_by = random.Random(int(sys.argv[1])), os.getppid()
def edit():
    if os.getppid() != asked_by:
        return app.quit()
    now = f"{time.time()}"
    desk.session.attempt(change_document, "change title", title=now)
    print(now, flush=True)
    QTimer.singleShot(int(1000 * dice.uniform(0.1, 3.0)), edit)
    end = time.time() + dice.choice((0.0, 0.0, 0.3))  # now and then the window is busy
    while time.time() < end:
        sum(range(1000))
QTimer.singleShot(0, edit)
app.exec()
"""
SAVES = (
    "import os, sys\nasked_by = os.getppid()\nfrom isometron.document.store.disk import write_whole\ndata = sys.stdin.buffer.read()\n"
    "print('ready', flush=True)\nwhile os.getppid() == asked_by:\n    write_whole(data, sys.argv[1])\n"
)


def lost_seconds(seed, state):
    """Kill a window under steady edits 2.5 s or more after the first; return how old (s) the oldest lost edit was."""
    from isometron.desk.frame.recovery import abandoned_work

    environment = os.environ | {"XDG_STATE_HOME": str(state), "QT_QPA_PLATFORM": "offscreen"}
    worker = subprocess.Popen([sys.executable, "-c", STEADY, str(seed)], stdout=subprocess.PIPE, env=environment)
    first = worker.stdout.readline()
    time.sleep(2.5 + random.Random(seed).random() * 2.0)
    worker.send_signal(signal.SIGKILL)
    killed = time.time()
    edits = [float(line) for line in first.splitlines() + worker.communicate()[0].splitlines()]
    work = abandoned_work(Path(state) / "isometron" / "recovery")
    if not work:
        return float("inf")
    lost = [edit for edit in edits if edit > float(work[0].document.title)]
    work[0].discard()
    return killed - lost[0] if lost else 0.0


def save_killed(path, data, dice):
    """Kill a process that saves again and again, at a random moment."""
    saver = subprocess.Popen([sys.executable, "-c", SAVES, str(path)], stdin=subprocess.PIPE, stdout=subprocess.PIPE)
    saver.stdin.write(data)
    saver.stdin.close()
    saver.stdout.readline()
    time.sleep(dice.random() * 0.02)
    saver.send_signal(signal.SIGKILL)
    saver.wait()
    saver.stdout.close()


def attack(seed):
    """Kill one window and one save; return words on what was lost."""
    from isometron.demos.catalogue import demo
    from isometron.document.store.files import load_document, save_document

    with tempfile.TemporaryDirectory() as home:
        lost = lost_seconds(seed, home)
        if lost > 2.0:
            return f"{lost:.1f} s of work were lost"
        path = Path(home) / "x.isometron"
        save_document(demo("tea-cart"), path)
        save_killed(path, path.read_bytes(), random.Random(seed))
        if load_document(path).title != "Tea cart":
            return "a killed save left another file"
        save_document(demo("tea-cart"), path)
        left = [p.name for p in Path(home).iterdir() if p.suffix == ".part"]
        return f"left behind: {left}" if left else ""
