"""What is offered to be chosen: its small picture in the tip, and on the board what would come of it before it is taken."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from html import escape
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu, QPushButton

from isometron.desk.frame.session import Session
from isometron.document.edits import Edit
from isometron.errors import IsometronError

__all__ = ["offer", "offer_on", "picture_tip"]

_TIPS = Path(__file__).parents[2] / "assets" / "tips"


def picture_tip(words: str, name: str) -> str:
    """Return a tip with the small picture of a name over its words."""
    place = _TIPS / f"{name}.png"
    said = escape(words).replace("\n", "<br>")
    return f'<qt><img src="{place.as_posix()}"><br>{said}</qt>' if place.is_file() else f"<qt>{said}</qt>"


def offer(
    menu: QMenu,
    words: str,
    session: Session,
    edit_of: Callable[..., Edit],
    *arguments: Any,
    tip: str = "",
    picture: str = "",
) -> QAction:
    """Add an edit to a menu; while the hand is on it the board shows what would come of it, if it can be done."""

    def preview() -> None:
        try:
            session.show(edit_of(session.settled, *arguments))
        except IsometronError:
            session.drop_preview()

    def take() -> None:
        session.drop_preview()
        session.attempt(edit_of, *arguments)

    action = menu.addAction(words, take)
    assert action is not None
    action.hovered.connect(preview)
    if not menu.property(_TIDY):
        menu.setProperty(_TIDY, True)
        menu.setToolTipsVisible(True)
        menu.aboutToHide.connect(session.drop_preview)
    if picture:
        action.setToolTip(picture_tip(tip or words, picture))
    return action


class _Hover(QObject):
    """Shows on the board what a button would do, while the hand is on it."""

    def __init__(self, button: QPushButton, session: Session, edit_of: Callable[[], Edit]) -> None:
        super().__init__(button)
        self._session, self._edit_of, self._shows = session, edit_of, False
        button.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Show it when the hand comes, and let it go when it leaves."""
        if event is not None and event.type() == QEvent.Type.Enter and not self._session.moving:
            with suppress(IsometronError):
                self._session.show(self._edit_of())
                self._shows = True
        elif event is not None and event.type() in (QEvent.Type.Leave, QEvent.Type.MouseButtonPress) and self._shows:
            self._shows = False
            self._session.drop_preview()
        return super().eventFilter(watched, event)


def offer_on(button: QPushButton, session: Session, edit_of: Callable[..., Edit], *arguments: Any) -> None:
    """Let a button show on the board what would come of it before it is taken, and take it when it is clicked.

    ``edit_of`` is given the document and the selection.
    """
    _Hover(button, session, lambda: edit_of(session.settled, session.selection, *arguments))
    button.clicked.connect(lambda: session.attempt(edit_of, session.selection, *arguments))


_TIDY = "lets go"
"""Set on a menu that lets go of what it shows when it closes."""
