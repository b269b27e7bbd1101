"""What the drawing shows beside the object lines."""

from __future__ import annotations

import msgspec
from PyQt6.QtWidgets import QCheckBox

from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.document.edits import change_document
from isometron.wording import tr

__all__ = ["Shown"]


class Shown(Section):
    """What the drawing shows beside the object lines."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Show"), tr("Hidden lines, construction, names"))
        self.boxes = {
            "hidden": QCheckBox(tr("hidden lines, dashed")),
            "construction": QCheckBox(tr("construction lines")),
            "names": QCheckBox(tr("names on the sheet")),
        }
        for key, box in self.boxes.items():
            box.clicked.connect(lambda on, k=key: self._changed(k, on))
            self.column.addWidget(box)

    def _changed(self, key: str, on: bool) -> None:
        value = ("dashed" if on else "left out") if key == "hidden" else on
        name = {"hidden": tr("hidden lines"), "construction": tr("construction lines"), "names": tr("names")}[key]
        show = msgspec.structs.replace(self.session.document.show, **{key: value})
        self.session.attempt(
            change_document, tr("show {name}", name=name) if on else tr("leave out {name}", name=name), show=show
        )

    def refresh(self) -> None:
        """Show the document's switches."""
        show = self.session.document.show
        self.boxes["hidden"].setChecked(show.hidden == "dashed")
        self.boxes["construction"].setChecked(show.construction)
        self.boxes["names"].setChecked(show.names)
