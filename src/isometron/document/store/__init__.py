"""Keeping a document: its file, versions of it, the disk, and how much may be in it."""
