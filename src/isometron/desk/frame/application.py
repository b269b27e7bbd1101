"""Starting the desk: the window stands first, then what it needs is loaded behind it."""

from __future__ import annotations

import gc
import os
import sys
from collections.abc import Callable
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QPoint, QRect, QSettings, QSize, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QColor, QImage, QPainter, QPaintEvent
from PyQt6.QtWidgets import QApplication

from isometron.desk.frame.display import need_display, words_for_a_fatal_end
from isometron.desk.frame.first_picture import FirstPicture
from isometron.desk.frame.host import Host
from isometron.desk.frame.panel_widths import BAR, panel_widths
from isometron.desk.frame.theme import Tone, dress, set_text_size
from isometron.errors import IsometronError

if TYPE_CHECKING:
    from isometron.cli.commands import Load
    from isometron.desk.frame.window import Desk
    from isometron.document.model import Document
    from isometron.document.store.disk import Seen

__all__ = ["DeskWindow", "application", "shoot", "show"]


_WINDOWS: list[DeskWindow] = []
"""Windows opened from others: somebody must hold them while they are open."""


class DeskWindow(Host):
    """The window; bare table and panels until the desk is put in."""

    desk: Desk | None = None
    when_painted: Callable[[], None] | None = None
    first: FirstPicture | None = None
    _keeps_place = False
    _picture: QImage | None = None

    def __init__(self, size: tuple[int, int] = (1280, 800)) -> None:
        super().__init__()
        self.setWindowTitle("Isometron")
        self.setMinimumSize(1000, 640)
        self.resize(*size)

    def put_in(self, document: Document, path: Path | None, seen: Seen | None = None) -> Desk:
        """Fill the window with a desk for ``document``."""
        from isometron.desk.frame.session import Session
        from isometron.desk.frame.settings import load_settings
        from isometron.desk.frame.window import fill_window

        dress(application())
        set_text_size(application(), load_settings().text_percent)

        session = Session(document, path, saved=path is not None)
        session.seen = seen
        self.desk = fill_window(self, session)
        return self.desk

    def take_place(self) -> None:
        """Stand where the last window stood, as large as it was, and remember it again when this one is closed.

        Kept in a file of the toolkit's own, which is read before anything else is loaded.
        """
        self._keeps_place = True
        kept = _kept_place().value(_PLACE)
        if isinstance(kept, QByteArray):
            self.restoreGeometry(kept)

    def lay_out_anew(self) -> None:
        """Put a new desk in for the same session: what is laid out by the text's size is laid out again."""
        from isometron.desk.frame.window import fill_window

        if self.desk is not None:
            old = self.desk
            for body in old.stages.bodies().values():
                body.finish()
            stage = old.stages.opened_name
            self.desk = fill_window(self, old.session)
            self.desk.recovery.write()
            old.recovery.finish()
            self.desk.stages.open(stage)

    def another(self) -> DeskWindow:
        """Show a second window with an empty sheet."""
        from isometron.desk.frame.settings import fresh_document

        window = DeskWindow()
        window.put_in(fresh_document(), None)
        window.show()
        _WINDOWS.append(window)
        return window

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the table and the panels' places: the first picture, before anything else is loaded."""
        if self.desk is None and self.first is not None:
            self._picture = self.first.read(self.size(), self.devicePixelRatioF())
        if self.desk is None and self._picture is not None:
            painter = QPainter(self)
            painter.drawImage(0, 0, self._picture)
            painter.end()
        elif self.desk is None:
            painter = QPainter(self)
            painter.fillRect(self.rect(), QColor(Tone.TABLE))
            left, right = panel_widths(self.width())
            painter.fillRect(0, 0, self.width(), BAR, QColor(Tone.PANEL))
            painter.fillRect(0, 0, left, self.height(), QColor(Tone.PANEL))
            painter.fillRect(self.width() - right, 0, right, self.height(), QColor(Tone.PANEL))
            board = self.rect().adjusted(left, 2 * BAR, -right, -BAR)
            place = QRect(QPoint(0, 0), QSize(420, 297).scaled(board.size(), Qt.AspectRatioMode.KeepAspectRatio))
            place.moveCenter(board.center())
            painter.fillRect(place, QColor(Tone.SHEET))
            painter.end()
        if self.when_painted is not None:
            QTimer.singleShot(0, self.when_painted)
            self.when_painted = None

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Ask about unsaved work."""
        assert event is not None
        if self.desk is not None:
            self.desk.closing(event)
        if not event.isAccepted():
            return
        if self._keeps_place:
            _kept_place().setValue(_PLACE, self.saveGeometry())
        if self in _WINDOWS:
            _WINDOWS.remove(self)


_PLACE = "place"


def _kept_place() -> QSettings:
    return QSettings(QSettings.Format.IniFormat, QSettings.Scope.UserScope, "isometron", "window")


def application(*, dressed: bool = True) -> QApplication:
    """Return the running application, or a new one in the program's dress; a bare window does not wait for that."""
    running = QApplication.instance()
    if isinstance(running, QApplication):
        return running
    # A frame makes and drops thousands of small objects, none of them in circles: looking for those can wait.
    gc.set_threshold(20_000, 20, 20)
    made = QApplication(sys.argv[:1] or ["isometron"])
    made.setApplicationName("isometron")
    made.setApplicationDisplayName("Isometron")
    made.setDesktopFileName("org.isometron.Isometron")
    if dressed:
        dress(made)
    return made


def _survive(words: str, trace: TracebackType | None, painting: bool) -> None:
    """Every window backs out of what has failed; it may have been any one's."""
    for window in QApplication.topLevelWidgets():
        if isinstance(window, DeskWindow) and window.desk is not None:
            window.desk.back_out(words, trace, painting)


def _clear_leftovers() -> None:
    """Remove what killed saves left in the folders the program writes to, without anyone waiting for it."""
    import threading

    from isometron.desk.frame.settings import load_settings, recent_files, settings_folder
    from isometron.document.store.disk import sweep

    folders = {path.parent for path in recent_files(load_settings())} | {settings_folder()}
    threading.Thread(target=lambda: [sweep(folder) for folder in folders], name="sweep", daemon=True).start()


_SETTLED_MS = 1200
"""After it has begun, a window that nobody has touched looks as it will look the next time."""


def _keep_first(window: DeskWindow, desk: Desk) -> None:
    """Keep what a window shows as its first picture, if it is as it began."""
    session = desk.session
    untouched = (
        not session.changed and session.undo_name is None and not session.selection and not desk.board.has_tool
    )
    if window.first is not None and window.desk is desk and untouched and window.isVisible():
        window.first.keep(window.grab().toImage(), window.size(), window.devicePixelRatioF())


def show(load: Load, path: Path | None) -> int:
    """Show a window, load its document behind it, and run until it is closed.

    The first picture is the one that is kept of that document, see `first_picture`; ``load.origin`` says what else than a file it is.

    A file that cannot be loaded is said in the window, over an empty sheet; anything else that ``load`` raises is raised
    after the window is gone. Raises `NoDisplayError` where no window can be shown.
    """
    need_display()
    with words_for_a_fatal_end():
        app = application(dressed=False)
    window = DeskWindow()
    window.take_place()
    window.first = FirstPicture(load.origin, path)
    failed: list[IsometronError] = []

    def fill() -> None:
        from isometron.desk.frame.mishaps import catch_what_escapes
        from isometron.desk.frame.settings import fresh_document, state_folder

        catch_what_escapes(state_folder(), _survive)
        loaded, refused = None, ""
        try:
            loaded = load()
        except IsometronError as error:
            refused = str(error)
            if path is None:
                failed.append(error)
                window.close()
                app.exit(2)
                return
        desk = window.put_in(fresh_document(), None) if loaded is None else window.put_in(loaded[0], path, loaded[1])
        desk.begin(refused)
        QTimer.singleShot(_SETTLED_MS, lambda: _keep_first(window, desk))
        _clear_leftovers()

    window.when_painted = fill
    window.show()
    code = app.exec()
    if failed:
        raise failed[0]
    return code


def shoot(document: Document, size: tuple[int, int]) -> bytes:
    """Return a PNG of the real window with ``document`` in it, without a display."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    app = application()
    window = DeskWindow(size)
    desk = window.put_in(document, None)
    window.resize(*size)
    window.show()
    desk.stages.body("Check").refresh()
    app.processEvents()
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    window.grab().save(buffer, "PNG")
    window.deleteLater()
    return buffer.data().data()
