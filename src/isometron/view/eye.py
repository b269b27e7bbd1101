"""The eye: where it stands, where it looks, and how far in front of it the picture plane is.

World in millimetres of the object (x right, y away, z up); paper in millimetres with u right, v up and the
origin at the centre of vision. See docs/file-format.md for a worked example of the signs.
"""

from __future__ import annotations

from functools import cached_property
from math import radians, tan
from typing import Annotated

import msgspec
import numpy as np
from msgspec import Meta
from numpy.typing import ArrayLike

from isometron.geometry.frames import Floats, camera_axes
from isometron.geometry.piece_loops import camera_points
from isometron.view.lens import Rectilinear

__all__ = ["Angle", "Eye", "Millimetres", "Point"]

Millimetres = Annotated[float, Meta(ge=-1e7, le=1e7, description="mm, within 10 km of the origin")]
Point = tuple[Millimetres, Millimetres, Millimetres]
Angle = Annotated[float, Meta(ge=-360.0, le=360.0, description="degrees")]


class Eye(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, dict=True):
    """An eye in front of a picture plane.

    Args:
        position: x, y, z in mm of the object.
        yaw_deg, pitch_deg, roll_deg: see `isometron.geometry.frames.camera_axes`.
        viewing_distance: eye to picture plane, mm of paper.
        cone_deg: full angle of the cone of vision.
    """

    position: Point
    yaw_deg: Angle = 0.0
    pitch_deg: Annotated[float, Meta(ge=-90.0, le=90.0, description="degrees, up is positive")] = 0.0
    roll_deg: Angle = 0.0
    viewing_distance: Annotated[float, Meta(ge=1.0, le=1e6, description="mm of paper")]
    cone_deg: Annotated[float, Meta(ge=5.0, le=170.0, description="degrees, full angle")] = 60.0

    @cached_property
    def axes(self) -> Floats:
        """Rows right, up, look, (3, 3)."""
        return camera_axes(radians(self.yaw_deg), radians(self.pitch_deg), radians(self.roll_deg))

    @cached_property
    def place(self) -> Floats:
        """The position as an array (3,)."""
        return np.array(self.position, dtype=np.float64)

    @cached_property
    def lens(self) -> Rectilinear:
        """How what the eye sees becomes a picture."""
        return Rectilinear(self.viewing_distance)

    @property
    def cone_radius(self) -> float:
        """Radius on paper of the cone of vision, f tan(g / 2), mm."""
        return self.viewing_distance * tan(radians(self.cone_deg) / 2)

    def to_camera(self, points: ArrayLike) -> Floats:
        """Return camera coordinates Xc, Yc, Zc (N, 3) of world points (N, 3); Zc is the depth."""
        points = np.ascontiguousarray(points, dtype=np.float64).reshape(-1, 3)
        camera: Floats = camera_points(points, self.place, self.axes)
        return camera

    def project(self, points: ArrayLike) -> tuple[Floats, Floats]:
        """Return paper points (N, 2) and depths (N,) of world points (N, 3).

        u = f Xc / Zc, v = f Yc / Zc. What lies at Zc <= 0 has no picture: its row is NaN.
        """
        camera = self.to_camera(points)
        return self.picture(camera), camera[:, 2]

    def picture(self, camera: Floats) -> Floats:
        """Return paper points (N, 2) of camera points (N, 3); NaN where the depth is not positive."""
        return self.lens.to_paper(camera)

    def ray(self, u: float, v: float) -> Floats:
        """Return the world direction (3,), not normalised, of the sight line through the paper point."""
        direction: Floats = self.lens.ray(u, v) @ self.axes
        return direction

    def scale_at(self, place: ArrayLike) -> float:
        """Return mm of paper per mm of what is parallel to the picture at a world place (3,); at 1 mm of depth at least."""
        return self.lens.scale(max(float(self.to_camera(place)[0, 2]), 1.0))
