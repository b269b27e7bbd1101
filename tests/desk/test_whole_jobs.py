"""Whole jobs from an empty sheet, as a person at the desk does them: mouse, keys, and nothing else."""

import json

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QTableWidget

from isometron.document.fresh import new_document
from isometron.document.store.files import encode_document, load_document
from isometron.solve.report import report
from isometron.volumes.arch import Arch
from isometron.volumes.framed import Framed
from isometron.volumes.marks.face_marks import ArchMark
from isometron.volumes.turned import Turned
from tests.desk.test_shaping_desk import choose, opened, press


@pytest.fixture
def hand(desk):
    return desk(new_document(away=9000.0, eye_height=1500.0))


def block(hand, at, long, wide, high):
    """Pull a block from a corner, each of its three sizes typed."""
    x, y, z = at
    hand.key(Qt.Key.Key_B)
    hand.press(x, y, z)
    hand.drag(x + 400.0, y, z)
    typed(hand, long)
    hand.hover(x + 400.0, y + 300.0, z)
    typed(hand, wide)
    hand.hover(x + 400.0, y + 300.0, z + 300.0)
    typed(hand, high)
    hand.key(Qt.Key.Key_Escape)
    return hand.session.document.volumes[-1]


def typed(hand, text):
    hand.board.setFocus()
    hand.keys(text)
    hand.key(Qt.Key.Key_Return)


def field(place, words):
    """The widget of a row by its words."""
    return place.widgets[[row.words for row in place._rows].index(words)]


def test_a_body_with_four_wheels_in_two_pairs_and_their_template_list(hand):
    body = block(hand, (-1600.0, -700.0, 0.0), "3200", "1400", "600")
    assert body.size == (3200.0, 1400.0, 600.0)
    hand.key(Qt.Key.Key_R)
    hand.press(-1000.0, -700.0, 200.0)
    hand.drag(-800.0, -700.0, 200.0)
    typed(hand, "620")
    hand.drag(-1000.0, -900.0, 200.0)
    typed(hand, "160")
    hand.key(Qt.Key.Key_Escape)
    wheel = hand.session.document.volumes[-1]
    assert isinstance(wheel, Turned) and wheel.axle == "wide" and wheel.joined.to == body.id
    assert wheel.size == (620.0, 160.0, 620.0)
    hand.session.select((wheel.id,))
    hand.key(Qt.Key.Key_F5)
    stage = hand.desk.stages.body("Rounds")
    press(stage.sections.all[0], "wheel")
    hand.key(Qt.Key.Key_F4)
    rows = opened(hand, hand.desk.stages.body("Divide").rows)
    field(rows.rows, "how many").setValue(2)
    hand.type_into(field(rows.rows, "pitch"), "2000")
    hand.key(Qt.Key.Key_F3)
    joins = opened(hand, hand.desk.stages.body("Block").joins)
    choose(joins.planes, f"middle of {body.name}: image {joins._image_lies(body, 'wide')}")
    rounds = hand.session.drawing.scene.rounds
    outer = rounds.rings[np.isclose(np.linalg.norm(rounds.rings[:, 3:6], axis=1), 310.0)]
    centres = {tuple(c) for c in outer[:, :3].round(3)}
    assert len(centres) >= 8, "two ends of four wheels"
    assert len({c[0] for c in centres}) == 2 and len({c[1] for c in centres}) >= 4
    hand.key(Qt.Key.Key_F5)
    told = stage.sections.all[3]
    QTest.mouseClick(told.head, Qt.MouseButton.LeftButton)
    for _ in range(6):
        QApplication.processEvents()
    table = told.findChild(QTableWidget)
    rows = [[table.item(row, column).text() for column in range(4)] for row in range(table.rowCount())]
    assert len(rows) >= 4 and any(row[0] == "620" for row in rows) and all("°" in row[2] for row in rows)
    rings = report(hand.session.drawing)["volumes"][-1]["rings"]
    assert all(ring["template_gap"] is None or ring["template_gap"] < 30.0 for ring in rings)
    assert json.dumps(rings)


def test_a_bottle_of_five_rings(hand):
    hand.key(Qt.Key.Key_R)
    hand.press(0.0, 0.0, 0.0)
    hand.drag(200.0, 0.0, 0.0)
    typed(hand, "800")
    hand.drag(0.0, 0.0, 900.0)
    typed(hand, "2400")
    hand.key(Qt.Key.Key_Escape)
    hand.key(Qt.Key.Key_F5)
    stage = hand.desk.stages.body("Rounds")
    profile = stage.sections.all[1]
    QTest.mouseClick(profile.head, Qt.MouseButton.LeftButton)
    for _ in range(3):
        press(profile, "Add")
    table = profile.table
    for row, (at, wide) in enumerate(
        [("0", "80 %"), ("10 %", "800"), ("1320", "80 cm"), ("75 %", "280"), ("100 %", "30 %")]
    ):
        table.item(row, 0).setText(at)
        table.item(row, 1).setText(wide)
    bottle = hand.session.document.volumes[-1]
    assert [round(r.at, 3) for r in bottle.profile] == [0.0, 0.1, 0.55, 0.75, 1.0]
    assert [round(r.wide, 3) for r in bottle.profile] == [0.8, 1.0, 1.0, 0.35, 0.3]
    arcs = hand.session.drawing.of("rounds").arcs
    assert len(np.unique(arcs.shape[:, :2].round(2), axis=0)) >= 5, "an ellipse for each ring"


def test_a_chair_from_blocks(desk):
    hand = desk(new_document(away=2500.0, eye_height=1300.0))
    seat = block(hand, (-225.0, -225.0, 0.0), "450", "430", "460")
    hand.session.select((seat.id,))
    shapes = opened(hand, hand.desk.stages.body("Block").shapes)
    choose(shapes.names, "frame: legs, rails, top")
    assert isinstance(hand.session.document.volume(seat.id), Framed)
    back = block(hand, (-205.0, 140.0, 460.0), "40", "40", "500")
    assert back.joined.to == seat.id and back.corner[2] == 460.0
    hand.session.select((back.id,))
    joins = opened(hand, hand.desk.stages.body("Block").joins)
    choose(joins.planes, f"middle of {seat.name}: image {joins._image_lies(seat, 'long')}")
    bodies = len(hand.session.drawing.scene.bodies.vertices)
    slat = block(hand, (-185.0, 180.0, 460.0), "370", "20", "60")
    hand.session.select((slat.id,))
    hand.key(Qt.Key.Key_F4)
    rows = opened(hand, hand.desk.stages.body("Divide").rows)
    choose(field(rows.rows, "direction"), "along high")
    field(rows.rows, "how many").setValue(3)
    hand.type_into(field(rows.rows, "gap"), "100")
    assert len(hand.session.drawing.scene.bodies.vertices) == bodies + 3
    foot = slat.corner[2]
    hand.session.select((seat.id,))
    hand.type_into(hand.desk.card._places[2], "100")
    assert hand.session.document.volume(back.id).corner[2] == 560.0, "lifted with the seat"
    assert hand.session.document.volume(slat.id).corner[2] == pytest.approx(foot + 100.0)


def test_an_arched_row_of_five_bays_is_repeated_beyond_its_end(hand):
    bay = block(hand, (-2500.0, 0.0, 0.0), "900", "400", "1100")
    hand.session.select((bay.id,))
    shapes = opened(hand, hand.desk.stages.body("Block").shapes)
    choose(shapes.names, "arch through it")
    assert isinstance(hand.session.document.volume(bay.id), Arch)
    hand.key(Qt.Key.Key_F4)
    rows = opened(hand, hand.desk.stages.body("Divide").rows)
    field(rows.rows, "how many").setValue(4)
    hand.type_into(field(rows.rows, "gap"), "100")
    press(rows, "One more beyond the end")
    (row,) = hand.session.document.volume(bay.id).copies
    assert (row.count, row.pitch) == (5, 1000.0)
    crowns = hand.session.drawing.scene.rounds.rings
    assert len(np.unique(crowns[:, 0].round(2))) == 5, "five arches"
    hand.key(Qt.Key.Key_C)
    assert hand.desk.player is not None and hand.board.player.construction.school in (
        "row",
        "row-line",
        "parts",
        "plan",
    )
    hand.key(Qt.Key.Key_Escape)


def test_an_arch_on_a_wall_and_its_repetition_along_the_face(hand):
    wall = block(hand, (-1600.0, 0.0, 0.0), "3000", "400", "1000")
    hand.key(Qt.Key.Key_F5)
    place = hand.desk.stages.body("Rounds").on_face
    QTest.mouseClick(place.head, Qt.MouseButton.LeftButton)
    choose(place.kind, "arch")
    hand.board.setFocus()
    hand.key(Qt.Key.Key_A)
    near = wall.corner[1]
    hand.press(-1300.0, near, 10.0)
    hand.release(-1100.0, near, 600.0)
    hand.key(Qt.Key.Key_Escape)
    hand.session.select((wall.id,))
    hand.key(Qt.Key.Key_F4)
    marks = opened(hand, hand.desk.stages.body("Divide").marks)
    before = len(hand.session.drawing.scene.rounds.rings)
    field(marks.rows, "how many").setValue(4)
    hand.type_into(field(marks.rows, "step across"), "22 %")
    (mark,) = hand.session.document.volume(wall.id).marks
    assert isinstance(mark, ArchMark) and mark.count == 4 and mark.step == (0.22, 0.0)
    assert len(hand.session.drawing.scene.rounds.rings) == 4 * before


def test_what_was_built_is_saved_read_back_and_undone_to_nothing(hand, tmp_path):
    block(hand, (-600.0, -300.0, 0.0), "1200", "600", "400")
    one = hand.session.document.volumes[0]
    hand.session.select((one.id,))
    place = opened(hand, hand.desk.stages.body("Block").proportion)
    choose(place.presets, "2 : 1")
    hand.type_into(place.drives["high"], f"{one.name.lower().replace(' ', '_')}.long / 4")
    hand.type_into(place.target, f"{one.name.lower().replace(' ', '_')}.high < 200")
    document = hand.session.document
    assert document.volumes[0].size == (1200.0, 600.0, 300.0)
    assert hand.session.drawing.of("warnings").labels, "told on the paper"
    path = tmp_path / "job.isometron"
    path.write_bytes(encode_document(document))
    assert load_document(path) == document
    hand.board.setFocus()
    for _ in range(40):
        hand.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert hand.session.document.volumes == () and hand.session.document.targets == ()
