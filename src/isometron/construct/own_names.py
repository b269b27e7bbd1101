"""Vanishing points of a construction under the names that a person gave them."""

from __future__ import annotations

import re
from dataclasses import replace

from isometron.construct.outcome import Construction, Spot, Step
from isometron.document.eyes.point_names import point_word
from isometron.document.model import Document

__all__ = ["with_own_names"]

_POINT = re.compile(r"VP (\w+)")


def with_own_names(document: Document, done: Construction) -> Construction:
    """Return a construction whose points, and the sentences that name them, have the document's own names."""
    if not document.points:
        return done
    names: dict[str, str] = {}
    for spot in (spot for step in done.steps for spot in step.points):
        found = _POINT.fullmatch(spot.name)
        word = found and point_word(document, spot.at, found[1])
        if found and word != found[1]:
            names[spot.name] = f"VP {word}"
    return replace(done, steps=tuple(_renamed(step, names) for step in done.steps)) if names else done


def _renamed(step: Step, names: dict[str, str]) -> Step:
    def words(text: str) -> str:
        return _POINT.sub(lambda found: names.get(found[0], found[0]), text)

    points = tuple(Spot(names.get(spot.name, spot.name), spot.u, spot.v) for spot in step.points)
    return replace(step, sentence=words(step.sentence), why=words(step.why), points=points)
