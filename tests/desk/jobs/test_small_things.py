"""Small things from an empty sheet, as a newcomer does them: every action counted, every label in sight."""

import numpy as np
import pypdfium2
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog, QPushButton

from isometron.document.fresh import new_document
from isometron.solve.findings import findings
from isometron.volumes.box import box_corners
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.marks.face_marks import DivideMark, RingMark
from tests.desk.person import Person, sees

KEY = Qt.Key
INCH = 25.4


@pytest.fixture
def person(home, desk):
    return Person(desk(new_document()))


def worksheet(person, path, monkeypatch):
    """Press Worksheet and type a name."""
    person.actions += 2
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(path), ""))
    button = next(b for b in person.hand.desk.step_strip.findChildren(QPushButton) if "orksheet" in b.text())
    sees(button)
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    person.hand.rest()


def test_a_toaster_with_two_slots_lever_dial_and_feet(person):
    session = person.hand.session
    body = person.say("toaster 380 x 200 x 210 at -190, 0, 12")
    person.key(KEY.Key_S)
    edges = person.part("Form", "Edges")
    person.fill(edges.radius, "18")
    person.button(edges, "Round them all")
    person.say("foot 30 x 30 x 12 at 20, 20, -12 in toaster, 2 x 310; wide 2 x 130")
    person.say("lever 14 x 34 x 20, 2 right of toaster")
    person.select(body)
    person.key(KEY.Key_W)
    opening = person.part("Form", "Opening")
    person.pick(opening.goes, "a pocket with a bottom")
    person.hand.board.setFocus()
    person.pull((-130.0, 50.0, 222.0), ((100.0, 75.0, 222.0), "260 x 28, up 2 gap 44"))
    person.key(KEY.Key_A)
    dial = person.part("Rounds", "On a face")
    person.pick(dial.kind, "dial")
    person.hand.board.setFocus()
    person.pull((120.0, 0.0, 80.0), ((140.0, 0.0, 80.0), "44"))
    slots, knob = session.document.volume(body.id).marks
    assert (slots.wide, slots.high, slots.count, slots.goes) == (260.0, 28.0, 2, "pocket")
    assert isinstance(knob, RingMark) and knob.diameter == 44.0 and knob.divisions == 24
    foot = next(v for v in session.document.volumes if v.name == "foot")
    assert [row.count for row in foot.copies] == [2, 2] and foot.corner[2] == pytest.approx(0.0)
    assert len(session.document.volume(body.id).rounded) == 12
    found = findings(session.document, session.drawing.picture)
    assert not [f for f in found if f.code in ("unopened", "uncut", "mark-away", "overlap")] and person.cautions == []
    assert person.actions <= 33, person.actions


def test_nine_boxes_with_their_worksheet(person, tmp_path, monkeypatch):
    cube = person.say("cube 300 x 300 x 300 at -900, 0, 0, 3 x 700; high 3 x 1350")
    assert [row.count for row in cube.copies] == [3, 3]
    person.hand.board.setFocus()
    person.key(KEY.Key_C)
    strip = person.hand.desk.step_strip
    person.pick(strip._school, "Measuring points")
    QTest.keyClick(strip._school, Qt.Key.Key_Return)
    worksheet(person, tmp_path / "nine.pdf", monkeypatch)
    pages = pypdfium2.PdfDocument(tmp_path / "nine.pdf")
    assert len(pages) >= 10 and "cube" in pages[0].get_textpage().get_text_range()
    assert person.actions <= 10 and person.cautions == []


def test_a_gridded_cube_on_a_shelf_in_inches(person):
    person.actions += 2  # the unit in the bar
    menu = person.hand.desk.top_bar._unit.menu()
    next(action for action in menu.actions() if action.text() == "in").trigger()
    person.say("shelf 40 x 16 x 1 1/2 at -20, 0, 0")
    cube = person.say("cube 10 x 10 x 10 on shelf")
    assert cube.size == pytest.approx((10 * INCH,) * 3) and cube.joined is not None
    person.hand.board.setFocus()
    person.key(KEY.Key_D)
    parts = person.part("Divide", "Parts")
    person.fill(parts.across, "4")
    person.fill(parts.up, "4")
    x, y, z = np.array(cube.corner)
    half = 5 * INCH
    person.hand.board.setFocus()
    for face in ((x + half, y, z + half), (x + half, y + half, z + 2 * half), (x + 2 * half, y + half, z + half)):
        person.click(*face)
    marks = person.hand.session.document.volume(cube.id).marks
    assert len(marks) == 3 and all(isinstance(m, DivideMark) and len(m.across) == len(m.up) == 3 for m in marks)
    assert person.actions <= 15 and person.cautions == []


def test_a_cube_at_45_degrees_and_its_twin_kept(person, tmp_path, monkeypatch):
    session = person.hand.session
    cube = person.say("cube 500 x 500 x 500 at -250, 0, 0")
    person.fill(person.named(person.hand.desk.card, "Turn"), "45")
    assert session.document.volume(cube.id).yaw_deg == pytest.approx(45.0)
    person.hand.board.setFocus()
    person.key(KEY.Key_C)
    strip = person.hand.desk.step_strip
    person.pick(strip._school, "Turn on the spot")
    QTest.keyClick(strip._school, Qt.Key.Key_Return)
    person.pick(strip.about, "about B")
    shared = person.hand.desk.player.construction.about
    worksheet(person, tmp_path / "twin.pdf", monkeypatch)
    person.actions += 1
    sees(strip.keep)
    QTest.mouseClick(strip.keep, Qt.MouseButton.LeftButton)
    kept = session.document.volumes[-1]
    one, two = (box_corners([session.document.volume(each)])[0][0, shared] for each in (cube.id, kept.id))
    assert two == pytest.approx(one, abs=1e-4), "it turns about the corner that was picked"
    assert kept.id != cube.id and kept.size == cube.size and kept.yaw_deg != pytest.approx(45.0)
    assert len(pypdfium2.PdfDocument(tmp_path / "twin.pdf")) >= 4
    assert person.actions <= 12 and person.cautions == []


def test_a_notched_block(person):
    notched = person.say("block 600 x 400 x 400")
    person.field(
        person.part("Block", "Shape").view, "corners", "0, 0; 0, 100 %; 60 %, 100 %; 60 %, 200; 100 %, 200; 100 %, 0"
    )
    notched = person.hand.session.document.volume(notched.id)
    assert isinstance(notched, CutBody) and len(notched.side.corners) == 6
    corner = np.add(notched.corner, (360.0, 0.0, 200.0))
    assert np.abs(person.hand.session.drawing.scene.vertices - corner).sum(axis=1).min() < 1e-6
    assert person.actions <= 6 and person.cautions == []
