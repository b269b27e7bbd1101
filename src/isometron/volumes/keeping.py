"""Results that are kept for as long as the very same objects are asked about: values here never change."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

__all__ = ["Kept"]

T = TypeVar("T")


class Kept(Generic[T]):
    """The latest results of some work, by the identity of what it was done on.

    A result holds on to its objects, so an identity that is still known cannot have passed to another object.
    """

    def __init__(self, most: int) -> None:
        self._most = most
        self._found: dict[tuple[int, ...], tuple[tuple[object, ...], T]] = {}

    def make_room(self, count: int) -> None:
        """Keep at least so many results from now on."""
        self._most = max(self._most, count)

    def of(self, objects: tuple[object, ...], make: Callable[[], T]) -> T:
        """Return what ``make`` made of these objects, or makes of them now."""
        key = tuple(map(id, objects))
        found = self._found.pop(key, None)
        if found is None:
            found = objects, make()
        # Put at the end: the first of the table is always the one that was asked for least lately.
        self._found[key] = found
        while len(self._found) > self._most:
            del self._found[next(iter(self._found))]
        return found[1]
