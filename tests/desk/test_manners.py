"""Autosave and recovery, recent files, several windows, clipboard, printing, the key card, the invitation."""

import configparser
import json
import os
import subprocess
import sys
from pathlib import Path

import msgspec
import pypdfium2
import pytest
from defusedxml.ElementTree import parse
from PyQt6.QtCore import QEvent, QMimeData, QPointF, QSettings, Qt, QTimer, QUrl
from PyQt6.QtGui import QDropEvent, QImage, QInputDevice, QPointingDevice, QTabletEvent
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QCheckBox, QPushButton

from isometron.demos.catalogue import demo
from isometron.desk.cards.key_card import KeyCard, card_rows
from isometron.desk.controls.fields import ValueField
from isometron.desk.deeds.register import TOPICS
from isometron.desk.frame.application import _WINDOWS, DeskWindow
from isometron.desk.frame.printing import paint_page, printer_for
from isometron.desk.frame.recovery import abandoned_work
from isometron.desk.frame.settings import Settings, fresh_document, load_settings, recovery_folder, save_settings
from isometron.desk.frame.theme import Tone, set_text_size
from isometron.document.edits import delete_volumes
from isometron.document.store.files import save_document
from isometron.solve.drawing import solve
from isometron.surfaces.export import export_bytes
from isometron.volumes.box import box_corners

CONTROL = Qt.KeyboardModifier.ControlModifier

WORKER = """
import os, sys, time
from PyQt6.QtTest import QTest
from isometron.desk.frame.application import DeskWindow, application
from isometron.demos.catalogue import demo
from pathlib import Path
app = application()
window = DeskWindow()
desk = window.put_in(demo("tea-cart"), None)
window.show()
desk.session.select(("canopy",))
desk.do("delete")
QTest.qWait(1200)
print("ready", flush=True)
QTest.qWait(60000)
"""


def crash():
    """A real program with unsaved work, killed outright."""
    worker = subprocess.Popen([sys.executable, "-c", WORKER], stdout=subprocess.PIPE, env=dict(os.environ))
    assert worker.stdout.readline() == b"ready\n"
    assert abandoned_work(recovery_folder()) == [], "while it lives its work is nobody else's"
    worker.kill()
    worker.wait()
    worker.stdout.close()


def press(widget, words):
    button = next(b for b in widget.findChildren(QPushButton) if b.text() == words)
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)


def test_work_comes_back_after_a_kill(home, desk):
    crash()
    hand = desk()
    hand.desk.offer_recovery()
    assert hand.desk.banner.isVisible()
    press(hand.desk.banner, "Bring it back")
    assert hand.session.document.title == "Tea cart"
    assert hand.session.document.index_of("canopy") is None
    assert hand.session.changed, "recovered work is unsaved work"
    assert not hand.desk.banner.isVisible()
    assert len(list(recovery_folder().glob("*.isometron"))) == 1, "and is kept again at once"
    hand.desk.recovery.finish()
    assert list(recovery_folder().iterdir()) == []


def test_work_is_not_thrown_away_before_its_new_copy_is_written(home, desk, monkeypatch):
    crash()
    hand = desk()
    hand.desk.offer_recovery()
    monkeypatch.setattr(hand.desk.recovery, "_file", home / "no such folder" / "x.isometron")
    press(hand.desk.banner, "Bring it back")
    assert "could not be backed up" in hand.words()
    assert len(abandoned_work(recovery_folder())) == 1


def test_dropped_work_is_gone_and_a_clean_desk_offers_nothing(home, desk):
    crash()
    hand = desk()
    hand.desk.offer_recovery()
    press(hand.desk.banner, "Drop it")
    assert abandoned_work(recovery_folder()) == []
    hand.desk.offer_recovery()
    assert not hand.desk.banner.isVisible()


def test_the_copy_follows_and_goes_when_saved(home, desk, tmp_path):
    hand = desk(demo("tea-cart"))
    hand.session.select(("canopy",))
    hand.desk.do("delete")
    hand.desk.recovery.write()
    assert len(list(recovery_folder().glob("*.isometron"))) == 1
    hand.desk.paperwork._save_to(tmp_path / "cart.isometron")
    hand.desk.recovery.write()
    assert list(recovery_folder().iterdir()) == []


def test_recent_files_and_defaults_are_remembered(home, desk, tmp_path):
    hand = desk()
    for name in ("one", "two", "one"):
        path = tmp_path / f"{name}.isometron"
        save_document(demo("perch-stool"), path)
        hand.desk.paperwork.open_path(path)
    assert [a.text() for a in hand.desk.actions_by_deed._recent_menu.actions()] == ["one.isometron", "two.isometron"]
    save_settings(Settings(unit="in", paper="tabloid"))
    assert (fresh_document().unit, fresh_document().sheet.width) == ("in", 431.8)
    (home / "XDG_CONFIG_HOME" / "isometron" / "settings.json").write_text("{broken")
    assert load_settings() == Settings()


def test_a_file_dropped_on_the_window_opens(home, desk, tmp_path):
    hand = desk()
    path = tmp_path / "stool.isometron"
    save_document(demo("perch-stool"), path)
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    drop = QDropEvent(
        QPointF(400, 300), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    hand.desk.dropEvent(drop)
    assert hand.session.document.title == "Perch stool"


def test_copy_and_paste_between_windows(home, desk, qtbot):
    first = desk(demo("tea-cart"))
    first.session.select(("body", "canopy"))
    first.key(Qt.Key.Key_C, CONTROL)
    second = desk(demo("perch-stool"))
    with qtbot.waitActive(second.window, timeout=5000):
        second.window.activateWindow()
    second.board.setFocus()
    second.key(Qt.Key.Key_V, CONTROL)
    assert [v.name for v in second.session.document.volumes[-2:]] == ["Body", "Canopy"]
    second.key(Qt.Key.Key_V, CONTROL)
    assert [v.name for v in second.session.document.volumes[-2:]] == ["Body 2", "Canopy 2"]
    second.key(Qt.Key.Key_X, CONTROL)
    assert second.session.document.volumes[-1].name == "Canopy"
    QApplication.clipboard().setText("words")
    second.key(Qt.Key.Key_V, CONTROL)
    assert "no volume and no picture on the clipboard" in second.words()


def test_what_is_copied_is_text_and_a_drawing_at_once(home, desk):
    hand = desk(demo("tea-cart"))
    hand.session.select(("body",))
    hand.key(Qt.Key.Key_C, CONTROL)
    data = QApplication.clipboard().mimeData()
    assert {"image/svg+xml", "image/png"} <= set(data.formats()) and data.hasText()
    assert [v["name"] for v in json.loads(data.text())["isometron_volumes"]] == ["Body"]
    svg = bytes(data.data("image/svg+xml")).decode()
    assert svg.startswith("<?xml") and svg.count("<path") > 0
    picture = QImage.fromData(data.data("image/png"))
    wide, high = (
        round(mm * 150.0 / 25.4) for mm in (hand.session.document.sheet.width, hand.session.document.sheet.height)
    )
    assert (picture.width(), picture.height()) == (wide, high)
    # It is the volume that was copied, and not what stood beside it.
    alone = export_bytes(solve(msgspec.structs.replace(hand.session.document, volumes=(hand.session.document.volume("body"),), planes=())), Path("x.svg"), construction=False)  # fmt: skip
    assert svg.encode() == alone
    hand.session.select(())
    hand.key(Qt.Key.Key_C, CONTROL)
    data = QApplication.clipboard().mimeData()
    assert not data.hasText() and bytes(data.data("image/svg+xml")) == export_bytes(hand.session.drawing, Path("x.svg"), construction=False)  # fmt: skip


def test_ctrl_y_brings_again_what_ctrl_z_took_back_and_ctrl_w_closes(home, desk, monkeypatch):
    hand = desk(demo("tea-cart"))
    hand.session.select(("body",))
    hand.key(Qt.Key.Key_Delete)
    without = hand.session.document
    hand.key(Qt.Key.Key_Z, CONTROL)
    assert hand.session.document == demo("tea-cart")
    hand.key(Qt.Key.Key_Y, CONTROL)
    assert hand.session.document == without
    monkeypatch.setattr(hand.desk.paperwork, "may_leave", lambda: True)
    hand.key(Qt.Key.Key_W, CONTROL)
    assert not hand.window.isVisible()


def test_a_window_stands_where_the_last_one_stood(home, desk, monkeypatch):
    QSettings.setPath(QSettings.Format.IniFormat, QSettings.Scope.UserScope, str(home))
    first = desk(demo("tea-cart"))
    first.window.take_place()
    first.window.setGeometry(0, 40, 1000, 701)
    monkeypatch.setattr(first.desk.paperwork, "may_leave", lambda: False)
    first.window.close()
    assert not list(home.rglob("window.ini")), "it is still there"
    monkeypatch.setattr(first.desk.paperwork, "may_leave", lambda: True)
    first.window.close()
    second = DeskWindow()
    second.take_place()
    assert (second.width(), second.height()) == (1000, 701)
    # What cannot be read is no reason not to open.
    (kept,) = home.rglob("window.ini")
    kept.write_text("[General]\nplace=nonsense\n")
    third = DeskWindow()
    third.take_place()
    assert (third.width(), third.height()) == (1280, 800)


def test_another_window_has_a_document_of_its_own(home, desk):
    hand = desk(demo("tea-cart"))
    other = hand.window.another()
    assert other in _WINDOWS
    assert other.desk.session.document.volumes == ()
    other.close()
    assert other not in _WINDOWS
    assert len(hand.session.document.volumes) == 12
    other.deleteLater()


def test_printing_is_true_to_scale(desk, tmp_path):
    drawing = solve(demo("tea-cart"))
    printer = printer_for(drawing)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "page.pdf"))
    paint_page(drawing, printer)
    document = pypdfium2.PdfDocument(tmp_path / "page.pdf")
    width, height = document[0].get_size()
    assert (width, height) == pytest.approx((420 * 72 / 25.4, 297 * 72 / 25.4), abs=0.6)
    picture = document[0].render(scale=6 * 25.4 / 72).to_numpy()[..., :3].min(axis=2)
    rows = picture[round((297 - 6.5) * 6) : round((297 - 5.5) * 6)]
    dark = [x for x, value in enumerate(rows.min(axis=0)) if value < 160]
    run = [x for k, x in enumerate(dark) if x - dark[0] == k]
    assert len(run) / 6 == pytest.approx(100.0, abs=0.7)
    document.close()


def test_the_key_card_tells_keys_that_work(home, desk):
    hand = desk(demo("tea-cart"))
    shown = []

    def look():
        card = next(w for w in QApplication.topLevelWidgets() if isinstance(w, KeyCard) and w.isVisible())
        shown.append(card)
        card.reject()

    QTimer.singleShot(50, look)
    hand.key(Qt.Key.Key_F1, Qt.KeyboardModifier.ShiftModifier)
    assert shown
    told = {key for topic in TOPICS for key, _ in card_rows(topic)}
    real = {action.shortcut().toString() for action in hand.desk.actions_by_deed} - {""}
    quiet = {"Ctrl+Shift+S", "Ctrl+Shift+P", "Ctrl+Q"}
    assert told >= real - quiet and len(told - real) == sum(len(topic.hints) for topic in TOPICS)


def test_the_invitation_is_there_and_out_of_the_way(home, desk):
    hand = desk()
    card = hand.desk.invitation
    assert card.isVisible()
    hand.key(Qt.Key.Key_B)
    assert not card.isVisible()
    hand.key(Qt.Key.Key_Escape)
    assert card.isVisible()
    press(card, "the tea cart")
    assert hand.session.document.title == "Tea cart"
    assert not card.isVisible()


def test_a_box_is_drawn_by_keys_alone(home, desk):
    hand = desk()
    hand.board.setFocus()
    # The pencil begins on the start cross: beside the figures a block takes five keys.
    hand.key(Qt.Key.Key_B)
    hand.key(Qt.Key.Key_Space)
    for typed in ("1800", "990", "720"):
        hand.key(Qt.Key.Key_Right)
        hand.keys(typed)
        hand.key(Qt.Key.Key_Return)
    (box,) = hand.session.document.volumes
    assert sorted(box.size[:2]) == [990.0, 1800.0] and box.size[2] == 720.0
    assert min(abs(box_corners([box])[0][0]).sum(axis=1)) < 1e-6, "it begins where positions are counted from"
    hand.key(Qt.Key.Key_P)
    hand.session.select(())
    while hand.session.selection == () and hand.board.pencil.at[0] > 1:
        hand.key(Qt.Key.Key_Left)
        hand.key(Qt.Key.Key_Space)
    assert hand.session.selection == (box.id,)


def test_a_round_is_drawn_by_keys_alone(home, desk):
    hand = desk()
    hand.board.setFocus()
    keys = [Qt.Key.Key_R, Qt.Key.Key_Space, Qt.Key.Key_Right, "600", Qt.Key.Key_Up, "250"]
    for key in keys:
        if isinstance(key, str):
            hand.keys(key)
            hand.key(Qt.Key.Key_Return)
        else:
            hand.key(key)
    (wheel,) = hand.session.document.volumes
    assert sorted(wheel.size) == [250.0, 600.0, 600.0]


def test_order_in_the_ledger(home, desk):
    hand = desk(demo("tea-cart"))
    hand.session.select(("body", "counter"))
    hand.key(Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    assert [v.id for v in hand.session.document.volumes[:4]] == ["whole", "canopy", "body", "counter"]
    for _ in range(4):
        hand.key(Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    assert [v.id for v in hand.session.document.volumes[:3]] == ["body", "counter", "whole"]
    assert hand.session.selection == ("body", "counter")


def tablet(hand, kind, pointer, at):
    device = QPointingDevice(
        "pen", 7, QInputDevice.DeviceType.Stylus, pointer, QInputDevice.Capability.Position, 1, 2
    )
    spot = QPointF(at)
    button = Qt.MouseButton.LeftButton
    event = QTabletEvent(
        kind,
        device,
        spot,
        hand.board.mapToGlobal(spot),
        0.5,
        0,
        0,
        0,
        0,
        0,
        Qt.KeyboardModifier.NoModifier,
        button,
        button,
    )
    QApplication.sendEvent(hand.board, event)
    return event


def test_the_eraser_end_steps_back(home, desk):
    hand = desk()
    hand.key(Qt.Key.Key_B)
    hand.press(0, 0, 0)
    hand.release(500, 0, 0)
    assert hand.words().startswith("Second pull")
    eraser, pen = QPointingDevice.PointerType.Eraser, QPointingDevice.PointerType.Pen
    tablet(hand, QEvent.Type.TabletPress, eraser, hand.pixel(0, 0, 0))
    assert hand.words().startswith("First pull")
    event = tablet(hand, QEvent.Type.TabletPress, pen, hand.pixel(0, 0, 0))
    assert not event.isAccepted(), "the pen's own end goes on as the mouse"


def luminance(colour):
    parts = [int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


@pytest.mark.parametrize(
    ("ink", "ground"),
    [
        ("TEXT", "PANEL"), ("TEXT", "PANEL_LOW"), ("TEXT", "FIELD"), ("QUIET", "PANEL"), ("QUIET", "PANEL_LOW"),
        ("CAUTION", "PANEL_LOW"), ("CAUTION", "PANEL"), ("ACCENT_TEXT", "SHEET"), ("TABLE_TEXT", "TABLE"),
    ],
)  # fmt: skip
def test_text_stands_out_from_its_ground(ink, ground):
    one, other = sorted((luminance(getattr(Tone, ink)), luminance(getattr(Tone, ground))))
    assert (other + 0.05) / (one + 0.05) >= 4.5


def test_desktop_files_are_well_formed():
    share = Path(__file__).parents[2] / "share"
    for name in ("org.isometron.Isometron.xml", "org.isometron.Isometron.metainfo.xml"):
        parse(share / name)
    entry = configparser.ConfigParser(interpolation=None)
    entry.read(share / "org.isometron.Isometron.desktop")
    assert entry["Desktop Entry"]["Exec"] == "isometron open %f"
    assert 'glob pattern="*.isometron"' in (share / "org.isometron.Isometron.xml").read_text()


@pytest.mark.parametrize("percent", [100, 130])
def test_no_text_is_clipped_at_any_text_size(home, desk, percent):
    save_settings(Settings(text_percent=percent))
    hand = desk(demo("tea-cart"), (1280, 800) if percent == 100 else (1440, 900))
    try:
        hand.session.select(("body",))
        for stage in ("Eye", "Block", "Rounds", "Check", "Hand on"):
            hand.desk.stages.open(stage)
            QApplication.processEvents()
            for widget in hand.window.findChildren(QPushButton) + hand.window.findChildren(QCheckBox):
                if widget.isVisible() and widget.text():
                    assert widget.fontMetrics().horizontalAdvance(widget.text()) <= widget.width(), widget.text()
                    assert widget.fontMetrics().height() <= widget.height(), widget.text()
            for field in hand.window.findChildren(ValueField):
                if field.isVisible():
                    assert field.fontMetrics().horizontalAdvance(field.text()) + 12 <= field.width(), field.text()
    finally:
        set_text_size(QApplication.instance(), 100)


def test_a_new_text_size_lays_the_open_window_out_anew_and_keeps_the_work(home, desk):
    hand = desk(demo("tea-cart"), (1440, 900))
    try:
        hand.session.select(("body",))
        hand.session.attempt(delete_volumes, ("body",))
        narrow, session = hand.desk.stages.width(), hand.session
        hand.desk.set_text(130)
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        QApplication.processEvents()
        fresh = hand.window.desk
        assert fresh.stages.width() > narrow and fresh.session is session
        assert load_settings().text_percent == 130
        session.undo()
        assert session.document.index_of("body") is not None
    finally:
        set_text_size(QApplication.instance(), 100)
