"""Isometron: frameworks of boxes in true perspective, for people who draw products with a pencil.

The way through the house is one way: a ``Document`` (what is meant) is solved into a ``Drawing`` (what is
seen, in millimetres of paper), which every surface paints without computing any geometry of its own.
"""

import os

# Matrices here have three rows; threads of a linear algebra library would only wait for each other.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

__version__ = "0.1.0"
