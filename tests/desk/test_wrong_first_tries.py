"""What a newcomer tries first and what does not go: each is answered at once, in words that name what does."""

import pytest
from PyQt6.QtCore import Qt

from isometron.document.fresh import new_document
from tests.desk.person import Person
from tests.desk.test_form_desk import block

KEY = Qt.Key
GROUND, SKY = (900.0, -700.0, 0.0), (0.0, 0.0, 9000.0)
FACE = (0.0, -400.0, 350.0)


@pytest.fixture
def person(home, desk):
    return Person(desk(new_document()))


@pytest.mark.parametrize(
    ("key", "place", "right"),
    [
        (KEY.Key_B, SKY, "Press below it"), (KEY.Key_R, SKY, "Press below it"), (KEY.Key_Q, SKY, "Press below it"),
        (KEY.Key_W, GROUND, "Press on a solid volume"), (KEY.Key_A, GROUND, "Press on a solid volume"),
        (KEY.Key_D, GROUND, "Click on a solid volume"), (KEY.Key_U, GROUND, "solid volume"),
        (KEY.Key_S, GROUND, "press on an outer edge"), (KEY.Key_J, GROUND, "volume"),
    ],
)  # fmt: skip
def test_a_press_where_nothing_can_be_laid_says_where_it_can(person, key, place, right):
    block(person, (-600.0, -400.0, 0.0), "1200", "800", "700")
    hand = person.hand
    person.key(key)
    before = hand.session.document
    hand.press(*place)
    hand.drag(*[c + 5.0 for c in place])
    assert right in hand.words() and hand.words().startswith("⚠"), hand.words()
    hand.release(*[c + 5.0 for c in place])
    assert hand.session.document == before


@pytest.mark.parametrize(
    ("typed", "right"),
    [
        ("420 x", "420 x 400 x 45"), ("420 x 400 x 45 x 9", "420 x 400 x 45"), ("1.200", "1200"), ("12oo", "12"),
        ("400 chair", "chair"), ("420 x 400 at chair", "at 0, 363, 529"),
    ],
)  # fmt: skip
def test_a_size_that_is_no_size_is_answered_with_one_that_is(person, typed, right):
    hand = person.hand
    person.key(KEY.Key_B)
    hand.press(-300.0, 0.0, 0.0)
    hand.drag(200.0, 0.0, 0.0)
    hand.board.setFocus()
    hand.keys(typed)
    hand.key(KEY.Key_Return)
    assert hand.words().startswith("⚠") and right in hand.words(), hand.words()
    assert hand.board.in_hand.busy and hand.session.document.volumes == (), "the pull goes on"


@pytest.mark.parametrize(
    ("stage", "section", "button", "right"),
    [
        ("Form", "Roof", "Gabled roof", "Select a block"), ("Form", "Sections, belts", "Belt", "Select a volume"),
        ("Form", "Edges", "Round them all", "Select a volume"), ("Rounds", "Make it round", "cylinder", "elect"),
    ],
)  # fmt: skip
def test_a_button_that_needs_a_volume_says_so_or_cannot_be_pressed(person, stage, section, button, right):
    block(person, (-600.0, -400.0, 0.0), "1200", "800", "700")
    hand = person.hand
    hand.session.select(())
    body = hand.desk.stages.body(stage)
    hand.desk.stages.open(stage)
    found = next(one for one in body.sections.all if one.head.text() == section)
    place = person.section(found)
    made = next(b for b in place.findChildren(type(found.head)) if b.text() == button)
    if made.isEnabled():
        person.button(place, button)
        assert right in hand.words(), hand.words()
    else:
        told = " ".join([made.toolTip(), *(label.text() for label in place.findChildren(type(found.title)))])
        assert right in told, told
