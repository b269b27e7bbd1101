"""The outline of a turned body told by the picture under the sheet: where its foot stands, and half of its outline."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from isometron.document.model import Document
from isometron.document.pictures.placing import picture_under, to_paper, to_pixels
from isometron.geometry.frames import Floats
from isometron.match.outline import axle_between
from isometron.pictures.rasters import colours_of
from isometron.pictures.turned_outline import few_of, outline_about
from isometron.tools.pulling import on_plane

__all__ = ["Followed", "followed_outline"]

_UP = np.array([0.0, 0.0, 1.0])
_TURNS = 3
"""A hand's foot is rough: so often the outline is looked for about the foot that it told of the last time."""
_ALL_ALONG = 0.5
"""Of the foot's half width: over so many lines the axle is placed."""


@dataclass(frozen=True)
class Followed:
    """foot : (3,) where the axle stands; points : places on paper from the foot's end upward; straight : whether the side runs straight on
    from each."""

    foot: Floats
    points: list[tuple[float, float]]
    straight: list[bool]


def followed_outline(document: Document, foot: Floats, end: tuple[float, float]) -> Followed | None:
    """Return what the picture tells of the body whose axle stands about at ``foot`` (3,), with the foot's end about at a place on paper;
    None where it tells nothing."""
    picture = picture_under(document)
    pixels = None if picture is None else colours_of(picture, document.file_of(picture))
    if picture is None or pixels is None:
        return None
    eye, sheet = document.eye, document.sheet

    def on_paper(places: Floats) -> Floats:
        return np.array(to_paper(picture, sheet, places))

    def rim(pixel: Floats) -> float:
        ray = eye.ray(*map(float, on_paper(pixel[None])[0]))
        return abs(float(ray[2])) / float(np.sqrt(ray @ ray))

    points: list[tuple[float, float]] = []
    straight: list[bool] = []
    for _ in range(_TURNS):
        axle, depth = eye.project(np.array([foot, foot + _UP]))
        if not (depth > 0.0).all():
            return None
        tip, low, high = to_pixels(picture, sheet, [end, *axle])
        way = (high - low) / max(float(np.hypot(*(high - low))), 1e-12)
        aside = np.array([-way[1], way[0]])
        half = float((tip - low) @ aside)
        found = outline_about(pixels, low, way, half, rim)
        if found is None:
            return None
        out = np.sign(half) * aside
        own = low + found.ups[:, None] * way + found.own[:, None] * out
        # The axle lies beside the middle by as much all the way up: many lines tell it better than one.
        many = max(int(_ALL_ALONG * abs(half)), 8)
        beside = float(np.median((found.own - found.other)[:many]))
        ends = on_paper(np.array([own[0], own[0] - (2.0 * found.own[0] - beside) * out]))
        ground = [on_plane(eye, np.zeros(3), _UP, float(u), float(v)) for u, v in ends]
        if ground[0] is None or ground[1] is None:
            return None
        foot, end = np.append(axle_between(eye, ground[0], ground[1]), 0.0), (float(ends[0][0]), float(ends[0][1]))
        rows, straight = few_of(found.ups, found.own)
        points = [(float(u), float(v)) for u, v in on_paper(own[rows])]
    return Followed(foot, points, straight)
