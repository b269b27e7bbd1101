"""The root of every error that Isometron raises on purpose."""

__all__ = ["IsometronError"]


class IsometronError(Exception):
    """Something the person can mend: the message names the place, the rule and the value received."""
