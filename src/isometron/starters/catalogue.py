"""The register of starters: a new one is one function and one line here."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from fractions import Fraction
from typing import get_args

import msgspec
import numpy as np

from isometron.document.edits import Edit, paste_volumes
from isometron.document.eyes.eye_edits import raise_eye, step_to
from isometron.document.eyes.eye_wishes import fit_sheet_part
from isometron.document.lengths.expressions import slug
from isometron.document.model import Document, DocumentError
from isometron.geometry.tolerances import CLOSE
from isometron.starters.buildings import arched_row, gabled_hut, squared_cube
from isometron.starters.furniture import desk_appliance, side_chair, stool, turned_bottle
from isometron.starters.parts import Parts
from isometron.starters.vehicles import low_car, tall_van, three_wheeler, two_wheeler
from isometron.volumes.building import build_scene, scene_of
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.relations import Direction, SizeExpression
from isometron.volumes.turned import Turned
from isometron.wording import mark, tr

__all__ = ["STARTERS", "Starter", "lay_starter"]

_AWAY = 3.0
"""The eye stands this many diagonals of the framework away."""

_APART = 0.25
"""A starter is laid beside what is there already, this part of its length away."""


@dataclass(frozen=True)
class Starter:
    """A starter: its title, what its module is, the usual module in mm, and what builds it."""

    title: str
    module: str
    usual: float
    build: Callable[[float], Parts]


STARTERS: dict[str, Starter] = {
    "three-wheeler": Starter(mark("open three-wheeler"), mark("wheel"), 560.0, three_wheeler),
    "low-car": Starter(mark("low car"), mark("wheel"), 620.0, low_car),
    "tall-van": Starter(mark("tall van"), mark("wheel"), 660.0, tall_van),
    "two-wheeler": Starter(mark("two-wheeler plane"), mark("wheel"), 640.0, two_wheeler),
    "side-chair": Starter(mark("side chair"), mark("seat width"), 430.0, side_chair),
    "stool": Starter(mark("stool"), mark("seat width"), 360.0, stool),
    "appliance": Starter(mark("desk appliance"), mark("width"), 220.0, desk_appliance),
    "bottle": Starter(mark("turned bottle"), mark("diameter"), 80.0, turned_bottle),
    "hut": Starter(mark("gabled hut"), mark("front width"), 2400.0, gabled_hut),
    "arched-row": Starter(mark("arched row"), mark("bay width"), 2000.0, arched_row),
    "squared-cube": Starter(mark("squared cube"), mark("edge"), 1000.0, squared_cube),
}


def lay_starter(document: Document, name: str, module: float | None = None) -> Edit:
    """Lay a starter of a module in mm (the usual one without) on the sheet: in the middle, or beside what is there.

    Raises `DocumentError` for a name that is none and for a module that is no size.
    """
    if name not in STARTERS:
        raise DocumentError(
            tr("There is no starter called {name!r}. Known: {known}.", name=name, known=", ".join(STARTERS))
        )
    starter = STARTERS[name]
    size = starter.usual if module is None else module
    if not 1.0 <= size <= 1e5:
        raise DocumentError(tr("A module lies between 1 mm and 100 m, not {size:g} mm.", size=size))
    parts = starter.build(size)
    place = _place(document, parts)
    module_name = slug(parts.module.name)
    volumes = [
        msgspec.structs.replace(v, corner=_moved(v.corner, place), says=_driven(v, parts.module, module_name))
        for v in parts.volumes
    ]
    pasted = paste_volumes(document, volumes)
    whole = pasted.document
    if not document.volumes:
        if not document.module:
            whole = msgspec.structs.replace(whole, module=module_name)
        whole = _seen_well(whole)
    return Edit(tr("lay the {starter}", starter=tr(starter.title)), whole, pasted.selection)


def _seen_well(document: Document) -> Document:
    """Return the document with its eye where the framework is seen whole, without convergence that looks wrong.

    The eye is lowered to look into the top a little, and steps back; the viewing cone then stays narrow.
    """
    corners = scene_of(document.volumes).vertices
    size = np.ptp(corners, axis=0)
    reach = float(np.linalg.norm(size))
    height = min(document.eye.position[2], 1.35 * float(size[2]) + 0.25 * reach)
    with suppress(DocumentError):  # an eye that cannot be brought near or far enough stays where it is
        document = raise_eye(document, height).document
        document = step_to(document, max(_AWAY * reach, 20.0)).document
        document = fit_sheet_part(document, 0.82, 0.05 * document.sheet.width, keep="perspective").document
    return document


def _driven(volume: AnyVolume, module: AnyVolume, name: str) -> tuple[SizeExpression, ...]:
    """Return what drives a volume's sizes: what it was built with, and for the others so many modules."""
    says = volume.says
    for axis, way in enumerate(get_args(Direction)):
        is_module = volume is module and (axis == 0 or (isinstance(volume, Turned) and way != volume.axle))
        if is_module or volume.keep is not None or any(s.drives == way for s in says):
            continue
        says = (*says, SizeExpression(drives=way, text=f"{_times(volume.size[axis] / module.size[0])} {name}"))
    return says


_LARGEST_DENOMINATOR = 2000


def _times(ratio: float) -> str:
    """Return a ratio as it is written: in four digits where these are exact, else as the fraction that it is."""
    if abs(float(f"{ratio:.4g}") - ratio) <= CLOSE * ratio:
        return f"{ratio:.4g}"
    part = Fraction(ratio).limit_denominator(_LARGEST_DENOMINATOR)
    return f"{part.numerator}/{part.denominator}" if abs(float(part) - ratio) <= CLOSE * ratio else f"{ratio:.12g}"


def _place(document: Document, parts: Parts) -> tuple[float, float]:
    own = build_scene(parts.volumes).vertices
    middle = (own.min(axis=0) + own.max(axis=0)) / 2
    if not document.volumes:
        return -float(middle[0]), -float(middle[1])
    there = scene_of(document.volumes).vertices
    far = float(np.ptp(own[:, 0]))
    return float(there[:, 0].max() - own[:, 0].min()) + _APART * far, float(there[:, 1].min() - own[:, 1].min())


def _moved(corner: tuple[float, float, float], by: tuple[float, float]) -> tuple[float, float, float]:
    return round(corner[0] + by[0], 4), round(corner[1] + by[1], 4), round(corner[2], 4)
