"""Speed as ratios to bare floors measured in the same run: ./run bench. Medians; machines are noisy, ratios less so."""

from __future__ import annotations

import itertools
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.update(XDG_CONFIG_HOME=tempfile.mkdtemp(), XDG_STATE_HOME=tempfile.mkdtemp())

import msgspec
import numpy as np
import orjson
from PyQt6 import sip
from PyQt6.QtCore import QLineF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import QApplication
from scenes import boxes_and_wheels, brick_wall, cars, many_boxes, mixed_volumes, rounded_blocks, walls

from isometron.desk.board.kept_picture import BoardPicture
from isometron.desk.board.sheet_paint import paint_marks, strokes_in
from isometron.desk.board.viewing import BoardView
from isometron.desk.frame.application import DeskWindow, application
from isometron.document.edits import change_volume
from isometron.document.eyes.eye_edits import turn_object
from isometron.document.model import Document
from isometron.document.store.files import decode_document, encode_document, save_document
from isometron.solve.again import Again
from isometron.solve.drawing import Drawing, solve
from isometron.solve.fills import Fills
from isometron.solve.marks import Lines, Marks, Role
from isometron.solve.picture import hiders_of
from isometron.view.ring_picture import rings_to_ellipses
from isometron.volumes.cut.body import cut_at_rest

SIZE = (1280, 800)


Work = Callable[[], object]


def medians_ms(*works: Work, times: int = 15) -> list[float]:
    """Medians of some runs of each after one to warm up, ms; they take turns, so that a slow spell slows them all."""
    taken: list[list[float]] = [[] for _ in works]
    for turn in range(times + 1):
        for work, own in zip(works, taken, strict=True):
            start = time.perf_counter()
            work()
            if turn:
                own.append((time.perf_counter() - start) * 1000.0)
    return [statistics.median(own) for own in taken]


def row(what: str, mine: float, floor: float, goal: str, unit: str = "ms") -> None:
    print(f"{what:<58}{mine:>9.2f} {unit} /{floor:>8.2f} {unit} ={mine / floor:>7.2f}   goal {goal}", flush=True)


def compared(what: str, mine: Work, floor: Work, goal: str, times: int = 15) -> None:
    """Print one row: two pieces of work, measured in turns."""
    row(what, *medians_ms(mine, floor, times=times), goal)


def view_of(document: Document) -> BoardView:
    return BoardView.fitting(document.sheet.rectangle, *SIZE)


def pixels(drawing: Drawing, view: BoardView) -> np.ndarray:
    """The same marks as bare lines on screen."""
    strokes = strokes_in(view, (-4.0, -4.0, SIZE[0] + 4.0, SIZE[1] + 4.0))
    marks = drawing.marks
    for role in Role:
        strokes.add_lines(marks.lines.points, marks.lines.role, role)
        strokes.add_arcs(marks.arcs.shape, marks.arcs.role, role)
    return strokes.all


def bare_painting(lines: np.ndarray) -> Callable[[], None]:
    """The floor: numbers copied straight into Qt's array, one pen, one call."""
    target = QPixmap(*SIZE)

    def paint() -> None:
        buffer = sip.array(QLineF, len(lines))
        np.frombuffer(buffer, dtype=np.float64)[:] = lines.ravel()
        painter = QPainter(target)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(0, 0, *SIZE, QColor("#FBF8F1"))
        painter.setPen(QPen(QColor("#1F2424"), 1.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        painter.drawLines(buffer)
        painter.end()

    return paint


def board_painting(drawing: Drawing, view: BoardView) -> Callable[[], None]:
    target = QImage(*SIZE, QImage.Format.Format_RGB32)
    return lambda: paint_marks(target, drawing.stream, drawing.document.sheet.rectangle, view)


def dragged(first: Document, others: list[Document], view: BoardView) -> Work:
    """A whole frame of a drag: the next document solved, and the board's picture brought up to date."""
    picture, base = BoardPicture(), solve(first)
    again = Again(base)
    picture.of(base, view, *SIZE)
    step = itertools.cycle(others)
    return lambda: picture.of(again.solve(next(step)), view, *SIZE, moving=True)


def dragged_eye(document: Document, view: BoardView) -> Work:
    """A whole frame: another eye."""
    eyes = [turn_object(document, 30.0 + step * 0.5).document.eye for step in range(8)]
    return dragged(document, [msgspec.structs.replace(document, eye=eye) for eye in eyes], view)


def dragged_volume(document: Document, view: BoardView, place: int) -> Work:
    """A whole frame: one volume elsewhere, never twice in the same place, so that nothing is known of it from before."""
    volume = document.volumes[place]
    x, y, z = volume.corner
    moved = [change_volume(document, volume.id, "move", corner=(x + step, y, z)).document for step in range(40)]
    return dragged(document, moved, view)


def dragged_rows(what: str, document: Document, view: BoardView, floor: Work, whole: Work) -> None:
    """Print what dragging a volume takes: eight neighbours in the middle, which in a mixed document are one of each kind."""
    middle = len(document.volumes) // 2
    works = [dragged_volume(document, view, place) for place in range(middle - 4, middle + 4)]
    bare, all_, *mine = medians_ms(floor, whole, *works)
    row(f"{what} dragged, mean of eight / painting floor", statistics.mean(mine), bare, "<= 0.6")
    row(f"{what} dragged, mean of eight / painting everything", statistics.mean(mine), all_, "")


def whole_window(document: Document) -> Callable[[], None]:
    """What a person waits for while dragging the eye: solve, board, dial, rails, and figures when they are due."""
    window = DeskWindow(SIZE)
    session = window.put_in(document, None).session
    window.show()
    QApplication.processEvents()
    steps = itertools.count(1)

    def frame() -> None:
        assert window.isVisible()
        session.preview(turn_object, 20.0 + 0.3 * (next(steps) % 40))
        QApplication.processEvents()

    return frame


def hidden_floor(document: Document) -> Callable[[], None]:
    """Hidden lines alone: shadow regions, broad phase and clipping on arrays that are there already."""
    scene, eye = solve(document).scene, document.eye

    def work() -> None:
        hiders_of(eye, scene).hidden(scene.edge_curves)

    return work


def full_solve(document: Document) -> Callable[[], None]:
    """Everything a frame needs of the engine, and the measures of the one volume that is looked at."""

    def work() -> None:
        solve(document).measures(0)

    return work


def painting_rows() -> None:
    for heap in (False, True):
        document = many_boxes(200, heap=heap)
        view, drawing, how = view_of(document), solve(document), "in one heap" if heap else "spread"
        floor, hidden = bare_painting(pixels(drawing, view)), hidden_floor(document)
        compared(
            f"eye dragged, 200 boxes {how}: frame / painting floor", dragged_eye(document, view), floor, "<= 1.8"
        )
        compared(f"hidden lines, 200 boxes {how} / painting floor", hidden, floor, "<= 0.5")
        compared(f"full solve, 200 boxes {how} / hidden lines alone", full_solve(document), hidden, "<= 2")
        if not heap:
            whole = board_painting(drawing, view)
            compared("eye dragged, the whole real window / painting floor", whole_window(document), floor, "16 ms")
            compared("repaint of the board / painting floor", whole, floor, "<= 1.1")
            dragged_rows("one of 200 boxes", document, view, floor, whole)
    small, large = (many_boxes(n) for n in (200, 1000))
    frames = [dragged_eye(d, view_of(d)) for d in (large, small)]
    compared("growth of the dragged frame, 200 to 1,000 spread boxes", *frames, "< 8", 9)
    compared("growth of the solve, 200 to 1,000 spread boxes", full_solve(large), full_solve(small), "< 8", 9)


def amid_rows() -> None:
    """The eye amid the boxes: what lies behind it may cost no more than what is seen from outside."""
    outside = many_boxes(200)
    middle = solve(outside).scene.vertices.mean(axis=0)
    eye = msgspec.structs.replace(outside.eye, position=(float(middle[0]), float(middle[1]), 1500.0))
    amid = msgspec.structs.replace(outside, eye=eye)
    compared("solve, the eye amid 200 boxes / from outside", lambda: solve(amid), lambda: solve(outside), "<= 1.5")


def mixed_rows() -> None:
    document = mixed_volumes(200)
    view, drawing = view_of(document), solve(document)
    floor, whole = bare_painting(pixels(drawing, view)), board_painting(drawing, view)
    compared("eye dragged, 200 mixed volumes: frame / floor", dragged_eye(document, view), floor, "<= 1.8")
    compared("its solve alone / floor", full_solve(document), floor, "")
    compared("repaint of 200 mixed volumes / painting floor", whole, floor, "<= 1.1")
    hidden = hidden_floor(document)
    compared("hidden lines, 200 mixed volumes / painting floor", hidden, floor, "<= 0.5")
    compared("full solve, 200 mixed volumes / hidden lines alone", full_solve(document), hidden, "<= 2")
    dragged_rows("one of 200 mixed", document, view, floor, whole)
    small, large = (full_solve(mixed_volumes(n)) for n in (100, 200))
    compared("growth of the solve, 100 to 200 mixed volumes", large, small, "< 2.5", 9)


def sampled_rings(eye, rings: np.ndarray) -> None:
    """The other way to an ellipse: 64 points of each ring and a least-squares conic."""
    t = np.arange(64) * (2 * np.pi / 64)
    for centre, first, second in rings:
        paper, _ = eye.project(centre + np.cos(t)[:, None] * first + np.sin(t)[:, None] * second)
        u, v = paper.T / eye.viewing_distance
        np.linalg.svd(np.column_stack([u * u, u * v, v * v, u, v, np.ones(64)]), full_matrices=False)


def round_rows() -> None:
    document = boxes_and_wheels(60)
    view = view_of(document)
    floor = bare_painting(pixels(solve(document), view))
    compared("eye dragged, 60 boxes and 60 wheels: frame / floor", dragged_eye(document, view), floor, "<= 2.0")
    compared("its solve alone / floor", full_solve(document), floor, "")
    tyres = boxes_and_wheels(60, "wheel")
    floor = bare_painting(pixels(solve(tyres), view_of(tyres)))
    compared("the same with rounded tyres, 1,260 pieces: frame / floor", dragged_eye(tyres, view), floor, "")
    dice = np.random.default_rng(1)
    rings = dice.uniform(-1.0, 1.0, (10_000, 3, 3)) * [[[900.0], [200.0], [200.0]]]
    some = rings[:200]
    slow, quick = medians_ms(
        lambda: sampled_rings(document.eye, some),
        lambda: rings_to_ellipses(document.eye, rings[:, 0], rings[:, 1], rings[:, 2]),
        times=5,
    )
    row("64 samples and a fit / 10,000 rings to ellipses", slow * len(rings) / len(some), quick, ">= 150")


def fill_rows() -> None:
    """3,000 small fills painted and moved, against as many lines of their size."""
    dice = np.random.default_rng(3)
    corners = dice.uniform((0.0, 0.0), SIZE, (3000, 1, 2)) + dice.uniform(0.0, 12.0, (3000, 4, 2))
    shades = np.linspace(0.1, 0.9, 3000)
    fills = Fills.of([[ring] for ring in corners], shades)
    lines = Lines.of(np.ascontiguousarray(corners[:, :2].reshape(-1, 4)), Role.OBJECT)
    image = QImage(*SIZE, QImage.Format.Format_RGB32)
    view, sheet = BoardView(1.0, 0.0, float(SIZE[1])), (0.0, 0.0, float(SIZE[0]), float(SIZE[1]))

    def painted(marks: Marks) -> Work:
        return lambda: paint_marks(image, [marks], sheet, view)

    def moved(marks: Marks) -> Work:
        return lambda: marks.placed(np.array([3.0, 2.0]))

    compared(
        "3,000 small fills painted / 3,000 lines", painted(Marks(fills=fills)), painted(Marks(lines=lines)), "<= 4.2"
    )
    compared("3,000 small fills moved / 3,000 lines", moved(Marks(fills=fills)), moved(Marks(lines=lines)), "<= 2.3")


def face_rows() -> None:
    document = cars(10)
    view, drawing = view_of(document), solve(document)
    floor = bare_painting(pixels(drawing, view))
    compared("eye dragged, 10 cut cars and 40 wheels: frame / floor", dragged_eye(document, view), floor, "<= 1.5")
    compared("its solve alone / floor", full_solve(document), floor, "<= 1.5")
    boxes = many_boxes(200)
    bare = bare_painting(pixels(solve(boxes), view_of(boxes)))
    opened = walls(100)
    own, seen = view_of(opened), solve(opened)
    ground = bare_painting(pixels(seen, own))
    compared("eye dragged, 100 walls of eight openings: frame / floor", dragged_eye(opened, own), ground, "<= 1.5")
    compared("its solve alone / floor", full_solve(opened), ground, "")
    compared("growth of the solve, 50 to 100 walls", full_solve(opened), full_solve(walls(50)), "< 2.2")
    body = next(v for v in document.volumes if v.id == "body-0")
    pulled = itertools.count(1)

    def pull() -> None:
        step = next(pulled) * 1e-5
        corner = msgspec.structs.replace(body.side.corners[-1], at=(0.0, 0.9 - step))
        side = msgspec.structs.replace(body.side, corners=(*body.side.corners[:-1], corner))
        cut_at_rest(msgspec.structs.replace(body, side=side))

    compared("a cut car built while a corner is pulled / floor of 200 boxes", pull, bare, "3 ms")


def form_rows() -> None:
    """The eye dragged over the van with all its details, a wall of 2,000 bricks, and blocks with all their edges rounded."""
    from isometron.demos.catalogue import demo

    for words, document in (
        ("the delivery van with all its details", demo("delivery-van")),
        ("a wall of 2,000 bricks", brick_wall(2000)),
        ("10 blocks with all edges rounded", rounded_blocks(10)),
    ):
        view = view_of(document)
        floor = bare_painting(pixels(solve(document), view))
        compared(f"eye dragged, {words}: frame / floor", dragged_eye(document, view), floor, "<= 1.8")
        compared("its solve alone / floor", full_solve(document), floor, "")


def photograph_rows() -> None:
    """A mark dragged with 30 marks and 60 volumes over a picture: eye, misfits and all volumes follow; and a picture laid down."""
    import io

    from PIL import Image

    from isometron.demos.catalogue import demo
    from isometron.match.marking import move_point
    from isometron.pictures.intake import taken_in
    from isometron.pictures.rasters import pixels_of

    document = demo("market-snapshot")
    rng = np.random.default_rng(3)
    picture = document.pictures[0]
    lines = tuple(
        msgspec.structs.replace(
            line, points=tuple(tuple((np.array(at) + rng.normal(0, 0.3, 2)).tolist()) for at in line.points)
        )
        for line in (*picture.lines, *picture.lines, *picture.lines)
    )
    boxes = tuple(msgspec.structs.replace(v, hangs=True) for v in many_boxes(60).volumes)
    from isometron.match.picture_eye import with_eye

    document = with_eye(
        msgspec.structs.replace(document, volumes=boxes), msgspec.structs.replace(picture, lines=lines)
    )
    held, kept, view = document.pictures[0], BoardPicture(), view_of(document)
    places = itertools.count()

    def drag() -> None:
        x, y = held.lines[0].points[0]
        moved = move_point(document, held, ("line", 0, 0), (x + 0.05 * next(places), y), moving=True).document
        kept.of(solve(moved), view, *SIZE, moving=True)

    floor = bare_painting(pixels(solve(document), view))
    compared(f"a mark of {len(lines)} dragged, 60 volumes / painting", drag, floor, "<= 16 ms")
    photo = Image.fromarray(rng.integers(0, 255, (500, 750, 3), dtype=np.uint8)).resize(
        (6000, 4000), Image.Resampling.BICUBIC
    )
    out = io.BytesIO()
    photo.save(out, "JPEG", quality=90)
    data = out.getvalue()

    def lay() -> None:
        from isometron.pictures import rasters

        rasters._SEEN._by_key.clear()
        taken = taken_in(document, data, "large.jpg")
        pixels_of(taken.picture, taken.data)

    def decode() -> None:
        np.asarray(Image.open(io.BytesIO(data)))

    compared(f"24 megapixels, {len(data) / 2**20:.1f} MB, laid / decoded", lay, decode, "<= 1 s", times=3)


def file_rows() -> None:
    document = many_boxes(1000)
    data = encode_document(document)
    raw = orjson.loads(data)
    compared(
        "open 1,000 volumes, checked / orjson", lambda: decode_document(data), lambda: orjson.loads(data), "<= 1.0"
    )
    compared("save 1,000 volumes / orjson", lambda: encode_document(document), lambda: orjson.dumps(raw), "<= 1.5")
    with tempfile.TemporaryDirectory() as folder:
        plain, safe = Path(folder) / "plain", Path(folder) / "safe"
        compared(
            "save to disk, all or nothing / encode and plain write",
            lambda: save_document(document, safe),
            lambda: plain.write_bytes(encode_document(document)),
            "<= 2.5",
        )


BARE = """
import sys, time
from PyQt6.QtWidgets import QApplication, QWidget
class Bare(QWidget):
    def paintEvent(self, event):
        print(time.time()); self.close()
app = QApplication(sys.argv); w = Bare(); w.resize(1280, 800); w.show(); app.exec()
"""

FIRST = """
import sys, time
from isometron.cli.commands import Windows, run
def show(load, path):
    from isometron.desk.frame import application as a
    class Timed(a.DeskWindow):
        def paintEvent(self, event):
            super().paintEvent(event)
            if {wanted}:
                print(time.time()); sys.stdout.flush()
                import os; os._exit(0)
    a.DeskWindow = Timed
    return a.show(load, path)
run(["demo"], Windows(show, None))
"""

DRAWN = """
import sys, time, os
from isometron.cli.commands import Windows, run
def show(load, path):
    from isometron.desk.frame import application as a
    from PyQt6.QtCore import QTimer
    fill = a.DeskWindow.put_in
    def timed(self, *given):
        desk = fill(self, *given)
        paint = type(desk.board).paintEvent
        def painted(board, event):
            paint(board, event); print(time.time()); sys.stdout.flush(); os._exit(0)
        type(desk.board).paintEvent = painted
        return desk
    a.DeskWindow.put_in = timed
    return a.show(load, path)
run(["demo"], Windows(show, None))
"""


def started(code: str) -> Callable[[], float]:
    """Start a process that prints the moment it has painted; returns the ms that took."""

    def start() -> float:
        begun = time.time()
        # As a person's machine starts it: with the bytecode that the first start has left.
        kept = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=60, env=kept)
        assert done.returncode == 0, done.stderr
        return (float(done.stdout.split()[0]) - begun) * 1000.0

    return start


def start_rows(times: int = 7) -> None:
    starts = [
        started(code)
        for code in (BARE, FIRST.format(wanted="True"), FIRST.format(wanted="self._picture is not None"), DRAWN)
    ]
    taken = [[start() for start in starts] for _ in range(times + 1)][1:]
    bare, window, drawn, answers = (statistics.median(own) for own in zip(*taken, strict=True))
    row("first painted window / bare window", window, bare, "<= 1.5")
    row("first drawn demo / bare window", drawn, bare, "<= 2.6")
    row("desk that answers the pencil / bare window", answers, bare, "<= 4")


def main() -> None:
    app = application()
    print(f"{'what / floor':<58}{'mine':>12} /{'floor':>11} ={'ratio':>7}")
    painting_rows()
    round_rows()
    fill_rows()
    face_rows()
    form_rows()
    photograph_rows()
    amid_rows()
    mixed_rows()
    file_rows()
    start_rows()
    app.quit()


if __name__ == "__main__":
    main()
