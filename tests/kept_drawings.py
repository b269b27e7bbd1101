"""What every demo and starter draws, kept: python -m tests.kept_drawings writes it anew, when a mark is meant to change.

One archive: for each document its lines (N, 6) and arcs (N, 9) in paper mm, the last two columns the place of the role's
word in ROLES and the owner.
"""

from functools import partial
from pathlib import Path

import numpy as np

from isometron.demos.catalogue import DEMOS, demo
from isometron.document.fresh import new_document
from isometron.solve.drawing import solve
from isometron.solve.marks import Role
from isometron.starters.catalogue import STARTERS, lay_starter

KEPT = Path(__file__).parent / "cases" / "kept-drawings.npz"
ROLES = ("cone", "grid", "guide", "tick", "horizon", "hidden", "construction", "object", "surface")


DOCUMENTS = {f"demo {name}": partial(demo, name) for name in DEMOS} | {
    f"starter {name}": partial(lambda name: lay_starter(new_document(), name).document, name) for name in STARTERS
}
"""What makes each document, by its name."""


def marks_of(document):
    """Return lines (N, 6) and arcs (N, 9) of a document, labels apart."""
    marks = solve(document).marks
    return (
        np.column_stack([marks.lines.points, _roles(marks.lines), marks.lines.owner]),
        np.column_stack([marks.arcs.shape, _roles(marks.arcs), marks.arcs.owner]),
    )


def _roles(marks):
    return np.array([ROLES.index(Role(int(role)).word) for role in marks.role], dtype=np.int64)


def main():
    arrays = {}
    for name, make in DOCUMENTS.items():
        for kind, rows in zip(("lines", "arcs"), marks_of(make()), strict=True):
            arrays[f"{name} {kind}"] = np.round(rows, 6)
    np.savez_compressed(KEPT, **arrays)
    print(f"{KEPT}: {len(arrays) // 2} documents, {KEPT.stat().st_size // 1024} kB")


if __name__ == "__main__":
    main()
