"""The strip under the board: what to do next, what was refused, and what lies under the pencil."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from isometron.desk.board.board import Board
from isometron.desk.controls.words import Label
from isometron.desk.frame.session import Session
from isometron.desk.frame.theme import DIRECTION_COLOURS, px
from isometron.document.eyes.point_names import point_word
from isometron.document.laid import given_up_words
from isometron.document.lengths.units import format_length, format_paper
from isometron.solve.measures import off_sheet
from isometron.tools.measure import spot_at
from isometron.wording import tr

__all__ = ["Strip"]


class Strip(QWidget):
    """One line of words on the left, the pencil's place and the edge under it on the right."""

    def __init__(self, session: Session, board: Board, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("strip")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setMinimumHeight(px(38))
        self._session = session
        self._words = Label()
        self._words.setWordWrap(True)
        self._words.setAccessibleName(tr("What to do next"))
        self._place = Label()
        self._place.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self._place.setAccessibleName(tr("Under the pencil"))
        layout = QHBoxLayout(self)
        layout.setContentsMargins(14, 2, 14, 2)
        layout.setSpacing(20)
        layout.addWidget(self._words, 1)
        layout.addWidget(self._place)
        self._prompt, self._standing = "", ""
        self._board = board
        board.prompted.connect(self._prompted)
        board.hovered.connect(self._hovered)
        session.said.connect(self._said)
        session.document_changed.connect(self._show_prompt)
        session.previewed_calmly.connect(self._tell_price)
        session.selection_changed.connect(self._show_prompt)
        self._show("", False)

    def _prompted(self, prompt: str, refusal: str) -> None:
        if self._standing and prompt == self._prompt and not refusal:
            return  # what was said, above all what went wrong, stands until the next deed
        self._prompt, self._standing = prompt, ""
        self._show(refusal or prompt, bool(refusal))

    def _said(self, words: str, caution: bool) -> None:
        self._standing = words
        self._show(words, caution)

    def _show_prompt(self) -> None:
        self._standing = ""
        self._show(self._prompt, False)

    def _tell_price(self) -> None:
        """While something is shown that is not taken yet: what it would give up of what was laid."""
        given = self._session.given_up if self._session.moving else ()
        if given:
            self._show(given_up_words(given, taken=False), True)

    def _show(self, words: str, caution: bool) -> None:
        self._words.setObjectName("caution" if caution else "")
        style = self._words.style()
        assert style is not None
        style.polish(self._words)
        self._words.setText(f"⚠ {words}" if caution else words or self._idle())

    def _idle(self) -> str:
        if not self._session.document.volumes:
            return tr("An empty sheet. Press B and pull the first block out of the ground.")
        if not self._session.selection:
            return tr("Point at a volume to select it, or press B to pull a block.")
        count = len(self._session.selection)
        volume = self._session.document.volume(self._session.selection[-1])
        return (
            tr("{volume} selected.", volume=volume.name)
            if count == 1
            else tr("{count} volumes selected.", count=count)
        )

    def _hovered(self, place: tuple[float, float] | None, edge: tuple[int, int] | None) -> None:
        if place is None:
            self._place.setText("")
            return
        spot = spot_at(self._session.drawing, *place, self._board.reach)
        speaks = (
            self._board.in_hand.speaks
        )  # a press acts on what the tool names, and nothing else is named beside it
        corner = spot is not None and spot.kind == "corner"
        x, y = self._session.document.sheet.from_corner(*(spot.at if spot is not None and corner else place))
        unit = self._session.document.unit
        words = tr("{x} from the left, {y} up", x=format_paper(x, unit), y=format_paper(y, unit))
        if speaks:
            pass
        elif edge is not None and not corner:
            words = f"{self._edge_words(*edge)}\n{words}"
        elif spot is not None and spot.kind != "ground":
            words = f"{spot.words}\n{words}"
        self._place.setText(words)

    def _edge_words(self, owner: int, row: int) -> str:
        first = self._session.drawing.scene.edges_of(owner).start
        m = self._session.drawing.measures(owner)[row - first]
        letter, _ = DIRECTION_COLOURS[m.going]
        parts = [
            f"{self._session.document.volumes[owner].name} {letter}",
            tr("true {true}", true=format_length(m.true, self._session.document.unit)),
        ]
        if m.drawn is not None and m.foreshortening is not None:
            parts += [
                tr("drawn {drawn}", drawn=format_paper(m.drawn, self._session.document.unit)),
                f"{100 * m.foreshortening:.0f} %",
            ]
        if m.slope_deg is not None:
            parts.append(tr("slope {slope_deg:.1f}°", slope_deg=m.slope_deg))
        if m.vanishing.at is not None:
            far = off_sheet(self._session.document, m.vanishing.at)
            off = tr("{far} off", far=format_paper(far, self._session.document.unit)) if far else tr("on the sheet")
            own = point_word(self._session.document, m.vanishing.at, "")
            parts.append(tr("VP {own} {off}", own=own, off=off).replace("  ", " "))
        return " · ".join(parts)
