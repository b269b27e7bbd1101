"""The template list of a sheet: for each ring that is drawn as an ellipse the template, and where it is laid on the paper."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from isometron.document.model import Document
from isometron.document.rack import Rack
from isometron.solve.drawing import Drawing
from isometron.solve.ring_facts import RingFact, ring_facts
from isometron.volumes.turned import Turned
from isometron.wording import tr

__all__ = ["FARTHEST", "TemplateLine", "has_rings", "template_list"]

FARTHEST = 2.0
"""mm on paper that a template may be off before it is better not laid at all."""

_DIGITS = {"axes": 2, "angle": 1, "centre": 2}
"""Digits after the point (mm, degrees) down to which rings are equal: finer than a pencil draws."""


@dataclass(frozen=True)
class TemplateLine:
    """Equal rings of a sheet: one ellipse, laid at one place or several.

    where : the volumes' names, with the ring's number where there are several, as Rounds tells them; diameter : true, mm, of the first; degree, major, minor : of the ellipse, degrees and
    full axes in mm of paper; axis : degrees that the major axis leans from level, counter-clockwise, -90 to 90; centres : from the
    sheet's left and lower edge, mm; template_degree, hole, gap : the best of the rack, degrees, full major axis and how far it
    is off at most, mm; None where none comes within `FARTHEST`.
    """

    where: tuple[str, ...]
    diameter: float
    degree: float
    major: float
    minor: float
    axis: float
    centres: tuple[tuple[float, float], ...]
    template_degree: float | None
    hole: float | None
    gap: float | None


def template_list(drawing: Drawing, rack: Rack | None = None) -> list[TemplateLine]:
    """Return the lines of the template list in the order of the volumes, put-away volumes left out; equal rings stand in one line.

    Rings that are seen as lines, or reach behind the eye, have no template and are not in it.
    """
    rack = Rack() if rack is None else rack
    lines: dict[tuple[float, ...], TemplateLine] = {}
    corner = drawing.document.sheet.centre_of_vision
    for owner, volume in enumerate(drawing.document.volumes):
        facts = ring_facts(drawing, owner, rack.degrees, rack.majors)
        for number, fact in enumerate(facts, start=1):
            if fact.picture.kind != "ellipse" or not fact.picture.semi_minor > 0.0:
                continue
            where = (
                volume.name if len(facts) == 1 else tr("{volume}, ring {number}", volume=volume.name, number=number)
            )
            line = _line(fact, where, corner)
            key = _alike(line)
            lines[key] = _joined(lines[key], line) if key in lines else line
    return list(lines.values())


def has_rings(document: Document) -> bool:
    """Whether anything in a document can have rings: a turned body, or a mark on a face."""
    return any(isinstance(volume, Turned) or volume.marks for volume in document.volumes)


def _line(fact: RingFact, name: str, corner: Iterable[float]) -> TemplateLine:
    picture, fit = fact.picture, fact.fit
    assert picture.centre is not None
    left, lower = (float(place + shift) for place, shift in zip(picture.centre, corner, strict=True))
    axis = 0.0 if picture.major_angle is None else (picture.major_angle + 90.0) % 180.0 - 90.0
    laid = fit if fit is not None and fit.gap <= FARTHEST else None
    return TemplateLine(
        (name,), fact.diameter, picture.degree, 2 * picture.semi_major, 2 * picture.semi_minor, axis, ((left, lower),),
        None if laid is None else laid.degree, None if laid is None else laid.major, None if laid is None else laid.gap,
    )  # fmt: skip


def _alike(line: TemplateLine) -> tuple[float, ...]:
    """Return what equal rings share: both axes, and their lean unless the ellipse is as good as round."""
    axes = (round(line.major, _DIGITS["axes"]), round(line.minor, _DIGITS["axes"]))
    angle = 0.0 if axes[0] == axes[1] else round(line.axis, _DIGITS["angle"]) % 180.0
    return (*axes, angle)


def _joined(first: TemplateLine, second: TemplateLine) -> TemplateLine:
    def place(centre: tuple[float, float]) -> tuple[float, ...]:
        return tuple(round(x, _DIGITS["centre"]) for x in centre)

    known = {place(centre) for centre in first.centres}
    centres = first.centres + tuple(centre for centre in second.centres if place(centre) not in known)
    names = first.where + tuple(name for name in second.where if name not in first.where)
    return TemplateLine(**{**vars(first), "where": names, "centres": centres})
