"""Plane and space geometry, vectorised; knows NumPy and nothing of the program."""
