"""The desk's window: bar, stages, board, ledger, strip; and the actions that the keys reach."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QLabel,
    QMenu,
    QMessageBox,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from isometron.demos.catalogue import DEMOS, demo
from isometron.desk import clipboard
from isometron.desk.banner import Banner
from isometron.desk.block_stage import BlockStage
from isometron.desk.board import Board
from isometron.desk.check_stage import CheckStage
from isometron.desk.dial_panel import DialPanel
from isometron.desk.edge_table import EdgeTable
from isometron.desk.eye_stage import EyeStage
from isometron.desk.hand_on_stage import HandOnStage
from isometron.desk.horizon_rail import HorizonRail
from isometron.desk.invitation import Invitation
from isometron.desk.key_card import KeyCard
from isometron.desk.ledger import Ledger, VolumeCard
from isometron.desk.new_sheet import NewSheetDialog
from isometron.desk.recovery import Recovery, abandoned_work
from isometron.desk.session import Session
from isometron.desk.settings import (
    Settings,
    load_settings,
    recovery_folder,
    remember_file,
    remember_sheet,
    remember_table,
)
from isometron.desk.stages import StagePanel
from isometron.desk.strip import Strip
from isometron.desk.theme import lay_table
from isometron.desk.top_bar import TopBar
from isometron.desk.upright_rail import UprightRail
from isometron.document.edits import (
    change_document,
    change_volume,
    delete_volumes,
    duplicate_volumes,
    reorder_volumes,
)
from isometron.document.files import SUFFIX
from isometron.errors import IsometronError
from isometron.tools.block import block_tool
from isometron.tools.measure import measure_tool

if TYPE_CHECKING:
    from isometron.desk.application import DeskWindow

__all__ = ["Desk", "fill_window"]

_LEFT, _RIGHT = 228, 336
_TOOLS = {"point": None, "block": block_tool, "measure": measure_tool}
_FILES = f"Isometron documents (*{SUFFIX})"


class Desk(QWidget):
    """Everything inside the window, for one session."""

    def __init__(self, session: Session, window: DeskWindow) -> None:
        super().__init__()
        self.session = session
        self._window = window
        self._actions: dict[str, QAction] = {}
        self._make_actions()
        self.board = Board(session)
        self.ledger = Ledger(session)
        self.strip = Strip(session, self.board)
        self.eye_stage = EyeStage(session)
        volumes = [self._actions[name] for name in ("duplicate", "rename", "see_through", "delete")]
        self.block_stage = BlockStage(session, volumes)
        self.check_stage = CheckStage(session)
        self.hand_on = HandOnStage(session)
        self.stages = StagePanel(
            [
                ("Eye", "Where the eye is", self.eye_stage),
                ("Block", "Draw and change volumes", self.block_stage),
                ("Check", "What is worth a warning", self.check_stage),
                ("Hand on", "Print, export, measures", self.hand_on),
            ]
        )
        lay_table(night=load_settings().night)
        self.banner = Banner()
        self.recovery = Recovery(session, recovery_folder(), self)
        self.setAcceptDrops(True)
        self._lay_out()
        self._invite()
        self.block_stage.tool_chosen.connect(self.take_tool)
        self.block_stage.proportion_chosen.connect(lambda kept: setattr(self.board, "proportion", kept))
        self.check_stage.counted.connect(lambda n: self.stages.badge("Check", f"⚠ {n}" if n else ""))
        self.stages.opened.connect(self._stage_opened)
        session.file_changed.connect(self._title)
        session.document_changed.connect(self._title)
        session.selection_changed.connect(self._enable)
        session.replaced.connect(lambda: self.take_tool("point"))
        self._title()
        self._enable()
        self.stages.open("Block" if session.document.volumes else "Eye")

    # --- layout ---------------------------------------------------------------------------------------------------

    def _lay_out(self) -> None:
        self.top_bar = TopBar(self.session, self._document_menu(), self._actions["undo"], self._actions["redo"])
        self.stages.setFixedWidth(_LEFT)
        middle = QVBoxLayout()
        middle.setSpacing(0)
        self.rail = HorizonRail(self.session)
        middle.addWidget(self.banner)
        middle.addWidget(self.rail)
        across = QHBoxLayout()
        across.setSpacing(0)
        self.upright_rail = UprightRail(self.session)
        across.addWidget(self.board, 1)
        across.addWidget(self.upright_rail)
        middle.addLayout(across, 1)
        middle.addWidget(self.strip)
        row = QHBoxLayout()
        row.setSpacing(0)
        row.addWidget(self.stages)
        row.addLayout(middle, 1)
        row.addWidget(self._right_side())
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.top_bar)
        layout.addLayout(row, 1)
        for first, second in (
            (self.top_bar, self.stages),
            (self.stages, self.board),
            (self.board, self.ledger),
        ):
            QWidget.setTabOrder(first, second)

    def toggle_night(self) -> None:
        """Change between the day and the night table, and remember it."""
        night = not load_settings().night
        remember_table(night=night)
        lay_table(night=night)
        for window in QApplication.topLevelWidgets():
            for widget in window.findChildren(QWidget):
                if isinstance(widget, Board):
                    widget.forget_picture()
                widget.update()

    def _invite(self) -> None:
        """Lay the ways to begin on an empty sheet; they go as soon as a tool is taken up or a volume stands."""
        recent = [(Path(n), partial(self.open_recent, Path(n))) for n in load_settings().recent if Path(n).exists()]
        demos = [(DEMOS[name]().title, partial(self.open_demo, name)) for name in DEMOS]
        self.invitation = Invitation(self.board, self.new_sheet, self.open_file, demos, recent)
        self.session.document_changed.connect(self._show_invitation)
        self.board.resized.connect(self.invitation.centre)
        self._show_invitation()

    def _show_invitation(self) -> None:
        session = self.session
        empty = not session.document.volumes and session.undo_name is None and session.path is None
        self.invitation.setVisible(empty and not self.board.has_tool)
        self.invitation.centre()

    def _right_side(self) -> QWidget:
        side = QWidget()
        side.setObjectName("panel")
        side.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        side.setFixedWidth(_RIGHT)
        upper, lower = QWidget(), QWidget()
        top = QVBoxLayout(upper)
        top.setContentsMargins(12, 10, 12, 6)
        top.setSpacing(4)
        self.card = VolumeCard(self.session)
        head = QHBoxLayout()
        head.addWidget(_heading("Ledger"))
        head.addStretch(1)
        for box in self.card.switches.values():
            head.addWidget(box)
        top.addLayout(head)
        top.addWidget(self.ledger, 1)
        top.addWidget(_rule())
        top.addWidget(self.card)
        bottom = QVBoxLayout(lower)
        bottom.setContentsMargins(12, 6, 12, 6)
        bottom.setSpacing(4)
        self._edges_of = _heading("Edges")
        bottom.addWidget(self._edges_of)
        self.edge_table = EdgeTable(self.session)
        bottom.addWidget(self.edge_table, 1)
        splitter = QSplitter(Qt.Orientation.Vertical)
        splitter.setChildrenCollapsible(False)
        self.dial_panel = DialPanel(self.session)
        splitter.addWidget(self.dial_panel)
        splitter.addWidget(upper)
        splitter.addWidget(lower)
        splitter.setSizes([240, 286, 230])
        layout = QVBoxLayout(side)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(splitter)
        return side

    # --- actions --------------------------------------------------------------------------------------------------

    def _make_actions(self) -> None:
        keys = QKeySequence.StandardKey
        table = (
            ("new", "New sheet…", keys.New, self.new_sheet, "Paper, unit and eye for an empty sheet"),
            ("open", "Open…", keys.Open, self.open_file, "Open a document"),
            ("save", "Save", keys.Save, self.save, "Save the document"),
            ("save_as", "Save as…", "Ctrl+Shift+S", self.save_as, "Save under another name"),
            ("title", "Title…", None, self.change_title, "What the sheet is called"),
            ("close", "Close", "Ctrl+Q", self._window.close, "Close the window"),
            (
                "window",
                "Another window",
                "Ctrl+Shift+N",
                self._window.another,
                "An empty sheet in a window of its own",
            ),
            ("print", "Print…", keys.Print, self.print_on_paper, "On paper at true scale"),
            ("preview", "Print preview…", "Ctrl+Shift+P", self.print_preview, "How the page will come out"),
            ("keys", "Keys", keys.HelpContents, self.show_keys, "A card of all keys"),
            ("copy", "Copy", keys.Copy, lambda: clipboard.copy(self.session), "Copy the selected volumes"),
            ("cut", "Cut", keys.Cut, lambda: clipboard.cut(self.session), "Copy and remove them"),
            ("paste", "Paste", keys.Paste, lambda: clipboard.paste(self.session), "Add what was copied"),
            ("undo", "Undo", keys.Undo, self.session.undo, "Take the last step back"),
            ("redo", "Redo", "Ctrl+Shift+Z", self.session.redo, "Bring it again"),
            ("duplicate", "Duplicate", "Ctrl+D", self.duplicate, "A copy beside it, along its long side"),
            ("rename", "Rename", "F6", self.rename, "Give the selected volume another name"),
            ("see_through", "See-through or solid", "Ctrl+T", self.toggle_see_through, "See-through hides nothing"),
            ("put_away", "Put away or take out", "Ctrl+H", self.toggle_away, "Neither drawn nor in the way"),
            ("delete", "Delete", keys.Delete, self.delete, "Remove the selected volumes"),
            ("earlier", "Earlier in the ledger", "Alt+Up", lambda: self.reorder(-1), "One place up"),
            ("later", "Later in the ledger", "Alt+Down", lambda: self.reorder(1), "One place down"),
            ("select_all", "Select all", keys.SelectAll, self.select_all, "Select every volume"),
            ("point", "Point at", "P", lambda: self.take_tool("point"), "Select by pointing"),
            ("block", "Pull a block", "B", lambda: self.take_tool("block"), "Draw a block in three pulls"),
            ("measure", "Measure", "M", lambda: self.take_tool("measure"), "Between any two points"),
            ("fit", "Whole sheet", "Ctrl+0", lambda: self.board.fit_sheet(), "Show the whole sheet"),
            ("fit_all", "Sheet and vanishing points", "Ctrl+9", lambda: self.board.fit_everything(), "Show it all"),
            ("night", "Day or night table", "Ctrl+L", self.toggle_night, "A darker table and sheet"),
            ("larger", "Larger", "Ctrl++", lambda: self.board.zoom(1.25), "Zoom in"),
            ("smaller", "Smaller", "Ctrl+-", lambda: self.board.zoom(0.8), "Zoom out"),
        )
        for name, words, key, act, tip in table:
            action = QAction(words, self)
            if key is not None:
                action.setShortcut(QKeySequence(key))
            action.setToolTip(tip)
            action.triggered.connect(lambda _=False, a=act: a())
            self.addAction(action)
            self._actions[name] = action
        for number in range(4):
            action = QAction(self)
            action.setShortcut(QKeySequence(f"F{number + 2}"))
            action.triggered.connect(
                lambda _=False, n=number: self.stages.open(("Eye", "Block", "Check", "Hand on")[n])
            )
            self.addAction(action)

    def _document_menu(self) -> QMenu:
        menu = QMenu(self)
        for name in ("new", "open"):
            menu.addAction(self._actions[name])
        self._recent_menu = menu.addMenu("Recent")
        demos = menu.addMenu("Demos")
        assert demos is not None
        for name in DEMOS:
            demos.addAction(DEMOS[name]().title, lambda n=name: self.open_demo(n))
        menu.addSeparator()
        for name in ("save", "save_as", "title"):
            menu.addAction(self._actions[name])
        menu.addSeparator()
        view = menu.addMenu("Look at")
        assert view is not None
        for name in ("fit", "fit_all", "larger", "smaller", "night"):
            view.addAction(self._actions[name])
        menu.addSeparator()
        for name in ("print", "preview"):
            menu.addAction(self._actions[name])
        menu.addSeparator()
        for name in ("window", "keys", "close"):
            menu.addAction(self._actions[name])
        self._fill_recent(load_settings())
        return menu

    def _fill_recent(self, settings: Settings) -> None:
        assert self._recent_menu is not None
        self._recent_menu.clear()
        for name in settings.recent:
            path = Path(name)
            action = self._recent_menu.addAction(path.name, lambda p=path: self.open_recent(p))
            assert action is not None
            action.setToolTip(name)
        self._recent_menu.setEnabled(bool(settings.recent))

    def _enable(self) -> None:
        chosen = bool(self.session.selection)
        for name in ("duplicate", "rename", "see_through", "delete"):
            self._actions[name].setEnabled(chosen)
        row = self.session.active
        name = "" if row is None else f" of {self.session.document.volumes[row].name}"
        metrics = self._edges_of.fontMetrics()
        self._edges_of.setText(metrics.elidedText(f"Edges{name}", Qt.TextElideMode.ElideRight, _RIGHT - 30))

    def _title(self) -> None:
        self._window.setWindowTitle(f"{self.session.document.title}[*] – Isometron")
        self._window.setWindowModified(self.session.changed)
        self._enable()

    def _stage_opened(self, name: str) -> None:
        self.board.show_cautions = name == "Check"
        self.board.update()

    def take_tool(self, name: str) -> None:
        """Take up the tool called "point", "block" or "measure"."""
        self.block_stage.mark_tool(name)
        if name != "point":
            self.stages.open("Block")
        self.board.take_tool(_TOOLS[name])
        self._show_invitation()
        self.board.setFocus()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape backs out one step: tool, then selection."""
        assert event is not None
        if event.key() != Qt.Key.Key_Escape:
            super().keyPressEvent(event)
        elif self.board.has_tool:
            self.take_tool("point")
        else:
            self.session.select(())

    # --- volumes --------------------------------------------------------------------------------------------------

    def duplicate(self) -> None:
        """Copy the selected volumes beside themselves."""
        self.session.attempt(duplicate_volumes, self.session.selection)

    def delete(self) -> None:
        """Remove the selected volumes."""
        if self.session.selection:
            self.session.attempt(delete_volumes, self.session.selection)

    def rename(self) -> None:
        """Edit the active volume's name in the ledger."""
        row = self.session.active
        if row is not None:
            self.ledger.edit_name(row)

    def reorder(self, by: int) -> None:
        """Move the selected volumes in the ledger."""
        if self.session.selection:
            self.session.attempt(reorder_volumes, self.session.selection, by)

    def toggle_see_through(self) -> None:
        """Make the selected volumes see-through, or solid when all of them are see-through already."""
        self._toggle("see_through", "see through", "make solid")

    def _toggle(self, field: str, on_name: str, off_name: str) -> None:
        """Switch a field of all selected volumes as one step: on, or off when all of them have it on."""
        document = self.session.document
        volumes = [document.volume(i) for i in self.session.selection]
        on = not all(getattr(volume, field) for volume in volumes)
        edit = None
        for volume in volumes:
            edit = change_volume(document, volume.id, on_name if on else off_name, **{field: on})
            document = edit.document
        if edit is not None:
            self.session.do(edit)

    def toggle_away(self) -> None:
        """Put the selected volumes away, or take them out when all of them are away."""
        self._toggle("put_away", "put away", "take out")

    def select_all(self) -> None:
        """Select every volume."""
        self.session.select(tuple(volume.id for volume in self.session.document.volumes))

    # --- files ----------------------------------------------------------------------------------------------------

    def new_sheet(self) -> None:
        """Ask for a new sheet; the old one is offered for saving first."""
        if not self.may_leave():
            return
        dialog = NewSheetDialog(self.session.document.unit, load_settings().paper, self)
        if dialog.exec() and dialog.document is not None:
            self.session.replace(dialog.document, None, saved=False)
            remember_sheet(dialog.document.unit, dialog.paper)
            self.take_tool("block")

    def open_file(self) -> None:
        """Ask for a file and open it."""
        if not self.may_leave():
            return
        name, _ = QFileDialog.getOpenFileName(self, "Open", self._folder(), _FILES)
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> None:
        """Open a file; one that cannot be read is said, and the document stays as it was."""
        try:
            self.session.open(path)
        except IsometronError as error:
            self.session.say(str(error), caution=True)
            return
        self._fill_recent(remember_file(path))

    def open_recent(self, path: Path) -> None:
        """Open one of the recent files."""
        if self.may_leave():
            self.open_path(path)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Take a dropped file."""
        assert event is not None
        data = event.mimeData()
        if data is not None and any(url.isLocalFile() for url in data.urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Open the first file that was dropped."""
        assert event is not None
        data = event.mimeData()
        files = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()] if data is not None else []
        if files:
            event.acceptProposedAction()
            self.open_recent(files[0])

    def offer_recovery(self, folder: Path) -> None:
        """Offer work that a crash left behind: a bar above the board, not a question in the way."""
        found = abandoned_work(folder)
        if not found:
            return
        work = found[0]

        def bring_back() -> None:
            if self.may_leave():
                self.session.recover(work.document, work.path)
                self.recovery.write()
                work.discard()

        where = f" (saved as {work.path.name})" if work.path is not None else ""
        self.banner.offer(
            f"{work.document.title}{where} has work that was not saved when the program stopped.",
            ("Bring it back", bring_back),
            ("Drop it", work.discard),
        )

    def print_on_paper(self) -> None:
        """Print the sheet."""
        from isometron.desk.printing import print_sheet

        if print_sheet(self.session.drawing, self):
            self.session.say("Sent to the printer. Measure the bar: it must be its length.")

    def print_preview(self) -> None:
        """Show the printed page."""
        from isometron.desk.printing import preview

        preview(self.session.drawing, self)

    def show_keys(self) -> None:
        """Show the card of keys."""
        KeyCard(self).exec()

    def open_demo(self, name: str) -> None:
        """Put a demo on the desk."""
        if self.may_leave():
            self.session.replace(demo(name), None, saved=False)

    def save(self) -> bool:
        """Save where the document came from, or ask."""
        return self.save_as() if self.session.path is None else self._save_to(self.session.path)

    def save_as(self) -> bool:
        """Ask for a name and save there."""
        stem = self.session.path or Path(self._folder()) / f"{self.session.document.title}{SUFFIX}"
        name, _ = QFileDialog.getSaveFileName(self, "Save as", str(stem), _FILES)
        if not name:
            return False
        path = Path(name)
        return self._save_to(path if path.suffix else path.with_suffix(SUFFIX))

    def _save_to(self, path: Path) -> bool:
        try:
            self.session.save(path)
        except IsometronError as error:
            self.session.say(str(error), caution=True)
            return False
        self._fill_recent(remember_file(path))
        return True

    def _folder(self) -> str:
        return str(self.session.path.parent if self.session.path else Path.home())

    def change_title(self) -> None:
        """Ask for the document's title."""
        from PyQt6.QtWidgets import QInputDialog, QLineEdit

        now = self.session.document.title
        text, taken = QInputDialog.getText(self, "Title", "What the sheet is called", QLineEdit.EchoMode.Normal, now)
        if taken and text.strip():
            self.session.attempt(change_document, "change title", title=text.strip())

    def may_leave(self) -> bool:
        """Ask about unsaved work; False keeps everything as it is."""
        if not self.session.changed:
            return True
        question = QMessageBox(self)
        question.setWindowTitle("Unsaved work")
        question.setText(f"{self.session.document.title} has changes that are not in a file.")
        save = question.addButton("Save", QMessageBox.ButtonRole.AcceptRole)
        drop = question.addButton("Drop the changes", QMessageBox.ButtonRole.DestructiveRole)
        stay = question.addButton("Stay here", QMessageBox.ButtonRole.RejectRole)
        question.setDefaultButton(save)
        question.setEscapeButton(stay)
        question.exec()
        if question.clickedButton() is save:
            return self.save()
        return question.clickedButton() is drop

    def closing(self, event: QCloseEvent) -> None:
        """Let the window close, or keep it open."""
        if self.may_leave():
            self.hand_on.finish()
            self.recovery.finish()
            event.accept()
        else:
            event.ignore()


def _heading(words: str) -> QLabel:
    label = QLabel(words)
    label.setObjectName("heading")
    return label


def _rule() -> QFrame:
    line = QFrame()
    line.setObjectName("ruled")
    line.setFixedHeight(1)
    return line


def fill_window(window: DeskWindow, session: Session) -> Desk:
    """Put a desk for ``session`` into an already shown window."""
    desk = Desk(session, window)
    window.setCentralWidget(desk)
    desk.board.setFocus()
    return desk
