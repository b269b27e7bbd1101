"""What a person is told to do: one form of sentence for each thing that ruler and compass can do.

A step's sentence is made of these and of nothing else, so that whoever follows the words alone lands on the drawing: every
point is named, every side is said, every length is printed as it is to be laid off.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import atan2, degrees

from isometron.wording import tr

__all__ = [
    "ANGLE",
    "across_ring",
    "along_ring",
    "also",
    "by_hand",
    "crossing",
    "firmly",
    "half_circle",
    "halving",
    "joined",
    "laid_off",
    "level",
    "lying",
    "marked",
    "named",
    "parallel",
    "ruled",
    "slanted",
    "square_to",
    "swung",
    "upright",
    "way_word",
]

ANGLE = ".2f"
"""How angles are printed: a hundredth of a degree is 0.07 mm at the far side of an A3 sheet."""

_STEEP = 1e-9
"""Below this a direction is level or upright to any pencil."""


def way_word(du: float, dv: float) -> str:
    """Return to which side a direction on paper runs: the side that it runs to most."""
    if abs(du) >= abs(dv):
        return tr("to the right") if du >= 0.0 else tr("to the left")
    return tr("upwards") if dv >= 0.0 else tr("downwards")


# --- lines ------------------------------------------------------------------------------------------------------------


def joined(one: str, other: str) -> str:
    """Return what the line through two points is called."""
    return f"{one}–{other}"


def level(through: str) -> str:
    """Return what the level line through a point is called."""
    return tr("the level line through {point}", point=through)


def upright(through: str) -> str:
    """Return what the upright through a point is called."""
    return tr("the upright through {point}", point=through)


def parallel(line: str, through: str) -> str:
    """Return what the parallel to a line through a point is called."""
    return tr("the parallel to {line} through {point}", line=line, point=through)


def square_to(line: str, through: str) -> str:
    """Return what the line square to another through a point is called."""
    return tr("the line square to {line} through {point}", line=line, point=through)


def halving(corner: str, one: str, other: str) -> str:
    """Return what the line that halves an angle is called."""
    return tr("the line that halves the angle {one}–{corner}–{other}", one=one, corner=corner, other=other)


def slanted(through: str, du: float, dv: float) -> str:
    """Return what a line at a measured angle is called; level and upright ones by their own names."""
    if abs(dv) <= _STEEP * abs(du):
        return level(through)
    if abs(du) <= _STEEP * abs(dv):
        return upright(through)
    return tr("the line through {point} that {lies}", point=through, lies=lying(du, dv))


def lying(du: float, dv: float) -> str:
    """Return how a direction lies on the paper, by its angle to the level."""
    angle = degrees(atan2(dv, du))
    angle = angle - 180.0 if angle > 90.0 else angle + 180.0 if angle <= -90.0 else angle
    if angle < 0.0:
        return tr("falls {angle}° to the right", angle=format(-angle, ANGLE))
    return tr("rises {angle}° to the right", angle=format(angle, ANGLE))


# --- deeds ------------------------------------------------------------------------------------------------------------


def marked(name: str, place: str) -> str:
    """Mark a point by its ruler distances."""
    return tr("Mark {point}, {place}.", point=name, place=place)


def also(name: str, other: str) -> str:
    """Give a point a second name."""
    return tr("{point} is also {other}.", point=other, other=name)


def named(line: str, title: str) -> str:
    """Rule a line that has a name of its own from now on."""
    return tr("Rule {line}: {title}.", line=line, title=title)


def ruled(lines: Sequence[str]) -> str:
    """Rule lines that only have to be seen."""
    return tr("Rule {lines}.", lines=_listed(lines))


def crossing(name: str, one: str, other: str) -> str:
    """Mark where two lines cross."""
    return tr("Mark {point} where {one} crosses {other}.", point=name, one=one, other=other)


def laid_off(name: str, start: str, length: str, line: str, way: str, true: str = "") -> str:
    """Lay off a length along a line; ``true`` is what it stands for."""
    stands = tr(", for {true}", true=true) if true else ""
    return tr("From {start} lay off {length} {way} along {line}{stands}: {point}.",
              start=start, length=length, way=way, line=line, stands=stands, point=name)  # fmt: skip


def swung(name: str, centre: str, start: str, line: str, way: str) -> str:
    """Swing a length with the compass onto a line."""
    return tr("Compass in {centre}: swing {start} onto {line}, {way}: {point}.",
              centre=centre, start=start, line=line, way=way, point=name)  # fmt: skip


def half_circle(name: str, one: str, other: str, line: str, way: str) -> str:
    """Draw a half circle over two points up to a line."""
    return tr("Draw the half circle over {one} and {other}; mark {point} where it crosses {line}, {way}.",
              one=one, other=other, point=name, line=line, way=way)  # fmt: skip


def along_ring(place: str, long: str, short: str, axis: str) -> str:
    """Draw an ellipse by its centre and axes."""
    return tr("Draw the ellipse with its centre {place}, {long} long and {short} across; its long axis {axis}.",
              place=place, long=long, short=short, axis=axis)  # fmt: skip


def across_ring(name: str, line: str, way: str) -> str:
    """Mark where a line crosses the ellipse that was drawn last."""
    return tr("Mark {point} where {line} crosses the ellipse, {way}.", point=name, line=line, way=way)


def firmly(edges: Sequence[str]) -> str:
    """Draw edges of the object."""
    return tr("Draw {edges} firmly.", edges=_listed(edges))


def by_hand(one: str, other: str) -> str:
    """Draw a bend between two points."""
    return tr("Draw the bend from {one} to {other} by hand.", one=one, other=other)


def _listed(words: Sequence[str]) -> str:
    return words[0] if len(words) == 1 else tr("{first} and {last}", first=", ".join(words[:-1]), last=words[-1])
