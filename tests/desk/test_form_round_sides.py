"""The Form stage on round sides, through the real window."""

import msgspec
import numpy as np
import pytest
from PyQt6.QtCore import Qt

from isometron.document.fresh import new_document
from isometron.volumes.marks.holds import Measured
from isometron.volumes.openings.solids import uncut_openings
from isometron.volumes.turned import Turned
from tests.core.test_side_openings import vault
from tests.desk.person import Person
from tests.desk.test_form_desk import form, opening
from tests.desk.test_shaping_desk import choose


def standing(desk, volume):
    person = Person(
        desk(msgspec.structs.replace(new_document(away=9000.0, eye_height=1600.0, turn_deg=30.0), volumes=(volume,)))
    )
    person.hand.session.select((volume.id,))
    return person


def nearest(person, volume, high):
    """The place of a drum's side that looks at the eye."""
    middle = np.array(volume.corner) + np.array(volume.size) / 2.0
    way = person.hand.session.document.eye.place - middle
    way = way[:2] / np.hypot(*way[:2]) * volume.size[0] / 2.0
    return np.array([middle[0] + way[0], middle[1] + way[1], high])


def test_a_round_tower_is_hollowed_and_windowed_all_round(desk):
    tower = Turned(id="t", name="Tower", corner=(-1000.0, -1000.0, 0.0), size=(2000.0, 2000.0, 3000.0))
    person = standing(desk, tower)
    stage = form(person)
    person.fill(person.section(stage.hollow).wall, "180")
    person.key(Qt.Key.Key_W)
    place = nearest(person, tower, 1500.0)
    aside = np.array([-place[1], place[0], 0.0]) / 1000.0
    mark = opening(person, place - 200.0 * aside, place + 250.0 * aside + (0.0, 0.0, 700.0), "500 x 800")
    assert (mark.face, mark.wide, mark.high, mark.goes) == ("side", 500.0, 800.0, "wall")
    assert person.hand.session.document.volumes[0].wall == 180.0 and person.cautions == []
    marks = person.section(stage.marks)
    person.field(marks.rows, "row", "6")
    tower = person.hand.session.document.volumes[0]
    assert tower.marks[0].count == 6 and tower.marks[0].step == pytest.approx((0.0, 1.0 / 6.0))
    assert uncut_openings(tower) == {}
    before = person.hand.session.document
    choose(stage.opening.form, "ring")
    person.key(Qt.Key.Key_Escape)
    person.key(Qt.Key.Key_W)
    ring = opening(person, nearest(person, tower, 2500.0), nearest(person, tower, 2500.0) + 160.0 * aside)
    assert ring.form == "ring" and ring.at[0] != 0.5
    person.hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert person.hand.session.document.volumes == before.volumes


def test_a_windscreen_is_pulled_on_a_bent_front(desk):
    person = standing(desk, vault(wall=50.0))
    stage = form(person)
    person.key(Qt.Key.Key_W)
    at = lambda y, angle: (900.0 - 900.0 * np.sin(angle), y, 600.0 + 900.0 * np.cos(angle))  # noqa: E731
    mark = opening(person, at(300.0, 1.2), at(1300.0, 0.5))
    assert mark.face == "side.3.round" and mark.wide == pytest.approx(1000.0, abs=30.0)
    assert (
        mark.high == pytest.approx(2 * 900.0 * np.sin(0.35), abs=30.0) and mark.at[0] == pytest.approx(0.5, abs=0.02)
    ) or isinstance(mark.at[0], Measured)
    assert "bent" in person.section(stage.marks).names.currentText()
