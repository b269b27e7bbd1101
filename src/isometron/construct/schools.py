"""The schools by name; constructing by one of them, and naming one that works where another cannot."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from isometron.construct.diagonal_point import by_diagonal_point
from isometron.construct.height_transfer import by_height_transfer
from isometron.construct.measuring_points import by_measuring_points
from isometron.construct.one_point import by_distance_point, by_guess
from isometron.construct.outcome import Construction, ConstructionError, Corner, NotHere, Options
from isometron.construct.own_names import with_own_names
from isometron.construct.plan_method import by_plan
from isometron.construct.ring_in_square import by_eight_points, by_four_points, by_template, by_twelve_points
from isometron.construct.ring_rows import inner_ring, ring_stack, slid_ring, wheels_in_a_row
from isometron.construct.side_rows import (
    parts_by_diagonals,
    parts_by_measuring_line,
    row_by_diagonals,
    row_by_measuring_line,
    with_a_ruler,
)
from isometron.construct.side_view import by_side_view, by_side_view_shares
from isometron.construct.three_point import by_three_points
from isometron.construct.turn_about_corner import turned_about_corner
from isometron.construct.turn_on_spot import turned_on_the_spot
from isometron.document.model import Document, DocumentError
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.marks.face_marks import DivideMark
from isometron.volumes.turned import Turned
from isometron.wording import tr

__all__ = ["SCHOOLS", "School", "construct", "first_school", "fitting_school"]


@dataclass(frozen=True)
class School:
    """A school: its title and what carries it out."""

    title: str
    draw: Callable[[Document, int, Options], Construction | NotHere]


SCHOOLS: dict[str, School] = {
    "plan": School(tr("Plan method"), lambda document, row, _: by_plan(document, row)),
    "measuring": School(tr("Measuring points"), lambda document, row, _: by_measuring_points(document, row)),
    "diagonal": School(tr("45-degree point"), lambda document, row, _: by_diagonal_point(document, row)),
    "one-point": School(tr("One-point, distance point"), lambda document, row, _: by_distance_point(document, row)),
    "by-guess": School(tr("One-point, back edge by eye"), lambda document, row, _: by_guess(document, row)),
    "three-point": School(
        tr("Three-point, measuring points"), lambda document, row, _: by_three_points(document, row)
    ),
    "turn": School(tr("Turn on the spot"), lambda document, row, asked: _turned(document, row, asked)),
    "ring-4": School(tr("Ring by 4 points"), lambda document, row, asked: by_four_points(document, row, asked.ring)),
    "ring-8": School(tr("Ring by 8 points"), lambda document, row, asked: by_eight_points(document, row, asked.ring)),
    "ring-12": School(
        tr("Ring by 12 points"), lambda document, row, asked: by_twelve_points(document, row, asked.ring)
    ),
    "template": School(
        tr("Minor axis and degree"), lambda document, row, asked: by_template(document, row, asked.ring)
    ),
    "ring-inner": School(
        tr("Ring inside a ring, by diagonals"), lambda document, row, asked: inner_ring(document, row, asked.ring)
    ),
    "stack": School(tr("Stack of rings along an upright"), lambda document, row, _: ring_stack(document, row)),
    "wheels": School(
        tr("Wheels along a wheelbase"), lambda document, row, asked: wheels_in_a_row(document, row, asked.ring)
    ),
    "slide": School(
        tr("Ring slid along its axle"), lambda document, row, asked: slid_ring(document, row, asked.ring)
    ),
    "parts": School(tr("Parts by diagonals"), lambda document, row, _: parts_by_diagonals(document, row)),
    "parts-line": School(
        tr("Parts by measuring line"), lambda document, row, _: parts_by_measuring_line(document, row)
    ),
    "row": School(tr("Row by diagonals"), lambda document, row, _: row_by_diagonals(document, row)),
    "row-line": School(tr("Row by measuring line"), lambda document, row, _: row_by_measuring_line(document, row)),
    "row-ruler": School(tr("Row with a ruler, and its error"), lambda document, row, _: with_a_ruler(document, row)),
    "side-view": School(
        tr("From the side view, by measuring line"), lambda document, row, _: by_side_view(document, row)
    ),
    "side-shares": School(
        tr("From the side view, by counted shares"), lambda document, row, _: by_side_view_shares(document, row)
    ),
    "height": School(
        tr("Height transfer"), lambda document, row, asked: by_height_transfer(document, row, asked.place)
    ),
}

_TURNS = (30.0, 20.0, 45.0, 15.0, -20.0, -30.0, 60.0)
"""Turns on the spot that are tried where none is asked for: a vanishing point may lie off any reasonable paper."""


def _turned(document: Document, row: int, asked: Options) -> Construction | NotHere:
    """Construct a twin turned by what is asked, or by the first usual angle that can be drawn.

    Where what is asked cannot be drawn, the angles that can are told.
    """
    turn_deg = asked.turn_deg
    if turn_deg is None:
        tries = [_tried(document, row, turn, asked.corner) for turn in _TURNS]
        return next((done for done in tries if isinstance(done, Construction)), tries[0])
    done = _tried(document, row, turn_deg, asked.corner)
    if isinstance(done, Construction):
        return done
    fit = [turn for turn in _TURNS if isinstance(_tried(document, row, turn, asked.corner), Construction)]
    if not fit:
        return done
    angles = ", ".join(f"{turn:+g}°" for turn in sorted(fit, key=lambda turn: abs(turn - turn_deg))[:3])
    return NotHere(
        tr("{reason} Turned by {angles} it can be drawn.", reason=done.reason, angles=angles), done.instead
    )


def _tried(document: Document, row: int, turn_deg: float, corner: Corner | None) -> Construction | NotHere:
    try:
        if corner is not None:
            return turned_about_corner(document, row, turn_deg, corner)
        return turned_on_the_spot(document, row, turn_deg)
    except ConstructionError as error:
        return NotHere(str(error))


_USUAL = Options()
_WHOLE_BOX = ("plan", "measuring", "diagonal", "one-point", "three-point")


def construct(document: Document, volume_id: str, school: str, options: Options = _USUAL) -> Construction | NotHere:
    """Construct a volume's bounding box by a school.

    Raises `DocumentError` for an unknown volume or school. Where the school cannot work the answer is `NotHere`
    with the reason and a school that can.
    """
    if school not in SCHOOLS:
        raise DocumentError(
            tr(
                "There is no school called {school!r}. Known schools: {names}.",
                school=school,
                names=", ".join(SCHOOLS),
            )
        )
    document.volume(volume_id)
    row = document.index_of(volume_id)
    assert row is not None
    done = _drawn(document, row, school, options)
    if isinstance(done, Construction):
        return with_own_names(document, done)
    return NotHere(done.reason, fitting_school(document, row))


def fitting_school(document: Document, row: int) -> str | None:
    """Return the first school that can draw the whole volume from this eye, or None."""
    if isinstance(document.volumes[row], Turned) and isinstance(_drawn(document, row, "ring-8"), Construction):
        return "ring-8"
    return next((name for name in _WHOLE_BOX if isinstance(_drawn(document, row, name), Construction)), None)


def first_school(document: Document, row: int) -> str | None:
    """Return the school to begin with: of the row or the parts that a volume shows, else of the whole volume."""
    volume = document.volumes[row]
    wanted = []
    if volume.copies:
        wanted += ["wheels"] if isinstance(volume, Turned) else ["row", "row-line"]
    if any(isinstance(mark, DivideMark) for mark in volume.marks):
        wanted.append("parts")
    if isinstance(volume, CutBody):
        wanted.append("side-view")
    found = (name for name in wanted if isinstance(_drawn(document, row, name), Construction))
    return next(found, None) or fitting_school(document, row)


def _drawn(document: Document, row: int, school: str, options: Options = _USUAL) -> Construction | NotHere:
    try:
        return SCHOOLS[school].draw(document, row, options)
    except ConstructionError as error:
        return NotHere(str(error))
