"""The board's kept picture: mended where a dragged volume changed it, and like new when the hand lets go."""

from dataclasses import replace

import msgspec
import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, QRect, Qt
from PyQt6.QtGui import QImage

from isometron.demos.catalogue import demo
from isometron.desk.board.kept_picture import BoardPicture, changed_part
from isometron.desk.board.sheet_paint import LEAST_LETTERING, paint_marks
from isometron.desk.board.viewing import BoardView
from isometron.document.edits import change_volume, delete_volumes
from isometron.document.eye_edits import turn_object
from isometron.solve.drawing import solve
from isometron.solve.layers.labels import lay_labels
from isometron.solve.marks import Marks, Singles
from isometron.tools.handles import Grip

SIZE = (900, 640)


def pixels(picture):
    image = (picture if isinstance(picture, QImage) else picture.toImage()).convertToFormat(
        QImage.Format.Format_RGB32
    )
    data = image.constBits().asarray(image.sizeInBytes())
    return np.frombuffer(data, np.uint8).reshape(image.height(), image.width(), 4)[..., :3].astype(int)


def anew(document, view):
    target = QImage(*SIZE, QImage.Format.Format_RGB32)
    drawing = solve(document)
    labels = lay_labels(
        [label for marks in drawing.stream for label in marks.labels], drawing.stream, document.sheet.rectangle,
        least=LEAST_LETTERING / view.scale,
    )  # fmt: skip
    stream = [*(replace(marks, labels=Singles()) for marks in drawing.stream), Marks(labels=Singles(labels))]
    paint_marks(target, stream, document.sheet.rectangle, view)
    return pixels(target)


def moved(document, name, by):
    volume = next(v for v in document.volumes if v.id == name)
    corner = tuple(c + d for c, d in zip(volume.corner, by, strict=True))
    return change_volume(document, name, "move", corner=corner).document


@pytest.mark.parametrize("name", ["tea-cart", "ember-lantern", "perch-stool"])
def test_mending_shows_what_painting_anew_shows(qapp, name):
    document = demo(name)
    view = BoardView.fitting(document.sheet.rectangle, *SIZE)
    for volume in document.volumes[:6]:
        picture = BoardPicture()
        picture.of(solve(document), view, *SIZE)
        for by in ((30.0, 0.0, 0.0), (60.0, 40.0, 0.0)):
            after = moved(document, volume.id, by)
            drawing = solve(after)
            found = pixels(picture.of(drawing, view, *SIZE, moving=True))
            differ = (np.abs(found - anew(after, view)) > 8).any(axis=2)
            # Dashes of what runs in and out of the mended part begin elsewhere.
            assert differ.mean() < 0.004, volume.name
        assert (pixels(picture.of(drawing, view, *SIZE)) == anew(after, view)).all(), "let go: as if painted anew"


def test_only_a_part_is_painted_while_one_volume_moves_and_all_when_the_eye_does(qapp):
    document = demo("tea-cart")
    view = BoardView.fitting(document.sheet.rectangle, *SIZE)
    wheel = document.volumes[-1]
    before, after = solve(document), solve(moved(document, wheel.id, (10.0, 0.0, 0.0)))
    part = changed_part(before, after, view, *SIZE)
    assert part is not None and 0 < part.width() * part.height() < 0.3 * SIZE[0] * SIZE[1]
    assert changed_part(before, solve(turn_object(document, 10.0).document), view, *SIZE) is None
    gone = solve(delete_volumes(document, [wheel.id]).document)
    assert changed_part(before, gone, view, *SIZE) is None
    assert changed_part(before, before, view, *SIZE).isEmpty()


def test_a_volume_that_reaches_behind_the_eye_has_everything_painted(qapp):
    document = demo("tea-cart")
    view = BoardView.fitting(document.sheet.rectangle, *SIZE)
    volume = document.volumes[0]
    long = msgspec.structs.replace(volume, corner=(-50_000.0, -50_000.0, 0.0), size=(100_000.0, 100_000.0, 10.0))
    after = msgspec.structs.replace(document, volumes=(long, *document.volumes[1:]))
    assert changed_part(solve(document), solve(after), view, *SIZE) is None


def shown(hand, *, anew=False):
    if anew:
        hand.board.forget_picture()
    return pixels(hand.board.grab())


@pytest.mark.parametrize("volume", ["Counter", "Front wheel"])
def test_a_pull_in_a_real_window_mends_the_board_and_ends_clean(desk, volume):
    hand = desk(demo("tea-cart"))
    wanted = next(v for v in hand.session.document.volumes if v.name == volume)
    hand.session.select((wanted.id,))
    hand.key(Qt.Key.Key_P)
    grip = next(handle for handle in hand.board._on_board().handles if handle.grip is Grip.MOVE)
    at = QPoint(*map(round, hand.board.view.point_to_screen(*grip.at)))
    hand.mouse(QEvent.Type.MouseMove, at, Qt.MouseButton.NoButton, Qt.MouseButton.NoButton)
    hand.mouse(QEvent.Type.MouseButtonPress, at)
    before = shown(hand)
    for step in (12, 25, 40):
        hand.mouse(
            QEvent.Type.MouseMove, at + QPoint(step, -step // 3), Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton
        )
        assert hand.session.moving
        mended = shown(hand)
        assert (np.abs(mended - before) > 8).any(axis=2).mean() > 0.0005, "the block moves under the pencil"
        differ = (np.abs(mended - shown(hand, anew=True)) > 8).any(axis=2)
        assert differ.mean() < 0.004
    hand.mouse(QEvent.Type.MouseButtonRelease, at + QPoint(40, -13))
    assert not hand.session.moving
    assert (shown(hand) == shown(hand, anew=True)).all(), "let go: as if painted anew"
    hand.session.undo()
    assert (shown(hand) == shown(hand, anew=True)).all()


def test_what_moves_out_of_sight_leaves_every_pixel_alone(qapp):
    document = demo("tea-cart")
    view = BoardView.fitting(document.sheet.rectangle, *SIZE)
    target = QImage(*SIZE, QImage.Format.Format_RGB32)
    target.fill(0x123456)
    before = pixels(target)
    paint_marks(target, solve(document).stream, document.sheet.rectangle, view, part=QRect())
    assert (pixels(target) == before).all()
