"""The values that pass between the desk and a tool."""

from __future__ import annotations

from collections.abc import Generator
from dataclasses import dataclass, field
from enum import Enum

import numpy as np

from isometron.document.edits import Edit
from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing

__all__ = ["Act", "Note", "Pencil", "Preview", "Tool", "ToolContext"]


class Act(Enum):
    """What the pencil did."""

    PRESS = "press"
    MOVE = "move"
    RELEASE = "release"
    TYPE = "type"
    ENTER = "enter"
    BACK = "back"


@dataclass(frozen=True)
class Pencil:
    """One act at a paper point (mm from the centre of vision); ``text`` is what has been typed so far.

    ``straight`` : the person asks for one direction only (Shift).
    """

    act: Act
    u: float
    v: float
    text: str = ""
    straight: bool = False


@dataclass(frozen=True)
class Note:
    """Words beside the pencil at a paper point."""

    text: str
    u: float
    v: float


@dataclass(frozen=True)
class Preview:
    """What a tool shows while it works: the prompt, live lines, guides to vanishing points, words at places.

    ``step`` counts the finished steps of a stroke that has begun; None before it has. ``edit`` is what the document
    would become if the stroke ended here; the desk shows it. ``takes_words`` : figures may be typed though nothing has begun.
    """

    prompt: str
    live: Floats = field(default_factory=lambda: np.zeros((0, 4)))
    guides: Floats = field(default_factory=lambda: np.zeros((0, 4)))
    notes: tuple[Note, ...] = ()
    refusal: str = ""
    step: int | None = None
    edit: Edit | None = None
    takes_words: bool = False


@dataclass(frozen=True)
class ToolContext:
    """What a tool may look at.

    grain : mm of paper that one step of the pointer covers; proportion : what pulling a face keeps, ``free``, ``ratio``
    (long : wide : high) or ``cube``; selected : ids of the selected volumes.
    """

    drawing: Drawing
    grain: float
    proportion: str = "free"
    selected: tuple[str, ...] = ()

    def per_step(self, place: Floats) -> float:
        """Return the mm of the object that one step of the pointer covers at a world place (3,)."""
        return self.grain / self.drawing.document.eye.scale_at(place)


Tool = Generator[Preview, Pencil, Edit | None]
"""A tool: primed with next(), sent pencil acts, showing previews, ending in one edit or None."""
