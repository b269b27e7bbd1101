"""Work beside the window: one job at a time in a thread of its own, with its progress in a bar, and a way to call it off."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from threading import Event
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QWidget

from isometron.desk.controls.words import Label
from isometron.desk.frame.theme import px
from isometron.errors import IsometronError
from isometron.progress import CancelledError, Tell
from isometron.wording import tr

__all__ = ["LongWork", "WorkBar"]

_POLL_MS = 40
_SHOWN_AFTER = 5
"""Looks; what is done sooner shows no bar."""


class LongWork(QObject):
    """Runs jobs. Signals: ``changed`` when one begins, comes on or ends; ``said`` with words and whether a caution."""

    changed = pyqtSignal()
    said = pyqtSignal(str, bool)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool: ThreadPoolExecutor | None = None
        self._job: Future[Any] | None = None
        self._done: Callable[[Any], None] = print
        self._stop = Event()
        self._looks = 0
        self.words = ""
        self.share = 0.0
        self._timer = QTimer(self)
        self._timer.setInterval(_POLL_MS)
        self._timer.timeout.connect(self._look)

    @property
    def running(self) -> bool:
        """Whether a job is under way."""
        return self._job is not None

    @property
    def shown(self) -> bool:
        """Whether the job has taken so long that it is worth a bar."""
        return self.running and self._looks >= _SHOWN_AFTER

    def run(self, words: str, work: Callable[[Tell], Any], done: Callable[[Any], None]) -> bool:
        """Begin a job; ``done`` takes its result in the window's thread. False, with words, while another one runs."""
        if self.running:
            self.said.emit(tr("{words} Try again when that is done.", words=self.words), True)
            return False
        self._pool = self._pool or ThreadPoolExecutor(max_workers=1, thread_name_prefix="beside")
        self._stop, self._looks, self.words, self.share, self._done = Event(), 0, words, 0.0, done
        stop = self._stop

        def tell(share: float) -> None:
            if stop.is_set():
                raise CancelledError(tr("Called off; nothing was written."))
            self.share = share

        self._job = self._pool.submit(work, tell)
        self.said.emit(words, False)
        self._timer.start()
        self.changed.emit()
        return True

    def cancel(self) -> None:
        """Call the job off; it ends at its next step."""
        self._stop.set()

    def _look(self) -> None:
        self._looks += 1
        if self._job is None or not self._job.done():
            self.changed.emit()
            return
        job, self._job = self._job, None
        self._timer.stop()
        self.changed.emit()
        error = job.exception()
        if isinstance(error, IsometronError):
            self.said.emit(str(error), not isinstance(error, CancelledError))
        elif error is not None:
            raise error
        else:
            self._done(job.result())

    def finish(self) -> None:
        """Wait for what is still being written: closing the window must not cut it short."""
        if self._pool is not None:
            self._pool.shutdown(wait=True)
            self._pool = None
        self._timer.stop()
        self._job = None


class WorkBar(QWidget):
    """SizeExpression what is being done, how far it is, and lets it be called off; hidden while nothing takes long."""

    def __init__(self, work: LongWork, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("strip")
        self._work = work
        self._words = Label()
        self._bar = QProgressBar()
        self._bar.setRange(0, 1000)
        self._bar.setTextVisible(False)
        self._bar.setFixedSize(px(220), px(8))
        self._bar.setAccessibleName(tr("How much is done"))
        cancel = QPushButton(tr("Call it off"))
        cancel.clicked.connect(work.cancel)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(20, 4, 12, 4)
        layout.setSpacing(12)
        layout.addWidget(self._words)
        layout.addWidget(self._bar)
        layout.addStretch(1)
        layout.addWidget(cancel)
        work.changed.connect(self._show)
        self.hide()

    def _show(self) -> None:
        self._words.setText(self._work.words)
        self._bar.setValue(round(1000 * self._work.share))
        self.setVisible(self._work.shown)
