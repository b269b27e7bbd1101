"""The Form stage."""
