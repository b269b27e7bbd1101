"""The board's kept picture: mended where a dragged volume changed it, and like new when the hand lets go."""

from dataclasses import replace

import msgspec
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QEvent, QPoint, QPointF, QRect, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication
from scipy import ndimage

from isometron.demos.catalogue import demo
from isometron.desk.board.kept_picture import BoardPicture, changed_part
from isometron.desk.board.sheet_paint import paint_marks
from isometron.desk.board.viewing import BoardView
from isometron.document.edits import change_volume, delete_volumes
from isometron.document.eyes.eye_edits import turn_object
from isometron.document.fresh import new_document
from isometron.solve.drawing import solve
from isometron.solve.marks import Marks, Role, Singles
from isometron.tools.handles import Grip
from isometron.volumes.box import Box

SIZE = (900, 640)


def pixels(picture):
    image = (picture if isinstance(picture, QImage) else picture.toImage()).convertToFormat(
        QImage.Format.Format_RGB32
    )
    data = image.constBits().asarray(image.sizeInBytes())
    return np.frombuffer(data, np.uint8).reshape(image.height(), image.width(), 4)[..., :3].astype(int)


def anew(document, view, labels):
    """The drawing painted from nothing, with lettering where it was laid: it stays there while it stands clear."""
    target = QImage(*SIZE, QImage.Format.Format_RGB32)
    drawing = solve(document)
    stream = [*(replace(marks, labels=Singles()) for marks in drawing.stream), Marks(labels=Singles(labels))]
    paint_marks(target, stream, document.sheet.rectangle, view)
    return pixels(target)


def moved(document, name, by):
    volume = next(v for v in document.volumes if v.id == name)
    corner = tuple(c + d for c, d in zip(volume.corner, by, strict=True))
    return change_volume(document, name, "move", corner=corner).document


@pytest.mark.parametrize(("name", "turn"), [("tea-cart", 0.0), ("ember-lantern", 0.0), ("perch-stool", 30.0), ("tea-cart", 30.0)])  # fmt: skip
def test_mending_shows_what_painting_anew_shows(qapp, name, turn):
    document = demo(name)
    view = BoardView.fitting(document.sheet.rectangle, *SIZE, turn_deg=turn)
    for volume in document.volumes[:6]:
        picture = BoardPicture()
        picture.of(solve(document), view, *SIZE)
        for by in ((30.0, 0.0, 0.0), (60.0, 40.0, 0.0)):
            after = moved(document, volume.id, by)
            drawing = solve(after)
            found = pixels(picture.of(drawing, view, *SIZE, moving=True))
            differ = (np.abs(found - anew(after, view, picture._labels)) > 8).any(axis=2)
            # Dashes of what runs in and out of the mended part begin elsewhere.
            assert differ.mean() < 0.004, volume.name
        assert (pixels(picture.of(drawing, view, *SIZE)) == anew(after, view, picture._labels)).all(), (
            "let go: as if painted anew"
        )


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


@pytest.mark.parametrize(("volume", "turn"), [("Counter", 0.0), ("Front wheel", 0.0), ("Counter", 30.0)])
def test_a_pull_in_a_real_window_mends_the_board_and_ends_clean(desk, volume, turn):
    hand = desk(demo("tea-cart"))
    hand.board.turn(turn)
    wanted = next(v for v in hand.session.document.volumes if v.name == volume)
    hand.session.select((wanted.id,))
    hand.key(Qt.Key.Key_P)
    grip = next(handle for handle in hand.board.on_board().handles if handle.grip is Grip.MOVE)
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


def test_the_picture_of_turned_paper_is_the_same_turned(qapp):
    """What is dark on the sheet when it lies straight is dark at the same place of it when it is turned, and nowhere else."""
    document = demo("tea-cart")
    view = BoardView.fitting((-120.0, -80.0, 120.0, 80.0), *SIZE)
    turned = view.turned(30.0, SIZE[0] / 2, SIZE[1] / 2)
    # Without the finest lines: how dark a pixel is that one passes through depends on how it lies in it.
    marks = [
        replace(marks, labels=Singles()).where(lambda bag: bag.role != Role.SURFACE)
        for marks in solve(document).stream
    ]
    dark = []
    for one in (view, turned):
        target = QImage(*SIZE, QImage.Format.Format_RGB32)
        paint_marks(target, marks, document.sheet.rectangle, one)
        dark.append(pixels(target).max(axis=2) < 130)
    near = ndimage.binary_dilation(dark[0], iterations=2), ndimage.binary_dilation(dark[1], iterations=2)
    for here, there, ink, wide in ((view, turned, dark[0], near[1]), (turned, view, dark[1], near[0])):
        rows, columns = np.nonzero(ink)
        paper = np.array([here.to_paper(x + 0.5, y + 0.5) for x, y in zip(columns, rows, strict=True)])
        on_sheet = (np.abs(paper + document.sheet.rectangle[:2]) < 1e9).all(axis=1)
        at = there.to_screen(paper[on_sheet])
        inside = (at > 3.0).all(axis=1) & (at < np.array(SIZE) - 3.0).all(axis=1)
        assert inside.sum() > 2000
        x, y = np.floor(at[inside]).astype(int).T
        assert wide[y, x].mean() > 0.995


@given(st.floats(-180.0, 180.0), st.floats(0.1, 20.0), st.floats(-500.0, 500.0), st.floats(-300.0, 300.0))
def test_paper_and_screen_lead_back_to_each_other_however_the_paper_is_turned(turn, scale, u, v):
    view = BoardView(scale, 400.0, 300.0).turned(turn, 120.0, 80.0)
    x, y = view.point_to_screen(u, v)
    assert np.allclose(view.to_paper(x, y), (u, v), atol=1e-6)
    assert np.allclose(view.to_screen(np.array([[u, v, v, u]]))[0, :2], (x, y)) and np.allclose((view.matrix @ (u, v, 1.0))[:2], (x, y))  # fmt: skip
    assert np.allclose(BoardView(scale, 400.0, 300.0).to_paper(120.0, 80.0), view.to_paper(120.0, 80.0)), (
        "about a pixel"
    )
    left, top, right, bottom = view.bounds(u - 5.0, v - 3.0, u + 5.0, v + 3.0)
    assert left <= x <= right and top <= y <= bottom
    u0, v0, u1, v1 = view.paper_bounds(left, top, right, bottom)
    assert u0 <= u <= u1 and v0 <= v <= v1
    zoomed = view.zoomed(1.3, x, y)
    assert np.allclose(zoomed.point_to_screen(u, v), (x, y), atol=1e-6) and zoomed.turn_deg == view.turn_deg


def test_a_selected_thing_keeps_its_lines_and_handles_grow_under_the_hand(desk):
    """The halo lies round the lines: what was dark stays as it was; a handle from afar is a dot."""
    chest = Box(id="c", name="Chest", corner=(-400.0, 200.0, 0.0), size=(900.0, 500.0, 600.0), yaw_deg=20.0)
    hand = desk(msgspec.structs.replace(new_document(away=3000.0, eye_height=1400.0), volumes=(chest,)))

    def pixels():
        QApplication.processEvents()
        picture = hand.board.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
        data = picture.constBits().asarray(picture.sizeInBytes())
        return (
            np.frombuffer(data, dtype=np.uint8).reshape(picture.height(), -1, 4)[:, : picture.width(), :3].astype(int)
        )

    hand.session.select(())
    bare = pixels()
    hand.session.select(("c",))
    haloed = pixels()
    corners = [hand.pixel(*place) for place in hand.session.drawing.scene.corners_of(0)]
    left, right = (f(c.x() for c in corners) for f in (min, max))
    top, bottom = (f(c.y() for c in corners) for f in (min, max))
    part = (slice(top - 3, bottom + 4), slice(left - 3, right + 4))
    dark = bare[part].max(axis=2) < 90
    kept = np.abs(haloed - bare)[part].max(axis=2)[dark] < 12
    assert dark.sum() > 300 and kept.mean() > 0.8, "but for the leading corner its lines are as they were"
    pale = np.abs(haloed - bare).max(axis=2) > 20
    assert pale.sum() > 800
    # A handle grows when the hand comes near, and no other.
    on = hand.board.on_board()
    face = next(h for h in on.handles if h.grip is Grip.FACE)
    x, y = on.view.point_to_screen(*face.at)
    hand.mouse(QEvent.Type.MouseMove, QPointF(x + 30.0, y), Qt.MouseButton.NoButton, Qt.MouseButton.NoButton)
    near = pixels()
    changed = np.argwhere(np.abs(near - haloed).max(axis=2) > 40)
    assert len(changed) and np.abs(changed - (y, x)).max() < 120
    assert face in [on.handles[k] for k in hand.board.on_board().near]
