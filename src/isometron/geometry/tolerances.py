"""Every tolerance of the program, each with its reason. Lengths are relative to a scale given by the caller."""

__all__ = ["MERGE_PARAMETER", "PARALLEL", "SAME_DIRECTION", "SAME_PLACE", "TOUCH"]

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
