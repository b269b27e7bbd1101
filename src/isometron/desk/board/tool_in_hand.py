"""The tool in hand: runs one tool's generator, keeps what it shows and what has been typed, takes its edit."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from isometron.desk.frame.session import Session
from isometron.document.model import Document
from isometron.tools.pencil import Act, Pencil, Preview, Tool, ToolContext

__all__ = ["MakeTool", "ToolInHand"]

MakeTool = Callable[[ToolContext], Tool]


class ToolInHand(QObject):
    """At most one tool, taken up again after each edit until it is laid aside.

    Signals: ``prompted`` with its words and a refusal; ``changed`` when what it shows, or whether there is one, changed;
    ``done_once`` when a tool that is taken up for one deed has done it; ``laid`` with
    the id of the volume that has a mark more after what a tool has done.
    """

    prompted = pyqtSignal(str, str)
    changed = pyqtSignal()
    done_once = pyqtSignal()
    laid = pyqtSignal(str)

    def __init__(self, session: Session, context: Callable[[], ToolContext], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._context = context
        self._make: MakeTool | None = None
        self._once = False
        self._tool: Tool | None = None
        self.preview: Preview | None = None
        self.typed = ""
        self._refused = ""

    @property
    def lasting(self) -> bool:
        """Whether a drawing tool is in use (not just a handle for one stroke)."""
        return self._make is not None

    @property
    def active(self) -> bool:
        """Whether there is anything to send the pencil's acts to."""
        return self._tool is not None

    @property
    def busy(self) -> bool:
        """Whether it has begun something that Escape would take back."""
        return self.preview is not None and self.preview.step is not None

    @property
    def takes_words(self) -> bool:
        """Whether figures that are typed are meant for it, begun or not."""
        return self.preview is not None and (self.preview.step is not None or self.preview.takes_words)

    @property
    def speaks(self) -> bool:
        """Whether it names what it would act on."""
        return self.preview is not None and bool(self.preview.notes)

    @property
    def edits(self) -> bool:
        """Whether it is showing what the document would become."""
        return self.preview is not None and self.preview.edit is not None

    def take(self, make: MakeTool | None, *, once: bool = False) -> None:
        """Take a tool up, for one deed or for as many as are wanted, or lay the present one aside with None; nothing half done remains."""
        self._make, self._once = make, once
        self.restart()

    def begin(self, tool: Tool) -> None:
        """Begin a tool for one stroke."""
        self._tool = tool
        self._show(next(tool))

    def let_fall(self) -> None:
        """Lay the tool aside without asking it: it has failed."""
        self._make, self._tool, self.preview, self.typed, self._refused = None, None, None, "", ""
        self.prompted.emit("", "")
        self.changed.emit()

    def restart(self) -> None:
        """Drop what is half done and take the tool up anew."""
        if self._tool is not None:
            self._tool.close()
            self._session.drop_preview()
        self._tool, self.preview, self.typed, self._refused = None, None, "", ""
        if self._make is not None:
            self.begin(self._make(self._context()))
        else:
            self.prompted.emit("", "")
            self.changed.emit()

    def send(self, act: Act, u: float, v: float, *, straight: bool = False) -> bool:
        """Send an act; tell whether it finished a step of the stroke, or the stroke."""
        if self._tool is None:
            return False
        before = self.preview.step if self.preview is not None else None
        try:
            if self._sent(self._tool, Pencil(act, u, v, self.typed, straight)):
                return True
        except Exception:
            self.let_fall()
            raise
        return self.preview is None or self.preview.step != before

    def _sent(self, tool: Tool, pencil: Pencil) -> bool:
        """Send the pencil to the tool; tell whether that finished its stroke."""
        try:
            preview = tool.send(pencil)
            if pencil.act is not Act.MOVE:
                # Letting go after a press that was refused is no deed.
                lets_go = pencil.act is Act.RELEASE and self.preview is not None and preview.step == self.preview.step
                self._refused = preview.refusal or (self._refused if lets_go else "")
            self._show(preview)
        except StopIteration as end:
            refused = "" if self.preview is None else self.preview.refusal
            self._tool = None
            if end.value is not None:
                before = self._session.settled
                self._session.do(end.value)
                for volume in _laid_on(before, self._session.settled):
                    self.laid.emit(volume)
            else:
                self._session.drop_preview()
            if end.value is not None and self._once:
                self._make = None
            self.restart()
            if end.value is not None and self._once:
                self._once = False
                self.done_once.emit()
            # Both stand until the next deed, although the prompt is another one now.
            if end.value is not None:
                self._session.tell()
            if refused and pencil.act is Act.RELEASE:
                self._session.say(refused, caution=True)
            return True
        return False

    def _show(self, preview: Preview) -> None:
        self.preview = preview
        if preview.edit is not None:
            self._session.show(preview.edit)
        # Why something was refused stands until the next deed, and not until the hand moves.
        self.prompted.emit(preview.prompt, preview.refusal or self._refused)
        self.changed.emit()


def _laid_on(before: Document, after: Document) -> list[str]:
    """Return the ids of the volumes that have more marks than before."""
    counts = {volume.id: len(volume.marks) for volume in before.volumes}
    return [volume.id for volume in after.volumes if len(volume.marks) > counts.get(volume.id, len(volume.marks))]
