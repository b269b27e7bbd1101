"""The register of what a construction can be handed out as, by file ending."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from isometron.construct.outcome import Construction, NotHere
from isometron.construct.schools import SCHOOLS
from isometron.document.model import Document
from isometron.errors import IsometronError
from isometron.surfaces.export import ExportError
from isometron.wording import tr

__all__ = ["HANDOUTS", "NoConstructionError", "handouts", "not_here_words", "step_text"]


class NoConstructionError(IsometronError, ValueError):
    """A school that cannot draw the volume; the message says why and which school can."""

    def __init__(self, answer: NotHere) -> None:
        super().__init__(not_here_words(answer))


def not_here_words(answer: NotHere) -> str:
    """Return why a school cannot work here and which one can."""
    if answer.instead is None:
        return tr("{reason} No school draws it from this eye.", reason=answer.reason)
    title = SCHOOLS[answer.instead].title
    return tr("{reason} “{school}” works ({name}).", reason=answer.reason, school=title, name=answer.instead)


def _pdf(document: Document, constructions: Sequence[Construction]) -> list[bytes]:
    from isometron.surfaces.worksheet import worksheet_pdf

    return [worksheet_pdf(document, constructions)]


def _svg(document: Document, constructions: Sequence[Construction]) -> list[bytes]:
    from isometron.surfaces.steps import step_svgs

    return [text.encode() for each in constructions for text in step_svgs(document, each)]


def _json(document: Document, constructions: Sequence[Construction]) -> list[bytes]:
    from isometron.surfaces.steps import construction_json

    return [construction_json(document, each).encode() for each in constructions]


HANDOUTS: dict[str, Callable[[Document, Sequence[Construction]], list[bytes]]] = {
    ".pdf": _pdf, ".svg": _svg, ".json": _json,
}  # fmt: skip


def handouts(document: Document, constructions: Sequence[Construction], out: Path) -> list[tuple[Path, bytes]]:
    """Return the files to write for ``out`` by its ending; several get a number before the ending.

    Several constructions by one school are one worksheet: a page that sets up, then a page a volume. Raises `ExportError` for an unknown ending.
    """
    ending = out.suffix.lower()
    if ending not in HANDOUTS:
        raise ExportError(
            tr("{out}: the ending {ending!r} names no kind of worksheet. Known endings: {names}.", out=out,
               ending=ending, names=", ".join(HANDOUTS))
        )  # fmt: skip
    made = HANDOUTS[ending](document, constructions)
    if len(made) == 1:
        return [(out, made[0])]
    return [(out.with_name(f"{out.stem}-{number:02}{ending}"), data) for number, data in enumerate(made, start=1)]


def step_text(construction: Construction) -> str:
    """Return the steps as plain text."""
    lines = [construction.title, ""]
    for number, step in enumerate(construction.steps, start=1):
        lines += [f"{number}. {step.sentence}", f"   {step.why}"]
    return "\n".join(lines) + "\n"
