"""Menus, the handbook, About, the sheet's share of the window: how the program meets its person."""

import importlib.util
import re
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QContextMenuEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMenu, QPushButton

from isometron.demos.catalogue import demo
from isometron.desk.cards.about import about_rows, compiled_loops
from isometron.desk.cards.handbook_card import PAGES, page_text
from isometron.desk.deeds.register import DEEDS
from isometron.document.edits import paste_volumes
from isometron.document.fresh import new_document, paper_size
from isometron.volumes.box import Box

ROOT = Path(__file__).parents[2]


def share(hand):
    """Of the window, what the sheet covers; and the sheet's and the board's height."""
    QApplication.processEvents()
    x0, y0, x1, y1 = hand.board.view.bounds(*hand.session.document.sheet.rectangle)
    assert x0 >= 0 and y0 >= 0 and x1 <= hand.board.width() and y1 <= hand.board.height()
    return (x1 - x0) * (y1 - y0) / (hand.window.width() * hand.window.height()), y1 - y0


@pytest.mark.parametrize(("size", "least"), [((1280, 800), 0.5), ((1920, 1080), 0.6)])
@pytest.mark.parametrize("filled", [False, True])
def test_the_sheet_is_the_boss(desk, size, least, filled):
    hand = desk(demo("delivery-van") if filled else new_document(width=297.0, height=210.0), size)
    assert share(hand)[0] >= least
    upright = desk(new_document(width=210.0, height=297.0), size)
    assert upright.board.height() - share(upright)[1] <= 24


@pytest.mark.parametrize(
    ("size", "percent", "rows"), [((1024, 700), 100, 4), ((1280, 800), 130, 4), ((1280, 800), 100, 6)]
)
def test_stage_names_and_the_first_rows_are_in_sight(home, desk, size, percent, rows):
    hand = desk(demo("tea-cart"), size)
    hand.desk.set_text(percent)
    laid = hand.window.desk
    try:
        hand.session.select(("body",))
        QTest.qWait(50)
        laid.stages.open("Rounds")
        QApplication.processEvents()
        ledger, stages = laid.ledger, laid.stages
        assert ledger.viewport().height() >= rows * ledger.rowHeight(0)
        assert laid.edge_table.viewport().height() >= 4 * laid.edge_table.rowHeight(0)
        for button in stages._buttons.values():
            foot = button.mapTo(stages, button.rect().bottomRight())
            assert button.isVisible() and foot.y() <= stages.height() and foot.x() <= stages.width()
    finally:
        laid.set_text(100)


def test_the_selected_row_is_in_sight_however_many_there_are(desk):
    volumes = tuple(
        Box(id=f"b{k}", name=f"Box {k}", size=(50.0, 50.0, 50.0), corner=(60.0 * k, 0.0, 0.0)) for k in range(120)
    )
    hand = desk(paste_volumes(new_document(), volumes).document)
    for row in (90, 5, 60):
        hand.session.select((hand.session.document.volumes[row].id,))
        QTest.qWait(30)
        ledger = hand.desk.ledger
        top = ledger.rowViewportPosition(row)
        assert top >= 0 and top + ledger.rowHeight(row) <= ledger.viewport().height() + 1


def test_menus_do_what_they_say(desk):
    hand = desk(demo("tea-cart"))
    bar = {button.text(): button for button in hand.desk.top_bar.findChildren(QPushButton)}
    names = {word: {a.text() for a in bar[word].menu().actions()} for word in ("Edit", "View", "Help")}
    assert {"Undo", "Copy", "Select all", "Lock or unlock"} <= names["Edit"]
    assert {"Whole sheet", "Full screen", "Text size"} <= names["View"]
    assert names["Help"] == {"Handbook", "Card of keys", "About Isometron", ""}
    hand.session.select(("canopy",))
    for action in bar["Edit"].menu().actions():
        if action.text() == "Lock or unlock":
            action.trigger()
    assert hand.session.document.volume("canopy").locked


def menu_at(hand, widget, at):
    """Ask for the menu of a place, as a right click does, and return it."""
    event = QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, widget.mapToGlobal(at))
    QApplication.sendEvent(widget, event)
    found = [w for w in QApplication.topLevelWidgets() if isinstance(w, QMenu) and w.isVisible()]
    assert len(found) == 1
    return found[0]


def test_ledger_and_edges_have_menus_of_their_own(desk):
    hand = desk(demo("tea-cart"))
    ledger = hand.desk.ledger
    menu = menu_at(hand, ledger.viewport(), QPoint(20, ledger.rowViewportPosition(2) + 5))
    assert hand.session.selection == (hand.session.document.volumes[2].id,)
    next(a for a in menu.actions() if a.text() == "Put away or take out").trigger()
    menu.close()
    assert hand.session.document.volumes[2].put_away
    hand.session.select(("body",))
    QTest.qWait(20)
    table = hand.desk.edge_table
    menu = menu_at(hand, table.viewport(), QPoint(20, 30))
    next(a for a in menu.actions() if a.text().startswith("Copy the edges")).trigger()
    menu.close()
    rows = QApplication.clipboard().text().splitlines()
    assert len(rows) == 1 + len(hand.session.drawing.measures(hand.session.active))
    first = rows[1].split("\t")
    assert float(first[1]) == pytest.approx(hand.session.drawing.measures(hand.session.active)[0].true, abs=1e-3)


def test_the_handbook_opens_by_its_key_and_finds_words(desk):
    hand = desk(demo("tea-cart"))
    hand.key(Qt.Key.Key_F1)
    card = hand.desk._handbook
    assert card.isVisible() and card.list.count() == len(PAGES)
    assert "first hour" in card.page.toPlainText()
    QTest.keyClicks(card.sought, "tumblehome")
    shown = [row for row in range(card.list.count()) if not card.list.item(row).isHidden()]
    assert [PAGES[row] for row in shown] == ["words"] and "inward lean" in card.page.toPlainText()
    assert card.page.textCursor().selectedText().lower() == "tumblehome"
    QTest.keyClicks(card.sought, "qqq")
    assert card._none.isVisible()
    QTest.keyClick(card, Qt.Key.Key_Escape)
    assert not card.isVisible()


def test_the_handbook_is_made_from_the_program_as_it_is():
    spec = importlib.util.spec_from_file_location("make_handbook", ROOT / "docs" / "make_handbook.py")
    made = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(made)
    for path, text in made.pages().items():
        assert path.read_text(encoding="utf-8") == text, f"{path.name}: run docs/make_handbook.py"


def test_every_picture_link_and_key_of_the_handbook_is_there():
    home = ROOT / "src" / "isometron" / "assets" / "handbook"
    keys = {str(key) for deed in DEEDS.values() for key in deed.keys if isinstance(key, str)} | {
        "Ctrl+C",
        "Ctrl+Z",
        "Ctrl+N",
        "Ctrl+P",
    }
    for page in PAGES:
        text = page_text(page)
        for link in re.findall(r"\]\(([^)]+)\)", text):
            assert (home / link).is_file(), (page, link)
        for key in re.findall(r"\*\*((?:Ctrl|Shift)\+\w+|[A-Z]|F\d+)\*\*", text):
            assert key in keys, (page, key)


def test_about_tells_versions_and_the_loops():
    rows = dict(about_rows())
    assert rows["Isometron"] and rows["NumPy, SciPy"].count(".") >= 2
    compiled, whole = compiled_loops()
    assert (rows["Loops"] == "compiled") == (compiled == whole)


def test_the_first_block_begins_at_the_start_when_pressed_near_it(desk):
    width, height = paper_size("A4", landscape=True)
    hand = desk(new_document(width=width, height=height))
    hand.key(Qt.Key.Key_B)
    grain = 1.0 / hand.board.view.scale
    beside = (
        4.0 * grain * 4500.0 / hand.session.document.eye.viewing_distance
    )  # four pixels to the right, in mm of the ground
    hand.press(beside, 0, 0)
    hand.release(700, 0, 0)
    hand.click(700, 400, 0)
    hand.click(700, 400, 300)
    (volume,) = hand.session.document.volumes
    assert volume.corner == (0.0, 0.0, 0.0)
