"""Odd starts: settings, recent lists, recovery files and notes of every bad kind, and names that nobody expects."""

import os
import random
import subprocess
import sys
import tempfile
from pathlib import Path

CODE = (
    "import sys\nfrom PyQt6.QtCore import QTimer\nfrom isometron.desk.frame import application\n"
    "real = application.DeskWindow.put_in\n"
    "def put_in(self, *a):\n"
    "    desk = real(self, *a)\n"
    "    def look():\n"
    "        print('WORDS', ascii(desk.strip._words.text()))\n"
    "        print('TITLE', ascii(desk.session.document.title), flush=True)\n"
    "        desk.paperwork.may_leave = lambda: True\n        self.close()\n"
    "    QTimer.singleShot(150, look)\n"
    "    return desk\n"
    "application.DeskWindow.put_in = put_in\n"
    "from isometron.__main__ import main\nsys.exit(main())\n"
)
BAD = [b"", b"{", b'{"recent": ["a', b"\xff\xfe{}", b"[" * 100_000, b'{"text_percent": "huge"}', b"null", b"7",
       b'{"recent": ["' + b"x" * 300 + b'", "/dev/zero", "a\\u0000b"]}', b'{"path": 7}', b'{"version": 99}']  # fmt: skip
KINDS = ("bytes", "pipe", "device", "nowhere", "folder")


def started(*words, seconds=90.0, **environment):
    """Start the real program, let it stand for a moment, and close it; returns its exit code and what it printed."""
    done = subprocess.run(
        [sys.executable, "-c", CODE, *map(os.fsencode, words)], capture_output=True, timeout=seconds,
        env=os.environ | {"QT_QPA_PLATFORM": "offscreen"} | environment,
    )  # fmt: skip
    return done.returncode, done.stdout.decode(), done.stderr.decode(errors="replace")


def spoil(path, kind, data):
    """Put something in a file's place that is no such file."""
    path.parent.mkdir(parents=True, exist_ok=True)
    if kind == "pipe":
        os.mkfifo(path)
    elif kind == "device":
        path.symlink_to("/dev/zero")
    elif kind == "nowhere":
        path.symlink_to("/no/such/place")
    elif kind == "folder":
        path.mkdir()
    else:
        path.write_bytes(data)


def attack(seed):
    """Start once with spoiled files; return words on what went wrong."""
    dice = random.Random(seed)
    with tempfile.TemporaryDirectory() as home:
        config, state = Path(home) / "config", Path(home) / "state"
        spoil(config / "isometron" / "settings.json", dice.choice(KINDS), dice.choice(BAD))
        for ending in (".isometron", ".note", ".lock"):
            file = state / "isometron" / "recovery" / f"{seed:032x}{ending}"
            spoil(file, dice.choice(KINDS), dice.choice(BAD))
        words = [os.fsdecode(dice.choice([b"caf\xe9.isometron", b"none", b"x" * 300]))] if dice.random() < 0.5 else []
        try:
            code, out, err = started(*words, XDG_CONFIG_HOME=str(config), XDG_STATE_HOME=str(state))
        except subprocess.TimeoutExpired:
            return "it did not start"
    return "" if code == 0 and "Traceback" not in err and "WORDS" in out else f"exit {code}\n{out}\n{err[-2000:]}"
