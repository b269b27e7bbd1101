"""Selected volumes become round, or boxes again."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtWidgets import (
    QComboBox,
)

from isometron.desk.controls.offered import offer_on, picture_tip
from isometron.desk.controls.section import Section
from isometron.desk.frame.session import Session
from isometron.desk.stages.rounds.active import active_round
from isometron.document.edits import Edit
from isometron.document.model import Document
from isometron.document.shapes.rounding import (
    change_round,
    make_round,
    make_square,
    pair_across,
)
from isometron.volumes.turned import PROFILES
from isometron.volumes.volume import DIRECTIONS
from isometron.wording import mark, tr

__all__ = ["MakeRound"]


_PROFILE_WORDS = (mark("cylinder"), mark("cone"), mark("frustum"), mark("ball"), mark("wheel"), mark("bottle"))


_FITS = (
    (mark("round, by the narrow side"), "narrow"),
    (mark("round, by the wide side"), "wide"),
    (mark("oblong, by both sides"), "both"),
)
_AXLE_WORDS = (mark("long"), mark("wide"), mark("high"))


class MakeRound(Section):
    """Selected volumes become round, or boxes again."""

    tool_names = ("round",)

    def __init__(self, session: Session) -> None:
        super().__init__(session, tr("Make it round"), tr("The selected volumes, inside their bounding volumes"))
        self.fits = QComboBox()
        self.fits.setAccessibleName(tr("How wide, where the block is not square"))
        self.fits.setToolTip(tr("Where the block is not square: the board shows each before it is taken"))
        for words, fits in _FITS:
            self.fits.addItem(tr(words), fits)
        self.column.addWidget(self.fits)
        for words, name in zip(_PROFILE_WORDS, PROFILES, strict=True):
            tip = picture_tip(tr("In the middle of the same bounding volume"), f"round-{name}")
            offer_on(self.button(tr(words), tip), session, self._made, name)
        self.button(
            tr("the opposite wheel"), tr("A copy on the other side of the vehicle, on the same axle"), self._pair
        )
        offer_on(self.button(tr("a box again"), tr("The bounding volume itself")), session, make_square)
        self._axle = QComboBox()
        self._axle.setAccessibleName(tr("Axle"))
        for words, axle in zip(_AXLE_WORDS, DIRECTIONS, strict=True):
            self._axle.addItem(tr("axle {direction}", direction=tr(words)), axle)
        self._axle.activated.connect(self._turn)
        self.column.addWidget(self._axle)

    def _made(self, document: Document, ids: Iterable[str], profile: str) -> Edit:
        return make_round(document, ids, profile, self.fits.currentData())

    def _pair(self) -> None:
        volume = active_round(self.session)
        if volume is None:
            self.session.say(tr("Select a round volume first."), caution=True)
        else:
            self.session.attempt(pair_across, volume.id)

    def _turn(self, index: int) -> None:
        volume = active_round(self.session)
        if volume is not None:
            self.session.attempt(change_round, volume.id, tr("turn the axle of"), axle=self._axle.itemData(index))

    def refresh(self) -> None:
        """Show the axle of the selected round."""
        volume = active_round(self.session)
        self._axle.setEnabled(volume is not None)
        if volume is not None:
            self._axle.setCurrentIndex(DIRECTIONS.index(volume.axle))
