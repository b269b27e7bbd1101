"""Every tolerance of the program, each with its reason. Lengths are relative to a scale given by the caller."""

__all__ = [
    "CLOSE",
    "EXACT",
    "HAIR",
    "MERGE_PARAMETER",
    "NO_DEPTH",
    "PARALLEL",
    "SAME_DIRECTION",
    "SAME_PLACE",
    "SHORT_ARC",
    "TOUCH",
]

EXACT = 1e-12
"""Numbers of about one that differ by less are the same: what a handful of sines and products leaves of sixteen digits."""

CLOSE = 1e-9
"""Parts, ratios and sizes that differ by less are alike, and a length in mm that is less is none: a longer way of arithmetic."""

HAIR = 1e-6
"""A length in mm, or a part of one, too small to be drawn or pulled: a nanometre at furniture size."""

NO_DEPTH = 1e-200
"""A depth of less than this, mm, is none: dividing by it overflows."""

SHORT_ARC = 0.4
"""An arc of less than so many turns lies in the triangle of its ends and their tangents, which meet before half a turn."""

PARALLEL = 1e-12
"""|direction . look| below this: the direction is parallel to the picture and has no finite vanishing point.

Twelve digits are what a rotation keeps after a handful of sines; the reference cases keep clear of 1e-12 to 1e-3.
"""

TOUCH = 1e-9
"""A point nearer than TOUCH x scale to a plane lies on it. Touching is not hiding.

A few hundred times the rounding of the dot product that measures it, and still nanometres at furniture size.
"""

MERGE_PARAMETER = 1e-7
"""Gaps and intervals of an edge shorter than this part of its length are dropped: two hidden parts that meet."""

SAME_DIRECTION = 1e-8
"""Components of unit vectors are rounded to this when edges are sorted by the line they lie on."""

SAME_PLACE = 1e-4
"""Millimetres to which places are rounded when edges are sorted by the line they lie on (a tenth of a micron)."""
