"""From file version 1 to 2: tapered boxes and prisms become cut bodies, arched prisms arches, and ``wheel.x`` in expressions,
which was the middle's, ``wheel.middle_x``.

Marks on the leaning faces of tapered boxes lie on the faces of the cut body that are the same; all other marks keep to the
construction faces of the bounding volume.
"""

from __future__ import annotations

import re
from typing import Any

__all__ = ["to_version_2"]

Raw = dict[str, Any]
_PLACE = re.compile(r"(?<![\w.])([^\W\d]\w*)\.([xyzXYZ])(?!\w)")
"""The x, y or z of a named volume in an expression."""
_VIEW = {"wide": "side", "high": "plan", "long": "front"}
"""The view whose outline was carried along each direction."""
_ACROSS = {"wide": (0, 2), "high": (0, 1), "long": (1, 2)}
_FACES = {0: "side.4", 1: "side.2", 2: "front.4", 3: "front.2", 4: "side.1", 5: "side.3"}
"""The faces of a tapered box, as the sides of its profiles."""


def to_version_2(raw: Raw) -> Raw:
    """Return the raw object of a version 1 file as that of a version 2 file; what is no volume is left to the audit."""
    volumes = raw.get("volumes")
    if isinstance(volumes, list):
        raw = raw | {"volumes": [_volume(_said(volume, "says")) for volume in volumes]}
    raw = _said(_said(raw, "lengths"), "targets")
    return raw | {"version": 2}


def _said(owner: Any, field: str) -> Any:
    """Return an object whose texts in ``field`` name the middle of things as version 2 does."""
    if not isinstance(owner, dict) or not isinstance(owner.get(field), list):
        return owner
    said = [
        each | {"text": _PLACE.sub(r"\1.middle_\2", each["text"])}
        if isinstance(each, dict) and isinstance(each.get("text"), str)
        else each
        for each in owner[field]
    ]
    return owner | {field: said}


def _volume(volume: Any) -> Any:
    if not isinstance(volume, dict):
        return volume
    try:
        if volume.get("kind") == "tapered":
            return _tapered(volume)
        if volume.get("kind") == "prism":
            return _prism(volume)
    except (TypeError, ValueError, KeyError, IndexError, AttributeError, ZeroDivisionError):
        pass  # it is refused as it is, with its place
    return volume


def _tapered(volume: Raw) -> Raw:
    lean = _within(volume.get("lean", (0.0, 0.0, 0.0, 0.0)))
    marks = [
        mark | {"face": _FACES[mark["face"]]} if mark.get("face") in _FACES else mark
        for mark in volume.get("marks", ())
    ]
    rest = {name: value for name, value in volume.items() if name not in ("lean", "kind", "marks")}
    own = {"kind": "cut", "side": _leaning(*lean[:2]), "front": _leaning(*lean[2:])}
    return own | rest | ({"marks": marks} if marks else {})


def _within(lean: Any) -> list[float]:
    """Two leans that would pass each other meet on a line."""
    found = [float(part) for part in lean]
    for start in (0, 2):
        for sign in (1.0, -1.0):
            both = [max(sign * found[start + n], 0.0) for n in (0, 1)]
            if sum(both) > 1.0:
                for n, part in enumerate(both):
                    if part > 0.0:
                        found[start + n] = sign * part / sum(both)
    return found


def _leaning(start: float, end: float) -> Raw:
    low, high = (max(-start, 0.0), 1.0 - max(-end, 0.0)), (max(start, 0.0), 1.0 - max(end, 0.0))
    return _numbered([{"at": at} for at in ((low[0], 0.0), (low[1], 0.0), (high[1], 1.0), (high[0], 1.0))])


def _numbered(corners: list[Raw]) -> Raw:
    return {"corners": [{"n": n} | corner for n, corner in enumerate(corners, 1)], "next_n": len(corners) + 1}


def _prism(volume: Raw) -> Raw:
    rest = {name: value for name, value in volume.items() if name not in ("through", "section", "kind")}
    through, section = volume.get("through", "wide"), dict(volume["section"])
    what = section.pop("section")
    if what == "arch":
        if "hangs" in section:
            section["hangs_down"] = section.pop("hangs")
        return {"kind": "arch"} | rest | {"through": through} | section
    a, b = _ACROSS[through]
    size = float(volume["size"][a]), float(volume["size"][b])
    corners = _cut(section, *size) if what == "cut" else _counted(section)
    return {"kind": "cut"} | rest | {_VIEW[through]: _numbered(corners)}


def _cut(section: Raw, wide: float, high: float) -> list[Raw]:
    lengths = [float(length) for length in section.get("lengths", (50.0,) * 4)]
    fit = list(lengths)
    for k, side in enumerate((wide, high, wide, high)):
        after = (k + 1) % 4
        total = lengths[k] + lengths[after]
        if total > side:
            for n in (k, after):
                fit[n] = min(fit[n], lengths[n] * side / total)
    how = "round" if section.get("how", "chamfer") == "round" else "chamfer"
    places = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
    return [{"at": at, how: length} for at, length in zip(places, fit, strict=True)]


def _counted(section: Raw) -> list[Raw]:
    columns, rows = section.get("columns", 4), section.get("rows", 4)
    return [{"at": (min(x / columns, 1.0), min(y / rows, 1.0))} for x, y in section["points"]]
