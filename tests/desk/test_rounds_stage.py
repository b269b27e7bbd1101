"""The Rounds stage by hand: a round pulled on the sheet, volumes made round, profiles, rings, templates."""

import pytest
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from isometron.demos.catalogue import demo
from isometron.desk.frame.settings import load_settings, save_settings
from isometron.document.edits import delete_volumes
from isometron.document.eyes.eye_edits import turn_object, turn_of
from isometron.document.eyes.template_eye import eye_for_template, widest_degrees
from isometron.document.fresh import new_document
from isometron.document.model import DocumentError
from isometron.document.rack import Rack, rack_from_csv, rack_to_csv
from isometron.document.shapes.rounding import make_round, profile_from_csv, profile_to_csv
from isometron.volumes.box import Box
from isometron.volumes.turned import PROFILES, Turned


def section(hand, number):
    place = hand.desk.stages.body("Rounds").sections.all[number]
    if not place.head.isChecked():
        QTest.mouseClick(place.head, Qt.MouseButton.LeftButton)
    for _ in range(6):
        QApplication.processEvents()
    return place


@pytest.fixture
def cart(desk):
    hand = desk(demo("tea-cart"))
    hand.session.select(("wheel-near",))
    hand.key(Qt.Key.Key_F5)
    return hand


def test_a_round_is_pulled_by_mouse_and_by_typed_figures(desk):
    hand = desk(new_document())
    hand.key(Qt.Key.Key_R)
    hand.press(0, 0, 0)
    hand.drag(200, 0, 0)
    hand.keys("600")
    hand.key(Qt.Key.Key_Return)
    hand.drag(0, 0, 500)
    hand.keys("45 cm")
    hand.key(Qt.Key.Key_Return)
    (body,) = hand.session.document.volumes
    assert isinstance(body, Turned) and body.size == (600.0, 600.0, 450.0) and body.axle == "high"
    assert body.corner[0] == pytest.approx(-300.0, abs=30.0)
    hand.press(0, 0, 450)
    hand.release(100, 0, 450)
    hand.press(0, 0, 600)
    hand.release(0, 0, 700)
    assert len(hand.session.document.volumes) == 2, "a second one stands on the first"
    on_top = hand.session.document.volumes[1]
    assert on_top.corner[2] == pytest.approx(450.0) and on_top.size[0] == on_top.size[1]
    hand.key(Qt.Key.Key_Escape)
    hand.session.undo()
    hand.session.undo()
    assert hand.session.document.volumes == ()


def test_escape_steps_back_out_of_a_round(desk):
    hand = desk(new_document())
    hand.key(Qt.Key.Key_R)
    hand.press(0, 0, 0)
    hand.release(300, 0, 0)
    hand.key(Qt.Key.Key_Escape)
    assert hand.board.busy
    hand.key(Qt.Key.Key_Escape)
    assert not hand.board.busy and hand.board.has_tool
    hand.press(0, 0, 0)
    hand.keys("0")
    hand.key(Qt.Key.Key_Return)
    assert "between 0.01 mm and 10 km" in hand.words()
    assert hand.session.document.volumes == ()


def test_volumes_become_round_and_square_again(cart):
    cart.session.select(("body", "canopy"))
    place = section(cart, 0)
    buttons = {b.text(): b for b in place.findChildren(type(place.head))}
    QTest.mouseClick(buttons["ball"], Qt.MouseButton.LeftButton)
    body = cart.session.document.volume("body")
    assert isinstance(body, Turned) and body.profile == PROFILES["ball"] and body.size == (990.0, 990.0, 720.0)
    QTest.mouseClick(buttons["a box again"], Qt.MouseButton.LeftButton)
    assert isinstance(cart.session.document.volume("body"), Box)
    cart.session.undo()
    cart.session.undo()
    assert cart.session.document == demo("tea-cart")
    cart.session.select(("wheel-near",))
    place._axle.setCurrentIndex(0)
    place._axle.activated.emit(0)
    assert cart.session.document.volume("wheel-near").axle == "long"


def test_the_profile_is_edited_in_its_table_and_by_csv(cart, tmp_path):
    place = section(cart, 1)
    table = place.table
    assert [table.item(r, 0).text() for r in range(4)] == ["0", "13.2", "46.8", "60"]
    table.item(1, 1).setText("95 %")
    assert cart.session.document.volume("wheel-near").profile[1].wide == pytest.approx(0.95)
    table.item(1, 1).setText("wide")
    assert cart.words().startswith("⚠") and table.item(1, 1).text() == "532"
    table.item(1, 1).setText("900")
    assert cart.words().startswith("⚠") and table.item(1, 1).text() == "532"
    table.item(1, 1).setText("54 cm")
    assert cart.session.document.volume("wheel-near").profile[1].wide == pytest.approx(540.0 / 560.0)
    table.item(1, 1).setText("532")
    place._add()
    assert table.rowCount() == 5
    table.setCurrentCell(2, 0)
    place._remove()
    assert table.rowCount() == 4
    place._run_on(1, "smooth")
    assert cart.session.document.volume("wheel-near").profile[1].then == "smooth"
    path = tmp_path / "profile.csv"
    path.write_text("height,diameter\n0,100\n40,200,round\n100,20\n")
    place.read(path)
    rings = cart.session.document.volume("wheel-near").profile
    assert [(r.at, r.wide, r.then) for r in rings] == [
        (0.0, 0.5, "straight"),
        (0.4, 1.0, "round"),
        (1.0, 0.1, "straight"),
    ]
    path.write_text("0,100\n40,much\n")
    place.read(path)
    assert "Row 2 is no ring" in cart.words()


def test_rings_and_spokes_on_the_ends(cart):
    place = section(cart, 2)
    place._rings.setFocus()
    place._rings.setText("80, 40 %; 10")
    QTest.keyClick(place._rings, Qt.Key.Key_Return)
    place._spokes.setValue(7)
    wheel = cart.session.document.volume("wheel-near")
    assert wheel.face_rings == (0.8, 0.4, 0.1) and wheel.spokes == 7
    place._rings.setText("a lot")
    QTest.keyClick(place._rings, Qt.Key.Key_Return)
    assert "no percentage" in cart.words() and place._rings.text() == "80, 40, 10"


def test_rings_are_told_with_the_template_of_the_persons_rack(cart, tmp_path):
    place = section(cart, 3)
    assert place.table.rowCount() == 10 and "minor axis" in place._words.text() and "template" in place._words.text()
    cells = [place.table.item(0, column).text() for column in range(4)]
    assert cells[0] == "504" and cells[1].endswith("°") and cells[2].count("°") == 1 and float(cells[3]) < 2.0
    before = place._words.text()
    path = tmp_path / "rack.csv"
    path.write_text("degrees,20,30\nmajors,1 1/4 in,20 mm,55\n")
    try:
        place.read(path)
        assert load_settings().rack.majors == (20.0, 31.75, 55.0)
        assert place._words.text() != before
        path.write_text("degrees,20,x\nmajors,5\n")
        place.read(path)
        assert "'x' in the row of degrees" in cart.words()
    finally:
        save_settings(load_settings().__class__())


def test_racks_and_profiles_come_back_from_their_own_files():
    assert rack_from_csv(rack_to_csv(Rack())) == Rack()
    wheel = make_round(demo("tea-cart"), ("body",), "bottle").document.volume("body")
    back = profile_from_csv(profile_to_csv(wheel))
    for got, meant in zip(back, wheel.profile, strict=True):
        assert (got.at, got.wide, got.then) == (pytest.approx(meant.at), pytest.approx(meant.wide), meant.then)
    with pytest.raises(DocumentError, match="row of degrees and a row of majors"):
        rack_from_csv("majors,5\n")
    with pytest.raises(DocumentError, match="no profile called 'egg'"):
        make_round(demo("tea-cart"), ("body",), "egg")
    with pytest.raises(DocumentError, match="two rings at different heights"):
        profile_from_csv("0,10\n0,20\n")


def test_one_degree_for_all_shows_its_cost_and_the_eye_is_chosen_for_it(cart):
    cart.session.select(("wheel-near", "wheel-front"))
    place = section(cart, 3)
    place._degree.setCurrentIndex(place._degree.findData(45.0))
    place._degree.activated.emit(place._degree.currentIndex())
    assert place._cost.text().count("off by") == 2 and "Rear wheel near" in place._cost.text()
    rows = [cart.session.document.index_of(i) for i in cart.session.selection]
    before = widest_degrees(cart.session.document, rows)
    cart.session.select(("wheel-near",))
    rows = [cart.session.active]
    before = widest_degrees(cart.session.document, rows)
    place._degree.setCurrentIndex(place._degree.findData(50.0))
    place._distance.setChecked(True)
    QTest.mouseClick(place.find_eye, Qt.MouseButton.LeftButton)
    after = widest_degrees(cart.session.document, rows)
    assert abs(after - 50.0).max() <= 0.5 < abs(before - 50.0).max()
    assert "Degrees before" in cart.words()
    cart.session.undo()
    assert cart.session.document == demo("tea-cart")


def test_no_eye_for_a_degree_is_said_with_the_nearest():
    cart = demo("tea-cart")
    rows = [cart.index_of("wheel-near"), cart.index_of("post-1")]
    with pytest.raises(DocumentError, match=r"No eye near this one brings them all to 80°\. The nearest gives"):
        eye_for_template(cart, rows, 80.0)
    with pytest.raises(DocumentError, match="Body is not round"):
        eye_for_template(cart, [cart.index_of("body")], 80.0)
    with pytest.raises(DocumentError, match="Select the round volumes"):
        eye_for_template(cart, [], 80.0)


def test_the_change_of_the_eye_is_the_smallest():
    cart = demo("tea-cart")
    rows = [cart.index_of("wheel-near")]
    now = float(widest_degrees(cart, rows)[0])
    found = eye_for_template(cart, rows, now + 3.0, tolerance=0.25)
    turn = turn_of(found.edit.document) - turn_of(cart)
    for less in (0.9 * turn, -0.9 * turn):
        other = widest_degrees(turn_object(cart, turn_of(cart) + less).document, rows)[0]
        assert abs(other - (now + 3.0)) > 0.25


def test_rings_are_pulled_on_the_side_view_and_on_the_board(cart):
    cart.session.select(("lamp",))
    place = section(cart, 1)
    card = place.card

    def profile():
        return cart.session.document.volume("lamp").profile

    start = card.point_of(profile()[1].at, profile()[1].wide)
    end = card.point_of(0.45, 0.7)
    QTest.mousePress(card, Qt.MouseButton.LeftButton, pos=start.toPoint())
    QTest.mouseMove(card, end.toPoint())
    QTest.mouseRelease(card, Qt.MouseButton.LeftButton, pos=end.toPoint())
    assert profile()[1].at == pytest.approx(0.45, abs=0.02) and profile()[1].wide == pytest.approx(0.7, abs=0.03)
    assert cart.session.undo_name.startswith("change the profile of")
    card.setFocus()
    cart.key(Qt.Key.Key_Up)
    assert profile()[1].at == pytest.approx(0.46, abs=0.02)
    cart.key(Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    first = card.point_of(0.0, profile()[0].wide)
    QTest.mousePress(card, Qt.MouseButton.LeftButton, pos=first.toPoint())
    QTest.mouseMove(card, card.point_of(0.3, 0.9).toPoint())
    assert profile()[0].at == 0.0 and profile()[0].wide == pytest.approx(0.9, abs=0.03), "an end stays an end"
    QTest.keyClick(card, Qt.Key.Key_Escape)
    assert profile()[0].wide == 0.4
    QTest.mouseRelease(card, Qt.MouseButton.LeftButton)
    cart.session.attempt(make_round, ("body",), "bottle")
    cart.session.select(("body",))
    grips = cart.board.grips._kinds[3]
    at = grips._ends(cart.board.view)[2]
    before = cart.session.document.volume("body").profile
    cart.mouse(QEvent.Type.MouseButtonPress, at)
    for step in (4.0, 9.0):
        cart.mouse(QEvent.Type.MouseMove, at - QPointF(step, 0.0), Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton)
    cart.mouse(QEvent.Type.MouseButtonRelease, at - QPointF(9.0, 0.0))
    after = cart.session.document.volume("body").profile
    assert after[2].wide < before[2].wide and after[1] == before[1]
    cart.desk.stages.open("Block")
    assert grips._ends(cart.board.view) == [], "they lie there only while their stage is open"


def test_a_profile_comes_from_a_drawn_path(cart, tmp_path):
    place = section(cart, 1)
    path = tmp_path / "vase.svg"
    svg = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 200"><path d="{}"/></svg>'
    path.write_text(svg.format("M 10 200 L 60 200 L 90 120 C 90 60 30 60 30 0"))
    place.read(path)
    rings = cart.session.document.volume("wheel-near").profile
    assert rings[0].at == 0.0 and rings[-1].at == 1.0 and rings[-1].wide == pytest.approx(0.25)
    assert max(ring.wide for ring in rings) == 1.0 and 8 < len(rings) <= 60
    for text, said in (
        (svg.format("M 10 200 L 60 100 L 90 150"), "goes down again at 100 %"),
        (svg.format("M 10 200 L 60 200"), "no height"),
        ('<svg xmlns="http://www.w3.org/2000/svg"/>', "holds no path"),
        ("<svg", "cannot be read as SVG"),
    ):
        path.write_text(text)
        place.read(path)
        assert said in cart.words(), text
    assert cart.session.document.volume("wheel-near").profile == rings


def test_a_wheel_gets_its_pair_across_on_the_same_axle(cart):
    cart.session.attempt(delete_volumes, ("wheel-far",))
    cart.session.select(("wheel-near",))
    place = section(cart, 0)
    buttons = {b.text(): b for b in place.findChildren(type(place.head))}
    QTest.mouseClick(buttons["the opposite wheel"], Qt.MouseButton.LeftButton)
    (pair,) = (cart.session.document.volume(i) for i in cart.session.selection)
    near = cart.session.document.volume("wheel-near")
    assert pair.name == "Rear wheel near 2" and pair.corner[0] == near.corner[0] and pair.corner[2] == near.corner[2]
    # The other volumes reach from 0 to 1150; the near wheel's middle at 50 belongs to 1100.
    assert pair.corner[1] + 30.0 == pytest.approx(1150.0 - 50.0)
    cart.session.select(("body",))
    QTest.mouseClick(buttons["the opposite wheel"], Qt.MouseButton.LeftButton)
    assert "Select a round volume first" in cart.words()
