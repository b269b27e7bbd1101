"""One stage, a file a section."""
