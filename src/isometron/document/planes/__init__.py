"""Edits of planes that are kept by name, and of what they cut."""
