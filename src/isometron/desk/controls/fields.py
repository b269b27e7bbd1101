"""Fields for lengths and angles: typed text with a unit, refused with words, never losing the old value."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from isometron.desk.controls.earlier import Earlier
from isometron.document.lengths.typed import read_length
from isometron.document.lengths.units import (
    LengthError,
    UnitName,
    format_length,
    format_number,
    parse_angle,
    parse_length,
    parse_percent,
)
from isometron.document.model import Document
from isometron.wording import tr

__all__ = ["AngleField", "LengthField", "PaperField", "PercentField", "ValueField", "mark_refused", "plain_line"]


def mark_refused(field: QLineEdit, refused: bool) -> None:
    """Show whether a field refused what was typed; one that did keeps the keyboard."""
    if bool(field.property("refused")) == refused:
        return
    field.setProperty("refused", refused)
    style = field.style()
    assert style is not None
    style.unpolish(field)
    style.polish(field)


class ValueField(QLineEdit):
    """A line edit that holds a number. Signals: ``committed`` with a new value, ``refused`` with words."""

    committed = pyqtSignal(float)
    refused = pyqtSignal(str)

    def __init__(
        self,
        name: str,
        read: Callable[[str], float],
        write: Callable[[float], str],
        bounds: tuple[float, float] = (float("-inf"), float("inf")),
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setAccessibleName(name)
        self._read, self._write, self._bounds = read, write, bounds
        self.value: float | None = None
        self.returnPressed.connect(self._commit)
        self.textEdited.connect(lambda _: self._mark(False))

    def show_value(self, value: float | None) -> None:
        """Show a value, or nothing, without telling anyone."""
        self.value = value
        self.setText("" if value is None else self._write(value))
        self.setCursorPosition(0)
        self._mark(False)

    def _mark(self, refused: bool) -> None:
        mark_refused(self, refused)

    def take(self) -> None:
        """Take what has been typed so far, as Enter does."""
        self._commit()

    def _commit(self) -> None:
        if self.value is not None and self.text() == self._write(self.value):
            return
        try:
            value = self._read(self.text())
            low, high = self._bounds
            if not low <= value <= high:
                raise LengthError(
                    tr(
                        "{typed!r} is outside {least} to {most}.",
                        typed=self.text().strip(),
                        least=self._write(low),
                        most=self._write(high),
                    )
                )
        except LengthError as error:
            words = tr("{field}: {error} The old value stays.", field=self.accessibleName(), error=error)
            self.show_value(self.value)
            self.selectAll()
            self._mark(True)
            self.refused.emit(words)
            return
        self.show_value(value)
        self.committed.emit(value)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Leaving the field takes what was typed."""
        self._commit()
        super().focusOutEvent(event)
        self._mark(False)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape brings the old value back."""
        assert event is not None
        if event.key() == Qt.Key.Key_Escape and self.value is not None and self.text() != self._write(self.value):
            self.show_value(self.value)
            self.selectAll()
            return
        super().keyPressEvent(event)
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            event.accept()  # it is the field's own, and presses no button of a dialog


@cache
def _lengths_typed() -> Earlier:
    """What was typed into any field of a length."""
    return Earlier()


class LengthField(ValueField):
    """A length in mm, shown in the unit of the document that is there now and typed in any; names and modules of it count too.

    Up and Down bring back what was typed into such fields earlier.
    """

    def __init__(
        self,
        name: str,
        document: Callable[[], Document],
        bounds: tuple[float, float] = (-1e7, 1e7),
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(
            name,
            lambda text: read_length(text, document()),
            lambda mm: format_length(mm, document().unit),
            bounds,
            parent,
        )
        self.installEventFilter(_lengths_typed())

    def _commit(self) -> None:
        text, before = self.text().strip(), self.value
        super()._commit()
        if self.value != before:
            _lengths_typed().note(text)


class PaperField(ValueField):
    """A length on paper in mm, shown and typed in the unit that ``unit()`` gives."""

    def __init__(
        self,
        name: str,
        unit: Callable[[], UnitName],
        bounds: tuple[float, float] = (-1e7, 1e7),
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(
            name, lambda text: parse_length(text, unit()), lambda mm: format_length(mm, unit()), bounds, parent
        )


class AngleField(ValueField):
    """An angle in degrees."""

    def __init__(
        self, name: str, bounds: tuple[float, float] = (-360.0, 360.0), parent: QWidget | None = None
    ) -> None:
        super().__init__(name, parse_angle, lambda degrees: f"{format_number(degrees, 3)}°", bounds, parent)


class PercentField(ValueField):
    """A part of a hundred."""

    def __init__(self, name: str, bounds: tuple[float, float], parent: QWidget | None = None) -> None:
        super().__init__(name, parse_percent, lambda part: f"{format_number(part, 1)} %", bounds, parent)


def plain_line(name: str, hint: str) -> QLineEdit:
    """Return a line for an expression, with a hint of what may stand there."""
    line = QLineEdit()
    line.setAccessibleName(name)
    line.setPlaceholderText(hint)
    return line
