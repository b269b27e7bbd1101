"""The handbook: its pages in a list, one open beside it, words found in all of them. It ships with the program."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QKeyEvent, QTextBlockFormat, QTextCursor, QTextDocument
from PyQt6.QtWidgets import QDialog, QGridLayout, QLineEdit, QListWidget, QListWidgetItem, QTextBrowser, QWidget

from isometron.desk.controls.words import Label
from isometron.desk.frame.theme import Tone, px
from isometron.wording import tr

__all__ = ["PAGES", "HandbookCard", "page_text"]

PAGES = (
    "first-hour", "eye", "block", "divide", "rounds", "form", "check", "hand-on", "photographs", "constructions",
    "words", "keys", "marks", "command-line",
)  # fmt: skip
"""Pages in the order of the list: Markdown files of assets/handbook."""

_LIST = 176
_PROPORTIONAL: int = QTextBlockFormat.LineHeightTypes.ProportionalHeight.value  # type: ignore[assignment]


def _home() -> Path:
    return Path(str(resources.files("isometron.assets").joinpath("handbook")))


def page_text(name: str) -> str:
    """Return a page of `PAGES` as Markdown."""
    return (_home() / f"{name}.md").read_text(encoding="utf-8")


def _give_air(document: QTextDocument) -> None:
    """Set paragraphs apart, and lines a little too."""
    block = document.begin()
    while block.isValid():
        form = block.blockFormat()
        form.setTopMargin(px(16 if form.headingLevel() else 5))
        form.setBottomMargin(px(5))
        form.setLineHeight(125.0, _PROPORTIONAL)
        QTextCursor(block).setBlockFormat(form)
        block = block.next()


class HandbookCard(QDialog):
    """A window of its own, so that one can read beside the work; Escape puts it away."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Handbook"))
        self.resize(px(900), px(640))
        self._texts = {name: page_text(name) for name in PAGES}
        self.sought = QLineEdit()
        self.sought.setPlaceholderText(tr("find a word"))
        self.sought.setAccessibleName(tr("Find a word in the handbook"))
        self.sought.textChanged.connect(self._sift)
        self.sought.returnPressed.connect(self._find_next)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Pages"))
        for name, text in self._texts.items():
            item = QListWidgetItem(text.partition("\n")[0].lstrip("# "))
            item.setData(Qt.ItemDataRole.UserRole, name)
            self.list.addItem(item)
        self.list.currentItemChanged.connect(lambda item, _: self._show(item))
        self.page = QTextBrowser()
        self.page.setOpenExternalLinks(False)
        self.page.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)  # all of it wraps
        self.page.setSearchPaths([str(_home())])
        self.page.document().setDefaultStyleSheet(f"a {{ color: {Tone.ACCENT_TEXT}; }}")  # type: ignore[union-attr]
        self.page.setStyleSheet(
            f"QTextBrowser {{ background: {Tone.FIELD}; border: 1px solid {Tone.RULE}; padding: 12px; }}"
        )
        self._none = Label(tr("No page has it."))
        self._none.setObjectName("quiet")
        self._none.hide()
        layout = QGridLayout(self)
        layout.setContentsMargins(12, 12, 12, 12)
        layout.addWidget(self.sought, 0, 0)
        layout.addWidget(self.list, 1, 0)
        layout.addWidget(self._none, 2, 0)
        layout.addWidget(self.page, 0, 1, 3, 1)
        self.list.setFixedWidth(px(_LIST))
        self.sought.setFixedWidth(px(_LIST))
        layout.setColumnStretch(1, 1)
        self.list.setCurrentRow(0)

    def turn_to(self, name: str) -> None:
        """Open a page of `PAGES`."""
        self.list.setCurrentRow(PAGES.index(name))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter in the field finds on, and closes nothing."""
        if event is None or event.key() not in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            super().keyPressEvent(event)

    def _show(self, item: QListWidgetItem | None) -> None:
        if item is None:
            return
        document = self.page.document()
        assert document is not None
        document.setBaseUrl(QUrl.fromLocalFile(f"{_home()}/"))
        document.setMarkdown(
            self._texts[item.data(Qt.ItemDataRole.UserRole)], QTextDocument.MarkdownFeature.MarkdownNoHTML
        )
        _give_air(document)
        self.page.moveCursor(QTextCursor.MoveOperation.Start)
        if self.sought.text():
            self.page.find(self.sought.text())

    def _sift(self, words: str) -> None:
        """Keep the pages that hold the words, and show them in the open one."""
        wanted, first = words.casefold(), None
        for row, text in enumerate(self._texts.values()):
            item = self.list.item(row)
            assert item is not None
            item.setHidden(wanted not in text.casefold())
            if not item.isHidden() and first is None:
                first = row
        here = self.list.currentItem()
        self._none.setVisible(first is None)
        if first is not None and (here is None or here.isHidden()):
            self.list.setCurrentRow(first)
        else:
            self._show(here)

    def _find_next(self) -> None:
        """Go on to the next place in the page, from its start again after the last one."""
        if not self.page.find(self.sought.text()):
            self.page.moveCursor(QTextCursor.MoveOperation.Start)
            self.page.find(self.sought.text())
