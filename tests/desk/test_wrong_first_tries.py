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


@pytest.mark.parametrize(
    ("typed", "right"),
    [
        ("650 x 210 x 9", "diameter x height: 650 x 210"), ("650, 2 x 900", "650 x 210, 2 x 2650"),
        ("650 x 210 at 0, 0, 0", "is pressed"), ("650 x 210, 2 x 5 oops", "Understood: 1200"), ("650 x", "A size is wanted"),
    ],
)  # fmt: skip
def test_a_round_that_is_said_wrong_is_answered_with_how_it_is_said(person, typed, right):
    hand = person.hand
    person.key(KEY.Key_R)
    hand.press(-300.0, 0.0, 0.0)
    hand.drag(-100.0, 0.0, 0.0)
    hand.board.setFocus()
    hand.keys(typed)
    hand.key(KEY.Key_Return)
    assert hand.words().startswith("⚠") and right in hand.words(), hand.words()
    assert hand.board.in_hand.busy and hand.session.document.volumes == (), "the pull goes on"


@pytest.mark.parametrize(
    ("typed", "right"),
    [
        ("200 x 300, 9 gap 300", "is too long a row here"), ("200 x 300, 3 oops", "3 gap 900 clear between them"),
        ("200 x 300, 3 gap 5 oops", "Understood: 1200"), ("200 x 300 x 5", "800 x 900"), ("9000", "make it smaller"),
    ],
)  # fmt: skip
def test_an_opening_that_is_said_wrong_is_answered_with_how_it_is_said(person, typed, right):
    block(person, (-600.0, -400.0, 0.0), "1200", "800", "700")
    hand = person.hand
    person.key(KEY.Key_W)
    before = hand.session.document
    hand.press(-500.0, -400.0, 200.0)
    hand.drag(-300.0, -400.0, 500.0)
    hand.board.setFocus()
    hand.keys(typed)
    hand.key(KEY.Key_Return)
    assert hand.words().startswith("⚠") and right in hand.words(), hand.words()
    assert hand.session.document == before
    hand.key(KEY.Key_Escape)
    hand.keys("200 x 300, 3 gap 100")
    hand.key(KEY.Key_Return)
    (mark,) = hand.session.document.volumes[0].marks
    assert (mark.wide, mark.high, mark.count) == (200.0, 300.0, 3)


def test_a_ring_on_a_face_is_laid_in_a_row_as_it_is_typed(person):
    block(person, (-600.0, -400.0, 0.0), "1200", "800", "700")
    hand = person.hand
    person.key(KEY.Key_A)
    hand.press(-400.0, -400.0, 350.0)
    hand.drag(-300.0, -400.0, 350.0)
    hand.board.setFocus()
    hand.keys("90, 4 gap 40")
    hand.key(KEY.Key_Return)
    (mark,) = hand.session.document.volumes[0].marks
    assert (mark.diameter, mark.count, mark.step[0].mm, mark.step[0].by) == (90.0, 4, 40.0, "gap")


def test_a_wheel_pressed_by_eye_stands_on_the_ground_once_its_diameter_is_typed(person):
    block(person, (-600.0, -400.0, 0.0), "1200", "800", "700")
    hand = person.hand
    person.fill(hand.desk.card._places[2], "100")
    for near, stands in ((312.0, 0.0), (420.0, None)):
        person.key(KEY.Key_R)
        hand.press(0.0, -400.0, near)
        hand.drag(100.0, -400.0, near)
        hand.board.setFocus()
        hand.keys("600 x 90")
        hand.key(KEY.Key_Return)
        low = hand.session.document.volumes[-1].corner[2]
        assert low == pytest.approx(stands) if stands is not None else low > 50.0
        hand.session.undo()
