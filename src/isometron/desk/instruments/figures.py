"""The figures beside the board: plan dial, ledger, and what tells of the selected volume."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QAbstractItemView, QApplication, QFrame, QSizePolicy, QSplitter, QVBoxLayout, QWidget

from isometron.desk.controls.words import Label, plain_tip
from isometron.desk.frame.session import Session
from isometron.desk.instruments.dial_panel import DialPanel
from isometron.desk.instruments.edge_table import EdgeTable
from isometron.desk.instruments.ledger import Ledger, VolumeCard
from isometron.desk.instruments.new_line import NewLine
from isometron.wording import tr

__all__ = ["Figures"]

_SIDE, _HANDLE = 6, 6
_SIZES = [210, 340, 186]


class Figures(QWidget):
    """Dial, ledger and edges, one above the other. What tells of the selected volume takes room only while there is one.

    Signal: ``needs`` with the width in pixels below which a figure would be cut.
    """

    needs = pyqtSignal(int)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.ledger, self.card = Ledger(session), VolumeCard(session)
        self.new_line = NewLine(session)
        self.edge_table, self.dial_panel = EdgeTable(session), DialPanel(session)
        self._edges_of = _heading(tr("Edges"))
        rule, lower = _rule(), self._lower()
        self._splitter = splitter = QSplitter(Qt.Orientation.Vertical)
        splitter.setChildrenCollapsible(False)
        self._free, self._upper_part = QWidget(), self._upper(rule)
        for part in (self.dial_panel, self._upper_part, lower, self._free):
            splitter.addWidget(part)
        splitter.setSizes(_SIZES)
        for row, share in enumerate((0, 1, 1, 1)):
            splitter.setStretchFactor(row, share)  # a tall window is for the ledger and the edges
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(splitter)
        self._of_selected = (rule, self.card, lower)
        self.least, self._of_what = 0, ""
        self._room = QTimer(self)
        self._room.setSingleShot(True)
        self._room.timeout.connect(self._give_room)
        session.selection_changed.connect(self.refresh)
        session.document_changed.connect(self.refresh)
        for signal in (session.document_changed, session.selection_changed):
            signal.connect(self._keep_width)  # by then the tables show what there is now
        self._keep_width()
        self.refresh()

    def _upper(self, rule: QFrame) -> QWidget:
        upper = QWidget()
        top = QVBoxLayout(upper)
        top.setContentsMargins(_SIDE, 2, _SIDE, 2)
        top.setSpacing(2)
        top.addWidget(self.ledger, 1)
        top.addWidget(self.new_line)
        top.addWidget(rule)
        top.addWidget(self.card)
        upper.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        return upper

    def _lower(self) -> QWidget:
        lower = QWidget()
        bottom = QVBoxLayout(lower)
        bottom.setContentsMargins(_SIDE, 2, _SIDE, 2)
        bottom.setSpacing(2)
        bottom.addWidget(self._edges_of)
        bottom.addWidget(self.edge_table, 1)
        return lower

    def refresh(self) -> None:
        """Name the volume whose edges are told, and give its figures room.

        A row of the ledger that was just pointed at stays under the hand until it cannot become a double click.
        """
        row = self._session.active
        name = "" if row is None else tr(" of {name}", name=self._session.document.volumes[row].name)
        words = tr("Edges{name}", name=name)
        room = self.width() - 2 * _SIDE
        self._edges_of.setText(self._edges_of.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, room))
        self._edges_of.setToolTip(plain_tip(words))
        if self.ledger.underMouse() and row is not None and self.card.isHidden():
            self._room.start(QApplication.doubleClickInterval())
        else:
            self._give_room()

    def _give_room(self) -> None:
        if self.ledger.state() == QAbstractItemView.State.EditingState:
            self._room.start(QApplication.doubleClickInterval())
            return
        for part in self._of_selected:
            part.setVisible(self._session.active is not None)
        self._free.setVisible(self._session.active is None)
        if self._session.active is not None:
            QTimer.singleShot(0, self._scroll)  # when the ledger has the height that is left to it

        self._fold_dial()

    def _fold_dial(self) -> None:
        """Fold the dial where the rows that are always shown would have no room beside it."""
        self.edge_table.setMinimumHeight(self.edge_table.least_height())
        self.ledger.take_rows(0)
        parts = (self._upper_part, self._of_selected[-1])
        others = sum(part.minimumSizeHint().height() for part in parts if not part.isHidden()) + 3 * _HANDLE
        spare = self.height() - self.dial_panel.least_height() - others
        folded = spare < 0
        if folded != self.dial_panel.dial.folded:
            self.dial_panel.fold(folded)
            self._splitter.setSizes([0 if folded else _SIZES[0], *_SIZES[1:]])
        self.ledger.take_rows(spare)

    def _keep_width(self) -> None:
        """Ask for the width that the figures need; never less than before, so that the board stays under the hand."""
        least = max(self.ledger.least_width(), self.edge_table.least_width()) + 2 * _SIDE
        if self._of_what != (of := self._session.document.unit):
            self._of_what, self.least = of, 0
        if least > self.least:
            self.least = least
            self.needs.emit(least)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Another height: the dial may have to fold, or may unfold."""
        super().resizeEvent(event)
        self._fold_dial()

    def _scroll(self) -> None:
        self.ledger.scrollTo(self.ledger.currentIndex())


def _heading(words: str) -> Label:
    label = Label(words)
    label.setObjectName("heading")
    return label


def _rule() -> QFrame:
    line = QFrame()
    line.setObjectName("ruled")
    line.setFixedHeight(1)
    return line
