"""Edits of the eye."""
