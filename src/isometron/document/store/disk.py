"""Files as the disk has them: read whole and bounded, written all or nothing, and told apart when others wrote them."""

from __future__ import annotations

import errno
import fcntl
import hashlib
import os
import stat
import tempfile
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import NoReturn

from isometron.errors import IsometronError
from isometron.wording import tr

__all__ = [
    "FileError",
    "Seen",
    "as_text",
    "beside",
    "from_text",
    "read_text",
    "read_whole",
    "seen",
    "set_aside",
    "shown_name",
    "sweep",
    "told_aside",
    "write_whole",
]

_PREFIX, _SUFFIX = ".isometron-", ".part"
_TRIES = 5
_ASIDE: list[str] = []
"""What was set aside and not told yet."""


class FileError(IsometronError, ValueError):
    """A file that cannot be read or written; the message names the file, the place in it and the remedy."""


def shown_name(path: str | os.PathLike[str]) -> str:
    """Return a path as it can be shown and printed everywhere: bytes that are no UTF-8 as \\xNN."""
    return os.fsencode(path).decode("utf-8", "backslashreplace")


def as_text(path: Path) -> str:
    """Return a path as text that any file can hold; names that are no UTF-8 as an address with %NN."""
    try:
        str(path).encode()
    except UnicodeEncodeError:
        return path.absolute().as_uri()
    return str(path)


def from_text(text: str) -> Path:
    """Return the path that `as_text` wrote."""
    if not text.startswith("file://"):
        return Path(text)
    from urllib.parse import unquote_to_bytes

    return Path(os.fsdecode(unquote_to_bytes(text.removeprefix("file://"))))


def read_whole(path: str | os.PathLike[str], most: int) -> bytes:
    """Return a file's bytes; raises `FileError` for what is no ordinary file and for more than ``most`` bytes.

    Pipes and devices are refused without being opened, for reading them may never end.
    """
    name = shown_name(path)
    try:
        if not stat.S_ISREG(os.stat(path).st_mode) and not os.path.isdir(path):
            _refuse(name)
        with open(os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC), "rb") as file:
            if not stat.S_ISREG(os.fstat(file.fileno()).st_mode):
                raise IsADirectoryError(errno.EISDIR, "")
            if os.fstat(file.fileno()).st_size > most:
                raise FileError(_too_large(name, most))
            data = file.read(most + 1)
    except IsADirectoryError as error:
        raise FileError(tr("{path} is a folder. Open a file inside it.", path=name)) from error
    except FileNotFoundError as error:
        raise FileError(tr("{path} does not exist. Check the name, or open another file.", path=name)) from error
    except OSError as error:
        raise FileError(
            tr("{path} cannot be read: {strerror}. Check its permissions, or open another file.",
               path=name, strerror=error.strerror)
        ) from error  # fmt: skip
    except ValueError as error:
        if isinstance(error, FileError):
            raise
        raise FileError(tr("{path} is no name of a file. Check the name.", path=repr(path))) from error
    if len(data) > most:
        raise FileError(_too_large(name, most))
    return data


def read_text(path: str | os.PathLike[str], most: int = 2**16) -> str:
    """Return a small text file; raises `FileError` as `read_whole` does, and for what is no UTF-8."""
    try:
        return read_whole(path, most).decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise FileError(tr("{path} is no UTF-8 text. Save it as UTF-8.", path=shown_name(path))) from error


def _refuse(name: str) -> NoReturn:
    raise FileError(
        tr("{path} is no ordinary file but a pipe or a device. Open a file that lies on a disk.", path=name)
    )


def _too_large(name: str, most: int) -> str:
    return tr("{path} is larger than {most} MB, which is more than is read here. Open another file.",
              path=name, most=f"{most / 2**20:.3g}")  # fmt: skip


def write_whole(data: bytes, path: str | os.PathLike[str]) -> None:
    """Replace a file in one step by ``data``, or leave it untouched and raise `FileError`.

    At any moment the old file or the new one is whole: the bytes go to a new file in the same folder, are forced to
    disk, and take the old name in one step. Mode, owner, group and extended attributes are kept. A file with several
    names (hard links), or of an owner who cannot be given to a new file, keeps its place on the disk: a whole copy stands
    beside it while it is written over. Pipes and devices are refused.
    """
    try:
        target = Path(os.path.realpath(path))
        old = target.stat() if os.path.lexists(target) else None
        if old is not None and not stat.S_ISREG(old.st_mode):
            kind = IsADirectoryError(errno.EISDIR, tr("it is a folder"))
            other = OSError(errno.EINVAL, tr("it is a pipe or a device, not a file"))
            raise kind if stat.S_ISDIR(old.st_mode) else other
        if old is not None and not os.access(target, os.W_OK):
            raise PermissionError(errno.EACCES, tr("it is read-only"))
        sweep(target.parent)
        _replace(data, target, old)
        _sync_folder(target.parent)
    except OSError as error:
        raise FileError(
            tr(
                "{path} was not saved: {value}. The old file, if any, is untouched; save to another "
                "folder or make room.",
                path=shown_name(path),
                value=error.strerror or error,
            )
        ) from error
    except ValueError as error:
        raise FileError(tr("{path} is no name of a file. Choose another one.", path=repr(path))) from error


def _replace(data: bytes, target: Path, old: os.stat_result | None) -> None:
    handle, temporary = _temporary(target.parent)
    try:
        _fill(handle, data)
        # No name at all has what another program replaces at this moment: it is not written over, it is gone.
        kept = old is None or (old.st_nlink <= 1 and _dressed(handle, target, old))
        if kept:
            if old is None:
                os.fchmod(handle, 0o666 & ~_umask())
            os.replace(temporary, target)
        else:
            # The copy beside it has a name that a person finds, in case the machine stops half way.
            copy = beside(target, tr("being saved"))
            os.replace(temporary, copy)
            _write_over(data, target)
            copy.unlink()
    except BaseException:
        Path(temporary).unlink(missing_ok=True)
        raise
    finally:
        os.close(handle)


def _temporary(folder: Path) -> tuple[int, str]:
    """Return a new file, locked for as long as its writer lives, so that what a killed save leaves can be told."""
    for _ in range(_TRIES):
        handle, name = tempfile.mkstemp(prefix=_PREFIX, suffix=_SUFFIX, dir=folder)
        with suppress(OSError):  # some network folders know no locks
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        if os.fstat(handle).st_nlink:
            return handle, name
        os.close(handle)  # swept by another save before it was locked
    raise OSError(errno.EBUSY, tr("the folder is busy"))


def _fill(handle: int, data: bytes) -> None:
    left = memoryview(data)
    while left:
        left = left[os.write(handle, left) :]
    os.fsync(handle)


def _dressed(handle: int, target: Path, old: os.stat_result) -> bool:
    """Give the new file what the old one has; False when it cannot have its owner."""
    if (old.st_uid, old.st_gid) != (os.geteuid(), os.fstat(handle).st_gid):
        try:
            os.fchown(handle, old.st_uid, old.st_gid)
        except OSError:
            return False
    os.fchmod(handle, stat.S_IMODE(old.st_mode))
    with suppress(OSError):
        for name in os.listxattr(target):
            with suppress(OSError):
                os.setxattr(handle, name, os.getxattr(target, name))
    return True


def _write_over(data: bytes, target: Path) -> None:
    handle = os.open(target, os.O_WRONLY | os.O_CLOEXEC)
    try:
        _fill(handle, data)
        os.ftruncate(handle, len(data))
        os.fsync(handle)
    finally:
        os.close(handle)


def beside(path: Path, words: str) -> Path:
    """Return a free name beside ``path`` with words in it, short enough for a disk: ``cart (being saved).isometron``."""
    number = 1
    while True:
        tail = f" ({words})" if number == 1 else f" ({words} {number})"
        room = 250 - len(os.fsencode(tail + path.suffix))
        stem = os.fsdecode(os.fsencode(path.stem)[:room])
        free = path.with_name(f"{stem}{tail}{path.suffix}")
        if not os.path.lexists(free):
            return free
        number += 1


def sweep(folder: Path) -> int:
    """Remove what killed saves left in a folder, and tell how many files; what is being written now is left alone."""
    count = 0
    with suppress(OSError):
        leftovers = [e.path for e in os.scandir(folder) if e.name.startswith(_PREFIX) and e.name.endswith(_SUFFIX)]
        for name in leftovers:
            with suppress(OSError):
                handle = os.open(name, os.O_RDWR | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC)
                try:
                    fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
                    os.unlink(name)
                    count += 1
                finally:
                    os.close(handle)
    return count


def _umask() -> int:
    now = os.umask(0o077)
    os.umask(now)
    return now


def _sync_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def set_aside(path: Path) -> Path | None:
    """Rename what cannot be used, so that it is neither read again nor lost; None when it cannot be renamed.

    `told_aside` tells it once.
    """
    free = beside(path.with_suffix(""), tr("set aside"))
    try:
        os.rename(path, free)
    except OSError:
        _ASIDE.append(shown_name(path.name))
        return None
    _ASIDE.append(shown_name(free.name))
    return free


def told_aside() -> list[str]:
    """Return the names under which files were set aside since this was last asked."""
    names = list(_ASIDE)
    _ASIDE.clear()
    return names


@dataclass(frozen=True)
class Seen:
    """A file as it was when it was last read or written here: to tell whether somebody else wrote it since."""

    stamp: tuple[int, int, int, int]
    digest: bytes

    def still(self, path: Path) -> bool:
        """Whether the file is there as it was: untouched, or with the same bytes."""
        try:
            info = os.stat(path)
        except OSError:
            return False
        if _stamp(info) == self.stamp:
            return True
        try:
            return stat.S_ISREG(info.st_mode) and _digest(path.read_bytes()) == self.digest
        except OSError:
            return False


def seen(path: Path, data: bytes) -> Seen | None:
    """Remember a file that holds ``data``; None when it is not there."""
    try:
        return Seen(_stamp(os.stat(path)), _digest(data))
    except OSError:
        return None


def _stamp(info: os.stat_result) -> tuple[int, int, int, int]:
    return info.st_dev, info.st_ino, info.st_size, info.st_mtime_ns


def _digest(data: bytes) -> bytes:
    return hashlib.blake2b(data, digest_size=16).digest()
