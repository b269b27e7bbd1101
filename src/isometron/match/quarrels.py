"""Which marks quarrel with all others: those far off the eye, or, where the eye itself gave way, those without which the others agree."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from isometron.match.solving.camera import Layout
from isometron.match.solving.solver import Fit, followed

__all__ = ["quarrelling"]

_FAR, _LEAST_FAR = 4.0, 1.0
"""A mark so many standard deviations and px off the eye that the others gave quarrels with them."""
_CHANCE = 1e-3
"""So seldom would right marks be blamed, all of a picture together."""
_LEAST, _SUSPECT = 3.0, 1.5
"""px: what a blamed mark is off by at least when the others have settled the eye, and the noise that makes anybody look."""
_MOST, _SPARE = 8, 2


def quarrelling(found: Fit, misfits: Sequence[float]) -> list[int]:
    """Return the marks, lines first, that no eye agrees with together with the others, the worst first.

    Where one wrong mark has drawn the eye along so that none is far off, each of the worst is left out in turn, and blamed by the F test for
    what one mark adds to the sum of squares (any text on regression diagnostics). It is blamed only where enough is to spare without it: of
    two marks that disagree nobody can tell which is wrong.
    """
    order = sorted(range(len(misfits)), key=lambda n: -misfits[n])
    far = [n for n in order if misfits[n] > max(_FAR * found.noise, _LEAST_FAR)]
    if far or found.noise < _SUSPECT:
        return far
    worst = _worst(found, order[:_MOST], len(order))
    return [] if worst is None else [worst]


def _worst(found: Fit, tried: list[int], total: int) -> int | None:
    """Return the mark whose absence betters the fit most beyond chance."""
    from scipy.special import fdtrc  # only a match needs it

    whole, likeliest, worst = _squares(found), _CHANCE / total, None
    for number in tried:
        layout = _without(found.layout, number)
        other = None if layout is None else followed(layout, found)
        if other is None or other.over < _SPARE or found.over <= other.over:
            continue
        more, rest = found.over - other.over, max(_squares(other), 1e-6)
        gained = max(whole - rest, 0.0) / more
        chance = float(fdtrc(more, other.over, gained / (rest / other.over)))
        if chance < likeliest and gained > _LEAST**2:
            likeliest, worst = chance, number
    return worst


def _squares(found: Fit) -> float:
    own = found.off[found.owner >= 0]
    return float(own @ own)


def _without(layout: Layout, number: int) -> Layout | None:
    """Return the layout without a mark; None where a thing or a box would go with it."""
    marks = layout.marks
    lines = tuple(line for n, line in enumerate(marks.lines) if n != number)
    rings = tuple(ring for n, ring in enumerate(marks.rings, len(marks.lines)) if n != number)
    left = msgspec.structs.replace(marks, lines=lines, rings=rings)
    other = Layout(left, level=layout.level, bent=layout.bent, centred=layout.centred)
    return other if other.objects == layout.objects and other.boxes == layout.boxes else None
