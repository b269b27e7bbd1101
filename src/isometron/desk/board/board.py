"""The board: the sheet lies on it, the pencil works on it. One widget, one cached picture, live marks on top."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QContextMenuEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPointingDevice,
    QResizeEvent,
    QTabletEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from isometron.desk.board.bead_grips import BeadGrips
from isometron.desk.board.grips import GripsOnBoard
from isometron.desk.board.horizon_grips import HorizonGrips
from isometron.desk.board.kept_picture import BoardPicture
from isometron.desk.board.overlays.overlay import OnBoard
from isometron.desk.board.overlays.register import OVERLAYS
from isometron.desk.board.ring_grips import RingGrips
from isometron.desk.board.slope_grips import SlopeGrips
from isometron.desk.board.tool_in_hand import MakeTool, ToolInHand
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.session import Session
from isometron.desk.instruments.player import Player
from isometron.document.joining import mates
from isometron.solve.measures import off_sheet
from isometron.solve.pick import nearest_edge, pick_volume
from isometron.tools.adjust import adjust_tool
from isometron.tools.handles import Handle, handle_at
from isometron.tools.pencil import Act, ToolContext
from isometron.view.vanishing import box_vanishing
from isometron.wording import tr

__all__ = ["Board"]

_REACH = 7.0
_HANDLE_REACH = 9.0
_STEP, _STEP_FINE, _PAN = 12.0, 1.0, 60.0
_ARROWS = {
    Qt.Key.Key_Left: (-1.0, 0.0),
    Qt.Key.Key_Right: (1.0, 0.0),
    Qt.Key.Key_Up: (0.0, -1.0),
    Qt.Key.Key_Down: (0.0, 1.0),
}
_PLAIN = Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.KeypadModifier
_LENGTH_CHARACTERS = set("0123456789.,/'\"″′ mcinft")


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
        self.view = BoardView()
        self._asked: frozenset[str] = frozenset()
        self.player: Player | None = None
        self._fitted = False
        self._picture = BoardPicture()
        self.in_hand = ToolInHand(session, self._context, self)
        self.in_hand.prompted.connect(self.prompted)
        self.in_hand.changed.connect(self._tool_changed)
        self._straight = False
        self._by_key = False
        self.proportion = "free"
        self._pencil = (0.0, 0.0)
        self._panning: QPointF | None = None
        self.grips = GripsOnBoard(
            session,
            [BeadGrips(session, self.wished.emit), HorizonGrips(session), SlopeGrips(session), RingGrips(session)],
        )
        session.document_changed.connect(self._drawing_changed)
        session.previewed.connect(self._drawing_previewed)
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

    # --- view -----------------------------------------------------------------------------------------------------

    def fit_sheet(self) -> None:
        """Show the whole sheet."""
        rectangle = self.session.document.sheet.rectangle
        self._fitted = True
        self._set_view(BoardView.fitting(rectangle, *self._size(), turn_deg=self.view.turn_deg))

    def fit_everything(self) -> None:
        """Show the sheet and every vanishing point of the active volume, or of the world's directions."""
        left, lower, right, upper = self.session.document.sheet.rectangle
        rotations = self.session.drawing.scene.rotations
        active = self.session.active
        rotation = np.eye(3) if active is None else rotations[active]
        for point in box_vanishing(self.session.document.eye, rotation):
            if point.at is not None and off_sheet(self.session.document, point.at) < 20_000.0:
                left, right = min(left, point.at[0]), max(right, point.at[0])
                lower, upper = min(lower, point.at[1]), max(upper, point.at[1])
        if self.player is not None and self.player.construction is not None:
            for step in self.player.construction.steps:
                for spot in step.points:
                    left, right = min(left, spot.u), max(right, spot.u)
                    lower, upper = min(lower, spot.v), max(upper, spot.v)
        self._fitted = False
        self._set_view(BoardView.fitting((left, lower, right, upper), *self._size(), 0.08, self.view.turn_deg))

    def zoom(self, factor: float) -> None:
        """Zoom about the middle of the board."""
        self._fitted = False
        self._set_view(self.view.zoomed(factor, self.width() / 2, self.height() / 2))

    def turn(self, by_deg: float) -> None:
        """Turn the sheet on the table about the middle of the board, clockwise as it is seen."""
        self._fitted = False
        self._set_view(self.view.turned(by_deg, self.width() / 2, self.height() / 2))

    def _set_view(self, view: BoardView) -> None:
        if view != self.view:
            self.view = view
            self._send(Act.MOVE)
            self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Keep the sheet fitted until the person has zoomed or moved it."""
        self.resized.emit()
        if self._fitted or event is None or event.oldSize().width() <= 0:
            self.fit_sheet()

    # --- tool -----------------------------------------------------------------------------------------------------

    def take_tool(self, make_tool: MakeTool | None) -> None:
        """Take a tool up, or lay the present one aside with None; nothing half done remains."""
        self.in_hand.take(make_tool)

    def _context(self) -> ToolContext:
        return ToolContext(self.session.drawing, 1.0 / self.view.scale, self.proportion)

    def _tool_changed(self) -> None:
        self.setCursor(self._cursor())
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

    def _send(self, act: Act) -> bool:
        u, v = self.view.to_paper(*self._pencil)
        return self.in_hand.send(act, u, v, straight=self._straight)

    def _send_finishing(self, act: Act) -> None:
        """Send an act that may finish a step; digits typed for that step are used up with it."""
        if self._send(act) and self.in_hand.typed:
            self.in_hand.typed = ""
            self._send(Act.MOVE)

    def _drawing_changed(self) -> None:
        if self.in_hand.active:
            self.in_hand.restart()
        self.update()

    def _drawing_previewed(self) -> None:
        self.update()

    # --- pencil ---------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Left: the tool, or select. Middle: move the sheet."""
        assert event is not None
        self._pencil = (event.position().x(), event.position().y())
        self._straight = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if event.button() == Qt.MouseButton.MiddleButton:
            self._panning = event.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        elif event.button() == Qt.MouseButton.LeftButton:
            if self._grips_free() and self.grips.take(self.view, self._size(), event.position()):
                return
            if self.in_hand.active:
                self._send(Act.PRESS)
            elif self.player is not None and self.player.school == "height":
                self.player.ask(place=self.view.to_paper(*self._pencil))
            elif not self._take_handle():
                self._select(extend=bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """Ask for the menu of what is under the pencil, which is selected by it; by the keyboard, of what is selected."""
        assert event is not None
        if self.busy or self.grips.held is not None:
            return
        if event.reason() == QContextMenuEvent.Reason.Mouse:
            self._pencil = (float(event.pos().x()), float(event.pos().y()))
            u, v = self.view.to_paper(*self._pencil)
            owner = pick_volume(self.session.drawing, u, v, self.reach)
            if owner is None or self.session.document.volumes[owner].id not in self.session.selection:
                self._select(extend=False)
        self.menu_wanted.emit(event.globalPos(), bool(self.session.selection))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Move the sheet, or the tool; otherwise tell what lies under the pencil."""
        assert event is not None
        self._pencil = (event.position().x(), event.position().y())
        self._straight = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if self._panning is not None:
            step = event.position() - self._panning
            self._panning = event.position()
            self._fitted = False
            self._set_view(self.view.moved(step.x(), step.y()))
            return
        if self.grips.held is not None:
            self._take_view(self.grips.drag(self.view, event.position()))
            self.prompted.emit(*self.grips.held.words)
            return
        self._by_key = False
        self.setCursor(self._cursor())
        self._moved()

    def _moved(self) -> None:
        """The pencil is somewhere else: the tool follows, and what lies under it is told."""
        self._send(Act.MOVE)
        u, v = self.view.to_paper(*self._pencil)
        edge = None if self.busy else nearest_edge(self.session.drawing, u, v, self.reach)
        self.hovered.emit((u, v), edge)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Finish a pull, or stop moving the sheet."""
        assert event is not None
        self._pencil = (event.position().x(), event.position().y())
        if event.button() == Qt.MouseButton.MiddleButton:
            self._panning = None
            self.setCursor(self._cursor())
        elif self.grips.held is not None:
            self._let_go(keep=True)
        elif event.button() == Qt.MouseButton.LeftButton:
            self._send_finishing(Act.RELEASE)

    def _on_board(self) -> OnBoard:
        """Return what stands on the board now."""
        pencil = self._pencil if self._by_key and self.hasFocus() else None
        return OnBoard(
            self.session, self.view, self._size(), self.in_hand, self.grips, self.player, self._asked, pencil
        )

    def _handle_at(self) -> Handle | None:
        u, v = self.view.to_paper(*self._pencil)
        return handle_at(self._on_board().handles, u, v, _HANDLE_REACH / self.view.scale)

    def _take_handle(self) -> bool:
        """Begin a stroke at the handle under the pencil; False when there is none."""
        handle = self._handle_at()
        if handle is None:
            return False
        self.in_hand.begin(adjust_tool(self._context(), handle, self.session.selection))
        self._send(Act.PRESS)
        return True

    def _size(self) -> tuple[int, int]:
        return self.width(), self.height()

    def _grips_free(self) -> bool:
        """Whether the grips on the board can be held: no stroke is running and no construction is on it."""
        return not self.busy and (self.player is None or self.player.construction is None)

    def _take_view(self, view: BoardView) -> None:
        """Go on with a view that a grip has steadied; it is no choice of the person's."""
        if view != self.view:
            self.view = view
        self.update()

    def back_out(self) -> None:
        """An error escaped: let go of what is held."""
        self._panning = None
        if self.grips.held is not None:
            self._let_go(keep=False)

    def _let_go(self, *, keep: bool) -> None:
        self._take_view(self.grips.let_go(self.view, keep=keep))
        self.prompted.emit("", "")

    def _cursor(self) -> Qt.CursorShape:
        shape = self.grips.shape_at(self.view, self._size(), QPointF(*self._pencil)) if self._grips_free() else None
        if shape is not None:
            return shape
        if not self.in_hand.active and self._handle_at() is not None:
            return Qt.CursorShape.OpenHandCursor
        return Qt.CursorShape.CrossCursor if self.in_hand.active else Qt.CursorShape.ArrowCursor

    def leaveEvent(self, event: object) -> None:
        """Nothing is under the pencil any more."""
        self.hovered.emit(None, None)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom about the pencil; two fingers on a touchpad shift the sheet, with Ctrl they zoom."""
        assert event is not None
        self._fitted = False
        shift = event.pixelDelta()
        if not shift.isNull() and not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._set_view(self.view.moved(shift.x(), shift.y()))
            return
        factor = 1.0015 ** event.angleDelta().y()
        self._set_view(self.view.zoomed(factor, event.position().x(), event.position().y()))

    def tabletEvent(self, event: QTabletEvent | None) -> None:
        """A tablet's pen is the pencil (Qt hands it on as the mouse); its eraser end steps back."""
        assert event is not None
        if event.pointerType() != QPointingDevice.PointerType.Eraser:
            event.ignore()
            return
        event.accept()
        if event.type() == QEvent.Type.TabletPress:
            if self.busy:
                self._send(Act.BACK)
            else:
                self.session.undo()

    def _select(self, *, extend: bool) -> None:
        u, v = self.view.to_paper(*self._pencil)
        owner = pick_volume(self.session.drawing, u, v, self.reach)
        if owner is None:
            if not extend:
                self.session.select(())
            return
        # Who points at one of a group means them all.
        meant = mates(self.session.document, (self.session.document.volumes[owner].id,))
        now = self.session.selection
        if not extend:
            self.session.select(meant)
        elif set(meant) <= set(now):
            self.session.select(tuple(i for i in now if i not in meant))
        else:
            self.session.select((*now, *meant))

    # --- keys -----------------------------------------------------------------------------------------------------

    def event(self, event: QEvent | None) -> bool:
        """Letters of a length being typed are no shortcuts: the m of cm must not take up another tool."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and self._types(event):
            event.accept()
            return True
        return super().event(event)

    def _types(self, event: QKeyEvent) -> bool:
        """Whether a key belongs to the length being typed."""
        if not self.busy or event.modifiers() & ~_PLAIN:
            return False
        text = event.text()
        return bool(text) and (text in _LENGTH_CHARACTERS if self.in_hand.typed else text.isdigit() or text in ".,-")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows carry the pencil, Space presses it; digits set the running pull, Enter takes it, Escape steps back."""
        assert event is not None
        fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if event.key() in _ARROWS and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._fitted = False
            self._set_view(self.view.moved(*(-_PAN * d for d in _ARROWS[Qt.Key(event.key())])))
            return
        if event.key() in _ARROWS and not event.modifiers() & ~_PLAIN:
            self._carry(*(_STEP_FINE * d if fine else _STEP * d for d in _ARROWS[Qt.Key(event.key())]))
            return
        if event.key() == Qt.Key.Key_Space and not self.in_hand.typed:
            self._press_by_key()
            return
        if self.grips.held is not None and event.key() == Qt.Key.Key_Escape:
            self._let_go(keep=False)
        elif not self.in_hand.active or not self._tool_key(event):
            event.ignore()

    def _carry(self, dx: float, dy: float) -> None:
        """Carry the pencil by pixels, as far as the board goes."""
        x, y = self._pencil
        self._pencil = (min(max(x + dx, 0.0), self.width() - 1.0), min(max(y + dy, 0.0), self.height() - 1.0))
        self._by_key = True
        self._moved()
        self.update()

    def _press_by_key(self) -> None:
        """What a click does at the pencil's place."""
        self._by_key = True
        if not self.in_hand.active:
            self._select(extend=False)
        elif self.busy:
            self._send_finishing(Act.RELEASE)
        else:
            self._send(Act.PRESS)
        self.update()

    def _tool_key(self, event: QKeyEvent) -> bool:
        key = event.key()
        if key == Qt.Key.Key_Escape:
            if self.in_hand.typed:
                self.in_hand.typed = ""
                self._send(Act.TYPE)
                return True
            if self.busy:
                self._send(Act.BACK)
                return True
            return False
        if not self.busy:
            return False
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._send_finishing(Act.ENTER)
            return True
        if key == Qt.Key.Key_Backspace:
            self.in_hand.typed = self.in_hand.typed[:-1]
            self._send(Act.TYPE)
            return True
        if self._types(event):
            self.in_hand.typed += event.text()
            self._send(Act.TYPE)
            return True
        return False

    # --- paint ----------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the cached picture of all that stands still, then what moves."""
        on, session = self._on_board(), self.session
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
