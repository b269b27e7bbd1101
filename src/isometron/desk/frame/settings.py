"""What the program remembers between sessions, in the folders that the XDG rules give it."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Annotated, Literal

import msgspec
from platformdirs import user_config_path, user_state_path

from isometron.document.fresh import new_document, paper_size
from isometron.document.lengths.ruler import Ruler
from isometron.document.lengths.units import UnitName
from isometron.document.model import Document
from isometron.document.rack import Rack
from isometron.document.store.disk import FileError, as_text, from_text, read_whole, set_aside, write_whole
from isometron.view.sheet import PAPERS

__all__ = [
    "Settings",
    "Side",
    "fresh_document",
    "load_settings",
    "recent_files",
    "recovery_folder",
    "remember_file",
    "remember_folded",
    "remember_rack",
    "remember_ruler",
    "remember_sheet",
    "remember_table",
    "remember_text",
    "save_settings",
    "settings_folder",
    "state_folder",
    "with_my_ruler",
]

_MOST_RECENT = 8
_LARGEST = 2**20


Side = Literal["left", "right"]


class Settings(msgspec.Struct, frozen=True, kw_only=True):
    """Recent files (newest first), and the unit and paper that a new sheet starts with."""

    recent: tuple[str, ...] = ()
    unit: UnitName = "mm"
    paper: str = "A3"
    night: bool = False
    text_percent: Annotated[int, msgspec.Meta(ge=80, le=200)] = 100
    rack: Rack = Rack()
    folded: tuple[Side, ...] = ()
    ruler: Ruler | None = None


def settings_folder() -> Path:
    """Return the folder of the settings, which need not be there."""
    return user_config_path("isometron", ensure_exists=False)


def _path() -> Path:
    return settings_folder() / "settings.json"


def state_folder() -> Path | None:
    """Return the folder of what is kept between sessions, made when needed; None when it cannot be made."""
    folder = user_state_path("isometron", ensure_exists=False)
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError:
        return None
    return folder if os.access(folder, os.W_OK | os.X_OK) else None


def recovery_folder() -> Path | None:
    """Return the folder of recovery files, made when needed; None when it cannot be made: nothing is kept then."""
    state = state_folder()
    try:
        folder = None if state is None else state / "recovery"
        if folder is not None:
            folder.mkdir(exist_ok=True)
    except OSError:
        return None
    return folder if folder is not None and os.access(folder, os.W_OK | os.X_OK) else None


def load_settings() -> Settings:
    """Return the settings, the defaults when there are none; what cannot be read is set aside."""
    path = _path()
    try:
        settings = msgspec.json.decode(read_whole(path, _LARGEST), type=Settings)
    except (FileError, ValueError, RecursionError):
        if os.path.lexists(path):
            set_aside(path)
        return Settings()
    return msgspec.structs.replace(settings, recent=tuple(name for name in settings.recent if _is_usable(name)))


def _is_usable(name: str) -> bool:
    return "\0" not in name and all(len(os.fsencode(part)) < 256 for part in from_text(name).parts)


def recent_files(settings: Settings) -> list[Path]:
    """Return the recent files, newest first."""
    return [from_text(name) for name in settings.recent]


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


def remember_ruler(ruler: Ruler | None) -> None:
    """Keep the person's ruler, for the next sheets."""
    save_settings(msgspec.structs.replace(load_settings(), ruler=ruler))


def with_my_ruler(document: Document) -> Document:
    """Return a document to be constructed: with its own ruler, or else the person's."""
    mine = load_settings().ruler if document.ruler is None else None
    return document if mine is None else msgspec.structs.replace(document, ruler=mine)


def remember_folded(side: Side, *, folded: bool) -> None:
    """Let a panel stay folded away, or unfolded."""
    settings = load_settings()
    others = tuple(other for other in settings.folded if other != side)
    save_settings(msgspec.structs.replace(settings, folded=(*others, side) if folded else others))


def remember_text(percent: int) -> None:
    """Let windows open with this size of text."""
    save_settings(msgspec.structs.replace(load_settings(), text_percent=percent))


def fresh_document() -> Document:
    """Return an empty sheet with the unit and paper that were used last."""
    settings = load_settings()
    width, height = paper_size(settings.paper if settings.paper in PAPERS else "A3", landscape=True)
    return msgspec.structs.replace(new_document(width=width, height=height, unit=settings.unit), ruler=settings.ruler)


def remember_file(path: Path) -> Settings:
    """Put a file at the head of the recent ones."""
    settings = load_settings()
    full = as_text(path.resolve())
    recent = (full, *(name for name in settings.recent if name != full))[:_MOST_RECENT]
    settings = msgspec.structs.replace(settings, recent=recent)
    save_settings(settings)
    return settings
