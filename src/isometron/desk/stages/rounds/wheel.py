"""What a wheel, a ball or any round has beside its profile: diameter, tyre width, steering, lean, square, sections."""

from __future__ import annotations

from functools import partial

import numpy as np

from isometron.desk.controls.field_rows import AXIS_CHOICES, FieldRows, Row
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.edits import change_volume
from isometron.document.model import Document
from isometron.document.shapes.rounding import change_round, make_oblong
from isometron.volumes.box import box_corners
from isometron.volumes.turned import PROFILES, Turned
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import tr

__all__ = ["Wheel"]


class Wheel(Section):
    """What a wheel, a ball or any round has beside its profile: diameter, tyre width, steering, lean, square, sections."""

    tool_names = ("by_ring",)

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Wheel, ball"), tr("Diameter, tyre width, steering, lean, square, sections"))
        self._hint = self.words()
        self.rows = FieldRows(session)
        self.column.addWidget(self.rows)

    def refresh(self) -> None:
        """Show the numbers of the selected round."""
        row = self.session.active
        volume = None if row is None else self.session.document.volumes[row]
        round_ = volume if isinstance(volume, Turned) else None
        self._hint.setText(tr("Select a round volume.") if round_ is None else round_.name)
        if round_ is None:
            self.rows.show_rows(None, [])
        else:
            self.rows.show_rows((round_.id, round_.profile == PROFILES["ball"]), _rows(round_))


def _rows(volume: Turned) -> list[Row]:
    k = DIRECTIONS.index(volume.axle)

    def write(name: str, document: Document, value):
        return change_round(document, volume.id, tr("change"), **{name: value})

    def wide(document: Document, diameter: float):
        """Its middle stays where it stands: over the same place, on the same ground."""
        size = [volume.size[k] if axis == k else diameter for axis in range(3)]
        return _resized(document, volume, size)

    def deep(document: Document, width: float):
        size = list(volume.size)
        size[k] = width
        return _resized(document, volume, size)

    rows = [
        Row(tr("diameter"), tr("Its foot and its middle stay where they are"), "length", lambda: volume.size[(k + 1) % 3], wide),
        Row(tr("oblong"), tr("The other width, where the sections are meant to be ellipses; the diameter makes it round again"),
            "length", lambda: volume.size[(k + 2) % 3], lambda document, width: make_oblong(document, volume.id, width)),
        Row(tr("along the axle"), tr("Tyre width, or height of an upright body"), "length", lambda: volume.size[k], deep),
        Row(tr("steer"), tr("Turned about the upright through its middle"), "angle", lambda: volume.steer_deg,
            partial(write, "steer_deg")),
        Row(tr("lean"), tr("Its top leant over, about its way of travel"), "angle", lambda: volume.lean_deg,
            partial(write, "lean_deg")),
        Row(tr("square round its ends"), tr("The squares that stand round the rings on its ends"), "switch",
            lambda: volume.squared, partial(write, "squared")),
    ]  # fmt: skip
    if volume.profile == PROFILES["ball"]:
        rows += [
            Row(tr("sections"), tr("Ellipses round the ball, evenly spaced"), "count", lambda: volume.sections,
                partial(write, "sections"), most=24),
            Row(tr("about"), tr("The direction the sections lie square to"), "choice", lambda: volume.sections_about,
                partial(write, "sections_about"), AXIS_CHOICES),
        ]  # fmt: skip
    return rows


def _resized(document: Document, volume: Turned, size: list[float]):
    """Change sizes about the middle, but keep the foot on its ground."""
    corners, rotations = box_corners([volume])
    change = (np.array(volume.size) - np.array(size)) / 2
    shift = rotations[0] @ change
    if volume.upright:
        shift[2] = 0.0
    x, y, z = np.round(corners[0, 0] + shift, 6)
    return change_volume(document, volume.id, tr("resize"), size=tuple(size), corner=(float(x), float(y), float(z)))
