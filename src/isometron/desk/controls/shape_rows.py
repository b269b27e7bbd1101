"""What each shape has to be set: the rows of fields by kind of volume. A new kind is one entry in `ROWS_OF`."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

import msgspec

from isometron.desk.controls.field_rows import AXIS_CHOICES, Row
from isometron.desk.controls.offered import picture_tip
from isometron.document.edits import Edit, change_volume
from isometron.document.model import Document
from isometron.solve.seen_ways import seen_side
from isometron.volumes.arch import Arch
from isometron.volumes.framed import Framed, Rail
from isometron.volumes.kinds import AnyVolume
from isometron.wording import tr

__all__ = ["FORMS", "front_words", "shape_rows"]

_SIDES = ("x0", "x1", "y0", "y1")

FORMS = ((tr("half-round"), "half-round"), (tr("segmental"), "segmental"), (tr("pointed"), "pointed"))


def _set(
    volume_id: str, what: str, fields: Callable[[Any, Any], dict[str, object]]
) -> Callable[[Document, Any], Edit]:
    def write(document: Document, value: Any) -> Edit:
        return change_volume(document, volume_id, what, **fields(document.volume(volume_id), value))

    return write


def _arch(volume: Arch) -> list[Row]:
    set_ = partial(_set, volume.id, tr("change the arch of"))
    return [
        Row(tr("through"), tr("The direction the opening goes through"), "choice", lambda: volume.through,
            set_(lambda _, v: {"through": v}), AXIS_CHOICES),
        Row(tr("form"), tr("How the opening is arched"), "choice", lambda: volume.form,
            set_(lambda _, form: {"form": form}), FORMS),
        Row(tr("piers"), tr("Thickness at both sides"), "length", lambda: volume.pier,
            set_(lambda _, far: {"pier": far})),
        Row(tr("crown"), tr("Thickness over the top"), "length", lambda: volume.crown,
            set_(lambda _, far: {"crown": far})),
        Row(tr("outside follows"), tr("The outside follows the opening: an arched band"), "switch", lambda: volume.band,
            set_(lambda _, on: {"band": on})),
    ]  # fmt: skip


def _framed(volume: Framed) -> list[Row]:
    set_ = partial(_set, volume.id, tr("change the frame of"))
    rails = volume.rails
    first = rails[0] if rails else Rail(at=0.3, high=40.0, thick=20.0)

    def rail(now: Any, **fields: Any) -> dict[str, object]:
        own = now.rails[0] if now.rails else first
        return {"rails": (msgspec.structs.replace(own, **fields), *now.rails[1:])}

    return [
        Row(tr("legs"), tr("Thickness of the legs, both ways"), "length", lambda: volume.leg[0],
            set_(lambda _, far: {"leg": (far, far)})),
        Row(tr("inset"), tr("How far the legs stand in from the corners"), "length", lambda: volume.inset,
            set_(lambda _, far: {"inset": far})),
        Row(tr("top"), tr("Thickness of the slab on the legs; 0 for none"), "length", lambda: volume.top,
            set_(lambda _, far: {"top": far})),
        Row(tr("rails"), tr("Rows of rails between the legs"), "count", lambda: len(rails),
            set_(lambda now, count: {"rails": _spread(now.rails, first, int(count))}), most=6),
        Row(tr("rail at"), tr("Height of the lowest rail, in percent of the whole"), "percent", lambda: 100 * first.at,
            set_(lambda now, part: rail(now, at=min(max(part / 100.0, 0.0), 1.0)))),
        Row(tr("rail high"), tr("Height of a rail"), "length", lambda: first.high,
            set_(lambda now, far: rail(now, high=far))),
        Row(tr("rail thick"), tr("Thickness of a rail"), "length", lambda: first.thick,
            set_(lambda now, far: rail(now, thick=far))),
    ]  # fmt: skip


def _spread(rails: tuple[Rail, ...], first: Rail, count: int) -> tuple[Rail, ...]:
    """Return so many rails, those that are new spread over the height above the lowest."""
    found = list(rails[:count])
    while len(found) < count:
        low = found[-1].at if found else 0.0
        at = first.at if not found else low + (0.95 - low) / (count - len(found) + 1)
        found.append(msgspec.structs.replace(first, at=min(at, 1.0)))
    return tuple(found)


ROWS_OF: dict[type, Callable[[Any], list[Row]]] = {Arch: _arch, Framed: _framed}


def front_words(document: Document, volume: AnyVolume, ahead: str) -> str:
    """Return where a volume's front would face, as it is seen on the sheet."""
    return seen_side(document.eye, volume, "xy".index(ahead[0]), int(ahead[1]))


def _front(document: Document, volume: AnyVolume) -> Row:
    choices = [(tr("front: {way}", way=front_words(document, volume, side)), side) for side in _SIDES]
    tip = tr(
        "Which side is its own front; the plan dial shows it. Rear, left and right are said from it, as it looks out (Ctrl+Shift+F turns it)"
    )
    return Row(tr("its own front"), picture_tip(tip, "own-sides"), "choice", lambda: volume.ahead,
               _set(volume.id, tr("choose the front of"), lambda _, ahead: {"ahead": ahead}), choices)  # fmt: skip


def shape_rows(document: Document, volume: AnyVolume | None) -> tuple[object, list[Row]]:
    """Return a key that changes when other rows are needed, and the rows of a volume's own front and of its shape."""
    if volume is None:
        return None, []
    make = ROWS_OF.get(type(volume))
    rows = [_front(document, volume), *(make(volume) if make is not None else ())]
    return (volume.id, type(volume).__name__, tuple(words for words, _ in rows[0].choices)), rows
