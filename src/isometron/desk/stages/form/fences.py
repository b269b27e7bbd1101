"""A fence: posts in a row and the rails between them."""

from __future__ import annotations

from PyQt6.QtWidgets import QCheckBox, QComboBox

from isometron.desk.controls.section import Section
from isometron.desk.controls.words import Label
from isometron.desk.frame.session import Session
from isometron.document.shapes.roofs import fence
from isometron.wording import tr

__all__ = ["Fences"]


class Fences(Section):
    """How long and high it is, its posts and its rails."""

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Fence"), tr("Posts and rails"))
        grid = self.grid()
        self.long = self.waiting_length(grid, tr("length"), tr("How long it is"), 6000.0)
        self.high = self.waiting_length(grid, tr("height"), tr("Of its posts"), 1100.0)
        self.spacing = QComboBox()
        self.spacing.setAccessibleName(tr("Posts by"))
        for words, by in ((tr("pitch"), "pitch"), (tr("gap"), "gap"), (tr("how many posts"), "posts")):
            self.spacing.addItem(words, by)
        label = Label(tr("posts by"))
        label.setBuddy(self.spacing)
        row = grid.rowCount()
        grid.addWidget(label, row, 0)
        grid.addWidget(self.spacing, row, 1)
        self.apart = self.waiting_length(grid, tr("apart"), tr("From post to post, or clear between two"), 2000.0)
        self.count = self.waiting_count(grid, tr("posts"), 400)
        self.count.setValue(4)
        self.spacing.currentIndexChanged.connect(lambda _: self._spaced())
        self._spaced()
        self.post = self.waiting_length(grid, tr("post"), tr("How thick a post is"), 90.0)
        self.rail = self.waiting_length(grid, tr("rail"), tr("How thick a rail is"), 35.0)
        self.rails = self.waiting_count(grid, tr("rails"), 40)
        self.rails.setValue(2)
        self.before = QCheckBox(tr("rails before the posts"))
        self.before.setToolTip(tr("And not through them"))
        self.column.addWidget(self.before)
        self.button(tr("Lay a fence"), tr("In front of all that stands"), self._fence)

    def _spaced(self) -> None:
        """The figure that is asked for can be typed."""
        by_posts = self.spacing.currentData() == "posts"
        self.show_field(self.count, by_posts)
        self.show_field(self.apart, not by_posts)

    def _fence(self) -> None:
        self.session.attempt(
            lambda document: fence(
                document, long=self.long.value or 0.0, high=self.high.value or 0.0,
                by=self.spacing.currentData(),
                apart=self.count.value() if self.spacing.currentData() == "posts" else self.apart.value or 0.0,
                post=self.post.value or 0.0, rails=self.rails.value(), thick=self.rail.value or 0.0,
                before=self.before.isChecked(),
            )
        )  # fmt: skip
