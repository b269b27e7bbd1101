"""Rounding edges through the real window: pulled, clicked, typed, changed in the list."""

import msgspec
import pytest
from PyQt6.QtCore import Qt

from isometron.document.fresh import new_document
from isometron.volumes.box import Box
from isometron.volumes.rounded import RoundedEdge
from tests.desk.person import Person
from tests.desk.test_form_desk import form

BLOCK = Box(id="b", name="Block", corner=(-600.0, -400.0, 0.0), size=(1200.0, 800.0, 700.0))


@pytest.fixture
def person(desk):
    document = msgspec.structs.replace(new_document(away=5000.0, eye_height=1500.0), volumes=(BLOCK,))
    person = Person(desk(document))
    person.hand.session.select(("b",))
    return person


def rounded(person):
    return person.hand.session.document.volumes[0].rounded


def test_an_edge_is_pulled_typed_clicked_and_changed(person):
    stage = form(person)
    person.key(Qt.Key.Key_S)
    hand = person.hand
    hand.press(0.0, -400.0, 700.0)
    hand.drag(0.0, -300.0, 700.0)
    assert "radius" in hand.words()
    hand.release(0.0, -300.0, 700.0)
    (edge,) = rounded(person)
    assert set(edge.between) == {2, 5} and edge.radius == pytest.approx(100.0, abs=15.0)
    # Typed while it is pulled: that edge anew.
    hand.press(0.0, -400.0, 700.0)
    hand.drag(0.0, -340.0, 700.0)
    hand.board.setFocus()
    hand.keys("80")
    hand.key(Qt.Key.Key_Return)
    hand.release(0.0, -340.0, 700.0)
    assert rounded(person) == (RoundedEdge(between=edge.between, radius=80.0),)
    section = person.section(stage.rounded)
    person.fill(section.radius, "80")
    person.key(Qt.Key.Key_Escape)
    person.key(Qt.Key.Key_S)
    person.click(-600.0, -400.0, 350.0)
    assert {frozenset(e.between) for e in rounded(person)} == {frozenset((2, 5)), frozenset((0, 2))} and rounded(
        person
    )[1].radius == 80.0
    person.field(section.rows, "radius", "40")
    assert "same radius" in person.cautions[-1] and rounded(person)[1].radius == 80.0
    section.off.click()
    assert len(rounded(person)) == 1
    person.field(section.rows, "grows to", "160")
    assert rounded(person)[0].grows_to == 160.0
    hand.board.setFocus()
    hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert rounded(person)[0].grows_to is None


def test_all_edges_of_a_face_and_of_a_body_in_a_click(person):
    stage = form(person)
    section = person.section(stage.rounded)
    person.fill(section.radius, "50")
    person.key(Qt.Key.Key_S)
    person.hand.hover(0.0, 0.0, 700.0)
    person.click(0.0, 0.0, 700.0)
    assert len(rounded(person)) == 4 and {5} == set.intersection(*(set(e.between) for e in rounded(person)))
    person.button(section, "Round them all")
    assert len(rounded(person)) == 12 and person.cautions == []
    person.hand.press(0.0, -400.0, 700.0)
    person.hand.drag(0.0, 100.0, 700.0)
    person.hand.release(0.0, 100.0, 700.0)
    assert len(rounded(person)) == 12 and "radius" in person.hand.words()
