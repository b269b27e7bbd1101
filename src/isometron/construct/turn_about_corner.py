"""Turn about a corner: the twin that has one upright with the first box in common, by measuring points of its own."""

from __future__ import annotations

from dataclasses import replace

from isometron.construct.box_parts import corner_letter
from isometron.construct.measuring_points import by_measuring_points
from isometron.construct.outcome import Construction, Corner, NotHere
from isometron.construct.subject import LevelBox, level_box
from isometron.document.edits import lay_twin
from isometron.document.model import Document
from isometron.wording import tr

__all__ = ["turned_about_corner"]


def turned_about_corner(document: Document, row: int, turn_deg: float, corner: Corner) -> Construction | NotHere:
    """Construct the twin of a box turned counter-clockwise about one of its uprights.

    ends : its corners, as `by_measuring_points` names them.
    """
    box = level_box(document, row)
    if isinstance(box, NotHere):
        return box
    volume, about = document.volumes[row], _number(box, corner)
    turned = lay_twin(document, volume.id, volume.yaw_deg + turn_deg, about).document
    done = by_measuring_points(turned, len(turned.volumes) - 1)
    if isinstance(done, NotHere):
        return done
    *others, last = done.steps
    words = tr(
        "Both boxes share the upright over corner {letter} of the first one.", letter=corner_letter(corner, "bottom")
    )
    return replace(
        done, school="turn", title=tr("Turn on the spot"), volume=volume.id, steps=(*others, replace(last, why=words)),
        turned_deg=turn_deg, about=about,
    )  # fmt: skip


def _number(box: LevelBox, corner: Corner) -> int:
    """Return the number of a box's corner by the place that it has beside its leading edge."""
    number = box.lead_number
    if corner in ("right", "back"):
        number ^= 1 << box.axis_right
    if corner in ("left", "back"):
        number ^= 1 << box.axis_left
    return number
