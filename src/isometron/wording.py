"""The program's own words, in the reader's language where a catalogue for it ships with the program.

Every text a person reads passes through `tr`, with its values by name so that a translator can order them. The
language is that of the environment when the program starts (LANGUAGE, LC_ALL, LC_MESSAGES, LANG, in that order).
"""

from __future__ import annotations

import os
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from gettext import NullTranslations

__all__ = ["CATALOGUES", "count_words", "mark", "tr"]

CATALOGUES = Path(__file__).parent / "assets" / "languages"
"""Holds ``<language>/LC_MESSAGES/isometron.mo``; the environment's ISOMETRON_LANGUAGES names another folder."""


def _catalogue() -> NullTranslations | None:
    folder = Path(os.environ.get("ISOMETRON_LANGUAGES", CATALOGUES))
    if not folder.is_dir():
        return None
    from gettext import GNUTranslations, translation

    found = translation("isometron", folder, fallback=True)
    return found if isinstance(found, GNUTranslations) else None


_FOUND = _catalogue()


def tr(words: str, /, **values: object) -> str:
    """Return ``words`` in the reader's language, its ``{names}`` filled with ``values``."""
    if _FOUND is not None:
        words = _FOUND.gettext(words)
    return words.format(**values) if values else words


def mark(words: str, /) -> str:
    """Return ``words`` unchanged, noted for the catalogues: a key here that `tr` shows later."""
    return words


def count_words(one: str, many: str, count: int, /, **values: object) -> str:
    """Return the form of a text that fits ``count`` (also available in it as ``{count}``)."""
    own = one if count == 1 else many
    words = own if _FOUND is None else _FOUND.ngettext(one, many, count)
    return words.format(count=count, **values)
