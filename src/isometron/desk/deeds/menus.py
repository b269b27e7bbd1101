"""What is made of deeds: actions with their keys, the document's menu, the menu on the board."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import partial
from typing import Any

from PyQt6.QtCore import QObject, Qt
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu

from isometron.demos.catalogue import DEMOS
from isometron.desk.controls.words import plain_tip
from isometron.desk.deeds.register import DEEDS
from isometron.desk.frame.settings import load_settings, recent_files
from isometron.document.store.disk import shown_name
from isometron.wording import mark, tr

__all__ = ["DeskActions"]

Blocks = tuple[tuple[str, ...], ...]
"""Deeds by name, a rule between each block and the next."""

_PAPER: Blocks = (("save", "save_as", "title"), ("print", "preview"), ("window", "close"))
_BAR: dict[str, tuple[str, Blocks]] = {
    "edit": (
        mark("Edit"),
        (
            ("undo", "redo"),
            ("copy", "cut", "paste", "duplicate", "delete"),
            ("select_all", "rename", "group"),
            ("see_through", "put_away", "lock", "front", "lay_on_body"),
            ("earlier", "later"),
        ),
    ),
    "view": (
        mark("View"),
        (
            ("fit", "fit_all", "larger", "smaller"),
            ("views", "next_eye", "last_eye", "hide_picture"),
            ("fold_left", "fold_right", "full_screen", "night"),
        ),
    ),
    "help": (mark("Help"), (("handbook", "keys"), ("about",))),
}
"""Menus in the bar beside the document's, with their words."""

_AT: dict[str, Blocks] = {
    "volume": (
        ("construct", "rename", "duplicate"),
        ("see_through", "put_away", "lock", "group"),
        ("copy", "cut", "paste", "delete"),
    ),
    "paper": (("block", "round", "paste", "select_all"), ("picture", "hide_picture"), ("fit", "fit_all", "views")),
    "ledger": (
        ("rename", "construct", "duplicate"),
        ("see_through", "put_away", "lock", "group"),
        ("earlier", "later", "select_all"),
        ("copy", "cut", "paste", "delete"),
    ),
    "edges": (("copy_edges",), ("construct", "measure"), ("see_through", "put_away")),
}
"""Menus at the pencil, by what it points at."""


class DeskActions(QObject):
    """A desk's actions by name: one for each deed, which can be done when the deed is possible."""

    def __init__(self, desk: Any) -> None:
        super().__init__(desk)  # and goes with it
        self._desk = desk
        self._actions = {name: self._made(name) for name in DEEDS}
        self._recent_menu: QMenu | None = None
        for signal in (desk.session.selection_changed, desk.session.document_changed, desk.session.file_changed,
                       desk.board.picked.changed):  # fmt: skip
            signal.connect(self.refresh)
        self.refresh()

    def _made(self, name: str) -> QAction:
        deed = DEEDS[name]
        action = QAction(tr(deed.words), self._desk)
        action.setShortcuts([QKeySequence(key) for key in deed.keys])
        action.setToolTip(tr(deed.tip))
        action.triggered.connect(lambda: self.do(name))
        self._desk.addAction(action)
        return action

    def do(self, name: str) -> None:
        """Do a deed if it is possible now."""
        if DEEDS[name].possible(self._desk):
            DEEDS[name].act(self._desk)

    def refresh(self) -> None:
        """Let each action be done only when its deed is possible."""
        for name, action in self._actions.items():
            action.setEnabled(DEEDS[name].possible(self._desk))

    def __iter__(self) -> Iterator[QAction]:
        return iter(self._actions.values())

    def __getitem__(self, name: str) -> QAction:
        return self._actions[name]

    def _fill(self, menu: QMenu, blocks: Iterable[Iterable[str]]) -> QMenu:
        for number, names in enumerate(blocks):
            if number or menu.actions():
                menu.addSeparator()
            for name in names:
                menu.addAction(self._actions[name])
        return menu

    def menu_at(self, place: str) -> QMenu:
        """Return the menu of what the pencil points at: ``volume``, ``paper``, ``ledger`` or ``edges``."""
        menu = QMenu(self._desk)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        return self._fill(menu, _AT[place])

    def menus(self) -> dict[str, tuple[str, QMenu]]:
        """Return the bar's menus by name, each with its words; the document's has none, it stands under the title."""
        made = {"document": ("", self._document_menu())}
        for name, (words, blocks) in _BAR.items():
            made[name] = (tr(words), self._fill(QMenu(self._desk), blocks))
        made["view"][1].addMenu(self._text_menu())
        return made

    def _text_menu(self) -> QMenu:
        text = QMenu(tr("Text size"), self._desk)
        for percent in (100, 115, 130):
            text.addAction(f"{percent} %", partial(self._desk.set_text, percent))
        return text

    def _document_menu(self) -> QMenu:
        """Return the menu under the document's name."""
        menu = self._fill(QMenu(self._desk), (("new", "open"),))
        self._recent_menu = menu.addMenu(tr("Recent"))
        demos = menu.addMenu(tr("Demos"))
        assert demos is not None
        for name in DEMOS:
            demos.addAction(tr(DEMOS[name].title), partial(self._desk.paperwork.open_demo, name))
        self._fill(menu, _PAPER)
        self._fill_recent()
        self._desk.paperwork.recent_changed.connect(self._fill_recent)
        return menu

    def _fill_recent(self) -> None:
        settings = load_settings()
        assert self._recent_menu is not None
        self._recent_menu.clear()
        for path in recent_files(settings):
            name = shown_name(path.name).replace("&", "&&")
            action = self._recent_menu.addAction(name, partial(self._desk.paperwork.open_recent, path))
            assert action is not None
            action.setToolTip(plain_tip(shown_name(path)))
        self._recent_menu.setEnabled(bool(settings.recent))
