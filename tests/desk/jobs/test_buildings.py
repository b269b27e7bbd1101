"""Buildings from an empty sheet, as a newcomer does them: every action counted, every label in sight."""

import numpy as np
import pytest
from PyQt6.QtCore import Qt

from isometron.document.fresh import new_document
from isometron.solve.findings import findings
from isometron.volumes.faces.plane import plane_of_face
from isometron.volumes.kinds import own_faces
from isometron.volumes.marks.face_marks import CourseMark, OpeningMark
from isometron.volumes.openings.solids import uncut_openings
from tests.desk.person import Person

KEY = Qt.Key


def sound(person):
    """Nothing was refused, and every opening and every cut came out."""
    session = person.hand.session
    found = findings(session.document, session.drawing.picture)
    return not [f for f in found if f.code in ("unopened", "uncut", "mark-away")] and person.cautions == []


def filled(person, *places):
    """Fill faces with what the section of courses says; Escape lays the tool aside."""
    person.hand.board.setFocus()
    for place in places:
        person.click(*place)
    person.key(KEY.Key_Escape)


def slope_of(person, volume):
    """The largest sloping face that looks at the eye."""
    eye = person.hand.session.document.eye.place
    faces = [f for f in own_faces(volume).values() if (eye - f.corner) @ f.outward > 0.0 and f.outward[2] > 0.1]
    return plane_of_face(max(faces, key=lambda f: f.area))


def test_a_bridge_of_three_bays_with_piers_parapet_and_courses(home, desk):
    person = Person(desk(new_document(away=13000.0, eye_height=4200.0)))
    session = person.hand.session
    wall = person.say("wall 8000 x 1000 x 2200 at -4000, 0, 0")
    person.key(KEY.Key_W)
    opening = person.part("Form", "Opening")
    person.pick(opening.form, "half-round arch")
    person.pick(opening.goes, "right through the body")
    person.hand.board.setFocus()
    person.pull((-3400.0, 0.0, 0.0), ((-1700.0, 0.0, 1400.0), "1800 x 1500, 3 gap 900"))
    (mark,) = session.document.volume(wall.id).marks
    assert isinstance(mark, OpeningMark) and (mark.wide, mark.high, mark.count) == (1800.0, 1500.0, 3)
    pier = person.say("pier 500 x 300 x 1700 at -4000, -300, 0, 4 x 2500")
    parapet = person.say("parapet 8000 x 1200 x 500 on wall")
    assert pier.copies[0].count == 4 and parapet.joined.to == wall.id and parapet.corner[2] == pytest.approx(2200.0)
    person.hand.board.setFocus()
    person.key(KEY.Key_U)
    filled(person, (0.0, 0.0, 2000.0), (0.0, -100.0, 2450.0))
    for name in (wall.id, parapet.id):
        assert any(isinstance(m, CourseMark) for m in session.document.volume(name).marks)
    assert uncut_openings(session.document.volume(wall.id)) == {} and sound(person)
    assert len(session.drawing.of("courses").lines) > 200
    assert person.actions <= 26, person.actions


def test_a_fence_of_nine_posts_and_a_hut_with_overhang_tiles_door_window_and_planks(home, desk):
    person = Person(desk(new_document(away=12000.0, eye_height=1700.0)))
    session = person.hand.session
    post = person.say("post 90 x 90 x 1100 at -2800, -1600, 0, 9 x 700")
    rail = person.say("rail 5690 x 30 x 90 at -2800, -1630, 350, high 2 x 500")
    assert post.copies[0].count == 9 and rail.copies[0].count == 2
    hut = person.say("hut 3000 x 2200 x 2200 at -1500, 0, 0")
    roof = person.part("Form", "Roof")
    person.fill(roof.eaves, "350")
    person.button(roof, "Gabled roof")
    laid = next(v for v in session.document.volumes if "oof" in v.name)
    person.hand.board.setFocus()
    person.key(KEY.Key_U)
    courses = person.part("Form", "Courses")
    person.pick(courses.pattern, "tiles")
    person.hand.board.setFocus()
    person.click(*slope_of(person, laid).spot(0.5, 0.4))
    person.pick(courses.pattern, "planks")
    x, y, _ = hut.corner
    filled(person, (x + 1450.0, y, 1500.0))
    door = person.cut((x + 400.0, y, 0.0), (x + 1200.0, y, 1700.0), "850 x 1950")
    window = person.cut((x + 1700.0, y, 1000.0), (x + 2500.0, y, 1700.0), "900 x 800")
    assert (door.wide, door.high, window.wide, window.high) == (850.0, 1950.0, 900.0, 800.0)
    assert sum(isinstance(m, CourseMark) for v in session.document.volumes for m in v.marks) == 2
    assert len(person.cautions) == 1 and "hut: 3000 x 2200 x 2200 mm becomes" in person.cautions.pop(), (
        "its gables are told"
    )
    assert sound(person) and person.actions <= 26, person.actions


def test_towers_with_a_thick_walled_window_from_a_worms_eye_too(home, desk):
    person = Person(desk(new_document(away=9000.0, eye_height=1500.0)))
    session = person.hand.session
    tower = person.say("tower 1200 x 1200 x 3000 at -1500, 0, 0, 2 x 1800")
    person.fill(person.part("Form", "Hollow").wall, "150")
    window = person.cut((-1150.0, 0.0, 1700.0), (-750.0, 0.0, 2300.0), "500 x 800")
    tower = session.document.volume(tower.id)
    assert tower.wall == 150.0 and (window.wide, window.high, window.goes) == (500.0, 800.0, "wall")
    lines = session.drawing.scene.vertices[session.drawing.scene.edges]
    depth = np.abs(lines[:, 0, 1] - lines[:, 1, 1])
    assert (np.abs(depth - 150.0) < 1e-6).sum() >= 4, "the wall's thickness shows in the window"
    person.menu(person.part("Eye", "Height and turn").stands, "worm's eye view, tilted")
    assert session.document.eye.pitch_deg > 5.0 and session.document.eye.position[2] < 500.0
    assert sound(person) and person.actions <= 13, person.actions
