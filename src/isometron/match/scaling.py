"""All of the world a number of times as large: it is drawn as before, and every true length is another one.

Which fields are lengths is said by the fields themselves: their description begins with "mm".
"""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import msgspec
import msgspec.inspect as kinds

from isometron.document.edits import with_volumes
from isometron.document.model import Document, checked
from isometron.volumes.kinds import AnyVolume
from isometron.wording import tr

__all__ = ["scaled_world"]


def scaled_world(document: Document, factor: float) -> Document:
    """Return the document with all volumes, the eye and the kept eyes ``factor`` times as large and as far from the world's origin.

    What is said in words (expressions, named lengths) keeps its words. Raises `DocumentError` where something would be too
    large or too small.
    """
    if factor == 1.0:
        return document
    volumes = tuple(_volume(volume, factor) for volume in document.volumes)
    eyes = tuple(msgspec.structs.replace(kept, eye=_moved(kept.eye, factor)) for kept in document.eyes)
    changed = msgspec.structs.replace(document, eye=checked(_moved(document.eye, factor), tr("the eye")), eyes=eyes)
    return with_volumes(changed, volumes, {volume.id for volume in volumes})


def _moved(eye: Any, factor: float) -> Any:
    x, y, z = eye.position
    return msgspec.structs.replace(eye, position=(factor * x, factor * y, factor * z))


def _volume(volume: AnyVolume, factor: float) -> AnyVolume:
    scaled: AnyVolume = _scaled(volume, factor)
    return checked(scaled, f"volume {volume.name!r}")


@lru_cache(maxsize=64)
def _fields(kind: type[msgspec.Struct]) -> dict[str, kinds.Type]:
    info = kinds.type_info(kind)
    assert isinstance(info, kinds.StructType)
    return {field.name: field.type for field in info.fields}


def _scaled(value: msgspec.Struct, factor: float) -> Any:
    new = {name: _in(getattr(value, name), kind, factor) for name, kind in _fields(type(value)).items()}
    return msgspec.structs.replace(value, **new)


def _in(value: Any, kind: kinds.Type, factor: float) -> Any:
    """Return a value of a field of a kind with its lengths scaled."""
    if isinstance(kind, kinds.Metadata):
        length = (kind.extra_json_schema or {}).get("description", "").startswith("mm")
        if length and isinstance(value, int | float):
            return float(value) * factor
        return _in(value, kind.type, factor)
    if isinstance(value, msgspec.Struct):
        return _scaled(value, factor)
    if isinstance(value, tuple):
        if isinstance(kind, kinds.TupleType):
            return tuple(_in(each, own, factor) for each, own in zip(value, kind.item_types, strict=True))
        if isinstance(kind, kinds.VarTupleType):
            return tuple(_in(each, kind.item_type, factor) for each in value)
        if isinstance(kind, kinds.UnionType):
            return _of_union(value, kind, factor)
    return value


def _of_union(value: tuple[Any, ...], kind: kinds.UnionType, factor: float) -> Any:
    fits = next((t for t in kind.types if isinstance(t, kinds.TupleType | kinds.VarTupleType)), None)
    return value if fits is None else _in(value, fits, factor)
