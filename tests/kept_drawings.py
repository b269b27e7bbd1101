"""What every demo and starter draws, kept: ``python -m tests.kept_drawings`` shows what has changed and writes what is on the list of
what was wrong; with ``--all`` everything, once each change was looked at.

One archive; for each document its lines (N, 6), arcs (N, 9) and cubics (N, 10) in paper mm, the last two columns the place of the
role's word in ROLES and the owner; its fills as rings, and its labels as JSON.
"""

import json
import sys
from functools import partial
from pathlib import Path

import numpy as np
import shapely

from isometron.demos.catalogue import DEMOS, demo
from isometron.document.fresh import new_document
from isometron.solve.drawing import solve
from isometron.solve.marks import Role
from isometron.starters.catalogue import STARTERS, lay_starter
from tests.covered import chords_of, uncovered

KEPT = Path(__file__).parent / "cases" / "kept-drawings.npz"
ROLES = (
    "cone",
    "grid",
    "guide",
    "tick",
    "horizon",
    "hidden",
    "construction",
    "object",
    "surface",
    "tone",
    "note",
    "lettering",
    "caution",
)
WRONG_TODAY = {
    "demo ember-lantern": {
        "Knob 1": "set into the bent side of the reservoir: no line where they meet, its edges end in the air",
        "Knob 3": "as Knob 1",
        "Reservoir": "as Knob 1, the other side of the same meeting",
    },
    "starter low-car": {
        "Cabin": "set into the body: no line where they meet; its pillar's edge runs out into the round of the roof",
        "Car body": "as Cabin, the other side of the same meeting",
    },
    "starter hut": {"Roof": "its seams show where parts are 0.1 mm apart", "Gable": "as Roof"},
}
"""Looked at in print at 300 dpi: what of these drawings is wrong, by document and volume. Nothing else may change unasked."""


DOCUMENTS = {f"demo {name}": partial(demo, name) for name in DEMOS} | {
    f"starter {name}": partial(lambda name: lay_starter(new_document(), name).document, name) for name in STARTERS
}
"""What makes each document, by its name."""


def marks_of(document):
    """Return lines (N, 6) and arcs (N, 9) of a document, labels apart."""
    kept = drawn(document)
    return kept["lines"], kept["arcs"]


def drawn(document):
    """Return what a document draws, by kind, as it is kept."""
    marks = solve(document).marks
    fills = marks.fills.straightened(1e-4)
    return {
        "lines": np.column_stack([marks.lines.points, _roles(marks.lines), marks.lines.owner]),
        "arcs": np.column_stack([marks.arcs.shape, _roles(marks.arcs), marks.arcs.owner]),
        "curves": np.column_stack([marks.curves.points, _roles(marks.curves), marks.curves.owner]),
        "fills": json.dumps([
            [_role(fills.role[row]), int(fills.owner[row]), round(float(fills.tone[row]), 6), [np.round(ring, 6).tolist() for ring in fills.rings(row)]]
            for row in range(len(fills))
        ]),
        "labels": json.dumps([
            [label.text, round(label.u, 6), round(label.v, 6), _role(label.role), label.owner, label.anchor, round(label.size, 6)]
            for label in marks.labels
        ]),
    }  # fmt: skip


def kept_of(archive, name):
    """Return what is kept of a document in the open archive."""
    return {kind: archive[f"{name} {kind}"] for kind in ("lines", "arcs", "curves")} | {
        kind: str(archive[f"{name} {kind}"]) for kind in ("fills", "labels")
    }


def changes(now, was):
    """Yield what is drawn now and was not, and what was drawn and is not any more, in words with role and owner."""
    pens = [chords_of(each["lines"], each["arcs"], each["curves"]) for each in (now, was)]
    for words, one, other in (("new", *pens), ("gone", *pens[::-1])):
        for stretch in uncovered(one, other):
            place = f"({stretch.at[0]:.2f}, {stretch.at[1]:.2f})"
            yield stretch.owner, f"{words}: {stretch.length:.4f} mm of {ROLES[stretch.role]} at {place}"
    yield from _changed_labels(json.loads(now["labels"]), json.loads(was["labels"]))
    yield from _changed_fills(json.loads(now["fills"]), json.loads(was["fills"]))


def _changed_labels(now, was):
    for words, some, others in (("new", now, was), ("gone", was, now)):
        for label in some:
            text, u, v, *rest = label
            if not any(text == t and rest == r and abs(u - x) < 1e-3 and abs(v - y) < 1e-3 for t, x, y, *r in others):
                yield rest[1], f"{words}: label {text!r} at ({u:.2f}, {v:.2f})"


def _changed_fills(now, was):
    """What is filled with a tone is compared as a region, however it is parted."""
    regions = [_regions(fills) for fills in (now, was)]
    for key in sorted(set(regions[0]) | set(regions[1])):
        one, other = (each.get(key, shapely.Polygon()) for each in regions)
        rest = one.symmetric_difference(other).buffer(-1e-3)
        if not rest.is_empty:
            yield key[1], f"fill of tone {key[2]}: {rest.area:.4f} mm² differ at {rest.representative_point().wkt}"


def _regions(fills):
    found = {}
    for role, owner, tone, rings in fills:
        found.setdefault((role, owner, tone), []).append(shapely.Polygon(rings[0], rings[1:]).buffer(0.0))
    return {key: shapely.union_all(parts) for key, parts in found.items()}


def _role(role):
    return ROLES.index(Role(int(role)).word)


def _roles(marks):
    return np.array([_role(role) for role in marks.role], dtype=np.int64)


def main(everything):
    arrays = {}
    with np.load(KEPT) as archive:
        for name, make in DOCUMENTS.items():
            document = make()
            now = {
                kind: np.round(rows, 6) if isinstance(rows, np.ndarray) else rows
                for kind, rows in drawn(document).items()
            }
            was = kept_of(archive, name) if f"{name} labels" in archive else None
            unasked = False
            for owner, words in changes(now, was) if was is not None else ():
                volume = document.volumes[owner].name if owner >= 0 else "nobody"
                listed = volume in WRONG_TODAY.get(name, {})
                unasked |= not listed
                print(f"{name}, {volume}: {words}{'' if listed else '  NOT ON THE LIST'}")
            written = now if everything or was is None or not unasked else was
            arrays |= {f"{name} {kind}": np.array(rows) for kind, rows in written.items()}
    np.savez_compressed(KEPT, **arrays)
    print(f"{KEPT}: {len(DOCUMENTS)} documents, {KEPT.stat().st_size // 1024} kB")


if __name__ == "__main__":
    main("--all" in sys.argv)
