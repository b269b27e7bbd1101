"""Things begun where no face is to be seen: a slat behind a wall, a bracket below a seat, a parapet's foot on top of it, each started by a word."""

import pytest
from PyQt6.QtCore import Qt

from isometron.document.fresh import new_document
from tests.desk.person import Person


@pytest.mark.parametrize(
    ("start", "pulls", "low", "high"),
    [
        ("0 behind wall", "300 x 20 x 60", None, None),
        ("0 below wall", "40 x 40 x 90", 300.0, None),
        ("0 above wall", "1200 x 60 x 200", None, 1000.0),
    ],
)
def test_a_start_is_typed_and_the_rest_pulled(home, desk, start, pulls, low, high):
    person = Person(desk(new_document(away=4000.0, eye_height=1200.0)))
    wall = person.say("wall 1200 x 100 x 700 at -600, 0, 300")
    hand = person.hand
    hand.board.setFocus()
    person.key(Qt.Key.Key_B)
    hand.keys(start)
    hand.key(Qt.Key.Key_Return)
    hand.hover(
        *((900.0, 60.0, 300.0) if "behind" in start else (-300.0, 0.0, 500.0))
    )  # the side where the pencil lies
    hand.keys(pulls)
    hand.key(Qt.Key.Key_Return)
    laid = hand.session.document.volumes[-1]
    assert laid.id != wall.id and laid.joined is not None and laid.joined.to == wall.id, hand.words()
    if low is not None:
        assert laid.corner[2] + laid.size[2] == pytest.approx(low), "it hangs from the underside"
    elif high is not None:
        assert laid.corner[2] == pytest.approx(high)
    else:
        assert (
            laid.corner[1] >= 100.0 - 1e-6
            or laid.corner[0] >= 600.0 - 1e-6
            or laid.corner[0] + laid.size[0] <= -600.0 + 1e-6
        )
