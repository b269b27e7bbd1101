"""Edits that give volumes other shapes inside their bounding volumes: cut by a view, arched, framed."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from isometron.document.edits import Edit, with_volumes
from isometron.document.model import Document, DocumentError, checked
from isometron.document.shapes.renumbering import numbered_like
from isometron.volumes.arch import Arch
from isometron.volumes.box import Box
from isometron.volumes.cut.begin import corners_cut, counted_off, facing, leaning
from isometron.volumes.cut.profiles import VIEWS, CutBody, CutProfile, ViewName, view_size
from isometron.volumes.framed import Framed, Rail
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.volume import Volume
from isometron.wording import mark, tr

__all__ = ["SHAPES", "make_shape", "shared_fields"]

_SHARED = Volume.__struct_fields__


def shared_fields(volume: Volume) -> dict[str, object]:
    """Return the fields that every kind of volume has, as they are in ``volume``."""
    return {name: getattr(volume, name) for name in _SHARED}


def _cut(volume: Volume, **profiles: CutProfile) -> AnyVolume:
    """Return a volume cut by profiles that are drawn for a thing whose front is where its length starts, turned to its own front."""
    kept = {view: getattr(volume, view) for view in VIEWS} if isinstance(volume, CutBody) else {}
    cut = facing(volume.ahead, profiles)
    for view in VIEWS:
        if view in cut:  # sides that stay keep their numbers, and so their faces
            cut[view] = numbered_like(kept.get(view), cut[view], view_size(volume, view))
    return CutBody(**shared_fields(volume) | kept | cut)  # type: ignore[arg-type]


def _leaning(*lean: float) -> Callable[[Volume], AnyVolume]:
    return lambda v: _cut(v, side=leaning(*lean[:2]), front=leaning(*lean[2:]))


def _corners(how: str, view: ViewName) -> Callable[[Volume], AnyVolume]:
    def made(volume: Volume) -> AnyVolume:
        length = round(0.15 * min(view_size(volume, view)), 1)
        return _cut(volume, **{view: corners_cut((length,) * 4, round_=how == "round")})

    return made


def _counted(
    columns: int, rows: int, *points: tuple[float, float], view: ViewName = "side"
) -> Callable[[Volume], AnyVolume]:
    return lambda v: _cut(v, **{view: counted_off(columns, rows, points)})


def _arched(volume: Volume) -> AnyVolume:
    pier = round(0.12 * min(volume.size[0], volume.size[2]), 1)
    # An opening goes through the thinner way.
    through = "wide" if volume.size[1] <= volume.size[0] else "long"
    return Arch(**shared_fields(volume), through=through, pier=pier, crown=pier)  # type: ignore[arg-type]


def _framed(volume: Volume) -> AnyVolume:
    leg = round(0.09 * min(volume.size[:2]), 1)
    rail = Rail(at=0.3, high=leg, thick=round(0.7 * leg, 1))
    fields = shared_fields(volume) | {"leg": (leg, leg), "top": round(0.6 * leg, 1), "rails": (rail,)}
    return Framed(**fields)  # type: ignore[arg-type]


def _slab(volume: Volume) -> AnyVolume:
    long, wide, _ = volume.size
    return Box(**shared_fields(volume) | {"size": (long, wide, max(round(min(long, wide) / 12.0, 1), 0.1))})  # type: ignore[arg-type]


SHAPES: dict[str, Callable[[Volume], AnyVolume]] = {
    mark("cabin, sides leaning in"): _leaning(0.3, 0.16, 0.07, 0.07),
    mark("flared, wider above"): _leaning(-0.1, -0.1, -0.1, -0.1),
    mark("wedge"): _leaning(0.0, 1.0, 0.0, 0.0),
    mark("hipped roof"): _leaning(0.3, 0.3, 0.5, 0.5),
    mark("gable with overhang"): _counted(
        12, 8, (1, 0), (11, 0), (11, 3), (12, 2.2), (6, 8), (0, 2.2), (1, 3), view="front"
    ),
    mark("chamfered in plan"): _corners("chamfer", "plan"),
    mark("chamfered in side view"): _corners("chamfer", "side"),
    mark("rounded in plan"): _corners("round", "plan"),
    mark("rounded in side view"): _corners("round", "side"),
    mark("notched block"): _counted(4, 4, (0, 0), (4, 0), (4, 4), (3, 4), (3, 2), (1, 2), (1, 4), (0, 4)),
    mark("steps"): _counted(3, 3, (0, 0), (3, 0), (3, 3), (2, 3), (2, 2), (1, 2), (1, 1), (0, 1)),
    mark("L shape"): _counted(4, 4, (0, 0), (4, 0), (4, 2), (2, 2), (2, 4), (0, 4), view="plan"),
    mark("triangle"): _counted(2, 2, (0, 0), (2, 0), (1, 2)),
    mark("arch through it"): _arched,
    mark("frame: legs, rails, top"): _framed,
    mark("slab"): _slab,
    mark("box again"): lambda v: Box(**shared_fields(v)),  # type: ignore[arg-type]
}
"""Shapes inside a bounding volume, by name; a new one is one line here."""


def make_shape(document: Document, ids: Iterable[str], name: str) -> Edit:
    """Give volumes a named shape inside their bounding volumes; raises `DocumentError` for a name that is none."""
    if name not in SHAPES:
        raise DocumentError(
            tr("There is no shape called {name!r}. Known: {known}.", name=name, known=", ".join(SHAPES))
        )
    wanted = set(ids)
    if not any(volume.id in wanted for volume in document.volumes):
        raise DocumentError(tr("Select a volume first."))
    volumes = tuple(
        checked(SHAPES[name](volume), f"volume {volume.name!r}") if volume.id in wanted else volume
        for volume in document.volumes
    )
    words = tr(_DONE[name]) if name in _DONE else tr("make a {shape}", shape=tr(name))
    return Edit(words, with_volumes(document, volumes))


_DONE = {
    "cabin, sides leaning in": mark("lean the sides in"),
    "flared, wider above": mark("flare"),
    "chamfered in plan": mark("chamfer in plan"),
    "chamfered in side view": mark("chamfer in side view"),
    "rounded in plan": mark("round in plan"),
    "rounded in side view": mark("round in side view"),
    "steps": mark("make steps"),
    "L shape": mark("make an L shape"),
    "arch through it": mark("let an arch through"),
    "frame: legs, rails, top": mark("make a frame"),
    "box again": mark("back to a box"),
}
"""What giving a shape is called in the history, where that is not to make one."""
