"""Edits of what lies on faces."""
