"""What drives sizes: expressions, the document's own lengths, and locked ratios, worked out in the order they need."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from isometron.document.lengths.expressions import Reference, evaluated, slug
from isometron.document.lengths.units import UnitName
from isometron.document.model import DocumentError, NamedLength
from isometron.document.store.budget import MOST_DEEP
from isometron.volumes.box import box_corners
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.own_sides import Heading, heading_of
from isometron.volumes.relations import Keep, SizeExpression
from isometron.volumes.turned import Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["Sizes", "diameter_of", "kept_with"]

_PLACES = ("x", "y", "z", "middle_x", "middle_y", "middle_z", "foot", "top", "middle")
_SIDES: dict[str, Heading] = {"front": "front", "rear": "rear", "left": "left side", "right": "right side"}


def diameter_of(volume: AnyVolume) -> float:
    """Return the diameter of a round volume: its larger size across the axle; the long size of any other."""
    if not isinstance(volume, Turned):
        return volume.size[0]
    return max(size for k, size in enumerate(volume.size) if DIRECTIONS[k] != volume.axle)


def kept_with(keep: Keep, size: Sequence[float], axis: int) -> tuple[float, float, float]:
    """Return the sizes when a locked ratio follows the size along ``axis``; free directions stay."""
    if keep.parts[axis] <= 0.0:
        a, b, c = size
        return a, b, c
    unit = size[axis] / keep.parts[axis]
    a, b, c = (round(part * unit, 9) if part > 0.0 else old for part, old in zip(keep.parts, size, strict=True))
    return a, b, c


class Sizes:
    """Sizes of the volumes of a document by name, each worked out when it is first asked for.

    A size that needs itself, by whatever way round, raises `DocumentError` with that way.
    """

    def __init__(self, volumes: Sequence[AnyVolume], lengths: Sequence[NamedLength]) -> None:
        self._rows: dict[str, list[int]] = {}
        for row, volume in enumerate(volumes):
            for name in {slug(volume.name), slug(volume.id)}:
                self._rows.setdefault(name, []).append(row)
        self._volumes = list(volumes)
        self._lengths: Mapping[str, NamedLength] = {slug(length.name): length for length in lengths}
        self._found: dict[tuple[int, int], float] = {}
        self._lasting: dict[str, float] = {}
        self._open: list[tuple[str, tuple[int, int] | str]] = []

    def known(self, name: str) -> bool:
        """Whether a name is one of a volume or of a length."""
        return name in self._rows or name in self._lengths

    def is_length(self, name: str) -> bool:
        """Whether a name is one of the document's own lengths."""
        return name in self._lengths

    def length(self, name: str) -> NamedLength:
        """Return one of the document's own lengths."""
        return self._lengths[name]

    def row_of(self, name: str) -> int:
        """Return the position of the volume called so; raises `DocumentError` for none and for several."""
        rows = self._rows.get(name, [])
        if len(rows) == 1:
            return rows[0]
        # A volume's name goes before another one's id.
        called = [row for row in rows if slug(self._volumes[row].name) == name]
        if len(called) == 1:
            return called[0]
        if not rows:
            known = ", ".join(sorted({slug(v.name) for v in self._volumes} | set(self._lengths))[:8]) or tr(
                "none yet"
            )
            raise DocumentError(tr("There is no {name!r} here. Names: {known}.", name=name, known=known))
        raise DocumentError(tr("{count} volumes are called {name!r}. Give them names of their own.",
                               count=len(rows), name=name))  # fmt: skip

    def value(self, text: str, unit: UnitName) -> float:
        """Return the mm of an expression."""
        return evaluated(text, unit, self.known, self.of)

    def of(self, reference: Reference) -> float:
        """Return the mm of a name."""
        if reference.name in self._lengths and not reference.part:
            return self._length(self._lengths[reference.name])
        row = self.row_of(reference.name)
        volume, part = self._volumes[row], reference.part
        if not part or part == "diameter":
            if isinstance(volume, Turned):
                return max(self.size(row, k) for k in range(3) if DIRECTIONS[k] != volume.axle)
            return self.size(row, 0)
        if part in DIRECTIONS:
            return self.size(row, DIRECTIONS.index(part))
        if part in ("pitch", "gap") and volume.copies:
            pitch = self.pitch(row)
            along = DIRECTIONS.index(volume.copies[0].along)
            return pitch if part == "pitch" else abs(pitch) - self.size(row, along)
        if reference.other:
            return _clear(volume, self._volumes[self.row_of(reference.other)])
        if part in _PLACES:
            return self._place(volume, part)
        if part in _SIDES:
            return _side(volume, _SIDES[part])
        raise DocumentError(
            tr("{name} has no {part!r}. Ask for long, wide, high, diameter, front, rear, left, right, foot, top, middle, x, y, z, middle_x, or pitch and gap of a row.",
               name=volume.name, part=part)
        )  # fmt: skip

    def _place(self, volume: AnyVolume, part: str) -> float:
        corners, _ = box_corners([volume])
        if part in "xyz":  # of its position, as the ledger shows it
            return float(corners[0, 0]["xyz".index(part)])
        if part.startswith("middle_"):
            return float(corners[0].mean(axis=0)["xyz".index(part[-1])])
        if part == "middle":
            return (_side(volume, "front") + _side(volume, "rear")) / 2.0
        heights = corners[0][:, 2]
        return float(np.min(heights) if part == "foot" else np.max(heights))

    def _length(self, length: NamedLength) -> float:
        if length.name not in self._lasting:
            self._lasting[length.name] = self._within(
                length.name, length.name, lambda: self.value(length.text, length.unit)
            )
        return self._lasting[length.name]

    def size(self, row: int, axis: int) -> float:
        """Return a size of the volume at ``row``: as its expression or its locked ratio says, else as it is."""
        key = (row, axis)
        if key not in self._found:
            volume = self._volumes[row]
            name = f"{slug(volume.name)}.{DIRECTIONS[axis]}"
            self._found[key] = self._within(name, key, lambda: self._worked_out(row, axis))
        return self._found[key]

    def _worked_out(self, row: int, axis: int) -> float:
        volume = self._volumes[row]
        says = _says(volume, DIRECTIONS[axis])
        if says is not None:
            return self.value(says.text, says.unit)
        keep = volume.keep
        if keep is not None and keep.parts[axis] > 0.0:
            for other in range(3):
                if other != axis and keep.parts[other] > 0.0 and _says(volume, DIRECTIONS[other]) is not None:
                    return round(self.size(row, other) * keep.parts[axis] / keep.parts[other], 9)
        return volume.size[axis]

    def pitch(self, row: int) -> float:
        """Return the pitch of the first row of copies of the volume at ``row``."""
        volume = self._volumes[row]
        says = _says(volume, "pitch")
        if says is None:
            return volume.copies[0].pitch
        if (row, 3) not in self._found:
            name = f"{slug(volume.name)}.pitch"
            self._found[row, 3] = self._within(name, (row, 3), lambda: self.value(says.text, says.unit))
        return self._found[row, 3]

    def _within(self, name: str, key: tuple[int, int] | str, work) -> float:  # type: ignore[no-untyped-def]
        """Work something out, unless it is being worked out already."""
        if any(other == key for _, other in self._open):
            way = [n for n, _ in self._open]
            way = [*way[[k for _, k in self._open].index(key) :], name]
            raise DocumentError(tr("{way}: a size cannot need itself.", way=tr(" needs ").join(way)))
        if len(self._open) >= MOST_DEEP:
            raise DocumentError(
                tr("{name}: more than {most} sizes and lengths need each other in turn.",
                   name=self._open[0][0], most=MOST_DEEP)
            )  # fmt: skip
        self._open.append((name, key))
        try:
            return float(work())
        finally:
            self._open.pop()


def _side(volume: AnyVolume, heading: Heading) -> float:
    """Return where one of a thing's own sides lies, mm along the direction of the world that it looks along most."""
    corners, rotations = box_corners([volume])
    axis, end = next(divmod(face, 2) for face in range(4) if heading_of(volume, face) == heading)
    along = int(np.argmax(np.abs(rotations[0][:, axis])))
    middle = corners[0].mean(axis=0) + (end - 0.5) * volume.size[axis] * rotations[0][:, axis]
    return float(middle[along])


def _clear(one: AnyVolume, other: AnyVolume) -> float:
    """Return what is clear between two bounding volumes, mm: along that direction of the first in which they lie farthest apart;
    less than nothing where they reach into one another."""
    corners, rotations = box_corners([one, other])
    own = (corners - corners[0, 0]) @ rotations[0]
    low, high = own.min(axis=1), own.max(axis=1)
    return float(np.maximum(low[1] - high[0], low[0] - high[1]).max())


def _says(volume: AnyVolume, drives: str) -> SizeExpression | None:
    return next((says for says in volume.says if says.drives == drives), None)
