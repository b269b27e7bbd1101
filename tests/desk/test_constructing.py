"""The step strip and the cube by eye, with real mouse and key events."""

import json

import numpy as np
import pypdfium2
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from isometron.construct.schools import SCHOOLS
from isometron.demos.catalogue import demo
from isometron.desk.stages.rounds.told_rings import ToldRings
from isometron.document.edits import add_volume
from isometron.document.eyes.eye_edits import tilt_view, turn_object
from isometron.document.fresh import new_document
from isometron.solve.ring_facts import ring_facts
from isometron.volumes.box import Box, box_corners


@pytest.fixture
def cart(desk):
    hand = desk(demo("tea-cart"))
    hand.session.select(("counter",))
    hand.key(Qt.Key.Key_C)
    return hand


def picture(hand):
    image = hand.board.grab().toImage().convertToFormat(hand.board.grab().toImage().Format.Format_RGB32)
    return np.frombuffer(image.constBits().asstring(image.sizeInBytes()), np.uint8)


def test_steps_are_played_by_keys_and_the_slider(cart):
    strip, player = cart.desk.step_strip, cart.desk.player
    assert strip.isVisible() and player.school == "plan" and player.volume == "counter"
    assert strip._sentence.text() == player.construction.steps[0].sentence
    first = picture(cart)
    cart.key(Qt.Key.Key_PageDown)
    cart.key(Qt.Key.Key_PageDown)
    assert player.number == 2 and strip._count.text() == f"3 / {len(player.construction.steps)}"
    player.progress = 1.0
    assert not np.array_equal(first, picture(cart)), "the board shows what is new"
    cart.key(Qt.Key.Key_PageUp)
    assert player.number == 1
    strip._slider.setFocus()
    QTest.keyClick(strip._slider, Qt.Key.Key_End)
    assert player.number == len(player.construction.steps) - 1
    QTest.keyClick(strip._slider, Qt.Key.Key_Left)
    assert player.number == len(player.construction.steps) - 2
    cart.key(Qt.Key.Key_Escape)
    assert not player.open and not strip.isVisible()


def test_playing_goes_on_by_itself_and_stops_at_the_end(cart, qtbot, monkeypatch):
    monkeypatch.setitem(__import__("isometron.desk.instruments.player", fromlist=["SPEEDS"]).SPEEDS, "steady", 15)
    player = cart.desk.player
    cart.key(Qt.Key.Key_PageDown, Qt.KeyboardModifier.ShiftModifier)
    assert player.playing
    qtbot.waitUntil(lambda: not player.playing, timeout=5000)
    assert player.number == len(player.construction.steps) - 1
    qtbot.waitUntil(lambda: player.progress == 1.0, timeout=5000)


def test_the_construction_follows_the_eye_the_selection_and_undo(cart):
    player, session = cart.desk.player, cart.session
    player.step(4)
    before = player.construction.ends["back top"]
    session.attempt(turn_object, -20.0)
    assert player.construction.ends["back top"] != before and player.number == 4
    session.undo()
    assert player.construction.ends["back top"] == before
    session.select(("body",))
    assert player.volume == "body" and player.number == 0
    cart.key(Qt.Key.Key_Delete)
    assert not player.open, "what is gone is constructed no more"


def test_a_school_that_cannot_work_offers_one_that_can(cart):
    strip, player = cart.desk.step_strip, cart.desk.player
    strip._school.setCurrentIndex(strip._school.findData("three-point"))
    strip._school.activated.emit(strip._school.currentIndex())
    assert player.construction is None and "fewer than three vanishing points" in strip._sentence.text()
    assert strip._other.isVisible() and not strip._play.isEnabled()
    QTest.mouseClick(strip._other, Qt.MouseButton.LeftButton)
    assert player.school == "plan" and player.construction is not None
    cart.session.attempt(tilt_view, -15.0)
    assert "tilted" in strip._sentence.text()
    assert [strip._school.itemText(k) for k in range(strip._school.count())] == [s.title for s in SCHOOLS.values()]


def test_worksheets_are_written_from_the_strip(cart, tmp_path):
    cart.desk.step_strip.write(tmp_path / "w.pdf")
    cart.rest()
    assert len(pypdfium2.PdfDocument(tmp_path / "w.pdf")) == 7 and "Wrote w.pdf" in cart.words()
    cart.desk.step_strip.write(tmp_path / "w.svg")
    cart.rest()
    assert len(list(tmp_path.glob("w-0*.svg"))) == 9 and "Wrote 9 files" in cart.words()
    cart.desk.step_strip.write(tmp_path / "w.json")
    cart.rest()
    assert json.loads((tmp_path / "w.json").read_text())["school"] == "plan"
    cart.desk.step_strip.write(tmp_path / "none" / "w.pdf")
    cart.rest()
    assert cart.words().startswith("⚠")


def test_nothing_to_construct_is_said(desk):
    hand = desk(new_document())
    hand.key(Qt.Key.Key_C)
    assert not hand.desk.player.open and "Pull a block first" in hand.words()


def pull_by_eye(hand):
    """Upright 700, one side 800, the other 650, pulled where they are drawn."""
    hand.key(Qt.Key.Key_E)
    hand.press(0, 0, 0)
    hand.release(0, 0, 700)
    hand.drag(500, 0, 0)
    hand.press(600, 0, 0)
    hand.release(800, 0, 0)
    hand.drag(0, 500, 0)
    hand.press(0, 600, 0)
    hand.release(0, 650, 0)


def ratio(hand):
    return [float(part) for part in hand.words().split("yours are ")[1].split(". Dashed")[0].split(" : ")]


def test_a_cube_by_eye_is_judged_and_the_true_one_taken(desk):
    hand = desk(new_document())
    pull_by_eye(hand)
    assert ratio(hand) == pytest.approx([1, 8 / 7, 6.5 / 7], abs=0.03)
    notes = [note.text for note in hand.board.in_hand.preview.notes]
    assert [n.split(" mm ")[1] for n in notes] == ["too far back", "too near"]
    assert len(hand.board.in_hand.preview.guides) == 12, "the cube is shown"
    assert hand.session.document.volumes == ()
    hand.key(Qt.Key.Key_Return)
    (cube,) = hand.session.document.volumes
    assert cube.name == "Cube" and cube.size[0] == cube.size[1] == cube.size[2] == pytest.approx(700, abs=20)


def test_a_cube_by_eye_can_be_kept_as_it_was_drawn_or_mended(desk):
    hand = desk(new_document())
    pull_by_eye(hand)
    hand.key(Qt.Key.Key_Escape)
    hand.drag(0, 650, 0)
    hand.press(0, 650, 0)
    hand.release(0, 750, 0)
    assert ratio(hand) == pytest.approx([1, 8 / 7, 7.5 / 7], abs=0.03)
    hand.click(900, 900, 0)
    (box,) = hand.session.document.volumes
    assert box.name == "By eye" and box.size == pytest.approx((800, 750, 700), abs=25)
    hand.session.undo()
    assert hand.session.document.volumes == () and hand.desk.findChildren(QPushButton)


def test_the_twin_is_kept_as_a_volume_from_the_strip(desk):
    hand = desk(new_document())
    hand.session.do(
        add_volume(hand.session.document, Box(id="b", name="Cube", corner=(0.0, 0.0, 0.0), size=(900.0,) * 3))
    )
    hand.session.select(("b",))
    hand.key(Qt.Key.Key_C)
    strip, player = hand.desk.step_strip, hand.desk.player
    assert not strip.keep.isVisible()
    player.take("turn")
    assert strip.keep.isVisible()
    turn = player.construction.turned_deg
    ends = np.array([at for name, at in player.construction.ends.items()])
    QTest.mouseClick(strip.keep, Qt.MouseButton.LeftButton)
    twin = hand.session.document.volumes[-1]
    assert len(hand.session.document.volumes) == 2 and twin.yaw_deg == turn and hand.session.selection == (twin.id,)
    paper, _ = hand.session.document.eye.project(box_corners([twin])[0][0])
    gaps = np.hypot(*(paper[:, None] - ends[None]).transpose(2, 0, 1))
    assert gaps.min(axis=1).max() < 1e-4, "it stands where it was constructed"
    hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert len(hand.session.document.volumes) == 1


def test_a_ring_that_is_clicked_in_the_table_is_the_one_that_is_constructed(desk):
    hand = desk(demo("ember-lantern"))
    hand.session.select(("body",))
    hand.desk.stages.open("Rounds")
    rings = next(s for s in hand.desk.stages.body("Rounds").sections.all if isinstance(s, ToldRings))
    rings.head.isChecked() or rings.head.click()
    hand.key(Qt.Key.Key_C)
    hand.desk.player.take("ring-4")
    table, told = rings.table, []
    for row in (0, 2):
        at = table.visualRect(table.model().index(row, 0)).center()
        QTest.mouseClick(table.viewport(), Qt.MouseButton.LeftButton, pos=at)
        told.append(hand.desk.player.construction.steps[0].why)
    diameters = [ring_facts(hand.session.drawing, 0)[row].diameter for row in (0, 2)]
    assert all(f"{d:.6g} mm on a side" in why for d, why in zip(diameters, told, strict=True)), (diameters, told)
