"""What a deed is: one value from which keys, menus, buttons, the card of keys and the language catalogue are made."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Protocol

from PyQt6.QtGui import QKeySequence

from isometron.wording import mark, tr

if TYPE_CHECKING:
    from isometron.desk.board.board import Board
    from isometron.desk.frame.paperwork import Paperwork
    from isometron.desk.frame.session import Session
    from isometron.desk.frame.settings import Side
    from isometron.desk.instruments.player import Player

__all__ = ["Deed", "Hint", "OnDesk", "Topic", "key_words"]


class OnDesk(Protocol):
    """What deeds need of a desk."""

    session: Session
    board: Board
    player: Player
    paperwork: Paperwork
    host: Any
    actions_by_deed: Any

    def take_tool(self, name: str) -> None:
        """Take up a tool by its name."""

    def construct(self) -> None:
        """Show the steps that construct the selected volume."""

    def rename(self) -> None:
        """Edit the active volume's name."""

    def show_views(self) -> None:
        """Show the plain views."""

    def show_keys(self) -> None:
        """Show the card of keys."""

    def show_handbook(self) -> None:
        """Show the handbook."""

    def show_about(self) -> None:
        """Show versions and licence."""

    def open_menu(self) -> None:
        """Open the document's menu."""

    def fold(self, side: Side) -> None:
        """Fold a panel away, or take it out again."""

    def toggle_night(self) -> None:
        """Change between the day and the night table."""


def _always(desk: OnDesk) -> bool:
    return True


@dataclass(frozen=True)
class Deed:
    """One thing a person can do.

    words, tip : looked up in the catalogue when they are shown; keys : the first one is told, each works; possible : when it
    can be done; on_card : how the card of keys says it, empty when the card leaves it out.
    """

    name: str
    words: str
    tip: str
    act: Callable[[Any], object]
    keys: tuple[str | QKeySequence.StandardKey, ...] = ()
    possible: Callable[[Any], bool] = _always
    on_card: str = ""


@dataclass(frozen=True)
class Hint:
    """A row of the card of keys that is no deed: what is held, rolled or typed, and what it does."""

    keys: str
    words: str


@dataclass(frozen=True)
class Topic:
    """Deeds that belong together; on the card of keys a column with its hints."""

    title: str
    deeds: tuple[Deed, ...]
    hints: tuple[Hint, ...] = ()


def key_words(key: str | QKeySequence.StandardKey) -> str:
    """Return a key as it is told to a person."""
    return "+".join(tr(part) if part in _NAMED else part for part in QKeySequence(key).toString().split("+"))


_NAMED = (
    mark("Ctrl"),
    mark("Shift"),
    mark("Alt"),
    mark("Del"),
    mark("PgUp"),
    mark("PgDown"),
    mark("Up"),
    mark("Down"),
)
"""Keys that keyboards of other countries call something else."""
