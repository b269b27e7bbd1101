"""The pencil's input: mouse, tablet and keys, handed to the tool in use, to what is held, or to selecting."""

from __future__ import annotations

from typing import Any, Protocol

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QContextMenuEvent, QKeyEvent, QMouseEvent, QPointingDevice, QTabletEvent

from isometron.desk.board.grips import GripsOnBoard
from isometron.desk.board.looking import Looking
from isometron.desk.board.overlays.overlay import OnBoard
from isometron.desk.board.selecting import point_at, select_at
from isometron.desk.board.tool_in_hand import ToolInHand
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.session import Session
from isometron.desk.instruments.player import Player
from isometron.solve.pick import nearest_edge
from isometron.tools.adjust import adjust_tool
from isometron.tools.handles import Handle, handle_at
from isometron.tools.pencil import Act, ToolContext

__all__ = ["PencilInput"]

_HANDLE_REACH = 9.0
_STEP, _STEP_FINE, _PAN = 12.0, 1.0, 60.0
_ARROWS = {
    Qt.Key.Key_Left: (-1.0, 0.0),
    Qt.Key.Key_Right: (1.0, 0.0),
    Qt.Key.Key_Up: (0.0, -1.0),
    Qt.Key.Key_Down: (0.0, 1.0),
}
_PLAIN = Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.KeypadModifier


class UnderPencil(Protocol):
    """What the pencil's input needs of the board that it is at."""

    session: Session
    looking: Looking
    in_hand: ToolInHand
    grips: GripsOnBoard
    player: Player | None
    prompted: Any
    hovered: Any
    menu_wanted: Any

    @property
    def view(self) -> BoardView: ...
    @property
    def reach(self) -> float: ...
    @property
    def busy(self) -> bool: ...
    def on_board(self) -> OnBoard: ...
    def context(self) -> ToolContext: ...
    def size_in_pixels(self) -> tuple[int, int]: ...
    def setCursor(self, cursor: Qt.CursorShape) -> None: ...
    def update(self) -> None: ...
    def width(self) -> int: ...
    def height(self) -> int: ...


class PencilInput:
    """What the hand does at the board: ``at`` is the pencil's pixel; by_key : whether keys carried it there last."""

    def __init__(self, board: UnderPencil) -> None:
        self._board = board
        self.at = (0.0, 0.0)
        self._lies = False  # whether it has been anywhere yet
        self.by_key = False
        self._straight = False
        self._panning: QPointF | None = None
        self._near: frozenset[int] = frozenset()

    def _select(self, *, extend: bool) -> None:
        u, v = self._board.view.to_paper(*self.at)
        select_at(self._board.session, u, v, self._board.reach, extend=extend)

    def send(self, act: Act) -> bool:
        """Send an act at the pencil's place to the tool; tell whether it finished a step."""
        u, v = self._board.view.to_paper(*self.at)
        return self._board.in_hand.send(act, u, v, straight=self._straight)

    def _send_finishing(self, act: Act) -> None:
        """Send an act that may finish a step; digits typed for that step are used up with it."""
        if self.send(act) and self._board.in_hand.typed:
            self._board.in_hand.typed = ""
            self.send(Act.MOVE)

    def press(self, event: QMouseEvent) -> None:
        """Left: the tool, or select. Middle: move the sheet."""
        self.at = (event.position().x(), event.position().y())
        self._straight = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if event.button() == Qt.MouseButton.MiddleButton:
            self._panning = event.position()
            self._board.setCursor(Qt.CursorShape.ClosedHandCursor)
        elif event.button() == Qt.MouseButton.LeftButton:
            there = (self._board.view, self._board.size_in_pixels(), event.position())
            if self._grips_free() and (
                (self._straight and self._board.grips.add(*there)) or self._board.grips.take(*there)
            ):
                return
            if self._board.in_hand.active:
                self.send(Act.PRESS)
            elif self._board.player is not None and self._board.player.school == "height":
                self._board.player.ask(place=self._board.view.to_paper(*self.at))
            elif not self._take_handle():
                self._select(extend=bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))

    def ask_for_menu(self, event: QContextMenuEvent) -> None:
        """Ask for the menu of what is under the pencil, which is selected by it; by the keyboard, of what is selected."""
        if self._board.busy or self._board.grips.held is not None:
            return
        if event.reason() == QContextMenuEvent.Reason.Mouse:
            self.at = (float(event.pos().x()), float(event.pos().y()))
            u, v = self._board.view.to_paper(*self.at)
            if point_at(self._board.session, u, v, self._board.reach) not in self._board.session.selection:
                self._select(extend=False)
        self._board.menu_wanted.emit(event.globalPos(), bool(self._board.session.selection))

    def move(self, event: QMouseEvent) -> None:
        """Move the sheet, or the tool; otherwise tell what lies under the pencil."""
        self._lies = True
        self.at = (event.position().x(), event.position().y())
        self._straight = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if self._panning is not None:
            step = event.position() - self._panning
            self._panning = event.position()
            self._board.looking.move(step.x(), step.y())
            return
        if self._board.grips.held is not None:
            self._take_view(self._board.grips.drag(self._board.view, event.position()))
            self._board.prompted.emit(*self._board.grips.held.words)
            return
        self.by_key = False
        self._board.setCursor(self.cursor())
        self._moved()

    def _moved(self) -> None:
        """The pencil is somewhere else: the tool follows, and what lies under it is told."""
        self.send(Act.MOVE)
        u, v = self._board.view.to_paper(*self.at)
        edge = None if self._board.busy else nearest_edge(self._board.session.drawing, u, v, self._board.reach)
        self._board.hovered.emit((u, v), edge)
        self._handles_near()

    def _handles_near(self) -> None:
        """Handles grow as the hand comes near, and go back to dots as it leaves."""
        near: frozenset[int] = frozenset() if self._board.busy else self._board.on_board().near
        if near != self._near:
            self._near = near
            self._board.update()

    def release(self, event: QMouseEvent) -> None:
        """Finish a pull, or stop moving the sheet."""
        self.at = (event.position().x(), event.position().y())
        if event.button() == Qt.MouseButton.MiddleButton:
            self._panning = None
            self._board.setCursor(self.cursor())
        elif self._board.grips.held is not None:
            self._let_go(keep=True)
        elif event.button() == Qt.MouseButton.LeftButton:
            self._send_finishing(Act.RELEASE)

    def _handle_at(self) -> Handle | None:
        u, v = self._board.view.to_paper(*self.at)
        return handle_at(self._board.on_board().handles, u, v, _HANDLE_REACH / self._board.view.scale)

    def _take_handle(self) -> bool:
        """Begin a stroke at the handle under the pencil; False when there is none."""
        handle = self._handle_at()
        if handle is None:
            return False
        self._board.in_hand.begin(adjust_tool(self._board.context(), handle, self._board.session.selection))
        self.send(Act.PRESS)
        return True

    def _grips_free(self) -> bool:
        """Whether the grips on the board can be held: no stroke is running and no construction is on it."""
        return not self._board.busy and (self._board.player is None or self._board.player.construction is None)

    def _take_view(self, view: BoardView) -> None:
        """Go on with a view that a grip has steadied; it is no choice of the person's."""
        self._board.looking.view = view
        self._board.update()

    def back_out(self) -> None:
        """An error escaped: let go of what is held."""
        self._panning = None
        if self._board.grips.held is not None:
            self._let_go(keep=False)

    def _let_go(self, *, keep: bool) -> None:
        self._take_view(self._board.grips.let_go(self._board.view, keep=keep))
        self._board.prompted.emit("", "")

    def cursor(self) -> Qt.CursorShape:
        """Return the cursor for what is under the pencil."""
        shape = (
            self._board.grips.shape_at(self._board.view, self._board.size_in_pixels(), QPointF(*self.at))
            if self._grips_free()
            else None
        )
        if shape is not None:
            return shape
        if not self._board.in_hand.active and self._handle_at() is not None:
            return Qt.CursorShape.OpenHandCursor
        return Qt.CursorShape.CrossCursor if self._board.in_hand.active else Qt.CursorShape.ArrowCursor

    def tablet(self, event: QTabletEvent) -> None:
        """A tablet's pen is the pencil (Qt hands it on as the mouse); its eraser end steps back."""
        if event.pointerType() != QPointingDevice.PointerType.Eraser:
            event.ignore()
            return
        event.accept()
        if event.type() == QEvent.Type.TabletPress:
            if self._board.busy:
                self.send(Act.BACK)
            else:
                self._board.session.undo()

    def types(self, event: QKeyEvent) -> bool:
        """Whether a key belongs to the length being typed."""
        if not self._board.in_hand.takes_words or event.modifiers() & ~_PLAIN:
            return False
        text = event.text()
        if not self._board.busy and not self._board.in_hand.typed:
            return text.isdigit()
        return bool(text) and (text.isprintable() if self._board.in_hand.typed else text.isdigit() or text in ".,-")

    def key(self, event: QKeyEvent) -> None:
        """Arrows carry the pencil, Space presses it; digits set the running pull, Enter takes it, Escape steps back."""
        fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if event.key() in _ARROWS and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._board.looking.move(*(-_PAN * d for d in _ARROWS[Qt.Key(event.key())]))
            return
        if event.key() in _ARROWS and not event.modifiers() & ~_PLAIN:
            self._carry(*(_STEP_FINE * d if fine else _STEP * d for d in _ARROWS[Qt.Key(event.key())]))
            return
        if event.key() == Qt.Key.Key_Space and not self._board.in_hand.typed:
            self._press_by_key()
            return
        if self._board.grips.held is not None and event.key() == Qt.Key.Key_Escape:
            self._let_go(keep=False)
        elif not self._board.in_hand.active or not self._tool_key(event):
            event.ignore()

    def _carry(self, dx: float, dy: float) -> None:
        """Carry the pencil by pixels, as far as the board goes."""
        self._lay_at_start()
        x, y = self.at
        self.at = (
            min(max(x + dx, 0.0), self._board.width() - 1.0),
            min(max(y + dy, 0.0), self._board.height() - 1.0),
        )
        self.by_key = True
        self._moved()
        self._board.update()

    def _lay_at_start(self) -> None:
        """The keyboard's pencil begins where positions are counted from, if that is on the board; else in the sheet's middle."""
        if self._lies:
            return
        self._lies = True
        paper, depth = self._board.session.document.eye.project(np.zeros((1, 3)))
        x, y = self._board.view.point_to_screen(*map(float, paper[0])) if depth[0] > 0.0 else (-1.0, -1.0)
        if not (0.0 <= x < self._board.width() and 0.0 <= y < self._board.height()):
            left, lower, right, upper = self._board.session.document.sheet.rectangle
            x, y = self._board.view.point_to_screen((left + right) / 2, (lower + upper) / 2)
        self.at = (x, y)
        self.send(Act.MOVE)

    def _press_by_key(self) -> None:
        """What a click does at the pencil's place."""
        self._lay_at_start()
        self.by_key = True
        if not self._board.in_hand.active:
            self._select(extend=False)
        elif self._board.busy:
            self._send_finishing(Act.RELEASE)
        else:
            self.send(Act.PRESS)
        self._board.update()

    def _tool_key(self, event: QKeyEvent) -> bool:
        key = event.key()
        if key == Qt.Key.Key_Escape:
            if self._board.in_hand.typed:
                self._board.in_hand.typed = ""
                self.send(Act.TYPE)
                return True
            if self._board.busy:
                self.send(Act.BACK)
                return True
            return False
        if not self._board.busy and not (self._board.in_hand.typed or self.types(event)):
            return False
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._send_finishing(Act.ENTER)
            return True
        if key == Qt.Key.Key_Backspace:
            self._board.in_hand.typed = self._board.in_hand.typed[:-1]
            self.send(Act.TYPE)
            return True
        if self.types(event):
            self._board.in_hand.typed += event.text()
            self.send(Act.TYPE)
            return True
        return False
