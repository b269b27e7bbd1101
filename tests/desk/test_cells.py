"""No figure of any table is ever cut, and a few rows are always shown: over all demos and starters, sizes, texts and units."""

import msgspec
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFontMetrics
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QTableView

from isometron.demos.catalogue import DEMOS, demo
from isometron.desk.frame.theme import set_text_size
from isometron.desk.instruments.edge_table import EdgeTable
from isometron.desk.instruments.ledger import Ledger
from isometron.desk.stages.rounds.ring_table import RingTable
from isometron.desk.stages.rounds.told_rings import ToldRings
from isometron.document.fresh import new_document
from isometron.starters.catalogue import STARTERS, lay_starter
from isometron.volumes.turned import Turned

WAYS = [
    ((1024, 700), 100, "mm"), ((1024, 700), 130, "in"), ((1280, 800), 100, "in"), ((1280, 800), 130, "mm"),
    ((1920, 1080), 130, "in"),
]  # fmt: skip


def everything():
    yield from (demo(name) for name in DEMOS)
    yield from (lay_starter(new_document(), name).document for name in STARTERS)


def cut(table):
    """The cells and heads whose words need more than there is; a name is no figure and keeps its first eight letters."""
    model, head, named = table.model(), table.horizontalHeader(), isinstance(table, Ledger)
    for column in range(model.columnCount()):
        if not table.isColumnHidden(column) and head.sectionSizeHint(column) > head.sectionSize(column):
            yield model.headerData(column, Qt.Orientation.Horizontal)
    for row in range(model.rowCount()):
        for column in range(model.columnCount()):
            index = model.index(row, column)
            rect, words = table.visualRect(index), str(index.data() or "")
            if not words or rect.isEmpty():
                continue
            need = table.sizeHintForIndex(index).width()
            if named and column == 0 and len(words) > 8:
                metrics = QFontMetrics(index.data(Qt.ItemDataRole.FontRole) or table.font())
                need -= metrics.horizontalAdvance(words) - metrics.horizontalAdvance(f"{words[:8]}…")
            if need > min(rect.width(), table.viewport().width() - rect.left()):
                yield words


@pytest.mark.parametrize(("size", "percent", "unit"), WAYS, ids=str)
def test_no_figure_of_a_table_is_cut(desk, home, qapp, size, percent, unit):
    set_text_size(qapp, percent)
    try:
        seen = set()
        hand = desk(size=size)
        for document in everything():
            if not document.volumes:
                continue
            work = hand.window.put_in(msgspec.structs.replace(document, unit=unit), None)
            rounds = [v for v in document.volumes if isinstance(v, Turned)]
            for volume in [document.volumes[0], *rounds[:1]]:
                work.session.select((volume.id,))
                work.stages.open("Rounds" if volume in rounds else "Block")
                if volume in rounds:
                    rings = next(s for s in work.stages.body("Rounds").sections.all if isinstance(s, ToldRings))
                    rings.head.isChecked() or rings.head.click()
                work.figures._give_room()
                QTest.qWait(10)
                for table in work.findChildren(QTableView):
                    if table.isVisible():
                        seen.add(type(table))
                        assert list(cut(table)) == [], (document.title, volume.name, type(table).__name__)
                for table, rows in ((work.ledger, work.ledger.model().rowCount()), (work.edge_table, 4)):
                    high = table.viewport().height() + table.rowHeight(0) // 4
                    assert high >= min(rows, 4) * table.rowHeight(0), (document.title, type(table).__name__)
        assert seen >= {Ledger, EdgeTable, RingTable}
    finally:
        set_text_size(qapp, 100)
        QApplication.processEvents()
