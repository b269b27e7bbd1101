"""Shells of volumes: what shapes each, the parts that it is made of, and the closed surface that comes of them."""
