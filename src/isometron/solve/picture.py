"""A scene as an eye sees it: projected, and what hides in it; lines are clipped at the eye plane and split into parts."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from isometron.geometry.bodies import inside
from isometron.geometry.frames import Bools, Floats, Ints
from isometron.geometry.hiding import Hiders, Parts
from isometron.second_thread import second_thread
from isometron.view.eye import Eye
from isometron.volumes.scene import Scene

__all__ = ["Picture", "hiders_of", "ruled"]


_MANY = 2000
"""Edges that are worth a thread of their own while rounds are looked at; the loops do not hold the interpreter."""


@dataclass(frozen=True)
class Picture:
    """A scene seen by an eye; all of it, and what ``build`` makes, is worked out when asked for. No volume at all works."""

    eye: Eye
    build: Callable[[], Scene]

    @cached_property
    def scene(self) -> Scene:
        """The volumes as arrays."""
        return self.build()

    @cached_property
    def camera(self) -> Floats:
        """Camera coordinates (V, 3) of the vertices, mm."""
        return self.eye.to_camera(self.scene.vertices)

    @cached_property
    def paper(self) -> Floats:
        """Paper points (V, 2), mm, NaN behind the eye."""
        return self.eye.picture(self.camera)

    @cached_property
    def hiders(self) -> Hiders:
        """All that hides."""
        return hiders_of(self.eye, self.scene)

    @cached_property
    def hidden(self) -> Parts:
        """The parts of edges that solid volumes hide (and, for see-through ones, their own body), with t along the true edge."""
        begun: Future[Parts] | None = vars(self).get("_begun")
        return self.hiders.hidden(self.scene.edge_curves) if begun is None else begun.result()

    def begin(self) -> None:
        """Let a second thread work out `hidden` where that takes long and something else is to be done meanwhile.

        Only the loops go over, which do not hold the interpreter: else the two would wait for each other.
        """
        scene = self.scene
        if len(scene.rounds) and len(scene.edges) >= _MANY:
            vars(self)["_begun"] = second_thread().submit(self.hiders.twin().hidden, scene.edge_curves)

    @cached_property
    def boxes(self) -> Floats:
        """Least u, v and greatest u, v (N, 4) of all that each volume draws or hides, mm.

        Infinite where it reaches the eye plane; a volume behind the eye has none, see `set_bounds`.
        """
        scene, rounds, eye = self.scene, self.scene.rounds, self.eye
        first = np.append(scene.first_vertex, len(scene.vertices))
        bounds = eye.lens.bounds_of_sets(scene.vertices, first, eye.place, eye.axes)
        if not len(rounds):
            return bounds
        parts = [
            (rounds.frusta.hulls, rounds.frusta.owner),
            (rounds.ring_curves.bounds, rounds.ring_owner),
            (rounds.strokes, rounds.stroke_owner),
            (rounds.curves.reshape(-1, 4, 3), rounds.curve_owner),
        ]
        for places, owner in parts:
            own = eye.lens.bounds(places, eye.place, eye.axes)
            np.minimum.at(bounds[:, :2], owner, own[:, :2])
            np.maximum.at(bounds[:, 2:], owner, own[:, 2:])
        return bounds

    @cached_property
    def eye_inside(self) -> Bools:
        """Bodies (B,) that contain the eye."""
        bodies, around = self.scene.bodies, self.hiders.around
        contains = np.zeros(len(bodies), dtype=bool)
        contains[around] = inside(bodies.select(around), self.eye.place)
        return contains


def hiders_of(eye: Eye, scene: Scene) -> Hiders:
    """Return all that hides in a scene. A turned body is hidden behind by its round pieces, not by its bounding box."""
    unit, rounds = scene.unit_owner, scene.unit_rounds
    frusta, own_least, spun = rounds.frusta, rounds.own_least, rounds.spun
    return Hiders(
        eye.place, eye.axes, eye.viewing_distance, scene.bodies, scene.body_units,
        frusta, scene.faces, scene.face_units, scene.solid[unit], scene.turned[unit], own_least, spun, scene.only_hides[unit],
    )  # fmt: skip


_NOWHERE: Parts = np.zeros(0, dtype=np.intp), np.zeros(0), np.zeros(0)


def ruled(
    eye: Eye,
    ends: Floats,
    reach: float,
    hidden: Parts = _NOWHERE,
    spans: Parts | None = None,
    *,
    with_hidden: bool = False,
) -> tuple[Floats, Ints, Bools]:
    """Return what is drawn of lines ``ends`` (N, 2, 3): points (M, 4) mm, the lines (M,), and whether hidden (M,).

    hidden : the parts that are hidden; they are left out, or told apart ``with_hidden``. spans : what is drawn at all.
    """
    count = len(ends)
    whole = (np.arange(count), np.zeros(count), np.ones(count)) if spans is None else spans
    rows = np.arange(2 * count).reshape(count, 2)
    return eye.lens.lines(eye.to_camera(ends), rows, reach, hidden, whole, np.full(count, with_hidden))
