"""How long work tells how far it has come, and is told to stop."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sized
from typing import Protocol, TypeVar

from isometron.errors import IsometronError

__all__ = ["CancelledError", "Tell", "part_of", "telling", "unheard"]

Tell = Callable[[float], None]
"""Takes how much of the work is done, 0 to 1; raises `CancelledError` when nobody wants it any more."""

T_co = TypeVar("T_co", covariant=True)


class CancelledError(IsometronError):
    """The work was called off; nothing was written."""


def unheard(share: float) -> None:
    """Tell nobody."""


def part_of(tell: Tell, begin: float, end: float) -> Tell:
    """Return what tells a part of the work as its part of the whole."""
    return lambda share: tell(begin + share * (end - begin))


class _Items(Iterable[T_co], Sized, Protocol[T_co]): ...


_EVERY = 64


def telling(items: _Items[T_co], tell: Tell) -> Iterator[T_co]:
    """Go through items, telling now and then how far it has come."""
    for number, item in enumerate(items):
        if number % _EVERY == 0:
            tell(number / len(items))
        yield item
