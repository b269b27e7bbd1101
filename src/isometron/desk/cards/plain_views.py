"""The card of plain views: side, front and plan of the document, in which volumes are pulled and lines are drawn."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QDialog, QHBoxLayout, QVBoxLayout, QWidget

from isometron.desk.cards.ask_path import ask_path
from isometron.desk.cards.outline_window import OutlineWindow
from isometron.desk.cards.views_board import ViewsBoard
from isometron.desk.controls.fields import LengthField
from isometron.desk.controls.words import Label, word_button
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import px
from isometron.home import home
from isometron.surfaces.plain_sheet import plain_export
from isometron.volumes.cut.profiles import ViewName
from isometron.wording import tr

__all__ = ["PlainViews"]


class PlainViews(QDialog):
    """The card: the views, a switch for drawing lines, quarter lines, and the sheet to print or hand on."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle(tr("Plain views"))
        self.setModal(False)
        self.board = ViewsBoard(session)
        row = QHBoxLayout()
        row.setSpacing(12)
        self.draws = QCheckBox(tr("draw lines on the middle plane"))
        self.draws.setToolTip(tr("Click points in a view; Enter or a double click ends, a click on the first closes"))
        self.draws.toggled.connect(self._draw)
        row.addWidget(self.draws)
        label = Label(tr("quarter lines of"))
        self.quarters = LengthField(tr("Length whose quarters are ruled"), lambda: session.document, (0.0, 1e7))
        self.quarters.setToolTip(
            tr("Lines at every quarter of this length, from the start of the selected volume; 0 for none")
        )
        self.quarters.setFixedWidth(px(84))
        self.quarters.show_value(0.0)
        self.quarters.committed.connect(self._set_quarters)
        self.quarters.refused.connect(self._say)
        label.setBuddy(self.quarters)
        row.addWidget(label)
        row.addWidget(self.quarters)
        row.addStretch(1)
        for words, ending in ((tr("PDF…"), ".pdf"), (tr("SVG…"), ".svg"), (tr("DXF…"), ".dxf")):
            button = word_button(
                words, "deed", tr("The three views as a sheet at a ruler's scale; DXF at full size in mm")
            )
            button.setAutoDefault(False)
            button.clicked.connect(lambda _, e=ending: self._ask(e))
            row.addWidget(button)
        self._told = Label()
        self._told.setObjectName("quiet")
        self._told.setMinimumHeight(px(18))
        self.board.told.connect(self._told.setText)
        self.board.opened.connect(self._show_alone)
        session.said.connect(lambda words, caution: self._say(words) if caution else self._told.setText(words))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 12, 12, 8)
        layout.setSpacing(8)
        layout.addLayout(row)
        layout.addWidget(self.board, 1)
        layout.addWidget(self._told)
        self.resize(980, 660)
        self.board.setFocus()

    def _say(self, words: str) -> None:
        self._told.setText(f"⚠ {words}")

    def _show_alone(self, view: ViewName) -> None:
        self.alone = OutlineWindow(self._session, view, self)
        self.alone.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.alone.show()

    def _draw(self, on: bool) -> None:
        self.board.draws = on
        self.board.setFocus()
        self.board.update()

    def _set_quarters(self, length: float) -> None:
        self.board.quarters = length or None
        self.board.update()

    def _ask(self, ending: str) -> None:
        folder = self._session.path.parent if self._session.path else home()
        stem = tr("{title} views", title=self._session.document.title)
        path = ask_path(self, tr("Plain views"), folder, stem, ending, f"{ending[1:].upper()} (*{ending})")
        if path is not None:
            self.write(path)

    def write(self, path: Path) -> None:
        """Write the views in the format of the path's ending, and say so."""
        document = self._session.document
        self._session.hand_out(path, lambda tell, say: plain_export(document, path, tell, say=say))
