"""Frameworks to begin with: sized by a module, joined together, and meant to be changed."""
