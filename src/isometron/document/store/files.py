"""The document's file: one open JSON text, one volume a line; loading is an audit, saving is all or nothing."""

from __future__ import annotations

import os
import re
from collections import Counter
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import msgspec

from isometron.document.follow import turned_with_wheels
from isometron.document.lengths.sizes import Sizes
from isometron.document.model import FORMAT, VERSION, Document, DocumentError, explain
from isometron.document.store.budget import LEAST_GRID, MOST_DEEP, over_budget
from isometron.document.store.disk import FileError, Seen, read_whole, seen, shown_name, write_whole
from isometron.document.store.migrations import migrated
from isometron.document.store.picture_files import audit_pictures
from isometron.volumes.arch import Arch
from isometron.volumes.cut.profiles import CutBody
from isometron.volumes.faces.names import is_bent
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.marks.face_marks import CourseMark, CurveMark, FaceMark, OpeningMark
from isometron.volumes.marks.held_places import holds_mm
from isometron.wording import tr

__all__ = [
    "SUFFIX",
    "decode_document",
    "encode_document",
    "load_document",
    "open_document",
    "save_document",
    "schema",
]

SUFFIX = ".isometron"
_LARGEST = 64 * 2**20
_LATER = ("eyes", "pictures", "files", "planes", "points", "ruler")
_ENCODER = msgspec.json.Encoder()
_DECODER = msgspec.json.Decoder(Document)


class _Header(msgspec.Struct):
    """What is looked at before anything else, so that foreign and newer files get their own answer."""

    format: Any = None
    version: Any = None


_HEADER = msgspec.json.Decoder(_Header)


def encode_document(document: Document) -> bytes:
    """Return the file's bytes: UTF-8 JSON, the header readable, one volume a line, so that a diff shows what changed; the
    files of pictures at the end, a line each."""
    bare = msgspec.structs.replace(document, version=least_version(document), volumes=(), files=())
    raw = msgspec.to_builtins(bare)
    for name in _LATER:
        if not raw[name]:
            del raw[name]  # what older programs do not know is not there
    head = msgspec.json.format(_ENCODER.encode(raw), indent=1)
    parts = [head[: head.rindex(b"[]")], _lines(document.volumes)]
    if document.files:
        parts += [b',\n "files": ', _lines(document.files)]
    return b"".join([*parts, b"\n}\n"])


def _lines(values: Sequence[msgspec.Struct]) -> bytes:
    """Return a list of values, a line each."""
    if not values:
        return b"[]"
    # One call for all lines; JSON text never holds a bare line break, so the only ones are those between values.
    return b"[\n  " + _ENCODER.encode_lines(values).rstrip().replace(b"\n", b",\n  ") + b"\n ]"


def least_version(document: Document) -> int:
    """Return the lowest file version that holds what a document says, so that an older program refuses it as newer."""
    if any(plane.leans_deg for plane in document.planes):
        return 6
    if document.points or document.ruler is not None or any(map(_needs_5, document.volumes)):
        return 5
    if document.planes or any(map(_needs_4, document.volumes)):
        return 4
    if document.eyes or document.pictures or document.files:
        return 3
    texts = [*(each.text for each in document.lengths), *(each.text for each in document.targets)]
    return 2 if any(map(_needs_2, document.volumes)) or any(map(_names_a_place, texts)) else 1


def _needs_5(volume: AnyVolume) -> bool:
    return bool(volume.quiet) or any(getattr(mark, "name", "") for mark in volume.marks)


def _needs_4(volume: AnyVolume) -> bool:
    if volume.wall > 0.0 or volume.rounded:
        return True
    return any(isinstance(mark, OpeningMark | CurveMark | CourseMark) or _says_more(mark) for mark in volume.marks)


def _says_more(mark: FaceMark) -> bool:
    """Whether a mark that older programs know says what they do not."""
    return is_bent(getattr(mark, "face", 0)) or any(
        getattr(mark, name, False) for name in ("mirrored", "smooth", "carried", "around")
    )


def _needs_2(volume: AnyVolume) -> bool:
    if isinstance(volume, CutBody | Arch) or volume.ahead != "x0":
        return True
    if any(isinstance(getattr(mark, "face", 0), str) or holds_mm(mark) for mark in volume.marks):
        return True
    if volume.joined is not None and any(
        h.how == "share" or h.to == "middle" or h.says or h.on for h in volume.joined.holds
    ):
        return True
    return any(_names_a_place(says.text) for says in volume.says)


def _names_a_place(text: str) -> bool:
    """Whether an expression asks where something is: version 1 meant another point of it."""
    return re.search(r"\.(middle_)?[xyz](?!\w)", text, re.IGNORECASE) is not None


_PLACE_NAMED = re.compile(rb"\.[xyz]\b", re.IGNORECASE)
"""What may be the name of a place in an expression, of which version 1 meant another point; nothing else needs bringing up."""


def decode_document(data: bytes, name: str = "document") -> Document:
    """Return the document in ``data``; raises `FileError` naming ``name``, the place and the remedy."""
    try:
        document: Document = _DECODER.decode(data)
        if document.version == 1 and _PLACE_NAMED.search(data):
            document = _decode_with_reasons(data, name)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        document = _decode_with_reasons(data, name)
    if document.version != VERSION:
        document = msgspec.structs.replace(document, version=VERSION)
    if b"\\u" in data:  # only an escape can bring half a pair of surrogates in
        _audit_texts(document, name)
    _audit_ids(document, name)
    _audit_budget(document, name)
    audit_pictures(document, name)
    _audit_relations(document, name)
    return turned_with_wheels(document)


def _decode_with_reasons(data: bytes, name: str) -> Document:
    """Decode what the straight way refused: an older version, or a file with something wrong, told in words."""
    try:
        data.decode()
    except UnicodeDecodeError as error:
        raise FileError(
            tr("{name} is no UTF-8 text{place}. Mend this place in a text editor, or open a backup.",
               name=name, place=_line_column(data[: error.start]))
        ) from error  # fmt: skip
    if data.strip() and data.lstrip()[:1] != b"{":
        raise FileError(
            tr(
                "{name} is no Isometron document: it does not hold JSON text of one. Open a file "
                "that Isometron has saved.",
                name=name,
            )
        )
    header = _decoded(_HEADER, data, name)
    if header.format != FORMAT:
        raise FileError(
            tr(
                '{name} is no Isometron document: its "format" is {shown}, not "{format}". Open '
                "a file that Isometron has saved.",
                name=name,
                shown=_shown(header.format),
                format=FORMAT,
            )
        )
    version = header.version
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise FileError(
            tr(
                '{name}: "version" is {shown}, not a whole number from 1. Mend it in a text editor.',
                name=name,
                shown=_shown(version),
            )
        )
    if version > VERSION:
        raise FileError(
            tr(
                "{name} was saved by a newer Isometron (file version {version}; this program reads "
                "up to {version2}). Open it with that newer program, or save it there for version "
                "{version2}.",
                name=name,
                version=version,
                version2=VERSION,
            )
        )
    document: Document = _decoded(_DECODER, migrated(data, version), name)
    return document


def _shown(value: object) -> str:
    return "missing" if value is None else f"{str(value)[:60]!r}"


def _decoded(decoder: msgspec.json.Decoder[Any], data: bytes, name: str) -> Any:
    try:
        return decoder.decode(data)
    except msgspec.ValidationError as error:
        raise FileError(
            tr(
                "{name}: {place}. Mend this place in a text editor, or open another file.",
                name=name,
                place=_place(str(error), data),
            )
        ) from error
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise FileError(_broken(str(error), data, name)) from error


def _broken(error: str, data: bytes, name: str) -> str:
    if not data.strip():
        return tr("{name} is empty. Open another file, or a backup of this one.", name=name)
    match = re.search(r"byte (\d+)", error)
    # A number or a word that is cut through is told as a wrong one, at the very end.
    if "truncated" in error or (match and int(match[1]) >= len(data) - 1):
        line = data.count(b"\n") + 1
        return tr(
            "{name} is cut short at line {line}: the rest is missing. Open a backup, or complete "
            "it in a text editor.",
            name=name,
            line=line,
        )
    place = _line_column(data[: int(match[1])]) if match else ""
    return tr(
        "{name} is not readable as JSON{place}: {error}. Mend this place in a text editor, or open a backup.",
        name=name,
        place=place,
        error=error,
    )


def _line_column(before: bytes) -> str:
    newline = b"\n"
    return tr(
        " at line {count}, column {count2}",
        count=before.count(newline) + 1,
        count2=len(before) - before.rfind(newline),
    )


def _place(message: str, data: bytes) -> str:
    """Name a volume where the validator only gives its number."""
    words = explain(message)
    match = re.match(r"volumes\[(\d+)\]\.?(.*)", words)
    if not match:
        return words
    try:
        raw = msgspec.json.decode(data)["volumes"][int(match[1])]
        name = raw.get("name", raw.get("id")) if isinstance(raw, dict) else None
    except (msgspec.DecodeError, LookupError, TypeError, RecursionError):
        name = None
    called = f" ({name!r})" if isinstance(name, str) else ""
    rest = match[2] if match[2].startswith(":") else f", {match[2]}"
    return tr("volume {number}{called}{rest}", number=int(match[1]) + 1, called=called, rest=rest)


def _audit_texts(document: Document, name: str) -> None:
    for row, volume in enumerate((*document.volumes, document)):
        try:
            _ENCODER.encode(volume)
        except UnicodeEncodeError as error:
            place = tr("the title or a name")
            if row < len(document.volumes):
                place = tr("volume {number}", number=row + 1)
            what = tr("half of a pair of surrogates (\\uD800 to \\uDFFF) is no text")
            raise FileError(_bad_place(name, place, what)) from error


def _audit_budget(document: Document, name: str) -> None:
    """Refuse what is small to write and too large to draw, see `isometron.document.store.budget`."""
    found = over_budget(document.volumes)
    if found is not None:
        row, what = found
        volume = document.volumes[row]
        place = tr("volume {number} ({name!r})", number=row + 1, name=volume.name)
        raise FileError(_bad_place(name, place, what))
    if 0.0 < document.show.grid_module < LEAST_GRID:
        what = tr("{value:g} mm is no module; the least is {least} mm, 0 is no grid",
                  value=document.show.grid_module, least=LEAST_GRID)  # fmt: skip
        raise FileError(_bad_place(name, "show.grid_module", what))


def _audit_ids(document: Document, name: str) -> None:
    ids = [volume.id for volume in document.volumes]
    if len(set(ids)) == len(ids):
        return
    double = next(i for i, n in Counter(ids).items() if n > 1)
    rows = [str(row + 1) for row, i in enumerate(ids) if i == double]
    raise FileError(
        tr(
            "{name}: volumes {rows} have the same id {double!r}. Give one of them another id in a text editor.",
            name=name,
            rows=tr(" and ").join(rows[:2]),
            double=double,
        )
    )


def _audit_relations(document: Document, name: str) -> None:
    """Refuse joins to nothing or in a circle, and expressions that cannot be worked out, with their place."""
    if not any(volume.says or volume.joined is not None for volume in document.volumes):
        return
    parents = {volume.id: volume.joined.to for volume in document.volumes if volume.joined is not None}
    here = {volume.id for volume in document.volumes}
    sizes = Sizes(document.volumes, document.lengths)
    for row, volume in enumerate(document.volumes):
        place = tr("volume {number} ({name!r})", number=row + 1, name=volume.name)
        try:
            for says in volume.says:
                value = sizes.value(says.text, says.unit)
                if says.drives != "pitch" and not 0.01 <= value <= 1e7:
                    what = tr("{text!r} gives {value:g} mm, which is no size", text=says.text, value=value)
                    raise FileError(_bad_place(name, place, what))
        except DocumentError as error:
            raise FileError(_bad_place(name, place, str(error))) from error
        above = parents.get(volume.id)
        if above is not None and above not in here:
            raise FileError(_bad_place(name, place, tr("it is joined to {to!r}, which is not there", to=above)))
    _audit_joins(document, parents, name)


def _audit_joins(document: Document, parents: dict[str, str], name: str) -> None:
    """Refuse volumes joined in a circle, or in a chain that is longer than can be followed."""
    deep: dict[str, int] = {}
    for row, volume in enumerate(document.volumes):
        chain: list[str] = []
        at: str | None = volume.id
        while at is not None and at not in deep and len(chain) <= MOST_DEEP:
            chain.append(at)
            at = parents.get(at)
        if at is not None and at not in deep:
            in_circle = len(set(chain)) < len(chain)
            what = tr("it is joined to itself through others") if in_circle else _too_deep()
            raise FileError(
                _bad_place(name, tr("volume {number} ({name!r})", number=row + 1, name=volume.name), what)
            )
        for one in reversed(chain):
            deep[one] = 1 + (deep.get(parents.get(one, ""), 0))
            if deep[one] > MOST_DEEP:
                place = tr("volume {number} ({name!r})", number=row + 1, name=volume.name)
                raise FileError(_bad_place(name, place, _too_deep()))


def _too_deep() -> str:
    return tr("more than {most} volumes are joined in a chain", most=MOST_DEEP)


def _bad_place(name: str, place: str, what: str) -> str:
    return tr("{name}: {place}: {what}. Mend this place in a text editor, or open another file.",
              name=name, place=place, what=what.rstrip("."))  # fmt: skip


def load_document(path: str | os.PathLike[str]) -> Document:
    """Read a document; raises `FileError` and leaves everything as it was."""
    return open_document(path)[0]


def open_document(path: str | os.PathLike[str]) -> tuple[Document, Seen | None]:
    """Read a document, and remember its file as it is; raises `FileError`."""
    data = read_whole(path, _LARGEST)
    return decode_document(data, shown_name(path)), seen(Path(path), data)


def save_document(document: Document, path: str | os.PathLike[str]) -> Seen | None:
    """Write a document all or nothing, and remember its file as it is now; raises `FileError`."""
    data = encode_document(document)
    write_whole(data, path)
    return seen(Path(path), data)


def schema() -> dict[str, Any]:
    """Return the JSON Schema of the file format."""
    return msgspec.json.schema(Document)
