"""What is made of deeds: actions with their keys, the document's menu, the menu on the board."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import partial
from typing import Any

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu, QWidget

from isometron.demos.catalogue import DEMOS
from isometron.desk.controls.words import plain_tip
from isometron.desk.deeds.register import DEEDS
from isometron.desk.frame.settings import load_settings, recent_files
from isometron.document.store.disk import shown_name
from isometron.wording import tr

__all__ = ["DeskActions"]

_PAPER = (("save", "save_as", "title"), ("print", "preview"), ("window", "full_screen", "keys", "close"))
_LOOK = ("fit", "fit_all", "larger", "smaller", "views", "night")
_ON_VOLUME = (
    ("construct", "rename", "duplicate"),
    ("see_through", "put_away", "group"),
    ("copy", "cut", "paste", "delete"),
)
_ON_PAPER = (("block", "round", "paste", "select_all"), ("picture", "hide_picture"), ("fit", "fit_all"))


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

    def board_menu(self, parent: QWidget, *, on_volume: bool) -> QMenu:
        """Return the menu that stands where the pencil points."""
        return self._fill(QMenu(parent), _ON_VOLUME if on_volume else _ON_PAPER)

    def document_menu(self) -> QMenu:
        """Return the menu under the document's name."""
        menu = self._fill(QMenu(self._desk), (("new", "open"),))
        self._recent_menu = menu.addMenu(tr("Recent"))
        demos = menu.addMenu(tr("Demos"))
        look, text = QMenu(tr("Look at"), menu), QMenu(tr("Text size"), menu)
        assert demos is not None
        for name in DEMOS:
            demos.addAction(tr(DEMOS[name].title), partial(self._desk.paperwork.open_demo, name))
        for name in _LOOK:
            look.addAction(self._actions[name])
        look.addMenu(text)
        for percent in (100, 115, 130):
            text.addAction(f"{percent} %", partial(self._desk.set_text, percent))
        self._fill(menu, _PAPER[:1])
        menu.addSeparator()
        menu.addMenu(look)
        self._fill(menu, _PAPER[1:])
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
