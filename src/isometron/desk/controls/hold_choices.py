"""The choices of how a place is held, in words: a share, from either end by its middle or its edge, from another's middle."""

from __future__ import annotations

from isometron.document.lengths.typed_places import hold_kind
from isometron.document.model import Document
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.holds import Held, Measured
from isometron.wording import tr

__all__ = ["hold_choices", "hold_here", "thing_followed"]

_FOLLOWS = "middle of "
_MOST_OTHERS = 60


def hold_choices(
    word: str, ends: tuple[str, str], document: Document, volume: AnyVolume, *, edges: bool = False
) -> tuple[tuple[str, str], ...]:
    """Return words and values of the ways to hold a place; ends : what both ends of its way are called.

    edges : whether what is held has edges of its own that can be held flush.
    """
    start, end = ends
    choices = [
        (tr("{word}: share of the way", word=word), "share"),
        (tr("{word}: from the {end}", word=word, end=start), "start"),
        (tr("{word}: from the middle", word=word), "middle"),
        (tr("{word}: from the {end}", word=word, end=end), "end"),
    ]
    if edges:
        choices += [
            (tr("{word}: its edge from the {end}", word=word, end=start), "edge start"),
            (tr("{word}: its edge from the {end}", word=word, end=end), "edge end"),
        ]
    choices += [
        (tr("{word}: from the middle of {volume}", word=word, volume=other.name), _FOLLOWS + other.id)
        for other in document.volumes[:_MOST_OTHERS]
        if other.id != volume.id
    ]
    return tuple(choices)


def hold_here(held: Held) -> str:
    """Return the value of the choice that a place is held by."""
    return _FOLLOWS + held.thing if isinstance(held, Measured) and held.thing else hold_kind(held)


def thing_followed(how: str) -> str:
    """Return the id of the volume that a choice follows, empty for any other choice."""
    return how.removeprefix(_FOLLOWS) if how.startswith(_FOLLOWS) else ""
