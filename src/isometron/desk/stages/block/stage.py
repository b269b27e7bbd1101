"""The Block stage: the tools, and sections for what is done with volumes."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from isometron.desk.controls.section import Later, Section, Sections
from isometron.desk.controls.tool_buttons import ToolButtons
from isometron.desk.frame.session import Session
from isometron.desk.stages.block.deeds_sections import Deeds, Shown
from isometron.wording import tr

__all__ = ["BlockStage"]


class BlockStage(QWidget):
    """Signals: ``tool_chosen`` with a tool's name; ``proportion_chosen`` with "free", "ratio" or "cube"."""

    tool_chosen = pyqtSignal(str)
    proportion_chosen = pyqtSignal(str)

    def __init__(self, session: Session, actions: list[QAction], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
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
        self.shapes = Later(session, tr("Shape"), tr("Tapered, chamfered, counted off, framed"), self._shapes)
        self.joins = Later(session, tr("Join, group, mirror"), tr("What goes along with what"), self._joins)
        self.proportion = Later(
            session, tr("Proportion"), tr("Modules, ratios, expressions, what is meant"), self._proportion
        )
        self.starting = Later(session, tr("Starters"), tr("Frameworks to begin with, to be changed"), self._starting)
        self.sections = Sections(
            session, [self.deeds, self.shapes, self.joins, self.proportion, self.starting, Shown(session)]
        )
        layout.addWidget(self.sections)

    def _shapes(self) -> Section:
        from isometron.desk.stages.block.sections import Shapes

        return Shapes(self._session)

    def _joins(self) -> Section:
        from isometron.desk.stages.block.sections import Joins

        return Joins(self._session, self._carry)

    def _proportion(self) -> Section:
        from isometron.desk.stages.check.proportion import Proportion

        return Proportion(self._session)

    def _starting(self) -> Section:
        from isometron.desk.stages.block.sections import Starting

        return Starting(self._session)

    def _carry(self) -> None:
        self.tool_chosen.emit("join")

    def mark_tool(self, name: str) -> None:
        """Show which tool is in use."""
        self.tools.mark(name)
