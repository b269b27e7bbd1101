"""Eye height, distance, turn, tilt, viewing distance and horizon, each a field; presets beside them."""

from __future__ import annotations

from collections.abc import Callable

from isometron.desk.controls.fields import AngleField, LengthField, PaperField, ValueField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.desk.stages.eye.units import PAPER_RANGE, on_paper
from isometron.document.eyes.eye_edits import (
    away_from,
    move_horizon,
    raise_eye,
    set_viewing_distance,
    step_to,
    tilt_view,
    turn_object,
    turn_of,
)
from isometron.document.eyes.eye_wishes import (
    HORIZONS,
    STANDS,
    bird,
    horizon_preset,
    worm,
)
from isometron.document.lengths.units import format_length, format_paper
from isometron.document.model import Document
from isometron.view.placing import horizon_on_sheet
from isometron.volumes.building import scene_of
from isometron.wording import mark, tr

__all__ = ["ByNumbers"]


_HORIZON_WORDS = (mark("middle"), mark("upper third"), mark("lower third"))


_STAND_WORDS = (mark("standing"), mark("sitting"), mark("child"), mark("bird"), mark("worm"))


class ByNumbers(Section):
    """Eye height, distance, turn, tilt, viewing distance and horizon, each a field; presets beside them."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Height and turn"), tr("The eye in real units"))
        paper = on_paper(session)
        self._fields: list[tuple[ValueField, Callable[[Document], float]]] = []
        grid = self.grid()

        def add(
            words: str, field: ValueField, edit: Callable, value_of: Callable[[Document], float], tip: str
        ) -> None:
            self.field(grid, words, field, tip, lambda value: session.attempt(edit, value))
            self._fields.append((field, value_of))

        add(tr("eye height"), LengthField(tr("Eye height"), lambda: session.document), raise_eye, lambda d: d.eye.position[2],
            tr("The eye's height above the ground"))  # fmt: skip
        add(tr("away"), LengthField(tr("Away"), lambda: session.document, (10.0, 1e7)), step_to, away_from,
            tr("Distance in plan between the eye and the object's middle"))  # fmt: skip
        add(tr("turn"), AngleField(tr("Turn of the object")), turn_object, turn_of,
            tr("Angle between the object's long side and the paper; 0° is one-point"))  # fmt: skip
        add(tr("tilt"), AngleField(tr("Tilt of the view"), (-89.0, 89.0)), tilt_view, lambda d: d.eye.pitch_deg,
            tr("Looking up is positive; any tilt makes the third vanishing point"))  # fmt: skip
        add(tr("viewing distance"), PaperField(tr("Viewing distance"), paper, (1.0, 1e6)), set_viewing_distance,
            lambda d: d.eye.viewing_distance, tr("Distance between eye and paper: the picture's size, not its shape"))  # fmt: skip
        add(tr("horizon at"), PaperField(tr("Horizon on the sheet"), paper, PAPER_RANGE), move_horizon,
            lambda d: horizon_on_sheet(d.eye, d.sheet), tr("Height of the horizon above the sheet's lower edge"))  # fmt: skip
        self.stands = self.menu(tr("As high as …"), tr("Set the eye's height by who looks, or by a volume"))
        self.stands.aboutToShow.connect(self._fill_stands)
        self.levels = self.menu(tr("Horizon at the …"), tr("Where the horizon lies on the sheet; the eye stays"))
        for words, part in zip(_HORIZON_WORDS, HORIZONS.values(), strict=True):
            self.levels.addAction(tr(words), lambda p=part: session.attempt(horizon_preset, p))
        self._scale = self.words()

    def _fill_stands(self) -> None:
        self.stands.clear()
        session, unit = self.session, self.session.document.unit
        for words, height in zip(_STAND_WORDS, STANDS.values(), strict=True):
            text = f"{tr(words)}, {format_length(height, unit)}"
            self.stands.addAction(text, lambda h=height: session.attempt(raise_eye, h))
        self.stands.addSeparator()
        scene = scene_of(session.document.volumes)
        for row, volume in enumerate(session.document.volumes[:20]):
            top = round(float(scene.corners_of(row)[:, 2].max()), 3)
            self.stands.addAction(
                tr("the top of {volume}, {height}", volume=volume.name, height=format_length(top, unit)),
                lambda h=top: session.attempt(raise_eye, h),
            )
        self.stands.addSeparator()
        self.stands.addAction(tr("bird's eye view, tilted"), lambda: session.attempt(bird))
        self.stands.addAction(tr("worm's eye view, tilted"), lambda: session.attempt(worm))

    def refresh(self) -> None:
        """Show the eye in numbers."""
        document = self.session.document
        for field, value_of in self._fields:
            field.show_value(value_of(document))
        scale = document.eye.lens.scale(max(away_from(document), 1.0))
        metre = format_paper(1000.0 * scale, document.unit)
        self._scale.setText(tr("At the object's middle 1 m is drawn {metre}.", metre=metre))
