"""Three likely wrong first tries of each job: each is refused, nothing is laid, and the words name what is right."""

import pytest
from PyQt6.QtCore import Qt

from isometron.document.fresh import new_document
from tests.desk.person import Person

KEY = Qt.Key
SIDE, FLOOR, SKY = (-400.0, -400.0, 350.0), (900.0, -700.0, 0.0), (0.0, 0.0, 9000.0)


def line(person, text):
    """Typed into the line under the ledger."""
    person.say(text)


def pulled(person, key, place, text):
    """A tool taken up, pulled a little way, and something typed."""
    hand = person.hand
    hand.board.setFocus()
    person.key(key)
    hand.press(*place)
    hand.drag(place[0] + 120.0, place[1], place[2] + 60.0 * (place[2] > 0.0))
    hand.board.setFocus()
    hand.keys(text)
    hand.key(KEY.Key_Return)


def pressed(person, key, place):
    """A tool taken up and pressed where it can do nothing."""
    person.hand.board.setFocus()
    person.key(key)
    person.hand.press(*place)
    person.hand.release(*place)


def corners(person, text):
    """Typed as the corners of the side view."""
    person.field(person.part("Block", "Shape").view, "corners", text)


def row(person, text):
    """Typed as the row of the selected volume."""
    person.field(person.part("Divide", "Repeat").rows, "row", text)


def figure(person, text):
    """Typed over a figure of the ledger."""
    person.ledger(0, 0, text)


def wall(person, text):
    person.fill(person.part("Form", "Hollow").wall, text)


def roof_over_nothing(person):
    person.hand.session.select(())
    place = person.part("Form", "Roof")
    button = next(b for b in place.buttons if b.text() == "Gabled roof")
    assert not button.isEnabled()
    person.hand.session.say(place.said.text(), caution=True)


W, A, R, B, U, D, Q, F = (getattr(KEY, f"Key_{letter}") for letter in "WARBUDQF")
TRIES = {
    "low car": [(line, "body 4400 x 1800 x", "A size is wanted"), (pulled, R, SIDE, "650 on block", "is pressed"),
                (corners, "0, 0; 5 %", "how far along, a comma")],
    "delivery van": [(pulled, W, SIDE, "300 x 200, 9 gap 200", "too long a row"), (pressed, A, FLOOR, "Press on a solid volume"),
                     (corners, "0, 0; 1, 1", "corners")],
    "two-wheeler": [(line, "fork 50 x 50 x 720 at 26", "three figures"), (pulled, R, SIDE, "280 x 8 x 2", "diameter x height"),
                    (line, "disc 280 x 280 x 8 on wheel", "There is no wheel here")],
    "van from a photograph": [(pressed, W, SKY, "Press on a solid volume"), (figure, "2600 lang", "Understood: 1200"), (figure, "-5", "between 0.01 mm")],
    "chair from a photograph": [(line, "back 400 x 30 x 370 on seat", "There is no seat here"), (figure, "abc", "The old value stays"), (row, "4 x", "is no row")],
    "vessel from a photograph": [(pulled, R, FLOOR, "240 x", "A size is wanted"), (pulled, R, FLOOR, "240, 2 x 300", "with the last size"),
                                 (pressed, R, SKY, "Press below it")],
    "bridge": [(pulled, W, SIDE, "180 x 150, 3 bays", "3 gap 900"), (row, "3 bays", "4 x 2500"), (pressed, U, FLOOR, "solid volume")],
    "fence and hut": [(roof_over_nothing, "Select a block"), (row, "9 gap oops", "There is no"), (pulled, W, SIDE, "850 x 1950", "make it smaller")],
    "towers": [(wall, "900", "take less"), (pressed, W, FLOOR, "Press on a solid volume"), (line, "tower 1200 x 1200", "Three sizes")],
    "toaster": [(pulled, W, SIDE, "260 x 28, 2 by 40", "is no row"), (line, "lever 14 x 34 x 20, 2 right toaster", "not understood"),
                (pressed, A, SKY, "Press on a solid volume")],
    "nine boxes": [(line, "cube 300 300 300", "300 x 300 x 300"), (line, "300 x 300 x 300 x 9", "has 4 sizes"), (row, "3 700", "is no row")],
    "gridded cube": [(pressed, D, FLOOR, "solid volume"), (line, "cube 10 x 10 x 10 onto block", "no 'onto' here"), (figure, "10 inch x", "Understood: 1200")],
    "cube and twin": [(line, "cube 45 degrees", "Understood: 1200"), (pressed, B, SKY, "Press below it"), (line, "cube 500", "Three sizes")],
    "notched block": [(corners, "0, 0; 0, 100 %; 60 %, 100 %; 60 %, 200, 100 %", "how far along, a comma"), (line, "block", "Say its size"),
                      (corners, "0, 0; 100 %, 100 %; 100 %, 0; 0, 100 %", "cross")],
}  # fmt: skip


def test_every_job_has_its_three():
    assert len(TRIES) == 14 and all(len(tries) == 3 for tries in TRIES.values())


@pytest.mark.parametrize(("job", "number"), [(job, number) for job in TRIES for number in range(3)])
def test_a_likely_wrong_try_is_refused_with_the_right_one(home, desk, job, number):
    person = Person(desk(new_document()))
    person.say("block 1200 x 800 x 700 at -600, -400, 0")
    before = person.hand.session.document
    act, *given, right = TRIES[job][number]
    act(person, *given)
    said = person.hand.words()
    assert said.startswith("⚠") and right in said, said
    assert person.hand.session.document == before
