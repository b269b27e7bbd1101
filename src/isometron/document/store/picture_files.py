"""The files of pictures inside a document's file: held to their digests, and kept once beside recovered work."""

from __future__ import annotations

import hashlib
from contextlib import suppress
from pathlib import Path

import msgspec

from isometron.document.model import Document
from isometron.document.pictures.sheet_picture import MOST_BYTES, PictureFile
from isometron.document.store.disk import FileError, read_whole, write_whole
from isometron.wording import tr

__all__ = ["audit_pictures", "digest_of", "keep_files", "with_kept_files", "without_files"]

_SUFFIX = ".picture"


def digest_of(data: bytes) -> str:
    """Return the name that a picture's bytes go by: their SHA-256."""
    return hashlib.sha256(data).hexdigest()


def audit_pictures(document: Document, name: str) -> None:
    """Raise `FileError` for pictures that cannot be what they say, and for more bytes of them than a document holds."""
    whole = sum(len(file.data) for file in document.files)
    if whole > MOST_BYTES:
        raise FileError(
            tr("{name} holds {there} MB of pictures; {most} MB is the most. Take one out, or make them smaller.",
               name=name, there=f"{whole / 2**20:.1f}", most=MOST_BYTES // 2**20)
        )  # fmt: skip
    for number, file in enumerate(document.files, 1):
        if file.data and digest_of(file.data) != file.digest:
            raise FileError(
                tr("{name}: picture file {number} is damaged: its bytes are not those that its digest tells of. Take its "
                   "line out in a text editor, or open a backup.", name=name, number=number)
            )  # fmt: skip
    _audit_names(document, name)


def _audit_names(document: Document, name: str) -> None:
    for what, names in (
        (tr("picture"), [picture.id for picture in document.pictures]),
        (tr("kept eye"), [kept.name for kept in document.eyes]),
        (tr("picture file"), [file.digest for file in document.files]),
    ):
        twice = sorted({each for each in names if names.count(each) > 1})
        if twice:
            raise FileError(
                tr("{name}: there are two of the {what} {which!r}. Name one of them otherwise in a text editor.",
                   name=name, what=what, which=twice[0][:60])
            )  # fmt: skip


def without_files(document: Document) -> Document:
    """Return the document with the digests of its picture files, and without their bytes."""
    bare = tuple(PictureFile(digest=file.digest, data=b"") for file in document.files)
    return msgspec.structs.replace(document, files=bare) if bare else document


def keep_files(document: Document, folder: Path, kept: set[str]) -> None:
    """Write the picture files of a document into a folder, each once under its digest; ``kept`` are there already."""
    for file in document.files:
        if file.data and file.digest not in kept:
            folder.mkdir(mode=0o700, exist_ok=True)
            write_whole(file.data, folder / f"{file.digest}{_SUFFIX}")
            kept.add(file.digest)


def with_kept_files(document: Document, folder: Path) -> Document:
    """Return the document with the bytes that `keep_files` wrote; what is not there, or damaged, stays empty."""
    files = tuple(file if file.data else _found(file, folder) for file in document.files)
    return msgspec.structs.replace(document, files=files) if files else document


def _found(file: PictureFile, folder: Path) -> PictureFile:
    with suppress(FileError):
        data = read_whole(folder / f"{file.digest}{_SUFFIX}", MOST_BYTES)
        if digest_of(data) == file.digest:
            return PictureFile(digest=file.digest, data=data)
    return file
