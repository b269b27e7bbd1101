"""What each shape has to be set: the rows of fields by kind of volume. A new kind is one entry in `ROWS_OF`."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

import msgspec

from isometron.desk.controls.field_rows import AXIS_CHOICES, Row
from isometron.document.edits import Edit, change_volume
from isometron.document.model import Document
from isometron.volumes.framed import Framed, Rail
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.prism import Arched, Counted, Cut, Prism
from isometron.volumes.tapered import Tapered
from isometron.wording import tr

__all__ = ["FORMS", "counted", "shape_rows"]

FORMS = ((tr("half-round"), "half-round"), (tr("segmental"), "segmental"), (tr("pointed"), "pointed"))


def _set(
    volume_id: str, what: str, fields: Callable[[Any, Any], dict[str, object]]
) -> Callable[[Document, Any], Edit]:
    def write(document: Document, value: Any) -> Edit:
        return change_volume(document, volume_id, what, **fields(document.volume(volume_id), value))

    return write


def _tapered(volume: Tapered) -> list[Row]:
    rows = []
    names = (tr("left end in"), tr("right end in"), tr("front in"), tr("back in"))
    for number, words in enumerate(names):
        size = volume.size[number // 2]

        def fields(now: Any, far: float, n: int = number) -> dict[str, object]:
            lean = list(now.lean)
            lean[n] = min(max(far / now.size[n // 2], -1.0), 1.0)
            return {"lean": tuple(lean)}

        rows.append(
            Row(words, tr("How far the upper edge stands in; negative: the lower one does, and the side flares"),
                "any length", partial(_product, volume.lean[number], size), _set(volume.id, tr("lean a side of"), fields))
        )  # fmt: skip
    return rows


def _product(one: float, other: float) -> float:
    return one * other


def _section(volume: Prism, field: str, value: Any, scale: Callable[[Any], Any] = lambda v: v) -> dict[str, object]:
    return {"section": msgspec.structs.replace(volume.section, **{field: scale(value)})}


def _prism(volume: Prism) -> list[Row]:
    set_ = partial(_set, volume.id, tr("change the section of"))
    rows = [
        Row(tr("through"), tr("The direction the outline is carried along"), "choice", lambda: volume.through,
            set_(lambda _, v: {"through": v}), AXIS_CHOICES)
    ]  # fmt: skip
    section = volume.section
    if isinstance(section, Cut):
        rows.append(
            Row(tr("round corners"), tr("Rounded instead of chamfered"), "switch", lambda: section.how == "round",
                set_(lambda v, on: _section(v, "how", "round" if on else "chamfer")))
        )  # fmt: skip
        for number in range(4):

            def cut(now: Any, far: float, n: int = number) -> dict[str, object]:
                lengths = [far if k == n else own for k, own in enumerate(now.section.lengths)]
                return _section(now, "lengths", tuple(lengths))

            rows.append(
                Row(tr("corner {number}", number=number + 1), tr("From the corner along both sides"), "length",
                    partial(_item, section.lengths, number), set_(cut))
            )  # fmt: skip
    elif isinstance(section, Arched):
        rows += [
            Row(tr("form"), tr("How the opening is arched"), "choice", lambda: section.form,
                set_(lambda v, f: _section(v, "form", f)), FORMS),
            Row(tr("piers"), tr("Thickness at both sides"), "length", lambda: section.pier,
                set_(lambda v, far: _section(v, "pier", far))),
            Row(tr("crown"), tr("Thickness over the top"), "length", lambda: section.crown,
                set_(lambda v, far: _section(v, "crown", far))),
            Row(tr("outside follows"), tr("The outside follows the opening: an arched band"), "switch", lambda: section.band,
                set_(lambda v, on: _section(v, "band", on))),
        ]  # fmt: skip
    return rows


def _item(values: tuple[float, ...], number: int) -> float:
    return values[number]


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


ROWS_OF: dict[type, Callable[[Any], list[Row]]] = {Tapered: _tapered, Prism: _prism, Framed: _framed}


def shape_rows(volume: AnyVolume | None) -> tuple[object, list[Row]]:
    """Return a key that changes when other rows are needed, and the rows of a volume's shape; none for other kinds."""
    make = ROWS_OF.get(type(volume))
    if volume is None or make is None:
        return None, []
    section = type(getattr(volume, "section", None)).__name__
    return (volume.id, type(volume).__name__, section), make(volume)


def counted(volume: AnyVolume | None) -> Prism | None:
    """Return a volume that is counted off on a squared card, else None."""
    return volume if isinstance(volume, Prism) and isinstance(volume.section, Counted) else None
