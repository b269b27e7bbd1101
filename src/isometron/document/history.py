"""Undo and redo over whole documents: values are shared between them, so a step costs next to nothing."""

from __future__ import annotations

from dataclasses import dataclass, field

from isometron.document.edits import Edit
from isometron.document.model import Document

__all__ = ["History"]

_MOST_STEPS = 2000


@dataclass
class History:
    """The document now, the steps behind it, and the steps undone ahead of it."""

    document: Document
    _past: list[tuple[str, Document]] = field(default_factory=list)
    _future: list[tuple[str, Document]] = field(default_factory=list)
    _saved: Document | None = None

    def __post_init__(self) -> None:
        if self._saved is None:
            self._saved = self.document

    def do(self, edit: Edit) -> bool:
        """Take an edit as one step; an edit that changes nothing leaves no step and returns False."""
        if edit.document == self.document:
            return False
        self._past.append((edit.name, self.document))
        del self._past[:-_MOST_STEPS]
        self._future.clear()
        self.document = edit.document
        return True

    @property
    def undo_name(self) -> str | None:
        """Name of the step that undo takes back, or None."""
        return self._past[-1][0] if self._past else None

    @property
    def redo_name(self) -> str | None:
        """Name of the step that redo brings again, or None."""
        return self._future[-1][0] if self._future else None

    def undo(self) -> bool:
        """Take the last step back; False when there is none."""
        if not self._past:
            return False
        name, before = self._past.pop()
        self._future.append((name, self.document))
        self.document = before
        return True

    def redo(self) -> bool:
        """Bring the last undone step again; False when there is none."""
        if not self._future:
            return False
        name, after = self._future.pop()
        self._past.append((name, self.document))
        self.document = after
        return True

    def mark_saved(self) -> None:
        """Remember the document now as the one on disk."""
        self._saved = self.document

    def mark_unsaved(self) -> None:
        """Count the document now as not on disk (a demo, a recovered one)."""
        self._saved = None

    @property
    def changed(self) -> bool:
        """Whether the document differs from the one on disk."""
        return self.document is not self._saved and self.document != self._saved
