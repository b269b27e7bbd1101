"""One-point: the front face at its true shape, the depth by the distance point, and the learners' guess beside it."""

from __future__ import annotations

from dataclasses import replace
from math import hypot

from isometron.construct.box_parts import finished, true_of
from isometron.construct.outcome import Construction, NotHere, Spot
from isometron.construct.ruler import Line, Table
from isometron.construct.subject import FlatBox, flat_box
from isometron.document.lengths.units import format_length
from isometron.document.model import Document
from isometron.geometry.tolerances import CLOSE
from isometron.wording import tr

__all__ = ["by_distance_point", "by_guess"]

_CORNERS = ("front", "other front")


def by_distance_point(document: Document, row: int) -> Construction | NotHere:
    """Construct a box that stands parallel to the paper."""
    box = flat_box(document, row)
    if isinstance(box, NotHere):
        return box
    table = Table(document)
    centre, face = _front(table, box)
    back = _depth(table, box, centre, face)
    ends = _close(table, centre, face, back)
    return finished(table, "one-point", tr("One-point, distance point"), box, row, ends)


def by_guess(document: Document, row: int) -> Construction | NotHere:
    """Construct the same box as learners do, the back edge by eye, and then show how far the guess is off.

    The guess is the usual one: the drawn side as wide as half the front is high or wide, whichever is less.
    """
    box = flat_box(document, row)
    if isinstance(box, NotHere):
        return box
    table = Table(document)
    centre, face = _front(table, box)
    guessed = _guess(table, box, centre, face)
    back = _depth(table, box, centre, face)
    ends = _close(table, centre, face, back)
    _say_error(table, box, guessed, back)
    return finished(table, "by-guess", tr("One-point, back edge by eye"), box, row, ends)


_LETTERS = {"front": "AE", "other front": "BF", "back": "CG", "other back": "DH"}


def _letter(name: str) -> str:
    """Return the letter of a corner: A and B below in front, C and D behind them, E to H over the four."""
    upright, end = name.rsplit(" ", 1)
    return _LETTERS[upright][end == "top"]


def _front(table: Table, box: FlatBox) -> tuple[Spot, dict[str, Spot]]:
    centre = table.mark("VP", (0.0, 0.0))
    table.title(table.rule_across(table.level(centre)), tr("the horizon"))
    side = 1.0 if box.corners["other front bottom"][0] > box.front[0] else -1.0
    foot = table.mark("A", box.front)
    face = {"front bottom": foot}
    true = true_of(table, box.wide, box.scale)
    face["other front bottom"] = table.lay_off(table.level(foot), foot, box.wide, (side, 0.0), "B", true)
    true = true_of(table, box.high, box.scale)
    for name in _CORNERS:
        below, above = face[f"{name} bottom"], f"{name} top"
        face[above] = table.lay_off(table.upright(below), below, box.high, (0.0, 1.0), _letter(above), true)
    _draw(table, face, _CORNERS)
    table.step(
        tr(
            "VP is the vanishing point, straight before the eye. A face parallel to the paper keeps its shape, whatever the distance."
        ),
    )
    table.laid_out()
    return centre, face


def _depth(table: Table, box: FlatBox, centre: Spot, face: dict[str, Spot]) -> Spot:
    """Return the back corner behind the corner of the front that serves best, by the distance point."""
    start_name = _start(face)
    start = face[start_name]
    side = -1.0 if start.u >= 0.0 else 1.0
    horizon = table.level(centre)
    horizon.words = tr("the horizon")
    distance = table.lay_off(horizon, centre, box.eye.viewing_distance, (side, 0.0), "DP")
    laid = table.lay_off(table.level(start), start, box.deep, (-side, 0.0), "m", true_of(table, box.deep, box.scale))
    name = start_name.replace("front", "back")
    back = table.cross(table.join(laid, distance), table.join(start, centre), _letter(name))
    table.step(
        tr("DP is the distance point, as far from VP as the eye is from the paper. Lines to it lie at 45° on the ground: as far across, "
           "so far away."),
    )  # fmt: skip
    return replace(back, end=name)


def _start(face: dict[str, Spot]) -> str:
    """The corner farthest from the vanishing point, first in height: there the lines cross most cleanly."""
    return max(face, key=lambda name: (abs(face[name].v), abs(face[name].u)))


def _close(table: Table, centre: Spot, face: dict[str, Spot], first: Spot) -> dict[str, tuple[float, float]]:
    """Complete the back from one of its corners: levels and uprights up to the edges to VP."""
    name, end = first.end.rsplit(" ", 1)
    other_name, other_end = (
        ("back" if name == "other back" else "other back"),
        ("top" if end == "bottom" else "bottom"),
    )
    back = {first.end: first}

    def found(of: str, at: str, line: Line) -> None:
        corner, name = face[f"{of.replace('back', 'front')} {at}"], f"{of} {at}"
        # An edge that starts at the vanishing point is seen end on: both its ends are drawn there.
        end_on = hypot(corner.u - centre.u, corner.v - centre.v) < CLOSE
        letter = _letter(name)
        back[name] = table.again(centre, letter) if end_on else table.cross(line, table.join(corner, centre), letter)

    found(other_name, end, table.level(first))
    found(name, other_end, table.upright(first))
    level, upright = back[f"{name} {other_end}"], back[f"{other_name} {end}"]
    found(other_name, other_end, table.level(level) if abs(level.v) > abs(upright.u) else table.upright(upright))
    _draw(table, back, ("back", "other back"))
    for corner, spot in face.items():
        table.edge(spot, back[corner.replace("front", "back")])
    table.step(tr("The back is parallel to the front, so it has the same shape, only smaller."))
    return {**{n: s.at for n, s in face.items()}, **{n: s.at for n, s in back.items()}}


def _draw(table: Table, spots: dict[str, Spot], names: tuple[str, str]) -> None:
    one, other = names
    for pair in (
        (f"{one} bottom", f"{other} bottom"),
        (f"{one} top", f"{other} top"),
        (f"{one} bottom", f"{one} top"),
        (f"{other} bottom", f"{other} top"),
    ):
        table.edge(spots[pair[0]], spots[pair[1]])


def _guess(table: Table, box: FlatBox, centre: Spot, face: dict[str, Spot]) -> Spot:
    start = face[_start(face)]
    edge = table.join(start, centre)
    towards = (centre.u - start.u, centre.v - start.v)
    length = min(box.wide, box.high, 2.0 * abs(edge.along(centre))) / 2.0
    spot = table.lay_off(edge, start, min(length, 0.9 * abs(edge.along(centre))), towards, "g")
    table.step(
        tr("The learners' way: the back corner chosen by eye, for half the front is what most eyes choose. The distance point will tell "
           "what depth that is."),
    )  # fmt: skip
    return spot


def _say_error(table: Table, box: FlatBox, guess: Spot, back: Spot) -> None:
    """Say what depth the guess stands for: from v = f Y / (Zc + d) the depth is f (v0 / v - 1) at the front's scale."""
    start = max((box.corners[f"{n} {e}"] for n in _CORNERS for e in ("bottom", "top")), key=lambda at: abs(at[1]))
    depth = box.eye.viewing_distance * (start[1] / guess.v - 1.0) / box.scale
    off = ((guess.u - back.u) ** 2 + (guess.v - back.v) ** 2) ** 0.5
    unit = table.document.unit
    table.join(guess, back)
    table.step(
        tr(
            "The guess is {off} of paper off. It would be a box {guessed} deep instead of {meant}: foreshortening depends on the "
            "distance of the eye; no habit knows it.",
            off=table.paper(off),
            guessed=format_length(round(depth, 1), unit),
            meant=true_of(table, box.deep, box.scale),
        ),
    )
