"""Steps from older file versions to the present one: one function a version, registered here."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import msgspec

from isometron.document.model import VERSION

__all__ = ["STEPS", "migrated"]

STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {}
"""STEPS[n] turns the raw object of version n into version n + 1. Version 1 is the first, so none is needed yet."""


def migrated(data: bytes, version: int) -> bytes:
    """Return ``data`` brought from ``version`` to the present version; unchanged when it is there already."""
    if version == VERSION:
        return data
    raw = msgspec.json.decode(data)
    for step in range(version, VERSION):
        raw = STEPS[step](raw)
    return msgspec.json.encode(raw)
