"""The first picture of a window: what it showed the last time of that very document, painted before anything else is loaded.

A picture is kept under a key of all that it depends on: the document's content, the window's size and pixels, the table, the
text's size, which panels are folded, the language and the program's version. Demos come with theirs. Nothing here loads more than
the toolkit: whoever waits for this picture waits for nothing else.
"""

from __future__ import annotations

import json
import os
from hashlib import blake2b
from pathlib import Path
from stat import S_ISREG

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QImage

from isometron import __version__
from isometron.home import home

__all__ = ["FirstPicture", "Look", "look_now", "shipped"]

_MOST = 16
"""Pictures that are kept; the oldest go."""
_LARGEST = 8 * 2**20
"""Bytes of a file that are read for its key; of a larger one its size and its time stand for them."""

Look = tuple[bool, int, tuple[str, ...], str]
"""Night table, text percent, folded panels, language."""

_USUAL: Look = (False, 100, (), "")
_SIZE = (1280, 800)
"""The look and the size that the demos' pictures are made for."""


def _folder(variable: str, fallback: str) -> Path:
    """Return a folder of the XDG rules without loading what knows all of them."""
    given = os.environ.get(variable, "")
    return (Path(given) if os.path.isabs(given) else home() / fallback) / "isometron"


def _read(path: Path, most: int) -> bytes:
    """Return a file's content; raises OSError for what is no plain file, or larger: a pipe would be waited for."""
    stat = path.stat()
    if not S_ISREG(stat.st_mode) or stat.st_size > most:
        raise OSError(f"{path} is no plain file of at most {most} bytes")
    return path.read_bytes()


def _is_there(place: Path) -> bool:
    """Whether a plain file is there; a folder that may not be entered, or a name that is too long, holds none."""
    try:
        return place.is_file()
    except OSError:
        return False


def look_now() -> Look:
    """Return what the settings say of how a window looks; the usual where they say nothing that can be read."""
    try:
        said = json.loads(_read(_folder("XDG_CONFIG_HOME", ".config") / "settings.json", 2**20))
        look = (
            bool(said.get("night", False)),
            int(said.get("text_percent", 100)),
            tuple(map(str, said.get("folded", ()))),
        )
    except (OSError, ValueError, AttributeError, TypeError, RecursionError, OverflowError):
        look = _USUAL[:3]
    language = next(
        (os.environ[name] for name in ("LANGUAGE", "LC_ALL", "LC_MESSAGES", "LANG") if os.environ.get(name)), ""
    )
    return (*look, "" if language.startswith(("C", "en", "POSIX")) else language)


def _content(origin: str, path: Path | None) -> bytes:
    """Return what stands for the document: its file's content, or the name of what is opened."""
    if path is None:
        return origin.encode()
    stat = path.stat()
    if S_ISREG(stat.st_mode) and stat.st_size > _LARGEST:
        return f"{path}:{stat.st_size}:{stat.st_mtime_ns}".encode()
    return _read(path, _LARGEST)


def shipped(name: str) -> Path:
    """Return where the picture lies that a demo comes with."""
    return Path(__file__).parents[2] / "assets" / "first" / f"{name}.png"


class FirstPicture:
    """The picture of one window that is being opened. origin : ``demo NAME``, ``empty``, or nothing for a file at ``path``."""

    def __init__(self, origin: str, path: Path | None) -> None:
        self._origin, self._path = origin, path
        self._look = look_now()

    def _kept(self, size: QSize, ratio: float) -> Path | None:
        try:
            content = _content(self._origin, self._path)
        except OSError:
            return None
        said = repr((__version__, self._look, size.width(), size.height(), ratio)).encode()
        name = blake2b(content, digest_size=16, key=blake2b(said, digest_size=32).digest()).hexdigest()
        return _folder("XDG_CACHE_HOME", ".cache") / "first" / f"{name}.png"

    def read(self, size: QSize, ratio: float) -> QImage | None:
        """Return the picture for a window of a size, if there is one of just that size."""
        places = [self._kept(size, ratio)]
        demo = self._origin.removeprefix("demo ")
        if demo != self._origin and self._look == _USUAL and ratio == 1.0 and (size.width(), size.height()) == _SIZE:
            places.append(shipped(demo))
        for place in places:
            picture = QImage(str(place)) if place is not None and _is_there(place) else QImage()
            if not picture.isNull() and picture.size() == size * ratio:
                picture.setDevicePixelRatio(ratio)
                return picture
        return None

    def keep(self, picture: QImage, size: QSize, ratio: float) -> None:
        """Keep what the window shows now; where nothing can be kept, nothing is."""
        place = self._kept(size, ratio)
        if place is None or self._look != look_now():
            return
        try:
            place.parent.mkdir(parents=True, exist_ok=True)
            picture.save(str(place), "PNG", 80)
            kept = sorted(place.parent.glob("*.png"), key=lambda each: each.stat().st_mtime)
            for old in kept[:-_MOST]:
                old.unlink(missing_ok=True)
        except OSError:
            return
