"""Make the pictures in docs/screenshots from the demo data: the real window, driven and grabbed without a display."""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"
for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME"):
    os.environ[name] = tempfile.mkdtemp()

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QWidget

from isometron.demos.catalogue import demo
from isometron.desk.cards.key_card import KeyCard
from isometron.desk.cards.new_sheet import NewSheetDialog
from isometron.desk.frame.application import DeskWindow, application
from isometron.document.fresh import new_document
from isometron.document.model import Document

OUT = Path(__file__).parent / "screenshots"
SIZE = (1280, 800)


def window_with(document: Document) -> DeskWindow:
    window = DeskWindow(SIZE)
    window.put_in(document, None)
    window.show()
    application().processEvents()
    return window


def grab(widget: QWidget, name: str) -> None:
    for _ in range(8):  # words that wrap find their height in a few rounds
        application().processEvents()
    widget.grab().save(str(OUT / f"{name}.png"))
    print(f"{name}.png")


def tea_cart() -> None:
    window = window_with(demo("tea-cart"))
    window.desk.session.select(("body",))
    grab(window, "desk-tea-cart")


def pulling_a_block() -> None:
    window = window_with(demo("tea-cart"))
    desk = window.desk
    desk.take_tool("block")
    eye = desk.session.document.eye

    def at(*place: float) -> QPoint:
        (u, v), _ = eye.project([place])[0][0], None
        x, y = desk.board.view.point_to_screen(float(u), float(v))
        return QPoint(round(x), round(y))

    board = desk.board
    QTest.mouseMove(board, at(300, 300, 1040))
    QTest.mousePress(board, Qt.MouseButton.LeftButton, pos=at(300, 300, 1040))
    QTest.mouseMove(board, at(1500, 300, 1040))
    QTest.mouseRelease(board, Qt.MouseButton.LeftButton, pos=at(1500, 300, 1040))
    QTest.mouseMove(board, at(1500, 700, 1040))
    QTest.mouseClick(board, Qt.MouseButton.LeftButton, pos=at(1500, 700, 1040))
    QTest.mouseMove(board, at(1500, 700, 1300))
    QTest.keyClicks(board, "300")
    grab(window, "block-third-pull")


def eye_stage() -> None:
    window = window_with(demo("tea-cart"))
    window.desk.stages.open("Eye")
    window.desk.session.select(("whole",))
    window.desk.stages.body("Eye").sections.open(window.desk.stages.body("Eye").by_points)
    window.desk.board.fit_everything()
    grab(window, "eye-stage")


def step_strip() -> None:
    window = window_with(demo("tea-cart"))
    window.desk.session.select(("body",))
    window.desk.construct()
    window.desk.player.take("diagonal")
    window.desk.player.step(6)
    window.desk.player.progress = 1.0
    grab(window, "step-strip")


def form_van() -> None:
    window = window_with(demo("delivery-van"))
    desk = window.desk
    desk.stages.open("Form")
    desk.session.select(())
    stage = desk.stages.body("Form")
    stage.sections.open(stage.planes)
    grab(window, "form-van")


def rounds_lantern() -> None:
    window = window_with(demo("ember-lantern"))
    window.desk.session.select(("body",))
    window.desk.stages.open("Rounds")
    window.desk.stages.body("Rounds").sections.open(window.desk.stages.body("Rounds").sections.all[3])
    grab(window, "rounds-lantern")


def divide_row() -> None:
    window = window_with(demo("stall-row"))
    window.desk.session.select(("bay",))
    window.desk.stages.open("Divide")
    window.desk.stages.body("Divide").sections.open(window.desk.stages.body("Divide").rows)
    grab(window, "divide-row")


def photograph() -> None:
    window = window_with(demo("market-snapshot"))
    desk = window.desk
    desk.stages.open("Eye")
    desk.stages.body("Eye").sections.open(desk.stages.body("Eye").photograph)
    desk.board.picked.pick(("line", 1))
    grab(window, "photograph")


def photograph_elsewhere() -> None:
    from isometron.document.eyes.eye_edits import raise_eye, turn_object, turn_of
    from isometron.document.eyes.keeping import keep_eye

    window = window_with(demo("market-snapshot"))
    desk, session = window.desk, window.desk.session
    session.attempt(turn_object, turn_of(session.document) + 14.0)
    session.attempt(raise_eye, 900.0)
    session.attempt(keep_eye, "from the kerb")
    desk.stages.open("Eye")
    desk.stages.body("Eye").sections.open(desk.stages.body("Eye").sections.all[2])
    grab(window, "photograph-elsewhere")


def low_car() -> DeskWindow:
    from isometron.document.lengths.proportion import add_target, set_length
    from isometron.starters.catalogue import lay_starter

    document = lay_starter(new_document(), "low-car").document
    document = set_length(document, "wheelbase", "wheel.pitch").document
    return window_with(add_target(document, "wheelbase = 4 wheel").document)


def proportion() -> None:
    window = low_car()
    window.desk.session.select(("cabin",))
    window.desk.stages.open("Block")
    window.desk.stages.body("Block").sections.open(window.desk.stages.body("Block").proportion)
    grab(window, "proportion")


def plain_views() -> None:
    window = low_car()
    window.desk.session.select(("cabin",))
    window.desk.show_views()
    grab(window.desk._views, "plain-views")


def worksheet() -> None:
    """A page of a worksheet, rendered."""
    import pypdfium2

    from isometron.construct.schools import construct
    from isometron.surfaces.worksheet import worksheet_pdf

    document = demo("tea-cart")
    pages = pypdfium2.PdfDocument(worksheet_pdf(document, [construct(document, "body", "plan")]))
    pages[2].render(scale=1.1).to_pil().save(OUT / "worksheet-page.png")
    print("worksheet-page.png")


def check_stage() -> None:
    window = window_with(demo("tea-cart"))
    desk = window.desk
    from isometron.document.edits import change_volume
    from isometron.document.eyes.eye_edits import step_to

    desk.session.attempt(change_volume, "canopy", "move", corner=(0.0, 0.0, 1600.0))
    desk.session.attempt(change_volume, "wheel-near", "move", corner=(340.0, 20.0, 90.0))
    desk.session.attempt(step_to, 3600.0)
    desk.stages.open("Check")
    desk.stages.body("Check").refresh()
    desk.board.fit_sheet()
    grab(window, "check-stage")


def hand_on() -> None:
    window = window_with(demo("perch-stool"))
    window.desk.stages.open("Hand on")
    grab(window, "hand-on-stage")


def empty_sheet() -> None:
    window = window_with(new_document())
    grab(window, "empty-sheet")


def key_card() -> None:
    card = KeyCard()
    card.show()
    grab(card, "key-card")


def new_sheet() -> None:
    dialog = NewSheetDialog("mm", "A3")
    dialog.show()
    grab(dialog, "new-sheet")


def night_three_point() -> None:
    from isometron.document.eyes.eye_edits import tilt_view

    window = window_with(demo("tea-cart"))
    window.desk.session.attempt(tilt_view, -14.0)
    window.desk.session.select(("canopy",))
    window.desk.toggle_night()
    grab(window, "night-three-point")
    window.desk.toggle_night()


def printed_sheet() -> None:
    """The PDF page itself, rendered."""
    import pypdfium2

    from isometron.solve.drawing import solve
    from isometron.surfaces.painters.pdf import pdf_bytes

    page = pypdfium2.PdfDocument(pdf_bytes(solve(demo("tea-cart"))))[0]
    page.render(scale=1.1).to_pil().save(OUT / "sheet-pdf.png")
    print("sheet-pdf.png")


def first_pictures() -> None:
    """What each demo's window shows as it begins: shipped as its first picture, in few colours."""
    import io

    from PIL import Image
    from PyQt6.QtCore import QBuffer, QIODevice

    from isometron.demos.catalogue import DEMOS
    from isometron.desk.frame.first_picture import shipped

    for name in DEMOS:
        window = window_with(demo(name))
        window.desk.begin("")
        QTest.qWait(700)
        buffer = QBuffer()
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        window.grab().save(buffer, "PNG")
        picture = Image.open(io.BytesIO(buffer.data().data())).convert("RGB")
        shipped(name).parent.mkdir(exist_ok=True)
        picture.quantize(256, dither=Image.Dither.NONE).save(shipped(name), optimize=True)
        window.hide()


VIEWS: tuple[Callable[[], None], ...] = (
    tea_cart,
    pulling_a_block,
    eye_stage,
    step_strip,
    form_van,
    rounds_lantern,
    divide_row,
    photograph,
    photograph_elsewhere,
    proportion,
    plain_views,
    worksheet,
    check_stage,
    hand_on,
    empty_sheet,
    new_sheet,
    key_card,
    night_three_point,
    printed_sheet,
    first_pictures,
)


def main() -> int:
    app = application()
    OUT.mkdir(exist_ok=True)
    wanted = sys.argv[1:]
    for view in VIEWS:
        if not wanted or view.__name__ in wanted:
            view()
            for widget in app.topLevelWidgets():
                widget.hide()
    return 0


if __name__ == "__main__":
    sys.exit(main())
