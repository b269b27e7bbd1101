"""A person who works from a photograph at the real window: mouse and keys only, every action counted."""

import json
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from isometron.desk.frame.picture_intake import lay_file
from isometron.document.pictures.placing import to_paper
from tests.desk.person import Person

PHOTOS = Path(__file__).parents[1] / "cases" / "photos"
LEFT, NONE = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
PLAIN = Qt.KeyboardModifier.NoModifier


class Photographer(Person):
    """Works on one photograph with known truth; the hand trembles by ``tremble`` pixels of it."""

    def __init__(self, hand, name, tremble=2.0, seed=5):
        super().__init__(hand)
        self.board, self.session = hand.board, hand.session
        self.truth = json.loads((PHOTOS / f"{name}.json").read_text())
        self._rng, self._tremble = np.random.default_rng(seed), tremble
        self.lay(PHOTOS / f"{name}.jpg")

    def lay(self, path):
        """Open a picture: the deed's key, and the name in the dialog, which is not shown here."""
        self.actions += 2
        lay_file(self.session, path, self.hand.desk)
        for _ in range(500):
            QTest.qWait(10)
            if self.session.document.pictures and not self.session.beside.running:
                return

    @property
    def picture(self):
        return self.session.document.pictures[-1]

    def seen(self, *place):
        """Where the photograph shows a place of the true world, px."""
        camera = self.truth["camera"]
        right, up, look = (np.array(camera[name]) for name in ("right", "up", "look"))
        off = np.array(place) - camera["position"]
        across, rise = camera["f_px"] * (off @ right) / (off @ look), camera["f_px"] * (off @ up) / (off @ look)
        return np.array([camera["principal_point"][0] + across, camera["principal_point"][1] - rise])

    def at(self, pixel, *, steady=False):
        """The pixel of the board where a pixel of the photograph lies, as a hand hits it."""
        off = 0.0 if steady else self._rng.normal(0.0, self._tremble, 2)
        u, v = to_paper(self.picture, self.session.document.sheet, [np.asarray(pixel) + off])[0]
        return QPointF(*self.board.view.point_to_screen(float(u), float(v)))

    def _send(self, kind, at, button, buttons, modifier=PLAIN):
        self.hand.mouse(kind, at, button, buttons, modifier)

    def pull(self, start, end, modifier=PLAIN):
        """Press at one place of the board, go to another, let go."""
        self.actions += 1
        self._send(QEvent.Type.MouseMove, start, NONE, NONE, modifier)
        self._send(QEvent.Type.MouseButtonPress, start, LEFT, LEFT, modifier)
        for t in (0.3, 0.7, 1.0):
            self._send(QEvent.Type.MouseMove, start + (end - start) * t, NONE, LEFT, modifier)
        self._send(QEvent.Type.MouseButtonRelease, end, LEFT, NONE, modifier)
        QApplication.processEvents()

    def click(self, at, modifier=PLAIN):
        self.actions += 1
        self._send(QEvent.Type.MouseMove, at, NONE, NONE, modifier)
        self._send(QEvent.Type.MouseButtonPress, at, LEFT, LEFT, modifier)
        self._send(QEvent.Type.MouseButtonRelease, at, LEFT, NONE, modifier)
        QApplication.processEvents()

    def key(self, key, modifier=PLAIN):
        self.actions += 1
        self.hand.key(key, modifier)

    def type_into(self, field, text):
        QApplication.processEvents()  # what was just opened is there to be typed into
        self.fill(field, text)
        QTest.qWait(5)  # the keyboard goes back to the board

    def mark_edges(self, rows):
        """Pull along edges of the truth by their numbers among the marks."""
        self.key(Qt.Key.Key_G)
        for row in rows:
            mark = self.truth["marks"]["edges"][row]
            start, end = (self.at(pixel) for pixel in mark["exact"])
            self.pull(start, end)

    def pull_block(self, *corners):
        """Pull a block by four corners of the true world: where it starts, and where its three pulls end."""
        self.key(Qt.Key.Key_B)
        start, *ends = (self.at(self.seen(*corner)) for corner in corners)
        self.pull(start, ends[0])
        for end in ends[1:]:
            self.click(end)
        return self.session.document.volumes[-1]
