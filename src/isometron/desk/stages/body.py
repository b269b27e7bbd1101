"""What the bodies of stages have in common: the tools that the register gives them, and sections."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from isometron.desk.controls.section import Sections
from isometron.desk.controls.tool_buttons import ToolButtons
from isometron.desk.deeds.tools import TOOLS, ToolEntry
from isometron.desk.frame.session import Session
from isometron.wording import tr

__all__ = ["StageBody", "tool_buttons"]


def tool_buttons(tools: Iterable[ToolEntry]) -> ToolButtons:
    """Return buttons of tools, their keys at the right."""
    return ToolButtons([(tool.name, f"{tr(tool.words)}\t{tool.key}", tr(tool.tip)) for tool in tools])


class StageBody(QWidget):
    """The body of one stage. Signal: ``tool_chosen`` with a tool's name."""

    tool_chosen = pyqtSignal(str)

    def __init__(self, session: Session, name: str) -> None:
        super().__init__()
        self.session = session
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(6, 0, 5, 0)
        self.column.setSpacing(3)
        own = [tool for tool in TOOLS.values() if tool.stage == name and not tool.section]
        self.tools = tool_buttons(own)
        self.tools.chosen.connect(self.tool_chosen)
        self.sections: Sections | None = None
        if own:
            self.column.addWidget(self.tools)

    def mark_tool(self, name: str) -> None:
        """Show which of the stage's tools is in use, if any."""
        self.tools.mark(name)

    def use_tool(self, name: str) -> None:
        """Open the section with the settings of a tool that is taken up, if it has one here."""
        if self.sections is not None:
            self.sections.use(name)

    def finish(self) -> None:
        """The window closes, or is laid out anew: end what runs."""
