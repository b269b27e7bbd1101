"""Demos that begin with a picture: it was rendered by our own eye (docs/make_snapshots.py), and is shipped with its marks."""

from __future__ import annotations

from functools import partial
from importlib import resources

from isometron.document.model import Document
from isometron.document.store.files import decode_document

__all__ = ["market_snapshot", "vessel_on_a_shelf"]


def _shipped(name: str) -> Document:
    data = resources.files("isometron.assets").joinpath(f"demos/{name}.isometron").read_bytes()
    return decode_document(data, name)


market_snapshot = partial(_shipped, "market-snapshot")
vessel_on_a_shelf = partial(_shipped, "vessel-on-a-shelf")
