"""Sections of the Eye stage that set the eye by something known: numbers, points, slopes, what shows, the sheet filled."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox

from isometron.desk.controls.fields import AngleField, LengthField, PercentField, ValueField
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.edits import Edit
from isometron.document.eye_edits import (
    away_from,
    move_horizon,
    raise_eye,
    set_viewing_distance,
    step_to,
    tilt_view,
    turn_object,
    turn_of,
)
from isometron.document.eye_setting import (
    Slopes,
    by_slopes,
    by_three_points,
    by_two_points,
    no_eye_words,
    points_on_sheet,
    read_slopes,
    view_words,
)
from isometron.document.eye_wishes import (
    HORIZONS,
    STANDS,
    Showing,
    bird,
    fit_sheet_part,
    horizon_preset,
    showing,
    wished_view,
    worm,
)
from isometron.document.model import Document
from isometron.document.units import UnitName, format_length, format_paper, paper_unit
from isometron.view.placing import horizon_on_sheet
from isometron.view.recover import NoEye, ThreePointView, TwoPointView, eye_from_three, eye_from_two
from isometron.volumes.building import scene_of
from isometron.wording import mark, tr

__all__ = ["ByFit", "ByNumbers", "ByPoints", "BySlopes", "ByView"]

_HORIZON_WORDS = (mark("middle"), mark("upper third"), mark("lower third"))
_STAND_WORDS = (mark("standing"), mark("sitting"), mark("child"), mark("bird"), mark("worm"))
_PARTS = ((mark("the whole"), 1.0), (mark("three quarters"), 0.75), (mark("half"), 0.5))
_PAPER = (-9e4, 9e4)


def _units(session: Session) -> tuple[Callable[[], UnitName], Callable[[], UnitName]]:
    """Return what gives the unit of the object and the unit of paper."""
    return lambda: session.document.unit, lambda: paper_unit(session.document.unit)


class ByNumbers(Section):
    """Eye height, distance, turn, tilt, viewing distance and horizon, each a field; presets beside them."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Height, distance, turn"), tr("The eye in real units"))
        unit, paper = _units(session)
        self._fields: list[tuple[ValueField, Callable[[Document], float]]] = []
        grid = self.grid()

        def add(
            words: str, field: ValueField, edit: Callable, value_of: Callable[[Document], float], tip: str
        ) -> None:
            self.field(grid, words, field, tip, lambda value: session.attempt(edit, value))
            self._fields.append((field, value_of))

        add(tr("eye height"), LengthField(tr("Eye height"), unit), raise_eye, lambda d: d.eye.position[2],
            tr("The eye's height above the ground"))  # fmt: skip
        add(tr("away"), LengthField(tr("Away"), unit, (10.0, 1e7)), step_to, away_from,
            tr("Distance in plan between the eye and the object's middle"))  # fmt: skip
        add(tr("turn"), AngleField(tr("Turn of the object")), turn_object, turn_of,
            tr("Angle between the object's long side and the paper; 0° is one-point"))  # fmt: skip
        add(tr("tilt"), AngleField(tr("Tilt of the view"), (-89.0, 89.0)), tilt_view, lambda d: d.eye.pitch_deg,
            tr("Looking up is positive; any tilt makes the third vanishing point"))  # fmt: skip
        add(tr("viewing distance"), LengthField(tr("Viewing distance"), paper, (1.0, 1e6)), set_viewing_distance,
            lambda d: d.eye.viewing_distance, tr("Distance between eye and paper: the picture's size, not its shape"))  # fmt: skip
        add(tr("horizon at"), LengthField(tr("Horizon on the sheet"), paper, _PAPER), move_horizon,
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


class ByPoints(Section):
    """Two or three vanishing points placed on the sheet, and what they mean."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Vanishing points"), tr("Place them; the eye follows"))
        _, paper = _units(session)
        self._hint = self.words()
        grid = self.grid()
        tip = tr("From the sheet's left edge along the horizon; a point left of the sheet is negative")
        self._left = self.field(
            grid, tr("left"), LengthField(tr("Left vanishing point"), paper, _PAPER), tip, self._take
        )
        self._right = self.field(
            grid, tr("right"), LengthField(tr("Right vanishing point"), paper, _PAPER), tip, self._take
        )
        self._centre = self.field(
            grid, tr("centre"), LengthField(tr("Centre of vision"), paper, _PAPER),
            tr("The centre of vision, from the sheet's left edge: straight before the eye"), self._take,
        )  # fmt: skip
        self._three = [
            self.field(grid, words, LengthField(name, paper, _PAPER), tip3, self._take_three)
            for words, name, tip3 in (
                (tr("3rd across"), tr("Third point across"), tr("From the sheet's left edge")),
                (tr("3rd up"), tr("Third point up"), tr("From the sheet's lower edge")),
            )
        ]
        self._said = self.words()
        self._nearest = self.button(
            tr("Take the nearest that works"), tr("Moves the one point whose angle is too wide"), self._take_nearest
        )
        self._wish: tuple | None = None

    def _points(self) -> tuple[tuple[float, float], tuple[float, float]] | None:
        """The two level points on the sheet, left first; None when fewer are finite."""
        found = [at for at in points_on_sheet(self.session.document, self.session.active)[:2] if at is not None]
        return None if len(found) < 2 else (min(found), max(found))

    def _take(self, _: float) -> None:
        if None in (self._left.value, self._right.value, self._centre.value):
            self.session.say(tr("There are not two vanishing points. Make it two-point first."), caution=True)
            return
        edit = (self._left.value, self._right.value, self._centre.value)
        self.session.attempt(by_two_points, self.session.active, *edit)

    def _take_three(self, _: float) -> None:
        points = points_on_sheet(self.session.document, self.session.active)
        across, up = (field.value for field in self._three)
        if points[0] is None or points[1] is None or across is None or up is None:
            return
        wish = (points[0], points[1], (across, up))
        self.propose(wish)

    def propose(self, wish: tuple) -> None:
        """Take three placed points; where no eye sees them, keep them as a wish with the nearest that works."""
        self._wish = None if self.session.attempt(by_three_points, self.session.active, wish) else wish
        self.refresh()

    def _take_nearest(self) -> None:
        if self._wish is not None:
            found = eye_from_three(*self._wish)
            if isinstance(found, NoEye) and found.nearest:
                self._wish = None
                self.session.attempt(by_three_points, self.session.active, found.nearest)
        self.refresh()

    def refresh(self) -> None:
        """Show where the points lie and what they mean."""
        document = self.session.document
        points = points_on_sheet(document, self.session.active)
        level = document.eye.pitch_deg == 0.0 and document.eye.roll_deg == 0.0
        two = self._points()
        for field in (self._left, self._right, self._centre):
            field.setEnabled(level and two is not None)
        for field in self._three:
            field.setEnabled(not level and None not in points)
        self._left.show_value(None if two is None else round(two[0][0], 4))
        self._right.show_value(None if two is None else round(two[1][0], 4))
        self._centre.show_value(round(document.sheet.centre_of_vision[0], 4))
        for field, value in zip(self._three, points[2] or (None, None), strict=True):
            field.show_value(None if value is None else round(value, 4))
        if two is None:
            self._hint.setText(tr("Only one vanishing point: make it two- or three-point to place them."))
            self._said.setText("")
        else:
            self._hint.setText(tr("Drag the beads on the board (Ctrl+9 shows them all), or type."))
            self._said.setText(self._meaning(level, points))
        self._nearest.setVisible(self._wish is not None)

    def _meaning(self, level: bool, points: list) -> str:
        if self._wish is not None:
            found = eye_from_three(*self._wish)
            if isinstance(found, NoEye):
                return f"⚠ {no_eye_words(found)}"
        view: TwoPointView | ThreePointView | NoEye
        if level:
            two = self._points()
            assert two is not None
            view = eye_from_two(two[0][0], two[1][0], self.session.document.sheet.centre_of_vision[0])
        elif None not in points:
            view = eye_from_three(*points)
        else:
            return ""
        return "" if isinstance(view, NoEye) else tr("Understood: {view}.", view=view_words(view))


class BySlopes(Section):
    """Slopes read off a subject with a pencil, at the selected volume's leading edge."""

    shows = "slopes"

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Slopes by pencil"), tr("Slopes read off a subject at its nearest upright"))
        _, paper = _units(session)
        self._hint = self.words()
        grid = self.grid()
        tip = tr("Slope of the ground edge from the horizontal, rising away from the upright positive")
        self._right = self.field(
            grid, tr("right edge"), AngleField(tr("Slope of the right ground edge")), tip, self._take
        )
        self._left = self.field(
            grid, tr("left edge"), AngleField(tr("Slope of the left ground edge")), tip, self._take
        )
        self._top = self.field(
            grid, tr("upper right"), AngleField(tr("Slope of the upper right edge")),
            tr("Slope of the upper right edge; typing it sets the eye's height too"), self._take_top,
        )  # fmt: skip
        self._centre = self.field(
            grid, tr("centre"), LengthField(tr("Centre of vision for the slopes"), paper, _PAPER),
            tr("The freedom that two slopes leave: where the centre of vision lies, from the sheet's left edge"),
            self._take,
        )  # fmt: skip
        self._free = self.words()

    def _take(self, _: float, *, top: float | None = None) -> None:
        row = self.session.active
        if row is None or self._right.value is None or self._left.value is None:
            self.session.say(
                tr("Select a volume in a two-point view; its leading edge is the upright."), caution=True
            )
            return
        slopes = Slopes(self._right.value, self._left.value, top)
        self.session.attempt(by_slopes, row, slopes, self._centre.value)

    def _take_top(self, value: float) -> None:
        self._take(value, top=value)

    def refresh(self) -> None:
        """Show the slopes as they are drawn, and what they leave free."""
        document, row = self.session.document, self.session.active
        slopes = None if row is None else read_slopes(document, row)
        for field in (self._right, self._left, self._top, self._centre):
            field.setEnabled(slopes is not None)
        self._centre.show_value(round(document.sheet.centre_of_vision[0], 4))
        values = (None, None, None) if slopes is None else (slopes.right, slopes.left, slopes.top_right)
        for field, value in zip((self._right, self._left, self._top), values, strict=True):
            field.show_value(None if value is None else round(value, 4))
        if row is None or slopes is None:
            self._hint.setText(tr("Select a volume in a two-point view; its leading edge is the upright."))
            self._free.setText("")
            return
        self._hint.setText(
            tr("At the leading edge of {volume}, which stays where it is.", volume=document.volumes[row].name)
        )
        self._free.setText(
            tr(
                "Still free: the eye's height (now {height}), and the centre of vision anywhere between the points.",
                height=format_length(round(document.eye.position[2], 3), document.unit),
            )
        )


class ByView(Section):
    """A wish for how much of each side and of the top shows."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("What shows"), tr("How much of each side and of the top is seen"))
        self._hint = self.words()
        grid = self.grid()
        self._wishes = [
            self.field(grid, words, PercentField(name, bounds), tip, lambda _: self._keep())
            for words, name, bounds, tip in (
                (tr("right side"), tr("Share of the right side"), (3.0, 97.0),
                 tr("The right side's part of the drawn width; the left side has the rest")),
                (tr("top"), tr("Depth of the top"), (-200.0, 200.0),
                 tr("The top's drawn depth as a part of the leading edge; negative for the underside")),
                (tr("back upright"), tr("Height of the back upright"), (20.0, 99.0),
                 tr("The back upright's height as a part of the leading edge: small is near, large is far")),
            )
        ]  # fmt: skip
        self._edited = False
        self._go = self.button(
            tr("Find the eye"), tr("Sets turn, eye height and distance so that it shows so"), self._find
        )

    def _keep(self) -> None:
        self._edited = True

    def _find(self) -> None:
        row = self.session.active
        values = [field.value for field in self._wishes]
        if row is None or None in values:
            return
        right, top, back = (value / 100.0 for value in values if value is not None)
        self._edited = False
        self.session.attempt(wished_view, row, Showing(right, top, back))
        self.refresh()

    def refresh(self) -> None:
        """Show how the selected volume shows now, unless a wish is being typed."""
        row = self.session.active
        now = None if row is None else showing(self.session.document, row)
        self._go.setEnabled(now is not None)
        for field in self._wishes:
            field.setEnabled(now is not None)
        if row is None or now is None:
            self._hint.setText(tr("Select a volume that is turned before a level eye."))
            return
        self._hint.setText(tr("Of {volume}; type what it shall be.", volume=self.session.document.volumes[row].name))
        if not self._edited:
            for field, value in zip(self._wishes, (now.right, now.top, now.back), strict=True):
                field.show_value(round(100.0 * value, 1))


class ByFit(Section):
    """The object fills a part of the sheet, by scale or by distance."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Fill the sheet"), tr("As large as a part of the sheet, in its middle"))
        _, paper = _units(session)
        grid = self.grid()
        self._part = QComboBox()
        self._part.setAccessibleName(tr("Part of the sheet"))
        for words, part in _PARTS:
            self._part.addItem(tr(words), part)
        self.column.addWidget(self._part)
        self._margin = self.field(
            grid,
            tr("margin"),
            LengthField(tr("Margin"), paper, (0.0, 1000.0)),
            tr("Left free at every edge"),
            lambda _: None,
        )
        self._margin.show_value(15.0)
        self.button(
            tr("By scale"),
            tr("The perspective stays; the picture is enlarged or reduced"),
            lambda: self._fit("perspective"),
        )
        self.button(
            tr("By distance"),
            tr("The viewing distance stays; the eye walks nearer or back"),
            lambda: self._fit("distance"),
        )

    def _fit(self, keep: str) -> None:
        def edit(document: Document) -> Edit:
            return fit_sheet_part(document, self._part.currentData(), self._margin.value or 0.0, keep=keep)

        self.session.attempt(edit)
