"""What of a drawing stands on the sheet: clipped to its edges, in mm from its lower left corner, y up."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from isometron.geometry.clipping import clip_to_rectangle
from isometron.geometry.frames import Floats
from isometron.solve.drawing import Drawing
from isometron.solve.marks import AIDS, NOBODY, Label, Lines, Role
from isometron.wording import tr

__all__ = ["CAUTION", "SheetMarks", "SheetNote", "check_bar", "groups", "sheet_marks"]

CAUTION = tr(
    "A drawing aid. Anything built to carry people must be checked by qualified engineers under local rules."
)
_BAR_LENGTHS = (100.0, 50.0, 20.0, 10.0)
_MARGIN = 8.0


@dataclass(frozen=True)
class SheetMarks:
    """Lines and arcs in sheet millimetres, grouped by role and owner in painting order, and the lettering."""

    width: float
    height: float
    title: str
    lines: tuple[tuple[Role, int, Floats], ...]
    arcs: tuple[tuple[Role, int, Floats], ...]
    labels: tuple[Label, ...]


@dataclass(frozen=True)
class SheetNote:
    """The check bar: its lines (N, 4), its lettering, and its length in mm."""

    lines: Floats
    labels: tuple[Label, ...]
    length: float


def sheet_marks(drawing: Drawing, *, construction: bool = True) -> SheetMarks:
    """Return the marks on the sheet; without ``construction`` the aids and see-through volumes stay away."""
    sheet = drawing.document.sheet
    shift = np.array(sheet.centre_of_vision)
    everything = Lines.joined([drawing.aids, drawing.edges, drawing.rounds.lines])
    parts = []
    for role, owner, rows in groups(everything):
        if role in AIDS and not construction:
            continue
        if role is Role.HIDDEN and not construction and drawing.scene.see_through[owner]:
            continue
        points = clip_to_rectangle(everything.points[rows] + np.tile(shift, 2), 0.0, 0.0, sheet.width, sheet.height)
        if len(points):
            parts.append((role, owner, points))
    arcs = []
    if construction and drawing.document.show.construction:
        for role, shape in zip(drawing.arcs.role, drawing.arcs.shape, strict=True):
            arcs.append((Role(role), NOBODY, np.concatenate((shape[:2] + shift, shape[2:]))))
    rounds = drawing.rounds.arcs
    for role, owner, shape in zip(rounds.role, rounds.owner, rounds.shape, strict=True):
        if construction or not (Role(role) in AIDS or (role == Role.HIDDEN and drawing.scene.see_through[owner])):
            arcs.append((Role(role), int(owner), np.concatenate((shape[:2] + shift, shape[2:]))))
    labels = tuple(
        replace(label, u=label.u + shift[0], v=label.v + shift[1])
        for label in drawing.labels
        if construction or label.role not in AIDS
    )
    return SheetMarks(sheet.width, sheet.height, drawing.document.title, tuple(parts), tuple(arcs), labels)


def groups(lines: Lines) -> Iterator[tuple[Role, int, np.ndarray]]:
    """Yield (role, owner, rows) in painting order; rows keep their order."""
    if len(lines) == 0:
        return
    order = np.lexsort((lines.owner, lines.role))
    role, owner = lines.role[order], lines.owner[order]
    cuts = np.flatnonzero((role[1:] != role[:-1]) | (owner[1:] != owner[:-1])) + 1
    for rows in np.split(order, cuts):
        yield Role(int(lines.role[rows[0]])), int(lines.owner[rows[0]]), rows


def _two_lines(text: str) -> list[str]:
    """Return a text in two lines of about the same length, whatever language it is in."""
    middle = len(text) // 2
    spaces = [k for k, letter in enumerate(text) if letter == " "]
    if not spaces:
        return [text]
    cut = min(spaces, key=lambda k: abs(k - middle))
    return [text[:cut], text[cut + 1 :]]


def check_bar(width: float, height: float) -> SheetNote:
    """Return a bar in the lower margin that must measure its length on paper, with the quiet caution beside it."""
    length = next((n for n in _BAR_LENGTHS if n <= width - 2 * _MARGIN), _BAR_LENGTHS[-1])
    x, y = _MARGIN, 6.0
    ticks = np.arange(0.0, length + 1e-9, 10.0)
    high = np.where(ticks % 50.0 == 0.0, 2.2, 1.2)
    lines = [[x, y, x + length, y], *([x + t, y, x + t, y + h] for t, h in zip(ticks, high, strict=True))]
    labels = [Label(tr("{length:g} mm at true scale", length=length), x, y - 3.6, Role.LETTERING, NOBODY, size=2.4)]
    if width >= 250.0:
        labels.append(Label(CAUTION, width - _MARGIN, y - 3.6, Role.LETTERING, NOBODY, anchor=1, size=2.1))
    elif width >= 140.0:
        for row, text in enumerate(_two_lines(CAUTION)):
            labels.append(
                Label(text, width - _MARGIN, height - 5.0 - 3.0 * row, Role.LETTERING, NOBODY, anchor=1, size=2.0)
            )
    return SheetNote(np.array(lines), tuple(labels), length)
