"""Two or three vanishing points placed on the sheet, and what they mean."""

from __future__ import annotations

from PyQt6.QtWidgets import QLineEdit

from isometron.desk.controls.fields import PaperField, plain_line
from isometron.desk.controls.section import Section
from isometron.desk.controls.words import Label
from isometron.desk.frame.session import Session
from isometron.desk.stages.eye.units import PAPER_RANGE, on_paper
from isometron.document.eyes.eye_setting import (
    by_three_points,
    by_two_points,
    no_eye_words,
    points_on_sheet,
    rotation_of,
    view_words,
)
from isometron.document.eyes.point_names import name_point, point_word
from isometron.solve.measures import going
from isometron.view.recover import NoEye, ThreePointView, TwoPointView, eye_from_three, eye_from_two
from isometron.view.vanishing import box_vanishing
from isometron.wording import tr

__all__ = ["ByPoints"]


class ByPoints(Section):
    """Two or three vanishing points placed on the sheet, and what they mean."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Vanishing points"), tr("Place them; the eye follows"))
        paper = on_paper(session)
        self._hint = self.words()
        grid = self.grid()
        tip = tr("From the sheet's left edge along the horizon; a point left of the sheet is negative")
        self._left = self.field(
            grid, tr("left"), PaperField(tr("Left vanishing point"), paper, PAPER_RANGE), tip, self._take
        )
        self._right = self.field(
            grid, tr("right"), PaperField(tr("Right vanishing point"), paper, PAPER_RANGE), tip, self._take
        )
        self._centre = self.field(
            grid, tr("centre"), PaperField(tr("Centre of vision"), paper, PAPER_RANGE),
            tr("The centre of vision, from the sheet's left edge: straight before the eye"), self._take,
        )  # fmt: skip
        self._three = [
            self.field(grid, words, PaperField(name, paper, PAPER_RANGE), tip3, self._take_three)
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
        self.words().setText(tr("Names of your own:"))
        names = self.grid()
        self.names: dict[str, QLineEdit] = {}
        for k, letter in enumerate("LRV"):
            line = plain_line(tr("Name of the vanishing point {letter}", letter=letter), tr("its letter"))
            line.setMaxLength(24)
            line.editingFinished.connect(lambda place=k: self._name(place))
            label = Label(letter)
            label.setBuddy(line)
            names.addWidget(label, k, 0)
            names.addWidget(line, k, 1)
            self.names[letter] = line

    def _named(self) -> list[tuple[str, tuple[float, float] | None]]:
        """Return letter and paper place of each of the three points, left, right and upright, as the edges go."""
        document = self.session.document
        rotation = rotation_of(document, self.session.active)
        found: dict[str, tuple[float, float] | None] = dict.fromkeys("LRV")
        for k, point in enumerate(box_vanishing(document.eye, rotation)):
            letter = "V" if k == 2 else {"left": "L", "right": "R"}.get(going(point), "")
            if letter and point.at is not None:
                found[letter] = point.at
        return list(found.items())

    def _name(self, place: int) -> None:
        letter, at = self._named()[place]
        line = self.names[letter]
        if at is not None and line.isModified():
            line.setModified(False)
            self.session.attempt(name_point, at, line.text())
            self.refresh()

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
        for letter, at in self._named():
            line = self.names[letter]
            line.setEnabled(at is not None)
            if not line.hasFocus() or not line.isModified():
                line.setText(point_word(document, at, ""))

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
