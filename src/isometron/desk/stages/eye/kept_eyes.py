"""Eyes that are kept by name: kept, gone to, forgotten; each with its own sheet."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QListWidget, QListWidgetItem

from isometron.desk.controls.deed_button import deed_tip
from isometron.desk.controls.fields import plain_line
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import px
from isometron.document.eyes.keeping import eye_now, eyes_of, forget_eye, go_to_eye, keep_eye
from isometron.view.sheet import paper_name
from isometron.wording import mark, tr

__all__ = ["KeptEyes"]

_SUGGESTED = (mark("front three-quarter"), mark("rear"), mark("from the kerb"), mark("from above"))


class KeptEyes(Section):
    """A list to go to by a click, a line to keep this eye under a name."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Kept eyes"), tr("Eyes by name, each with its own sheet"))
        self._words = self.words()
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Kept eyes"))
        self.list.setToolTip(deed_tip("next_eye", tr("A click goes there; one key walks through them")))
        self.list.itemClicked.connect(self._go)
        self.list.itemActivated.connect(self._go)
        self.list.setFixedHeight(px(120))
        self.column.addWidget(self.list)
        self.name = plain_line(tr("Name of this eye"), "")
        self.name.returnPressed.connect(self._keep)
        self.column.addWidget(self.name)
        self.button(
            tr("Keep this eye"), tr("Under the name above, with its sheet and the picture that shows"), self._keep
        )
        self._forget = self.button(tr("Forget it"), tr("The eye that is chosen in the list"), self._drop)

    def _go(self, item: QListWidgetItem) -> None:
        self.session.attempt(go_to_eye, item.data(Qt.ItemDataRole.UserRole))

    def _keep(self) -> None:
        name = self.name.text().strip() or self.name.placeholderText()
        if self.session.attempt(keep_eye, name):
            self.name.clear()
            self.session.say(tr("Kept as {name}. N walks through the eyes.", name=name))

    def _drop(self) -> None:
        item = self.list.currentItem()
        if item is not None:
            self.session.attempt(forget_eye, item.data(Qt.ItemDataRole.UserRole))

    def refresh(self) -> None:
        """Show the eyes by name, the present one marked."""
        document = self.session.document
        every, now = eyes_of(document), eye_now(document)
        self._words.setText("" if every else tr("None yet. Give this eye a name and keep it."))
        self._words.setVisible(not every)
        self.list.setVisible(bool(every))
        taken = {kept.name for kept in every}
        free = next((tr(words) for words in _SUGGESTED if tr(words) not in taken), tr("another eye"))
        self.name.setPlaceholderText(free)
        blocked = self.list.blockSignals(True)
        self.list.clear()
        for kept in every:
            here = now is not None and kept.name == now.name
            item = QListWidgetItem(
                f"{'● ' if here else ''}{kept.name}\n{paper_name(kept.sheet.width, kept.sheet.height)}"
            )
            item.setData(Qt.ItemDataRole.UserRole, kept.name)
            self.list.addItem(item)
            if here:
                self.list.setCurrentItem(item)
        self.list.blockSignals(blocked)
        self._forget.setVisible(bool(document.eyes))
