"""Building a starter: volumes by name, each joined to what it goes along with, their sizes driven by the module."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import msgspec

from isometron.document.joins import joined_as_it_lies
from isometron.document.model import NamedLength
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.relations import Drives, Mirror, SizeExpression
from isometron.volumes.turned import PROFILES, Turned
from isometron.volumes.volume import Ahead

__all__ = ["Parts", "wheel"]


@dataclass
class Parts:
    """Volumes and lengths of a starter as they are added; ``ahead`` is the side that is the front of each."""

    volumes: list[AnyVolume] = field(default_factory=list)
    lengths: list[NamedLength] = field(default_factory=list)
    ahead: Ahead = "x0"

    def add(self, volume: AnyVolume, to: str | None = None, **says: str) -> AnyVolume:
        """Add a volume, joined as it lies to the one with the id ``to``; ``says`` drive its sizes."""
        fields: dict[str, Any] = {"ahead": self.ahead}
        if to is not None:
            parent = next(v for v in self.volumes if v.id == to)
            fields["joined"] = joined_as_it_lies(volume, parent)
        if says:
            fields["says"] = tuple(SizeExpression(drives=_drives(name), text=text) for name, text in says.items())
        made = msgspec.structs.replace(volume, **fields)
        self.volumes.append(made)
        return made

    @property
    def module(self) -> AnyVolume:
        """The volume whose size is the unit of all the others: a wheel when there is one, else the first."""
        return next((v for v in self.volumes if "wheel" in v.id), self.volumes[0])

    def mirrored(self, volume: AnyVolume, about: str, to: str | None = None, **says: str) -> AnyVolume:
        """Add a volume with its image across the middle of another one."""
        return self.add(msgspec.structs.replace(volume, mirror=Mirror(about=about)), to, **says)


def _drives(name: str) -> Drives:
    found: Drives = name  # type: ignore[assignment]
    return found


def wheel(
    volume_id: str, name: str, place: tuple[float, float, float], diameter: float, tyre: float, **fields: Any
) -> Turned:
    """Return a wheel whose axle runs along wide, its lower corner at ``place``."""
    return Turned(
        id=volume_id,
        name=name,
        corner=place,
        size=(diameter, tyre, diameter),
        axle="wide",
        profile=PROFILES["wheel"],
        face_rings=(0.68, 0.3, 0.14),
        **fields,
    )
