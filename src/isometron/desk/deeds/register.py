"""The register of deeds: one tuple a topic; a new deed is one value in one of them, a new topic one line here."""

from __future__ import annotations

from isometron.desk.deeds.deed import Deed
from isometron.desk.deeds.document import DOCUMENT
from isometron.desk.deeds.looking import LOOKING
from isometron.desk.deeds.pictures import PICTURES
from isometron.desk.deeds.stages import OPENING
from isometron.desk.deeds.tools import DRAWING
from isometron.desk.deeds.volumes import VOLUMES

__all__ = ["DEEDS", "TOPICS"]

TOPICS = (DRAWING, VOLUMES, PICTURES, LOOKING, OPENING, DOCUMENT)
DEEDS: dict[str, Deed] = {deed.name: deed for topic in TOPICS for deed in topic.deeds}
