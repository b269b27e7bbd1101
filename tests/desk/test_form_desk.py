"""The Form stage through the real window: openings pulled on faces, hollow bodies, and the jobs they are for, counted."""

import msgspec
import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from isometron.document.fresh import new_document
from isometron.view.ring_picture import Circle, ring_picture
from isometron.volumes.framed import Framed
from isometron.volumes.marks.face_marks import OpeningMark
from isometron.volumes.marks.holds import Measured
from isometron.volumes.openings.solids import uncut_openings
from isometron.volumes.sections.plane import plane_at
from isometron.volumes.shells.shells import shell_of
from tests.desk.person import Person
from tests.desk.test_shaping_desk import choose


@pytest.fixture
def person(desk):
    return Person(desk(new_document(away=6000.0, eye_height=1500.0)))


def block(person, start, long, wide, high, *, keep=False):
    """Three pulls with typed lengths, and the tool laid aside unless it is kept in hand."""
    x, y, z = start
    person.key(Qt.Key.Key_B)
    person.pull(start, ((x + 500.0, y, z), long), ((x + float(long), y + 300.0, z), wide), ((x + float(long), y + 300.0, z + 300.0), high))  # fmt: skip
    if not keep:
        person.key(Qt.Key.Key_Escape)
    return person.hand.session.document.volumes[-1]


def opening(person, start, end, text=""):
    """Pull an opening from corner to corner, its size typed where there is one."""
    person.actions += 1
    hand = person.hand
    before = {volume.id: len(volume.marks) for volume in hand.session.document.volumes}
    hand.press(*start)
    hand.drag(*end)
    if text:
        person.actions += 1
        hand.board.setFocus()
        hand.keys(text)
        hand.key(Qt.Key.Key_Return)
    hand.release(*end)
    return next((v.marks[-1] for v in hand.session.document.volumes if len(v.marks) > before[v.id]), None)


def form(person):
    person.key(Qt.Key.Key_F6)
    return person.hand.desk.stages.body("Form")


def test_a_tower_with_a_window_that_shows_the_walls_thickness_in_at_most_18_actions(person):
    tower = block(person, (-600.0, -600.0, 0.0), "1200", "1200", "3000")
    stage = form(person)
    person.fill(person.section(stage.hollow).wall, "150")
    assert person.hand.session.document.volumes[-1].wall == 150.0
    person.key(Qt.Key.Key_W)
    mark = opening(person, (-300.0, -600.0, 1700.0), (200.0, -600.0, 2300.0), "500 x 800")
    assert (mark.wide, mark.high, mark.goes) == (500.0, 800.0, "wall")
    tower = person.hand.session.document.volume(tower.id)
    assert uncut_openings(tower) == {} and person.cautions == []
    # The thickness shows: edges through the wall are seen.
    drawing = person.hand.session.drawing
    lines = drawing.scene.vertices[drawing.scene.edges]
    through = [
        k for k, (a, b) in enumerate(lines) if abs(abs(a[1] - b[1]) - 150.0) < 1e-6 and abs(a[0] - b[0]) < 1e-6
    ]
    seen = {int(edge) for edge, role in zip(drawing.edges.edge, drawing.edges.role, strict=True) if role.name == "OBJECT"} if hasattr(drawing.edges.role[0], "name") else set(drawing.edges.edge.tolist())  # fmt: skip
    assert seen & set(through)
    assert person.actions <= 18
    print("tower", person.actions)


def test_openings_catch_the_middle_edges_and_equal_gaps(person):
    block(person, (-1500.0, 0.0, 0.0), "3000", "300", "2400")
    form(person)
    person.key(Qt.Key.Key_W)
    first = opening(person, (-1200.0, 0.0, 800.0), (-700.0, 0.0, 1600.0))
    assert isinstance(first.at[0], Measured) and first.at[0].mm == pytest.approx(300.0, abs=15.0)
    # A door: its foot catches the foot of the wall, its head that of the window.
    person.key(Qt.Key.Key_W)
    door = opening(person, (-370.0, 0.0, 20.0), (400.0, 0.0, 1605.0))
    assert door.at[1] == Measured(mm=0.0, to="edge")
    volume = person.hand.session.document.volumes[-1]
    head = volume.marks[0].at[1]
    assert uncut_openings(volume) == {}
    assert door.high == pytest.approx(head.mm + first.high) if isinstance(head, Measured) else True


def test_an_opening_is_changed_in_the_list_and_taken_off(person):
    block(person, (-1500.0, 0.0, 0.0), "3000", "300", "2400")
    stage = form(person)
    choose(stage.opening.form, "pointed arch")
    person.key(Qt.Key.Key_W)
    opening(person, (-400.0, 0.0, 0.0), (500.0, 0.0, 1800.0))
    person.key(Qt.Key.Key_Escape)
    marks = person.section(stage.marks)
    person.field(marks.rows, "band", "80")
    person.list(marks.rows, "how deep it goes", "a pocket with a bottom")
    person.field(marks.rows, "depth", "120")
    person.list(marks.rows, "form", "rectangle")
    mark = person.hand.session.document.volumes[-1].marks[0]
    assert isinstance(mark, OpeningMark)
    assert (mark.form, mark.goes, mark.depth, mark.frame) == ("rectangle", "pocket", 120.0, 80.0)
    deeds = marks.parted.parentWidget()
    assert marks.parted.isHidden() and deeds.height() <= 2 * marks.parted.sizeHint().height(), (
        "what is hidden takes no line"
    )
    assert uncut_openings(person.hand.session.document.volumes[-1]) == {}
    person.field(marks.rows, "depth", "900")  # deeper than the wall: kept, and told in Check
    assert any("let it go through" in f.message for f in person.hand.session.drawing.findings)
    person.button(marks, "Take it off")
    assert person.hand.session.document.volumes[-1].marks == ()


def test_a_whole_face_is_opened_by_a_click(person):
    block(person, (-600.0, -600.0, 0.0), "1200", "1200", "1000")
    stage = form(person)
    choose(stage.opening.form, "the face's outline, inwards")
    person.key(Qt.Key.Key_W)
    person.click(0.0, -600.0, 500.0)
    mark = person.hand.session.document.volumes[-1].marks[0]
    assert (mark.form, mark.inset, mark.face) == ("inset", 60.0, 2)


def test_a_wall_without_room_is_refused_and_a_door_in_a_hollow_body_takes_the_end_of_its_floor(person):
    block(person, (-600.0, -600.0, 0.0), "1200", "1200", "1000")
    stage = form(person)
    person.fill(person.section(stage.hollow).wall, "700")
    assert "no room" in person.cautions[-1].lower() or "leaves no room" in person.cautions[-1]
    person.fill(stage.hollow.wall, "100")
    person.key(Qt.Key.Key_W)
    hand = person.hand
    hand.press(-300.0, -600.0, 0.0)
    hand.release(300.0, -600.0, 800.0)
    (door,) = hand.session.document.volumes[-1].marks
    assert (door.wide, door.high) == (600.0, 750.0) and uncut_openings(hand.session.document.volumes[-1]) == {}
    shell = shell_of(hand.session.document.volumes[-1]).shell
    solid = 1200.0 * 1200.0 * 1000.0 - 1000.0 * 1000.0 * 800.0 - 600.0 * 100.0 * 750.0
    assert shell.volume == pytest.approx(solid, rel=1e-6)


def test_a_line_is_drawn_point_by_point_on_a_face_and_on_a_round_side(person):
    block(person, (-600.0, -600.0, 0.0), "1200", "800", "1000")
    stage = form(person)
    choose(stage.line.then, "smooth curve")
    person.key(Qt.Key.Key_L)
    for place in ((-500.0, -600.0, 300.0), (0.0, -600.0, 700.0), (500.0, -600.0, 400.0)):
        person.click(*place)
    person.hand.board.setFocus()  # as a real click does
    person.key(Qt.Key.Key_Return)
    mark = person.hand.session.document.volumes[-1].marks[0]
    assert [p.then for p in mark.points] == ["smooth"] * 3 and not mark.closed
    assert mark.points[1].at[0] == pytest.approx(0.5, abs=0.02)
    marks = person.section(stage.marks)
    assert "mm on paper" in marks.names.currentText()
    person.field(marks.rows, "point 2 up", "900")
    assert person.hand.session.document.volumes[-1].marks[0].points[1].at[1] == Measured(mm=900.0)
    # A closed one of straight runs, its second point at a typed distance.
    person.key(Qt.Key.Key_Escape)
    choose(stage.line.then, "straight runs")
    person.key(Qt.Key.Key_L)
    person.click(-300.0, -600.0, 150.0)
    person.hand.hover(200.0, -600.0, 150.0)
    person.hand.board.setFocus()
    person.hand.keys("400")
    person.hand.key(Qt.Key.Key_Return)
    person.click(100.0, -600.0, 250.0)
    person.click(-300.0, -600.0, 150.0)
    closed = person.hand.session.document.volumes[-1].marks[1]
    assert closed.closed and len(closed.points) == 3
    assert (closed.points[1].at[0] - closed.points[0].at[0]) * 1200.0 == pytest.approx(400.0, abs=1.0)


def test_centre_line_sections_and_a_belt_by_buttons_and_a_plane_by_three_clicks(person):
    block(person, (-600.0, -600.0, 0.0), "1200", "800", "1000")
    stage = form(person)
    cuts = person.section(stage.cuts)
    person.button(cuts, "Centre line")
    person.fill(cuts.every, "300")
    person.button(cuts, "Section lines")
    person.fill(cuts.high, "500")
    person.button(cuts, "Belt")
    planes = person.section(stage.planes)
    kept = person.hand.session.document.planes
    assert [plane.every for plane in kept] == [0.0, 300.0, 0.0] and kept[2].at == Measured(mm=500.0)
    assert "1 section" in planes.said.text() and "mm long in all" in planes.said.text()
    person.field(planes.rows, "second line", "40")
    assert "2 sections" in planes.said.text()
    person.switch(planes.rows, "pane shown")
    assert person.hand.session.document.planes[2].shown
    level = planes.said.text()
    person.field(planes.rows, "leans by", "8")
    assert person.hand.session.document.planes[2].leans_deg == 8.0 and planes.said.text() != level
    person.list(planes.rows, "leans about", "along wide")
    assert person.hand.session.document.planes[2].leans_about == "wide"
    QTest.qWait(50)
    rows = planes.rows
    high = rows.minimumSizeHint().height()
    rows._build()
    assert rows.minimumSizeHint().height() == high
    planes.refresh()
    QTest.qWait(50)
    assert rows.height() >= rows.minimumSizeHint().height(), (
        "more fields have more room, and do not lie over each other"
    )
    person.button(planes, "Forget it")
    assert len(person.hand.session.document.planes) == 2
    person.key(Qt.Key.Key_K)
    for place in ((-600.0, -600.0, 0.0), (600.0, -600.0, 1000.0), (600.0, 200.0, 1000.0)):
        person.click(*place)
    plane = person.hand.session.document.planes[2]
    assert (
        plane.through is not None and plane.of and plane.through[1] == pytest.approx((1200.0, 0.0, 1000.0), abs=1e-6)
    )


def test_a_wheel_is_set_by_the_ring_one_wants_to_see(person):
    hand = person.hand
    eye = hand.session.document.eye
    axle = np.array([np.cos(0.9), np.sin(0.9), 0.0])
    there = ring_picture(eye, Circle.of((200.0, 300.0, 320.0), 320.0, axle, (0.0, 0.0, 1.0)))
    turn = np.radians(there.major_angle)
    major, minor = (
        there.semi_major * np.array([np.cos(turn), np.sin(turn)]),
        there.semi_minor * np.array([-np.sin(turn), np.cos(turn)]),
    )

    def at(place):
        x, y = hand.board.view.point_to_screen(float(place[0]), float(place[1]))
        return QPoint(round(x), round(y))

    centre = np.array(there.centre)
    person.key(Qt.Key.Key_F5)
    person.key(Qt.Key.Key_I)
    hand.mouse(QEvent.Type.MouseMove, at(centre), Qt.MouseButton.NoButton, Qt.MouseButton.NoButton)
    hand.mouse(QEvent.Type.MouseButtonPress, at(centre))
    for kind in (QEvent.Type.MouseMove, QEvent.Type.MouseButtonRelease):
        hand.mouse(kind, at(centre + major))
    hand.mouse(QEvent.Type.MouseMove, at(centre + minor), Qt.MouseButton.NoButton, Qt.MouseButton.NoButton)
    assert "nearest that stands" in hand.board.in_hand.preview.notes[0].text
    hand.mouse(QEvent.Type.MouseButtonPress, at(centre + minor))
    hand.mouse(QEvent.Type.MouseButtonRelease, at(centre + minor))
    wheel = hand.session.document.volumes[-1]
    assert wheel.size[0] == pytest.approx(640.0, rel=0.05)
    assert wheel.corner[2] == 0.0
    rings = hand.session.drawing.scene.rounds.rings
    assert min(np.abs(ring[:3] - (200.0, 300.0, 320.0)).max() for ring in rings) < 40.0


def test_faces_are_filled_with_courses_by_clicks(person):
    block(person, (-1500.0, 0.0, 0.0), "3000", "300", "2400")
    stage = form(person)
    person.section(stage.courses)
    person.key(Qt.Key.Key_U)
    person.click(0.0, 0.0, 1000.0)
    mark = person.hand.session.document.volumes[-1].marks[0]
    assert (mark.pattern, mark.long, mark.high, mark.joint) == ("bricks", 240.0, 71.0, 10.0)
    assert len(person.hand.session.drawing.of("courses").lines) > 100
    person.key(Qt.Key.Key_Escape)
    marks = person.section(stage.marks)
    person.list(marks.rows, "pattern", "planks")
    person.switch(marks.rows, "run up the face")
    mark = person.hand.session.document.volumes[-1].marks[0]
    assert mark.up and mark.pattern == "planks" and mark.high == 120.0


def test_planes_through_an_edge_square_to_a_line_and_parallel(person):
    block(person, (-600.0, -600.0, 0.0), "1200", "800", "1000")
    stage = form(person)
    planes = person.section(stage.planes)
    person.key(Qt.Key.Key_K)
    person.click(0.0, -600.0, 1000.0)  # on the edge: both its ends
    person.click(600.0, 200.0, 0.0)
    (plane,) = person.hand.session.document.planes
    assert plane.through is not None and {plane.through[0], plane.through[1]} == {
        (0.0, 0.0, 1000.0),
        (1200.0, 0.0, 1000.0),
    }
    person.fill(planes.apart, "150")
    person.button(planes, "One parallel to it")
    person.field(planes.rows, "moved by", "-40")
    person.key(Qt.Key.Key_Escape)
    planes.square.click()
    person.key(Qt.Key.Key_K)
    person.click(600.0, -600.0, 500.0)
    document = person.hand.session.document
    named = {volume.id: volume for volume in document.volumes}
    found = [plane_at(plane, named) for plane in document.planes]
    assert len(found) == 3 and abs(found[2][1][2]) == pytest.approx(1.0) and found[2][0][2] in (0.0, 1000.0)
    (place, normal), (other, same) = found[:2]
    assert np.allclose(normal, same) and (other - place) @ normal == pytest.approx(-40.0)
    assert person.cautions == []


def test_lines_are_drawn_on_the_ground_and_on_a_pane_level_with_what_stands(person):
    block(person, (-600.0, -600.0, 0.0), "1200", "800", "1000")
    stage = form(person)
    choose(stage.line.then, "straight runs")
    person.key(Qt.Key.Key_L)
    for place in ((-1100.0, -900.0, 0.0), (-602.0, -900.0, 0.0), (-900.0, -1300.0, 0.0)):
        person.click(*place)
    person.hand.board.setFocus()
    person.hand.key(Qt.Key.Key_Return)
    (ground,) = person.hand.session.document.planes
    assert ground.id == "ground" and len(ground.lines) == 1
    # The second point is caught: level with where the block begins.
    assert ground.lines[0].points[1].at[0] == Measured(mm=-600.0)
    person.key(Qt.Key.Key_Escape)
    person.button(person.section(stage.cuts), "Centre line")
    planes = person.section(stage.planes)
    person.switch(planes.rows, "pane shown")
    section = person.section(stage.line)
    choose(section.then, "smooth curve")
    person.key(Qt.Key.Key_L)
    for place in ((-600.0, -200.0, 1030.0), (0.0, -200.0, 1250.0), (600.0, -200.0, 1030.0)):
        person.click(*place)
    person.hand.board.setFocus()
    person.hand.key(Qt.Key.Key_Return)
    drawn = person.hand.session.document.planes[1]
    assert len(drawn.lines) == 1 and drawn.lines[0].points[0].then == "smooth"
    planes = person.section(stage.planes)
    person.button(planes, "Last line off")
    assert person.hand.session.document.planes[1].lines == () and person.cautions == []


def test_openings_catch_quarters_and_where_other_things_stand(person):
    wall = block(person, (-1500.0, 0.0, 0.0), "3000", "300", "2400")
    small = block(person, (-200.0, -900.0, 0.0), "500", "300", "400")
    ends = small.corner[0] + small.size[0]
    form(person)
    person.key(Qt.Key.Key_W)
    # Begun a little beside the quarter, let go a little beside where the small block ends.
    mark = opening(person, (-744.0, 0.0, 1000.0), (ends - 4.0, 0.0, 1700.0))
    left = mark.at[0].mm + (0.0 if mark.at[0].from_ == "start" else 3000.0 - 2 * mark.at[0].mm - mark.wide)
    assert left == pytest.approx(750.0) and mark.wide == pytest.approx(ends - wall.corner[0] - 750.0)


def test_a_roof_and_a_fence_are_begun_by_a_button_each(person):
    body = block(person, (-600.0, -400.0, 0.0), "1200", "800", "700")
    stage = form(person)
    section = person.section(stage.roofs)
    person.fill(section.slope, "30")
    person.button(section, "Gabled roof")
    walls, roof = person.hand.session.document.volumes
    assert walls.front is not None and walls.size[2] > body.size[2]
    assert roof.size[0] == pytest.approx(1200.0 + 400.0) and roof.joined.to == body.id
    fences = person.section(stage.fences)
    person.fill(fences.long, "4000")
    person.button(fences, "Lay a fence")
    assert [volume.name for volume in person.hand.session.document.volumes[2:]] == ["Post", "Rail"]
    person.hand.session.select((roof.id,))
    person.button(person.section(stage.roofs), "Hipped roof")
    assert "upright block" in person.cautions[-1]


def test_openings_are_pulled_on_the_slab_and_a_leg_of_a_frame(desk):
    table = Framed(
        id="t", name="Table", corner=(-600.0, 0.0, 0.0), size=(1200.0, 700.0, 750.0), leg=(80.0, 80.0), top=40.0
    )
    person = Person(desk(msgspec.structs.replace(new_document(away=3500.0, eye_height=1500.0), volumes=(table,))))
    form(person)
    person.key(Qt.Key.Key_W)
    hole = opening(person, (-100.0, 200.0, 750.0), (200.0, 500.0, 750.0), "300 x 200")
    assert (hole.face, hole.wide, hole.high) == ("slab.z1", 300.0, 200.0)
    leg = opening(person, (-580.0, 0.0, 300.0), (-540.0, 0.0, 450.0), "40 x 150")
    assert leg.face == "leg.1.y0"
    volume = person.hand.session.document.volumes[-1]
    assert uncut_openings(volume) == {} and len(volume.marks) == 2
    # What is seen through the slab is the ground: the hole's far wall and nothing of a bottom.
    assert all(mark.goes == "wall" for mark in volume.marks)


def test_a_rolled_rim_is_laid_round_the_selected_volume_with_a_typed_radius(person):
    block(person, (-600.0, 0.0, 0.0), "1200", "600", "800")
    cuts = person.section(form(person).cuts)
    person.fill(cuts.high, "500")
    person.fill(cuts.rim, "3 cm")
    (button,) = (b for b in cuts.findChildren(QPushButton) if b.text() == "Rolled rim")
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    rim = person.hand.session.document.volumes[-1]
    assert rim.size == (1260.0, 660.0, 60.0) and rim.corner[2] == 470.0 and len(rim.rounded) == 8
    assert person.cautions == []


def test_a_tool_opens_its_own_section_and_what_is_laid_is_selected_with_its_fields_in_view(person, qtbot):
    body = block(person, (-600.0, 0.0, 0.0), "1200", "600", "700", keep=True)
    hand, stages = person.hand, person.hand.desk.stages
    hand.session.select(())
    for key, name in (
        (Qt.Key.Key_L, "line"),
        (Qt.Key.Key_S, "rounded"),
        (Qt.Key.Key_U, "courses"),
        (Qt.Key.Key_W, "opening"),
    ):
        hand.board.setFocus()
        hand.key(key)
        form = stages.body("Form")
        (own,) = (section for section in form.sections.all if name in section.tool_names)
        assert [s for s in form.sections.all if s.head.isChecked()][-1:] == [own] or own.head.isChecked()
    hand.press(-400.0, 0.0, 200.0)
    hand.drag(-100.0, 0.0, 500.0)
    hand.release(-100.0, 0.0, 500.0)
    assert hand.session.selection == (body.id,)
    marks = form.marks
    assert marks.head.isChecked() and own.head.isChecked(), "what it is set to stays open beside what it has laid"

    def in_view():
        place = form.sections._place.viewport()
        top = marks.rows.widgets[0].mapTo(place, QPoint(0, 0)).y()
        return 0 <= top < place.height() / 2

    qtbot.waitUntil(in_view, timeout=5000)
    hand.key(Qt.Key.Key_Escape)
    marks.head.click()
    assert not marks.head.isChecked()
