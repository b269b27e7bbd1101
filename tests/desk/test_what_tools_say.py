"""A tool does what it says: what it names is what it takes, what is refused is let go, and why stands until the next deed."""

import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt

from isometron.desk.deeds.tools import TOOLS
from isometron.document.fresh import new_document
from isometron.tools.handles import Grip
from isometron.volumes.cut.profiles import CutBody
from tests.desk.person import Person
from tests.desk.test_form_desk import block, form
from tests.desk.test_shaping_desk import handle_pixel


@pytest.fixture
def person(home, desk):
    return Person(desk(new_document()))


@pytest.fixture
def body(person):
    return block(person, (-600.0, -400.0, 0.0), "1200", "800", "700")


def named(person):
    """What is named beside the pencil, and what the bar names under it."""
    preview = person.hand.board.in_hand.preview
    return [note.text for note in preview.notes], person.hand.desk.strip._place.text()


def test_what_is_divided_is_said_and_stays_said(person, body):
    person.key(Qt.Key.Key_D)
    for place, words in (((0.0, -400.0, 350.0), "side"), ((0.0, -400.0, 0.0), "edge")):
        person.hand.hover(*place)
        (note,), bar = named(person)
        person.click(*place)
        assert person.hand.words() == f"Laid: {note}" and words in note
        assert "true" not in bar, "nothing else is named beside what a press would take"
        person.hand.hover(-1500.0, 300.0, 0.0)
        assert person.hand.words() == f"Laid: {note}"
    assert len(person.hand.session.document.volume(body.id).marks) == 2


def test_what_is_rounded_is_what_was_named(person, body):
    person.key(Qt.Key.Key_S)
    for place in ((0.0, -400.0, 700.0), (0.0, 0.0, 700.0)):
        person.hand.hover(*place)
        (note,), bar = named(person)
        assert "true" not in bar
        person.click(*place)
        assert note in person.hand.words() and "Rounded by" in person.hand.words()


def test_an_opening_that_is_refused_is_let_go_and_why_stands(person, body):
    stage = form(person)
    person.menu(stage.opening.goes, "a pocket with a bottom")
    person.fill(stage.opening.deep, "0")
    person.key(Qt.Key.Key_W)
    hand = person.hand

    def pulled(start):
        hand.press(start, -400.0, 200.0)
        hand.drag(start + 300.0, -400.0, 500.0)
        hand.release(start + 300.0, -400.0, 500.0)
        return hand.session.document.volume(body.id).marks

    assert pulled(-400.0) == () and "depth" in hand.words() and hand.words().startswith("⚠")
    assert not hand.board.in_hand.busy, "the corner is let go"
    why = hand.words()
    hand.hover(300.0, -400.0, 100.0)
    assert hand.words() == why
    person.fill(stage.opening.deep, "50")
    hand.board.setFocus()
    (mark,) = pulled(100.0)
    assert abs(mark.wide - 300.0) < 100.0 and hand.words() != why


def test_a_wheel_pulled_on_a_side_is_caught_by_the_ground(person, body):
    hand = person.hand
    person.key(Qt.Key.Key_R)
    hand.press(0.0, -400.0, 320.0)
    hand.drag(0.0, -400.0, 12.0)
    assert "⌀ 640 mm · on the ground" in named(person)[0][0]
    hand.release(0.0, -400.0, 12.0)
    hand.board.setFocus()
    hand.hover(0.0, -600.0, 320.0)
    hand.keys("200")
    hand.key(Qt.Key.Key_Return)
    wheel = hand.session.document.volumes[-1]
    assert wheel.size[0] == wheel.size[2] == 640.0 and wheel.corner[2] == pytest.approx(0.0)


def test_why_a_corner_goes_no_farther_stands_after_it_is_let_go(person, body):
    hand = person.hand
    place = person.section(hand.desk.stages.body("Block").shapes)
    person.field(place.view, "corners", "0, 0; 0, 100 %; 60 %, 100 % round 100; 100 %, 60 %; 100 %, 0")
    assert isinstance(hand.session.document.volume(body.id), CutBody)
    at = handle_pixel(hand, Grip.CORNER, 3)
    over = handle_pixel(hand, Grip.CORNER, 4) + QPoint(0, 30)
    hand.mouse(QEvent.Type.MouseMove, at, Qt.MouseButton.NoButton, Qt.MouseButton.NoButton)
    hand.mouse(QEvent.Type.MouseButtonPress, at)
    hand.mouse(QEvent.Type.MouseMove, over, Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton)
    told = hand.words()
    hand.mouse(QEvent.Type.MouseButtonRelease, over)
    assert told.startswith("⚠") and hand.words() == told


@pytest.mark.parametrize(
    "name", [name for name, tool in TOOLS.items() if tool.makes is not None and not tool.section]
)
def test_a_prompt_leaves_with_its_tool(person, body, name):
    hand = person.hand
    before = hand.words()
    hand.key(getattr(Qt.Key, f"Key_{TOOLS[name].key}"))
    hand.hover(0.0, -400.0, 350.0)
    assert hand.board.has_tool and hand.words() != before
    hand.key(Qt.Key.Key_Escape)
    assert not hand.board.has_tool and hand.words() == before
