"""Warnings that a volume is told to be quiet about, by their kind."""

from __future__ import annotations

from collections.abc import Sequence

from isometron.document.edits import Edit, change_volume
from isometron.document.model import Document
from isometron.wording import tr

__all__ = ["hush"]


def hush(document: Document, code: str, ids: Sequence[str], *, quiet: bool) -> Edit:
    """Let a kind of warning be quiet of the first volume of ``ids``, or speak again of all of them."""
    edit = Edit("", document)
    words = tr("be quiet about") if quiet else tr("let speak again of")
    for volume_id in ids[:1] if quiet else ids:
        volume = edit.document.volume(volume_id)
        others = tuple(each for each in volume.quiet if each != code)
        # Floating has a field of its own, which older programs know.
        fields: dict[str, object] = (
            {"hangs": quiet, "quiet": others}
            if code == "floating"
            else {"quiet": (*others, code) if quiet else others}
        )
        edit = change_volume(edit.document, volume_id, words, **fields)
    return edit
