"""The document: immutable values; an edit makes a new one."""

from __future__ import annotations

from typing import Annotated, Any, Literal, TypeVar

import msgspec
from msgspec import Meta

from isometron.document.eyes.kept_eye import MOST_EYES, KeptEye
from isometron.document.eyes.named_point import MOST_POINTS, NamedPoint
from isometron.document.lengths.ruler import Ruler
from isometron.document.lengths.units import UnitName
from isometron.document.pictures.sheet_picture import MOST_PICTURES, PictureFile, SheetPicture
from isometron.errors import IsometronError
from isometron.view.eye import Eye
from isometron.view.sheet import Sheet
from isometron.volumes.kinds import AnyVolume
from isometron.volumes.sections.plane import MOST_PLANES, KeptPlane
from isometron.wording import tr

__all__ = [
    "FORMAT",
    "MOST_VOLUMES",
    "UNTITLED",
    "VERSION",
    "Document",
    "DocumentError",
    "NamedLength",
    "Show",
    "Target",
    "checked",
]

FORMAT = "isometron document"
VERSION = 6
MOST_VOLUMES = 10_000
"""More than any framework on paper; a file with more is a mistake or an attack."""

StructType = TypeVar("StructType", bound=msgspec.Struct)


class DocumentError(IsometronError, ValueError):
    """A value the document's rules refuse; the message says where, which rule and what was received."""


class Show(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """What the drawing shows beside the object lines.

    guides_of : the volume whose directions edge ticks and fan serve, empty for the world's; grid_on : empty for the
    ground, or ``volume:face`` with the face's number in `isometron.volumes.box.BOX_FACES`.
    """

    hidden: Literal["dashed", "left out"] = "dashed"
    construction: bool = True
    names: bool = False
    edge_ticks: bool = False
    fan: bool = False
    guides_of: str = ""
    grid_module: Annotated[float, Meta(ge=0.0, le=1e6, description="mm, 0 for no grid")] = 0.0
    grid_on: str = ""


class NamedLength(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A length with a name of its own, to be used in expressions; bare numbers in its text are in ``unit``."""

    name: Annotated[str, Meta(min_length=1, max_length=60, pattern=r"^[^\W\d]\w*$")]
    text: Annotated[str, Meta(min_length=1, max_length=200)]
    unit: UnitName = "mm"


class Target(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """What is meant: two expressions with =, < or > between them; bare numbers are in ``unit``."""

    text: Annotated[str, Meta(min_length=3, max_length=300)]
    unit: UnitName = "mm"


UNTITLED = "Untitled"
"""The title of a document that nobody gave one."""


class Document(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Everything a file holds. Lengths in mm whatever ``unit`` shows.

    module : the name of the volume or length that is taken as the unit of proportion, empty for none; lengths, targets :
    named lengths and what is meant, see `isometron.document.lengths.sizes` and `isometron.document.lengths.targets`;
    pictures, files : what lies on the sheet, and what it came as; eyes : those that are kept by name; planes : likewise, and what they
    cut; points : names of one's own for vanishing points; ruler : what the sheet is drawn with, None for one that reaches anywhere.
    """

    format: Literal["isometron document"] = "isometron document"
    version: Annotated[int, Meta(ge=1, le=VERSION)] = VERSION
    title: Annotated[str, Meta(max_length=200)] = UNTITLED
    unit: UnitName = "mm"
    sheet: Sheet
    eye: Eye
    show: Show = Show()
    module: Annotated[str, Meta(max_length=120)] = ""
    lengths: Annotated[tuple[NamedLength, ...], Meta(max_length=200)] = ()
    targets: Annotated[tuple[Target, ...], Meta(max_length=200)] = ()
    eyes: Annotated[tuple[KeptEye, ...], Meta(max_length=MOST_EYES)] = ()
    pictures: Annotated[tuple[SheetPicture, ...], Meta(max_length=MOST_PICTURES)] = ()
    planes: Annotated[tuple[KeptPlane, ...], Meta(max_length=MOST_PLANES)] = ()
    points: Annotated[tuple[NamedPoint, ...], Meta(max_length=MOST_POINTS)] = ()
    ruler: Ruler | None = None
    volumes: Annotated[tuple[AnyVolume, ...], Meta(max_length=MOST_VOLUMES)] = ()
    files: Annotated[tuple[PictureFile, ...], Meta(max_length=MOST_PICTURES)] = ()

    @property
    def cutting(self) -> int:
        """How many planes cut what stands there."""
        return sum(plane.cuts for plane in self.planes)

    def picture(self, picture_id: str) -> SheetPicture | None:
        """Return a picture by its id, or None."""
        return next((picture for picture in self.pictures if picture.id == picture_id), None)

    def file_of(self, picture: SheetPicture) -> bytes:
        """Return the bytes of a picture's file; nothing where it is missing."""
        return next((file.data for file in self.files if file.digest == picture.file), b"")

    def index_of(self, volume_id: str) -> int | None:
        """Return the position of a volume by its id, or None."""
        return next((row for row, volume in enumerate(self.volumes) if volume.id == volume_id), None)

    def volume(self, volume_id: str) -> AnyVolume:
        """Return a volume by its id; raises `DocumentError` when there is none."""
        row = self.index_of(volume_id)
        if row is None:
            raise DocumentError(
                tr("There is no volume with the id {volume_id!r} in this document.", volume_id=volume_id)
            )
        return self.volumes[row]

    def named_volume(self, words: str) -> AnyVolume:
        """Return a volume by its id or its name; raises `DocumentError` naming those there are."""
        found = [v for v in self.volumes if v.id == words] or [v for v in self.volumes if v.name == words]
        if not found:
            known = ", ".join(volume.id for volume in self.volumes[:12]) or tr("none")
            raise DocumentError(
                tr("There is no volume with the id or name {words!r}. Ids: {known}.", words=words, known=known)
            )
        return found[0]


def checked(value: StructType, what: str) -> StructType:
    """Return ``value`` after holding every field to its rule; raises `DocumentError` (NaN and infinities included)."""
    try:
        held = msgspec.convert(msgspec.to_builtins(value), type(value))
        msgspec.json.encode(held)
    except msgspec.ValidationError as error:
        raise DocumentError(f"{what}: {explain(str(error))}") from error
    except UnicodeEncodeError as error:
        raise DocumentError(tr("{what}: half of a character is no text. Type it again.", what=ascii(what))) from error
    return held


def explain(message: str) -> str:
    """Put a validator's message into words for a person."""
    rule, _, place = message.partition(" - at ")
    words: dict[str, str] = {"Expected": "expected", "`float`": tr("a number"), "`int`": tr("a whole number"),
                             "`str`": tr("text"), "`bool`": tr("true or false"), "`array`": tr("a list"), "`object`": tr("a group")}  # fmt: skip
    for theirs, ours in words.items():
        rule = rule.replace(theirs, ours)
    place = place.strip("`").removeprefix("$").lstrip(".")
    return f"{place}: {rule}" if place else rule


def with_fields(value: StructType, **fields: Any) -> StructType:
    """Return ``value`` with some fields replaced and every rule checked again."""
    return checked(msgspec.structs.replace(value, **fields), type(value).__name__.lower())
