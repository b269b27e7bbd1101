"""Plane and space geometry, vectorised; knows NumPy and nothing of the program."""

from isometron.uncompiled import stand_in

stand_in()
