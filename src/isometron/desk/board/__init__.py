"""The board: painted, pointed at, looked at."""
