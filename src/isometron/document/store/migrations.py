"""Steps from older file versions to the present one: one function a version, registered here."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import msgspec

from isometron.document.model import VERSION
from isometron.document.store.to_version_2 import to_version_2

__all__ = ["STEPS", "migrated"]


def _to_version_3(raw: dict[str, Any]) -> dict[str, Any]:
    """Version 3 added pictures and eyes that are kept; what was there means the same."""
    return {**raw, "version": 3}


def _to_version_4(raw: dict[str, Any]) -> dict[str, Any]:
    """Version 4 added hollow bodies, openings, and lines and sections on surfaces; what was there means the same."""
    return {**raw, "version": 4}


def _to_version_5(raw: dict[str, Any]) -> dict[str, Any]:
    """Version 5 added names of points, the ruler, and warnings that are quiet; what was there means the same."""
    return {**raw, "version": 5}


def _to_version_6(raw: dict[str, Any]) -> dict[str, Any]:
    """Version 6 added planes that lean; what was there means the same."""
    return {**raw, "version": 6}


STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: to_version_2,
    2: _to_version_3,
    3: _to_version_4,
    4: _to_version_5,
    5: _to_version_6,
}
"""STEPS[n] turns the raw object of version n into version n + 1."""


def migrated(data: bytes, version: int) -> bytes:
    """Return ``data`` brought from ``version`` to the present version; unchanged when it is there already."""
    if version == VERSION:
        return data
    try:
        raw = msgspec.json.decode(data)
    except msgspec.DecodeError:
        return data  # what is wrong with it is told, with its place, by whoever reads it
    for step in range(version, VERSION):
        raw = STEPS[step](raw)
    return msgspec.json.encode(raw)
