"""Shapes, joins, proportion and starters on the desk, by mouse and keys in real windows."""

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QEnterEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMenu

from isometron.desk.cards.outline_card import OutlineCard
from isometron.desk.controls.picked_words import PickedWords
from isometron.document.edits import add_volume, resize_volume
from isometron.document.fresh import new_document
from isometron.document.marks.dividing import lay_mark
from isometron.document.shapes.shaping import SHAPES, make_shape
from isometron.starters.catalogue import STARTERS
from isometron.tools.handles import Grip, corner_places, handles
from isometron.volumes.box import Box, box_corners
from isometron.volumes.cut.profiles import CutBody, profile_outline
from isometron.volumes.framed import Framed
from isometron.volumes.marks.face_marks import DivideMark, RingMark
from isometron.volumes.marks.holds import Measured
from isometron.volumes.own_sides import side_name


def two_blocks():
    document = new_document(away=5200.0)
    one = Box(id="one", name="One", corner=(-900.0, -300.0, 0.0), size=(1600.0, 700.0, 400.0))
    other = Box(id="other", name="Other", corner=(1000.0, 300.0, 0.0), size=(300.0, 300.0, 500.0))
    return add_volume(add_volume(document, one).document, other).document


@pytest.fixture
def hand(desk):
    hand = desk(two_blocks())
    hand.session.select(("one",))
    hand.desk.stages.open("Block")
    return hand


def opened(hand, section):
    if not section.head.isChecked():
        QTest.mouseClick(section.head, Qt.MouseButton.LeftButton)
    for _ in range(4):
        QApplication.processEvents()
    return getattr(section, "place", section)


def choose(offered, words):
    """Choose from a menu or a list as a hand does: open it, go there, Enter."""
    if isinstance(offered, PickedWords):
        QTest.mouseClick(next(b for b in offered.buttons if b.text() == words), Qt.MouseButton.LeftButton)
        QApplication.processEvents()
    elif isinstance(offered, QMenu):
        QTest.mouseClick(offered.parentWidget(), Qt.MouseButton.LeftButton)
        offered.setActiveAction(next(a for a in offered.actions() if a.text() == words))
        QTest.keyClick(offered, Qt.Key.Key_Return)
        offered.parentWidget().window().activateWindow()  # a desktop does so when a menu closes
    else:
        index = offered.findText(words)
        assert index >= 0, [offered.itemText(k) for k in range(offered.count())]
        offered.setFocus()
        QTest.keyClick(offered, Qt.Key.Key_Home)
        for _ in range(index):
            QTest.keyClick(offered, Qt.Key.Key_Down)
        assert offered.currentText() == words
    QApplication.processEvents()


def press(place, words):
    button = next(b for b in place.findChildren(type(place.head)) if b.text() == words)
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    QApplication.processEvents()


def handle_pixel(hand, grip, number=0):
    found = handles(hand.session.drawing, hand.session.active, 1.0 / hand.board.view.scale)
    handle = next(h for h in found if h.grip is grip and h.number == number)
    return QPoint(*(round(c) for c in hand.board.view.point_to_screen(*handle.at)))


def pull(hand, start, end, text=""):
    hand.mouse(QEvent.Type.MouseMove, start, Qt.MouseButton.NoButton, Qt.MouseButton.NoButton)
    hand.mouse(QEvent.Type.MouseButtonPress, start)
    hand.mouse(QEvent.Type.MouseMove, end, Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton)
    if text:
        hand.board.setFocus()
        hand.keys(text)
        hand.key(Qt.Key.Key_Return)
    hand.mouse(QEvent.Type.MouseButtonRelease, end)


def corners(hand, view):
    volume = hand.session.document.volume("one")
    return {n: (x, y) for n, x, y in corner_places(volume, view)}


def card_drag(card, start, end):
    one, two = (card.point_of(*place).toPoint() for place in (start, end))
    QTest.mousePress(card, Qt.MouseButton.LeftButton, pos=one)
    QTest.mouseMove(card, two)
    QTest.mouseRelease(card, Qt.MouseButton.LeftButton, pos=two)
    QApplication.processEvents()


def test_a_block_becomes_a_cabin_whose_corners_are_pulled_on_the_board(hand):
    place = opened(hand, hand.desk.stages.body("Block").shapes)
    choose(place.names, "cabin, sides leaning in")
    volume = hand.session.document.volume("one")
    assert isinstance(volume, CutBody) and volume.size == (1600.0, 700.0, 400.0)
    assert corners(hand, "side")[4] == pytest.approx((480.0, 400.0)) and corners(hand, "front")[4] == pytest.approx(
        (49.0, 400.0)
    )
    found = [h for h in handles(hand.session.drawing, 0, 1.0) if h.grip is Grip.CORNER]
    before = hand.session.document
    start = handle_pixel(hand, Grip.CORNER, 4)
    pull(hand, start, start + QPoint(30, 0), "120")
    assert corners(hand, found[0].view)[4][0] == pytest.approx((480.0 if found[0].view == "side" else 49.0) + 120.0)
    hand.session.undo()
    assert hand.session.document == before


def test_a_profile_is_drawn_on_the_card_with_corners_that_are_held_as_meant(hand):
    place = opened(hand, hand.desk.stages.body("Block").shapes)
    card = place.findChild(OutlineCard)
    QTest.mouseClick(card, Qt.MouseButton.LeftButton, pos=card.point_of(800.0, 200.0).toPoint())
    assert corners(hand, "side") == {1: (0.0, 0.0), 2: (1600.0, 0.0), 3: (1600.0, 400.0), 4: (0.0, 400.0)}
    card_drag(card, (800.0, 400.0), (800.0, 300.0))
    assert corners(hand, "side")[5] == pytest.approx((800.0, 300.0)), (
        "a press on a side makes a corner, the pull takes it along"
    )
    assert card.corner == 5
    how, far = place.corner.widgets[0], place.corner.widgets[1]
    choose(how, "along: from the rear")
    assert corners(hand, "side")[5] == pytest.approx((800.0, 300.0)), "to hold it otherwise moves nothing"
    hand.type_into(far, "50 cm")
    assert corners(hand, "side")[5][0] == pytest.approx(1100.0)
    hand.type_into(place.corner.widgets[3], "25 %")
    assert corners(hand, "side")[5][1] == pytest.approx(100.0)
    hand.session.attempt(resize_volume, "one", 0, 2000.0)
    assert corners(hand, "side")[5] == pytest.approx((1500.0, 100.0)), "from the end it keeps its distance"
    before = hand.session.document
    hand.type_into(far, "other.diameter * nonsense")
    assert hand.words().startswith("⚠") and hand.session.document == before
    QTest.mouseDClick(card, Qt.MouseButton.LeftButton, pos=card.point_of(1500.0, 100.0).toPoint())
    assert sorted(corners(hand, "side")) == [1, 2, 3, 4]


def test_corners_are_rounded_chamfered_and_bowed_by_figures(hand):
    place = opened(hand, hand.desk.stages.body("Block").shapes)
    choose(place.names, "chamfered in plan")
    choose(place.view.widgets[0], "plan")
    card = place.findChild(OutlineCard)
    QTest.mouseClick(card, Qt.MouseButton.LeftButton, pos=card.point_of(0.0, 0.0).toPoint())
    assert card.corner == 1
    hand.type_into(place.corner.widgets[4], "150")
    corner = hand.session.document.volume("one").plan.corners[0]
    assert (corner.round, corner.chamfer) == (150.0, 0.0)
    assert len(hand.session.drawing.of("rounds").arcs.role) > 0
    hand.type_into(place.corner.widgets[4], "900")
    assert "too large" in hand.words() and hand.session.document.volume("one").plan.corners[0].round == 150.0


def test_both_sides_alike_is_a_switch_that_mirrors_the_first_half(hand):
    place = opened(hand, hand.desk.stages.body("Block").shapes)
    choose(place.view.widgets[0], "plan")
    card = place.findChild(OutlineCard)
    QTest.mouseClick(card, Qt.MouseButton.LeftButton, pos=card.point_of(800.0, 350.0).toPoint())
    card_drag(card, (400.0, 0.0), (400.0, 100.0))
    QTest.mouseClick(place.view.widgets[2], Qt.MouseButton.LeftButton, pos=QPoint(10, 10))
    plan = hand.session.document.volume("one").plan
    assert plan.alike
    outline = profile_outline(plan, "plan", (1600.0, 700.0)).corners
    assert any(np.allclose(p, (400.0, 100.0)) for p in outline), outline
    assert any(np.allclose(p, (400.0, 600.0)) for p in outline)
    QTest.mouseClick(place.view.widgets[2], Qt.MouseButton.LeftButton, pos=QPoint(10, 10))
    freed = hand.session.document.volume("one").plan
    assert not freed.alike and np.allclose(profile_outline(freed, "plan", (1600.0, 700.0)).corners, outline)


def test_an_outline_that_would_cross_itself_is_refused_with_words(hand):
    place = opened(hand, hand.desk.stages.body("Block").shapes)
    choose(place.names, "steps")
    before = hand.session.document
    card = place.findChild(OutlineCard)
    size = hand.session.document.volume("one").size
    card_drag(card, (size[0] / 3, size[2] / 3), (size[0], size[2] / 6))
    assert "crosses itself" in hand.words() and hand.session.document == before


def test_every_shape_is_offered_and_drawn(hand):
    place = opened(hand, hand.desk.stages.body("Block").shapes)
    for name in SHAPES:
        hand.session.do(make_shape(hand.session.document, ("one",), name))
        QApplication.processEvents()
        assert np.isfinite(hand.session.drawing.edges.points).all(), name
    assert len(place.names.actions()) == len(SHAPES)


def test_a_frame_gets_rails_and_legs_by_figures(hand):
    place = opened(hand, hand.desk.stages.body("Block").shapes)
    choose(place.names, "frame: legs, rails, top")
    words = [row.words for row in place.rows._rows]
    place.rows.widgets[words.index("rails")].setValue(3)
    hand.type_into(place.rows.widgets[words.index("legs")], "80")
    frame = hand.session.document.volume("one")
    assert isinstance(frame, Framed) and len(frame.rails) == 3 and frame.leg == (80.0, 80.0)
    assert sorted(r.at for r in frame.rails) == [r.at for r in frame.rails]


def test_a_volume_is_carried_to_a_face_and_goes_along_from_then_on(hand):
    hand.key(Qt.Key.Key_J)
    hand.press(1000, 300, 250)
    hand.drag(-100, 50, 400)
    assert "stands on One" in hand.board.in_hand.preview.notes[0].text, "told before it is let go"
    assert hand.session.settled.volume("other").joined is None
    hand.release(-100, 50, 400)
    other = hand.session.document.volume("other")
    assert other.joined.to == "one" and other.corner[2] == 400.0
    hand.key(Qt.Key.Key_Escape)
    hand.session.select(("one",))
    start = handle_pixel(hand, Grip.LIFT)
    pull(hand, start, start + QPoint(0, -40), "1 m")
    assert hand.session.document.volume("other").corner[2] == 1400.0
    place = opened(hand, hand.desk.stages.body("Block").joins)
    hand.session.select(("other",))
    words = [row.words for row in place.rows._rows]
    before = hand.session.document.volume("other").corner
    along = place.rows.widgets[words.index("front to rear") :]
    choose(along[0], "front to rear: its edge inside the rear")
    assert hand.session.document.volume("other").corner == before, "held otherwise, it stays where it is"
    hand.type_into(along[1], "0")
    assert hand.session.document.volume("other").corner[0] == 400.0
    hand.type_into(along[1], "one.high / 4")
    assert hand.session.document.volume("other").corner[0] == 300.0
    assert "100 mm inside the rear" in place._said.text()
    heard = []
    hand.session.said.connect(lambda words, _: heard.append(words))
    hand.key(Qt.Key.Key_F, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert hand.session.document.volume("other").ahead == "y0" and "Its front faces to the left now" in heard[-1]
    press(place, "Pull apart")
    assert hand.session.document.volume("other").joined is None


def test_escape_lets_a_carried_volume_be(hand):
    before = hand.session.document
    hand.key(Qt.Key.Key_J)
    hand.press(1000, 300, 250)
    hand.drag(-100, 50, 400)
    hand.key(Qt.Key.Key_Escape)
    assert hand.session.document == before
    hand.release(-100, 50, 400)
    assert hand.session.document == before and hand.session.undo_name is None


def test_what_is_pulled_on_a_face_stands_on_it(hand):
    hand.key(Qt.Key.Key_B)
    hand.press(-500, -200, 400)
    hand.release(-100, -200, 400)
    hand.click(-100, 100, 400)
    hand.hover(-100, 100, 700)
    hand.keys("300")
    hand.key(Qt.Key.Key_Return)
    block = hand.session.document.volumes[-1]
    assert block.joined.to == "one" and block.corner[2] == 400.0
    hand.key(Qt.Key.Key_Escape)
    hand.session.select(("one",))
    hand.type_into(hand.desk.card._places[2], "50 cm")
    assert hand.session.document.volumes[-1].corner[2] == 900.0


def test_groups_are_pointed_at_together_and_mirrored_volumes_drawn_twice(hand):
    hand.key(Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    hand.key(Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
    hand.session.select(())
    hand.click(1100, 300, 250)
    assert set(hand.session.selection) == {"one", "other"}
    place = opened(hand, hand.desk.stages.body("Block").joins)
    press(place, "Ungroup")
    hand.session.select(("other",))
    before = len(hand.session.drawing.scene.bodies)
    choose(place.planes, f"middle of One: image {place._image_lies(place.session.document.volumes[0], 'wide')}")
    assert len(hand.session.drawing.scene.bodies) == before + 1
    assert "near side edits the far side" in place._said.text()
    choose(place.planes, "no mirror image")
    assert len(hand.session.drawing.scene.bodies) == before


def test_it_is_too_long_is_mended_by_one_number_and_all_that_is_joined_follows(hand):
    hand.session.do(make_shape(hand.session.document, ("other",), "box again"))
    hand.key(Qt.Key.Key_J)
    hand.press(1000, 300, 250)
    hand.release(600, 50, 400)
    hand.key(Qt.Key.Key_Escape)
    hand.session.select(("one",))
    place = opened(hand, hand.desk.stages.body("Block").proportion)
    assert place.ratio.text() == "2.286 : 1 : 0.571"
    far = hand.session.document.volume("other").corner[0]
    gap = 700.0 - far
    hand.type_into(place.ratio, "2 : 1 : 0.571")
    assert hand.session.document.volume("one").size == pytest.approx((1400.0, 700.0, 400.0), abs=0.5)
    moved = hand.session.document.volume("other").corner[0]
    hold = hand.session.document.volume("other").joined.holds[0]
    expected = {"start": far, "end": 500.0 - gap, "middle": far - 100.0}[hold.how]
    assert moved == pytest.approx(expected, abs=1.0)
    QTest.mouseClick(place.lock, Qt.MouseButton.LeftButton, pos=QPoint(10, 10))
    hand.type_into(hand.desk.card._places[0], "0")
    index = hand.desk.ledger.model().index(0, 1)
    hand.desk.ledger.model().setData(index, "2800", Qt.ItemDataRole.EditRole)
    assert hand.session.document.volume("one").size == pytest.approx((2800.0, 1400.0, 800.0), abs=1.0)


def test_expressions_lengths_and_targets_on_the_desk(hand):
    model = hand.desk.ledger.model()
    model.setData(model.index(1, 1), "one.long / 4", Qt.ItemDataRole.EditRole)
    assert hand.session.document.volume("other").size[0] == 400.0
    assert model.data(model.index(1, 1), Qt.ItemDataRole.DisplayRole) == "400"
    assert model.data(model.index(1, 1), Qt.ItemDataRole.FontRole).underline(), "what is driven is underlined"
    assert model.data(model.index(1, 1), Qt.ItemDataRole.EditRole) == "= one.long / 4"
    model.setData(model.index(0, 1), "other.long", Qt.ItemDataRole.EditRole)
    assert "needs" in hand.words() and hand.session.document.volume("one").says == ()
    place = opened(hand, hand.desk.stages.body("Block").proportion)
    hand.session.select(("other",))
    hand.type_into(place.length, "step = 250")
    hand.type_into(place.drives["high"], "3 step")
    assert hand.session.document.volume("other").size[2] == 750.0
    hand.type_into(place.target, "other.high < one.high")
    assert [f.code for f in hand.session.drawing.findings if f.code.startswith("target")] == ["target-missed"]
    said = place.findChildren(type(place._told))
    assert any("drawn 750 mm, meant 400 mm" in label.text() for label in said)
    press(place, "Mend")
    assert not [f for f in hand.session.drawing.findings if f.code == "target-missed"]
    hand.type_into(place.target, "other high")
    assert hand.words().startswith("⚠") and place.target.text() == "other high", "what was typed stays to be mended"
    place.drives["long"].clear()
    place.drives["long"].setModified(True)
    QTest.keyClick(place.drives["long"], Qt.Key.Key_Return)
    assert hand.session.document.volume("other").says[0].drives == "high"


def test_a_starter_is_laid_and_follows_its_module(desk):
    hand = desk(new_document())
    hand.desk.stages.open("Block")
    place = opened(hand, hand.desk.stages.body("Block").starting)
    choose(place.names, "low car")
    hand.type_into(place.module, "70 cm")
    middle = QPointF(place.lay.rect().center())
    QApplication.sendEvent(place.lay, QEnterEvent(middle, middle, place.lay.mapToGlobal(middle)))
    assert len(hand.session.document.volumes) == 3 and hand.session.settled.volumes == (), "shown before it is taken"
    press(place, "Lay it on the sheet")
    document = hand.session.document
    assert {v.id for v in document.volumes} == {"body", "cabin", "wheel"}
    wheel = document.volume("wheel")
    assert wheel.size[0] == 700.0 and wheel.copies[0].pitch == pytest.approx(4.05 * 700.0)
    assert len(hand.session.drawing.scene.faces) > 4 and document.module == "wheel"
    left, lower, right, _ = document.sheet.rectangle
    paper = hand.session.drawing.picture.paper
    assert (paper[:, 0] > left).all() and (paper[:, 0] < right).all() and (paper[:, 1] > lower).all()
    press(place, "Lay it on the sheet")
    assert len(hand.session.document.volumes) == 6 and hand.session.drawing.findings != ()
    assert hand.session.document.volume("wheel-2").mirror.about == "car-body"
    assert hand.session.document.volume("cabin-2").says[0].text.endswith("car_body_2.long")
    index = hand.desk.ledger.model().index(2, 1)
    hand.desk.ledger.model().setData(index, "800", Qt.ItemDataRole.EditRole)
    assert hand.session.document.volume("wheel").copies[0].pitch == pytest.approx(4.05 * 800.0)


@pytest.mark.parametrize("name", STARTERS)
def test_every_starter_is_laid_without_a_warning_and_drawn_whole(desk, name):
    hand = desk(new_document())
    hand.desk.stages.open("Block")
    place = opened(hand, hand.desk.stages.body("Block").starting)
    choose(place.names, STARTERS[name].title)
    press(place, "Lay it on the sheet")
    drawing = hand.session.drawing
    assert [f.message for f in drawing.findings] == []
    assert len(drawing.edges) + len(drawing.of("rounds").arcs.role) > 5
    hand.session.undo()
    assert hand.session.document.volumes == ()


def test_faces_are_parted_by_clicks_and_the_parts_catch_what_is_pulled_next(hand):
    hand.key(Qt.Key.Key_D)
    stage = hand.desk.stages.body("Divide")
    assert hand.desk.stages.opened_name == "Divide"
    hand.type_into(stage.parts.across, "4")
    hand.type_into(stage.parts.up, "1 : 1")
    hand.board.setFocus()
    hand.hover(-100, -300, 200)
    assert "4 x 2 on the left side of One" in hand.board.in_hand.preview.notes[0].text
    assert len(hand.board.in_hand.preview.live) == 4
    hand.click(-100, -300, 200)
    hand.click(-100, 0, 400)
    marks = hand.session.document.volume("one").marks
    assert [m.face for m in marks] == [2, 5] and all(isinstance(m, DivideMark) for m in marks)
    assert marks[0].across == (0.25, 0.5, 0.75)
    hand.click(-100, -300, 0)
    assert len(hand.session.document.volume("one").marks) == 3, "an edge gets ticks"
    hand.key(Qt.Key.Key_B)
    hand.press(-500, 0, 400)
    base = hand.board.in_hand._tool.gi_frame
    assert base is not None
    hand.release(-100, 0, 400)
    hand.click(-100, 200, 400)
    hand.hover(-100, 200, 600)
    hand.keys("100")
    hand.key(Qt.Key.Key_Return)
    block = hand.session.document.volumes[-1]
    assert block.size[0] == pytest.approx(400.0, abs=1e-6), "caught by the next quarter line"


def test_a_gridded_cube_in_four_actions(desk):
    hand = desk(new_document())
    hand.key(Qt.Key.Key_E)  # a cube: one stroke up, two back, Enter takes the true cube
    hand.press(0, 0, 0)
    hand.release(0, 0, 900)
    hand.click(700, 0, 0)
    hand.click(0, 700, 0)
    hand.key(Qt.Key.Key_Return)
    hand.key(Qt.Key.Key_Escape)
    hand.key(Qt.Key.Key_D)
    choose(hand.desk.stages.body("Divide").parts.presets, "3 x 3")
    hand.board.setFocus()
    side = hand.session.document.volumes[0].size[0]
    hand.click(side / 2, 0, side / 2)
    marks = hand.session.document.volumes[0].marks
    assert marks[0].across == marks[0].up == (1 / 3, 2 / 3)


def test_rows_by_pitch_gap_and_filling(hand):
    hand.session.select(("other",))
    hand.desk.stages.open("Divide")
    rows = hand.desk.stages.body("Divide").rows
    QTest.mouseClick(rows.head, Qt.MouseButton.LeftButton)
    words = [row.words for row in rows.rows._rows]
    rows.rows.widgets[words.index("how many")].setValue(5)
    hand.type_into(rows.rows.widgets[words.index("gap")], "150")
    (row,) = hand.session.document.volume("other").copies
    assert (row.count, row.pitch) == (5, 450.0)
    hand.type_into(rows.whole, "2700")
    assert hand.session.document.volume("other").copies[0].pitch == 600.0
    press(rows, "One more beyond the end")
    assert hand.session.document.volume("other").copies[0].count == 6
    press(rows, "A second row across")
    assert len(hand.session.document.volume("other").copies) == 2
    assert rows._said.text() == "Other: 12 in all."
    press(rows, "No copies")
    assert hand.session.document.volume("other").copies == ()


def test_rings_and_arches_are_laid_on_faces_and_changed_in_the_list(hand):
    hand.desk.stages.open("Rounds")
    place = hand.desk.stages.body("Rounds").on_face
    QTest.mouseClick(place.head, Qt.MouseButton.LeftButton)
    choose(place.kind, "dial")
    hand.board.setFocus()
    hand.key(Qt.Key.Key_A)
    hand.hover(-100, -300, 200)
    assert hand.board.in_hand.preview.notes[0].text == "in the middle"
    hand.press(-97, -300, 203)
    hand.drag(0, -300, 200)
    hand.keys("25 cm")
    hand.key(Qt.Key.Key_Return)
    (dial,) = hand.session.document.volume("one").marks
    assert (dial.at, dial.diameter, dial.divisions, dial.depth) == ((0.5, 0.5), 250.0, 24, -20.0)
    assert len(hand.session.drawing.scene.rounds.strokes) == 24
    choose(place.kind, "arch")
    hand.board.setFocus()
    hand.key(Qt.Key.Key_A)
    hand.press(-600, -300, 3)
    hand.release(-450, -300, 300)
    arch = hand.session.document.volume("one").marks[1]
    assert (
        arch.at[1] == 0.0
        and arch.wide == pytest.approx(300.0, abs=20.0)
        and arch.high == pytest.approx(300.0, abs=20.0)
    )
    hand.key(Qt.Key.Key_Escape)
    hand.session.select(("one",))
    hand.desk.stages.open("Divide")
    marks = hand.desk.stages.body("Divide").marks
    QTest.mouseClick(marks.head, Qt.MouseButton.LeftButton)
    assert [marks.names.itemText(k) for k in range(2)] == ["knob on the left side, 250", "arch on the left side"]
    choose(marks.names, "knob on the left side, 250")
    words = [row.words for row in marks.rows._rows]
    hand.type_into(marks.rows.widgets[words.index("across")], "25 %")
    assert hand.session.document.volume("one").marks[0].at == (0.25, 0.5)
    choose(marks.rows.widgets[words.index("across is held")], "across: its edge from the rear")
    hand.type_into(marks.rows.widgets[words.index("across")], "0")
    assert hand.session.document.volume("one").marks[0].at[0] == Measured(mm=0.0, from_="end", to="edge")
    hand.session.attempt(resize_volume, "one", 0, 2000.0)
    rim = hand.session.drawing.scene.rounds.rings[0]
    assert np.hypot(*(rim[:2] - hand.session.document.volume("one").corner[:2])) == pytest.approx(
        np.hypot(2000.0 - 125.0, 0.0), rel=1e-9), "flush with the rear, wherever that is"  # fmt: skip
    press(marks, "Take it off")
    assert len(hand.session.document.volume("one").marks) == 1


def test_a_wheel_is_set_steered_and_slid_along_its_axle(hand):
    hand.session.attempt(make_shape, ("other",), "box again")
    hand.desk.stages.open("Rounds")
    hand.session.select(("other",))
    stage = hand.desk.stages.body("Rounds")
    press(stage.sections.all[0], "wheel")
    QTest.mouseClick(stage.wheel.head, Qt.MouseButton.LeftButton)
    words = [row.words for row in stage.wheel.rows._rows]
    foot = hand.session.document.volume("other").corner
    hand.type_into(stage.wheel.rows.widgets[words.index("diameter")], "700")
    hand.type_into(stage.wheel.rows.widgets[words.index("steer")], "25")
    wheel = hand.session.document.volume("other")
    assert sorted(wheel.size)[1:] == [700.0, 700.0] and wheel.steer_deg == 25.0 and wheel.corner[2] == foot[2]
    before = hand.session.document.volume("other").corner
    start = handle_pixel(hand, Grip.SLIDE)
    pull(hand, start, start + QPoint(25, 20), "120")
    after = hand.session.document.volume("other").corner
    moved = np.abs(np.subtract(after, before))
    assert moved.max() == pytest.approx(120.0) and sorted(moved)[1] < 1e-6


def test_the_plain_views_pull_volumes_and_draw_lines(hand, tmp_path):
    hand.key(Qt.Key.Key_V)
    views = hand.desk._views
    board = views.board
    QApplication.processEvents()

    def drag(view, start, end):
        one, two = (board.pixel(view, np.array(p)) for p in (start, end))
        QTest.mousePress(board, Qt.MouseButton.LeftButton, pos=one.toPoint())
        QTest.mouseMove(board, ((one + two) / 2).toPoint())
        QTest.mouseMove(board, two.toPoint())
        QTest.mouseRelease(board, Qt.MouseButton.LeftButton, pos=two.toPoint())

    drag(0, (700.0, 200.0), (900.0, 200.0))
    size = hand.session.document.volume("one").size
    assert size[0] == pytest.approx(1800.0, abs=15.0) and size[1:] == (700.0, 400.0), (
        "the side view's right edge is pulled"
    )
    drag(2, (float(size[0]) / 2 - 900.0, 50.0), (float(size[0]) / 2 - 900.0, 250.0))
    assert hand.session.document.volume("one").corner[1] == pytest.approx(-100.0, abs=15.0), "moved in plan"
    QTest.mouseClick(board, Qt.MouseButton.LeftButton, pos=board.pixel(1, np.array([450.0, 450.0])).toPoint())
    assert hand.session.selection == ("other",)
    QTest.mouseClick(board, Qt.MouseButton.LeftButton, pos=board.pixel(0, np.array([-800.0, 200.0])).toPoint())
    assert hand.session.selection == ("one",)
    QTest.mouseClick(views.draws, Qt.MouseButton.LeftButton, pos=QPoint(10, 10))
    for place in ((-500.0, 400.0), (0.0, 600.0), (500.0, 400.0)):
        at = board.pixel(0, np.array(place)).toPoint()
        QTest.mouseMove(board, at)
        QTest.mouseClick(board, Qt.MouseButton.LeftButton, pos=at)
    QTest.keyClick(board, Qt.Key.Key_Return)
    (path,) = hand.session.document.volume("one").marks
    assert path.across == "wide" and path.at == 0.5 and len(path.points) == 3
    drawn = hand.session.drawing.scene
    ends = drawn.vertices[drawn.edges[drawn.edge_is_mark]].reshape(-1, 3)
    middle = hand.session.document.volume("one").corner[1] + 350.0
    assert np.allclose(ends[:, 1], middle) and ends[:, 2].max() == pytest.approx(600.0, abs=15.0)
    hand.type_into(views.quarters, "1600")
    assert len(board._quarter_places(0, 0)) == 5
    for ending in (".pdf", ".svg", ".dxf"):
        views.write(tmp_path / f"views{ending}")
        hand.rest()
        assert (tmp_path / f"views{ending}").stat().st_size > 1000
    views.write(tmp_path / "no" / "views.pdf")
    hand.rest()
    assert views._told.text().startswith("⚠")
    board.grab()
    views.close()


def test_dragging_in_a_view_is_dropped_by_escape(hand):
    hand.key(Qt.Key.Key_V)
    board = hand.desk._views.board
    QApplication.processEvents()
    before = hand.session.document
    at = board.pixel(0, np.array([700.0, 200.0])).toPoint()
    QTest.mousePress(board, Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseMove(board, (QPointF(at) + QPointF(20, 0)).toPoint())
    assert hand.session.document != before
    QTest.keyClick(board, Qt.Key.Key_Escape)
    assert hand.session.document == before
    QTest.mouseRelease(board, Qt.MouseButton.LeftButton, pos=at)
    assert hand.session.document == before and hand.session.undo_name is None
    hand.desk._views.close()


def test_tilt_and_roll_say_which_side_goes_down(hand):
    hand.session.select(("one",))
    card = hand.desk.card
    front, rear = side_name(hand.session.active_volume, 0), side_name(hand.session.active_volume, 1)
    for angle, side in (("12", rear), ("-12", front)):
        hand.type_into(card._roll, angle)
        _, rotations = box_corners([hand.session.active_volume])
        far_end_rises = rotations[0][2, 0] > 0.0
        assert card._labels["roll"].text() == f"roll: {side} down" and far_end_rises == (side == front)
    hand.type_into(card._roll, "0")
    assert card._labels["roll"].text() == "roll"
    hand.type_into(card._tilt, "5")
    assert card._labels["tilt"].text() == f"tilt: {side_name(hand.session.active_volume, 2)} down"


def test_a_volume_stands_at_four_corners_in_one_deed_and_marks_are_told_apart(hand):
    place = opened(hand, hand.desk.stages.body("Block").joins)
    hand.session.select(("other",))
    choose(place.planes, "middle of One, both ways: four in all")
    assert [row.count for row in hand.session.document.volume("other").copies] == [2, 2]
    hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert not hand.session.document.volume("other").copies
    for at in ((0.2, 0.5), (0.8, 0.5)):
        hand.session.do(lay_mark(hand.session.document, "one", RingMark(face=5, at=at, diameter=60.0)))
    hand.session.select(("one",))
    hand.desk.stages.open("Divide")
    marks = hand.desk.stages.body("Divide").marks
    marks.refresh()
    names = [marks.names.itemText(k) for k in range(marks.names.count())]
    assert len(names) == len(set(names)) == 2 and all("60" in name for name in names)
