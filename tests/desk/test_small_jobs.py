"""Small jobs from an empty sheet with mouse and keys only, every action counted as in the larger ones."""

import numpy as np
import pypdfium2
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog, QPushButton

from isometron.document.fresh import new_document
from isometron.solve.showing import level_words
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.marks.face_marks import DivideMark, RingMark
from isometron.volumes.turned import Turned
from tests.desk.person import Person
from tests.desk.test_form_desk import block
from tests.desk.test_shaping_desk import choose

INCH = 25.4


@pytest.fixture
def person(home, desk):
    return Person(desk(new_document()))


def test_a_notched_block_in_at_most_8_actions(person):
    notched = block(person, (-300.0, 0.0, 0.0), "600", "400", "400", keep=True)
    shapes = person.section(person.hand.desk.stages.body("Block").shapes)
    person.field(shapes.view, "corners", "0, 0; 0, 100 %; 60 %, 100 %; 60 %, 200; 100 %, 200; 100 %, 0")
    notched = person.hand.session.document.volume(notched.id)
    assert isinstance(notched, CutBody) and len(notched.side.corners) == 6
    drawing = person.hand.session.drawing
    assert any(np.allclose(v, (60.0, y, z)) for v in drawing.scene.vertices for y in (0.0,) for z in (200.0,))
    assert person.actions <= 8 and person.cautions == []


def unit(person, words):
    """Choose the unit in the bar: a click, and a click in its menu."""
    person.actions += 2
    menu = person.hand.desk.top_bar._unit.menu()
    next(action for action in menu.actions() if action.text() == words).trigger()


def test_a_gridded_cube_on_a_shelf_in_inches_in_at_most_20_actions(person):
    unit(person, "in")
    person.key(Qt.Key.Key_B)
    person.pull(
        (-500.0, 0.0, 0.0), ((300.0, 0.0, 0.0), "40"), ((500.0, 300.0, 0.0), "16"), ((500.0, 400.0, 60.0), "1 1/2")
    )
    (shelf,) = person.hand.session.document.volumes
    assert shelf.size == pytest.approx((40 * INCH, 16 * INCH, 1.5 * INCH))
    x, y, z = -300.0, 60.0, 1.5 * INCH
    person.pull(
        (x, y, z),
        ((x + 200.0, y, z), "10"),
        ((x + 254.0, y + 120.0, z), "10"),
        ((x + 254.0, y + 254.0, z + 120.0), "10"),
    )
    cube = person.hand.session.document.volumes[-1]
    assert cube.size == pytest.approx((254.0,) * 3) and cube.joined is not None and cube.joined.to == shelf.id
    person.key(Qt.Key.Key_D)
    parts = person.hand.desk.stages.body("Divide").parts
    person.fill(parts.across, "4")
    person.fill(parts.up, "4")
    x, y, z = cube.corner
    for face in ((x + 120.0, y, z + 130.0), (x + 130.0, y + 130.0, z + 254.0), (x + 254.0, y + 120.0, z + 120.0)):
        person.hand.board.setFocus()
        person.click(*face)
    marks = person.hand.session.document.volume(cube.id).marks
    assert len(marks) == 3 and all(isinstance(m, DivideMark) and len(m.across) == len(m.up) == 3 for m in marks)
    assert person.actions <= 20 and person.cautions == []


def worksheet(person, path, monkeypatch):
    """Press Worksheet and type a name."""
    person.actions += 2
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(path), ""))
    button = next(b for b in person.hand.desk.step_strip.findChildren(QPushButton) if "orksheet" in b.text())
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    person.hand.rest()


def test_a_cube_and_its_twin_as_worksheets_in_at_most_14_actions(person, tmp_path, monkeypatch):
    cube = block(person, (-200.0, 0.0, 0.0), "500", "500", "500", keep=True)
    person.key(Qt.Key.Key_C)
    assert person.hand.desk.player.open
    worksheet(person, tmp_path / "cube.pdf", monkeypatch)
    strip = person.hand.desk.step_strip
    person.actions += 2
    choose(strip._school, "Turn on the spot")
    QTest.keyClick(strip._school, Qt.Key.Key_Return)
    worksheet(person, tmp_path / "twin.pdf", monkeypatch)
    for name in ("cube", "twin"):
        pages = pypdfium2.PdfDocument(tmp_path / f"{name}.pdf")
        assert len(pages) >= 4 and cube.name in pages[0].get_textpage().get_text_range()
    twin = pypdfium2.PdfDocument(tmp_path / "twin.pdf")[0].get_textpage().get_text_range()
    assert "urn" in twin
    assert person.actions <= 14 and person.cautions == []


def test_a_practice_sheet_of_nine_cubes_in_at_most_15_actions(person):
    cube = block(person, (-900.0, 0.0, 0.0), "300", "300", "300", keep=True)
    person.key(Qt.Key.Key_F4)
    rows = person.section(person.hand.desk.stages.body("Divide").rows)
    person.field(rows.rows, "row", "3 x 700; high 3 x 1350")
    drawing = person.hand.session.drawing
    copies = person.hand.session.document.volume(cube.id).copies
    assert [(row.along, row.count, row.pitch) for row in copies] == [("long", 3, 700.0), ("high", 3, 1350.0)]
    assert not [f for f in drawing.findings if f.code == "floating"], "the upper rows hang by intent"
    told = level_words(drawing, 0).splitlines()
    assert ["below" in told[0], "across" in told[1], "above" in told[2]] == [True] * 3
    assert person.actions <= 15 and person.cautions == []


def test_buttons_on_a_ball_and_a_cube_in_at_most_20_actions(person):
    hand = person.hand
    cube = block(person, (-700.0, 0.0, 0.0), "400", "400", "400", keep=True)
    person.key(Qt.Key.Key_R)
    person.pull((400.0, 200.0, 0.0), ((600.0, 200.0, 0.0), "400"), ((600.0, 200.0, 300.0), "400"))
    ball = hand.session.document.volumes[-1]
    stage = hand.desk.stages.body("Rounds")
    person.button(stage.sections.all[0], "ball")
    assert isinstance(hand.session.document.volume(ball.id), Turned)
    person.key(Qt.Key.Key_A)
    person.actions += 2
    choose(stage.on_face.kind, "button or knob")
    hand.board.setFocus()
    for place, out in (((-500.0, 0.0, 200.0), (-440.0, 0.0, 200.0)), ((400.0, 0.0, 200.0), (450.0, 10.0, 200.0))):
        person.actions += 2
        hand.press(*place)
        hand.drag(*out)
        hand.board.setFocus()
        hand.keys("80")
        hand.key(Qt.Key.Key_Return)
        hand.release(*out)
    for volume in (cube, ball):
        (mark,) = hand.session.document.volume(volume.id).marks
        assert isinstance(mark, RingMark) and mark.diameter == 80.0
    assert person.actions <= 20 and person.cautions == []
