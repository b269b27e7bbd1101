"""Edits of what a volume is shaped by."""
