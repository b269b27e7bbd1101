"""Small jobs from an empty sheet with mouse and keys only, every action counted as in the larger ones."""

import pytest
from PyQt6.QtCore import Qt

from isometron.document.fresh import new_document
from isometron.solve.showing import level_words
from isometron.volumes.marks.face_marks import RingMark
from isometron.volumes.turned import Turned
from tests.desk.person import Person
from tests.desk.test_form_desk import block
from tests.desk.test_shaping_desk import choose


@pytest.fixture
def person(home, desk):
    return Person(desk(new_document()))


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
