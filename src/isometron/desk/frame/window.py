"""The desk's window: bar, stages, board, ledger, strip; and the actions that the keys reach."""

from __future__ import annotations

import os
from functools import partial
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QVBoxLayout, QWidget

from isometron.demos.catalogue import DEMOS
from isometron.desk.board.board import Board
from isometron.desk.cards.invitation import Invitation
from isometron.desk.cards.key_card import KeyCard
from isometron.desk.deeds.menus import DeskActions
from isometron.desk.deeds.tools import TOOLS
from isometron.desk.frame.banner import Banner
from isometron.desk.frame.focus import FIELDS, KeysGoBack
from isometron.desk.frame.host import Host
from isometron.desk.frame.long_work import WorkBar
from isometron.desk.frame.panel_widths import panel_widths
from isometron.desk.frame.paperwork import Paperwork
from isometron.desk.frame.picture_intake import is_picture, lay_file
from isometron.desk.frame.recovery import Recovery
from isometron.desk.frame.session import Session
from isometron.desk.frame.settings import (
    Side,
    load_settings,
    recent_files,
    recovery_folder,
    remember_folded,
    remember_table,
    remember_text,
)
from isometron.desk.frame.theme import lay_table, set_text_size
from isometron.desk.frame.top_bar import TopBar
from isometron.desk.instruments.figures import Figures
from isometron.desk.instruments.horizon_rail import HorizonRail
from isometron.desk.instruments.player import Player
from isometron.desk.instruments.step_strip import StepStrip
from isometron.desk.instruments.strip import Strip
from isometron.desk.instruments.upright_rail import UprightRail
from isometron.desk.stages.body import StageBody
from isometron.desk.stages.panel import StagePanel
from isometron.desk.stages.register import STAGES
from isometron.document.store.disk import told_aside
from isometron.wording import tr

if TYPE_CHECKING:
    from isometron.desk.cards.handbook_card import HandbookCard
    from isometron.desk.cards.plain_views import PlainViews

__all__ = ["Desk", "fill_window"]

_FROM_THE_START = ("Block", "Check", "Hand on")
"""Stages whose bodies stand from the start; the others are loaded when they are first opened."""


class Desk(QWidget):
    """Everything inside the window, for one session."""

    def __init__(self, session: Session, window: Host) -> None:
        super().__init__()
        self.session = session
        self.host = window
        self._views: PlainViews | None = None
        self._handbook: HandbookCard | None = None
        self.paperwork = Paperwork(session, self)
        self.board = Board(session)
        self.figures = Figures(session)
        self.ledger, self.card = self.figures.ledger, self.figures.card
        self.edge_table, self.dial_panel = self.figures.edge_table, self.figures.dial_panel
        self.strip = Strip(session, self.board)
        self.player = Player(session, self)
        self.board.watch(self.player)
        self.step_strip = StepStrip(session, self.player)
        self.figures.needs.connect(lambda _: self._share_width())
        self.actions_by_deed = DeskActions(self)
        self.stages = StagePanel(self)
        self.stages.made_body.connect(self._body_made)
        for name in _FROM_THE_START:
            self.stages.body(name)
        lay_table(night=load_settings().night)
        self.banner = Banner()
        self.recovery = Recovery(session, recovery_folder(), self)
        self.setAcceptDrops(True)
        self._lay_out()
        self._invite()
        self._keys_go_back = KeysGoBack(self)
        self.board.wished.connect(lambda _: self.stages.open("Eye"))
        self.board.menu_wanted.connect(self._show_menu)
        self.ledger.menu_wanted.connect(lambda at: self.actions_by_deed.menu_at("ledger").popup(at))
        self.edge_table.menu_wanted.connect(lambda at: self.actions_by_deed.menu_at("edges").popup(at))
        self.stages.body("Check").counted.connect(self._show_count)
        self.stages.opened.connect(lambda _: self._ask_board())
        session.file_changed.connect(self._title)
        session.document_changed.connect(self._title)
        session.replaced.connect(self.lay_aside)
        self.board.in_hand.done_once.connect(self.lay_aside)
        self.board.in_hand.laid.connect(self._show_laid)
        self.paperwork.sheet_laid.connect(lambda: self.take_tool("block"))
        self._title()
        self.stages.open("Block" if session.document.volumes else "Eye")

    # --- layout ---------------------------------------------------------------------------------------------------

    def _lay_out(self) -> None:
        self.top_bar = TopBar(
            self.session,
            self.actions_by_deed.menus(),
            self.actions_by_deed["undo"],
            self.actions_by_deed["redo"],
            {"left": self.actions_by_deed["fold_left"], "right": self.actions_by_deed["fold_right"]},
        )
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
        middle.addWidget(self.step_strip)
        middle.addWidget(WorkBar(self.session.beside))
        middle.addWidget(self.strip)
        row = QHBoxLayout()
        row.setSpacing(0)
        self._panels: dict[Side, QWidget] = {"left": self.stages, "right": self.figures}
        row.addWidget(self._panels["left"])
        row.addLayout(middle, 1)
        row.addWidget(self._panels["right"])
        self._folded = set(load_settings().folded)
        self._show_folds()
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

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Give the panels the widths that suit the window."""
        self._share_width()
        super().resizeEvent(event)

    def _share_width(self) -> None:
        left, right = panel_widths(self.width(), self.figures.least)
        self.stages.setFixedWidth(left)
        self.figures.setFixedWidth(right)

    def fold(self, side: Side) -> None:
        """Fold a panel away to the window's edge, or take it out again, and remember it."""
        self._folded ^= {side}
        if side in self._folded and self._panels[side].isAncestorOf(QApplication.focusWidget()):
            self.board.setFocus()
        self._show_folds()
        remember_folded(side, folded=side in self._folded)

    def _show_folds(self) -> None:
        for side, panel in self._panels.items():
            if side in self._folded:
                panel.hide()
            elif panel.parent() is not None:
                panel.show()
            self.top_bar.show_fold(side, folded=side in self._folded)

    def set_text(self, percent: int) -> None:
        """Set the size of all text and lay every window out anew for it; documents and histories stay."""
        remember_text(percent)
        running = QApplication.instance()
        assert isinstance(running, QApplication)
        set_text_size(running, percent)
        for window in running.topLevelWidgets():
            if window is self.host or isinstance(window, type(self.host)):
                window.lay_out_anew()

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
        recent = [
            (path, partial(self.paperwork.open_recent, path))
            for path in recent_files(load_settings())
            if os.path.isfile(path)
        ]
        demos = [(tr(DEMOS[name].title), partial(self.paperwork.open_demo, name)) for name in DEMOS]
        self.invitation = Invitation(
            self.board, self.paperwork.new_sheet, self.paperwork.open_file, lambda: self.do("picture"), demos, recent
        )  # fmt: skip
        self.session.document_changed.connect(self._show_invitation)
        self.board.resized.connect(self.invitation.centre)
        self._show_invitation()

    def _show_invitation(self) -> None:
        session = self.session
        empty = not session.document.volumes and session.undo_name is None and session.path is None
        self.invitation.setVisible(empty and not self.board.has_tool)
        self.invitation.centre()

    def _title(self) -> None:
        self.host.setWindowTitle(f"{self.session.name}[*] – Isometron")
        self.host.setWindowModified(self.session.changed)

    def _body_made(self, body: StageBody) -> None:
        body.tool_chosen.connect(self.take_tool)
        if body.sections is not None:
            body.sections.opened.connect(lambda _: self._ask_board())

    def _ask_board(self) -> None:
        """Show on the board what the open stage, and its open section, ask for."""
        name = self.stages.opened_name
        sections = self.stages.body(name).sections
        shown = {place for stage in STAGES if stage.name == name for place in stage.shows}
        if sections is not None:
            shown |= {section.shows for section in sections.all if section.head.isChecked() and section.shows}
        self.board.ask(frozenset(shown))

    def _show_menu(self, at: QPoint, on_volume: bool) -> None:
        self.actions_by_deed.menu_at("volume" if on_volume else "paper").popup(at)

    def show_views(self) -> None:
        """Show side, front and plan in a card of their own."""
        from isometron.desk.cards.plain_views import PlainViews

        if self._views is None:
            self._views = PlainViews(self.session, self)
        self._views.show()
        self._views.raise_()
        self._views.activateWindow()

    def _show_count(self, count: int) -> None:
        self.stages.badge("Check", f"⚠ {count}" if count else "")

    def _show_laid(self, volume_id: str) -> None:
        """Select what the pencil has just laid a mark on, and bring the mark's fields into view."""
        self.session.select((volume_id,))
        sections = self.stages.body(self.stages.opened_name).sections
        if sections is not None:
            sections.open_laid()

    def lay_aside(self) -> None:
        """Lay the tool aside."""
        self.take_tool("point")

    def take_tool(self, name: str) -> None:
        """Take up a tool by its name; "point" lays the present one aside."""
        tool = TOOLS[name]
        for own, body in self.stages.bodies().items():
            body.use_tool("")
            body.mark_tool(name if own == tool.stage or name == "point" else "")
        if tool.makes is None:
            self.board.take_tool(None)
        else:
            self.player.close()
            self.stages.open(tool.stage)
            self.stages.body(tool.stage).mark_tool(name)
            self.stages.body(tool.stage).use_tool(name)
            self.board.take_tool(tool.makes(self.stages.body(tool.stage)), once=tool.once)
        self._show_invitation()
        self.board.setFocus()

    def do(self, name: str) -> None:
        """Do a deed by its name, if it is possible now."""
        self.actions_by_deed.do(name)

    def open_menu(self) -> None:
        """Open the document's menu."""
        self.top_bar.open_menu()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape backs out one step: tool, then selection."""
        assert event is not None
        if event.key() != Qt.Key.Key_Escape:
            super().keyPressEvent(event)
        elif isinstance(QApplication.focusWidget(), FIELDS):
            self.board.setFocus()  # leaving a field is a step of its own
        elif self.board.has_tool:
            self.take_tool("point")
        elif self.player.open:
            self.player.close()
        else:
            self.session.select(())

    def construct(self) -> None:
        """Show the steps that construct the selected volume, or take them off the board."""
        if self.player.open:
            self.player.close()
            return
        self.take_tool("point")
        if not self.player.begin():
            self.session.say(tr("There is no volume to construct. Pull a block first (B)."), caution=True)

    def rename(self) -> None:
        """Edit the active volume's name in the ledger."""
        row = self.session.active
        if row is not None:
            self.ledger.edit_name(row)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Take a dropped file."""
        assert event is not None
        data = event.mimeData()
        if data is not None and any(url.isLocalFile() for url in data.urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Open the first file that was dropped; a picture is laid on the sheet."""
        assert event is not None
        data = event.mimeData()
        files = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()] if data is not None else []
        if files:
            event.acceptProposedAction()
            if is_picture(files[0]):
                lay_file(self.session, files[0], self)
            else:
                self.paperwork.open_recent(files[0])

    def back_out(self, words: str, traceback: TracebackType | None, painting: bool) -> None:
        """An error of the program escaped: nothing half done stays, the work is backed up, and it is said."""
        if not painting:
            self.board.back_out()
            self.session.back_out(traceback)
        if self.session.changed:
            kept = self.recovery.write()
            words = f"{words} {tr('Your work is safe.') if kept else tr('Save your work now.')}"
        QTimer.singleShot(0, lambda: self.session.say(words, caution=True))

    def offer_recovery(self) -> None:
        """Offer work that a crash left behind, and say what could not be used at the start."""
        self.begin("")

    def begin(self, refused: str) -> None:
        """The first window stands: say what could not be opened or used, and offer what a crash left behind."""
        self.paperwork.offer_recovery(recovery_folder(), self.banner, self.recovery)
        from isometron.geometry.shell.united import missing_library

        words = [each for each in (refused, missing_library()) if each]
        if not self.recovery.works:
            words.append(tr("There is no folder to back work up in: working without recovery. Save often."))
        names = told_aside()
        if names:
            words.append(
                tr("What could not be read was set aside under another name: {names}.", names=", ".join(names))
            )
        if words:
            self.session.say(" ".join(words), caution=True)

    def show_keys(self) -> None:
        """Show the card of keys."""
        KeyCard(self).exec()

    def show_handbook(self) -> None:
        """Show the handbook beside the window, at the page it was left at."""
        from isometron.desk.cards.handbook_card import HandbookCard

        if self._handbook is None:
            self._handbook = HandbookCard(self)
        self._handbook.show()
        self._handbook.raise_()
        self._handbook.activateWindow()

    def show_about(self) -> None:
        """Show versions and licence."""
        from isometron.desk.cards.about import About

        About(self).exec()

    def closing(self, event: QCloseEvent) -> None:
        """Let the window close, or keep it open."""
        if self.paperwork.may_leave():
            for body in self.stages.bodies().values():
                body.finish()
            self.recovery.finish()
            event.accept()
        else:
            event.ignore()


def fill_window(window: Host, session: Session) -> Desk:
    """Put a desk for ``session`` into an already shown window."""
    desk = Desk(session, window)
    window.setCentralWidget(desk)
    desk.board.setFocus()
    return desk
