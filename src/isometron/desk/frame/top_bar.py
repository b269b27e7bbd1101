"""The bar above the board: the document and its file, undo and redo by name, sheet and unit."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QSizePolicy, QToolButton, QWidget

from isometron.desk.controls.words import Label, word_button
from isometron.desk.frame.panel_widths import BAR
from isometron.desk.frame.session import Session
from isometron.desk.frame.settings import Side
from isometron.desk.frame.theme import px
from isometron.document.edits import change_document
from isometron.document.fresh import paper_size, take_paper
from isometron.document.lengths.units import UNITS
from isometron.view.sheet import PAPERS, paper_name
from isometron.wording import tr

__all__ = ["TopBar"]


def _fold(action: QAction) -> QToolButton:
    button = QToolButton()
    button.setObjectName("fold")
    button.setAutoRaise(True)
    button.setFixedSize(px(26), px(32))
    button.setStyleSheet(f"font-size: {px(22)}px; padding: 0 0 4px 0;")
    button.setAccessibleName(action.text())
    button.setToolTip(f"{action.toolTip()} ({action.shortcut().toString()})")
    button.clicked.connect(action.trigger)
    return button


class TopBar(QWidget):
    """Words to press; each opens a menu or does one thing."""

    def __init__(
        self,
        session: Session,
        menus: dict[str, tuple[str, QMenu]],
        undo: QAction,
        redo: QAction,
        folds: dict[Side, QAction],
    ) -> None:
        super().__init__()
        self.setObjectName("topbar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(px(BAR))
        self._session, self._undo_action, self._redo_action = session, undo, redo
        layout = QHBoxLayout(self)
        layout.setContentsMargins(12, 0, 12, 0)
        layout.setSpacing(4)
        self._name = word_button("", "word", tr("New, open, save, demos"))
        self._name.setMenu(menus["document"][1])
        self._name.setStyleSheet(f"font-size: {px(16)}px; font-weight: 700;")
        self._state = Label()
        self._state.setObjectName("quiet")
        self._undo, self._redo = word_button(tr("Undo"), "word"), word_button(tr("Redo"), "word")
        self._undo.clicked.connect(undo.trigger)
        self._redo.clicked.connect(redo.trigger)
        self._paper, self._unit = word_button("", "word"), word_button("", "word")
        self._paper.setMenu(self._paper_menu())
        self._unit.setMenu(self._unit_menu())
        self._folds = {side: _fold(action) for side, action in folds.items()}
        for widget in (self._folds["left"], self._name, self._state):
            layout.addWidget(widget)
        layout.addSpacing(12)
        for name, (words, menu) in menus.items():
            if name != "document":
                button = word_button(words, "word")
                button.setMenu(menu)
                layout.addWidget(button)
        layout.addStretch(1)
        for widget in (self._undo, self._redo):
            layout.addWidget(widget)
        layout.addStretch(1)
        for widget in (self._paper, self._unit, self._folds["right"]):
            layout.addWidget(widget)
        self._name.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Preferred)
        session.file_changed.connect(self.refresh)
        session.document_changed.connect(self.refresh)
        self.refresh()

    def show_fold(self, side: Side, *, folded: bool) -> None:
        """Show whether the panel on a side is folded away: the arrow points where it would go."""
        left = (side == "left") ^ folded
        self._folds[side].setText("‹" if left else "›")

    def open_menu(self) -> None:
        """Open the document's menu as a click on its name does."""
        self._name.showMenu()

    def refresh(self) -> None:
        """Show the session."""
        document = self._session.document
        self._name.setText(f"{_short(self._session.name, 28)}  ▾")
        self._name.setAccessibleName(tr("Document {title}", title=self._session.name))
        path = self._session.path
        state = (
            tr("not saved yet") if path is None else tr("unsaved changes") if self._session.changed else tr("saved")
        )
        self._state.setText(f"{_short(path.name, 28)} · {state}" if path else state)
        for button, action, word, name in (
            (self._undo, self._undo_action, tr("Undo"), self._session.undo_name),
            (self._redo, self._redo_action, tr("Redo"), self._session.redo_name),
        ):
            button.setText(f"{word}: {_short(name, 26)}" if name else word)
            button.setToolTip(f"{word} ({action.shortcut().toString()})")
            button.setEnabled(name is not None)
            action.setEnabled(name is not None)
        self._paper.setText(f"{paper_name(document.sheet.width, document.sheet.height)}  ▾")
        self._paper.setAccessibleName(tr("Paper"))
        self._unit.setText(f"{document.unit}  ▾")
        self._unit.setAccessibleName(tr("Unit"))

    def _paper_menu(self) -> QMenu:
        menu = QMenu(self)
        for landscape in (True, False):
            for name in PAPERS:
                words = tr("{paper} landscape", paper=name) if landscape else tr("{paper} portrait", paper=name)
                menu.addAction(words, lambda n=name, flat=landscape: self._set_paper(*paper_size(n, landscape=flat)))
            if landscape:
                menu.addSeparator()
        return menu

    def _set_paper(self, width: float, height: float) -> None:
        self._session.attempt(take_paper, width, height)

    def _unit_menu(self) -> QMenu:
        menu = QMenu(self)
        for unit in UNITS:
            menu.addAction(
                unit, lambda u=unit: self._session.attempt(change_document, tr("show {unit}", unit=u), unit=u)
            )
        return menu


def _short(text: str | None, most: int) -> str:
    text = text or ""
    return text if len(text) <= most else f"{text[: most - 1].rstrip()}…"
