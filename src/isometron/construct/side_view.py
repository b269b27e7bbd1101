"""A cut body from its side view: the corners of the outline carried into perspective, on the near side and across to the far one.

Places along come from a measuring line or from a diagonal, heights from the leading edge, depths from the other vanishing point
(the side view as a set of counted shares is how vehicles are laid out by hand).
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from isometron.construct.outcome import Construction, NotHere, Spot
from isometron.construct.ruler import Line, Table
from isometron.construct.side import Laid, Side, done, lay_side, measured_uprights, raise_upright, side_along
from isometron.document.model import Document
from isometron.geometry.faces.cutting import VIEW_AXES
from isometron.geometry.frames import Floats
from isometron.geometry.outlines import Outline
from isometron.geometry.tolerances import CLOSE
from isometron.volumes.cut.body import uncut_because
from isometron.volumes.cut.profiles import VIEWS, CutBody, ViewName, profile_outline, view_size
from isometron.volumes.own_sides import view_word
from isometron.wording import tr

__all__ = ["by_side_view", "by_side_view_shares"]

_MOST = 60
"""Corners beyond which nobody rules an outline."""
_BEND = 6
"""Stretches in which a round is drawn between its ends."""

Uprights = Callable[[Laid, list[float]], list[tuple[Spot, Spot]]]


def by_side_view(document: Document, row: int) -> Construction | NotHere:
    """Carry the outline of a cut body's side view by a measuring line; ends ``corner k`` on the near side and ``far k``."""
    return _carried(document, row, "side-view", tr("From the side view, by measuring line"), _by_line)


def by_side_view_shares(document: Document, row: int) -> Construction | NotHere:
    """Carry it by shares counted on the leading edge, and the side's diagonal; the ends are named as in `by_side_view`."""
    return _carried(document, row, "side-shares", tr("From the side view, by counted shares"), _by_shares)


def _by_line(laid: Laid, places: list[float]) -> list[tuple[Spot, Spot]]:
    return measured_uprights(laid, places, [f"place {k}" for k in range(1, len(places) + 1)])


def _by_shares(laid: Laid, places: list[float]) -> list[tuple[Spot, Spot]]:
    table, side = laid.table, laid.side
    lead = table.join(laid.near[0], laid.near[1])
    marks = [
        table.lay_off(lead, laid.near[0], place * side.box.high, (0.0, 1.0), f"s{k}", _share_words(place))
        for k, place in enumerate(places, start=1)
    ]
    diagonal = table.join(laid.near[0], laid.far[1])
    uprights = []
    for k, mark in enumerate(marks, start=1):
        at = table.cross(diagonal, table.join(mark, laid.point), f"d{k}")
        uprights.append(raise_upright(laid, at, f"place {k}"))
    table.step(
        tr("Each corner's place along is counted in shares of the length: the diagonal hands every share of the height on to the length, "
           "whatever the foreshortening."),
    )  # fmt: skip
    return uprights


def _share_words(place: float) -> str:
    """Return a share as it is counted, in halves to sixteenths, else in percent."""
    for parts in (2, 3, 4, 5, 6, 8, 10, 12, 16):
        count = place * parts
        if abs(count - round(count)) < CLOSE * parts:
            return f"{round(count)}/{parts}"
    return f"{100.0 * place:.1f} %"


def _carried(document: Document, row: int, school: str, title: str, uprights: Uprights) -> Construction | NotHere:
    found = _outline(document, row)
    if isinstance(found, NotHere):
        return found
    view, outline, axis = found
    side = side_along(document, row, axis)
    if isinstance(side, NotHere):
        return side
    if side.box.axis_up != 2:
        return NotHere(tr("{name} does not stand upright.", name=side.volume.name))
    size = view_size(side.volume, view)
    along = [_snapped(side.from_lead(float(x) / size[0])) for x in outline.corners[:, 0]]
    up = [float(z) / size[1] for z in outline.corners[:, 1]]
    table = Table(document)
    laid = lay_side(table, side)
    places = sorted({place for place in along if 0.0 < place < 1.0})
    standing = dict(zip(places, uprights(laid, places), strict=True)) if places else {}
    standing |= {0.0: laid.near, 1.0: laid.far}
    near = _near(laid, [standing[place] for place in along], up)
    _rule(laid, outline, near, side, size, on_far=False)
    table.step(
        tr("The {view} stands in perspective. Bends are drawn by hand between the points where they begin and end.",
           view=view_word(side.volume, view)),
    )  # fmt: skip
    far = _across(laid, near, [standing[place][0] for place in along])
    _rule(laid, outline, far, side, size, on_far=True)
    for one, other in zip(near, far, strict=True):
        table.edge(one, other)
    table.step(
        tr(
            "Edges across are parallel, so they share the other vanishing point; what plan and front take away is cut after that."
        ),
    )
    ends = {f"corner {k}": spot.at for k, spot in enumerate(near)} | {
        f"far {k}": spot.at for k, spot in enumerate(far)
    }
    return done(table, school, title, side, ends)


def _outline(document: Document, row: int) -> tuple[ViewName, Outline, int] | NotHere:
    """Return the view that is carried, its outline, and the own direction along it: the side view, else the front."""
    volume = document.volumes[row]
    if not isinstance(volume, CutBody):
        return NotHere(tr("{name} is not cut by a side view.", name=volume.name))
    unfit = dict(uncut_because(volume))
    for view, axes in zip(VIEWS, VIEW_AXES, strict=True):
        profile = getattr(volume, view)
        if profile is None or view == "plan" or view in unfit:
            continue
        outline = profile_outline(profile, view, view_size(volume, view))
        if len(outline.corners) > _MOST:
            return NotHere(
                tr(
                    "The outline has {count} corners, more than anybody rules ({most}).",
                    count=len(outline.corners),
                    most=_MOST,
                )
            )
        return view, outline, axes[0]
    return NotHere(tr("{name} is cut by its plan alone: there is no side view to carry.", name=volume.name))


def _snapped(place: float) -> float:
    """Return a place along the side, those that are one place to any pencil alike."""
    return min(max(round(place, 10), 0.0), 1.0)


def _near(laid: Laid, standing: list[tuple[Spot, Spot]], up: list[float]) -> list[Spot]:
    """Mark every corner on its upright: its height is laid off on the leading edge and runs to the side's point."""
    table, side = laid.table, laid.side
    lead = table.upright(laid.near[0])
    spots = []
    for (low, high), height in zip(standing, up, strict=True):
        if height <= CLOSE or height >= 1.0 - CLOSE:
            spots.append(low if height <= CLOSE else high)
            continue
        mark = table.lay_off(lead, laid.near[0], height * side.box.high, (0.0, 1.0), table.fresh("h"))
        upright = table.upright(low)
        spots.append(
            mark if low is laid.near[0] else table.cross(table.join(mark, laid.point), upright, table.fresh("c"))
        )
    if any(CLOSE < height < 1.0 - CLOSE for height in up):
        table.step(tr("The leading edge is the one upright on which heights are true."))
    return spots


def _across(laid: Laid, near: list[Spot], feet: list[Spot]) -> list[Spot]:
    """Carry the corners across the body: along their edges to the other vanishing point, cut off over the far lower edge."""
    table, side = laid.table, laid.side
    other = table.mark(f"VP {side.other_letter}", side.other_point)
    start = table.mark("C", side.across_corner)
    lower = table.join(start, laid.point)
    found: dict[str, Line] = {}
    spots = []
    for corner, foot in zip(near, feet, strict=True):
        if foot.name not in found:
            found[foot.name] = table.upright(table.cross(table.join(foot, other), lower, table.fresh("f")))
        spots.append(table.cross(table.join(corner, other), found[foot.name], table.fresh("d")))
    return spots


def _rule(
    laid: Laid, outline: Outline, spots: list[Spot], side: Side, size: tuple[float, float], *, on_far: bool
) -> None:
    """Draw the outline firmly: straight sides between their corners, rounds through places of their own."""
    count = len(spots)
    for k, spot in enumerate(spots):
        after = spots[(k + 1) % count]
        bend = outline.bends.get(k)
        if bend is None:
            laid.table.edge(spot, after)
            continue
        flat = bend.at(bend.start + bend.sweep * np.linspace(0.0, 1.0, _BEND + 1)[1:-1])
        laid.table.bend(spot, _drawn(side, flat, size, on_far=on_far), after)


def _drawn(side: Side, flat: Floats, size: tuple[float, float], *, on_far: bool) -> list[tuple[float, float]]:
    """Return places (K, 2) of the view as the engine draws them on the near or the far side."""
    paper, _ = side.box.eye.project(side.place_of(flat, on_far=on_far))
    return [(float(u), float(v)) for u, v in paper]
