"""What a deed gives up is told before and after, what belongs together goes together, and Check mends: by mouse and keys."""

import msgspec
import pytest
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QEnterEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QPushButton

from isometron.desk.board.overlays.given_up import GIVEN_UP
from isometron.document.edits import add_volume
from isometron.document.fresh import new_document
from isometron.starters.catalogue import lay_starter
from isometron.volumes.box import Box
from isometron.volumes.marks.face_marks import OpeningMark


def block(id="one", corner=(-300.0, -300.0, 0.0), size=(600.0, 920.0, 400.0), **fields):
    return Box(id=id, name=id.title(), corner=corner, size=size, **fields)


def holding(*volumes):
    document = new_document(away=5200.0)
    for volume in volumes:
        document = add_volume(document, volume).document
    return document


def rest_on(widget):
    """Let the pencil come to rest on a widget, without a click."""
    middle = QPointF(widget.rect().center())
    QApplication.sendEvent(widget, QEnterEvent(middle, middle, widget.mapToGlobal(middle)))
    QTest.qWait(600)


def leave(widget):
    QApplication.sendEvent(widget, QEvent(QEvent.Type.Leave))
    QTest.qWait(50)


def test_what_a_deed_gives_up_is_shown_before_it_is_taken_and_told_after(desk):
    window = OpeningMark(face=3, wide=200.0, high=150.0)
    hand = desk(holding(block(marks=(window,))))
    hand.session.select(("one",))
    hand.desk.stages.open("Rounds")
    before = hand.session.document
    button = next(b for b in hand.desk.stages.body("Rounds").findChildren(QPushButton) if b.text() == "cylinder")
    rest_on(button)
    assert "600 x 920 x 400 mm becomes 600 x 600 x 400 mm" in hand.words()
    assert "takes it back" not in hand.words(), "nothing is taken yet"
    assert hand.session.given_up and hand.session.settled == before, "nothing is done yet"
    leave(button)
    assert hand.session.given_up == () and hand.session.document == before and "becomes" not in hand.words()
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    assert hand.sizes() == [(600.0, 600.0, 400.0)]
    assert "becomes 600 x 600" in hand.words() and "Ctrl+Z takes it back" in hand.words()
    hand.board.setFocus()
    hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert hand.session.document == before


def test_what_goes_is_crossed_out_where_it_stood(desk, monkeypatch):
    hand = desk(holding(block(marks=(OpeningMark(face=0, wide=200.0, high=150.0),))))
    hand.session.select(("one",))
    hand.desk.stages.open("Rounds")
    button = next(b for b in hand.desk.stages.body("Rounds").findChildren(QPushButton) if b.text() == "cone")
    rest_on(button)
    places = [given.place for given in hand.session.given_up if given.place is not None]
    assert places
    with_crosses = hand.board.grab().toImage()
    monkeypatch.setattr(type(hand.session), "given_up", property(lambda _: ()))
    hand.board.update()
    without = hand.board.grab().toImage()
    x, y = hand.pixel(*places[0]).x(), hand.pixel(*places[0]).y()
    spots = [(x + a, y + b) for a in range(-9, 10) for b in range(-9, 10)]
    assert any(with_crosses.pixel(*spot) != without.pixel(*spot) for spot in spots)
    assert GIVEN_UP is not None


def test_a_group_turns_whole_by_the_field_of_one_of_it(desk):
    start = lay_starter(new_document(), "hut").document
    hand = desk(start)
    members = [v.id for v in start.volumes]
    hand.board.setFocus()
    hand.key(Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    hand.key(Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
    assert len({v.group for v in hand.session.document.volumes}) == 1 and hand.session.document.volumes[0].group
    hand.type_into(hand.desk.card._turn, "90")
    after = hand.session.document
    turned = {v.id: (v.yaw_deg - start.volume(v.id).yaw_deg) % 360.0 for v in after.volumes if v.id in members}
    assert list(turned.values()) == pytest.approx([90.0] * len(members))
    # All about one upright line: distances between the parts stay.
    one, other = members[0], members[-1]

    def apart(document):
        a, b = (document.volume(name) for name in (one, other))
        return sum((p - q) ** 2 for p, q in zip(a.corner, b.corner, strict=True)) ** 0.5

    assert apart(after) == pytest.approx(apart(start), abs=1e-6)


def test_check_tells_what_is_nearly_flush_and_makes_it_so(desk, qtbot):
    other = block("two", corner=(300.4, -300.0, 0.0), size=(200.0, 920.0, 400.0))
    hand = desk(holding(block(), other))
    hand.key(Qt.Key.Key_F8)
    stage = hand.desk.stages.body("Check")
    qtbot.waitUntil(lambda: stage._list.count() == 1, timeout=3000)
    assert "0.4" in stage._list.item(0).text()
    QTest.mouseClick(
        stage._list.viewport(),
        Qt.MouseButton.LeftButton,
        pos=stage._list.visualItemRect(stage._list.item(0)).center(),
    )
    mend = next(b for b in stage.findChildren(QPushButton) if b.text() == "Make them flush" and b.isVisible())
    QTest.mouseClick(mend, Qt.MouseButton.LeftButton)
    assert hand.session.document.volume("two").corner[0] == pytest.approx(300.0, abs=1e-9)
    qtbot.waitUntil(lambda: stage._list.count() == 0, timeout=3000)


def test_check_tells_what_lies_off_the_sheet(desk, qtbot):
    hand = desk(holding(block()))
    low = msgspec.structs.replace(hand.session.document.volumes[0], corner=(-300.0, -300.0, -2500.0))
    hand.session.attempt(lambda document: add_volume(document, msgspec.structs.replace(low, id="low", name="Low")))
    hand.key(Qt.Key.Key_F8)
    stage = hand.desk.stages.body("Check")
    qtbot.waitUntil(
        lambda: any("sheet" in stage._list.item(k).text() for k in range(stage._list.count())), timeout=3000
    )
