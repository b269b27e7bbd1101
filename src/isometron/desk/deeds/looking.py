"""Deeds of looking: at the sheet, at a construction, by day or by night."""

from __future__ import annotations

from isometron.desk.deeds.deed import Deed, Hint, OnDesk, Topic
from isometron.wording import mark

__all__ = ["LOOKING"]


def _full_screen(desk: OnDesk) -> None:
    if desk.host.isFullScreen():
        desk.host.showNormal()
    else:
        desk.host.showFullScreen()


LOOKING = Topic(
    mark("Sheet"),
    (
        Deed("fit", mark("Whole sheet"), mark("Show the whole sheet"), lambda desk: desk.board.fit_sheet(), ("Ctrl+0",),
             on_card=mark("whole sheet")),
        Deed("fit_all", mark("Sheet and vanishing points"), mark("Show it all"),
             lambda desk: desk.board.fit_everything(), ("Ctrl+9",), on_card=mark("the vanishing points too")),
        Deed("larger", mark("Larger"), mark("Zoom in"), lambda desk: desk.board.zoom(1.25), ("Ctrl++", "Ctrl+="),
             on_card=mark("larger")),
        Deed("smaller", mark("Smaller"), mark("Zoom out"), lambda desk: desk.board.zoom(0.8), ("Ctrl+-",),
             on_card=mark("smaller")),
        Deed("step_on", mark("Next step"), mark("Of the construction"), lambda desk: desk.player.step(1), ("PgDown",),
             on_card=mark("next step of a construction")),
        Deed("step_back", mark("Back one step"), mark("Of the construction"), lambda desk: desk.player.step(-1),
             ("PgUp",), on_card=mark("one step back")),
        Deed("play", mark("Play or pause"), mark("The construction"), lambda desk: desk.player.play_or_pause(),
             ("Shift+PgDown",), on_card=mark("play or pause it")),
        Deed("night", mark("Day or night table"), mark("A darker table and sheet"), lambda desk: desk.toggle_night(),
             ("Ctrl+L",), on_card=mark("day or night table")),
        Deed("fold_left", mark("Stages to the edge"), mark("The stages fold away, or come back"),
             lambda desk: desk.fold("left"), ("Ctrl+1",), on_card=mark("fold the stages away")),
        Deed("fold_right", mark("Figures to the edge"), mark("Dial, ledger and edges fold away, or come back"),
             lambda desk: desk.fold("right"), ("Ctrl+2",), on_card=mark("fold dial, ledger and edges away")),
        Deed("full_screen", mark("Full screen"), mark("The window fills the screen, or no longer"), _full_screen,
             ("F11",), on_card=mark("full screen")),
    ),
    (
        Hint(mark("wheel"), mark("larger, smaller")),
        Hint(mark("middle button, Ctrl+arrows"), mark("shift the sheet")),
        Hint(mark("arrows on a rail or the dial"), mark("turn, tilt, pull; Shift finely")),
    ),
)  # fmt: skip
