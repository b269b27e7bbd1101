"""What hides what, in compiled loops: see `sight`."""
