"""The Block stage: the tools, and sections for what is done with volumes."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from isometron.desk.block_sections import Deeds, Joins, Shapes, Shown, Starting
from isometron.desk.proportion_section import Proportion
from isometron.desk.section import Sections
from isometron.desk.session import Session
from isometron.desk.tool_buttons import ToolButtons
from isometron.wording import tr

__all__ = ["BlockStage"]


class BlockStage(QWidget):
    """Signals: ``tool_chosen`` with a tool's name; ``proportion_chosen`` with "free", "ratio" or "cube"."""

    tool_chosen = pyqtSignal(str)
    proportion_chosen = pyqtSignal(str)

    def __init__(self, session: Session, actions: list[QAction], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 2, 12, 12)
        layout.setSpacing(2)
        self.tools = ToolButtons(
            (
                ("point", tr("Point at\tP"), tr("Select volumes by pointing at them; Shift adds")),
                ("block", tr("Pull a block\tB"), tr("Three pulls: along, along the other way, up")),
                ("join", tr("Carry to a face\tJ"), tr("Drag a volume to a face of another one, which it goes along with then")),
                ("by_eye", tr("Cube by eye\tE"), tr("Draw a cube without figures, and hear how far it is off")),
                ("measure", tr("Measure\tM"), tr("True and drawn distance between any two points")),
            )
        )  # fmt: skip
        self.tools.chosen.connect(self.tool_chosen)
        layout.addWidget(self.tools)
        layout.addSpacing(4)
        self.deeds = Deeds(session, actions)
        self.deeds.proportion_chosen.connect(self.proportion_chosen)
        self.shapes, self.proportion = Shapes(session), Proportion(session)
        self.joins, self.starting = Joins(session, self._carry), Starting(session)
        self.sections = Sections(
            session, [self.deeds, self.shapes, self.joins, self.proportion, self.starting, Shown(session)]
        )
        layout.addWidget(self.sections)

    @property
    def group(self) -> Callable[[], None]:
        """What groups the selected volumes."""
        return self.joins.group

    def _carry(self) -> None:
        self.tool_chosen.emit("join")

    def mark_tool(self, name: str) -> None:
        """Show which tool is in use."""
        self.tools.mark(name)
