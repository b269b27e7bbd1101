"""The drawing: what the document looks like on paper, with everything measured on the way."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from isometron.document.model import Document
from isometron.geometry.frames import Floats
from isometron.solve.aids import aid_arcs, aid_labels, aid_lines
from isometron.solve.findings import Finding, findings, missed_targets
from isometron.solve.marks import Arcs, Label, Lines
from isometron.solve.measures import EdgeMeasure, edge_measures
from isometron.solve.picture import Picture, edge_marks, take_picture
from isometron.solve.rounds import RoundMarks, round_marks
from isometron.volumes.scene import Scene, scene_of

__all__ = ["Drawing", "solve"]

_REACH = 30.0
"""Marks run to this many sheet diagonals round the centre of vision: far past any table the sheet lies on."""


@dataclass(frozen=True)
class Drawing:
    """A solved document. Marks are there at once; what is only sometimes looked at is worked out when asked for.

    edges : visible and hidden parts of all edges; rounds : the same of rings and outlines; aids : horizon and guides (empty when construction is off).
    """

    document: Document
    picture: Picture
    edges: Lines
    rounds: RoundMarks

    @property
    def scene(self) -> Scene:
        """The volumes as arrays."""
        return self.picture.scene

    @cached_property
    def aids(self) -> Lines:
        """Horizon and guides; empty when the document leaves construction lines out."""
        if not self.document.show.construction:
            return Lines.joined([])
        return aid_lines(self.document, self.picture, reach_of(self.document))

    @cached_property
    def arcs(self) -> Arcs:
        """The cone of vision."""
        return aid_arcs(self.picture)

    @cached_property
    def labels(self) -> list[Label]:
        """Lettering on the sheet."""
        return aid_labels(self.document, self.picture)

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """What is worth a warning, with place and figure."""
        return tuple(findings(self.document, self.picture))

    @cached_property
    def missed(self) -> list[tuple[float, float, str]]:
        """Targets that are missed, with their place on paper."""
        return missed_targets(self.document, self.picture)

    def paper_box(self, owner: int) -> Floats:
        """Return least u, v and greatest u, v of all that one volume draws or hides, mm; infinite behind the eye."""
        boxes = [self.picture.hiders.boxes_of(owner)]
        for lines in (self.edges, self.rounds.lines):
            own = lines.points[lines.owner == owner]
            boxes += [np.hstack([np.minimum(own[:, :2], own[:, 2:]), np.maximum(own[:, :2], own[:, 2:])])]
        arcs = self.rounds.arcs
        own = arcs.shape[arcs.owner == owner]
        boxes.append(np.hstack([own[:, :2] - own[:, 2:3], own[:, :2] + own[:, 2:3]]))
        all_ = np.concatenate(boxes)
        if len(all_) == 0:
            return np.zeros(4)
        return np.concatenate([all_[:, :2].min(axis=0), all_[:, 2:].max(axis=0)])

    def measures(self, owner: int) -> list[EdgeMeasure]:
        """Return the measures of one volume's edges."""
        return edge_measures(self.document, self.picture, owner)


def reach_of(document: Document) -> float:
    """Return how far from the centre of vision marks are carried, mm."""
    x, y = document.sheet.centre_of_vision
    return _REACH * document.sheet.diagonal + abs(x) + abs(y)


def solve(document: Document) -> Drawing:
    """Return the drawing of ``document``."""
    picture = take_picture(document.eye, scene_of(document.volumes))
    lines = edge_marks(picture, reach_of(document), hidden=document.show.hidden == "dashed")
    rounds = round_marks(picture, reach_of(document), hidden=document.show.hidden == "dashed")
    return Drawing(document, picture, lines, rounds)
