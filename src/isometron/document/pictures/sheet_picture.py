"""A picture that lies on the sheet, and the file that it came as."""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta

from isometron.document.pictures.marks import LineMark, Pixel, RingOnPicture
from isometron.view.eye import Angle, Point
from isometron.view.sheet import Place
from isometron.view.sheet import Side as PaperSide

__all__ = ["MOST_BYTES", "MOST_PICTURES", "Camera", "PictureFile", "SheetPicture", "TrueLength"]

MOST_BYTES = 40 * 2**20
"""Of all picture files of a document together."""
MOST_PICTURES = 24

Digest = Annotated[str, Meta(pattern=r"^[0-9a-f]{64}$", description="SHA-256 of the file's bytes")]
Share = Annotated[float, Meta(ge=0.0, le=1.0)]
Side = Annotated[int, Meta(ge=2, le=200_000, description="px")]


class PictureFile(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A picture's file as it came. ``data`` is empty where it could not be kept together with the document."""

    digest: Digest
    data: bytes


class Camera(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """The eye that a picture was taken from, in the picture's own terms.

    Args:
        focal_px: focal length, px.
        centre: of vision, px.
        yaw_deg, pitch_deg, roll_deg: see `isometron.geometry.frames.camera_axes`; as if the picture lay straight on the sheet.
        bend: k1 of the lens: r' = r (1 + k1 r^2), r in focal lengths.
        position: in the world, mm.
    """

    focal_px: Annotated[float, Meta(gt=0.0, le=1e7)]
    centre: Pixel
    yaw_deg: Angle = 0.0
    pitch_deg: Annotated[float, Meta(ge=-90.0, le=90.0)] = 0.0
    roll_deg: Angle = 0.0
    bend: Annotated[float, Meta(ge=-2.0, le=2.0)] = 0.0
    position: Point


class TrueLength(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """What gives a picture its scale: the eye's height over the ground, a marked line's length, or a marked ring's diameter.

    Args:
        of: what is so long; ``number`` counts lines or rings from 0.
    """

    of: Literal["eye", "line", "ring"] = "eye"
    number: Annotated[int, Meta(ge=0, le=500)] = 0
    mm: Annotated[float, Meta(gt=0.0, le=1e7, description="mm")]


class SheetPicture(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A picture on the sheet. Pixels are those of the picture as it is looked at (EXIF turn), y down.

    Args:
        file: digest of its file, see `PictureFile`.
        page: of a PDF, counted from 0.
        focal_px: what the file itself says of its focal length, px; 0 where it says nothing.
        whole: whether the centre of vision is the picture's middle; false for what was cut out of a larger one.
        paper: width and height of the sheet that it lies on, mm.
        middle: where its middle lies from the sheet's lower left corner, mm.
        pixel: size of one pixel on paper, mm.
        turn_deg: counter-clockwise on paper.
        pale: 0 as it is, 1 not seen any more.
        carried: under other eyes each face carries the part of it that was seen on that face.
        shown: left, top, right, lower end of the part that is seen, as shares of its width and height.
        corner: the leading corner's foot on the ground, px.
        true: what is known of its scale; without it the eye stands 1600 mm over the ground.
        camera: the eye that it was taken from, once that is found.
    """

    id: Annotated[str, Meta(min_length=1, max_length=80)]
    name: Annotated[str, Meta(min_length=1, max_length=120)]
    file: Digest
    page: Annotated[int, Meta(ge=0, le=100_000)] = 0
    width: Side
    height: Side
    focal_px: Annotated[float, Meta(ge=0.0, le=1e7)] = 0.0
    whole: bool = True
    paper: tuple[PaperSide, PaperSide]
    middle: tuple[Place, Place]
    pixel: Annotated[float, Meta(gt=0.0, le=1e3, description="mm")]
    turn_deg: Angle = 0.0
    pale: Share = 0.45
    hidden: bool = False
    carried: bool = False
    shown: tuple[Share, Share, Share, Share] = (0.0, 0.0, 1.0, 1.0)
    lines: Annotated[tuple[LineMark, ...], Meta(max_length=500)] = ()
    rings: Annotated[tuple[RingOnPicture, ...], Meta(max_length=100)] = ()
    corner: Pixel | None = None
    true: TrueLength | None = None
    camera: Camera | None = None

    @property
    def seen(self) -> tuple[float, float, float, float]:
        """Left, top, right, lower end of the part that is seen, in that order even where ``shown`` tells them backward."""
        (left, right), (top, lower) = sorted(self.shown[::2]), sorted(self.shown[1::2])
        return left, top, right, lower

    @property
    def centre(self) -> tuple[float, float]:
        """Its middle, px."""
        return (self.width - 1.0) / 2.0, (self.height - 1.0) / 2.0
