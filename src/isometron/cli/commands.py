"""The commands: words in, files or text out. Commands that show a window are handed in by the front door.

Each imports what it needs when it runs, so that the first window does not wait for what it does not use.
"""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from isometron import __version__
from isometron.errors import IsometronError
from isometron.wording import tr

if TYPE_CHECKING:
    from isometron.document.disk import Seen
    from isometron.document.model import Document

__all__ = ["FINE", "WARNINGS", "WRONG_INPUT", "Load", "Windows", "run"]

Load = Callable[[], "tuple[Document, Seen | None] | None"]
"""Gives a window's document and its file as it is on disk, if it has one; None for an empty sheet."""

FINE, WARNINGS, WRONG_INPUT = 0, 1, 2


@dataclass(frozen=True)
class Windows:
    """What the desk does for the command line: show documents, and take a picture of the real window."""

    show: Callable[[Load, Path | None], int]
    shoot: Callable[[Document, Path, tuple[int, int]], None]


def run(arguments: Sequence[str], windows: Windows) -> int:
    """Carry out a command line and return its exit code: 0 fine, 1 warnings under --strict, 2 bad input."""
    words = list(arguments)
    if not words or (words[0] not in COMMANDS and not words[0].startswith("-")):
        words.insert(0, "open")
    try:
        options = _parser().parse_args(words)
        return int(COMMANDS[options.command](options, windows))
    except IsometronError as error:
        print(tr("isometron: {error}", error=error), file=sys.stderr)
        return WRONG_INPUT
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return FINE


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="isometron",
        description=tr(
            "Frameworks of boxes in true perspective. Without a command it opens FILE, or an empty sheet."
        ),
        epilog=tr("Exit codes: 0 fine, 1 the drawing has warnings (with --strict), 2 bad input."),
    )
    parser.add_argument("--version", action="version", version=tr("Isometron {version}", version=__version__))
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")
    add = commands.add_parser("open", help=tr("open a document in the desk (the word may be left out)"))
    add.add_argument("file", nargs="?", type=Path)
    add = commands.add_parser("demo", help=tr("open a demo, or write its document with --save"))
    add.add_argument(
        "name",
        nargs="?",
        default="tea-cart",
        help=tr("tea-cart (the default), perch-stool, ember-lantern, stall-row or three-rows"),
    )
    add.add_argument("--save", type=Path, metavar="FILE")
    commands.add_parser("schema", help=tr("print the JSON Schema of the file format"))
    add = commands.add_parser("report", help=tr("print what the drawing measures"))
    add.add_argument("file", type=Path)
    add.add_argument("--format", choices=("text", "json", "csv"), default="text")
    _strict(add)
    add = commands.add_parser("export", help=tr("write the sheet at true scale; the ending chooses svg, pdf or png"))
    add.add_argument("file", type=Path)
    add.add_argument("out", type=Path)
    add.add_argument("--dpi", type=float, default=300.0, help=tr("dots per inch of a png (300)"))
    add.add_argument("--no-construction", action="store_true", help=tr("object lines only"))
    _strict(add)
    add = commands.add_parser("views", help=tr("write side, front and plan; the ending chooses pdf, svg or dxf"))
    add.add_argument("file", type=Path)
    add.add_argument("out", type=Path)
    add = commands.add_parser("starter", help=tr("write a framework to begin with: a starter of a module"))
    add.add_argument("name", help=tr("such as low-car, side-chair, arched-row; a wrong one names them all"))
    add.add_argument("--module", metavar="LENGTH", help=tr("the size of its module, such as 620 or 24 in"))
    add.add_argument("--save", type=Path, metavar="FILE", required=True)
    add = commands.add_parser("construct", help=tr("construct a volume by a school: a worksheet, SVG steps, or JSON"))
    add.add_argument("file", type=Path)
    add.add_argument("volume", help=tr("the volume's id, or its name"))
    add.add_argument("--school", metavar="NAME", help=tr("plan, measuring, diagonal, one-point, by-guess, three-point, turn, "
                                                         "height, parts, row, ring-8, stack, wheels, slide … (default: one that works; a wrong one names them all)"))  # fmt: skip
    add.add_argument("--out", type=Path, help=tr("a pdf worksheet, a json file, or svg: one file a step, numbered"))
    add.add_argument("--format", choices=("text", "json"), default="text", help=tr("what is printed without --out"))
    add = commands.add_parser("shot", help=tr("take a picture of the real window, without a display"))
    add.add_argument("file", type=Path)
    add.add_argument("out", type=Path)
    add.add_argument("--size", type=_size, default=(1280, 800), metavar="WIDTHxHEIGHT")
    return parser


def _strict(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--strict", action="store_true", help=tr("exit with 1 when the drawing has warnings"))


def _size(text: str) -> tuple[int, int]:
    width, _, height = text.partition("x")
    if not (width.isdigit() and height.isdigit() and 200 <= int(width) <= 8000 and 200 <= int(height) <= 8000):
        raise argparse.ArgumentTypeError(tr("{text!r} is no size such as 1280x800 (200 to 8000 each)", text=text))
    return int(width), int(height)


def _open(options: argparse.Namespace, windows: Windows) -> int:
    path: Path | None = options.file

    def load() -> tuple[Document, Seen | None] | None:
        from isometron.document.files import open_document

        return None if path is None else open_document(path)

    return windows.show(load, path)


def _demo(options: argparse.Namespace, windows: Windows) -> int:
    def load() -> tuple[Document, Seen | None]:
        from isometron.demos.catalogue import demo

        return demo(options.name), None

    if options.save is None:
        return windows.show(load, None)
    from isometron.document.files import save_document

    save_document(load()[0], options.save)
    return FINE


def _schema(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.document.files import schema

    print(json.dumps(schema(), indent=1))
    return FINE


def _report(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.document.files import load_document
    from isometron.solve.drawing import solve
    from isometron.solve.report import report
    from isometron.surfaces.tables import TABLES

    document = load_document(options.file)
    drawing = solve(document)
    sys.stdout.write(TABLES[options.format](report(drawing), document.unit))
    sys.stdout.flush()
    return WARNINGS if options.strict and drawing.findings else FINE


def _export(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.document.disk import write_whole
    from isometron.document.files import load_document
    from isometron.solve.drawing import solve
    from isometron.surfaces.export import export_bytes

    drawing = solve(load_document(options.file))
    data = export_bytes(drawing, options.out, construction=not options.no_construction, dpi=options.dpi)
    write_whole(data, options.out)
    if options.strict and drawing.findings:
        for finding in drawing.findings:
            print(tr("isometron: {message}", message=finding.message), file=sys.stderr)
        return WARNINGS
    return FINE


def _views(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.document.disk import write_whole
    from isometron.document.files import load_document
    from isometron.surfaces.plain_sheet import plain_export

    write_whole(plain_export(load_document(options.file), options.out), options.out)
    return FINE


def _starter(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.document.eye_wishes import fit_sheet_part
    from isometron.document.files import save_document
    from isometron.document.fresh import new_document
    from isometron.document.units import parse_length
    from isometron.starters.catalogue import lay_starter

    module = None if options.module is None else parse_length(options.module)
    laid = lay_starter(new_document(title=options.name.replace("-", " ").capitalize()), options.name, module).document
    save_document(fit_sheet_part(laid, 0.8, 15.0, keep="distance").document, options.save)
    return FINE


def _construct(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.construct.outcome import Construction
    from isometron.construct.schools import construct, first_school
    from isometron.document.disk import write_whole
    from isometron.document.files import load_document
    from isometron.surfaces.handouts import HANDOUTS, NoConstructionError, handouts, step_text

    document = load_document(options.file)
    volume = document.named_volume(options.volume)
    school = options.school or first_school(document, document.volumes.index(volume)) or "plan"
    done = construct(document, volume.id, school)
    if not isinstance(done, Construction):
        raise NoConstructionError(done)
    if options.out is None:
        sys.stdout.write(
            HANDOUTS[".json"](document, done)[0].decode() if options.format == "json" else step_text(done)
        )
        return FINE
    for path, data in handouts(document, done, options.out):
        write_whole(data, path)
    return FINE


def _shot(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.document.files import load_document

    windows.shoot(load_document(options.file), options.out, options.size)
    return FINE


COMMANDS: dict[str, Callable[[argparse.Namespace, Windows], int]] = {
    "open": _open,
    "demo": _demo,
    "schema": _schema,
    "report": _report,
    "export": _export,
    "views": _views,
    "starter": _starter,
    "construct": _construct,
    "shot": _shot,
}
