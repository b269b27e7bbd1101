"""The commands: words in, files or text out. Commands that show a window are handed in by the front door.

Each imports what it needs when it runs, so that the first window does not wait for what it does not use.
"""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Callable, Sequence
from difflib import get_close_matches
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from isometron import __version__
from isometron.errors import IsometronError
from isometron.wording import tr

if TYPE_CHECKING:
    from isometron.document.model import Document
    from isometron.document.store.disk import Seen

__all__ = ["FINE", "WARNINGS", "WRONG_INPUT", "Load", "Windows", "parser", "run"]


class Load(NamedTuple):
    """Gives a window's document and its file as it is on disk, if it has one; None for an empty sheet.

    origin : what is opened where it is no file: ``empty``, or ``demo`` and its name.
    """

    origin: str
    read: Callable[[], tuple[Document, Seen | None] | None]

    def __call__(self) -> tuple[Document, Seen | None] | None:
        """Read it."""
        return self.read()


FINE, WARNINGS, WRONG_INPUT, BROKEN, STOPPED = 0, 1, 2, 3, 130
_MOST_MARKS = 4_000_000
"""Bytes that a file of marks may have."""
STANDARD = "-"
"""As a file: standard input or output."""


class UsageError(IsometronError, ValueError):
    """Words of a command line that do not go together."""


class Windows(NamedTuple):
    """What the desk does for the command line: show documents, and take a picture of the real window."""

    show: Callable[[Load, Path | None], int]
    shoot: Callable[[Document, tuple[int, int]], bytes]


def run(arguments: Sequence[str], windows: Windows) -> int:
    """Carry out a command line and return its exit code: 0 fine, 1 warnings under --strict, 2 bad input, 3 an error here."""
    words = list(arguments)
    if not words or (words[0] not in COMMANDS and (not words[0].startswith("-") or words[0] == STANDARD)):
        slip = _slip(words)
        if slip:
            _tell(slip)
            return WRONG_INPUT
        words.insert(0, "open")
    if sys.stdout is not None:
        sys.stdout.reconfigure(errors="backslashreplace")  # type: ignore[union-attr]
    try:
        options = parser().parse_args(words)
        code = int(COMMANDS[options.command](options, windows))
        if sys.stdout is not None:
            sys.stdout.flush()
        return code
    except IsometronError as error:
        _tell(str(error))
        return WRONG_INPUT
    except BrokenPipeError:
        _let_go_of_output()
        return WRONG_INPUT
    except OSError as error:
        _let_go_of_output()
        _tell(tr("not all was written: {why}.", why=error.strerror or error))
        return WRONG_INPUT
    except KeyboardInterrupt:
        _tell(tr("stopped."))
        return STOPPED
    except Exception as error:
        _tell(_noted(error))
        return BROKEN


def _slip(words: Sequence[str]) -> str:
    """Return what is said of a first word that is no file, but nearly a command; nothing of any other."""
    if not words or words[0].startswith("-") or Path(words[0]).suffix or "/" in words[0] or os.path.exists(words[0]):
        return ""
    near = get_close_matches(words[0], COMMANDS, 1, 0.7)
    if not near:
        return ""
    return tr("there is no command, and no file, called {word}. Meant: {near}?", word=words[0], near=near[0])


_MOST_DOCUMENT = 256_000_000


def _tell(words: str) -> None:
    """Say something on standard error, whatever it can show."""
    if sys.stderr is not None:
        line = tr("isometron: {words}", words=words) + "\n"
        encoding = sys.stderr.encoding or "ascii"
        sys.stderr.write(line.encode(encoding, "backslashreplace").decode(encoding))


def _noted(error: Exception) -> str:
    """Return words for an error of the program's, which is written down where the desk writes its own."""
    import traceback

    from platformdirs import user_state_path

    words = tr("an error in the program: {kind}: {error}.", kind=type(error).__name__, error=str(error)[:200])
    try:
        place = user_state_path("isometron", ensure_exists=True) / "errors.log"
        with open(place, "a", encoding="utf-8", errors="backslashreplace") as log:
            log.write("".join(traceback.format_exception(error)))
    except OSError:
        return words
    return words + tr(" Where it happened is written in {path}.", path=place)


def _let_go_of_output() -> None:
    """Let nothing more be written to an output that takes no more, or the interpreter would complain on its way out."""
    if sys.stdout is not None:
        os.dup2(os.open(os.devnull, os.O_WRONLY), 1)


def _read(path: Path) -> Document:
    """Return the document of a file, or of standard input for ``-``."""
    from isometron.document.store.files import decode_document, load_document

    if str(path) != STANDARD:
        return load_document(path)
    return decode_document(_standard_input(_MOST_DOCUMENT), tr("standard input"))


def _standard_input(most: int) -> bytes:
    """Return what standard input holds; raises `UsageError` where it is closed, or more than ``most`` bytes."""
    if sys.stdin is None:
        raise UsageError(tr("Standard input is closed: name a file in place of -."))
    data = sys.stdin.buffer.read(most + 1)
    if len(data) > most:
        raise UsageError(tr("Standard input is more than {most} MB.", most=most // 1_000_000))
    return data


def _seen(options: argparse.Namespace) -> Document:
    """Return the document of a file, seen by the eye that is asked for, its pictures left out where that is asked for."""
    import msgspec

    from isometron.document.eyes.keeping import seen_by

    document = _read(options.file)
    if options.eye is not None:
        document = seen_by(document, options.eye)
    if getattr(options, "no_picture", False):
        shown = tuple(msgspec.structs.replace(picture, hidden=True) for picture in document.pictures)
        document = msgspec.structs.replace(document, pictures=shown)
    return document


def _write(data: bytes, path: Path) -> None:
    """Write a file, or standard output for ``-``; a file that was there is said."""
    from isometron.document.store.disk import FileError, shown_name, write_whole

    if str(path) != STANDARD:
        there = path.exists()
        write_whole(data, path)
        if there:
            _tell(tr("{path} was there and was replaced.", path=shown_name(path)))
        return
    if sys.stdout is None:
        raise FileError(tr("Standard output is closed; nothing was written."))
    sys.stdout.flush()
    sys.stdout.buffer.write(data)
    sys.stdout.buffer.flush()


def _named(out: Path, kind: str | None) -> Path:
    """Return a name with the ending of the wanted format; standard output has none of its own."""
    if kind is not None:
        return Path(f"{out.name}.{kind}")
    if str(out) == STANDARD:
        raise UsageError(tr("Standard output has no ending: say the format, such as --format svg."))
    return out


def parser() -> argparse.ArgumentParser:
    """Return the parser of the command line, every argument explained."""
    made = argparse.ArgumentParser(
        prog="isometron",
        description=tr(
            "Frameworks of boxes in true perspective. Without a command it opens FILE, or an empty sheet."
        ),
        epilog=tr(
            "A file - is standard input or output. Exit codes: 0 all was done and written, 1 the drawing has warnings "
            "(with --strict), 2 bad input or not all was written, 3 an error in the program."
        ),
    )
    made.add_argument("--version", action="version", version=tr("Isometron {version}", version=__version__))
    commands = made.add_subparsers(dest="command", required=True, metavar="COMMAND")
    add = commands.add_parser("open", help=tr("open a document in the desk (the word may be left out)"))
    add.add_argument("file", nargs="?", type=_path, help=tr("the document; none for an empty sheet"))
    add = commands.add_parser("demo", help=tr("open a demo, or write its document with --save"))
    add.add_argument(
        "name",
        nargs="?",
        default="tea-cart",
        help=tr(
            "tea-cart (the default), perch-stool, ember-lantern, stall-row, three-rows, delivery-van, market-snapshot or vessel-on-a-shelf"
        ),
    )
    add.add_argument("--save", type=_path, metavar="FILE", help=tr("write its document, and open no window"))
    commands.add_parser("schema", help=tr("print the JSON Schema of the file format"))
    add = commands.add_parser("report", help=tr("print what the drawing measures"))
    add.add_argument("file", type=_path, help=_DOCUMENT)
    add.add_argument(
        "--format", choices=("text", "json", "csv"), default="text", help=tr("of what is printed (text)")
    )
    _eye(add)
    _strict(add)
    add = commands.add_parser(
        "export", help=tr("write the sheet at true scale; the ending chooses svg, pdf, png or dxf")
    )
    add.add_argument("file", type=_path, help=_DOCUMENT)
    add.add_argument("out", type=_path, help=tr("the file to write"))
    add.add_argument(
        "--format", choices=("svg", "pdf", "png", "dxf", "csv", "json"), help=tr("instead of the ending")
    )
    add.add_argument("--dpi", type=float, default=300.0, help=tr("dots per inch of a png (300)"))
    add.add_argument("--clear", action="store_true", help=tr("a png whose ground is transparent"))
    add.add_argument("--no-construction", action="store_true", help=tr("object lines only"))
    add.add_argument("--no-picture", action="store_true", help=tr("leave the pictures under the drawing out"))
    add.add_argument(
        "--tiles",
        choices=("a4", "letter"),
        help=tr("a pdf in pages of the printer's paper that overlap, to lay together"),
    )
    add.add_argument(
        "--eyes", choices=("page", "each"), help=tr("all kept eyes: small on one page, or a sheet for each (pdf)")
    )
    _eye(add)
    _strict(add)
    add = commands.add_parser("templates", help=tr("print which template is laid where for each ring"))
    add.add_argument("file", type=_path, help=_DOCUMENT)
    add.add_argument(
        "--format", choices=("text", "csv", "json"), default="text", help=tr("of what is printed (text)")
    )
    add.add_argument("--rack", type=_path, metavar="FILE", help=tr("your templates, a csv with a row of degrees and one of majors (a usual set)"))  # fmt: skip
    _eye(add)
    add = commands.add_parser("views", help=tr("write side, front and plan; the ending chooses pdf, svg or dxf"))
    add.add_argument("file", type=_path, help=_DOCUMENT)
    add.add_argument("out", type=_path, help=tr("the file to write"))
    add.add_argument("--format", choices=("pdf", "svg", "dxf"), help=tr("instead of the ending"))
    add = commands.add_parser("starter", help=tr("write a framework to begin with: a starter of a module"))
    add.add_argument("name", help=tr("such as low-car, side-chair, arched-row; a wrong one names them all"))
    add.add_argument("--module", metavar="LENGTH", help=tr("the size of its module, such as 620 or 24 in"))
    add.add_argument("--save", type=_path, metavar="FILE", required=True, help=tr("the document to write"))
    add = commands.add_parser("construct", help=tr("construct a volume by a school: a worksheet, SVG steps, or JSON"))
    add.add_argument("file", type=_path, help=_DOCUMENT)
    add.add_argument(
        "volume", nargs="+", help=tr("the volume's id, or its name; several by one school are one worksheet")
    )
    add.add_argument("--school", metavar="NAME", help=tr("plan, measuring, diagonal, one-point, by-guess, three-point, turn, "
                                                         "height, parts, row, ring-8, stack, wheels, slide … (default: one that works; a wrong one names them all)"))  # fmt: skip
    add.add_argument("--ring", type=int, metavar="NUMBER", help=tr("which ring the ring schools construct, from 1 as the report lists them (the widest)"))  # fmt: skip
    add.add_argument("--out", type=_path, help=tr("a pdf worksheet, a json file, or svg: one file a step, numbered"))
    add.add_argument("--format", choices=("text", "json", "svg", "pdf"), help=tr("what is printed without --out (text), or instead of its ending"))  # fmt: skip
    add.add_argument("--no-picture", action="store_true", help=tr("leave the pictures under the drawing out"))
    _eye(add)
    add = commands.add_parser(
        "match", help=tr("find the eye of a photograph from marks on it, and the sizes of what is marked")
    )
    add.add_argument("picture", type=_path, help=tr("the photograph, PNG or JPEG"))
    add.add_argument(
        "--marks", type=_path, required=True, metavar="FILE", help=tr("an open JSON, see the handbook, page Marks")
    )
    add.add_argument("--save", type=_path, metavar="FILE", help=tr("write the document of what was found"))
    add.add_argument("--format", choices=("text", "json"), default="text", help=tr("of what is printed (text)"))
    add = commands.add_parser("shot", help=tr("take a picture of the real window, without a display"))
    add.add_argument("file", type=_path, help=_DOCUMENT)
    add.add_argument("out", type=_path, help=tr("the file to write"))
    add.add_argument(
        "--size",
        type=_size,
        default=(1280, 800),
        metavar="WIDTHxHEIGHT",
        help=tr("of the window, in pixels (1280x800)"),
    )
    _eye(add)
    return made


_DOCUMENT = tr("the document; - for standard input")


def _eye(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--eye", metavar="NAME", help=tr("seen by an eye that is kept by name, or by a photograph's"))


def _strict(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--strict", action="store_true", help=tr("exit with 1 when the drawing has warnings"))


def _path(text: str) -> Path:
    if not text:
        raise argparse.ArgumentTypeError(tr("the name of the file is empty"))
    return Path(text)


def _size(text: str) -> tuple[int, int]:
    width, _, height = text.partition("x")
    if not (width.isdigit() and height.isdigit() and 200 <= int(width) <= 8000 and 200 <= int(height) <= 8000):
        raise argparse.ArgumentTypeError(tr("{text!r} is no size such as 1280x800 (200 to 8000 each)", text=text))
    return int(width), int(height)


def _open(options: argparse.Namespace, windows: Windows) -> int:
    path: Path | None = options.file

    def load() -> tuple[Document, Seen | None] | None:
        from isometron.document.store.files import open_document

        return None if path is None else open_document(path)

    return windows.show(Load("" if path is not None else "empty", load), path)


def _demo(options: argparse.Namespace, windows: Windows) -> int:
    def load() -> tuple[Document, Seen | None]:
        from isometron.demos.catalogue import demo

        return demo(options.name), None

    if options.save is None:
        return windows.show(Load(f"demo {options.name}", load), None)
    from isometron.document.store.files import encode_document

    _write(encode_document(load()[0]), options.save)
    return FINE


def _schema(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.document.store.files import schema

    _write((json.dumps(schema(), indent=1) + "\n").encode(), Path(STANDARD))
    return FINE


def _report(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.solve.drawing import solve
    from isometron.solve.report import report
    from isometron.surfaces.tables import TABLES

    document = _seen(options)
    drawing = solve(document)
    values = report(drawing)
    if document.pictures:
        from isometron.match.told_sizes import picture_values

        values["pictures"] = picture_values(document)
    text = TABLES[options.format](values, document.unit)
    _write(text.encode(_encoding(options.format), "backslashreplace"), Path(STANDARD))
    return WARNINGS if options.strict and drawing.findings else FINE


def _export(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.solve.drawing import solve
    from isometron.surfaces.export import export_bytes

    name = _named(options.out, options.format)
    document = _seen(options)
    if options.eyes is not None:
        return _export_eyes(document, name, options)
    drawing = solve(document)
    data = export_bytes(
        drawing, name, construction=not options.no_construction, dpi=options.dpi, clear=options.clear, tiles=options.tiles,
        say=_tell,
    )  # fmt: skip
    _write(data, options.out)
    if options.strict and drawing.findings:
        for finding in drawing.findings:
            _tell(finding.message)
        return WARNINGS
    return FINE


def _templates(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.document.rack import rack_from_csv
    from isometron.document.store.disk import read_text
    from isometron.solve.drawing import solve
    from isometron.surfaces.template_tables import template_table

    rack = None if options.rack is None else rack_from_csv(read_text(options.rack))
    text = template_table(solve(_seen(options)), options.format, rack)
    _write(text.encode(_encoding(options.format), "backslashreplace"), Path(STANDARD))
    return FINE


def _encoding(form: str) -> str:
    """Return how what is printed is encoded: words as the terminal has them, tables as UTF-8."""
    return sys.stdout.encoding if sys.stdout is not None and form == "text" else "utf-8"


def _export_eyes(document: Document, name: Path, options: argparse.Namespace) -> int:
    """Write all kept eyes to one PDF."""
    from isometron.surfaces.eyes_pages import EYES_PAGES

    if name.suffix.lower() != ".pdf":
        raise UsageError(tr("All eyes together are written as a PDF: give a name that ends in .pdf."))
    _write(EYES_PAGES[options.eyes](document, construction=not options.no_construction), options.out)
    return FINE


def _views(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.surfaces.plain_sheet import plain_export

    name = _named(options.out, options.format)
    _write(plain_export(_read(options.file), name, say=_tell), options.out)
    return FINE


def _starter(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.document.eyes.eye_wishes import fit_sheet_part
    from isometron.document.fresh import new_document
    from isometron.document.lengths.units import parse_length
    from isometron.document.store.files import encode_document
    from isometron.starters.catalogue import lay_starter

    module = None if options.module is None else parse_length(options.module)
    laid = lay_starter(new_document(title=options.name.replace("-", " ").capitalize()), options.name, module).document
    _write(encode_document(fit_sheet_part(laid, 0.8, 15.0, keep="distance").document), options.save)
    return FINE


def _construct(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.construct.each import construct_each
    from isometron.construct.outcome import Construction, Options
    from isometron.construct.schools import first_school
    from isometron.surfaces.handouts import HANDOUTS, NoConstructionError, handouts, step_text

    standard = str(options.out) == STANDARD
    name = _named(options.out, options.format) if standard else options.out
    document = _seen(options)
    volumes = [document.named_volume(name) for name in options.volume]
    school = options.school or first_school(document, document.volumes.index(volumes[0])) or "plan"
    asked = Options(ring=None if options.ring is None else options.ring - 1)
    document, constructions = construct_each(document, [volume.id for volume in volumes], school, asked)
    done = [each for each in constructions if isinstance(each, Construction)]
    refused = next((each for each in constructions if not isinstance(each, Construction)), None)
    if refused is not None:
        raise NoConstructionError(refused)
    if name is None:
        kind = options.format or "text"
        data = "\n".join(map(step_text, done)).encode(errors="backslashreplace") if kind == "text" else b""
        _write(data or HANDOUTS[f".{kind}"](document, done)[0], Path(STANDARD))
        return FINE
    made = handouts(document, done, name)
    if standard and len(made) > 1:
        raise UsageError(tr("{count} files do not fit into standard output. Give --out a name.", count=len(made)))
    for path, data in made:
        _write(data, options.out if standard else path)
    return FINE


def _match(options: argparse.Namespace, windows: Windows) -> int:
    from isometron.document.fresh import new_document
    from isometron.document.store.disk import read_whole
    from isometron.document.store.files import encode_document
    from isometron.match.answer import matched
    from isometron.match.drawn import answer_values, answer_words, document_of, document_on_picture
    from isometron.match.marks import MarksError, read_marks
    from isometron.pictures.intake import LARGEST_READ, taken_in
    from isometron.pictures.reading import picture_facts

    facts = picture_facts(options.picture)
    piped = str(options.marks) == STANDARD
    data = _standard_input(_MOST_MARKS) if piped else read_whole(options.marks, _MOST_MARKS)
    marks = read_marks(data, tr("standard input") if piped else str(options.marks))
    if (marks.width, marks.height) != (facts.width, facts.height):
        raise MarksError(
            tr("The marks are for a picture of {marked}, and {name} has {own} pixels. Mark this one.", name=options.picture,
               marked=f"{marks.width:g} x {marks.height:g}", own=f"{facts.width} x {facts.height}")
        )  # fmt: skip
    answer = matched(marks)
    if options.save is not None:
        taken = taken_in(new_document(), read_whole(options.picture, LARGEST_READ), options.picture.name)
        same = (taken.picture.width, taken.picture.height) == (facts.width, facts.height)
        if taken.note:
            _tell(
                taken.note if same else tr("{note} It was made smaller, so its marks are left out.", note=taken.note)
            )
        document = (
            document_on_picture(answer, options.picture.stem, taken)
            if same
            else document_of(answer, options.picture.stem)
        )
        _write(encode_document(document), options.save)
    if options.format == "json":
        _write((json.dumps(answer_values(answer), indent=1) + "\n").encode(), Path(STANDARD))
    elif options.save is None or str(options.save) != STANDARD:
        _write(answer_words(answer).encode(errors="backslashreplace"), Path(STANDARD))
    return FINE


def _shot(options: argparse.Namespace, windows: Windows) -> int:
    _write(windows.shoot(_seen(options), options.size), options.out)
    return FINE


COMMANDS: dict[str, Callable[[argparse.Namespace, Windows], int]] = {
    "open": _open,
    "demo": _demo,
    "schema": _schema,
    "report": _report,
    "export": _export,
    "templates": _templates,
    "views": _views,
    "starter": _starter,
    "construct": _construct,
    "match": _match,
    "shot": _shot,
}
