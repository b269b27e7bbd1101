"""Names are text: titles, names and file names are shown as they are, in every label, tip, message and table."""

from xml.etree import ElementTree

import msgspec
from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtGui import QStandardItemModel
from PyQt6.QtWidgets import QAbstractItemView, QApplication, QLabel, QMessageBox, QWidget

from isometron.demos.catalogue import demo
from isometron.desk.stages.register import STAGES
from isometron.document.edits import change_document, change_volume
from isometron.document.lengths.proportion import add_target, set_length
from isometron.solve.drawing import solve
from isometron.surfaces.painters.svg import svg_text

HOSTILE = "<img src='/dev/zero'><b>x</b>&amp;"


def hostile():
    document = change_document(demo("tea-cart"), "title", title=HOSTILE).document
    for volume in document.volumes:
        document = change_volume(document, volume.id, "rename", name=f"{HOSTILE} {volume.id}"[:120]).document
    document = set_length(document, "wheelbase", "1500").document
    return add_target(document, "wheelbase = 1600").document


def is_markup(text):
    return "<img" in text and not text.startswith("<qt>")


def tips(widget):
    yield widget.toolTip()
    if isinstance(widget, QAbstractItemView) and isinstance(widget.model(), QAbstractTableModel | QStandardItemModel):
        model = widget.model()
        for row in range(min(model.rowCount(QModelIndex()), 30)):
            for column in range(model.columnCount(QModelIndex())):
                yield str(model.index(row, column).data(Qt.ItemDataRole.ToolTipRole) or "")
    for action in widget.actions():
        yield action.toolTip()


def walk(root):
    for widget in [root, *root.findChildren(QWidget)]:
        if isinstance(widget, QLabel) and "<img" in widget.text():
            plain = widget.textFormat() == Qt.TextFormat.PlainText
            escaped = "&lt;img" in widget.text() and "<img" not in widget.text()
            assert plain or escaped, widget.text()
        if isinstance(widget, QLabel) and widget.textFormat() == Qt.TextFormat.RichText:
            assert "<img" not in widget.text()
        for tip in tips(widget):
            assert not is_markup(tip), (type(widget).__name__, tip)


def test_a_hostile_name_is_shown_and_never_read(home, desk):
    hand = desk(hostile())
    document = hand.session.document
    for volume in document.volumes[:6]:
        hand.session.select((volume.id,))
        for stage in STAGES:
            hand.desk.stages.open(stage.name)
            body = hand.desk.stages.body(stage.name)
            sections = getattr(body, "sections", None)
            for section in sections.findChildren(QWidget) if isinstance(sections, QWidget) else []:
                if hasattr(section, "head"):
                    section.show_open(True)
            QApplication.processEvents()
            walk(hand.window)
    hand.session.say(HOSTILE, caution=True)
    hand.desk.show_views()
    walk(hand.window)
    for top in QApplication.topLevelWidgets():
        walk(top)
    hand.desk._views.close()
    assert any("<img" in label.text() for label in hand.window.findChildren(QLabel)), "it is shown, as it is"


def test_questions_show_names_as_they_are(home, desk, monkeypatch):
    hand, seen = desk(hostile()), []

    def look(box):
        seen.append(box)
        walk(box)
        for label in box.findChildren(QLabel):
            assert "<img" not in label.text() or label.textFormat() == Qt.TextFormat.PlainText
        return 0

    monkeypatch.setattr(QMessageBox, "exec", look)
    hand.session.attempt(change_document, "change title", title=HOSTILE + "2")
    hand.desk.paperwork.may_leave()
    assert seen and "<img" in seen[0].text()


def test_control_characters_never_reach_an_svg():
    cart = demo("tea-cart")
    volumes = (msgspec.structs.replace(cart.volumes[0], name="a\x00b\x1bc\ufffe<&>"), *cart.volumes[1:])
    text = svg_text(solve(msgspec.structs.replace(cart, volumes=volumes, title="t\x07")))
    ElementTree.fromstring(text)


def test_labels_are_made_in_one_way():
    """A label of the toolkit's own reads names as markup: only `desk.words` makes labels."""
    from pathlib import Path

    import isometron.desk

    for path in Path(isometron.desk.__file__).parent.rglob("*.py"):
        text = path.read_text()
        if path.name != "words.py":
            assert "QLabel(" not in text and "import QLabel" not in text, path.name
            assert "QMessageBox(" not in text, path.name
