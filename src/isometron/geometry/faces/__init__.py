"""Flat faces: bodies cut by outlines, and faces with holes as what hides."""
