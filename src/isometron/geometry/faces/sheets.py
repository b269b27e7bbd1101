"""Where rounds that are cut off aslant turn away from the eye."""

from __future__ import annotations

import numpy as np

from isometron.geometry.frames import Floats, Ints
from isometron.geometry.tolerances import HAIR

__all__ = ["sheet_outlines"]


def sheet_outlines(sheets: Floats, eye: Floats) -> tuple[Floats, Ints]:
    """Return the lines (N, 2, 3) along which sight lines touch sheets (K, 18), and the sheets (N,); see `RoundParts`.

    In the measure of its half axes a round is the unit circle, and the tangents from (x, y) touch it at the angles with
    x cos t + y sin t = 1.
    """
    if len(sheets) == 0:
        return np.zeros((0, 2, 3)), np.zeros(0, dtype=np.intp)
    off = eye - sheets[:, :3]
    x, y = (
        (off * half).sum(axis=1) / np.maximum((half * half).sum(axis=1), 1e-300)
        for half in (sheets[:, 3:6], sheets[:, 6:9])
    )
    away = np.hypot(x, y)
    with np.errstate(divide="ignore", invalid="ignore"):
        half = np.arccos(1.0 / away)
    found, rows = [], []
    for sign in (1.0, -1.0):
        start, sweep = sheets[:, 12], sheets[:, 15] - sheets[:, 12]
        angle = np.arctan2(y, x) + sign * half
        turn = ((angle - start) * np.sign(sweep)) % (2 * np.pi)
        row = np.flatnonzero((away > 1.0) & (turn < np.abs(sweep)))
        part = (turn[row] / np.abs(sweep[row]))[:, None]
        low, high = sheets[row, 13:15], sheets[row, 16:18]
        reach = low + part * (high - low)
        place = (
            sheets[row, :3]
            + np.cos(angle[row])[:, None] * sheets[row, 3:6]
            + np.sin(angle[row])[:, None] * sheets[row, 6:9]
        )
        lines = place[:, None] + reach[:, :, None] * sheets[row, None, 9:12]
        kept = reach[:, 1] - reach[:, 0] > HAIR
        found.append(lines[kept])
        rows.append(row[kept])
    return np.concatenate(found), np.concatenate(rows)
