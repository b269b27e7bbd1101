"""What the program remembers between sessions, in the folders that the XDG rules give it."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import msgspec
from platformdirs import user_config_path, user_state_path

from isometron.document.files import FileError, write_whole
from isometron.document.fresh import new_document, paper_size
from isometron.document.model import Document
from isometron.document.rack import Rack
from isometron.document.units import UnitName
from isometron.view.sheet import PAPERS

__all__ = [
    "Settings",
    "fresh_document",
    "load_settings",
    "recovery_folder",
    "remember_file",
    "remember_rack",
    "remember_sheet",
    "remember_table",
    "remember_text",
    "save_settings",
]

_MOST_RECENT = 8


class Settings(msgspec.Struct, frozen=True, kw_only=True):
    """Recent files (newest first), and the unit and paper that a new sheet starts with."""

    recent: tuple[str, ...] = ()
    unit: UnitName = "mm"
    paper: str = "A3"
    night: bool = False
    text_percent: Annotated[int, msgspec.Meta(ge=80, le=200)] = 100
    rack: Rack = Rack()


def _path() -> Path:
    return user_config_path("isometron", ensure_exists=False) / "settings.json"


def recovery_folder() -> Path:
    """Return the folder of recovery files, made when needed."""
    folder = user_state_path("isometron", ensure_exists=False) / "recovery"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def load_settings() -> Settings:
    """Return the settings; a missing or damaged file gives the defaults, for nothing of value is in it."""
    try:
        return msgspec.json.decode(_path().read_bytes(), type=Settings)
    except (OSError, msgspec.DecodeError, UnicodeDecodeError):
        return Settings()


def save_settings(settings: Settings) -> None:
    """Write the settings; a folder that cannot be written is no reason to disturb anyone."""
    try:
        _path().parent.mkdir(parents=True, exist_ok=True)
        write_whole(msgspec.json.format(msgspec.json.encode(settings), indent=1), _path())
    except (OSError, FileError):
        return


def remember_sheet(unit: UnitName, paper: str) -> None:
    """Let the next new sheet start with this unit and paper."""
    save_settings(msgspec.structs.replace(load_settings(), unit=unit, paper=paper))


def remember_table(*, night: bool) -> None:
    """Let the table keep its tone."""
    save_settings(msgspec.structs.replace(load_settings(), night=night))


def remember_rack(rack: Rack) -> None:
    """Keep the person's templates."""
    save_settings(msgspec.structs.replace(load_settings(), rack=rack))


def remember_text(percent: int) -> None:
    """Let windows open with this size of text."""
    save_settings(msgspec.structs.replace(load_settings(), text_percent=percent))


def fresh_document() -> Document:
    """Return an empty sheet with the unit and paper that were used last."""
    settings = load_settings()
    width, height = paper_size(settings.paper if settings.paper in PAPERS else "A3", landscape=True)
    return new_document(width=width, height=height, unit=settings.unit)


def remember_file(path: Path) -> Settings:
    """Put a file at the head of the recent ones."""
    settings = load_settings()
    full = str(path.resolve())
    recent = (full, *(name for name in settings.recent if name != full))[:_MOST_RECENT]
    settings = msgspec.structs.replace(settings, recent=recent)
    save_settings(settings)
    return settings
