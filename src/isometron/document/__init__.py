"""What the sketcher means: an immutable document, its edits and history, units, and the file it is saved in."""
