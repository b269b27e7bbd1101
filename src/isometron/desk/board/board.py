"""The board: the sheet lies on it, the pencil works on it. One widget, one cached picture, live marks on top."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import (
    QContextMenuEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QTabletEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from isometron.desk.board.bead_grips import BeadGrips
from isometron.desk.board.grips import GripsOnBoard
from isometron.desk.board.horizon_grips import HorizonGrips
from isometron.desk.board.kept_picture import BoardPicture
from isometron.desk.board.looking import Looking
from isometron.desk.board.overlays.overlay import OnBoard
from isometron.desk.board.overlays.register import OVERLAYS
from isometron.desk.board.pencil_input import PencilInput
from isometron.desk.board.picked_mark import PickedMark
from isometron.desk.board.picture_grips import PictureGrips
from isometron.desk.board.picture_place_grips import PicturePlaceGrips
from isometron.desk.board.ring_grips import RingGrips
from isometron.desk.board.slope_grips import SlopeGrips
from isometron.desk.board.tool_in_hand import MakeTool, ToolInHand
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.session import Session
from isometron.desk.instruments.player import Player
from isometron.tools.pencil import Act, ToolContext
from isometron.wording import tr

__all__ = ["Board"]

_REACH = 7.0


class Board(QWidget):
    """Paints the session's drawing and hands the pencil's acts to the tool in use.

    Signals: ``prompted`` with the tool's words; ``hovered`` with the pencil's paper place (or None) and the edge under
    it (owner, row) or None; ``wished`` with three vanishing points that no eye sees; ``menu_wanted`` with the place on the
    screen and whether a volume lies there.
    """

    prompted = pyqtSignal(str, str)
    hovered = pyqtSignal(object, object)
    resized = pyqtSignal()
    menu_wanted = pyqtSignal(object, bool)
    wished = pyqtSignal(tuple)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("board")
        self.setAccessibleName(tr("Board"))
        self.setAccessibleDescription(
            tr("The sheet. Draw blocks with the Block tool, or point at a volume to select it.")
        )
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumSize(240, 240)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.session = session
        self.looking = Looking(session, self.size_in_pixels, self._looked)
        self._asked: frozenset[str] = frozenset()
        self.player: Player | None = None
        self._picture = BoardPicture()
        self.in_hand = ToolInHand(session, self.context, self)
        self.in_hand.prompted.connect(self.prompted)
        self.in_hand.changed.connect(self._tool_changed)
        self.proportion = "free"
        self.picked = PickedMark(session, self)
        self.picked.changed.connect(self.update)
        kinds = [
            BeadGrips(session, self.wished.emit), HorizonGrips(session), SlopeGrips(session), RingGrips(session),
            PictureGrips(session, self.picked, lambda: self.in_hand.lasting),
            PicturePlaceGrips(session, lambda: self.in_hand.lasting),
        ]  # fmt: skip
        self.grips = GripsOnBoard(session, kinds)
        self.pencil = PencilInput(self)
        session.document_changed.connect(self._drawing_changed)
        session.previewed.connect(self._previewed)
        session.selection_changed.connect(self.update)
        session.replaced.connect(self.fit_sheet)

    def watch(self, player: Player) -> None:
        """Show a player's construction over the drawing."""
        self.player = player
        player.changed.connect(self._tool_changed)
        player.drawing.connect(self.update)

    def forget_picture(self) -> None:
        """Paint everything anew: the table has another tone."""
        self._picture.forget()
        self.update()

    def ask(self, names: frozenset[str]) -> None:
        """Show the overlays and grips of these names, which stand there only when they are asked for."""
        self._asked = names
        self.grips.ask(names)
        self.update()

    def fit_sheet(self) -> None:
        """Show the whole sheet."""
        self.looking.fit_sheet()

    def fit_everything(self) -> None:
        """Show the sheet, the vanishing points, and a construction that is played."""
        self.looking.fit_everything(None if self.player is None else self.player.construction)

    def zoom(self, factor: float) -> None:
        """Zoom about the middle of the board."""
        self.looking.zoom(factor)

    def turn(self, by_deg: float) -> None:
        """Turn the sheet on the table, clockwise as it is seen."""
        self.looking.turn(by_deg)

    @property
    def view(self) -> BoardView:
        """Where the paper lies on the board."""
        return self.looking.view

    def _looked(self) -> None:
        self.pencil.send(Act.MOVE)
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Keep the sheet fitted until the person has zoomed or moved it."""
        self.resized.emit()
        self.looking.resized(event is None or event.oldSize().width() <= 0)

    # --- tool -----------------------------------------------------------------------------------------------------

    def take_tool(self, make_tool: MakeTool | None, *, once: bool = False) -> None:
        """Take a tool up, or lay the present one aside with None; nothing half done remains."""
        self.in_hand.take(make_tool, once=once)

    def context(self) -> ToolContext:
        """What a tool may look at now."""
        return ToolContext(self.session.drawing, 1.0 / self.view.scale, self.proportion, self.session.selection)

    def _tool_changed(self) -> None:
        self.setCursor(self.pencil.cursor())
        self.update()

    @property
    def reach(self) -> float:
        """How near the pencil must be to a corner or an edge to mean it, mm of paper."""
        return _REACH / self.view.scale

    @property
    def has_tool(self) -> bool:
        """Whether a drawing tool is in use."""
        return self.in_hand.lasting

    @property
    def busy(self) -> bool:
        """Whether a tool has begun something that Escape would take back."""
        return self.in_hand.busy

    def back_out(self) -> None:
        """An error escaped: let go of what is held."""
        self.pencil.back_out()

    def _drawing_changed(self) -> None:
        if self.in_hand.active:
            self.in_hand.restart()
        self.looking.steady()
        self.update()

    def _previewed(self) -> None:
        self.looking.steadied()
        self.update()

    def size_in_pixels(self) -> tuple[int, int]:
        """Width and height."""
        return self.width(), self.height()

    def on_board(self) -> OnBoard:
        """Return what stands on the board now."""
        pencil = self.pencil.at if self.pencil.by_key and self.hasFocus() else None
        return OnBoard(
            self.session,
            self.view,
            self.size_in_pixels(),
            self.in_hand,
            self.grips,
            self.player,
            self._asked,
            pencil,
            self.pencil.at,
        )

    # --- events ---------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Left: the tool, or select. Middle: move the sheet."""
        assert event is not None
        self.pencil.press(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Move the sheet, or the tool; otherwise tell what lies under the pencil."""
        assert event is not None
        self.pencil.move(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Finish a pull, or stop moving the sheet."""
        assert event is not None
        self.pencil.release(event)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """Ask for the menu of what is under the pencil."""
        assert event is not None
        self.pencil.ask_for_menu(event)

    def leaveEvent(self, event: object) -> None:
        """Nothing is under the pencil any more."""
        self.hovered.emit(None, None)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom about the pencil; two fingers on a touchpad shift the sheet, with Ctrl they zoom."""
        assert event is not None
        shift = event.pixelDelta()
        if not shift.isNull() and not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.looking.move(shift.x(), shift.y())
            return
        self.looking.zoom(1.0015 ** event.angleDelta().y(), event.position().x(), event.position().y())

    def tabletEvent(self, event: QTabletEvent | None) -> None:
        """A tablet's pen is the pencil; its eraser end steps back."""
        assert event is not None
        self.pencil.tablet(event)

    def event(self, event: QEvent | None) -> bool:
        """Letters of a length being typed are no shortcuts: the m of cm must not take up another tool."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and self.pencil.types(event):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows carry the pencil, Space presses it; digits set the running pull, Enter takes it, Escape steps back."""
        assert event is not None
        self.pencil.key(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the cached picture of all that stands still, then what moves."""
        on, session = self.on_board(), self.session
        taken = np.concatenate([overlay.boxes(on) for overlay in OVERLAYS.values()])
        still = self._picture.of(
            session.drawing, self.view, *on.size, ratio=self.devicePixelRatioF(), moving=session.moving, taken=taken
        )
        painter = QPainter(self)
        painter.drawImage(0, 0, still)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for overlay in OVERLAYS.values():
            overlay.paint(painter, on)
        painter.end()
