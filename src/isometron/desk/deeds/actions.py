"""The actions that keys and menus reach, and the document's menu."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu

from isometron.demos.catalogue import DEMOS
from isometron.desk.controls.words import plain_tip
from isometron.desk.frame import clipboard
from isometron.desk.frame.settings import load_settings, recent_files
from isometron.desk.stages.register import STAGES
from isometron.document.disk import shown_name
from isometron.wording import tr

if TYPE_CHECKING:
    from isometron.desk.frame.window import Desk

__all__ = ["DeskActions"]


class DeskActions:
    """A desk's actions by name."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._actions: dict[str, QAction] = {}
        self._make_actions()

    def values(self) -> list[QAction]:
        """Return all of them."""
        return list(self._actions.values())

    def __getitem__(self, name: str) -> QAction:
        return self._actions[name]

    def _make_actions(self) -> None:
        keys = QKeySequence.StandardKey
        table = (
            (
                "new",
                tr("New sheet…"),
                keys.New,
                self._desk.paperwork.new_sheet,
                tr("Paper, unit and eye for an empty sheet"),
            ),
            ("open", tr("Open…"), keys.Open, self._desk.paperwork.open_file, tr("Open a document")),
            ("save", tr("Save"), keys.Save, self._desk.paperwork.save, tr("Save the document")),
            ("save_as", tr("Save as…"), "Ctrl+Shift+S", self._desk.paperwork.save_as, tr("Save under another name")),
            ("title", tr("Title…"), None, self._desk.paperwork.change_title, tr("What the sheet is called")),
            ("close", tr("Close"), "Ctrl+Q", self._desk.host.close, tr("Close the window")),
            (
                "window",
                tr("Another window"),
                "Ctrl+Shift+N",
                self._desk.host.another,
                tr("An empty sheet in a window of its own"),
            ),
            ("print", tr("Print…"), keys.Print, self._desk.paperwork.print_on_paper, tr("On paper at true scale")),
            (
                "preview",
                tr("Print preview…"),
                "Ctrl+Shift+P",
                self._desk.paperwork.print_preview,
                tr("How the page will come out"),
            ),
            ("keys", tr("Keys"), keys.HelpContents, self._desk.show_keys, tr("A card of all keys")),
            (
                "copy",
                tr("Copy"),
                keys.Copy,
                lambda: clipboard.copy(self._desk.session),
                tr("Copy the selected volumes"),
            ),
            ("cut", tr("Cut"), keys.Cut, lambda: clipboard.cut(self._desk.session), tr("Copy and remove them")),
            (
                "paste",
                tr("Paste"),
                keys.Paste,
                lambda: clipboard.paste(self._desk.session),
                tr("Add what was copied"),
            ),
            ("undo", tr("Undo"), keys.Undo, self._desk.session.undo, tr("Take the last step back")),
            ("redo", tr("Redo"), "Ctrl+Shift+Z", self._desk.session.redo, tr("Redo what was taken back")),
            (
                "duplicate",
                tr("Duplicate"),
                "Ctrl+D",
                self._desk.deeds.duplicate,
                tr("A copy beside it, along its long side"),
            ),
            ("rename", tr("Rename"), "Ctrl+E", self._desk.rename, tr("Give the selected volume another name")),
            (
                "see_through",
                tr("See-through or solid"),
                "Ctrl+T",
                self._desk.deeds.toggle_see_through,
                tr("See-through hides nothing"),
            ),
            (
                "put_away",
                tr("Put away or take out"),
                "Ctrl+H",
                self._desk.deeds.toggle_away,
                tr("Neither drawn nor in the way"),
            ),
            ("delete", tr("Delete"), keys.Delete, self._desk.deeds.delete, tr("Remove the selected volumes")),
            (
                "earlier",
                tr("Earlier in the ledger"),
                "Alt+Up",
                lambda: self._desk.deeds.reorder(-1),
                tr("One place up"),
            ),
            (
                "later",
                tr("Later in the ledger"),
                "Alt+Down",
                lambda: self._desk.deeds.reorder(1),
                tr("One place down"),
            ),
            ("select_all", tr("Select all"), keys.SelectAll, self._desk.deeds.select_all, tr("Select every volume")),
            ("point", tr("Point at"), "P", lambda: self._desk.take_tool("point"), tr("Select by pointing")),
            (
                "block",
                tr("Pull a block"),
                "B",
                lambda: self._desk.take_tool("block"),
                tr("Draw a block in three pulls"),
            ),
            (
                "by_eye",
                tr("Cube by eye"),
                "E",
                lambda: self._desk.take_tool("by_eye"),
                tr("See how far off it is"),
            ),
            ("round", tr("Pull a round"), "R", lambda: self._desk.take_tool("round"), tr("A ring, then its height")),
            ("join", tr("Carry to a face"), "J", lambda: self._desk.take_tool("join"), tr("Join by dragging")),
            (
                "divide",
                tr("Divide"),
                "D",
                lambda: self._desk.take_tool("divide"),
                tr("Part faces and edges by a click"),
            ),
            ("lay", tr("Lay on a face"), "A", lambda: self._desk.take_tool("lay"), tr("A ring or an arch")),
            ("views", tr("Plain views…"), "V", self._desk.show_views, tr("Side, front and plan")),
            (
                "group",
                tr("Group"),
                "Ctrl+G",
                self._desk.deeds.group,
                tr("Selected together from now on"),
            ),
            ("measure", tr("Measure"), "M", lambda: self._desk.take_tool("measure"), tr("Between any two points")),
            (
                "construct",
                tr("Construct"),
                "C",
                self._desk.construct,
                tr("Play the ruler-and-compass steps of the volume"),
            ),
            ("step_on", tr("Next step"), "PgDown", lambda: self._desk.player.step(1), tr("Of the construction")),
            ("step_back", tr("Back one step"), "PgUp", lambda: self._desk.player.step(-1), tr("Of the construction")),
            ("play", tr("Play or pause"), "F8", lambda: self._desk.player.play_or_pause(), tr("The construction")),
            ("fit", tr("Whole sheet"), "Ctrl+0", lambda: self._desk.board.fit_sheet(), tr("Show the whole sheet")),
            (
                "fit_all",
                tr("Sheet and vanishing points"),
                "Ctrl+9",
                lambda: self._desk.board.fit_everything(),
                tr("Show it all"),
            ),
            ("night", tr("Day or night table"), "Ctrl+L", self._desk.toggle_night, tr("A darker table and sheet")),
            ("larger", tr("Larger"), "Ctrl++", lambda: self._desk.board.zoom(1.25), tr("Zoom in")),
            ("smaller", tr("Smaller"), "Ctrl+-", lambda: self._desk.board.zoom(0.8), tr("Zoom out")),
        )
        for name, words, key, act, tip in table:
            action = QAction(words, self._desk)
            if key is not None:
                action.setShortcut(QKeySequence(key))
            action.setToolTip(tip)
            action.triggered.connect(lambda _=False, a=act: a())
            self._desk.addAction(action)
            self._actions[name] = action
        for stage in STAGES:
            action = QAction(self._desk)
            action.setShortcut(QKeySequence(stage.key))
            action.triggered.connect(lambda _=False, name=stage.name: self._desk.stages.open(name))
            self._desk.addAction(action)

    def document_menu(self) -> QMenu:
        """Return the menu under the document's name."""
        menu = QMenu(self._desk)
        for name in ("new", "open"):
            menu.addAction(self._actions[name])
        self._recent_menu = menu.addMenu(tr("Recent"))
        demos = menu.addMenu(tr("Demos"))
        assert demos is not None
        for name in DEMOS:
            demos.addAction(tr(DEMOS[name].title), lambda n=name: self._desk.paperwork.open_demo(n))
        menu.addSeparator()
        for name in ("save", "save_as", "title"):
            menu.addAction(self._actions[name])
        menu.addSeparator()
        view = menu.addMenu(tr("Look at"))
        assert view is not None
        for name in ("fit", "fit_all", "larger", "smaller", "views", "night"):
            view.addAction(self._actions[name])
        text = view.addMenu(tr("Text size"))
        assert text is not None
        for percent in (100, 115, 130):
            text.addAction(f"{percent} %", partial(self._desk.set_text, percent))
        menu.addSeparator()
        for name in ("print", "preview"):
            menu.addAction(self._actions[name])
        menu.addSeparator()
        for name in ("window", "keys", "close"):
            menu.addAction(self._actions[name])
        self._fill_recent()
        self._desk.paperwork.recent_changed.connect(self._fill_recent)
        return menu

    def _fill_recent(self) -> None:
        settings = load_settings()
        assert self._recent_menu is not None
        self._recent_menu.clear()
        for path in recent_files(settings):
            name = shown_name(path.name).replace("&", "&&")
            action = self._recent_menu.addAction(name, lambda p=path: self._desk.paperwork.open_recent(p))
            assert action is not None
            action.setToolTip(plain_tip(shown_name(path)))
        self._recent_menu.setEnabled(bool(settings.recent))
