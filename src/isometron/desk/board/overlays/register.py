"""The register of overlays in the order of painting: a new one is one new file and one line here."""

from __future__ import annotations

from isometron.desk.board.overlays.card import CARD
from isometron.desk.board.overlays.cautions import CAUTIONS
from isometron.desk.board.overlays.construction import CONSTRUCTION
from isometron.desk.board.overlays.given_up import GIVEN_UP
from isometron.desk.board.overlays.grips import GRIPS
from isometron.desk.board.overlays.handles import HANDLES
from isometron.desk.board.overlays.overlay import Overlay
from isometron.desk.board.overlays.pencil import PENCIL
from isometron.desk.board.overlays.preview import PREVIEW
from isometron.desk.board.overlays.selection import SELECTION
from isometron.desk.board.overlays.start import START
from isometron.desk.board.overlays.stretch import STRETCH

__all__ = ["OVERLAYS"]

OVERLAYS: dict[str, Overlay] = {
    "card": CARD,
    "start": START,
    "construction": CONSTRUCTION,
    "selection": SELECTION,
    "handles": HANDLES,
    "grips": GRIPS,
    "stretch": STRETCH,
    "cautions": CAUTIONS,
    "given up": GIVEN_UP,
    "preview": PREVIEW,
    "pencil": PENCIL,
}
