"""The construction on the board: which volume by which school, how far it is played, kept true while the eye moves."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from isometron.construct.outcome import Construction, NotHere, Options
from isometron.desk.frame.session import Session
from isometron.desk.frame.settings import with_my_ruler

__all__ = ["SPEEDS", "Player"]

SPEEDS = {"slow": 5000, "steady": 2500, "quick": 1000}
"""Milliseconds a step is looked at while playing."""

_FRAME_MS = 30
_DRAWN_MS = 600


class Player(QObject):
    """Signals: ``changed`` when another step, school or volume is shown; ``drawing`` while a step is being drawn."""

    changed = pyqtSignal()
    drawing = pyqtSignal()

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.school: str | None = None
        self.volume: str | None = None
        self.answer: Construction | NotHere | None = None
        self.options = Options()
        self.number = 0
        self.progress = 1.0
        self.speed = "steady"
        self._next = QTimer(self)
        self._next.timeout.connect(self._play_on)
        self._pen = QTimer(self)
        self._pen.setInterval(_FRAME_MS)
        self._pen.timeout.connect(self._draw_on)
        session.document_changed.connect(self._follow)
        session.previewed.connect(self._follow)
        session.selection_changed.connect(self._selected)
        session.ring_picked.connect(self._follow)
        session.replaced.connect(self.close)

    @property
    def open(self) -> bool:
        """Whether a construction is on the board."""
        return self.school is not None

    @property
    def construction(self) -> Construction | None:
        """The construction shown, or None when there is none or the school cannot draw it."""
        return self.answer if isinstance(self.answer, Construction) else None

    @property
    def playing(self) -> bool:
        """Whether steps follow by themselves."""
        return self._next.isActive()

    def begin(self) -> bool:
        """Show the selected volume's construction from its first step; False when no volume is there to draw."""
        from isometron.construct.schools import first_school  # loaded with the first construction

        volumes = self._session.document.volumes
        if not volumes:
            return False
        row = self._session.active if self._session.active is not None else 0
        self.volume = volumes[row].id
        self.school = first_school(self._session.document, row) or "plan"
        self._construct(first=True)
        return True

    def take(self, school: str) -> None:
        """Show the same volume by another school, from its first step."""
        if self.open and school != self.school:
            self.school = school
            self._construct(first=True)

    def ask(self, **options: object) -> None:
        """Ask the school for another turn or place; the construction is shown anew at the same step."""
        self.options = replace(self.options, **options)  # type: ignore[arg-type]
        if self.open:
            self._construct(first=False)

    def close(self) -> None:
        """Take the construction off the board."""
        if self.open:
            self._next.stop()
            self._pen.stop()
            self.school = self.volume = self.answer = None
            self.changed.emit()

    def show_step(self, number: int) -> None:
        """Show the steps up to ``number`` (from 0), the last one being drawn."""
        construction = self.construction
        if construction is None:
            return
        number = min(max(number, 0), len(construction.steps) - 1)
        if number != self.number:
            self.progress = 0.0 if number > self.number else 1.0
            self.number = number
            if self.progress < 1.0:
                self._pen.start()
            self.changed.emit()

    def step(self, by: int) -> None:
        """Go steps on or back, by hand: playing stops."""
        self._next.stop()
        self.show_step(self.number + by)
        self.changed.emit()

    def play_or_pause(self) -> None:
        """Play from here, from the start when all is drawn; or pause."""
        construction = self.construction
        if construction is None:
            return
        if self.playing:
            self._next.stop()
        else:
            if self.number == len(construction.steps) - 1:
                self.show_step(0)
            self._next.start(SPEEDS[self.speed])
        self.changed.emit()

    def set_speed(self, speed: str) -> None:
        """Play slow, steady or quick."""
        self.speed = speed
        if self.playing:
            self._next.start(SPEEDS[speed])

    def _play_on(self) -> None:
        construction = self.construction
        if construction is None or self.number >= len(construction.steps) - 1:
            self._next.stop()
            self.changed.emit()
        else:
            self.show_step(self.number + 1)

    def _draw_on(self) -> None:
        self.progress = min(self.progress + _FRAME_MS / _DRAWN_MS, 1.0)
        if self.progress >= 1.0:
            self._pen.stop()
        self.drawing.emit()

    def _selected(self) -> None:
        if self.open and self._session.active is not None:
            chosen = self._session.document.volumes[self._session.active].id
            if chosen != self.volume:
                self.volume = chosen
                self._construct(first=True)

    def _follow(self) -> None:
        """The document has changed: the same step of the same construction, as it is now."""
        if not self.open:
            return
        if self.volume is None or self._session.document.index_of(self.volume) is None:
            self.close()
        else:
            self._construct(first=False)

    def _construct(self, *, first: bool) -> None:
        from isometron.construct.schools import construct

        assert self.volume is not None and self.school is not None
        ring = self._session.picked_ring
        options = replace(self.options, ring=ring[1] if ring is not None and ring[0] == self.volume else None)
        self.answer = construct(with_my_ruler(self._session.document), self.volume, self.school, options)
        last = 0 if self.construction is None else len(self.construction.steps) - 1
        self.number = 0 if first else min(self.number, last)
        if first:
            self.progress = 1.0
            self._next.stop()
        self.changed.emit()
