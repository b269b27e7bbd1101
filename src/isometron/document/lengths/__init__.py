"""Lengths as they are typed and worked out: units, expressions, sizes, places, what is meant."""
