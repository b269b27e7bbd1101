"""Make what of the handbook is made: its pictures, and the pages of constructions, keys and commands; also the manual page and the completion."""

from __future__ import annotations

import io
import json
import os
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"
sys.path.insert(0, str(Path(__file__).parent))
for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME"):
    os.environ[name] = tempfile.mkdtemp()

import pypdfium2
from lessons import HandAtDesk, form_lesson, photograph_lesson
from PIL import Image
from PyQt6.QtCore import QBuffer, QRect, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QWidget

from isometron.cli.commands import parser
from isometron.cli.manual import MANUALS
from isometron.construct.outcome import Construction
from isometron.construct.schools import SCHOOLS, construct
from isometron.demos.catalogue import DEMOS, demo
from isometron.desk.deeds.deed import Topic, key_words
from isometron.desk.deeds.register import TOPICS
from isometron.desk.frame.application import DeskWindow, application
from isometron.desk.frame.window import Desk
from isometron.document.edits import change_volume, paste_volumes
from isometron.document.eyes.eye_edits import tilt_view, turn_object, turn_of
from isometron.document.fresh import new_document
from isometron.document.marks.dividing import lay_mark, repeat
from isometron.document.marks.opening_edits import cut_opening
from isometron.document.model import Document
from isometron.document.shapes.rounding import make_round
from isometron.document.store.files import schema
from isometron.surfaces.worksheet import plate_pdf
from isometron.volumes.box import Box
from isometron.volumes.marks.face_marks import DivideMark, OpeningMark
from isometron.volumes.relations import Repeat

ROOT = Path(__file__).parents[1]
BOOK = ROOT / "src" / "isometron" / "assets" / "handbook"
PICTURES = BOOK / "pictures"
WIDE = 620


class Hour(HandAtDesk):
    """The desk of the first hour, worked with mouse and keys."""

    def __init__(self) -> None:
        self.window = DeskWindow((1120, 720))
        super().__init__(self.window.put_in(new_document(width=297.0, height=210.0), None))
        self.window.show()
        self.desk.invitation.hide()
        application().processEvents()
        self.shown = 0

    def picture(self, *, whole: bool = False) -> None:
        for _ in range(8):
            application().processEvents()
        self.shown += 1
        look(self.window if whole else self.desk.board, f"hour-{self.shown:02}", self.desk)


def look(place: QWidget, name: str, desk: Desk) -> None:
    """Keep a picture of a window, or of the middle of a board, under a name."""
    for _ in range(8):
        application().processEvents()
    board = desk.board
    part = QRect(0, board.height() // 5, board.width(), board.height() * 3 // 5 + 40)  # the table has nothing to tell
    grabbed = place.grab(part) if place is board else place.grab()
    held = QBuffer()
    grabbed.scaledToWidth(WIDE, Qt.TransformationMode.SmoothTransformation).toImage().save(held, "PNG")
    with Image.open(io.BytesIO(held.data().data())) as image:
        image.convert("RGB").quantize(128).save(PICTURES / f"{name}.png", optimize=True)


def lessons() -> None:
    """The pictures of the lessons."""
    for name, document, lesson in (
        ("Form", new_document(away=6500.0, eye_height=1650.0), form_lesson),
        ("Photographs", demo("market-snapshot"), photograph_lesson),
    ):
        window = DeskWindow((1120, 720))
        desk = window.put_in(document, None)
        window.show()
        desk.invitation.hide()
        application().processEvents()
        lesson(desk, lambda picture, desk=desk, window=window: look(window, picture, desk))
        print(name, desk.session.document.title)


def construction_pictures() -> None:
    """Every school at its last step, as its worksheet shows it."""
    for name in SCHOOLS:
        document, done, _ = _example(name)
        page = pypdfium2.PdfDocument(plate_pdf(document, done, (124.0, 84.0)))[0]
        with page.render(scale=WIDE / page.get_width()).to_pil() as image:
            image.convert("RGB").quantize(64).save(PICTURES / f"school-{name}.png", optimize=True)


def pictures() -> None:
    """The ten pictures of the first hour: a handcart with a locker on it, two wheels and a window."""
    PICTURES.mkdir(exist_ok=True)
    hour = Hour()
    desk, session = hour.desk, hour.desk.session
    hour.picture()
    desk.take_tool("block")
    hour.pull((-800, 100, 0), ((200, 100, 0), "1200"), ((400, 500, 0), "600"))
    QTest.mouseMove(desk.board, hour.at(400, 700, 400))
    QTest.keyClicks(desk.board, "450")
    hour.picture()
    QTest.keyClick(desk.board, Qt.Key.Key_Return)
    desk.take_tool("point")
    body = session.document.volumes[0].id
    session.attempt(change_volume, body, "name", name="Body", corner=(-800.0, 100.0, 180.0))
    locker = Box(id="locker", name="Locker", size=(500.0, 600.0, 300.0), corner=(-800.0, 100.0, 630.0))
    session.attempt(paste_volumes, (locker,))
    session.select(())
    hour.picture()
    session.select((body,))
    hour.picture()
    session.select(())
    session.attempt(turn_object, turn_of(session.document) + 14.0)
    hour.picture(whole=True)
    wheel = Box(id="wheel", name="Wheel", size=(420.0, 80.0, 420.0), corner=(-700.0, 20.0, 0.0))
    session.attempt(paste_volumes, (wheel,))
    session.attempt(make_round, ("wheel",), "wheel")
    hour.picture()
    session.attempt(lay_mark, body, DivideMark(face=2, across=(1 / 3, 2 / 3)))
    session.attempt(repeat, "wheel", (Repeat(along="long", count=2, pitch=580.0),))
    session.select(())
    hour.picture()
    window = OpeningMark(face=2, at=(0.5, 0.6), wide=300.0, high=180.0, round=30.0, goes="pocket", depth=30.0)
    session.attempt(cut_opening, body, window)
    hour.picture()
    session.select((body,))
    desk.construct()
    desk.player.take("measuring")
    desk.player.step(4)
    desk.player.progress = 1.0
    hour.picture()
    desk.player.close()
    session.select(())
    desk.stages.open("Hand on")
    hour.picture(whole=True)


def constructions() -> str:
    """Every school on a demo where it works: its title and its steps."""
    lines = [
        "# Constructions",
        "",
        "**C** constructs the selected volume; the strip under the board names the schools that can. Each page shows its steps in words, here on the demos.",
        "",
        "1. Click a volume, or select it in the ledger, and press **C**. The strip opens under the board, with the school that fits best.",
        "2. **Page Down** goes a step on, **Page Up** one back, **Shift+Page Down** plays them; each step says what to rule, from which point to which, and why.",
        "3. Choose another school in the strip's list; those that cannot serve the volume stand apart there, with the reason.",
        "4. *Worksheet…* writes the steps as a PDF to follow with ruler and compass; `isometron construct FILE VOLUME --school NAME` does so without a window. Several that are selected, and every copy of what stands in rows, are one worksheet: a page that sets up and shows them all, then a page each.",
        "5. *Turn on the spot* turns a twin about the middle of the box, or about the upright over the corner that is picked by its letter (then the box need not be square in plan); *Keep the twin* lays it as a volume.",
        "",
    ]
    for name, school in SCHOOLS.items():
        found = _example(name)
        if found is None:
            raise SystemExit(f"no demo shows the school {name}")
        document, done, _ = found
        lines += [
            f"## {school.title}",
            "",
            f"*On the {document.title.partition(':')[0].lower()}; on the command line `--school {name}`.*",
            "",
        ]
        lines += [f"![{school.title}, carried out](pictures/school-{name}.png)", ""]
        lines += [f"{number}. {step.sentence} *{step.why}*" for number, step in enumerate(done.steps, start=1)]
        lines.append("")
    return "\n".join(lines)


def _example(name: str) -> tuple[Document, Construction, str] | None:
    views: tuple[Callable[[Document], Document], ...] = (
        lambda d: d, lambda d: turn_object(d, 0.0).document, lambda d: turn_object(d, 90.0).document,
        lambda d: tilt_view(d, -20.0).document,
    )  # fmt: skip
    for view in views:
        for title in DEMOS:
            if DEMOS[title].title and title not in ("market-snapshot", "vessel-on-a-shelf"):
                document = view(demo(title))
                for volume in document.volumes:
                    done = construct(document, volume.id, name)
                    if isinstance(done, Construction):
                        return document, done, volume.id
    return None


def keys() -> str:
    """The card of keys as a page."""
    lines = ["# Keys", "", "Shift+F1 shows them as a card. Letters work while no field is being typed in.", ""]
    for topic in TOPICS:
        lines += [f"## {topic.title}", "", "| key | what it does |", "|---|---|"]
        lines += [f"| {key.replace('|', '/')} | {words} |" for key, words in _every_row(topic)]
        lines.append("")
    return "\n".join(lines)


def _every_row(topic: Topic) -> list[tuple[str, str]]:
    """Return every key of a topic's deeds, those that the card leaves out too, then its hints."""
    rows = [
        (", ".join(dict.fromkeys(map(key_words, deed.keys))), deed.on_card or deed.words)
        for deed in topic.deeds
        if deed.keys
    ]
    return rows + [(hint.keys, hint.words) for hint in topic.hints]


def pages() -> dict[Path, str]:
    """Every made page with its text; a test holds them to what is in the tree."""
    made = parser()
    return {
        BOOK / "constructions.md": constructions(),
        BOOK / "keys.md": keys(),
        BOOK / "command-line.md": MANUALS["handbook"](made),
        ROOT / "share" / "isometron.1": MANUALS["man"](made),
        ROOT / "share" / "isometron": MANUALS["bash"](made),
        BOOK.parent / "isometron.schema.json": json.dumps(schema(), indent=1) + "\n",
    }


def main() -> int:
    app = application()
    for path, text in pages().items():
        path.write_text(text, encoding="utf-8")
    if "--pictures" in sys.argv:
        pictures()
        lessons()
        construction_pictures()
    app.quit()
    return 0


if __name__ == "__main__":
    sys.exit(main())
