"""The register of layers: a new one is one new file and one line here. Roles, not layers, order the painting."""

from __future__ import annotations

from isometron.solve.layers.aids import AIDS_LAYER
from isometron.solve.layers.carried import CARRIED
from isometron.solve.layers.courses import COURSES
from isometron.solve.layers.curves import CURVES
from isometron.solve.layers.edges import EDGES
from isometron.solve.layers.grids import GRIDS
from isometron.solve.layers.layer import Layer
from isometron.solve.layers.names import NAMES
from isometron.solve.layers.photographs import PHOTOGRAPHS
from isometron.solve.layers.rounds import ROUNDS
from isometron.solve.layers.sections import SECTIONS
from isometron.solve.layers.ticks import TICKS
from isometron.solve.layers.warnings import WARNINGS

__all__ = ["LAYERS"]

LAYERS: dict[str, Layer] = {
    "photographs": PHOTOGRAPHS,
    "carried": CARRIED,
    "grids": GRIDS,
    "aids": AIDS_LAYER,
    "ticks": TICKS,
    "rounds": ROUNDS,
    "edges": EDGES,
    "curves": CURVES,
    "courses": COURSES,
    "sections": SECTIONS,
    "names": NAMES,
    "warnings": WARNINGS,
}
