"""Words laid out as words are: one after the other, and on the next line where one ends."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget

__all__ = ["Flow"]


class Flow(QLayout):
    """Lays widgets out in lines, each as wide as it asks for, and is as high as its lines."""

    def __init__(self, parent: QWidget | None = None, gap: int = 2) -> None:
        super().__init__(parent)
        self.setContentsMargins(0, 0, 0, 0)
        self._items: list[QLayoutItem] = []
        self._gap = gap

    def addItem(self, item: QLayoutItem | None) -> None:
        """Add an item at the end."""
        if item is not None:
            self._items.append(item)

    def count(self) -> int:
        """Return how many there are."""
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        """Return one of them."""
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        """Take one of them away."""
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        """It asks for no more than it needs."""
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        """Its height follows from its width."""
        return True

    def heightForWidth(self, width: int) -> int:
        """Return how high its lines are in so wide a place, pixels."""
        return self._lines(QRect(0, 0, width, 0), lay=False)

    def setGeometry(self, place: QRect) -> None:
        """Lay all out in a place."""
        super().setGeometry(place)
        self._lines(place, lay=True)

    def sizeHint(self) -> QSize:
        """Return the least size."""
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        """Return the room for the widest of them."""
        least = QSize()
        for item in self._shown():
            least = least.expandedTo(item.minimumSize())
        return least

    def _shown(self) -> list[QLayoutItem]:
        return [item for item in self._items if not item.isEmpty()]  # what is hidden takes no room

    def _lines(self, place: QRect, *, lay: bool) -> int:
        x, y, line = place.x(), place.y(), 0
        for item in self._shown():
            wide, high = item.sizeHint().width(), item.sizeHint().height()
            if x > place.x() and x + wide > place.x() + place.width():
                x, y, line = place.x(), y + line + self._gap, 0
            if lay:
                item.setGeometry(QRect(x, y, min(wide, place.width()), high))
            x, line = x + wide + self._gap, max(line, high)
        return y + line - place.y()
