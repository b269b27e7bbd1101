"""What the loops name of the compiler, for running them as the Python they are where they were not compiled.

The loops are written in the compiler's pure-Python mode: types are annotations, and the few words that act when they run
(`declare`, `cast`, decorators, `nogil`) do what Python does anyway. With this the compiler is needed by the build alone.
"""

from __future__ import annotations

import math
import sys
from contextlib import nullcontext
from importlib.util import find_spec
from types import ModuleType
from typing import Any

__all__ = ["stand_in"]


class _Type:
    """A number's type: a call converts, an index makes the type of an array."""

    def __init__(self, convert: type, length: int = 0) -> None:
        self._convert, self.length = convert, length

    def __call__(self, value: Any = 0) -> Any:
        return self._convert(value)

    def __getitem__(self, index: Any) -> _Type:
        return _Type(self._convert, index if isinstance(index, int) else 0)


def _declare(kind: Any = None, value: Any = None, **more: Any) -> Any:
    """Return the value, or room for an array of a fixed length."""
    length = getattr(kind, "length", 0)
    return [0] * length if length and value is None else value


def _cast(kind: Any, value: Any, **more: Any) -> Any:
    return kind(value) if isinstance(kind, _Type) else value


def _as_it_is(made: Any) -> Any:
    return made


def _decorator(*options: Any, **more: Any) -> Any:
    """Decorate nothing, with arguments or without."""
    return _as_it_is


def stand_in() -> None:
    """Let ``import cython`` find the few words that the loops use, where the compiler's own module is not installed."""
    if "cython" in sys.modules or find_spec("cython") is not None:
        return
    made: Any = ModuleType("cython", "The words of the compiler that the loops use; see isometron.uncompiled.")
    for name in ("int", "short", "schar", "uchar", "uint", "long", "longlong", "Py_ssize_t"):
        setattr(made, name, _Type(int))
    made.double, made.bint, made.void = _Type(float), _Type(bool), _Type(type(None))
    made.declare, made.cast, made.compiled = _declare, _cast, False
    made.cfunc = made.ccall = made.inline = made.cclass = made.final = _as_it_is
    made.exceptval = made.locals = made.returns = _decorator
    made.nogil = made.gil = nullcontext()
    sys.modules["cython"] = made
    path = "cython"
    for part in ("cimports", "libc"):
        path = f"{path}.{part}"
        sys.modules[path] = ModuleType(path)
    sys.modules[f"{path}.math"] = math
