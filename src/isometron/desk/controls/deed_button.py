"""A button that is a deed's words, its key at the right edge."""

from __future__ import annotations

from isometron.desk.controls.words import WordButton, word_button
from isometron.desk.deeds.deed import key_words
from isometron.desk.deeds.register import DEEDS
from isometron.wording import tr

__all__ = ["deed_button", "deed_tip"]


def deed_button(name: str) -> WordButton:
    """Return a button for a deed; whoever makes it says what it does."""
    deed = DEEDS[name]
    return word_button(f"{tr(deed.words)}\t{key_words(deed.keys[0])}", "tool", tr(deed.tip))


def deed_tip(name: str, words: str) -> str:
    """Return words for a tip with the key of a deed."""
    return f"{words} ({key_words(DEEDS[name].keys[0])})"
