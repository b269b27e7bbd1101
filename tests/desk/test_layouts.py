"""No word is clipped and nothing lies on anything else: every stage and section, at small and large windows."""

import pytest
from PyQt6.QtCore import QPoint, QRect, Qt
from PyQt6.QtGui import QCursor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractScrollArea,
    QApplication,
    QCheckBox,
    QComboBox,
    QLabel,
    QLineEdit,
    QScrollBar,
    QToolButton,
    QWidget,
)

from isometron.demos.catalogue import DEMOS, demo
from isometron.desk.controls.section import Section
from isometron.desk.controls.words import Wrapped
from isometron.desk.frame.settings import Settings, load_settings, save_settings
from isometron.desk.frame.theme import set_text_size
from isometron.document.edits import change_volume
from isometron.document.fresh import new_document
from isometron.document.lengths.proportion import add_target, set_length
from isometron.document.shapes.shaping import SHAPES, make_shape
from isometron.starters.catalogue import STARTERS, lay_starter

SIZES = ((1024, 700), (1280, 800), (1900, 1100))
STAGES = ("Eye", "Block", "Divide", "Rounds", "Check", "Hand on")
LONG = "Counter with the folding leaf on the market's far side"


def rest():
    for _ in range(10):
        QApplication.processEvents()


def car():
    document = lay_starter(new_document(), "low-car").document
    document = set_length(document, "wheelbase", "wheel.pitch").document
    document = add_target(document, "wheelbase = 4 wheel").document
    return change_volume(document, "cabin", "rename", name=LONG).document


def sections_of(stage):
    return [s for s in stage.findChildren(Section) if s.isVisibleTo(stage)]


def clipped(widget):
    """Words of a widget that do not fit into it; a wrapped label has room for all its lines."""
    if isinstance(widget, QLabel):
        if isinstance(widget, Wrapped) or widget.wordWrap():
            return widget.height() + 1 < widget.heightForWidth(widget.width())
        return widget.text() and widget.width() + 1 < widget.fontMetrics().horizontalAdvance(widget.text())
    if isinstance(widget, QAbstractButton) and widget.text():
        return widget.width() < widget.fontMetrics().horizontalAdvance(widget.text())
    if isinstance(widget, QLineEdit) and widget.text() and widget.isReadOnly():
        return widget.width() < widget.fontMetrics().horizontalAdvance(widget.text())
    return False


def told(widget):
    return getattr(widget, "text", lambda: "")() or widget.accessibleName()


def look(place):
    kinds = (QLabel, QAbstractButton, QLineEdit, QComboBox, QCheckBox)
    shown = [w for kind in kinds for w in place.findChildren(kind) if w.isVisible() and w.width() > 0]
    assert not [told(w) for w in shown if clipped(w)], "clipped"
    parents = {}
    for widget in set(shown):
        parents.setdefault(widget.parentWidget(), []).append(widget)
    for siblings in parents.values():
        for k, one in enumerate(siblings):
            for other in siblings[k + 1 :]:
                shared = one.geometry().intersected(other.geometry())
                assert shared.width() <= 2 or shared.height() <= 2, f"{told(one)!r} lies on {told(other)!r}"


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize("stage", STAGES)
def test_every_section_of_every_stage_has_room(desk, size, stage):
    hand = desk(car(), size=size)
    hand.session.select(("cabin",))
    hand.desk.stages.open(stage)
    rest()
    place = hand.desk.stages
    look(place)
    found = sections_of(place)
    for section in found:
        if not section.head.isChecked():
            QTest.mouseClick(section.head, Qt.MouseButton.LeftButton)
        rest()
        look(section)
        column = QRect(section.mapTo(place, QPoint(0, 0)), section.size())
        assert column.width() <= place.width(), "no section is wider than its column"
    assert found or stage in ("Check", "Hand on")


@pytest.mark.parametrize("name", SHAPES)
def test_the_numbers_of_every_shape_have_room(desk, name):
    document = make_shape(car(), ("body",), name).document
    hand = desk(document)
    hand.session.select(("body",))
    hand.desk.stages.open("Block")
    section = hand.desk.stages.body("Block").shapes
    QTest.mouseClick(section.head, Qt.MouseButton.LeftButton)
    rest()
    look(section)
    hand.session.select(())
    rest()
    look(section)


@pytest.mark.parametrize("name", STARTERS)
def test_the_ledger_and_the_card_take_every_starter(desk, name):
    hand = desk(lay_starter(new_document(unit="in"), name).document, size=(1024, 700))
    for volume in hand.session.document.volumes:
        hand.session.select((volume.id,))
        rest()
        look(hand.desk.card)
    table = hand.desk.ledger
    assert table.viewport().width() >= sum(table.columnWidth(k) for k in range(1, table.model().columnCount()))


@pytest.mark.parametrize("unit", ["mm", "cm", "m", "in"])
def test_lengths_stay_whole_in_every_unit(desk, unit):
    document = demo("stall-row").__class__(
        **{f: getattr(demo("stall-row"), f) for f in demo("stall-row").__struct_fields__} | {"unit": unit}
    )
    hand = desk(document, size=(1024, 700))
    hand.session.select(("bay",))
    hand.desk.stages.open("Divide")
    section = hand.desk.stages.body("Divide").rows
    QTest.mouseClick(section.head, Qt.MouseButton.LeftButton)
    rest()
    look(section)
    for field in section.findChildren(QLineEdit):
        if field.isVisible() and field.text():
            assert field.width() >= field.fontMetrics().horizontalAdvance(field.text()) + 6, field.text()


def test_words_that_get_shorter_give_their_room_back(desk):
    label = Wrapped()
    label.resize(120, 10)
    label.setText("one two three " * 30)
    tall = label.minimumHeight()
    label.setText("one")
    assert label.minimumHeight() < tall / 5
    label.setText("")
    assert label.minimumHeight() == 0


@pytest.mark.parametrize("size", [(760, 520), (1400, 900)])
def test_the_plain_views_stand_apart_and_inside_their_card(desk, size):
    hand = desk(car())
    hand.key(Qt.Key.Key_V)
    views = hand.desk._views
    views.resize(*size)
    rest()
    board = views.board
    boxes = []
    for number, view in enumerate(board._views):
        one, two = board.pixel(number, view.low), board.pixel(number, view.high)
        box = QRect(one.toPoint(), two.toPoint()).normalized()
        assert board.rect().adjusted(20, 20, -20, -20).contains(box), "room for its dimensions too"
        boxes.append(box)
    for k, one in enumerate(boxes):
        assert not any(one.adjusted(-10, -10, 10, 10).intersects(other) for other in boxes[k + 1 :])
    look(views)
    views.close()


def sticking_out(window):
    """Visible widgets that reach beyond their parents; what lies in a scrolled column may."""
    found = []
    for widget in window.findChildren(QWidget):
        parent = widget.parentWidget()
        if not widget.isVisible() or parent is None or widget.isWindow() or isinstance(widget, QScrollBar):
            continue
        if isinstance(parent.parentWidget(), QAbstractScrollArea) or parent.objectName() == "qt_scrollarea_viewport":
            continue
        if not parent.rect().adjusted(-1, -1, 1, 1).contains(widget.geometry()):
            found.append(f"{type(widget).__name__} {told(widget)!r} {widget.geometry()} in {parent.rect()}")
    return found


def short_figures(table):
    """Figures of a table that its columns have no room for; names may be shortened."""
    model, metrics, found = table.model(), table.fontMetrics(), []
    for row in range(model.rowCount()):
        for column in range(1, model.columnCount()):
            text = str(model.data(model.index(row, column)))
            if metrics.horizontalAdvance(text) + 6 > table.columnWidth(column):
                found.append(text)
    return found


TURNS = [
    (size, percent, n) for n, (size, percent) in enumerate((s, p) for s in ((1000, 640), *SIZES) for p in (100, 130))
]


@pytest.mark.parametrize(("size", "percent", "turn"), TURNS)
def test_nothing_sticks_out_of_its_parent_and_no_figure_is_shortened(home, desk, size, percent, turn):
    """Rotated: every window size and text size, each with other demos and stages; together all of them."""
    save_settings(Settings(text_percent=percent))
    names = list(DEMOS)
    documents = [new_document(), car(), *(demo(names[(turn + k) % len(names)]) for k in range(2))]
    try:
        for number, document in enumerate(documents):
            hand = desk(document, size=size)
            for stage in (STAGES[(turn + number) % 6], STAGES[(turn + number + 3) % 6]):
                hand.desk.stages.open(stage)
                if document.volumes:
                    hand.session.select((document.volumes[min(1, len(document.volumes) - 1)].id,))
                rest()
                assert sticking_out(hand.window) == []
                assert short_figures(hand.desk.ledger) == []
                for label in hand.window.findChildren(QLabel):
                    assert not (label.isVisible() and label.width() > 0 and clipped(label)), told(label)
            card = hand.desk.invitation
            if card.isVisible():
                assert hand.board.rect().contains(card.geometry())
                look(card)
            hand.window.hide()
    finally:
        set_text_size(QApplication.instance(), 100)


def test_what_tells_of_a_selected_volume_takes_room_only_while_there_is_one(desk):
    hand = desk(demo("tea-cart"))
    hand.window.resize(1024, 700)
    ledger, card, edges = hand.desk.ledger, hand.desk.card, hand.desk.edge_table

    def rows():
        QApplication.processEvents()
        return sum(
            ledger.viewport().rect().contains(ledger.visualRect(ledger.model().index(row, 0)))
            for row in range(ledger.model().rowCount())
        )

    hand.session.select(())
    assert rows() >= 6 and not card.isVisible() and not edges.isVisible()
    hand.session.select(("body",))
    assert rows() >= 4 and card.isVisible() and edges.isVisible()
    hand.session.select(())
    QApplication.processEvents()
    # A row far down is named anew by a double click: nothing moves away from under the hand meanwhile.
    place = ledger.visualRect(ledger.model().index(10, 0)).center()
    QCursor.setPos(ledger.viewport().mapToGlobal(place))
    QTest.mouseMove(ledger.viewport(), place)
    QTest.mouseClick(ledger.viewport(), Qt.MouseButton.LeftButton, pos=place)
    QTest.mouseDClick(ledger.viewport(), Qt.MouseButton.LeftButton, pos=place)
    editor = ledger.findChild(QLineEdit)
    assert editor is not None and editor.text() == hand.session.document.volumes[10].name


def test_panels_fold_to_the_edge_by_key_and_click_and_stay_so(desk):
    hand = desk(demo("tea-cart"))
    hand.window.resize(1280, 800)
    figures = hand.desk.ledger

    def share():
        """Of the window, what the sheet covers."""
        QApplication.processEvents()
        sheet = hand.session.document.sheet
        scale = hand.board.view.scale
        shown = min(sheet.width * scale, hand.board.width()) * min(sheet.height * scale, hand.board.height())
        return shown / (hand.window.width() * hand.window.height())

    before = share()
    hand.key(Qt.Key.Key_1, Qt.KeyboardModifier.ControlModifier)
    assert not hand.desk.stages.isVisible() and figures.isVisible() and before >= 0.5 and share() > before
    arrows = {each.accessibleName(): each for each in hand.desk.top_bar.findChildren(QToolButton)}
    assert [arrows[name].text() for name in ("Stages to the edge", "Figures to the edge")] == ["›", "›"]
    (button,) = (
        b for b in hand.desk.top_bar.findChildren(QToolButton) if b.accessibleName() == "Figures to the edge"
    )
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    assert not figures.isVisible() and share() >= 0.5
    # Keys work on: a tool is taken up and a stage is opened while its list is folded away.
    hand.key(Qt.Key.Key_F4)
    assert hand.desk.stages.opened_name == "Divide"
    other = desk(demo("perch-stool"))
    assert not other.desk.stages.isVisible() and not other.desk.ledger.isVisible()
    for key in (Qt.Key.Key_1, Qt.Key.Key_2):
        other.key(key, Qt.KeyboardModifier.ControlModifier)
    assert other.desk.stages.isVisible() and other.desk.ledger.isVisible()
    assert load_settings().folded == ()
