"""Two programs on one folder: two windows that share their recovery folder, two that save one file, and a reader of it."""

import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from isometron.errors import IsometronError
from tests.attack.kills import SAVES, STEADY


def _window(seed, state):
    environment = os.environ | {
        "XDG_STATE_HOME": str(state), "XDG_CONFIG_HOME": str(state), "QT_QPA_PLATFORM": "offscreen",
    }  # fmt: skip
    return subprocess.Popen([sys.executable, "-c", STEADY, str(seed)], stdout=subprocess.PIPE, env=environment)


def _killed(worker, first):
    worker.send_signal(signal.SIGKILL)
    return [line.decode() for line in first.splitlines() + worker.communicate()[0].splitlines()]


def windows_share_a_folder(seed, state):
    """Kill one of two windows at work, then the other; return words where one's work was lost, or taken while it was open."""
    from isometron.desk.frame.recovery import abandoned_work

    folder = Path(state) / "isometron" / "recovery"
    workers = [_window(seed + k, state) for k in range(2)]
    first = [worker.stdout.readline() for worker in workers]
    time.sleep(2.5 + random.Random(seed).random())
    for worker, begun, name in zip(workers, first, ("first", "second"), strict=True):
        killed = time.time()
        edits = _killed(worker, begun)
        work = abandoned_work(folder)
        titles = [each.document.title for each in work]
        for each in work:
            each.discard()
        if len(work) != 1 or titles[0] not in edits:
            workers[1].kill()
            return f"after the {name} window was killed {len(work)} works are offered, {titles}"
        lost = [float(edit) for edit in edits if float(edit) > float(titles[0])]
        if lost and killed - lost[0] > 2.0:
            workers[1].kill()
            return f"{killed - lost[0]:.1f} s of the {name} window's work were lost beside another one"
    return ""


def savers_share_a_file(seed, folder):
    """Let two programs save one file again and again, kill one of them, and read it all the while; return words when it was not whole."""
    from isometron.demos.catalogue import demo
    from isometron.document.store.files import encode_document, load_document

    path, dice = Path(folder) / "shared.isometron", random.Random(seed)
    savers = []
    for name in ("perch-stool", "ember-lantern"):
        saver = subprocess.Popen(
            [sys.executable, "-c", SAVES, str(path)], stdin=subprocess.PIPE, stdout=subprocess.PIPE
        )
        saver.stdin.write(encode_document(demo(name)))
        saver.stdin.close()
        saver.stdout.readline()
        savers.append(saver)
    titles, end, words = (
        {demo("perch-stool").title, demo("ember-lantern").title},
        time.time() + 1.0 + dice.random(),
        "",
    )
    while not path.exists() and time.time() < end:
        time.sleep(0.01)
    while time.time() < end and not words:
        try:
            if load_document(path).title not in titles:
                words = "a file that two programs save was neither's"
        except IsometronError as error:
            words = f"a file that two programs save was not whole: {error}"
    for saver in savers:
        saver.kill()
        saver.wait()
        saver.stdout.close()
    left = [each.name for each in Path(folder).iterdir() if each != path]
    return words or (f"two savers left {left}" if len(left) > 2 else "")


def attack(seed):
    """Return words on what two programs did to each other."""
    with tempfile.TemporaryDirectory() as home:
        words = windows_share_a_folder(seed, home)
    with tempfile.TemporaryDirectory() as home:
        return words or savers_share_a_file(seed, home)
