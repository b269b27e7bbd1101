"""Whole jobs of form from an empty sheet with mouse and keys only, every action counted: van, bridge, fence and hut, two-wheeler."""

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from isometron.document.fresh import new_document
from isometron.solve.findings import findings
from isometron.volumes.faces.plane import plane_of_face
from isometron.volumes.kinds import own_faces
from isometron.volumes.marks.face_marks import CourseMark, OpeningMark, RingMark
from tests.desk.person import Person
from tests.desk.test_counted_jobs import shaped_van
from tests.desk.test_form_desk import block, form, opening
from tests.desk.test_shaping_desk import choose


@pytest.fixture
def person(desk):
    return Person(desk(new_document(away=9000.0, eye_height=1500.0)))


def chosen(person, offered, words):
    person.actions += 2
    choose(offered, words)


def tick(person, box):
    person.actions += 1
    box.setFocus()
    QTest.keyClick(box, Qt.Key.Key_Space)
    QApplication.processEvents()
    person.hand.board.setFocus()


def tool(person, key):
    person.hand.board.setFocus()
    person.key(key)


def on_face(volume, face, across, up):
    """A place on a face, by parts of its middle lines."""
    return plane_of_face(own_faces(volume)[face]).spot(across, up)


def facing(person, volume, word):
    """The largest face that looks at the eye with a word in its id."""
    eye = person.hand.session.document.eye.place
    faces = [f for k, f in own_faces(volume).items() if k.startswith(word) and (eye - f.corner) @ f.outward > 0.0]
    return max(faces, key=lambda f: f.area).id


def laid(person, title):
    """Lay a starter."""
    starting = person.section(person.hand.desk.stages.body("Block").starting)
    chosen(person, starting.names, title)
    person.button(starting, "Lay it on the sheet")


def all_told(person):
    session = person.hand.session
    found = findings(session.document, session.drawing.picture)
    return [f for f in found if f.code in ("unopened", "uncut", "mark-away")]


def test_a_van_with_windows_lamps_belt_and_centre_line_in_at_most_90_actions(person):
    body, _ = shaped_van(person)
    session = person.hand.session
    stage = form(person)
    # Three windows of the near side, which stand on the far side too: pockets as deep as the glass lies in.
    chosen(person, stage.opening.goes, "a pocket with a bottom")
    person.fill(stage.opening.deep, "25")
    person.fill(stage.opening.radius, "60")
    tick(person, stage.opening.mirrored)
    upper = facing(person, body, "front.")
    wide, high = plane_of_face(own_faces(body)[upper]).wide, plane_of_face(own_faces(body)[upper]).high
    for left in (0.1, 0.36, 0.63):
        tool(person, Qt.Key.Key_W)
        opening(
            person,
            on_face(body, upper, left, 0.15),
            on_face(body, upper, left + 900.0 / wide, 0.15 + 520.0 / high),
            "900 x 520",
        )
    # The windscreen follows the face's own outline.
    chosen(person, stage.opening.form, "the face's outline, inwards")
    tick(person, stage.opening.mirrored)
    tool(person, Qt.Key.Key_W)
    slopes = [f for f in own_faces(body).values() if f.outward[0] > 0.5 and f.outward[2] > 0.4]
    screen = max(slopes, key=lambda f: f.area)
    person.click(*plane_of_face(screen).spot(0.5, 0.5))
    marks = session.document.volume(body.id).marks
    assert [m.form for m in marks] == ["rectangle"] * 3 + ["inset"] and [m.mirrored for m in marks] == [True] * 3 + [
        False
    ]
    # A lamp on the front, and its mirror image.
    front = max(
        (f for f in own_faces(body).values() if f.outward[0] > 0.99 and f.corner @ f.outward > 2000.0),
        key=lambda f: f.area,
    )
    person.key(Qt.Key.Key_F5)
    tool(person, Qt.Key.Key_A)
    hand = person.hand
    person.actions += 2
    hand.press(*plane_of_face(front).spot(0.16, 0.6))
    hand.drag(*plane_of_face(front).spot(0.24, 0.6))
    hand.board.setFocus()
    hand.keys("170")
    hand.key(Qt.Key.Key_Return)
    hand.release(*plane_of_face(front).spot(0.24, 0.6))
    form(person)
    rows = person.section(stage.marks)
    person.switch(rows.rows, "on the other side too")
    lamp = session.document.volume(body.id).marks[-1]
    assert isinstance(lamp, RingMark) and lamp.mirrored and lamp.diameter == 170.0
    # Belt and centre line.
    cuts = person.section(stage.cuts)
    person.fill(cuts.high, "560")
    person.button(cuts, "Belt")
    person.button(cuts, "Centre line")
    assert len(session.document.planes) == 2
    assert all_told(person) == [] and person.cautions == []
    assert person.actions <= 90, person.actions
    print("van", person.actions)
    rings = session.drawing.scene.rounds.rings
    lamps = rings[np.abs(np.sqrt((rings[:, 3:6] ** 2).sum(axis=1)) - 85.0) < 1e-6]
    assert len(lamps) == 2


def test_a_fence_and_a_hut_with_tiles_hole_and_peg_in_at_most_50_actions(person):
    session = person.hand.session
    # A hut from the starters, tiles on its roof, a hole in its gable and a peg below it.
    person.key(Qt.Key.Key_F3)
    laid(person, "gabled hut")
    roof = next(v for v in session.document.volumes if v.name == "Roof")
    slope = max((f for f in own_faces(roof).values() if f.outward[2] > 0.3 and (session.document.eye.place - f.corner) @ f.outward > 0),
                key=lambda f: f.area)  # fmt: skip
    stage = form(person)
    courses = person.section(stage.courses)
    chosen(person, courses.pattern, "tiles")
    tool(person, Qt.Key.Key_U)
    person.click(*plane_of_face(slope).spot(0.5, 0.5))
    person.key(Qt.Key.Key_Escape)
    assert any(isinstance(m, CourseMark) for m in session.document.volume(roof.id).marks)
    gable = next(v for v in session.document.volumes if v.name == "Gable")
    face = next(plane_of_face(f) for k, f in own_faces(gable).items()
                if k in ("x0", "x1") and (session.document.eye.place - f.corner) @ f.outward > 0.0)  # fmt: skip
    next_opening = person.section(stage.opening)
    chosen(person, next_opening.form, "ring")
    chosen(person, next_opening.goes, "a pocket with a bottom")
    tool(person, Qt.Key.Key_W)
    hole = opening(person, face.spot(0.35, 0.15), face.spot(0.65, 0.5), "260")
    person.key(Qt.Key.Key_Escape)
    assert isinstance(hole, OpeningMark) and hole.wide == hole.high == 260.0
    person.key(Qt.Key.Key_F5)
    peg = person.section(person.hand.desk.stages.body("Rounds").on_face)
    chosen(person, peg.kind, "button or knob")
    tool(person, Qt.Key.Key_A)
    hand = person.hand
    person.actions += 2
    hand.press(*face.spot(0.5, 0.08))
    hand.drag(*face.spot(0.54, 0.08))
    hand.board.setFocus()
    hand.keys("60")
    hand.key(Qt.Key.Key_Return)
    hand.release(*face.spot(0.54, 0.08))
    person.key(Qt.Key.Key_Escape)
    # The fence: posts in a row, rails before them.
    post = block(person, (-4600.0, -2600.0, 0.0), "90", "90", "1100")
    person.key(Qt.Key.Key_F4)
    repeat = person.section(person.hand.desk.stages.body("Divide").rows)
    person.field(repeat.rows, "row", "7 x 700")
    person.hand.board.setFocus()
    rail = block(person, (-4600.0, -2630.0, 0.0), "4290", "30", "90")
    person.fill(person.hand.desk.card._places[2], "350")
    person.key(Qt.Key.Key_F4)
    person.list(repeat.rows, "direction", "along high") if any(
        r.words == "direction" for r in repeat.rows._rows
    ) else None
    session.document.volume(post.id)
    assert (
        session.document.volume(post.id).copies[0].count == 7 and session.document.volume(rail.id).corner[2] == 350.0
    )
    assert all_told(person) == [] and person.cautions == []
    assert person.actions <= 50, person.actions
    print("hut and fence", person.actions)


def test_a_two_wheeler_with_discs_a_tyre_section_and_a_saddle_line_in_at_most_80_actions(person):
    session = person.hand.session
    person.key(Qt.Key.Key_F3)
    laid(person, "two-wheeler plane")
    wheel = next(v for v in session.document.volumes if v.name.startswith("Wheel"))
    plane = next(v for v in session.document.volumes if v.see_through)
    # The tyre's section in mm: narrower at its walls, and a straight tread.
    person.hand.session.select((wheel.id,))
    person.actions += 1
    person.key(Qt.Key.Key_F5)
    rounds = person.hand.desk.stages.body("Rounds")
    profile = person.section(rounds.profile)
    for row, column, text in ((0, 1, "560"), (1, 0, "25"), (2, 0, "65")):
        person.actions += 2
        profile.table.item(row, column).setText(text)
    shaped = session.document.volume(wheel.id)
    assert shaped.profile[0].wide == pytest.approx(560.0 / shaped.size[0])
    assert shaped.profile[1].at == pytest.approx(25.0 / shaped.size[1])
    # A brake disc on the wheel's near end, pulled there, and slid off the wheel along its axle.
    person.hand.board.setFocus()
    end = next(f for f in own_faces(shaped).values() if (session.document.eye.place - f.corner) @ f.outward > 0.0)
    centre, aside = end.corner, end.corner + 90.0 * end.x
    tool(person, Qt.Key.Key_R)
    person.pull(tuple(centre), (tuple(aside), "280"), (tuple(centre + 60.0 * end.outward), "8"))
    person.key(Qt.Key.Key_Escape)
    disc = session.document.volumes[-1]
    assert disc.id != wheel.id and sorted(disc.size)[1:] == [280.0, 280.0] and disc.joined is not None
    # The saddle's line, by four points in the side view.
    person.hand.session.select((plane.id,))
    person.actions += 1
    person.key(Qt.Key.Key_V)
    views = person.hand.desk._views
    board = views.board
    QApplication.processEvents()
    person.actions += 1
    QTest.mouseClick(views.draws, Qt.MouseButton.LeftButton)
    before = len(session.document.volume(plane.id).marks)
    x, z = plane.corner[0], plane.corner[2]
    for across, up in ((0.12, 0.62), (0.24, 0.68), (0.36, 0.64), (0.48, 0.72)):
        at = board.pixel(0, np.array([x + across * plane.size[0], z + up * plane.size[2]])).toPoint()
        QTest.mouseMove(board, at)
        QTest.mouseClick(board, Qt.MouseButton.LeftButton, pos=at)
        person.actions += 1
    QTest.keyClick(board, Qt.Key.Key_Return)
    person.actions += 1
    marks = session.document.volume(plane.id).marks
    assert len(marks) == before + 1 and len(marks[-1].points) == 4
    views.close()
    assert person.actions <= 80 and person.cautions == []
    print("two-wheeler", person.actions)
