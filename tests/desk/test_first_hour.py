"""The first hour of the handbook, as it is written, with the mouse and the keys that it names."""

from pathlib import Path

import numpy as np
from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtTest import QTest

from isometron import assets
from isometron.document.eyes.eye_edits import turn_of
from isometron.view.plan import arm_angles
from tests.desk.test_instruments import drag

STEPS = (Path(assets.__file__).parent / "handbook" / "first-hour.md").read_text(encoding="utf-8")


def press(hand, place):
    hand.mouse(QEvent.Type.MouseButtonPress, hand.pixel(*place))


def block(hand, start, *ends):
    """Press near the start, pull and let go three times, typing what has words."""
    hand.key(Qt.Key.Key_B)
    hand.press(*start)
    for place, words in ends:
        hand.drag(*place)
        if words:
            hand.keys(words)
            hand.key(Qt.Key.Key_Return)
        else:
            hand.mouse(QEvent.Type.MouseButtonRelease, hand.pixel(*place))


def test_the_first_hour_works_as_it_is_written(desk, tmp_path):
    hand = desk()
    volumes = lambda: hand.session.document.volumes  # noqa: E731
    # 1, 2: near the start, pulls; one typed.
    block(hand, (10, 5, 0), ((1500, 0, 0), "1800"), ((1800, 700, 0), ""), ((1800, 700, 600), "600"))
    first = volumes()[0]
    assert first.corner == (0.0, 0.0, 0.0), "near the start it begins there"
    assert first.size[0] == 1800.0 and first.size[2] == 600.0 and first.size[1] > 300.0
    # 3: on a face of the first; the corner catches it.
    top = 600.0
    block(hand, (8, 6, top), ((700, 0, top), "800"), ((800, 400, top), "400"), ((800, 400, top + 300), "300"))
    second = volumes()[1]
    assert second.joined is not None and second.joined.to == first.id and second.corner == (0.0, 0.0, top)
    # 4: P and a click, then a figure of the ledger: a click, a new value, Enter.
    hand.key(Qt.Key.Key_Escape)
    hand.key(Qt.Key.Key_P)
    hand.click(400, 0, top + 150)
    assert hand.session.selection == (second.id,)
    ledger = hand.desk.ledger
    QTest.mouseClick(
        ledger.viewport(), Qt.MouseButton.LeftButton, pos=ledger.visualRect(ledger.model().index(1, 3)).center()
    )
    hand.keys("350")
    hand.key(Qt.Key.Key_Return)
    assert volumes()[1].size[2] == 350.0 and "a click, a new value, Enter" in STEPS
    # 5: the set square, then back.
    dial = hand.desk.dial_panel.dial
    place, before = dial._place(), turn_of(hand.session.document)
    _, right = arm_angles(hand.session.document.eye, np.eye(3))
    ends = [
        (place.middle + 90.0 * np.sin(np.radians(a)), place.eye_y - 90.0 * np.cos(np.radians(a)))
        for a in (right, right - 8.0)
    ]
    drag(dial, *ends)
    assert abs(turn_of(hand.session.document) - before) > 5.0
    hand.board.setFocus()
    hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert turn_of(hand.session.document) == before
    # 6: R, a ring pulled open on the ground, then its height.
    hand.key(Qt.Key.Key_F5)
    hand.key(Qt.Key.Key_R)
    hand.press(2600, 200, 0)
    hand.release(2900, 200, 0)
    hand.drag(2600, 200, 240)
    hand.keys("200")
    hand.key(Qt.Key.Key_Return)
    assert volumes()[2].size[2] == 200.0 and volumes()[2].size[0] > 300.0
    # 7: D and a click on a face of the first.
    hand.key(Qt.Key.Key_Escape)
    hand.key(Qt.Key.Key_F4)
    hand.key(Qt.Key.Key_D)
    hand.hover(1300, 0, 300)
    hand.click(1300, 0, 300)
    assert any(volume.marks for volume in volumes())
    # 8: W and two corners, the size typed.
    hand.key(Qt.Key.Key_Escape)
    hand.key(Qt.Key.Key_F6)
    hand.key(Qt.Key.Key_W)
    hand.press(200, 0, 120)
    hand.drag(700, 0, 420)
    hand.keys("600 x 350")
    hand.key(Qt.Key.Key_Return)
    assert [type(mark).__name__ for mark in volumes()[0].marks].count("OpeningMark") == 1
    # 9: C constructs what is selected, PgDown goes on.
    hand.key(Qt.Key.Key_Escape)
    hand.session.select((first.id,))
    hand.key(Qt.Key.Key_C)
    assert hand.desk.step_strip.isVisible()
    hand.key(Qt.Key.Key_PageDown)
    assert hand.desk.player.number == 1
    hand.key(Qt.Key.Key_Escape)
    # 10: the stages that it names are there.
    hand.key(Qt.Key.Key_F8)
    hand.key(Qt.Key.Key_F9)
    assert hand.desk.stages.body("Hand on").isVisible()
