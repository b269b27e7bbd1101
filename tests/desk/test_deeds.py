"""Deeds, tools, stages and overlays come from registers: one value each, from which all else is made."""

from dataclasses import replace

import pytest
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtGui import QContextMenuEvent, QKeySequence
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMenu, QPushButton

from isometron.demos.catalogue import demo
from isometron.desk.board.overlays.register import OVERLAYS
from isometron.desk.deeds.register import DEEDS, TOPICS
from isometron.desk.deeds.tools import TOOLS
from isometron.desk.stages.register import STAGES
from isometron.document.eyes.keeping import keep_eye
from isometron.document.pictures.marks import LineMark
from isometron.document.pictures.picture_edits import lay_picture
from isometron.document.pictures.sheet_picture import SheetPicture


def test_no_two_deeds_share_a_name_or_a_key(qapp):
    assert len(DEEDS) == sum(len(topic.deeds) for topic in TOPICS)
    keys = [QKeySequence(key).toString() for deed in DEEDS.values() for key in deed.keys]
    assert len(keys) == len(set(keys)) and "" not in keys
    kept_free = {"F7", "F12"}
    assert not kept_free & set(keys), "for the stages that come next"
    assert {stage.name: stage.key for stage in STAGES} == {
        "Eye": "F2", "Block": "F3", "Divide": "F4", "Rounds": "F5", "Form": "F6", "Check": "F8", "Hand on": "F9",
    }  # fmt: skip


WITH_PICTURE = {"hide_picture", "carry_picture", "mark_kind", "next_eye", "last_eye"}


def with_a_picture(document):
    """A document with a picture that has a mark and no eye yet, and with an eye that is kept by name."""
    picture = SheetPicture(
        id="p", name="Cart", file="0" * 64, width=400, height=300, paper=(420.0, 297.0), middle=(210.0, 148.0), pixel=0.5,
        lines=(LineMark(along="long", points=((10.0, 20.0), (90.0, 60.0))),),
    )  # fmt: skip
    return keep_eye(lay_picture(document, picture, b"").document, "rear").document


SAFE = [name for name in DEEDS if name not in ("new", "open", "save", "save_as", "title", "print", "preview", "keys", "menu", "close", "window", "rename", "views", "full_screen")]  # fmt: skip


@pytest.mark.parametrize("name", SAFE)
def test_every_deed_is_done_by_its_key_and_only_when_it_is_possible(desk, monkeypatch, name):
    hand = desk(with_a_picture(demo("tea-cart")) if name in WITH_PICTURE else demo("tea-cart"))
    deed = DEEDS[name]
    done = []
    monkeypatch.setitem(DEEDS, name, replace(deed, act=lambda desk: done.append(name)))
    for key in deed.keys:
        hand.session.select(())
        possible = deed.possible(hand.desk)
        combination = QKeySequence(key)[0]
        for wanted in (possible, True):
            if wanted and not possible:
                hand.session.select(("body",))
                if name == "mark_kind":
                    hand.board.picked.pick(("line", 0))
                if name in ("undo", "redo"):
                    continue
            done.clear()
            QTest.keyClick(hand.board, combination.key(), combination.keyboardModifiers())
            QApplication.processEvents()
            assert done == ([name] if wanted else []), (key, wanted)


def test_a_stage_is_opened_by_its_key_and_asks_the_board_for_what_it_shows(desk):
    hand = desk(demo("tea-cart"))
    for stage in STAGES:
        QTest.keyClick(hand.board, QKeySequence(stage.key)[0].key())
        assert hand.desk.stages.opened_name == stage.name
        asked = hand.board.on_board().asked
        assert set(stage.shows) <= asked and all(name in OVERLAYS or name in ("rings", "slopes") for name in asked)
    rings = next(kind for kind in hand.board.grips._kinds if kind.name == "rings")
    assert not rings.shown
    hand.desk.stages.open("Rounds")
    assert rings.shown


def test_every_tool_has_a_button_in_its_stage_and_marks_it(desk):
    hand = desk(demo("tea-cart"))
    for tool in TOOLS.values():
        hand.desk.take_tool(tool.name)
        body = hand.desk.stages.body(tool.stage)
        button = next(b for b in body.findChildren(QPushButton) if b.text().startswith(tool.words))
        assert button.isChecked(), tool.name
        others = [b for other in hand.desk.stages.bodies().values() if other is not body for b in other.tools.findChildren(QPushButton)]  # fmt: skip
        assert not any(b.isChecked() for b in others if not b.text().startswith("Point"))
        assert hand.board.has_tool == (tool.makes is not None)


def test_the_menu_on_the_board_is_of_what_lies_under_the_pencil(desk):
    hand = desk(demo("tea-cart"))
    body = hand.session.document.index_of("body")
    corners = hand.session.drawing.picture.paper[hand.session.drawing.scene.corner_rows[body]]
    for at, wanted in ((corners.mean(axis=0), "Duplicate"), ((-200.0, 100.0), "Pull a block")):
        pixel = QPoint(*map(round, hand.board.view.point_to_screen(float(at[0]), float(at[1]))))
        event = QContextMenuEvent(QContextMenuEvent.Reason.Mouse, pixel, hand.board.mapToGlobal(pixel))
        QApplication.sendEvent(hand.board, event)
        menu = next(w for w in QApplication.topLevelWidgets() if isinstance(w, QMenu) and w.isVisible())
        words = [action.text() for action in menu.actions() if action.text()]
        assert wanted in words
        assert bool(hand.session.selection) == (wanted == "Duplicate")
        if wanted == "Duplicate":
            before = len(hand.session.document.volumes)
            next(action for action in menu.actions() if action.text() == "Duplicate").trigger()
            assert len(hand.session.document.volumes) > before
            hand.session.undo()
        menu.close()


def test_f10_opens_the_documents_menu_and_f11_fills_the_screen(desk):
    hand = desk(demo("tea-cart"))
    QTest.keyClick(hand.board, Qt.Key.Key_F11)
    assert hand.desk.host.isFullScreen()
    QTest.keyClick(hand.board, Qt.Key.Key_F11)
    assert not hand.desk.host.isFullScreen()
    hand.desk.top_bar._name.menu().aboutToShow.connect(lambda: seen.append(True))
    seen = []
    QTimer.singleShot(100, hand.desk.top_bar._name.menu().close)
    QTest.keyClick(hand.board, Qt.Key.Key_F10)
    assert seen
