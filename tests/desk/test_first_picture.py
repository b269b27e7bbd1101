"""The first picture of a window: kept of that very document as it looked, shipped for the demos, and never another one's."""

import json
import subprocess
import sys

import numpy as np
import pytest
from PyQt6.QtCore import QSize
from PyQt6.QtGui import QColor, QImage
from PyQt6.QtTest import QTest

from isometron.demos.catalogue import DEMOS, demo
from isometron.desk.frame.application import DeskWindow, _keep_first
from isometron.desk.frame.first_picture import FirstPicture, look_now, shipped
from isometron.document.store.files import save_document

SIZE = QSize(640, 400)


@pytest.fixture
def place(home, monkeypatch, tmp_path):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    for name in ("LANGUAGE", "LC_ALL", "LC_MESSAGES", "LANG"):
        monkeypatch.delenv(name, raising=False)
    return tmp_path


def picture(tone):
    made = QImage(SIZE, QImage.Format.Format_RGB32)
    made.fill(QColor(tone))
    return made


def settings(place, **said):
    file = place / "XDG_CONFIG_HOME" / "isometron" / "settings.json"
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_text(json.dumps(said))


def test_a_picture_is_found_again_only_for_the_same_document_size_and_look(qapp, place):
    file = place / "a.isometron"
    file.write_text("one")
    FirstPicture("", file).keep(picture("#123456"), SIZE, 1.0)
    found = FirstPicture("", file).read(SIZE, 1.0)
    assert found is not None and found.pixelColor(5, 5).name() == "#123456"
    assert FirstPicture("", file).read(QSize(641, 400), 1.0) is None
    assert FirstPicture("", file).read(SIZE, 2.0) is None
    for look in ({"night": True}, {"text_percent": 130}, {"folded": ["left"]}):
        settings(place, **look)
        assert FirstPicture("", file).read(SIZE, 1.0) is None
    settings(place, recent=["other.isometron"])
    assert FirstPicture("", file).read(SIZE, 1.0) is not None
    file.write_text("two")
    assert FirstPicture("", file).read(SIZE, 1.0) is None
    assert FirstPicture("empty", None).read(SIZE, 1.0) is None


def test_another_language_has_pictures_of_its_own(qapp, place, monkeypatch):
    FirstPicture("empty", None).keep(picture("#222222"), SIZE, 1.0)
    monkeypatch.setenv("LANG", "fi_FI.UTF-8")
    assert FirstPicture("empty", None).read(SIZE, 1.0) is None
    monkeypatch.setenv("LANG", "en_GB.UTF-8")
    assert FirstPicture("empty", None).read(SIZE, 1.0) is not None


def test_few_are_kept_and_what_cannot_be_read_or_kept_is_no_trouble(qapp, place, monkeypatch):
    for number in range(20):
        FirstPicture(f"demo {number}", None).keep(picture("#333333"), SIZE, 1.0)
    kept = list((place / "cache" / "isometron" / "first").glob("*.png"))
    assert len(kept) == 16
    for file in kept:
        file.write_bytes(b"no picture")
    assert all(FirstPicture(f"demo {number}", None).read(SIZE, 1.0) is None for number in range(20))
    assert FirstPicture("", place / "gone.isometron").read(SIZE, 1.0) is None
    settings(place, text_percent="x")
    assert look_now()[1] == 100
    monkeypatch.setenv("XDG_CACHE_HOME", "/proc/none")
    FirstPicture("empty", None).keep(picture("#444444"), SIZE, 1.0)


def pixels(image):
    image = image.convertToFormat(QImage.Format.Format_RGB32)
    data = image.constBits().asarray(image.sizeInBytes())
    return np.frombuffer(data, np.uint8).reshape(image.height(), -1, 4)[:, : image.width(), :3].astype(int)


@pytest.mark.parametrize("name", DEMOS)
def test_what_ships_for_a_demo_is_what_its_window_shows(desk, home, name):
    hand = desk(demo(name))
    hand.desk.begin("")
    QTest.qWait(400)
    now, kept = pixels(hand.window.grab().toImage()), pixels(QImage(str(shipped(name))))
    assert now.shape == kept.shape
    off = np.abs(now - kept).max(axis=2) > 24
    assert off.mean() < 0.004, "make it again: docs/make_screenshots.py first_pictures"


def test_the_bare_window_shows_it_before_there_is_a_desk_and_keeps_it_again(qapp, place):
    window = DeskWindow((1280, 800))
    window.first = FirstPicture("demo tea-cart", None)
    window.show()
    qapp.processEvents()
    shown = pixels(window.grab().toImage())
    assert window.desk is None and np.abs(shown - pixels(QImage(str(shipped("tea-cart"))))).max() == 0
    desk = window.put_in(demo("tea-cart"), None)
    desk.begin("")
    QTest.qWait(300)
    _keep_first(window, desk)
    again = FirstPicture("demo tea-cart", None).read(window.size(), 1.0)
    assert np.abs(pixels(again) - pixels(window.grab().toImage())).max() == 0
    # What somebody has touched is not kept.
    window.first = FirstPicture("demo other", None)
    desk.session.select(("body",))
    _keep_first(window, desk)
    assert FirstPicture("demo other", None).read(window.size(), 1.0) is None
    desk.paperwork.may_leave = lambda: True
    window.close()


def test_the_first_picture_waits_for_no_numbers_and_no_widgets_of_the_desk(place):
    file = place / "cart.isometron"
    save_document(demo("tea-cart"), file)
    script = (
        "import sys, os\n"
        "from isometron.cli.commands import Windows, run\n"
        "def show(load, path):\n"
        "    from isometron.desk.frame import application as a\n"
        "    class Seen(a.DeskWindow):\n"
        "        def paintEvent(self, event):\n"
        "            super().paintEvent(event)\n"
        "            print(sorted(n for n in sys.modules if n in ('numpy', 'msgspec', 'scipy', 'isometron.desk.frame.window', 'isometron.solve')))\n"
        "            sys.stdout.flush(); os._exit(0)\n"
        "    a.DeskWindow = Seen\n"
        "    return a.show(load, path)\n"
        f"run(['open', {str(file)!r}], Windows(show, None))\n"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, timeout=60, check=True)
    assert done.stdout.strip() == "[]"
