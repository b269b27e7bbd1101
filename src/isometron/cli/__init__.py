"""The command line: the same engine, no display needed."""
