"""An eye that is kept by its name, with the sheet it looks on to."""

from __future__ import annotations

from typing import Annotated

import msgspec
from msgspec import Meta

from isometron.view.eye import Eye
from isometron.view.sheet import Sheet

__all__ = ["MOST_EYES", "KeptEye"]

MOST_EYES = 60


class KeptEye(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """Eye, sheet and centre of vision; picture : the id of the picture that belongs to it, empty for none."""

    name: Annotated[str, Meta(min_length=1, max_length=120)]
    eye: Eye
    sheet: Sheet
    picture: Annotated[str, Meta(max_length=80)] = ""
