"""Starting the desk: the window stands first, then what it needs is loaded behind it."""

from __future__ import annotations

import gc
import os
import sys
import threading
from collections.abc import Callable
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSettings, QTimer
from PyQt6.QtGui import QCloseEvent, QColor, QIcon, QPainter, QPaintEvent
from PyQt6.QtWidgets import QApplication

from isometron.desk.frame.display import need_display, words_for_a_fatal_end
from isometron.desk.frame.host import Host
from isometron.desk.frame.panel_widths import BAR, panel_widths
from isometron.desk.frame.theme import Tone, dress, set_text_size
from isometron.errors import IsometronError

if TYPE_CHECKING:
    from isometron.desk.frame.window import Desk
    from isometron.document.model import Document
    from isometron.document.store.disk import Seen

__all__ = ["DeskWindow", "application", "shoot", "show"]


Load = Callable[[], "tuple[Document, Seen | None] | None"]
"""Gives the document to begin with and its file as it is on disk, if it has one; None for an empty sheet."""

_WINDOWS: list[DeskWindow] = []
"""Windows opened from others: somebody must hold them while they are open."""


class DeskWindow(Host):
    """The window; bare table and panels until the desk is put in."""

    desk: Desk | None = None
    when_painted: Callable[[], None] | None = None
    _keeps_place = False

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
        if self.desk is None:
            painter = QPainter(self)
            painter.fillRect(self.rect(), QColor(Tone.TABLE))
            left, right = panel_widths(self.width())
            painter.fillRect(0, 0, self.width(), BAR, QColor(Tone.PANEL))
            painter.fillRect(0, 0, left, self.height(), QColor(Tone.PANEL))
            painter.fillRect(self.width() - right, 0, right, self.height(), QColor(Tone.PANEL))
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


def application() -> QApplication:
    """Return the running application, or a new one in the program's dress."""
    running = QApplication.instance()
    if isinstance(running, QApplication):
        return running
    # A frame makes and drops thousands of small objects, none of them in circles: looking for those can wait.
    gc.set_threshold(20_000, 20, 20)
    made = QApplication(sys.argv[:1] or ["isometron"])
    made.setApplicationName("isometron")
    made.setApplicationDisplayName("Isometron")
    made.setDesktopFileName("org.isometron.Isometron")
    icon = Path(__file__).parents[2] / "assets" / "icons" / "isometron.svg"
    made.setWindowIcon(QIcon(str(icon)))
    dress(made)
    return made


def _survive(words: str, trace: TracebackType | None, painting: bool) -> None:
    """Every window backs out of what has failed; it may have been any one's."""
    for window in QApplication.topLevelWidgets():
        if isinstance(window, DeskWindow) and window.desk is not None:
            window.desk.back_out(words, trace, painting)


def _clear_leftovers() -> None:
    """Remove what killed saves left in the folders the program writes to, without anyone waiting for it."""
    from isometron.desk.frame.settings import load_settings, recent_files, settings_folder
    from isometron.document.store.disk import sweep

    folders = {path.parent for path in recent_files(load_settings())} | {settings_folder()}
    threading.Thread(target=lambda: [sweep(folder) for folder in folders], name="sweep", daemon=True).start()


def show(load: Load, path: Path | None) -> int:
    """Show a window, load its document behind it, and run until it is closed.

    A file that cannot be loaded is said in the window, over an empty sheet; anything else that ``load`` raises is raised
    after the window is gone. Raises `NoDisplayError` where no window can be shown.
    """
    need_display()
    with words_for_a_fatal_end():
        app = application()
    window = DeskWindow()
    window.take_place()
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
        _clear_leftovers()

    window.when_painted = fill
    window.show()
    code = app.exec()
    if failed:
        raise failed[0]
    return code


def shoot(document: Document, out: Path, size: tuple[int, int]) -> None:
    """Write a PNG of the real window with ``document`` in it, without a display."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from isometron.document.store.disk import write_whole

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
    write_whole(buffer.data().data(), out)
    window.deleteLater()
