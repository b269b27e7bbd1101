"""What of a drawing stands on the sheet: clipped to its edges, in mm from its lower left corner, y up."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from isometron.document.model import Document
from isometron.geometry.clipping import clip_rows
from isometron.geometry.frames import Bools
from isometron.geometry.tolerances import CLOSE
from isometron.solve.drawing import Drawing
from isometron.solve.layers.labels import lay_labels
from isometron.solve.marks import AIDS, NOBODY, Bag, Label, Lines, Marks, Role, Singles
from isometron.wording import tr

__all__ = ["CAUTION", "Page", "check_bar", "named_owners", "sheet_page", "with_check_bar"]

CAUTION = tr(
    "A drawing aid. Anything built to carry people must be checked by qualified engineers under local rules."
)
_BAR_LENGTHS = (100.0, 50.0, 20.0, 10.0)
_MARGIN = 8.0


@dataclass(frozen=True)
class Page:
    """Marks on a page of ``width`` x ``height`` mm, from its lower left corner; owners : id and name of each volume."""

    width: float
    height: float
    title: str
    marks: Marks
    owners: tuple[tuple[str, str], ...] = ()


def named_owners(document: Document) -> tuple[tuple[str, str], ...]:
    """Return id and name of each volume."""
    return tuple((volume.id, volume.name) for volume in document.volumes)


def sheet_page(drawing: Drawing, *, construction: bool = True) -> Page:
    """Return the marks on the sheet; without ``construction`` the aids and see-through volumes stay away."""
    document, sheet = drawing.document, drawing.document.sheet
    glass = np.append(drawing.scene.see_through, False)

    def wanted(bag: Bag) -> Bools:
        kept = bag.role != Role.CAUTION
        if not construction:
            aids = np.isin(bag.role, [int(role) for role in AIDS])
            kept &= ~(aids | ((bag.role == Role.HIDDEN) & glass[bag.owner]))
        found: Bools = kept
        return found

    marks = drawing.marks.where(wanted).placed(np.array(sheet.centre_of_vision))
    frame = (0.0, 0.0, sheet.width, sheet.height)
    lines = _on_page(marks.lines, frame)
    marks = replace(marks, lines=lines)
    labels = lay_labels(marks.labels.items, [marks], frame)
    return Page(
        sheet.width, sheet.height, document.title, replace(marks, labels=Singles(labels)), named_owners(document)
    )


def _on_page(lines: Lines, frame: tuple[float, float, float, float]) -> Lines:
    """Return what of the lines lies on the page."""
    points, rows = clip_rows(lines.points, *frame)
    return replace(lines.select(rows), points=points)


def _two_lines(text: str) -> list[str]:
    """Return a text in two lines of about the same length, whatever language it is in."""
    middle = len(text) // 2
    spaces = [k for k, letter in enumerate(text) if letter == " "]
    if not spaces:
        return [text]
    cut = min(spaces, key=lambda k: abs(k - middle))
    return [text[:cut], text[cut + 1 :]]


def check_bar(width: float, height: float) -> Marks:
    """Return a bar in the lower margin that must measure its length on paper, with the quiet caution beside it."""
    length = next((n for n in _BAR_LENGTHS if n <= width - 2 * _MARGIN), _BAR_LENGTHS[-1])
    x, y = _MARGIN, 6.0
    ticks = np.arange(0.0, length + CLOSE, 10.0)
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
    return Marks(lines=Lines.of(np.array(lines), Role.NOTE), labels=Singles(tuple(labels)))


def with_check_bar(page: Page) -> Page:
    """Return the page with the check bar and the caution in its margin."""
    return replace(page, marks=Marks.joined([page.marks, check_bar(page.width, page.height)]))
