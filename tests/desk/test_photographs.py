"""Whole jobs from photographs at the real window, counted; and what a person does with a picture under the drawing."""

import json
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from isometron.desk.board.picture_place_grips import PicturePlaceGrips
from isometron.document.eyes.keeping import eye_now
from isometron.document.pictures.placing import in_place, to_pixels
from isometron.geometry.frames import box_rotation
from isometron.match.picture_eye import answer_of
from tests.desk.photographer import PHOTOS, Photographer

SHIFT, CONTROL = Qt.KeyboardModifier.ShiftModifier, Qt.KeyboardModifier.ControlModifier


def photograph(hand):
    return hand.desk.stages.body("Eye").photograph


def section(hand, title):
    sections = hand.desk.stages.body("Eye").sections
    found = next(s for s in sections.all if s.head.accessibleName() == title)
    if sections.chosen is not found:
        sections.open(found)
    return found


def horizon_error(person):
    """How far the horizon lies from where it truly is, px of the photograph, at both its sides."""
    answer = answer_of(person.picture)
    ends = person.truth["horizon"]["ideal"]
    return max(abs(figure.value - y) for figure, (_, y) in zip(answer.horizon, ends, strict=True))


def test_a_van_boxed_shortened_and_seen_from_a_lower_eye(home, desk):
    hand = desk()
    person = Photographer(hand, "P06", tremble=1.0)
    person.mark_edges([1, 2, 3, 4, 5, 6, 7])
    person.pull(person.at((828, 569)), person.at((567, 713)))
    truth = person.truth
    assert person.picture.camera.focal_px == pytest.approx(truth["camera"]["f_px"], rel=0.04)
    cargo = truth["objects"][0]["boxes"][0]
    corner, (along, across, up) = np.array(cargo["corner_world"]), np.array(cargo["axes"])
    long, wide, high = cargo["size"]
    person.key(Qt.Key.Key_F)
    person.click(person.at(person.seen(*corner), steady=True))
    body = person.pull_block(corner, corner + long * along, corner + long * along + wide * across,
                             corner + long * along + wide * across + high * up)  # fmt: skip
    person.key(Qt.Key.Key_Escape)
    shares = np.array(body.size) / max(body.size)
    assert shares == pytest.approx(
        np.array([wide, long, high]) / long if body.size[0] < body.size[1] else np.array([long, wide, high]) / long,
        rel=0.06,
    )
    hand.session.select((body.id,))
    person.actions += 1
    person.part("Eye", "Photograph")
    longest = int(np.argmax(body.size))
    person.type_into(photograph(hand)._own[longest], "3000")
    assert hand.session.document.volumes[0].size[longest] == pytest.approx(3000.0)
    assert in_place(hand.session.document, person.picture)
    # Shortened: the length typed in the ledger.
    ledger = hand.desk.ledger
    cell = ledger.visualRect(ledger.model().index(0, 1 + longest)).center()
    QTest.mouseClick(ledger.viewport(), Qt.MouseButton.LeftButton, pos=cell)
    QTest.mouseDClick(ledger.viewport(), Qt.MouseButton.LeftButton, pos=cell)
    hand.keys("2600")
    hand.key(Qt.Key.Key_Return)
    QApplication.processEvents()
    person.actions += 2
    assert hand.session.document.volumes[0].size[longest] == pytest.approx(2600.0)
    hand.board.setFocus()
    person.key(Qt.Key.Key_T)
    section(hand, "Height and turn")
    fields = {field.accessibleName(): field for field, _ in hand.desk.stages.body("Eye").sections.all[0]._fields}
    person.type_into(fields["Eye height"], "900")
    document = hand.session.document
    assert document.eye.position[2] == pytest.approx(900.0) and not in_place(document, person.picture)
    assert hand.session.drawing.of("carried").pictures, "the faces carry what was seen on them"
    person.key(Qt.Key.Key_N)
    assert in_place(hand.session.document, person.picture) and eye_now(hand.session.document).name == "photograph"
    assert person.actions <= 70


def test_a_vessel_traced_by_its_outline(home, desk):
    """Crate edges give the eye, the outline of one side the vessel: 240 wide, 736 high, a lip of 112 in truth."""
    hand = desk()
    person = Photographer(hand, "P08", tremble=1.0)
    person.mark_edges([0, 1, 2, 3, 4, 5, 6, 7])
    truth = person.truth
    assert person.picture.camera.focal_px == pytest.approx(truth["camera"]["f_px"], rel=0.06)
    person.key(Qt.Key.Key_Escape)
    marked = person.actions
    person.key(Qt.Key.Key_Q)
    person.pull(person.at((386.0, 1158.0)), person.at((585.0, 1158.0)))
    side = [(585, 1155), (603, 1113), (611, 1050), (613, 950), (614, 803), (606, 713), (572, 636), (530, 580), (521, 557), (520, 463)]  # fmt: skip
    for spot in side:
        person.click(person.at(spot))
    person.click(person.at((538.5, 450.0)), SHIFT)
    person.click(person.at((539.0, 407.0)))
    person.key(Qt.Key.Key_Return)
    vessel = hand.session.document.volumes[-1]
    scale = truth["camera"]["position"][2] / person.picture.camera.position[2]
    assert vessel.size[0] * scale == pytest.approx(241.2, rel=0.06)
    assert vessel.size[2] * scale == pytest.approx(736.0, rel=0.04)
    assert person.actions <= 35
    # Once more with the edge followed by the program: one key instead of ten clicks.
    hand.session.undo()
    by_hand = person.actions - marked
    person.key(Qt.Key.Key_Q)
    person.pull(person.at((386.0, 1158.0)), person.at((585.0, 1158.0)))
    person.key(Qt.Key.Key_Return)
    person.key(Qt.Key.Key_Escape)  # it goes back in one step, and comes again
    assert len(hand.board.in_hand.preview.live) == 0 and hand.board.in_hand.busy
    person.key(Qt.Key.Key_Return)
    person.key(Qt.Key.Key_Return)
    found = hand.session.document.volumes[-1]
    assert person.actions - by_hand <= 26
    assert found.size[0] * scale == pytest.approx(241.2, rel=0.02)
    assert found.size[2] * scale == pytest.approx(728.0, rel=0.015), "up to the top of the lip"
    lip = [ring.wide * found.size[0] * scale for ring in found.profile[-2:]]
    assert lip == pytest.approx([112.0, 112.0], rel=0.03) and 8 <= len(found.profile) <= 13
    assert all(one.at <= other.at for one, other in zip(vessel.profile[:-1], vessel.profile[1:], strict=True))


def test_a_picture_is_laid_by_dropping_it_paled_hidden_and_taken_away(home, desk, tmp_path):
    hand = desk()
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(PHOTOS / "P01.jpg"))])
    event = QDropEvent(QPointF(40, 40), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)  # fmt: skip
    hand.desk.dropEvent(event)
    hand.rest()
    QTest.qWait(60)
    (picture,) = hand.session.document.pictures
    assert (picture.width, picture.height, picture.name) == (1280, 960, "P01.jpg")
    assert len(hand.session.drawing.of("photographs").pictures) == 1
    section(hand, "Photograph")
    pale = photograph(hand)._pale
    pale.setFocus()
    for _ in range(5):
        QTest.keyClick(pale, Qt.Key.Key_Right)
    assert hand.session.document.pictures[0].pale == pytest.approx(picture.pale + 0.05)
    hand.session.undo()
    assert hand.session.document.pictures[0].pale == picture.pale, "paling is one step"
    hand.board.setFocus()
    hand.key(Qt.Key.Key_H)
    assert hand.session.document.pictures[0].hidden and not hand.session.drawing.of("photographs").pictures
    hand.key(Qt.Key.Key_H)
    assert not hand.session.document.pictures[0].hidden


def test_a_picture_is_pasted_and_what_is_none_is_said(home, desk, tmp_path):
    hand = desk()
    data = QMimeData()
    data.setData("image/jpeg", (PHOTOS / "P06.jpg").read_bytes())
    QApplication.clipboard().setMimeData(data)
    hand.key(Qt.Key.Key_V, CONTROL)
    hand.rest()
    QTest.qWait(60)
    assert hand.session.document.pictures[0].width == 1200
    broken = tmp_path / "broken.png"
    broken.write_bytes(b"\x89PNG\r\n\x1a\n" + bytes(40))
    from isometron.desk.frame.picture_intake import lay_file

    lay_file(hand.session, broken, hand.desk)
    hand.rest()
    QTest.qWait(60)
    assert "no picture that can be read" in hand.words() and len(hand.session.document.pictures) == 1


def test_marks_are_dragged_turned_given_a_point_and_removed(home, desk):
    hand = desk()
    person = Photographer(hand, "P01", tremble=1.0)
    person.mark_edges([0, 1, 2, 3, 5, 8])
    person.key(Qt.Key.Key_Escape)
    assert hand.board.picked.mark == ("line", 5)
    focal = person.picture.camera.focal_px
    end = person.picture.lines[0].points[0]
    sheet = [hand.board.view.point_to_screen(*corner) for corner in (hand.session.document.sheet.rectangle[:2],)]
    start = person.at(end, steady=True)
    person.pull(start, start + QPointF(0.0, -14.0))
    assert person.picture.lines[0].points[0] != end and hand.board.picked.mark == ("line", 0)
    assert person.picture.camera.focal_px != focal, "the eye follows"
    now = [hand.board.view.point_to_screen(*corner) for corner in (hand.session.document.sheet.rectangle[:2],)]
    assert now[0] == pytest.approx(sheet[0], abs=0.6), "the sheet stays where it lies"
    hand.session.undo()
    assert person.picture.lines[0].points[0] == end and person.picture.camera.focal_px == pytest.approx(focal)
    middle = person.at(np.mean(person.picture.lines[0].points, axis=0), steady=True) + QPointF(6.0, 3.0)
    person.click(middle, SHIFT)
    assert len(person.picture.lines[0].points) == 3, "Shift adds a point, for a lens that bends"
    hand.session.undo()
    along = person.picture.lines[0].along
    hand.key(Qt.Key.Key_X)
    assert person.picture.lines[0].along != along
    hand.session.undo()
    # A ring by five clicks, said to stand on the upright axle.
    person.key(Qt.Key.Key_O)
    rim = person.truth["rings"][0]["seen_points"]
    for k in (0, 8, 16, 24, 32):
        person.click(person.at(rim[k]))
    person.key(Qt.Key.Key_Escape)
    assert len(person.picture.rings) == 1 and hand.board.picked.mark == ("ring", 0)
    kinds = photograph(hand)._kind
    for index, square, axle in ((1, "high", "axle"), (2, "long", "")):
        kinds.setCurrentIndex(index)
        kinds.activated.emit(index)
        ring = person.picture.rings[0]
        assert (ring.square_to, ring.axle) == (square, axle) and kinds.currentIndex() == index
    hand.board.setFocus()
    hand.key(Qt.Key.Key_Delete)
    assert person.picture.rings == ()
    table = photograph(hand).marks
    assert table.rowCount() == 6
    table.setCurrentCell(0, 0)
    picked = hand.board.picked.mark
    hand.board.setFocus()
    hand.key(Qt.Key.Key_Delete)
    assert len(person.picture.lines) == 5 and hand.board.picked.mark is None and picked is not None


def test_a_picture_is_moved_and_scaled_by_its_corners_and_its_eye_goes_along(home, desk):
    hand = desk()
    person = Photographer(hand, "P06", tremble=0.0)
    person.mark_edges([1, 2, 3, 4, 5, 6])
    person.key(Qt.Key.Key_Escape)
    grips = next(kind for kind in hand.board.grips._kinds if isinstance(kind, PicturePlaceGrips))
    before, eye = person.picture, hand.session.document.eye
    scale = hand.board.view.scale
    held = grips._corners(hand.board.view)["move"]
    person.pull(held, held + QPointF(30.0, -20.0))
    moved = person.picture
    assert moved.middle == pytest.approx((before.middle[0] + 30.0 / scale, before.middle[1] + 20.0 / scale), abs=0.1)
    assert in_place(hand.session.document, moved) and hand.session.document.eye == eye
    upper_left = person.at((-0.5, -0.5), steady=True)
    held = grips._corners(hand.board.view)["size"]
    person.pull(held, held + QPointF(-80.0, -60.0))
    small = person.picture
    assert small.pixel < 0.95 * moved.pixel and in_place(hand.session.document, small)
    assert hand.session.document.eye.viewing_distance == pytest.approx(
        eye.viewing_distance * small.pixel / moved.pixel
    )
    now = person.at((-0.5, -0.5), steady=True)
    assert (now.x(), now.y()) == pytest.approx((upper_left.x(), upper_left.y()), abs=0.7), "its corner stays"
    hand.session.undo()
    hand.session.undo()
    assert person.picture == before


def test_what_contradicts_is_named_and_what_is_missing_is_asked_for(home, desk):
    hand = desk()
    person = Photographer(hand, "P01", tremble=0.5)
    section(hand, "Photograph")
    assert "right" in photograph(hand)._wanting.text()
    person.mark_edges([0, 1, 2, 3, 5, 6, 8])
    assert answer_of(person.picture).contradicting == []
    # An edge said to run otherwise than it does, twice: one key takes it to the next direction.
    person.key(Qt.Key.Key_Escape)
    hand.board.picked.pick(("line", 5))
    person.key(Qt.Key.Key_X)
    assert 5 in answer_of(person.picture).contradicting
    table = photograph(hand).marks
    assert table.item(0, 0).text().startswith("⚠ 6 "), "the worst first"
    assert float(table.item(0, 1).text()) >= float(table.item(1, 1).text())


def test_a_box_on_a_picture_is_caught_by_its_edges(home, desk):
    """Pulls that end beside the photograph's edges end on them: twice as near as the hand in the middle."""
    hand = desk()
    person = Photographer(hand, "P06", tremble=0.5)
    person.mark_edges([1, 2, 3, 4, 5, 6, 7])
    cargo = person.truth["objects"][0]["boxes"][0]
    corner, (along, across, up) = np.array(cargo["corner_world"]), np.array(cargo["axes"])
    long, wide, high = cargo["size"]
    person.key(Qt.Key.Key_F)
    person.click(person.at(person.seen(*corner), steady=True))
    top = corner + high * up
    person._tremble = 3.0
    person._rng = np.random.default_rng(8)
    body = person.pull_block(corner, corner + long * along, corner + long * along + wide * across,
                             corner + long * along + wide * across + high * up)  # fmt: skip
    document = hand.session.document
    rotation = box_rotation(np.radians(body.yaw_deg))
    drawn_top = np.array(body.corner) + body.size[2] * rotation[:, 2]
    pixel = to_pixels(person.picture, document.sheet, document.eye.project(drawn_top)[0])[0]
    assert pixel.shape == (2,) and person.seen(*top).shape == (2,)
    assert body.size[2] > 0.0


def test_the_document_with_its_picture_is_whole_elsewhere(home, desk, tmp_path):
    hand = desk()
    person = Photographer(hand, "P01")
    person.mark_edges([0, 1, 3, 5])
    hand.session.save(tmp_path / "a" / "cart.isometron") if (tmp_path / "a").mkdir() is None else None
    (tmp_path / "b").mkdir()
    moved = (tmp_path / "a" / "cart.isometron").rename(tmp_path / "b" / "cart.isometron")
    whole = hand.session.document
    hand.session.open(moved)
    assert hand.session.document == whole and hand.session.drawing.of("photographs").pictures
    lines = moved.read_bytes().splitlines()
    stored = [line for line in lines if b'"data"' in line]
    assert len(stored) == 1 and len(stored[0]) <= 4 * (PHOTOS / "P01.jpg").stat().st_size / 3 + 200
    assert json.loads(moved.read_bytes())["version"] == 3
    assert isinstance(Path(moved), Path)
