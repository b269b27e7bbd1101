"""The fields of courses on a face."""

from __future__ import annotations

from functools import partial

from isometron.desk.controls.field_rows import Row
from isometron.desk.controls.opening_rows import MarkRows
from isometron.document.edits import Edit
from isometron.document.model import Document
from isometron.volumes.marks.face_marks import CourseMark
from isometron.volumes.marks.mark_names import PATTERN_WORDS
from isometron.wording import tr

__all__ = ["PATTERNS", "USUAL", "course_rows"]

PATTERNS = tuple((words, name) for name, words in PATTERN_WORDS.items())
USUAL: dict[str, tuple[float, float, float]] = {
    "bricks": (240.0, 71.0, 10.0), "tiles": (180.0, 160.0, 0.0), "planks": (2000.0, 120.0, 0.0), "squares": (300.0, 300.0, 0.0),
    "slats": (2000.0, 60.0, 40.0),
}  # fmt: skip
"""Length, height (of planks and slats their width) and joint to begin with, mm."""


def course_rows(rows: MarkRows, laid: CourseMark) -> list[Row]:
    """Return the rows of courses: only those that their pattern asks for."""
    runs = laid.pattern in ("planks", "slats")
    found = [
        Row(
            tr("pattern"),
            tr("What fills the face"),
            "choice",
            lambda: laid.pattern,
            partial(_another, rows),
            PATTERNS,
        )
    ]
    if not runs:
        found.append(rows.length("long", tr("long"), tr("Of one brick, tile or square, without the joint")))
    found.append(rows.length("high", tr("wide") if runs else tr("high"), tr("Of one, without the joint")))
    found.append(rows.length("joint", tr("gap between") if runs else tr("joint"), tr("Between one and the next")))
    if laid.pattern in ("bricks", "tiles"):
        found.append(Row(tr("bond"), tr("How far each course is shifted, in percent of a length"), "percent", lambda: 100.0 * laid.bond,
                         lambda d, v: rows.write("bond", d, min(max(v / 100.0, 0.0), 1.0))))  # fmt: skip
    if runs:
        found.append(
            Row(tr("run up the face"), tr("And not along it"), "switch", lambda: laid.up, partial(rows.write, "up"))
        )
    found += [
        rows.length("border", tr("border"), tr("All round, stays free")),
        rows.length("gap", tr("not nearer on paper"), tr("Lines that come nearer to each other are left out, from the far end on")),
        Row(tr("as construction"), tr("Drawn lightly"), "switch", lambda: laid.soft, partial(rows.write, "soft")),
    ]  # fmt: skip
    return found


def _another(rows: MarkRows, document: Document, pattern: str) -> Edit:
    long, high, joint = USUAL[pattern]
    return rows.write_many(document, pattern=pattern, long=long, high=high, joint=joint)
