"""Whole jobs from an empty sheet with mouse and keys only, every action counted.

An action is one click, one pull from press to release, one key or chord, or one typed value with its Enter; a menu is two.
"""

import numpy as np
import pytest
from PyQt6.QtCore import Qt

from isometron.document.edits import resize_volume
from isometron.document.fresh import new_document
from isometron.solve.findings import findings
from isometron.volumes.cut.body import uncut_because
from isometron.volumes.cut.profiles import CutBody, profile_outline, view_size
from isometron.volumes.turned import Turned
from tests.desk.person import Person

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def person(desk):
    return Person(desk(new_document(away=9000.0, eye_height=1500.0)))


def body_of(person, start, long, wide, high, floor):
    """Pull a body from a corner on the ground, and lift it."""
    x, y, z = start
    far = x + float(long)
    person.key(Qt.Key.Key_B)
    person.pull(start, ((x + 700.0, y, z), long), ((far, y + 500.0, z), wide), ((far, y + 500.0, z + 400.0), high))
    person.fill(person.hand.desk.card._places[2], floor)
    return person.hand.session.document.volumes[-1]


def four_wheels(person, body, at, diameter, tyre, pitch):
    """Pull a wheel on the body's near side, make it a row of two, and mirror it."""
    x, y, z = at
    person.key(Qt.Key.Key_R)
    person.pull(at, ((x + 200.0, y, z), diameter), ((x, y - 200.0, z), tyre))
    person.key(Qt.Key.Key_Escape)
    wheel = person.hand.session.document.volumes[-1]
    person.key(Qt.Key.Key_F5)
    person.button(person.hand.desk.stages.body("Rounds").sections.all[0], "wheel")
    person.fill(person.hand.desk.card._places[2], "0")
    person.key(Qt.Key.Key_F4)
    rows = person.section(person.hand.desk.stages.body("Divide").rows)
    person.field(rows.rows, "row", f"2 x {pitch}")
    person.key(Qt.Key.Key_F3)
    joins = person.section(person.hand.desk.stages.body("Block").joins)
    person.menu(joins.planes, f"middle of {body.name}: image {joins._image_lies(body, 'wide')}")
    return wheel.id


def test_a_low_car_in_at_most_60_actions(person):
    session = person.hand.session
    body = body_of(person, (-2200.0, -900.0, 0.0), "4400", "1800", "620", "220")
    wheel = four_wheels(person, body, (-1350.0, -900.0, 400.0), "650", "210", "2650")
    person.click(1900.0, -900.0, 600.0)
    assert session.selection == (body.id,)
    place = person.section(person.hand.desk.stages.body("Block").shapes)
    person.outline_typed(place, "side view", "5 %, 0; 1.5 %, 14 %; 0, 92 %; 16 %, 100 %; 66 %, 93 %; 96 %, 77 % round 60; 100 %, 55 % round 50; "
                         "99 %, 16 %; 95.5 %, 0")  # fmt: skip
    person.menu(place.arches, session.document.volume(wheel).name)
    person.outline_typed(
        place, "plan", "0, 7 %; 10 %, 0; 88 %, 0; 100 %, 13 % chamfer 90; 100 %, 50 %; 0, 50 %; alike"
    )
    person.outline_typed(place, "front view", "50 %, 0; 0, 0; 0, 60 %; 5 %, 100 %; 50 %, 100 %; alike")
    shaped = session.document.volume(body.id)
    assert isinstance(shaped, CutBody) and not uncut_because(shaped) and shaped.plan and shaped.front
    # The cabin, on the body's top.
    person.key(Qt.Key.Key_B)
    x, y, z = shaped.corner
    top = z + 620.0
    person.pull((x + 900.0, y + 900.0, top), ((x + 1500.0, y + 900.0, top), "2300"), ((x + 3200.0, y + 1300.0, top), "1540"),
                ((x + 3200.0, y + 2440.0, top + 300.0), "580"), upright=True)  # fmt: skip
    for row, far in enumerate((x + 620.0, y + 130.0, z + 540.0)):
        person.fill(person.hand.desk.card._places[row], f"{far:g}")
    cabin = session.document.volumes[-1]
    assert cabin.upright and cabin.joined is not None
    person.outline_typed(place, "side view", "0, 0; 24 %, 100 % round 200; 63 %, 100 % round 230; 100 %, 0")
    person.outline_typed(place, "front view", "50 %, 0; 0, 0; 12 %, 100 %; 50 %, 100 %; alike")
    assert person.actions <= 60 and person.cautions == [], (person.actions, person.cautions)
    done = session.document
    cabin = done.volume(cabin.id)
    assert isinstance(cabin, CutBody) and cabin.side and cabin.front and cabin.joined.to == body.id
    held_to_wheels(session, body.id, wheel, 0.57 * 650.0)
    assert not [f for f in findings(done, session.drawing.picture) if f.code == "uncut"]


def shaped_van(person):
    """Pull, shape and wheel a tall van; return its body and its wheel."""
    session = person.hand.session
    body = body_of(person, (-2300.0, -950.0, 0.0), "4600", "1900", "1800", "300")
    wheel = four_wheels(person, body, (-1400.0, -950.0, 500.0), "650", "210", "2800")
    person.click(1900.0, -950.0, 1500.0)
    place = person.section(person.hand.desk.stages.body("Block").shapes)
    person.outline_typed(
        place,
        "side view",
        "0, 0; 0, 90 %; 2 %, 100 %; 72 %, 100 % round 190; 87 %, 52 % round 130; 100 %, 34 % round 90; 98.5 %, 0",
    )
    person.menu(place.arches, session.document.volume(wheel).name)
    person.outline_typed(place, "plan", "0, 50 %; 0, 0 round 70; 90 %, 0; 100 %, 9 % chamfer 80; 100 %, 50 %; alike")
    person.outline_typed(place, "front view", "50 %, 0; 0, 0; 0, 45 %; 6 %, 100 % round 110; 50 %, 100 %; alike")
    return session.document.volume(body.id), wheel


def test_a_tall_van_in_at_most_50_actions(person):
    shaped, wheel = shaped_van(person)
    assert person.actions <= 50 and person.cautions == [], person.actions
    assert isinstance(shaped, CutBody) and not uncut_because(shaped) and shaped.side and shaped.plan and shaped.front
    held_to_wheels(person.hand.session, shaped.id, wheel, 0.57 * 650.0)


def arcs_of(document, body_id):
    """Centres and radii of the arches in a body's side view, in the world's x and z."""
    body = document.volume(body_id)
    outline = profile_outline(body.side, "side", view_size(body, "side"))
    origin = np.array([body.corner[0], body.corner[2]])
    round_ = [
        (origin + b.centre, float(np.hypot(*b.first)))
        for b in outline.bends.values()
        if b.sweep < 0.0 and b.centre[1] < 0.3 * body.size[2]
    ]
    return sorted((*centre.round(3), round(radius, 3)) for centre, radius in round_)


def held_to_wheels(session, body_id, wheel_id, radius):
    """The arches are concentric with the wheels, and stay so when body and wheels change."""
    for edit in (None, (body_id, 0, 4800.0), (wheel_id, 0, 700.0)):
        if edit is not None:
            assert session.attempt(resize_volume, *edit)
        wheel = session.document.volume(wheel_id)
        assert isinstance(wheel, Turned)
        found = arcs_of(session.document, body_id)
        assert len(found) == 2
        for k, (x, z, far) in enumerate(found):
            middle = wheel.corner[0] + wheel.size[0] / 2 + k * wheel.copies[0].pitch
            assert (x, z) == pytest.approx((middle, wheel.corner[2] + wheel.size[2] / 2), abs=0.01)
            assert far == pytest.approx(radius * wheel.size[0] / 650.0, rel=1e-3)
