"""The drawing: what the document looks like on paper, with everything measured on the way."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from isometron.document.model import Document
from isometron.geometry.frames import Floats
from isometron.solve.aids import aid_arcs, aid_labels, aid_lines
from isometron.solve.findings import Finding, findings, missed_targets
from isometron.solve.marks import Arcs, Label, Lines
from isometron.solve.measures import EdgeMeasure, edge_measures
from isometron.solve.picture import Picture, edge_marks
from isometron.solve.rounds import RoundMarks, round_marks
from isometron.volumes.building import scene_of
from isometron.volumes.scene import Scene

__all__ = ["Drawing", "solve", "volume_marks"]

_REACH = 30.0
"""Marks run to this many sheet diagonals round the centre of vision: far past any table the sheet lies on."""


@dataclass(frozen=True)
class Drawing:
    """A solved document. Marks are there at once; what is only sometimes looked at is worked out when asked for.

    edges : visible and hidden parts of all edges; rounds : the same of rings and outlines.
    """

    document: Document
    picture: Picture
    edges: Lines
    rounds: RoundMarks

    def knowing(self, **values: Any) -> Drawing:
        """Return this drawing with values that need not be worked out any more."""
        vars(self).update(values)
        return self

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

    @cached_property
    def boxes(self) -> Floats:
        """Least u, v and greatest u, v (N, 4) of all that each volume draws or hides, mm; infinite behind the eye."""
        return self.picture.boxes

    def measures(self, owner: int) -> list[EdgeMeasure]:
        """Return the measures of one volume's edges."""
        return edge_measures(self.document, self.picture, owner)


def reach_of(document: Document) -> float:
    """Return how far from the centre of vision marks are carried, mm."""
    x, y = document.sheet.centre_of_vision
    return _REACH * document.sheet.diagonal + abs(x) + abs(y)


def solve(document: Document) -> Drawing:
    """Return the drawing of ``document``."""
    picture = Picture(document.eye, lambda: scene_of(document.volumes))
    return Drawing(document, picture, *volume_marks(document, picture))


def volume_marks(document: Document, picture: Picture) -> tuple[Lines, RoundMarks]:
    """Return the marks of all volumes of a picture, drawn as the document wants it."""
    reach, hidden = reach_of(document), document.show.hidden == "dashed"
    scene = picture.scene
    if len(scene.rounds) == 0 or len(scene.edges) < _MANY:
        return edge_marks(picture, reach, hidden=hidden), round_marks(picture, reach, hidden=hidden)
    wait = picture.hidden_meanwhile()
    rounds = round_marks(picture, reach, hidden=hidden)
    wait()
    return edge_marks(picture, reach, hidden=hidden), rounds


_MANY = 2000
"""Edges that are worth a thread of their own while the rounds are looked at; the loops do not hold the interpreter."""
