"""Openings in bodies, hollow bodies, and what stands in openings."""
