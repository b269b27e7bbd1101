"""Whole jobs from an empty sheet with mouse and keys only, every action counted.

An action is one click, one pull from press to release, one key or chord, or one typed value with its Enter; a menu is two.
"""

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from isometron.document.edits import resize_volume
from isometron.document.fresh import new_document
from isometron.solve.findings import findings
from isometron.volumes.cut.body import uncut_because
from isometron.volumes.cut.profiles import CutBody, profile_outline, view_size
from isometron.volumes.turned import Turned
from tests.desk.test_shaping_desk import card_drag, choose, opened, press

LEFT = Qt.MouseButton.LeftButton


class Person:
    """One who works at the desk, and whose actions are counted."""

    def __init__(self, hand):
        self.hand, self.actions, self.cautions = hand, 0, []
        hand.session.said.connect(lambda words, caution: caution and self.cautions.append(words))

    def key(self, key):
        self.actions += 1
        self.hand.key(key)

    def pull(self, start, *ways, upright=False):
        """Pull from a place; each way is where the pencil goes next, and what is typed there."""
        self.actions += 1 + int(upright)  # Shift is a key
        held = Qt.KeyboardModifier.ShiftModifier if upright else Qt.KeyboardModifier.NoModifier
        self.hand.press(*start, modifier=held)
        for k, (to, text) in enumerate(ways):
            (self.hand.drag if k == 0 else self.hand.hover)(*to)
            self.hand.board.setFocus()
            self.actions += 1
            self.hand.keys(text)
            self.hand.key(Qt.Key.Key_Return)
            if k == 0:
                self.hand.release(*to)

    def click(self, *place):
        self.actions += 1
        self.hand.click(*place)

    def section(self, section):
        self.actions += 1
        return opened(self.hand, section)

    def menu(self, offered, words):
        self.actions += 2
        choose(offered, words)

    def button(self, place, words):
        self.actions += 1
        press(place, words)

    def outline_typed(self, place, view, text):
        """Choose a view of the selected volume's shape where another one is shown, and type its outline."""
        box = self.row(place.view, "view")
        if box.currentText() != view:
            self.list(place.view, "view", view)
        self.field(place.view, "corners", text)

    def switch(self, rows, words):
        self.actions += 1
        box = self.row(rows, words)
        box.setFocus()
        QTest.keyClick(box, Qt.Key.Key_Space)
        QApplication.processEvents()

    def row(self, rows, words):
        return rows.widgets[[row.words for row in rows._rows].index(words)]

    def list(self, rows, words, choice):
        self.actions += 2
        choose(self.row(rows, words), choice)

    def field(self, rows, words, text):
        """Click into a field of a list of rows and type a value with its Enter."""
        self.fill(self.row(rows, words), text)

    def fill(self, widget, text):
        self.actions += 2
        self.hand.type_into(widget, text)
        QApplication.processEvents()  # the keyboard goes back to the board

    def outline(self, card, start, end):
        """Pull a corner, or a side for a new one, on the outline card; places are parts of the view."""
        self.actions += 1
        size = view_size(self.hand.session.active_volume, card.view)
        card_drag(card, (start[0] * size[0], start[1] * size[1]), (end[0] * size[0], end[1] * size[1]))

    def begin(self, card):
        self.actions += 1
        size = view_size(self.hand.session.active_volume, card.view)
        QTest.mouseClick(card, LEFT, pos=card.point_of(0.5 * size[0], 0.5 * size[1]).toPoint())
        QApplication.processEvents()

    def corner(self, place, at, words, text):
        """Click a corner on the card, and type how it is rounded or chamfered."""
        card = place.card
        self.actions += 1
        size = view_size(self.hand.session.active_volume, card.view)
        QTest.mouseClick(card, LEFT, pos=card.point_of(at[0] * size[0], at[1] * size[1]).toPoint())
        QApplication.processEvents()
        self.field(place.corner, words, text)


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
