"""Buildings of the night market and practice solids: a gabled hut, an arched row, a squared cube."""

from __future__ import annotations

from isometron.starters.parts import Parts
from isometron.volumes.arch import Arch
from isometron.volumes.box import Box
from isometron.volumes.cut.begin import counted_off
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.marks.face_marks import ArchMark, DivideMark
from isometron.volumes.relations import Keep, Repeat

__all__ = ["arched_row", "gabled_hut", "squared_cube"]


def gabled_hut(m: float) -> Parts:
    """A hut with a gabled roof that overhangs, and an arched door; the module is the width of its front.

    The roof rises as much as it goes in, and its underside lies on the walls' upper edges and on the gable.
    """
    parts = Parts()
    walls = Box(
        id="walls", name="Walls", corner=(0.0, 0.0, 0.0), size=(1.35 * m, m, 0.72 * m),
        marks=(ArchMark(face=0, at=(0.5, 0.0), wide=0.3 * m, high=0.56 * m, band=0.04 * m),
               DivideMark(face=2, across=(0.5,), border=0.2 * m, soft=False)),
    )  # fmt: skip
    parts.add(walls)
    points = ((0.0, 0.0), (1.0, 0.0), (6.0, 5.0), (11.0, 0.0), (12.0, 0.0), (6.0, 6.0))
    roof = CutBody(
        id="roof", name="Roof", corner=(-0.1 * m, -0.12 * m, 0.72 * m - m / 60), size=(1.55 * m, 1.24 * m, 0.62 * m),
        front=counted_off(12, 6, points),
    )  # fmt: skip
    parts.add(roof, "walls", long="walls.long + 0.2 walls.wide", wide="1.24 walls.wide")
    gable = CutBody(
        id="gable", name="Gable", corner=(0.0, 0.0, 0.72 * m), size=(1.35 * m, m, 0.5 * m),
        front=counted_off(2, 1, ((0.0, 0.0), (2.0, 0.0), (1.0, 1.0))),
    )  # fmt: skip
    parts.add(gable, "roof", long="walls.long", wide="walls.wide")
    return parts


def arched_row(m: float) -> Parts:
    """Five equal bays with arched openings and gaps between them; the module is a bay's width."""
    parts = Parts(ahead="y0")
    bay = Arch(
        id="bay", name="Bay", corner=(0.0, 0.0, 0.0), size=(m, 0.45 * m, 1.15 * m), through="wide",
        pier=0.13 * m, crown=0.2 * m, copies=(Repeat(along="long", count=5, pitch=1.2 * m),),
    )  # fmt: skip
    parts.add(bay, None, pitch="1.2 bay")
    return parts


def squared_cube(m: float) -> Parts:
    """A cube squared in thirds on all the faces that show; the module is its edge."""
    parts = Parts()
    third = (1 / 3, 2 / 3)
    marks = tuple(DivideMark(face=face, across=third, up=third, soft=False) for face in range(6))
    cube = Box(
        id="cube", name="Cube", corner=(0.0, 0.0, 0.0), size=(m, m, m), keep=Keep(parts=(1.0, 1.0, 1.0)), marks=marks
    )
    parts.add(cube)
    return parts
