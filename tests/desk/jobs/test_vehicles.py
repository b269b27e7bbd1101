"""Vehicles from an empty sheet, as a newcomer does them who has read the handbook's page: every action counted, every label in sight."""

import pytest
from PyQt6.QtCore import Qt

from isometron.document.fresh import new_document
from isometron.solve.findings import findings
from isometron.volumes.cut.body import uncut_because
from isometron.volumes.faces.plane import plane_of_face
from isometron.volumes.kinds import own_faces
from tests.desk.person import Person

KEY = Qt.Key


@pytest.fixture
def person(home, desk):
    return Person(desk(new_document(away=9000.0, eye_height=1500.0)))


def shape(person, side=None, plan=None, front=None, arches=None):
    """Type outlines of the selected body in the section of its shape."""
    place = person.part("Block", "Shape")
    if side:
        person.outline_typed(place, "side view", side)
    if arches:
        person.menu(place.arches, arches)
    for view, outline in (("plan", plan), ("front view", front)):
        if outline:
            person.outline_typed(place, view, outline)


def wheels(person, at, said):
    """Pull a wheel on a body's side; its diameter, its tyre and the rows it stands in are typed."""
    x, y, z = at
    person.key(KEY.Key_R)
    person.pull(at, ((x + 200.0, y, z), said))
    return person.hand.session.active_volume


def test_a_low_car_then_shortened_then_a_lower_eye(person):
    session = person.hand.session
    body = person.say("body 4400 x 1800 x 620 at -2200, -900, 220")
    wheel = wheels(person, (-1350.0, -900.0, 325.0), "650 x 210, 2 x 2650; wide 2 x 1590")
    person.button(person.part("Rounds", "Make it round"), "wheel")
    person.select(body)
    shape(person, "5 %, 0; 1.5 %, 14 %; 0, 92 %; 16 %, 100 %; 66 %, 93 %; 96 %, 77 % round 60; 100 %, 55 % round 50; 99 %, 16 %; 95.5 %, 0",
          "0, 7 %; 10 %, 0; 88 %, 0; 100 %, 13 % chamfer 90; 100 %, 50 %; 0, 50 %; alike",
          "50 %, 0; 0, 0; 0, 60 %; 5 %, 100 %; 50 %, 100 %; alike", session.document.volume(wheel.id).name)  # fmt: skip
    cabin = person.say("cabin 2300 x 1540 x 580 on body")
    place = person.part("Block", "Shape")
    person.menu(place.names, "cabin, sides leaning in")
    person.outline_typed(place, "side view", "0, 0; 24 %, 100 % round 200; 63 %, 100 % round 230; 100 %, 0")
    person.select(body)
    person.fill(person.part("Block", "Too long").how, "0.9")
    person.fill(person.named(person.part("Eye", "Height and turn"), "Eye height"), "900")
    document = session.document
    body, wheel, cabin = (document.volume(one.id) for one in (body, wheel, cabin))
    assert body.size[0] == pytest.approx(3960.0) and cabin.size[0] == pytest.approx(2070.0)
    assert not uncut_because(body) and not uncut_because(cabin) and cabin.joined.to == body.id
    assert wheel.corner[2] == pytest.approx(0.0) and wheel.size[0] == pytest.approx(wheel.size[2])
    assert document.eye.position[2] == pytest.approx(900.0)
    assert [f for f in findings(document, session.drawing.picture) if f.code == "uncut"] == []
    assert person.cautions == [] and person.actions <= 33, person.actions


def test_a_delivery_van_with_openings_lamps_belt_lines_and_a_rounded_roof(person):
    session = person.hand.session
    body = person.say("body 4600 x 1900 x 1800 at -2300, -950, 300")
    wheel = wheels(person, (-1400.0, -950.0, 325.0), "650 x 210, 2 x 2800; wide 2 x 1690")
    person.button(person.part("Rounds", "Make it round"), "wheel")
    person.select(body)
    shape(person, "0, 0; 0, 90 %; 2 %, 100 %; 72 %, 100 % round 190; 87 %, 52 % round 130; 100 %, 34 % round 90; 98.5 %, 0",
          "0, 50 %; 0, 0 round 70; 90 %, 0; 100 %, 9 % chamfer 80; 100 %, 50 %; alike",
          "50 %, 0; 0, 0; 0, 45 %; 6 %, 100 % round 110; 50 %, 100 %; alike", session.document.volume(wheel.id).name)  # fmt: skip
    # Windows of both sides, as deep as the glass lies in; the windscreen follows its face.
    person.key(KEY.Key_W)
    stage = person.part("Form", "Opening")
    person.pick(stage.goes, "a pocket with a bottom")
    person.tick(stage.mirrored)
    person.hand.board.setFocus()
    upper = facing(person, session.document.volume(body.id), "front.")
    plane = plane_of_face(own_faces(session.document.volume(body.id))[upper])
    person.pull(
        plane.spot(0.1, 0.15),
        (plane.spot(0.1 + 900.0 / plane.wide, 0.15 + 480.0 / plane.high), "900 x 520, 3 gap 90"),
    )
    person.key(KEY.Key_W)
    person.pick(stage.form, "the face's outline, inwards")
    person.tick(stage.mirrored)
    person.hand.board.setFocus()
    screen = max(
        (f for f in own_faces(body_now(session, body)).values() if f.outward[0] > 0.5 and f.outward[2] > 0.4),
        key=lambda f: f.area,
    )
    person.click(*plane_of_face(screen).spot(0.5, 0.5))
    # A lamp of the front, and its mirror image.
    front = max(
        (
            f
            for f in own_faces(body_now(session, body)).values()
            if f.outward[0] > 0.99 and f.corner @ f.outward > 2000.0
        ),
        key=lambda f: f.area,
    )
    person.cut(plane_of_face(front).spot(0.16, 0.6), plane_of_face(front).spot(0.24, 0.6), "170", KEY.Key_A)
    person.key(KEY.Key_Escape)
    person.switch(person.part("Divide", "Marks").rows, "on the other side too")
    lines = person.part("Form", "Sections, belts")
    person.fill(lines.high, "560")
    person.button(lines, "Belt")
    person.button(lines, "Centre line")
    person.button(lines, "Section lines")
    windows, screen, lamp = body_now(session, body).marks
    assert (
        (windows.count, windows.mirrored, windows.depth) == (3, True, 50.0)
        and screen.form == "inset"
        and lamp.mirrored
    )
    assert len(session.document.planes) >= 3 and not uncut_because(body_now(session, body))
    found = findings(session.document, session.drawing.picture)
    assert not [f for f in found if f.code in ("unopened", "uncut", "mark-away")] and person.cautions == []
    assert person.actions <= 45, person.actions


def test_a_two_wheeler_without_starter_discs_steered_fork_at_26_degrees(person):
    session = person.hand.session
    person.say("frame 1250 x 60 x 700 at -600, 0, 200")
    wheels_, discs = [], []
    for x in (-560.0, 560.0):
        wheel = wheels(person, (x, 0.0, 320.0), "640 x 110")
        person.button(person.part("Rounds", "Make it round"), "wheel")
        person.fill(person.hand.desk.card._places[1], "-25")
        person.hand.board.setFocus()
        wheels_.append(wheel.id)
        discs.append(wheels(person, (x, -25.0, 320.0), "280 x 8").id)
        person.key(KEY.Key_Escape)
    person.select(session.document.volume(wheels_[1]))
    person.field(person.part("Rounds", "Wheel, ball").rows, "steer", "20")
    person.say("fork 50 x 50 x 720 at 500, 5, 300")
    person.fill(person.named(person.hand.desk.card, "Tilt"), "-26")
    rear, front = (session.document.volume(name) for name in wheels_)
    assert [w.size for w in (rear, front)] == [(640.0, 110.0, 640.0)] * 2 and (rear.steer_deg, front.steer_deg) == (
        0.0,
        20.0,
    )
    assert [w.corner[1] + w.size[1] / 2 for w in (rear, front)] == pytest.approx([30.0, 30.0]), (
        "in the frame's middle"
    )
    assert {session.document.volume(name).joined.to for name in discs} == set(wheels_)
    assert session.document.volumes[-1].pitch_deg == pytest.approx(-26.0)
    refused = [words for words in person.cautions if "is held otherwise now" not in words]
    assert refused == [] and person.actions <= 37, person.actions


def body_now(session, body):
    """The body as it is now."""
    return session.document.volume(body.id)


def facing(person, volume, word):
    """The largest face that looks at the eye with a word in its id."""
    eye = person.hand.session.document.eye.place
    faces = [f for k, f in own_faces(volume).items() if k.startswith(word) and (eye - f.corner) @ f.outward > 0.0]
    return max(faces, key=lambda f: f.area).id
