"""One thread beside the first, for loops that do not hold the interpreter."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from functools import cache

__all__ = ["second_thread"]


@cache
def second_thread() -> ThreadPoolExecutor:
    """Return the thread; what it is asked for is done in turn."""
    return ThreadPoolExecutor(1, "second")
