"""The step strip: the construction on the board, its school, a slider over its steps, and the sentence of this one."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QSlider, QVBoxLayout, QWidget

from isometron.construct.outcome import Construction, NotHere
from isometron.desk.cards.ask_path import ask_path
from isometron.desk.controls.deed_button import deed_tip
from isometron.desk.controls.fields import AngleField
from isometron.desk.controls.words import Label, WordButton, word_button
from isometron.desk.frame.session import Session
from isometron.desk.frame.settings import with_my_ruler
from isometron.desk.frame.theme import px
from isometron.desk.instruments.player import SPEEDS, Player
from isometron.document.edits import lay_twin
from isometron.errors import IsometronError
from isometron.home import home
from isometron.wording import mark, tr

__all__ = ["StepStrip"]

_SPEED_WORDS = (mark("slow"), mark("steady"), mark("quick"))


_ABOUT = (
    (tr("about its middle"), None), (tr("about A"), "lead"), (tr("about B"), "right"), (tr("about C"), "left"), (tr("about D"), "back"),
)  # fmt: skip


class StepStrip(QWidget):
    """Plays a construction. Signals come from its `Player`."""

    def __init__(self, session: Session, player: Player, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("strip")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self.player = session, player
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 6, 12, 6)
        layout.setSpacing(4)
        layout.addLayout(self._controls())
        lower = QHBoxLayout()
        lower.setSpacing(12)
        words = QVBoxLayout()
        words.setSpacing(1)
        self._sentence, self._why = Label(), Label()
        self._sentence.setAccessibleName(tr("This step"))
        self._why.setAccessibleName(tr("Why"))
        self._why.setObjectName("quiet")
        for label in (self._sentence, self._why):
            label.setWordWrap(True)
            words.addWidget(label)
        words.addStretch(1)
        lower.addLayout(words, 1)
        self.turn = AngleField(tr("Turn of the twin"), (-359.0, 359.0))
        self.turn.setToolTip(tr("How far the twin is turned, counter-clockwise from above"))
        self.turn.setFixedWidth(px(64))
        self.turn.committed.connect(lambda value: self.player.ask(turn_deg=value))
        self.turn.refused.connect(lambda words: session.say(words, caution=True))
        lower.addWidget(self.turn, 0, Qt.AlignmentFlag.AlignTop)
        self.about = QComboBox()
        self.about.setAccessibleName(tr("What the twin turns about"))
        self.about.setToolTip(tr("Its middle, or an upright by the letter of its corner on the ground"))
        for said, corner in _ABOUT:
            self.about.addItem(said, corner)
        self.about.activated.connect(lambda index: self.player.ask(corner=self.about.itemData(index)))
        lower.addWidget(self.about, 0, Qt.AlignmentFlag.AlignTop)
        self.keep = word_button(
            tr("Keep the twin"), "word", tr("Lay the twin as a volume of its own, turned as it is here")
        )
        self.keep.clicked.connect(self._keep_twin)
        lower.addWidget(self.keep, 0, Qt.AlignmentFlag.AlignTop)
        self._place = word_button(
            tr("Back to the usual places"),
            "word",
            tr("Undo the place you clicked: the height is carried to the two usual places again"),
        )
        self._place.clicked.connect(lambda: self.player.ask(place=None))
        lower.addWidget(self._place, 0, Qt.AlignmentFlag.AlignTop)
        self._other = word_button("", "word", tr("The school that works here"))
        self._other.clicked.connect(self._take_other)
        lower.addWidget(self._other, 0, Qt.AlignmentFlag.AlignTop)
        layout.addLayout(lower)
        self.setMinimumHeight(px(104))
        player.changed.connect(self.refresh)
        self.refresh()

    def _controls(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(4)
        self._school = QComboBox()
        self._school.setAccessibleName(tr("School"))
        self._school.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self._school.setMinimumContentsLength(11)
        self._school.activated.connect(lambda index: self.player.take(self._school.itemData(index)))
        row.addWidget(self._school, 3)
        self._back = self._small("◂", deed_tip("step_back", tr("Back one step")), lambda: self.player.step(-1))
        self._slider = QSlider(Qt.Orientation.Horizontal)
        self._slider.setAccessibleName(tr("Steps"))
        self._slider.setMinimumWidth(px(60))
        self._slider.setPageStep(1)
        self._slider.valueChanged.connect(self._slid)
        self._on = self._small("▸", deed_tip("step_on", tr("Next step")), lambda: self.player.step(1))
        self._count = Label()
        self._count.setObjectName("quiet")
        self._count.setAccessibleName(tr("Number of the step"))
        self._count.setMinimumWidth(px(34))
        self._count.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._play = self._small(tr("Play"), deed_tip("play", tr("Play or pause")), self.player.play_or_pause)
        self._speed = QComboBox()
        self._speed.setAccessibleName(tr("Speed"))
        for words, name in zip(_SPEED_WORDS, SPEEDS, strict=True):
            self._speed.addItem(tr(words), name)
        self._speed.setCurrentIndex(list(SPEEDS).index(self.player.speed))
        self._speed.activated.connect(lambda index: self.player.set_speed(self._speed.itemData(index)))
        self._sheet = self._small(tr("Worksheet…"), tr("The steps as a PDF to print, as SVG or as JSON"), self.save)
        self._close = self._small(
            "✕", deed_tip("construct", tr("Take the construction off the board")), self.player.close
        )
        for widget in (
            self._back,
            self._slider,
            self._on,
            self._count,
            self._play,
            self._speed,
            self._sheet,
            self._close,
        ):
            row.addWidget(widget, 4 if widget is self._slider else 0)
        return row

    def _fill_schools(self) -> None:
        from isometron.construct.schools import SCHOOLS  # loaded with the first construction

        for name, school in SCHOOLS.items():
            self._school.addItem(school.title, name)

    def _small(self, words: str, tip: str, act) -> WordButton:
        button = word_button(words, "word", tip)
        button.setAccessibleName(tip)
        button.clicked.connect(act)
        return button

    def _slid(self, value: int) -> None:
        if value != self.player.number:
            self.player.step(value - self.player.number)

    def _keep_twin(self) -> None:
        done = self.player.construction
        if done is not None and done.turned_deg is not None:
            volume = self._session.document.volume(done.volume)
            self.player.close()
            self._session.attempt(lay_twin, volume.id, volume.yaw_deg + done.turned_deg, done.about)

    def _take_other(self) -> None:
        answer = self.player.answer
        if isinstance(answer, NotHere) and answer.instead is not None:
            self.player.take(answer.instead)

    def refresh(self) -> None:
        """Show the player's step."""
        self.setVisible(self.player.open)
        if not self.player.open:
            return
        if self._school.count() == 0:
            self._fill_schools()
        self._school.setCurrentIndex(self._school.findData(self.player.school))
        for turning in (self.turn, self.about):
            turning.setVisible(self.player.school == "turn")
        self.about.setCurrentIndex(self.about.findData(self.player.options.corner))
        self._place.setVisible(self.player.school == "height")
        construction, answer = self.player.construction, self.player.answer
        asked = self.player.options.turn_deg
        self.turn.show_value(construction.turned_deg if asked is None and construction is not None else asked)
        self.keep.setVisible(construction is not None and construction.turned_deg is not None)
        for widget in (self._back, self._slider, self._on, self._play, self._speed, self._sheet):
            widget.setEnabled(construction is not None)
        if construction is None:
            assert isinstance(answer, NotHere)
            self._count.setText("")
            self._sentence.setText(f"⚠ {answer.reason}")
            self._why.setText("" if answer.instead else tr("No school draws it from this eye."))
            self._other.setVisible(answer.instead is not None)
            if answer.instead is not None:
                index = self._school.findData(answer.instead)
                self._other.setText(tr("Take “{school}”", school=self._school.itemText(index)))
            return
        self._other.setVisible(False)
        last, number = len(construction.steps) - 1, self.player.number
        blocked = self._slider.blockSignals(True)
        self._slider.setRange(0, last)
        self._slider.setValue(number)
        self._slider.blockSignals(blocked)
        self._back.setEnabled(number > 0)
        self._on.setEnabled(number < last)
        self._count.setText(f"{number + 1} / {last + 1}")
        self._play.setText(tr("Pause") if self.player.playing else tr("Play"))
        self._sentence.setText(construction.steps[number].sentence)
        self._why.setText(construction.steps[number].why)

    def save(self) -> None:
        """Save the worksheet: PDF, numbered SVG files, or JSON, by the ending."""
        construction = self.player.construction
        if construction is None:
            return
        kinds = tr("Worksheet (*.pdf);;Steps (*.svg);;Record (*.json)")
        name = f"{self._session.document.volume(construction.volume).name} {construction.school}"
        path = ask_path(self, tr("Worksheet"), home(), name, ".pdf", kinds)
        if path is not None:
            self.write(path)

    def write(self, path: Path) -> None:
        """Write the worksheet to a path, and say so."""
        from isometron.construct.each import construct_each
        from isometron.surfaces.handouts import handouts

        construction = self.player.construction
        assert construction is not None
        document = with_my_ruler(self._session.document)
        others = [each for each in self._session.selection if each != construction.volume]
        try:
            of, done = construct_each(
                document, [construction.volume, *others], construction.school, self.player.options
            )
        except IsometronError as error:
            self._session.say(str(error), caution=True)
            return
        drawn = [each for each in done if isinstance(each, Construction)] or [construction]
        self._session.hand_out_all(path, lambda _: handouts(of, drawn, path))
