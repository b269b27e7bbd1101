"""Lines of a plain view carried straight on to a body: where their planes cut its surface, on both sides."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from itertools import pairwise

import msgspec
import numpy as np

from isometron.geometry.frames import Floats
from isometron.geometry.sections.pieces import Piece
from isometron.geometry.sections.planes import Cutting
from isometron.geometry.sections.regions import outline_of
from isometron.geometry.tolerances import CLOSE, HAIR
from isometron.volumes.sections.lines import SectionLines
from isometron.volumes.sections.solids import cutting_of, solids_of, standing
from isometron.volumes.volume import Volume

__all__ = ["carried_onto"]


def carried_onto(volume: Volume, runs: Sequence[Floats], across: Floats, *, around: bool = False) -> SectionLines:
    """Return where the strips of straight runs (2, 3), carried both ways along a direction (3,), meet the surface of a volume.

    Where the strip crosses a face along that direction, as at the body's ends, it is drawn only where the line goes all ``around``.
    """
    plain = msgspec.structs.replace(volume, copies=(), mirror=None, see_through=False, put_away=False)
    bodies = standing([plain], {})
    straight, rings, spans = [], [], []
    for run in runs:
        way = run[1] - run[0]
        normal = np.cross(way, across)
        if float(np.sqrt(normal @ normal)) <= CLOSE * float(np.sqrt(way @ way)):
            continue
        cutting = cutting_of(run[0], normal, [plain])
        outlined = outline_of(solids_of(bodies, cutting), partial(_reaches, cutting=cutting, start=run[0], way=way))
        for piece in outlined.pieces:
            for part in _between(piece, cutting, run[0], way):
                if part.sweep == 0.0:
                    ends = cutting.world(part.at(np.array([0.0, 1.0])))
                    if around or not _along(ends[1] - ends[0], across):
                        straight.append(ends)
                    continue
                centre = cutting.world(part.centre[None])[0]
                rings.append(np.concatenate([centre, cutting.way(part.first), cutting.way(part.second)]))
                spans.append((0.0, part.sweep / (2 * np.pi)))
    return SectionLines(
        np.array(straight).reshape(-1, 2, 3), np.zeros(len(straight), dtype=np.intp), np.array(rings).reshape(-1, 9),
        np.array(spans).reshape(-1, 2), np.zeros(len(rings), dtype=np.intp),
    )  # fmt: skip


def _along(way: Floats, across: Floats) -> bool:
    size = float(np.sqrt(way @ way))
    return size <= CLOSE or abs(float(way @ across)) >= (1.0 - HAIR) * size


def _reaches(piece: Piece, *, cutting: Cutting, start: Floats, way: Floats) -> bool:
    return bool(_between(piece, cutting, start, way))


def _between(piece: Piece, cutting: Cutting, start: Floats, way: Floats) -> list[Piece]:
    """Return the parts of a piece that lie from the start of a run to its end, measured along it."""
    axis = np.array([way @ cutting.x, way @ cutting.y]) / float(way @ way)
    off = float((cutting.origin - start) @ way) / float(way @ way)
    cuts = {0.0, 1.0}
    for level in (0.0, 1.0):
        if piece.sweep == 0.0:
            slope = float(piece.second @ axis)
            found = [] if abs(slope) <= 1e-15 else [(level - off - float(piece.first @ axis)) / slope]
        else:
            a, b, c = off + float(piece.centre @ axis) - level, float(piece.first @ axis), float(piece.second @ axis)
            size = float(np.hypot(b, c))
            found = []
            if size > abs(a):
                middle, half = float(np.arctan2(c, b)), float(np.arccos(-a / size))
                found = [((middle + sign * half) % (2 * np.pi)) / piece.sweep for sign in (-1.0, 1.0)]
        cuts |= {u for u in found if 0.0 < u < 1.0}
    ordered = sorted(cuts)
    kept = []
    for low, high in pairwise(ordered):
        at = off + float(piece.at(np.array([(low + high) / 2.0]))[0] @ axis)
        if -HAIR <= at <= 1.0 + HAIR and high - low > CLOSE:
            kept.append(piece.part(low, high))
    return kept
