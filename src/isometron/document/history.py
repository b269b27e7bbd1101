"""Undo and redo over whole documents: values are shared between them, so a step costs next to nothing."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

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
    _merging: str = ""

    @classmethod
    def of(cls, document: Document, *, saved: bool = True) -> History:
        """Return the history of a document that nothing was done to yet."""
        return cls(document, _saved=document if saved else None)

    def do(self, edit: Edit) -> bool:
        """Take an edit as one step; an edit that changes nothing leaves no step and returns False."""
        if edit.document == self.document:
            return False
        if edit.merges and edit.merges == self._merging and self._past:
            self._past[-1] = (edit.name, self._past[-1][1])
        else:
            self._past.append((edit.name, self.document))
        self._merging = edit.merges
        del self._past[:-_MOST_STEPS]
        self._future.clear()
        self.document = edit.document
        return True

    def kept(self) -> History:
        """Return a copy that stays as this is now: what `put_back` goes back to."""
        return replace(self, _past=list(self._past), _future=list(self._future))

    def put_back(self, kept: History) -> None:
        """Be as a kept copy was."""
        self.document, self._saved, self._merging = kept.document, kept._saved, kept._merging
        self._past[:], self._future[:] = kept._past, kept._future

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
        self._merging = ""
        name, before = self._past.pop()
        self._future.append((name, self.document))
        self.document = before
        return True

    def redo(self) -> bool:
        """Bring the last undone step again; False when there is none."""
        if not self._future:
            return False
        self._merging = ""
        name, after = self._future.pop()
        self._past.append((name, self.document))
        self.document = after
        return True

    def mark_saved(self) -> None:
        """Remember the document now as the one on disk."""
        self._saved = self.document

    @property
    def changed(self) -> bool:
        """Whether the document differs from the one on disk."""
        return self.document is not self._saved and self.document != self._saved
